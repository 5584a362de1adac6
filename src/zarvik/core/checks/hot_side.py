"""Turbine, gate and exhaust: when it wakes, whether the gate holds, back-pressure, heat."""

from __future__ import annotations

import dataclasses

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import (
    FAILS,
    HOLDS,
    OPEN,
    TIGHT,
    Change,
    Figure,
    Sentence,
    Verdict,
    graded,
    revs,
    say,
)
from zarvik.core.sizes import LIFT_SHARE, gate_diameters

# Common practice, no source.
SPOOL_ROOM = 0.05
CREEP = 1.5e3  # Pa over what is asked that no gauge shows
GATE_ROOM = 0.15  # of the opening that stays in hand
BACK_GOOD, BACK_WORST = 1.35, 2.2
SPARK_GOOD, SPARK_WORST = 1223.15, 1273.15  # K before the turbine
DIESEL_GOOD, DIESEL_WORST = 1003.15, 1053.15


def check(case: Case) -> list[Verdict]:
    """All of the hot side; with a blower only what concerns the exhaust."""
    found = [_heat(case), _back(case)]
    if case.system.blower is None:
        found += [_spool(case), gate(case)]
    return found


def _spool(case: Case) -> Verdict:
    middle, early, late = case.spool
    wish = case.system.boost.wish
    if middle != middle:
        best = max(case.solved, key=lambda p: p.boost, default=case.target)
        return Verdict(
            "spool", "Boost threshold", FAILS, -1.0,
            say("The turbine never gives {wanted}: {boost} at most, at {speed}",
                wanted=Figure(case.system.boost.full, "pressure_gauge", "=brief.target_boost"),
                boost=Figure(best.boost, "pressure_gauge", "boost", best.speed),
                speed=revs(best.speed)),
            say("A smaller housing, a smaller turbine, or less boost"), (), "turbo",
            "Solved from low speed upward",
        )  # fmt: skip
    margin = 1.0 - middle / wish
    state = FAILS if margin < -SPOOL_ROOM else TIGHT if margin < 0.0 or late > wish else HOLDS
    if state == HOLDS and late != late:
        state = TIGHT
    double = case.double
    both = (
        ". From {down} to {up} two states are possible: coming down it keeps its boost"
        if double
        else ""
    )
    states: dict[str, Figure] = {}
    if double:
        states = {
            "down": Figure(double[0], "rotation", "double_low"),
            "up": Figure(double[1], "rotation", "double_high"),
        }
    text = say(
        "Full boost from {middle}, as the control lets it in, wanted from {wish}" + both
        if late - early < 10.0 else
        "Full boost from {middle} (between {early} and {late}), wanted from {wish}" + both
        if late == late else
        "Full boost from {middle} ({early} at the earliest; with every doubt against it never), wanted "
        "from {wish}" + both,
        middle=Figure(middle, "rotation", "threshold"),
        early=Figure(early, "rotation", "threshold_early"),
        late=Figure(late, "rotation", "threshold_late"),
        wish=Figure(wish, "rotation", "=brief.full_boost_from"), **states,
    )  # fmt: skip
    cure = None if state == HOLDS else say(
        "A smaller housing wakes it earlier and costs back-pressure above; wrapped primaries help"
    )  # fmt: skip
    return Verdict(
        "spool", "Boost threshold", state, margin, text, cure, (), "turbo",
        "Band: turbine efficiency and area ±2 %, heat of the manifold ±50 %, of the cylinders ±15 %",
    )  # fmt: skip


def gate(case: Case) -> Verdict:
    """Whether the gate holds the boost, with what it could hold at the least."""
    valve = case.system.gate
    if valve.area <= 0.0:
        return _no_gate(case)
    points = [p for p in case.boosted if p.turbo.regime != "shut"]
    if not points:
        return Verdict(
            "gate", "Wastegate", OPEN, None, say("It never has to open"), about="turbo",
            basis="Orifice in parallel with the turbine",
        )  # fmt: skip
    least = case.least
    hardest = max(points, key=lambda p: p.turbo.opening)
    creeping = [p for p in points if p.turbo.regime == "wide open"]
    over = max(creeping, key=lambda p: p.boost - p.wanted_boost, default=None)
    # What a gauge does not show is no creep: the gate is then just used up.
    if over is not None and over.boost > 1.01 * over.wanted_boost + CREEP:
        margin = -(over.boost / max(over.wanted_boost, 1e3) - 1.0)
        state = FAILS if margin < -0.02 else TIGHT
        cure, changes = case.cure("gate", state, lambda: _larger(case))
        return Verdict(
            "gate", "Wastegate", state, margin,
            say("Wide open at {speed} and the boost still creeps to {boost}; the least that this "
                "gate can hold is {least}",
                speed=revs(over.speed),
                boost=Figure(over.boost, "pressure_gauge", "boost", over.speed),
                least=Figure(least, "pressure_gauge", "least_boost")),
            cure, changes, "turbo", "Orifice in parallel with the turbine",
        )  # fmt: skip
    margin = 1.0 - hardest.turbo.opening
    state = graded(margin, GATE_ROOM)
    cure, changes = case.cure("gate", state, lambda: _larger(case))
    return Verdict(
        "gate", "Wastegate", state, margin,
        say("At most {opening} open, at {speed}, passing {part} of the gas; it could hold as little "
            "as {least}" + (" (two gates)" if valve.count > 1 else ""),
            opening=Figure(hardest.turbo.opening, "ratio", "opening", hardest.speed),
            speed=revs(hardest.speed),
            part=Figure(hardest.turbo.gate_flow / (hardest.air + hardest.fuel), "ratio",
                        "gate_share", hardest.speed),
            least=Figure(least, "pressure_gauge", "least_boost")),
        cure, changes, "turbo", "15 % of the lift in hand: common practice, no source",
    )  # fmt: skip


