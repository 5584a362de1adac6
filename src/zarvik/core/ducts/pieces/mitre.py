"""A bend welded from straight cuts: pie cuts, or a single mitre."""

from __future__ import annotations

import math
from functools import lru_cache

import fluids
import numpy as np

from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import WALL, Parameter, PieceKind, bore
from zarvik.core.ducts.pieces.bend import ROLL
from zarvik.core.ducts.pieces.straight import MATERIAL, friction_loss


@lru_cache(2048)
def mitre_loss(bore: float, angle: float, cuts: int, radius: float, rough: float) -> np.ndarray:
    """Loss coefficient of a bend of `angle` rad from `cuts` cuts on a `radius` in m.

    Each cut turns by its share and loses what it would alone; the arc's friction comes on top. Single
    cuts: Miller 1990, ch. 9, by `fluids`, at a million of Reynolds number: his correction for less
    divides by what is left of a small loss and jumps to its end (2.2 times) below 1.7e5 for every
    cut under 30 degrees. A single cut of 90 degrees changes by 4 % from there to 2e5.
    `bore` and `rough` (absolute roughness) in m.
    """
    each = math.degrees(angle) / cuts
    single = fluids.bend_miter(Di=bore, angle=each, Re=1e6, roughness=rough, method="Miller")
    apart = sampled(cuts * float(single))
    return apart + friction_loss(bore, radius * angle, rough)


def build(*, id: str, name: str, bore: float, radius: float, angle: float, cuts: float, material: str, cover: str = "bare") -> Element:
    """Element of a welded bend; `bore`, `radius` m, `angle` rad, `cuts` welds in it."""
    count = round(cuts)
    rough = ROUGHNESS[material][1]
    return Element(
        id=id,
        kind="mitre",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=mitre_loss(bore, angle, count, radius, rough),
        length=radius * angle,
        volume=circle(bore) * radius * angle,
        turn=angle,
        **skin(material, cover, bore, radius * angle),
        method="Single mitres in a row",
        source="D. S. Miller, Internal Flow Systems, 1990, ch. 9",
    )


MITRE = PieceKind(
    "mitre",
    "Pie-cut bend",
    "Bend welded from straight segments",
    (
        bore(),
        Parameter(
            name="radius",
            title="Centreline radius",
            quantity="length",
            low=0.0,
            high=4.0,
            default=0.0953,
            help="Along the centreline",
            blank="single mitre",
        ),
        Parameter(
            name="angle",
            title="Bend angle",
            quantity="angle",
            low=math.radians(5),
            high=math.radians(180),
            default=math.radians(90),
            help="Change of direction",
        ),
        Parameter(
            name="cuts",
            title="Number of welds",
            quantity="count",
            low=1.0,
            high=12.0,
            default=5.0,
            help="A 90° bend of five pieces has four or five",
        ),
        ROLL,
        MATERIAL,
        COVER,
        WALL,
    ),
    build,
)
