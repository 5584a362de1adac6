"""The room that primaries are to stay in: so far from the head face, so far below and above the ports."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from zarvik.core.layout.placement import PRIMARY, Layout, Space
from zarvik.core.solids.bodies import Body, Shape

WIDE = 4.0  # m that the wall beyond a limit is wide
ALONG = np.linspace(0.0, 1.0, 13)  # of a piece


def _face(space: Space, found: Layout, cylinders: Sequence[int]) -> tuple[np.ndarray, tuple[tuple[int, float, float], ...]]:
    """The middle of the ports of some cylinders, m, and for each side of the envelope its axis, which way it goes along it, and where it
    begins, m."""
    middle = np.mean([found.ports[c - 1].origin for c in cylinders], axis=0)
    sign = -1.0 if space.head.banks > 1 and space.head.bank_of(cylinders[0]) else 1.0
    return middle, ((2, sign, middle[2] - sign * space.head.flange), (1, -1.0, middle[1]), (1, 1.0, middle[1]))


def walls(space: Space, found: Layout, cylinders: Sequence[int], behind: float) -> Iterator[Body]:
    """Walls beyond the envelope of the primaries of some cylinders, so many m `behind` its limits; none where there are no limits."""
    middle, sides = _face(space, found, cylinders)
    for limit, (axis, way, begin) in zip(space.envelope, sides, strict=True):
        if limit > 0.0:
            centre = middle.copy()
            centre[axis] = begin + way * (limit + behind + 0.5 * WIDE)
            yield Body(name="Envelope", shape=Shape.BOX, centre=centre, axes=np.eye(3), half=np.full(3, 0.5 * WIDE))


def reach_of(space: Space, found: Layout) -> tuple[float, float, float]:
    """How far primaries of pieces reach out from the head face, below and above the ports, to their skins, m; 0 where there are none."""
    farthest = [0.0, 0.0, 0.0]
    cylinder = {PRIMARY + p.id: p.cylinder for p in space.primaries}
    for line in found.primaries:
        if cylinder.get(line.key, 0) not in range(1, len(found.ports) + 1):
            continue
        bank = space.head.bank_of(cylinder[line.key])
        own = [c for c in range(1, len(found.ports) + 1) if space.head.bank_of(c) == bank]
        sides = _face(space, found, own)[1]
        for part in line.placed:
            radius = 0.5 * part.segment.bore_in + part.segment.wall
            for share in ALONG:
                place = part.at(share).origin
                for number, (axis, way, begin) in enumerate(sides):
                    farthest[number] = max(farthest[number], way * (place[axis] - begin) + radius)
    return farthest[0], farthest[1], farthest[2]
