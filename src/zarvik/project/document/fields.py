"""Field metadata: kind of quantity, limits, words. Written once, read by file, form and schema."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, core_schema

from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import ABOUT, KIND_TITLES, SAID, UNKNOWN, EntryError, Quantity, knowledge, parse, show

# As it stands on a tyre: width in mm, height in percent of it, rim in inches
_TYRE = re.compile(r"\s*(\d{3})\s*/\s*(\d{2})\s*-?\s*(?:Z?R|-)?\s*(\d{2})\b.*", re.IGNORECASE)


def _of_tyre(text: str) -> str:
    """A tyre's size as its diameter; any other text as it is."""
    match = _TYRE.fullmatch(text)
    if match is None:
        return text
    width, share, rim = (float(g) for g in match.groups())
    return f"{2.0 * width * share / 100.0 + 25.4 * rim:.4g} mm"


KEY = re.compile(r"[\w-]+")


@dataclass(frozen=True)
class QuantitySpec:
    """A field that holds a quantity.

    `low`, `high`: limits as text with a unit. `title`, `help`: for labels. `unit`: what a bare
    number means; below `inch_below` it means inches, as the trade says some sizes. `uncertainty`: what it is
    good to, None for a size that one chooses; `usual`: what stands in while nobody knows it; `tyre`: a
    diameter that may be said as what stands on a tyre. `blank`: the grey words of an empty field, where nothing may be entered: its
    value is then zero, written as an empty text. `model`: a figure of the model that no garage has.
    """

    kind: str
    low: str
    high: str
    unit: str
    title: str
    help: str = ""
    inch_below: float = 0.0
    uncertainty: InputUncertainty | None = None
    usual: str = ""
    tyre: bool = False
    blank: str = ""
    model: bool = False

    def spread(self, quantity: Quantity) -> float:
        """What the `quantity` is good to, up and down, as a difference in SI: what its owner says, else
        what is usual for how it is known; 0 for a size that one chooses."""
        if quantity.spread:
            return quantity.spread_si
        if self.uncertainty is None:
            return 0.0
        share = {SAID: self.uncertainty.said, ABOUT: self.uncertainty.about, UNKNOWN: self.uncertainty.unknown}
        return self.uncertainty.spread(quantity.si, share[quantity.known] or 0.0)

    @cached_property
    def unknown(self) -> Quantity | None:
        """What stands here when nobody knows it; None where it cannot be unknown."""
        if self.uncertainty is None or self.uncertainty.unknown is None:
            return None
        found = parse(self.usual, self.kind, default_unit=self.unit)
        return dataclasses.replace(found, known=UNKNOWN)

    @cached_property
    def limits(self) -> tuple[float, float]:
        """Lowest and highest value in SI."""
        return (parse(self.low, self.kind, default_unit=self.unit).si, parse(self.high, self.kind, default_unit=self.unit).si)

    def empty(self, unit: str | None = None) -> Quantity:
        """What an empty field stands for: zero in `unit`, that of the field if none is named."""
        return parse(f"0 {unit or self.unit}".strip(), self.kind)

    def written(self, quantity: Quantity) -> str:
        """A quantity as text, empty where the field is."""
        return "" if self.blank and quantity.value == 0.0 else str(quantity)

    def check(self, quantity: Quantity) -> Quantity:
        """The quantity itself when it lies within the limits; raises EntryError. Nothing at all has no unit of its own."""
        if self.blank and quantity.value == 0.0:
            return self.empty()
        if self.kind == "count" and quantity.value != int(quantity.value):
            raise EntryError(tr_format("{0} must be a whole number, not {1}", tr(self.title), quantity))
        low, high = self.limits
        # As much as writing a limit in another unit with six digits takes away.
        slack = 1e-5 * max(abs(low), abs(high))
        if not low - slack <= quantity.si <= high + slack:
            unit = quantity.unit
            raise EntryError(
                tr_format(
                    "{0} must lie between {1} and {2}; {3} was given",
                    tr(self.title),
                    show(low, self.kind, unit),
                    show(high, self.kind, unit),
                    quantity,
                )
            )
        if quantity.spread_si > high - low:
            raise EntryError(tr_format("{0}: this uncertainty is wider than the allowed range. Enter “?” for unknown", tr(self.title)))
        return quantity

    def read(self, text: str, *, unit: str | None = None, ambient: float = STANDARD_ATMOSPHERE) -> Quantity:
        """What was typed, checked; raises EntryError with a sentence for the reader."""
        known, plain, behind = knowledge(text)
        unknown = self.unknown
        if self.blank and not text.strip():
            return self.empty(unit)
        if known == UNKNOWN and unknown is None:
            raise EntryError(tr_format("{0} is your decision, it cannot be unknown", tr(self.title)))
        if not plain.strip() and (known == UNKNOWN or not text.strip()) and unknown is not None:
            return unknown
        if self.tyre:
            plain = _of_tyre(plain)
        if self.inch_below:
            plain = re.sub(r"^\s*a/?r\s*", "", plain, flags=re.IGNORECASE).strip()
            bare = re.fullmatch(r"\d*[.,]?\d+", plain)
            if bare and float(plain.replace(",", ".")) < self.inch_below:
                plain = f"{plain} in"
        if self.tyre or self.inch_below:
            text = f"{known} {plain}" + (f" ± {behind}" if behind else "")
        found = parse(text, self.kind, default_unit=unit or self.unit, ambient=ambient)
        if found.known == UNKNOWN:
            # An estimate has an uncertainty of its own.
            found = dataclasses.replace(found, spread=0.0, relative=False)
        return self.check(found)

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        def validate(value: Any) -> Quantity:
            if isinstance(value, Quantity):
                if value.kind != self.kind:
                    raise ValueError(tr_format("{0} is needed here", tr(KIND_TITLES[self.kind])))
                return self.check(value)
            if isinstance(value, bool) or not isinstance(value, str | int | float):
                raise ValueError(tr_format("{0} is needed here, for example “{1}”", tr(KIND_TITLES[self.kind]), self.low))
            return self.read(str(value))

        return core_schema.no_info_plain_validator_function(
            validate, serialization=core_schema.plain_serializer_function_ser_schema(self.written)
        )

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
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
    # Compared too: two entries of one title would else be one to `Annotated`
    options: Callable[[], tuple[tuple[str, str], ...]]
    help: str = ""

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        def validate(value: Any) -> str:
            keys = [key for key, _ in self.options()]
            if value not in keys:
                raise ValueError(tr_format("{0}: “{1}” is not one of {2}", tr(self.title), value, ", ".join(key for key in keys if key)))
            return str(value)

        return core_schema.no_info_plain_validator_function(validate)

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {"type": "string", "title": self.title, "description": self.help or self.title, "enum": [key for key, _ in self.options()]}


