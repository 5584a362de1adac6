"""The last pieces that must fit: from where a run ends to what it must meet, with bends of radii that are in stock."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.layout.frame import Frame, miss
from zarvik.core.layout.run import Segment, bend, place_pieces, straight

ROUNDS = 200
CLOSE = 1e-9  # m and rad within which a run counts as closed
STRAIGHT = 1e-6  # rad that is no bend
LEGS = (0.0, 0.05, 0.12)  # m of straight that are tried before the first and behind the last bend


@dataclass(frozen=True)
class GapClosing:
    """A way to close a run: its `segments`, their `length` along the middle in m, and how many `bends` and `welds`."""

    segments: tuple[Segment, ...]
    length: float
    bends: int
    welds: int


def close(
    end: Frame, goal: Frame, *, bore: float, radii: Sequence[float], leg: float = 0.02, most: int = 3, count: int = 6
) -> tuple[GapClosing, ...]:
    """Ways from an `end` to a `goal` (which goes on the same way), the fewest welds and then the shortest first: `bore`
    m, bends of one of the `radii` (m), at least `leg` m of straight between and beside them, `most` (count) bends, and
    so many of them (`count`) at most. Empty where there is none.

    A direction of the middle straight is found that closes the triangle of ways: d = (w - R t1 a - R t2 b) / |...|, with
    t = tan(turn / 2) of each bend; it is followed until it stands. Valid for bends under half a turn.
    """
    found = []
    for radius in radii:
        for segments in _ways(end, goal, bore, radius, leg, most):
            last = place_pieces(segments, end)[-1].last if segments else end
            missed = miss(last, goal)
            if max(abs(missed.gap), missed.offset, missed.angle) < 1e-6:
                bends = sum(s.bends for s in segments)
                found.append(GapClosing(segments, sum(s.length for s in segments), bends, len(segments) + 1))
    found.sort(key=lambda c: (c.bends, c.welds, c.length))
    kept: list[GapClosing] = []
    for one in found:
        alike = any(o.bends == one.bends and abs(o.length - one.length) < 1e-4 for o in kept)
        if not alike and len(kept) < count:
            kept.append(one)
    return tuple(kept)


def _ways(end: Frame, goal: Frame, bore: float, radius: float, leg: float, most: int) -> Iterator[tuple[Segment, ...]]:
    a, b = end.along, goal.along
    between = goal.origin - end.origin
    if miss(end.moved(float(between @ a)), goal).offset < CLOSE and float(a @ b) > 1.0 - CLOSE and between @ a > 0.0:
        yield (straight("close-1", float(between @ a), bore),)
        return
    if most >= 1:
        yield from _one(end, goal, bore, radius, leg)
    for before, behind in itertools.product(LEGS, LEGS):
        if most >= 2:
            yield from _two(end, goal, bore, radius, leg, leg + before, leg + behind)
    if most >= 3:
        yield from _three(end, goal, bore, radius, leg)


def _one(end: Frame, goal: Frame, bore: float, radius: float, leg: float) -> Iterator[tuple[Segment, ...]]:
    """Both ways meet in a point: one bend there."""
    a, b = np.array(end.along), np.array(goal.along)
    turn = turn_between(a, b)
    if not STRAIGHT < turn < math.pi - STRAIGHT:
        return
    across = np.cross(a, b)
    apart = goal.origin - end.origin
    if abs(float(apart @ across)) > CLOSE * float(np.linalg.norm(across)):
        return
    # end + s a = goal - u b
    (s, u), *_ = np.linalg.lstsq(np.column_stack([a, b]), apart, rcond=None)
    cut = radius * math.tan(0.5 * turn)
    if s - cut >= leg - CLOSE and u - cut >= leg - CLOSE:
        yield path(end, bore, (radius,) * 9, [a, b], [s - cut, u - cut])


def _two(end: Frame, goal: Frame, bore: float, radius: float, leg: float, before: float, behind: float) -> Iterator[tuple[Segment, ...]]:
    """Straight, bend, straight, bend, straight, with given first and last straights."""
    a, b = np.array(end.along), np.array(goal.along)
    whole = goal.origin - end.origin - before * a - behind * b
    for first in _directions(whole, a, b):
        d = np.array(first)
        if not settled(whole, a, b, float(radius), d):
            continue
        one, two = turn_between(a, d), turn_between(d, b)
        middle = float(np.linalg.norm(whole - radius * math.tan(0.5 * one) * a - radius * math.tan(0.5 * two) * b))
        middle -= radius * (math.tan(0.5 * one) + math.tan(0.5 * two))
        if middle >= leg - CLOSE:
            yield path(end, bore, (radius,) * 9, [a, d, b], [before, middle, behind])


def _three(end: Frame, goal: Frame, bore: float, radius: float, leg: float) -> Iterator[tuple[Segment, ...]]:
    """A first bend of a quarter to any side, then two more."""
    for side in range(8):
        begin = end.moved(leg).rolled(0.25 * math.pi * side).bent(radius, 0.5 * math.pi)
        for rest in _two(begin, goal, bore, radius, leg, leg, leg):
            first = (straight("close-1", leg, bore), bend("close-2", radius, 0.5 * math.pi, bore, roll=0.25 * math.pi * side))
            yield (*first, *_renamed(rest, 3))


def _renamed(segments: tuple[Segment, ...], start: int) -> tuple[Segment, ...]:
    return tuple(
        Segment(
            id=f"close-{start + n}",
            length=s.length,
            bore_in=s.bore_in,
            bore_out=s.bore_out,
            radius=s.radius,
            angle=s.angle,
            roll=s.roll,
            wall=s.wall,
        )
        for n, s in enumerate(segments)
    )


def _directions(whole: np.ndarray, a: np.ndarray, b: np.ndarray) -> Iterator[np.ndarray]:
    """Where the search for the middle way begins: straight across, and to either side."""
    size = float(np.linalg.norm(whole))
    if size > 1e-9:
        yield whole / size
    side = np.cross(a, b)
    if float(np.linalg.norm(side)) > 1e-9:
        side = side / np.linalg.norm(side)
        yield side
        yield -side


@compiled
def settled(whole: np.ndarray, a: np.ndarray, b: np.ndarray, radius: float, d: np.ndarray) -> bool:
    """Bring the middle way `d` (unit vector, changed) between the ways `a` and `b` to where straights and two bends of a `radius` m go the
    `whole` way in m; False where it settles nowhere."""
    new = d.copy()
    for _ in range(ROUNDS):
        one, two = turn_between(a, d), turn_between(d, b)
        if max(one, two) > math.radians(175.0):
            return False
        square = 0.0
        for i in range(3):
            new[i] = whole[i] - radius * math.tan(0.5 * one) * a[i] - radius * math.tan(0.5 * two) * b[i]
            square += new[i] * new[i]
        size = math.sqrt(square)
        if size < 1e-9:
            return False
        square = 0.0
        for i in range(3):
            new[i] /= size
            square += (new[i] - d[i]) ** 2
        missed = math.sqrt(square)
        if missed < 1e-14:
            d[:] = new
            return True
        # Half a step: the full one may swing between two.
        square = 0.0
        for i in range(3):
            d[i] += 0.6 * (new[i] - d[i])
            square += d[i] * d[i]
        size = math.sqrt(square)
        for i in range(3):
            d[i] /= size
    square = 0.0
    for i in range(3):
        square += (new[i] - d[i]) ** 2
    return math.sqrt(square) < 1e-10


@compiled
def turn_between(one: np.ndarray, two: np.ndarray) -> float:
    """Angle in rad between the unit vectors `one` and `two`."""
    x = one[1] * two[2] - one[2] * two[1]
    y = one[2] * two[0] - one[0] * two[2]
    z = one[0] * two[1] - one[1] * two[0]
    return math.atan2(math.sqrt(x * x + y * y + z * z), one[0] * two[0] + one[1] * two[1] + one[2] * two[2])


def path(end: Frame, bore: float, radii: Sequence[float], ways: Sequence[np.ndarray], straights: Sequence[float]) -> tuple[Segment, ...]:
    """From an `end` straights (m) along the unit vectors `ways`, with a bend of one of the `radii` (m) from each to the next, of tube with
    a `bore` m; rolls by the frame that goes with them."""
    found: list[Segment] = []
    here = end
    for number, size in enumerate(straights):
        if size > CLOSE:
            found.append(straight(f"close-{len(found) + 1}", size, bore))
            here = here.moved(size)
        if number + 1 == len(ways):
            break
        turn = turn_between(ways[number], ways[number + 1])
        if turn > STRAIGHT:
            # Towards where the next way leans: the part of it that is across this one.
            lean = ways[number + 1] - (ways[number + 1] @ here.along) * here.along
            roll = math.atan2(float(lean @ here.axes[:, 1]), float(lean @ here.axes[:, 0]))
            found.append(bend(f"close-{len(found) + 1}", radii[number], turn, bore, roll=roll))
            here = here.rolled(roll).bent(radii[number], turn)
    return tuple(found)
