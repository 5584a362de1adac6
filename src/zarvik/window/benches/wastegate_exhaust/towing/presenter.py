"""What the page of tow and brake shows, in the owner's units."""

from __future__ import annotations

import math
from collections.abc import Mapping

from zarvik.core.airpath.stations import TURBINE_INLET
from zarvik.core.vehicle.towing import housing_limit
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr
from zarvik.project.units.rendering import render
from zarvik.project.units.units import KINDS, unit_of
from zarvik.project.vehicle.towing import TowingReport, sentences
from zarvik.window.benches.wastegate_exhaust.towing.charts import Curve

ENTRIES = (
    "towing.mass",
    "towing.gradient",
    "towing.speed",
    "towing.gear_ratio",
    "towing.duration",
    "towing.brake",
    "towing.brake_orifice",
    "towing.valve_diameter",
    "towing.valve_spring_force",
)
MINUTE = 60.0


def asked(project: Project, place: str) -> bool:
    """Is an entry asked for, as things are?"""
    if place in ("towing.gradient", "towing.speed", "towing.gear_ratio", "towing.duration"):
        return project.towing.mass.si > 0.0
    if place in ("towing.brake_orifice", "towing.valve_diameter", "towing.valve_spring_force"):
        return project.towing.brake == "fitted"
    return True


def _unit(kind: str, units: Mapping[str, str]) -> tuple[str, object]:
    symbol = units.get(kind)
    found = unit_of(kind, symbol) if symbol else KINDS[kind][0]
    return found.symbol, found.from_si


def over_speed(found: TowingReport, units: Mapping[str, str]) -> tuple[tuple[Curve, ...], str, tuple[float, float] | None]:
    """Gas before the turbine over engine speed at the same power: curves, unit, and where this gear stands."""
    symbol, turn = _unit("temperature", units)
    if found.hill is None:
        return (), symbol, None
    h = found.hill
    speeds = tuple(float(s) for s in h.speeds)
    gas = tuple(turn(float(t)) if t == t else math.nan for t in h.gas)  # type: ignore[operator]
    level = turn(h.limit.good)  # type: ignore[operator]
    curves = (
        Curve(tr("gas before the turbine"), speeds, gas),
        Curve(tr("sustainable limit"), (speeds[0], speeds[-1]), (level, level), "limit"),
    )
    spot = None
    if h.load is not None:
        spot = (h.gear, turn(h.load.point.stations[TURBINE_INLET].temperature))  # type: ignore[operator]
    return curves, symbol, spot


def over_minutes(found: TowingReport, units: Mapping[str, str]) -> tuple[tuple[Curve, ...], str]:
    """Gas and iron over the minutes of the hill."""
    symbol, turn = _unit("temperature", units)
    if found.hill is None or found.hill.warms is None:
        return (), symbol
    h, w = found.hill, found.hill.warms
    minutes = tuple(float(t) / MINUTE for t in w.time)
    gas = tuple(turn(float(t)) for t in w.gas)  # type: ignore[operator]
    iron = tuple(turn(float(t)) for t in w.housing)  # type: ignore[operator]
    level, iron_level = turn(h.limit.good), turn(housing_limit())  # type: ignore[operator]
    ends = (minutes[0], minutes[-1])
    return (
        Curve(tr("gas before the turbine"), minutes, gas),
        Curve(tr("turbine housing"), minutes, iron, "soft"),
        Curve(tr("gas limit"), ends, (level, level), "limit"),
        Curve(tr("housing limit"), ends, (iron_level, iron_level), "limit"),
    ), symbol


def over_brake(found: TowingReport, units: Mapping[str, str]) -> tuple[tuple[Curve, ...], str]:
    """What the brake holds over engine speed, and what the hill asks to be held."""
    symbol, turn = _unit("power", units)
    if not found.brakes:
        return (), symbol
    speeds = tuple(b.speed for b in found.brakes)
    curves = [
        Curve(tr("held back"), speeds, tuple(turn(b.power) for b in found.brakes)),  # type: ignore[operator]
        Curve(tr("friction alone"), speeds, tuple(turn(b.friction) for b in found.brakes), "soft"),  # type: ignore[operator]
    ]
    if found.down > 0.0:
        level = turn(found.down)  # type: ignore[operator]
        curves.append(Curve(tr("needed downhill"), (speeds[0], speeds[-1]), (level, level), "limit"))
    return tuple(curves), symbol


def lines(found: TowingReport, project: Project) -> tuple[str, ...]:
    """What a driver has to know."""
    spark = project.engine.fuel != "diesel"
    return tuple(render(s, project.shown_units) for s in sentences(found, spark=spark))
