"""A tube as the corners where its straights would meet, each rounded by a radius, compiled.

What moves is few numbers: how far the first corner is from the port along its way, how far the last is before the inlet along its way, and
where the corners between stand. Whatever they are, the tube leaves its port and meets its inlet in their directions: nothing has to be
closed. A corner of half a turn has no place, and is no bend that anybody wants.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled

SHARPEST = 2.9  # rad: a corner of more than that would be far away
SAMPLES = 72  # points along a tube


@compiled
def free(bends: int) -> int:
    """How many numbers a tube of so many `bends` (2 or more) can be moved by."""
    return 3 * bends - 4


@compiled
def place_corners(port: np.ndarray, inlet: np.ndarray, x: np.ndarray, bends: int, corners: np.ndarray) -> None:
    """Fill `corners` (bends + 2, 3) m from the numbers `x` m: the ends and what is between. `port`, `inlet`: place m and way, as rows."""
    for j in range(3):
        corners[0, j] = port[0, j]
        corners[1, j] = port[0, j] + x[0] * port[1, j]
        corners[bends, j] = inlet[0, j] - x[1] * inlet[1, j]
        corners[bends + 1, j] = inlet[0, j]
    for i in range(2, bends):
        for j in range(3):
            corners[i, j] = x[2 + 3 * (i - 2) + j]


@compiled
def measure(corners: np.ndarray, bends: int, radii: np.ndarray, legs: np.ndarray, straights: np.ndarray, angles: np.ndarray) -> float:
    """Length (m) of the tube round `corners` (m) with `radii` (m). Fills `legs` (bends + 1, 4: direction and length, m), `straights`
    (bends + 1) m, less than nothing where two bends overlap, and `angles` (bends) rad."""
    for i in range(bends + 1):
        total = 0.0
        for j in range(3):
            legs[i, j] = corners[i + 1, j] - corners[i, j]
            total += legs[i, j] * legs[i, j]
        total = max(math.sqrt(total), 1e-12)
        legs[i, 3] = total
        for j in range(3):
            legs[i, j] /= total
        straights[i] = total
    length = 0.0
    for i in range(bends):
        a, b = legs[i], legs[i + 1]
        along = a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
        p = a[1] * b[2] - a[2] * b[1]
        q = a[2] * b[0] - a[0] * b[2]
        r = a[0] * b[1] - a[1] * b[0]
        angle = math.atan2(math.sqrt(p * p + q * q + r * r), along)
        angles[i] = angle
        tangent = radii[i] * math.tan(0.5 * min(angle, SHARPEST))
        straights[i] -= tangent
        straights[i + 1] -= tangent
        length += radii[i] * angle
    for i in range(bends + 1):
        length += straights[i]
    return length


@compiled
def sample(
    corners: np.ndarray, bends: int, radii: np.ndarray, legs: np.ndarray, straights: np.ndarray, angles: np.ndarray, points: np.ndarray
) -> float:
    """Fill `points` (any number, 4) with places (m) evenly along the tube and how far along each is (m); its length (m). What `corners` m,
    `radii` m, `legs` m, `straights` m and `angles` rad are: see `measure`, which fills the last three."""
    length = measure(corners, bends, radii, legs, straights, angles)
    count = points.shape[0]
    whole = 0.0
    for i in range(bends + 1):
        whole += max(straights[i], 0.0)
    for i in range(bends):
        whole += radii[i] * angles[i]
    step = whole / (count - 1)
    k = 0
    begun = 0.0
    for i in range(bends + 1):
        tangent = 0.0 if i == 0 else radii[i - 1] * math.tan(0.5 * min(angles[i - 1], SHARPEST))
        long = max(straights[i], 0.0)
        while k < count and (k * step <= begun + long or i == bends):
            along = tangent + k * step - begun
            for j in range(3):
                points[k, j] = corners[i, j] + along * legs[i, j]
            points[k, 3] = k * step
            k += 1
        begun += long
        if i == bends:
            break
        a, b, radius, angle = legs[i], legs[i + 1], radii[i], angles[i]
        tangent = radius * math.tan(0.5 * min(angle, SHARPEST))
        across = max(math.sin(angle), 1e-9)
        cosine = math.cos(angle)
        while k < count and k * step <= begun + radius * angle:
            turned = (k * step - begun) / radius
            ahead, aside = radius * math.sin(turned), radius * (1.0 - math.cos(turned))
            for j in range(3):
                inward = (b[j] - cosine * a[j]) / across
                points[k, j] = corners[i + 1, j] - tangent * a[j] + ahead * a[j] + aside * inward
            points[k, 3] = k * step
            k += 1
        begun += radius * angle
    return length
