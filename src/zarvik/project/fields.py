"""Field metadata: kind of quantity, limits, words. Written once, read by file, form and schema."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, core_schema

from zarvik.project.units import KIND_TITLES, EntryError, Quantity, parse, show


@dataclass(frozen=True)
class Of:
    """A field that holds a quantity.

    `low`, `high`: limits as text with a unit. `title`, `help`: for labels. `unit`: what a bare
    number means.
    """

    kind: str
    low: str
    high: str
    unit: str
    title: str
    help: str = ""

    @property
    def limits(self) -> tuple[float, float]:
        """Lowest and highest value in SI."""
        return (
            parse(self.low, self.kind, default_unit=self.unit).si,
            parse(self.high, self.kind, default_unit=self.unit).si,
        )

    def check(self, quantity: Quantity) -> Quantity:
        """The quantity itself when it lies within the limits; raises EntryError."""
        low, high = self.limits
        slack = 1e-9 * max(abs(low), abs(high))
        if not low - slack <= quantity.si <= high + slack:
            unit = quantity.unit
            raise EntryError(
                f"{self.title} must lie between {show(low, self.kind, unit)} and "
                f"{show(high, self.kind, unit)}; {quantity} was given"
            )
        return quantity

    def read(self, text: str, *, unit: str | None = None, ambient: float = 101325.0) -> Quantity:
        """What was typed, checked; raises EntryError with a sentence for the reader."""
        return self.check(parse(text, self.kind, default_unit=unit or self.unit, ambient=ambient))

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        def validate(value: Any) -> Quantity:
            if isinstance(value, Quantity):
                if value.kind != self.kind:
                    raise ValueError(f"{KIND_TITLES[self.kind]} is wanted here")
                return self.check(value)
            if isinstance(value, bool) or not isinstance(value, str | int | float):
                raise ValueError(f"{KIND_TITLES[self.kind]} is wanted here, as “{self.low}”")
            return self.read(str(value))

        return core_schema.no_info_plain_validator_function(
            validate,
            serialization=core_schema.plain_serializer_function_ser_schema(str),
        )

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        return {
            "type": "string",
            "title": self.title,
            "description": self.help or self.title,
            "quantity": self.kind,
            "minimum_quantity": self.low,
            "maximum_quantity": self.high,
            "default_unit": self.unit,
        }

    def __call__(self, text: str) -> Quantity:
        return parse(text, self.kind, default_unit=self.unit)


@dataclass(frozen=True)
class Choice:
    """A field that holds one of some keys; `options` gives (key, title) when asked."""

    title: str
    options: Callable[[], tuple[tuple[str, str], ...]] = field(compare=False)
    help: str = ""

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        def validate(value: Any) -> str:
            keys = [key for key, _ in self.options()]
            if value not in keys:
                raise ValueError(f"{self.title}: “{value}” is none of {', '.join(keys)}")
            return str(value)

        return core_schema.no_info_plain_validator_function(validate)

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        return {
            "type": "string",
            "title": self.title,
            "description": self.help or self.title,
            "enum": [key for key, _ in self.options()],
        }


@dataclass(frozen=True)
class Words:
    """A field that holds free text of at most `most` characters."""

    title: str
    most: int = 200
    help: str = ""

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        return core_schema.str_schema(max_length=self.most)

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        return {
            "type": "string",
            "title": self.title,
            "description": self.help or self.title,
            "maxLength": self.most,
        }


FieldMeta = Of | Choice | Words
