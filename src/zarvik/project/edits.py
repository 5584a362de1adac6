"""Every edit of a document, as pure functions from one document to the next.

A place is dotted: `brief.target_boost`, `cold_pipe.c4.bore` (a piece by its key), `turbo`.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from zarvik.project.document import Project, check_whole
from zarvik.project.fields import Choice, Of, Words
from zarvik.project.language import told, tr
from zarvik.project.parts.engine import TABLES, check_table
from zarvik.project.parts.part import field_meta
from zarvik.project.units import EntryError, Quantity

RUNS: tuple[str, ...] = ("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust")
RUN_TITLES = {
    "intake": "Intake",
    "hot_pipe": "Hot charge pipe",
    "cold_pipe": "Cold charge pipe",
    "manifold": "Exhaust manifold",
    "exhaust": "Exhaust",
}


def get(project: Project, place: str) -> Any:
    """What stands at `place`; raises KeyError."""
    node: Any = project
    for key in place.split("."):
        node = _child(node, key)
    return node


def _child(node: Any, key: str) -> Any:
    if isinstance(node, tuple):
        for item in node:
            if item.id == key:
                return item
        raise KeyError(key)
    if isinstance(node, BaseModel) and key in type(node).model_fields:
        return getattr(node, key)
    raise KeyError(key)


def meta(project: Project, place: str) -> Of | Choice | Words | None:
    """Metadata of the field at `place`."""
    owner, _, name = place.rpartition(".")
    return field_meta(get(project, owner) if owner else project, name)


def put(project: Project, place: str, value: Any) -> Project:
    """The document with another value at `place`; raises EntryError when it is not allowed."""
    found = meta(project, place)
    if isinstance(found, Of):
        if not isinstance(value, Quantity) or value.kind != found.kind:
            raise EntryError(told("{0}: a quantity is wanted here", tr(found.title)))
        found.check(value)
    if isinstance(found, Choice) and value not in [key for key, _ in found.options()]:
        raise EntryError(told("{0}: “{1}” is not to be chosen here", tr(found.title), value))
    owner, _, name = place.rpartition(".")
    if isinstance(found, Words):
        found.check(value)
    old = get(project, place)
    if isinstance(old, bool) and not isinstance(value, bool):
        raise EntryError(told("{0}: yes or no is wanted here", place))
    if owner == "engine" and name in TABLES:
        try:
            check_table(name, value)
        except ValueError as error:
            raise EntryError(str(error)) from None
    changed = _put(project, place.split("."), value)
    if place in changed.assumed and value != old:
        # Said now, so it is assumed no longer.
        left = tuple(p for p in changed.assumed if p != place)
        changed = changed.model_copy(update={"assumed": left})
    return whole(changed)


def whole(project: Project) -> Project:
    """The document itself when its parts fit together (keys, chosen turbo, numbers of parts); raises
    EntryError. Every way into the history goes through here."""
    try:
        check_whole(project)
    except ValueError as error:
        raise EntryError(str(error)) from None
    return project


def _put(node: Any, keys: list[str], value: Any) -> Any:
    if not keys:
        return value
    if isinstance(node, tuple):
        return tuple(_put(item, keys[1:], value) if item.id == keys[0] else item for item in node)
    return node.model_copy(update={keys[0]: _put(_child(node, keys[0]), keys[1:], value)})
