"""What pipes of a build are laid through: obstacles with their room, other pipes, turbo, intercooler and engine; and tubes as pieces."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Mapping, Sequence

import numpy as np

from zarvik.core.bay.clearance import Obstacle
from zarvik.core.bay.kinds import KINDS
from zarvik.core.bay.motion import Motion, larger
from zarvik.core.layout.closing import path, turn_between
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.run import Segment
from zarvik.core.limits.limits import APART
from zarvik.core.routing.bay import Tube
from zarvik.core.solids.bodies import Body, Shape

CLEARANCE = APART.good
WELDED = 0.015  # m of straight between bends, for a saw and a torch; common practice, no source
OWN_GAP = 0.010  # m to other pipes of the build: heat and a hand file; common practice, no source


def grown(body: Body, by: float, *, mounted: bool = False) -> Body:
    """A body that is larger by so many m on all sides."""
    return dataclasses.replace(larger(body, by), mounted=mounted)


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
