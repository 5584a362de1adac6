"""Sheets of runs in space: where the end of each piece stands, how the end misses, how far primaries spread."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.shape.space import lay_out
from zarvik.core.words import Figure, say
from zarvik.core.working.sheet import Family, Line, Maker, Sheet

SOURCE = "Product of rotations, O. Rodrigues 1840: each piece moves and turns all behind it"


def _shape(solver: Solver, point: Point, key: str) -> Sheet:
    space = solver.system.space
    run = lay_out(space).line(key) if space is not None else None
    if run is None or not run.placed:
        raise KeyError(key)
    lines = []
    for number, part in enumerate(run.placed, 1):
        x, y, z = (Figure(float(v), "length") for v in part.last.origin)
        meaning = say("{piece} ends {x} along, {y} up, {z} out", piece=part.segment.id, x=x, y=y, z=z)
        lines.append(Line(f"L_{number}", meaning, Figure(part.segment.length, "length")))
    relation = "L = " + " + ".join(line.symbol for line in lines)
    missed = run.missed
    if missed is not None:
        for symbol, words, figure in (
            ("g", "short of what it must meet, along its way", Figure(missed.gap, "length")),
            ("o", "beside it", Figure(missed.offset, "length")),
            ("a", "between the two ways", Figure(missed.angle, "angle")),
        ):
            lines.append(Line(symbol, say(words), figure))
    return Sheet(f"shape:{key}", "Length and end of a run in space", Figure(run.length, "length"), relation, tuple(lines), SOURCE)


def _spread(solver: Solver, point: Point) -> Sheet:
    space = solver.system.space
    runs = lay_out(space).primaries if space is not None else ()
    if len(runs) < 2:
        raise KeyError("spread")
    lines = tuple(
        Line(f"L_{n}", say("along the middle of a primary"), Figure(run.length, "length"), f"shape:{run.key}")
        for n, run in enumerate(runs, 1)
    )
    names = ", ".join(line.symbol for line in lines)
    lengths = [run.length for run in runs]
    return Sheet("spread", "Spread of the primaries", Figure(max(lengths) / min(lengths) - 1.0, "ratio"),
                 f"s = max({names}) / min({names}) - 1", lines, "Lengths along the middle of the tube")  # fmt: skip


SHEETS: dict[str, Maker] = {"spread": _spread}
FAMILIES: dict[str, Family] = {"shape": _shape}
