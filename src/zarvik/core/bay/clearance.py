"""How near pipes, turbo and intercooler come to what stands in the bay."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.bay.belts import BeltRun
from zarvik.core.bay.kinds import ENGINE, KINDS
from zarvik.core.bay.motion import Motion
from zarvik.core.common.identity_cache import IdentityCache
from zarvik.core.heat.clearance import ENGINE_MOVEMENT
from zarvik.core.layout.bodies import COMPRESSOR_SCROLL, TURBINE_SCROLL, TurboBody
from zarvik.core.layout.clash import SPACING, trace
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import Layout, Space
from zarvik.core.solids.bodies import Body, axes_along, extent, packed, rows_of
from zarvik.core.solids.distance import SKIP, away_from, gaps

TURBINE, COMPRESSOR, COOLER = "turbine", "compressor", "cooler"
AROUND = 14  # balls round a scroll
GRID = 0.03  # m between two points of the skin of an intercooler
NEAR_ENOUGH = 0.12  # m: what comes no nearer when it moves is said as it stands still
FAR = 0.3  # m: nobody asks how far apart what is farther away is


@dataclass(frozen=True, eq=False, kw_only=True)
class Obstacle:
    """Something that stands in the bay: its key (`id`), `name` and `kind`, its `bodies`; `slack` m, what its place is good to: by so
    much it may be nearer. `sure`: was it measured at all? `motion`: how it moves by itself, None where it stands still; its bodies are
    where they are at its angle 0. `rocks`: m that the engine comes nearer to it when it rocks, beside a roll that is looked at as such.
    `belt`: what it is as one. `faults`: what is wrong with what is said of it, in words. `altered`: what was done to it for the build
    ("notched", "moved", empty for nothing)."""

    id: str
    name: str
    kind: str
    bodies: tuple[Body, ...]
    slack: float
    sure: bool = True
    motion: Motion | None = None
    rocks: float = ENGINE_MOVEMENT
    belt: BeltRun | None = None
    faults: tuple[str, ...] = ()
    altered: str = ""

    @property
    def room(self) -> float:
        """The gap in m that is asked for as it was measured."""
        return KINDS[self.kind].gap + self.slack + (0.0 if self.on_engine else self.rocks)

    @property
    def on_engine(self) -> bool:
        """Does it rock with the engine?"""
        return KINDS[self.kind].fixed == ENGINE


@dataclass(frozen=True, eq=False)
class Near:
    """How near a part comes to an `obstacle`: the part's `line` (a key of the layout, or `TURBINE`, `COMPRESSOR`, `COOLER`) and `piece`
    (its key, empty for none); the `gap` m, negative where they run into each other; the places that are nearest: `point` m on the
    part's skin and `other` m on the obstacle's. `moving`: when it, or the engine, has moved; the places are then those of the part where
    it is drawn."""

    obstacle: Obstacle
    line: str
    piece: str
    gap: float
    point: np.ndarray
    other: np.ndarray
    moving: bool = False


@dataclass(frozen=True, eq=False)
class _Balls:
    """A part as balls: `points` m and `radius` m; the key of the piece of each."""

    line: str
    points: np.ndarray
    radius: np.ndarray
    pieces: tuple[str, ...]


def _scroll(line: str, middle: np.ndarray, axis: np.ndarray, wheel: float, shares: tuple[float, float]) -> _Balls:
    _, x, y = axes_along(axis)
    turn = np.linspace(0.0, 2.0 * math.pi, AROUND, endpoint=False)[:, None]
    points = middle + shares[0] * wheel * (np.cos(turn) * x + np.sin(turn) * y)
    return _Balls(line, points, np.full(AROUND, shares[1] * wheel), ("",) * AROUND)


def _turbo(turbo: TurboBody) -> Iterator[_Balls]:
    s = turbo.sizes
    yield _scroll(TURBINE, turbo.turbine, turbo.shaft, s.turbine, TURBINE_SCROLL)
    yield _scroll(COMPRESSOR, turbo.compressor, turbo.shaft, s.compressor, COMPRESSOR_SCROLL)


def cooler_frame(faces: tuple[Frame, Frame], wide: float) -> Frame:
    """Where an intercooler with these two `faces`, `wide` m from tank to tank, begins: its x through the core, y up, z from one tank to
    the other."""
    one, two = faces
    way = two.origin - one.origin
    level = np.array([way[0], 0.0, way[2]])
    along = level / np.linalg.norm(level) if np.linalg.norm(level) > 1e-6 else np.array([1.0, 0.0, 0.0])
    up = np.array([0.0, 1.0, 0.0])
    return Frame(0.5 * (one.origin + two.origin) - 0.5 * wide * along, np.column_stack([np.cross(up, along), up, along]))


def _cooler(faces: tuple[Frame, Frame], size: tuple[float, float, float]) -> _Balls:
    wide, high, deep = size
    frame = cooler_frame(faces, wide)
    steps = [np.linspace(low, high_, max(math.ceil((high_ - low) / GRID), 1) + 1) for low, high_ in
             ((-0.5 * deep, 0.5 * deep), (-0.5 * high, 0.5 * high), (0.0, wide))]  # fmt: skip
    x, y, z = (n.ravel() for n in np.meshgrid(*steps, indexing="ij"))
    skin = (np.abs(np.abs(x) - 0.5 * deep) < 1e-9) | (np.abs(np.abs(y) - 0.5 * high) < 1e-9) | (z < 1e-9) | (z > wide - 1e-9)
    points = frame.origin + np.column_stack([x, y, z])[skin] @ frame.axes.T
    return _Balls(COOLER, points, np.zeros(len(points)), ("",) * len(points))


def _parts(layout: Layout, cooler: tuple[float, float, float] | None, *, blown: bool) -> Iterator[_Balls]:
    for line in layout.lines:
        if line.placed:
            found = trace(line.placed, 2.0 * SPACING)
            yield _Balls(line.key, np.ascontiguousarray(found.points), found.radius, tuple(line.placed[k].segment.id for k in found.piece))
    for turbo in () if blown else layout.turbos:
        yield from _turbo(turbo)
    if layout.cooler is not None and cooler is not None:
        yield _cooler(layout.cooler, cooler)


def roll_of(space: Space) -> Motion | None:
    """How what is fixed to the body moves against an engine of a `space` that rolls on its mounts; None where nobody says that it does."""
    head = space.head
    if head.roll <= 0.0:
        return None
    return Motion(np.array([0.0, *head.crank]), np.array([1.0, 0.0, 0.0]), -head.roll, head.roll, np.zeros(3))


def _still(rows: np.ndarray, count: int, part: _Balls) -> Iterator[tuple[int, float, int, np.ndarray]]:
    """Of each of the `count` packed bodies in `rows` that is not far from a part: its number, the gap m, the ball that is nearest, and the
    way (3) from it to that."""
    least, which, way = np.empty(count), np.zeros(count, np.int64), np.empty(3)
    gaps(rows, part.points, part.radius, least, which)
    begins = rows_of(rows)
    for n in np.flatnonzero(least < FAR):
        begin, k = begins[n], int(which[n])
        alone = rows[begin : begin + 1 + int(rows[begin, SKIP])]
        away_from(alone, part.points[k, 0], part.points[k, 1], part.points[k, 2], False, way)
        yield int(n), float(least[n]), k, way.copy()


class _Mover:
    """An obstacle that moves, against the parts: by itself or because the engine does."""

    def __init__(self, one: Obstacle, motion: Motion) -> None:
        self.one, self.motion = one, motion
        self.rest = packed(one.bodies)
        self.begins = rows_of(self.rest)
        self.poses, self.beside = motion.poses(one.bodies)
        corners = np.array(list(itertools.product(*zip(*extent(one.bodies), strict=True))))
        swept = np.vstack([corners @ turn.T + shift for turn, shift in (motion.at(*pose) for pose in self.poses)])
        self.low, self.high = swept.min(axis=0) - self.beside, swept.max(axis=0) + self.beside

    def nearest(self, part: _Balls) -> tuple[float, int, np.ndarray] | None:
        """The gap m of a part in the pose in which it is nearest, the ball and the way (3) from it to that; None where it is far."""
        around = np.maximum(np.maximum(self.low - part.points, part.points - self.high), 0.0)
        close = np.linalg.norm(around, axis=1) - part.radius < NEAR_ENOUGH
        if not close.any():
            return None
        some, radius = part.points[close], part.radius[close]
        least, which = np.empty(len(self.begins)), np.zeros(len(self.begins), np.int64)

        def gap(angle: float, share: float) -> float:
            turn, shift = self.motion.at(angle, share)
            gaps(self.rest, np.ascontiguousarray((some - shift) @ turn), radius, least, which)
            return float(least.min())

        first = sorted((gap(*pose), pose) for pose in self.poses)
        if first[0][0] - self.beside >= NEAR_ENOUGH:
            return None
        angle, share = min((gap(*there), there) for _, pose in first[:2] for there in [self.motion.nearest(gap, pose, self.one.bodies)])[1]
        if gap(angle, share) >= NEAR_ENOUGH:
            return None
        n = int(least.argmin())
        k = int(np.flatnonzero(close)[which[n]])
        turn, shift = self.motion.at(angle, share)
        there, way = (part.points[k] - shift) @ turn, np.empty(3)
        begin = self.begins[n]
        away_from(self.rest[begin : begin + 1 + int(self.rest[begin, SKIP])], there[0], there[1], there[2], False, way)
        return float(least[n]), k, turn @ way


def near(
    layout: Layout,
    obstacles: Sequence[Obstacle],
    cooler: tuple[float, float, float] | None = None,
    *,
    blown: bool = False,
    roll: Motion | None = None,
) -> list[Near]:
    """For each part of a `layout` and each of the `obstacles` that is not far from it the place where they come nearest, the nearest first.
    `cooler`: width, height, thickness m of the core. `blown`: there is no turbo. `roll`: how the engine rolls (`roll_of`)."""
    owners = [one for one in obstacles for _ in one.bodies]
    rows = packed([body for one in obstacles for body in one.bodies])
    found: dict[tuple[str, str], Near] = {}

    def add(owner: Obstacle, part: _Balls, gap: float, k: int, way: np.ndarray, moving: bool) -> None:
        known = found.get((owner.id, part.line))
        # What stands still is said where it makes no difference
        if gap < FAR and (known is None or gap < known.gap - (1e-4 if moving else 0.0)):
            middle, radius = part.points[k], float(part.radius[k])
            places = middle - radius * way, middle - (radius + gap) * way
            found[owner.id, part.line] = Near(owner, part.line, part.pieces[k], gap, *places, moving=moving)

    movers: list[tuple[_Mover, bool | None]] = [
        (_Mover(one, one.motion), None) for one in obstacles if one.motion is not None and one.bodies
    ]
    movers += [(_Mover(one, roll), one.on_engine) for one in obstacles if roll is not None and one.bodies]
    for part in _parts(layout, cooler, blown=blown):
        for n, gap, k, way in _still(rows, len(owners), part):
            add(owners[n], part, gap, k, way, False)
        for mover, on_engine in movers:
            # The core stands with the body, all else rocks with the engine
            if on_engine in (None, part.line == COOLER) and (moved := mover.nearest(part)) is not None:
                add(mover.one, part, *moved, True)
    return sorted(found.values(), key=lambda one: one.gap)


_KNOWN: IdentityCache[list[Near]] = IdentityCache(4)


def near_of(space: Space, layout: Layout, obstacles: tuple[Obstacle, ...]) -> list[Near]:
    """`near` of a `layout` of a `space`; of the same ones what was found before."""
    return _KNOWN.of((layout, obstacles), lambda: near(layout, obstacles, space.cooler, blown=space.blown, roll=roll_of(space)))
