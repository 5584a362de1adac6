"""Where everything of the pressure run stands, computed without a window.

The losses before and after the compressor are drawn on one scale of pixels per pascal, so that a
loss of 2 kPa is a step that can be seen and compared anywhere; the compressor's rise, sixty times
as high, is drawn broken, with its figure in the break. A piece is as wide as its share of the loss,
above a least width that keeps its figure legible.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zarvik.core.airpath.solution import Point, Stretch

COMPRESSOR_WIDTH = 128.0
LEAST_WIDTH = 30.0
LARGEST_SCALE = 11.0 / 1000.0  # px per Pa: 1 kPa is never drawn higher than this
FLOOR = 26.0  # px of body that stays under the lowest pressure


@dataclass(frozen=True)
class Span:
    """A piece on the run: its stretch, its pixels across and the pixel heights of its ends."""

    stretch: Stretch
    left: float
    right: float
    top_in: float
    top_out: float
    temperature: float

    @property
    def width(self) -> float:
        """Pixels across."""
        return self.right - self.left


@dataclass(frozen=True)
class Profile:
    """The laid-out run. `scale`: px per Pa of every loss. `base`: pixel of the bottom."""

    spans: tuple[Span, ...]
    scale: float
    base: float

    def at(self, x: float) -> Span | None:
        """The piece under the pixel `x`, None beside the run."""
        return next((s for s in self.spans if s.left <= x < s.right), None)


def widths(stretches: Sequence[Stretch], total: float) -> list[float]:
    """Pixels across for each piece: the least width, and the rest by share of the loss."""
    pieces = [s for s in stretches if s.kind != "compressor"]
    fixed = sum(COMPRESSOR_WIDTH for s in stretches if s.kind == "compressor")
    room = total - fixed
    least = min(LEAST_WIDTH, room / max(len(pieces), 1))
    spare = max(room - least * len(pieces), 0.0)
    losses = [max(s.drop, 0.0) for s in pieces]
    whole = sum(losses) or 1.0
    shares = iter(least + spare * loss / whole for loss in losses)
    return [COMPRESSOR_WIDTH if s.kind == "compressor" else next(shares) for s in stretches]


def lay_out(point: Point, *, left: float, right: float, top: float, bottom: float) -> Profile:
    """The run of a solved point within these pixels (y grows downward)."""
    stretches = point.stretches
    across = widths(stretches, right - left)
    index = next((i for i, s in enumerate(stretches) if s.kind == "compressor"), 0)
    intake = sum(s.drop for s in stretches[:index])
    charge = sum(s.drop for s in stretches[index + 1 :])
    height = bottom - top
    # The intake stands low, the charge high; each needs its own loss, and they may overlap in
    # height because the break of the compressor lies between them.
    need = max(intake * 1.0, charge, 2000.0)
    scale = min(LARGEST_SCALE, (height - FLOOR) * 0.72 / need)
    start = bottom - FLOOR - intake * scale
    spans = []
    x, y = left, start
    temperature = point.stations["ambient"].temperature
    for stretch, width in zip(stretches, across, strict=True):
        if stretch.kind == "compressor":
            below = top
        else:
            below = y + stretch.drop * scale
        after = temperature + stretch.warming
        spans.append(Span(stretch, x, x + width, y, below, after))
        x, y, temperature = x + width, below, after
    return Profile(tuple(spans), scale, bottom)
