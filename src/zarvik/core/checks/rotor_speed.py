"""Does a blower turn within its highest speed?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.pulley import with_larger_pulleys
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.limits.limits import OK, ROTOR_SPEED

CHECK = Check("overspeed", "Blower speed", about="blower", limit=ROTOR_SPEED, breaks=True)


def check(case: Case) -> list[CheckResult]:
    """Rotor speed against its maximum; nothing without a blower."""
    blower = case.build.blower
    if blower is None:
        return []
    point = min(case.solved, key=lambda p: p.turbo.overspeed, default=case.target)
    margin = point.turbo.overspeed
    state = ROTOR_SPEED.state(margin)
    wanted = blower.ratio * (1.0 - 1.02 * ROTOR_SPEED.good) / (1.0 - margin)

    def turned() -> tuple[Sentence | None, tuple[Change, ...]]:
        for other, words, change in with_larger_pulleys(blower):
            if other.ratio <= wanted * 1.0001:
                return words, (change,)
        return message("A larger blower that turns slower"), ()

    cure, changes = (None, ()) if state == OK else turned()
    return [
        CHECK.check_result(
            message(
                "{turning} of {maximum} at {speed}",
                turning=Figure(point.turbo.real_speed, "rotation", "wheel_speed", point.speed),
                maximum=Figure(blower.maximum_speed, "rotation", "=blower.rotor_limit"),
                speed=revs(point.speed),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]
