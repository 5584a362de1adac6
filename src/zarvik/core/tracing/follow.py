"""Following a drawn curve between two points: the path that costs least over what is dark, or of one colour.

E. N. Mortensen, W. A. Barrett, Intelligent scissors for image composition, SIGGRAPH 1995, 191.
"""

from __future__ import annotations

import heapq
import math

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.numerics import ndimage

PAPER = 0.03  # what a step over blank paper costs less than: 1 / 0.03 of one along a line
COLOUR = 60.0  # of 255: how far a colour may be off and still count as the same
WINDOW = 90_000  # px that a path is looked for in; a larger window is looked at more coarsely
REACH = 5.0  # px to both sides within which the middle of a line is looked for


def ink(picture: np.ndarray, anchor: np.ndarray | None = None) -> np.ndarray:
    """How much each px is drawn on, 0–1, in a `picture` of bytes (rows, columns, 3): how far it is from the
    paper, the commonest bright or dark ground; with an `anchor` (three bytes) what has that colour."""
    flat = picture.reshape(-1, 3)
    sample = flat[:: max(len(flat) // 20_000, 1)].astype(np.float32)
    rgb = picture.astype(np.int16)
    light = sample.mean(axis=1)
    # The paper is what most px are: the commonest of sixteen shades.
    counts, edges = np.histogram(light, bins=16, range=(0.0, 256.0))
    most = int(counts.argmax())
    ground = sample[(light >= edges[most]) & (light <= edges[most + 1])]
    paper = np.median(ground, axis=0)
    drawn = np.minimum(_apart(rgb, paper) / np.float32(160.0), np.float32(1.0))
    if anchor is not None and np.abs(anchor - paper).max() > 40.0:
        # Most px are blank and stay so: only what is drawn on is compared.
        marked = drawn > 0.1
        off = np.abs(rgb[marked] - anchor.astype(np.int16)).max(axis=1) / np.float32(COLOUR)
        drawn[marked] *= np.exp(-(off**2))
    return drawn


def _apart(rgb: np.ndarray, colour: np.ndarray) -> np.ndarray:
    """Largest difference of any channel from a `colour` at each px (0–255)."""
    red, green, blue = (np.abs(rgb[..., i] - np.int16(round(float(colour[i])))) for i in range(3))
    return np.maximum(np.maximum(red, green), blue).astype(np.float32)


@compiled
def cheapest(cost: np.ndarray, start: tuple[int, int], end: tuple[int, int]) -> np.ndarray:
    """The cheapest way over a `cost` for each px (rows, columns) from `start` to `end` (row, column), in eight
    directions (Dijkstra); rows of (row, column)."""
    rows, columns = cost.shape
    total = np.full(rows * columns, np.inf)
    came = np.full(rows * columns, -1, np.int64)
    done = np.zeros(rows * columns, np.bool_)
    first = start[0] * columns + start[1]
    last = end[0] * columns + end[1]
    total[first] = 0.0
    heap = [(0.0, first)]
    while len(heap) > 0:
        here, place = heapq.heappop(heap)
        if done[place]:
            continue
        done[place] = True
        if place == last:
            break
        r, c = place // columns, place % columns
        for dr in range(-1, 2):
            for dc in range(-1, 2):
                nr, nc = r + dr, c + dc
                if (dr == 0 and dc == 0) or nr < 0 or nc < 0 or nr >= rows or nc >= columns:
                    continue
                there = nr * columns + nc
                if done[there]:
                    continue
                step = 0.5 * (cost[r, c] + cost[nr, nc]) * math.sqrt(float(dr * dr + dc * dc))
                if here + step < total[there]:
                    total[there] = here + step
                    came[there] = place
                    heapq.heappush(heap, (here + step, there))
    count = 1
    place = last
    while place != first and came[place] >= 0:
        place = came[place]
        count += 1
    path = np.empty((count, 2), np.int64)
    place = last
    for i in range(count - 1, -1, -1):
        path[i, 0] = place // columns
        path[i, 1] = place % columns
        place = came[place]
    return path


def trace_between(
    picture: np.ndarray, one: tuple[float, float], two: tuple[float, float], *, colour: bool = True, window: int = WINDOW
) -> np.ndarray:
    """The drawn curve from `one` to `two` (px: right, down) in a `picture` of bytes (rows, columns, 3), to a part
    of a px; rows of (right, down). With `colour` the line keeps the colour that it has at `one`; looked for in
    `window` px at the most: fewer are quicker and coarser."""
    tall, wide = picture.shape[:2]
    span = max(abs(one[0] - two[0]), abs(one[1] - two[1]))
    margin = 20.0 + 0.35 * span
    left = int(max(min(one[0], two[0]) - margin, 0))
    right = int(min(max(one[0], two[0]) + margin + 1, wide))
    top = int(max(min(one[1], two[1]) - margin, 0))
    bottom = int(min(max(one[1], two[1]) + margin + 1, tall))
    if right - left < 3 or bottom - top < 3:
        return np.array([one, two], float)
    crop = picture[top:bottom, left:right]
    every = max(math.ceil(math.sqrt((bottom - top) * (right - left) / window)), 1)
    anchor = _colour_at(picture, one) if colour else None
    drawn = ink(crop, anchor)
    if every > 1:
        # The darkest of each tile, so that a hair line is not lost.
        r, c = drawn.shape[0] // every * every, drawn.shape[1] // every * every
        small = drawn[:r, :c].reshape(r // every, every, c // every, every).max(axis=(1, 3))
    else:
        small = drawn
    cost = 1.0 / (PAPER + small.astype(np.float64))

    def cell(spot: tuple[float, float]) -> tuple[int, int]:
        row = int((spot[1] - top) / every)
        column = int((spot[0] - left) / every)
        return min(max(row, 0), small.shape[0] - 1), min(max(column, 0), small.shape[1] - 1)

    path = cheapest(np.ascontiguousarray(cost), cell(one), cell(two)).astype(float)
    spots = (path[:, ::-1] + 0.5) * every - 0.5
    found = _middle(drawn, spots, REACH + 0.7 * every)
    return np.asarray(found + np.array([left, top]))


def snap_to_curve(picture: np.ndarray, spot: tuple[float, float], reach: float) -> tuple[float, float]:
    """The drawn px of a `picture` of bytes nearest to `spot` (px: right, down) within `reach` px; the spot itself
    on blank paper."""
    tall, wide = picture.shape[:2]
    left, right = int(max(spot[0] - reach, 0)), int(min(spot[0] + reach + 1, wide))
    top, bottom = int(max(spot[1] - reach, 0)), int(min(spot[1] + reach + 1, tall))
    if right - left < 3 or bottom - top < 3:
        return spot
    drawn = ndimage().gaussian_filter(ink(picture[top:bottom, left:right]), 1.0)
    rows, columns = np.mgrid[top:bottom, left:right]
    far = np.hypot(rows - spot[1], columns - spot[0])
    worth = drawn * np.exp(-((far / (0.6 * reach)) ** 2)) * (far <= reach)
    best = np.unravel_index(int(worth.argmax()), worth.shape)
    if drawn[best] < 0.15:
        return spot
    return float(columns[best]), float(rows[best])


def _colour_at(picture: np.ndarray, spot: tuple[float, float]) -> np.ndarray:
    """Colour of the most drawn px within two of `spot`: three bytes."""
    tall, wide = picture.shape[:2]
    column, row = round(spot[0]), round(spot[1])
    # An end before the first px would count from the last one.
    crop = picture[max(row - 2, 0) : max(min(row + 3, tall), 0), max(column - 2, 0) : max(min(column + 3, wide), 0)]
    if crop.size == 0:
        return np.zeros(3)
    around = picture[max(row - 40, 0) : row + 41, max(column - 40, 0) : column + 41]
    paper = np.median(around.reshape(-1, 3), axis=0)
    off = np.abs(crop.astype(float) - paper).max(axis=2)
    best = np.unravel_index(int(off.argmax()), off.shape)
    return np.asarray(crop[best], dtype=float)


def _middle(drawn: np.ndarray, spots: np.ndarray, reach: float) -> np.ndarray:
    """A path of px moved onto the middle of its line, and smoothed; rows of (right, down)."""
    if len(spots) < 5:
        return spots
    smooth = np.column_stack([ndimage().gaussian_filter1d(spots[:, i], 3.0, mode="nearest") for i in (0, 1)])
    tangent = np.gradient(smooth, axis=0)
    length = np.hypot(tangent[:, 0], tangent[:, 1])
    normal = np.column_stack([-tangent[:, 1], tangent[:, 0]]) / np.maximum(length, 1e-9)[:, np.newaxis]
    offsets = np.arange(-reach, reach + 0.25, 0.5)
    at = smooth[:, np.newaxis, :] + normal[:, np.newaxis, :] * offsets[np.newaxis, :, np.newaxis]
    values = ndimage().map_coordinates(drawn, [at[..., 1], at[..., 0]], order=1, mode="nearest")
    # What belongs to another line beside it counts less.
    weight = values**2 * np.exp(-((offsets / reach) ** 2))
    total = weight.sum(axis=1)
    shift = np.where(total > 0.05, (weight * offsets).sum(axis=1) / np.maximum(total, 1e-9), 0.0)
    shift = ndimage().gaussian_filter1d(shift, 2.0, mode="nearest")
    return np.asarray(smooth + normal * shift[:, np.newaxis])
