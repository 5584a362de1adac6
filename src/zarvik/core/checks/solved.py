"""Is every point of the sweep a result, and what is not asked yet?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import FAILS, HOLDS, OPEN, Figure, Verdict, say


def check(case: Case) -> list[Verdict]:
    """Points that did not close, and the part of the path that has no answer yet."""
    return [_closed(case), _hot_side(case)]


def _closed(case: Case) -> Verdict:
    lost = [p for p in case.sweep if not p.closure.solved]
    if not lost:
        worst = max((max(p.closure.mass, p.closure.energy) for p in case.sweep), default=0.0)
        return Verdict(
            "closure", "The sums close", HOLDS, None,
            say("All {count} points close; the worst to {worst}",
                count=str(len(case.sweep)), worst=f"{max(worst, 1e-16):.0e}"),
            about="turbo", basis="Mass 1e-6, energy 1e-4 of the shaft power",
        )  # fmt: skip
    first = lost[0]
    return Verdict(
        "closure", "The sums close", FAILS, -len(lost) / max(len(case.sweep), 1),
        say("{count} of {all} points have no answer, the first at {speed}: {reason}",
            count=str(len(lost)), all=str(len(case.sweep)),
            speed=Figure(first.speed, "rotation"), reason=first.closure.reason),
        say("Widen what chokes, or ask for less"), (), "charge_pipes",
        "A point that does not close is no result",
    )  # fmt: skip


def _hot_side(case: Case) -> Verdict:
    return Verdict(
        "hot_side", "Turbine, gate, exhaust", OPEN, None,
        say("Not solved yet: whether the turbine gives this boost, from which speed, and what "
            "back-pressure takes from the power"),
        about="turbo", basis="The compressor is taken as driven; pumping counts as nothing",
    )  # fmt: skip
