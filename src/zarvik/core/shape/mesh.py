"""Bodies of pieces as triangles: tubes with a wall, closed at both ends."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from zarvik.core.shape.run import Placed

SIDES = 32
ARC = math.radians(6.0)  # of a bend between two rings


def rings(run: Sequence[Placed], *, arc: float = ARC) -> list[tuple[np.ndarray, np.ndarray, np.ndarray, float, float]]:
    """Middles, x and y axes (m, unit vectors), inner and outer radius (m) at every ring of a `run`, one ring where two
    pieces of one bore meet; bends in steps of `arc` rad."""
    found: list[tuple[np.ndarray, np.ndarray, np.ndarray, float, float]] = []
    frame_x: np.ndarray | None = None
    for part in run:
        s = part.segment
        count = max(math.ceil(s.angle / arc), 1) if s.bends else 1
        for i in range(count + 1):
            t = i / count
            at = part.at(t)
            # Rings keep their own x along the run: a roll of a piece does not twist the skin.
            if frame_x is None:
                frame_x = at.axes[:, 0]
            x = frame_x - (frame_x @ at.along) * at.along
            x = x / np.linalg.norm(x)
            frame_x = x
            inner = 0.5 * ((1.0 - t) * s.bore_in + t * s.bore_out)
            ring = (at.origin, x, np.cross(at.along, x), inner, inner + s.wall)
            if found and i == 0 and np.allclose(found[-1][0], ring[0], atol=1e-9) and abs(found[-1][3] - inner) < 1e-9:
                continue
            found.append(ring)
    return found


def tube(run: Sequence[Placed], *, sides: int = SIDES, hollow: bool = True) -> tuple[np.ndarray, np.ndarray]:
    """The body of a `run`: corners (n x 3, m) and triangles (m x 3, outward for who looks from outside), of `sides`
    round it; with its wall (`hollow`) or filled to the outer skin. Empty for a run without a length."""
    found = rings(run)
    if len(found) < 2:
        return np.zeros((0, 3)), np.zeros((0, 3), int)
    phi = np.linspace(0.0, 2.0 * math.pi, sides, endpoint=False)
    cosine, sine = np.cos(phi)[:, None], np.sin(phi)[:, None]
    outer = [o + r2 * (cosine * x + sine * y) for o, x, y, _, r2 in found]
    corners = list(outer)
    triangles: list[np.ndarray] = []
    around = np.arange(sides)
    after = (around + 1) % sides

    def skin(first: int, second: int, flip: bool) -> None:
        a, b, c, d = first * sides + around, first * sides + after, second * sides + after, second * sides + around
        one, two = np.column_stack([a, b, c]), np.column_stack([a, c, d])
        triangles.extend([one[:, ::-1], two[:, ::-1]] if flip else [one, two])

    n = len(found)
    for i in range(n - 1):
        skin(i, i + 1, False)
    if hollow:
        corners += [o + r1 * (cosine * x + sine * y) for o, x, y, r1, _ in found]
        for i in range(n - 1):
            skin(n + i, n + i + 1, True)
        skin(0, n, True)
        skin(n - 1, 2 * n - 1, False)
    else:
        corners += [found[0][0][None], found[-1][0][None]]
        first, last = n * sides, n * sides + 1
        triangles.append(np.column_stack([after, around, np.full(sides, first)]))
        triangles.append(np.column_stack([(n - 1) * sides + around, (n - 1) * sides + after, np.full(sides, last)]))
    return np.vstack(corners), np.vstack(triangles)
