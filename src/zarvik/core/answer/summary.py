"""The figures by which two designs are compared."""

from __future__ import annotations

import math
from dataclasses import dataclass
from operator import attrgetter

from zarvik.core.airpath.point import Point
from zarvik.core.answer.answer import Answer
from zarvik.core.checks.surge import nearest
from zarvik.core.common.sentences import Figure
from zarvik.core.limits.limits import FAILS, MARGINAL


@dataclass(frozen=True)
class Entry:
    """One figure of a design; nan where it has none. `scale`: a change of this size counts as one
    when figures are ordered by how much they differ (SI). `better`: +1 more, -1 less, 0 neither."""

    key: str
    title: str
    figure: Figure
    scale: float
    better: int


def _margin(points: list[Point], name: str) -> Figure:
    point = min(points, key=lambda p: getattr(p.turbo, name), default=None)
    if point is None:
        return Figure(math.nan, "ratio")
    return Figure(getattr(point.turbo, name), "ratio", name, point.speed)


def summary(answer: Answer) -> tuple[Entry, ...]:
    """The figures of a solved and judged design, in the order of a builder's questions."""
    solved = [p for p in answer.sweep if p.closure.solved]
    target = answer.target if answer.target.closure.solved else None
    build = answer.build
    boosted = [p for p in solved if build.boost.counts(p.boost)]
    nothing = Figure(math.nan, "ratio")

    def at(name: str, kind: str, sheet: str = "") -> Figure:
        """A figure of the target point; `name` of the attribute, dots for those of its parts."""
        value = math.nan if target is None else float(attrgetter(name)(target))
        return Figure(value, kind, sheet or name, build.target.speed)

    states = [v.state for v in answer.check_results]
    turbo = build.blower is None
    gas = target.stations["turbine_inlet"].temperature if target is not None else math.nan
    widest = max(boosted, key=lambda p: p.turbo.opening, default=None)
    gate = nothing
    if widest is not None and turbo:
        gate = Figure(widest.turbo.opening, "ratio", "opening", widest.speed)
    # The one that the check speaks of: near ambient pressure nobody notices surge.
    close = nearest(solved) if turbo else None
    surge = Figure(close.turbo.surge, "ratio", "surge", close.speed) if close is not None else nothing
    found = [
        Entry("power", "Power at the target speed", at("power", "power"), 7e3, 1),
        Entry("peak_power", "Maximum power", Figure(max((p.power for p in solved), default=math.nan), "power", "most_power"), 7e3, 1),
        Entry("torque", "Maximum torque", Figure(max((p.torque for p in solved), default=math.nan), "torque", "most_torque"), 15.0, 1),
        Entry("threshold", "Full boost from", Figure(answer.case.threshold, "rotation", "threshold"), 150.0, -1),
        Entry("boost", "Boost at the target speed", at("boost", "pressure_gauge"), 5e3, 0),
        Entry("air", "Air at the target speed", at("air", "mass_flow"), 5e-3, 0),
        Entry("charge", "Charge temperature", at("charge", "temperature"), 5.0, -1),
        Entry(
            "exhaust",
            "Turbine inlet temperature" if turbo else "Exhaust gas temperature",
            Figure(gas, "temperature", "temperature:turbine_inlet", build.target.speed),
            15.0,
            -1,
        ),
        Entry("back_pressure", "Back-pressure ratio", at("turbo.back_pressure", "number", "back_pressure"), 0.05, -1),
        Entry("surge", "Smallest surge margin", surge, 0.05, 1),
        Entry("choke", "Smallest choke margin", _margin(boosted, "choke") if turbo else nothing, 0.05, 1),
        Entry("overspeed", "Wheel speed margin", _margin(boosted, "overspeed"), 0.05, 1),
        Entry("gate", "Largest wastegate opening", gate, 0.08, -1),
        Entry("fails", "Checks that fail", Figure(float(states.count(FAILS)), "count", "=check"), 0.5, -1),
        Entry("tight", "Marginal checks", Figure(float(states.count(MARGINAL)), "count", "=check"), 1.0, -1),
    ]
    return tuple(found)


def spread(entries: list[Entry]) -> float:
    """How much the same figure of several designs differs, in steps of its scale."""
    values = [e.figure.value for e in entries if math.isfinite(e.figure.value)]
    if len(values) < 2:
        return 0.0
    return (max(values) - min(values)) / entries[0].scale
