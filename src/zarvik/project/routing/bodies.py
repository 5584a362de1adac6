"""What pipes of a build are laid through: obstacles with their room, other pipes, turbo, intercooler and engine."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping, Sequence

import numpy as np

from zarvik.core.bay.clearance import Growth, Obstacle
from zarvik.core.bay.kinds import KINDS
from zarvik.core.bay.motion import Motion, larger
from zarvik.core.limits.limits import APART
from zarvik.core.solids.bodies import Body, Shape, group

CLEARANCE = APART.good
WELDED = 0.015  # m of straight between bends, for a saw and a torch; common practice, no source
OWN_GAP = 0.010  # m to other pipes of the build: heat and a hand file; common practice, no source


def grown(body: Body, by: float, *, mounted: bool = False) -> Body:
    """A body that is larger by so many m on all sides."""
    return dataclasses.replace(larger(body, by), mounted=mounted)


def obstacle_bodies(
    obstacles: Sequence[Obstacle], heat: Mapping[str, float], roll: Motion | None = None, growth: Growth | None = None
) -> list[Body]:
    """The bodies of `obstacles` with all that they sweep, and what the engine sweeps when it rolls (`roll`), larger by the gap that each
    wants: its room, or what its heat limit asks for (`heat`: m for each thing that minds) where that is more; and where a pipe finds them
    when it has grown (`growth`)."""
    found = []
    for one in obstacles:
        gap = max(one.room, heat.get(KINDS[one.kind].minds, 0.0) + one.slack)
        bodies = list(one.bodies) if one.motion is None else [*one.motion.swept(one.bodies)]
        still = [body for body in one.bodies if body.shape is not Shape.SCAN]
        if growth is not None:
            # Seen from the pipe as it is cold, what stands there comes towards it
            bodies += [dataclasses.replace(body, centre=body.centre - growth.by(body.centre)) for body in still if not body.members]
            bodies = [grown(body, float(np.linalg.norm(growth.by(body.centre)))) if body.shape is Shape.SCAN else body for body in bodies]
        if roll is not None and not one.on_engine:
            bodies += roll.swept(still) if still else ()
            # A scan in many poses would be as many scans
            far = roll.path([body for body in one.bodies if body.shape is Shape.SCAN])[0] if len(still) < len(one.bodies) else 0.0
            bodies = [grown(body, 0.5 * far) if body.shape is Shape.SCAN else body for body in bodies]
        if bodies:
            found.append(grown(group(one.name, bodies), max(gap - CLEARANCE, 0.0)))
    return found
