"""How far a point is from what stands in a bay, compiled.

A body is a row of numbers. Behind that of a mesh stand the rows of its triangles, in spheres within spheres; behind that of a mesh in
cells the distances at their corners; behind that of a group stand its members. `SKIP` says how many rows those are, so that one table
holds bodies of every kind.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled

KIND, MOUNTED, CENTRE, AXES, HALF, REACH, SKIP = 0, 1, 2, 5, 14, 17, 18  # where the numbers of a body stand
NUMBERS = 19  # of a row
BOX, CYLINDER, ROD, HULL, SKIN, CELLS, GROUP = 0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0  # kinds
SMALL = 2e-5  # m to either side, of the direction away from a mesh


@compiled
def to_triangle(row: np.ndarray, x: float, y: float, z: float) -> float:
    """Square of the distance (m²) of a point `x`, `y`, `z` (m) from the triangle of a `row`. C. Ericson, Real-Time Collision Detection
    (2005) 5.1.5."""
    ax, ay, az = row[AXES], row[AXES + 1], row[AXES + 2]
    ux, uy, uz = row[AXES + 3] - ax, row[AXES + 4] - ay, row[AXES + 5] - az
    vx, vy, vz = row[AXES + 6] - ax, row[AXES + 7] - ay, row[AXES + 8] - az
    px, py, pz = x - ax, y - ay, z - az
    d1, d2 = ux * px + uy * py + uz * pz, vx * px + vy * py + vz * pz
    uu, uv, vv = ux * ux + uy * uy + uz * uz, ux * vx + uy * vy + uz * vz, vx * vx + vy * vy + vz * vz
    d3, d4, d5, d6 = d1 - uu, d2 - uv, d1 - uv, d2 - vv  # from the other two corners
    a, b = 0.0, 0.0  # how far along the two sides the nearest point is
    vc, vb, va = d1 * d4 - d3 * d2, d5 * d2 - d1 * d6, d3 * d6 - d5 * d4
    if d1 <= 0.0 and d2 <= 0.0:
        pass
    elif d3 >= 0.0 and d4 <= d3:
        a = 1.0
    elif d6 >= 0.0 and d5 <= d6:
        b = 1.0
    elif vc <= 0.0 and d1 >= 0.0 and d3 <= 0.0:
        a = d1 / max(d1 - d3, 1e-300)
    elif vb <= 0.0 and d2 >= 0.0 and d6 <= 0.0:
        b = d2 / max(d2 - d6, 1e-300)
    elif va <= 0.0 and d4 - d3 >= 0.0 and d5 - d6 >= 0.0:
        b = (d4 - d3) / max(d4 - d3 + d5 - d6, 1e-300)
        a = 1.0 - b
    else:
        total = max(va + vb + vc, 1e-300)
        a, b = vb / total, vc / total
    px -= a * ux + b * vx
    py -= a * uy + b * vy
    pz -= a * uz + b * vz
    return px * px + py * py + pz * pz


@compiled
def to_mesh(bodies: np.ndarray, i: int, x: float, y: float, z: float, most: float) -> float:
    """Distance (m) of a point `x`, `y`, `z` (m) from the mesh in row `i` of packed `bodies`, at `most` what is asked for (m). From a hull
    it is negative inside."""
    end = i + 1 + int(bodies[i, SKIP])
    if bodies[i, KIND] == HULL:
        outside = -1e9
        for j in range(i + 1, end):
            row = bodies[j]
            if row[SKIP] > 0.0:
                continue
            ux, uy, uz = row[AXES + 3] - row[AXES], row[AXES + 4] - row[AXES + 1], row[AXES + 5] - row[AXES + 2]
            vx, vy, vz = row[AXES + 6] - row[AXES], row[AXES + 7] - row[AXES + 1], row[AXES + 8] - row[AXES + 2]
            a, b, c = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            size = math.sqrt(a * a + b * b + c * c)
            if size > 1e-14:
                outside = max(outside, (a * (x - row[AXES]) + b * (y - row[AXES + 1]) + c * (z - row[AXES + 2])) / size)
        if outside <= 0.0 or outside > most:
            return min(outside, most)
    found = most
    j = i + 1
    while j < end:
        row = bodies[j]
        u, v, w = x - row[CENTRE], y - row[CENTRE + 1], z - row[CENTRE + 2]
        away = found + row[REACH]
        if u * u + v * v + w * w > away * away:
            j += 1 + int(row[SKIP])
            continue
        if row[SKIP] == 0.0:
            square = to_triangle(row, x, y, z)
            if square < found * found:
                found = math.sqrt(square)
        j += 1
    return found


@compiled
def in_cells(bodies: np.ndarray, i: int, x: float, y: float, z: float) -> float:
    """Distance (m) of a point `x`, `y`, `z` (m) from the mesh in cells in row `i` of packed `bodies`: between the eight corners of its
    cell; beside all cells what it is there at the least."""
    step = bodies[i, AXES + 6]
    u, v, w = (x - bodies[i, AXES]) / step, (y - bodies[i, AXES + 1]) / step, (z - bodies[i, AXES + 2]) / step
    b, c = int(bodies[i, AXES + 4]), int(bodies[i, AXES + 5])
    p, q, r = bodies[i, AXES + 3] - 1.0, bodies[i, AXES + 4] - 1.0, bodies[i, AXES + 5] - 1.0
    f, g, h = max(-u, u - p, 0.0), max(-v, v - q, 0.0), max(-w, w - r, 0.0)
    if f > 0.0 or g > 0.0 or h > 0.0:
        return bodies[i, AXES + 7] + step * math.sqrt(f * f + g * g + h * h)
    k, m, n = int(min(u, p - 1.0)), int(min(v, q - 1.0)), int(min(w, r - 1.0))
    u -= k
    v -= m
    w -= n
    first = (k * b + m) * c + n
    found = 0.0
    for dk in range(2):
        for dm in range(2):
            for dn in range(2):
                place = first + (dk * b + dm) * c + dn
                share = (u if dk else 1.0 - u) * (v if dm else 1.0 - v) * (w if dn else 1.0 - w)
                found += share * bodies[i + 1 + place // NUMBERS, place % NUMBERS]
    return found


@compiled
def to_single(bodies: np.ndarray, i: int, x: float, y: float, z: float) -> float:
    """Distance (m) of a point `x`, `y`, `z` (m) from the one in row `i` of packed `bodies`, which is no group, negative inside. Closed form
    of box, cylinder and rod."""
    body = bodies[i]
    if body[KIND] > ROD:
        return (in_cells(bodies, i, x, y, z) if body[KIND] == CELLS else to_mesh(bodies, i, x, y, z, 1e9)) - body[HALF]
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
def member(bodies: np.ndarray, i: int, x: float, y: float, z: float, most: float) -> int:
    """The row of the member nearest to a point `x`, `y`, `z` (m) of the group in row `i` of packed `bodies`; -1 where none is nearer than
    `most` m."""
    found, which = most, -1
    j = i + 1
    end = j + int(bodies[i, SKIP])
    while j < end:
        u, v, w = x - bodies[j, CENTRE], y - bodies[j, CENTRE + 1], z - bodies[j, CENTRE + 2]
        away = found + bodies[j, REACH]
        if away > 0.0 and u * u + v * v + w * w <= away * away:
            distance = to_single(bodies, j, x, y, z)
            if distance < found:
                found, which = distance, j
        j += 1 + int(bodies[j, SKIP])
    return which


@compiled
def within(bodies: np.ndarray, i: int, x: float, y: float, z: float, most: float) -> float:
    """Distance (m) of a point `x`, `y`, `z` (m) from the one in row `i` of packed `bodies`, negative inside; of a group that is farther
    than `most` m, that."""
    if bodies[i, KIND] != GROUP:
        return to_single(bodies, i, x, y, z)
    which = member(bodies, i, x, y, z, most)
    return most if which < 0 else to_single(bodies, which, x, y, z)


@compiled
def to_body(bodies: np.ndarray, i: int, x: float, y: float, z: float) -> float:
    """Distance (m) of a point `x`, `y`, `z` (m) from the one in row `i` of packed `bodies`, negative inside."""
    return within(bodies, i, x, y, z, 1e9)


@compiled
def nearest(bodies: np.ndarray, x: float, y: float, z: float, at_end: bool, most: float) -> float:
    """Smallest distance (m) of a point `x`, `y`, `z` (m) from the packed `bodies`, at `most` what is asked for (m). `at_end`: bodies that
    an end sits on do not count."""
    found = most
    after = 0
    while after < bodies.shape[0]:
        i = after
        body = bodies[i]
        after += 1 + int(body[SKIP])
        if at_end and body[MOUNTED] > 0.0:
            continue
        dx = x - body[CENTRE]
        dy = y - body[CENTRE + 1]
        dz = z - body[CENTRE + 2]
        away = found + body[REACH]
        if away <= 0.0 or dx * dx + dy * dy + dz * dz > away * away:
            continue
        if body[KIND] == SKIN:
            found = min(found, to_mesh(bodies, i, x, y, z, found + body[HALF]) - body[HALF])
        else:
            found = min(found, within(bodies, i, x, y, z, found))
    return found


@compiled
def away_from(bodies: np.ndarray, x: float, y: float, z: float, at_end: bool, way: np.ndarray) -> None:
    """Fill `way` (3) with the direction in which a point `x`, `y`, `z` (m) gets away from the nearest of the packed `bodies`. `at_end`:
    bodies that an end sits on do not count."""
    found = 1e9
    which = -1
    after = 0
    while after < bodies.shape[0]:
        i = after
        after += 1 + int(bodies[i, SKIP])
        if at_end and bodies[i, MOUNTED] > 0.0:
            continue
        u, v, w = x - bodies[i, CENTRE], y - bodies[i, CENTRE + 1], z - bodies[i, CENTRE + 2]
        away = found + bodies[i, REACH]
        if away <= 0.0 or u * u + v * v + w * w > away * away:
            continue
        distance = within(bodies, i, x, y, z, found)
        if distance < found:
            found = distance
            which = i
    for j in range(3):
        way[j] = 0.0
    if which < 0:
        return
    if bodies[which, KIND] == GROUP:
        which = member(bodies, which, x, y, z, 1e9)
    body = bodies[which]
    if body[KIND] > ROD:
        small = 0.5 * body[AXES + 6] if body[KIND] == CELLS else SMALL
        way[0] = to_body(bodies, which, x + small, y, z) - to_body(bodies, which, x - small, y, z)
        way[1] = to_body(bodies, which, x, y + small, z) - to_body(bodies, which, x, y - small, z)
        way[2] = to_body(bodies, which, x, y, z + small) - to_body(bodies, which, x, y, z - small)
        total = max(math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2]), 1e-12)
        for j in range(3):
            way[j] /= total
        return
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
    """Fill `found` (one for each body) with the smallest gap (m) of each of the packed `bodies` to balls round `points` (any number, 3; m)
    of a `radius` m each, negative where one is inside, and `which` with the number of that ball. All of them are looked at."""
    i = 0
    for number in range(found.shape[0]):
        body = bodies[i]
        least = 1e9
        for k in range(points.shape[0]):
            x, y, z = points[k, 0], points[k, 1], points[k, 2]
            u, v, w = x - body[CENTRE], y - body[CENTRE + 1], z - body[CENTRE + 2]
            away = least + radius[k] + body[REACH]
            if away < 0.0 or u * u + v * v + w * w > away * away:
                continue
            if body[KIND] == SKIN:
                gap = to_mesh(bodies, i, x, y, z, least + radius[k] + body[HALF]) - body[HALF] - radius[k]
            else:
                gap = to_body(bodies, i, x, y, z) - radius[k]
            if gap < least:
                least = gap
                which[number] = k
        found[number] = least
        i += 1 + int(body[SKIP])


@compiled
def sampled(mesh: np.ndarray, low: np.ndarray, step: float, most: float, out: np.ndarray) -> None:
    """Fill `out` with the distance m of every corner of cells from a packed `mesh`, at the `most` m; the first is at `low` m, they are a
    `step` m apart."""
    for i in range(out.shape[0]):
        for j in range(out.shape[1]):
            known = most
            for k in range(out.shape[2]):
                # A step further it is at most a step farther
                known = to_mesh(mesh, 0, low[0] + i * step, low[1] + j * step, low[2] + k * step, min(most, 1.001 * (known + step)))
                out[i, j, k] = known


@compiled
def crossed(corners: np.ndarray, triangles: np.ndarray, low: np.ndarray, step: float, out: np.ndarray) -> None:
    """Turn round `out` (bytes) at every corner of cells behind which a line along z meets a triangle, once for each: what has been turned
    an odd number of times since the first is inside of a closed mesh. `corners` (any number, 3) m, `triangles`; the first corner is at
    `low` m, they are a `step` m apart."""
    for t in range(triangles.shape[0]):
        a, b, c = corners[triangles[t, 0]], corners[triangles[t, 1]], corners[triangles[t, 2]]
        area = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])
        if abs(area) < 1e-18:
            continue
        first = max(math.ceil((min(a[0], b[0], c[0]) - low[0]) / step), 0)
        last = min(int((max(a[0], b[0], c[0]) - low[0]) / step), out.shape[0] - 1)
        begin = max(math.ceil((min(a[1], b[1], c[1]) - low[1]) / step), 0)
        end = min(int((max(a[1], b[1], c[1]) - low[1]) / step), out.shape[1] - 1)
        for i in range(first, last + 1):
            x = low[0] + i * step
            for j in range(begin, end + 1):
                y = low[1] + j * step
                p = ((b[0] - x) * (c[1] - y) - (c[0] - x) * (b[1] - y)) / area
                q = ((c[0] - x) * (a[1] - y) - (a[0] - x) * (c[1] - y)) / area
                if p < 0.0 or q < 0.0 or p + q > 1.0:
                    continue
                k = math.ceil((p * a[2] + q * b[2] + (1.0 - p - q) * c[2] - low[2]) / step)
                if k < out.shape[2]:
                    out[i, j, max(k, 0)] ^= 1
