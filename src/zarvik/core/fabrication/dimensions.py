"""Dimensions on a drawing: between the holes, and over all: a rule laid on the print or the part finds what the eye does not."""

from __future__ import annotations

import dataclasses
import itertools
from collections.abc import Iterator, Sequence

from zarvik.core.common.sentences import Figure, message
from zarvik.core.fabrication.drawing import WORDS, Drawing, Note, Path, polyline

LETTERS = 0.003  # m
OFF, STEP = 0.007, 0.008  # m from the outline to the first row of dimensions, and from row to row
TICK = 0.0015  # m, half of the slanted stroke at an end
FIT = 0.017  # m that the figure of a dimension takes
SIDE = 0.150  # m: only a part that is not wider has dimensions at its right, which else would cost a sheet more


def _steps(values: Sequence[float]) -> list[float]:
    """Different places along a way, in order; what is closer than half a millimetre is one."""
    found: list[float] = []
    for value in sorted(values):
        if not found or value - found[-1] > 5e-4:
            found.append(value)
    return found


def _across(one: float, other: float, y: float, edge: float) -> Iterator[Path | Note]:
    """A dimension along x between two places, its line at `y`, its ends led there from the `edge` of the part."""
    yield polyline([(one, y), (other, y)], WORDS)
    for x in (one, other):
        yield polyline([(x - TICK, y - TICK), (x + TICK, y + TICK)], WORDS)
        yield polyline([(x, edge + (0.002 if y > edge else -0.002)), (x, y + (0.002 if y > edge else -0.002))], WORDS)
    if other - one >= FIT:
        yield Note(
            0.5 * (one + other) - 0.5 * FIT + 0.002, y + 0.001, message("{size}", size=Figure(other - one, "length")), LETTERS, along=True
        )


def _up(low: float, high: float, x: float, edge: float) -> Iterator[Path | Note]:
    """A dimension along y between two heights, its line at `x`, right of the `edge` of the part."""
    yield polyline([(x, low), (x, high)], WORDS)
    for y in (low, high):
        yield polyline([(x - TICK, y - TICK), (x + TICK, y + TICK)], WORDS)
        yield polyline([(edge + 0.002, y), (x + 0.002, y)], WORDS)
    yield Note(x + 0.002, 0.5 * (low + high) - 0.5 * LETTERS, message("{size}", size=Figure(high - low, "length")), LETTERS)


def dimensioned(drawing: Drawing, holes: Sequence[tuple[float, float]]) -> Drawing:
    """A `drawing` with dimensions from hole to hole (`holes`: their middles, m) and over all, on the layer of its words."""
    left, low, right, high = drawing.box
    found: list[Path | Note] = []
    across, up = _steps([x for x, _ in holes]), _steps([y for _, y in holes])
    for one, other in itertools.pairwise(across):
        found += _across(one, other, high + OFF, high)
    found += _across(left, right, low - OFF - LETTERS, low)
    if right - left <= SIDE:
        for one, other in itertools.pairwise(up):
            found += _up(one, other, right + OFF, right)
        found += _up(low, high, right + OFF + 2.4 * STEP, right)
    return dataclasses.replace(
        drawing,
        paths=(*drawing.paths, *(item for item in found if isinstance(item, Path))),
        notes=(*drawing.notes, *(item for item in found if isinstance(item, Note))),
    )
