"""A run of straights and bends in space: where each piece stands, what it holds and weighs."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.layout.frame import Frame
from zarvik.core.stock.sizes import WALL

ANY, SHORTER, FIXED = "any", "shorter", "fixed"
STEPS = 0.15  # rad of a bend between two points of its centre line that is drawn


@dataclass(frozen=True, kw_only=True)
class Segment:
    """A piece as a tube bender knows it. `length` m along the centre line; `radius` m of the centre line and `angle` rad
    of a bend, 0 for a straight; `roll` rad that it is turned against the piece before it, clockwise for who looks along
    the run. `bore_in`, `bore_out` m inside; `wall` m. `held`: nothing of it may be changed to make a run fit; `kind`:
    what it is, as "hose" or "gap"; `turns`: what its turn may become when a run is made of what is there: `ANY`, `SHORTER`, `FIXED`."""

    id: str
    length: float
    bore_in: float
    bore_out: float
    radius: float = 0.0
    angle: float = 0.0
    roll: float = 0.0
    wall: float = WALL
    held: bool = False
    kind: str = "tube"
    turns: str = ANY

    @property
    def outside(self) -> float:
        """Its outside diameter in m, the larger one of a cone."""
        return max(self.bore_in, self.bore_out) + 2.0 * self.wall

    @property
    def bends(self) -> bool:
        """Does it turn?"""
        return self.angle > 0.0 and self.radius > 0.0


def straight(id: str, length: float, bore: float, *, bore_out: float | None = None, roll: float = 0.0) -> Segment:
    """A straight or a cone: `length`, `bore` and `bore_out` (where it is another) in m, `roll` rad; `id` its key."""
    return Segment(id=id, length=length, bore_in=bore, bore_out=bore if bore_out is None else bore_out, roll=roll)


def bend(id: str, radius: float, angle: float, bore: float, *, roll: float = 0.0) -> Segment:
    """A bend: centreline `radius` m, `angle` rad, `bore` m, `roll` rad; `id` its key."""
    return Segment(id=id, length=radius * angle, bore_in=bore, bore_out=bore, radius=radius, angle=angle, roll=roll)


@dataclass(frozen=True, eq=False)
class Placed:
    """A piece in its place: the frame where it begins, rolled already, and the one where it ends."""

    segment: Segment
    first: Frame
    last: Frame

    def at(self, share: float) -> Frame:
        """The frame at a share (0–1) of its length."""
        s = self.segment
        return self.first.bent(s.radius, share * s.angle) if s.bends else self.first.moved(share * s.length)

    def line(self) -> np.ndarray:
        """Points of its centre line in m, one row each."""
        count = max(math.ceil(self.segment.angle / STEPS), 1) if self.segment.bends else 1
        return np.array([self.at(i / count).origin for i in range(count + 1)])


def place_pieces(segments: Iterable[Segment], first: Frame) -> tuple[Placed, ...]:
    """Every piece of a run that begins at the frame `first`."""
    found, here = [], first
    for segment in segments:
        begin = here.rolled(segment.roll) if segment.roll else here
        end = begin.bent(segment.radius, segment.angle) if segment.bends else begin.moved(segment.length)
        found.append(Placed(segment, begin, end))
        here = end
    return tuple(found)


def volume(segments: Iterable[Segment]) -> float:
    """What a run holds in m3: the area of the bore times the way of its middle (Pappus of Alexandria, Collection VII),
    cones as frusta."""
    total = 0.0
    for s in segments:
        one, two = 0.5 * s.bore_in, 0.5 * s.bore_out
        total += math.pi / 3.0 * (one**2 + one * two + two**2) * s.length
    return total


def mass(segments: Iterable[Segment], density: float) -> float:
    """What the wall of a run weighs in kg, of a metal of `density` kg/m3; Pappus as for the volume."""
    total = 0.0
    for s in segments:
        middle = 0.5 * (s.bore_in + s.bore_out) + s.wall
        total += math.pi * middle * s.wall * math.hypot(s.length, 0.5 * (s.bore_out - s.bore_in)) * density
    return total


def length(segments: Iterable[Segment]) -> float:
    """Length of the centre line in m."""
    return sum(s.length for s in segments)


@dataclass(frozen=True)
class Row:
    """A row of a bend table: `feed` m of straight before the bend, `rotation` rad of the tube against the bend before
    it, `angle` rad and centreline `radius` m of the bend; the last row has no bend."""

    feed: float
    rotation: float
    angle: float = 0.0
    radius: float = 0.0


def table_of(segments: Sequence[Segment]) -> tuple[Row, ...]:
    """The run as a tube bender takes it: length, rotation, angle. Rolls of straights count to the next bend."""
    rows, feed, rotation = [], 0.0, 0.0
    for s in segments:
        rotation += s.roll
        if s.bends:
            rows.append(Row(feed, _within(rotation), s.angle, s.radius))
            feed = rotation = 0.0
        else:
            feed += s.length
    return (*rows, Row(feed, 0.0))


def of_table(rows: Sequence[Row], bore: float) -> tuple[Segment, ...]:
    """A run of one `bore` (m) from a bend table; rows without feed or bend leave nothing."""
    found: list[Segment] = []
    for number, row in enumerate(rows, 1):
        if row.feed > 0.0:
            found.append(straight(f"s{number}", row.feed, bore))
        if row.angle > 0.0:
            found.append(bend(f"b{number}", row.radius, row.angle, bore, roll=row.rotation))
    return tuple(found)


def _within(angle: float) -> float:
    """An angle between -pi and pi."""
    return math.remainder(angle, 2.0 * math.pi)
