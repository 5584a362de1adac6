"""Triangles of simple bodies: to be drawn, printed and looked at in other programs."""

from __future__ import annotations

import itertools
import math

import numpy as np

from zarvik.core.solids.bodies import Body, Shape

SIDES = 28  # round a cylinder
RINGS = 6  # of a round end


def triangles_of(body: Body) -> tuple[np.ndarray, np.ndarray]:
    """Corners (any number, 3) m and triangles of a body, anticlockwise as seen from outside."""
    if body.mesh is not None:
        return body.mesh.corners, body.mesh.triangles
    if body.shape is Shape.BOX:
        corners = np.array(list(itertools.product((-1.0, 1.0), repeat=3))) * body.half
        faces = ((0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3))
        triangles = np.array([t for a, b, c, d in faces for t in ((a, b, c), (a, c, d))])
        if np.linalg.det(body.axes) < 0.0:
            triangles = triangles[:, ::-1]
        return body.centre + corners @ body.axes, triangles
    radius, half = float(body.half[0]), float(body.half[1])
    if body.shape is Shape.CYLINDER:
        rings = [(-half, radius), (half, radius)]
    else:
        steps = np.linspace(0.5 * math.pi, 0.0, RINGS, endpoint=True)[1:]
        one = [(half + radius * math.sin(a), radius * math.cos(a)) for a in steps]
        rings = [(-x, r) for x, r in one] + one[::-1]
    ends = (-half, half) if body.shape is Shape.CYLINDER else (-half - radius, half + radius)
    return _turned(body, rings, ends)


def _turned(body: Body, rings: list[tuple[float, float]], ends: tuple[float, float]) -> tuple[np.ndarray, np.ndarray]:
    """A body turned on a lathe: `rings` (how far along its axis, radius; m) between the middles of its `ends` (m along it)."""
    angle = np.linspace(0.0, 2.0 * math.pi, SIDES, endpoint=False)
    x, y, z = body.axes
    around = np.cos(angle)[:, None] * y + np.sin(angle)[:, None] * z
    corners = np.vstack([body.centre + along * x + radius * around for along, radius in rings])
    corners = np.vstack([corners, body.centre + ends[0] * x, body.centre + ends[1] * x])
    first, last, count = len(corners) - 2, len(corners) - 1, len(rings)
    triangles = []
    for k in range(SIDES):
        n = (k + 1) % SIDES
        triangles.append((first, n, k))
        top = (count - 1) * SIDES
        triangles.append((last, top + k, top + n))
        for ring in range(count - 1):
            a, b = ring * SIDES + k, ring * SIDES + n
            triangles += [(a, b, b + SIDES), (a, b + SIDES, a + SIDES)]
    found = np.array(triangles)
    return corners, found if float(np.linalg.det(body.axes)) > 0.0 else found[:, ::-1]
