"""Edits of the candidates."""

from __future__ import annotations

import itertools

from zarvik.project.document import Project
from zarvik.project.edits import whole
from zarvik.project.language import told
from zarvik.project.parts.turbo import Turbo
from zarvik.project.units import EntryError


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
        raise EntryError(told("the chosen turbo stays: choose another one first"))
    return project.model_copy(update={"turbos": tuple(t for t in project.turbos if t.id != key)})
