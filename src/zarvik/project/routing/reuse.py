"""Pipes that are there, cut and turned until they go where a run goes: from the stock, with the marks to saw at."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.progress import Progress, part, unwatched
from zarvik.core.fabrication.reuse import Reused, SawCut, reused
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.run import Segment, of_table, place_pieces
from zarvik.core.routing.bay import Bay
from zarvik.core.solids.distance import nearest
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bent_pipe import rows_of
from zarvik.project.document.parts.layout import PIPE, Stock
from zarvik.project.document.places import get, with_value_at
from zarvik.project.language.language import tr, tr_format
from zarvik.project.routing.routes import NEAR_OD, Route, Stretch, bay_of, stretch_of, with_route
from zarvik.project.units.rendering import figure

STEP = 0.005  # m from one look to the next
TOUCH, LACKING = 1e-4, 0.02  # m of clearance: what does not count, and what is not worth a look
SAWN, LEVEL = 5e-4, math.radians(0.5)  # m and rad: less is one cut, and no turn
MARKED = "Turned {0} after the cut"


@dataclass(frozen=True, eq=False)
class ReusedPipe:
    """A `project` with a pipe of the stock, a `line`, in a run, as it was `made` (a `Reused`); `marks`: where it is sawn, in words."""

    project: Project
    line: Stock
    made: Reused
    marks: tuple[str, ...]


def pipes_for(project: Project, run: str, heat: Mapping[str, float] | None = None, progress: Progress = unwatched) -> list[ReusedPipe]:
    """For each pipe in stock that is as wide as a run the best way to make it fit there, clear of all that stands in the way and with the
    gaps m that `heat` asks for, or nearly; none for a pipe that cannot be. Raises Fault as `stretch_of`."""
    stretch = stretch_of(project, run)
    lines = [line for line in project.stock if line.kind == PIPE and line.bends and abs(line.tube.si - stretch.diameter) < NEAR_OD]
    if not lines:
        return []
    bay = bay_of(project, stretch, heat)
    rows = bay.packed()
    found = []
    for number, line in enumerate(lines):
        segments = of_table(rows_of(line.bends, line.radius.si), stretch.bore)
        watch = part(progress, number / len(lines), (number + 1) / len(lines))
        ways = reused(segments, stretch.start, stretch.goal, least=bay.straight, progress=watch) if segments else ()
        spare = {id(way): _spare(way.segments, stretch.start, bay, rows) for way in ways}
        made = next((way for way in ways if spare[id(way)] >= -TOUCH), max(ways, key=lambda way: spare[id(way)], default=None))
        if made is not None and spare[id(made)] >= -LACKING:
            marks = _marks(project, made, line)
            if spare[id(made)] < -TOUCH:
                marks += (tr_format("lacks {0} of its clearance, see the checks", figure(-spare[id(made)], "length", project.shown_units)),)
            found.append(ReusedPipe(_taken(project, stretch, made), line, made, marks))
    return found


def _spare(segments: Sequence[Segment], start: Frame, bay: Bay, rows: np.ndarray) -> float:
    """How much more than its clearance a pipe keeps from all that stands in a bay (packed `rows`), m; negative where it lacks some."""
    length = sum(s.length for s in segments)
    need, along, least = 0.5 * bay.diameter + bay.clearance, 0.0, math.inf
    for one in place_pieces(segments, start):
        count = max(math.ceil(one.segment.length / STEP), 1)
        for k in range(count + 1):
            there = along + one.segment.length * k / count
            x, y, z = (float(n) for n in one.at(k / count).origin)
            at_end = min(there, length - there) < bay.bare
            least = min(least, nearest(rows, x, y, z, at_end, 2.0 * need) - need)
        along += one.segment.length
    return least


def _taken(project: Project, stretch: Stretch, made: Reused) -> Project:
    """The document with the pipe in its run; the piece behind each cut says how far it is turned."""
    bends = [s for s in made.segments if s.bends]
    route = Route(made.segments, sum(s.length for s in made.segments), len(bends), sum(s.angle for s in bends))
    changed = with_route(project, stretch.run, route)
    pieces, units = list(get(changed, stretch.run)), project.shown_units
    along, cuts = 0.0, list(made.cuts)
    sawn = made.before
    for number, segment in enumerate(made.segments, stretch.first):
        if cuts and along + sawn >= cuts[0].at - 1e-6:
            cut = cuts.pop(0)
            sawn += cut.out
            if abs(cut.turn) >= LEVEL:
                pieces[number] = pieces[number].model_copy(update={"name": tr_format(MARKED, figure(abs(cut.turn), "angle", units))})
        along += segment.length
    return with_value_at(changed, stretch.run, tuple(pieces))


def _marks(project: Project, made: Reused, line: Stock) -> tuple[str, ...]:
    """Where a pipe is sawn and how far it is turned, from its beginning on."""
    units = project.shown_units
    marks = []
    if made.before > SAWN:
        marks.append(tr_format("saw {0} off its beginning", figure(made.before, "length", units)))
    marks += [_cut_words(cut, line, units) for cut in made.cuts]
    if made.behind > SAWN:
        marks.append(tr_format("saw {0} off its end", figure(made.behind, "length", units)))
    return tuple(marks)


def _cut_words(cut: SawCut, line: Stock, units: Mapping[str, str]) -> str:
    at, end = figure(cut.at, "length", units), figure(cut.at + cut.out, "length", units)
    turn, skin = figure(abs(cut.turn), "angle", units), figure(abs(0.5 * cut.turn * line.tube.si), "length", units)
    way = tr("clockwise") if cut.turn >= 0.0 else tr("anticlockwise")
    if abs(cut.turn) < LEVEL:
        return tr_format("saw at {0} and {1}, take out what is between them", at, end)
    if cut.out > SAWN:
        return tr_format("saw at {0} and {1}, turn the rest {2} {3}, {4} round the tube", at, end, turn, way, skin)
    return tr_format("saw at {0}, turn the rest {1} {2}, {3} round the tube", at, turn, way, skin)
