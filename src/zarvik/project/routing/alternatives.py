"""Several ways of a pipe or of all primaries through the bay, each solved and tried: the shortest, the one with fewest bends, least loss,
easiest to fit."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.bay.access import reaches
from zarvik.core.bay.assembly import Disassembly, Part, parts_of
from zarvik.core.bay.clearance import near_of
from zarvik.core.checks.bay import heat_state, hottest_of
from zarvik.core.common.progress import Progress, part, unwatched
from zarvik.core.heat.hot_parts import hot_gaps
from zarvik.core.limits.limits import MARGINAL, OK
from zarvik.core.routing.search import Router
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document.document import Project
from zarvik.project.document.places import PRIMARIES, get
from zarvik.project.edits.edits import with_value
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, place_of, space_of
from zarvik.project.routing.primaries import LaidPrimaries, laid_primaries, last_of, primary_answers
from zarvik.project.routing.reuse import pipes_for
from zarvik.project.routing.routes import Route, bay_of, route_of, stretch_of, with_route
from zarvik.project.units.rendering import figure

TURBO, COOLER, FILTER = "turbo", "intercooler", "filter"  # all that leads to it and from it
POSITIONS = {TURBO: "Turbo position", COOLER: "Intercooler position", FILTER: "Air filter position"}
LENGTH, BENDS, LOSS, FIT = "length", "bends", "loss", "fit"
WISHES = {LENGTH: "Shortest", BENDS: "Fewest bends", LOSS: "Least loss", FIT: "Easiest to fit"}
SEEDS = (1, 2, 3)
ROUNDS = 2
FEW_BENDS = 3  # of a primary
MOST = 8  # ways that are solved
ALIKE = 0.02  # m of length within which two ways with as many bends are one
CUTS = ("only shortened", "one cut", "two cuts")  # of a pipe of the stock, by how many
NO_WAY = 9  # pulls of a part that does not go in
TURNED = 5  # pulls that one which has to be turned counts for


SECTIONS = {
    PRIMARIES: (MANIFOLD,),
    TURBO: (MANIFOLD, "hot_pipe", "exhaust"),
    COOLER: ("hot_pipe", "cooler", "cold_pipe"),
    FILTER: ("intake",),
}
OWN = {PRIMARIES: "manifold:", TURBO: "turbo:", COOLER: "cooler", FILTER: "filter"}  # begins of the keys of parts that go in


@dataclass(frozen=True, eq=False, kw_only=True)
class Alternative:
    """A `project` with a way of a run, or with all primaries: its `length` m (the longest of several, `shortest` the shortest), how many
    `bends`; its `loss` Pa and the `power` W at the target, nan where that is not solved; by how many `pulls` it goes in (`NO_WAY`: not at
    all); what it is best at (`wishes`, keys of `WISHES`); `title`: what it is called, where it has a name; `marks`: where a pipe of the
    stock is sawn for it; `heated`: what its heat harms, and whether a shield would do (`shielded`); `unreached`: names of joints that no
    tool gets at."""

    project: Project
    length: float
    shortest: float
    bends: int
    loss: float
    power: float
    pulls: int
    wishes: tuple[str, ...] = ()
    title: str = ""
    marks: tuple[str, ...] = ()
    heated: str = ""
    shielded: bool = True
    unreached: tuple[str, ...] = ()


Show = Callable[[tuple[Alternative, ...]], None]  # what is told of those that are known so far


def unseen(found: tuple[Alternative, ...]) -> None:
    """Nobody looks at what was `found` so far."""


def alternatives(
    project: Project, run: str, heat: Mapping[str, float] | None = None, *, progress: Progress = unwatched, show: Show = unseen
) -> tuple[Alternative, ...]:
    """Really different ways of a run, the shortest first; none where there is no way. `show` is told of more as they are found. Raises
    Fault as `stretch_of`."""
    stretch = stretch_of(project, run)
    bay = bay_of(project, stretch, heat)
    routes: list[Route] = []
    # With the widest bends alone: a way with less loss than chance would find
    bays = [bay] if len(bay.radii) == 1 else [bay, dataclasses.replace(bay, radii=bay.radii[-1:])]
    for number, (one, seed) in enumerate((one, seed) for one in bays for seed in SEEDS):
        progress(0.5 * number / (len(bays) * len(SEEDS)))
        routes += [route_of(stretch, found) for found in Router(one, seed).answers(ROUNDS)]
    found = []
    chosen = _different(routes)
    for number, route in enumerate(chosen):
        progress(0.5 + 0.5 * number / len(chosen))
        found.append(tried(with_route(project, run, route), run, (route.length,), route.bends))
        show(tuple(named(found)))
    for pipe in pipes_for(project, run, heat):
        turning = sum(s.bends for s in pipe.made.segments)
        length = sum(s.length for s in pipe.made.segments)
        title = tr_format("Pipe in stock, {0}", tr(CUTS[len(pipe.made.cuts)]))
        found.append(dataclasses.replace(tried(pipe.project, run, (length,), turning), title=title, marks=pipe.marks))
        show(tuple(named(found)))
    return tuple(named(found))


def primary_alternatives(
    project: Project, heat: Mapping[str, float] | None = None, *, progress: Progress = unwatched, show: Show = unseen
) -> tuple[Alternative, ...]:
    """Really different sets of primaries; `show` is told of the first at once, and of more as they are found. Raises Fault as
    `laid_primaries`."""
    place = "layout.fabrication.most_bends"
    most = get(project, place)
    tries = [(seed, count) for seed in SEEDS for count in sorted({most.si, min(FEW_BENDS, most.si)}, reverse=True)]
    first = next(primary_answers(project, {}), None)
    if first is not None:
        show(tuple(named([_primaries(first.project, first)])))
    one = laid_primaries(project, heat, progress=part(progress, 0.0, 1.0 / len(tries)))
    found = [_primaries(one.project, one)]
    show(tuple(named(found)))
    kept = heat if one.keeps_heat else {}
    for number, (seed, count) in enumerate(tries[1:], 1):
        watch = part(progress, number / len(tries), (number + 1) / len(tries))
        best = last_of(primary_answers(with_value(project, place, most.with_si(count)), kept, seed=seed, progress=watch))
        if best is not None and not any(_twin(other, best) for other in found):
            found.append(_primaries(with_value(best.project, place, most), best))
            show(tuple(named(found)))
    return tuple(sorted(named(found), key=lambda one: one.length))


def _primaries(project: Project, one: LaidPrimaries) -> Alternative:
    return tried(project, PRIMARIES, one.lengths, one.bends)


def _twin(one: Alternative, other: LaidPrimaries) -> bool:
    return one.bends == other.bends and abs(one.length - max(other.lengths)) < ALIKE


def _different(routes: list[Route]) -> list[Route]:
    """Routes that differ, the shortest of each kind, no longer than another with as few bends and as little turn."""
    found: list[Route] = []
    for route in sorted(routes, key=lambda one: one.length):
        if all(one.bends != route.bends or abs(one.length - route.length) > ALIKE for one in found):
            found.append(route)
    worth = [one for one in found if not any(_better(other, one) for other in found)]
    rest = [one for one in found if one not in worth]
    return sorted([*worth, *rest][:MOST], key=lambda one: one.length)


def _better(one: Route, other: Route) -> bool:
    return one.length < other.length and one.bends <= other.bends and one.turn <= other.turn


def tried(project: Project, run: str, lengths: Sequence[float], bends: int) -> Alternative:
    """A way of a run, all primaries, or all that leads to something (a key of `POSITIONS`), of these `lengths` m and so many bends, solved
    and put in."""
    build = assemble(project)
    solver = prepare(build)
    point = solver.at(build.target.speed)
    solved = point.closure.solved
    space, there, obstacles, rows = space_of(project), layout(project), obstacles_of(project), connections_of(project)
    parts, fixed = parts_of(space, there, obstacles, rows, {})
    taken = Disassembly(parts, fixed)
    pulls = 0
    for own in (one for one in parts if _is_of(one, run)):
        step = taken.taken_out(own, parts)
        pulls = max(pulls, NO_WAY if step is None else TURNED if step.turned else step.pulls)
    sections = SECTIONS.get(run, (run,))
    loss, power = (sum(point.drop(one) for one in sections), point.power) if solved else (float("nan"), float("nan"))
    unreached = tuple(one.place.name for one in reaches(space, there, obstacles, rows) if one.spare < 0.0)
    found = Alternative(
        project=project, length=max(lengths), shortest=min(lengths), bends=bends, loss=loss, power=power, pulls=pulls, unreached=unreached
    )
    if not (solved and obstacles and point.stretches):
        return found
    hottest = hottest_of(near_of(space, there, obstacles), hot_gaps(solver, build.fittings, [point]))
    state = OK if hottest is None else heat_state(*hottest)
    if hottest is None or state == OK:
        return found
    return dataclasses.replace(found, heated=hottest[0].obstacle.name, shielded=state == MARGINAL)


def _is_of(part: Part, run: str) -> bool:
    if run in OWN:
        return part.key.startswith(OWN[run])
    return bool(part.pieces) and not part.soft and place_of(part.key.partition("|")[0]) == run


def named(found: Sequence[Alternative]) -> Iterator[Alternative]:
    """Each of those that were `found` with what it is best at."""
    best = {
        LENGTH: lambda one: (one.length,),
        BENDS: lambda one: (one.bends, one.length),
        LOSS: lambda one: (one.loss if one.loss == one.loss else float("inf"), one.length),
        FIT: lambda one: (one.pulls, one.length),
    }
    first = {wish: min(found, key=key) for wish, key in best.items()} if found else {}
    for one in found:
        yield dataclasses.replace(one, wishes=tuple(wish for wish in WISHES if first[wish] is one))


def words_of(project: Project, one: Alternative, *, marked: bool = True) -> str:
    """An alternative in words, in the units of a document; `marked`: with where a pipe is sawn for it."""
    units = project.shown_units
    length = figure(one.length, "length", units)
    if one.length - one.shortest > 5e-4:
        length = tr_format("{0} to {1}", figure(one.shortest, "length", units), length)
    loss = figure(one.loss, "pressure_difference", units) if one.loss == one.loss else tr("not solved")
    fit = tr("does not go in whole") if one.pulls >= NO_WAY else tr("goes in turned") if one.pulls >= TURNED else ""
    words = tr_format("{0}, {1} bends, loss {2}", length, one.bends, loss)
    if one.title:
        power = figure(one.power, "power", units) if one.power == one.power else tr("not solved")
        words = tr_format("{0}: {1}, {2} of tube, {3} bends, loss {4}", one.title, power, length, one.bends, loss)
    if fit:
        words += ", " + fit
    if one.heated:
        shield, hot = "a heat shield for “{0}”", "too hot for “{0}”"
        words += ", " + tr_format(shield if one.shielded else hot, one.heated)
    if one.unreached:
        more = len(one.unreached) - 1
        words += ", " + (
            tr_format("no tool at “{0}” and {1} more", one.unreached[0], more) if more else tr_format("no tool at “{0}”", one.unreached[0])
        )
    if one.marks and marked:
        words += "; " + "; ".join(one.marks)
    return words + (": " + ", ".join(tr(WISHES[wish]).lower() for wish in one.wishes) if one.wishes else "")


def chosen(found: tuple[Alternative, ...], wish: str) -> Alternative:
    """The one that is best at a `wish` (a key of `WISHES`)."""
    return next(one for one in found if wish in one.wishes)
