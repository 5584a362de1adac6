"""Does the exhaust end in a mouth?"""

from __future__ import annotations

from zarvik.core.airpath.stations import EXHAUST
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import message
from zarvik.core.limits.limits import MARGINAL

CHECK = Check("open_end", "Exhaust outlet")


def check(case: Case) -> list[CheckResult]:
    """An exhaust that just stops counts as if its stream kept its head."""
    run = case.build.runs[EXHAUST]
    if run and run[-1].kind == "mouth":
        return []
    name = run[-1].name or run[-1].id if run else "–"
    return [
        CHECK.check_result(
            message(
                "“{name}” is the last piece, without an outlet: the exit loss is not counted"
                if run
                else "No exhaust behind the turbine: its loss is not counted",
                name=name,
            ),
            state=MARGINAL,
            cure=message("Add a tailpipe outlet as the last piece of the exhaust"),
            about=f"piece:{run[-1].id}" if run else "pipes",
            basis="The jet leaves at ambient pressure: NACA Report 1135",
        )
    ]
