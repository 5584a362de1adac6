"""What a piece says of its own shape."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Verdict
from zarvik.core.common.sentences import message
from zarvik.core.limits.limits import TIGHT


def check(case: Case) -> list[Verdict]:
    """One verdict for each note of a piece."""
    noted = [(e, note) for e in case.build.elements for note in e.notes]
    return [
        Verdict(
            id=f"note-{element.id}",
            title="Shape of a piece",
            state=TIGHT,
            margin=None,
            text=note,
            cure=message("Make it longer"),
            changes=(),
            about=f"piece:{element.id}",
            basis=element.source,
        )
        for element, note in noted
    ]
