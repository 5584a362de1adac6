"""A straight round pipe: wall friction."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.friction import ROUGHNESS, friction_factor
from zarvik.core.ducts.kinds import HELD, WALL, Parameter, PieceKind, bore, length

MATERIAL = Parameter(
    "material",
    "Material",
    "choice",
    default="aluminium",
    help="Sets the wall roughness",
    choices=tuple((key, title) for key, (title, _) in ROUGHNESS.items()),
)


@lru_cache(4096)
def friction_loss(diameter: float, span: float, roughness: float) -> np.ndarray:
    """Loss coefficient f L / D at the Reynolds nodes; all in m.

    `diameter`, `span`, `roughness` m.
    """
    return sampled(lambda re: friction_factor(re, roughness / diameter) * span / diameter)


def build(*, id: str, name: str, bore: float, length: float, material: str, cover: str = "bare") -> Element:
    """Element of a pipe of `bore` and `length` in m made of `material` under a `cover`."""
    return Element(
        id=id,
        kind="straight",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=friction_loss(bore, length, ROUGHNESS[material][1]),
        length=length,
        volume=circle(bore) * length,
        **skin(material, cover, bore, length),
        method="Darcy friction, Colebrook",
        source="Clamond 2009 (Colebrook 1939); Moody 1944 for the roughness",
    )


STRAIGHT = PieceKind(
    "straight", "Straight pipe", "Round pipe with wall friction only", (bore(), length(), MATERIAL, COVER, WALL, HELD), build
)
