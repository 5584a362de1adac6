"""A belt-driven positive-displacement blower."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.common.compiled import compiled
from zarvik.core.engine.belt import Belt


@dataclass(frozen=True, kw_only=True)
class Blower:
    """A blower turned by the crank.

    `displacement` m3 a revolution, `ratio` blower over crank speed, `volumetric` efficiency at pressure ratio 1,
    `leak`: its fall for each unit of pressure ratio at 10,000 rev/min (in inverse proportion to speed),
    `adiabatic` efficiency at pressure ratio 1 and its `fall` for each unit of pressure ratio, `maximum_speed`
    rev/min of its rotors, `drive`: efficiency of belt and gears; `belt`: what turns it, None where that is not
    said; `by_pulley`: its ratio follows from the pulleys; `vents`: its bypass blows into the open, not back
    before it.
    """

    name: str
    displacement: float
    ratio: float
    volumetric: float = 0.93
    leak: float = 0.10
    adiabatic: float = 0.70
    fall: float = 0.10
    maximum_speed: float = 16000.0
    drive: float = 0.95
    belt: Belt | None = None
    by_pulley: bool = False
    vents: bool = False


@compiled
def delivered_flow(displacement: float, volumetric: float, leak: float, speed: float, ratio: float, density: float) -> float:
    """Air in kg/s that a blower of `displacement` m3 moves at `speed` rev/min against a pressure
    `ratio`; inlet `density` kg/m3. Slip through the clearances is a share of 10,000 rev/min.

    `volumetric` efficiency and `leak` as shares (0–1).
    """
    slip = leak * max(ratio - 1.0, 0.0) * 10_000.0 / max(speed, 1.0)
    return density * displacement * speed / 60.0 * max(volumetric - slip, 0.02)


@compiled
def blower_efficiency(adiabatic: float, fall: float, ratio: float) -> float:
    """Adiabatic efficiency (0–1) at a pressure `ratio`.

    `fall`: what it loses for each unit of ratio.
    """
    return max(adiabatic - fall * max(ratio - 1.0, 0.0), 0.25)
