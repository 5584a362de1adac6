"""A belt round pulleys in one plane: how long it is, and how far it goes round each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault
from zarvik.core.solids.bodies import Body, Shape

MOST_WRAP = math.radians(320.0)  # round one pulley: more is less than nothing the other way round
THICK = 0.005  # m of a ribbed belt; common practice, no source


@dataclass(frozen=True)
class Pulley:
    """A pulley with its middle `up` and `out` m, a `diameter` m, and the belt's back on it (`back`)."""

    up: float
    out: float
    diameter: float
    back: bool = False


@dataclass(frozen=True, eq=False)
class BeltRun:
    """A belt: its `length` m; how far it goes round each pulley (`wraps`, rad); where its straights begin and end (`spans`: up, out m);
    which pulleys its back runs on (`backs`): those only guide it."""

    length: float
    wraps: tuple[float, ...]
    spans: tuple[tuple[tuple[float, float], tuple[float, float]], ...]
    backs: tuple[bool, ...]


def belt_run(pulleys: Sequence[Pulley]) -> BeltRun:
    """A belt round `pulleys` in the order in which it meets them. Straights touch both circles; where the belt's back lies on one of two,
    they cross between them (closed form of the tangents of two circles). Raises Fault with fewer than two, or where two overlap."""
    if len(pulleys) < 2:
        raise Fault("a belt needs two pulleys")
    middles = np.array([(one.up, one.out) for one in pulleys])
    after = np.roll(middles, -1, axis=0)
    area = float(np.sum(middles[:, 0] * after[:, 1] - after[:, 0] * middles[:, 1]))
    side = 1.0 if area >= 0.0 else -1.0
    signed = np.array([(-side if one.back else side) * 0.5 * one.diameter for one in pulleys])
    angles, length, spans = [], 0.0, []
    for k in range(len(pulleys)):
        n = (k + 1) % len(pulleys)
        way = middles[n] - middles[k]
        far, change = float(np.hypot(*way)), float(signed[n] - signed[k])
        if far <= abs(change) + 1e-9 or far < 0.5 * (pulleys[k].diameter + pulleys[n].diameter):
            raise Fault("pulleys {0} and {1} overlap", k + 1, n + 1)
        angle = math.atan2(way[1], way[0]) - math.asin(change / far)
        left = np.array([-math.sin(angle), math.cos(angle)])
        begin, end = middles[k] - signed[k] * left, middles[n] - signed[n] * left
        spans.append(((float(begin[0]), float(begin[1])), (float(end[0]), float(end[1]))))
        angles.append(angle)
        length += math.sqrt(far * far - change * change)
    wraps = []
    for k, radius in enumerate(signed):
        wrap = math.copysign(1.0, radius) * (angles[k] - angles[k - 1]) % (2.0 * math.pi)
        if wrap > MOST_WRAP:
            raise Fault("the belt does not touch pulley {0}", k + 1)
        wraps.append(wrap)
        length += abs(float(radius)) * wrap
    return BeltRun(length, tuple(wraps), tuple(spans), tuple(one.back for one in pulleys))


def belt_bodies(name: str, pulleys: Sequence[Pulley], along: float, width: float) -> tuple[Body, ...]:
    """Pulleys and straights of a belt that runs `along` m down the crank and is `width` m wide. Raises Fault as `belt_run`."""
    axes = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])
    found = [
        Body(
            name=name,
            shape=Shape.CYLINDER,
            centre=np.array([along, p.up, p.out]),
            axes=axes,
            half=np.array([0.5 * p.diameter, 0.5 * width, 0.0]),
        )
        for p in pulleys
    ]
    for (up, out), (to_up, to_out) in belt_run(pulleys).spans:
        way = np.array([0.0, to_up - up, to_out - out])
        long = float(np.linalg.norm(way))
        if long > 1e-6:
            x = way / long
            frame = np.array([x, [1.0, 0.0, 0.0], np.cross(x, [1.0, 0.0, 0.0])])
            middle = np.array([along, 0.5 * (up + to_up), 0.5 * (out + to_out)])
            found.append(Body(name=name, shape=Shape.BOX, centre=middle, axes=frame, half=0.5 * np.array([long, width, THICK])))
    return tuple(found)
