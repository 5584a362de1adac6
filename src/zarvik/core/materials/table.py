"""The facts of every material, from one table: `data/materials.csv`, where each stands with its unit and source; how it is called from
`data/material_names.csv`. A new material is its rows in both."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from importlib import resources


@dataclass(frozen=True)
class Fact:
    """What is known of a property: its `value` in SI, the `unit` in words, the `source`."""

    value: float
    unit: str
    source: str


@dataclass(frozen=True)
class Name:
    """How a material is called: as a `choice`, by its full `title`, `in_a_sentence`; its `family` ("steel", "cast", "aluminium", "plastic",
    "hose"), and `words`: what a table of figures does not say of a pipe of it, empty where it makes none."""

    choice: str
    title: str
    in_a_sentence: str
    family: str
    words: str


def _lines(text: str) -> Iterator[dict[str, str]]:
    yield from csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))


def read(text: str) -> dict[str, dict[str, Fact]]:
    """Facts by material and property from the `text` of the table. Raises ValueError for a line without a unit or a source, or one that
    stands twice."""
    found: dict[str, dict[str, Fact]] = {}
    for row in _lines(text):
        facts = found.setdefault(row["material"], {})
        if not row["unit"] or not row["source"] or row["property"] in facts:
            raise ValueError(f"{row['material']}, {row['property']}: without a unit or a source, or there twice")
        facts[row["property"]] = Fact(float(row["value"]), row["unit"], row["source"])
    return found


_FOLDER = resources.files("zarvik.data")
FACTS = read((_FOLDER / "materials.csv").read_text("utf-8"))
NAMES = {row.pop("material"): Name(**row) for row in _lines((_FOLDER / "material_names.csv").read_text("utf-8"))}


def of_family(*families: str) -> tuple[str, ...]:
    """Keys of the materials of some `families`."""
    return tuple(key for key, name in NAMES.items() if name.family in families)


def values(property: str) -> dict[str, float]:
    """The value of a `property` (SI, its name in the table) of every material that has it."""
    return {key: facts[property].value for key, facts in FACTS.items() if property in facts}


def value(material: str, property: str) -> float:
    """The value of a `property` (its name in the table) of a `material`, SI. Raises KeyError for one that it does not have."""
    return FACTS[material][property].value
