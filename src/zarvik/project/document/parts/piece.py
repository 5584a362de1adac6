"""The pieces of a run: one model for each kind, made from its parameters."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import create_model

from zarvik.core.ducts.kinds import Parameter, PieceKind
from zarvik.core.ducts.pieces import KINDS
from zarvik.project.document.fields import Choice, FieldMeta, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import KINDS as UNIT_KINDS
from zarvik.project.units.units import Quantity

# What a bare number means, and what a new piece is written in, by kind of quantity.
_PIECE_UNITS = {"length": "mm", "angle": "°", "ratio": "%", "volume_flow": "m³/h", "pressure_difference": "Pa", "count": ""}


def _meta(parameter: Parameter) -> FieldMeta:
    if parameter.quantity == "choice":
        return Choice(parameter.title, lambda: parameter.choices, parameter.help)
    unit = next(u for u in UNIT_KINDS[parameter.quantity] if u.symbol == _PIECE_UNITS[parameter.quantity])
    low, high = (f"{unit.from_si(v):.10g} {unit.symbol}" for v in (parameter.low, parameter.high))
    usual = f"{unit.from_si(float(parameter.default)):.6g} {unit.symbol}" if parameter.uncertainty else ""
    return QuantitySpec(
        kind=parameter.quantity,
        low=low,
        high=high,
        unit=unit.symbol,
        title=parameter.title,
        help=parameter.help,
        uncertainty=parameter.uncertainty,
        usual=usual,
        blank=parameter.blank,
    )


class Piece(Part):
    """A piece of a run; each kind adds the fields that its record in the core names."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    kind: str
    name: Annotated[str, TextSpec("Name", 80)] = ""


def _piece_model(kind: PieceKind) -> type[Piece]:
    fields: dict[str, Any] = {"kind": (Literal[kind.key], kind.key)}
    for parameter in kind.parameters:
        meta = _meta(parameter)
        default: Any = parameter.default
        if isinstance(meta, QuantitySpec):
            shown = UNIT_KINDS[meta.kind]
            unit = next(u for u in shown if u.symbol == meta.unit)
            value = float(f"{unit.from_si(float(parameter.default)):.6g}")
            default = Quantity(value, meta.unit, meta.kind)
            fields[parameter.name] = (Annotated[Quantity, meta], default)
        else:
            fields[parameter.name] = (Annotated[str, meta], default)
    return create_model(f"{kind.key.title()}Piece", __base__=Piece, __doc__=kind.help, **fields)


PIECE_MODELS: dict[str, type[Piece]] = {key: _piece_model(kind) for key, kind in KINDS.items()}
