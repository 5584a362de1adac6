"""Tubes that nearly go, all of a set at once, moved until they do: least squares of by how much they offend (K. Levenberg 1944, D. W.
Marquardt 1963); compiled."""

from __future__ import annotations

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.layout.kinematics import damped_step
from zarvik.core.routing.bay import MOST_BENDS
from zarvik.core.routing.residuals import BARE, STRAIGHT, nearest_of_itself, nearest_of_two, of_bodies, of_itself, of_shape, of_two
from zarvik.core.routing.tubes import SAMPLES, free, place_corners, sample
from zarvik.core.solids.distance import away_from

NUMBERS = 3 * MOST_BENDS - 4
OWN = 2 * SAMPLES + 2 * MOST_BENDS + 4  # residuals of one tube
NUDGE = 2e-5  # m, of a number to see what it does
CLOSED = 1e-13  # m², the sum of all squares: nothing offends
FARTHEST = 0.12  # m that a number moves in a step
SHARE = 0.85  # of the tolerance that lengths are brought within
SHORTEST, LONGEST, TOLERANCE = 0, 1, 2  # of the lengths that are asked for


@compiled
def shape(ends: np.ndarray, x: np.ndarray, bends: int, radii: np.ndarray, rules: np.ndarray, points: np.ndarray, out: np.ndarray) -> float:
    """Fill `points` m of a tube between two `ends` (port and inlet, each place m and way) and by how much its straights and angles offend,
    m, into `out` (`OWN` less two of `SAMPLES`); its length, m. `x` m, `bends`, `radii` m: the tube; `rules`: m and rad."""
    corners = np.empty((MOST_BENDS + 2, 3))
    legs = np.empty((MOST_BENDS + 1, 4))
    straights = np.empty(MOST_BENDS + 1)
    angles = np.empty(MOST_BENDS)
    place_corners(ends[0], ends[1], x, bends, corners)
    length = sample(corners, bends, radii, legs, straights, angles, points)
    for k in range(OWN - 2 * SAMPLES):
        out[k] = 0.0
    of_shape(bends, radii, straights, angles, rules, out)
    # A corner behind its end would turn the tube round
    out[OWN - 2 * SAMPLES - 3] = max(rules[STRAIGHT] - x[0], 0.0) + max(rules[STRAIGHT] - x[1], 0.0)
    return length


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
    length = shape(ends, x, bends, radii, rules, points, out[2 * SAMPLES :])
    of_bodies(points, length, bodies, rules, out[:SAMPLES])
    of_itself(points, rules, out[SAMPLES : 2 * SAMPLES])
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
def slopes_by_itself(
    points: np.ndarray,
    length: float,
    bodies: np.ndarray,
    rules: np.ndarray,
    r: np.ndarray,
    ways: np.ndarray,
    first: int,
    slopes: np.ndarray,
) -> None:
    """How what a tube offends by itself, `r` (`OWN`) m, changes with its numbers, from where its `points` m go (`ways`, numbers, SAMPLES,
    3), into `slopes` from the column `first` on. `length` m, `bodies`, `rules`: m and rad."""
    g = np.empty(3)
    for k in range(SAMPLES):
        if r[k] > 0.0:
            at_end = points[k, 3] < rules[BARE] or length - points[k, 3] < rules[BARE]
            away_from(bodies, points[k, 0], points[k, 1], points[k, 2], at_end, g)
            for v in range(ways.shape[0]):
                slopes[k, first + v] = -(g[0] * ways[v, k, 0] + g[1] * ways[v, k, 1] + g[2] * ways[v, k, 2])
        if r[SAMPLES + k] > 0.0:
            other = nearest_of_itself(points, k, rules, g)
            for v in range(ways.shape[0]):
                change = 0.0
                for j in range(3):
                    change -= g[j] * (ways[v, k, j] - ways[v, other, j])
                slopes[SAMPLES + k, first + v] = change


@compiled
def slopes_of_two(
    one: np.ndarray,
    length: float,
    other: np.ndarray,
    other_length: float,
    rules: np.ndarray,
    r: np.ndarray,
    ways: np.ndarray,
    columns: np.ndarray,
    other_columns: np.ndarray,
    slopes: np.ndarray,
) -> None:
    """How what `one` tube offends against an `other` (SAMPLES, 4; m), `r` (SAMPLES) m, changes with their numbers, which stand in
    `columns` and `other_columns` (first, after the last) of `slopes`. `ways` as in `slopes_by_itself`; `length`, `other_length` m; `rules`:
    m and rad."""
    g = np.empty(3)
    for k in range(SAMPLES):
        if r[k] <= 0.0:
            continue
        there = nearest_of_two(one, length, k, other, other_length, rules, g)
        for v in range(columns[0], columns[1]):
            slopes[k, v] = -(g[0] * ways[v, k, 0] + g[1] * ways[v, k, 1] + g[2] * ways[v, k, 2])
        for v in range(other_columns[0], other_columns[1]):
            slopes[k, v] = g[0] * ways[v, there, 0] + g[1] * ways[v, there, 1] + g[2] * ways[v, there, 2]


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
    ways = np.empty((count, SAMPLES, 3))
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
            if r[row] > 0.0:
                for k in range(count):
                    slopes[row, k] = 0.0
        for i in range(tubes):
            for v in range(free(bends[i])):
                column = first[i] + v
                kept = x[i, v]
                x[i, v] = kept + NUDGE
                begin = i * OWN + 2 * SAMPLES
                length = shape(ends[i], x[i], bends[i], radii[i], rules, other, near[begin : begin + OWN - 2 * SAMPLES])
                of_length(length, common, lengths, near[i * OWN : (i + 1) * OWN])
                x[i, v] = kept
                for k in range(begin, (i + 1) * OWN):
                    if r[k] > 0.0:
                        slopes[k, column] = (near[k] - r[k]) / NUDGE
                for k in range(SAMPLES):
                    for j in range(3):
                        ways[column, k, j] = (other[k, j] - points[i, k, j]) / NUDGE
        for i in range(tubes):
            slopes_by_itself(
                points[i],
                found[i],
                bodies,
                rules,
                r[i * OWN : (i + 1) * OWN],
                ways[first[i] : first[i + 1]],
                first[i],
                slopes[i * OWN : (i + 1) * OWN],
            )
        at = tubes * OWN
        for i in range(tubes):
            for j in range(i + 1, tubes):
                slopes_of_two(
                    points[i],
                    found[i],
                    points[j],
                    found[j],
                    rules,
                    r[at : at + SAMPLES],
                    ways,
                    first[i : i + 2],
                    first[j : j + 2],
                    slopes[at : at + SAMPLES],
                )
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
            if r[row] <= 0.0:
                continue
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
