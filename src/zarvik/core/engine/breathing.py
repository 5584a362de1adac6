"""Volumetric efficiency over engine speed, from an archetype or the builder's own table.

note: VE = air drawn in per swept volume at the density of the plenum.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.compressor.lookup import monotone_slopes


@dataclass(frozen=True)
class Archetype:
    """A shape of VE: relative to its peak, over speed relative to the speed of the peak."""

    key: str
    title: str
    speed: tuple[float, ...]
    shape: tuple[float, ...]


# Shapes from memory of published VE curves (Heywood 1988, fig. 6-9 gives the trend), as bands. Beyond twice the speed of the peak the
# valves pass about the same flow, and VE falls as one over the speed: a rough guide that no engine is driven by.
ARCHETYPES: dict[str, Archetype] = {
    a.key: a
    for a in (
        Archetype(
            "long_runner",
            "Four valves, long runners",
            (0.0, 0.2, 0.4, 0.6, 0.8, 1.0, 1.2, 1.4, 1.6, 1.8, 2.2, 3.0, 4.5),
            (0.72, 0.80, 0.88, 0.93, 0.975, 1.0, 0.985, 0.94, 0.875, 0.79, 0.55, 0.32, 0.18),
        ),
        Archetype(
            "short_runner",
            "Four valves, short runners",
            (0.0, 0.2, 0.4, 0.6, 0.8, 1.0, 1.2, 1.4, 1.8, 2.4, 3.2, 4.5),
            (0.68, 0.74, 0.80, 0.87, 0.955, 1.0, 0.97, 0.89, 0.62, 0.42, 0.28, 0.17),
        ),
        Archetype(
            "two_valve",
            "Two valves",
            (0.0, 0.2, 0.4, 0.6, 0.8, 1.0, 1.2, 1.4, 1.6, 2.0, 2.8, 4.5),
            (0.76, 0.84, 0.91, 0.96, 0.99, 1.0, 0.96, 0.88, 0.78, 0.5, 0.32, 0.17),
        ),
    )
}
VE_REFERENCE_TEMPERATURE = 298.15  # K, plenum temperature at which a stock VE is understood


@dataclass(frozen=True)
class Breathing:
    """VE over engine speed: `speed` rev/min rising, `efficiency` 0–1.5."""

    speed: tuple[float, ...]
    efficiency: tuple[float, ...]

    @cached_property
    def _curve(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        x, y = np.array(self.speed), np.array(self.efficiency)
        d = monotone_slopes(x, y) if len(x) > 1 else np.zeros(1)
        d[0] = d[-1] = 0.0
        return x, y, d

    def at(self, speed: np.ndarray | float) -> np.ndarray:
        """VE at engine `speed` in rev/min: monotone cubic, held flat outside of the table."""
        x, y, d = self._curve
        if len(x) == 1:
            return np.full_like(np.asarray(speed, float), y[0])
        # np.clip takes ten times as long as these two on a few numbers.
        s = np.minimum(np.maximum(np.asarray(speed, float), x[0]), x[-1])
        i = np.minimum(np.searchsorted(x, s, side="right") - 1, len(x) - 2)
        h = x[i + 1] - x[i]
        t = (s - x[i]) / h
        u = 1.0 - t
        return np.asarray(y[i] * u * u * (1 + 2 * t) + y[i + 1] * t * t * (3 - 2 * t) + h * t * u * (d[i] * u - d[i + 1] * t))


def from_archetype(key: str, *, peak_speed: float, peak: float) -> Breathing:
    """The archetype `key` with its `peak` VE at `peak_speed` in rev/min.

    Raises KeyError for an unknown key.
    """
    shape = ARCHETYPES[key]
    return Breathing(tuple(s * peak_speed for s in shape.speed), tuple(v * peak for v in shape.shape))
