"""Hoses that carry a pressure and hardly any air: how late the far end hears it, and the bore that each wants.

note: a small room V behind a hose fills through it as through a nozzle whose discharge its friction makes; the first word comes with
the speed of sound.
"""

from __future__ import annotations

import math

from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.common.numerics import integral
from zarvik.core.ducts.element import circle
from zarvik.core.turbine.turbine import nozzle_function

AIR = 330.0
# of the pressure before a hole, behind it: under that no more goes through
CHOKED = (2.0 / (AIR_GAMMA + 1.0)) ** (AIR_GAMMA / (AIR_GAMMA - 1.0))
RUBS = 0.04  # friction factor of a small hose; common practice, no source
ENDS = 1.5  # entry and exit
FULL = 0.9  # of the step that counts as heard
# Room m3 at the far end, and least bore m of what a hose serves; common practice, no source
SERVES: dict[str, tuple[float, float]] = {
    "gate": (60e-6, 0.004),
    "blow": (30e-6, 0.004),
    "regulator": (6e-6, 0.003),
    "gauge": (2e-6, 0.002),
    "brake": (0.0, 0.008),
}


def late(bore: float, length: float, room: float, *, start: float, end: float, temperature: float = AIR) -> float:
    """Seconds until `FULL` of a step from absolute `start` to `end` Pa stands in a `room` m3 at the end of a hose of `bore` and `length` m;
    gas of `temperature` K. Raises ValueError for a step down."""
    if not end > start > 0.0 or bore <= 0.0:
        raise ValueError("a signal rises through a hose")
    discharge = 1.0 / math.sqrt(ENDS + RUBS * length / bore)
    # Half of the hose's own room has to be filled too.
    whole = room + 0.5 * circle(bore) * length

    def slow(s: float) -> float:
        p = end - s * s  # the last of it comes ever slower: over the root it is smooth
        flow = discharge * circle(bore) * end / math.sqrt(DRY_AIR_GAS_CONSTANT * temperature) * float(nozzle_function(end / p, AIR_GAMMA))
        return 2.0 * s * whole / (DRY_AIR_GAS_CONSTANT * temperature * flow)

    target = start + FULL * (end - start)
    roots = [math.sqrt(end - p) for p in (target, min(max(CHOKED * end, start), target), start)]
    response_time = integral(slow, roots[0], roots[1]) + integral(slow, roots[1], roots[2])
    return length / math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * temperature) + response_time
