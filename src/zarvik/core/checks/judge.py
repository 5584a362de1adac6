"""All checks in one pass. A new check is a file here and a line in `CHECKS`."""

from __future__ import annotations

from collections.abc import Callable

from zarvik.core.checks import compressor, engine, fit, hot_side, knock, pipes, solved, target
from zarvik.core.checks.case import Case, Check
from zarvik.core.checks.verdict import Verdict, worst

CHECKS: tuple[Check, ...] = (
    solved.check,
    target.check,
    compressor.check,
    hot_side.check,
    engine.check,
    knock.check,
    pipes.check,
    fit.check,
)


def judge(case: Case, between: Callable[[], None] = lambda: None) -> list[Verdict]:
    """Every verdict on a solved case, worst first; `between` is called before each check."""
    if not case.target.closure.solved:
        # What does not pass the air at the target is not judged by how it does below it.
        found = solved.check(case) + target.check(case) + pipes.shapes(case)
        if case.system.blower is None and case.boosted:
            # What runs away is first of all a question of the gate.
            found.append(hot_side.gate(case))
        return worst(found)
    found = []
    for check in CHECKS:
        between()
        found += check(case)
    return worst(found)
