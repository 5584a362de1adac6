"""Objects of the engine bay: from the document to bodies, and new ones."""

from __future__ import annotations

import itertools

import numpy as np

from zarvik.core.bay.bodies import Body, Shape, rod
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.bay.kinds import KINDS
from zarvik.core.common.identity_cache import IdentityCache
from zarvik.core.layout.frame import frame_looking
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import CYLINDER, NOT_MEASURED, SLACK, TUBE, BayObject
from zarvik.project.language.language import tr

_MADE: IdentityCache[tuple[Obstacle, ...]] = IdentityCache()
MM = 1e-3


def obstacles_of(project: Project) -> tuple[Obstacle, ...]:
    """Everything that a document says of its bay."""
    return _MADE.of((project.bay_objects,), lambda: tuple(_obstacle(one) for one in project.bay_objects))


def title(one: BayObject) -> str:
    """What an object is called: its name, else its kind."""
    return one.name or tr(KINDS[one.kind].title)


def points_of(one: BayObject) -> np.ndarray:
    """The points (any number, 3) m of a tube."""
    rows = [part.split() for part in one.points.split(";") if part.strip()]
    return np.array([[float(n) for n in row] for row in rows]).reshape(-1, 3) * MM


def _obstacle(one: BayObject) -> Obstacle:
    bodies: tuple[Body, ...]
    if one.shape == TUBE:
        bodies = tuple(rod(one.name, a, b, 0.5 * one.diameter.si) for a, b in itertools.pairwise(points_of(one)))
    else:
        frame = frame_looking(np.array([one.along.si, one.up.si, one.out.si]), one.heading.si, one.pitch.si)
        high, wide, along = frame.axes.T
        if one.shape == CYLINDER:
            axes, half = np.array([along, wide, high]), np.array([0.5 * one.diameter.si, 0.5 * one.length.si, 0.0])
        else:
            axes, half = np.array([along, wide, high]), 0.5 * np.array([one.length.si, one.width.si, one.height.si])
        shape = Shape.CYLINDER if one.shape == CYLINDER else Shape.BOX
        bodies = (Body(name=one.name, shape=shape, centre=frame.origin, axes=axes, half=half),)
    return Obstacle(id=one.id, name=title(one), kind=one.kind, bodies=bodies, slack=SLACK[one.measured], sure=one.measured != NOT_MEASURED)


def new_object(project: Project, kind: str, **values: str) -> tuple[Project, str]:
    """The document with one more object of a `kind` and entries as text, and its key. Raises ValueError where there are too many."""
    taken = {one.id for one in project.bay_objects}
    key = next(f"bay{n}" for n in itertools.count(1) if f"bay{n}" not in taken)
    made = BayObject.model_validate({"id": key, "kind": kind, **values})
    return with_objects(project, (*project.bay_objects, made)), key


def without_object(project: Project, key: str) -> Project:
    """The document without an object."""
    return with_objects(project, tuple(one for one in project.bay_objects if one.id != key))


def with_objects(project: Project, objects: tuple[BayObject, ...]) -> Project:
    """The document with other `objects` in its bay. Raises ValueError where they do not fit together."""
    return Project.model_validate(project.model_copy(update={"bay_objects": objects}))
