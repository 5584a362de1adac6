"""Heat that an engine gives to its water at a solved point."""

from __future__ import annotations

import dataclasses

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.engine import engine as eng
from zarvik.core.fluid_lines import turbo_coolant
from zarvik.core.limits.limits import COOLANT
from zarvik.core.radiator.radiator import IDLING, RUBBED, Radiator, RadiatorState, radiator_state, seconds_to_limit
from zarvik.core.vehicle.car import Car
from zarvik.core.vehicle.towing import tractive_power
from zarvik.core.vehicle.trailer import TowingCase


def coolant_heat(solver: Solver, point: Point) -> float:
    """Heat in W from the gas to the walls of chambers and ports."""
    site = solver.site_numbers
    released = point.air * site[k.DRY_SHARE] * solver.path.engine.burnt.heat_per_air
    exhaust = point.air + point.fuel
    return float(
        site[k.TRUST_HEAT]
        * eng.wall_heat(solver.burnt, site[k.NUSSELT], exhaust, site[k.BORE], site[k.PISTONS], point.charge, released / exhaust)
    )


def friction_power(solver: Solver, point: Point) -> float:
    """Power in W that the engine of a `solver` loses to friction at a `point`."""
    return point.friction * solver.path.engine.displacement * point.speed / 120.0


def water_heat_load(solver: Solver, point: Point) -> float:
    """Heat in W to the water at a solved `point` of a `solver`: walls of chambers and ports, and what of the friction does not go with the
    oil."""
    return coolant_heat(solver, point) + RUBBED * friction_power(solver, point)


def idle_heat(solver: Solver) -> float:
    """Heat in W to the water at idle of the engine of a `solver`."""
    return IDLING * solver.path.engine.displacement


def radiator_at(solver: Solver, radiator: Radiator, point: Point, road_speed: float | None = None) -> RadiatorState:
    """A `radiator` when the heat of a solved `point` of a `solver` goes into its water for good, and that of the intercooler into the air
    before it; at a `road_speed` in m/s, that of the build where none is given."""
    path, full = solver.path, water_heat_load(solver, point)
    return radiator_state(
        radiator,
        heat=full,
        full_heat=full,
        before=point.cooler_heat if radiator.resists > 0.0 else 0.0,
        road_speed=path.road_speed if road_speed is None else road_speed,
        ambient=path.site.temperature,
    )


def radiator_in_town(solver: Solver, radiator: Radiator) -> RadiatorState:
    """A `radiator` when the car stands and the engine of a `solver` idles; its pump brings a quarter of what nobody measured."""
    path = solver.path
    heat = idle_heat(solver)
    slow = dataclasses.replace(radiator, water=IDLE_PUMP * radiator.water)
    return radiator_state(slow, heat=heat, full_heat=IDLE_WATER * heat, before=0.0, road_speed=0.0, ambient=path.site.temperature)


def radiator_on_hill(solver: Solver, radiator: Radiator, car: Car, train: TowingCase, point: Point) -> RadiatorState:
    """A `radiator` on the hill of a `train` behind its `car`, with the engine of a `solver`: heat by the share of the power of a solved
    `point` that the hill asks for."""
    path, full = solver.path, water_heat_load(solver, point)
    share = min(max(tractive_power(car, train) / point.power, 0.0), 1.0)
    return radiator_state(
        radiator,
        heat=share * full,
        full_heat=full,
        before=share * point.cooler_heat if radiator.resists > 0.0 else 0.0,
        road_speed=train.speed,
        ambient=path.site.temperature,
    )


IDLE_PUMP = 0.25  # of its water at full load that a pump brings at idle; common practice, no source
IDLE_WATER = 2.0  # heat of idle that the water of a pump at idle carries at its usual fall; common practice, no source
HOUSING = 0.93  # K of a turbine's housing over that of the gas before it; common practice, no source


def turbo_heat(path: AirPath, point: Point) -> float:
    """Heat in W that one turbo of a `path` gives to its water at a solved `point`."""
    return turbo_coolant.heat_to_water(path.turbo.turbine.wheel, HOUSING * point.stations["turbine_inlet"].temperature)


def sustained_share(solver: Solver, radiator: Radiator, point: Point, road_speed: float | None = None) -> float:
    """Share of the heat of a solved `point` of a `solver` that a `radiator` carries for good at the most that the water may have; the air
    before it as warm as that share makes it. At a `road_speed` in m/s, that of the build where none is given."""
    full, ambient = radiator_at(solver, radiator, point, road_speed), solver.path.site.temperature
    # Water and warm air both rise with the heat, in proportion
    return (COOLANT.most - ambient) / (full.water - ambient)


def full_load_seconds(solver: Solver, radiator: Radiator, point: Point) -> float:
    """Seconds for which a `radiator` takes the full load of a solved `point` of a `solver` from a warm start; inf for good."""
    return seconds_to_limit(radiator_at(solver, radiator, point), solver.path.engine.displacement, COOLANT.most)
