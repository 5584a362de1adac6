"""Entries turned into the units of another shop."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from zarvik.project.document.document import Project, Variant
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.presets import UNIT_PRESETS
from zarvik.project.estimates.estimates import filled
from zarvik.project.units.units import Quantity


def _kept(field: FieldInfo, value: Any) -> Any:
    """A value as its field holds it: nothing has no unit."""
    spec = next((m for m in field.metadata if isinstance(m, QuantitySpec)), None)
    return spec.check(value) if spec is not None and spec.blank and value.value == 0.0 else value


def in_units(project: Project, preset: str) -> Project:
    """The document with results and every entry in the units of a preset; what has no unit there
    keeps its own. Numbers are rounded to six digits."""
    units = UNIT_PRESETS[preset]

    def turned(node: Any) -> Any:
        if isinstance(node, Quantity):
            symbol = units.get(node.kind)
            # A bore in inches, a wheelbase in metres: large lengths stay as they are.
            if symbol is None or node.unit == symbol or (node.kind == "length" and node.si > 5.0):
                return node
            return node.into(symbol).rounded(7)
        if isinstance(node, BaseModel) and not isinstance(node, Variant):
            return node.model_copy(
                update={name: _kept(field, turned(getattr(node, name))) for name, field in type(node).model_fields.items()}
            )
        if isinstance(node, tuple):
            return tuple(turned(item) for item in node)
        return node

    return filled(turned(project).model_copy(update={"units": preset}))
