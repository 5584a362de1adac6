"""How near pipes, turbo, intercooler and air filter come to what stands in the bay."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np

from zarvik.core.bay.belts import BeltRun
from zarvik.core.bay.kinds import ENGINE, KINDS
from zarvik.core.bay.motion import Motion
from zarvik.core.common.identity_cache import IdentityCache
from zarvik.core.heat.clearance import ENGINE_MOVEMENT
from zarvik.core.layout.bodies import COMPRESSOR_SCROLL, TURBINE_SCROLL, TurboBody
from zarvik.core.layout.clash import SPACING, trace
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import BEHIND, EXHAUST, Layout, Space
from zarvik.core.solids.bodies import Body, axes_along, extent, packed, rows_of
from zarvik.core.solids.distance import SKIP, away_from, gaps

TURBINE, COMPRESSOR, COOLER, FILTER = "turbine", "compressor", "cooler", "filter"
AROUND = 14  # balls round a scroll
INNER = 5  # balls along a filter
GRID = 0.03  # m between two points of the skin of an intercooler or a filter
LOOKS_ASIDE = math.cos(math.radians(30.0))  # of the way of an opening in the side of an end tank
NEAR_ENOUGH = 0.12  # m: what comes no nearer when it moves is said as it stands still
HELD = 0.005  # m up to which a bracket touches what it holds, or reaches into it
GROWN = 5e-4  # m: what a hot part comes nearer by is said from here on
FAR = 0.3  # m: nobody asks how far apart what is farther away is


_Cleaner: TypeAlias = tuple[Frame, tuple[float, float]]


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
    """How near a part comes to an `obstacle`: the part's `line` (a key of the layout, or `TURBINE`, `COMPRESSOR`, `COOLER`, `FILTER`) and
    `piece` (its key, empty for none); the `gap` m, negative where they run into each other; the places that are nearest: `point` m on the
    part's skin and `other` m on the obstacle's. `moving`: when it, or the engine, has moved; the places are then those of the part where
    it is drawn. `hot`: when it has grown."""

    obstacle: Obstacle
    line: str
    piece: str
    gap: float
    point: np.ndarray
    other: np.ndarray
    moving: bool = False
    hot: bool = False


@dataclass(frozen=True, eq=False)
class Growth:
    """How a part grows: it is `carried` (3) m along, and grows from a place (`begin`, m) by a `strain`."""

    carried: np.ndarray
    begin: np.ndarray
    strain: float

    def by(self, points: np.ndarray) -> np.ndarray:
        """How far `points` (any number, 3; m) have gone when it is hot, m."""
        return np.asarray(self.carried + self.strain * (points - self.begin))

    def of(self, points: np.ndarray) -> np.ndarray:
        """Where `points` (any number, 3; m) are when it is hot, m."""
        return np.ascontiguousarray(points + self.by(points))


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


def cooler_frame(faces: tuple[Frame, Frame], size: tuple[float, float, float]) -> Frame:
    """Where an intercooler with these two `faces` and a core of this `size` (from tank to tank, high, deep; m) begins: its x through the
    core, y up, z from one tank to the other. Openings that look across the core, both to one side, are on that side of its tanks."""
    one, two = faces
    wide, _, deep = size
    way = two.origin - one.origin
    level = np.array([way[0], 0.0, way[2]])
    along = level / np.linalg.norm(level) if np.linalg.norm(level) > 1e-6 else np.array([1.0, 0.0, 0.0])
    up = np.array([0.0, 1.0, 0.0])
    across = np.cross(up, along)
    middle = 0.5 * (one.origin + two.origin)
    aside = float(-one.along @ across), float(two.along @ across)
    if min(aside) > LOOKS_ASIDE or max(aside) < -LOOKS_ASIDE:
        middle = middle - math.copysign(0.5 * deep, aside[0]) * across
    return Frame(middle - 0.5 * wide * along, np.column_stack([across, up, along]))


def box_skin(frame: Frame, size: tuple[float, float, float]) -> np.ndarray:
    """Points (any number, 3) m of the skin of a box from a `frame` on, its `size` m: across its z, up its y, along its x."""
    wide, high, deep = size
    steps = [np.linspace(low, high_, max(math.ceil((high_ - low) / GRID), 1) + 1) for low, high_ in
             ((-0.5 * deep, 0.5 * deep), (-0.5 * high, 0.5 * high), (0.0, wide))]  # fmt: skip
    x, y, z = (n.ravel() for n in np.meshgrid(*steps, indexing="ij"))
    skin = (np.abs(np.abs(x) - 0.5 * deep) < 1e-9) | (np.abs(np.abs(y) - 0.5 * high) < 1e-9) | (z < 1e-9) | (z > wide - 1e-9)
    return np.asarray(frame.origin + np.column_stack([x, y, z])[skin] @ frame.axes.T)


def filter_skin(frame: Frame, size: tuple[float, float]) -> np.ndarray:
    """Points (any number, 3) m of the skin of an air filter of this `size` (diameter, length m) behind its connection, a `frame`."""
    diameter, length = size
    turn = np.linspace(0.0, 2.0 * math.pi, max(math.ceil(math.pi * diameter / GRID), 6), endpoint=False)
    back = np.linspace(-length, 0.0, max(math.ceil(length / GRID), 1) + 1)
    ring = np.column_stack([np.cos(turn), np.sin(turn)])
    skin = [np.column_stack([0.5 * diameter * ring, np.full(len(turn), z)]) for z in back]
    skin += [np.column_stack([0.25 * diameter * ring, np.full(len(turn), z)]) for z in (-length, 0.0)]
    return np.asarray(frame.origin + np.vstack([*skin, [[0.0, 0.0, -length]]]) @ frame.axes.T)


def _of_points(line: str, points: np.ndarray) -> _Balls:
    return _Balls(line, points, np.zeros(len(points)), ("",) * len(points))


def _of_filter(frame: Frame, size: tuple[float, float]) -> _Balls:
    """An air filter of this `size` (diameter, length m): its skin, and what fits into it, for what is thin and goes through it."""
    skin, radius = filter_skin(frame, size), 0.5 * min(size)
    inner = frame.origin + np.linspace(radius - size[1], -radius, INNER)[:, None] * frame.along
    points = np.ascontiguousarray(np.vstack([skin, inner]))
    return _Balls(FILTER, points, np.append(np.zeros(len(skin)), np.full(INNER, radius)), ("",) * len(points))


def _parts(layout: Layout, cooler: tuple[float, float, float] | None, cleaner: _Cleaner | None, *, blown: bool) -> Iterator[_Balls]:
    for line in layout.lines:
        if line.placed:
            found = trace(line.placed, 2.0 * SPACING)
            yield _Balls(line.key, np.ascontiguousarray(found.points), found.radius, tuple(line.placed[k].segment.id for k in found.piece))
    for turbo in () if blown else layout.turbos:
        yield from _turbo(turbo)
    if layout.cooler is not None and cooler is not None:
        yield _of_points(COOLER, box_skin(cooler_frame(layout.cooler, cooler), cooler))
    if cleaner is not None:
        yield _of_filter(*cleaner)


def head_middle(layout: Layout) -> np.ndarray:
    """The middle (3) of the ports of a `layout`, m: what a manifold grows from."""
    return np.mean([port.origin for port in layout.ports], axis=0) if layout.ports else np.zeros(3)


def growth_of(layout: Layout, grows: tuple[float, float]) -> dict[str, Growth]:
    """How hot parts grow, by their lines (keys of the `layout`, `TURBINE` and `COMPRESSOR` of the first turbo): `grows`, strains of
    manifold and exhaust, are shares of a length. A pipe grows from where it is bolted on; what hangs on the manifold is carried along."""
    manifold, exhaust = grows
    still = np.zeros(3)
    found = {line.key: Growth(still, line.start.origin, manifold) for line in layout.primaries}
    head = head_middle(layout)
    begins = {line.bank: line.start.origin for line in layout.lines if line.key.startswith(EXHAUST)}
    for line in layout.lines:
        if line.key.startswith(BEHIND):
            found[line.key] = Growth(still, head, manifold)
        elif line.key.startswith(EXHAUST) and line.bank in begins:
            carried = manifold * (begins[line.bank] - head) if line.bank == 0 or len(begins) > 1 else still
            found[line.key] = Growth(carried, line.start.origin, exhaust)
    if layout.turbos:
        carried = manifold * (layout.turbos[0].gas_in.origin - head)
        found |= {key: Growth(carried, still, 0.0) for key in (TURBINE, COMPRESSOR)}
    return found


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
    cleaner: _Cleaner | None = None,
    *,
    blown: bool = False,
    roll: Motion | None = None,
    grows: tuple[float, float] = (0.0, 0.0),
) -> list[Near]:
    """For each part of a `layout` and each of the `obstacles` that is not far from it the place where they come nearest, the nearest first.
    `cooler`: width, height, thickness m of the core. `cleaner`: where an air filter is, its diameter and length m. `blown`: there
    is no turbo. `roll`: how the engine rolls (`roll_of`). `grows`: strains of
    manifold and exhaust when they are hot."""
    owners = [one for one in obstacles for _ in one.bodies]
    rows = packed([body for one in obstacles for body in one.bodies])
    found: dict[tuple[str, str], Near] = {}
    held: set[tuple[str, str]] = set()  # a bracket may touch what it holds

    def add(owner: Obstacle, part: _Balls, gap: float, k: int, way: np.ndarray, *, moving: bool = False, hot: bool = False) -> None:
        if (owner.id, part.line) in held:
            return
        known = found.get((owner.id, part.line))
        # What stands still, and cold, is said where it makes no difference
        if gap < FAR and (known is None or gap < known.gap - (1e-4 if moving else GROWN if hot else 0.0)):
            middle, radius = part.points[k], float(part.radius[k])
            places = middle - radius * way, middle - (radius + gap) * way
            found[owner.id, part.line] = Near(owner, part.line, part.pieces[k], gap, *places, moving=moving, hot=hot)

    movers: list[tuple[_Mover, bool | None]] = [
        (_Mover(one, one.motion), None) for one in obstacles if one.motion is not None and one.bodies
    ]
    movers += [(_Mover(one, roll), one.on_engine) for one in obstacles if roll is not None and one.bodies]
    growing = growth_of(layout, grows) if max(grows) > 0.0 else {}
    for part in _parts(layout, cooler, cleaner, blown=blown):
        for n, gap, k, way in _still(rows, len(owners), part):
            if abs(gap) < HELD and KINDS[owners[n].kind].holds:
                held.add((owners[n].id, part.line))
                found.pop((owners[n].id, part.line), None)
            add(owners[n], part, gap, k, way)
        growth = growing.get(part.line)
        if growth is not None and (growth.strain > 0.0 or growth.carried.any()):
            for n, gap, k, way in _still(rows, len(owners), dataclasses.replace(part, points=growth.of(part.points))):
                add(owners[n], part, gap, k, way, hot=True)
        for mover, on_engine in movers:
            # The core stands with the body, all else rocks with the engine
            if on_engine in (None, part.line == COOLER) and (moved := mover.nearest(part)) is not None:
                add(mover.one, part, *moved, moving=True)
    return sorted(found.values(), key=lambda one: one.gap)


def _cleaner(space: Space) -> _Cleaner | None:
    known = space.filter.measured and min(space.filter_size) > 0.0
    return (space.filter.frame, space.filter_size) if known else None


_KNOWN: IdentityCache[list[Near]] = IdentityCache(4)


def near_of(space: Space, layout: Layout, obstacles: tuple[Obstacle, ...]) -> list[Near]:
    """`near` of a `layout` of a `space`; of the same ones what was found before."""
    return _KNOWN.of(
        (layout, obstacles),
        lambda: near(layout, obstacles, space.cooler, _cleaner(space), blown=space.blown, roll=roll_of(space), grows=space.grows),
    )
