"""Where something stands and which way it points."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

NEARLY = 1e-12


@dataclass(frozen=True, eq=False)
class Frame:
    """A place in space. `origin`: m; `axes`: 3x3, its columns the unit vectors across (x), up (y) and along (z), the way
    that a run goes; right-handed."""

    origin: np.ndarray
    axes: np.ndarray

    @property
    def along(self) -> np.ndarray:
        """Unit vector in which the run goes on."""
        return np.asarray(self.axes[:, 2])

    def moved(self, length: float) -> Frame:
        """The frame `length` m farther along."""
        return Frame(self.origin + length * self.along, self.axes)

    def rolled(self, roll: float) -> Frame:
        """The frame turned by `roll` rad about the way it goes; positive is clockwise for who looks along it."""
        return Frame(self.origin, self.axes @ rotation_about(np.array([0.0, 0.0, 1.0]), roll))

    def bent(self, radius: float, angle: float) -> Frame:
        """The frame behind a bend of centreline `radius` m through `angle` rad, towards its own x."""
        x, z = self.axes[:, 0], self.axes[:, 2]
        chord = radius * ((1.0 - math.cos(angle)) * x + math.sin(angle) * z)
        return Frame(self.origin + chord, self.axes @ rotation_about(np.array([0.0, 1.0, 0.0]), angle))


def rotation_about(axis: np.ndarray, angle: float) -> np.ndarray:
    """Rotation matrix about a unit `axis` (3) by `angle` rad, right-handed (O. Rodrigues, J. Math. Pures Appl. 5 (1840)
    380)."""
    x, y, z = axis
    cross = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    return np.asarray(np.eye(3) + math.sin(angle) * cross + (1.0 - math.cos(angle)) * (cross @ cross))


def start() -> Frame:
    """The frame of the origin: across, up and along are the axes themselves."""
    return Frame(np.zeros(3), np.eye(3))


def frame_looking(origin: np.ndarray, heading: float, pitch: float) -> Frame:
    """A frame at `origin` (m) as it is measured beside an engine: `heading` rad in plan, 0 straight out from the head (the
    Z of the engine), a quarter towards the last cylinder (its X); `pitch` rad up from level. Its x is what is up across
    that way (of a way that goes up itself: back against the heading)."""
    sine, cosine = math.sin(pitch), math.cos(pitch)
    level = np.array([math.sin(heading), 0.0, math.cos(heading)])
    up = np.array([0.0, 1.0, 0.0])
    z = cosine * level + sine * up
    x = cosine * up - sine * level
    return Frame(np.asarray(origin, float), np.column_stack([x, np.cross(z, x), z]))


def mirrored_frame(frame: Frame, middle: float) -> Frame:
    """The frame on the other side of the plane at Z = `middle` m across the engine: its y is turned over, so that it stays
    right-handed; a run from it that rolls the other way is the mirror image of the first."""
    flip = np.array([1.0, 1.0, -1.0])
    origin = frame.origin * flip + np.array([0.0, 0.0, 2.0 * middle])
    x, z = frame.axes[:, 0] * flip, frame.axes[:, 2] * flip
    return Frame(origin, np.column_stack([x, np.cross(z, x), z]))


def moved_frame(frame: Frame, one: Frame, two: Frame) -> Frame:
    """Where a `frame` comes to stand when all is moved so that the frame `one` comes to `two`."""
    turn = two.axes @ one.axes.T
    return Frame(two.origin + turn @ (frame.origin - one.origin), turn @ frame.axes)


def frame_facing(origin: np.ndarray, along: np.ndarray, up: np.ndarray | None = None) -> Frame:
    """A frame at `origin` (m) that goes `along` (any length), its y as near to `up` (any length; else to the vertical y)
    as can be. Raises ValueError for a direction of no length."""
    z = _unit(np.asarray(along, float))
    wish = np.array([0.0, 1.0, 0.0]) if up is None else np.asarray(up, float)
    if np.linalg.norm(np.cross(wish, z)) < 1e-9 * max(float(np.linalg.norm(wish)), NEARLY):
        # Straight up or down: across is taken from another axis.
        wish = np.array([0.0, 0.0, 1.0]) if abs(z[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    x = _unit(np.cross(wish, z))
    return Frame(np.asarray(origin, float), np.column_stack([x, np.cross(z, x), z]))


def _unit(vector: np.ndarray) -> np.ndarray:
    size = float(np.linalg.norm(vector))
    if not size > NEARLY:
        raise ValueError("a direction needs a length")
    return np.asarray(vector / size)


@dataclass(frozen=True)
class Misalignment:
    """How far an end is from what it must meet: `gap` m along the way that it must go (negative: it runs in), `offset`
    m beside it, `angle` rad between the two ways."""

    gap: float
    offset: float
    angle: float


def miss(end: Frame, goal: Frame) -> Misalignment:
    """How an `end` misses a `goal` that goes on the same way."""
    apart = goal.origin - end.origin
    gap = float(apart @ goal.along)
    beside = apart - gap * goal.along
    # By the sine for small angles, where the cosine knows nothing.
    cross = float(np.linalg.norm(np.cross(end.along, goal.along)))
    angle = math.atan2(cross, float(end.along @ goal.along))
    return Misalignment(gap, float(np.linalg.norm(beside)), angle)
