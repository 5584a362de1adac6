"""Throttles of the bores that can be bought: what each takes at full load, and how much of the pedal is left to feel.

note: psi angle of the blade from across the bore, psi0 where it shuts, a shaft over bore; the gap between blade and bore is a
nozzle, the engine behind it a pump.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.common.numerics import brentq
from zarvik.core.ducts.element import circle
from zarvik.core.ducts.pieces.throttle import throttle_loss
from zarvik.core.turbine.turbine import nozzle_function

BORES = tuple(1e-3 * d for d in (46, 50, 55, 60, 65, 70, 75, 80, 85, 90, 95, 100, 105))  # m, as they are sold; common practice, no source
SHUT = math.radians(6.0)  # blade at its stop; common practice, no source
WIDE = math.radians(90.0)
DISCHARGE = 0.85  # of the gap; Heywood 1988, sec. 7.6 (memory)
FELT = 0.9  # of the pressure before it behind the blade: from there on the pedal moves nothing
TOWN = 2000.0  # rev/min at which it is asked


def open_area(bore: float, shaft: float, angle: float) -> float:
    """Free area in m2 of a butterfly in a `bore` with a `shaft` (m) at an `angle` rad from across the bore; shut at `SHUT`. Harrington
    and Bolt, SAE 700082 (1970), in Heywood 1988, eq. 7.18 (memory)."""
    a = shaft / bore
    share = math.cos(angle) / math.cos(SHUT)
    most = 1.0 - 2.0 / math.pi * (a * math.sqrt(1.0 - a * a) + math.asin(a))
    if share <= a:
        return circle(bore) * most
    rest = (
        a * math.sqrt(max(1.0 - (a / share) ** 2, 0.0)) + share * math.asin(min(a / share, 1.0)) - a * math.sqrt(1.0 - a * a) - math.asin(a)
    )
    return circle(bore) * max(1.0 - share + 2.0 / math.pi * rest, 0.0)


@dataclass(frozen=True)
class NaturalIntake:
    """An engine without boost behind a throttle: `swept` m3 of all cylinders, `breathing` (0 to 1.2), `pressure` Pa and `temperature` K
    before the blade, gas constant `gas` J/(kg K)."""

    swept: float
    breathing: float
    pressure: float
    temperature: float
    gas: float = DRY_AIR_GAS_CONSTANT


def area_for(engine: NaturalIntake, speed: float, share: float = FELT) -> float:
    """Free area in m2 at which an `engine` at `speed` rev/min draws the space behind the blade to a `share` of the pressure before it."""
    drawn = engine.breathing * engine.swept * speed / 120.0 * share * engine.pressure / (engine.gas * engine.temperature)
    one = engine.pressure / math.sqrt(engine.gas * engine.temperature) * float(nozzle_function(1.0 / share, AIR_GAMMA))
    return drawn / (DISCHARGE * one)


def travel_for(bore: float, shaft: float, area: float) -> float:
    """Share of the travel of the blade (0 shut, 1 wide) at which a throttle of `bore` and `shaft` m is open by `area` m2; 1 where it is
    never."""
    if area >= open_area(bore, shaft, WIDE):
        return 1.0
    angle = float(brentq(lambda x: open_area(bore, shaft, x) - area, SHUT, WIDE))
    return (angle - SHUT) / (WIDE - SHUT)


@dataclass(frozen=True)
class Choice:
    """A throttle of a `bore` m: Pa that it takes at full load (`loss`), `mach` in it there, share of its travel after which nothing more
    comes in town (`travel`)."""

    bore: float
    loss: float
    mach: float
    travel: float


def full_load(bore: float, shaft: float, *, flow: float, pressure: float, temperature: float) -> tuple[float, float]:
    """Pa that an open throttle of `bore` and `shaft` m takes of `flow` kg/s at `pressure` Pa and `temperature` K, and the Mach number
    in its bore; as of a loss on the head in the bore."""
    density = pressure / (DRY_AIR_GAS_CONSTANT * temperature)
    speed = flow / (density * circle(bore))
    return throttle_loss(bore, shaft) * 0.5 * density * speed**2, speed / math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * temperature)


def choose(
    shaft: float, engine: NaturalIntake, *, flow: float, pressure: float, temperature: float, bores: tuple[float, ...] = BORES
) -> tuple[Choice, ...]:
    """What throttles of these `bores` with a `shaft` (m) do at full load (`flow` kg/s, `pressure` Pa, `temperature` K) and in town with an
    `engine`; those whose shaft fills them are left out."""
    found = []
    area = area_for(engine, TOWN)
    for bore in bores:
        if shaft >= 0.5 * bore:
            continue
        loss, mach = full_load(bore, shaft, flow=flow, pressure=pressure, temperature=temperature)
        found.append(Choice(bore, loss, mach, travel_for(bore, shaft, area)))
    return tuple(found)


def shaft_of(bore: float, loss: float) -> float:
    """Shaft in m of a throttle of `bore` m whose loss coefficient is `loss`: `throttle_loss` turned round."""
    # (0.5 b + b^2) / (1 - b)^2 = K, b the share that is blocked
    a, b = loss - 1.0, 2.0 * loss + 0.5
    blocked = loss / b if abs(a) < 1e-12 else (b - math.sqrt(max(b * b - 4.0 * a * loss, 0.0))) / (2.0 * a)
    return 0.25 * math.pi * bore * blocked
