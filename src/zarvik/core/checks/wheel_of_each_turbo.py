"""Are the wheels of several turbos each as large as one for the whole engine?"""

from __future__ import annotations

import math

from zarvik.core.checks.case import Case
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.stock.sizes import FLOW_OF_INDUCER, openings

# Of the flow at which a compressor chokes, what full load takes; a wheel of which it takes less than the first is for
# another engine. Common practice, no source: full load stands at 0.7 to 0.9 of it.
LITTLE, USUAL = 0.50, 0.80


def too_large(case: Case) -> Sentence | None:
    """What wheels each of several turbos needs, where the ones there are were chosen for one that does it alone; None elsewhere."""
    build, point = case.build, case.target
    if build.blower is not None or build.turbo.count < 2 or not point.closure.solved:
        return None
    choke = float(build.turbo.chart.lines[-1].flow[-1])
    plenum = point.stations["plenum"].pressure
    wanted = build.site.pressure + build.boost.full
    # What each would pass with the boost there that is asked for
    flow = point.turbo.flow * max(wanted / plenum, 1.0)
    if flow >= LITTLE * choke:
        return None
    return message(
        ("Each of {count} turbos passes {flow} at full boost; these wheels suit {most}. Inducers of about {size} instead of {now}"),
        count=str(build.turbo.count),
        flow=Figure(flow, "mass_flow"),
        most=Figure(USUAL * choke, "mass_flow"),
        size=Figure(math.sqrt(flow / USUAL / FLOW_OF_INDUCER), "length"),
        now=Figure(openings(choke)[0], "length"),
    )
