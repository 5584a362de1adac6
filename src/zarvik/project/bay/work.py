"""The work in an engine bay: which joints are got at, in which order parts go in, what has to come off for a job."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from zarvik.core.bay.access import TOOLS, Place, Reach, joints_of, reaches, weld_reaches
from zarvik.core.bay.assembly import STUD, Disassembly, Order, Part, Step, order_of, parts_of
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.connections.row import BANDED, FLANGED, HOSED, MADE, WELDED, Row
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document.document import Project
from zarvik.project.document.naming import numbered
from zarvik.project.document.places import RUNS, get, run_title
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, place_of, space_of
from zarvik.project.units.rendering import ruled

OPENED = (HOSED, FLANGED, BANDED)
NEAR = 0.02  # m from where a part meets another to a joint of it


@dataclass(frozen=True, eq=False)
class Service:
    """A job: to take out a `part`; what comes out `before` it (None: it never does); `opens`: names of the joints that are opened."""

    part: Part
    before: tuple[Part, ...] | None
    opens: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class BayWork:
    """How joints are got at (`reaches`, and `welds` if they are made in the car), the `order` in which all comes out, and `services`."""

    reaches: tuple[Reach, ...]
    welds: tuple[Reach, ...]
    order: Order
    services: tuple[Service, ...]


def part_names(project: Project) -> dict[str, str]:
    """What lines, pieces and parts are called, by their keys in the layout."""
    found = {"cooler": tr("Intercooler"), "filter": tr("Air filter")}
    for line in layout(project).lines:
        run = place_of(line.key)
        if run in RUNS:
            found[line.key] = run_title(project, run) + (" 2" if line.key.endswith(":2") else "")
    for run in RUNS:
        pieces = tuple(get(project, run))
        found |= {piece.id: numbered(pieces, piece) for piece in pieces}
    found |= _counted("turbo", tr("Turbo"), len(layout(project).turbos))
    found |= _counted("manifold", tr("Manifold"), len(layout(project).outlets))
    return found


def _counted(key: str, name: str, count: int) -> dict[str, str]:
    return {f"{key}:{n}": name if count == 1 else f"{name} {n + 1}" for n in range(count)}


def bay_work(project: Project, progress: Progress = unwatched) -> BayWork:
    """All of it for a document. Raises ValueError where its layout cannot be laid out."""
    space, found, obstacles, rows = space_of(project), layout(project), obstacles_of(project), connections_of(project)
    got = reaches(space, found, obstacles, rows)
    progress(0.2)
    welds = weld_reaches(space, found, obstacles, rows)
    progress(0.4)
    parts, fixed = parts_of(space, found, obstacles, rows, part_names(project))
    plain, _ = parts_of(space, found, obstacles, rows, {})
    # What the check has found is not searched once more
    order = _called(order_of(space, found, obstacles, rows), plain, parts)
    progress(0.8)
    taken = Disassembly(parts, fixed)
    places = [place for place in joints_of(found, rows) if place.made in OPENED]
    services = []
    for part in parts:
        if part.key.startswith(("turbo", "manifold", "cooler", "filter", "bay")):
            services.append(Service(part, taken.before(part, order.steps), opened(part, places, rows)))
    return BayWork(got, welds, order, tuple(services))


def _called(order: Order, plain: Sequence[Part], parts: Sequence[Part]) -> Order:
    """An `order` of `plain` parts as one of the same `parts` with their names."""
    by_key = {part.key: part for part in parts}
    names = {one.name: other.name for one, other in zip(plain, parts, strict=True)}
    stuck = (replace(one, part=by_key[one.part.key], behind=tuple(names.get(name, name) for name in one.behind)) for one in order.stuck)
    return Order(tuple(replace(step, part=by_key[step.part.key]) for step in order.steps), tuple(stuck))


def opened(part: Part, places: Sequence[Place], rows: Sequence[Row]) -> tuple[str, ...]:
    """The names of the joints that are opened when a part comes out."""
    found = [place.name for place in places if any(math.dist(place.frame.origin, there) < NEAR for there, _ in part.meets)]
    if part.key.startswith("manifold"):
        found += [row.name for row in rows if row.key == "engine__exhaust"]
    return tuple(dict.fromkeys(found))


def reach_words(project: Project, one: Reach) -> str:
    """How a joint is got at, in words."""
    units = project.shown_units
    spare = ruled(abs(one.spare), units, places=0)
    tool = tr(TOOLS[one.tool])
    if one.place.made == WELDED:
        if one.spare >= 0.0:
            return tr("A torch gets round it in the car")
        words = "On the bench: in the car a torch gets at {0:.0f} % of it, “{1}” is in the way"
        return tr_format(words, 100.0 * one.share, named(project, one.behind))
    if one.spare < 0.0:
        return tr_format("A hand with a {0} lacks {1}, at “{2}”", tool, spare, named(project, one.behind))
    if one.place.made == FLANGED:
        return tr_format("A hand with a {0} has {1} to spare at the worst nut", tool, spare)
    hour = round(math.degrees(one.clock) / 30.0) or 12
    return tr_format("A hand with a {0} has {1} to spare, screw at {2} o’clock", tool, spare, hour)


def named(project: Project, name: str) -> str:
    """A body of the build in words; an object of the bay has its own name already."""
    names = part_names(project)
    return names.get(name) or (tr("Primary") if name.startswith("primary") else tr(name))


def step_words(step: Step) -> str:
    """How a part goes in, in words."""
    if step.part.soft:
        return tr("Bent into place, then both clamps")
    if step.turned:
        return tr("Turned on its way in: take a helper, and protect what it passes")
    poses = step.poses[::-1]
    moves = [_way(one.shift, two.shift) for one, two in itertools.pairwise(poses)]
    words = tr_format("Goes in: {0}", tr(", then ").join(dict.fromkeys(moves)))
    if step.part.studs is not None:
        words += tr_format("; the last {0:.0f} mm over its studs", 1e3 * STUD)
    return words


def _way(one: np.ndarray, two: np.ndarray) -> str:
    along, up, out = two - one
    signed = ((up, "up", "down"), (along, "towards the last cylinder", "towards cylinder 1"), (out, "outwards", "inwards"))
    words = [(plus if size > 0.0 else minus, abs(size)) for size, plus, minus in signed]
    largest = max(max(size for _, size in words), 1e-9)
    return tr(" and ").join(tr(word) for word, size in words if size > 0.35 * largest)


def made_words(one: Reach) -> str:
    """How a joint is made, in words."""
    return tr(MADE[one.place.made])
