"""The facts of every material, from one table: `data/materials.csv`, where each stands with its unit and source."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from importlib import resources

SHORT = {
    "aluminium": "Aluminium",
    "stainless": "Stainless",
    "mild_steel": "Mild steel",
    "silicone": "Silicone",
    "cast": "Cast",
    "printed": "Plastic",
}  # of what a pipe can be made, as a choice
IN_A_SENTENCE = {
    "silicone": "silicone hose",
    "printed": "plastic",
    "aluminium": "aluminium",
    "mild_steel": "mild steel",
    "stainless": "stainless steel",
    "cast": "cast iron",
}
METAL_TITLES = {"stainless": "Stainless steel", "mild_steel": "Mild steel", "cast": "Cast iron"}  # of what is strong in heat


@dataclass(frozen=True)
class Fact:
    """What is known of a property: its `value` in SI, the `unit` in words, the `source`."""

    value: float
    unit: str
    source: str


def read(text: str) -> dict[str, dict[str, Fact]]:
    """Facts by material and property from the `text` of the table. Raises ValueError for a line without a unit or a source, or one that
    stands twice."""
    found: dict[str, dict[str, Fact]] = {}
    for row in csv.DictReader(line for line in text.splitlines() if not line.startswith("#")):
        facts = found.setdefault(row["material"], {})
        if not row["unit"] or not row["source"] or row["property"] in facts:
            raise ValueError(f"{row['material']}, {row['property']}: without a unit or a source, or there twice")
        facts[row["property"]] = Fact(float(row["value"]), row["unit"], row["source"])
    return found


FACTS = read((resources.files("zarvik.data") / "materials.csv").read_text("utf-8"))


def values(property: str) -> dict[str, float]:
    """The value of a `property` (SI, its name in the table) of every material that has it."""
    return {key: facts[property].value for key, facts in FACTS.items() if property in facts}


def value(material: str, property: str) -> float:
    """The value of a `property` (its name in the table) of a `material`, SI. Raises KeyError for one that it does not have."""
    return FACTS[material][property].value
