"""Can a hand with its tool get at a joint, past all that stands round it?

A tool is a few balls in a row with a fist at its end, and behind that a forearm that has to come from somewhere. Its sizes are common
practice without a source: a rough guide, as hands and tools differ.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.bay.build_bodies import line_bodies, still_bodies, turbo_bodies
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.common.identity_cache import IdentityCache
from zarvik.core.connections.row import BANDED, FLANGED, HOSED, JOINT, WELDED, Row
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import Layout, Space
from zarvik.core.solids.bodies import Body, packed
from zarvik.core.solids.distance import gaps

DRIVER, SPANNER, SOCKET, TORCH = "driver", "spanner", "socket", "torch"
TOOLS = {DRIVER: "screwdriver or nut driver", SPANNER: "spanner", SOCKET: "socket on an extension", TORCH: "torch"}
FIST, FOREARM = 0.045, 0.042  # m, radii: a fist of 90 mm, a forearm of 84 mm
ARM = 0.35  # m of forearm that come through the same opening
LENGTHS = {DRIVER: (0.15, 0.012), SPANNER: (0.17, 0.011), SOCKET: (0.15, 0.013), TORCH: (0.12, 0.011)}  # m: length, radius
SWING = math.radians(30.0)  # of a spanner that is turned over for the next flat
BESIDE = 0.012  # m from the skin of a tube to the middle of a screw or nut
OFF = 0.018  # m from the seam to the plane of a spanner
STANDOFF = 0.014  # m from a seam to the nearest of a torch
CLOCKS = 12  # places round a pipe at which a screw can be turned to
NUTS = 4  # of a flange
SEAMS = 8  # places round a seam
ENOUGH = 0.010  # m: a way in with so much room needs no better one
LOCAL = 0.05  # m beyond the radius, in which a joint's own pipe is what the tool goes round
OPENED = ("hood",)  # kinds that are out of the way when somebody works


@dataclass(frozen=True, eq=False)
class Place:
    """A joint in its place: `key` and `name` of its line in the connection list, how it is `made`, the `frame` of the flow there, outer
    `radius` m, the `line` it belongs to (a key of the layout, empty for none)."""

    key: str
    name: str
    made: str
    frame: Frame
    radius: float
    line: str


@dataclass(frozen=True, eq=False)
class Reach:
    """How a joint (`place`) is got at: with a `tool` (a key of `TOOLS`), with `spare` m of room all along, negative by how much it is
    missing; `clock` rad, where a clamp's screw is best turned to, clockwise from above for who looks along the flow; `behind`: what is
    nearest (the name of its body); `share` (0 to 1) of a seam, or of the nuts, that is got at."""

    place: Place
    tool: str
    spare: float
    clock: float
    behind: str
    share: float = 1.0


def joints_of(layout: Layout, rows: Sequence[Row]) -> Iterator[Place]:
    """The joints of the connection list (`rows`) that have a place in a `layout`."""
    ends: dict[str, tuple[Frame, float, str]] = {}
    for line in layout.lines:
        for before, part in zip((None, *line.placed), line.placed, strict=False):
            s = part.segment
            ends[f"{s.id}__in"] = (part.first, 0.5 * s.bore_in + s.wall, line.key)
            ends[f"{s.id}__out"] = (part.last, 0.5 * s.bore_out + s.wall, line.key)
            if before is not None:
                ends[f"{before.segment.id}__{s.id}"] = (part.first, 0.5 * s.bore_in + s.wall, line.key)
    for number, turbo in enumerate(layout.turbos, 1):
        for key in ("turbo", f"turbo{number}"):
            ends[f"{key}__hot_in"] = (turbo.gas_in, 0.6 * turbo.sizes.turbine, "")
            ends[f"{key}__hot_out"] = (turbo.gas_out, 0.55 * turbo.sizes.turbine, "exhaust")
        if number == 1:
            ends["charger__inlet"] = (turbo.air_in, 0.5 * turbo.sizes.compressor, "intake")
            ends["charger__outlet"] = (turbo.air_out, 0.36 * turbo.sizes.compressor, "hot_pipe")
    for row in rows:
        if row.kind != JOINT or row.made not in (HOSED, BANDED, FLANGED, WELDED):
            continue
        run, _, rest = row.key.partition("__")
        found = ends.get(row.key) or ends.get(rest)
        if found is not None and run not in ("cooler", "engine"):
            yield Place(row.key, row.name, row.made, found[0], max(found[1], 0.5 * row.diameter), found[2])


class _Around:
    """What is in the way of tools, and how near they come to it."""

    def __init__(self, bodies: Sequence[Body], names: Mapping[int, str]) -> None:
        self.bodies, self.names = bodies, names
        self.rows = packed(bodies)
        self._least = np.empty(len(bodies))
        self._which = np.zeros(len(bodies), np.int64)

    def gap(self, points: np.ndarray, radius: np.ndarray) -> tuple[float, str]:
        """The least gap m of balls round `points` (any number, 3; m) of a `radius` m each, and what is nearest."""
        if not len(self.bodies):
            return 1.0, ""
        gaps(self.rows, np.ascontiguousarray(points), radius, self._least, self._which)
        k = int(self._least.argmin())
        return float(self._least[k]), self.names.get(id(self.bodies[k]), self.bodies[k].name)


_DIRECTIONS = np.array([d for d in itertools.product((-1.0, 0.0, 1.0), repeat=3) if any(d)])
_DIRECTIONS = _DIRECTIONS / np.linalg.norm(_DIRECTIONS, axis=1)[:, None]


def _shaft(tool: str, begin: np.ndarray, way: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Balls of a tool from a place (3) m along a `way` (3) with a fist at its end: points m, radii m, the middle of the fist m."""
    length, radius = LENGTHS[tool]
    steps = np.arange(0.01, length, 1.6 * radius)
    fist = begin + (length + 0.5 * FIST) * way
    return np.vstack([begin + steps[:, None] * way, fist]), np.append(np.full(len(steps), radius), FIST), fist


