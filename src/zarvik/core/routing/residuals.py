"""By how much a tube, and two of them, offend against what is asked: nothing where all is well, compiled.

Distances are looked at point by point, of stretches that may be close to each other.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.routing.bay import Bay
from zarvik.core.routing.tubes import SHARPEST
from zarvik.core.solids.distance import CENTRE, MOUNTED, REACH, SKIP, within

DIAMETER, CLEARANCE, GAP, STRAIGHT, BARE, SMALLEST, LARGEST, NEAR_INLETS, GAP_AT_INLETS, MARGIN = range(10)  # of the rules of a bay
RULES = 10
LARGEST_ANGLE = SHARPEST - 0.05  # rad
BLOCK = 6  # points of a stretch
APART = 2.5  # diameters along a tube from which it must keep clear of itself


def rules_of(bay: Bay) -> np.ndarray:
    """What a bay asks for, as the compiled code reads it: m and rad."""
    rules = np.zeros(RULES)
    rules[DIAMETER], rules[CLEARANCE], rules[GAP], rules[STRAIGHT] = bay.diameter, bay.clearance, bay.gap, bay.straight
    rules[BARE], rules[SMALLEST], rules[LARGEST] = bay.bare, bay.angles[0], min(bay.angles[1], LARGEST_ANGLE)
    rules[NEAR_INLETS], rules[GAP_AT_INLETS] = bay.near_inlets, bay.gap_at_inlets
    return rules


@compiled
def of_bodies(points: np.ndarray, length: float, bodies: np.ndarray, rules: np.ndarray, out: np.ndarray) -> float:
    """By how much each of the `points` (n, 4: places and how far along, m) of a tube of `length` m is too close to packed `bodies`, m, into
    `out` (n); the sum of the squares, m². `rules`: what the bay asks for, m and rad."""
    count = points.shape[0]
    step = points[1, 3] - points[0, 3]
    need = 0.5 * rules[DIAMETER] + rules[CLEARANCE] + rules[MARGIN]
    total = 0.0
    for begin in range(0, count, BLOCK):
        end = min(begin + BLOCK, count)
        middle = (begin + end) // 2
        wide = need + step * max(middle - begin, end - 1 - middle)
        x, y, z = points[middle, 0], points[middle, 1], points[middle, 2]
        for k in range(begin, end):
            out[k] = 0.0
        after = 0
        while after < bodies.shape[0]:
            i = after
            after += 1 + int(bodies[i, SKIP])
            u, v, w = x - bodies[i, CENTRE], y - bodies[i, CENTRE + 1], z - bodies[i, CENTRE + 2]
            away = wide + bodies[i, REACH]
            if u * u + v * v + w * w > away * away or within(bodies, i, x, y, z, 2.0 * wide) > wide:
                continue
            mounted = bodies[i, MOUNTED] > 0.0
            for k in range(begin, end):
                if mounted and (points[k, 3] < rules[BARE] or length - points[k, 3] < rules[BARE]):
                    continue
                out[k] = max(out[k], need - within(bodies, i, points[k, 0], points[k, 1], points[k, 2], need))
        for k in range(begin, end):
            total += out[k] * out[k]
    return total


@compiled
def of_itself(points: np.ndarray, rules: np.ndarray, out: np.ndarray) -> float:
    """By how much each of the `points` (n, 4) m of a tube is too close to a later stretch of it, m, into `out` (n); the sum of the squares,
    m². `rules`: m and rad."""
    count = points.shape[0]
    step = points[1, 3] - points[0, 3]
    need = rules[DIAMETER] + rules[GAP] + rules[MARGIN]
    first = int(APART * rules[DIAMETER] / step) + 1
    total = 0.0
    for begin in range(0, count, BLOCK):
        end = min(begin + BLOCK, count)
        for i in range(begin, end):
            out[i] = 0.0
        other = (begin + first) // BLOCK * BLOCK
        while other < count:
            last = min(other + BLOCK, count)
            apart = blocks_apart(points, begin, end, step, points, other, last, step, need)
            if apart == 0:
                for i in range(begin, end):
                    for k in range(max(other, i + first), last):
                        x, y, z = points[i, 0] - points[k, 0], points[i, 1] - points[k, 1], points[i, 2] - points[k, 2]
                        square = x * x + y * y + z * z
                        if square < need * need:
                            out[i] = max(out[i], need - math.sqrt(square))
            other += BLOCK * max(apart, 1)
        for i in range(begin, end):
            total += out[i] * out[i]
    return total


@compiled
def blocks_apart(
    one: np.ndarray, begin: int, end: int, step: float, other: np.ndarray, first: int, last: int, other_step: float, need: float
) -> int:
    """0 where a stretch of `one` tube, from point `begin` to before `end` (points m, a `step` m apart), may be closer than `need` m to one
    of an `other`, from `first` to before `last`, `other_step` m apart; else after how many blocks of the `other` the next may be: no tube
    comes back faster than it runs."""
    i, k = (begin + end) // 2, (first + last) // 2
    away = need + step * max(i - begin, end - 1 - i) + other_step * max(k - first, last - 1 - k)
    x, y, z = one[i, 0] - other[k, 0], one[i, 1] - other[k, 1], one[i, 2] - other[k, 2]
    square = x * x + y * y + z * z
    if square < away * away:
        return 0
    return 1 + int((math.sqrt(square) - away) / (BLOCK * other_step))


@compiled
def of_two(one: np.ndarray, length: float, other: np.ndarray, other_length: float, rules: np.ndarray, out: np.ndarray) -> float:
    """By how much each of the points of `one` tube (n, 4; m) is too close to an `other`, m, into `out` (n); the sum of the squares, m².
    Their lengths `length`, `other_length` m; `rules`: m and rad."""
    count, many = one.shape[0], other.shape[0]
    ahead, step = one[1, 3] - one[0, 3], other[1, 3] - other[0, 3]
    wide = rules[DIAMETER] + rules[GAP] + rules[MARGIN]
    tight = rules[DIAMETER] + rules[GAP_AT_INLETS] + 0.1 * rules[MARGIN]  # inlets may stand no further apart
    total = 0.0
    for begin in range(0, count, BLOCK):
        end = min(begin + BLOCK, count)
        for i in range(begin, end):
            out[i] = 0.0
        first = 0
        while first < many:
            last = min(first + BLOCK, many)
            apart = blocks_apart(one, begin, end, ahead, other, first, last, step, wide)
            if apart == 0:
                for i in range(begin, end):
                    late = length - one[i, 3] < rules[NEAR_INLETS]
                    for k in range(first, last):
                        x, y, z = one[i, 0] - other[k, 0], one[i, 1] - other[k, 1], one[i, 2] - other[k, 2]
                        square = x * x + y * y + z * z
                        if square < wide * wide:
                            need = tight if late and other_length - other[k, 3] < rules[NEAR_INLETS] else wide
                            out[i] = max(out[i], need - math.sqrt(square))
            first += BLOCK * max(apart, 1)
        for i in range(begin, end):
            total += out[i] * out[i]
    return total


@compiled
def unit(one: np.ndarray, other: np.ndarray, way: np.ndarray) -> float:
    """Distance of the points `one` and `other` m; fills the `way` from the other one to the first, of length 1."""
    total = 0.0
    for j in range(3):
        way[j] = one[j] - other[j]
        total += way[j] * way[j]
    total = math.sqrt(total)
    for j in range(3):
        way[j] /= max(total, 1e-9)
    return total


@compiled
def nearest_of_itself(points: np.ndarray, k: int, rules: np.ndarray, way: np.ndarray) -> int:
    """Which later point of a tube (`points` m) the point `k` is nearest to; fills the `way` from it. `rules`: m and rad."""
    first = k + int(APART * rules[DIAMETER] / (points[1, 3] - points[0, 3])) + 1
    best, least = first, 1e9
    for i in range(first, points.shape[0]):
        far = unit(points[k], points[i], way)
        if far < least:
            best, least = i, far
    unit(points[k], points[best], way)
    return best


@compiled
def nearest_of_two(
    one: np.ndarray, length: float, k: int, other: np.ndarray, other_length: float, rules: np.ndarray, way: np.ndarray
) -> int:
    """Which point of an `other` tube the point `k` of `one` offends most (points m, lengths `length` and `other_length` m); fills the `way`
    from it. `rules`: m and rad."""
    wide = rules[DIAMETER] + rules[GAP] + rules[MARGIN]
    tight = rules[DIAMETER] + rules[GAP_AT_INLETS] + 0.1 * rules[MARGIN]
    late = length - one[k, 3] < rules[NEAR_INLETS]
    best, most = 0, -1e9
    for i in range(other.shape[0]):
        need = tight if late and other_length - other[i, 3] < rules[NEAR_INLETS] else wide
        short = need - unit(one[k], other[i], way)
        if short > most:
            best, most = i, short
    unit(one[k], other[best], way)
    return best


@compiled
def of_shape(bends: int, radii: np.ndarray, straights: np.ndarray, angles: np.ndarray, rules: np.ndarray, out: np.ndarray) -> float:
    """By how much each of the `straights` m of a tube is too short and each of its `angles` rad too small or too large (as the way round
    its radius of `radii`, m), into `out` (2 `bends` + 1); the sum of the squares, m². `rules`: m and rad."""
    total = 0.0
    for i in range(bends + 1):
        out[i] = max(rules[STRAIGHT] + 0.6 * rules[MARGIN] - straights[i], 0.0)
    for i in range(bends):
        slack = 2e-3
        out[bends + 1 + i] = radii[i] * max(max(rules[SMALLEST] + slack - angles[i], angles[i] - rules[LARGEST] + slack), 0.0)
    for i in range(2 * bends + 1):
        total += out[i] * out[i]
    return total
