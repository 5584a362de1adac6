"""Does the compressor live: surge, choke, overspeed, along the whole full-load line?"""

from __future__ import annotations

import dataclasses

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Point
from zarvik.core.airpath.system import Turbo
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
from zarvik.core.sizes import PULLEY_STEP, pulley_ratio

SURGE_ROOM = 0.10  # of flow at the same ratio; common practice, no source
CHOKE_ROOM = 0.10
SPEED_ROOM = 0.05
SHORT = 0.06  # of the boost that is asked for, that a blower may fall short; common practice


def check(case: Case) -> list[Verdict]:
    """Surge, choke and overspeed margins."""
    if case.system.blower is not None:
        return [_rotors(case), _belt_boost(case)]
    if not case.boosted:
        nothing = say("No solved point under boost to judge")
        return [
            Verdict(i, t, OPEN, None, nothing, about="turbo")
            for i, t in (("surge", "Surge"), ("choke", "Choke"), ("overspeed", "Wheel speed"))
        ]
    return [_surge(case), _choke(case), _overspeed(case)]


def _rotors(case: Case) -> Verdict:
    point = min(case.solved, key=lambda p: p.turbo.overspeed, default=case.target)
    blower = case.system.blower
    assert blower is not None
    margin = point.turbo.overspeed
    state = graded(margin, SPEED_ROOM)
    ratio = pulley_ratio(blower.ratio * (1.0 - 1.02 * SPEED_ROOM) / (1.0 - margin))
    return Verdict(
        "overspeed", "Blower speed", state, margin,
        say("{turning} of {maximum} at {speed}",
            turning=Figure(point.turbo.real_speed, "rotation", "wheel_speed", point.speed),
            maximum=Figure(blower.maximum_speed, "rotation", "=blower.rotor_limit"),
            speed=revs(point.speed)),
        None if state == HOLDS else say(
            "A larger pulley on the blower: {ratio} turns for one of the crank instead of {now}; it "
            "moves less air at every speed",
            ratio=Figure(ratio, "number"), now=Figure(blower.ratio, "number")),
        () if state == HOLDS else (Change("blower.ratio", ratio),),
        "turbo", "Rotor speed against its maximum",
    )  # fmt: skip


def _belt_boost(case: Case) -> Verdict:
    """Does the blower make the boost that is asked for, from where the wish begins?"""
    blower = case.system.blower
    assert blower is not None
    points = [p for p in case.solved if p.speed >= case.system.boost.wish] or [case.target]
    worst = min(points, key=lambda p: p.boost / max(p.wanted_boost, 1e3))
    margin = worst.boost / max(worst.wanted_boost, 1e3) - 1.0
    state = FAILS if margin < -SHORT else TIGHT if margin < -0.01 else HOLDS

    def faster() -> tuple[Sentence, tuple[Change, ...]]:
        for step in range(1, 25):
            ratio = pulley_ratio(blower.ratio) + step * PULLEY_STEP
            other = case.with_blower(dataclasses.replace(blower, ratio=ratio))
            raw = other.raw(np.array([worst.speed]))
            gauge = raw.states[0, k.P_PLENUM] - case.system.site.pressure
            if raw.solved[0] and gauge >= (1.0 - 0.5 * SHORT) * worst.wanted_boost:
                return (
                    say("A smaller pulley on the blower: {ratio} turns for one of the crank instead of "
                        "{now}", ratio=Figure(ratio, "number"), now=Figure(blower.ratio, "number")),
                    (Change("blower.ratio", round(ratio, 2)),),
                )  # fmt: skip
        return say("A larger blower, or less boost"), ()

    cure, changes = case.cure("blower_boost", state, faster)
    return Verdict(
        "blower_boost", "Boost of the blower", state, margin,
        say("{boost} of {asked} at {speed}, the least between the wish and the rev limit",
            boost=Figure(worst.boost, "pressure_gauge", "boost", worst.speed),
            asked=Figure(worst.wanted_boost, "pressure_gauge", "asked_boost", worst.speed),
            speed=revs(worst.speed)),
        cure, changes, "turbo", "What its rotors move against what the engine takes",
    )  # fmt: skip


def _surge(case: Case) -> Verdict:
    point = min(case.boosted, key=lambda p: p.turbo.surge)
    margin = point.turbo.surge
    state = graded(margin, SURGE_ROOM)
    template = (
        "Left of the surge line by {part} at {speed}: {flow} where {edge} is the least at this "
        "pressure ratio"
        if margin < 0
        else "Nearest at {speed}: {flow}, {part} above the surge line"
    )
    cure, changes = case.cure("surge", state, lambda: _later(case))
    return Verdict(
        "surge", "Surge", state, margin,
        say(template, part=Figure(abs(margin), "ratio", "surge", point.speed), speed=revs(point.speed),
            flow=Figure(point.turbo.flow, "mass_flow", "corrected_flow", point.speed),
            edge=Figure(point.turbo.surge_flow, "mass_flow", "surge_flow", point.speed)),
        cure, changes, "turbo", "Flow margin at constant pressure ratio; 10 % common practice",
    )  # fmt: skip


