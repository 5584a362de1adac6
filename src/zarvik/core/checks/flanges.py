"""What plates between flanges take of the flow, and what layers under the intake manifold keep from the charge."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.connections.flange_joints import barrier, plates
from zarvik.core.joints.flanges import easy_length
from zarvik.core.limits.limits import ADAPTER, OK

ADAPTER_CHECK = Check("adapter", "Adapter plates", about="joints", limit=ADAPTER)
BARRIER_CHECK = Check("barrier", "Heat into the intake manifold", about="joints:cooling", breaks=True)

NOTHING = 5e-4  # of the pressure there that no gauge shows


def check(case: Case) -> list[CheckResult]:
    """The plate that loses the most; the heat that comes through the foot of the intake manifold. Nothing of what nobody measured."""
    build, point = case.build, case.hardest
    found: list[CheckResult] = []
    every = plates(build, build.connections, point)
    if every:
        worst = max(every, key=lambda x: x.share)
        state = ADAPTER.state(worst.share)
        one, other = worst.row.one, worst.row.other
        found.append(
            ADAPTER_CHECK.check_result(
                message(
                    "“{name}” costs almost nothing, from {one} to {other} at {speed}",
                    name=worst.row.name,
                    one=Figure(one.bore if one else 0.0, "length", "adapter_one", point.speed),
                    other=Figure(other.bore if other else 0.0, "length", "adapter_other", point.speed),
                    speed=revs(point.speed),
                )
                if worst.share < NOTHING
                else message(
                    "“{name}” loses {loss}, {share} of the pressure there, from {one} to {other} at {speed}",
                    name=worst.row.name,
                    loss=Figure(worst.loss, "pressure_difference", "adapter_loss", point.speed),
                    share=Figure(worst.share, "ratio", "adapter_share", point.speed),
                    one=Figure(one.bore if one else 0.0, "length", "adapter_one", point.speed),
                    other=Figure(other.bore if other else 0.0, "length", "adapter_other", point.speed),
                    speed=revs(point.speed),
                ),
                value=worst.share,
                cure=None
                if state == OK or one is None or other is None
                else message(
                    "A cone {long} long instead of a plate: flow follows 7° per wall", long=Figure(easy_length(one, other), "length")
                ),
            )
        )
    heat = barrier(build, build.connections, build.ports, point)
    if heat is not None:
        found.append(
            BARRIER_CHECK.check_result(
                message(
                    (
                        "Through its gasket {heat} comes from the head: charge {full} warmer at {speed}, {idle} at idle; "
                        "with steel alone {bare} at idle"
                    ),
                    heat=Figure(heat.full.heat, "small_heat", "barrier_heat", point.speed),
                    full=Figure(heat.full.warmed, "warming", "barrier_full", point.speed),
                    idle=Figure(heat.idle.warmed, "warming", "barrier_idle", point.speed),
                    bare=Figure(heat.bare.warmed, "warming", "barrier_bare", point.speed),
                    speed=revs(point.speed),
                ),
                state=OK,
                basis="Slabs and bolts in parallel; contacts: Incropera, table 3.1 (memory)",
            )
        )
    return found
