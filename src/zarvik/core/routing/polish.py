"""Tubes that nearly go, all of a set at once, moved until they do: least squares of by how much they offend (K. Levenberg 1944, D. W.
Marquardt 1963); compiled."""

from __future__ import annotations

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.layout.kinematics import damped_step
from zarvik.core.routing.residuals import STRAIGHT, of_bodies, of_itself, of_shape, of_two
from zarvik.core.routing.tubes import SAMPLES, free, place_corners, sample

MOST_BENDS = 7
NUMBERS = 3 * MOST_BENDS - 4
OWN = 2 * SAMPLES + 2 * MOST_BENDS + 4  # residuals of one tube
NUDGE = 2e-5  # m, of a number to see what it does
CLOSED = 1e-13  # m², the sum of all squares: nothing offends
FARTHEST = 0.12  # m that a number moves in a step
SHARE = 0.85  # of the tolerance that lengths are brought within
SHORTEST, LONGEST, TOLERANCE = 0, 1, 2  # of the lengths that are asked for


@compiled
def own(
    ends: np.ndarray,
    x: np.ndarray,
    bends: int,
    radii: np.ndarray,
    bodies: np.ndarray,
    rules: np.ndarray,
    points: np.ndarray,
    out: np.ndarray,
) -> float:
    """Fill `points` m of a tube between two `ends` (port and inlet, each place m and way) and by how much it offends by itself, m, into
    `out`; its length, m. `x` m, `bends`, `radii` m: the tube; `bodies`, `rules`: m and rad."""
    corners = np.empty((MOST_BENDS + 2, 3))
    legs = np.empty((MOST_BENDS + 1, 4))
    straights = np.empty(MOST_BENDS + 1)
    angles = np.empty(MOST_BENDS)
    place_corners(ends[0], ends[1], x, bends, corners)
    length = sample(corners, bends, radii, legs, straights, angles, points)
    of_bodies(points, length, bodies, rules, out[:SAMPLES])
    of_itself(points, rules, out[SAMPLES : 2 * SAMPLES])
    for k in range(2 * SAMPLES, OWN):
        out[k] = 0.0
    of_shape(bends, radii, straights, angles, rules, out[2 * SAMPLES :])
    # A corner behind its end would turn the tube round
    out[OWN - 3] = max(rules[STRAIGHT] - x[0], 0.0) + max(rules[STRAIGHT] - x[1], 0.0)
    return length


@compiled
def of_length(length: float, common: float, lengths: np.ndarray, out: np.ndarray) -> None:
    """By how much a `length` is outside of what is asked for (`lengths`: shortest, longest m, tolerance) and off the `common` one m (0:
    there is none), m, into the last two places of `out`."""
    out[OWN - 2] = max(max(lengths[SHORTEST] - length, length - lengths[LONGEST]), 0.0)
    out[OWN - 1] = 0.0
    if common > 0.0:
        out[OWN - 1] = max(abs(length - common) - 0.5 * SHARE * lengths[TOLERANCE] * common, 0.0)


@compiled
def offences(
    ends: np.ndarray,
    x: np.ndarray,
    bends: np.ndarray,
    radii: np.ndarray,
    bodies: np.ndarray,
    rules: np.ndarray,
    lengths: np.ndarray,
    common: float,
    points: np.ndarray,
    found: np.ndarray,
    out: np.ndarray,
) -> float:
    """Sum of the squares of by how much all tubes of a set offend, m². Fills their `points` m, the lengths `found` m, and `out` m: of each
    tube `OWN`, then of each two `SAMPLES`. `ends`, `x`, `bends`, `radii`, `bodies`, `rules`, `lengths` as in `polish`, m and rad; `common`
    m."""
    tubes = bends.shape[0]
    total = 0.0
    for i in range(tubes):
        found[i] = own(ends[i], x[i], bends[i], radii[i], bodies, rules, points[i], out[i * OWN : (i + 1) * OWN])
        of_length(found[i], common, lengths, out[i * OWN : (i + 1) * OWN])
        for k in range(OWN):
            total += out[i * OWN + k] * out[i * OWN + k]
    at = tubes * OWN
    for i in range(tubes):
        for j in range(i + 1, tubes):
            total += of_two(points[i], found[i], points[j], found[j], rules, out[at : at + SAMPLES])
            at += SAMPLES
    return total


