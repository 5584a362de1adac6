"""One question, one answer: the build solved over the whole rev range, and judged."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.airpath.air_path import Turbo
from zarvik.core.airpath.piece_costs import piece_costs
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver, prepare, target_point
from zarvik.core.candidates.compare import Candidate, compare
from zarvik.core.checks import CheckResult, judge
from zarvik.core.checks.case import Case, Memo
from zarvik.core.checks.check_result import worst
from zarvik.core.checks.judge import OF_CONNECTIONS
from zarvik.core.common.progress import Progress, part, unwatched
from zarvik.core.uncertainty.bands import Bands
from zarvik.core.whole_build.build import Build, Solved


@dataclass(frozen=True, eq=False, kw_only=True)
class Answer:
    """The solved and judged build. `costs`: W of shaft power by piece, at the target
    speed. `candidates`: the chosen turbo first, then the others. `spreads`: lowest and highest
    loss coefficient of the published methods by piece. All three are empty until the answer is
    completed. `case`: what is judged. `memo`: what the next quick judgement may take
    over, once this one is complete. `bands`: how far its figures may lie from what they are, once that
    is known. `judged`: False while it has figures but no checks yet."""

    build: Build
    solver: Solver
    sweep: tuple[Point, ...]
    target: Point
    check_results: tuple[CheckResult, ...]
    costs: dict[str, float]
    candidates: tuple[Candidate, ...]
    spreads: dict[str, tuple[float, float]]
    case: Case = field(repr=False, compare=False)
    memo: Memo | None = field(default=None, repr=False, compare=False)
    bands: Bands | None = field(default=None, repr=False, compare=False)
    judged: bool = True

    @property
    def solved(self) -> Solved:
        """The build with the solver of its air path."""
        return Solved(self.build, self.solver)

    @property
    def start(self) -> np.ndarray:
        """Unknowns of a solved point near the target."""
        return self.case.start

    def at(self, speed: float) -> Point:
        """The point at `speed` in rev/min, solved anew."""
        return self.solver.at(speed)


def first_answer(build: Build, candidates: tuple[Turbo, ...] = (), memo: Memo | None = None) -> Answer:
    """Solve and judge, without cures, what each piece costs and how the other turbos would do. With a
    `memo` of the design just before, cures and bands are those until the answer is completed.

    Raises ValueError when the build contradicts itself.
    """
    return judged(figures(build, candidates, memo))


def figures(build: Build, candidates: tuple[Turbo, ...] = (), memo: Memo | None = None) -> Answer:
    """The solved points alone, to be `judged`; arguments and errors as for `first_answer`."""
    solver = prepare(build)
    raw = solver.full_load
    sweep = tuple(solver.point(raw, i) for i in range(len(raw.speed)))
    target = target_point(solver, raw)
    if not target.closure.solved:
        target = solver.at(build.target.speed)
    case = Case(build=build, solver=solver, raw=raw, sweep=sweep, target=target, candidates=candidates, memo=memo, hasty=True)
    return Answer(
        build=build,
        solver=solver,
        sweep=sweep,
        target=case.target,
        check_results=(),
        costs={},
        candidates=(),
        spreads={},
        case=case,
        judged=False,
    )


def judged(figures: Answer) -> Answer:
    """Figures with their checks."""
    return dataclasses.replace(figures, check_results=tuple(judge(figures.case)), judged=True)


def completed(first: Answer, progress: Progress = unwatched) -> Answer:
    """A first answer with the costs of its pieces, the candidates side by side, and everything in
    its checks found anew."""
    build, solver, case = first.build, first.solver, first.case
    turbos = () if build.blower is not None else (build.turbo, *case.candidates)
    known = case.__dict__ if case.memo is None else {}
    case = dataclasses.replace(case, memo=None, hasty=False)
    # Bands that were found for this very case are good.
    case.__dict__.update({k: known[k] for k in ("spool", "double", "least") if k in known})
    check_results = tuple(judge(case, part(progress, 0.0, 0.5)))
    progress(0.5)
    costs = piece_costs(solver, build.target.speed, case.start)
    return dataclasses.replace(
        first,
        costs=costs,
        candidates=compare(solver, turbos, part(progress, 0.6, 0.9)),
        spreads=_spreads(build, part(progress, 0.9, 1.0)),
        check_results=check_results,
        judged=True,
        case=case,
        memo=case.remember(check_results),
    )


def with_connections(before: Answer, build: Build) -> Answer:
    """The answer to the same build with another connection list: nothing that was solved is solved again, and only what looks at the
    list is judged anew. `build` differs from that of `before` in nothing else."""
    case = dataclasses.replace(before.case, build=build)
    # What the case has found out already goes with it.
    case.__dict__.update({name: value for name, value in before.case.__dict__.items() if name not in case.__dict__})
    gone = {v.id for check in OF_CONNECTIONS for v in check(before.case)}
    kept = [v for v in before.check_results if v.id not in gone]
    found = worst([*kept, *(v for check in OF_CONNECTIONS for v in check(case))])
    return dataclasses.replace(before, build=build, check_results=tuple(found), case=case)


def _spreads(build: Build, progress: Progress) -> dict[str, tuple[float, float]]:
    # The first of them loads large tables: better here than in the thread of the window.
    found = {}
    for number, element in enumerate(build.elements):
        if element.spread is not None:
            progress(number / len(build.elements))
            found[element.id] = element.spread()
    return found


def answer(build: Build, candidates: tuple[Turbo, ...] = ()) -> Answer:
    """Solve, judge, compare. Raises ValueError when the build contradicts itself."""
    return completed(first_answer(build, candidates))
