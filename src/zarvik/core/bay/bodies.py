"""Boxes, cylinders and rods with round ends: what everything in a bay is made of."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

NUMBERS = 18  # of a packed body


class Shape(StrEnum):
    """How a body is described."""

    BOX = "box"
    CYLINDER = "cylinder"
    ROD = "rod"


KINDS = {Shape.BOX: 0.0, Shape.CYLINDER: 1.0, Shape.ROD: 2.0}


@dataclass(frozen=True, kw_only=True)
class Body:
    """Something that stands in the bay.

    `centre` m; `axes`, its own three directions as rows (of a cylinder and a rod the first is its axis); `half`, half of its size along
    them in m (of a cylinder: radius, half of its length, 0; of a rod: radius, half of the distance of the middles of its round ends, 0).
    `mounted`: an end sits on it, so that a tube touches it there.
    """

    name: str
    shape: Shape
    centre: np.ndarray
    axes: np.ndarray
    half: np.ndarray
    mounted: bool = False

    @property
    def reach(self) -> float:
        """Radius of the sphere round its centre that it fits into, m."""
        if self.shape is Shape.CYLINDER:
            return math.hypot(self.half[0], self.half[1])
        if self.shape is Shape.ROD:
            return float(self.half[0] + self.half[1])
        return float(np.linalg.norm(self.half))


def packed(bodies: Sequence[Body]) -> np.ndarray:
    """The `bodies` as rows of numbers, as the compiled code reads them (`distance.nearest`)."""
    rows = np.zeros((len(bodies), NUMBERS))
    for row, body in zip(rows, bodies, strict=True):
        row[0], row[1] = KINDS[body.shape], float(body.mounted)
        row[2:5], row[5:14], row[14:17], row[17] = body.centre, body.axes.ravel(), body.half, body.reach
    return rows


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
