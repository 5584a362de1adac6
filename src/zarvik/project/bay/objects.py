"""Objects of the engine bay: from the document to bodies, and new ones."""

from __future__ import annotations

import itertools

from zarvik.core.bay.clearance import Obstacle
from zarvik.core.common.identity_cache import IdentityCache
from zarvik.project.bay.placing import Placed, Placing
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import BayObject
from zarvik.project.layout.layout import head_of

_MADE: IdentityCache[tuple[Obstacle, ...]] = IdentityCache()


def obstacles_of(project: Project) -> tuple[Obstacle, ...]:
    """Everything that a document says of its bay; marks are only measured from."""
    beside = (project.layout.head, *((project.engine,) if any(one.tapes for one in project.bay_objects) else ()))
    return _MADE.of((project.bay_objects, *beside), lambda: tuple(one.obstacle for one in placed_objects(project)))


def placed_objects(project: Project) -> tuple[Placed, ...]:
    """Every object of the bay where it stands, in the order of the document."""
    return Placing(project.bay_objects, head_of(project)).all() if project.bay_objects else ()


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
