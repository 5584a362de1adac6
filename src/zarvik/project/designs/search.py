"""The search over whole designs of a document, and the designs that came of it."""

from __future__ import annotations

import dataclasses
import itertools
from collections.abc import Callable, Iterable, Iterator, Mapping

from zarvik.core.airpath.air_path import Turbo as CoreTurbo
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import first_answer
from zarvik.core.budget.bill import bill, cost
from zarvik.core.budget.resources import Cost
from zarvik.core.candidates.catalogue_search import rough_estimate
from zarvik.core.candidates.compare import candidate
from zarvik.core.checks import CheckResult
from zarvik.core.common.constants import HORSEPOWER, POUND
from zarvik.core.common.progress import Progress, part, unwatched
from zarvik.core.designs.pareto import Evaluations, Place, Score, diverse, search
from zarvik.core.limits.limits import FAILS
from zarvik.core.spool.pull import pull
from zarvik.core.whole_build.build import Build
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.turbos import core_turbo
from zarvik.project.designs.choices import BEYOND, BOOST, COUNT, HOUSING, TURBO, axes_of, built, sizes_of
from zarvik.project.designs.design import Design, Designs
from zarvik.project.designs.explanations import reliefs, trades
from zarvik.project.designs.limits import Limits, aim_scales, aims, room, shortfalls, total_shortfall, weighted_sum
from zarvik.project.document.document import Project
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.language.language import tr_format
from zarvik.project.uncertainty.uncertainty import bands_of, with_bands
from zarvik.project.units.units import EntryError

WISHES = ("spool", "power", "money", "weeks")
BEHIND = 24  # designs behind the front that are judged at the most
STARTS, STARTS_OF_EACH = 20, 4  # places that a search begins with, and of each turbo
WHEELS = 12  # turbos and housings that are looked at with other boosts
CLEARLY, ALIKE = 0.4, 0.3  # of what counts one in an aim
NEAREST_TRIED = 8  # of those that come nearest to an impossible target, judged to find one that fails nothing else


def _assembled(project: Project) -> Build:
    """The build that a design is solved and priced as; its joints are wanted only when it is judged."""
    return assemble(project, id=project.name, connections=False)


