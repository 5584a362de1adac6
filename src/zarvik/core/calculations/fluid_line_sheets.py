"""Working sheets of oil and fuel lines."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.checks.fluid_lines import density
from zarvik.core.common.sentences import Figure
from zarvik.core.fluid_lines import oil
from zarvik.core.fluid_lines.fuel import PUMP_LEFT
from zarvik.core.fluid_lines.lines import DROOP, drain_capacity, fed, feed_speed, injected, pump_delivery
from zarvik.core.whole_build.build import Build


def _fed(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    flow = fed(lines)
    if flow <= 0.0:
        raise KeyError("no restrictor")
    nu = oil.viscosity(lines.oil_grade, lines.oil_temperature)
    return Sheet(
        key="oil_fed",
        title="Restrictor oil flow",
        result=Figure(flow, "liquid_flow"),
        relation="Q: p = ρ / 2 · (Q / (C · π / 4 · d²))² + 128 · ν · ρ · L · Q / (π · d^4)",
        lines=(
            Line("p", "oil pressure, hot, gauge", Figure(lines.oil_pressure, "pressure_gauge")),
            Line("d", "restrictor", Figure(lines.restrictor_bore, "length")),
            Line("L", "its length", Figure(lines.restrictor_length, "length")),
            Line("ν", "of the oil at this heat, mm²/s", Figure(1e6 * nu, "number")),
            Line("ρ", "of oil, kg/m³", Figure(oil.DENSITY, "number")),
            Line("C", "discharge of a drilled bore", Figure(oil.DISCHARGE, "number")),
        ),
        source="Entry and Hagen-Poiseuille in a row; viscosity: ASTM D341 between 40 and 100 °C (typical of the grade, memory)",
    )


def _drained(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    if lines.drain_bore <= 0.0:
        raise KeyError("no drain")
    nu = oil.viscosity(lines.oil_grade, lines.oil_temperature)
    return Sheet(
        key="oil_drained",
        title="Oil drain capacity",
        result=Figure(drain_capacity(lines), "liquid_flow"),
        relation="Q = h · f² · π · d^4 · g · sin(α) / (128 · ν)",
        lines=(
            Line("h", "usable share of the bore", Figure(oil.HALF, "ratio")),
            Line("f", "foam density over oil density", Figure(oil.FOAM, "ratio")),
            Line("d", "bore of the drain", Figure(lines.drain_bore, "length")),
            Line("α", "its fall below level", Figure(lines.drain_slope, "angle")),
            Line("ν", "of the oil, mm²/s", Figure(1e6 * nu, "number")),
        ),
        source="Hagen-Poiseuille under its own weight; foam and half: common practice, no source",
    )


def _spray(build: Build, solver: Solver, point: Point) -> tuple[float, float]:
    if build.lines.injector_flow <= 0.0:
        raise KeyError("no injectors")
    found = injected(
        build.lines, fuel=point.fuel, boost=max(point.boost, 0.0), cylinders=build.engine.cylinders, density=density(build.engine.fuel.key)
    )
    return found.duty, found.across


def _across(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    _, across = _spray(build, solver, point)
    boost = max(point.boost, 0.0)
    return Sheet(
        key="injector_across",
        title="Pressure across the injectors",
        result=Figure(across, "pressure_difference"),
        relation="Δp = p_r − p_b" if not lines.follows_boost else "Δp = p_r",
        lines=(
            Line("p_r", "regulator, gauge", Figure(lines.fuel_pressure, "pressure_gauge")),
            Line("p_b", "boost, which the regulator adds where it is led to the plenum", Figure(boost, "pressure_gauge"), "boost"),
        ),
        source="Balance of the regulator",
    )


def _duty(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    duty, across = _spray(build, solver, point)
    return Sheet(
        key="injector_duty",
        title="Injector duty",
        result=Figure(duty, "ratio"),
        relation="x = m_f / (z · Q · ρ · √(Δp / Δp_0))",
        lines=(
            Line("m_f", "fuel flow", Figure(point.fuel, "mass_flow")),
            Line("z", "injectors", Figure(float(lines.injectors or build.engine.cylinders), "count")),
            Line("Q", "of one, held open", Figure(lines.injector_flow, "injector_flow")),
            Line("ρ", "of the fuel, kg/m³", Figure(density(build.engine.fuel.key), "number")),
            Line("Δp", "across them", Figure(across, "pressure_difference"), "injector_across"),
            Line("Δp_0", "rating pressure", Figure(lines.injector_pressure, "pressure_difference")),
        ),
        source="Bernoulli: flow with the root of the pressure",
    )


def _rail(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    boost = max(point.boost, 0.0) if lines.follows_boost else 0.0
    return Sheet(
        key="fuel_rail",
        title="Fuel pressure at the pump",
        result=Figure(lines.fuel_pressure + boost, "pressure_gauge"),
        relation="p = p_r + p_b",
        lines=(
            Line("p_r", "regulator, gauge", Figure(lines.fuel_pressure, "pressure_gauge")),
            Line("p_b", "reference boost", Figure(boost, "pressure_gauge")),
        ),
        source="Balance of the regulator",
    )


def _pump(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    if lines.pump_flow <= 0.0:
        raise KeyError("no pump")
    rail = lines.fuel_pressure + (max(point.boost, 0.0) if lines.follows_boost else 0.0)
    return Sheet(
        key="pump_flow",
        title="Fuel pump flow",
        result=Figure(pump_delivery(lines, rail), "fuel_flow"),
        relation="Q = x · Q_0 · (1 − k · (p − p_0) / 1 bar)",
        lines=(
            Line("x", "usable share of the rating", Figure(PUMP_LEFT, "ratio")),
            Line("Q_0", "its figure", Figure(lines.pump_flow, "fuel_flow")),
            Line("k", "less for each bar more", Figure(DROOP, "ratio")),
            Line("p", "rail, gauge", Figure(rail, "pressure_gauge"), "fuel_rail"),
            Line("p_0", "its rating pressure, gauge", Figure(lines.pump_pressure, "pressure_gauge")),
        ),
        source="Common practice, no source",
    )


def _volume(build: Build, solver: Solver, point: Point) -> Sheet:
    thick = density(solver.path.engine.fuel.key)
    return Sheet(
        key="fuel_volume",
        title="Fuel use by volume",
        result=Figure(point.fuel / thick, "fuel_flow"),
        relation="Q = m_f / ρ",
        lines=(Line("m_f", "fuel flow", Figure(point.fuel, "mass_flow")), Line("ρ", "of the fuel, kg/m³", Figure(thick, "number"))),
        source="Definition; density: common tables",
    )


def _speed(build: Build, solver: Solver, point: Point) -> Sheet:
    lines = build.lines
    flow = point.fuel / density(solver.path.engine.fuel.key)
    return Sheet(
        key="fuel_speed",
        title="Fuel line velocity",
        result=Figure(feed_speed(lines, flow), "velocity"),
        relation="v = max(Q, Q_p) / (π / 4 · d²)",
        lines=(
            Line("Q", "fuel flow", Figure(flow, "fuel_flow"), "fuel_volume"),
            Line(
                "Q_p",
                "pump flow at rail pressure: all of it goes through the line, most of it back",
                Figure(pump_delivery(lines, lines.fuel_pressure), "fuel_flow"),
            ),
            Line("d", "bore of the line", Figure(lines.fuel_line_bore, "length")),
        ),
        source="Geometry",
    )


def _wants(place: int, key: str, title: str) -> BuildMaker:
    def maker(build: Build, solver: Solver, point: Point) -> Sheet:
        lines = build.lines
        if lines.restrictor_bore <= 0.0:
            raise KeyError(key)
        value = oil.WANTS[lines.bearings][place]
        return Sheet(
            key=key,
            title=title,
            result=Figure(value, "liquid_flow"),
            relation="Q = Q_p",
            lines=(Line("Q_p", "bearings of this kind, hot", Figure(value, "liquid_flow")),),
            source="Common practice, no source",
        )

    return maker


SHEETS: dict[str, BuildMaker] = {
    "oil_least": _wants(0, "oil_least", "Least oil flow of the bearings"),
    "oil_most": _wants(1, "oil_most", "Oil flow limit of the seals"),
    "oil_fed": _fed,
    "oil_drained": _drained,
    "injector_across": _across,
    "injector_duty": _duty,
    "fuel_rail": _rail,
    "pump_flow": _pump,
    "fuel_volume": _volume,
    "fuel_speed": _speed,
}


def missing(build: Build) -> set[str]:
    """Keys of the sheets that a `build` does not have."""
    lines = build.lines
    left: set[str] = set()
    if lines.restrictor_bore <= 0.0 or build.blower is not None:
        left |= {"oil_fed", "oil_least", "oil_most"}
    if lines.drain_bore <= 0.0 or build.blower is not None:
        left.add("oil_drained")
    if lines.injector_flow <= 0.0 or not build.engine.fuel.spark:
        left |= {"injector_across", "injector_duty"}
    if lines.pump_flow <= 0.0 or not build.engine.fuel.spark:
        left |= {"pump_flow", "fuel_rail", "fuel_volume", "fuel_speed"}
    return left
