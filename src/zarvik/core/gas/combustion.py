"""What a fuel asks of the air and gives back as heat.

note: lambda = air supplied over air needed; per mole of carbon a fuel is C H_y O_z.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import ZERO_CELSIUS
from zarvik.core.common.sentences import Fault
from zarvik.core.gas.species import DRY_AIR, SPECIES

CARBON_MASS = 12.011e-3  # kg/mol
HYDROGEN_MASS = 1.00794e-3
OXYGEN_MASS = 15.9994e-3
WATER_GAS_CONSTANT = 3.5  # frozen near 1740 K; Heywood 1988, sec. 4.9.2
CO_HEATING_VALUE = 282.98e3  # J/mol, heats of formation of NASA TM-4513
UNBURNT = 0.02  # of the fuel, also when lean: crevices and quenching (Heywood 1988, sec. 4.9.4, 1–3 %)
H2_HEATING_VALUE = 241.83e3  # J/mol, to water vapour

# Antoine constants as in common tables (mmHg, C), turned to Pa and K; within 2 % of CoolProp from
# 260 to 370 K (tested).
MMHG = math.log10(133.322)
METHANOL_SATURATION = (8.08097 + MMHG, 1582.271, 239.726 - ZERO_CELSIUS)
ETHANOL_SATURATION = (8.20417 + MMHG, 1642.89, 230.3 - ZERO_CELSIUS)

_AIR_MASS_PER_OXYGEN = sum(x * SPECIES[name].molar_mass for name, x in DRY_AIR.items()) / DRY_AIR["O2"]  # kg of dry air with one mole of O2


@dataclass(frozen=True, kw_only=True)
class Fuel:
    """A fuel as C H_y O_z.

    `heating_value`: lower, J/kg. `vaporisation`: heat of vaporisation at 298 K, J/kg. `octane`: research
    octane number, None where it has no meaning. `saturation`: Antoine constants (log10 Pa, K) of
    the vapour that limits how much can evaporate in the inlet, None where light fractions evaporate
    whatever the charge; `vapour_mass` in kg/mol: what vapour takes the place of air. Values: J. B. Heywood, "Internal Combustion
    Engine Fundamentals", 1988, table D.4; commercial petrol varies by 2 %.
    """

    key: str
    title: str
    hydrogen: float
    oxygen: float
    heating_value: float
    vaporisation: float
    octane: float | None
    spark: bool = True
    saturation: tuple[float, float, float] | None = None
    vapour_mass: float = 0.0

    @property
    def molar_mass(self) -> float:
        """Mass per mole of carbon, kg/mol."""
        return CARBON_MASS + self.hydrogen * HYDROGEN_MASS + self.oxygen * OXYGEN_MASS

    @property
    def oxygen_demand(self) -> float:
        """Moles of O2 per mole of carbon for complete combustion."""
        return 1.0 + self.hydrogen / 4.0 - self.oxygen / 2.0

    @property
    def stoichiometric_ratio(self) -> float:
        """Mass of dry air per mass of fuel at lambda 1."""
        return self.oxygen_demand * _AIR_MASS_PER_OXYGEN / self.molar_mass


FUELS: dict[str, Fuel] = {
    fuel.key: fuel
    for fuel in (
        Fuel(
            key="petrol95",
            title="Petrol 95",
            hydrogen=1.87,
            oxygen=0.015,
            heating_value=42.6e6,
            vaporisation=0.35e6,
            octane=95.0,
            vapour_mass=0.105,
        ),
        Fuel(
            key="petrol98",
            title="Petrol 98",
            hydrogen=1.84,
            oxygen=0.020,
            heating_value=42.4e6,
            vaporisation=0.36e6,
            octane=98.0,
            vapour_mass=0.105,
        ),
        Fuel(
            key="petrol102",
            title="Petrol 102",
            hydrogen=1.90,
            oxygen=0.030,
            heating_value=41.9e6,
            vaporisation=0.37e6,
            octane=102.0,
            vapour_mass=0.105,
        ),
        Fuel(
            key="e85",
            title="E85",
            hydrogen=2.75,
            oxygen=0.392,
            heating_value=29.2e6,
            vaporisation=0.84e6,
            octane=106.0,
            saturation=ETHANOL_SATURATION,
            vapour_mass=46.069e-3,
        ),
        Fuel(
            key="methanol",
            title="Methanol",
            hydrogen=4.0,
            oxygen=1.0,
            heating_value=20.0e6,
            vaporisation=1.17e6,
            octane=109.0,
            saturation=METHANOL_SATURATION,
            vapour_mass=32.042e-3,
        ),
        Fuel(
            key="diesel",
            title="Diesel",
            hydrogen=1.85,
            oxygen=0.0,
            heating_value=42.8e6,
            vaporisation=0.27e6,
            octane=None,
            spark=False,
            vapour_mass=0.17,
        ),
    )
}


@dataclass(frozen=True)
class Burn:
    """Combustion of one kilogram of dry air at one lambda.

    `fuel_per_air` in kg/kg, `heat_per_air` in J/kg released to burnt gas with frozen CO and H2 and 2 %
    of the fuel unburnt, `products`: moles per mole of carbon by species.
    """

    fuel_per_air: float
    heat_per_air: float
    products: dict[str, float]


def burn(fuel: Fuel, lambda_: float) -> Burn:
    """Complete combustion when lean, water-gas equilibrium when rich.

    `lambda_`, a ratio, 0.45–20; raises ValueError outside (soot forms below). Source: Heywood 1988,
    sec. 4.9.2 and table 4.3.
    """
    if not 0.45 <= lambda_ <= 20.0:
        raise Fault("lambda must be between 0.45 and 20, not {0}", lambda_)
    oxygen = fuel.oxygen_demand * lambda_
    if lambda_ >= 1.0:
        carbon_monoxide = 0.0
        water = fuel.hydrogen / 2.0
    else:
        # CO = c, H2O = e + c with e below; K = c (e + c) / ((1 - c)(y/2 - e - c))
        k = WATER_GAS_CONSTANT
        e = fuel.oxygen + 2.0 * oxygen - 2.0
        rest = fuel.hydrogen / 2.0 - e
        a, b, c = 1.0 - k, e + k * (rest + 1.0), -k * rest
        carbon_monoxide = (-b + math.sqrt(b * b - 4.0 * a * c)) / (2.0 * a)
        water = e + carbon_monoxide
    hydrogen = max(fuel.hydrogen / 2.0 - water, 0.0)
    released = (1.0 - UNBURNT) * fuel.heating_value * fuel.molar_mass - carbon_monoxide * CO_HEATING_VALUE - hydrogen * H2_HEATING_VALUE
    nitrogen_per_oxygen = {n: x / DRY_AIR["O2"] for n, x in DRY_AIR.items() if n != "O2"}
    products = {name: ratio * oxygen for name, ratio in nitrogen_per_oxygen.items()}
    products["CO2"] += 1.0 - carbon_monoxide
    products["H2O"] = water
    products["CO"] = carbon_monoxide
    products["H2"] = hydrogen
    products["O2"] = max(oxygen - fuel.oxygen_demand, 0.0)
    air = oxygen * _AIR_MASS_PER_OXYGEN
    return Burn(fuel.molar_mass / air, released / air, products)
