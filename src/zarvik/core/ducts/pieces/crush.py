"""A bend made in a muffler bender: the bore is crushed in the turn."""

from __future__ import annotations

import math

from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import WALL, Parameter, PieceKind, bore
from zarvik.core.ducts.pieces.bend import BEND, METHODS, ROLL, bend_loss
from zarvik.core.ducts.pieces.straight import MATERIAL


def build(*, id: str, name: str, bore: float, radius: float, angle: float, kept: float, material: str, cover: str = "bare") -> Element:
    """Element of a crushed bend; `bore`, `radius` m, `angle` rad, `kept`: area left in the turn
    over that of the pipe. The bend's loss stands on the crushed bore, with the narrowing
    (0.5 (1 - kept), Idelchik) and the widening (Borda-Carnot) at its ends."""
    small = bore * math.sqrt(kept)
    if METHODS[0].outside(radius_over_bore=radius / small, angle=angle):
        raise Fault(
            ("centreline radius {0:.4g} mm is {1:.2f} D of the flattened bore; the bend loss is known from 0.7 D to 20 D"),
            radius * 1000,
            radius / small,
        )
    rough = ROUGHNESS[material][1]
    ends = 0.5 * (1.0 - kept) + (1.0 - kept) ** 2
    return Element(
        id=id,
        kind="crush",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=small,
        loss=bend_loss(small, radius, angle, rough) + ends,
        length=radius * angle,
        volume=circle(small) * radius * angle,
        turn=angle,
        **skin(material, cover, bore, radius * angle),
        method="Bend on the flattened bore",
        source="Rennels & Hudson 2012, ch. 15; Idelchik 4-9; Borda-Carnot",
    )


CRUSH = PieceKind(
    "crush",
    "Crush bend",
    "Bend whose bore is flattened in the turn",
    (
        bore(),
        BEND.parameter("radius"),
        BEND.parameter("angle"),
        ROLL,
        Parameter(
            name="kept",
            title="Area left in the bend",
            quantity="ratio",
            low=0.5,
            high=1.0,
            default=0.82,
            help="75–90 % from a muffler bender",
        ),
        MATERIAL,
        COVER,
        WALL,
    ),
    build,
)
