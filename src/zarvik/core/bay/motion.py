"""What swings, slides or rocks in a bay, and the room that it sweeps."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from zarvik.core.layout.frame import rotation_about
from zarvik.core.solids.bodies import Body, Shape, extent, moved

FINE = 0.012  # m from pose to pose
MOST = 24  # poses of one motion, of each of its two
CLOSE = 5e-4  # m that a nearest pose is looked for to


@dataclass(frozen=True, eq=False)
class Motion:
    """A turn about a line through a `pivot` (3) m along an `axis` (3, unit) from `low` to `high` rad, and with it a slide by any share of
    `slide` (3) m. What moves was described at the angle 0, before it slides."""

    pivot: np.ndarray
    axis: np.ndarray
    low: float
    high: float
    slide: np.ndarray

    def at(self, angle: float, share: float) -> tuple[np.ndarray, np.ndarray]:
        """Turn (3, 3) about the origin and shift (3) m at an `angle` rad and a `share` (0 to 1) of the slide."""
        turn = rotation_about(self.axis, angle)
        return turn, self.pivot - turn @ self.pivot + share * self.slide

    def path(self, bodies: Sequence[Body]) -> tuple[float, float]:
        """How far in m the farthest place of `bodies` goes by the turn, and by the slide."""
        low, high = extent(bodies)
        corners = np.array(list(itertools.product(*zip(low, high, strict=True)))) - self.pivot
        across = np.linalg.norm(corners - (corners @ self.axis)[:, None] * self.axis, axis=1).max()
        return float(across) * (self.high - self.low), float(np.linalg.norm(self.slide))

    def poses(self, bodies: Sequence[Body]) -> tuple[list[tuple[float, float]], float]:
        """Angles rad and shares of the slide from end to end, and by how much (m) any place of `bodies` is at the most beside where it
        is in the nearest of them."""
        turned, slid = self.path(bodies)
        many, more = (min(math.ceil(path / FINE), MOST) + 1 if path > 1e-6 else 1 for path in (turned, slid))
        angles = np.linspace(self.low, self.high, many) if many > 1 else [self.low]
        shares = np.linspace(0.0, 1.0, more) if more > 1 else [0.0]
        beside = 0.5 * math.hypot(turned / max(many - 1, 1), slid / max(more - 1, 1))
        return [(float(angle), float(share)) for angle in angles for share in shares], beside

    def swept(self, bodies: Sequence[Body]) -> Iterator[Body]:
        """All that `bodies` sweep: copies, as much larger as they are apart."""
        poses, beside = self.poses(bodies)
        for angle, share in poses:
            turn, shift = self.at(angle, share)
            for body in bodies:
                yield larger(moved(body, turn, shift), beside)

    def nearest(self, gap: Callable[[float, float], float], start: tuple[float, float], bodies: Sequence[Body]) -> tuple[float, float]:
        """The angle rad and the share at which a `gap` (m, of both) is smallest, near a `start`: a search that halves its steps
        (R. Hooke, T. A. Jeeves, J. ACM 8 (1961) 212)."""
        turned, slid = self.path(bodies)
        poses, _ = self.poses(bodies)
        step = [(self.high - self.low) / max(len({a for a, _ in poses}) - 1, 1), 1.0 / max(len({s for _, s in poses}) - 1, 1)]
        here, least = list(start), gap(*start)
        while turned / max(self.high - self.low, 1e-9) * step[0] > CLOSE or slid * step[1] > CLOSE:
            better = False
            for k, (low, high) in enumerate(((self.low, self.high), (0.0, 1.0))):
                for sign in (1.0, -1.0):
                    there = list(here)
                    there[k] = min(max(here[k] + sign * step[k], low), high)
                    found = gap(*there)
                    if found < least - 1e-9:
                        here, least, better = there, found, True
            if not better:
                step = [0.5 * s for s in step]
        return here[0], here[1]


def larger(body: Body, by: float) -> Body:
    """A body that is larger by so many m on all sides, or smaller."""
    if body.mesh is not None or body.members:
        return replace(body, members=tuple(larger(one, by) for one in body.members), half=body.half + np.array([by, 0.0, 0.0]))
    half = np.maximum(body.half + by, 1e-4)
    if body.shape is not Shape.BOX:
        half = np.array([half[0], max(body.half[1] + (by if body.shape is Shape.CYLINDER else 0.0), 1e-4), 0.0])
    return replace(body, half=half)
