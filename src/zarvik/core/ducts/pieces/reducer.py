"""A cone between two bores: a reducer when it narrows, a diffuser when it widens."""

from __future__ import annotations

import math
from functools import lru_cache, partial

import fluids
import numpy as np

from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, sampled
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import WALL, PieceKind, bore, length
from zarvik.core.ducts.pieces.straight import MATERIAL, friction_loss

SOURCE = "Rennels & Hudson, Pipe Flow, 2012, ch. 10 (contraction) and 11 (expansion)"
# Methods whose values agree where their ranges overlap; the others of the library are outliers.
CONTRACTION = ("Rennels", "Crane", "Hooper")
DIFFUSER = ("Rennels", "Crane", "Idelchik", "Hooper")


def _one(method: str, one: float, two: float, span: float, re: float, rough: float) -> float:
    if two < one:
        value = fluids.contraction_conical(Di1=one, Di2=two, l=span, Re=re, roughness=rough, method=method)
    else:
        value = fluids.diffuser_conical(Di1=one, Di2=two, l=span, Re=re, roughness=rough, method=method)
    return float(value)


@lru_cache(4096)
def cone_loss(one: float, two: float, span: float, roughness: float) -> np.ndarray:
    """Loss coefficient on the head in the smaller bore at the Reynolds nodes; all in m.

    From bore `one` to bore `two` over a `span`, `roughness`: all in m.
    """
    if abs(one - two) < 1e-9:
        return friction_loss(one, span, roughness)
    return sampled(lambda re: _one("Rennels", one, two, span, re, roughness))


@lru_cache(4096)
def cone_spread(one: float, two: float, span: float, roughness: float) -> tuple[float, float]:
    """Lowest and highest loss coefficient of the methods that agree in kind, at Re 2e5.

    From bore `one` to bore `two` over a `span`, `roughness`: all in m.
    """
    if abs(one - two) < 1e-9:
        return (0.0, 0.0)
    methods = CONTRACTION if two < one else DIFFUSER
    values = [_one(method, one, two, span, 2e5, roughness) for method in methods]
    return min(values), max(values)


def build(*, id: str, name: str, bore_in: float, bore_out: float, length: float, material: str, cover: str = "bare") -> Element:
    """Element of a cone from `bore_in` to `bore_out` over `length`, all in m."""
    rough = ROUGHNESS[material][1]
    half_angle = math.degrees(math.atan2(abs(bore_out - bore_in) / 2.0, length))
    notes: tuple[Sentence, ...] = ()
    if bore_out > bore_in and half_angle > 7.5:
        notes = (
            message(
                "“{name}” widens at {angle} total angle: above about 15° the flow separates (common practice)",
                name=name or id,
                angle=Figure(math.radians(2.0 * half_angle), "angle"),
            ),
        )
    return Element(
        id=id,
        kind="reducer",
        name=name,
        diameter_in=bore_in,
        diameter_out=bore_out,
        diameter=min(bore_in, bore_out),
        loss=cone_loss(bore_in, bore_out, length, rough),
        spread=partial(cone_spread, bore_in, bore_out, length, rough),
        length=length,
        volume=math.pi / 12 * length * (bore_in**2 + bore_in * bore_out + bore_out**2),
        **skin(material, cover, 0.5 * (bore_in + bore_out), length),
        method="Rennels & Hudson",
        source=SOURCE,
        notes=notes,
    )


REDUCER = PieceKind(
    "reducer",
    "Reducer or diffuser",
    "Cone between two bores",
    (
        bore("Inlet bore", "bore_in", "in", 0.0602),
        bore("Outlet bore", "bore_out", "out", 0.0665),
        length(default=0.08),
        MATERIAL,
        COVER,
        WALL,
    ),
    build,
)
