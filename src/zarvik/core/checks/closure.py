"""Is every point of the sweep a result?"""

from __future__ import annotations

import math

from zarvik.core.airpath.stations import INTAKE
from zarvik.core.checks.case import Case, choked_piece
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.ducts.flow import mass_flow_parameter
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.engine.engine import air_demand
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.limits.limits import FAILS, OK
from zarvik.core.stock.sizes import tube_bore

CHECK = Check("closure", "Solution check", about="pipes")


def check(case: Case) -> list[CheckResult]:
    """Points that did not close."""
    lost = [p for p in case.sweep if not p.closure.solved]
    if not lost:
        sums = ("mass", "energy", "shaft")
        worst, name, speed = max(
            ((getattr(p.closure, s), s, p.speed) for p in case.sweep for s in sums), default=(0.0, "mass", case.target.speed)
        )
        return [
            CHECK.check_result(
                message(
                    "All {count} points balance; largest residual {worst}",
                    count=str(len(case.sweep)),
                    worst=Figure(worst, "closure", f"closure_{name}", speed),
                ),
                state=OK,
                basis="Required: mass 1e-6, energy and shaft power 1e-4",
            )
        ]
    first = lost[0]
    cure, changes = _widen(case)
    return [
        CHECK.check_result(
            message(
                "{count} of {all} points have no solution, the first at {speed}: {reason}",
                count=str(len(lost)),
                all=str(len(case.sweep)),
                speed=revs(first.speed),
                reason=first.closure.reason or "",
            ),
            state=FAILS,
            margin=-len(lost) / max(len(case.sweep), 1),
            cure=cure,
            changes=changes,
            basis="A point that does not balance is no result",
        )
    ]


def _widen(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The bore at which the piece that chokes would pass in comfort what the engine breathes at full boost and the speed it chokes at."""
    lost = [i for i, good in enumerate(case.raw.solved) if not good]
    piece, speed = next(
        ((e, float(case.raw.speed[i])) for i in reversed(lost) if (e := choked_piece(case.solver, case.raw, i))), (None, 0.0)
    )
    bored = piece is not None and any(p.name == "bore" for p in KINDS[piece.kind].parameters)
    if piece is None or not bored:
        return message("Widen what chokes, or reduce the target"), ()
    build = case.build
    pressure = build.site.pressure + build.boost.full
    if piece in build.runs[INTAKE]:
        pressure = build.site.pressure
    temperature = build.site.temperature + 40.0
    gas = case.solver.gas
    air = air_demand(
        gas, build.engine.displacement, float(build.engine.breathing.at(speed)), speed, build.site.pressure + build.boost.full, temperature
    )
    # Mach 0.2 leaves room for the loss on the way.
    flux = air * math.sqrt(gas[GAS_CONSTANT] * temperature / 1.4)
    area = flux / (pressure * mass_flow_parameter(0.2, 1.4))
    bore = tube_bore(math.sqrt(4.0 * area / math.pi))
    return (
        message("Widen “{name}” from {now} to {bore}", name=piece.name, now=Figure(piece.diameter, "length"), bore=Figure(bore, "length")),
        (Change(f"piece:{piece.id}:bore", bore),),
    )
