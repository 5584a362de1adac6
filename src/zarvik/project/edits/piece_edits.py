"""Edits of the runs: pieces put in, taken out, moved."""

from __future__ import annotations

import itertools
from typing import Any

from zarvik.project.document.document import Project
from zarvik.project.document.parts.piece import PIECE_MODELS, Piece
from zarvik.project.document.places import get, runs_of, with_value_at
from zarvik.project.edits.edits import completed
from zarvik.project.units.units import Quantity


def new_id(project: Project, kind: str) -> str:
    """A key for a new piece that no other carries."""
    taken = {piece.id for run in runs_of(project) for piece in get(project, run)}
    return next(f"{kind}{n}" for n in itertools.count(1) if f"{kind}{n}" not in taken)


def run_of(project: Project, piece: str) -> str:
    """Place of the run or primary that holds the piece with this key; raises KeyError."""
    for run in runs_of(project):
        if any(p.id == piece for p in get(project, run)):
            return run
    raise KeyError(piece)


def _bore_before(pieces: tuple[Any, ...], index: int) -> Quantity | None:
    """The bore that the piece at `index` meets upstream, else downstream."""
    for piece, names in itertools.chain(
        ((p, ("bore_out", "bore")) for p in reversed(pieces[:index])), ((p, ("bore_in", "bore")) for p in pieces[index:])
    ):
        for name in names:
            if hasattr(piece, name):
                return getattr(piece, name)
    return None


def insert_piece(project: Project, run: str, index: int, kind: str, **values: Any) -> tuple[Project, str]:
    """A new piece of `kind` at `index` of a run, its bore taken from its neighbour.

    Returns the document and the key of the piece.
    """
    model = PIECE_MODELS[kind]
    pieces: tuple[Any, ...] = get(project, run)
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
    changed = _with_run(project, run, (*pieces[:index], piece, *pieces[index:]))
    own = int(project.pieces_per_turbo.si)
    # A count beyond the pieces says all of them, and goes on saying so
    before = index < own <= len(pieces) or own == len(pieces)
    return completed(_counted(changed, run, own + 1 if before else own)), key


def remove_piece(project: Project, piece: str) -> Project:
    """The document without a piece, its estimates as they are then. Raises EntryError, and KeyError for a piece that is not there."""
    run = run_of(project, piece)
    pieces = get(project, run)
    index = next(i for i, p in enumerate(pieces) if p.id == piece)
    own = int(project.pieces_per_turbo.si)
    changed = _with_run(project, run, (*pieces[:index], *pieces[index + 1 :]))
    return completed(_counted(changed, run, own - 1 if index < own else own))


def move_piece(project: Project, piece: str, index: int) -> Project:
    """The document with a piece at another place (0 = first) of its run, its estimates as they are then. Raises EntryError, and
    KeyError for a piece that is not there."""
    run = run_of(project, piece)
    pieces = list(get(project, run))
    old = next(i for i, p in enumerate(pieces) if p.id == piece)
    moved = pieces.pop(old)
    pieces.insert(max(0, min(index, len(pieces))), moved)
    return completed(_with_run(project, run, tuple(pieces)))


def _counted(project: Project, run: str, own: int) -> Project:
    """Pieces of the exhaust that each turbo has of its own stay the same pieces when one is put in or taken out before the others join:
    a bend in a downpipe would make the tail pipe one for both turbos."""
    if run != "exhaust" or project.exhaust_paths != "own" or int(project.turbos_fitted.si) < 2:
        return project
    return with_value_at(project, "pieces_per_turbo", project.pieces_per_turbo.with_si(max(own, 0)))


def _with_run(project: Project, run: str, pieces: tuple[Piece, ...]) -> Project:
    changed: Project = with_value_at(project, run, pieces)
    return changed
