"""Where a pipe opens into a plenum or tank: the stream's head is lost."""

from __future__ import annotations

from zarvik.core.ducts.element import Element, sampled
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore


def build(*, id: str, name: str, bore: float, recovered: float) -> Element:
    """Element of a mouth of `bore` in m; the share `recovered` (0–1) of the head is kept."""
    return Element(
        id=id,
        kind="mouth",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled(1.0 - recovered),
        law="mouth",
        method="Exit into a large space",
        source="The stream leaves at the static pressure of the space: NACA Report 1135",
    )


MOUTH = PieceKind(
    "mouth",
    "Plenum entry",
    "The stream spreads into the plenum and loses its velocity head",
    (
        bore(),
        Parameter(
            name="recovered",
            title="Velocity head recovered",
            quantity="ratio",
            low=0.0,
            high=0.9,
            default=0.0,
            help="0 % unless the neck widens slowly",
        ),
    ),
    build,
)
