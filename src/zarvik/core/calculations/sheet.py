"""What a calculation sheet is: a number, the relation it comes from, the values in it, the source."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.common.sentences import Figure, Sentence
from zarvik.core.gas.properties import enthalpy, heat_capacity
from zarvik.core.whole_build.build import Build

Words = str | Sentence  # a Sentence where a name or a figure stands in it


@dataclass(frozen=True)
class Line:
    """A value in a relation: its symbol, what it is, the figure; `sheet`: key of the sheet that
    shows where this value comes from, empty for an entry or a constant."""

    symbol: str
    meaning: Words
    figure: Figure
    sheet: str = ""


@dataclass(frozen=True)
class Sheet:
    """The working of one number. `relation`: as a mechanic would write it, `symbol` of the result
    on the left, the symbols of `lines` on the right; where the result stands on neither side alone, it is named before a colon
    ("Q: p = …"). `of_range`: the number belongs to the whole
    rev range, not to one engine speed."""

    key: str
    title: Words
    result: Figure
    relation: str
    lines: tuple[Line, ...]
    source: str
    of_range: bool = False

    @property
    def symbol(self) -> str:
        """Symbol of the result."""
        return self.relation.partition(" = ")[0].partition(":")[0]


def mean_capacity(gas: np.ndarray, one: float, other: float) -> float:
    """Heat capacity in J/(kg K) of a packed `gas` between `one` and the `other` temperature in K: what its enthalpy changes by
    for each kelvin."""
    if abs(one - other) < 1e-6:
        return float(heat_capacity(gas, one))
    return float((enthalpy(gas, one) - enthalpy(gas, other)) / (one - other))


Maker = Callable[[Solver, Point], Sheet]
BuildMaker = Callable[[Build, Solver, Point], Sheet]  # reads what no solution does
Family = Callable[[Solver, Point, str], Sheet]  # of a piece or a run; KeyError for a strange one


def total(key: str, title: Words, symbol: str, kind: str, parts: Sequence[tuple[Words, float, str]], source: str) -> Sheet:
    """The working of a sum: `parts` are (name, value in SI, key of its sheet)."""
    lines = tuple(Line(f"{symbol}_{n}", name, Figure(value, kind), sheet) for n, (name, value, sheet) in enumerate(parts, 1))
    right = " + ".join(line.symbol for line in lines) or "0"
    return Sheet(
        key=key, title=title, result=Figure(sum(v for _, v, _ in parts), kind), relation=f"{symbol} = {right}", lines=lines, source=source
    )
