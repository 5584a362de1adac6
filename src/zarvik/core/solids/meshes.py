"""Hulls and scanned skins: triangles, how they are looked through quickly, and their distances in cells."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.common.sentences import Fault
from zarvik.core.solids.distance import AXES, CELLS, CENTRE, HULL, KIND, NUMBERS, REACH, SKIN, SKIP, crossed, sampled

LEAF = 8  # triangles that are looked through one by one
FAR = 0.12  # m from a skin, beyond which cells say no more than that
MOST_CELLS = 1_200_000
FINEST = 0.006  # m from cell to cell
NEAREST = 0.03  # m from a skin to the middle of the thinnest tube: nearer, cells need not be true
NEARLY = 1e-7  # m: points that are so near a plane are on it
FLAT = 1e-4  # m: points that lie in one plane as well as this have no inside


@dataclass(frozen=True, eq=False)
class Mesh:
    """Triangles: `corners` (any number, 3) m, `triangles` (any number, 3) numbers of corners. `convex`: the hull of its corners, with an
    inside; else a skin."""

    corners: np.ndarray
    triangles: np.ndarray
    convex: bool = False

    @cached_property
    def centre(self) -> np.ndarray:
        """Middle (3) m of the box round it."""
        return 0.5 * (self.corners.min(axis=0) + self.corners.max(axis=0))

    @cached_property
    def reach(self) -> float:
        """Radius in m of the sphere round its centre that it fits into."""
        return float(np.linalg.norm(self.corners - self.centre, axis=1).max())

    @cached_property
    def rows(self) -> np.ndarray:
        """Its triangles in spheres within spheres, as the compiled code reads them: behind each sphere what is in it."""
        places = self.corners[self.triangles]
        middles = places.mean(axis=1)
        alone = np.zeros((len(places), NUMBERS))
        alone[:, AXES : AXES + 9] = places.reshape(-1, 9)
        alone[:, CENTRE : CENTRE + 3] = 0.5 * (places.min(axis=1) + places.max(axis=1))
        alone[:, REACH] = np.linalg.norm(places - alone[:, None, CENTRE : CENTRE + 3], axis=2).max(axis=1)
        made: list[np.ndarray] = []
        waiting: list[tuple[int, np.ndarray]] = []  # a sphere whose rows are not written yet, or 0: where it begins, its triangles

        def add(which: np.ndarray) -> None:
            row = np.zeros(NUMBERS)
            corners = places[which].reshape(-1, 3)
            row[CENTRE : CENTRE + 3] = 0.5 * (corners.min(axis=0) + corners.max(axis=0))
            row[REACH] = np.linalg.norm(corners - row[CENTRE : CENTRE + 3], axis=1).max()
            made.append(row)

        def close(begin: int) -> None:
            made[begin][SKIP] = len(made) - begin - 1

        waiting.append((-1, np.arange(len(self.triangles))))
        while waiting:
            begin, which = waiting.pop()
            if begin >= 0:
                close(begin)
                continue
            add(which)
            waiting.append((len(made) - 1, which))
            if len(which) > LEAF:
                there = middles[which]
                axis = int(np.argmax(np.ptp(there, axis=0)))
                order = which[np.argsort(there[:, axis], kind="stable")]
                waiting += [(-1, order[len(order) // 2 :]), (-1, order[: len(order) // 2])]
                continue
            made += list(alone[which])
        return np.array(made)

    @cached_property
    def packed(self) -> np.ndarray:
        """A row for itself, and its triangles."""
        head = np.zeros((1, NUMBERS))
        head[0, KIND] = HULL if self.convex else SKIN
        head[0, CENTRE : CENTRE + 3], head[0, REACH], head[0, SKIP] = self.centre, self.reach, len(self.rows)
        return np.vstack([head, self.rows])

    @cached_property
    def closed(self) -> bool:
        """Has every side of a triangle one neighbour that goes round the other way? Then there is an inside."""
        sides = np.vstack([self.triangles[:, [0, 1]], self.triangles[:, [1, 2]], self.triangles[:, [2, 0]]]).astype(np.int64)
        there, back = sides[:, 0] << 32 | sides[:, 1], sides[:, 1] << 32 | sides[:, 0]
        return len(np.unique(there)) == len(there) and np.array_equal(np.sort(there), np.sort(back))

    @cached_property
    def cells(self) -> np.ndarray:
        """A row for itself, and its distances in cells, less what they can be too large by `NEAREST` it."""
        low, high = self.corners.min(axis=0) - FAR, self.corners.max(axis=0) + FAR
        step = max(FINEST, float((np.prod(high - low) / MOST_CELLS) ** (1.0 / 3.0)))
        counts = np.ceil((high - low) / step).astype(np.int64) + 1
        far = np.empty(tuple(counts))
        sampled(self.packed, low, step, FAR, far)
        if self.closed:
            turned = np.zeros(far.shape, np.uint8)
            # A little aside, so that no line goes through a corner or along a side
            crossed(self.corners, self.triangles.astype(np.int64), low + step * np.array([3.1e-6, 1.7e-6, 0.0]), step, turned)
            far = np.where(np.bitwise_xor.accumulate(turned, axis=2) > 0, -far, far)
        # Between corners a distance from a point is too large by an eighth of the square of the step over it, in each of two directions
        far -= step * step / (4.0 * NEAREST)
        rows = np.zeros((1 + -(-far.size // NUMBERS), NUMBERS))
        rows[0, KIND], rows[0, CENTRE : CENTRE + 3] = CELLS, self.centre
        rows[0, AXES : AXES + 3], rows[0, AXES + 3 : AXES + 6] = low, counts
        rows[0, AXES + 6], rows[0, AXES + 7] = step, FAR
        rows[0, REACH], rows[0, SKIP] = self.reach, len(rows) - 1
        rows[1:].ravel()[: far.size] = far.ravel()
        return rows

    def moved(self, change: Callable[[np.ndarray], np.ndarray]) -> Mesh:
        """It with its corners (any number, 3) m elsewhere, as `change` says."""
        return Mesh(change(self.corners), self.triangles, self.convex)


def _outline(flat: np.ndarray) -> list[int]:
    """Numbers of the points (any number, 2) m on the hull of them all, anticlockwise (A. M. Andrew, Inf. Process. Lett. 9 (1979) 216)."""
    order = [int(k) for k in np.lexsort((flat[:, 1], flat[:, 0]))]

    def half(way: list[int]) -> list[int]:
        found: list[int] = []
        for k in way:
            while len(found) > 1:
                (ax, ay), (bx, by) = flat[found[-1]] - flat[found[-2]], flat[k] - flat[found[-2]]
                if ax * by - ay * bx > 1e-12:
                    break
                found.pop()
            found.append(k)
        return found[:-1]

    return half(order) + half(order[::-1])


def hull(points: np.ndarray) -> Mesh:
    """The hull of `points` (4 to some dozens, 3) m: every plane through three of them that has all others on one side. Raises Fault where
    they all lie in one plane."""
    points = np.unique(np.round(points, 6), axis=0)
    middle = points.mean(axis=0)
    if len(points) < 4 or np.linalg.svd(points - middle, compute_uv=False)[2] < FLAT * math.sqrt(len(points)):
        raise Fault("the points lie in one plane: a plate has a thickness, a hull needs points on all sides")
    a, b, c = (np.array(k) for k in zip(*itertools.combinations(range(len(points)), 3), strict=True))
    normals = np.cross(points[b] - points[a], points[c] - points[a])
    size = np.linalg.norm(normals, axis=1)
    some = size > 1e-10
    normals, a = normals[some] / size[some, None], a[some]
    beyond = (points @ normals.T).T - np.sum(points[a] * normals, axis=1)[:, None]
    triangles: list[tuple[int, int, int]] = []
    done: set[tuple[int, ...]] = set()
    for sign in (1.0, -1.0):
        for k in np.flatnonzero((sign * beyond).max(axis=1) < NEARLY):
            on = np.flatnonzero(np.abs(beyond[k]) < NEARLY)
            if tuple(on) in done:
                continue
            done.add(tuple(on))
            x = points[on[1]] - points[on[0]]
            x = x / np.linalg.norm(x)
            y = np.cross(sign * normals[k], x)
            ring = [int(on[n]) for n in _outline(np.column_stack([points[on] @ x, points[on] @ y]))]
            triangles += [(ring[0], one, two) for one, two in itertools.pairwise(ring[1:])]
    used, numbers = np.unique(np.array(triangles), return_inverse=True)
    return Mesh(points[used], numbers.reshape(-1, 3), convex=True)


def plate(points: np.ndarray, thickness: float) -> Mesh:
    """A plate `thickness` m thick whose middle has its corners near `points` (3 or more, 3) m; dents of its outline are filled. Raises
    Fault where they lie on one line, or are farther from one plane than the thickness or a fiftieth of its size."""
    middle = points.mean(axis=0)
    _, sizes, ways = np.linalg.svd(points - middle, full_matrices=False)
    if len(points) < 3 or sizes[1] < FLAT:
        raise Fault("the corners of a plate lie on one line")
    normal = np.cross(ways[0], ways[1])
    beside = float(np.abs((points - middle) @ normal).max())
    if beside > max(thickness, 0.02 * float(sizes[0])):
        raise Fault("the corners of a plate are not in one plane: one of them is {0:.0f} mm beside it", 1e3 * beside)
    flat = points - ((points - middle) @ normal)[:, None] * normal
    ring = flat[_outline(np.column_stack([flat @ ways[0], flat @ ways[1]]))]
    count = len(ring)
    corners = np.vstack([ring + 0.5 * thickness * normal, ring - 0.5 * thickness * normal])
    triangles = [(0, k, k + 1) for k in range(1, count - 1)] + [(count, count + k + 1, count + k) for k in range(1, count - 1)]
    for k in range(count):
        after = (k + 1) % count
        triangles += [(k, count + k, after), (after, count + k, count + after)]
    return Mesh(corners, np.array(triangles), convex=True)
