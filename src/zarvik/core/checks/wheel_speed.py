"""Does the wheel turn within the highest speed of its map?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult, nothing_to_judge
from zarvik.core.checks.other_turbo import other
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import WHEEL_SPEED

CHECK = Check("overspeed", "Wheel speed", about="compressor", limit=WHEEL_SPEED, breaks=True)


def check(case: Case) -> list[CheckResult]:
    """Least room to the highest speed of the map while boosted; nothing with a blower."""
    if case.build.blower is not None:
        return []
    if not case.boosted:
        return [nothing_to_judge(CHECK)]
    point = min(case.boosted, key=lambda p: p.turbo.overspeed)
    margin = point.turbo.overspeed
    state = WHEEL_SPEED.state(margin)
    maximum = case.build.turbo.chart.maximum_speed
    cure, changes = case.cure("overspeed", state, lambda: other(case))
    return [
        CHECK.check_result(
            message(
                "{turning} of {maximum} at {speed}",
                ("; overspeed can burst a wheel" if margin < WHEEL_SPEED.good else ""),
                turning=Figure(point.turbo.speed, "rotation", "corrected_speed", point.speed),
                maximum=Figure(maximum, "rotation"),
                speed=revs(point.speed),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]
