"""Bores that are pulled on the pressure run: of a piece, or of a joint between two."""

from __future__ import annotations

from dataclasses import dataclass, field

from zarvik.core.ducts.pieces import KINDS
from zarvik.project.document.document import Project
from zarvik.project.document.places import RUNS
from zarvik.project.edits import edits
from zarvik.window.run.profile import Profile, Span

NEAR = 5.0  # px from a joint at which it is taken, and not a piece
MOVES = 4.0  # px from which a press is a pull
EACH = 0.00025  # m of bore for each px up: a step of tube size in some ten


@dataclass(frozen=True)
class BoreGrip:
    """What a hand holds: the places of the bores in the document with their values (m) when it took them, and where it did (`y` px)."""

    places: tuple[tuple[str, float], ...]
    y: float
    joint: bool = field(default=False)

    def pulled(self, y: float) -> tuple[tuple[str, float], ...]:
        """The bores with the hand at `y` px: up is wider. Both ends of a joint become as wide as the wider of them is."""
        more = EACH * (self.y - y)
        wide = max(value for _, value in self.places)
        return tuple((place, (wide if self.joint else value) + more) for place, value in self.places)


def bores_of(project: Project, span: Span, end: str = "") -> list[tuple[str, float]]:
    """Places and values (m) of the bores of a piece at one `end` ("in", "out"), or of all of it; none of what is no piece of a run."""
    run = span.stretch.section
    if span.broken or run not in RUNS:
        return []
    piece = next((p for p in edits.get(project, run) if p.id == span.stretch.id), None)
    if piece is None:
        return []
    found = []
    for parameter in KINDS[piece.kind].parameters:
        if parameter.bore and (not end or parameter.bore in ("both", end)):
            value = edits.get(project, f"{run}.{piece.id}.{parameter.name}").si
            if value > 0.0:
                found.append((f"{run}.{piece.id}.{parameter.name}", value))
    return found


def grip_at(project: Project, profile: Profile, x: float, y: float) -> BoreGrip | None:
    """What is taken at a place of the run: the joint of two pieces of one run near it, else the piece under it."""
    for one, two in zip(profile.spans, profile.spans[1:], strict=False):
        if abs(x - one.right) <= NEAR and one.stretch.section == two.stretch.section:
            left, right = bores_of(project, one, "out"), bores_of(project, two, "in")
            if left and right:
                return BoreGrip((*left, *right), y, joint=True)
    span = profile.at(x)
    places = bores_of(project, span) if span is not None else []
    return BoreGrip(tuple(places), y) if places else None
