"""One question, one answer: the system solved over the whole rev range, and judged."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.airpath.solution import Point, Solver, prepare, sweep_speeds
from zarvik.core.airpath.system import System, Turbo
from zarvik.core.checks import Verdict, judge
from zarvik.core.checks.case import Case, piece_costs
from zarvik.core.compare import Candidate, compare


@dataclass(frozen=True)
class Answer:
    """The solved and judged system. `costs`: W of shaft power by piece, at the target
    speed. `candidates`: the chosen turbo first, then the others; both are empty until the
    answer is completed. `start`: unknowns of a solved point near the target."""

    system: System
    solver: Solver
    sweep: tuple[Point, ...]
    target: Point
    verdicts: tuple[Verdict, ...]
    costs: dict[str, float]
    candidates: tuple[Candidate, ...]
    start: np.ndarray = field(repr=False, compare=False)

    def at(self, speed: float) -> Point:
        """The point at `speed` in rev/min, solved anew."""
        return self.solver.at(speed)


def first_answer(system: System, candidates: tuple[Turbo, ...] = ()) -> Answer:
    """Solve and judge, without what each piece costs and how the other turbos would do.

    Raises ValueError when the system contradicts itself.
    """
    solver = prepare(system)
    raw = solver.raw(sweep_speeds(system))
    sweep = tuple(solver.point(raw, i) for i in range(len(raw.speed)))
    case = Case(solver, raw, sweep, solver.at(system.target.speed), candidates)
    if not case.target.closure.solved:
        target = solver.at(system.target.speed, start=case.start)
        case = Case(solver, raw, sweep, target, candidates)
    return Answer(system, solver, sweep, case.target, tuple(judge(case)), {}, (), case.start)


def completed(first: Answer, candidates: tuple[Turbo, ...] = ()) -> Answer:
    """A first answer with the costs of its pieces and the candidates side by side."""
    system, solver = first.system, first.solver
    turbos = () if system.blower is not None else (system.turbo, *candidates)
    return dataclasses.replace(
        first,
        costs=piece_costs(solver, system.target.speed, first.start),
        candidates=compare(solver, turbos),
    )


def answer(system: System, candidates: tuple[Turbo, ...] = ()) -> Answer:
    """Solve, judge, compare. Raises ValueError when the system contradicts itself."""
    return completed(first_answer(system, candidates), candidates)
