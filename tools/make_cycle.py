"""Writes the table of the fuel-air cycle: work of an ideal engine with real, dissociating gas.

The constant-volume cycle of Heywood 1988, ch. 5 and of C. F. Taylor, "The Internal Combustion Engine
in Theory and Practice", vol. 1, ch. 4: the mixture of air and fuel vapour is compressed without
reaction, burns at once to chemical equilibrium at constant volume, expands in equilibrium, without
heat to the walls. Thermodynamics by Cantera (GRI-Mech 3.0 products, NASA polynomials of the vapours);
the fuel's enthalpy is set so that its lower heating value is that of the program. Start: 330 K,
1.5 bar, no residual gas; pressure moves the work by less than 1 % between 1 and 3 bar.

    python tools/make_cycle.py
"""

from __future__ import annotations

from pathlib import Path

import cantera as ct
import numpy as np

from zarvik.core.gas.combustion import FUELS, Fuel
from zarvik.core.gas.species import DRY_AIR

OUT = Path(__file__).parents[1] / "src/zarvik/core/engine/cycle_table.py"
COMPRESSIONS = (6.0, 8.0, 10.0, 12.0, 15.0, 18.0, 22.0, 26.0)
LAMBDAS = (0.45, 0.55, 0.65, 0.70, 0.75, 0.80, 0.85, 0.90, 0.95, 1.0, 1.05, 1.1, 1.2, 1.35, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0, 6.0, 10.0, 20.0)
VAPOUR = {"e85": "C2H5OH", "methanol": "CH3OH"}  # heat capacity of the vapour; the others isooctane
START = (330.0, 1.5e5)


def products() -> ct.Solution:
    """The equilibrium products."""
    wanted = ("N2", "O2", "AR", "CO2", "H2O", "CO", "H2", "OH", "H", "O", "NO", "N", "NO2", "CH4", "NH3")
    species = [s for s in ct.Species.list_from_file("gri30.yaml") if s.name in wanted]
    return ct.Solution(thermo="ideal-gas", species=species)


