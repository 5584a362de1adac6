"""Do the ends of neighbours meet?"""

from __future__ import annotations

from itertools import pairwise

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Change, Verdict
from zarvik.core.limits import (
    HOLDS,
    STEP,
    TIGHT,
)
from zarvik.core.words import Figure, say


def check(case: Case) -> list[Verdict]:
    """The bores of neighbours against each other, the largest step told."""
    found = []
    for section, run in case.system.runs.items():
        for one, two in pairwise(run):
            step = two.diameter_in - one.diameter_out
            if STEP.state(abs(step)) == HOLDS or "primaries" in (one.kind, two.kind):
                continue
            found.append((abs(step), section, one, two))
    if not found:
        return [
            Verdict("ends", "Ends that meet", HOLDS, None,
                    say("All bores meet within {step}", step=Figure(STEP.good, "length")),
                    about="pipes", basis=STEP.basis)
        ]  # fmt: skip
    _, section, one, two = max(found, key=lambda f: f[0])
    names = {"one": one.name or one.id, "two": two.name or two.id}
    return [
        Verdict(
            "ends", "Ends that meet", TIGHT, None,
            say("{count} joint(s) step: “{one}” ends at {a}, “{two}” begins at {b}; that step's loss "
                "is not in the sum", count=str(len(found)),
                a=Figure(one.diameter_out, "length", f"=piece:{one.id}"),
                b=Figure(two.diameter_in, "length", f"=piece:{two.id}"), **names),
            say("Put a reducer between “{one}” and “{two}”, or make their bores equal", **names),
            (Change(f"insert-reducer:{two.id}", 0.0),),
            f"piece:{two.id}", STEP.basis,
        )
    ]  # fmt: skip
