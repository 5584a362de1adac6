"""Field metadata: kind of quantity, limits, words. Written once, read by file, form and schema."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, core_schema

from zarvik.project.language import told, tr
from zarvik.project.units import KIND_TITLES, EntryError, Quantity, parse, show

KEY = re.compile(r"[\w-]+")


@dataclass(frozen=True)
class Of:
    """A field that holds a quantity.

    `low`, `high`: limits as text with a unit. `title`, `help`: for labels. `unit`: what a bare
    number means; below `inch_below` it means inches, as the trade says some sizes.
    """

    kind: str
    low: str
    high: str
    unit: str
    title: str
    help: str = ""
    inch_below: float = 0.0

    @property
    def limits(self) -> tuple[float, float]:
        """Lowest and highest value in SI."""
        return (
            parse(self.low, self.kind, default_unit=self.unit).si,
            parse(self.high, self.kind, default_unit=self.unit).si,
        )

    def check(self, quantity: Quantity) -> Quantity:
        """The quantity itself when it lies within the limits; raises EntryError."""
        if self.kind == "count" and quantity.value != int(quantity.value):
            raise EntryError(told("{0}: a whole number is wanted here; {1} was given", tr(self.title), quantity))
        low, high = self.limits
        # As much as writing a limit in another unit with six digits takes away.
        slack = 1e-5 * max(abs(low), abs(high))
        if not low - slack <= quantity.si <= high + slack:
            unit = quantity.unit
            raise EntryError(
                told("{0} must lie between {1} and {2}; {3} was given", tr(self.title), show(low, self.kind, unit), show(high, self.kind, unit), quantity)
            )
        return quantity

    def read(self, text: str, *, unit: str | None = None, ambient: float = 101325.0) -> Quantity:
        """What was typed, checked; raises EntryError with a sentence for the reader."""
        if self.inch_below:
            plain = re.sub(r"^\s*a/?r\s*", "", text, flags=re.IGNORECASE).strip()
            bare = re.fullmatch(r"\d*[.,]?\d+", plain)
            text = plain
            if bare and float(plain.replace(",", ".")) < self.inch_below:
                text = f"{plain} in"
        return self.check(parse(text, self.kind, default_unit=unit or self.unit, ambient=ambient))

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        def validate(value: Any) -> Quantity:
            if isinstance(value, Quantity):
                if value.kind != self.kind:
                    raise ValueError(told("{0} is wanted here", tr(KIND_TITLES[self.kind])))
                return self.check(value)
            if isinstance(value, bool) or not isinstance(value, str | int | float):
                raise ValueError(told("{0} is wanted here, as “{1}”", tr(KIND_TITLES[self.kind]), self.low))
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
                raise ValueError(told("{0}: “{1}” is none of {2}", tr(self.title), value, ', '.join(keys)))
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
    """A field that holds free text of at most `most` characters; with `key`, a name that places and
    cures are addressed by."""

    title: str
    most: int = 200
    help: str = ""
    key: bool = False

    def check(self, text: Any) -> str:
        """The text itself when the document may hold it; raises EntryError."""
        if not isinstance(text, str):
            raise EntryError(told("{0}: words are wanted here", tr(self.title)))
        if len(text) > self.most:
            raise EntryError(told("{0}: at most {1} characters, not {2}", tr(self.title), self.most, len(text)))
        if any("\ud800" <= c <= "\udfff" for c in text):
            raise EntryError(told("{0}: holds half of a character that no file can keep", tr(self.title)))
        if self.key and not KEY.fullmatch(text):
            raise EntryError(
                told("{0} “{1}”: letters, digits, - and _ are what a key may hold", tr(self.title), text)
            )
        return text

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(self.check)

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