class Charge:
    """Air and vapour of a fuel at one lambda, per kilogram of dry air, unreacting."""

    def __init__(self, fuel: Fuel, lambda_: float, gas: ct.Solution) -> None:
        name = VAPOUR.get(fuel.key, "C8H18,isooctane")
        self.fuel_mass = 1.0 / (lambda_ * fuel.stoichiometric_ratio)
        vapour = next(s for s in ct.Species.list_from_file("nasa_gas.yaml") if s.name == name)
        weight = {"C2H5OH": 46.069, "CH3OH": 32.042}.get(name, 114.232)
        self.vapour, self.per_mass = vapour.thermo, 1.0 / weight  # kmol per kg of vapour
        carbon = self.fuel_mass / fuel.molar_mass / 1000.0  # kmol
        air_mass = sum(DRY_AIR[n] * m for n, m in (("N2", 28.0134), ("O2", 31.9988), ("Ar", 39.948), ("CO2", 44.0095)) if n in DRY_AIR)
        self.air = {n.upper(): x / air_mass for n, x in DRY_AIR.items()}  # kmol per kg of air
        # What stands in equilibrium: the same atoms, put in as complete products and what is over.
        self.gas = gas
        moles = dict(self.air)
        moles["CO2"] = moles.get("CO2", 0.0) + carbon
        moles["H2O"] = carbon * fuel.hydrogen / 2.0
        moles["O2"] = moles["O2"] + carbon * (fuel.oxygen / 2.0 - 1.0 - fuel.hydrogen / 4.0)
        if moles["O2"] < 0.0:  # take it from the water and the carbon dioxide
            short = -moles.pop("O2") * 2.0
            take = min(short, moles["H2O"])
            moles["H2"], moles["H2O"] = take, moles["H2O"] - take
            moles["CO"] = short - take
            moles["CO2"] -= short - take
        self.moles = moles
        self.mass = 1.0 + self.fuel_mass
        # Enthalpy of formation of the fuel at 298.15 K from its lower heating value, J per kg of it.
        complete = fuel.heating_value * fuel.molar_mass * 1000.0  # J per kmol of carbon
        self.formation = (complete - 393.51e6 - 241.83e6 * fuel.hydrogen / 2.0) / (fuel.molar_mass * 1000.0)

    def energy(self, temperature: float) -> float:
        """Internal energy in J per kg of dry air."""
        total = 0.0
        moles = 0.0
        for name, n in self.air.items():
            s = self.gas.species(name).thermo
            total += n * (s.h(temperature) - ct.gas_constant * temperature)
            moles += n
        extra = self.vapour.h(temperature) - self.vapour.h(298.15)
        total += self.fuel_mass * (self.formation + self.per_mass * (extra - ct.gas_constant * temperature))
        return total

    @property
    def kmol(self) -> float:
        """kmol of unburnt gas per kg of dry air."""
        return sum(self.air.values()) + self.fuel_mass * self.per_mass

    def entropy(self, temperature: float, volume: float) -> float:
        """Entropy in J/K per kg of dry air, to a constant."""
        total = sum(n * self.gas.species(m).thermo.s(temperature) for m, n in self.air.items())
        total += self.fuel_mass * self.per_mass * self.vapour.s(temperature)
        return total + self.kmol * ct.gas_constant * np.log(volume)

    def hotter(self, v1: float, v2: float, t1: float) -> float:
        """Temperature after isentropic compression from volume v1 to v2, K. Entropies of the
        species stand at one bar: ln T per volume is added."""

        def left(t: float) -> float:
            # s0(T) - R ln(p): p V = n R T
            n = self.kmol
            return (self.entropy(t, v2) - n * ct.gas_constant * np.log(t)) - (self.entropy(t1, v1) - n * ct.gas_constant * np.log(t1))

        low, high = t1, 2500.0
        for _ in range(80):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if left(middle) < 0 else (low, middle)
        return 0.5 * (low + high)


def work(fuel: Fuel, compression: float, lambda_: float, gas: ct.Solution) -> float:
    """Gross work in J per kg of dry air."""
    charge = Charge(fuel, lambda_, gas)
    t1, p1 = START
    v1 = charge.kmol * ct.gas_constant * t1 / p1
    v2 = v1 / compression
    u1 = charge.energy(t1)
    t2 = charge.hotter(v1, v2, t1)
    u2 = charge.energy(t2)
    gas.TPX = 2500.0, 60e5, charge.moles
    gas.UV = u2 / charge.mass, v2 / charge.mass
    gas.equilibrate("UV", rtol=1e-9)
    s3 = gas.entropy_mass
    gas.SV = s3, v1 / charge.mass
    gas.equilibrate("SV", rtol=1e-9)
    return float(u2 - gas.int_energy_mass * charge.mass - (u2 - u1))


def main() -> None:
    """Write the table as a module, so that the core reads no file."""
    gas = products()
    lines = [
        '"""Work of the constant-volume fuel-air cycle in kJ per kg of dry air.',
        "",
        "Written by tools/make_cycle.py (Cantera, equilibrium; Heywood 1988, ch. 5): start 330 K, 1.5 bar,",
        "no residual gas. One row a lambda, one column a compression ratio.",
        '"""',
        "",
        f"COMPRESSIONS = {COMPRESSIONS!r}",
        "LAMBDAS = (",
        *(f"    {value!r}," for value in LAMBDAS),
        ")",
        "WORK = {",
    ]
    for key, fuel in FUELS.items():
        lines.append(f'    "{key}": (')
        for lambda_ in LAMBDAS:
            row = [work(fuel, r, lambda_, gas) / 1e3 for r in COMPRESSIONS]
            lines.append("        (" + ", ".join(f"{w:.1f}" for w in row) + "),")
        lines.append("    ),")
        print(key)
    lines.append("}")
    OUT.write_text("\n".join(lines) + "\n")


if __name__ == "__main__":
    main()
