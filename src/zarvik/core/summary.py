"""The figures by which two designs are compared."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.solution import Point
from zarvik.core.answer import Answer
from zarvik.core.checks.bands import full_speed
from zarvik.core.checks.verdict import FAILS, TIGHT, Figure


@dataclass(frozen=True)
class Entry:
    """One figure of a design; nan where it has none. `scale`: a change of this size counts as one
    when figures are ordered by how much they differ (SI). `better`: +1 more, -1 less, 0 neither."""

    key: str
    title: str
    figure: Figure
    scale: float
    better: int


def _margin(points: list[Point], name: str) -> float:
    return min((getattr(p.turbo, name) for p in points), default=math.nan)


def summary(answer: Answer) -> tuple[Entry, ...]:
    """The figures of a solved and judged design, in the order of a builder's questions."""
    solved = [p for p in answer.sweep if p.closure.solved]
    target = answer.target if answer.target.closure.solved else None
    system = answer.system
    full = system.boost.full
    boosted = [p for p in solved if p.boost > 0.2 * full]
    speeds = np.array([p.speed for p in solved])
    boosts = np.array([p.boost for p in solved])
    threshold = full_speed(speeds, boosts, full) if solved else math.nan
    nan = math.nan

    def at(value: float | None) -> float:
        return nan if value is None else value

    states = [v.state for v in answer.verdicts]
    turbo = system.blower is None
    hottest = max(
        (float(p.stations["turbine_inlet"].temperature) for p in (target,) if p), default=nan
    )
    found = [
        Entry("power", "Power at the target speed",
              Figure(at(target.power if target else None), "power"), 7e3, 1),
        Entry("peak_power", "Most power",
              Figure(max((p.power for p in solved), default=nan), "power"), 7e3, 1),
        Entry("torque", "Most torque",
              Figure(max((p.torque for p in solved), default=nan), "torque"), 15.0, 1),
        Entry("threshold", "Full boost from", Figure(threshold, "rotation"), 150.0, -1),
        Entry("boost", "Boost at the target speed",
              Figure(at(target.boost if target else None), "pressure_gauge"), 5e3, 0),
        Entry("air", "Air at the target speed",
              Figure(at(target.air if target else None), "mass_flow"), 5e-3, 0),
        Entry("charge", "Charge temperature",
              Figure(at(target.charge if target else None), "temperature"), 5.0, -1),
        Entry("exhaust", "Gas before the turbine", Figure(hottest, "temperature"), 15.0, -1),
        Entry("back_pressure", "Back-pressure ratio",
              Figure(at(target.turbo.back_pressure if target else None), "number"), 0.05, -1),
        Entry("surge", "Least room to surge",
              Figure(_margin(boosted, "surge") if turbo else nan, "ratio"), 0.05, 1),
        Entry("choke", "Least room to choke",
              Figure(_margin(boosted, "choke") if turbo else nan, "ratio"), 0.05, 1),
        Entry("overspeed", "Wheel speed in hand",
              Figure(_margin(boosted, "overspeed"), "ratio"), 0.05, 1),
        Entry("gate", "Gate open at most",
              Figure(max((p.turbo.opening for p in boosted), default=nan) if turbo else nan, "ratio"),
              0.08, -1),
        Entry("fails", "Verdicts that fail", Figure(float(states.count(FAILS)), "count"), 0.5, -1),
        Entry("tight", "Verdicts that are tight", Figure(float(states.count(TIGHT)), "count"), 1.0, -1),
    ]  # fmt: skip
    return tuple(found)


def spread(entries: list[Entry]) -> float:
    """How much the same figure of several designs differs, in steps of its scale."""
    values = [e.figure.value for e in entries if math.isfinite(e.figure.value)]
    if len(values) < 2:
        return 0.0
    return (max(values) - min(values)) / entries[0].scale