class Search:
    """One search over the designs of a document that is asked what its `ask` says; `catalogue`: turbos by key. A `wish`
    (key of a limit) asks for one unit more than the present design gives."""

    def __init__(self, project: Project, catalogue: Mapping[str, Turbo], wish: str = "") -> None:
        self.project = project
        self.axes = axes_of(project, catalogue)
        if not self.axes:
            raise EntryError(tr_format("Nothing is free to change"))
        if wish not in ("", *WISHES):
            raise EntryError(tr_format("“{0}” is not a priority; use {1}", wish, ", ".join(WISHES)))
        self.wish = wish
        self.sizes = tuple(len(axis.names) for axis in self.axes)
        self.own = tuple(axis.own for axis in self.axes)
        self._designs: dict[Place, Design] = {}
        self._passed: dict[Place, bool] = {}
        self._names: tuple[str, ...] = ()
        self.limits = Limits.of(_assembled(project))
        first = self.design(self.own)
        self._usual = first.cost.money if first is not None else 1000.0
        if wish and first is not None:
            self.limits = self.limits.tightened(wish, first.figures, first.cost, first.weeks)
            self._designs.clear()

    def design(self, place: Place) -> Design | None:
        """The design at a place, solved over the rev range; None where it is none."""
        if place in self._designs:
            return self._designs[place]
        try:
            project = built(self.project, self.axes, place)
            build = _assembled(project)
            figures = candidate(prepare(build), mouth=build.mouth_speed > 0.0)
        except (EntryError, ProjectProblems, ValueError):
            return None
        total = cost(bill(build, build.resources))
        weeks = total.weeks(project.workshop.hours.si)
        missed = shortfalls(build, self.limits, figures, total, weeks)
        least = room(figures, project.engine.trusted_boost.si)
        found = Design(
            project=project,
            place=place,
            sizes=sizes_of(project, self.axes, place),
            figures=figures,
            cost=total,
            weeks=weeks,
            room=least,
            short=missed,
            shortfall=total_shortfall(missed, build, self.limits) if missed else 0.0,
        )
        self._designs[place] = found
        return found

    def score(self, place: Place) -> Score | None:
        """What the search weighs a place by; None where it is no design."""
        if self._hopeless(place):
            return None
        design = self.design(place)
        return self._score(design) if design is not None else None

    def _score(self, design: Design) -> Score:
        project = design.project
        worth = aims(
            project.search,
            self.limits,
            design.figures,
            design.cost,
            design.weeks,
            latest=1.5 * project.engine.rev_limit.si,
            least=design.room,
        )
        self._names = tuple(worth)
        return Score(tuple(worth.values()), design.shortfall)

    def _hopeless(self, place: Place) -> bool:
        """A compressor that could not pass half of the air, or that would stand far left of its surge line: not worth
        a solution."""
        keys = [axis.key for axis in self.axes]
        if TURBO not in keys:
            return False
        axis = self.axes[keys.index(TURBO)]
        chosen = axis.edits[place[keys.index(TURBO)]](self.project).chosen
        if chosen is None:
            return True
        count = place[keys.index(COUNT)] + 1 if COUNT in keys else int(self.project.turbos_fitted.si)
        # 7 to 12 hp for a pound a minute (common practice)
        flow = self.limits.power / HORSEPOWER / 9.5 * POUND / 60.0 / count
        choke = chosen.lines[-1].points[-1][0]
        return not 0.75 * flow < choke < 4.0 * flow

    def merit(self, design: Design) -> float:
        """What a design is worth by what matters, the less the better."""
        return weighted_sum(self.project.search, self._score(design), self._names, self._usual)

    def moved(self, design: Design) -> int:
        """How many sizes differ from the present ones."""
        return sum(a != b for a, b in zip(design.place, self.own, strict=True))

    def so_far(self, found: Evaluations, most: int = 6) -> Designs:
        """The best of a search that still goes on, not judged yet."""
        front = found.front()
        scores = [s for p in front if (s := found.scores[p]) is not None]
        shown = [self._designs[front[i]] for i in diverse(front, scores, self.sizes, most)]
        return Designs(
            designs=tuple(shown), axes=self.axes, limits=self.limits, every=tuple(self._designs.values()), names=self._names, wish=self.wish
        )

    def run(
        self,
        *,
        budget: int = 600,
        seed: int = 1,
        most: int = 6,
        progress: Progress = unwatched,
        on_progress: Callable[[Designs], None] | None = None,
    ) -> Designs:
        """Search with a `budget` of solutions, and judge at most `most` different designs of what is found; those that
        fail a check are left out, the nearest of them is told. Then each gets the bands of its uncertainties. `on_progress`
        hears of the best so far, of the judged ones, and as they get their bands."""
        found = self._designs_of(budget, seed, most, part(progress, 0.0, 0.6), on_progress)
        on_progress = on_progress or (lambda designs: None)
        on_progress(found)
        shown = list(found.designs)
        self._look_around(shown[:2])
        found = dataclasses.replace(found, every=tuple(self._designs.values()))
        found = dataclasses.replace(found, trades=tuple(trades(found, design, self._passes) for design in shown), reliefs=reliefs(found))
        on_progress(found)
        for number, design in enumerate(shown):
            share = part(progress, 0.6 + 0.4 * number / len(shown), 0.6 + 0.4 * (number + 1) / len(shown))
            shown[number] = self.banded(design, share)
            found = dataclasses.replace(found, designs=tuple(shown))
            on_progress(found)
        if found.nearest is not None:
            found = dataclasses.replace(found, nearest=self.banded(found.nearest))
        return found

    def _look_around(self, designs: Iterable[Design]) -> None:
        """Solve the neighbours of designs, a size up and down: what one unit more of a limit would buy is told by
        what misses that limit alone."""
        for design in designs:
            for i, count in enumerate(self.sizes):
                for step in (-2, -1, 1, 2):
                    there = design.place[i] + step
                    if 0 <= there < count:
                        self.score((*design.place[:i], there, *design.place[i + 1 :]))

    def _designs_of(self, budget: int, seed: int, most: int, progress: Progress, on_progress: Callable[[Designs], None] | None) -> Designs:
        found = search(
            self.sizes,
            self.score,
            budget=budget,
            seed=seed,
            starts=self.starts(),
            progress=part(progress, 0.0, 0.85),
            on_generation=(lambda now: on_progress(self.so_far(now, most))) if on_progress is not None else None,
        )
        front = [p for p in found.front() if (s := found.scores[p]) is not None and s.short == 0.0]
        shown: list[Design] = []
        missed: tuple[float, Design, CheckResult] | None = None
        tried = 0
        for place in itertools.chain(self._order(front, found, most), self._others(front, found)):
            # What lies behind the front is looked at only while nothing of it stands: where one thing alone matters
            # the front is one design, and that may fail a check.
            tried += place not in front
            if len(shown) >= most or (shown and place not in front) or tried > BEHIND:
                break
            part(progress, 0.85, 1.0)(len(shown) / most)
            if not self.wish and any(self._twins(self._designs[place], other) for other in shown):
                continue
            judged = self.judged(self._designs[place])
            fail = next((v for v in judged.check_results if v.state == FAILS), None)
            if fail is None and judged.answer is not None:
                shown.append(judged)
            elif fail is not None:
                gone = abs(fail.margin) if fail.margin is not None else 1.0
                if missed is None or gone < missed[0]:
                    missed = gone, judged, fail
        shown.sort(key=lambda d: (self.moved(d), self.merit(d)) if self.wish else (0, self.merit(d)))
        nearest = self._nearest() if not shown else None
        if missed is None:
            missed = self._narrowest(found)
        return Designs(
            designs=tuple(shown),
            axes=self.axes,
            limits=self.limits,
            every=tuple(self._designs.values()),
            names=self._names,
            nearest=nearest,
            missed=missed[1] if missed else None,
            why=missed[2] if missed else None,
            wish=self.wish,
        )

    def _others(self, front: list[Place], found: Evaluations) -> Iterator[Place]:
        """Designs behind the front that miss no limit, the best first."""
        behind = [p for p, s in found.scores.items() if s is not None and s.short == 0.0 and p not in front]
        yield from sorted(behind, key=lambda p: self.merit(self._designs[p]))

    def starts(self) -> list[Place]:
        """Places to begin with: the present one, and those of turbo, housing and boost that look best at a glance, with
        all else as it is; not too many of one turbo."""
        keys = [axis.key for axis in self.axes]
        build = _assembled(self.project)
        if build.blower is not None or not {TURBO, HOUSING, BOOST} & set(keys):
            return [self.own]
        at = {key: keys.index(key) for key in (TURBO, HOUSING, BOOST) if key in keys}
        wheels = itertools.product(
            range(self.sizes[at[TURBO]]) if TURBO in at else (None,), self._about(at[HOUSING]) if HOUSING in at else (None,)
        )
        marks: list[tuple[float, Place]] = []
        looked = []
        for one, two in wheels:
            place = self._with({at[k]: n for k, n in ((TURBO, one), (HOUSING, two)) if n is not None})
            turbo = None if self._hopeless(place) else self._turbo_at(place, build)
            if turbo is not None:
                marks.append((self._glanced(place, dataclasses.replace(build, turbo=turbo)), place))
                looked.append((marks[-1], turbo))
        if BOOST in at:
            # Other boosts are only looked at where the wheels are right.
            for (_, place), turbo in sorted(looked, key=lambda pair: pair[0])[:WHEELS]:
                for number in self._boosts(at[BOOST]):
                    there = (*place[: at[BOOST]], number, *place[at[BOOST] + 1 :])
                    full = self.axes[at[BOOST]].edits[number](self.project).goal.target_boost.si
                    boost = dataclasses.replace(build.boost, full=full)
                    if there != place:
                        marks.append((self._glanced(there, dataclasses.replace(build, turbo=turbo, boost=boost)), there))
        marks.sort()
        chosen: list[Place] = [self.own]
        count: dict[int, int] = {}
        for _, place in marks:
            wheel = place[at[TURBO]] if TURBO in at else 0
            if place != self.own and len(chosen) <= STARTS and count.get(wheel, 0) < STARTS_OF_EACH:
                chosen.append(place)
                count[wheel] = count.get(wheel, 0) + 1
        return chosen

    def _with(self, sizes: Mapping[int, int]) -> Place:
        """The present place with other sizes, by number of the axis."""
        return tuple(sizes.get(i, n) for i, n in enumerate(self.own))

    def _glanced(self, place: Place, build: Build) -> float:
        """How a design looks at a glance: how far it is from what it must fulfil, then by its early boost."""
        figures = rough_estimate(prepare(build))
        missed = shortfalls(build, self.limits, figures, Cost(), 0.0)
        return total_shortfall(missed, build, self.limits) if missed else figures.spool * 1e-7

    def _about(self, axis: int) -> tuple[int, ...]:
        """The present size of an axis, one down and one up."""
        return tuple(n for n in range(self.own[axis] - 1, self.own[axis] + 2) if 0 <= n < self.sizes[axis])

    def _boosts(self, axis: int) -> tuple[int, ...]:
        """A few steps of boost up to what the bottom end is trusted with, the present one among them."""
        most = max(self.sizes[axis] - BEYOND - 1, 0)
        return tuple(sorted({self.own[axis], (self.own[axis] + most + 1) // 2, most}))

    def _turbo_at(self, place: Place, build: Build) -> CoreTurbo | None:
        project = self.project
        try:
            for axis, number in zip(self.axes, place, strict=True):
                if axis.key in (TURBO, HOUSING):
                    project = axis.edits[number](project)
        except EntryError:
            return None
        chosen = project.chosen
        return core_turbo(chosen, build.turbo.count) if chosen is not None else None

    def _twins(self, one: Design, two: Design) -> bool:
        """Do two designs hardly differ in anything that matters?"""
        worth = aim_scales(self._names, self._usual)
        pairs = zip(self._score(one).aims, self._score(two).aims, worth, strict=True)
        return all(abs(a - b) < ALIKE * w for a, b, w in pairs)

    def _order(self, front: list[Place], found: Evaluations, most: int) -> list[Place]:
        """The front in the order in which it is judged: what is worth most first, then what is unlike it."""
        scores = [s for p in front if (s := found.scores[p]) is not None]
        if self.wish:
            # The least that has to be changed comes first.
            return sorted(front, key=lambda p: (self.moved(self._designs[p]), self.merit(self._designs[p])))[: 4 * most]
        best = sorted(front, key=lambda p: self.merit(self._designs[p]))[: 2 * most]
        if not best:
            return []
        # A design is only looked at for something in which it is worth more than the best one.
        first = found.scores[best[0]]
        assert first is not None
        worth = aim_scales(self._names, self._usual)
        unlike = [i for i, s in enumerate(scores) if any(b - a >= CLEARLY * w for a, b, w in zip(s.aims, first.aims, worth, strict=True))]
        rest = diverse([front[i] for i in unlike], [scores[i] for i in unlike], self.sizes, 4 * most)
        found_rest = [front[unlike[i]] for i in rest]
        return [best[0], *(p for p in found_rest if p != best[0]), *(p for p in best[1:] if p not in found_rest)]

    def _passes(self, design: Design) -> bool:
        """Does a design fail no check?"""
        if design.place not in self._passed:
            judged = self.judged(design)
            self._passed[design.place] = bool(judged.check_results) and judged.worst != FAILS
        return self._passed[design.place]

    def judged(self, design: Design) -> Design:
        """A design with its answer: every check."""
        try:
            return dataclasses.replace(design, answer=first_answer(assemble(design.project, id=design.project.name)))
        except (ProjectProblems, ValueError):
            return design

    def banded(self, design: Design, progress: Progress = unwatched) -> Design:
        """A judged design with the bands of its uncertainties, its checks by them, and its seconds."""
        answer = design.answer
        if answer is None or not answer.target.closure.solved:
            return design
        found = with_bands(answer, bands_of(design.project, answer, progress))
        seconds = pull(answer.solver, design.project.goal.pedal_at.si).seconds
        return dataclasses.replace(design, answer=found, seconds=seconds)

    def _nearest(self) -> Design | None:
        """The nearest possible target: what fails nothing but power and early boost, by both together."""
        wished = {"power", "spool"}
        near = [d for d in self._designs.values() if d.short and set(d.short) <= wished]
        near.sort(key=lambda d: self._score(d).short)
        for design in near[:NEAREST_TRIED]:
            judged = self.judged(design)
            if all(v.state != FAILS or v.id in ("target", "spool") for v in judged.check_results):
                return judged
        return None

    def _narrowest(self, found: Evaluations) -> tuple[float, Design, CheckResult] | None:
        """The design that was left out most narrowly, with the check that fails."""
        left = [
            (s.short, d) for p, s in found.scores.items() if s is not None and s.short > 0.0 and (d := self._designs.get(p)) is not None
        ]
        left.sort(key=lambda pair: pair[0])
        for _, design in left[:3]:
            judged = self.judged(design)
            fail = next((v for v in judged.check_results if v.state == FAILS), None)
            if fail is not None:
                return 0.0, judged, fail
        return None
