"""Manifolds as they are built, side by side on one engine: what each school gives, costs, and how it cracks."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.airpath.threshold import threshold, uncontrolled
from zarvik.core.budget.bill import bill
from zarvik.core.checks.turbo_weight import load_at
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.element import Element
from zarvik.core.manifold import life
from zarvik.core.manifold.load import CAST_WALL, STRETCHED
from zarvik.core.materials import metals
from zarvik.core.spool.pull import pull
from zarvik.core.whole_build.build import Build
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.fabrication.cut_list import cut_list
from zarvik.project.layout.layout import all_runs, has_pieced_primaries, head_of, shares, si
from zarvik.project.manifold.primaries import without_primaries
from zarvik.project.units.units import Quantity

OWN, CAST, LOG, UNEQUAL, EQUAL, TWIN = "own", "cast", "log", "unequal", "equal", "twin"
TITLES = {
    OWN: "As designed",
    CAST: "Cast",
    LOG: "Log",
    UNEQUAL: "Tubes, unequal length",
    EQUAL: "Tubes, equal length",
    TWIN: "Equal length, twin scroll",
}
# Proportions of what is built, in steps from port to port: length and turn of a runner, length of what they meet in; pieces
# that a runner is welded of; share of a primary's hours. Common practice, no source.
RUNNER = {CAST: 1.4, LOG: 0.8, UNEQUAL: 2.9, EQUAL: 4.4, TWIN: 4.4}
LONGER = {
    life.BRACE: "turbo brace",
    life.SLIP: "slip joints at the collector",
    life.PURGE: "back-purged welds",
    life.RELIEF: "stress relief",
    life.WALL: "50 % thicker wall",
}
TURNS = {CAST: 100.0, LOG: 10.0, UNEQUAL: 150.0, EQUAL: 270.0, TWIN: 270.0}
PIECES = {CAST: 0, LOG: 1, UNEQUAL: 4, EQUAL: 6, TWIN: 6}
HOURS = {CAST: 1.0, LOG: 1.0, UNEQUAL: 0.7, EQUAL: 1.0, TWIN: 1.0}


@dataclass(frozen=True, kw_only=True)
class ManifoldType:
    """What a manifold gives and costs: `power` W at the target, full boost of the turbo by itself from `threshold` rev/min, `seconds` to
    it at a held speed (nan or inf where it never comes), `ratio` of pressure before the turbine over plenum, `gas` K before the turbine;
    `volume` m3, `mass` kg, `welds` (a count), `hours`, `money`; `skin` K of its metal at its hottest, how far it `grows` m beyond the head
    from the middle port to the last, how many hot `cycles` it lasts (within `life.BAND` either way), and what makes it last `longer`, by
    which factor."""

    key: str
    title: str
    power: float
    threshold: float
    seconds: float
    ratio: float
    gas: float
    volume: float
    mass: float
    welds: int
    hours: float
    money: float
    skin: float
    grows: float
    cycles: float
    longer: tuple[tuple[str, float], ...]


def _mm(value: float) -> Quantity:
    return Quantity(float(f"{1e3 * value:.4g}"), "mm", "length")


def school(project: Project, key: str) -> Project:
    """The document with the manifold of a school; the present one for "own". Raises Fault where the manifold has no primaries
    with a collector to make it of, or no turbine whose scrolls could be two."""
    if key == OWN:
        return project
    kinds = {p.kind: p.id for p in project.manifold}
    if not {"primaries", "collector"} <= set(kinds):
        raise Fault("Comparing needs a manifold with primaries and a collector")
    head = head_of(project)
    count = max(head.cylinders // shares(project), 1)
    made = without_primaries(project)
    primaries, collector = f"manifold.{kinds['primaries']}", f"manifold.{kinds['collector']}"
    tube = si(next(p for p in project.manifold if p.kind == "collector"), "bore_out")
    meet = {CAST: 0.05, LOG: head.spacing * (count - 0.5)}.get(key, max(2.2 * tube, 0.08))
    form = {CAST: "cast", LOG: "log"}.get(key, "merge")
    material = (
        "cast" if key == CAST else next((m for p in project.manifold if (m := getattr(p, "material", "cast")) != "cast"), "stainless")
    )
    made = with_value(made, f"{primaries}.length", _mm(RUNNER[key] * head.spacing))
    made = with_value(made, f"{primaries}.turns", Quantity(TURNS[key], "°", "angle"))
    made = with_value(made, f"{collector}.length", _mm(meet))
    made = with_value(made, f"{collector}.form", form)
    for place in (primaries, collector):
        made = with_value(made, f"{place}.material", material)
    if key == TWIN:
        if project.chosen is None or project.blower.fitted:
            raise Fault("a twin scroll turbine is needed")
        made = with_value(made, f"turbos.{project.turbo}.turbine.scrolls", Quantity(2.0, "", "count"))
    return made


def _joints(project: Project, key: str, count: int) -> int:
    if key == OWN and has_pieced_primaries(project):
        runs = [run for run in all_runs(project) if run.startswith("primaries")]
        return sum(run.welds for run in cut_list(project, runs).runs)
    form = next((getattr(p, "form", "merge") for p in project.manifold if p.kind == "collector"), "merge")
    pieces = {"cast": 0, "log": 1}.get(form, PIECES.get(key, 5))
    return count * (pieces + 1) + (3 if form == "log" else count) if pieces else 0


def _mass(project: Project, elements: Sequence[Element], runner: Element | None, wall: float, form: str) -> float:
    """Mass in kg of a manifold with its flanges."""
    found = 0.0
    for e in elements:
        if e.material in metals.METALS:
            found += (1 if e.kind == "crossover" else e.parallel) * metals.pipe_mass(metals.METALS[e.material], e.diameter, wall, e.length)
    if runner is not None and runner.material in metals.METALS:
        found += life.flange_mass(
            metals.METALS[runner.material].density,
            ports=runner.parallel,
            bore=runner.diameter,
            thickness=project.layout.head.flange.si,
            turbos=shares(project),
            inlet=elements[-1].diameter,
        )
    return found * (life.CAST_EXTRA if form == "cast" else 1.0)


def _made_of(
    project: Project,
    build: Build,
    point: Point,
    runner: Element,
    elements: Sequence[Element],
    form: str,
    wall: float,
    span: float,
    *,
    own: bool,
) -> life.Made:
    """How a manifold is made, as its life is worked out from; `own`: the turbo hangs where it was measured."""
    making = project.layout.fabrication
    reach = runner.length * (STRETCHED if runner.turn > math.radians(45.0) else 1.0)
    carried = load_at(build, point) if point.closure.solved else None
    own_lever = carried.lever if carried is not None else 0.0
    lever = own_lever if own else reach + sum(e.length for e in elements if e.kind == "collector" and form != "log")
    return life.Made(
        material=runner.material,
        form=form,
        diameter=runner.diameter + 2.0 * wall,
        wall=wall,
        length=reach,
        body=next((e.diameter + 2.0 * wall for e in elements if e.form in ("log", "cast")), 0.0),
        span=span,
        mass=carried.mass if carried is not None else 0.0,
        lever=lever,
        pipes=carried.pipes if carried is not None else runner.parallel,
        braced=build.fittings.braced,
        slip=making.joint == "slip",
        purged=making.weld_roots == "yes",
        relieved=making.stress_relief == "yes",
    )


def _told(project: Project, key: str, build: Build) -> ManifoldType:
    solver = prepare(build)
    point = solver.at(build.target.speed)
    free = uncontrolled(solver)
    found = threshold(free, free.full_load)
    pulled = pull(solver, project.goal.pedal_at.si) if build.blower is None else None
    hot = solver.at(build.engine.rev_limit)
    stretches = [s for p in (point, hot) if p.closure.solved for s in p.stretches if s.section == MANIFOLD]
    skin = max((s.metal for s in stretches), default=math.nan)
    elements = [e for e in build.runs[MANIFOLD] if e.length > 0.0]
    head = head_of(project)
    form = next((e.form for e in elements if e.form), "merge")
    wall = CAST_WALL if form == "cast" else project.layout.fabrication.wall.si
    runner = next((e for e in elements if e.kind == "primaries"), None)
    weight = _mass(project, elements, runner, wall, form)
    grows, stands = math.nan, math.nan
    better: tuple[tuple[str, float], ...] = ()
    if runner is not None and runner.material in metals.METALS and skin == skin:
        stuff = metals.METALS[runner.material]
        banks = head.banks
        span = 0.5 * head.spacing * max(head.cylinders // banks - 1, 0)
        grows = metals.growth(stuff, span, skin)
        made = _made_of(project, build, point, runner, elements, form, wall, span, own=key == OWN)
        stands, better = life.life(made, skin).cycles, life.life_improvements(made, skin)
    items = [i for i in bill(build, build.resources) if i.key == MANIFOLD]
    return ManifoldType(
        key=key,
        title=TITLES[key],
        power=point.power if point.closure.solved else math.nan,
        threshold=found.speed if found else math.nan,
        seconds=pulled.seconds if pulled is not None else math.nan,
        ratio=point.stations["turbine_inlet"].pressure / point.stations["plenum"].pressure,
        gas=point.stations["turbine_inlet"].temperature,
        volume=build.hot_volume,
        mass=weight,
        welds=_joints(project, key, runner.parallel if runner is not None else 0),
        hours=HOURS.get(key, 1.0) * sum(i.hours for i in items),
        money=sum(i.money for i in items),
        skin=skin,
        grows=grows,
        cycles=stands,
        longer=better,
    )


def manifold_candidates(project: Project, progress: Progress = unwatched) -> tuple[ManifoldType, ...]:
    """The present manifold and every school on the same engine; those that cannot be are left out. Raises Fault where the
    manifold has no primaries with a collector."""
    found = []
    every = (OWN, CAST, LOG, UNEQUAL, EQUAL, TWIN)
    for number, (key, made) in enumerate(_made(project, every)):
        progress(number / len(every))
        found.append(_told(made, key, assemble(made)))
    return tuple(found)


def boost_is_delayed(project: Project, found: Sequence[ManifoldType]) -> bool:
    """Does the controller allow full boost only above the speed (rev/min) at which the turbo makes it on the present manifold, of
    those that were `found`? A blower's boost does not depend on it."""
    own = next((s for s in found if s.key == OWN), None)
    return own is not None and not project.blower.fitted and own.threshold < project.goal.hold_back_until.si


def _made(project: Project, keys: tuple[str, ...]) -> Iterator[tuple[str, Project]]:
    for key in keys:
        if key == TWIN and (project.blower.fitted or project.chosen is None):
            continue
        yield key, school(project, key)
