"""Where everything of the pressure run stands, computed without a window.

The losses of the cold side are drawn on one scale of pixels per pascal, those of the hot side on one
of their own, so that a loss of 2 kPa is a step that can be seen and compared; what is sixty times as
high (compressor, cylinders, turbine) is drawn broken, with its figure in the break. A piece is as
wide as its share of the loss of its side, above a least width that keeps its figure legible.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zarvik.core.airpath.point import Point, Stretch
from zarvik.project.language.language import tr

BREAKS = {"compressor": 112.0, "engine": 62.0, "turbine": 84.0, "open": 30.0}
LEAST_WIDTH = 25.0
LARGEST_SCALE = 11.0 / 1000.0  # px per Pa: 1 kPa is never drawn higher than this
FLOOR = 24.0  # px of body that stays under the lowest pressure
HOT_SECTIONS = ("manifold", "exhaust", "turbine")
HOT_SHARE = 0.36  # of the room that is left over


@dataclass(frozen=True)
class Span:
    """A piece on the run: its stretch, its pixels across, the pixel heights of its ends, the gas
    temperatures (K) before and behind it."""

    stretch: Stretch
    left: float
    right: float
    top_in: float
    top_out: float
    before: float
    temperature: float

    @property
    def width(self) -> float:
        """Pixels across."""
        return self.right - self.left

    @property
    def name(self) -> str:
        """What it is called: by its owner, or by what it is."""
        s = self.stretch
        return tr(s.name or s.kind) if s.kind in (*BREAKS, "cooler") else s.name

    @property
    def hot(self) -> bool:
        """Is it on the hot side?"""
        return self.stretch.section in HOT_SECTIONS

    @property
    def broken(self) -> bool:
        """Is it drawn broken?"""
        return self.stretch.kind in BREAKS


@dataclass(frozen=True)
class Profile:
    """The laid-out run. `scale`, `hot_scale`: px per Pa of the losses. `base`: bottom pixel."""

    spans: tuple[Span, ...]
    scale: float
    hot_scale: float
    base: float

    def at(self, x: float) -> Span | None:
        """The piece under the pixel `x`, None beside the run."""
        return next((s for s in self.spans if s.left <= x < s.right), None)


def widths(stretches: Sequence[Stretch], total: float, breaks: float = 1.0) -> list[float]:
    """Pixels across for each piece: the least width, and the rest by share of its side's loss; `breaks`: what is drawn broken, as a share
    of its full width."""
    pieces = [s for s in stretches if s.kind not in BREAKS]
    fixed = breaks * sum(BREAKS[s.kind] for s in stretches if s.kind in BREAKS)
    room = total - fixed
    least = min(LEAST_WIDTH, room / max(len(pieces), 1))
    spare = max(room - least * len(pieces), 0.0)
    sums = {hot: sum(max(s.drop, 0.0) for s in pieces if (s.section in HOT_SECTIONS) == hot) for hot in (False, True)}
    shares = {False: 1.0 - HOT_SHARE, True: HOT_SHARE}
    if sums[True] <= 0.0:
        shares = {False: 1.0, True: 0.0}
    if sums[False] <= 0.0:
        shares = {False: 0.0, True: 1.0}

    def width(s: Stretch) -> float:
        hot = s.section in HOT_SECTIONS
        part = max(s.drop, 0.0) / sums[hot] if sums[hot] > 0.0 else 0.0
        return least + spare * shares[hot] * part

    return [breaks * BREAKS[s.kind] if s.kind in BREAKS else width(s) for s in stretches]


def lay_out(point: Point, *, left: float, right: float, top: float, bottom: float, breaks: float = 1.0) -> Profile:
    """The run of a solved point within these pixels (y grows downward); `breaks`: what is drawn broken, as a share of its full width."""
    stretches = point.stretches
    across = widths(stretches, right - left, breaks)

    def loss(*sections: str) -> float:
        return sum(s.drop for s in stretches if s.section in sections and s.kind not in BREAKS)

    intake, charge = loss("intake"), loss("hot_pipe", "cold_pipe", "cooler")
    manifold, exhaust = loss("manifold"), loss("exhaust")
    height = bottom - top - FLOOR
    scale = min(LARGEST_SCALE, height * 0.72 / max(intake, charge, 2000.0))
    hot_scale = min(LARGEST_SCALE, height * 0.58 / max(manifold, exhaust, 3000.0))
    starts = {
        "compressor": top,
        "engine": top,
        "turbine": bottom - FLOOR - exhaust * hot_scale,
        "open": bottom - FLOOR - exhaust * hot_scale,
    }
    spans = []
    x, y = left, bottom - FLOOR - intake * scale
    temperature = point.stations["ambient"].temperature
    for stretch, width in zip(stretches, across, strict=True):
        if stretch.kind in BREAKS:
            below = starts[stretch.kind]
        else:
            below = y + stretch.drop * (hot_scale if stretch.section in HOT_SECTIONS else scale)
        after = temperature + stretch.warming
        spans.append(Span(stretch=stretch, left=x, right=x + width, top_in=y, top_out=below, before=temperature, temperature=after))
        x, y, temperature = x + width, below, after
    return Profile(tuple(spans), scale, hot_scale, bottom)


@dataclass(frozen=True)
class LabelRequest:
    """A label that wants to stand with its middle at `x`: `width` px, `weight` (the heaviest keeps
    its place), `reach`: px that it may be moved to either side."""

    x: float
    width: float
    weight: float
    reach: float = 0.0


def beside(labels: Sequence[LabelRequest], *, left: float, right: float, gap: float) -> list[float | None]:
    """Left edges of labels on one line so that none overlaps another and all lie between `left` and
    `right`, with `gap` px between neighbours; None for one that finds no room."""
    taken: list[tuple[float, float]] = []
    edges: list[float | None] = [None] * len(labels)
    for i in sorted(range(len(labels)), key=lambda i: -labels[i].weight):
        label = labels[i]
        edge = _nearest(label, taken, left, right, gap)
        edges[i] = edge
        if edge is not None:
            taken.append((edge - gap, edge + label.width + gap))
    return edges


def _nearest(label: LabelRequest, taken: Sequence[tuple[float, float]], left: float, right: float, gap: float) -> float | None:
    """The free place that is nearest to where the label wants to be, within its reach."""
    if right - left < label.width:
        return None
    home = min(max(label.x - label.width / 2.0, left), right - label.width)
    places = [home]
    for low, high in taken:
        places += [low - label.width, high]
    free = [
        p
        for p in places
        if left <= p <= right - label.width
        and abs(p - home) <= label.reach + 1e-9
        and all(p + label.width <= low + 1e-9 or p >= high - 1e-9 for low, high in taken)
    ]
    return min(free, key=lambda p: abs(p - home), default=None)
