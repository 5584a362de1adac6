"""How near pipes, turbo and intercooler come to what stands in the bay."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.bay.bodies import Body, axes_along, packed
from zarvik.core.bay.distance import away_from, gaps
from zarvik.core.bay.kinds import KINDS
from zarvik.core.layout.bodies import COMPRESSOR_SCROLL, TURBINE_SCROLL, TurboBody
from zarvik.core.layout.clash import SPACING, trace
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import Layout

TURBINE, COMPRESSOR, COOLER = "turbine", "compressor", "cooler"
AROUND = 14  # balls round a scroll
GRID = 0.03  # m between two points of the skin of an intercooler
FAR = 0.3  # m: nobody asks how far apart what is farther away is


@dataclass(frozen=True, eq=False, kw_only=True)
class Obstacle:
    """Something that stands in the bay: its key (`id`), `name` and `kind`, its `bodies`; `slack` m, what its place is good to: by so
    much it may be nearer. `sure`: was it measured at all?"""

    id: str
    name: str
    kind: str
    bodies: tuple[Body, ...]
    slack: float
    sure: bool = True

    @property
    def room(self) -> float:
        """The gap in m that is asked for as it was measured."""
        return KINDS[self.kind].room + self.slack


@dataclass(frozen=True, eq=False)
class Near:
    """How near a part comes to an `obstacle`: the part's `line` (a key of the layout, or `TURBINE`, `COMPRESSOR`, `COOLER`) and `piece`
    (its key, empty for none); the `gap` m, negative where they run into each other; the places that are nearest: `point` m on the
    part's skin and `other` m on the obstacle's."""

    obstacle: Obstacle
    line: str
    piece: str
    gap: float
    point: np.ndarray
    other: np.ndarray


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
            yield _Balls(line.key, found.points, found.radius, tuple(line.placed[k].segment.id for k in found.piece))
    for turbo in () if blown else layout.turbos:
        yield from _turbo(turbo)
    if layout.cooler is not None and cooler is not None:
        yield _cooler(layout.cooler, cooler)


def near(
    layout: Layout, obstacles: Sequence[Obstacle], cooler: tuple[float, float, float] | None = None, *, blown: bool = False
) -> list[Near]:
    """For each part of a `layout` and each of the `obstacles` that is not far from it the place where they come nearest, the nearest first.
    `cooler`: width, height, thickness m of the core. `blown`: there is no turbo."""
    owners = [one for one in obstacles for _ in one.bodies]
    rows = packed([body for one in obstacles for body in one.bodies])
    least, which = np.empty(len(rows)), np.zeros(len(rows), np.int64)
    way = np.empty(3)
    found: dict[tuple[str, str], Near] = {}
    for part in _parts(layout, cooler, blown=blown):
        gaps(rows, np.ascontiguousarray(part.points), part.radius, least, which)
        for row, owner, gap, k in zip(rows, owners, least, which, strict=True):
            known = found.get((owner.id, part.line))
            if gap < FAR and (known is None or gap < known.gap):
                middle, radius = part.points[k], float(part.radius[k])
                away_from(row[None], middle[0], middle[1], middle[2], False, way)
                skin, other = middle - radius * way, middle - (radius + gap) * way
                found[owner.id, part.line] = Near(owner, part.line, part.pieces[k], float(gap), skin, other)
    return sorted(found.values(), key=lambda one: one.gap)
