"""Several ways of a pipe through the bay, each solved and tried: the shortest, the one with fewest bends, least loss, easiest to fit."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from zarvik.core.airpath.solution import prepare
from zarvik.core.bay.assembly import Disassembly, parts_of
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.routing.search import Router
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, place_of, space_of
from zarvik.project.routing.routes import Route, bay_of, route_of, stretch_of, with_route
from zarvik.project.units.rendering import figure

LENGTH, BENDS, LOSS, FIT = "length", "bends", "loss", "fit"
WISHES = {LENGTH: "Shortest", BENDS: "Fewest bends", LOSS: "Least loss", FIT: "Easiest to fit"}
SEEDS = (1, 2, 3)
ROUNDS = 2
MOST = 8  # ways that are solved
ALIKE = 0.02  # m of length within which two ways with as many bends are one
NO_WAY = 9  # pulls of a part that does not go in
TURNED = 5  # pulls that one which has to be turned counts for


@dataclass(frozen=True, eq=False)
class Alternative:
    """A `route` of a run in its `project`; its `loss` Pa and the `power` W at the target, nan where that is not solved; by how many
    `pulls` it goes in (`NO_WAY`: not at all); what it is best at (`wishes`, keys of `WISHES`)."""

    project: Project
    route: Route
    loss: float
    power: float
    pulls: int
    wishes: tuple[str, ...] = ()


def alternatives(
    project: Project, run: str, heat: Mapping[str, float] | None = None, *, progress: Progress = unwatched
) -> tuple[Alternative, ...]:
    """Really different ways of a run, the shortest first; none where there is no way. Raises Fault as `stretch_of`."""
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
        found.append(_tried(with_route(project, run, route), run, route))
    return tuple(_named(found))


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


def _tried(project: Project, run: str, route: Route) -> Alternative:
    """A route solved at the target, and put in."""
    build = assemble(project)
    point = prepare(build).at(build.target.speed)
    solved = point.closure.solved
    space, there, obstacles, rows = space_of(project), layout(project), obstacles_of(project), connections_of(project)
    parts, fixed = parts_of(space, there, obstacles, rows, {})
    taken = Disassembly(parts, fixed)
    pulls = 0
    for part in (one for one in parts if one.pieces and not one.soft and place_of(one.key.partition("|")[0]) == run):
        step = taken.taken_out(part, parts)
        pulls = max(pulls, NO_WAY if step is None else TURNED if step.turned else step.pulls)
    loss, power = (point.drop(run), point.power) if solved else (float("nan"), float("nan"))
    return Alternative(project, route, loss, power, pulls)


def _named(found: list[Alternative]) -> Iterator[Alternative]:
    """Each with what it is best at."""
    best = {
        LENGTH: lambda one: (one.route.length,),
        BENDS: lambda one: (one.route.bends, one.route.length),
        LOSS: lambda one: (one.loss if one.loss == one.loss else float("inf"), one.route.length),
        FIT: lambda one: (one.pulls, one.route.length),
    }
    first = {wish: min(found, key=key) for wish, key in best.items()} if found else {}
    for one in found:
        yield dataclasses.replace(one, wishes=tuple(wish for wish in WISHES if first[wish] is one))


def words_of(project: Project, one: Alternative) -> str:
    """An alternative in words, in the units of a document."""
    units = project.shown_units
    length = figure(one.route.length, "length", units)
    loss = figure(one.loss, "pressure_difference", units) if one.loss == one.loss else tr("not solved")
    fit = tr("does not go in whole") if one.pulls >= NO_WAY else tr("goes in turned") if one.pulls >= TURNED else ""
    words = tr_format("{0}, {1} bends, loss {2}", length, one.route.bends, loss)
    if fit:
        words += ", " + fit
    return words + (": " + ", ".join(tr(WISHES[wish]).lower() for wish in one.wishes) if one.wishes else "")


def chosen(found: tuple[Alternative, ...], wish: str) -> Alternative:
    """The one that is best at a `wish` (a key of `WISHES`)."""
    return next(one for one in found if wish in one.wishes)
