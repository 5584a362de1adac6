"""The bodies of a build in its bay: pipes, turbo, intercooler, heads and blocks, in simple shapes."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Iterator, Sequence

import numpy as np

from zarvik.core.bay.clearance import cooler_frame
from zarvik.core.layout.bodies import BLOCK, COMPRESSOR_SCROLL, HEAD_DEEP, HEAD_HIGH, HEAD_LOW, TURBINE_SCROLL, TurboBody
from zarvik.core.layout.placement import Layout, Line, Space
from zarvik.core.layout.run import Placed
from zarvik.core.solids.bodies import Body, Shape, axes_along, rod

STEP = math.radians(30.0)  # of a bend that is taken as one rod


def line_bodies(line: Line, by: float) -> Iterator[Body]:
    """A pipe (`line`) as rods, larger by so many m: one for a straight, one for each `STEP` of a bend."""
    yield from piece_bodies(line.key, line.placed, by)


def piece_bodies(name: str, pieces: Sequence[Placed], by: float) -> Iterator[Body]:
    """Pieces of a pipe as rods of a `name`, larger by so many m."""
    for part in pieces:
        s = part.segment
        radius = 0.5 * max(s.bore_in, s.bore_out) + s.wall + by
        steps = max(math.ceil(s.angle / STEP), 1) if s.bends else 1
        places = [part.at(k / steps).origin for k in range(steps + 1)]
        # The middle of a bend is that much beside the chord of a step
        aside = s.radius * (1.0 - math.cos(0.5 * s.angle / steps)) if s.bends else 0.0
        yield from (rod(name, a, b, radius + 0.5 * aside) for a, b in itertools.pairwise(places))


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
        frame = cooler_frame(found.cooler, space.cooler)
        centre = frame.moved(0.5 * wide).origin
        yield Body(
            name="Intercooler", shape=Shape.BOX, centre=centre, axes=frame.axes.T, half=0.5 * np.array([deep, high, wide]), mounted=True
        )


def filter_bodies(space: Space) -> Iterator[Body]:
    """The air filter as a cylinder, m, where somebody says where it is."""
    if space.filter.measured and min(space.filter_size) > 0.0:
        diameter, length = space.filter_size
        frame = space.filter.frame
        half = np.array([0.5 * length, 0.5 * diameter, 0.0])
        yield Body(
            name="Air filter", shape=Shape.CYLINDER, centre=frame.moved(-0.5 * length).origin, axes=axes_along(frame.along), half=half,
            mounted=True,
        )  # fmt: skip


def still_bodies(space: Space, found: Layout) -> Iterator[Body]:
    """What pipes are laid round beside each other: engine, intercooler and air filter, m."""
    yield from (*engine_bodies(space, found), *cooler_bodies(space, found), *filter_bodies(space))
