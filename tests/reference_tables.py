"""Reads the reference values: each file names its source and how far its digits can be trusted."""

from __future__ import annotations

import csv
from pathlib import Path

FOLDER = Path(__file__).parent / "reference"


def rows(name: str) -> list[dict[str, float | str]]:
    """Rows of a reference file; what looks like a number is one."""
    text = (FOLDER / f"{name}.csv").read_text("utf-8")
    assert text.startswith("# source: "), f"{name} does not name its source"
    lines = [line for line in text.splitlines() if not line.startswith("#")]
    found: list[dict[str, float | str]] = []
    for row in csv.DictReader(lines):
        item: dict[str, float | str] = {}
        for key, value in row.items():
            try:
                item[key] = float(value)
            except ValueError:
                item[key] = value
        found.append(item)
    return found


def numbers(name: str) -> list[tuple[float, ...]]:
    """Rows of a file that holds only numbers, as tuples in the order of its columns."""
    return [tuple(float(v) for v in row.values()) for row in rows(name)]


def band(name: str, case: str) -> tuple[float, float]:
    """Low and high of a case in a file of bands."""
    for row in rows(name):
        if row["case"] == case:
            return float(row["low"]), float(row["high"])
    raise KeyError(case)
