"""Curves to wrap round a tube: mitres, pie cuts, and the mouth of a tube that meets another one."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault

POINTS = 181  # of a curve, both ends of the strip among them


@dataclass(frozen=True, eq=False)
class Template:
    """A strip of paper: `around` m along the circumference of the outer skin, from 0, and `along` m up the tube at each;
    what lies above the curve stays."""

    around: np.ndarray
    along: np.ndarray

    @property
    def width(self) -> float:
        """The whole circumference in m."""
        return float(self.around[-1])

    @property
    def depth(self) -> float:
        """From the lowest to the highest of the curve in m."""
        return float(self.along.max() - self.along.min())


def _round(radius: float) -> tuple[np.ndarray, np.ndarray]:
    phi = np.linspace(0.0, 2.0 * math.pi, POINTS)
    return phi, phi * radius


def mitre(diameter: float, turn: float) -> Template:
    """One side of a mitre: an outside `diameter` (m), cut so that two of them make a `turn` (rad) together. The long side
    is at 0. Plane through a cylinder: half of the turn to each."""
    if not 0.0 < turn < math.pi:
        raise Fault("a mitre must be between 0° and 180°")
    phi, around = _round(0.5 * diameter)
    return Template(around, -0.5 * diameter * math.tan(0.5 * turn) * np.cos(phi))


@dataclass(frozen=True)
class PieCuts:
    """A bend of pieces: `count` of cuts, the `turn` of each in rad, length of a whole piece at its middle, at its long
    and at its short side, and of the half ones at the ends, all in m."""

    count: int
    turn: float
    middle: float
    long_side: float
    short_side: float
    end: float


def pie_cuts(diameter: float, radius: float, angle: float, count: int) -> PieCuts:
    """A bend of an outside `diameter` and centreline `radius` (m) through an `angle` (rad) from straight tube with so
    many cuts (`count`): the middle of each piece touches the arc. Raises Fault where the short side would be none."""
    if count < 1:
        raise Fault("a segmented bend needs at least one cut")
    turn = angle / count
    half = math.tan(0.5 * turn)
    short = 2.0 * (radius - 0.5 * diameter) * half
    if not short > 0.0:
        raise Fault("segments of {0:.0f} mm radius have no inner side on a tube of {1:.0f} mm", 1e3 * radius, 1e3 * diameter)
    return PieCuts(
        count=count,
        turn=turn,
        middle=2.0 * radius * half,
        long_side=2.0 * (radius + 0.5 * diameter) * half,
        short_side=short,
        end=radius * half,
    )


def saddle(branch: float, main: float, angle: float, *, offset: float = 0.0, wall: float = 0.0) -> Template:
    """The mouth of a `branch` that meets a `main` tube (outside diameters, m) at an `angle` (rad) between their middles,
    its own beside the other's by `offset` m. With the branch's `wall` (m) no point of it runs into the main tube when it
    is cut square to its skin. `along` counts from the middle of the main tube up the branch; 0 lies in the acute corner.

    Points of the branch at the radius r: t = (sqrt(R² - (r sin φ + e)²) - r cos φ cos θ) / sin θ (two cylinders,
    analytic). Raises Fault where the branch misses the main tube.
    """
    if not math.radians(5.0) <= angle <= math.radians(175.0):
        raise Fault("tubes must meet at 5° to 175°")
    outer, inner, large = 0.5 * branch, 0.5 * branch - wall, 0.5 * main
    if not 0.0 <= wall < 0.5 * branch:
        raise Fault("the wall is as thick as the tube")
    if outer + abs(offset) > large * (1.0 + 1e-12):
        raise Fault("the branch is wider than the main tube")
    phi, around = _round(outer)

    def at(radius: float) -> np.ndarray:
        beside = radius * np.sin(phi) + offset
        deep = np.sqrt(np.maximum(large**2 - beside**2, 0.0))
        return np.asarray((deep - radius * np.cos(phi) * math.cos(angle)) / math.sin(angle))

    return Template(around, np.maximum(at(outer), at(inner)) if wall > 0.0 else at(outer))
