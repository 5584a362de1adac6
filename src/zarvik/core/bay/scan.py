"""Scans: triangles from a scanner to a skin in the bay: how large they are, fewer of them, and where they stand."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.constants import INCH
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.solids.bodies import of_mesh, packed
from zarvik.core.solids.distance import nearest
from zarvik.core.solids.meshes import Mesh

UNITS = {"mm": 1e-3, "in": INCH, "cm": 0.01, "m": 1.0}
USUAL = 1.3  # m that a scanned bay is long, as a rule; common practice, no source
SELDOM = {"mm": 0.0, "m": 0.0, "in": 0.3, "cm": 0.7}  # by how much less likely a unit is; a rough guide
MOST = 20_000  # triangles that are kept
PATIENT = 5  # of the simplification's own scale: 7 is quickest, and leaves edges by several mm
ASKED = 20_000  # corners of which the distance from what is kept is measured
OTHER = 0.02  # of its size: a scan that differs by more from what was kept of it is another one
GRAIN = 1e-5  # of a file's size: corners that are nearer are one


@dataclass(frozen=True, eq=False)
class Scan:
    """A scan as it is kept: its `mesh`; how many `triangles` it had, and how many of them had no area (`without`); `beside` m, how far
    what was left out lies from it at the most; the `unit` of its file, and its `size` (3) m; has it an inside (`closed`)?"""

    mesh: Mesh
    triangles: int
    without: int
    beside: float
    unit: str
    size: tuple[float, float, float]
    closed: bool


def likely_unit(size: float) -> str:
    """The unit (a key of `UNITS`) of a scan that is `size` of it long, as m of metres: the one in which it is most nearly as long as a
    bay."""
    return min(UNITS, key=lambda unit: abs(math.log(max(size, 1e-12) * UNITS[unit] / USUAL)) + SELDOM[unit])


def merged(corners: np.ndarray, triangles: np.ndarray, grain: float) -> tuple[np.ndarray, np.ndarray]:
    """`corners` (any number, 3) with one for all that are within a `grain` (same unit), and the `triangles` that have an area then."""
    cells = np.rint((corners - corners.min(axis=0)) / max(grain, 1e-300)).astype(np.int64)
    key = (cells[:, 0] << 42) | (cells[:, 1] << 21) | cells[:, 2]
    _, first, number = np.unique(key, return_index=True, return_inverse=True)
    found = number[triangles]
    a, b, c = found.T
    return corners[first], found[(a != b) & (b != c) & (c != a)]


def scan(corners: np.ndarray, triangles: np.ndarray, *, unit: str = "", progress: Progress = unwatched) -> Scan:
    """A scan of `corners` (any number, 3) of a `unit` (a key of `UNITS`; empty: the likely one) and `triangles` (any number, 3) numbers of
    them. Raises Fault without triangles, or with corners that are no numbers."""
    from fast_simplification import simplify

    if not len(triangles):
        raise Fault("the scan has no triangles: a cloud of points has to be made into triangles first")
    if triangles.min() < 0 or triangles.max() >= len(corners):
        raise Fault("the scan has triangles without corners")
    used = corners[np.bincount(triangles.ravel(), minlength=len(corners)) > 0]
    if not np.all(np.isfinite(used)):
        raise Fault("the scan has triangles without corners")
    size = np.ptp(used, axis=0)
    longest = float(size.max())
    if longest <= 0.0:
        raise Fault("the scan has no size: all of its corners are one")
    unit = unit or likely_unit(longest)
    if not 0.01 <= longest * UNITS[unit] <= 10.0:
        raise Fault("the scan would be {0:.3g} m long: another unit?", longest * UNITS[unit])
    places, kept = merged(np.asarray(corners, np.float64), np.asarray(triangles, np.int64), GRAIN * longest)
    without = len(triangles) - len(kept)
    if not len(kept):
        raise Fault("the scan has no triangle with an area")
    progress(0.3)
    places = places * UNITS[unit]
    before = places
    if len(kept) > MOST:
        fewer, kept = simplify(places.astype(np.float32), kept.astype(np.int32), target_count=MOST, agg=PATIENT)
        places, kept = merged(np.asarray(fewer, np.float64), kept.astype(np.int64), GRAIN * longest * UNITS[unit])
    progress(0.7)
    left = np.unique(kept)
    place_of = np.zeros(len(places), np.int64)
    place_of[left] = np.arange(len(left))
    mesh = Mesh(places[left], place_of[kept])
    return Scan(mesh, len(triangles), without, _beside(mesh, before), unit, tuple(size * UNITS[unit]), mesh.closed)


def whole(corners: np.ndarray, triangles: np.ndarray, kept: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """All of a scan, to be drawn: its `corners` (any number, 3) of an unknown unit, in m, and those of its `triangles` that have an area.
    `kept`: corners m of what was kept of it, by which the unit is known. Raises Fault where it is another scan."""
    size, wanted = np.ptp(corners[np.unique(triangles)], axis=0), np.ptp(kept, axis=0)
    longest = float(size.max())
    unit = min(UNITS.values(), key=lambda unit: abs(math.log(max(longest, 1e-12) * unit / float(wanted.max()))))
    if float(np.abs(size * unit - wanted).max()) > OTHER * float(wanted.max()):
        raise Fault("another scan than the one that was imported")
    places, left = merged(np.asarray(corners, np.float64), np.asarray(triangles, np.int64), GRAIN * longest)
    return places * unit, left


def _beside(mesh: Mesh, corners: np.ndarray) -> float:
    """How far the farthest of some of the `corners` lies from a `mesh`, m."""
    if len(corners) == len(mesh.corners):
        return 0.0
    rows = packed([of_mesh("", mesh)])
    some = corners[:: max(len(corners) // ASKED, 1)]
    return max(float(nearest(rows, x, y, z, False, 1.0)) for x, y, z in some)


@dataclass(frozen=True, eq=False)
class Alignment:
    """How something that was measured by itself stands in the bay: `turn` (3, 3), `shift` (3) m, and by how much (m) the pair of points
    that fits worst is `off`."""

    turn: np.ndarray
    shift: np.ndarray
    off: float

    def __call__(self, points: np.ndarray) -> np.ndarray:
        """`points` (any number, 3) m as they stand in the bay, m."""
        return points @ self.turn.T + self.shift


def aligned(own: np.ndarray, there: np.ndarray) -> Alignment:
    """How points that are measured as `own` (3 or more, 3; m) come to stand where they are `there` (m), turned and moved as a whole
    (W. Kabsch, Acta Cryst. A32 (1976) 922). Raises Fault with fewer, or where they lie on one line."""
    if len(own) < 3:
        raise Fault("three points are needed to say where a scan stands, not {0}", len(own))
    mine, its = own - own.mean(axis=0), there - there.mean(axis=0)
    for points in (mine, its):
        if np.linalg.svd(points, compute_uv=False)[1] < 0.02:
            raise Fault("the points lie on one line: one of them has to be well beside it")
    u, _, v = np.linalg.svd(its.T @ mine)
    turn = u @ np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ v))]) @ v
    shift = there.mean(axis=0) - turn @ own.mean(axis=0)
    off = np.linalg.norm(own @ turn.T + shift - there, axis=1)
    return Alignment(turn, shift, float(off.max()))
