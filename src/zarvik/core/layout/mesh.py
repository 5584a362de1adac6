"""Bodies of pieces as triangles: tubes with a wall, closed at both ends."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from zarvik.core.layout.run import Placed

SIDES = 32
ARC = math.radians(6.0)  # of a bend between two rings


@dataclass(frozen=True, eq=False)
class RingMesh:
    """Rings along a run, a row each: `middle` m, unit vectors `x` and `y` of the ring, `inner` and `outer` radius m."""

    middle: np.ndarray
    x: np.ndarray
    y: np.ndarray
    inner: np.ndarray
    outer: np.ndarray

    def corners(self, radius: np.ndarray, sides: int) -> np.ndarray:
        """Points of every ring at its `radius` m, `sides` of them round it, ring after ring (n x 3)."""
        phi = np.linspace(0.0, 2.0 * math.pi, sides, endpoint=False)
        spokes = np.cos(phi)[None, :, None] * self.x[:, None, :] + np.sin(phi)[None, :, None] * self.y[:, None, :]
        return (self.middle[:, None, :] + radius[:, None, None] * spokes).reshape(-1, 3)


def rings(run: Sequence[Placed], *, arc: float = ARC) -> RingMesh:
    """The rings of a `run`, one where two pieces of one bore meet; bends in steps of `arc` rad. Rings keep their own x
    along the run (in a bend it turns with the plane of the bend): a roll of a piece does not twist the skin."""
    middles: list[np.ndarray] = []
    xs: list[np.ndarray] = []
    ys: list[np.ndarray] = []
    inners: list[np.ndarray] = []
    outers: list[np.ndarray] = []
    carried: np.ndarray | None = None
    for part in run:
        s = part.segment
        x, y, z = part.first.axes.T
        if carried is None:
            carried = x
        count = max(math.ceil(s.angle / arc), 1) if s.bends else 1
        share = np.linspace(0.0, 1.0, count + 1)[:, None]
        if s.bends:
            cosine, sine = np.cos(share * s.angle), np.sin(share * s.angle)
            middle = part.first.origin + s.radius * ((1.0 - cosine) * x + sine * z)
            along = cosine * z + sine * x
            own = (carried @ x) * (cosine * x - sine * z) + (carried @ y) * y
        else:
            middle = part.first.origin + share * s.length * z
            along = np.repeat(z[None], 2, axis=0)
            own = np.repeat(carried[None], 2, axis=0)
        inner = 0.5 * ((1.0 - share) * s.bore_in + share * s.bore_out)[:, 0]
        carried = own[-1]
        skip = int(bool(middles and np.abs(middles[-1][-1] - middle[0]).max() < 1e-9 and abs(inners[-1][-1] - inner[0]) < 1e-9))
        middles.append(middle[skip:])
        xs.append(own[skip:])
        ys.append(_across(along, own)[skip:])
        inners.append(inner[skip:])
        outers.append(inner[skip:] + s.wall)
    if not middles:
        none = np.zeros((0, 3))
        return RingMesh(none, none, none, np.zeros(0), np.zeros(0))
    return RingMesh(*(np.concatenate(part) for part in (middles, xs, ys, inners, outers)))


def _across(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    # The product row by row; the library's own spends ten times as long on finding out which axis is meant.
    return np.column_stack(
        (a[:, 1] * b[:, 2] - a[:, 2] * b[:, 1], a[:, 2] * b[:, 0] - a[:, 0] * b[:, 2], a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])
    )


@lru_cache(256)
def skins(n: int, sides: int, hollow: bool, lined: bool = True) -> np.ndarray:
    """Triangles (m x 3) of a tube of `n` rings of `sides`, the outer rings first; a hollow one with its inner rings (if it is `lined`)
    and both rims, a filled one with two lids round the two last corners."""
    around = np.arange(sides)
    after = (around + 1) % sides

    def skin(first: np.ndarray, second: np.ndarray, flip: bool) -> np.ndarray:
        a, b = first[:, None] * sides + around, first[:, None] * sides + after
        c, d = second[:, None] * sides + after, second[:, None] * sides + around
        found = np.concatenate([np.stack([a, b, c], -1), np.stack([a, c, d], -1)]).reshape(-1, 3)
        return found[:, ::-1] if flip else found

    here = np.arange(n - 1)
    found = [skin(here, here + 1, False)]
    if hollow:
        if lined:
            found.append(skin(n + here, n + here + 1, True))
        found.append(skin(np.array([0]), np.array([n]), True))
        found.append(skin(np.array([n - 1]), np.array([2 * n - 1]), False))
    else:
        last = (n - 1) * sides
        found.append(np.column_stack([after, around, np.full(sides, n * sides)]))
        found.append(np.column_stack([last + around, last + after, np.full(sides, n * sides + 1)]))
    triangles = np.vstack(found)
    triangles.setflags(write=False)
    return triangles


def tube(
    run: Sequence[Placed], *, sides: int = SIDES, arc: float = ARC, hollow: bool = True, lined: bool = True
) -> tuple[np.ndarray, np.ndarray]:
    """The body of a `run`: corners (n x 3, m) and triangles (m x 3, outward for who looks from outside, not to be
    written to), of `sides` round it and a ring every `arc` rad of a bend; with its wall (`hollow`; its inner skin only if it is `lined`)
    or filled to the outer skin. Empty for a run without a length."""
    found = rings(run, arc=arc)
    n = len(found.middle)
    if n < 2:
        return np.zeros((0, 3)), np.zeros((0, 3), int)
    more = found.corners(found.inner, sides) if hollow else found.middle[[0, -1]]
    return np.vstack([found.corners(found.outer, sides), more]), skins(n, sides, hollow, lined)
