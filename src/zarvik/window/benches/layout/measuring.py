"""A tape in the picture: which place of a body is clicked on, and how far two places are apart."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zarvik.window.benches.layout.bodies import GROUND, SEEN_THROUGH, Body
from zarvik.window.benches.layout.camera import Camera

FLAT = 1e-9  # px²: a triangle seen from its edge


def place_at(
    bodies: Sequence[Body], eye: Camera, size: tuple[float, float], at: tuple[float, float], cut: float | None
) -> np.ndarray | None:
    """The place (3) m of the nearest of `bodies` that is seen `at` so many px from the left and the top of a picture of that `size`, px;
    what one looks through counts only where nothing else is there; None where nothing is. `cut`: m towards who looks from where all is cut
    away."""
    found: tuple[bool, float, np.ndarray] | None = None
    for body in bodies:
        if body.tint == GROUND or not len(body.triangles):
            continue
        seen = eye.seen(body.corners, *size)
        if not (np.all(seen[:, :2].min(axis=0) <= at) and np.all(seen[:, :2].max(axis=0) >= at)):
            continue
        a, b, c = (seen[body.triangles[:, k]] for k in range(3))
        u, v, w = b[:, :2] - a[:, :2], c[:, :2] - a[:, :2], np.array(at) - a[:, :2]
        area = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
        whole = np.where(np.abs(area) > FLAT, area, 1.0)
        p = (w[:, 0] * v[:, 1] - w[:, 1] * v[:, 0]) / whole
        q = (u[:, 0] * w[:, 1] - u[:, 1] * w[:, 0]) / whole
        near = a[:, 2] + p * (b[:, 2] - a[:, 2]) + q * (c[:, 2] - a[:, 2])
        hit = (np.abs(area) > FLAT) & (p >= 0.0) & (q >= 0.0) & (p + q <= 1.0)
        if cut is not None:
            hit &= near <= cut
        if not hit.any():
            continue
        k = int(np.where(hit, near, -np.inf).argmax())
        first, second, third = body.corners[body.triangles[k]]
        rank = (body.tint not in SEEN_THROUGH, float(near[k]))
        if found is None or rank > found[:2]:
            found = (*rank, first + p[k] * (second - first) + q[k] * (third - first))
    return None if found is None else found[2]
