"""What is towed, as plain numbers in SI."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class TowingCase:
    """A climb with a trailer: total `mass` in kg, `gradient` (rise over distance), road `speed` in m/s, `duration` in s, `gear_ratio` (0:
    that of the car's pull). Exhaust `brake`: is one fitted; `brake_orifice` in m (0: to be found); exhaust `valve_diameter` in m and
    `valve_spring_force` on its seat in N (0 where they are not known)."""

    mass: float = 0.0
    gradient: float = 0.0
    speed: float = 20.0
    duration: float = 600.0
    brake: bool = False
    brake_orifice: float = 0.0
    valve_diameter: float = 0.0
    valve_spring_force: float = 0.0
    gear_ratio: float = 0.0
