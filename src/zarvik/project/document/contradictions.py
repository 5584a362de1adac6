"""Sizes that cannot stand beside each other: the place of the likely slip, and what is wrong with it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from zarvik.core.engine.belt import RIBBED, Belt
from zarvik.core.estimates.typical_values import rotor_inertia
from zarvik.core.stock.sizes import INDUCER_SHARE, openings
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.document.places import meta
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import UNKNOWN

Slip = tuple[str, str]

AIR = 1.2  # kg/m3 that a meter was calibrated in, near enough
RACKS = (4e-3, 25e-3)  # m of rack travel at full load, of the smallest and the largest in-line pump; common practice, no source
METER_SPEEDS = (8.0, 140.0)  # m/s at the end of a meter's range that no meter is under or over; rough guide
INERTIA_BAND = 6.0  # an inertia so many times over or under that of like wheels is a slip of a unit; rough guide


def tip_of(turbo: Turbo) -> float:
    """Tip diameter in m of the compressor wheel: measured, else from the flow of its map."""
    if turbo.wheels is not None:
        return turbo.wheels.exducer.si
    return openings(float(turbo.lines[-1].points[-1][0]))[0] / INDUCER_SHARE


def geometry(project: Project, belt: Belt) -> Iterator[Slip]:
    """Slips of the chosen turbo, of the ports, of the brief and of the `belt`."""
    turbo = project.chosen
    if turbo is not None and not project.blower.fitted:
        yield from _turbo(turbo)
    ports = project.ports
    if 0.0 < ports.valve_diameter.si < ports.throat.si:
        yield (
            "ports.throat",
            tr_format("A throat of {0} is too big for a valve of {1}. Usual: 85–92 % of it", ports.throat, ports.valve_diameter),
        )
    engine = project.engine
    if engine.element.si > 0.0 and engine.fuelling != "lambda":
        if engine.element_was.si <= 0.0:
            yield "engine.element_was", tr_format("Enter the original element too: {0} alone is not enough", engine.element)
        elif not 0.5 <= engine.element.si / engine.element_was.si <= 2.0:
            yield "engine.element", tr_format("An element of {0} does not fit where {1} was", engine.element, engine.element_was)
    if engine.rack.si > 0.0 and engine.fuelling != "lambda":
        if engine.rack_was.si <= 0.0:
            yield "engine.rack_was", tr_format("Enter the original rack travel too: {0} alone is not enough", engine.rack)
        elif not 0.5 <= engine.rack.si / engine.rack_was.si <= 2.0:
            yield "engine.rack", tr_format("A rack cannot travel {0} where the original was {1}", engine.rack, engine.rack_was)
    if engine.rack_was.si > 0.0 and engine.fuelling != "lambda" and not RACKS[0] <= engine.rack_was.si <= RACKS[1]:
        yield "engine.rack_was", tr_format("Racks travel 9 to 13 mm at full load. {0} looks like a slip", engine.rack_was)
    gate = project.wastegate
    if 0.0 < gate.diaphragm.si < gate.diameter.si:
        yield (
            "wastegate.diaphragm",
            tr_format("A diaphragm of {0} is too small for a valve of {1}. Usual: 1.5 to 2.4 times as wide", gate.diaphragm, gate.diameter),
        )
    meter = project.air_meter
    if meter.kind != "none" and meter.max_reading.si > 0.0 and meter.bore.si > 0.0:
        speed = meter.max_reading.si / (AIR * 0.25 * math.pi * meter.bore.si**2)
        if not METER_SPEEDS[0] <= speed <= METER_SPEEDS[1]:
            yield (
                "air_meter.max_reading",
                tr_format("{0} through {1} is {2:.0f} m/s: meters end at 30 to 70 m/s", meter.max_reading, meter.bore, speed),
            )
    brief, limit = project.goal, project.engine.rev_limit
    if brief.pedal_at.si >= limit.si:
        yield "goal.pedal_at", tr_format("The pull starts at {0}, above the rev limit of {1}", brief.pedal_at, limit)
    if project.car.pull_from.si >= limit.si:
        yield "car.pull_from", tr_format("The pull starts at {0}, above the rev limit of {1}", project.car.pull_from, limit)
    if project.blower.fitted and project.blower.drive_ratio.known == UNKNOWN:
        field = meta(project, "blower.drive_ratio")
        low, high = field.limits if isinstance(field, QuantitySpec) else (0.0, 1e9)
        if not low <= belt.ratio <= high:
            place = "blower.pulley" if project.blower.belt == RIBBED else "blower.teeth"
            yield (
                place,
                tr_format("These pulleys turn the blower {0:.1f} times per crank turn. Usual: {1:.1g} to {2:.1g}", belt.ratio, low, high),
            )


def _turbo(turbo: Turbo) -> Iterator[Slip]:
    turbine = turbo.turbine
    if turbine.exducer.si > turbine.wheel.si:
        yield (
            f"turbos.{turbo.id}.turbine.exducer",
            tr_format("An exducer of {0} does not fit a turbine wheel of {1}. Usual: 75–95 % of it", turbine.exducer, turbine.wheel),
        )
    if turbine.inertia.known != UNKNOWN:
        like = rotor_inertia(turbine.wheel.si, tip_of(turbo)).value
        if not like / INERTIA_BAND < turbine.inertia.si < like * INERTIA_BAND:
            yield (
                f"turbos.{turbo.id}.turbine.inertia",
                tr_format("{0} looks like a slip: wheels of this size have about {1:.0f} g·cm²", turbine.inertia, like * 1e7),
            )
