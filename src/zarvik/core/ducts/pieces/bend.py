"""A mandrel bend: constant bore through the turn."""

from __future__ import annotations

import math
from functools import lru_cache, partial

import fluids
import numpy as np

from zarvik.core.common.method import Method
from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import HELD, WALL, Parameter, PieceKind, bore
from zarvik.core.ducts.pieces.straight import MATERIAL


def _loss(method: str, bore: float, radius: float, angle: float, re: float, rough: float) -> float:
    # The centreline radius is always handed over: without it the library takes 5 diameters.
    return float(fluids.bend_rounded(Di=bore, angle=math.degrees(angle), rc=radius, Re=re, roughness=rough, method=method))


def _method(key: str, title: str, source: str, low: float, high: float) -> Method:
    def loss(bore: float, radius: float, angle: float, reynolds: float, roughness: float) -> float:
        return _loss(key, bore, radius, angle, reynolds, roughness)

    return Method(
        key=key,
        title=title,
        function=loss,
        limits={"radius_over_bore": (low, high), "angle": (math.radians(1), math.radians(180))},
        source=source,
        accuracy="published methods for the same bend agree within about 15 %",
    )


METHODS = (
    _method("Rennels", "Rennels & Hudson", "Rennels & Hudson, Pipe Flow, 2012, ch. 15", 0.7, 20.0),
    _method("Miller", "Miller", "D. S. Miller, Internal Flow Systems, 1990, ch. 9", 0.5, 10.0),
    _method("Ito", "Ito", "H. Ito, J. Basic Eng. 82 (1960) 131", 0.75, 50.0),
)


@lru_cache(4096)
def bend_loss(bore: float, radius: float, angle: float, roughness: float) -> np.ndarray:
    """Loss coefficient (friction along the bend included) at the Reynolds nodes; m and rad.

    `bore`, `radius`, `roughness` m; `angle` rad.
    """
    return sampled(lambda re: METHODS[0].function(bore, radius, angle, re, roughness))


@lru_cache(4096)
def bend_spread(bore: float, radius: float, angle: float, rough: float) -> tuple[float, float]:
    """Lowest and highest loss coefficient of the methods whose range holds, at Re 2e5.

    `bore`, `radius`, `rough` m; `angle` rad.
    """
    values = [
        method.function(bore, radius, angle, 2e5, rough)
        for method in METHODS
        if not method.outside(radius_over_bore=radius / bore, angle=angle)
    ]
    return (min(values), max(values)) if values else (0.0, 0.0)


def build(*, id: str, name: str, bore: float, radius: float, angle: float, material: str, cover: str = "bare") -> Element:
    """Element of a bend: `bore` and centreline `radius` in m, turn `angle` in rad.

    Raises ValueError when the bend is tighter than its own bore allows or than the method knows.
    """
    faults = METHODS[0].outside(radius_over_bore=radius / bore, angle=angle)
    if faults:
        raise Fault(
            ("centreline radius {0:.4g} mm on a bore of {1:.4g} mm is {2:.2f} D; the bend loss is known from 0.7 D to 20 D"),
            radius * 1000,
            bore * 1000,
            radius / bore,
        )
    rough = ROUGHNESS[material][1]
    return Element(
        id=id,
        kind="bend",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=bend_loss(bore, radius, angle, rough),
        spread=partial(bend_spread, bore, radius, angle, rough),
        length=radius * angle,
        volume=circle(bore) * radius * angle,
        turn=angle,
        **skin(material, cover, bore, radius * angle),
        method=METHODS[0].title,
        source=METHODS[0].source,
    )


ROLL = Parameter(
    name="roll",
    title="Rotation",
    quantity="angle",
    low=-math.pi,
    high=math.pi,
    default=0.0,
    help="About the pipe, from the bend before (first bend: from up), clockwise seen along the flow",
    shape=True,
)
BEND = PieceKind(
    "bend",
    "Mandrel bend",
    "Bend of constant bore; its loss depends on the centreline radius",
    (
        bore(),
        Parameter(
            name="radius",
            title="Centreline radius",
            quantity="length",
            low=0.004,
            high=4.0,
            default=0.0953,
            help="To the centreline of the bend",
        ),
        Parameter(
            name="angle",
            title="Bend angle",
            quantity="angle",
            low=math.radians(1),
            high=math.radians(180),
            default=math.radians(90),
            help="Change of direction",
        ),
        ROLL,
        MATERIAL,
        COVER,
        WALL,
        HELD,
    ),
    build,
)
