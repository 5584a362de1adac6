"""Working of the air that the engine takes."""

from __future__ import annotations

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Line, Maker, Sheet, mean_capacity
from zarvik.core.common.sentences import Figure
from zarvik.core.engine import engine as eng
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.relations.engine import AIR, EVAPORATION


def drawn_air(solver: Solver, point: Point) -> tuple[float, float, float]:
    """Air in kg/s that the engine draws at the plenum and the port that it has, with its factors of
    back-pressure and of the fuel's vapour."""
    engine, site = solver.path.engine, solver.site_numbers
    plenum = point.stations["plenum"]
    ratio = point.stations["exhaust_port"].pressure / plenum.pressure
    factor = float(eng.back_pressure_factor(ratio * point.turbo.overlap, engine.compression))
    demand = eng.air_demand(solver.gas, engine.displacement, point.efficiency, point.speed, plenum.pressure, point.charge)
    vapour = float(
        eng.displaced(
            solver.gas,
            point.charge,
            plenum.pressure,
            site[k.FUEL_PER_AIR] * site[k.DRY_SHARE],
            point.evaporated,
            site[k.VAPOUR : k.VAPOUR + 4],
        )
    )
    return float(demand * factor * vapour), factor, vapour


def _air(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    plenum = point.stations["plenum"]
    drawn, factor, vapour = drawn_air(solver, point)
    return Sheet(
        key="air",
        title="Engine airflow",
        result=Figure(drawn, "mass_flow"),
        relation=AIR.written,
        lines=(
            Line("VE", "volumetric efficiency", Figure(point.efficiency, "ratio"), "breathing"),
            Line("p", "plenum pressure, absolute", Figure(plenum.pressure, "pressure_absolute"), "pressure:plenum"),
            Line("T", "charge temperature after the fuel", Figure(point.charge, "temperature"), "charge"),
            Line("R", "gas constant, J/(kg K)", Figure(float(solver.gas[GAS_CONSTANT]), "number")),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("k", "back-pressure factor at this port pressure", Figure(factor, "number")),
            Line(
                "o",
                "pressure at the ports during overlap over its mean, in k",
                Figure(point.turbo.overlap, "number"),
                "pulse_overlap" if solver.path.blower is None else "",
            ),
            Line("y", "share of the volume left beside fuel vapour", Figure(vapour, "number")),
        ),
        source=AIR.source,
    )


def _asked(solver: Solver, point: Point) -> Sheet:
    boost = solver.path.boost
    start = boost.onset * boost.full_from
    share = min(max((point.speed - start) / (boost.full_from - start), 0.0), 1.0)
    return Sheet(
        key="asked_boost",
        title="Target boost",
        result=Figure(float(boost.at(point.speed)), "pressure_gauge"),
        relation="p_w = p · s² · (3 − 2 s)",
        lines=(
            Line("p", "full boost", Figure(boost.full, "pressure_gauge")),
            Line("s", "share of the way to the speed from which the full boost is let in", Figure(share, "number")),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("n_f", "speed from which the full boost is let in", Figure(boost.full_from, "rotation")),
        ),
        source="Entry; a smooth step below it",
    )


def _charge(solver: Solver, point: Point) -> Sheet:
    plenum = point.stations["plenum"]
    engine = solver.path.engine
    site = solver.site_numbers
    per_air = engine.burnt.fuel_per_air * site[k.DRY_SHARE]
    after = plenum.temperature
    if engine.evaporated > 0.0:
        after = eng.charge_after_fuel(
            solver.gas,
            plenum.temperature,
            plenum.pressure,
            per_air,
            engine.evaporated,
            engine.fuel.vaporisation,
            site[k.VAPOUR : k.VAPOUR + 4],
        )
    capacity = mean_capacity(solver.gas, plenum.temperature, float(after))
    return Sheet(
        key="charge",
        title="Charge temperature after the fuel",
        result=Figure(float(after), "temperature"),
        relation="T = T_p − x · f · r / c_p",
        lines=(
            Line("T_p", "in the plenum", Figure(plenum.temperature, "temperature"), "temperature:plenum"),
            Line("x", "share evaporated before the valves close, by heat, time and saturation", Figure(point.evaporated, "ratio")),
            Line("f", "fuel for a kilogram of air", Figure(per_air, "number")),
            Line("r", "heat of vaporisation, MJ/kg", Figure(engine.fuel.vaporisation / 1e6, "number")),
            Line("c_p", "of the air between the two, J/(g K)", Figure(capacity / 1000.0, "number")),
        ),
        source=EVAPORATION.source,
    )


def _dry_air(solver: Solver, point: Point) -> Sheet:
    share = float(solver.site_numbers[k.DRY_SHARE])
    return Sheet(
        key="dry_air",
        title="Dry air",
        result=Figure(point.air * share, "mass_flow"),
        relation="m = m_a · (1 − w)",
        lines=(
            Line("m_a", "moist airflow of the engine", Figure(point.air, "mass_flow"), "air"),
            Line("w", "water in it, by mass", Figure(1.0 - share, "ratio")),
        ),
        source="Humidity; saturation: Hyland & Wexler 1983",
    )


def _displacement(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    return Sheet(
        key="displacement",
        title="Displacement",
        result=Figure(engine.displacement, "volume"),
        relation="V = z · π / 4 · B² · S",
        lines=(
            Line("z", "cylinders", Figure(float(engine.cylinders), "count")),
            Line("B", "bore", Figure(engine.bore, "length")),
            Line("S", "stroke", Figure(engine.stroke, "length")),
        ),
        source="Geometry",
    )


def _breathing(solver: Solver, point: Point) -> Sheet:
    breathing = solver.path.engine.breathing
    x = list(breathing.speed)
    inside = min(max(point.speed, x[0]), x[-1])
    i = max(min(sum(v <= inside for v in x), len(x) - 1), 1)
    lower = max(i - 1, 0)
    return Sheet(
        key="breathing",
        title="Volumetric efficiency",
        result=Figure(float(breathing.at(point.speed)), "ratio"),
        relation="VE = curve(n; n1, VE1; n2, VE2)",
        lines=(
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("n1", "point of the curve below", Figure(x[lower], "rotation")),
            Line("VE1", "there", Figure(breathing.efficiency[lower], "ratio")),
            Line("n2", "point of the curve above", Figure(x[min(i, len(x) - 1)], "rotation")),
            Line("VE2", "there", Figure(breathing.efficiency[min(i, len(x) - 1)], "ratio")),
        ),
        source="The engine's own curve, or the shape of its kind (trend: Heywood 1988, fig. 6-9, from memory); "
        "monotone cubics between its points (Fritsch & Carlson 1980)",
    )


SHEETS: dict[str, Maker] = {
    "air": _air,
    "dry_air": _dry_air,
    "charge": _charge,
    "asked_boost": _asked,
    "breathing": _breathing,
    "displacement": _displacement,
}
