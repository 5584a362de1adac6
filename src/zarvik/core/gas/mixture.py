"""A gas of fixed composition, ready for the compiled loops.

note: R = specific gas constant, cp = isobaric heat capacity, h = enthalpy, s0 = entropy at 1 bar.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from zarvik.core.common.constants import UNIVERSAL_GAS_CONSTANT
from zarvik.core.gas.humidity import saturation_pressure
from zarvik.core.gas.species import DRY_AIR, SPECIES

# Layout of the packed gas that the compiled functions of `properties` read.
GAS_CONSTANT = 0
MOLAR_MASS = 1
LOW = 2  # seven mass-based polynomial numbers below 1000 K
HIGH = 9  # the same above
VISCOSITY = 16  # four numbers of ln(mu) over ln T, 1/T, 1/T^2
PACKED_SIZE = 20


@dataclass(frozen=True)
class Gas:
    """An ideal-gas mixture.

    `fractions`: mole fractions by species name, sum 1. `packed`: what the compiled property
    functions read, in J/(kg K), kg/mol and Pa s.
    """

    fractions: tuple[tuple[str, float], ...]
    packed: np.ndarray = field(repr=False, compare=False)

    @property
    def gas_constant(self) -> float:
        """Specific gas constant, J/(kg K)."""
        return float(self.packed[GAS_CONSTANT])

    @property
    def molar_mass(self) -> float:
        """Molar mass, kg/mol."""
        return float(self.packed[MOLAR_MASS])

    def mass_fraction(self, name: str) -> float:
        """Mass fraction of the species `name`, 0 when it is not in the gas."""
        share = dict(self.fractions).get(name, 0.0)
        return share * SPECIES[name].molar_mass / self.molar_mass


def air_viscosity(temperature: float) -> float:
    """Dilute-gas viscosity of dry air in Pa s at `temperature` in K, valid 60–2000 K.

    Source: E. W. Lemmon, R. T. Jacobsen, Int. J. Thermophys. 25 (2004) 21, eq. 2 and table II;
    1 % below 600 K, 2 % above (their estimate).
    """
    log_reduced = math.log(temperature / 103.3)
    coefficients = (0.431, -0.4623, 0.08406, 0.005341, -0.00331)
    collision = math.exp(sum(b * log_reduced**i for i, b in enumerate(coefficients)))
    return 0.0266958 * math.sqrt(28.9586 * temperature) / (0.36**2 * collision) * 1e-6


def water_vapour_viscosity(temperature: float) -> float:
    """Dilute-gas viscosity of water vapour in Pa s at `temperature` in K, valid 250–2000 K.

    Source: IAPWS R12-08 (2008), eq. 11 and table 1.
    """
    reduced = temperature / 647.096
    numbers = (1.67752, 2.20462, 0.6366564, -0.241605)
    return 100.0 * math.sqrt(reduced) / sum(h / reduced**i for i, h in enumerate(numbers)) * 1e-6


def mixture_viscosity(water_fraction: float, temperature: float) -> float:
    """Viscosity in Pa s of dry gas with the mole fraction `water_fraction` of water vapour.

    The dry part (air, or burnt gas without its water) counts as air: its viscosity differs by
    less than 3 %. Source of the mixing rule: C. R. Wilke, J. Chem. Phys. 18 (1950) 517.
    `temperature` K.
    """
    if water_fraction <= 0.0:
        return air_viscosity(temperature)
    pairs = ((1.0 - water_fraction, air_viscosity(temperature), 28.9586), (water_fraction, water_vapour_viscosity(temperature), 18.01528))
    total = 0.0
    for share, viscosity, mass in pairs:
        weight = 0.0
        for other_share, other_viscosity, other_mass in pairs:
            root = math.sqrt(viscosity / other_viscosity) * (other_mass / mass) ** 0.25
            weight += other_share * (1 + root) ** 2 / math.sqrt(8 * (1 + mass / other_mass))
        total += share * viscosity / weight
    return total


_FIT_TEMPERATURES = np.geomspace(200.0, 1800.0, 40)
_FIT_MATRIX = np.column_stack(
    [np.ones_like(_FIT_TEMPERATURES), np.log(_FIT_TEMPERATURES), 1.0 / _FIT_TEMPERATURES, 1.0 / _FIT_TEMPERATURES**2]
)


def mix(fractions: Mapping[str, float]) -> Gas:
    """The gas with these mole fractions (shares, scaled to sum 1).

    Raises ValueError for an unknown species, a negative fraction or nothing at all.
    """
    total = sum(fractions.values())
    if not fractions or not total > 0.0 or any(not x >= 0.0 for x in fractions.values()):
        raise ValueError(f"mole fractions must be positive numbers, got {dict(fractions)}")
    unknown = [name for name in fractions if name not in SPECIES]
    if unknown:
        raise ValueError(f"unknown species {unknown}; known are {list(SPECIES)}")
    shares = {name: x / total for name, x in fractions.items() if x > 0.0}
    mass = sum(x * SPECIES[name].molar_mass for name, x in shares.items())
    gas_constant = UNIVERSAL_GAS_CONSTANT / mass
    packed = np.zeros(PACKED_SIZE)
    packed[GAS_CONSTANT] = gas_constant
    packed[MOLAR_MASS] = mass
    for name, x in shares.items():
        packed[LOW : LOW + 7] += x * gas_constant * np.array(SPECIES[name].low)
        packed[HIGH : HIGH + 7] += x * gas_constant * np.array(SPECIES[name].high)
    water = shares.get("H2O", 0.0)
    logs = np.log([mixture_viscosity(water, float(t)) for t in _FIT_TEMPERATURES])
    packed[VISCOSITY : VISCOSITY + 4] = np.linalg.lstsq(_FIT_MATRIX, logs, rcond=None)[0]
    packed.flags.writeable = False
    return Gas(tuple(shares.items()), packed)


@lru_cache(32)
def moist_air(*, temperature: float, pressure: float, relative_humidity: float) -> Gas:
    """Air with its water vapour.

    `temperature` in K, 223–373; absolute `pressure` in Pa; `relative_humidity` 0–1. The vapour
    pressure is held below half of the pressure. Raises ValueError outside.
    """
    if not 0.0 <= relative_humidity <= 1.0:
        raise ValueError(f"relative humidity must lie between 0 and 1, got {relative_humidity}")
    if not pressure > 0.0:
        raise ValueError(f"pressure must be positive, got {pressure}")
    vapour = relative_humidity * saturation_pressure(temperature)
    water = min(vapour / pressure, 0.5)
    return mix({**{name: x * (1.0 - water) for name, x in DRY_AIR.items()}, "H2O": water})
