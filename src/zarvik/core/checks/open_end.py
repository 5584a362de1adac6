"""Does the exhaust end in a mouth?"""

from __future__ import annotations

from zarvik.core.airpath.stations import EXHAUST
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Check, Verdict
from zarvik.core.common.sentences import message
from zarvik.core.limits.limits import MARGINAL

CHECK = Check("open_end", "End of the exhaust")


def check(case: Case) -> list[Verdict]:
    """An exhaust that just stops counts as if its stream kept its head."""
    run = case.build.runs[EXHAUST]
    if run and run[-1].kind == "mouth":
        return []
    name = run[-1].name or run[-1].id if run else "–"
    return [
        CHECK.verdict(
            message(
                "“{name}” is the last piece, and it has no mouth: the head of the stream that leaves is not counted"
                if run
                else "There is no exhaust behind the turbine: nothing it would cost is counted",
                name=name,
            ),
            state=MARGINAL,
            cure=message("Add a mouth as the last piece of the exhaust"),
            about=f"piece:{run[-1].id}" if run else "pipes",
            basis="The stream leaves at the pressure of the open air: NACA Report 1135",
        )
    ]
