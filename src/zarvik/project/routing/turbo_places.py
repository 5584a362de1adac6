"""Where the turbo can go: places round the head that are free, each with primaries, exhaust and charge pipe laid."""

from __future__ import annotations

import contextlib
import dataclasses
import itertools
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from zarvik.core.bay.build_bodies import engine_bodies, turbo_bodies
from zarvik.core.bay.clearance import Obstacle, near, roll_of
from zarvik.core.bay.motion import Motion
from zarvik.core.common.progress import Progress, look, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import drain_tilt
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import Layout, Space
from zarvik.core.limits.limits import DRAIN
from zarvik.core.solids.bodies import packed
from zarvik.core.solids.distance import nearest
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.routing.clocking import aimed, drained
from zarvik.project.routing.laying import AS_IT_IS, COVERS, PATIENCE, Laid, stubbed, unit, with_way
from zarvik.project.routing.primaries import can_be_laid, last_of, primary_answers
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import Quantity

HEIGHTS = {"high": 0.16, "level": 0.0, "low": -0.16}  # m above the ports, of the turbine flange
ALONG = {"front": -0.25, "middle": 0.5, "rear": 1.25}  # shares of the row of ports, of which the first is at the front
OUT = (0.18, 0.24, 0.32)  # m from the head face
SHAFTS = (-90.0, 90.0)  # °, compressor to the front or to the rear
GASES = ((-90.0, 0.0), (0.0, 90.0), (0.0, -90.0), (-45.0, 0.0))  # °, pitch and heading of the gas in the flange: down, along, slanting
LEAD = 0.08  # m before a collector, or behind a port, in which a primary bends away
TUBE = 0.035  # m from the middle of a primary to the engine, about
RELAID = ("exhaust", "hot_pipe")
WIDE = 0.045  # m: half of an exhaust
LEAST_GAP = 0.012  # m round housings; common practice, no source, a rough guide
ENGINE_GAP = 0.010  # m to the engine; common practice, no source, a rough guide
OF_A_KIND = 2  # places of one kind that are gone on with


def _moved(project: Project, along: float, up: float, out: float, gas: tuple[float, float], shaft: float) -> Project:
    """The document with the turbine flange somewhere else; m and degrees."""
    for name, value in (("along", along), ("up", up), ("out", out)):
        project = with_value(project, f"layout.turbo.{name}", Quantity(round(1e3 * value), "mm", "length"))
    for name, angle in (("pitch", gas[0]), ("heading", gas[1]), ("shaft", shaft)):
        project = with_value(project, f"layout.turbo.{name}", Quantity(angle, "°", "angle"))
    return project


@dataclass(frozen=True, eq=False)
class _Bay:
    """What stands there: `obstacles`, and all of them with the engine as packed `rows`; the `engine` alone, and how it
    rolls."""

    obstacles: tuple[Obstacle, ...]
    rows: np.ndarray
    engine: np.ndarray
    roll: Motion | None

    @classmethod
    def of(cls, project: Project, space: Space, found: Layout) -> _Bay:
        """Of a document."""
        obstacles, engine = obstacles_of(project), list(engine_bodies(space, found))
        return cls(obstacles, packed([*(body for one in obstacles for body in one.bodies), *engine]), packed(engine), roll_of(space))

    def free(self, found: Layout) -> bool:
        """Do the housings keep clear of the engine and of what stands in the bay, wherever that moves, and is there room for a bend at each
        opening and for the tubes into the collector?"""
        for inlet in (inlet for inlets in found.inlets for inlet in inlets):
            if min(_room(self.engine, inlet, -behind) for behind in (0.0, LEAD)) < TUBE:
                return False
        for turbo in found.turbos:
            leads = ((turbo.air_out, LEAD, TUBE), (turbo.air_in, -LEAD, TUBE), (turbo.gas_out, LEAD, WIDE), (turbo.gas_out, 0.14, WIDE))
            if any(_room(self.rows, frame, along) < room + LEAST_GAP for frame, along, room in leads):
                return False
            for body in turbo_bodies(turbo):
                x, y, z = (float(value) for value in body.centre)
                if nearest(self.engine, x, y, z, False, 1.0) < float(body.half[0]) + ENGINE_GAP:
                    return False
        alone = dataclasses.replace(found, lines=())
        return all(one.gap >= max(LEAST_GAP, one.obstacle.room - 1e-3) for one in near(alone, self.obstacles, None, roll=self.roll))


