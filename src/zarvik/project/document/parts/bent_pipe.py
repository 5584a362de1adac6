"""A bent pipe as a tape and a protractor know it: straights and the bends behind them."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Any

from zarvik.core.layout.run import Row
from zarvik.project.document.fields import TextSpec
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import EntryError

MOST_ROWS = 12
LONGEST = 5000.0  # mm
LIKE = "300 90; 250 45 180; 400"


@dataclass(frozen=True)
class BentPipe(TextSpec):
    """Rows of a straight in mm, the angle of the bend behind it and its rotation against the bend before it, both in degrees; the last row
    is only a straight."""

    most: int = 400

    def check(self, text: Any) -> str:
        """The rows in one writing; raises EntryError."""
        plain = super().check(text).strip()
        if not plain:
            return ""
        rows = [self._row(part.strip()) for part in re.split(r"[;\n]", plain) if part.strip()]
        if not 1 <= len(rows) <= MOST_ROWS:
            raise EntryError(tr_format("{0}: from {1} to {2} straights, not {3}", tr(self.title), 1, MOST_ROWS, len(rows)))
        if any(len(row) < 2 for row in rows[:-1]):
            raise EntryError(tr_format("{0}: only behind the last straight is there no bend. Write {1}", tr(self.title), LIKE))
        return "; ".join(" ".join(f"{value:g}" for value in row) for row in rows)

    def _row(self, text: str) -> tuple[float, ...]:
        try:
            values = tuple(float(part) for part in re.split(r"[\s,/=>°]+|mm", text.lower()) if part)
        except ValueError:
            values = ()
        straight, angle, rotation = (*values, 90.0, 0.0, 0.0)[:3] if values else (-1.0, 0.0, 0.0)
        if not 1 <= len(values) <= 3 or not 0.0 <= straight <= LONGEST or not 0.0 < angle <= 180.0 or abs(rotation) > 360.0:
            raise EntryError(tr_format("{0}: “{1}” is not a straight with its bend. Write {2}", tr(self.title), text, LIKE))
        return values


def rows_of(text: str, radius: float) -> tuple[Row, ...]:
    """A checked text as rows of a bend table, its bends with a centreline `radius` m."""
    found = []
    for part in text.split(";"):
        values = [float(value) for value in part.split()]
        if values:
            straight, angle, rotation = (*values, 0.0, 0.0)[:3]
            found.append(Row(1e-3 * straight, math.radians(rotation), math.radians(angle), radius if angle else 0.0))
    return tuple(found)
