"""The car that is pulled through a gear."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class Car:
    """What a pull moves: `mass` kg, `gear` and `final` turns of the shaft before for one behind, `tyre`
    diameter m, `drag` area (cd A) m2, and share of the power that the `drive` brings to the road. `clutch`,
    `gearbox` and `low_gears`: the torque in N m that each takes, 0 where nobody says it."""

    mass: float = 1250.0
    gear: float = 1.35
    final: float = 4.1
    tyre: float = 0.63
    drag: float = 0.65
    drive: float = 0.87
    clutch: float = 0.0
    gearbox: float = 0.0
    low_gears: float = 0.0
