"""The pipe that brings the gas of the other bank to the one turbo, and the meeting of both."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.junctions import merged
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore, length
from zarvik.core.ducts.pieces.primaries import primary_loss
from zarvik.core.ducts.pieces.straight import MATERIAL


@lru_cache(512)
def far_loss(bore: float, span: float, turns: float, material: str) -> np.ndarray:
    """Loss coefficient, at the Reynolds nodes, of what only the far bank's gas goes through, on the head in its `bore` (m):
    friction along `span` m and bends of `turns` rad in all, in tube of a `material`."""
    return primary_loss(bore, span, turns, ROUGHNESS[material][1])


def build(*, id: str, name: str, bore: float, length: float, turns: float, angle: float, material: str, cover: str = "bare") -> Element:
    """Element of a crossover of `bore` and `length` in m that turns by `turns` rad and meets the other stream at an `angle`
    in rad. Half of the gas goes through it; the loss is the mean of both banks."""
    return Element(
        id=id,
        kind="crossover",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=0.5 * far_loss(bore, length, turns, material) + merged(1.0, angle),
        parallel=2,  # the near bank's stream beside it: each bank has half of the gas
        length=length,
        volume=circle(bore) * length,
        turn=turns,
        **skin(material, cover, bore, length),
        method="Half of the gas through friction and bends, then two streams that merge",
        source="Clamond 2009; Rennels & Hudson 2012, ch. 15; momentum as in Idelchik, ch. 7",
    )


CROSSOVER = PieceKind(
    "crossover",
    "Bank crossover",
    "Brings the other bank's gas to the single turbo. Pieces before it are entered once, for one bank",
    (
        bore(default=0.0484),
        length(default=0.7, help="From the far collector to where both banks join"),
        Parameter(name="turns", title="Total bend angle", quantity="angle", low=0.0, high=math.radians(720), default=math.radians(180)),
        Parameter(
            name="angle",
            title="Junction angle",
            quantity="angle",
            low=0.0,
            high=math.radians(90),
            default=math.radians(30),
            help="Between each stream and the common pipe",
        ),
        MATERIAL,
        COVER,
    ),
    build,
)
