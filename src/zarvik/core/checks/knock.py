"""Does the end gas keep still? A screening, never a promise."""

from __future__ import annotations

import dataclasses
import math

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.engine.engine import Engine
from zarvik.core.engine.knock import MOST_RETARD, RANGE, pack, screen, screening_charge
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.limits.limits import FAILS, KNOCK_HINT, KNOCK_LEFT, KNOCK_RETARD, KNOCK_TYPED, OK

CHECK = Check("knock", "Knock (screening)", about="engine", limit=KNOCK_TYPED, breaks=True)

# Below twice the idle speed nobody holds an engine at full load; common practice, no source.
LUGGING = 2.0
BOOST_STEP = 2e3  # Pa, in which a suggested boost is rounded down


def check(case: Case) -> list[CheckResult]:
    """The knock integral over the full-load line; nothing for a diesel."""
    engine = case.build.engine
    if engine.fuel.octane is None:
        return []
    good = np.nonzero(case.raw.solved & (case.raw.speed >= LUGGING * engine.idle))[0][::3]
    if len(good) == 0:
        return []
    states = case.raw.states[good]
    found = knock_integrals(case.solver, case.raw.speed[good], states)
    by_fuel = engine.retard is None
    # By the fuel, where it is latest; typed, where the index is highest.
    i = int(states[:, k.RETARD].argmax()) if by_fuel else int(found.argmax())
    if by_fuel and found.max() > KNOCK_LEFT.good:
        i = int(found.argmax())
    worst, retard = float(found[i]), float(states[i, k.RETARD])
    at = float(case.raw.speed[good][i])
    outside = engine.fuel.octane > RANGE
    state, margin = judged(engine, worst, retard)
    figures = {
        "index": Figure(worst, "factor", "knock", at),
        "speed": revs(at),
        "charge": Figure(float(states[i, k.T_CHARGE]), "temperature", "charge", at),
        "retard": Figure(math.radians(retard), "angle", "retard", at),
    }
    if not by_fuel:
        text = "Index {index} at {speed} with {charge} charge and {retard} of retard; above 1 the end gas ignites by itself"
    elif retard < 1.0:
        text = "This fuel stands best-torque timing: index {index} at {speed} with {charge} charge"
    else:
        text = (
            "This fuel needs {retard} less timing at {speed} with {charge} charge, index {index}. That costs "
            "{power} there and heats the exhaust by {warmer}"
        )
        best = best_ignition(case.solver, at, case.raw.solutions[good[i]])
        power, warmer = 0.0, 0.0
        if best is not None:
            power, warmer = best[0] - float(states[i, k.POWER]), float(states[i, k.T4]) - best[1]
        if power <= 0.0:
            text = (
                "This fuel needs {retard} less timing at {speed} with {charge} charge, index {index}. That heats the "
                "exhaust by {warmer}; without it the turbine could not make the boost there"
            )
        figures["power"] = Figure(power, "power", "retard_power", at)
        figures["warmer"] = Figure(warmer, "temperature_difference", "retard_heat", at)
    if outside:
        text += ". The relation covers up to octane 100: on this fuel it is a hint only"
    else:
        text += ". Rough guide only"

    def advised() -> tuple[Sentence | None, tuple[Change, ...]]:
        words = message(
            "Cooler charge, more octane, or less boost where it is worst",
            ("" if by_fuel else ", or more retard (10° cost about 4.5 % and heat the exhaust)"),
        )
        return (_less_boost(case, at, case.raw.solutions[good[i]]) or (words, ())) if state == FAILS and not outside else (words, ())

    cure, changes = case.cure("knock", state, advised)
    return [CHECK.check_result(message(text, **figures), state=state, margin=margin, cure=cure, changes=changes)]


def knock_integrals(solver: Solver, speed: np.ndarray, states: np.ndarray) -> np.ndarray:
    """The knock integral at solved points: `speed` rev/min and their states, a row each."""
    engine = solver.path.engine
    return np.array(
        [
            screen(
                engine.at(float(n)),
                speed=np.array([n]),
                plenum=row[k.P_PLENUM : k.P_PLENUM + 1],
                charge=np.array([screening_charge(engine.at(float(n)), float(row[k.T_CHARGE]), float(row[k.EVAPORATED_FUEL]))]),
                gas_constant=float(solver.gas[GAS_CONSTANT]),
                retard=row[k.RETARD : k.RETARD + 1],
            )[0]
            for n, row in zip(speed, states, strict=True)
        ]
    )


