"""Runners of the intake manifold."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_LONG = QuantitySpec(
    kind="length", low="0 mm", high="1.5 m", unit="mm", title="Runner length", help="From plenum to valve, with the port", blank="not known"
)
_SHORT = QuantitySpec(
    kind="length", low="0 mm", high="1.5 m", unit="mm", title="Short runner length", help="Of a switched manifold", blank="not switched"
)
_BORE = QuantitySpec(
    kind="length", low="10 mm", high="120 mm", unit="mm", title="Runner bore", help="For an oval, that of a round one of the same area"
)


class Runners(Part):
    """What rings before the valves."""

    length: Annotated[Quantity, _LONG] = _LONG("0 mm")
    short_length: Annotated[Quantity, _SHORT] = _SHORT("0 mm")
    bore: Annotated[Quantity, _BORE] = _BORE("42 mm")