def _held(around: _Around, points: np.ndarray, radius: np.ndarray, fist: np.ndarray, way: np.ndarray, known: float) -> tuple[float, str]:
    """Room in m of a tool with the arm that holds it, and what is nearest; no more than is `known` already is looked for."""
    found, behind = around.gap(points, radius)
    if found <= known:
        return found, behind
    best, other = -math.inf, behind
    steps = np.arange(FOREARM, ARM, FOREARM)[:, None]
    for direction in sorted(_DIRECTIONS, key=lambda d: -float(d @ way)):
        if direction @ way < -0.3:
            break
        room, name = around.gap(fist + steps * direction, np.full(len(steps), FOREARM))
        if room > best:
            best, other = room, name
        if best >= min(found, ENOUGH):
            break
    return (best, other) if best < found else (found, behind)


def _screw(around: _Around, place: Place, tool: str) -> Reach:
    """A clamp's screw that can be turned to any clock."""
    x, y, _ = place.frame.axes.T
    best = Reach(place, tool, -math.inf, 0.0, "")
    for number in range(CLOCKS):
        clock = 2.0 * math.pi * number / CLOCKS
        out = math.cos(clock) * x - math.sin(clock) * y
        begin = place.frame.origin + (place.radius + BESIDE) * out
        side = -math.sin(clock) * x - math.cos(clock) * y
        for way in (side, -side):
            points, radius, fist = _shaft(tool, begin, way)
            spare, behind = _held(around, points, radius, fist, way, best.spare)
            if spare > best.spare:
                best = Reach(place, tool, spare, clock, behind)
        if best.spare >= ENOUGH:
            break
    return best


def _nut(around: _Around, place: Place, clock: float) -> Reach:
    """One nut of a flange: a spanner that swings in the plane of it, or a socket from either side."""
    x, y, z = place.frame.axes.T
    out = math.cos(clock) * x - math.sin(clock) * y
    side = -math.sin(clock) * x - math.cos(clock) * y
    begin = place.frame.origin + (place.radius + BESIDE) * out
    best = Reach(place, SPANNER, -math.inf, clock, "")
    for sign in (1.0, -1.0):
        points, radius, fist = _shaft(SOCKET, begin + sign * OFF * z, sign * z)
        spare, behind = _held(around, points, radius, fist, sign * z, best.spare)
        if spare > best.spare:
            best = Reach(place, SOCKET, spare, clock, behind)
        if best.spare >= ENOUGH:
            return best
        for turn in np.linspace(-0.5 * math.pi, 0.5 * math.pi, 7):
            swung, radii = [], []
            for swing in (-0.5 * SWING, 0.0, 0.5 * SWING):
                way = math.cos(turn + swing) * out + math.sin(turn + swing) * side
                points, radius, fist = _shaft(SPANNER, begin + sign * OFF * z, way)
                swung.append(points)
                radii.append(radius)
            middle = math.cos(turn) * out + math.sin(turn) * side
            _, _, fist = _shaft(SPANNER, begin + sign * OFF * z, middle)
            spare, behind = _held(around, np.vstack(swung), np.concatenate(radii), fist, middle, best.spare)
            if spare > best.spare:
                best = Reach(place, SPANNER, spare, clock, behind)
            if best.spare >= ENOUGH:
                return best
    return best


