"""How a turbo is turned in its housings: oil drain down, compressor outlet where the charge pipe is shortest."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import drain_tilt
from zarvik.core.layout.frame import rotation_about
from zarvik.core.limits.limits import DRAIN
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.routing.routes import routes, with_route
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import Quantity

STEP = math.radians(15.0)  # of a cover between two bolts or behind a V-band; common practice, no source
TRIED = (0, 1, -1)  # steps beside where it blows straight to its end
HILL = math.radians(11.0)  # a road that rises by a fifth; common practice, no source
BEND = math.atan(0.8)  # rad that oil leans in a bend at 0.8 g
DEGREES = "°"


@dataclass(frozen=True, eq=False)
class Clocked:
    """A `project` with its turbo turned, and what was turned in words."""

    project: Project
    words: str


def drained(project: Project) -> Project:
    """The document with the centre section turned so that the drain of the first turbo points down as well as it can: in closed form, as
    the drain goes round the shaft. Raises Fault without a turbo."""
    space, found = space_of(project), layout(project)
    if space.blown or not found.turbos:
        raise Fault("There is no turbo to turn")
    body = found.turbos[0]
    zero = rotation_about(-body.shaft, -space.drain) @ body.drain
    side = np.cross(-body.shaft, zero)
    best = math.atan2(-side[1], -zero[1])
    return _turned(project, "drain", round(math.degrees(best) / 5.0) * 5.0)


def aimed(project: Project) -> Project:
    """The document with the compressor cover turned so that its outlet blows towards the end of the hot charge pipe, as well as it can; as
    it is where that has no end."""
    space, found = space_of(project), layout(project)
    line = found.line("hot_pipe")
    if line is None or line.goal is None or not found.turbos:
        return project
    body = found.turbos[0]
    zero = rotation_about(-body.shaft, -space.compressor) @ body.air_out.along
    side, way = np.cross(-body.shaft, zero), line.goal.origin - body.compressor
    return _turned(project, "cover", round(math.degrees(math.atan2(float(side @ way), float(zero @ way))) / 15.0) * 15.0)


def clocked(project: Project, progress: Progress = unwatched) -> Clocked:
    """The document with drain and compressor cover turned. The cover goes where, near the way to the end of the hot charge pipe, that is
    laid with the shortest tube; where it has no end or no way it stays so. Raises Fault without a turbo."""
    changed = aimed(drained(project))
    middle = changed.layout.turbo.cover.si
    best: tuple[float, Project] | None = None
    for number, beside in enumerate(TRIED):
        progress(number / len(TRIED))
        turned = _turned(changed, "cover", round(math.degrees(math.remainder(middle + beside * STEP, 2.0 * math.pi))))
        try:
            way = next(routes(turned, "hot_pipe"), None)
        except Fault:
            break
        if way is not None and (best is None or way.length < best[0] - 1e-3):
            best = (way.length, with_route(turned, "hot_pipe", way))
    if best is not None:
        changed = best[1]
    return Clocked(changed, _words(changed, None if best is None else best[0]))


def _turned(project: Project, name: str, degrees: float) -> Project:
    changed: Project = with_value(project, f"layout.turbo.{name}", Quantity(degrees, DEGREES, "angle"))
    return changed


def _words(project: Project, length: float | None) -> str:
    units = project.shown_units
    turbo = project.layout.turbo
    tilt, _ = drain_tilt(layout(project).turbos[0])
    words = tr_format("Drain at {0}, {1} from straight down", turbo.drain, figure(tilt, "angle", units))
    worst = tilt + HILL
    if worst > DRAIN.good:
        words += "; " + tr("on a hill it does not fall: turn the shaft level, or a scavenge pump")
    elif tilt + BEND > 0.5 * math.pi:
        words += "; " + tr("in a fast bend oil stands in it for a moment: a wide hose, no low loop")
    if length is not None:
        words += "; " + tr_format("cover at {0}, hot charge pipe {1}", turbo.cover, figure(length, "length", units))
    return words
