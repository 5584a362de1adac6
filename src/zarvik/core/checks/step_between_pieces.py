"""Do the ends of neighbours meet?"""

from __future__ import annotations

from itertools import pairwise

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, message
from zarvik.core.layout.placement import PRIMARY
from zarvik.core.limits.limits import MARGINAL, OK, STEP

CHECK = Check("ends", "Bore steps", about="pipes", limit=STEP)


def check(case: Case) -> list[CheckResult]:
    """The bores of neighbours against each other, the largest step told."""
    found = []
    for section, run in case.build.runs.items():
        for one, two in pairwise(run):
            step = two.diameter_in - one.diameter_out
            if STEP.state(abs(step)) == OK or "primaries" in (one.kind, two.kind):
                continue
            found.append((abs(step), section, one, two))
    if not found:
        inside = _in_primaries(case)
        if inside:
            return inside
        return [CHECK.check_result(message("All bores match within {step}", step=Figure(STEP.good, "length")), state=OK)]
    _, section, one, two = max(found, key=lambda f: f[0])
    names = {"one": one.name or one.id, "two": two.name or two.id}
    return [
        CHECK.check_result(
            message(
                "{count} joint(s) step: “{one}” ends at {a}, “{two}” begins at {b}. The loss of that step is not counted",
                count=str(len(found)),
                a=Figure(one.diameter_out, "length", f"=piece:{one.id}"),
                b=Figure(two.diameter_in, "length", f"=piece:{two.id}"),
                **names,
            ),
            state=MARGINAL,
            cure=message("Add a reducer between “{one}” and “{two}”, or match their bores", **names),
            changes=(Change(f"insert-reducer:{two.id}", 0.0),),
            about=f"piece:{two.id}",
        )
    ]


def _in_primaries(case: Case) -> list[CheckResult]:
    """The largest step between neighbours of one primary; its loss is in the sum."""
    space = case.build.space
    steps = [
        (abs(two.bore_in - one.bore_out), one, two, primary)
        for primary in (space.primaries if space is not None else ())
        for one, two in pairwise(primary.segments)
        if STEP.state(abs(two.bore_in - one.bore_out)) != OK
    ]
    if not steps:
        return []
    _, one, two, primary = max(steps, key=lambda s: s[0])
    return [
        CHECK.check_result(
            message(
                "{count} joint(s) of the primaries step: cylinder {cylinder} goes from {a} to {b}",
                count=str(len(steps)),
                cylinder=str(primary.cylinder),
                a=Figure(one.bore_out, "length"),
                b=Figure(two.bore_in, "length"),
            ),
            state=MARGINAL,
            cure=message("Make each primary from one tube size"),
            about=f"layout:{PRIMARY}{primary.id}",
        )
    ]
