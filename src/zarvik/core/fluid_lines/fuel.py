"""Injectors, pump and lines at the point that asks for the most fuel.

note: flow through an injector goes with the root of the pressure across it (Bernoulli); under boost a regulator that is led to the
plenum keeps that pressure, one that is not loses the boost.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.ducts.element import circle

DUTY = 0.85  # of the time that an injector may be open; common practice, no source
PUMP_LEFT = 0.9  # of a pump's figure that is counted: voltage, heat, age; common practice, no source


@dataclass(frozen=True)
class Injection:
    """Injectors at one point: share of the time they are open (`duty`), Pa across them (`across`), kg/s that each gives when held open
    (`each`), m3/s that the pump has to give (`pumped`) at `rail` Pa gauge."""

    duty: float
    across: float
    each: float
    pumped: float
    rail: float


def injection(
    *, fuel: float, count: int, rated: float, rated_at: float, base: float, boost: float, follows: bool, density: float
) -> Injection:
    """What `count` injectors of `rated` m3/s at `rated_at` Pa each do when the engine asks for `fuel` kg/s: the regulator holds `base`
    Pa, over the plenum where it `follows` the `boost` (Pa gauge), over the open air where it does not; `density` kg/m3. Raises
    ValueError where nothing is left across them."""
    across = base if follows else base - max(boost, 0.0)
    if across <= 0.0:
        raise ValueError("boost exceeds fuel pressure: nothing is injected")
    each = rated * density * math.sqrt(across / rated_at)
    rail = base + (max(boost, 0.0) if follows else 0.0)
    return Injection(fuel / (count * each), across, each, fuel / density, rail)


def injector_for(*, fuel: float, count: int, rated_at: float, base: float, boost: float, follows: bool, density: float) -> float:
    """Rated flow in m3/s at `rated_at` Pa of the injectors that stay under `DUTY`; `fuel` kg/s, a `count`, `base` and `boost` Pa,
    whether the regulator `follows`, `density` kg/m3: as of `injection`."""
    one = injection(fuel=fuel, count=count, rated=1.0, rated_at=rated_at, base=base, boost=boost, follows=follows, density=density)
    return one.duty / DUTY


def line_speed(flow: float, bore: float) -> float:
    """Velocity in m/s of `flow` m3/s in a line of `bore` m."""
    return flow / circle(bore)
