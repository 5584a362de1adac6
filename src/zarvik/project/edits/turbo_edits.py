"""Edits of the candidates."""

from __future__ import annotations

import itertools

from zarvik.project.document.document import Project
from zarvik.project.document.parts.decision import MOST_LINES
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.edits.edits import completed
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import EntryError


def add_turbo(project: Project, turbo: Turbo) -> Project:
    """The document with one more candidate; the first becomes the chosen one."""
    keys = {t.id for t in project.turbos}
    if turbo.id in keys:
        free = next(f"{turbo.id}-{n}" for n in itertools.count(2) if f"{turbo.id}-{n}" not in keys)
        turbo = turbo.model_copy(update={"id": free})
    chosen = project.turbo or turbo.id
    return completed(project.model_copy(update={"turbos": (*project.turbos, turbo), "turbo": chosen}))


def remove_turbo(project: Project, key: str) -> Project:
    """The document without a candidate; raises EntryError for the chosen one."""
    if key == project.turbo:
        raise EntryError(tr_format("The chosen turbo cannot be removed: choose another one first"))
    return completed(project.model_copy(update={"turbos": tuple(t for t in project.turbos if t.id != key)}))


def with_decision(project: Project, given_up: tuple[str, ...]) -> Project:
    """The document with the chosen turbo noted as the decision, its reason as it stands, and what it gives up, a
    line for each other."""
    chosen = project.chosen
    if chosen is None:
        raise EntryError(tr_format("No turbo is chosen. Add one from the catalogue or import a map"))
    lines = tuple(line[:300] for line in given_up[:MOST_LINES])
    made = project.decision.model_copy(update={"turbo": chosen.id, "name": chosen.name, "given_up": lines})
    return project.model_copy(update={"decision": made})
