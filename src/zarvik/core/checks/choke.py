"""Does the compressor stay short of choke along the full-load line?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult, nothing_to_judge
from zarvik.core.checks.other_turbo import other
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import CHOKE, OK

CHECK = Check("choke", "Choke margin", about="compressor", limit=CHOKE)


def check(case: Case) -> list[CheckResult]:
    """Least room to choke while boosted; nothing with a blower."""
    if case.build.blower is not None:
        return []
    if not case.boosted:
        return [nothing_to_judge(CHECK)]
    point = min(case.boosted, key=lambda p: p.turbo.choke)
    margin = point.turbo.choke
    state = CHOKE.state(margin)
    word = "Little" if state != OK else "Enough"
    template = (
        ("Beyond the map at {speed}: {flow}, but {edge} is the limit at this pressure ratio. Efficiency {efficiency} at best")
        if margin < 0
        else word + " margin: {flow} of {edge} at {speed} ({part} left), efficiency {efficiency}"
    )
    cure, changes = case.cure("choke", state, lambda: other(case))
    return [
        CHECK.check_result(
            message(
                template,
                part=Figure(margin, "ratio", "choke", point.speed),
                speed=revs(point.speed),
                flow=Figure(point.turbo.flow, "mass_flow", "corrected_flow", point.speed),
                edge=Figure(point.turbo.flow_limit, "mass_flow", "flow_limit", point.speed),
                efficiency=Figure(point.turbo.efficiency, "ratio", "efficiency", point.speed),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]
