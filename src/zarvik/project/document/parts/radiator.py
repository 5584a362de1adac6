"""The engine's radiator and its fan."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.radiator.radiator import STANDS
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_WIDE = QuantitySpec(
    kind="length", low="0 mm", high="2000 mm", unit="mm", title="Radiator width", help="Of the core, along its tubes", blank="not measured"
)
_HIGH = QuantitySpec("length", "50 mm", "1500 mm", "mm", "Radiator height")
_THICK = QuantitySpec(kind="length", low="10 mm", high="150 mm", unit="mm", title="Radiator thickness", help="Along the air")
_FINS = QuantitySpec(kind="number", low="6", high="25", unit="", title="Fins per inch", help="Counted on the face")
_OPENING = QuantitySpec(
    kind="ratio", low="5 %", high="100 %", unit="%", title="Grille opening", help="Area, as a share of the radiator face"
)
_FAN = QuantitySpec(
    kind="volume_flow",
    low="0 m³/h",
    high="20000 m³/h",
    unit="m³/h",
    title="Fan flow, total",
    help="Free flow as printed on them",
    blank="no fan",
)
_COOLER = Choice(
    "Intercooler position",
    lambda: (("before", "In front of the radiator"), ("apart", "Elsewhere")),
    "Or the front radiator of an air-to-water intercooler",
)
_CONDENSER = Choice("Condenser", lambda: (("none", "None"), ("before", "In front of it, running")))
_WATER = QuantitySpec(
    kind="liquid_flow", low="0 L/min", high="1000 L/min", unit="L/min", title="Coolant flow", help="At full load", blank="auto: 7 K drop"
)
_STANDS = Choice("Radiator mounting", lambda: tuple((key, title) for key, (_, title) in STANDS.items()))


class Radiator(Part):
    """What cools the engine."""

    width: Annotated[Quantity, _WIDE] = _WIDE("0 mm")
    height: Annotated[Quantity, _HIGH] = _HIGH("400 mm")
    thickness: Annotated[Quantity, _THICK] = _THICK("32 mm")
    fins: Annotated[Quantity, _FINS] = _FINS("14")
    mounting: Annotated[str, _STANDS] = "open"
    grille_opening: Annotated[Quantity, _OPENING] = _OPENING("100 %")
    fan_flow: Annotated[Quantity, _FAN] = _FAN("2000 m³/h")
    intercooler_position: Annotated[str, _COOLER] = "before"
    condenser: Annotated[str, _CONDENSER] = "none"
    coolant_flow: Annotated[Quantity, _WATER] = _WATER("0 L/min")
