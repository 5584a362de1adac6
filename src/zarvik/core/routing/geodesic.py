"""The shortest way through a bay on a grid, and the corners of it; compiled. For what chance does not find: holes in walls.

E. W. Dijkstra, Numer. Math. 1 (1959) 269. Where a tube is too wide for a cell the way costs more instead of being shut: a hole that is
just wide enough lies between the cells, and what is left over is put right by moving the corners.
"""

from __future__ import annotations

import heapq
import math

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.solids.distance import CENTRE, REACH, SKIP, nearest, within

DEARER = 12.0  # times as long is a cell in which the tube is too wide by a cell
BLOCK = 4  # cells along each side that are looked at together
SHUT = 1.2  # cells that a tube may be too wide by


@compiled
def cells(bodies: np.ndarray, origin: np.ndarray, step: float, shape: np.ndarray, most: float, room: np.ndarray) -> None:
    """Fill `room` (of the `shape`) with the distance m of every cell from packed `bodies`, at the `most` m; the first cell is at the
    `origin` m, they are a `step` m apart."""
    heads = np.empty(bodies.shape[0], np.int64)
    many, row = 0, 0
    while row < bodies.shape[0]:
        heads[many] = row
        many += 1
        row += 1 + int(bodies[row, SKIP])
    near = np.empty(many, np.int64)
    reach = 0.5 * math.sqrt(3.0) * (BLOCK - 1) * step
    half = 0.5 * (BLOCK - 1) * step
    for first in range(0, shape[0], BLOCK):
        for second in range(0, shape[1], BLOCK):
            for third in range(0, shape[2], BLOCK):
                x, y, z = origin[0] + first * step + half, origin[1] + second * step + half, origin[2] + third * step + half
                # No cell of a block is farther from anything than its middle and the way there: what is beyond is not looked at
                bound = min(most, nearest(bodies, x, y, z, False, most + reach) + reach)
                count = 0
                for n in range(many):
                    i = heads[n]
                    u, v, w = x - bodies[i, CENTRE], y - bodies[i, CENTRE + 1], z - bodies[i, CENTRE + 2]
                    away = bound + reach + bodies[i, REACH]
                    if away > 0.0 and u * u + v * v + w * w <= away * away:
                        near[count] = i
                        count += 1
                for p in range(first, min(first + BLOCK, shape[0])):
                    for q in range(second, min(second + BLOCK, shape[1])):
                        for r in range(third, min(third + BLOCK, shape[2])):
                            room[p, q, r] = _nearest_of(
                                bodies, near, count, origin[0] + p * step, origin[1] + q * step, origin[2] + r * step, bound
                            )


@compiled
def _nearest_of(bodies: np.ndarray, rows: np.ndarray, count: int, x: float, y: float, z: float, most: float) -> float:
    """Smallest distance m of a point from those packed bodies that begin in `count` of the `rows`, `most` m where all are farther."""
    found = most
    for n in range(count):
        i = rows[n]
        u, v, w = x - bodies[i, CENTRE], y - bodies[i, CENTRE + 1], z - bodies[i, CENTRE + 2]
        away = found + bodies[i, REACH]
        if away > 0.0 and u * u + v * v + w * w <= away * away:
            found = min(found, within(bodies, i, x, y, z, found))
    return found


