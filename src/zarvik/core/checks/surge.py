"""Does the compressor stay clear of its surge line along the full-load line?"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult, nothing_to_judge
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.compressor.surge import NOTICED, judged_margin
from zarvik.core.limits.limits import SURGE

CHECK = Check("surge", "Surge margin", about="compressor", limit=SURGE, breaks=True)

BREATH = 2e3  # Pa gauge: less is no boost; common practice, no source


def nearest(points: Iterable[Point]) -> Point | None:
    """The point under boost that is nearest to surge where that is noticed; None without one."""
    driven = [p for p in points if p.boost > BREATH]
    return min(driven, key=lambda p: float(judged_margin(p.turbo.surge, p.turbo.ratio)), default=None)


def check(case: Case) -> list[CheckResult]:
    """Least room to the surge line where surge is noticed; nothing with a blower."""
    if case.build.blower is not None:
        return []
    point = nearest(case.solved)
    if point is None:
        return [nothing_to_judge(CHECK)]
    margin = float(judged_margin(point.turbo.surge, point.turbo.ratio))
    state = SURGE.state(margin)
    template = (
        "Surge at {speed}, {part} left of the line: {flow}, but {edge} is the minimum at this pressure ratio"
        if point.turbo.surge < 0
        else "Smallest at {speed}: {flow}, {part} above the surge line"
    )
    if point.turbo.ratio < NOTICED:
        template += ", at pressure ratio {ratio}: below {noticed} nobody notices"
    cure, changes = case.cure("surge", state, lambda: _later(case))
    return [
        CHECK.check_result(
            message(
                template,
                ratio=Figure(point.turbo.ratio, "factor", "pressure_ratio", point.speed),
                noticed=f"{NOTICED:.1f}",
                part=Figure(abs(point.turbo.surge), "ratio", "surge", point.speed),
                speed=revs(point.speed),
                flow=Figure(point.turbo.flow, "mass_flow", "corrected_flow", point.speed),
                edge=Figure(point.turbo.surge_flow, "mass_flow", "surge_flow", point.speed),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]


def _later(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The lowest speed until which holding the boost back keeps its room to the surge line."""
    idle, limit = case.build.engine.idle, case.build.engine.rev_limit
    chart = case.build.turbo.chart

    def room(start: float) -> float:
        # The margin is least where the boost rises, or just where it is full.
        schedule = dataclasses.replace(case.build.boost, full_from=start)
        speeds = np.linspace(max(0.7 * start, idle), min(1.05 * start, limit), 6)
        near = int(np.abs(case.raw.speed - speeds[0]).argmin())
        begin = case.raw.solutions[near] if case.raw.solved[near] else None
        raw = case.solver.raw(speeds, boost=schedule, start=begin)
        high = raw.states[:, k.P_PLENUM] - case.build.site.pressure > BREATH
        rooms = [
            float(
                judged_margin(
                    raw.states[i, k.MAP_FLOW] / chart.surge_flow(float(raw.states[i, k.MAP_RATIO])) - 1.0, raw.states[i, k.MAP_RATIO]
                )
            )
            for i in np.nonzero(high & raw.solved)[0]
        ]
        return min(rooms, default=1.0)

    # Where full boost stands clear already, the answer lies not far above.
    near = _clear_from(case)
    low, high = max(case.build.boost.full_from, 0.95 * near), min(1.3 * near, limit)
    if room(high) < SURGE.good:
        low, high = high, limit
        if room(high) < SURGE.good:
            return message("A smaller compressor, or less boost: no engine speed is clear of surge"), ()
    while high - low > 40.0:
        middle = 0.5 * (low + high)
        if room(middle) >= SURGE.good:
            high = middle
        else:
            low = middle
    start = -(-high // 50.0) * 50.0
    return (message("Delay full boost to {speed}", speed=Figure(start, "rotation")), (Change("boost.full_from", start),))


def _clear_from(case: Case) -> float:
    """Lowest engine speed in rev/min above which every point at full boost has its room."""
    raw, chart = case.raw, case.build.turbo.chart
    full = raw.solved & (raw.states[:, k.REGIME] > 0.0)
    found = case.build.engine.rev_limit
    for i in reversed(np.nonzero(full)[0]):
        ratio = float(raw.states[i, k.MAP_RATIO])
        if float(judged_margin(raw.states[i, k.MAP_FLOW] / chart.surge_flow(ratio) - 1.0, ratio)) < SURGE.good:
            break
        found = float(raw.speed[i])
    return found
