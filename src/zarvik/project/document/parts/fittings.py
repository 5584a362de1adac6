"""What hangs on the hot side and looks into it."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_PROBE = QuantitySpec(
    kind="length", low="0.5 mm", high="10 mm", unit="mm", title="Probe across", help="Thermocouple: 3 mm (1/8 inch) is common, 6 mm lasts"
)
_DEPTH = QuantitySpec(
    kind="length",
    low="2 mm",
    high="80 mm",
    unit="mm",
    title="Probe stands in",
    help="From the wall to its tip; to the middle of the pipe is best",
)
_MASS = QuantitySpec(
    kind="mass", low="0 kg", high="80 kg", unit="kg", title="Turbo weighs", help="0: estimated from its wheel, within a third; weigh it"
)
_CARRIED = Choice(
    "Carried by",
    lambda: (("manifold", "The manifold alone"), ("brace", "A brace, and the manifold")),
    "A brace to block or gearbox lets the manifold grow, by a slot or a link",
)
_HARD = QuantitySpec(
    kind="ratio",
    low="5 %",
    high="100 %",
    unit="%",
    title="Time at full load",
    help="For the radiator: 35 % on a road driven hard, 100 % for minutes up a hill or with a trailer",
)
_WALL = QuantitySpec(kind="length", low="0.5 mm", high="6 mm", unit="mm", title="Wall of the exhaust", help="1.65 mm is sixteen gauge")


class Fittings(Part):
    """Probes, weight, the wall of the exhaust."""

    probe: Annotated[Quantity, _PROBE] = _PROBE("3 mm")
    depth: Annotated[Quantity, _DEPTH] = _DEPTH("15 mm")
    turbo_mass: Annotated[Quantity, _MASS] = _MASS("0 kg")
    carried: Annotated[str, _CARRIED] = "manifold"
    wall: Annotated[Quantity, _WALL] = _WALL("1.6 mm")
    hard: Annotated[Quantity, _HARD] = _HARD("35 %")
