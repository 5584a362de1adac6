"""Working of power, torque and what is missing of it."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver, approach
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.common.sentences import Figure
from zarvik.core.relations.engine import DAY


def _power(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    per_second = engine.swept_flow(point.speed)
    belt = 0.0
    blower = solver.path.blower
    if blower is not None:
        belt = point.turbo.power / blower.drive
    brake = point.indicated - point.pumping - point.friction
    return Sheet(
        key="power",
        title="Power at the crank",
        result=Figure(brake * per_second - belt, "power"),
        relation="P = (imep − pmep − fmep) · V · n / 2" + (" − P_belt" if blower else ""),
        lines=(
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "mean_pressure"), "indicated"),
            Line("pmep", "pumping: port over plenum", Figure(point.pumping, "mean_pressure"), "pumping"),
            Line("fmep", "friction", Figure(point.friction, "mean_pressure"), "friction"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            *([Line("P_belt", "taken by the blower's belt", Figure(belt, "power"), "shaft")] if blower else []),
        ),
        source="Definition of mean effective pressure; Heywood 1988, sec. 2.7",
    )


def _corrected_power(solver: Solver, point: Point) -> Sheet:
    spark = solver.path.engine.fuel.spark
    return Sheet(
        key="corrected_power",
        title="Power on a dyno sheet",
        result=Figure(point.power * solver.day_factor, "power"),
        relation=DAY.written if spark else "P_std = P",
        lines=(
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            *(
                (
                    Line("p_dry", "dry ambient air, absolute", Figure(solver.dry_pressure, "pressure_absolute")),
                    Line("T", "ambient air", Figure(solver.path.site.temperature, "temperature")),
                )
                if spark
                else ()
            ),
            Line("factor", "of this day", Figure(solver.day_factor, "number")),
        ),
        source=DAY.source if spark else "Not corrected: SAE J1349 has another rule for diesels, which is not worked out here",
    )


def _torque(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        key="torque",
        title="Torque at the crank",
        result=Figure(point.power / (point.speed * math.pi / 30.0), "torque"),
        relation="M = P / (2 π · n)",
        lines=(
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        source="Definition",
    )


def _net_work(solver: Solver, point: Point) -> Sheet:
    volume = solver.path.engine.displacement
    work = (point.indicated - point.pumping) * volume * point.speed / 120.0
    return Sheet(
        key="net_work",
        title="Net indicated power",
        result=Figure(work, "power"),
        relation="W = (imep − pmep) · V · n / 2",
        lines=(
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "mean_pressure"), "indicated"),
            Line("pmep", "pumping: port over plenum", Figure(point.pumping, "mean_pressure"), "pumping"),
            Line("V", "displacement", Figure(volume, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        source="Definition of mean effective pressure; Heywood 1988, sec. 2.7",
    )


def _consumption(solver: Solver, point: Point) -> Sheet:
    if point.power <= 0.0:
        raise KeyError("consumption")
    return Sheet(
        key="consumption",
        title="Specific fuel consumption",
        result=Figure(point.fuel / point.power, "consumption"),
        relation="b = m_f / P",
        lines=(
            Line("m_f", "fuel", Figure(point.fuel, "mass_flow"), "fuel"),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
        ),
        source="Definition",
    )


def _gain_heat(solver: Solver, point: Point) -> Sheet:
    ambient = solver.path.site.temperature
    gain = point.power * (math.sqrt(point.charge / ambient) - 1.0)
    return Sheet(
        key="gain_heat",
        title="Power gain with charge at ambient temperature",
        result=Figure(gain, "power"),
        relation="ΔP = P · (√(T / T_a) − 1)",
        lines=(
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("T", "charge temperature after the fuel", Figure(point.charge, "temperature"), "charge"),
            Line("T_a", "ambient", Figure(ambient, "temperature")),
        ),
        source="Airflow follows the root of the charge temperature (Heywood 1988, sec. 6.2.4); the rest unchanged",
    )


def _gain_height(solver: Solver, point: Point) -> Sheet:
    wanted = STANDARD_ATMOSPHERE + solver.path.boost.full
    raw = solver.raw(approach(solver.path, point.speed))
    higher = solver.at_pressure(np.array([point.speed]), np.array([wanted]), start=raw.solutions[-1])
    there = float(higher.power[0]) if higher.solved[0] else math.nan
    return Sheet(
        key="gain_height",
        title="Power gain at sea level, same gauge boost",
        result=Figure(there - point.power, "power"),
        relation="ΔP = P_h − P",
        lines=(
            Line("P_h", "with the plenum pressure of sea level, everything solved again", Figure(there, "power")),
            Line("p_h", "that plenum pressure", Figure(wanted, "pressure_absolute")),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
        ),
        source="The whole path solved twice; sea level: ISO 2533:1975",
    )


def _missing(solver: Solver, point: Point) -> Sheet:
    wanted = solver.path.target.power
    return Sheet(
        key="missing",
        title="Power shortfall",
        result=Figure(max(wanted - point.power, 0.0), "power"),
        relation="ΔP = max(P_w − P, 0)",
        lines=(
            Line("P_w", "target power", Figure(wanted, "power")),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
        ),
        source="0 where nothing is missing",
    )


def _turned_up(key: str, solver: Solver, point: Point) -> tuple[float, Point]:
    """Boost that is asked for in Pa gauge, weekly or for the big run, and the point with it."""
    build = solver.path
    boost = build.boost.full
    if key.startswith("big_run"):
        boost = max(build.target.big_run, boost)
    raw = solver.raw(approach(build, point.speed))
    held = solver.at_pressure(np.array([point.speed]), np.array([build.site.pressure + boost]), start=raw.solutions[-1])
    if not held.solved[0]:
        raise KeyError(key)
    return boost, solver.point(held, 0)


def _boost_with(key: str, title: str) -> Maker:
    def maker(solver: Solver, point: Point) -> Sheet:
        boost, turned = _turned_up(key, solver, point)
        plenum = turned.stations["plenum"].pressure
        ambient = solver.path.site.pressure
        return Sheet(
            key=key,
            title=title,
            result=Figure(plenum - ambient, "pressure_gauge"),
            relation="p_b = p_p − p_a",
            lines=(
                Line("p_p", "plenum, then", Figure(plenum, "pressure_absolute")),
                Line("p_a", "ambient", Figure(ambient, "pressure_absolute")),
                Line("p_w", "boost set at the wastegate", Figure(boost, "pressure_gauge")),
            ),
            source="The whole path solved again at that target boost",
        )

    return maker


def _power_with(key: str, title: str) -> Maker:
    def maker(solver: Solver, point: Point) -> Sheet:
        build = solver.path
        boost, turned = _turned_up(key, solver, point)
        work = turned.indicated - turned.pumping - turned.friction
        volume = build.engine.displacement
        belt = turned.turbo.power / build.blower.drive if build.blower else 0.0
        return Sheet(
            key=key,
            title=title,
            result=Figure(work * volume * point.speed / 120.0 - belt, "power"),
            relation="P = (imep − pmep − fmep) · V · n / 2" + (" − P_belt" if build.blower else ""),
            lines=(
                Line("p_w", "boost set at the wastegate", Figure(boost, "pressure_gauge")),
                Line("p_b", "boost then", Figure(turned.boost, "pressure_gauge")),
                Line("imep", "gross indicated, then", Figure(turned.indicated, "mean_pressure")),
                Line("pmep", "pumping, then", Figure(turned.pumping, "mean_pressure")),
                Line("fmep", "friction, then", Figure(turned.friction, "mean_pressure")),
                Line("V", "displacement", Figure(volume, "volume"), "displacement"),
                Line("n", "engine speed", Figure(point.speed, "rotation")),
                *([Line("P_belt", "taken by the belt, then", Figure(belt, "power"))] if belt else []),
            ),
            source="The whole path solved again at that target boost",
        )

    return maker


SHEETS: dict[str, Maker] = {
    "power": _power,
    "torque": _torque,
    "corrected_power": _corrected_power,
    "net_work": _net_work,
    "consumption": _consumption,
    "missing": _missing,
    "bottom_end_power": _power_with("bottom_end_power", "Power at everyday boost"),
    "bottom_end_boost": _boost_with("bottom_end_boost", "Everyday boost reached"),
    "big_run_boost": _boost_with("big_run_boost", "One-off boost reached"),
    "big_run_power": _power_with("big_run_power", "Power at one-off maximum boost"),
    "gain_heat": _gain_heat,
    "gain_height": _gain_height,
}
