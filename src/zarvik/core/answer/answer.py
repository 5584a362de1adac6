"""One question, one answer: the system solved over the whole rev range, and judged."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.airpath.piece_costs import piece_costs
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.reading import Raw
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.system import System, Turbo
from zarvik.core.candidates.compare import Candidate, compare
from zarvik.core.checks import Verdict, judge
from zarvik.core.checks.case import Case, Memo
from zarvik.core.checks.judge import OF_REGISTER
from zarvik.core.checks.verdict import worst
from zarvik.core.common.progress import Progress, part, unwatched
from zarvik.core.uncertainty.bands import Bands


@dataclass(frozen=True, eq=False)
class Answer:
    """The solved and judged system. `costs`: W of shaft power by piece, at the target
    speed. `candidates`: the chosen turbo first, then the others. `spreads`: lowest and highest
    loss coefficient of the published methods by piece. All three are empty until the answer is
    completed. `case`: what is judged. `memo`: what the next quick judgement may take
    over, once this one is complete. `bands`: how far its figures may lie from what they are, once that
    is known. `judged`: False while it has figures but no verdicts yet."""

    system: System
    solver: Solver
    sweep: tuple[Point, ...]
    target: Point
    verdicts: tuple[Verdict, ...]
    costs: dict[str, float]
    candidates: tuple[Candidate, ...]
    spreads: dict[str, tuple[float, float]]
    case: Case = field(repr=False, compare=False)
    memo: Memo | None = field(default=None, repr=False, compare=False)
    bands: Bands | None = field(default=None, repr=False, compare=False)
    judged: bool = True

    @property
    def start(self) -> np.ndarray:
        """Unknowns of a solved point near the target."""
        return self.case.start

    def at(self, speed: float) -> Point:
        """The point at `speed` in rev/min, solved anew."""
        return self.solver.at(speed)


def first_answer(
    system: System, candidates: tuple[Turbo, ...] = (), memo: Memo | None = None
) -> Answer:
    """Solve and judge, without cures, what each piece costs and how the other turbos would do. With a
    `memo` of the design just before, cures and bands are those until the answer is completed.

    Raises ValueError when the system contradicts itself.
    """
    return judged(figures(system, candidates, memo))


def figures(
    system: System, candidates: tuple[Turbo, ...] = (), memo: Memo | None = None
) -> Answer:
    """The solved points alone, to be `judged`; arguments and errors as for `first_answer`."""
    solver = prepare(system)
    raw = solver.full_load
    sweep = tuple(solver.point(raw, i) for i in range(len(raw.speed)))
    target = target_point(solver, raw)
    if not target.closure.solved:
        target = solver.at(system.target.speed)
    case = Case(solver, raw, sweep, target, candidates, memo, hasty=True)
    return Answer(system, solver, sweep, case.target, (), {}, (), {}, case, judged=False)


def judged(figures: Answer) -> Answer:
    """Figures with their verdicts."""
    return dataclasses.replace(figures, verdicts=tuple(judge(figures.case)), judged=True)


def target_point(solver: Solver, raw: Raw) -> Point:
    """The point at the target speed, followed upward from the last solved one of a full-load curve
    below it: the branch that an engine pulling up from below is on."""
    speed = solver.system.target.speed
    below = np.nonzero(raw.solved & (raw.speed <= speed))[0]
    if len(below) == 0:
        return solver.at(speed)
    return solver.at(speed, start=raw.solutions[below[-1]])


def completed(first: Answer, progress: Progress = unwatched) -> Answer:
    """A first answer with the costs of its pieces, the candidates side by side, and everything in
    its verdicts found anew."""
    system, solver, case = first.system, first.solver, first.case
    turbos = () if system.blower is not None else (system.turbo, *case.candidates)
    known = case.__dict__ if case.memo is None else {}
    case = dataclasses.replace(case, memo=None, hasty=False)
    # Bands that were found for this very case are good.
    case.__dict__.update({k: known[k] for k in ("spool", "double", "least") if k in known})
    verdicts = tuple(judge(case, part(progress, 0.0, 0.5)))
    progress(0.5)
    costs = piece_costs(solver, system.target.speed, case.start)
    return dataclasses.replace(
        first,
        costs=costs,
        candidates=compare(solver, turbos, part(progress, 0.6, 0.9)),
        spreads=_spreads(system, part(progress, 0.9, 1.0)),
        verdicts=verdicts,
        judged=True,
        case=case,
        memo=case.remember(verdicts),
    )


def with_register(before: Answer, system: System) -> Answer:
    """The answer to the same build with another register: nothing that was solved is solved again, and only what looks at the register is
    judged anew. `system` differs from that of `before` in nothing else."""
    solver = dataclasses.replace(before.solver, system=system)
    # What the solver has found out already goes with it.
    solver.__dict__.update({name: value for name, value in before.solver.__dict__.items() if name not in ("system", "packed", "bounds")})
    case = dataclasses.replace(before.case, solver=solver)
    case.__dict__.update({name: value for name, value in before.case.__dict__.items() if name not in case.__dict__})
    gone = {v.id for check in OF_REGISTER for v in check(before.case)}
    kept = [v for v in before.verdicts if v.id not in gone]
    found = worst([*kept, *(v for check in OF_REGISTER for v in check(case))])
    return dataclasses.replace(before, system=system, solver=solver, verdicts=tuple(found), case=case)


def _spreads(system: System, progress: Progress) -> dict[str, tuple[float, float]]:
    # The first of them loads large tables: better here than in the thread of the window.
    found = {}
    for number, element in enumerate(system.elements):
        if element.spread is not None:
            progress(number / len(system.elements))
            found[element.id] = element.spread()
    return found


def answer(system: System, candidates: tuple[Turbo, ...] = ()) -> Answer:
    """Solve, judge, compare. Raises ValueError when the system contradicts itself."""
    return completed(first_answer(system, candidates))
