"""By how much a tube, and two of them, offend against what is asked: nothing where all is well, compiled.

Distances are looked at point by point. From a point that is far from everything the next ones are, too: as many are passed over as the
distance says.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.routing.bay import Bay
from zarvik.core.routing.distance import nearest
from zarvik.core.routing.tubes import SHARPEST

DIAMETER, CLEARANCE, GAP, STRAIGHT, BARE, SMALLEST, LARGEST, NEAR_INLETS, GAP_AT_INLETS, MARGIN = range(10)  # of the rules of a bay
RULES = 10
LARGEST_ANGLE = SHARPEST - 0.05  # rad
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
    most = need + 40.0 * step
    total = 0.0
    k = 0
    while k < count:
        along = points[k, 3]
        at_end = along < rules[BARE] or length - along < rules[BARE]
        found = nearest(bodies, points[k, 0], points[k, 1], points[k, 2], at_end, most)
        short = need - found
        out[k] = max(short, 0.0)
        total += out[k] * out[k]
        k += 1
        if short < 0.0 and not at_end:
            passed = int(-short / step)
            # What does not count here may count further on, and the other way round
            while passed > 0 and k < count and points[k, 3] >= rules[BARE] and length - points[k, 3] >= rules[BARE]:
                out[k] = 0.0
                k += 1
                passed -= 1
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
    for i in range(count):
        worst = 0.0
        k = i + first
        while k < count:
            x, y, z = points[i, 0] - points[k, 0], points[i, 1] - points[k, 1], points[i, 2] - points[k, 2]
            spare = math.sqrt(x * x + y * y + z * z) - need
            worst = max(worst, -spare)
            k += max(int(spare / step), 1)
        out[i] = worst
        total += worst * worst
    return total


@compiled
def of_two(one: np.ndarray, length: float, other: np.ndarray, other_length: float, rules: np.ndarray, out: np.ndarray) -> float:
    """By how much each of the points of `one` tube (n, 4; m) is too close to an `other`, m, into `out` (n); the sum of the squares, m².
    Their lengths `length`, `other_length` m; `rules`: m and rad."""
    count = one.shape[0]
    ahead = one[1, 3] - one[0, 3]
    step = other[1, 3] - other[0, 3]
    wide = rules[DIAMETER] + rules[GAP] + rules[MARGIN]
    tight = rules[DIAMETER] + rules[GAP_AT_INLETS] + 0.1 * rules[MARGIN]  # inlets may stand no further apart
    near = rules[NEAR_INLETS]
    total = 0.0
    i = 0
    while i < count:
        late = length - one[i, 3] < near
        worst = 0.0
        least = 1e9
        k = 0
        while k < other.shape[0]:
            x, y, z = one[i, 0] - other[k, 0], one[i, 1] - other[k, 1], one[i, 2] - other[k, 2]
            distance = math.sqrt(x * x + y * y + z * z)
            spare = distance - wide
            # Half of what is spare is passed over: the other half is what the points between have at the least
            least = min(least, 0.5 * spare if spare > 0.0 else spare)
            if late and other_length - other[k, 3] < near:
                worst = max(worst, tight - distance)
            else:
                worst = max(worst, -spare)
            k += max(int(0.5 * spare / step), 1)
        out[i] = worst
        total += worst * worst
        i += 1
        passed = int(least / ahead)
        while passed > 0 and i < count:
            out[i] = 0.0
            i += 1
            passed -= 1
    return total


@compiled
def of_shape(bends: int, radii: np.ndarray, straights: np.ndarray, angles: np.ndarray, rules: np.ndarray, out: np.ndarray) -> float:
    """By how much each of the `straights` m of a tube is too short and each of its `angles` rad too small or too large (as the way round
    its radius of `radii`, m), into `out` (2 `bends` + 1); the sum of the squares, m². `rules`: m and rad."""
    total = 0.0
    for i in range(bends + 1):
        out[i] = max(rules[STRAIGHT] + 0.1 * rules[MARGIN] - straights[i], 0.0)
    for i in range(bends):
        slack = 2e-3
        out[bends + 1 + i] = radii[i] * max(max(rules[SMALLEST] + slack - angles[i], angles[i] - rules[LARGEST] + slack), 0.0)
    for i in range(2 * bends + 1):
        total += out[i] * out[i]
    return total