def judged(engine: Engine, index: float, retard: float) -> tuple[str, float]:
    """State and margin of a knock `index` with so many degrees of `retard`: the margin falls with the retard that the fuel asks for, and
    on below 0 with what is left when no more is taken."""
    octane = engine.fuel.octane
    assert octane is not None
    if octane > RANGE:
        return (FAILS if KNOCK_HINT.state(index) == FAILS else KNOCK_RETARD.state(retard)), min(
            KNOCK_HINT.margin(max(index, 1.0)), 1.0 - retard / MOST_RETARD + 0.5
        )
    if engine.retard is not None:
        return KNOCK_TYPED.state(index), KNOCK_TYPED.margin(index)
    over = max(index - 1.0, 0.0)
    left = KNOCK_LEFT.most - 1.0
    state = KNOCK_LEFT.state(index)
    if state == OK:
        state = KNOCK_RETARD.state(retard)
    return state, left + (1.0 - left) * (1.0 - retard / MOST_RETARD) - over


def knock_index(solver: Solver, point: Point) -> float:
    """The knock integral at a solved `point`; 0 for a diesel."""
    engine = solver.path.engine
    if engine.fuel.octane is None:
        return 0.0
    found = screen(
        engine.at(point.speed),
        speed=np.array([point.speed]),
        plenum=np.array([solver.path.site.pressure + point.boost]),
        charge=np.array([screening_charge(engine.at(point.speed), point.charge, point.evaporated)]),
        gas_constant=float(solver.gas[GAS_CONSTANT]),
        retard=np.array([point.retard]),
    )
    return float(found[0])


def knocks(solver: Solver, point: Point) -> bool:
    """Is a solved `point` one that cannot be driven, because no retard that is usual keeps it from knocking?"""
    engine = solver.path.engine
    return engine.fuel.octane is not None and judged(engine, knock_index(solver, point), point.retard)[0] == FAILS


def knock_margin(solver: Solver, point: Point) -> float:
    """Margin to knock at a solved `point`, negative where no retard that is usual keeps it away; inf for a diesel."""
    engine = solver.path.engine
    return math.inf if engine.fuel.octane is None else judged(engine, knock_index(solver, point), point.retard)[1]


def _less_boost(case: Case, speed: float, start: np.ndarray) -> tuple[Sentence, tuple[Change, ...]] | None:
    """The most boost, in steps that are set, that the fuel stands at an engine `speed`, with the retard that is usual; None where even
    without boost it does not."""
    solver, ambient = case.solver, case.build.site.pressure
    engine = case.build.engine

    def stands(boost: float) -> tuple[bool, float]:
        raw = solver.at_pressure(np.array([speed]), np.array([ambient + boost]), start=start)
        if not raw.solved[0]:
            return False, 0.0
        index = float(knock_integrals(solver, raw.speed, raw.states)[0])
        retard = float(raw.states[0, k.RETARD])
        return judged(engine, index, retard)[0] != FAILS, retard

    low, high = 0.0, case.build.boost.full
    if not stands(max(0.1 * high, 2e3))[0]:
        return None
    low = max(0.1 * high, 2e3)
    while high - low > BOOST_STEP:
        middle = 0.5 * (low + high)
        low, high = (middle, high) if stands(middle)[0] else (low, middle)
    boost = max(low // BOOST_STEP * BOOST_STEP, BOOST_STEP)
    fits, retard = stands(boost)
    if not fits:
        return None
    return (
        message(
            "A target boost of {boost}: this fuel then needs {retard} less timing at {speed}",
            boost=Figure(boost, "pressure_gauge"),
            retard=Figure(math.radians(retard), "angle"),
            speed=revs(speed),
        ),
        (Change("boost.full", boost),),
    )


def best_ignition(solver: Solver, speed: float, start: np.ndarray) -> tuple[float, float] | None:
    """Power in W and gas before the turbine in K at `speed` rev/min with the ignition at best torque;
    None where that is not solved. `start`: unknowns of the point with the retard."""
    engine = dataclasses.replace(solver.path.engine, retard=0.0)
    other = solver.with_ignition(pack(engine, float(solver.gas[GAS_CONSTANT])))
    raw = other.raw(np.array([speed]), start=start)
    if not raw.solved[0]:
        return None
    return float(raw.states[0, k.POWER]), float(raw.states[0, k.T4])
