"""Named variants of a design: keep the present one, go back to one, tell what differs."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from zarvik.core.ducts.pieces import KINDS as PIECES
from zarvik.project.document.document import Project, Variant
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.naming import numbered
from zarvik.project.document.parts.connections import ConnectionNote
from zarvik.project.document.parts.part import field_meta
from zarvik.project.document.places import PRIMARIES
from zarvik.project.edits.edits import RUN_TITLES, RUNS
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import entry_text
from zarvik.project.units.units import UNKNOWN, EntryError, Quantity

# What stands beside a design and is no part of it.
_BESIDE = ("variants", "adopted", "units", "name", "note", "invented", "document", "schema_version", "pieces_cut")
_ROOMS = {
    "goal": "Goal",
    "engine": "Engine",
    "wastegate": "Wastegate",
    "blower": "Blower",
    "bay": "Engine bay",
    "fittings": "Fittings",
    "towing": "Towing",
    "joints": "Joints",
    "leak_test": "Leak test",
    "fluid_lines": "Oil and fuel",
    "runners": "Runners",
    "air_meter": "Air meter",
    "ports": "Ports",
    "radiator": "Radiator",
    "breather": "Breather",
    "turbo_coolant": "Coolant",
    "fuel_rail": "Fuel rail",
    "intercooler": "Intercooler",
    "turbine": "Turbine",
    "search": "Requirements",
    "workshop": "Shop",
    "car": "Car",
}


@dataclass(frozen=True)
class Difference:
    """An entry that differs between two designs: its `place` in the document, its title, and what
    stands in either; a dash where it is missing."""

    place: str
    title: str
    one: str
    two: str


def names(project: Project) -> tuple[str, ...]:
    """Names of the variants that are kept."""
    return tuple(v.name for v in project.variants)


def find(project: Project, name: str) -> Project:
    """The design of a variant; raises KeyError."""
    for variant in project.variants:
        if variant.name == name:
            return variant.design
    raise KeyError(name)


def keep(project: Project, name: str) -> Project:
    """The document with its present design kept under `name`; raises EntryError when the name is
    empty, too long or taken."""
    name = " ".join(name.split())
    if not 1 <= len(name) <= 60:
        raise EntryError(tr_format("A variant needs a name of 1 to 60 characters"))
    if name in names(project):
        raise EntryError(tr_format("There is already a variant “{0}”", name))
    design = project.model_copy(update={"variants": (), "adopted": ()})
    variant = Variant(name=name, design=design)
    return project.model_copy(update={"variants": (*project.variants, variant)})


def enter(project: Project, name: str) -> Project:
    """The document with the design of a variant as its present one; the variants stay."""
    design = find(project, name)
    beside = {key: getattr(project, key) for key in _BESIDE}
    return design.model_copy(update=beside)


def remove(project: Project, name: str) -> Project:
    """The document without a variant; raises KeyError."""
    find(project, name)
    rest = tuple(v for v in project.variants if v.name != name)
    return project.model_copy(update={"variants": rest})


def free_name(project: Project) -> str:
    """A name for a new variant that no other carries."""
    taken = names(project)
    letters = [chr(ord("A") + i) for i in range(26)]
    return next((n for n in letters if n not in taken), f"Variant {len(taken) + 1}")


def same_design(one: Project, two: Project) -> bool:
    """Are the two the same but for what stands beside a design?"""
    level = {key: getattr(one, key) for key in _BESIDE}
    return two.model_copy(update=level) == one


def differences(one: Project, two: Project) -> tuple[Difference, ...]:
    """Every entry that differs, in the order of the document."""
    return tuple(_parts("", "", one, two))


def _alike(one: Quantity, two: Quantity) -> bool:
    return math.isclose(one.si, two.si, rel_tol=1e-9, abs_tol=1e-12)


def _text(value: Any, blank: str = "") -> str:
    if isinstance(value, bool):
        return tr("yes") if value else tr("no")
    if isinstance(value, Quantity):
        return entry_text(value, blank)
    return str(value)


def _parts(place: str, title: str, one: BaseModel, two: BaseModel) -> Iterator[Difference]:
    for key in type(one).model_fields:
        if not place and key in _BESIDE:
            continue
        a, b = getattr(one, key), getattr(two, key)
        here = f"{place}.{key}" if place else key
        if a == b:
            continue
        if not place and key in RUNS:
            yield from _run(key, a, b)
        elif not place and key == "turbo":
            names = [t.name if (t := design.chosen) else "–" for design in (one, two)]  # type: ignore[attr-defined]
            yield Difference("turbo", tr("Turbo"), *names)
        elif key == "turbos":
            yield from _turbos(one, two)
        elif key == PRIMARIES:
            yield from _primaries(a, b)
        elif key == "stock":
            yield from _stock(a, b)
        elif key == "bay_objects":
            yield from _objects(a, b)
        elif key == "joints":
            yield from _noted(a, b)
        elif isinstance(a, BaseModel) and isinstance(b, BaseModel):
            yield from _parts(here, tr(_ROOMS[key]) if key in _ROOMS else title, a, b)
        elif isinstance(a, Quantity) and isinstance(b, Quantity) and _alike(a, b):
            continue
        elif isinstance(a, Quantity) and isinstance(b, Quantity) and a.known == b.known == UNKNOWN:
            continue  # an estimate that follows from what differs
        else:
            yield Difference(here, _title(one, key, title), *_shown(one, key, a, b))


def _noted(a: tuple[ConnectionNote, ...], b: tuple[ConnectionNote, ...]) -> Iterator[Difference]:
    """Lines of the connection list: what was said of each."""
    one, two = {n.id: n for n in a}, {n.id: n for n in b}
    for key in dict.fromkeys((*one, *two)):
        if key in one and key in two:
            name = one[key].name or two[key].name or key
            yield from _parts(f"joints.{key}", tr_format("Joints: {0}", name), one[key], two[key])
        else:
            here = [n.name or tr("entered") if (n := found.get(key)) is not None else "–" for found in (one, two)]
            yield Difference(f"joints.{key}", tr("Joints"), *here)


def _title(owner: BaseModel, key: str, room: str) -> str:
    meta = field_meta(owner, key)
    words = tr(meta.title) if meta else key.replace("_", " ")
    return f"{room}: {words}" if room else words


def _shown(owner: BaseModel, key: str, a: Any, b: Any) -> tuple[str, str]:
    meta = field_meta(owner, key)
    if isinstance(meta, Choice):
        titles = dict(meta.options())
        return tr(titles.get(a, str(a))), tr(titles.get(b, str(b)))
    if isinstance(meta, QuantitySpec):
        return _text(a, meta.blank), _text(b, meta.blank)
    if isinstance(a, str | bool | float | int):
        return _text(a), _text(b)
    return tr("as saved"), tr("changed")


def _turbos(one: Any, two: Any) -> Iterator[Difference]:
    before = {t.id: t for t in one.turbos}
    for turbo in two.turbos:
        old = before.get(turbo.id)
        if old is not None and old.turbine != turbo.turbine:
            yield from _parts(f"turbos.{turbo.id}.turbine", tr("Turbine"), old.turbine, turbo.turbine)


def _stock(one: tuple[Any, ...], two: tuple[Any, ...]) -> Iterator[Difference]:
    before, after = {s.id: s for s in one}, {s.id: s for s in two}
    for key in (*before, *(k for k in after if k not in before)):
        if key in before and key in after:
            yield from _parts(f"stock.{key}", tr("Stock"), before[key], after[key])
        else:
            yield Difference(f"stock.{key}", tr("Stock"), tr("there") if key in before else "–", tr("new") if key in after else "–")


def _objects(one: tuple[Any, ...], two: tuple[Any, ...]) -> Iterator[Difference]:
    """What stands in the engine bay."""
    before, after = {s.id: s for s in one}, {s.id: s for s in two}
    for key in (*before, *(k for k in after if k not in before)):
        if key in before and key in after:
            yield from _parts(f"bay_objects.{key}", before[key].name or tr("Engine bay"), before[key], after[key])
        else:
            name = (before.get(key) or after[key]).name
            title = tr_format("Engine bay: {0}", name) if name else tr("Engine bay")
            yield Difference(f"bay_objects.{key}", title, tr("there") if key in before else "–", tr("new") if key in after else "–")


def _primaries(one: tuple[Any, ...], two: tuple[Any, ...]) -> Iterator[Difference]:
    before, after = {p.id: p for p in one}, {p.id: p for p in two}
    for primary in two:
        old = before.get(primary.id)
        name = tr_format("Primary of cylinder {0}", primary.cylinder)
        if old is None:
            yield Difference(f"{PRIMARIES}.{primary.id}", name, "–", tr("new"))
            continue
        yield from _parts(f"{PRIMARIES}.{primary.id}", name, old.model_copy(update={"pieces": primary.pieces}), primary)
        yield from _run(f"{PRIMARIES}.{primary.id}.pieces", old.pieces, primary.pieces, name)
    for primary in one:
        if primary.id not in after:
            yield Difference(f"{PRIMARIES}.{primary.id}", tr_format("Primary of cylinder {0}", primary.cylinder), tr("there"), "–")


def _run(run: str, one: tuple[Any, ...], two: tuple[Any, ...], title: str = "") -> Iterator[Difference]:
    title = title or tr(RUN_TITLES[run])
    before, after = {p.id: p for p in one}, {p.id: p for p in two}
    for piece in one:
        if piece.id not in after:
            yield Difference(f"{run}.{piece.id}", f"{title}: {numbered(one, piece)}", tr("there"), "–")
    for piece in two:
        old = before.get(piece.id)
        name = f"{title}: {numbered(two, piece)}"
        if old is None:
            yield Difference(f"{run}.{piece.id}", name, "–", tr("new"))
        elif type(old) is type(piece):
            yield from _parts(f"{run}.{piece.id}", numbered(two, piece), old, piece)
        else:
            yield Difference(f"{run}.{piece.id}", name, tr(PIECES[old.kind].title), tr(PIECES[piece.kind].title))
    both = [p.id for p in one if p.id in after]
    if both != [p.id for p in two if p.id in before]:
        yield Difference(run, tr_format("{0}: order of pieces", title), tr("as saved"), tr("changed"))