def _room(rows: np.ndarray, frame: Frame, along: float) -> float:
    """How far a place so many m `along` from a frame is from packed bodies, m."""
    x, y, z = (float(value) for value in frame.moved(along).origin)
    return float(nearest(rows, x, y, z, False, 1.0))


def _worth(project: Project, found: Layout) -> float:
    """How much tube a place will want, m: straight from ends to ends, and what a drain that does not fall would cost."""
    turbo = found.turbos[0]
    goal = np.mean([inlet.moved(-LEAD).origin for inlets in found.inlets for inlet in inlets], axis=0)
    total = float(np.mean([np.linalg.norm(port.moved(LEAD).origin - goal) for port in found.ports]))
    for key, end in (("exhaust", turbo.gas_out), ("hot_pipe", turbo.air_out)):
        line = found.line(key)
        if line is not None and line.goal is not None:
            total += float(np.linalg.norm(line.goal.origin - end.origin)) + 0.1 * float(
                1.0 - end.along @ unit(line.goal.origin - end.origin)
            )
    return total + max(drain_tilt(turbo)[0] - DRAIN.good, 0.0)


def turbo_places(project: Project, progress: Progress = unwatched) -> tuple[tuple[str, Project], ...]:
    """The best free places of each kind, with its name and the document with the turbo there, the drain down and the
    cover turned to its pipe; the likeliest first. Raises Fault without a turbo, and where none is free."""
    space = space_of(project)
    if space.blown or project.chosen is None:
        raise Fault("There is no turbo to place")
    for run in RELAID:
        project = stubbed(project, run)
    bay = _Bay.of(project, space, layout(project))
    row = space.head.spacing * (space.head.cylinders // space.head.banks - 1)
    found: list[tuple[float, str, Project]] = []
    kinds = list(itertools.product(HEIGHTS, ALONG))
    for number, (height, end) in enumerate(kinds):
        best: list[tuple[float, Project]] = []
        for out, shaft, gas in itertools.product(OUT, SHAFTS, GASES):
            look()
            changed = _moved(project, row * ALONG[end], HEIGHTS[height], out, gas, shaft)
            if not bay.free(layout(changed)):
                continue
            changed = aimed(drained(changed))
            best.append((_worth(changed, layout(changed)), changed))
        best.sort(key=lambda one: one[0])
        found += [(worth, tr_format("{0}, {1}", tr(height).capitalize(), tr(end)), changed) for worth, changed in best[:OF_A_KIND]]
        progress((number + 1) / len(kinds))
    if not found:
        raise Fault(
            "No place is free for the turbo: not with {0} of room round its housings", figure(LEAST_GAP, "length", project.shown_units)
        )
    found.sort(key=lambda one: one[0])
    return tuple((name, changed) for _, name, changed in found)


def turbo_laid(project: Project, heat: Mapping[str, float]) -> Laid | None:
    """A place with its pipes, whose exhaust keeps the gaps m that `heat` asks for; None where one of them has no way."""
    laid = Laid(project, (), 0)
    if can_be_laid(project):
        made = last_of(primary_answers(project, {}, patience=PATIENCE))
        if made is None:
            return None
        laid = Laid(made.project, (sum(made.lengths) / len(made.lengths),), made.bends)
    for run, covers in (("exhaust", AS_IT_IS), ("hot_pipe", COVERS)):
        with contextlib.suppress(Fault):  # no end to come to
            more = with_way(laid, run, heat, covers)
            if more is None:
                return None
            laid = more
    return laid
