"""Every edit of a document, as pure functions from one document to the next.

A place is dotted: `brief.target_boost`, `cold_pipe.c4.bore` (a piece by its key), `turbo`.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from typing import Any

from pydantic import BaseModel

from zarvik.core.checks import Change
from zarvik.project.document import (
    PIECE_MODELS,
    TABLES,
    UNIT_PRESETS,
    Piece,
    Project,
    Turbo,
    Variant,
    check_table,
    check_whole,
    field_meta,
)
from zarvik.project.fields import Choice, Of, Words
from zarvik.project.units import EntryError, Quantity, unit_of

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
            raise EntryError(f"{found.title}: a quantity is wanted here")
        found.check(value)
    if isinstance(found, Choice) and value not in [key for key, _ in found.options()]:
        raise EntryError(f"{found.title}: “{value}” is not to be chosen here")
    owner, _, name = place.rpartition(".")
    if isinstance(found, Words):
        found.check(value)
    old = get(project, place)
    if isinstance(old, bool) and not isinstance(value, bool):
        raise EntryError(f"{place}: yes or no is wanted here")
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


def new_id(project: Project, kind: str) -> str:
    """A key for a new piece that no other carries."""
    taken = {piece.id for run in RUNS for piece in getattr(project, run)}
    return next(f"{kind}{n}" for n in itertools.count(1) if f"{kind}{n}" not in taken)


def run_of(project: Project, piece: str) -> str:
    """The run that holds the piece with this key; raises KeyError."""
    for run in RUNS:
        if any(p.id == piece for p in getattr(project, run)):
            return run
    raise KeyError(piece)


def _bore_before(pieces: tuple[Any, ...], index: int) -> Quantity | None:
    """The bore that the piece at `index` meets upstream, else downstream."""
    for piece, names in itertools.chain(
        ((p, ("bore_out", "bore")) for p in reversed(pieces[:index])),
        ((p, ("bore_in", "bore")) for p in pieces[index:]),
    ):
        for name in names:
            if hasattr(piece, name):
                return getattr(piece, name)
    return None


def insert_piece(
    project: Project, run: str, index: int, kind: str, **values: Any
) -> tuple[Project, str]:
    """A new piece of `kind` at `index` of a run, its bore taken from its neighbour.

    Returns the document and the key of the piece.
    """
    model = PIECE_MODELS[kind]
    pieces: tuple[Any, ...] = getattr(project, run)
    key = new_id(project, kind)
    fields: dict[str, Any] = {"id": key, "name": "", **values}
    bore = _bore_before(pieces, index)
    if bore is not None:
        for name in ("bore", "bore_in", "bore_out"):
            if name in model.model_fields and name not in fields:
                fields[name] = bore
        if kind == "bend" and "radius" not in fields:
            radius = Quantity(1.5 * bore.value, bore.unit, "length")
            fields["radius"] = Quantity(float(f"{radius.value:.6g}"), radius.unit, "length")
    if "material" in model.model_fields and "material" not in fields:
        near = next((p.material for p in pieces if hasattr(p, "material")), None)
        if near:
            fields["material"] = near
    piece = model.model_validate(fields)
    return whole(_with_run(project, run, (*pieces[:index], piece, *pieces[index:]))), key


def remove_piece(project: Project, piece: str) -> Project:
    """The document without a piece."""
    run = run_of(project, piece)
    return _with_run(project, run, tuple(p for p in getattr(project, run) if p.id != piece))


def move_piece(project: Project, piece: str, index: int) -> Project:
    """The document with a piece at another place (0 = first) of its run."""
    run = run_of(project, piece)
    pieces = list(getattr(project, run))
    old = next(i for i, p in enumerate(pieces) if p.id == piece)
    moved = pieces.pop(old)
    pieces.insert(max(0, min(index, len(pieces))), moved)
    return _with_run(project, run, tuple(pieces))


def _with_run(project: Project, run: str, pieces: tuple[Piece, ...]) -> Project:
    return project.model_copy(update={run: pieces})


def add_turbo(project: Project, turbo: Turbo) -> Project:
    """The document with one more candidate; the first becomes the chosen one."""
    keys = {t.id for t in project.turbos}
    if turbo.id in keys:
        free = next(f"{turbo.id}-{n}" for n in itertools.count(2) if f"{turbo.id}-{n}" not in keys)
        turbo = turbo.model_copy(update={"id": free})
    chosen = project.turbo or turbo.id
    return whole(project.model_copy(update={"turbos": (*project.turbos, turbo), "turbo": chosen}))


def remove_turbo(project: Project, key: str) -> Project:
    """The document without a candidate; raises EntryError for the chosen one."""
    if key == project.turbo:
        raise EntryError("the chosen turbo stays: choose another one first")
    return project.model_copy(update={"turbos": tuple(t for t in project.turbos if t.id != key)})


def in_units(project: Project, preset: str) -> Project:
    """The document with results and every entry in the units of a preset; what has no unit there
    keeps its own. Numbers are rounded to six digits."""
    units = UNIT_PRESETS[preset]

    def turned(node: Any) -> Any:
        if isinstance(node, Quantity):
            symbol = units.get(node.kind)
            # A bore in inches, the altitude of a hill in metres: large lengths stay as they are.
            if symbol is None or node.unit == symbol or (node.kind == "length" and node.si > 5.0):
                return node
            other = node.into(symbol)
            return Quantity(float(f"{other.value:.7g}"), other.unit, other.kind)
        if isinstance(node, BaseModel) and not isinstance(node, Variant):
            found = {name: getattr(node, name) for name in type(node).model_fields}
            return node.model_copy(update={name: turned(value) for name, value in found.items()})
        if isinstance(node, tuple):
            return tuple(turned(item) for item in node)
        return node

    return turned(project).model_copy(update={"units": preset})


_PLACES = {
    "boost.full": "brief.target_boost",
    "boost.full_from": "brief.hold_back_until",
    "gate.diameter": "gate.diameter",
    "gate.lift": "gate.lift",
    "blower.ratio": "blower.ratio",
    "boost.big_run": "brief.big_run_boost",
}


def cured(project: Project, changes: Iterable[Change]) -> Project:
    """The document with the changes of a cure; each value keeps the unit of its field."""
    for change in changes:
        if change.place == "turbo":
            project = put(project, "turbo", change.value)
        elif change.place == "cooler.fitted":
            project = put(project, "cooler.fitted", bool(change.value))
        elif change.place.startswith("piece:"):
            _, piece, name = change.place.split(":")
            place = f"{run_of(project, piece)}.{piece}.{name}"
            project = put(project, place, _valued(project, place, float(change.value)))
        elif change.place == "cooler.scale":
            for name in ("width", "charge_flow", "cooling_flow"):
                now = get(project, f"cooler.{name}")
                value = float(f"{now.si * float(change.value):.4g}")
                project = put(project, f"cooler.{name}", now.with_si(value))
        elif change.place.startswith("insert-reducer:"):
            project = _reducer_before(project, change.place.split(":")[1])
        else:
            place = _PLACES[change.place]
            project = put(project, place, _valued(project, place, float(change.value)))
    return project


def _valued(project: Project, place: str, si: float) -> Quantity:
    """Another number in the unit of what stands at `place`, with as many places as a size needs."""
    old: Quantity = get(project, place)
    found = old.with_si(si)
    if abs(found.si - si) > 2e-3 * abs(si):
        unit = unit_of(old.kind, old.unit)
        found = Quantity(float(f"{unit.from_si(si):.5g}"), old.unit, old.kind)
    return found


def _bore_at(piece: Any, names: tuple[str, ...]) -> Quantity:
    """The first of these bores that a piece has; raises EntryError for one without any."""
    for name in names:
        found = getattr(piece, name, None)
        if isinstance(found, Quantity):
            return found
    raise EntryError(f"“{piece.name or piece.id}” has no bore to meet")


def _reducer_before(project: Project, piece: str) -> Project:
    run = run_of(project, piece)
    pieces = getattr(project, run)
    index = next(i for i, p in enumerate(pieces) if p.id == piece)
    first = pieces[index - 1]
    bore_in = _bore_at(first, ("bore_out", "bore", "bore_in"))
    bore_out = _bore_at(pieces[index], ("bore_in", "bore", "bore_out"))
    # A cone of 12 degrees in all keeps the flow on the wall when it widens.
    span = max(0.03, abs(bore_out.si - bore_in.si) / 0.21)
    return insert_piece(
        project, run, index, "reducer", bore_in=bore_in, bore_out=bore_out,
        length=Quantity(round(span * 1000.0), "mm", "length"),
    )[0]  # fmt: skip
