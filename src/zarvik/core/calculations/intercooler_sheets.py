"""Working sheets of the intercooler: effectiveness, heat, the air behind it, its loss."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Line, Maker, Sheet, mean_capacity
from zarvik.core.common.sentences import Figure
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity, temperature_of_enthalpy
from zarvik.core.intercooler import intercooler as cooling
from zarvik.core.intercooler.effectiveness import crossflow_effectiveness
from zarvik.core.relations.intercooler import CORE

_NTU = "Effectiveness-NTU, cross-flow, both unmixed (Incropera eq. 11.32), from the rated point"


@dataclass(frozen=True)
class _State:
    """The cooler at a point: flows, capacities W/K, conductance W/K, both ends of the charge."""

    charge: float
    cooling: float
    conductance: float
    c_charge: float
    c_cooling: float
    before: float
    after: float
    ambient: float

    @property
    def least(self) -> float:
        """Smaller capacity of the two streams, W/K."""
        return min(self.c_charge, self.c_cooling)

    @property
    def ratio(self) -> float:
        """Smaller over larger capacity."""
        return self.least / max(self.c_charge, self.c_cooling)

    @property
    def units(self) -> float:
        """Number of transfer units."""
        return self.conductance / self.least

    @property
    def share(self) -> float:
        """Effectiveness of the exchanger, on the smaller stream."""
        return float(crossflow_effectiveness(self.units, self.ratio))


def _state(solver: Solver, point: Point) -> _State:
    packed = solver.cooler_numbers
    ambient = solver.path.site.temperature
    before = point.stations["cooler_inlet"].temperature
    charge = point.air / packed[cooling.RATED_CHARGE]
    wind = max(float(packed[cooling.COOLING_FLOW]), 1e-6)
    c_cooling = wind * heat_capacity(solver.gas, ambient)
    if packed[cooling.WATER_CAPACITY] > 0.0:
        c_cooling = float(packed[cooling.WATER_CAPACITY])
    conductance = packed[cooling.CONDUCTANCE] / (
        0.5 * charge**-cooling.CHARGE_EXPONENT + 0.5 * (wind / packed[cooling.RATED_COOLING]) ** -cooling.COOLING_EXPONENT
    )
    return _State(
        charge=float(charge),
        cooling=wind,
        conductance=float(conductance),
        c_charge=point.air * heat_capacity(solver.gas, 0.5 * (before + ambient)),
        c_cooling=float(c_cooling),
        before=before,
        after=point.stations["cooler_outlet"].temperature,
        ambient=ambient,
    )


def _outlet(solver: Solver, point: Point) -> Sheet:
    s, gas = _state(solver, point), solver.gas
    taken = point.cooler_heat / point.air
    out = temperature_of_enthalpy(gas, enthalpy(gas, s.before) - taken, s.after)
    cp = mean_capacity(gas, s.before, out)
    return Sheet(
        key="cooler_outlet",
        title="Intercooler outlet temperature",
        result=Figure(float(out), "temperature"),
        relation="T = T_v − Q / (m · c_p)",
        lines=(
            Line("T_v", "intercooler inlet", Figure(s.before, "temperature"), "temperature:cooler_inlet"),
            Line("Q", "heat out of the charge", Figure(point.cooler_heat, "power"), "cooler_heat"),
            Line("m", "charge", Figure(point.air, "mass_flow"), "air"),
            Line("c_p", "of the air between the two, J/(g K)", Figure(float(cp) / 1000.0, "number")),
            Line("ε", "effectiveness for Q", Figure(point.cooler_effectiveness, "ratio"), "effectiveness"),
        ),
        source="Energy balance; gas: NASA TM-4513",
    )


def _effectiveness(solver: Solver, point: Point) -> Sheet:
    s = _state(solver, point)
    return Sheet(
        key="effectiveness",
        title="Intercooler effectiveness, against ambient",
        result=Figure(point.cooler_heat / (s.c_charge * (s.before - s.ambient) + 1e-9), "ratio"),
        relation="ε = Q / (C_c · (T_v − T_a))",
        lines=(
            Line("Q", "heat out of the charge", Figure(point.cooler_heat, "power"), "cooler_heat"),
            Line("C_c", "charge flow times its heat capacity, W/K", Figure(s.c_charge, "number")),
            Line("T_v", "intercooler inlet", Figure(s.before, "temperature"), "temperature:cooler_inlet"),
            Line("T_a", "ambient", Figure(s.ambient, "temperature")),
        ),
        source="Definition (Incropera eq. 11.19), on the charge side",
    )


def _heat(solver: Solver, point: Point) -> Sheet:
    s = _state(solver, point)
    packed = solver.cooler_numbers
    difference = s.before - s.ambient
    core = s.share * s.least
    shared = (
        Line("ε_x", "effectiveness of the exchanger", Figure(s.share, "ratio"), "exchanger"),
        Line("C_min", "smaller of the two flows times heat capacity, W/K", Figure(s.least, "number")),
        Line("T_v", "intercooler inlet", Figure(s.before, "temperature"), "temperature:cooler_inlet"),
        Line("T_a", "ambient", Figure(s.ambient, "temperature")),
    )
    if packed[cooling.WATER_CAPACITY] > 0.0:
        front = float(packed[cooling.FRONT])
        both = 1.0 / (core + 1e-12) + 1.0 / (front + 1e-9) - 1.0 / s.c_cooling
        return Sheet(
            key="cooler_heat",
            title="Heat removed from the charge",
            result=Figure(difference / both, "power"),
            relation="Q = (T_v − T_a) / (1 / (ε_x · C_min) + 1 / F − 1 / C_w)",
            lines=(
                *shared,
                Line("F", "front exchanger: effectiveness times smaller flow, W/K", Figure(front, "number")),
                Line("C_w", "water flow times its heat capacity, W/K", Figure(s.c_cooling, "number")),
            ),
            source="Steady water circuit: the front radiator rejects the charge heat",
        )
    return Sheet(
        key="cooler_heat",
        title="Heat removed from the charge",
        result=Figure(core * difference, "power"),
        relation="Q = ε_x · C_min · (T_v − T_a)",
        lines=shared,
        source="Incropera eq. 11.22",
    )


def _exchanger(solver: Solver, point: Point) -> Sheet:
    s = _state(solver, point)
    return Sheet(
        key="exchanger",
        title="Exchanger effectiveness",
        result=Figure(s.share, "ratio"),
        relation="ε_x = 1 − exp(N^0.22 / C · (exp(−C · N^0.78) − 1))",
        lines=(
            Line("N", "transfer units: conductance over the smaller flow", Figure(s.units, "number"), "transfer_units"),
            Line("C", "smaller over larger flow times heat capacity", Figure(s.ratio, "number")),
        ),
        source=_NTU + "; within 4 % of the exact series for 0.3 to 4 transfer units",
    )


def _units(solver: Solver, point: Point) -> Sheet:
    s, packed = _state(solver, point), solver.cooler_numbers
    return Sheet(
        key="transfer_units",
        title="Intercooler transfer units",
        result=Figure(s.units, "number"),
        relation=f"N = UA_r / (0.5 · (m / m_r)^-{cooling.CHARGE_EXPONENT:g} + 0.5 · (w / w_r)^-{cooling.COOLING_EXPONENT:g}) / C_min",
        lines=(
            Line("UA_r", "rated conductance times confidence, W/K", Figure(float(packed[cooling.CONDUCTANCE]), "number")),
            Line("m", "charge", Figure(point.air, "mass_flow"), "air"),
            Line("m_r", "charge of the rated point", Figure(float(packed[cooling.RATED_CHARGE]), "mass_flow")),
            Line("w", "cooling air, or water where there is a loop", Figure(s.cooling, "mass_flow")),
            Line("w_r", "of the rated point", Figure(float(packed[cooling.RATED_COOLING]), "mass_flow")),
            Line("C_min", "smaller of the two flows times heat capacity, W/K", Figure(s.least, "number")),
        ),
        source=CORE.source,
    )


def _behind(solver: Solver, point: Point) -> Sheet:
    s, packed = _state(solver, point), solver.cooler_numbers
    water = packed[cooling.WATER_CAPACITY] > 0.0
    capacity = float(packed[cooling.FRONT]) if water else s.c_cooling
    return Sheet(
        key="cooling_air",
        title="Water temperature to the front radiator" if water else "Air temperature behind the intercooler",
        result=Figure(s.ambient + point.cooler_heat / (capacity + (1e-9 if water else 0.0)), "temperature"),
        relation="T_w = T_a + Q / F" if water else "T_w = T_a + Q / C_w",
        lines=(
            Line("T_a", "ambient", Figure(s.ambient, "temperature")),
            Line("Q", "heat out of the charge", Figure(point.cooler_heat, "power"), "cooler_heat"),
            Line(
                "F" if water else "C_w",
                "front exchanger: effectiveness times smaller flow, W/K" if water else "cooling air times its heat capacity, W/K",
                Figure(capacity, "number"),
            ),
        ),
        source="Energy balance; parts behind the intercooler see this air",
    )


def _loss(solver: Solver, point: Point) -> Sheet:
    s, packed = _state(solver, point), solver.cooler_numbers
    before = point.stations["cooler_inlet"].pressure
    mean = 0.5 * (s.before + s.after)
    density = before / (solver.gas[GAS_CONSTANT] * mean)
    rated = float(packed[cooling.RATED_DROP])
    share = cooling.CORE_SHARE
    at = float(packed[cooling.DROP_CHARGE])
    charge = point.air / at
    drop = rated * (cooling.RATED_DENSITY / density) * (share * charge**cooling.CORE_POWER + (1.0 - share) * charge**2)
    return Sheet(
        key="cooler_loss",
        title="Intercooler pressure loss",
        result=Figure(float(drop), "pressure_difference"),
        relation=f"Δp = Δp_r · ({cooling.RATED_DENSITY:g} kg/m³ / ρ) · ({share:g} · (m / m_r)^{cooling.CORE_POWER:g} + {1.0 - share:g} · "
        f"(m / "
        f"m_r)²)",
        lines=(
            Line("Δp_r", "at the rated point", Figure(rated, "pressure_difference")),
            Line("ρ", "charge in the core, kg/m³", Figure(float(density), "number")),
            Line("m", "charge", Figure(point.air, "mass_flow"), "air"),
            Line("m_r", "charge at which it was rated", Figure(at, "mass_flow")),
        ),
        source="Friction in the core over m^1.75 (Blasius), tanks over m²; 60 to 40: common practice, no source",
    )


SHEETS: dict[str, Maker] = {
    "cooler_outlet": _outlet,
    "effectiveness": _effectiveness,
    "cooler_heat": _heat,
    "exchanger": _exchanger,
    "transfer_units": _units,
    "cooling_air": _behind,
    "cooler_loss": _loss,
}
