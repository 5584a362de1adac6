"""Do tubes run into each other, or into themselves, and does a torch get round their welds?"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.layout.frame import Frame
from zarvik.core.layout.run import Placed

SPACING = 0.006  # m between two points of a centre line: gaps come out within 0.2 mm on tubes of 40 mm
TORCH = 0.012  # radius in m of a torch's nozzle with its cup; common practice, no source
REACH = 0.025  # m from the seam to the middle of the cup
BACK = 0.64  # of the way between two points: on half a turn they are 2 / pi of it apart
AROUND = 24  # points round a seam


@dataclass(frozen=True, eq=False)
class Trace:
    """A run as points: `points` m (one row each), outer `radius` m and way `along` m at each, and the number of the
    `piece` that it lies in."""

    points: np.ndarray
    radius: np.ndarray
    along: np.ndarray
    piece: np.ndarray

    @property
    def length(self) -> float:
        """The whole way in m."""
        return float(self.along[-1]) if len(self.along) else 0.0


def trace(run: Sequence[Placed], spacing: float = SPACING) -> Trace:
    """The points of a `run` of placed pieces, `spacing` m from each other at the most."""
    points, radius, along, piece = [], [], [], []
    way = 0.0
    for number, part in enumerate(run):
        s = part.segment
        count = max(math.ceil(s.length / spacing), 1)
        t = np.arange(count + (number + 1 == len(run))) / count
        x, _, z = part.first.axes.T
        if s.bends:
            turn = s.angle * t[:, None]
            points.append(part.first.origin + s.radius * ((1.0 - np.cos(turn)) * x + np.sin(turn) * z))
        else:
            points.append(part.first.origin + s.length * t[:, None] * z)
        radius.append(0.5 * ((1.0 - t) * s.bore_in + t * s.bore_out) + s.wall)
        along.append(way + t * s.length)
        piece.append(np.full(len(t), number))
        way += s.length
    if not points:
        return Trace(np.zeros((0, 3)), np.zeros(0), np.zeros(0), np.zeros(0, int))
    return Trace(np.vstack(points), np.concatenate(radius), np.concatenate(along), np.concatenate(piece))


def boxes_apart(one: Trace, two: Trace) -> float:
    """How far apart the boxes round two runs are at the least, m; 0 where they overlap."""
    if not (len(one.points) and len(two.points)):
        return math.inf
    low = np.maximum(one.points.min(axis=0) - one.radius.max(), two.points.min(axis=0) - two.radius.max())
    high = np.minimum(one.points.max(axis=0) + one.radius.max(), two.points.max(axis=0) + two.radius.max())
    return float(np.linalg.norm(np.maximum(low - high, 0.0)))


def _distances(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Every point of a to every point of b, by the square of a difference written out: a fifth of the time."""
    square = (a * a).sum(axis=1)[:, None] + (b * b).sum(axis=1)[None] - 2.0 * (a @ b.T)
    return np.asarray(np.sqrt(np.maximum(square, 0.0)))


@dataclass(frozen=True)
class NearestGap:
    """The nearest two skins come: `gap` m (negative: they run into each other), in the pieces numbered `one` and `two`."""

    gap: float
    one: int
    two: int


def nearest(one: Trace, two: Trace, *, spare: float = 0.0) -> NearestGap:
    """How near the skins of two runs come, without the last `spare` m of each, where they are meant to meet."""
    a = one.along <= one.length - spare + 1e-12
    b = two.along <= two.length - spare + 1e-12
    if not (a.any() and b.any()):
        return NearestGap(math.inf, 0, 0)
    gaps = _distances(one.points[a], two.points[b])
    gaps -= one.radius[a][:, None] + two.radius[b][None]
    i, j = np.unravel_index(int(gaps.argmin()), gaps.shape)
    return NearestGap(float(gaps[i, j]), int(one.piece[a][i]), int(two.piece[b][j]))


def self_clearance(run: Trace) -> NearestGap:
    """How near a run comes to itself where it has come back: points no farther from each other than those of half a turn
    on the same way. No such points: as far as can be."""
    if not len(run.points):
        return NearestGap(math.inf, 0, 0)
    gaps = _distances(run.points, run.points)
    both = run.radius[:, None] + run.radius[None]
    apart = run.along[None] - run.along[:, None]
    gaps = np.where((gaps < BACK * apart) & (apart > both), gaps - both, math.inf)
    i, j = np.unravel_index(int(gaps.argmin()), gaps.shape)
    return NearestGap(float(gaps[i, j]), int(run.piece[i]), int(run.piece[j]))


def hidden(seam: Frame, radius: float, others: Sequence[Trace], own: Trace | None = None, way: float = 0.0) -> float:
    """Share (0–1) of a seam round a tube of the outer `radius` m at the frame `seam` that a torch cannot reach for
    `others`, or for its `own` run away from it (the seam lies `way` m along that)."""
    phi = np.linspace(0.0, 2.0 * math.pi, AROUND, endpoint=False)
    x, y, _ = seam.axes.T
    ring = seam.origin + (radius + REACH) * (np.cos(phi)[:, None] * x + np.sin(phi)[:, None] * y)
    shut = np.zeros(AROUND, bool)
    traces = list(others)
    if own is not None and len(own.points):
        far = np.abs(own.along - way) > 0.5 * math.pi * 2.0 * radius + REACH
        traces.append(Trace(own.points[far], own.radius[far], own.along[far], own.piece[far]))
    reach = radius + REACH + TORCH
    for other in traces:
        if len(other.points):
            near = np.abs(other.points - seam.origin).max(axis=1) < reach + other.radius
            if near.any():
                gaps = _distances(ring, other.points[near]) - other.radius[near]
                shut |= gaps.min(axis=1) < TORCH
    return float(shut.mean())
