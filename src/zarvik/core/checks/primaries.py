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
    return _order(case)


def _order(case: Case) -> list[Verdict]:
    """A firing order that names other cylinders than there are: the pulses are those of the usual one."""
    space, cylinders = case.system.space, case.system.engine.cylinders
    if space is None or space.primaries or len(space.order) == cylinders:
        return []
    return [Verdict(
        "order", "Firing order", TIGHT, None,
        say("It names {named} cylinders, and there are {cylinders}: the usual order stands in", named=str(len(space.order)), cylinders=str(cylinders)),
        say("Write the order as it is cast on the engine or stands in its book"), (), "space", "Common practice, no source",
    )]  # fmt: skip
