"""Boxes, cylinders, rods with round ends, hulls and scanned skins: what everything in a bay is made of."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from zarvik.core.solids import distance
from zarvik.core.solids.distance import AXES, CENTRE, HALF, KIND, MOUNTED, NUMBERS, REACH, SKIP
from zarvik.core.solids.meshes import Mesh


class Shape(StrEnum):
    """How a body is described."""

    BOX = "box"
    CYLINDER = "cylinder"
    ROD = "rod"
    HULL = "hull"
    SCAN = "scan"
    GROUP = "group"


KINDS = {Shape.BOX: distance.BOX, Shape.CYLINDER: distance.CYLINDER, Shape.ROD: distance.ROD, Shape.GROUP: distance.GROUP}


@dataclass(frozen=True, kw_only=True)
class Body:
    """Something that stands in the bay.

    `centre` m; `axes`, its own three directions as rows (of a cylinder and a rod the first is its axis); `half`, half of its size along
    them in m (of a cylinder: radius, half of its length, 0; of a rod: radius, half of the distance of the middles of its round ends, 0).
    Hull and scan have a `mesh`, and in the first of `half` the m by which their skin is larger than that. A group has `members`, and in the
    first of `half` the radius m of the sphere round its centre that they fit into. `mounted`: an end sits on it, so that a tube touches it
    there.
    """

    name: str
    shape: Shape
    centre: np.ndarray
    axes: np.ndarray
    half: np.ndarray
    mounted: bool = False
    mesh: Mesh | None = None
    members: tuple[Body, ...] = ()

    @property
    def reach(self) -> float:
        """Radius of the sphere round its centre that it fits into, m."""
        if self.mesh is not None:
            return self.mesh.reach + float(self.half[0])
        if self.shape is Shape.CYLINDER:
            return math.hypot(self.half[0], self.half[1])
        if self.shape is Shape.ROD:
            return float(self.half[0] + self.half[1])
        if self.shape is Shape.GROUP:
            return float(self.half[0])
        return float(np.linalg.norm(self.half))


def packed(bodies: Sequence[Body], *, in_cells: bool = False) -> np.ndarray:
    """The `bodies` as rows of numbers, as the compiled code reads them (`distance.nearest`). `in_cells`: scans as cells, which takes a
    second once and is some ten times quicker from then on."""
    made = []
    for body in bodies:
        if body.mesh is not None:
            rows = (body.mesh.cells if in_cells and body.shape is Shape.SCAN else body.mesh.packed).copy()
            rows[0, MOUNTED], rows[0, HALF], rows[0, REACH] = float(body.mounted), body.half[0], body.reach
            made.append(rows)
            continue
        row = np.zeros((1, NUMBERS))
        row[0, KIND], row[0, MOUNTED] = KINDS[body.shape], float(body.mounted)
        row[0, CENTRE : CENTRE + 3], row[0, AXES : AXES + 9], row[0, HALF : HALF + 3] = body.centre, body.axes.ravel(), body.half
        row[0, REACH] = body.reach
        made.append(row)
        if body.members:
            made.append(packed(body.members, in_cells=in_cells))
            row[0, SKIP] = len(made[-1])
    return np.vstack(made) if made else np.zeros((0, NUMBERS))


def rows_of(packed: np.ndarray) -> np.ndarray:
    """In which rows of `packed` bodies one begins."""
    found, row = [], 0
    while row < len(packed):
        found.append(row)
        row += 1 + int(packed[row, SKIP])
    return np.array(found, dtype=np.int64)


def of_mesh(name: str, mesh: Mesh) -> Body:
    """A hull, or a scan where it is not convex."""
    shape = Shape.HULL if mesh.convex else Shape.SCAN
    return Body(name=name, shape=shape, centre=mesh.centre, axes=np.eye(3), half=np.zeros(3), mesh=mesh)


def group(name: str, bodies: Sequence[Body]) -> Body:
    """Several `bodies`, of which none is a group, as one: what is far from all of them is seen at once."""
    if len(bodies) == 1:
        return bodies[0]
    low, high = extent(bodies)
    centre = 0.5 * (low + high)
    reach = max(float(np.linalg.norm(body.centre - centre)) + body.reach for body in bodies)
    mounted = bodies[0].mounted
    return Body(
        name=name,
        shape=Shape.GROUP,
        centre=centre,
        axes=np.eye(3),
        half=np.array([reach, 0.0, 0.0]),
        mounted=mounted,
        members=tuple(bodies),
    )


def extent(bodies: Sequence[Body]) -> tuple[np.ndarray, np.ndarray]:
    """Lowest and highest corner (3) m of the upright box round `bodies`."""
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for body in bodies:
        if body.members:
            near, far = extent(body.members)
        elif body.mesh is not None:
            near, far = body.mesh.corners.min(axis=0) - body.half[0], body.mesh.corners.max(axis=0) + body.half[0]
        else:
            axis = np.abs(body.axes[0])
            if body.shape is Shape.BOX:
                reach = np.abs(body.axes.T) @ body.half
            elif body.shape is Shape.CYLINDER:
                reach = body.half[1] * axis + body.half[0] * np.sqrt(np.maximum(1.0 - axis * axis, 0.0))
            else:
                reach = body.half[1] * axis + body.half[0]
            near, far = body.centre - reach, body.centre + reach
        low, high = np.minimum(low, near), np.maximum(high, far)
    return low, high


def moved(body: Body, turn: np.ndarray, shift: np.ndarray) -> Body:
    """A body turned (3, 3) about the origin and shifted (3) m."""
    members = tuple(moved(one, turn, shift) for one in body.members)
    mesh = None if body.mesh is None else body.mesh.moved(lambda corners: corners @ turn.T + shift)
    return replace(body, centre=turn @ body.centre + shift, axes=body.axes @ turn.T, mesh=mesh, members=members)


def axes_along(way: np.ndarray) -> np.ndarray:
    """Three directions as rows, square to each other, the first along a `way` (3; m, of any length)."""
    along = way / np.linalg.norm(way)
    across = np.cross(along, (1.0, 0.0, 0.0) if abs(along[0]) < 0.9 else (0.0, 1.0, 0.0))
    across /= np.linalg.norm(across)
    return np.array([along, across, np.cross(along, across)])


def rod(name: str, begin: np.ndarray, end: np.ndarray, radius: float) -> Body:
    """A rod with round ends of a `radius` m from the place `begin` m to `end` m."""
    way = end - begin
    length = float(np.linalg.norm(way))
    axes = axes_along(way) if length > 1e-9 else np.eye(3)
    return Body(name=name, shape=Shape.ROD, centre=0.5 * (begin + end), axes=axes, half=np.array([radius, 0.5 * length, 0.0]))
