"""The base of every part of the document."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from zarvik.project.document.fields import Choice, FieldMeta, QuantitySpec, TextSpec


class Part(BaseModel):
    """A part of the document: frozen, unknown keys kept."""

    model_config = ConfigDict(frozen=True, extra="allow", arbitrary_types_allowed=True, defer_build=True)


def complete_parts() -> None:
    """Have every kind of part completed, which it is otherwise when the first of it is made: ten milliseconds for a large one."""
    kinds = Part.__subclasses__()
    while kinds:
        kind = kinds.pop()
        kind.model_rebuild()
        kinds += kind.__subclasses__()


def field_meta(model: type[BaseModel] | BaseModel, name: str) -> FieldMeta | None:
    """The metadata of a field of a model, None for a field that has none."""
    kind = model if isinstance(model, type) else type(model)
    for item in kind.model_fields[name].metadata:
        if isinstance(item, QuantitySpec | Choice | TextSpec):
            return item
    return None
