"""What a piece is called: by its name, or by kind and place where it has none."""

from __future__ import annotations

from zarvik.core.ducts.pieces import KINDS
from zarvik.project.document.document import Project
from zarvik.project.document.parts.piece import Piece
from zarvik.project.document.places import get, run_title, runs_of
from zarvik.project.language.language import tr, tr_format


def numbered(pieces: tuple[Piece, ...], piece: Piece) -> str:
    """A piece within its run: its name, or its kind, with a number where there are more of it."""
    if piece.name:
        return piece.name
    title = tr(KINDS[piece.kind].title)
    alike = [p.id for p in pieces if p.kind == piece.kind and not p.name]
    return title if len(alike) < 2 else f"{title} {alike.index(piece.id) + 1}"


def _low(text: str) -> str:
    return text[:1].lower() + text[1:]


def piece_title(project: Project, piece: Piece) -> str:
    """A piece in the whole project: its name, or its kind and the run it is in, as “Straight 2, hot
    charge pipe”."""
    if piece.name:
        return piece.name
    for run in runs_of(project):
        pieces = get(project, run)
        if any(p.id == piece.id for p in pieces):
            return tr_format("{0}, {1}", numbered(pieces, piece), _low(run_title(project, run)))
    return tr(KINDS[piece.kind].title)
