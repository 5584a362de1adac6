"""Does a blower turn within its highest speed?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Change, Verdict
from zarvik.core.limits import HOLDS, ROTOR_SPEED
from zarvik.core.sizes import pulley_ratio
from zarvik.core.words import Figure, revs, say


def check(case: Case) -> list[Verdict]:
    """Rotor speed against its maximum; nothing without a blower."""
    blower = case.system.blower
    if blower is None:
        return []
    point = min(case.solved, key=lambda p: p.turbo.overspeed, default=case.target)
    margin = point.turbo.overspeed
    state = ROTOR_SPEED.state(margin)
    ratio = pulley_ratio(blower.ratio * (1.0 - 1.02 * ROTOR_SPEED.good) / (1.0 - margin))
    return [Verdict(
        "overspeed", "Blower speed", state, margin,
        say("{turning} of {maximum} at {speed}",
            turning=Figure(point.turbo.real_speed, "rotation", "wheel_speed", point.speed),
            maximum=Figure(blower.maximum_speed, "rotation", "=blower.rotor_limit"),
            speed=revs(point.speed)),
        None if state == HOLDS else say(
            "A larger pulley on the blower: {ratio} turns for one of the crank instead of {now}; it "
            "moves less air at every speed",
            ratio=Figure(ratio, "number"), now=Figure(blower.ratio, "number")),
        () if state == HOLDS else (Change("blower.ratio", ratio),),
        "blower", ROTOR_SPEED.basis,
    )]  # fmt: skip
