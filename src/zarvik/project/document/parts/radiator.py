"""The engine's radiator and its fan."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.radiator.radiator import STANDS
from zarvik.project.document.fields import Choice, Of
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_WIDE = Of("length", "0 mm", "2000 mm", "mm", "Radiator wide", "Of the core, along its tubes; 0: not measured")
_HIGH = Of("length", "50 mm", "1500 mm", "mm", "Radiator high")
_THICK = Of("length", "10 mm", "150 mm", "mm", "Radiator thick", "Along the air")
_FINS = Of("number", "6", "25", "", "Fins to the inch", "Counted on the face")
_OPENING = Of("ratio", "5 %", "100 %", "%", "Opening before it", "Its area, of the face of the radiator")
_FAN = Of("volume_flow", "0 m³/h", "20000 m³/h", "m³/h", "Fans, together", "Free flow as printed on them; 0 for none")
_COOLER = Choice(
    "Charge cooler", lambda: (("before", "Stands before it"), ("apart", "Stands elsewhere")), "Or the front exchanger of a cooler by water"
)
_CONDENSER = Choice("Condenser", lambda: (("none", "None"), ("before", "Stands before it, running")))
_WATER = Of("gas_flow", "0 L/min", "1000 L/min", "L/min", "Water through it", "At full load; 0: nobody knows, then so that it falls by 7 K")
_STANDS = Choice("How it stands", lambda: tuple((key, title) for key, (_, title) in STANDS.items()))


class Radiator(Part):
    """What cools the engine."""

    wide: Annotated[Quantity, _WIDE] = _WIDE("0 mm")
    high: Annotated[Quantity, _HIGH] = _HIGH("400 mm")
    thick: Annotated[Quantity, _THICK] = _THICK("32 mm")
    fins: Annotated[Quantity, _FINS] = _FINS("14")
    stands: Annotated[str, _STANDS] = "open"
    opening: Annotated[Quantity, _OPENING] = _OPENING("100 %")
    fan: Annotated[Quantity, _FAN] = _FAN("2000 m³/h")
    cooler: Annotated[str, _COOLER] = "before"
    condenser: Annotated[str, _CONDENSER] = "none"
    water: Annotated[Quantity, _WATER] = _WATER("0 L/min")
