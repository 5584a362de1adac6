"""Sentences of the core in the owner's units."""

from __future__ import annotations

from collections.abc import Mapping

from zarvik.core.checks import Figure, Sentence
from zarvik.project.language import tr
from zarvik.project.units import show


def figure(value: float, kind: str, units: Mapping[str, str]) -> str:
    """An SI number as text in the unit that `units` names for its kind."""
    return show(value, kind, units.get(kind))


def render(sentence: Sentence | None, units: Mapping[str, str]) -> str:
    """A sentence with its figures filled in; empty for None. Gauge and absolute are said."""
    if sentence is None:
        return ""
    words = {}
    for name, item in sentence.figures:
        if isinstance(item, Figure):
            text = figure(item.value, item.kind, units)
            if item.kind == "pressure_absolute":
                text += " abs"
            words[name] = text
        else:
            words[name] = item
    return tr(sentence.template).format(**words)
