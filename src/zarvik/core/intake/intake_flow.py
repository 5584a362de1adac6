"""Throttle, ports and valves of an air path as its solved points see them."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.stations import COLD_PIPE, HOT_PIPE, INTAKE
from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.ducts.element import circle
from zarvik.core.intake import butterfly
from zarvik.core.intake.ports import IntakePassage, Ports, mach_index, way


@dataclass(frozen=True)
class Throttle:
    """A throttle piece: its `id`, `bore` and `shaft` in m, the `section` that it stands in."""

    id: str
    bore: float
    shaft: float
    section: str


def throttle_of(path: AirPath) -> Throttle | None:
    """The last throttle before the valves of a `path`; None without one."""
    for section in (COLD_PIPE, HOT_PIPE, INTAKE):
        for element in reversed(path.runs[section]):
            if element.kind == "throttle":
                shaft = butterfly.shaft_of(element.diameter, float(element.loss[12]))
                return Throttle(element.id, element.diameter, shaft, section)
    return None


def throttle_at(throttle: Throttle, point: Point, like: Throttle | None = None) -> tuple[float, float]:
    """Pa that a `throttle` takes wide open at a solved `point`, and over the absolute pressure before it; where it is not in the path but
    tried in the place of another, `like` that one."""
    stretch = next(s for s in point.stretches if s.id == (like or throttle).id)
    before = point.stations[stretch.start]
    loss, _ = butterfly.full_load(throttle.bore, throttle.shaft, flow=before.flow, pressure=before.pressure, temperature=before.temperature)
    return loss, loss / before.pressure


def breath(path: AirPath) -> butterfly.NaturalIntake:
    """The engine of a `path` without boost, as a throttle sees it in town."""
    return butterfly.NaturalIntake(
        path.engine.displacement, float(path.engine.breathing.at(butterfly.TOWN)), path.site.pressure, path.site.temperature
    )


def full_flow_travel(path: AirPath, throttle: Throttle) -> float:
    """Share of the travel of a `throttle` after which nothing more comes in town, in a `path`."""
    return butterfly.travel_for(throttle.bore, throttle.shaft, butterfly.area_for(breath(path), butterfly.TOWN))


def ports_at(path: AirPath, ports: Ports, point: Point) -> IntakePassage:
    """The way through the `ports` of a `path` at a solved `point`. Raises ValueError where nobody measured them."""
    engine, plenum = path.engine, point.stations["plenum"]
    return way(
        ports,
        flow=point.air / engine.cylinders,
        density=plenum.pressure / (DRY_AIR_GAS_CONSTANT * point.charge),
        sound=math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * point.charge),
        piston_area=circle(engine.bore),
        piston_speed=2.0 * engine.stroke * point.speed / 60.0,
    )


def valve_index(path: AirPath, ports: Ports, point: Point) -> float:
    """Mean inlet Mach index at a solved `point` of a `path` with the valves of its `ports`; nan where nobody measured them."""
    engine = path.engine
    return mach_index(
        ports,
        piston_area=circle(engine.bore),
        piston_speed=2.0 * engine.stroke * point.speed / 60.0,
        sound=math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * point.charge),
    )
