"""The engine's radiator and its fan."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.radiator.radiator import STANDS
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_WIDE = QuantitySpec(
    kind="length", low="0 mm", high="2000 mm", unit="mm", title="Radiator wide", help="Of the core, along its tubes; 0: not measured"
)
_HIGH = QuantitySpec("length", "50 mm", "1500 mm", "mm", "Radiator high")
_THICK = QuantitySpec(kind="length", low="10 mm", high="150 mm", unit="mm", title="Radiator thick", help="Along the air")
_FINS = QuantitySpec(kind="number", low="6", high="25", unit="", title="Fins to the inch", help="Counted on the face")
_OPENING = QuantitySpec(
    kind="ratio", low="5 %", high="100 %", unit="%", title="Opening before it", help="Its area, of the face of the radiator"
)
_FAN = QuantitySpec(
    kind="volume_flow",
    low="0 m³/h",
    high="20000 m³/h",
    unit="m³/h",
    title="Fans, together",
    help="Free flow as printed on them; 0 for none",
)
_COOLER = Choice(
    "Charge cooler", lambda: (("before", "Stands before it"), ("apart", "Stands elsewhere")), "Or the front exchanger of a cooler by water"
)
_CONDENSER = Choice("Condenser", lambda: (("none", "None"), ("before", "Stands before it, running")))
_WATER = QuantitySpec(
    kind="gas_flow",
    low="0 L/min",
    high="1000 L/min",
    unit="L/min",
    title="Water through it",
    help="At full load; 0: nobody knows, then so that it falls by 7 K",
)
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
