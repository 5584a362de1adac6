"""Straight axes of a picture, which may stand askew, from two points each."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.common.sentences import Fault

Spot = tuple[float, float]  # px: right, down


@dataclass(frozen=True)
class Ticks:
    """Two points on one axis: where they stand in the picture (px) and their values."""

    one: Spot
    two: Spot
    low: float
    high: float


@dataclass(frozen=True)
class Axes:
    """Both axes of a diagram; each may stand at any angle.

    Raises Fault when points coincide or the axes lie on one line.
    """

    across: Ticks
    up: Ticks

    def __post_init__(self) -> None:
        for ticks in (self.across, self.up):
            if ticks.low == ticks.high:
                raise Fault("the two points of an axis need two different values, not {0:g} twice", ticks.low)
            if max(abs(a - b) for a, b in zip(ticks.one, ticks.two, strict=True)) < 8.0:
                raise Fault("the two points of an axis coincide: place them far apart")
        span = np.linalg.norm(self._base[:, 0]) * np.linalg.norm(self._base[:, 1])
        if abs(np.linalg.det(self._base)) < 0.2 * span:
            raise Fault("the two axes are almost on one line: check them")

    @cached_property
    def _base(self) -> np.ndarray:
        """px for one unit across and up, as columns."""
        columns = []
        for ticks in (self.across, self.up):
            step = np.subtract(ticks.two, ticks.one) / (ticks.high - ticks.low)
            columns.append(step)
        return np.array(columns).T

    @cached_property
    def _origin(self) -> np.ndarray:
        """px where both values are 0."""
        # A point of the axis across has an unknown value up, one of the axis up an unknown value across:
        # from the difference of two such points both follow.
        gap = np.subtract(self.up.one, self.across.one)
        _, y = np.linalg.solve(self._base, gap)
        # across.one = origin + low * ex + v * ey; up.one = origin + (low + x) * ex + up.low * ey
        value_up = self.up.low - y
        return np.asarray(self.across.one) - self._base @ np.array([self.across.low, value_up])

    def values(self, spots: np.ndarray) -> np.ndarray:
        """Values (across, up) at `spots` in px, one row each."""
        return np.asarray(np.linalg.solve(self._base, (np.atleast_2d(spots) - self._origin).T).T)

    def spots(self, values: np.ndarray) -> np.ndarray:
        """Where values (across, up), one row each, stand in the picture, px."""
        return np.asarray(self._origin + np.atleast_2d(values) @ self._base.T)
