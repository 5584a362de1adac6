"""What is towed, as plain numbers in SI."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class TowingCase:
    """What is towed, the car with it: `mass` kg, up a `grade` (rise over way) at a road `speed` m/s, for so many `minutes` (s). An
    exhaust `brake`: is there one; the bore of its `hole` in m, 0 for one that is looked for; the exhaust `valve` across in m and the
    `spring` on its seat in N, 0 where nobody knows them; ratio of the `gear` on the hill, 0 for that of the car's pull."""

    mass: float = 0.0
    grade: float = 0.0
    speed: float = 20.0
    minutes: float = 600.0
    brake: bool = False
    hole: float = 0.0
    valve: float = 0.0
    spring: float = 0.0
    gear: float = 0.0
