"""Designs that a document keeps beside its own one, as what differs from it.

A variant is a whole design, and most of it stands in the document already. The file says of a variant only what is different:
`{"name": "As bought", "differs": {"brief": {"target_power": "250 hp"}}}`. What differs is put together as in a JSON merge
patch (RFC 7386: objects entry by entry, null takes an entry away), and lists of parts with keys, which that patch can only
replace, part by part: `{"changed": {KEY: entries that differ, or the whole part}, "order": [keys, where they are others or
stand otherwise]}`.
"""

from __future__ import annotations

from typing import Any

from pydantic import ModelWrapValidatorHandler, ValidationError, model_validator

from zarvik.project.document.document import MOST_VARIANTS, AdoptedDesign, Project, Variant, check_whole
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import EntryError

# What a kept design has in common with the document it stands in, or cannot hold at all.
NEVER = ("variants", "adopted", "document", "schema", "schema_version")

Tree = dict[str, Any]


class _PartialProject(Project):
    """Some rooms of a document, read without asking whether they are one by themselves."""

    @model_validator(mode="wrap")
    @classmethod
    def _whole(cls, value: Any, handler: ModelWrapValidatorHandler[_PartialProject]) -> _PartialProject:
        return handler(value)


def differs(old: Any, new: Any) -> Any:
    """What makes `new` of `old`, both of JSON and not equal: `patched(old, differs(old, new)) == new` but for
    entries that are null in `new`, which are left out."""
    if isinstance(old, dict) and isinstance(new, dict):
        gone: Tree = {key: None for key in old if key not in new}
        return gone | {
            key: differs(old[key], item) if key in old else item for key, item in new.items() if key not in old or item != old[key]
        }
    if isinstance(old, list) and isinstance(new, list) and old and _keyed(old) and _keyed(new):
        parts = {part["id"]: part for part in old}
        changed = {
            part["id"]: differs(parts[part["id"]], part) if part["id"] in parts else part for part in new if parts.get(part["id"]) != part
        }
        order = [part["id"] for part in new]
        return {"changed": changed} | ({"order": order} if order != list(parts) else {})
    return new


def patched(old: Any, patch: Any) -> Any:
    """What `differs` told, carried out on `old`. Raises ValueError where the patch does not fit."""
    if isinstance(patch, dict) and isinstance(old, dict):
        new = {key: item for key, item in old.items() if patch.get(key, item) is not None or item is None}
        for key, item in patch.items():
            if item is not None:
                new[key] = patched(old.get(key), item)
        return new
    if isinstance(patch, dict) and isinstance(old, list) and "changed" in patch:
        return _parts_patched(old, patch)
    return patch


def _parts_patched(old: list[Any], patch: Tree) -> list[Any]:
    """A list of parts with keys, some of them changed, in another order, more or fewer."""
    changed = patch["changed"]
    if not isinstance(changed, dict) or not _keyed(old):
        raise ValueError(tr_format("the list differences of a variant have no keys"))
    parts = {part["id"]: part for part in old}
    order = patch.get("order", list(parts))
    if not isinstance(order, list) or not all(isinstance(key, str) and (key in parts or key in changed) for key in order):
        raise ValueError(tr_format("the part order names an unknown part"))
    return [patched(parts.get(key), changed[key]) if key in changed else parts[key] for key in order]


def _keyed(parts: list[Any]) -> bool:
    keys = [part.get("id") for part in parts if isinstance(part, dict)]
    return len(keys) == len(parts) and all(isinstance(key, str) for key in keys) and len(set(keys)) == len(keys)


def tree_of(project: Project) -> Tree:
    """The document as JSON, what it keeps said as what differs."""
    bare = project.model_copy(update={"variants": (), "adopted": ()})
    tree: Tree = bare.model_dump(mode="json", by_alias=True)
    for name, parts in (("variants", project.variants), ("adopted", project.adopted)):
        tree[name] = [
            {**part.model_dump(mode="json", by_alias=True, exclude={"design"}), "differs": _design_differs(bare, tree, part.design)}
            for part in parts
        ]
    return tree