@compiled
def shortest(room: np.ndarray, step: float, need: float, begin: np.ndarray, end: np.ndarray, path: np.ndarray) -> int:
    """The way from cell `begin` to cell `end` (3 whole numbers) into `path` (any number, 3); how many cells, 0: there is none. `room` m of
    every cell, `step` m; a tube asks for `need` m."""
    a, b, c = room.shape
    far = np.full(a * b * c, np.inf)
    came = np.full(a * b * c, -1, np.int64)
    first = (begin[0] * b + begin[1]) * c + begin[2]
    last = (end[0] * b + end[1]) * c + end[2]
    far[first] = 0.0
    heap = [(0.0, first)]
    while len(heap) > 0:
        cost, here = heapq.heappop(heap)
        if here == last:
            break
        if cost > far[here]:
            continue
        i, j, k = here // (b * c), here // c % b, here % c
        for di in range(-1, 2):
            for dj in range(-1, 2):
                for dk in range(-1, 2):
                    u, v, w = i + di, j + dj, k + dk
                    if u < 0 or v < 0 or w < 0 or u >= a or v >= b or w >= c:
                        continue
                    there = (u * b + v) * c + w
                    short = (need - room[u, v, w]) / step
                    if there == here or (short > SHUT and there != last):
                        continue
                    way = step * math.sqrt(float(di * di + dj * dj + dk * dk))
                    new = cost + way * (1.0 + DEARER * max(short, 0.0))
                    if new < far[there]:
                        far[there] = new
                        came[there] = here
                        heapq.heappush(heap, (new, there))
    if came[last] < 0:
        return 0
    count = 0
    here = last
    while here >= 0 and count < path.shape[0]:
        path[count, 0], path[count, 1], path[count, 2] = here // (b * c), here // c % b, here % c
        count += 1
        here = came[here]
    return count


@compiled
def widest(room: np.ndarray, begin: np.ndarray, ends: np.ndarray, at: np.ndarray) -> tuple[float, int]:
    """The least room m on the way from cell `begin` (3 whole numbers) to one of the cells `ends` (any number, 3) on which that is the most,
    and which one; the cell where it is the least into `at` (3 whole numbers). `room` m of every cell. What is near is gone to in the order
    of its room, the widest first: the first of the ends that is come to has the widest way."""
    a, b, c = room.shape
    seen = np.zeros(a * b * c, np.bool_)
    first = (begin[0] * b + begin[1]) * c + begin[2]
    seen[first] = True
    heap = [(-room[begin[0], begin[1], begin[2]], first)]
    least = 1e9
    while len(heap) > 0:
        cost, here = heapq.heappop(heap)
        i, j, k = here // (b * c), here // c % b, here % c
        if -cost < least:
            least = -cost
            at[0], at[1], at[2] = i, j, k
        for which in range(ends.shape[0]):
            if i == ends[which, 0] and j == ends[which, 1] and k == ends[which, 2]:
                return least, which
        for side in range(6):
            u, v, w = i, j, k
            way = 1 if side % 2 else -1
            if side < 2:
                u += way
            elif side < 4:
                v += way
            else:
                w += way
            if u < 0 or v < 0 or w < 0 or u >= a or v >= b or w >= c:
                continue
            there = (u * b + v) * c + w
            if not seen[there]:
                seen[there] = True
                heapq.heappush(heap, (-room[u, v, w], there))
    return least, 0


@compiled
def straightened(bodies: np.ndarray, points: np.ndarray, count: int, need: float, slack: float, corners: np.ndarray) -> int:
    """The fewest of the first `count` of `points` (any number, 3; m) between which straight ways are clear of packed `bodies` by `need` m
    less `slack` m, or by what the way along the points is; into `corners` m; how many, both ends among them."""
    kept = 0
    here = 0
    corners[0] = points[0]
    while here < count - 1 and kept < corners.shape[0] - 1:
        best = here + 1
        least = 1e9
        for there in range(here + 1, count):
            x, y, z = points[there, 0], points[there, 1], points[there, 2]
            least = min(least, nearest(bodies, x, y, z, False, need))
            length = 0.0
            for j in range(3):
                length += (points[there, j] - points[here, j]) ** 2
            many = max(int(math.sqrt(length) / 0.006), 1)
            clear = True
            for m in range(1, many):
                s = m / many
                x = points[here, 0] + s * (points[there, 0] - points[here, 0])
                y = points[here, 1] + s * (points[there, 1] - points[here, 1])
                z = points[here, 2] + s * (points[there, 2] - points[here, 2])
                if nearest(bodies, x, y, z, False, need) < min(need, least) - slack:
                    clear = False
                    break
            if clear:
                best = there
        here = best
        kept += 1
        corners[kept] = points[here]
    return kept + 1
