"""From the uncertainties of the inputs to the bands of the answers, through the solver.

Every uncertain input is moved up and down by what it is good to, and the whole path is solved and judged
again; the changes are added as squares (ISO/IEC Guide 98-3, 5.1.2: independent inputs, first order).
Inputs that hang together move together: an entry from which others are estimated takes them along.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterable, Sequence

import numpy as np

from zarvik.core.airpath.reading import RawSolution
from zarvik.core.airpath.solution import Solver, prepare, sweep_speeds, target_point
from zarvik.core.airpath.threshold import threshold
from zarvik.core.checks import judge
from zarvik.core.checks.case import Case, Memo
from zarvik.core.common.progress import Progress, beside, unwatched
from zarvik.core.uncertainty.bands import AIR, CHARGE, GAS, MARGIN, POWER, THRESHOLD, InputEffect
from zarvik.core.uncertainty.levers import UncertainInput
from zarvik.core.whole_build.build import Build

SILENT, QUIET = 0.02, 0.15  # shares of the square of a band, of a margin, below which the other side of
# a lever is taken from its first
EVERY = 3  # points of the full-load curve that are looked at: every third


def _with_onset(solver: Solver, raw: RawSolution) -> tuple[RawSolution, float]:
    """A full-load curve with the point at which full boost stands among the others, and the engine speed
    of that point: surge is nearest there, and between coarse points its margin would jump."""
    found = threshold(solver, raw)
    if found is None:
        return raw, math.nan
    if found.speed <= raw.speed[0] or found.speed >= raw.speed[-1]:
        return raw, found.speed
    at = int(np.searchsorted(raw.speed, found.speed))
    there = solver.raw(np.array([found.speed]), start=raw.solutions[at])
    if not there.solved[0]:
        return raw, found.speed
    rows = {
        name: np.insert(getattr(raw, name), at, getattr(there, name)[0], axis=0)
        for name in ("speed", "wanted", "breathing", "states", "pieces", "solutions")
    }
    return RawSolution(**rows), found.speed


def _curve(build: Build, near: RawSolution | None) -> tuple[Solver, RawSolution]:
    """A full-load curve of few points, found beside that of a build `near`."""
    solver = prepare(build)
    speeds = sweep_speeds(build)
    return solver, solver.raw(np.unique(np.append(speeds[::EVERY], speeds[-1])), near=near)


def answers_of(build: Build, memo: Memo | None, near: RawSolution | None = None) -> dict[str, float]:
    """The answers of a build that are given bands, by name (SI); empty where the target is not
    solved. `near`: the curve of a build that is nearly this one. Raises ValueError when the build contradicts itself."""
    # No line of a connection list has a number with a band.
    build = dataclasses.replace(build, connections=())
    solver, curve = _curve(build, near)
    raw, onset = _with_onset(solver, curve)
    sweep = tuple(solver.point(raw, i) for i in range(len(raw.speed)))
    target = target_point(solver, raw)
    if not target.closure.solved:
        return {}
    case = Case(build=build, solver=solver, raw=raw, sweep=sweep, target=target, candidates=(), memo=memo, plain=True, hasty=True)
    case.__dict__["threshold"] = onset  # found already
    found = {
        POWER: target.power,
        CHARGE: target.charge,
        AIR: target.air,
        THRESHOLD: onset,
        GAS: target.stations["turbine_inlet"].temperature,
    }
    for check_result in judge(case):
        if check_result.margin is not None:
            found[MARGIN + check_result.id] = check_result.margin
    return found


def shifts(case: Case, memo: Memo | None, levers: Iterable[UncertainInput], progress: Progress = unwatched) -> tuple[InputEffect, ...]:
    """What each lever does to the answers of a judged `case`; `memo`: what its full judgement found out. The second side of a lever
    that hardly counts is taken from the first."""
    build = case.build
    memo = memo or Memo({}, case.spool, case.double, case.least)
    memo = dataclasses.replace(memo, cures={})
    near = _curve(build, None)[1]
    middle = answers_of(build, memo, near)
    every = tuple(levers)

    def moved(lever: UncertainInput, share: float) -> dict[str, float]:
        try:
            there = answers_of(lever.move(build, share), memo, near)
        except ValueError:
            return {}
        changes = {name: there.get(name, math.nan) - value for name, value in middle.items()}
        return {name: change for name, change in changes.items() if math.isfinite(change)}

    if not middle:
        return ()

    def each(moves: Sequence[tuple[UncertainInput, float]], first: float, last: float) -> list[dict[str, float]]:
        done = iter(range(len(moves)))

        def one(move: tuple[UncertainInput, float]) -> dict[str, float]:
            progress(first + (last - first) * next(done) / len(moves))
            return moved(*move)

        return beside(one, moves, len(build.elements))

    up = each([(lever, 1.0) for lever in every], 0.0, 0.7)
    total = {name: sum(u.get(name, 0.0) ** 2 for u in up) for name in middle}

    def loud(high: dict[str, float]) -> bool:
        # An entry that stands at its limit only goes one way.
        still = all(abs(change) < 1e-12 for change in high.values())
        return still or any(
            change**2 > (QUIET if name.startswith(MARGIN) else SILENT) * total[name] for name, change in high.items() if total[name] > 0.0
        )

    heard = [number for number, high in enumerate(up) if loud(high)]
    down = dict(zip(heard, each([(every[number], -1.0) for number in heard], 0.7, 1.0), strict=True))
    found = []
    for number, (lever, high) in enumerate(zip(every, up, strict=True)):
        low = down.get(number, {name: -change for name, change in high.items()})
        # Where one side has no answer, the other one speaks for it.
        for name in middle:
            if name in low and name not in high:
                high[name] = -low[name]
            elif name in high and name not in low:
                low[name] = -high[name]
        found.append(InputEffect(lever, low, high))
    return tuple(found)