def _design_differs(base: Project, tree: Tree, design: Project) -> Tree:
    """What differs, by rooms: one that is the same object, or equal, is not even written down to be compared."""
    rooms = [name for name in type(base).model_fields if name not in NEVER and getattr(base, name) != getattr(design, name)]
    mine, own = base.model_extra or {}, design.model_extra or {}
    rooms += [name for name in mine.keys() | own.keys() if mine.get(name) != own.get(name)]
    said = design.model_dump(mode="json", by_alias=True, include=set(rooms))
    found: Tree = differs({name: tree[name] for name in rooms if name in tree}, said)
    return dict(sorted(found.items()))


def read(tree: Tree) -> Project:
    """The document in a `tree`; raises pydantic's ValidationError, EntryError, Misfit.

    The rooms that a kept design shares with the document are the very same objects, read and held once.
    """
    bare = Project.model_validate({key: item for key, item in tree.items() if key not in ("variants", "adopted")})
    kept: dict[str, tuple[Any, ...]] = {}
    for name, model, most in (("variants", Variant, MOST_VARIANTS), ("adopted", AdoptedDesign, 1)):
        parts = tree.get(name, [])
        if not isinstance(parts, list) or not all(isinstance(part, dict) and isinstance(part.get("differs"), dict) for part in parts):
            raise EntryError(tr_format("{0}: a variant needs its name and its differences", name))
        if len(parts) > most:
            raise EntryError(tr_format("{0}: a project can have at most {1} of these, not {2}", name, most, len(parts)))
        kept[name] = tuple(_part(bare, tree, name, model, part) for part in parts)
    project = bare.model_copy(update=kept)
    try:
        check_whole(project)
    except ValueError as error:
        raise EntryError(str(error)) from None
    return project


def _part(bare: Project, tree: Tree, room: str, model: type[Variant] | type[AdoptedDesign], part: Tree) -> Variant | AdoptedDesign:
    try:
        said = {key: item for key, item in part.items() if key not in ("differs", "design")}
        return model.model_validate({**said, "design": _design(bare, tree, part["differs"])})
    except (ValidationError, EntryError, ValueError) as error:
        raise Misfit(room, str(part.get("name", part.get("title", ""))), error) from None


class Misfit(Exception):
    """A kept design that cannot be read: the list it stands in, its name, and what is wrong with it."""

    def __init__(self, room: str, name: str, cause: ValueError) -> None:
        super().__init__(room, name, cause)
        self.room, self.name, self.cause = room, name, cause


def _design(base: Project, tree: Tree, patch: Tree) -> Project:
    """A kept design: the rooms of the patch read anew, in a list only the parts that differ."""
    rooms: Tree = {}
    gone = []
    for name, item in patch.items():
        if name in NEVER:
            raise EntryError(tr_format("a variant cannot have its own “{0}”", name))
        if item is None:
            gone.append(name)
            continue
        try:
            rooms[name] = patched(tree.get(name), item)
        except ValueError as error:
            raise EntryError(tr_format("{0}: {1}", name, error)) from None
        own = getattr(base, name, None)
        if isinstance(own, tuple) and isinstance(tree.get(name), list) and isinstance(item, dict):
            held = {part["id"]: made for part, made in zip(tree[name], own, strict=True)}
            changed = item.get("changed", {})
            keys = item.get("order", list(held))
            rooms[name] = [part if key in changed else held[key] for key, part in zip(keys, rooms[name], strict=True)]
    made_anew = _PartialProject.model_validate(rooms)
    fields = type(base).model_fields
    design = base.model_copy(update={name: getattr(made_anew, name) for name in (*rooms, *(n for n in gone if n in fields))})
    for name in gone:
        if design.model_extra:
            design.model_extra.pop(name, None)
    check_whole(design)
    return design
