"""A train on a hill, and what holds it back."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, Of
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_MASS = Of("mass", "0 kg", "60000 kg", "kg", "Train weighs", "Car, trailer and load together; 0: nothing is towed")
_GRADE = Of("ratio", "0 %", "40 %", "%", "Hill", "Rise over way: 6 % is 6 m in 100 m")
_SPEED = Of("road_speed", "5 km/h", "200 km/h", "km/h", "Speed on the hill")
_GEAR = Of("number", "0", "20", "", "Gear on the hill", "Its ratio, to try another one; 0: the gear of the pull, which stands with the car")
_MINUTES = Of("time", "10 s", "7200 s", "min", "For", "How long the hill is climbed")
_BRAKE = Choice("Exhaust brake", lambda: (("none", "None"), ("fitted", "Butterfly behind the turbine")), "For diesels")
_HOLE = Of("length", "0 mm", "100 mm", "mm", "Hole in its butterfly", "0: as small as the valve springs allow")
_VALVE = Of("length", "0 mm", "80 mm", "mm", "Exhaust valve across", "Its head; 0 where nobody knows it")
_SPRING = Of("force", "0 N", "5000 N", "N", "Valve spring, on its seat", "Of one valve, shut; 0 where nobody knows it")


class Tow(Part):
    """What is towed up a hill, for how long, and the exhaust brake."""

    mass: Annotated[Quantity, _MASS] = _MASS("0 kg")
    grade: Annotated[Quantity, _GRADE] = _GRADE("6 %")
    speed: Annotated[Quantity, _SPEED] = _SPEED("70 km/h")
    gear: Annotated[Quantity, _GEAR] = _GEAR("0")
    minutes: Annotated[Quantity, _MINUTES] = _MINUTES("10 min")
    brake: Annotated[str, _BRAKE] = "none"
    hole: Annotated[Quantity, _HOLE] = _HOLE("0 mm")
    valve: Annotated[Quantity, _VALVE] = _VALVE("0 mm")
    spring: Annotated[Quantity, _SPRING] = _SPRING("0 N")