def _no_gate(case: Case) -> Verdict:
    """Without a gate the turbine makes what it makes."""
    worst = max(case.solved, key=lambda p: p.boost - p.wanted_boost, default=case.target)
    margin = -(worst.boost / max(worst.wanted_boost, 2e4) - 1.0)
    state = FAILS if margin < -0.05 or len(case.solved) < len(case.sweep) else HOLDS
    cure, changes = case.cure("gate", state, lambda: _larger(case))
    lost = len(case.solved) < len(case.sweep) and margin >= -0.05
    return Verdict(
        "gate", "Wastegate", state, min(margin, -0.05) if state == FAILS else None,
        say("There is no wastegate, and no state in which the boost stops" if lost else
            "There is no wastegate: the boost runs away to {boost} at {speed}, where {asked} are "
            "asked for" if state == FAILS else
            "There is no wastegate, and none is missed: {boost} at {speed} is the most",
            boost=Figure(worst.boost, "pressure_gauge", "boost", worst.speed),
            speed=revs(worst.speed),
            asked=Figure(worst.wanted_boost, "pressure_gauge", "asked_boost", worst.speed)),
        cure, changes, "turbo", "Overboost can break an engine. Nothing bypasses the turbine",
    )  # fmt: skip


def _larger(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The smallest valve that is sold which holds with room."""
    gate = case.system.gate
    old = max(gate.area, 1e-9)
    for diameter in gate_diameters(gate.diameter + 5e-4):
        lift = round(LIFT_SHARE * diameter, 3)
        other = dataclasses.replace(gate, diameter=diameter, lift=max(lift, 0.004))
        site = case.solver.packed[0].copy()
        site[k.GATE_AREA] = other.area
        raw = case.solver.raw(case.raw.speed[::3], site=site)
        if other.area > old and (raw.states[raw.solved, k.OPENING] < 1.0 - GATE_ROOM).all():
            return (
                say("A valve of {diameter} that lifts {lift}",
                    diameter=Figure(diameter, "length"), lift=Figure(other.lift, "length")),
                (Change("gate.diameter", diameter), Change("gate.lift", other.lift)),
            )  # fmt: skip
    return say("No single gate in reach holds it: a second one, or a larger turbine"), ()


def _back(case: Case) -> Verdict:
    point = case.target
    ratio = point.turbo.back_pressure
    margin = (BACK_WORST - ratio) / (BACK_WORST - 1.0)
    state = FAILS if ratio > BACK_WORST else TIGHT if ratio > BACK_GOOD else HOLDS
    stations = point.stations
    behind = stations["turbine_outlet"].pressure - case.system.site.pressure
    return Verdict(
        "back_pressure", "Back-pressure", state, margin,
        say("{before} before the turbine is {ratio} times the plenum; {behind} behind it; pumping "
            "takes {pumping} at {speed}",
            before=Figure(stations["turbine_inlet"].pressure, "pressure_absolute",
                          "pressure:turbine_inlet", point.speed),
            ratio=Figure(ratio, "factor", "back_pressure", point.speed),
            behind=Figure(behind, "pressure_gauge", "exhaust_pressure", point.speed),
            pumping=Figure(point.pumping * case.system.engine.displacement
                           * point.speed / 120.0, "power", "pumping_power", point.speed),
            speed=revs(point.speed)),
        None if state == HOLDS else say("A larger housing or turbine, or a freer exhaust"),
        (), "turbo", "1.35 good, 2.2 the most: common practice, no source",
    )  # fmt: skip


def _heat(case: Case) -> Verdict:
    spark = case.system.engine.fuel.spark
    good, worst = (SPARK_GOOD, SPARK_WORST) if spark else (DIESEL_GOOD, DIESEL_WORST)
    closed = np.nonzero(case.raw.solved)[0]
    point = case.target
    if len(closed):
        point = case.sweep[int(closed[int(case.raw.states[closed, k.T4].argmax())])]
    temperature = point.stations["turbine_inlet"].temperature
    margin = (worst - temperature) / (worst - 800.0)
    state = FAILS if temperature > worst else TIGHT if temperature > good else HOLDS
    metal = max(
        (s for s in point.stretches if s.section == "manifold"), key=lambda s: s.skin, default=None
    )
    richer = "a richer mixture or less ignition retard" if spark else "less fuel or more air"
    return Verdict(
        "exhaust_temperature", "Exhaust temperature", state, margin,
        say("{gas} before the turbine at {speed}" + (", manifold skin {skin}" if metal else ""),
            gas=Figure(temperature, "temperature", "temperature:turbine_inlet", point.speed),
            speed=revs(point.speed),
            skin=Figure(metal.skin, "temperature", f"skin:{metal.id}", point.speed) if metal else ""),
        None if state == HOLDS else say(f"Cooler with {richer}"), (), "turbo",
        "Petrol 950 °C good, 1000 °C the most; diesel 730 and 780 °C: common practice, no source",
    )  # fmt: skip
