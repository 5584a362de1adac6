"""Which entries belong to a build: a blower's are asked for where one is fitted, those of a turbo and its wastegate elsewhere."""

from __future__ import annotations

from zarvik.project.document.document import Project

_OF_A_TURBO = (
    "turbo",
    "turbos",
    "turbos_fitted",
    "exhaust_paths",
    "pieces_per_turbo",
    "decision",
    "wastegate",
    "turbo_coolant",
    "goal.budget",
    "fittings.turbo_mass",
    "fittings.turbo_support",
    *(f"layout.turbo.{name}" for name in ("shaft", "cover", "drain", "hand", "to_shaft", "between", "outlet")),
    "towing.brake",
    "towing.brake_orifice",
    "towing.valve_diameter",
    "towing.valve_spring_force",
    *(f"fluid_lines.oil_{name}" for name in ("grade", "pressure", "temperature")),
    "fluid_lines.bearings",
    "fluid_lines.restrictor_bore",
    "fluid_lines.restrictor_length",
    *(f"fluid_lines.drain_{name}" for name in ("bore", "slope", "outlet")),
    *(f"search.{name}" for name in ("turbo", "count", "housing", "gate", "boost", "hold")),
)
_OF_A_BLOWER = ("blower", "search.pulley", "search.blower")


def belongs(project: Project, place: str) -> bool:
    """Does the entry at a `place` say anything about this build? (`blower.fitted` itself belongs to every one.)"""
    if place == "blower.fitted":
        return True
    others = _OF_A_TURBO if project.blower.fitted else _OF_A_BLOWER
    return not any(place == other or place.startswith(other + ".") for other in others)
