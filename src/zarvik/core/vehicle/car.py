"""The car that is pulled through a gear."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class Car:
    """A car in one gear: `mass` in kg, `gear_ratio`, `final_drive` ratio, `tyre_diameter` in m, `drag_area` (cd A) in m2, efficiency of
    its drivetrain (`drive`, 0–1). Torque limits in N m, 0 where they are not known: `clutch`, `gearbox`, `low_gears`."""

    mass: float = 1250.0
    gear_ratio: float = 1.35
    final_drive: float = 4.1
    tyre_diameter: float = 0.63
    drag_area: float = 0.65
    drive: float = 0.87
    clutch: float = 0.0
    gearbox: float = 0.0
    low_gears: float = 0.0
