"""Sheets of runs in space: where each piece ends, how the end misses what it must meet, gaps, seams, bends."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Family, Line, Maker, Sheet
from zarvik.core.checks.layout import clearance, torch_blocked_share, weld_positions
from zarvik.core.common.sentences import Figure, message
from zarvik.core.layout.clash import AROUND
from zarvik.core.layout.placement import Layout, Space, lay_out
from zarvik.core.layout.placement import Line as Run

SOURCE = "Product of rotations, O. Rodrigues 1840: each piece moves and turns all after it"


def _laid(solver: Solver) -> tuple[Space, Layout]:
    space = solver.path.space
    if space is None:
        raise KeyError("layout")
    return space, lay_out(space)


def _run(solver: Solver, key: str) -> Run:
    run = _laid(solver)[1].line(key)
    if run is None or not run.placed:
        raise KeyError(key)
    return run


def _shape(solver: Solver, point: Point, key: str) -> Sheet:
    run = _run(solver, key)
    lines = []
    for number, part in enumerate(run.placed, 1):
        x, y, z = (Figure(float(v), "length") for v in part.last.origin)
        meaning = message("{piece} ends {x} along, {y} up, {z} out", piece=part.segment.id, x=x, y=y, z=z)
        lines.append(Line(f"L_{number}", meaning, Figure(part.segment.length, "length")))
    relation = "L = " + " + ".join(line.symbol for line in lines)
    return Sheet(
        key=f"shape:{key}",
        title="Length and end of a run in space",
        result=Figure(run.length, "length"),
        relation=relation,
        lines=tuple(lines),
        source=SOURCE,
    )


def _met(solver: Solver, key: str) -> tuple[Run, np.ndarray, np.ndarray]:
    run = _run(solver, key)
    if run.goal is None:
        raise KeyError(key)
    return run, run.goal.origin - run.end.origin, run.goal.along


_WAYS = ("along the crank", "up", "out from the head")


def _gap(solver: Solver, point: Point, key: str) -> Sheet:
    _, apart, way = _met(solver, key)
    lines = [
        Line(f"d_{n}", message("from the end to its target, {way}", way=message(w)), Figure(float(v), "length"))
        for n, (w, v) in enumerate(zip(_WAYS, apart, strict=True), 1)
    ]
    lines += [
        Line(f"u_{n}", message("target direction, {way}", way=message(w)), Figure(float(v), "number"))
        for n, (w, v) in enumerate(zip(_WAYS, way, strict=True), 1)
    ]
    return Sheet(
        key=f"end_gap:{key}",
        title="Gap along the flow",
        result=Figure(float(apart @ way), "length"),
        relation="g = d_1 u_1 + d_2 u_2 + d_3 u_3",
        lines=tuple(lines),
        source="Components of a way",
    )


def _offset(solver: Solver, point: Point, key: str) -> Sheet:
    run, apart, _ = _met(solver, key)
    missed = run.missed
    assert missed is not None
    return Sheet(
        key=f"end_offset:{key}",
        title="Gap sideways",
        result=Figure(missed.offset, "length"),
        relation="o = sqrt(d^2 - g^2)",
        lines=(
            Line("d", message("from the end to its target"), Figure(float(np.linalg.norm(apart)), "length")),
            Line("g", message("of it along the way"), Figure(missed.gap, "length"), f"end_gap:{key}"),
        ),
        source="Pythagoras",
    )


def _angle(solver: Solver, point: Point, key: str) -> Sheet:
    run, _, way = _met(solver, key)
    missed = run.missed
    assert missed is not None
    sine = float(np.linalg.norm(np.cross(run.end.along, way)))
    return Sheet(
        key=f"end_angle:{key}",
        title="Angle between end and target direction",
        result=Figure(missed.angle, "angle"),
        relation="a = atan2(s, c)",
        lines=(
            Line("s", message("length of the cross product of both ways"), Figure(sine, "number")),
            Line("c", message("their inner product"), Figure(float(run.end.along @ way), "number")),
        ),
        source="By the sine, which knows small angles",
    )


def _clear(solver: Solver, point: Point, key: str) -> Sheet:
    first, _, second = key.partition("~")
    space, layout = _laid(solver)
    one, two = _run(solver, first), _run(solver, second)
    gap = clearance(space, layout, one, one if first == second else two)
    if not math.isfinite(gap):
        raise KeyError(key)
    thick = [0.5 * max(p.segment.outside for p in run.placed) for run in (one, two)]
    return Sheet(
        key=f"clear:{key}",
        title="Clearance between pipes",
        result=Figure(gap, "length"),
        relation="g = d - r_1 - r_2",
        lines=(
            Line("d", message("nearest of the two middles"), Figure(gap + sum(thick), "length")),
            Line("r_1", message("half of the one tube, outside"), Figure(thick[0], "length")),
            Line("r_2", message("half of the other"), Figure(thick[1], "length")),
        ),
        source="Points along both middles, 6 mm apart on primaries and 12 mm elsewhere",
    )


def _seam(solver: Solver, point: Point, key: str) -> Sheet:
    _, layout = _laid(solver)
    lines = layout.primaries
    for line in lines:
        for part, way in weld_positions(line):
            if part.segment.id == key:
                share = torch_blocked_share(lines, line, part, way)
                return Sheet(
                    key=f"seam:{key}",
                    title="Unreachable share of a weld",
                    result=Figure(share, "ratio"),
                    relation="s = n / N",
                    lines=(
                        Line(
                            "n",
                            message("places round the seam where the cup would run into a tube"),
                            Figure(round(share * AROUND), "count"),
                        ),
                        Line("N", message("places looked at"), Figure(AROUND, "count")),
                    ),
                    source="A cup of 12 mm radius, 25 mm off the seam: common practice, no source",
                )
    raise KeyError(key)


def _tightness(solver: Solver, point: Point, key: str) -> Sheet:
    _, layout = _laid(solver)
    found = next((p.segment for line in layout.lines for p in line.placed if p.segment.id == key and p.segment.bends), None)
    if found is None:
        raise KeyError(key)
    return Sheet(
        key=f"tightness:{key}",
        title="Bend radius over tube diameter",
        result=Figure(found.radius / found.outside, "factor"),
        relation="k = R / D",
        lines=(
            Line("R", message("centreline radius"), Figure(found.radius, "length")),
            Line("D", message("outside diameter: bore and two walls"), Figure(found.outside, "length")),
        ),
        source="Weld elbows have 1.5 and 1.0 of their nominal size: ASME B16.9",
    )


def _spread(solver: Solver, point: Point) -> Sheet:
    runs = _laid(solver)[1].primaries
    if len(runs) < 2:
        raise KeyError("spread")
    lines = tuple(
        Line(f"L_{n}", message("along the middle of a primary"), Figure(run.length, "length"), f"shape:{run.key}")
        for n, run in enumerate(runs, 1)
    )
    names = ", ".join(line.symbol for line in lines)
    lengths = [run.length for run in runs]
    return Sheet(
        key="spread",
        title="Primary length difference",
        result=Figure(max(lengths) / min(lengths) - 1.0, "ratio"),
        relation=f"s = max({names}) / min({names}) - 1",
        lines=lines,
        source="Lengths along the middle of the tube",
    )


SHEETS: dict[str, Maker] = {"spread": _spread}
FAMILIES: dict[str, Family] = {
    "shape": _shape,
    "end_gap": _gap,
    "end_offset": _offset,
    "end_angle": _angle,
    "clear": _clear,
    "seam": _seam,
    "tightness": _tightness,
}
