"""Runners of the intake manifold."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Of
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_LONG = Of("length", "0 mm", "1.5 m", "mm", "Runner long", "From the plenum to the valve, port with it; 0: not said")
_SHORT = Of("length", "0 mm", "1.5 m", "mm", "Switched to", "The shorter way of a switched manifold; 0: none")
_BORE = Of("length", "10 mm", "120 mm", "mm", "Runner bore", "Of an oval one that of a round one as large")


class Runners(Part):
    """What rings before the valves."""

    long: Annotated[Quantity, _LONG] = _LONG("0 mm")
    short: Annotated[Quantity, _SHORT] = _SHORT("0 mm")
    bore: Annotated[Quantity, _BORE] = _BORE("42 mm")
