"""Do tubes go? Looked at millimetre by millimetre, whatever made them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.routing.bay import Bay, Tube
from zarvik.core.routing.residuals import LARGEST, MARGIN, SMALLEST, STRAIGHT, of_bodies, of_itself, of_two, rules_of
from zarvik.core.routing.tubes import sample

FINE = 1e-3  # m from point to point
FORGIVEN = 5e-5  # m


@dataclass(frozen=True)
class Inspection:
    """`lengths` of the tubes, m; `faults`, what is wrong with them, by kind and by how much (m, or rad)."""

    lengths: tuple[float, ...]
    faults: tuple[tuple[str, float], ...]


def traced(bay: Bay, tube: Tube) -> tuple[np.ndarray, float, np.ndarray, np.ndarray]:
    """Points along a tube of a bay (any number, 4: place and how far along, m), its length m, its straights m, and its angles rad."""
    port, inlet = bay.ports[tube.port], bay.inlets[tube.inlet]
    bends = len(tube.radii)
    corners = np.vstack([port.place, tube.corners.reshape(-1, 3), inlet.place])
    legs, straights, angles = np.empty((bends + 1, 4)), np.empty(bends + 1), np.empty(max(bends, 1))
    points = np.empty((4, 4))
    length = sample(corners, bends, tube.radii, legs, straights, angles, points)
    points = np.empty((max(int(length / FINE), 8), 4))
    sample(corners, bends, tube.radii, legs, straights, angles, points)
    return points, length, straights, angles[:bends]


def inspect(bay: Bay, tubes: tuple[Tube, ...]) -> Inspection:
    """What is wrong with `tubes` in a bay."""
    rules = rules_of(bay)
    rules[MARGIN] = -FORGIVEN
    bodies = bay.packed()
    faults: list[tuple[str, float]] = []
    seen = []
    for tube in tubes:
        points, length, straights, angles = traced(bay, tube)
        out = np.empty(len(points))
        for kind, total in (("body", of_bodies(points, length, bodies, rules, out)), ("itself", of_itself(points, rules, out))):
            if total > 0.0:
                faults.append((kind, math.sqrt(total)))
        port, inlet = bay.ports[tube.port], bay.inlets[tube.inlet]
        corners = tube.corners.reshape(-1, 3)
        if len(corners):
            begin, end = (corners[0] - port.place) @ port.way, (inlet.place - corners[-1]) @ inlet.way
            faults += [("way", float(along)) for along in (begin, end) if along <= 0.0]
        faults += [("straight", rules[STRAIGHT] - s) for s in straights if s < rules[STRAIGHT] - 1e-6]
        faults += [("angle", float(a)) for a in angles if not rules[SMALLEST] <= a <= rules[LARGEST]]
        seen.append((points, length))
    for i, (one, long) in enumerate(seen):
        for other, other_long in seen[i + 1 :]:
            total = of_two(one, long, other, other_long, rules, np.empty(len(one)))
            if total > 0.0:
                faults.append(("each other", math.sqrt(total)))
    lengths = tuple(length for _, length in seen)
    mean = sum(lengths) / max(len(lengths), 1)
    if len(lengths) > 1 and max(lengths) - min(lengths) > bay.tolerance * mean:
        faults.append(("equal", max(lengths) - min(lengths)))
    if bay.length > 0.0 and abs(mean - bay.length) > bay.tolerance * bay.length:
        faults.append(("length", mean - bay.length))
    return Inspection(lengths, tuple(faults))
