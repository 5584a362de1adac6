"""Two banks and their way to the turbo: do both breathe alike, and does the crossover reach?"""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath.banks import banks_of
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.layout.placement import Space, lay_out
from zarvik.core.limits.limits import BANKS, FAILS, TO_DO

BANKS_CHECK = Check("banks", "Bank balance", about="pipes", limit=BANKS)
CROSSING_CHECK = Check("crossing", "Crossover length")


def check(case: Case) -> list[CheckResult]:
    """What the far bank loses at the target; whether two banks have a way to one turbo at all."""
    build, space = case.build, case.build.space
    if space is None or space.head.banks < 2 or build.blower is not None:
        return []
    found = banks_of(build, case.target)
    if found is None:
        if space.turbos > 1:
            return []
        if build.turbo.count > 1:
            return [
                BANKS_CHECK.check_result(
                    message(
                        "Two banks and {count} turbos share one collector: all cylinders blow into one pipe", count=str(build.turbo.count)
                    ),
                    state=TO_DO,
                    cure=message("Give each turbo its own hot side: manifold and collector are then entered once, for one bank"),
                )
            ]
        return [
            BANKS_CHECK.check_result(
                message("Two banks, one turbo and one collector: every pipe of the far bank must reach it"),
                state=TO_DO,
                cure=message("Add a crossover to the manifold: collector and primaries are then those of one bank"),
            )
        ]
    return [
        BANKS_CHECK.check_result(
            message(
                ("The far bank has {more} more back-pressure at {speed}: it gets {less} less air and runs leaner than its lambda reads"),
                more=Figure(found.pressure, "pressure_difference", "far_bank", case.target.speed),
                speed=revs(case.target.speed),
                less=Figure(found.air, "ratio", "far_air", case.target.speed),
            ),
            value=found.air,
            cure=message("A wider or shorter crossover, and a lambda probe in each bank"),
            about=f"piece:{found.element.id}",
        ),
        *_reach(space, found.element.id),
    ]


def _reach(space: Space, piece: str) -> list[CheckResult]:
    """A crossover is at least as long as what lies between the two collectors."""
    outlets = lay_out(space).outlets
    if not space.said or len(outlets) < 2:
        return []
    between = float(np.linalg.norm(outlets[1].origin - outlets[0].origin))
    if space.crossing >= between:
        return []
    return [
        CROSSING_CHECK.check_result(
            message(
                "It is {long} long, but the two collectors are {between} apart in a straight line",
                long=Figure(space.crossing, "length", "=crossing"),
                between=Figure(between, "length", "banks_between"),
            ),
            state=FAILS,
            margin=space.crossing / between - 1.0,
            cure=message("Measure its way around the engine and enter that"),
            about=f"piece:{piece}",
            basis="Geometry",
        )
    ]
