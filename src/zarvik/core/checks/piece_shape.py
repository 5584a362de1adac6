"""What a piece says of its own shape."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import message
from zarvik.core.limits.limits import MARGINAL


def check(case: Case) -> list[CheckResult]:
    """One check for each note of a piece."""
    noted = [(e, note) for e in case.build.elements for note in e.notes]
    return [
        Check(f"note-{element.id}", "Piece shape", about=f"piece:{element.id}").check_result(
            note, state=MARGINAL, cure=message("Make it longer"), basis=element.source
        )
        for element, note in noted
    ]
