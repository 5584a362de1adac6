"""Do the primaries follow the cylinders?"""

from __future__ import annotations

from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Verdict
from zarvik.core.limits import TIGHT
from zarvik.core.words import say


def check(case: Case) -> list[Verdict]:
    """One pipe a cylinder, or one for two."""
    cylinders = case.system.engine.cylinders
    for element in case.system.runs[MANIFOLD]:
        pipes = element.parallel
        if element.kind == "primaries" and pipes not in (cylinders, cylinders // 2):
            return [
                Verdict(
                    "primaries", "Primaries and cylinders", TIGHT, None,
                    say("“{name}” has {pipes} pipes for {cylinders} cylinders",
                        name=element.name or element.id, pipes=str(pipes), cylinders=str(cylinders)),
                    say("One pipe a cylinder, or one for two that share a port"), (),
                    f"piece:{element.id}", "Common practice, no source",
                )
            ]  # fmt: skip
    return []
