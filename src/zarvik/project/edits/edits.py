"""Every edit of a document, as pure functions from one document to the next.

A place is dotted: `brief.target_boost`, `cold_pipe.c4.bore` (a piece by its key), `turbo`.
"""

from __future__ import annotations

from typing import Any

from zarvik.project.document.document import Project, check_whole
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.engine import TABLES, check_table
from zarvik.project.document.places import RUN_TITLES, RUNS, get, meta, with_value_at
from zarvik.project.estimates.estimates import check_filled, filled
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import of_all_primaries, spread_over
from zarvik.project.units.units import EntryError, Quantity


def with_value(project: Project, place: str, value: Any) -> Project:
    """The document with another value at `place`; raises EntryError when it is not allowed."""
    found = meta(project, place)
    if isinstance(found, QuantitySpec):
        if not isinstance(value, Quantity) or value.kind != found.kind:
            raise EntryError(tr_format("{0}: enter a quantity", tr(found.title)))
        value = found.check(value)
    if isinstance(found, Choice) and value not in [key for key, _ in found.options()]:
        raise EntryError(tr_format("{0}: “{1}” cannot be chosen here", tr(found.title), value))
    owner, _, name = place.rpartition(".")
    if isinstance(found, TextSpec):
        value = found.check(value)
    old = get(project, place)
    if isinstance(old, bool) and not isinstance(value, bool):
        raise EntryError(tr_format("{0}: enter yes or no", place))
    if owner == "engine" and name in TABLES:
        try:
            check_table(name, value)
        except ValueError as error:
            raise EntryError(str(error)) from None
    changed = with_value_at(project, place, value)
    if of_all_primaries(project, place):
        changed = spread_over(changed, name, value)
    if place in changed.assumed and value != old:
        # Said now, so it is assumed no longer.
        left = tuple(p for p in changed.assumed if p != place)
        changed = changed.model_copy(update={"assumed": left})
    return completed(changed)


def completed(project: Project) -> Project:
    """The document with its estimates as they are now, when its parts fit together (keys, chosen turbo,
    numbers of parts); raises EntryError. Every way into the history goes through here."""
    try:
        check_whole(project)
    except ValueError as error:
        raise EntryError(str(error)) from None
    made = filled(project)
    check_filled(made)
    return made


__all__ = ["RUNS", "RUN_TITLES", "completed", "get", "meta", "with_value"]
