"""Who looks, and from where: a parallel view, so that what is measured on it is true."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

STEP = math.radians(10.0)
# Turned about the upright and tipped up, rad; by name, as the keys 1 to 4 have them
VIEWS = {"side": (0.0, 0.0), "above": (0.0, 0.5 * math.pi), "end": (0.5 * math.pi, 0.0), "corner": (math.radians(38.0), math.radians(24.0))}


@dataclass
class Camera:
    """A parallel view: `turn` and `tip` rad, the `centre` that is looked at in m, `scale` m a px. From the side one looks
    at the face of the head: along the crank to the right, up is up."""

    turn: float = VIEWS["corner"][0]
    tip: float = VIEWS["corner"][1]
    centre: np.ndarray = field(default_factory=lambda: np.zeros(3))
    scale: float = 0.001

    @property
    def axes(self) -> np.ndarray:
        """Rows: right, up, and towards who looks."""
        c, s = math.cos(self.turn), math.sin(self.turn)
        ct, st = math.cos(self.tip), math.sin(self.tip)
        towards = np.array([s * ct, st, c * ct])
        right = np.array([c, 0.0, -s])
        return np.array([right, np.cross(towards, right), towards])

    def seen(self, points: np.ndarray, wide: float, tall: float) -> np.ndarray:
        """Points (n x 3, m) as px from the left and the top of a picture `wide` by `tall`, and how near they are (m)."""
        local = (np.atleast_2d(points) - self.centre) @ self.axes.T
        return np.column_stack([0.5 * wide + local[:, 0] / self.scale, 0.5 * tall - local[:, 1] / self.scale, local[:, 2]])

    def look(self, name: str) -> None:
        """One of the views by name."""
        self.turn, self.tip = VIEWS[name]

    def orbit(self, turn: float, tip: float) -> None:
        """Walk round it by `turn` and `tip` rad; not over the top."""
        self.turn = math.remainder(self.turn + turn, 2.0 * math.pi)
        self.tip = min(max(self.tip + tip, -0.5 * math.pi), 0.5 * math.pi)

    def shift(self, across: float, up: float) -> None:
        """Move what is seen by so many px."""
        self.centre = self.centre - self.scale * (across * self.axes[0] + up * self.axes[1])

    def zoom(self, factor: float) -> None:
        """Nearer by a `factor`."""
        self.scale = min(max(self.scale / factor, 2e-5), 0.05)

    def fit(self, points: np.ndarray, wide: float, tall: float) -> None:
        """All `points` in a picture of this size."""
        if not len(points):
            return
        local = points @ self.axes.T
        low, high = local.min(axis=0), local.max(axis=0)
        self.centre = self.axes.T @ (0.5 * (low + high))
        size = high - low
        self.scale = max(size[0] / max(wide - 90.0, 60.0), size[1] / max(tall - 90.0, 60.0), 1e-4)
