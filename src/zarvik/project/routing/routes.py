"""A run of pieces laid anew through the bay: bends that can be had, clear of what stands there, of the engine and of its own pipes."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from zarvik.core.bay.build_bodies import line_bodies, still_bodies, turbo_bodies
from zarvik.core.bay.clearance import growth_of, roll_of
from zarvik.core.checks.layout import GRIP
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.run import Segment
from zarvik.core.routing.bay import Bay, End
from zarvik.core.routing.grid import tightest
from zarvik.core.routing.pieces import segments_of
from zarvik.core.routing.search import MOST_ROUNDS, Routed, Router
from zarvik.core.solids.bodies import Body, Shape
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.document.places import RUN_TITLES, get, runs_of, with_value_at
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, place_of, space_of
from zarvik.project.manifold.primaries import completed, piece_of
from zarvik.project.routing.bodies import CLEARANCE, OWN_GAP, WELDED, grown, obstacle_bodies
from zarvik.project.units.rendering import figure

TUBES = ("straight", "bend", "mitre", "crush")
NEAR_OD = 0.0016  # m by which bends in stock may differ from the tube: an imperial size and its metric neighbour
ROUNDS = 2
MOST_RADII = 4


@dataclass(frozen=True)
class Route:
    """A way for a run: its `segments` between what is kept, their `length` m, how many `bends` there are and their turn in all, rad."""

    segments: tuple[Segment, ...]
    length: float
    bends: int
    turn: float


@dataclass(frozen=True, eq=False)
class Stretch:
    """The part of a run that is laid anew: from the frame `start` to the frame `goal`, of tube with a `bore` m and an outside `diameter` m,
    pieces `first` to before `last` (numbers) of the run."""

    run: str
    start: Frame
    goal: Frame
    bore: float
    diameter: float
    first: int
    last: int


def stretch_of(project: Project, run: str) -> Stretch:
    """The tube of a run (its place, or key in the layout) between the pieces that are kept at its ends. Raises Fault where it has no end to
    come to, where there is no tube, or where something that is kept stands in between."""
    found = layout(project)
    line = next((one for one in found.lines if run in (one.key, place_of(one.key))), None)
    if line is None or line.goal is None:
        raise Fault("This run has no end point: enter one under Positions")
    pieces = get(project, place_of(line.key))
    shaped = {part.segment.id: part for part in line.placed}
    ids = [p.id for p in pieces]
    tubes = [i for i, p in enumerate(pieces) if p.kind in TUBES and p.id in shaped and shaped[p.id].segment.kind == "tube"]
    if not tubes:
        raise Fault("This run has no tube that could be laid anew")
    first, last = tubes[0], tubes[-1] + 1
    between = [shaped[k] for k in ids[first:last] if k in shaped and shaped[k].segment.kind != "tube"]
    if any(part.segment.length > 0.0 for part in between):
        raise Fault("“{0}” stands between the tubes of this run", between[0].segment.id)
    behind = [shaped[k] for k in ids[last:] if k in shaped and shaped[k].segment.kind != "throttle"]
    if any(part.segment.bends for part in behind):
        raise Fault("This run ends in a bend that is kept: it cannot be routed")
    begin = shaped[ids[first]]
    s = begin.segment
    goal = line.goal.moved(-sum(part.segment.length for part in behind))
    return Stretch(place_of(line.key), begin.first.rolled(-s.roll), goal, s.bore_in, s.outside, first, last)


def radii_of(project: Project, diameter: float) -> tuple[float, ...]:
    """Centreline radii in m of bends for a tube of an outside `diameter` m: of those in stock, else the tightest that can be had and one
    and a half diameters."""
    stock = {round(s.radius.si, 4) for s in project.stock if s.kind in ("bend", "ring") and abs(s.tube.si - diameter) < NEAR_OD}
    if stock:
        return tuple(sorted(stock)[:MOST_RADII])
    tightest_bend = project.layout.fabrication.tightest_bend.si
    return tuple(sorted({round(ratio * diameter, 4) for ratio in (max(tightest_bend, 1.0), max(tightest_bend, 1.5))}))


def bay_of(project: Project, stretch: Stretch, heat: Mapping[str, float] | None = None) -> Bay:
    """What a stretch of a run is laid through. `heat`: for each thing that minds heat the gap in m that this run must keep."""
    space, found = space_of(project), layout(project)
    hosed = stretch.run in ("intake", "hot_pipe", "cold_pipe")
    clearance = CLEARANCE
    growth = growth_of(found, space.grows).get(stretch.run)
    bodies = obstacle_bodies(obstacles_of(project), heat or {}, roll_of(space), growth)
    for line in found.lines:
        if place_of(line.key) != stretch.run and line.placed:
            bodies += line_bodies(line, OWN_GAP - clearance)
    if not space.blown:
        for turbo in found.turbos:
            bodies += [grown(body, OWN_GAP - clearance, mounted=True) for body in turbo_bodies(turbo)]
    bodies += [grown(body, OWN_GAP - clearance, mounted=True) for body in still_bodies(space, found)]
    need = 0.5 * stretch.diameter + clearance
    return Bay(
        ports=(End(stretch.start.origin, stretch.start.along),),
        inlets=(End(stretch.goal.origin, stretch.goal.along),),
        bodies=tuple(_open(bodies, stretch, need)),
        diameter=stretch.diameter,
        radii=radii_of(project, stretch.diameter),
        straight=GRIP if hosed else WELDED,
        clearance=clearance,
        gap=OWN_GAP,
        tolerance=1.0,
        bare=1.3 * need + 0.06,
        angles=(math.radians(5.0), math.pi),
    )


def _open(bodies: list[Body], stretch: Stretch, need: float) -> Iterator[Body]:
    """The bodies; one that reaches into the first centimetres of the stretch (the neighbour's pipe at the same housing) does not count
    there."""
    ends = (stretch.start.origin, stretch.goal.origin)
    for body in bodies:
        near = min(math.dist(body.centre, end) for end in ends) < need + 0.06 + body.reach
        yield dataclasses.replace(body, mounted=True) if near and body.shape is Shape.ROD else body


def routes(
    project: Project,
    run: str,
    heat: Mapping[str, float] | None = None,
    *,
    seed: int = 1,
    patience: int = MOST_ROUNDS,
    progress: Progress = unwatched,
) -> Iterator[Route]:
    """Ways for a run, each shorter than the one before or with fewer bends; none after so many rounds (`patience`). Raises Fault as
    `stretch_of`."""
    stretch = stretch_of(project, run)
    for number, found in enumerate(Router(bay_of(project, stretch, heat), seed, patience).answers(ROUNDS), 1):
        progress(1.0 - 0.8**number)
        yield route_of(stretch, found)


def no_way(project: Project, run: str, heat: Mapping[str, float] | None = None) -> str:
    """Why a run has no way, in words. Raises Fault as `stretch_of`."""
    return narrow_words(project, bay_of(project, stretch_of(project, run), heat))


def narrow_words(project: Project, bay: Bay) -> str:
    """Why there is no way through a `bay`, in words: the narrowest place of the widest one; lengths in the units of a document."""
    found = tightest(bay)
    if found is None:
        return tr("No way with these radii and straights, though one is wide enough: smaller radii, or another end point")
    names = tr(" and ").join(f"“{_said(name)}”" for name in found.between)
    short = figure(bay.diameter - max(found.width, 0.0), "length", project.shown_units)
    if found.at_end:
        return tr_format("No way: too narrow by {0} where the pipe begins or ends, between {1}", short, names)
    return tr_format("No way: too narrow by {0} between {1}", short, names)


def _said(name: str) -> str:
    """A body of the build in words; an object of the bay has its own."""
    run = name.partition(":")[0]
    return tr(RUN_TITLES.get(run, "Primary" if run == "primary" else name))


def route_of(stretch: Stretch, found: Routed) -> Route:
    """What a router `found` for a stretch, as pieces."""
    tube, length = found.tubes[0], found.inspection.lengths[0]
    segments = segments_of(stretch.start, stretch.goal.origin, tube, stretch.bore, 0.5 * (stretch.diameter - stretch.bore))
    return Route(segments, length, len(tube.radii), sum(s.angle for s in segments))


def with_route(project: Project, run: str, route: Route) -> Project:
    """The document with the tube of a run laid along a route. Bore, wall, material and cover stay those of its first tube. Raises Fault as
    `stretch_of`."""
    stretch = stretch_of(project, run)
    pieces = list(get(project, stretch.run))
    old = pieces[stretch.first]
    between = [p for p in pieces[stretch.first : stretch.last] if p.kind not in TUBES]
    kept = {"bore": old.bore} | {name: getattr(old, name) for name in ("cover", "wall") if hasattr(old, name)}
    taken = {p.id for r in runs_of(project) for p in get(project, r)} - {p.id for p in pieces[stretch.first : stretch.last]}
    made = []
    for s in route.segments:
        name = next(k for n in itertools.count(1) if (k := f"{stretch.run.split('.')[0]}-r{n}") not in taken)
        taken.add(name)
        new = piece_of(s, name, stretch.bore, getattr(old, "material", "stainless"))
        made.append(new.model_copy(update={k: v for k, v in kept.items() if k in type(new).model_fields}))
    # What has no length (a silencer's loss) goes on behind the tube
    changed: Project = with_value_at(project, stretch.run, (*pieces[: stretch.first], *made, *between, *pieces[stretch.last :]))
    return completed(changed)
