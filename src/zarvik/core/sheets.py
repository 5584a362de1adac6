"""Working sheets: for a reported number the relation, the values in it and the source.

A sheet calls the same compiled relation as the solver with the values of the solved point, so its
result is the reported number or the sheet is wrong (tested). A new sheet is a function and a line in
`SHEETS`.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Point, Solver
from zarvik.core.checks.verdict import Figure
from zarvik.core.engine import engine as eng
from zarvik.core.gas.properties import heat_capacity, isentropic_temperature


@dataclass(frozen=True)
class Line:
    """A value in a relation: its symbol, what it is, the figure."""

    symbol: str
    meaning: str
    figure: Figure


@dataclass(frozen=True)
class Sheet:
    """The working of one number. `relation`: as a mechanic would write it, with the symbols of
    `lines`."""

    key: str
    title: str
    result: Figure
    relation: str
    lines: tuple[Line, ...]
    source: str


def _power(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    per_second = engine.displacement * point.speed / 120.0
    belt = 0.0
    blower = solver.system.blower
    if blower is not None:
        belt = point.turbo.power / blower.drive
    brake = point.indicated - point.pumping - point.friction
    return Sheet(
        "power", "Power at the crank", Figure(brake * per_second - belt, "power"),
        "P = (imep − pmep − fmep) · V · n / 2 − P_belt",
        (
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "pressure_difference")),
            Line("pmep", "pumping: port over plenum", Figure(point.pumping, "pressure_difference")),
            Line("fmep", "friction", Figure(point.friction, "pressure_difference")),
            Line("V", "displacement", Figure(engine.displacement, "volume")),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("P_belt", "taken by the blower's belt", Figure(belt, "power")),
        ),
        "Definition of mean effective pressure; Heywood 1988, sec. 2.7",
    )  # fmt: skip


def _air(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    plenum = point.stations["plenum"]
    ratio = point.stations["exhaust_port"].pressure / plenum.pressure
    factor = eng.back_pressure_factor(ratio, engine.compression)
    demand = eng.air_demand(
        solver.gas,
        engine.displacement,
        point.efficiency,
        point.speed,
        plenum.pressure,
        point.charge,
    )
    return Sheet(
        "air", "Air that the engine draws", Figure(demand * factor, "mass_flow"),
        "m = VE · √(T / 298 K) · p / (R T) · V · n / 2 · k",
        (
            Line("VE", "volumetric efficiency", Figure(point.efficiency, "ratio")),
            Line("p", "plenum pressure, absolute", Figure(plenum.pressure, "pressure_absolute")),
            Line("T", "charge temperature after the fuel", Figure(point.charge, "temperature")),
            Line("V", "displacement", Figure(engine.displacement, "volume")),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("k", "back-pressure factor at this port pressure", Figure(factor, "number")),
        ),
        "Heywood 1988, sec. 6.2, eq. 6.2 for k, divided out at the stock ratio of 1.1",
    )  # fmt: skip


def _indicated(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    share = eng.indicated_efficiency(engine)
    dry = point.air * solver.packed[0][k.DRY_SHARE]
    per_second = engine.displacement * point.speed / 120.0
    return Sheet(
        "indicated", "Gross indicated mean pressure",
        Figure(share * engine.burnt.heat_per_air * dry / per_second, "pressure_difference"),
        "imep = η · q · m / (V · n / 2)",
        (
            Line("η", "share of the heat that becomes work", Figure(share, "ratio")),
            Line("q", "heat of a kilogram of air, MJ", Figure(engine.burnt.heat_per_air / 1e6, "number")),
            Line("m", "dry air", Figure(dry, "mass_flow")),
            Line("V", "displacement", Figure(engine.displacement, "volume")),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        "0.82 of the constant-volume cycle (Heywood 1988, sec. 5.8, as a band); heat from lambda, "
        "sec. 4.9",
    )  # fmt: skip


def _friction(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    piston = 2.0 * engine.stroke * point.speed / 60.0
    return Sheet(
        "friction", "Friction mean pressure",
        Figure(eng.friction_mean_pressure(piston, point.indicated), "pressure_difference"),
        "fmep = 0.35 bar + 0.005 · 4.4 imep + 0.06 · s + 0.0009 · s²  (bar, m/s)",
        (
            Line("s", "mean piston speed", Figure(piston, "velocity")),
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "pressure_difference")),
        ),
        "Chen & Flynn, SAE 650733 (1965); published sets differ by 4 % of power",
    )  # fmt: skip


def _outlet(solver: Solver, point: Point) -> Sheet:
    inlet = point.stations["compressor_inlet"].temperature
    ideal = isentropic_temperature(solver.gas, inlet, point.turbo.ratio)
    cp = heat_capacity(solver.gas, 0.5 * (inlet + ideal))
    rise = cp * (ideal - inlet) / point.turbo.efficiency
    after = heat_capacity(solver.gas, inlet + 0.5 * rise / cp)
    return Sheet(
        "compressor_outlet", "Air behind the compressor", Figure(inlet + rise / after, "temperature"),
        "T2 = T1 + (T2s − T1) / η",
        (
            Line("T1", "inlet temperature", Figure(inlet, "temperature")),
            Line("T2s", "after an ideal compression by the ratio", Figure(ideal, "temperature")),
            Line("η", "compressor efficiency, from the map", Figure(point.turbo.efficiency, "ratio")),
        ),
        "Definition of isentropic efficiency, SAE J1826; gas: NASA TM-4513",
    )  # fmt: skip


def _corrected_flow(solver: Solver, point: Point) -> Sheet:
    chart = solver.system.turbo.chart
    inlet = point.stations["compressor_inlet"]
    flow = (
        point.air / solver.system.turbo.count
        * math.sqrt(inlet.temperature / chart.reference_temperature)
        / (inlet.pressure / chart.reference_pressure)
    )  # fmt: skip
    return Sheet(
        "corrected_flow", "Corrected flow of one compressor", Figure(flow, "mass_flow"),
        "m_c = m / z · √(T1 / T_ref) / (p1 / p_ref)",
        (
            Line("m", "air", Figure(point.air, "mass_flow")),
            Line("z", "compressors side by side", Figure(float(solver.system.turbo.count), "count")),
            Line("T1", "inlet temperature", Figure(inlet.temperature, "temperature")),
            Line("p1", "inlet pressure, absolute", Figure(inlet.pressure, "pressure_absolute")),
            Line("T_ref", "of the map", Figure(chart.reference_temperature, "temperature")),
            Line("p_ref", "of the map", Figure(chart.reference_pressure, "pressure_absolute")),
        ),
        "SAE J1826",
    )  # fmt: skip


def _shaft(solver: Solver, point: Point) -> Sheet:
    turbine = solver.system.turbo.turbine
    return Sheet(
        "shaft", "Power into the air", Figure(point.turbo.turbine_power * turbine.mechanical, "power"),
        "P_c = η_m · P_t",
        (
            Line("P_t", "turbine power from the gas", Figure(point.turbo.turbine_power, "power")),
            Line("η_m", "bearings and shaft", Figure(turbine.mechanical, "ratio")),
        ),
        "Steady shaft; Watson & Janota 1982, ch. 5",
    )  # fmt: skip


def _corrected_power(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        "corrected_power", "What a dyno would print",
        Figure(point.power * solver.day_factor, "power"),
        "P_std = P · (1.18 · 99 kPa / p_dry · √(T / 298 K) − 0.18)",
        (
            Line("P", "power at the crank", Figure(point.power, "power")),
            Line("T", "air of the day", Figure(solver.system.site.temperature, "temperature")),
            Line("factor", "of this day", Figure(solver.day_factor, "number")),
        ),
        "SAE J1349; with boost control it flatters a turbocharged engine",
    )  # fmt: skip


SHEETS: dict[str, Callable[[Solver, Point], Sheet]] = {
    "power": _power,
    "air": _air,
    "indicated": _indicated,
    "friction": _friction,
    "compressor_outlet": _outlet,
    "corrected_flow": _corrected_flow,
    "shaft": _shaft,
    "corrected_power": _corrected_power,
}
_TURBO_ONLY = {"corrected_flow", "shaft"}


def sheets(solver: Solver, point: Point) -> dict[str, Sheet]:
    """All sheets of a solved point; those of a turbo are left out where a blower stands."""
    return {
        key: make(solver, point)
        for key, make in SHEETS.items()
        if solver.system.blower is None or key not in _TURBO_ONLY
    }


def piece_sheet(solver: Solver, point: Point, piece: str) -> Sheet:
    """The working of the loss of a duct piece; raises KeyError for another id."""
    found = {s.id: s for s in point.stretches}
    element = next((e for e in solver.system.elements if e.id == piece), None)
    if element is None:
        raise KeyError(piece)
    s = found[piece]
    return Sheet(
        f"piece:{piece}", f"Loss of “{s.name}”", Figure(s.drop, "pressure_difference"),
        "Δp = p · K · γ M² / 2",
        (
            Line("p", "total pressure before it", Figure(s.pressure_in, "pressure_absolute")),
            Line("K", f"loss coefficient ({element.method})", Figure(s.loss, "number")),
            Line("M", "highest Mach number in it", Figure(s.mach, "number")),
            Line("Re", "Reynolds number", Figure(s.reynolds, "number")),
        ),
        element.source,
    )  # fmt: skip


__all__ = ["SHEETS", "Line", "Sheet", "piece_sheet", "sheets"]
