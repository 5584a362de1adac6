"""Where intercooler and air filter can go: places in the bay that are free, each with charge pipes or intake laid.

An intercooler cooled by air stands in front of the radiator, where it gets air that nothing has warmed; one cooled by water stands
anywhere. What stands behind the bumper is nobody's guess: measure it.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.bay.build_bodies import cooler_bodies, engine_bodies, filter_bodies, line_bodies, turbo_bodies
from zarvik.core.bay.clearance import box_skin, filter_skin, roll_of
from zarvik.core.common.numerics import ndimage
from zarvik.core.common.progress import Progress, look
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import HEAD_DEEP
from zarvik.core.layout.frame import Frame, frame_looking
from zarvik.core.layout.placement import BEHIND, PRIMARY, TANK, Layout, Space
from zarvik.core.routing.geodesic import cells
from zarvik.core.solids.bodies import Body, extent, packed, rows_of
from zarvik.core.solids.distance import gaps, nearest
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import MEASURED
from zarvik.project.edits.edits import with_value
from zarvik.project.edits.sizes import CORES, with_core
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, place_of, si, space_of
from zarvik.project.routing.bodies import CLEARANCE, OWN_GAP, grown, obstacle_bodies
from zarvik.project.routing.clocking import aimed
from zarvik.project.routing.laying import COVERS, Laid, stubbed, unit, with_way
from zarvik.project.routing.routes import TUBES
from zarvik.project.units.units import Quantity

LEAD = 0.06  # m before an opening in which its pipe has room
LEADS = (LEAD, 2.3 * LEAD)  # m before an opening of an intercooler: room for a bend
TURNING = 0.12  # m that a way which has to turn back costs more, for each half of it
HOT_GAP = 0.10  # m from hot parts to a filter or a core of light metal; common practice, no source, a rough guide
# m from hot parts within which air is warm, and m of tube that it is worth to be away; common practice, no source, a rough guide
NEAR_HEAT, WARMED = 0.40, 1.5
HEADINGS = tuple(math.radians(45.0 * n) for n in range(8))
UP = 0.5 * math.pi
STEP, FILTER_STEP = 0.06, 0.05  # m between two places that are looked at
BEFORE = 0.26  # m in front of a radiator in which a core may stand
NEAR_PIPE = 0.03  # m round the middle of a charge pipe before an opening
CELL, FAR = 0.025, 0.09  # m of a cell, and the distance that is asked for in one
OUTSIDE = -1.0  # m: nobody knows what is there
BLOCK = 400  # middles at once
AHEAD = 1.2  # m before a compressor
AROUND = 0.7  # m round the engine, where nothing is known of the bay
OF_A_KIND = 2  # places of one kind that are gone on with
WALLS = ("panel", "hood", "radiator")  # what bounds a bay; beyond panels nothing is free
SIDES, BACK = "sides", "back"  # openings of the end tanks


@dataclass(frozen=True, eq=False)
class _Room:
    """What something is put among: packed `rows`, larger by their room; what is `hot` of them, as it is; where it may be: from `low` to
    `high` m; the distance from them in m of cells (`far`)."""

    rows: np.ndarray
    hot: np.ndarray
    low: np.ndarray
    high: np.ndarray
    far: np.ndarray

    @classmethod
    def of(cls, project: Project, space: Space, found: Layout, left: Sequence[str]) -> _Room:
        """Of a document; what is `left` out (runs, "cooler", "filter") is put elsewhere with it."""
        obstacles, engine = obstacles_of(project), list(engine_bodies(space, found))
        bodies: list[Body] = [*obstacle_bodies(obstacles, {}, roll_of(space)), *engine]
        hot: list[Body] = []
        for turbo in () if space.blown else found.turbos:
            turbine, *cold = turbo_bodies(turbo)
            hot.append(turbine)
            bodies += [grown(body, OWN_GAP) for body in cold]
        for line in found.lines:
            if place_of(line.key) not in left:
                if line.key.startswith((PRIMARY, BEHIND, "exhaust")):
                    hot += line_bodies(line, 0.0)
                else:
                    bodies += line_bodies(line, OWN_GAP)
        bodies += [grown(body, HOT_GAP) for body in hot]
        bodies += [] if "cooler" in left else cooler_bodies(space, found)
        bodies += [] if "filter" in left else filter_bodies(space)
        low, high = extent(engine)
        walls = [one for one in obstacles if one.kind in WALLS and one.bodies]
        if walls:
            there = np.array([body.centre for one in walls for body in one.bodies])
            low, high = np.minimum(there.min(axis=0), low), np.maximum(there.max(axis=0), high)
        else:
            low, high = low - AROUND, high + AROUND
        low = low - np.array([BEFORE, 0.0, 0.0])
        rows, shape = packed(bodies), np.ceil((high - low) / CELL).astype(np.int64) + 1
        far = np.empty(tuple(shape))
        cells(rows, low, CELL, shape, FAR, far)
        return cls(rows, packed(hot), low, high, far)

    def free(self, points: np.ndarray, radius: np.ndarray) -> bool:
        """Is there room round all `points` (any number, 3; m), of a `radius` m each?"""
        least = np.empty(len(rows_of(self.rows)))
        gaps(self.rows, np.ascontiguousarray(points), radius, least, np.zeros(len(least), np.int64))
        return float(least.min(initial=math.inf)) >= CLEARANCE

    def likely(self, middles: np.ndarray, points: np.ndarray, radius: float = 0.0) -> np.ndarray:
        """Which of the `middles` (any number, 3; m) have room round all `points` (any number, 3; m from one), of a `radius` m each, as far
        as cells tell."""
        found = np.ones(len(middles), bool)
        for begin in range(0, len(middles), BLOCK):
            look()
            places = (middles[begin : begin + BLOCK, None, :] + points[None, :, :] - self.low) / CELL
            room = (
                ndimage()
                .map_coordinates(self.far, places.reshape(-1, 3).T, order=1, mode="constant", cval=OUTSIDE)
                .reshape(places.shape[:2])
            )
            found[begin : begin + BLOCK] = room.min(axis=1) >= radius + CLEARANCE - 0.5 * CELL
        return found

    def middles(self, step: float, low: np.ndarray | None = None, high: np.ndarray | None = None) -> np.ndarray:
        """Places of a middle (any number, 3), m, a `step` m apart, between `low` and `high` m where they are said."""
        begin, end = self.low if low is None else low, self.high if high is None else high
        ways = np.meshgrid(*(np.arange(a, b + 1e-9, step) for a, b in zip(begin, end, strict=True)), indexing="ij")
        return np.column_stack([way.ravel() for way in ways])


@dataclass(frozen=True, eq=False)
class _Spot:
    """A place: what it is `worth`, m of tube about, its `name`, the `frames` of parts of the layout there, and `points` (any number, 3) m
    that must be free in `room`, with m round each (`radius`); of a `project`."""

    worth: float
    name: str
    frames: Mapping[str, Frame]
    room: _Room
    points: np.ndarray
    radius: np.ndarray
    project: Project

    def made(self) -> Project:
        """Its document."""
        changed = self.project
        for what, frame in self.frames.items():
            changed = _placed(changed, what, frame)
        return changed


def _way(one: Frame, two: Frame) -> float:
    """How much tube goes from a frame to another one, m, about: straight from where both have left their openings, and for turning back."""
    begin, end = one.moved(LEAD), two.moved(-LEAD)
    between = end.origin - begin.origin
    along = unit(between)
    return float(np.linalg.norm(between)) + TURNING * (2.0 - float(one.along @ along) - float(two.along @ along))


def _from(hot: np.ndarray, place: np.ndarray) -> float:
    """How far a place (3) m is from packed bodies that are hot, m; `NEAR_HEAT` where it is farther."""
    x, y, z = (float(n) for n in place)
    return float(nearest(hot, x, y, z, False, NEAR_HEAT))


def _zone(space: Space, place: np.ndarray) -> str:
    """Where a place (3, m) is, in words: front, beside or rear of the row of ports, and on which side."""
    head = space.head
    row = head.spacing * (head.cylinders // head.banks - 1)
    end = tr("Front") if place[0] < -0.5 * head.spacing else tr("Rear") if place[0] > row + 0.5 * head.spacing else tr("Beside the engine")
    first = place[2] > (head.middle if head.banks > 1 else -0.5 * HEAD_DEEP)
    if head.banks > 1:
        return tr_format("{0}, side of bank {1}", end, 1 if first else 2)
    return tr_format("{0}, {1}", end, tr("exhaust side") if first else tr("intake side"))


def _best(found: list[_Spot]) -> tuple[tuple[str, Project], ...]:
    """The best few of each kind that are free, the likeliest first, with their documents."""
    count: dict[str, int] = {}
    chosen = []
    for spot in sorted(found, key=lambda one: one.worth):
        if count.get(spot.name, 0) < OF_A_KIND and spot.room.free(spot.points, spot.radius):
            count[spot.name] = count.get(spot.name, 0) + 1
            chosen.append((spot.name, spot.made()))
    return tuple(chosen)


def _placed(project: Project, what: str, frame: Frame) -> Project:
    """The document with a part of its layout (`what`) in a frame that lies level or points up."""
    x, y, z = (float(n) for n in frame.along)
    level = math.hypot(x, z) > 1e-6
    values = {"heading": math.degrees(math.atan2(x, z)) if level else 0.0, "pitch": math.degrees(math.asin(max(min(y, 1.0), -1.0)))}
    project = with_value(project, f"layout.{what}.placed", MEASURED)
    for name, metres in zip(("along", "up", "out"), frame.origin, strict=True):
        project = with_value(project, f"layout.{what}.{name}", Quantity(round(1e3 * float(metres)), "mm", "length"))
    for name, angle in values.items():
        project = with_value(project, f"layout.{what}.{name}", Quantity(round(angle), "°", "angle"))
    return project


def filter_places(project: Project, progress: Progress) -> tuple[tuple[str, Project], ...]:
    """The best free places of the air filter on each side of the engine, with their names and documents, the likeliest first: near the
    compressor, with little to turn, away from the turbine. Raises Fault where there is no tube to lay or no place."""
    if not any(piece.kind in TUBES for piece in project.intake):
        raise Fault("The intake has no tube that could be laid anew")
    project = stubbed(project, "intake")
    space, found = space_of(project), layout(project)
    size, turbo = space.filter_size, found.turbos[0]
    if min(size) <= 0.0:
        raise Fault("Enter how large the air filter is")
    room = _Room.of(project, space, found, ("intake", "filter"))
    tube = 0.5 * max((si(piece, "bore") for piece in project.intake), default=0.0)
    ways = [(heading, 0.0) for heading in HEADINGS] + [(0.0, UP)]
    best: list[_Spot] = []
    # Straight before the compressor, however the steps fall, and all round
    ahead = turbo.air_in.origin - np.arange(size[1], AHEAD, FILTER_STEP)[:, None] * turbo.air_in.along
    middles = np.vstack([ahead, room.middles(FILTER_STEP)])
    for number, (heading, pitch) in enumerate(ways):
        progress(number / len(ways))
        axes = frame_looking(np.zeros(3), heading, pitch).axes
        neck = 0.5 * size[1] * axes[:, 2]
        lead = neck + LEAD * axes[:, 2]
        skin = filter_skin(Frame(neck, axes), size)
        points, radius = np.vstack([skin, lead]), np.append(np.zeros(len(skin)), tube)
        free = room.likely(middles, lead[None], tube)
        free[free] = room.likely(middles[free], skin)
        for middle in middles[free]:
            frame = Frame(middle + neck, axes)
            worth = _way(frame, turbo.air_in) + WARMED * (1.0 - _from(room.hot, middle) / NEAR_HEAT)
            best.append(_Spot(worth, _zone(space, middle), {"filter": frame}, room, points + middle, radius, project))
    chosen = _best(best)
    if not chosen:
        raise Fault("No place is free for the air filter")
    return chosen


def filter_laid(project: Project, heat: Mapping[str, float]) -> Laid | None:
    """A place of the air filter with the intake laid, with the gaps m that `heat` asks for; None where it has no way."""
    return with_way(Laid(project, (), 0), "intake", heat)


def cooler_places(project: Project, progress: Progress) -> tuple[tuple[str, Project], ...]:
    """The best free places of the intercooler, of the core as it is and of the next smaller and larger ones that are sold, with their
    names and documents, the likeliest first. Raises Fault without one, where its pipes have no ends, and where no place is free."""
    if not project.intercooler.fitted:
        raise Fault("There is no intercooler to place")
    if not space_of(project).throttle.measured:
        raise Fault("Enter where the throttle is: the cold charge pipe must end somewhere")
    for run in ("hot_pipe", "cold_pipe"):
        project = stubbed(project, run)
    best: list[_Spot] = []
    sized = _sized(project)
    for number, changed in enumerate(sized):
        progress(number / len(sized))
        best += _cooler_spots(changed)
    chosen = _best(best)
    if not chosen:
        raise Fault("No place is free for the intercooler")
    return chosen


def _sized(project: Project) -> list[Project]:
    """The document with its core, and with the next smaller and larger ones that are sold, by their volume."""
    own = float(np.prod(_core(project)))
    smaller = [core for core in CORES if math.prod(core) < 0.97 * own]
    larger = [core for core in CORES if math.prod(core) > 1.03 * own]
    found = [project]
    if smaller:
        found.append(with_core(max(smaller, key=math.prod), project))
    if larger:
        found.append(with_core(min(larger, key=math.prod), project))
    return found


def _core(project: Project) -> tuple[float, float, float]:
    cooler = project.intercooler
    return cooler.width.si, cooler.height.si, cooler.thickness.si


def _cooler_spots(project: Project) -> Iterator[_Spot]:
    """Places of a core that are likely free."""
    space, found = space_of(project), layout(project)
    core = _core(project)
    whole = (core[0] + 2.0 * TANK, core[1], core[2])
    turbo = found.turbos[0]
    room = _Room.of(project, space, found, ("hot_pipe", "cold_pipe", "cooler"))
    water = project.intercooler.medium != "air"
    low, high = room.low.copy(), room.high.copy()
    headings: tuple[float, ...] = (0.0, math.pi)
    if water:
        headings = (*headings, UP, -UP)
    else:
        front = _radiator_front(project, float(room.low[0]))
        low[0], high[0] = front - BEFORE, front - 0.5 * core[2]
    size = "{:.0f} × {:.0f} × {:.0f} mm".format(*(1e3 * n for n in core))
    for heading, openings in itertools.product(headings, (SIDES, BACK)):
        along = frame_looking(np.zeros(3), heading, 0.0)
        axes = np.column_stack([np.cross([0.0, 1.0, 0.0], along.along), [0.0, 1.0, 0.0], along.along])
        skin = box_skin(Frame(-0.5 * whole[0] * along.along, axes), whole)
        ports = tr("openings at its ends") if openings == SIDES else tr("openings to the engine")
        middles = room.middles(STEP, low, high)
        for middle in middles[room.likely(middles, skin)]:
            ends = _openings(middle, along, whole, openings, space.head.middle)
            leads = np.array([end.moved(side * far).origin for end, side in zip(ends, (-1.0, 1.0), strict=True) for far in LEADS])
            points, radius = np.vstack([skin + middle, leads]), np.append(np.zeros(len(skin)), np.full(len(leads), NEAR_PIPE))
            worth = _way(turbo.air_out, ends[0]) + _way(ends[1], found.throttle)
            name = tr_format("{0}, core {1}, {2}", _zone(space, middle) if water else tr("Before the radiator"), size, ports)
            yield _Spot(worth, name, {"cooler_in": ends[0], "cooler_out": ends[1]}, room, points, radius, project)


def _radiator_front(project: Project, lowest: float) -> float:
    """How far along, m, the radiator begins; without one, the `lowest` that is known of."""
    fronts = [extent(one.bodies)[0][0] for one in obstacles_of(project) if one.kind == "radiator" and one.bodies]
    return float(min(fronts, default=lowest))


def _openings(middle: np.ndarray, along: Frame, whole: tuple[float, float, float], openings: str, engine: float) -> tuple[Frame, Frame]:
    """Frames of both openings of an intercooler round its `middle` (3) m, `whole` m with its tanks, by where its `openings` are; the middle
    of the `engine` is so many m outwards."""
    if openings == SIDES:
        return tuple(Frame(middle + side * 0.5 * whole[0] * along.along, along.axes) for side in (-1.0, 1.0))  # type: ignore[return-value]
    lengthways = abs(float(along.along[0])) > 0.5
    heading = (math.pi if middle[2] > engine else 0.0) if lengthways else math.copysign(UP, -middle[0])
    toward = frame_looking(np.zeros(3), heading, 0.0).along
    tank, face = 0.5 * (whole[0] - TANK) * along.along, middle + 0.5 * whole[2] * toward
    return frame_looking(face - tank, heading + math.pi, 0.0), frame_looking(face + tank, heading, 0.0)


def cooler_laid(project: Project, heat: Mapping[str, float]) -> Laid | None:
    """A place of the intercooler with both charge pipes laid, the compressor cover turned to it, with the gaps m that `heat` asks for; None
    where one of them has no way."""
    laid = with_way(Laid(aimed(project), (), 0), "hot_pipe", heat, COVERS)
    return with_way(laid, "cold_pipe", heat) if laid is not None else None
