"""Does the end gas keep still? A screening, never a promise."""

from __future__ import annotations

import dataclasses
import math

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Verdict
from zarvik.core.engine.knock import MOST_RETARD, RANGE, pack, screen
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.limits import FAILS, HOLDS, KNOCK_LEFT, KNOCK_RETARD, KNOCK_TYPED, TIGHT
from zarvik.core.words import Figure, revs, say

# Below twice the idle speed nobody holds an engine at full load; common practice, no source.
LUGGING = 2.0


def check(case: Case) -> list[Verdict]:
    """The knock integral over the full-load line; nothing for a diesel."""
    engine = case.system.engine
    if engine.fuel.octane is None:
        return []
    good = np.nonzero(case.raw.solved & (case.raw.speed >= LUGGING * engine.idle))[0][::3]
    if len(good) == 0:
        return []
    states = case.raw.states[good]
    found = np.array(
        [
            screen(
                engine.at(float(n)), speed=np.array([n]), plenum=row[k.P_PLENUM : k.P_PLENUM + 1],
                charge=row[k.T_CHARGE : k.T_CHARGE + 1],
                gas_constant=float(case.solver.gas[GAS_CONSTANT]),
                retard=row[k.RETARD : k.RETARD + 1],
            )[0]
            for n, row in zip(case.raw.speed[good], states, strict=True)
        ]
    )  # fmt: skip
    by_fuel = engine.retard is None
    # By the fuel, where it is latest; typed, where the index is highest.
    i = int(states[:, k.RETARD].argmax()) if by_fuel else int(found.argmax())
    if by_fuel and found.max() > KNOCK_LEFT.good:
        i = int(found.argmax())
    worst, retard = float(found[i]), float(states[i, k.RETARD])
    at = float(case.raw.speed[good][i])
    if not by_fuel:
        state, margin = KNOCK_TYPED.state(worst), KNOCK_TYPED.margin(worst)
    elif worst > KNOCK_LEFT.good:
        state, margin = KNOCK_LEFT.state(worst), KNOCK_LEFT.margin(worst)
    else:
        state, margin = KNOCK_RETARD.state(retard), 1.0 - retard / MOST_RETARD
    outside = engine.fuel.octane > RANGE
    if outside and state == FAILS:
        state, margin = TIGHT, max(margin, 0.0)
    figures = {
        "index": Figure(worst, "factor", "knock", at), "speed": revs(at),
        "charge": Figure(float(states[i, k.T_CHARGE]), "temperature", "charge", at),
        "retard": Figure(math.radians(retard), "angle", "retard", at),
    }  # fmt: skip
    if not by_fuel:
        text = (
            "Index {index} at {speed} with {charge} of charge and {retard} of retard; above 1 the end "
            "gas would light by itself"
        )
    elif retard < 1.0:
        text = (
            "The fuel stands it at best ignition: index {index} at {speed} with {charge} of charge"
        )
    else:
        text = (
            "The fuel asks for {retard} of retard at {speed} with {charge} of charge, index {index}; "
            "it costs {power} there and heats the exhaust by {warmer}"
        )
        best = best_ignition(case.solver, at, case.raw.solutions[good[i]])
        power, warmer = 0.0, 0.0
        if best is not None:
            power, warmer = best[0] - float(states[i, k.POWER]), float(states[i, k.T4]) - best[1]
        if power <= 0.0:
            text = (
                "The fuel asks for {retard} of retard at {speed} with {charge} of charge, index {index}; it heats the "
                "exhaust by {warmer}, and without that heat the turbine would not bring the boost there"
            )
        figures["power"] = Figure(power, "power", "retard_power", at)
        figures["warmer"] = Figure(warmer, "temperature_difference", "retard_heat", at)
    if outside:
        text += ". The relation was fitted up to octane 100: on this fuel it is only a hint"
    else:
        text += ". To rank and warn, not to promise"
    return [
        Verdict(
            "knock", "Knock (screening)", state, margin, say(text, **figures),
            None if state == HOLDS else say(
                "Cooler charge, more octane, less boost where it is worst",
                ("" if by_fuel else ", or more retard (10° cost about 4.5 % and heat the exhaust)")),
            (), "engine", KNOCK_TYPED.basis,
        )
    ]  # fmt: skip


def best_ignition(solver: Solver, speed: float, start: np.ndarray) -> tuple[float, float] | None:
    """Power in W and gas before the turbine in K at `speed` rev/min with the ignition at best torque;
    None where that is not solved. `start`: unknowns of the point with the retard."""
    engine = dataclasses.replace(solver.system.engine, retard=0.0)
    other = solver.with_ignition(pack(engine, float(solver.gas[GAS_CONSTANT])))
    raw = other.raw(np.array([speed]), start=start)
    if not raw.solved[0]:
        return None
    return float(raw.states[0, k.POWER]), float(raw.states[0, k.T4])
