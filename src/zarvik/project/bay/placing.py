"""Where objects of the engine bay stand: by their sizes from port 1 or from each other's faces, by tapes, by points of a scan."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from zarvik.core.bay.belts import Pulley, belt_bodies, belt_run
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.bay.kinds import KINDS
from zarvik.core.bay.motion import Motion
from zarvik.core.bay.scan import aligned
from zarvik.core.bay.tapes import by_tape
from zarvik.core.common.sentences import Fault
from zarvik.core.heat.clearance import ENGINE_MOVEMENT
from zarvik.core.layout.bodies import Head
from zarvik.core.layout.frame import frame_looking
from zarvik.core.solids.bodies import Body, Shape, extent, moved, of_mesh, rod
from zarvik.core.solids.meshes import Mesh, hull, plate
from zarvik.project.document.parts.bay_object import (
    BACK,
    BELT,
    CYLINDER,
    HULL,
    MARK,
    NOT_MEASURED,
    PLATE,
    SCAN,
    SLACK,
    TUBE,
    BayObject,
    skin_of,
)
from zarvik.project.language.language import reason, tr
from zarvik.project.units.units import parse

MM = 1e-3
BOUNCE = 0.004  # m that an engine of which the roll is known goes up and down beside it; common practice, no source
AXES = ("along", "up", "out")
OF_POINTS = (TUBE, PLATE, HULL)


@dataclass(frozen=True, eq=False)
class Placed:
    """An object in its place: what it is to the pipes (`obstacle`), and its `middle` (3) m."""

    obstacle: Obstacle
    middle: np.ndarray


def title(one: BayObject) -> str:
    """What an object is called: its name, else its kind."""
    return one.name or tr(KINDS[one.kind].title)


def numbers_of(text: str) -> np.ndarray:
    """The rows of numbers of an entry, as they stand there: points (any number, 3) mm."""
    rows = [[float(n) for n in part.split() if n != BACK] for part in text.split(";") if part.strip()]
    return np.array(rows)


class Placing:
    """Places `objects` one by one, those first that others are measured from. `head`: where the ports are."""

    def __init__(self, objects: tuple[BayObject, ...], head: Head) -> None:
        self.objects = objects
        self.head = head
        self._done: dict[str, Placed] = {}
        self._busy: set[str] = set()

    def all(self) -> tuple[Placed, ...]:
        """Every object in its place."""
        return tuple(self.of(one) for one in self.objects)

    def named(self, name: str) -> BayObject:
        """The object of a name or key. Raises Fault."""
        wanted = name.strip().casefold()
        for one in self.objects:
            if wanted in (one.id.casefold(), title(one).casefold()):
                return one
        raise Fault("there is no “{0}” in the engine bay", name.strip())

    def of(self, one: BayObject) -> Placed:
        """An object in its place; what is wrong with it is said in its `faults`."""
        if one.id not in self._done:
            self._busy.add(one.id)
            self._done[one.id] = self._place(one)
            self._busy.discard(one.id)
        return self._done[one.id]

    def _datum(self, name: str) -> Placed:
        one = self.named(name)
        if one.id in self._busy:
            raise Fault("“{0}” is measured from what is measured from it", title(one))
        return self.of(one)

    def _place(self, one: BayObject) -> Placed:
        slack, sure, faults = SLACK[one.measured], one.measured != NOT_MEASURED, []
        bodies: tuple[Body, ...] = ()
        middle = np.array([one.along.si, one.up.si, one.out.si])
        try:
            bodies, own = _at_origin(one)
            slack = max(slack, own)
            bodies, middle, slack, sure = self._put(one, bodies, middle, slack, sure)
        except Fault as fault:
            faults.append(reason(fault))
            slack, sure = SLACK[NOT_MEASURED], False
            bodies = tuple(moved(body, np.eye(3), middle if one.shape not in OF_POINTS else np.zeros(3)) for body in bodies)
        motion = None
        if bodies:
            low, high = extent(bodies)
            middle = 0.5 * (low + high) if one.shape in OF_POINTS else middle
            motion = _motion(one, middle)
        obstacle = Obstacle(
            id=one.id,
            name=title(one),
            kind=one.kind,
            bodies=bodies,
            slack=slack,
            sure=sure,
            motion=motion,
            rocks=ENGINE_MOVEMENT if self.head.roll <= 0.0 else BOUNCE,
            belt=belt_run(pulleys_of(one)) if one.shape == BELT and bodies else None,
            faults=tuple(faults),
            altered=one.altered,
        )
        return Placed(obstacle, middle)

    def _put(
        self, one: BayObject, bodies: tuple[Body, ...], middle: np.ndarray, slack: float, sure: bool
    ) -> tuple[tuple[Body, ...], np.ndarray, float, bool]:
        """Bodies that were made round the origin where they belong, their middle m, what that is good to (m) and whether it was measured.
        Raises Fault."""
        if one.shape == SCAN and one.aligned:
            pairs = numbers_of(one.aligned) * MM
            found = aligned(pairs[:, :3], pairs[:, 3:])
            return tuple(moved(b, found.turn, found.shift) for b in bodies), found.shift, max(slack, found.off), sure
        if one.tapes and one.shape not in OF_POINTS:
            middle, spread = self._taped(one, middle)
            slack, sure = max(spread, SLACK["tape"]), True
            return tuple(moved(b, np.eye(3), middle) for b in bodies), middle, slack, sure
        shift = np.zeros(3) if one.shape in OF_POINTS or one.shape == BELT else middle.copy()
        if one.shape == BELT:
            shift[0] = middle[0]
        low, high = extent(bodies) if bodies else (np.zeros(3), np.zeros(3))
        for axis, name in enumerate((one.along_from, one.up_from, one.out_from)):
            if not name.strip():
                continue
            datum = self._datum(name)
            near, far = extent(datum.obstacle.bodies) if datum.obstacle.bodies else (datum.middle, datum.middle)
            if one.shape in OF_POINTS:
                shift[axis] = far[axis] if 0.5 * (low[axis] + high[axis]) >= 0.0 else near[axis]
            elif middle[axis] >= 0.0:
                shift[axis] = far[axis] + middle[axis] - low[axis]
            else:
                shift[axis] = near[axis] + middle[axis] - high[axis]
            slack, sure = math.hypot(slack, datum.obstacle.slack), sure and datum.obstacle.sure
        return tuple(moved(b, np.eye(3), shift) for b in bodies), shift, slack, sure

    def _taped(self, one: BayObject, guess: np.ndarray) -> tuple[np.ndarray, float]:
        """Where its tapes say that an object is, m, and what that is good to, m. Raises Fault."""
        marks, lengths, spreads = [], [], []
        for row in one.tapes.split(";"):
            name, value, unit = row.strip().rsplit(" ", 2)
            lengths.append(parse(f"{value} {unit}", "length").si)
            place, spread = self._mark(name)
            marks.append(place)
            spreads.append(0.5 * spread)
        found = by_tape(np.array(marks), lengths, guess, guess[1] if len(lengths) == 2 else None, spreads)
        if found.doubtful:
            raise Fault("its tapes contradict each other: one of them is {0:.0f} mm off", 1e3 * found.off)
        return found.place, found.spread

    def _mark(self, name: str) -> tuple[np.ndarray, float]:
        words = name.casefold().split()
        if len(words) == 2 and words[0] == "port" and words[1].isdigit():
            return self.head.port(int(words[1])).origin, 0.0
        found = self._datum(name)
        return found.middle, found.obstacle.slack


def _at_origin(one: BayObject) -> tuple[tuple[Body, ...], float]:
    """The bodies of an object round the origin (those through points where these are), and what their shape is good to, m. Raises Fault."""
    if one.shape == MARK:
        return (), 0.0
    if one.shape in OF_POINTS:
        if not one.points:
            raise Fault("it has no points")
        return _through_points(one, numbers_of(one.points) * MM), 0.0
    if one.shape == BELT:
        if not one.pulleys:
            raise Fault("it has no pulleys")
        return belt_bodies(one.name, pulleys_of(one), 0.0, one.width.si), 0.0
    frame = frame_looking(np.zeros(3), one.heading.si, one.pitch.si)
    high, wide, along = frame.axes.T
    axes = np.array([along, wide, high])
    if one.shape == SCAN:
        if not one.skin:
            raise Fault("it has no scan: import one")
        return (_scanned(one.name, one.skin, one.heading.si, one.pitch.si, bool(one.aligned)),), skin_of(one.skin)[1]
    if one.shape == CYLINDER:
        half = np.array([0.5 * one.diameter.si, 0.5 * one.length.si, 0.0])
        return (Body(name=one.name, shape=Shape.CYLINDER, centre=np.zeros(3), axes=axes, half=half),), 0.0
    half = 0.5 * np.array([one.length.si, one.width.si, one.height.si])
    return (Body(name=one.name, shape=Shape.BOX, centre=np.zeros(3), axes=axes, half=half),), 0.0


def _through_points(one: BayObject, points: np.ndarray) -> tuple[Body, ...]:
    if one.shape == TUBE:
        return tuple(rod(one.name, a, b, 0.5 * one.diameter.si) for a, b in itertools.pairwise(points))
    return (of_mesh(one.name, hull(points) if one.shape == HULL else plate(points, one.thickness.si)),)


@lru_cache(8)
def _scanned(name: str, skin: str, heading: float, pitch: float, as_it_is: bool) -> Body:
    """A scan turned to where its z goes; `as_it_is`: not at all."""
    mesh, _ = skin_of(skin)
    if not as_it_is:
        turn = frame_looking(np.zeros(3), heading, pitch).axes @ np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
        mesh = Mesh(mesh.corners @ turn.T, mesh.triangles)
    return of_mesh(name, mesh)


def pulleys_of(one: BayObject) -> tuple[Pulley, ...]:
    """The pulleys of a belt, m."""
    rows = [row.strip() for row in one.pulleys.split(";") if row.strip()]
    return tuple(
        Pulley(up * MM, out * MM, diameter * MM, row.endswith(BACK))
        for row, (up, out, diameter) in zip(rows, numbers_of(one.pulleys), strict=True)
    )


def _motion(one: BayObject, middle: np.ndarray) -> Motion | None:
    """How an object with its `middle` m there moves; None where it stands still."""
    low, high = sorted((one.turn_from.si, one.turn_to.si)) if one.turns else (0.0, 0.0)
    slide = numbers_of(one.slide)[0] * MM if one.slide else np.zeros(3)
    if high - low < 1e-9 and not slide.any():
        return None
    pivot = middle + (numbers_of(one.pivot)[0] * MM if one.pivot else 0.0)
    axis = np.eye(3)[AXES.index(one.turns)] if one.turns else np.eye(3)[0]
    return Motion(pivot, axis, low, high, slide)