@compiled
def polish(
    ends: np.ndarray,
    x: np.ndarray,
    bends: np.ndarray,
    radii: np.ndarray,
    bodies: np.ndarray,
    rules: np.ndarray,
    lengths: np.ndarray,
    steps: int,
) -> float:
    """Move tubes until nothing offends, in at most so many `steps`; the sum of the squares that is left, m².

    `ends` (tubes, 2, 2, 3): port and inlet of each, place m and way. `x` (tubes, NUMBERS) m is moved; `bends` (tubes), `radii` (tubes,
    MOST_BENDS) m stay. `bodies`, packed; `rules` and `lengths` (shortest, longest m, tolerance): see `residuals` and `of_length`, m and
    rad.
    """
    tubes = bends.shape[0]
    rows = tubes * OWN + tubes * (tubes - 1) // 2 * SAMPLES
    together = tubes > 1
    count = 0
    for i in range(tubes):
        count += free(bends[i])
    first = np.zeros(tubes + 1, np.int64)
    for i in range(tubes):
        first[i + 1] = first[i] + free(bends[i])
    if together:
        count += 1
    points = np.empty((tubes, SAMPLES, 4))
    moved = np.empty((tubes, SAMPLES, 4))
    found = np.empty(tubes)
    trial_found = np.empty(tubes)
    r = np.empty(rows)
    near = np.empty(rows)
    slopes = np.zeros((rows, count))
    normal = np.empty((count, count))
    right = np.empty(count)
    shut = np.zeros(count, np.bool_)
    trial = np.empty((tubes, x.shape[1]))
    other = np.empty((SAMPLES, 4))
    used = np.empty(count, np.int64)
    common = 0.0
    cost = offences(ends, x, bends, radii, bodies, rules, lengths, 0.0, points, found, r)
    if together:
        low, high = found[0], found[0]
        for i in range(tubes):
            low, high = min(low, found[i]), max(high, found[i])
        common = min(max(0.5 * (low + high), lengths[SHORTEST]), lengths[LONGEST])
        cost = offences(ends, x, bends, radii, bodies, rules, lengths, common, points, found, r)
    damping = 1e-3
    for _ in range(steps):
        if cost < CLOSED:
            break
        for row in range(rows):
            for k in range(count):
                slopes[row, k] = 0.0
        for i in range(tubes):
            for v in range(free(bends[i])):
                column = first[i] + v
                kept = x[i, v]
                x[i, v] = kept + NUDGE
                begin = i * OWN
                length = own(ends[i], x[i], bends[i], radii[i], bodies, rules, other, near[begin : begin + OWN])
                of_length(length, common, lengths, near[begin : begin + OWN])
                x[i, v] = kept
                for k in range(begin, begin + OWN):
                    slopes[k, column] = (near[k] - r[k]) / NUDGE
                at = tubes * OWN
                for a in range(tubes):
                    for b in range(a + 1, tubes):
                        if a == i:
                            of_two(other, length, points[b], found[b], rules, near[at : at + SAMPLES])
                        elif b == i:
                            of_two(points[a], found[a], other, length, rules, near[at : at + SAMPLES])
                        if a == i or b == i:
                            for k in range(at, at + SAMPLES):
                                slopes[k, column] = (near[k] - r[k]) / NUDGE
                        at += SAMPLES
        if together:
            for i in range(tubes):
                k = (i + 1) * OWN - 1
                if r[k] > 0.0:
                    slopes[k, count - 1] = (-1.0 if found[i] > common else 1.0) - 0.5 * SHARE * lengths[TOLERANCE]
        for i in range(count):
            right[i] = 0.0
            for j in range(count):
                normal[i, j] = 0.0
        for row in range(rows):
            many = 0
            for k in range(count):
                if slopes[row, k] != 0.0:
                    used[many] = k
                    many += 1
            for p in range(many):
                value = slopes[row, used[p]]
                right[used[p]] -= value * r[row]
                for q in range(p + 1):
                    normal[used[p], used[q]] += value * slopes[row, used[q]]
        better = False
        for _ in range(8):
            step = damped_step(normal, right, damping, shut)
            for i in range(tubes):
                for v in range(free(bends[i])):
                    trial[i, v] = x[i, v] + min(max(step[first[i] + v], -FARTHEST), FARTHEST)
            there = common + (min(max(step[count - 1], -FARTHEST), FARTHEST) if together else 0.0)
            new = offences(ends, trial, bends, radii, bodies, rules, lengths, there, moved, trial_found, near)
            if new < cost:
                better = True
                break
            damping *= 6.0
        if not better:
            break
        gain = cost - new
        damping = max(0.2 * damping, 1e-9)
        cost = new
        common = there
        for i in range(tubes):
            found[i] = trial_found[i]
            for v in range(free(bends[i])):
                x[i, v] = trial[i, v]
        for i in range(tubes):
            for k in range(SAMPLES):
                for j in range(4):
                    points[i, k, j] = moved[i, k, j]
        for k in range(rows):
            r[k] = near[k]
        if gain < 1e-4 * cost:
            break
    return cost
