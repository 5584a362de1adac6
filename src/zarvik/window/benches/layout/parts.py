"""Parts that stand in space by their measures: which of them is seen at a point, and how far along, up and out it stands."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
from PySide6.QtCore import QPointF
from shapely.geometry import MultiPoint, Point

from zarvik.core.layout.placement import Layout, Space
from zarvik.project.document.document import Project
from zarvik.project.document.places import get
from zarvik.window.benches.layout.bodies import Body
from zarvik.window.benches.layout.camera import Camera
from zarvik.window.benches.layout.presenter import Handle

TURBO, COOLER_IN, COOLER_OUT, THROTTLE, TAIL, FILTER = "turbo", "cooler_in", "cooler_out", "throttle", "tail", "filter"
PARTS = {
    TURBO: "Turbine flange",
    COOLER_IN: "Intercooler inlet",
    COOLER_OUT: "Intercooler outlet",
    THROTTLE: "Throttle",
    FILTER: "Air filter",
    TAIL: "Exhaust outlet",
}
ALONG, UP, OUT = "along", "up", "out"
WAYS = {ALONG: np.array([1.0, 0.0, 0.0]), UP: np.array([0.0, 1.0, 0.0]), OUT: np.array([0.0, 0.0, 1.0])}
REACH = 0.11  # m from a part to its arrows
BODY_OF = {
    TURBO: ("turbine:", "compressor:", "centre:", "gas-", "air-", "drain:", "turbine-flange:", "blower-"),
    COOLER_IN: ("cooler",),
    FILTER: ("filter",),
}


def parts_of(space: Space) -> list[str]:
    """Parts whose place somebody measured, and the turbo, which always stands somewhere; a blower stands by its outlet pipe."""
    measured = {COOLER_IN: space.cooler_in, COOLER_OUT: space.cooler_out, THROTTLE: space.throttle, FILTER: space.filter, TAIL: space.tail}
    found = [] if space.blown else [TURBO]
    return found + [key for key, spot in measured.items() if spot.measured and (space.cooler is not None or "cooler" not in key)]


def part_handles(project: Project, part: str, layout: Layout) -> Iterator[Handle]:
    """An arrow each along the crank, up and out, with the place in the document that it changes."""
    place = f"layout.{part}"
    if part == TURBO and not layout.turbos:
        return
    origin = np.array([get(project, f"{place}.{way}").si for way in WAYS])
    for name, way in WAYS.items():
        value = get(project, f"{place}.{name}").si
        yield Handle(
            name=name, place=f"{place}.{name}", value=value, point=origin + REACH * way, next=origin + (REACH + 0.01) * way, by=0.01
        )


def part_at(bodies: Sequence[Body], eye: Camera, wide: float, tall: float, at: QPointF, known: Sequence[str]) -> str:
    """The part that is seen at a point of the picture (px), of those that are `known`; empty for none. A body is taken as filled out."""
    best, found = -np.inf, ""
    for part in known:
        for body in bodies:
            if not body.key.startswith(BODY_OF.get(part, ("\n",))):
                continue
            seen = eye.seen(body.corners, wide, tall)
            if seen[:, 2].max() > best and MultiPoint(seen[:, :2]).convex_hull.intersects(Point(at.x(), at.y())):
                best, found = float(seen[:, 2].max()), part
    return found
