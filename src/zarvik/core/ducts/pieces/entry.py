"""Where the air goes in: a pipe end in the open, sharp or rounded."""

from __future__ import annotations

import fluids

from zarvik.core.ducts.element import Element, sampled
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore


def build(*, id: str, name: str, bore: float, lip: float) -> Element:
    """Element of an entry into `bore` with a lip of radius `lip`, in m."""
    if lip > 0.0:
        loss = float(fluids.entrance_rounded(Di=bore, rc=lip, method="Idelchik"))
    else:
        loss = float(fluids.entrance_sharp(method="Crane"))
    return Element(
        id=id,
        kind="entry",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled(loss),
        method="Rounded entry" if lip > 0.0 else "Sharp entry",
        source="Idelchik, diagram 3-4" if lip > 0.0 else "Crane TP-410, A-30: 0.5",
    )


ENTRY = PieceKind(
    "entry",
    "Entry",
    "A pipe end in open air or in a box",
    (
        bore(),
        Parameter(
            name="lip", title="Lip radius", quantity="length", low=0.0, high=0.2, default=0.01, help="Of the rounded edge", blank="cut off"
        ),
    ),
    build,
)
