"""From which engine speed does the full boost stand?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.checks.wheel_of_each_turbo import too_large
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, THRESHOLD

CHECK = Check("spool", "Full-boost speed", about="turbine", limit=THRESHOLD)

HELD = 10.0  # rev/min of band below which the control decides, not the turbo


def check(case: Case) -> list[CheckResult]:
    """The threshold with its band against the wish; nothing with a blower."""
    if case.build.blower is not None:
        return []
    middle, early, late = case.spool
    wish = case.build.boost.wish
    if middle != middle:
        return [_never(case)]
    margin = 1.0 - middle / wish
    state = THRESHOLD.state(margin)
    if state == OK and not late <= wish:
        state = MARGINAL
    double = case.double
    if double is not None and double[1] - double[0] < HELD:
        double = None
    both = ". From {down} to {up} two states are possible: coming down it keeps its boost" if double else ""
    states: dict[str, Figure] = {}
    if double:
        states = {"down": Figure(double[0], "rotation", "double_low"), "up": Figure(double[1], "rotation", "double_high")}
    own = {}
    if late - early < HELD:
        free, soon, slow = case.free
        own = {
            "own": Figure(free, "rotation", "threshold_own"),
            "own_early": Figure(soon, "rotation", "threshold_own_early"),
            "own_late": Figure(slow, "rotation", "threshold_own_late"),
        }
    text = message(
        "Full boost from {middle}, delayed by the controller; wish {wish}. The turbo alone could from {own}"
        if late - early < HELD and case.hasty
        else (
            "Full boost from {middle}, delayed by the controller; wish {wish}. The turbo alone could from {own} ({own_early} to {own_late})"
        )
        if late - early < HELD
        else "Full boost from {middle} (could be {early} to {late}), wish {wish}"
        if late == late
        else "Full boost from {middle} (could be {early} or never), wish {wish}",
        both,
        middle=Figure(middle, "rotation", "threshold"),
        early=Figure(early, "rotation", "threshold_early"),
        late=Figure(late, "rotation", "threshold_late"),
        wish=Figure(wish, "rotation", "=goal.full_boost_from"),
        **states,
        **own,
    )
    cure = None if state == OK else too_large(case)
    smaller = message("A smaller housing spools earlier and costs back-pressure at the top; wrapped primaries help")
    return [CHECK.check_result(text, state=state, margin=margin, cure=cure or smaller)]


def _never(case: Case) -> CheckResult:
    """A turbine that does not reach the boost at any speed."""
    best = max(case.solved, key=lambda p: p.boost, default=case.target)
    return CHECK.check_result(
        message(
            "The turbine never makes {wanted}: {boost} at most, at {speed}",
            wanted=Figure(case.build.boost.full, "pressure_gauge", "=goal.target_boost"),
            boost=Figure(best.boost, "pressure_gauge", "boost", best.speed),
            speed=revs(best.speed),
        ),
        state=FAILS,
        margin=-1.0,
        cure=message(
            "More fuel first: at lambda {mixture} the exhaust has too little energy",
            mixture=Figure(best.mixture, "factor", "lambda", best.speed),
        )
        if case.build.engine.delivery and best.mixture > 1.5
        else too_large(case) or message("A smaller housing, a smaller turbine, or less boost"),
        basis="Solved from low speed upward",
    )
