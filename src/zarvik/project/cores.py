"""The cores of a document that stand in the wind, by their dimensions."""

from __future__ import annotations

from zarvik.core.cooling.core_size import STANDS, Core, Wind
from zarvik.project import document as doc


def core_of(project: doc.Project) -> Core:
    """The core of the charge cooler by its dimensions."""
    c = project.cooler
    return Core(
        c.width.si, c.height.si, c.thickness.si, c.fins.si / 0.0254, c.entry.si, c.build
    )


def front_of(project: doc.Project) -> Core:
    """The exchanger in the wind of a water-cooled build by its dimensions."""
    c = project.cooler
    return Core(
        c.front_width.si, c.front_height.si, c.front_thickness.si, c.front_fins.si / 0.0254, 0.03,
        "tube_louvre",
    )  # fmt: skip


def in_the_wind(project: doc.Project) -> Core:
    """What the wind blows through: the core, or with water the front exchanger."""
    return front_of(project) if project.cooler.medium == "water" else core_of(project)


FAN_WIND = 3.0  # m/s of road speed for which a fan stands when the car does not move


def wind_of(project: doc.Project) -> Wind:
    """What drives air through it."""
    c, core = project.cooler, in_the_wind(project)
    return Wind(STANDS[c.stands][0], c.opening.si * core.width * core.height, c.fan.si)
