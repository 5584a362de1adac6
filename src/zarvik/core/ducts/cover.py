"""What is put round a pipe: wrap, coating, shield, as layers that heat has to pass."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from typing import Any

from zarvik.core.common.identity_cache import IdentityCacheEach
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.friction import EMISSIVITY, HEAT_TINTED, WALL
from zarvik.core.ducts.kinds import Parameter


@dataclass(frozen=True)
class Cover:
    """A cover: `resistance` m2 K/W added to the wall; `emissivity` factor on the bare skin's."""

    key: str
    title: str
    resistance: float
    emissivity: float


# Values from memory, as orders of magnitude: two layers of fibre wrap are 3 mm of 0.1 W/(m K);
# a ceramic coating is thin and shines less; a shield halves what is radiated and leaves the air.
COVERS: dict[str, Cover] = {
    cover.key: cover
    for cover in (
        Cover("bare", "Bare", 0.0, 1.0),
        Cover("wrap", "Wrapped", 0.03, 1.0),
        Cover("coating", "Coated", 0.001, 0.6),
        Cover("shield", "Shielded", 0.004, 0.5),
    )
}

COVER = Parameter(
    "cover",
    "Cover",
    "choice",
    default="bare",
    help="Wrap keeps heat in the gas and shortens the life of the metal",
    choices=tuple((c.key, c.title) for c in COVERS.values()),
)


_TINTED: IdentityCacheEach[Element, Element] = IdentityCacheEach(4000)


def heat_tinted(element: Element) -> Element:
    """The element with the emissivity of metal that has been red hot, as exhausts are; others as they are."""
    return _TINTED.of(element, _tinted)


def _tinted(element: Element) -> Element:
    tint = HEAT_TINTED.get(element.material)
    if tint is None:
        return element
    return dataclasses.replace(element, emissivity=element.emissivity * tint / EMISSIVITY[element.material])


def skin(material: str, cover: str, bore: float, length: float, count: int = 1) -> dict[str, Any]:
    """`surface` m2, `resistance` m2 K/W, `emissivity` and material of a pipe of `bore` and `length` in
    m."""
    layer = COVERS[cover]
    return {
        "surface": count * math.pi * bore * length,
        "resistance": WALL.get(material, 0.0) + layer.resistance,
        "emissivity": EMISSIVITY[material] * layer.emissivity,
        "material": material,
    }
