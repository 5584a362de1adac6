"""Edits of the connection list: something said of a line, lines by hand, templates of ports, lines taken out."""

from __future__ import annotations

from zarvik.core.connections import row as r
from zarvik.project.connections.connection_list import TEMPLATES, connections_of
from zarvik.project.document.document import MOST_NOTED, Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.connections import ConnectionNote
from zarvik.project.document.parts.part import field_meta
from zarvik.project.edits.edits import completed, with_value
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import EntryError, parse


def connection_note(project: Project, key: str) -> ConnectionNote:
    """What was said of a line, or what stands for nothing being said. Raises KeyError for a line that is none."""
    found = next((n for n in project.joints if n.id == key), None)
    if found is not None:
        return found
    row = next((x for x in connections_of(project) if x.key == key), None)
    if row is None:
        raise KeyError(key)
    return ConnectionNote(id=key, kind=row.kind, side=row.side, piece=row.piece)


def with_line(project: Project, key: str) -> Project:
    """The document in which a line can be written on. Raises KeyError for a strange line, EntryError where there are too many."""
    if any(n.id == key for n in project.joints):
        return project
    if len(project.joints) >= MOST_NOTED:
        raise EntryError(tr_format("A project can have at most {0} joint lines", MOST_NOTED))
    return project.model_copy(update={"joints": (*project.joints, connection_note(project, key))})


def with_connection_note(project: Project, key: str, name: str, value: object) -> Project:
    """The document with something said of a line: a quantity, the key of a choice, words. Raises EntryError for what it cannot be,
    KeyError for a strange line or entry."""
    made = with_line(project, key)
    return with_value(made, f"joints.{key}.{name}", value)


def typed(project: Project, key: str, name: str, text: str) -> Project:
    """`with_connection_note` with what was typed: quantities with their units, choices by their key. Raises as that."""
    found = field_meta(connection_note(project, key), name)
    if found is None:
        raise KeyError(name)
    value: object = text
    if isinstance(found, QuantitySpec):
        value = parse(text, found.kind, default_unit=found.unit)
    return with_connection_note(project, key, name, value)


def add_line(project: Project, kind: str, **values: object) -> tuple[Project, str]:
    """A line by hand; returns the document and its key. Raises EntryError where there are too many, or for a kind that is none."""
    if kind not in r.KINDS:
        raise EntryError(tr_format("“{0}” is not a kind of line", kind))
    taken = {n.id for n in project.joints}
    number = len(project.joints) + 1
    while f"hand-{number}" in taken:
        number += 1
    key = f"hand-{number}"
    if len(project.joints) >= MOST_NOTED:
        raise EntryError(tr_format("A project can have at most {0} joint lines", MOST_NOTED))
    line = ConnectionNote.model_validate({"id": key, "kind": kind, **values})
    return completed(project.model_copy(update={"joints": (*project.joints, line)})), key


def from_template(project: Project, name: str) -> Project:
    """The ports of a common intake manifold, each a line by hand. Raises KeyError for a strange template."""
    _, ports = TEMPLATES[name]
    for title, served, bore, thread in ports:
        project, _ = add_line(
            project, r.PORT, name=tr(title), served=served, bore=f"{bore:g} mm", thread=thread, where=tr("Intake manifold")
        )
    return project


def take_out(project: Project, key: str) -> Project:
    """The document without what was said of a line: one by hand is gone, one of the design is as the design says. Raises KeyError."""
    if not any(n.id == key for n in project.joints):
        raise KeyError(key)
    return completed(project.model_copy(update={"joints": tuple(n for n in project.joints if n.id != key)}))


def tick(project: Project, key: str) -> Project:
    """The line one state further, as a hand ticks it: open, dry-fitted, hand tight, torqued, leak-tested; opened again begins anew.
    Raises KeyError."""
    order = (r.OPEN, r.DRY, r.HAND, r.TORQUED, r.TESTED)
    now = connection_note(project, key).state
    after = r.HAND if now == r.REOPENED else r.REOPENED if now == r.TESTED else order[order.index(now) + 1]
    return with_connection_note(project, key, "state", after)
