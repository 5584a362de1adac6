"""Working sheets of numbers that belong to the whole rev range: threshold and its band, two states,
what the gate can hold, most power and torque."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath import threshold as thresholds
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.airpath.threshold import NEARLY
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.checks.knock import best_ignition
from zarvik.core.common.sentences import Figure, message, revs


def _crossed(key: str, title: str, solver: Solver, found: thresholds.Crossing | None, source: str) -> Sheet:
    if found is None:
        raise KeyError(key)
    full = solver.path.boost.full
    (n1, p1), (n2, p2) = found.before, found.behind
    boost = "pressure_gauge"
    return Sheet(
        key=key,
        title=title,
        result=Figure(found.speed, "rotation"),
        relation=f"n = n1 + ({NEARLY:g} · p_w − p1) / (p2 − p1) · (n2 − n1)",
        lines=(
            Line("p_w", "target boost", Figure(full, boost)),
            Line("n1", "last solved speed below it", Figure(n1, "rotation")),
            Line("p1", "boost there", Figure(p1, boost)),
            Line("n2", "first speed with it", Figure(n2, "rotation")),
            Line("p2", "boost there", Figure(p2, boost)),
        ),
        source=source,
        of_range=True,
    )


def _threshold(solver: Solver, point: Point) -> Sheet:
    return _crossed(
        "threshold",
        "Full-boost speed",
        solver,
        thresholds.threshold(solver, solver.full_load),
        "Solved from low speed upward; 97 % counts as full: common practice, no source",
    )


def _early(solver: Solver, point: Point) -> Sheet:
    return _crossed(
        "threshold_early",
        "Full boost, at the earliest",
        solver,
        thresholds.spool_edge(solver, solver.full_load, -1.0),
        "Solved with the turbine 2 % more efficient and 2 % smaller, the manifold losing half the heat",
    )


def _late(solver: Solver, point: Point) -> Sheet:
    return _crossed(
        "threshold_late",
        "Full boost, at the latest",
        solver,
        thresholds.spool_edge(solver, solver.full_load, 1.0),
        "Solved with the turbine 2 % less efficient and 2 % larger, the manifold losing half as much heat again",
    )


def _own(sign: float) -> Maker:
    key = {0.0: "threshold_own", -1.0: "threshold_own_early", 1.0: "threshold_own_late"}[sign]
    title = {
        0.0: "Full boost of the turbo alone",
        -1.0: "Full boost of the turbo alone, at the earliest",
        1.0: "Full boost of the turbo alone, at the latest",
    }[sign]

    def make(solver: Solver, point: Point) -> Sheet:
        free = thresholds.uncontrolled(solver)
        raw = free.full_load
        crossing = thresholds.threshold(free, raw) if sign == 0.0 else thresholds.spool_edge(free, raw, sign)
        return _crossed(key, title, free, crossing, "Solved from low speed upward as if the control held nothing back")

    return make


def _double(solver: Solver, last: bool) -> Sheet:
    key = "double_high" if last else "double_low"
    found = thresholds.branches(solver, solver.full_load)
    if found is None or not found.both.any():
        raise KeyError(key)
    at = int(np.nonzero(found.both)[0][-1 if last else 0])
    boost = "pressure_gauge"
    return Sheet(
        key=key,
        title="Two possible states, up to" if last else "Two possible states, from",
        result=Figure(float(found.speed[at]), "rotation"),
        relation=("n = max" if last else "n = min") + " {n : p_d(n) > p_u(n)}",
        lines=(
            Line("p_u", "boost there, pulling up from below", Figure(float(found.lower[at]), boost)),
            Line("p_d", "boost there, coming down on boost", Figure(float(found.upper[at]), boost)),
        ),
        source="Both branches followed point by point; 1 % apart counts as two",
        of_range=True,
    )


def _least(solver: Solver, point: Point) -> Sheet:
    speeds, boosts = thresholds.wide_open(solver, solver.full_load)
    if len(boosts) == 0:
        raise KeyError("least_boost")
    order = np.argsort(speeds)
    lines = tuple(
        Line(
            f"p_{n}",
            message("wastegate fully open at {speed}", speed=Figure(float(speeds[i]), "rotation")),
            Figure(float(boosts[i]), "pressure_gauge"),
        )
        for n, i in enumerate(order, 1)
    )
    return Sheet(
        key="least_boost",
        title="Lowest boost the wastegate can hold",
        result=Figure(float(boosts.max()), "pressure_gauge"),
        relation=f"p_l = max({', '.join(line.symbol for line in lines)})",
        lines=lines,
        source="The whole path solved with the wastegate fully open",
        of_range=True,
    )


def _most(solver: Solver, torque: bool) -> Sheet:
    raw = solver.full_load
    key = "most_torque" if torque else "most_power"
    good = np.nonzero(raw.solved)[0]
    if len(good) == 0:
        raise KeyError(key)
    values = raw.states[good, k.POWER]
    if torque:
        values = values / (raw.speed[good] * np.pi / 30.0)
    at = int(values.argmax())
    speed = float(raw.speed[good[at]])
    kind, symbol = ("torque", "M") if torque else ("power", "P")
    return Sheet(
        key=key,
        title="Maximum torque" if torque else "Maximum power",
        result=Figure(float(values[at]), kind),
        relation=f"{symbol}_max = max({symbol}(n))",
        lines=(
            Line("n", "engine speed where it is", revs(speed)),
            Line(f"{symbol}(n)", "there", Figure(float(values[at]), kind), f"{kind}/{speed:.10g}"),
            Line("z", "solved points of the full-load curve", Figure(float(len(good)), "count")),
        ),
        source="The full-load curve, point by point",
        of_range=True,
    )


def _retard(solver: Solver, point: Point, heat: bool) -> Sheet:
    key = "retard_heat" if heat else "retard_power"
    raw = solver.full_load
    near = int(np.abs(raw.speed - point.speed).argmin())
    best = best_ignition(solver, point.speed, raw.solutions[near])
    if best is None:
        raise KeyError(key)
    hot = point.stations["turbine_inlet"].temperature
    if heat:
        return Sheet(
            key=key,
            title="Exhaust temperature rise by late ignition",
            result=Figure(hot - best[1], "temperature_difference"),
            relation="ΔT = T4 − T4_0",
            lines=(
                Line("T4", "gas before the turbine", Figure(hot, "temperature"), "temperature:turbine_inlet"),
                Line("T4_0", "with the ignition at best torque", Figure(best[1], "temperature")),
            ),
            source="The whole path solved again at best ignition",
        )
    return Sheet(
        key=key,
        title="Power loss by late ignition",
        result=Figure(best[0] - point.power, "power"),
        relation="ΔP = P_0 − P",
        lines=(
            Line("P_0", "with the ignition at best torque", Figure(best[0], "power")),
            Line("P", "present", Figure(point.power, "power"), "power"),
        ),
        source="The whole path solved again at best ignition",
    )


SHEETS: dict[str, Maker] = {
    "retard_power": lambda solver, point: _retard(solver, point, False),
    "retard_heat": lambda solver, point: _retard(solver, point, True),
    "most_power": lambda solver, point: _most(solver, False),
    "most_torque": lambda solver, point: _most(solver, True),
    "threshold": _threshold,
    "threshold_early": _early,
    "threshold_late": _late,
    "threshold_own": _own(0.0),
    "threshold_own_early": _own(-1.0),
    "threshold_own_late": _own(1.0),
    "double_low": lambda solver, point: _double(solver, False),
    "double_high": lambda solver, point: _double(solver, True),
    "least_boost": _least,
}
OF_TURBO = {
    "threshold_own",
    "threshold_own_early",
    "threshold_own_late",
    "threshold_early",
    "threshold_late",
    "double_low",
    "double_high",
    "least_boost",
}
