"""Which entries belong to a build: a blower's are asked for where one is fitted, those of a turbo and its wastegate elsewhere."""

from __future__ import annotations

from zarvik.project.document.document import Project

_OF_A_TURBO = (
    "turbo",
    "turbos",
    "turbos_fitted",
    "hot_sides",
    "own_pieces",
    "decision",
    "gate",
    "coolant",
    "brief.budget",
    "fittings.turbo_mass",
    "fittings.turbo_support",
    *(f"layout.turbo.{name}" for name in ("shaft", "cover", "drain", "hand", "to_shaft", "between", "outlet")),
    "tow.brake",
    "tow.brake_orifice",
    "tow.valve_diameter",
    "tow.valve_spring_force",
    *(f"lines.oil_{name}" for name in ("grade", "pressure", "temperature")),
    "lines.bearings",
    "lines.restrictor_bore",
    "lines.restrictor_length",
    *(f"lines.drain_{name}" for name in ("bore", "slope", "outlet")),
    *(f"ask.{name}" for name in ("turbo", "count", "housing", "gate", "boost", "hold")),
)
_OF_A_BLOWER = ("blower", "ask.pulley", "ask.blower")


def belongs(project: Project, place: str) -> bool:
    """Does the entry at a `place` say anything about this build? (`blower.fitted` itself belongs to every one.)"""
    if place == "blower.fitted":
        return True
    others = _OF_A_TURBO if project.blower.fitted else _OF_A_BLOWER
    return not any(place == other or place.startswith(other + ".") for other in others)
