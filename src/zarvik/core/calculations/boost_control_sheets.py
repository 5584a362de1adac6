"""Working sheets of what moves the gate: spring, gas on the valve, solenoid, hoses that are off."""

from __future__ import annotations

import dataclasses

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.blow_off.throttle_closing import greitzer, needed_area, room, sound, tip_speed
from zarvik.core.blow_off.valve import DISCHARGE, diameter_of
from zarvik.core.boost_control.held_boost import RUN_AWAY, duty_for, duty_forces, gate_point_near, hoses
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.common.sentences import Figure
from zarvik.core.wastegate.actuator import FOUR, Actuator
from zarvik.core.wastegate.hoses import as_moved, hoses_of_pairs, pressures_off_and_on
from zarvik.core.whole_build.build import Build

_SOURCE = "Balance of forces; the boost at which the lift it gives equals the lift needed to hold it"


def _actuator(build: Build, solver: Solver) -> Actuator:
    found = build.actuator
    if found is None:
        raise KeyError("no wastegate")
    return found


def _balance(lift: float) -> str:
    """What the forces of a gate hold at a share of its lift: the spring there, or they do not reach it, or more than at full lift."""
    return "< s" if lift <= 0.0 else "> f" if lift >= 1.0 else "= s + (f − s) · x"


def _boost(build: Build, solver: Solver, point: Point, key: str, title: str, actuator: Actuator) -> Sheet:
    held = gate_point_near(solver, actuator, point.speed)
    if held is None:
        raise KeyError(key)
    below, above = actuator.pressures(held.reference)
    there = "p_r − Δp" if held.boost <= RUN_AWAY else f"min(p_r − Δp, {RUN_AWAY / 1e5:g} bar)"
    return Sheet(
        key=key,
        title=title,
        result=Figure(min(held.boost, RUN_AWAY), "pressure_gauge"),
        relation=f"p_b = {there};  (p_l − p_u) + (p4 − p5) · a {_balance(held.lift)}",
        lines=(
            Line("p_r", "in the hose, gauge", Figure(held.reference, "pressure_gauge")),
            Line("Δp", "lost from there to the plenum", Figure(held.reference - held.boost, "pressure_difference")),
            Line("p_l", "under the diaphragm, gauge", Figure(below, "pressure_gauge")),
            Line("p_u", "above it, gauge", Figure(above, "pressure_gauge")),
            Line("p4", "before the valve, absolute", Figure(held.before, "pressure_absolute")),
            Line("p5", "after it, absolute", Figure(held.behind, "pressure_absolute")),
            Line("a", "valve area over diaphragm area", Figure(actuator.share, "number")),
            Line("s", "spring at first opening, on the bench", Figure(actuator.spring, "pressure_gauge")),
            Line("f", "at full lift, on the bench", Figure(actuator.full, "pressure_gauge")),
            Line("x", "share of the lift", Figure(held.lift, "ratio")),
        ),
        source=_SOURCE,
    )


def _guess(build: Build, solver: Solver, point: Point) -> Sheet:
    actuator = _actuator(build, solver)
    return Sheet(
        key="spring_guess",
        title="Assumed spring pressure",
        result=Figure(actuator.spring, "pressure_gauge"),
        relation="s = s_u",
        lines=(Line("s_u", "a spring of half a bar, as wastegates are often sold", Figure(actuator.spring, "pressure_gauge")),),
        source="Common practice, no source",
    )


def _off(build: Build, solver: Solver, point: Point) -> Sheet:
    return _boost(build, solver, point, "spring_off", "Boost on the spring alone", dataclasses.replace(_actuator(build, solver), duty=0.0))


def _on(build: Build, solver: Solver, point: Point) -> Sheet:
    return _boost(build, solver, point, "spring_on", "Boost at full solenoid duty", dataclasses.replace(_actuator(build, solver), duty=1.0))


def _plumbed(build: Build, solver: Solver, point: Point) -> Sheet:
    actuator = _actuator(build, solver)
    if not actuator.plumbed:
        raise KeyError("plumbed_off")
    off, _ = pressures_off_and_on(hoses_of_pairs(actuator.plumbed), actuator.control)
    return _boost(build, solver, point, "plumbed_off", "Boost with hoses as fitted, solenoid unpowered", as_moved(actuator, off))


