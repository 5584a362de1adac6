"""What can stand in an engine bay, from one table: `data/bay_kinds.csv`. A new kind is a row of it."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from importlib import resources

ENGINE = "engine"


@dataclass(frozen=True)
class Kind:
    """A kind of obstacle: its `title`; the `gap` m that it wants beside it, hanging on what (`fixed`: "body" or "engine"); the key of the
    `Thing` that `minds` heat as it does, empty for bare metal; does it move itself (`moves`), may it touch a part that it `holds`; the
    `source`."""

    title: str
    gap: float
    fixed: str
    minds: str
    moves: bool
    holds: bool
    source: str


def read(text: str) -> dict[str, Kind]:
    """Kinds by their keys from the `text` of the table. Raises ValueError for a row without a source."""
    found = {}
    for row in csv.DictReader(line for line in text.splitlines() if not line.startswith("#")):
        if not row["source"] or row["fixed"] not in ("body", ENGINE):
            raise ValueError(f"{row['kind']}: without a source, or hanging on nothing")
        yes = {key: row[key] == "yes" for key in ("moves", "holds")}
        found[row["kind"]] = Kind(row["title"], 1e-3 * float(row["gap"]), row["fixed"], row["minds"], source=row["source"], **yes)
    return found


KINDS = read((resources.files("zarvik.data") / "bay_kinds.csv").read_text("utf-8"))
