"""Do the pipes suit the compressor's own openings?"""

from __future__ import annotations

import math

from zarvik.core.airpath.stations import HOT_PIPE, INTAKE
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, message
from zarvik.core.limits.limits import OK, OPENING
from zarvik.core.stock import sizes

CHECK = Check("openings", "Compressor connections", limit=OPENING)


def check(case: Case) -> list[CheckResult]:
    """The last bore before the wheel and the first behind it against the turbo's own."""
    if case.build.blower is not None:
        return []
    chart, count = case.build.turbo.chart, case.build.turbo.count
    inducer, outlet = sizes.openings(chart.lines[-1].flow[-1])
    found = []
    for section, last, own in ((INTAKE, True, inducer), (HOT_PIPE, False, outlet)):
        run = case.build.runs[section]
        if not run:
            continue
        element = run[-1] if last else run[0]
        bore = (element.diameter_out if last else element.diameter_in) * math.sqrt(element.parallel / count)
        found.append((bore / own, element, bore, own, last))
    if not found:
        return []
    share, element, bore, own, last = min(found, key=lambda f: f[0])
    state = OPENING.state(share)
    name = element.name or element.id
    return [
        CHECK.check_result(
            message(
                "The pipes match the compressor's openings, about {inlet} in and {outlet} out"
                if state == OK
                else "“{name}” is {bore} just before the compressor, whose inlet is about {own}"
                if last
                else "“{name}” is {bore} just after the compressor, whose outlet is about {own}",
                " each" if count > 1 and state != OK else "",
                name=name,
                bore=Figure(bore, "length", f"=piece:{element.id}" if count == 1 else ""),
                own=Figure(own, "length"),
                inlet=Figure(inducer, "length"),
                outlet=Figure(outlet, "length"),
            ),
            value=share,
            cure=message("Widen “{name}” to the opening it meets", name=name),
            about=f"piece:{element.id}",
        )
    ]
