"""What the checks look at: the build, its solver, the full-load sweep, the target point."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import Turbo
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.reading import RawSolution
from zarvik.core.airpath.solution import NO_START, Solver, prepare
from zarvik.core.airpath.threshold import double_band, least_boost, spool_band, threshold, uncontrolled
from zarvik.core.bay.access import Reach, reaches
from zarvik.core.bay.assembly import Order, order_of
from zarvik.core.checks.check_result import Change, CheckResult
from zarvik.core.common.sentences import Sentence
from zarvik.core.ducts.element import Element
from zarvik.core.engine.blower import Blower
from zarvik.core.layout.placement import lay_out
from zarvik.core.limits.limits import OK
from zarvik.core.whole_build.build import Build


@dataclass(frozen=True)
class Memo:
    """What a full judgement found out with solutions of its own, for the quick judgement of the
    next step of a drag: `cures` by check (state, sentence, changes), the `spool` band (middle,
    early, late in rev/min), the speeds between which `double` states are possible, the `least`
    boost of the gate in Pa gauge, how joints of the `bay` are got at and parts go in."""

    cures: dict[str, tuple[str, Sentence | None, tuple[Change, ...]]]
    spool: tuple[float, float, float] | None
    double: tuple[float, float] | None
    least: float | None
    bay: BayWork | None = None


BayWork = tuple[tuple[Reach, ...], Order]
Cure = tuple[Sentence | None, tuple[Change, ...]]


@dataclass(frozen=True, eq=False, kw_only=True)
class Case:
    """A solved build to be judged. `candidates`: the other turbos that could be had. With a `memo`
    of the design just before, what takes more solutions (cures, bands) is taken from there. `hasty`:
    cures that are not remembered are left for later. `plain`: without cures, for a design that is only
    tried."""

    build: Build
    solver: Solver
    raw: RawSolution
    sweep: tuple[Point, ...]
    target: Point
    candidates: tuple[Turbo, ...] = ()
    memo: Memo | None = None
    plain: bool = False
    hasty: bool = False

    def cure(self, check_result: str, state: str, find: Callable[[], Cure]) -> Cure:
        """The cure of a check that is in `state`, found now or remembered; none when it holds."""
        if state == OK or self.plain:
            return None, ()
        if self.memo is not None:
            kept = self.memo.cures.get(check_result)
            if kept is not None and kept[0] == state:
                return kept[1], kept[2]
        return (None, ()) if self.hasty else find()

    @cached_property
    def solved(self) -> tuple[Point, ...]:
        """The points of the sweep that closed."""
        return tuple(p for p in self.sweep if p.closure.solved)

    @cached_property
    def boosted(self) -> tuple[Point, ...]:
        """Solved points under boost."""
        return tuple(p for p in self.solved if self.build.boost.counts(p.boost))

    @cached_property
    def hardest(self) -> Point:
        """The solved point that moves the most air (the target point when none is solved)."""
        return max(self.solved, key=lambda p: p.air, default=self.target)

    @cached_property
    def threshold(self) -> float:
        """Engine speed in rev/min at which the full boost stands; nan when it never does."""
        found = threshold(self.solver, self.raw)
        return float("nan") if found is None else found.speed

    @cached_property
    def free(self) -> tuple[float, float, float]:
        """The threshold of the turbo by itself with its band, rev/min: as `spool`, whatever the control holds back."""
        if self.build.boost.full_from <= self.build.engine.idle:
            return self.spool
        solver = uncontrolled(self.solver)
        return spool_band(solver, solver.full_load)

    @cached_property
    def spool(self) -> tuple[float, float, float]:
        """The threshold and its band from the uncertainties, rev/min; with a memo the band of the design
        before is moved along."""
        if self.memo is not None and self.memo.spool is not None:
            middle, early, late = self.memo.spool
            moved = self.threshold - middle
            if moved == moved:
                return self.threshold, early + moved, late + moved
        return spool_band(self.solver, self.raw)

    @cached_property
    def double(self) -> tuple[float, float] | None:
        """Engine speeds between which two states are possible."""
        return self.memo.double if self.memo is not None else double_band(self.solver, self.raw)

    @cached_property
    def bay_work(self) -> BayWork | None:
        """How joints in the engine bay are got at, and in which order parts come out; None while that is left for later, or where nothing
        is said of a bay."""
        build = self.build
        if self.plain or not build.obstacles or build.space is None or not build.space.said:
            return None
        if self.memo is not None or self.hasty:
            return self.memo.bay if self.memo is not None else None
        layout = lay_out(build.space)
        return reaches(build.space, layout, build.obstacles, build.connections), order_of(
            build.space, layout, build.obstacles, build.connections
        )

    @cached_property
    def least(self) -> float:
        """The lowest boost in Pa gauge that the gate can hold."""
        if self.memo is not None and self.memo.least is not None:
            return self.memo.least
        return least_boost(self.solver, self.raw)

    def remember(self, check_results: Iterable[CheckResult]) -> Memo:
        """What the quick judgement of the next design may take over from this full one."""
        found = self.__dict__
        return Memo(
            {v.id: (v.state, v.cure, v.changes) for v in check_results},
            found.get("spool"),
            found.get("double"),
            found.get("least"),
            found.get("bay_work"),
        )

    def power_with(self, boost: float) -> float:
        """Power in W at the target speed with another full boost in Pa gauge; nan unsolved."""
        return self.made_with(boost)[0]

    def made_with(self, boost: float) -> tuple[float, float]:
        """Power in W and the boost in Pa gauge that is really made at the target speed when another
        full boost is asked for; nan unsolved."""
        wanted = np.array([self.build.site.pressure + boost])
        speed = np.array([self.build.target.speed])
        raw = self.solver.at_pressure(speed, wanted, start=self.start)
        if not raw.solved[0]:
            return float("nan"), float("nan")
        plenum = float(raw.states[0, k.P_PLENUM])
        return float(raw.power[0]), plenum - self.build.site.pressure

    @cached_property
    def most_boost(self) -> Point:
        """The solved point with the highest boost (the target point when none is solved)."""
        return max(self.solved, key=lambda p: p.boost, default=self.target)

    @cached_property
    def start(self) -> np.ndarray:
        """Unknowns of a solved point near the target speed."""
        good = np.nonzero(self.raw.solved)[0]
        if len(good) == 0:
            return NO_START
        near = good[int(np.abs(self.raw.speed[good] - self.build.target.speed).argmin())]
        return self.raw.solutions[near]

    def with_blower(self, blower: Blower) -> Solver:
        """A solver for the same build with another blower."""
        return prepare(dataclasses.replace(self.build, blower=blower))

    def with_turbo(self, turbo: Turbo) -> Solver:
        """A solver for the same build with another turbo."""
        return prepare(dataclasses.replace(self.build, turbo=turbo))


def choked_piece(solver: Solver, raw: RawSolution, i: int) -> Element | None:
    """The duct piece that chokes at point `i`, None when none does."""
    index = int(raw.states[i, k.CHOKED])
    return solver.path.elements[index] if index >= 0 else None


Check = Callable[[Case], list[CheckResult]]


def plain_case(build: Build, near: RawSolution | None = None) -> Case:
    """A `build` solved to be judged without cures, as for a design that is only tried; `near`: the full-load curve of one that is nearly
    this one. Raises ValueError for one that cannot be prepared."""
    solver = prepare(build)
    raw = solver.load_near(near)
    return Case(
        build=build,
        solver=solver,
        raw=raw,
        sweep=tuple(solver.point(raw, i) for i in range(len(raw.speed))),
        target=solver.at(build.target.speed),
        plain=True,
    )
