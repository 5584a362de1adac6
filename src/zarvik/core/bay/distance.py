"""How far a point is from what stands in a bay, compiled."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled

KIND, MOUNTED, CENTRE, AXES, HALF, REACH = 0, 1, 2, 5, 14, 17  # where the numbers of a body stand


@compiled
def to_body(body: np.ndarray, x: float, y: float, z: float) -> float:
    """Distance (m) of a point `x`, `y`, `z` (m) from a packed `body`, negative inside. Closed form of box, cylinder and
    rod."""
    x -= body[CENTRE]
    y -= body[CENTRE + 1]
    z -= body[CENTRE + 2]
    a = body[AXES] * x + body[AXES + 1] * y + body[AXES + 2] * z
    if body[KIND] > 1.5:
        beyond = a - min(max(a, -body[HALF + 1]), body[HALF + 1])
        return math.sqrt(max(x * x + y * y + z * z - a * a, 0.0) + beyond * beyond) - body[HALF]
    if body[KIND] > 0.5:
        p = math.sqrt(max(x * x + y * y + z * z - a * a, 0.0)) - body[HALF]
        q = abs(a) - body[HALF + 1]
        if p <= 0.0 or q <= 0.0:
            return max(p, q)
        return math.sqrt(p * p + q * q)
    p = abs(a) - body[HALF]
    q = abs(body[AXES + 3] * x + body[AXES + 4] * y + body[AXES + 5] * z) - body[HALF + 1]
    r = abs(body[AXES + 6] * x + body[AXES + 7] * y + body[AXES + 8] * z) - body[HALF + 2]
    if p <= 0.0 and q <= 0.0 and r <= 0.0:
        return max(p, max(q, r))
    p = max(p, 0.0)
    q = max(q, 0.0)
    r = max(r, 0.0)
    return math.sqrt(p * p + q * q + r * r)


@compiled
def nearest(bodies: np.ndarray, x: float, y: float, z: float, at_end: bool, most: float) -> float:
    """Smallest distance (m) of a point `x`, `y`, `z` (m) from the packed `bodies`, at `most` what is asked for (m). `at_end`: bodies that
    an end sits on do not count."""
    found = most
    for i in range(bodies.shape[0]):
        body = bodies[i]
        if at_end and body[MOUNTED] > 0.0:
            continue
        dx = x - body[CENTRE]
        dy = y - body[CENTRE + 1]
        dz = z - body[CENTRE + 2]
        away = found + body[REACH]
        if away <= 0.0 or dx * dx + dy * dy + dz * dz > away * away:
            continue
        found = min(found, to_body(body, x, y, z))
    return found


@compiled
def away_from(bodies: np.ndarray, x: float, y: float, z: float, at_end: bool, way: np.ndarray) -> None:
    """Fill `way` (3) with the direction in which a point `x`, `y`, `z` (m) gets away from the nearest of the packed `bodies`. `at_end`:
    bodies that an end sits on do not count."""
    found = 1e9
    which = -1
    for i in range(bodies.shape[0]):
        if at_end and bodies[i, MOUNTED] > 0.0:
            continue
        distance = to_body(bodies[i], x, y, z)
        if distance < found:
            found = distance
            which = i
    for j in range(3):
        way[j] = 0.0
    if which < 0:
        return
    body = bodies[which]
    x -= body[CENTRE]
    y -= body[CENTRE + 1]
    z -= body[CENTRE + 2]
    if body[KIND] > 0.5:
        a = body[AXES] * x + body[AXES + 1] * y + body[AXES + 2] * z
        u, v, w = x - a * body[AXES], y - a * body[AXES + 1], z - a * body[AXES + 2]
        across = max(math.sqrt(u * u + v * v + w * w), 1e-12)
        p, q = across - body[HALF], abs(a) - body[HALF + 1]
        if body[KIND] > 1.5:
            p, q = across, max(q, 0.0)
        elif p <= 0.0 or q <= 0.0:
            p, q = (1.0, 0.0) if p >= q else (0.0, 1.0)
        total = math.sqrt(p * p + q * q)
        p, q = p / total / across, math.copysign(q / total, a)
        way[0] = p * u + q * body[AXES]
        way[1] = p * v + q * body[AXES + 1]
        way[2] = p * w + q * body[AXES + 2]
        return
    inside = True
    deepest, least = 0, -1e9
    for k in range(3):
        a = body[AXES + 3 * k] * x + body[AXES + 3 * k + 1] * y + body[AXES + 3 * k + 2] * z
        out = abs(a) - body[HALF + k]
        if out > least:
            deepest, least = k, out
        if out > 0.0:
            inside = False
            for j in range(3):
                way[j] += math.copysign(out, a) * body[AXES + 3 * k + j]
    if inside:
        a = body[AXES + 3 * deepest] * x + body[AXES + 3 * deepest + 1] * y + body[AXES + 3 * deepest + 2] * z
        for j in range(3):
            way[j] = math.copysign(1.0, a) * body[AXES + 3 * deepest + j]
        return
    total = math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2])
    for j in range(3):
        way[j] /= total


@compiled
def gaps(bodies: np.ndarray, points: np.ndarray, radius: np.ndarray, found: np.ndarray, which: np.ndarray) -> None:
    """Fill `found` with the smallest gap (m) of each of the packed `bodies` to balls round `points` (any number, 3; m) of a `radius` m
    each, negative where one is inside, and `which` with the number of that ball. All of them are looked at."""
    for i in range(bodies.shape[0]):
        body = bodies[i]
        least = 1e9
        for k in range(points.shape[0]):
            x, y, z = points[k, 0], points[k, 1], points[k, 2]
            u, v, w = x - body[CENTRE], y - body[CENTRE + 1], z - body[CENTRE + 2]
            away = least + radius[k] + body[REACH]
            if away < 0.0 or u * u + v * v + w * w > away * away:
                continue
            gap = to_body(body, x, y, z) - radius[k]
            if gap < least:
                least = gap
                which[i] = k
        found[i] = least
