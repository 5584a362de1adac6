"""What a working sheet is: a number, the relation it comes from, the values in it, the source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from zarvik.core.airpath.solution import Point, Solver
from zarvik.core.checks.verdict import Figure


@dataclass(frozen=True)
class Line:
    """A value in a relation: its symbol, what it is, the figure; `sheet`: key of the sheet that
    shows where this value comes from, empty for an entry or a constant."""

    symbol: str
    meaning: str
    figure: Figure
    sheet: str = ""


@dataclass(frozen=True)
class Sheet:
    """The working of one number. `relation`: as a mechanic would write it, `symbol` of the result
    on the left, the symbols of `lines` on the right."""

    key: str
    title: str
    result: Figure
    relation: str
    lines: tuple[Line, ...]
    source: str

    @property
    def symbol(self) -> str:
        """Symbol of the result."""
        return self.relation.partition(" = ")[0]


Maker = Callable[[Solver, Point], Sheet]
