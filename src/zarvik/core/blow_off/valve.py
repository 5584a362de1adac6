"""The blow-off valve as an orifice between charge pipe and open air or intake."""

from __future__ import annotations

import math
from dataclasses import dataclass

AIR, BACK = "air", "back"
DISCHARGE = 0.65  # of a valve with its elbow; common practice, no source: 0.5 to 0.75
VALVES = tuple(mm / 1000.0 for mm in (15.0, 19.0, 22.0, 25.0, 28.0, 32.0, 35.0, 38.0, 45.0, 50.0))


@dataclass(frozen=True)
class BlowOff:
    """A blow-off valve of a `diameter` in m (0 for none) that opens when the charge pipe is `spring` Pa over the plenum;
    `to` "air" or "back" before the compressor; `metered`: the air is measured before the compressor."""

    diameter: float
    spring: float = 0.7e5
    to: str = BACK
    metered: bool = False

    @property
    def area(self) -> float:
        """Effective area in m2."""
        return DISCHARGE * 0.25 * math.pi * self.diameter**2


def diameter_of(area: float) -> float:
    """Diameter in m of a valve with an effective `area` m2."""
    return math.sqrt(4.0 * area / (math.pi * DISCHARGE))
