"""A train on a hill, and what holds it back."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_MASS = QuantitySpec(
    kind="mass", low="0 kg", high="60000 kg", unit="kg", title="Total mass", help="Car, trailer and load", blank="not towing"
)
_GRADE = QuantitySpec(kind="ratio", low="0 %", high="40 %", unit="%", title="Gradient", help="6 % is 6 m in 100 m")
_SPEED = QuantitySpec("road_speed", "5 km/h", "200 km/h", "km/h", "Speed uphill")
_GEAR = QuantitySpec(
    kind="number", low="0", high="20", unit="", title="Gear ratio uphill", help="To try another gear", blank="auto: pull gear"
)
_MINUTES = QuantitySpec(kind="time", low="10 s", high="7200 s", unit="min", title="Climb duration", help="Time at full load uphill")
_BRAKE = Choice("Exhaust brake", lambda: (("none", "None"), ("fitted", "Butterfly behind the turbine")), "Exhaust brake, for diesels")
_HOLE = QuantitySpec(kind="length", low="0 mm", high="100 mm", unit="mm", title="Brake orifice", help="Hole in the butterfly", blank="auto")
_VALVE = QuantitySpec(
    kind="length", low="0 mm", high="80 mm", unit="mm", title="Exhaust valve diameter", help="Of its head", blank="not known"
)
_SPRING = QuantitySpec(
    kind="force", low="0 N", high="5000 N", unit="N", title="Valve spring seat force", help="Of one valve, closed", blank="not known"
)


class Towing(Part):
    """What is towed up a hill, for how long, and the exhaust brake."""

    mass: Annotated[Quantity, _MASS] = _MASS("0 kg")
    gradient: Annotated[Quantity, _GRADE] = _GRADE("6 %")
    speed: Annotated[Quantity, _SPEED] = _SPEED("70 km/h")
    gear_ratio: Annotated[Quantity, _GEAR] = _GEAR("0")
    duration: Annotated[Quantity, _MINUTES] = _MINUTES("10 min")
    brake: Annotated[str, _BRAKE] = "none"
    brake_orifice: Annotated[Quantity, _HOLE] = _HOLE("0 mm")
    valve_diameter: Annotated[Quantity, _VALVE] = _VALVE("0 mm")
    valve_spring_force: Annotated[Quantity, _SPRING] = _SPRING("0 N")
