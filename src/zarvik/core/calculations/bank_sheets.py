"""Working sheets of two banks on one turbo."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath.banks import CrossoverEffect, banks_of
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.common.sentences import Figure
from zarvik.core.layout.placement import lay_out
from zarvik.core.relations.engine import BACK_PRESSURE


def _banks(solver: Solver, point: Point) -> CrossoverEffect:
    found = banks_of(solver.path, point)
    if found is None:
        raise KeyError("no crossover")
    return found


def _pressure(solver: Solver, point: Point) -> Sheet:
    b = _banks(solver, point)
    return Sheet(
        key="far_bank",
        title="Port pressure difference between banks",
        result=Figure(b.pressure, "pressure_difference"),
        relation="Δp = Δp_x · K_f / K",
        lines=(
            Line(
                "Δp_x",
                "loss of the crossover, the mean of both banks",
                Figure(b.stretch.drop, "pressure_difference"),
                f"piece:{b.element.id}",
            ),
            Line("K_f", "of the far bank's gas only", Figure(b.far, "number")),
            Line("K", "of the mean of both, with their meeting", Figure(b.stretch.loss, "number"), f"coefficient:{b.element.id}"),
        ),
        source="Heads in proportion to their coefficients",
    )


def _air(solver: Solver, point: Point) -> Sheet:
    b = _banks(solver, point)
    middle, plenum = point.stations["exhaust_port"].pressure, point.stations["plenum"].pressure
    return Sheet(
        key="far_air",
        title="Air deficit of the far bank",
        result=Figure(b.air, "ratio"),
        relation="x = 1 − k(o · (p3 + Δp / 2) / p) / k(o · (p3 − Δp / 2) / p)",
        lines=(
            Line("p3", "exhaust ports, mean of both, absolute", Figure(middle, "pressure_absolute"), "pressure:exhaust_port"),
            Line("Δp", "far over near", Figure(b.pressure, "pressure_difference"), "far_bank"),
            Line("p", "plenum, absolute", Figure(plenum, "pressure_absolute"), "pressure:plenum"),
            Line("o", "pressure at the ports during overlap over its mean", Figure(point.turbo.overlap, "number"), "pulse_overlap"),
        ),
        source=BACK_PRESSURE.source,
    )


def _between(solver: Solver, point: Point) -> Sheet:
    space = solver.path.space
    outlets = lay_out(space).outlets if space is not None else ()
    if len(outlets) < 2 or space is None or space.crossing <= 0.0:
        raise KeyError("no crossover in space")
    across = outlets[1].origin - outlets[0].origin
    return Sheet(
        key="banks_between",
        title="From collector to collector",
        result=Figure(float(np.linalg.norm(across)), "length"),
        relation="d = √(x² + y² + z²)",
        lines=tuple(
            Line(symbol, words, Figure(float(value), "length"))
            for symbol, words, value in zip("xyz", ("along the crank", "up", "out"), across, strict=True)
        ),
        source="Geometry",
    )


SHEETS: dict[str, Maker] = {"far_bank": _pressure, "far_air": _air, "banks_between": _between}
