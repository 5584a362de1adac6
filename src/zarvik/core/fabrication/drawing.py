"""A drawing for the bench at its true size: lines on layers, holes, words."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.common.sentences import Sentence

# What is cut through, what is only marked, where it bends or welds, what is written
CUT, MARK, WELD, WORDS = "cut", "mark", "weld", "words"
LAYERS = (CUT, MARK, WELD, WORDS)


@dataclass(frozen=True, eq=False)
class Path:
    """A line through `points` (m, one row each) on a `layer`, `closed` or not."""

    points: np.ndarray
    layer: str = CUT
    closed: bool = False


@dataclass(frozen=True)
class Circle:
    """A circle of `radius` m round `x`, `y` m on a `layer`."""

    x: float
    y: float
    radius: float
    layer: str = CUT


@dataclass(frozen=True)
class Note:
    """`words` at `x`, `y` m, `height` m high; `along` a line: where a page ends they are shifted along it."""

    x: float
    y: float
    words: Sentence
    height: float = 0.003
    along: bool = False


@dataclass(frozen=True, eq=False)
class Drawing:
    """A drawing: its `key` (a file name), `title`, and what is on it; m, x to the right, y up. `about`: lines of words
    that go with it."""

    key: str
    title: Sentence
    paths: tuple[Path, ...] = ()
    circles: tuple[Circle, ...] = ()
    notes: tuple[Note, ...] = ()
    about: tuple[Sentence, ...] = ()
    faults: tuple[Sentence, ...] = field(default=())

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of what is drawn, m; zeros where nothing is."""
        xs: list[float] = []
        ys: list[float] = []
        for path in self.paths:
            xs += [float(path.points[:, 0].min()), float(path.points[:, 0].max())]
            ys += [float(path.points[:, 1].min()), float(path.points[:, 1].max())]
        for c in self.circles:
            xs += [c.x - c.radius, c.x + c.radius]
            ys += [c.y - c.radius, c.y + c.radius]
        for n in self.notes:
            xs.append(n.x)
            ys += [n.y, n.y + n.height]
        return (min(xs), min(ys), max(xs), max(ys)) if xs else (0.0, 0.0, 0.0, 0.0)

    @property
    def size(self) -> tuple[float, float]:
        """How wide and high it is in m."""
        left, low, right, high = self.box
        return right - left, high - low


def rectangle(left: float, low: float, right: float, high: float, layer: str = CUT) -> Path:
    """A rectangle between `left`, `low`, `right` and `high`, m, on a `layer`."""
    return Path(np.array([[left, low], [right, low], [right, high], [left, high]]), layer, True)


def translated(drawing: Drawing, x: float, y: float) -> Drawing:
    """A `drawing` shifted by `x` and `y` m."""
    by = np.array([x, y])
    return Drawing(
        key=drawing.key,
        title=drawing.title,
        paths=tuple(Path(p.points + by, p.layer, p.closed) for p in drawing.paths),
        circles=tuple(Circle(c.x + x, c.y + y, c.radius, c.layer) for c in drawing.circles),
        notes=tuple(dataclasses.replace(n, x=n.x + x, y=n.y + y) for n in drawing.notes),
        about=drawing.about,
        faults=drawing.faults,
    )


def polyline(points: Sequence[tuple[float, float]], layer: str = CUT, closed: bool = False) -> Path:
    """A line through `points` (m) on a `layer`, `closed` or not."""
    return Path(np.array(points, float), layer, closed)
