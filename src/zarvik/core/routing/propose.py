"""Tubes by chance, of which those are kept that offend least, of every length; compiled."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.routing.bay import MOST_BENDS
from zarvik.core.routing.residuals import DIAMETER, STRAIGHT, of_bodies, of_shape
from zarvik.core.routing.tubes import free, place_corners, sample

COARSE = 28  # points along a tube that is looked at for the first time
CLASSES = 6  # of length, each a step longer
LONGER = 0.14  # of the shortest length from one class to the next


@compiled
def propose(
    ends: np.ndarray,
    bends: int,
    sold: np.ndarray,
    bodies: np.ndarray,
    rules: np.ndarray,
    seed: int,
    tries: int,
    wide: float,
    x: np.ndarray,
    radii: np.ndarray,
    costs: np.ndarray,
    lengths: np.ndarray,
) -> int:
    """Try `tries` tubes of so many `bends` between two `ends` (place m and way), radii of those `sold` m, and keep the best of every class
    of length in `x` (kept, NUMBERS) m, `radii` (kept, MOST_BENDS) m, `costs` m², `lengths` m; how many were kept. `wide`: how far corners
    stray, over the distance of the ends. `bodies`, `rules`: m and rad. `seed` decides."""
    np.random.seed(seed)
    kept = costs.shape[0]
    each = kept // CLASSES
    corners = np.empty((MOST_BENDS + 2, 3))
    legs = np.empty((MOST_BENDS + 1, 4))
    straights = np.empty(MOST_BENDS + 1)
    angles = np.empty(MOST_BENDS)
    points = np.empty((COARSE, 4))
    out = np.empty(max(COARSE, 2 * MOST_BENDS + 1))
    y = np.empty(x.shape[1])
    turns = np.empty(MOST_BENDS)
    for k in range(kept):
        costs[k] = 1e9
    far = 0.0
    for j in range(3):
        far += (ends[1, 0, j] - ends[0, 0, j]) ** 2
    far = math.sqrt(far)
    largest = 0.0
    for k in range(sold.shape[0]):
        largest = max(largest, sold[k])
    for _ in range(tries):
        for i in range(bends):
            turns[i] = sold[np.random.randint(0, sold.shape[0])]
        # Bends of half a right angle at the least, straights as short as may be, and what chance adds
        y[0] = rules[STRAIGHT] + turns[0] * (0.4 + 0.7 * np.random.random()) + far * 0.9 * np.random.random() ** 2
        y[1] = rules[STRAIGHT] + turns[bends - 1] * (0.4 + 0.7 * np.random.random()) + far * 0.9 * np.random.random() ** 2
        for i in range(2, bends):
            share = (i - 1.0) / (bends - 1.0)
            for j in range(3):
                a = ends[0, 0, j] + y[0] * ends[0, 1, j]
                b = ends[1, 0, j] - y[1] * ends[1, 1, j]
                y[2 + 3 * (i - 2) + j] = a + share * (b - a) + wide * (far + 2.0 * rules[DIAMETER]) * np.random.normal()
        place_corners(ends[0], ends[1], y, bends, corners)
        length = sample(corners, bends, turns, legs, straights, angles, points)
        cost = of_shape(bends, turns, straights, angles, rules, out) * 2.0
        if cost < 0.02:
            cost += of_bodies(points, length, bodies, rules, out)
        group = min(max(int((length / max(far, 0.1) - 1.0) / LONGER), 0), CLASSES - 1)
        worst = group * each
        for k in range(group * each, group * each + each):
            if costs[k] > costs[worst]:
                worst = k
        if cost < costs[worst]:
            costs[worst] = cost
            lengths[worst] = length
            for v in range(free(bends)):
                x[worst, v] = y[v]
            for i in range(bends):
                radii[worst, i] = turns[i]
    many = 0
    for k in range(kept):
        if costs[k] < 1e8:
            if many != k:
                costs[many] = costs[k]
                lengths[many] = lengths[k]
                for v in range(x.shape[1]):
                    x[many, v] = x[k, v]
                for i in range(MOST_BENDS):
                    radii[many, i] = radii[k, i]
            many += 1
    return many
