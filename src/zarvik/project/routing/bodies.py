"""What pipes of a build are laid through: obstacles with their room, other pipes, turbo, intercooler and engine; and tubes as pieces."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from zarvik.core.bay.clearance import Obstacle, cooler_frame
from zarvik.core.bay.kinds import KINDS
from zarvik.core.bay.motion import Motion, larger
from zarvik.core.layout.bodies import BLOCK, COMPRESSOR_SCROLL, HEAD_DEEP, HEAD_HIGH, HEAD_LOW, TURBINE_SCROLL, TurboBody
from zarvik.core.layout.closing import path, turn_between
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import Layout, Line, Space
from zarvik.core.layout.run import Segment
from zarvik.core.limits.limits import APART
from zarvik.core.routing.bay import Tube
from zarvik.core.solids.bodies import Body, Shape, axes_along, rod

CLEARANCE = APART.good
WELDED = 0.015  # m of straight between bends, for a saw and a torch; common practice, no source
OWN_GAP = 0.010  # m to other pipes of the build: heat and a hand file; common practice, no source
STEP = math.radians(30.0)  # of a bend that is taken as one rod


def grown(body: Body, by: float, *, mounted: bool = False) -> Body:
    """A body that is larger by so many m on all sides."""
    return dataclasses.replace(larger(body, by), mounted=mounted)


def line_bodies(line: Line, by: float) -> Iterator[Body]:
    """A pipe (`line`) as rods, larger by so many m: one for a straight, one for each `STEP` of a bend."""
    for part in line.placed:
        s = part.segment
        radius = 0.5 * max(s.bore_in, s.bore_out) + s.wall + by
        steps = max(math.ceil(s.angle / STEP), 1) if s.bends else 1
        places = [part.at(k / steps).origin for k in range(steps + 1)]
        # The middle of a bend is that much beside the chord of a step
        aside = s.radius * (1.0 - math.cos(0.5 * s.angle / steps)) if s.bends else 0.0
        yield from (rod(line.key, a, b, radius + 0.5 * aside) for a, b in itertools.pairwise(places))


def _scroll(name: str, middle: np.ndarray, axis: np.ndarray, wheel: float, shares: tuple[float, float]) -> Body:
    """A scroll as a short cylinder."""
    half = np.array([(shares[0] + shares[1]) * wheel, shares[1] * wheel, 0.0])
    return Body(name=name, shape=Shape.CYLINDER, centre=middle, axes=axes_along(axis), half=half, mounted=True)


def turbo_bodies(turbo: TurboBody) -> Iterator[Body]:
    """A turbo as two short cylinders and a rod, m."""
    s = turbo.sizes
    yield _scroll("Turbine housing", turbo.turbine, turbo.shaft, s.turbine, TURBINE_SCROLL)
    yield _scroll("Compressor housing", turbo.compressor, turbo.shaft, s.compressor, COMPRESSOR_SCROLL)
    yield dataclasses.replace(rod("Centre section", turbo.turbine, turbo.compressor, 0.36 * s.turbine), mounted=True)


def engine_bodies(space: Space, found: Layout) -> Iterator[Body]:
    """Heads and blocks as boxes of usual sizes, m."""
    head = space.head
    for bank in range(head.banks):
        ports = [p.origin for c, p in enumerate(found.ports, 1) if head.bank_of(c) == bank]
        if not ports:
            continue
        sign = 1.0 if bank == 0 else -1.0
        middle = np.mean(ports, axis=0) - np.array([0.0, 0.0, sign * head.flange])
        deep = min(HEAD_DEEP, 0.5 * head.bank_distance) if head.banks > 1 else HEAD_DEEP
        wide = head.spacing * (len(ports) + 0.5)
        for name, low, high in (("Cylinder head", -HEAD_LOW, HEAD_HIGH), ("Engine block", -HEAD_LOW - BLOCK, -HEAD_LOW)):
            centre = middle + np.array([0.0, 0.5 * (low + high), -0.5 * sign * deep])
            yield Body(
                name=name, shape=Shape.BOX, centre=centre, axes=np.eye(3), half=0.5 * np.array([wide, high - low, deep]), mounted=True
            )


def cooler_bodies(space: Space, found: Layout) -> Iterator[Body]:
    """The core of the intercooler as a box, m."""
    if found.cooler is not None and space.cooler is not None:
        wide, high, deep = space.cooler
        frame = cooler_frame(found.cooler, wide)
        centre = frame.moved(0.5 * wide).origin
        yield Body(
            name="Intercooler", shape=Shape.BOX, centre=centre, axes=frame.axes.T, half=0.5 * np.array([deep, high, wide]), mounted=True
        )


def obstacle_bodies(obstacles: Sequence[Obstacle], heat: Mapping[str, float], roll: Motion | None = None) -> list[Body]:
    """The bodies of `obstacles` with all that they sweep, and what the engine sweeps when it rolls (`roll`), larger by the gap that each
    wants: its room, or what its heat limit asks for (`heat`: m for each thing that minds) where that is more."""
    found = []
    for one in obstacles:
        gap = max(one.room, heat.get(KINDS[one.kind].minds, 0.0) + one.slack)
        bodies = list(one.bodies) if one.motion is None else [*one.motion.swept(one.bodies)]
        if roll is not None and not one.on_engine:
            still = [body for body in one.bodies if body.shape is not Shape.SCAN]
            bodies += roll.swept(still) if still else ()
            # A scan in many poses would be as many scans
            far = roll.path([body for body in one.bodies if body.shape is Shape.SCAN])[0] if len(still) < len(one.bodies) else 0.0
            bodies = [grown(body, 0.5 * far) if body.shape is Shape.SCAN else body for body in bodies]
        found += [grown(body, max(gap - CLEARANCE, 0.0)) for body in bodies]
    return found


def segments_of(start: Frame, end: np.ndarray, tube: Tube, bore: float, wall: float) -> tuple[Segment, ...]:
    """The pieces of a `tube` that begins in the frame `start` and ends at the place `end` m, with a `bore` m and a `wall` m."""
    corners = np.vstack([start.origin, tube.corners.reshape(-1, 3), end])
    legs = np.diff(corners, axis=0)
    long = np.linalg.norm(legs, axis=1)
    ways = list(legs / long[:, None])
    angles = [turn_between(a, b) for a, b in itertools.pairwise(ways)]
    cut = np.array([0.0, *(r * math.tan(0.5 * a) for r, a in zip(tube.radii, angles, strict=True)), 0.0])
    straights = [float(value) for value in long - cut[:-1] - cut[1:]]
    return tuple(dataclasses.replace(s, wall=wall) for s in path(start, bore, list(tube.radii), ways, straights))
