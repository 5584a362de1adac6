"""Whole designs for what a document asks for: sizes that may be other ones, the search over them, what came of it."""

from __future__ import annotations

import csv
import dataclasses
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from importlib import resources
from typing import Any

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE
from zarvik.core.airpath.system import System
from zarvik.core.checks import Verdict, judge
from zarvik.core.checks.case import Case
from zarvik.core.compare import Candidate, candidate
from zarvik.core.design.front import Found, Place, Score, diverse, search
from zarvik.core.design.money import Cost, Rate, cooler_cost, gate_cost, pipes_cost, turbo_cost
from zarvik.core.limits import (
    BACK_PRESSURE,
    BOTTOM_END,
    CHOKE,
    FAILS,
    GATE,
    POWER,
    SURGE,
    WHEEL_SPEED,
)
from zarvik.core.progress import Progress, part, unwatched
from zarvik.core.sizes import GATES, LIFT_SHARE, TUBES, WALL, openings
from zarvik.project.assemble import ProjectProblems, assemble
from zarvik.project.document import Project
from zarvik.project.edits import whole
from zarvik.project.fields import Of
from zarvik.project.language import told, tr
from zarvik.project.parts.turbo import Turbo
from zarvik.project.places import meta, place_put
from zarvik.project.units import EntryError, Quantity

TURBO, HOUSING, COUNT, GATE_SIZE, HOT, COLD, EXHAUST_BORE, COOLER, BOOST = (
    "turbo", "housing", "count", "gate", "hot", "cold", "exhaust", "cooler", "boost",
)  # fmt: skip
ALL_FREE = (TURBO, HOUSING, GATE_SIZE, HOT, COLD, EXHAUST_BORE, COOLER, BOOST)
HOUSING_STEPS = (0.72, 0.82, 0.91, 1.0, 1.12, 1.25, 1.4)  # of the housing that a turbo comes with
BOOST_STEP = 0.05e5  # Pa
# Cores that are sold: width, height, thickness in m; common practice, no source
CORES = (
    (0.40, 0.15, 0.057), (0.45, 0.18, 0.065), (0.50, 0.20, 0.065), (0.55, 0.23, 0.065), (0.60, 0.20, 0.076),
    (0.60, 0.30, 0.076), (0.60, 0.30, 0.100), (0.70, 0.30, 0.100),
)  # fmt: skip
NEAR = 4  # stocked tubes to both sides of the present one
AIMS = ("threshold", "reserve", "money", "weeks")


