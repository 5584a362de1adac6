"""Will the bottom end stand it, weekly and in the single big run?"""

from __future__ import annotations

import math

from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import BOTTOM_END, MARGINAL, OK

CHECK = Check("bottom_end", "Engine boost limit", about="gate", limit=BOTTOM_END, breaks=True)


def check(case: Case) -> list[CheckResult]:
    """Boost against what is trusted, weekly and for the single run."""
    trusted, full = case.build.engine.trusted_boost, case.build.boost.full
    return [
        _bottom(case, "bottom_end", "Engine boost limit", full, trusted, "boost.full"),
        # A big run below the weekly boost asks for nothing more than the weekly one.
        _bottom(case, "big_run", "One-off maximum boost", max(case.build.target.big_run, full), trusted, "boost.big_run"),
    ]


def _bottom(case: Case, id: str, title: str, boost: float, trusted: float, place: str) -> CheckResult:
    big = boost > case.build.boost.full
    power, at = case.power_with(boost), case.build.target.speed
    most = case.most_boost
    if not big:
        # The boost that is made meets the bottom end, not the one that is asked for.
        if most.closure.solved and most.boost > 1.02 * max(boost, 1e4):
            return _crept(most, trusted)
        made = min(most.boost, boost)
    else:
        made = min(case.made_with(boost)[1], boost)
    margin = _room(made if made == made else boost, trusted)
    # What was asked for and is not made is only a warning.
    asked = _room(boost, trusted)
    state = BOTTOM_END.state(margin)
    short = made == made and made < 0.95 * boost - 2e3
    if short and state == OK and asked < 0.0:
        state = MARGINAL
    safe = math.floor(round((1.0 - BOTTOM_END.good) * trusted / 5000.0, 6)) * 5000.0
    entry = "=goal.big_run_boost" if big else "=goal.target_boost"
    # Where the weekly boost is the highest that is asked for, it is the one to lower.
    place = place if big else "boost.full"
    return Check(id, title, about="engine", limit=BOTTOM_END, breaks=True).check_result(
        message(
            ("{made} instead of the target {boost}; the engine's limit is {trusted}" if short else "{boost} of {trusted}"),
            (", {power} at {speed}" if power == power else ""),
            boost=Figure(boost, "pressure_gauge", entry),
            trusted=Figure(trusted, "pressure_gauge", "=engine.trusted_boost"),
            power=Figure(power, "power", f"{id}_power", at),
            speed=revs(at),
            **({"made": Figure(made, "pressure_gauge", f"{id}_boost", at)} if short else {}),
        ),
        state=state,
        value=margin,
        cure=message("Stay 7 % under it: {safe}", safe=Figure(safe, "pressure_gauge")),
        changes=(Change(place, safe),) if safe < boost else (),
    )


def _room(boost: float, trusted: float) -> float:
    return 1.0 - boost / trusted if trusted > 0 else (-1.0 if boost > 0 else 0.0)


def _crept(point: Point, trusted: float) -> CheckResult:
    """The boost that the gate lets through, not the one that was asked for, meets the bottom end."""
    margin = _room(point.boost, trusted)
    return CHECK.check_result(
        message(
            "Boost creeps to {boost} at {speed}; the engine's limit is {trusted}",
            boost=Figure(point.boost, "pressure_gauge", "boost", point.speed),
            trusted=Figure(trusted, "pressure_gauge", "=engine.trusted_boost"),
            speed=revs(point.speed),
        ),
        value=margin,
        cure=message("First get the wastegate to hold boost down"),
    )