def _without(hose: str) -> BuildMaker:
    def make(build: Build, solver: Solver, point: Point) -> Sheet:
        actuator = _actuator(build, solver)
        if hose not in {h.key for h in hoses(actuator)}:
            raise KeyError(f"off_{hose}")
        return _boost(build, solver, point, f"off_{hose}", "Boost with a hose off", dataclasses.replace(actuator, off=hose))

    return make


def _duty(build: Build, solver: Solver, point: Point) -> Sheet:
    actuator = _actuator(build, solver)
    duty = duty_for(solver, actuator, point.speed, point.wanted_boost)
    forces = duty_forces(solver, actuator, point.speed, point.wanted_boost)
    if duty != duty or forces is None:
        raise KeyError("duty_wanted")
    reference, needed = forces
    return Sheet(
        key="duty_wanted",
        title="Solenoid duty",
        result=Figure(duty, "ratio"),
        relation="d = (1 − p_l / p_r) / z",
        lines=(
            Line("p_r", "in the hose, gauge", Figure(reference, "pressure_gauge")),
            Line("p_l", "needed at the diaphragm, gauge: spring less gas force", Figure(needed, "pressure_gauge")),
            Line("z", "active sides of the diaphragm", Figure(2.0 if actuator.control == FOUR else 1.0, "count")),
            Line("p_b", "target boost", Figure(point.wanted_boost, "pressure_gauge"), "asked_boost"),
            Line("s", "spring at first opening, on the bench", Figure(actuator.spring, "pressure_gauge")),
            Line("a", "valve area over diaphragm area", Figure(actuator.share, "number")),
        ),
        source=_SOURCE,
    )


def _needed(build: Build, solver: Solver, point: Point) -> Sheet:
    state = _state(build, solver, point)
    area = needed_area(solver, state)
    return Sheet(
        key="blow_off_needed",
        title="Blow-off valve size needed",
        result=Figure(diameter_of(area), "length"),
        relation="d = √(4 · A / (π · c))",
        lines=(
            Line("A", "effective area that vents the surge flow", Figure(area, "area")),
            Line("c", "discharge of a valve with its elbow", Figure(DISCHARGE, "number")),
            Line("p", "in the charge pipe, absolute", Figure(float(state[k.P2]), "pressure_absolute")),
        ),
        source="Isentropic orifice, NACA 1135; the surge line of the map",
    )


def _greitzer(build: Build, solver: Solver, point: Point) -> Sheet:
    state = _state(build, solver, point)
    volume, length, area = room(solver)
    return Sheet(
        key="greitzer",
        title="Greitzer's B",
        result=Figure(greitzer(solver, state), "number"),
        relation="B = u / (2 · a) · √(V / (A · L))",
        lines=(
            Line("u", "tip speed of the wheel", Figure(tip_speed(solver, state), "velocity")),
            Line("a", "speed of sound in the charge", Figure(sound(state), "velocity")),
            Line("V", "between compressor and throttle", Figure(volume, "volume")),
            Line("A", "bore of its pipes", Figure(area, "area")),
            Line("L", "length of its pipes", Figure(length, "length")),
        ),
        source=("E. M. Greitzer, ASME J. Eng. Power 98 (1976) 190: above 0.8 the whole system surged, below it the wheel alone"),
    )


def _state(build: Build, solver: Solver, point: Point) -> np.ndarray:
    at = solver.full_load.near(point.speed)
    if at is None or build.blow_off is None:
        raise KeyError("no blow-off valve")
    found: np.ndarray = solver.full_load.states[at]
    return found


SHEETS: dict[str, BuildMaker] = {
    "blow_off_needed": _needed,
    "greitzer": _greitzer,
    "spring_guess": _guess,
    "spring_off": _off,
    "spring_on": _on,
    "duty_wanted": _duty,
    "plumbed_off": _plumbed,
    **{f"off_{hose}": _without(hose) for hose in ("signal", "lower", "upper", "vent")},
}
