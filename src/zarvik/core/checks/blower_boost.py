"""Does a blower make the boost that is asked for?"""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.pulley import with_smaller_pulleys
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.limits.limits import BLOWER_BOOST

CHECK = Check("blower_boost", "Blower boost", about="blower", limit=BLOWER_BOOST)


def check(case: Case) -> list[CheckResult]:
    """Boost that is made over what is asked, from where the wish begins; nothing without a blower."""
    blower = case.build.blower
    if blower is None:
        return []
    points = [p for p in case.solved if p.speed >= case.build.boost.wish] or [case.target]
    worst = min(points, key=lambda p: p.boost / max(p.wanted_boost, 1e3))
    margin = worst.boost / max(worst.wanted_boost, 1e3) - 1.0
    state = BLOWER_BOOST.state(margin)

    def turned() -> tuple[Sentence, tuple[Change, ...]]:
        for other, words, change in with_smaller_pulleys(blower):
            raw = case.with_blower(other).raw(np.array([worst.speed]))
            gauge = raw.states[0, k.P_PLENUM] - case.build.site.pressure
            if raw.solved[0] and gauge >= (1.0 + 0.5 * BLOWER_BOOST.most) * worst.wanted_boost:
                return words, (change,)
        return message("A larger blower, or less boost"), ()

    cure, changes = case.cure("blower_boost", state, turned)
    return [
        CHECK.check_result(
            message(
                "{boost} of {asked} at {speed}, the lowest between full boost and rev limit",
                boost=Figure(worst.boost, "pressure_gauge", "boost", worst.speed),
                asked=Figure(worst.wanted_boost, "pressure_gauge", "asked_boost", worst.speed),
                speed=revs(worst.speed),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]