@dataclass(frozen=True)
class TextSpec:
    """A field that holds free text of at most `most` characters; with `key`, a name that places and
    cures are addressed by."""

    title: str
    most: int = 200
    help: str = ""
    key: bool = False

    def check(self, text: Any) -> str:
        """The text itself when the document may hold it; raises EntryError."""
        if not isinstance(text, str):
            raise EntryError(tr_format("{0} must be text", tr(self.title)))
        if len(text) > self.most:
            raise EntryError(tr_format("{0}: at most {1} characters, not {2}", tr(self.title), self.most, len(text)))
        if any("\ud800" <= c <= "\udfff" for c in text):
            raise EntryError(tr_format("{0} contains half a character that cannot be saved", tr(self.title)))
        if self.key and not KEY.fullmatch(text):
            raise EntryError(tr_format("{0} “{1}”: a key may contain letters, digits, - and _ only", tr(self.title), text))
        return text

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(self.check)

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {"type": "string", "title": self.title, "description": self.help or self.title, "maxLength": self.most}


_DAYS = ("%Y-%m-%d", "%d.%m.%Y", "%d.%m.%y", "%d %B %Y", "%d %b %Y", "%B %d %Y", "%b %d %Y", "%d/%m/%Y")


@dataclass(frozen=True)
class Day(TextSpec):
    """A field that holds a date, empty while none is said; written as 2027-06-12."""

    most: int = 40

    def check(self, text: Any) -> str:
        """The date as 2027-06-12, or nothing; raises EntryError."""
        plain = " ".join(super().check(text).replace(",", " ").split())
        if not plain:
            return ""
        for form in _DAYS:
            try:
                found = datetime.strptime(plain, form).date()
            except ValueError:
                continue
            if not 2000 <= found.year <= 2199:
                raise EntryError(tr_format("{0}: the year {1} is out of range", tr(self.title), found.year))
            return found.isoformat()
        raise EntryError(tr_format("{0}: “{1}” is not a date. Write 2027-06-12 or 12 June 2027", tr(self.title), text))


FieldMeta = QuantitySpec | Choice | TextSpec