@lru_cache(1)
def catalogue() -> dict[str, Rate]:
    """The invented catalogue that ships with the program: rates by key."""
    text = (resources.files("zarvik.data") / "catalogue.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {row["key"]: Rate(float(row["price"]), float(row["hours"])) for row in rows}


@dataclass(frozen=True)
class Axis:
    """One thing that may be another one: its `key`, `title`, and an edit for each of its sizes with its name."""

    key: str
    title: str
    names: tuple[str, ...]
    edits: tuple[Callable[[Project], Project], ...]
    own: int


@dataclass(frozen=True, eq=False)
class Design:
    """A whole design: the `project`, its sizes by axis, figures, cost, `verdicts` once it is judged, and where it
    stands in the search."""

    project: Project
    place: Place
    sizes: dict[str, str]
    figures: Candidate
    cost: Cost
    verdicts: tuple[Verdict, ...] = ()

    @property
    def worst(self) -> str:
        """The worst state of its verdicts; empty while it is not judged."""
        return self.verdicts[0].state if self.verdicts else ""


@dataclass(frozen=True, eq=False)
class Designs:
    """What a search found: different `designs`, the `axes` that were free, how many places it `tried`, and the
    nearest one that was left out with the verdict that stopped it (`missed`, `why`)."""

    designs: tuple[Design, ...]
    axes: tuple[Axis, ...]
    tried: int
    missed: Design | None
    why: Verdict | None


def _quantity(si: float, unit: str, kind: str) -> Quantity:
    base = {"length": "m", "pressure_gauge": "Pa"}[kind]
    found = Quantity(si, base, kind).into(unit)
    return Quantity(float(f"{found.value:.5g}"), unit, kind)


def _with_bore(run: str, old: float, new: float, project: Project) -> Project:
    """The document with a run of another bore: everything of it that is as wide as its pipe; bends keep their
    radius over the bore."""
    pieces = []
    for piece in getattr(project, run):
        update = {}
        for name in ("bore", "bore_in", "bore_out"):
            value = getattr(piece, name, None)
            if isinstance(value, Quantity) and abs(value.si / old - 1.0) < 0.02:
                update[name] = _quantity(new, "mm", "length")
        radius = getattr(piece, "radius", None)
        if "bore" in update and isinstance(radius, Quantity):
            update["radius"] = _quantity(radius.si * new / old, "mm", "length")
        pieces.append(piece.model_copy(update=update) if update else piece)
    return project.model_copy(update={run: tuple(pieces)})


def _main_bore(project: Project, run: str) -> float:
    """Bore in m of most of a run's length; 0 for a run of no pipe."""
    lengths: dict[float, float] = {}
    for piece in getattr(project, run):
        bore = getattr(piece, "bore", None)
        if isinstance(bore, Quantity) and piece.kind in ("straight", "bend", "mitre", "crush"):
            lengths[bore.si] = lengths.get(bore.si, 0.0) + 1.0
    return max(lengths, key=lambda b: lengths[b], default=0.0)


def _with_turbo(turbo: Turbo, project: Project) -> Project:
    """The document with another turbo chosen, and the cone before it as wide as its own opening."""
    turbos = project.turbos if any(t.id == turbo.id for t in project.turbos) else (*project.turbos, turbo)
    project = project.model_copy(update={"turbos": turbos, "turbo": turbo.id})
    inlet = openings(float(turbo.lines[-1].points[-1][0]))[0]
    intake = list(project.intake)
    if intake and hasattr(intake[-1], "bore_out"):
        inlet = round(inlet, 4)
        intake[-1] = intake[-1].model_copy(update={"bore_out": _quantity(inlet, "mm", "length")})
    return project.model_copy(update={"intake": tuple(intake)})


def _with_housing(share: float, project: Project) -> Project:
    chosen = project.chosen
    if chosen is None:
        return project
    housing = round(chosen.turbine.housing.si * share * 1e4) / 1e4
    return place_put(project, f"turbos.{chosen.id}.turbine.housing", _quantity(housing, "mm", "length"))


def _with_gate(size: float, project: Project) -> Project:
    project = place_put(project, "gate.diameter", _quantity(size, "mm", "length"))
    return place_put(project, "gate.lift", _quantity(round(LIFT_SHARE * size, 4), "mm", "length"))


def _with_core(core: tuple[float, float, float], project: Project) -> Project:
    """The document with a core by its dimensions: what was said of its rating was said of another one."""
    for name, si in zip(("width", "height", "thickness"), core, strict=True):
        project = place_put(project, f"cooler.{name}", _quantity(si, "mm", "length"))
    for name in ("effectiveness", "drop", "capture"):
        field = meta(project, f"cooler.{name}")
        if isinstance(field, Of) and field.unknown is not None:
            project = place_put(project, f"cooler.{name}", field.unknown)
    return project


def axes_of(project: Project, shelf: Mapping[str, Turbo], free: Iterable[str] = ALL_FREE) -> tuple[Axis, ...]:
    """What may be another one in a document, of what is `free`; the present size is among those of each."""
    wanted, found = set(free), []
    strange = wanted - {*ALL_FREE, COUNT}
    if strange:
        raise EntryError(told("“{0}” cannot be left free; {1} can", sorted(strange)[0], ", ".join((*ALL_FREE, COUNT))))
    if TURBO in wanted:
        turbos = {t.id: t for t in project.turbos} | {key: t for key, t in shelf.items() if key not in
                                                      {x.id for x in project.turbos}}  # fmt: skip
        order = sorted(turbos.values(), key=lambda t: t.lines[-1].points[-1][0])
        found.append(
            Axis(TURBO, tr("Turbo"), tuple(t.name for t in order),
                 tuple(_as_it_is if t.id == project.turbo else _bind(_with_turbo, t) for t in order),
                 next((i for i, t in enumerate(order) if t.id == project.turbo), 0))
        )  # fmt: skip
    if COUNT in wanted:
        found.append(
            Axis(COUNT, tr("Turbos"), ("1", "2"),
                 tuple(_bind(_with_count, n) for n in (1, 2)), min(int(project.turbos_fitted.si), 2) - 1)
        )  # fmt: skip
    if HOUSING in wanted:
        found.append(
            Axis(HOUSING, tr("Housing"), tuple(f"{100 * s:.0f} %" for s in HOUSING_STEPS),
                 tuple(_as_it_is if s == 1.0 else _bind(_with_housing, s) for s in HOUSING_STEPS),
                 HOUSING_STEPS.index(1.0))
        )  # fmt: skip
    if GATE_SIZE in wanted:
        now = project.gate.diameter.si
        found.append(
            Axis(GATE_SIZE, tr("Gate"), tuple(f"{1e3 * s:.0f} mm" for s in GATES),
                 tuple(_as_it_is if abs(s - now) < 5e-4 else _bind(_with_gate, s) for s in GATES),
                 min(range(len(GATES)), key=lambda i: abs(GATES[i] - now)))
        )  # fmt: skip
    for key, run, title in ((HOT, HOT_PIPE, "Hot pipe"), (COLD, COLD_PIPE, "Cold pipe"), (EXHAUST_BORE, EXHAUST, "Exhaust")):
        old = _main_bore(project, run)
        if key not in wanted or old <= 0.0:
            continue
        inside = [t - 2.0 * WALL for t in TUBES]
        near = min(range(len(inside)), key=lambda i: abs(inside[i] - old))
        sizes = inside[max(near - NEAR, 0) : near + NEAR + 1]
        own = min(range(len(sizes)), key=lambda i: abs(sizes[i] - old))
        sizes[own] = old  # the present one as it is
        found.append(
            Axis(key, tr(title), tuple(f"{1e3 * s:.1f} mm" for s in sizes),
                 tuple(_bind(_bore_edit, (run, old, s)) for s in sizes), own)
        )  # fmt: skip
    if COOLER in wanted and project.cooler.fitted and project.cooler.medium == "air":
        names = (tr("as it is"), *("{:.0f} × {:.0f} × {:.0f} mm".format(*(1e3 * s for s in core)) for core in CORES))
        found.append(
            Axis(COOLER, tr("Cooler"), names, (_as_it_is, *(_bind(_with_core, c) for c in CORES)), 0)
        )  # fmt: skip
    if BOOST in wanted:
        most = project.engine.trusted_boost.si * (1.0 - BOTTOM_END.good)
        count = max(int(most / BOOST_STEP), 1)
        now = project.brief.target_boost.si
        # Less than half of the present one is another build.
        first = min(max(int(0.5 * now / BOOST_STEP), 2), count)
        boosts = [BOOST_STEP * n for n in range(first, count + 1)]
        found.append(
            Axis(BOOST, tr("Boost"), tuple(f"{b / 1e5:.2f} bar" for b in boosts),
                 tuple(_bind(_with_boost, b) for b in boosts),
                 min(range(len(boosts)), key=lambda i: abs(boosts[i] - now)))
        )  # fmt: skip
    return tuple(found)


def _as_it_is(project: Project) -> Project:
    return project


def _with_count(count: int, project: Project) -> Project:
    project = place_put(project, "turbos_fitted", Quantity(float(count), "", "count"))
    return place_put(project, "gate.count", Quantity(float(count), "", "count"))


def _with_boost(boost: float, project: Project) -> Project:
    return place_put(project, "brief.target_boost", _quantity(boost, "bar", "pressure_gauge"))


def _bore_edit(what: tuple[str, float, float], project: Project) -> Project:
    run, old, new = what
    return project if new == old else _with_bore(run, old, new, project)


def _bind(function: Callable[[Any, Project], Project], value: Any) -> Callable[[Project], Project]:
    return partial(function, value)


def built(project: Project, axes: Sequence[Axis], place: Place) -> Project:
    """The document with the size of each axis that a `place` names. Raises EntryError where they do not go
    together."""
    for axis, number in zip(axes, place, strict=True):
        project = axis.edits[number](project)
    return whole(project)


OPEN_MOST = 1.0 - 0.5 * GATE.good  # of the gate's lift that a design may use; wide open it may creep
# What each thing that fails counts, as a share that is one unit short
_SHORT = {"power": 0.05, "spool": 0.08, "surge": 0.10, "choke": 0.08, "overspeed": 0.04, "gate": 0.15, "back": 0.4}


def _short(system: System, figures: Candidate) -> float:
    """How far a design is from what it must fulfil: sum of the shortfalls, each over its unit; 0 for none."""
    power = figures.power / system.target.power - 1.0
    late = figures.spool / system.boost.wish - 1.0 if figures.spool == figures.spool else 1.0
    parts = [
        max(POWER.most - power, 0.0) / _SHORT["power"] if power == power else 20.0,
        max(late, 0.0) / _SHORT["spool"],
        max(SURGE.most - figures.surge, 0.0) / _SHORT["surge"] if figures.surge == figures.surge else 5.0,
        max(CHOKE.most - figures.choke, 0.0) / _SHORT["choke"] if figures.choke == figures.choke else 5.0,
        max(WHEEL_SPEED.most - figures.overspeed, 0.0) / _SHORT["overspeed"] if figures.overspeed == figures.overspeed
        else 5.0,
        max(figures.opening - OPEN_MOST, 0.0) / _SHORT["gate"] if figures.opening == figures.opening else 5.0,
        max(figures.back_pressure - BACK_PRESSURE.most, 0.0) / _SHORT["back"]
        if figures.back_pressure == figures.back_pressure else 5.0,
    ]  # fmt: skip
    return sum(parts)


def _price(project: Project) -> float:
    chosen = project.chosen
    return chosen.fit.price.si if chosen is not None else 0.0


def cost_of(project: Project, system: System, before: System | None = None) -> Cost:
    """Money and hours of a design by the catalogue; pieces that are as they were in the design `before` are there
    already."""
    rates = catalogue()
    total = turbo_cost(system, rates, _price(project)) + gate_cost(system, rates)
    core = project.cooler
    volume = core.width.si * core.height.si * core.thickness.si if core.fitted else 0.0
    total = total + cooler_cost(volume, rates) + pipes_cost(system, rates)
    if before is not None and system.turbo.turbine.housing != before.turbo.turbine.housing:
        total = total + Cost(rates["housing"].price, rates["housing"].hours)
    return total


class Search:
    """One search over the designs of a document; `shelf`: turbos by key, `free`: what may be another one."""

    def __init__(self, project: Project, shelf: Mapping[str, Turbo], free: Iterable[str] = ALL_FREE) -> None:
        self.project = project
        self.axes = axes_of(project, shelf, free)
        if not self.axes:
            raise EntryError(told("nothing is left free to be searched"))
        self.sizes = tuple(len(axis.names) for axis in self.axes)
        self._designs: dict[Place, Design] = {}

    def design(self, place: Place) -> Design | None:
        """The design at a place, solved over the rev range; None where it is none."""
        if place in self._designs:
            return self._designs[place]
        try:
            project = built(self.project, self.axes, place)
            system = assemble(project, id=project.name)
            solver = prepare(system)
            figures = candidate(solver)
        except (EntryError, ProjectProblems, ValueError):
            return None
        names = {axis.key: axis.names[n] for axis, n in zip(self.axes, place, strict=True)}
        found = Design(project, place, names, figures, cost_of(project, system))
        self._designs[place] = found
        return found

    def score(self, place: Place) -> Score | None:
        """What the search weighs a place by; None where it is no design."""
        if self._hopeless(place):
            return None
        design = self.design(place)
        if design is None:
            return None
        f = design.figures
        wanted = self.project.brief.target_power.si
        late = f.spool if f.spool == f.spool else self.project.engine.rev_limit.si * 1.5
        reserve = f.power / wanted - 1.0 if f.power == f.power else -1.0
        brief = self.project.brief
        short = _short(assemble(design.project), f)
        if brief.budget.si > 0.0 and _price(design.project) > brief.budget.si:
            short += (_price(design.project) / brief.budget.si - 1.0) / 0.1
        # A reserve beyond a tenth is worth nothing more.
        return Score((late, -min(reserve, 0.10), design.cost.money, design.cost.hours), short)

    def _hopeless(self, place: Place) -> bool:
        """A compressor that could not pass half of the air, or that would stand far left of its surge line: not worth
        a solution."""
        keys = [axis.key for axis in self.axes]
        if TURBO not in keys:
            return False
        axis = self.axes[keys.index(TURBO)]
        project = axis.edits[place[keys.index(TURBO)]](self.project)
        chosen = project.chosen
        if chosen is None:
            return True
        count = place[keys.index(COUNT)] + 1 if COUNT in keys else int(project.turbos_fitted.si)
        # 7 to 12 hp for a pound a minute (common practice)
        flow = self.project.brief.target_power.si / 745.7 / 9.5 * 0.45359237 / 60.0 / count
        choke = chosen.lines[-1].points[-1][0]
        return not 0.75 * flow < choke < 4.0 * flow

    def so_far(self, found: Found, most: int = 6) -> Designs:
        """The best of a search that still goes on, not judged yet."""
        front = found.front()
        scores = [s for p in front if (s := found.scores[p]) is not None]
        shown = [self._designs[front[i]] for i in diverse(front, scores, self.sizes, most)]
        return Designs(tuple(shown), self.axes, found.count, None, None)

    def run(
        self, *, budget: int = 600, seed: int = 1, most: int = 6, progress: Progress = unwatched,
        told_of: Callable[[Found], None] | None = None,
    ) -> Designs:  # fmt: skip
        """Search with a `budget` of solutions, and judge at most `most` different designs of what is found; those that
        fail a verdict are left out, the nearest of them is told."""
        own = tuple(axis.own for axis in self.axes)
        found = search(
            self.sizes, self.score, budget=budget, seed=seed, starts=(own,),
            progress=part(progress, 0.0, 0.85), told=told_of,
        )  # fmt: skip
        front = found.front()
        scores = [s for p in front if (s := found.scores[p]) is not None]
        order = diverse(front, scores, self.sizes, 4 * most)
        shown: list[Design] = []
        missed: tuple[float, Design, Verdict] | None = None
        for number, i in enumerate(order):
            if len(shown) >= most:
                break
            part(progress, 0.85, 1.0)(number / max(len(order), 1))
            design = self.design(front[i])
            if design is None:
                continue
            judged = dataclasses.replace(design, verdicts=verdicts_of(design.project))
            fail = next((v for v in judged.verdicts if v.state == FAILS), None)
            if fail is None and scores[i].short == 0.0:
                shown.append(judged)
            elif fail is not None:
                gone = abs(fail.margin) if fail.margin is not None else 1.0
                if missed is None or gone < missed[0]:
                    missed = gone, judged, fail
        return Designs(
            tuple(shown), self.axes, found.count, missed[1] if missed else None, missed[2] if missed else None
        )


def verdicts_of(project: Project) -> tuple[Verdict, ...]:
    """Every verdict on a design, worst first, without cures."""
    system = assemble(project, id=project.name)
    solver: Solver = prepare(system)
    raw = solver.full_load
    sweep = tuple(solver.point(raw, i) for i in range(len(raw.speed)))
    near = int(np.abs(raw.speed - system.target.speed).argmin())
    start = raw.solutions[near] if raw.states[near, k.CLOSED] > 0.0 else None
    target = solver.at(system.target.speed, start=start)
    return tuple(judge(Case(solver, raw, sweep, target, plain=True)))

