"""All checks in one pass. A new check is a file here and a line in `CHECKS`."""

from __future__ import annotations

from zarvik.core.checks import compressor, engine, hot_side, knock, pipes, solved, target
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
)


def judge(case: Case) -> list[Verdict]:
    """Every verdict on a solved case, worst first."""
    if not case.target.closure.solved:
        # What does not pass the air at the target is not judged by how it does below it.
        return worst(solved.check(case) + target.check(case) + pipes.shapes(case))
    return worst(verdict for check in CHECKS for verdict in check(case))