def _later(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The lowest speed until which holding the boost back keeps its room to the surge line."""
    idle, limit = case.system.engine.idle, case.system.engine.rev_limit
    chart = case.system.turbo.chart

    def room(start: float) -> float:
        # The margin is least where the boost rises, or just where it is full.
        schedule = dataclasses.replace(case.system.boost, full_from=start)
        speeds = np.linspace(max(0.7 * start, idle), min(1.05 * start, limit), 6)
        near = int(np.abs(case.raw.speed - speeds[0]).argmin())
        begin = case.raw.solutions[near] if case.raw.solved[near] else None
        raw = case.solver.raw(speeds, boost=schedule, start=begin)
        high = raw.states[:, k.P_PLENUM] - case.system.site.pressure > 0.2 * schedule.full
        rooms = [
            raw.states[i, k.MAP_FLOW] / chart.surge_flow(float(raw.states[i, k.MAP_RATIO])) - 1.0
            for i in np.nonzero(high & raw.solved)[0]
        ]
        return min(rooms, default=1.0)

    # Where full boost stands clear already, the answer lies not far above.
    near = _clear_from(case)
    low, high = max(case.system.boost.full_from, 0.95 * near), min(1.3 * near, limit)
    if room(high) < SURGE_ROOM:
        low, high = high, limit
        if room(high) < SURGE_ROOM:
            return say("A smaller compressor, or less boost: no engine speed keeps clear"), ()
    while high - low > 40.0:
        middle = 0.5 * (low + high)
        if room(middle) >= SURGE_ROOM:
            high = middle
        else:
            low = middle
    start = -(-high // 50.0) * 50.0
    return (
        say("Hold the boost back until {speed}", speed=Figure(start, "rotation")),
        (Change("boost.full_from", start),),
    )


def _clear_from(case: Case) -> float:
    """Lowest engine speed in rev/min above which every point at full boost has its room."""
    raw, chart = case.raw, case.system.turbo.chart
    full = raw.solved & (raw.states[:, k.REGIME] > 0.0)
    found = case.system.engine.rev_limit
    for i in reversed(np.nonzero(full)[0]):
        edge = chart.surge_flow(float(raw.states[i, k.MAP_RATIO]))
        if raw.states[i, k.MAP_FLOW] < edge * (1.0 + SURGE_ROOM):
            break
        found = float(raw.speed[i])
    return found


def _choke(case: Case) -> Verdict:
    point = min(case.boosted, key=lambda p: p.turbo.choke)
    margin = point.turbo.choke
    state = graded(margin, CHOKE_ROOM)
    word = "Tight" if state != HOLDS else "Room"
    template = (
        "Past the map at {speed}: {flow} where {edge} is the most at this pressure ratio, "
        "{efficiency} efficient at best"
        if margin < 0
        else word + ": {flow} of {edge} before choke at {speed} ({part} left), {efficiency} efficient"
    )
    cure, changes = case.cure("choke", state, lambda: _other(case))
    return Verdict(
        "choke", "Choke", state, margin,
        say(template,
            part=Figure(margin, "ratio", "choke", point.speed), speed=revs(point.speed),
            flow=Figure(point.turbo.flow, "mass_flow", "corrected_flow", point.speed),
            edge=Figure(point.turbo.flow_limit, "mass_flow", "flow_limit", point.speed),
            efficiency=Figure(point.turbo.efficiency, "ratio", "efficiency", point.speed)),
        cure, changes, "turbo", "Flow limit at constant pressure ratio; 10 % common practice",
    )  # fmt: skip


def _overspeed(case: Case) -> Verdict:
    point = min(case.boosted, key=lambda p: p.turbo.overspeed)
    margin = point.turbo.overspeed
    state = graded(margin, SPEED_ROOM)
    maximum = case.system.turbo.chart.maximum_speed
    cure, changes = case.cure("overspeed", state, lambda: _other(case))
    return Verdict(
        "overspeed", "Wheel speed", state, margin,
        say("{turning} of {maximum} at {speed}" + ("; overspeed can burst a wheel" if margin < 0.05 else ""),
            turning=Figure(point.turbo.speed, "rotation", "corrected_speed", point.speed),
            maximum=Figure(maximum, "rotation"), speed=revs(point.speed)),
        cure, changes, "turbo", "Corrected speed against the maximum of the map",
    )  # fmt: skip


def _rooms(points: list[Point]) -> tuple[float, float, float]:
    return (
        min(p.turbo.surge for p in points),
        min(p.turbo.choke for p in points),
        min(p.turbo.overspeed for p in points),
    )


def _other(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The candidate with the most room to choke and speed that does not surge."""
    best: tuple[float, Turbo, tuple[float, float, float]] | None = None
    speeds = np.linspace(case.system.engine.idle, case.system.engine.rev_limit, 24)
    for turbo in case.candidates:
        solver = case.with_turbo(turbo)
        raw = solver.raw(speeds)
        points = [
            solver.point(raw, int(i))
            for i in np.nonzero(raw.solved)[0]
            if raw.states[i, k.P_PLENUM] - case.system.site.pressure > 0.2 * case.system.boost.full
        ]
        if not points:
            continue
        rooms = _rooms(points)
        if (
            rooms[1] >= CHOKE_ROOM
            and rooms[2] >= SPEED_ROOM
            and (best is None or rooms[0] > best[0])
        ):
            best = (rooms[0], turbo, rooms)
    if best is None:
        return say("None of the candidates has the room: look for a larger compressor"), ()
    _, turbo, rooms = best
    price = "its surge margin is {surge}" if rooms[0] >= 0 else "it surges at low speed ({surge})"
    return (
        say("Take “{name}”: {choke} before choke; " + price,
            name=turbo.name, choke=Figure(rooms[1], "ratio"), surge=Figure(rooms[0], "ratio")),
        (Change("turbo", turbo.id),),
    )  # fmt: skip
