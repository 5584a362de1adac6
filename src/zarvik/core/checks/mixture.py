"""Is a petrol or alcohol engine rich enough at full load?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import LEAN, OK

CHECK = Check("lean", "Full-load mixture", about="engine", limit=LEAN, breaks=True)

MISFIRES = 1.4  # lambda from which on a spark does not light the charge any more; common practice, no source
SAFE = 0.82  # lambda that is put in instead; common practice, no source


def check(case: Case) -> list[CheckResult]:
    """Lambda of spark ignition at full load, where it is leanest under boost; nothing for a diesel."""
    engine = case.build.engine
    if not engine.fuel.spark:
        return []
    points = case.boosted or (case.target,)
    point = max(points, key=lambda p: p.mixture)
    state = LEAN.state(point.mixture)
    figures = {"mixture": Figure(point.mixture, "factor", "lambda", point.speed), "speed": revs(point.speed)}
    if point.mixture > MISFIRES:
        text = message("Lambda {mixture} at {speed}: too lean, it misfires", **figures)
    elif state != OK:
        text = message("Lambda {mixture} at {speed}: at full load this melts pistons. Usual: 0.75 to 0.88", **figures)
    else:
        text = message("Lambda {mixture} at {speed}", **figures)
    cure = None if state == OK else message("A lambda of {rich} at full load", rich=f"{SAFE:.2f}")
    changes = () if state == OK or engine.mixture else (Change("engine.full_load_lambda", SAFE),)
    return [CHECK.check_result(text, value=point.mixture, cure=cure, changes=changes)]
