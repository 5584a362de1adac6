"""Bodies as binary STL, in millimetres as slicers and CAD take it."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

_TRIANGLE = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])


def stl(bodies: Iterable[tuple[np.ndarray, np.ndarray]]) -> bytes:
    """`bodies` (corners in m, triangles) as one binary STL file in mm. Raises ValueError where there is nothing."""
    every = [corners[triangles] for corners, triangles in bodies if len(triangles)]
    if not every:
        raise ValueError("there is no body")
    corners = np.vstack(every) * 1000.0
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(normal, axis=1, keepdims=True)
    table = np.zeros(len(corners), _TRIANGLE)
    table["normal"] = normal / np.where(size > 0.0, size, 1.0)
    table["corners"] = corners
    return b"Zarvik".ljust(80) + np.uint32(len(corners)).tobytes() + table.tobytes()
