"""What a piece says of its own shape."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Verdict
from zarvik.core.limits import TIGHT
from zarvik.core.words import say


def check(case: Case) -> list[Verdict]:
    """One verdict for each note of a piece."""
    noted = [(e, note) for e in case.system.elements for note in e.notes]
    return [
        Verdict(f"note-{element.id}", "Shape of a piece", TIGHT, None,
                note,
                say("Make it longer"), (), f"piece:{element.id}", element.source)
        for element, note in noted
    ]  # fmt: skip
