"""Places in a document: dotted, as `brief.target_boost`, `cold_pipe.c4.bore` (a piece by its key),
`turbo`."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import field_meta
from zarvik.project.language.language import tr, tr_format

RUNS: tuple[str, ...] = ("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust")
RUN_TITLES = {
    "intake": "Intake",
    "hot_pipe": "Hot charge pipe",
    "cold_pipe": "Cold charge pipe",
    "manifold": "Exhaust manifold",
    "exhaust": "Exhaust",
}


PRIMARIES = "primaries"


def runs_of(project: Project) -> tuple[str, ...]:
    """Places of everything that holds pieces: the runs, and `primaries.KEY.pieces` for each primary of pieces."""
    return (*RUNS, *(f"{PRIMARIES}.{primary.id}.pieces" for primary in project.primaries))


def run_title(project: Project, run: str) -> str:
    """What a run is called: its title, or the cylinder of a primary."""
    if run in RUN_TITLES:
        return tr(RUN_TITLES[run])
    primary = get(project, run.rpartition(".")[0])
    return tr_format("Primary of cylinder {0}", primary.cylinder)


def split_place(place: str) -> tuple[str, str, str] | None:
    """A place of a piece as its run, key and what is behind it (which may be empty); None where it is of no piece."""
    parts = place.split(".")
    if parts[0] in RUNS and len(parts) > 1:
        return parts[0], parts[1], ".".join(parts[2:])
    if parts[0] == PRIMARIES and len(parts) > 3 and parts[2] == "pieces":
        return ".".join(parts[:3]), parts[3], ".".join(parts[4:])
    return None


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


def meta(project: Project, place: str) -> QuantitySpec | Choice | TextSpec | None:
    """Metadata of the field at `place`."""
    owner, _, name = place.rpartition(".")
    return field_meta(get(project, owner) if owner else project, name)


def with_value_at(project: Project, place: str, value: Any) -> Project:
    """The document with another value at `place`, unchecked."""
    changed: Project = _put(project, place.split("."), value)
    return changed


def _put(node: Any, keys: list[str], value: Any) -> Any:
    if not keys:
        return value
    if isinstance(node, tuple):
        return tuple(_put(item, keys[1:], value) if item.id == keys[0] else item for item in node)
    return node.model_copy(update={keys[0]: _put(_child(node, keys[0]), keys[1:], value)})
