"""How fast do air and gas go through the pieces?"""

from __future__ import annotations

import math

from zarvik.core.airpath.point import Stretch
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.limits.limits import CHARGE_MACH, EXHAUST_MACH, INTAKE_MACH, MANIFOLD_MACH, OK
from zarvik.core.stock.sizes import tube_bore

MACH = {INTAKE: INTAKE_MACH, HOT_PIPE: CHARGE_MACH, COLD_PIPE: CHARGE_MACH, MANIFOLD: MANIFOLD_MACH, EXHAUST: EXHAUST_MACH}
CHOKES = 0.98  # Mach number from which a piece is said to choke


def check(case: Case) -> list[CheckResult]:
    """The fastest piece of each side, where the most air goes through."""
    return [
        *_fastest(case, Check("intake_mach", "Intake velocity"), (INTAKE,)),
        *_fastest(case, Check("charge_mach", "Charge pipe velocity"), (HOT_PIPE, COLD_PIPE)),
        *_fastest(case, Check("manifold_mach", "Manifold velocity"), (MANIFOLD,)),
        *_fastest(case, Check("exhaust_mach", "Exhaust velocity"), (EXHAUST,)),
    ]


CHOKED = (
    "“{name}” chokes at {speed}: flow is limited and pressure behind it collapses",
    "“{name}” chokes at {speed}: pressure before it rises until the gas gets through",
)


def _fastest(case: Case, check: Check, sections: tuple[str, ...]) -> list[CheckResult]:
    limit = MACH[sections[0]]
    point = case.hardest
    pieces = [s for s in point.stretches if s.section in sections and s.mach > 0]
    if not pieces:
        return []
    # Of pieces within a whisker of the fastest, the one that costs most is the one to talk about.
    fastest = max(s.mach for s in pieces)
    piece = max((s for s in pieces if s.mach > fastest - 0.004), key=lambda s: s.drop)
    holds = limit.state(fastest) == OK
    cure, changes = (None, ()) if holds else _wider(case, pieces, piece, limit.good)
    hot = sections[0] in (MANIFOLD, EXHAUST)
    return [
        check.check_result(
            message(
                CHOKED[hot] if fastest > CHOKES else "Mach {mach} in “{name}” ({velocity}) at {speed}; up to {good} is comfortable",
                mach=Figure(piece.mach, "factor", f"mach:{piece.id}", point.speed),
                name=piece.name or piece.id,
                velocity=Figure(piece.velocity, "velocity", f"velocity:{piece.id}", point.speed),
                speed=revs(point.speed),
                good=f"{limit.good:.2g}",
            ),
            value=fastest,
            cure=cure,
            changes=changes,
            about=f"piece:{piece.id}",
            limit=limit,
        )
    ]


def passing(mach: float) -> float:
    """What a pipe passes at a Mach number over what it passes at another, at the same total pressure: M (1 + M^2/5)^-3 (NACA 1135, air)."""
    return mach * (1.0 + 0.2 * min(mach, 1.0) ** 2) ** -3


def _wider(case: Case, pieces: list[Stretch], worst: Stretch, good: float) -> tuple[Sentence, tuple[Change, ...]]:
    """Bores at which every piece that is too fast would be comfortable; ends of reducers that met an
    old bore go along."""
    elements = {e.id: e for e in case.build.elements}
    fast = {s.id: s.mach for s in pieces if s.mach > good or s.id == worst.id}
    wider: dict[float, float] = {}
    # A pipe that is far too narrow holds the flow back itself: once it is wide, as much more comes as the boost that is asked for takes.
    more = (
        max(
            (q.air * max((case.build.site.pressure + q.wanted_boost) / q.stations["plenum"].pressure, 1.0) for q in case.solved),
            default=0.0,
        )
        / case.hardest.air
    )
    more = max(more, 1.0)
    for key, mach in fast.items():
        old = elements[key].diameter
        bore = tube_bore(old * math.sqrt(more * passing(mach) / passing(good * 0.95)))
        wider[old] = max(wider.get(old, 0.0), bore)
    changes = []
    for key in (s.id for s in pieces):
        element = elements[key]
        names = {p.name for p in KINDS[element.kind].parameters} if element.kind in KINDS else set()
        ends = {"bore": element.diameter, "bore_in": element.diameter_in, "bore_out": element.diameter_out}
        changes += [Change(f"piece:{key}:{name}", wider[size]) for name, size in ends.items() if name in names and size in wider]
    now = elements[worst.id].diameter
    rest = " and the rest of its bore" if len(changes) > 1 else ""
    return (
        message(
            "Widen “{name}”",
            rest,
            " from {now} to {bore}",
            name=worst.name or worst.id,
            now=Figure(now, "length"),
            bore=Figure(wider[now], "length"),
        ),
        tuple(changes),
    )
