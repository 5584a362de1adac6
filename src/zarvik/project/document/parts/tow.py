"""A train on a hill, and what holds it back."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_MASS = QuantitySpec(
    kind="mass", low="0 kg", high="60000 kg", unit="kg", title="Train weighs", help="Car, trailer and load together; 0: nothing is towed"
)
_GRADE = QuantitySpec(kind="ratio", low="0 %", high="40 %", unit="%", title="Hill", help="Rise over way: 6 % is 6 m in 100 m")
_SPEED = QuantitySpec("road_speed", "5 km/h", "200 km/h", "km/h", "Speed on the hill")
_GEAR = QuantitySpec(
    kind="number",
    low="0",
    high="20",
    unit="",
    title="Gear on the hill",
    help="Its ratio, to try another one; 0: the gear of the pull, which stands with the car",
)
_MINUTES = QuantitySpec(kind="time", low="10 s", high="7200 s", unit="min", title="For", help="How long the hill is climbed")
_BRAKE = Choice("Exhaust brake", lambda: (("none", "None"), ("fitted", "Butterfly behind the turbine")), "For diesels")
_HOLE = QuantitySpec(
    kind="length", low="0 mm", high="100 mm", unit="mm", title="Hole in its butterfly", help="0: as small as the valve springs allow"
)
_VALVE = QuantitySpec(
    kind="length", low="0 mm", high="80 mm", unit="mm", title="Exhaust valve across", help="Its head; 0 where nobody knows it"
)
_SPRING = QuantitySpec(
    kind="force", low="0 N", high="5000 N", unit="N", title="Valve spring, on its seat", help="Of one valve, shut; 0 where nobody knows it"
)


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