def _worst_of(found: list[Reach]) -> Reach:
    """The worst of several places of one joint, with the share of them that is got at."""
    worst = min(found, key=lambda one: one.spare)
    share = sum(one.spare >= 0.0 for one in found) / len(found)
    return Reach(worst.place, worst.tool, worst.spare, worst.clock, worst.behind, share)


def _seam(around: _Around, place: Place) -> Reach:
    """A weld that is made where the pipe stands: a torch at every place round it, from either side or from outside."""
    x, y, z = place.frame.axes.T
    found = []
    for number in range(SEAMS):
        clock = 2.0 * math.pi * number / SEAMS
        out = math.cos(clock) * x - math.sin(clock) * y
        best = Reach(place, TORCH, -math.inf, clock, "")
        for lean in (0.0, 0.7, -0.7):
            way = math.cos(lean) * out + math.sin(lean) * z
            points, radius, fist = _shaft(TORCH, place.frame.origin + place.radius * out + STANDOFF * way, way)
            spare, behind = _held(around, points, radius, fist, way, best.spare)
            if spare > best.spare:
                best = Reach(place, TORCH, spare, clock, behind)
            if best.spare >= ENOUGH:
                break
        found.append(best)
    return _worst_of(found)


class _Surroundings:
    """All that can be in the way at joints of a `layout` of a `space` among `obstacles`."""

    def __init__(self, space: Space, layout: Layout, obstacles: Sequence[Obstacle]) -> None:
        there = [one for one in obstacles if one.kind not in OPENED]
        self.names = {id(body): one.name for one in there for body in one.bodies}
        self.fixed = [body for one in there for body in one.bodies]
        self.fixed += still_bodies(space, layout)
        self.fixed += [body for turbo in (() if space.blown else layout.turbos) for body in turbo_bodies(turbo)]
        self.pipes = [(line.key, body) for line in layout.lines for body in line_bodies(line, 0.0)]

    def around(self, place: Place) -> _Around:
        """What is in the way at a joint: what stands there, other pipes, its own where it has gone away from the joint."""
        found = list(self.fixed)
        reach = place.radius + LOCAL
        for key, body in self.pipes:
            along = max(min(float((place.frame.origin - body.centre) @ body.axes[0]), body.half[1]), -body.half[1])
            apart = float(np.linalg.norm(body.centre + along * body.axes[0] - place.frame.origin))
            if key != place.line or apart > reach:
                found.append(body)
        return _Around(found, self.names)


_KNOWN: IdentityCache[tuple[Reach, ...]] = IdentityCache(4)
_WELDS: IdentityCache[tuple[Reach, ...]] = IdentityCache(4)


def reaches(space: Space, layout: Layout, obstacles: tuple[Obstacle, ...], rows: tuple[Row, ...]) -> tuple[Reach, ...]:
    """How every joint of the connection list (`rows`) that comes apart is got at in a `layout` of a `space` among `obstacles`; the worst
    first."""
    return _KNOWN.of((layout, obstacles, rows), lambda: _reaches(space, layout, obstacles, rows, welds=False))


def weld_reaches(space: Space, layout: Layout, obstacles: tuple[Obstacle, ...], rows: tuple[Row, ...]) -> tuple[Reach, ...]:
    """The same of welds, if they are made where the pipe stands."""
    return _WELDS.of((layout, obstacles, rows), lambda: _reaches(space, layout, obstacles, rows, welds=True))


def _reaches(space: Space, layout: Layout, obstacles: tuple[Obstacle, ...], rows: tuple[Row, ...], *, welds: bool) -> tuple[Reach, ...]:
    there = _Surroundings(space, layout, obstacles)
    found = []
    for place in joints_of(layout, rows):
        if (place.made == WELDED) != welds:
            continue
        around = there.around(place)
        if welds:
            found.append(_seam(around, place))
        elif place.made == FLANGED:
            found.append(_worst_of([_nut(around, place, 2.0 * math.pi * (k + 0.5) / NUTS) for k in range(NUTS)]))
        else:
            found.append(_screw(around, place, DRIVER if place.made == HOSED else SOCKET))
    return tuple(sorted(found, key=lambda one: one.spare))
