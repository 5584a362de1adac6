"""The cores of a document that stand in the wind, by their dimensions."""

from __future__ import annotations

import math

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, INCH
from zarvik.core.gas.ambient import standard_pressure
from zarvik.core.intercooler.core_size import AIR_DENSITY, STANDS, Core, Rating, Wind, cooling_flow, rate, rate_water
from zarvik.core.intercooler.intercooler import RATED_CP, WATER_CP
from zarvik.project.document import document as doc
from zarvik.project.units.units import ESTIMATED


def core_of(project: doc.Project) -> Core:
    """The core of the intercooler by its dimensions."""
    c = project.intercooler
    return Core(
        width=c.width.si,
        height=c.height.si,
        thickness=c.thickness.si,
        fins=c.fins.si / INCH,
        entry=c.port_diameter.si,
        build=c.construction,
    )


def front_of(project: doc.Project) -> Core:
    """The exchanger in the wind of a water-cooled build by its dimensions."""
    c = project.intercooler
    return Core(
        width=c.front_width.si,
        height=c.front_height.si,
        thickness=c.front_thickness.si,
        fins=c.front_fins.si / INCH,
        entry=0.03,
        build="tube_louvre",
    )


def front_core(project: doc.Project) -> Core:
    """What the wind blows through: the core, or with water the front exchanger."""
    return front_of(project) if project.intercooler.medium == "water" else core_of(project)


def wind_of(project: doc.Project) -> Wind:
    """What drives air through it."""
    c, core = project.intercooler, front_core(project)
    return Wind(STANDS[c.mounting][0], c.grille_opening.si * core.width * core.height, c.fan_flow.si)


FRONT_RATED = 80.0 / 3.6  # m/s of road speed at which a measured effectiveness of the front exchanger counts


def _captured(project: doc.Project, speed: float) -> float:
    """Air in kg/s of a free stream of `speed` m/s that goes through."""
    core = front_core(project)
    return speed * AIR_DENSITY * core.width * core.height * project.intercooler.air_share.si


def fan_wind(project: doc.Project) -> float:
    """Road speed in m/s for which the fan stands when the car does not move: what it blows alone. 0 without one, and for a
    core that cannot be, which is told where the build is assembled."""
    if project.intercooler.fan_flow.si <= 0.0:
        return 0.0
    wet = project.intercooler.medium == "water"
    try:
        alone = cooling_flow(front_core(project), road_speed=0.0, wind=wind_of(project), radiator=wet)
    except ValueError:
        return 0.0
    return alone / max(_captured(project, 1.0), 1e-9)


def front_air(project: doc.Project) -> float:
    """Air in kg/s at which the effectiveness of the front exchanger counts: a measured one at 80 km/h, an estimate at the road
    speed of the brief."""
    speed = FRONT_RATED if project.intercooler.front_effectiveness.known not in ESTIMATED else project.goal.road_speed.si
    return _captured(project, max(speed, fan_wind(project), 1.0))


WARM = 25.0  # K that the charge in the plenum is over ambient where a core is rated


def flows_in_use(project: doc.Project) -> tuple[float, float]:
    """Charge and cooling air (of a water-cooled core: water) in kg/s at which a core is rated by its dimensions: what the engine breathes
    at the target on the boost that is asked, and what the wind brings at the road speed of the brief, or the pump. So its own figures count
    where it is used, and no flow of a rating moves them. No less cooling than the charge has heat capacity: with less an
    effectiveness says nothing of a core."""
    e, brief, c = project.engine, project.goal, project.intercooler
    swept = e.cylinders.si * 0.25 * math.pi * e.bore.si**2 * e.stroke.si * brief.target_speed.si / 120.0
    pressure = standard_pressure(brief.altitude.si) + max(brief.target_boost.si, 0.0)
    charge = swept * e.best_breathing.si * pressure / (DRY_AIR_GAS_CONSTANT * (brief.design_day.si + WARM))
    if c.medium == "water":
        return charge, max(c.water_flow.si, charge * RATED_CP / WATER_CP)
    return charge, max(_captured(project, max(brief.road_speed.si, fan_wind(project))), charge)


def rated_by_size(project: doc.Project) -> Rating:
    """What the dimensions of the core say, at the flows of its use. Raises Fault for a core that cannot be."""
    charge, cooling = flows_in_use(project)
    if project.intercooler.medium == "water":
        return rate_water(core_of(project), charge=charge, water=cooling)
    return rate(core_of(project), charge=charge, cooling=cooling)


def rated_flows(project: doc.Project) -> tuple[float, float, float]:
    """Charge and cooling in kg/s at which the intercooler's effectiveness holds, and the charge at which its drop does: those of the rating
    for a figure that was typed, those of its use for one that is worked out from the dimensions."""
    c = project.intercooler
    typed = c.charge_flow.si, c.cooling_flow.si
    used = flows_in_use(project)
    charge, cooling = used if c.effectiveness.known in ESTIMATED else typed
    return charge, cooling, used[0] if c.pressure_loss.known in ESTIMATED else typed[0]
