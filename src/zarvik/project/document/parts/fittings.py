"""What hangs on the hot side and looks into it."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_PROBE = QuantitySpec(
    kind="length",
    low="0.5 mm",
    high="10 mm",
    unit="mm",
    title="Probe diameter",
    help="Thermocouple: 3 mm (1/8 inch) is common, 6 mm lasts longer",
)
_DEPTH = QuantitySpec(
    kind="length", low="2 mm", high="80 mm", unit="mm", title="Insertion depth", help="From the wall to the tip; mid-pipe is best"
)
_MASS = QuantitySpec(
    kind="mass",
    low="0 kg",
    high="80 kg",
    unit="kg",
    title="Turbo mass",
    help="Weigh it; from the wheel size it is known within a third",
    blank="auto",
)
_CARRIED = Choice(
    "Turbo support",
    lambda: (("manifold", "The manifold alone"), ("brace", "A brace and the manifold")),
    "A brace to block or gearbox must let the manifold expand: use a slot or a link",
)
_HARD = QuantitySpec(
    kind="ratio",
    low="5 %",
    high="100 %",
    unit="%",
    title="Share of time at full load",
    help="For the radiator: 35 % for hard road driving, 100 % for minutes uphill or with a trailer",
)
_WALL = QuantitySpec(kind="length", low="0.5 mm", high="6 mm", unit="mm", title="Exhaust wall thickness", help="1.65 mm is 16 gauge")


class Fittings(Part):
    """Probes, weight, the wall of the exhaust."""

    probe_diameter: Annotated[Quantity, _PROBE] = _PROBE("3 mm")
    probe_depth: Annotated[Quantity, _DEPTH] = _DEPTH("15 mm")
    turbo_mass: Annotated[Quantity, _MASS] = _MASS("0 kg")
    turbo_support: Annotated[str, _CARRIED] = "manifold"
    exhaust_wall: Annotated[Quantity, _WALL] = _WALL("1.6 mm")
    full_load_share: Annotated[Quantity, _HARD] = _HARD("35 %")
