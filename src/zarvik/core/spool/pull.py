"""From a closed throttle to boost: seconds at a held engine speed, and in a pull through a gear.

The throttle opens at once; wheel speed, gas in the pipes and, in a pull, the car begin where light load
left them. What the plenum takes to come up to ambient (under a tenth of a second), and metal of the manifold
that is cooler than at full load, are left out: both make the real engine slower.
"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.threshold import NEARLY
from zarvik.core.common.constants import STANDARD_GRAVITY
from zarvik.core.ducts import march
from zarvik.core.spool import transient
from zarvik.core.vehicle.car import Car

LIGHT = 0.25  # of its unboosted full load air (diesel: fuel) that the engine has before; common practice
STEP = 0.01  # s
LONGEST = 12.0  # s
GRID = 50.0  # rev/min
FULL = 0.9  # of the full boost that the schedule has to ask for before a pull is over
ROLLING = 0.013  # of the weight; T. D. Gillespie, Fundamentals of Vehicle Dynamics, 1992, ch. 4 (memory)


@dataclass(frozen=True)
class Pull:
    """What came of opening the throttle at `start` rev/min: `seconds` until nearly the full boost stood, inf
    where it never did, nan where there is no answer; engine speed `reached`; and the trace: `time` s, engine
    `speed` rev/min, `boost` Pa gauge, `power` W, `wheel` rev/min."""

    start: float
    seconds: float
    reached: float
    time: np.ndarray
    speed: np.ndarray
    boost: np.ndarray
    power: np.ndarray
    wheel: np.ndarray


def _none(speed: float) -> Pull:
    empty = np.zeros(0)
    return Pull(start=speed, seconds=math.nan, reached=math.nan, time=empty, speed=empty, boost=empty, power=empty, wheel=empty)


def _light(solver: Solver, speed: float) -> tuple[np.ndarray, np.ndarray] | None:
    """Unknowns and state at `speed` rev/min with the throttle nearly closed; a diesel with little fuel."""
    path = solver.path
    engine = path.engine
    speeds = np.array([speed])
    wanted = path.site.pressure + path.boost.full * np.ones(1)
    if engine.fuel.spark:
        raw = solver.at_pressure(speeds, wanted, breath=LIGHT)
        if not raw.solved[0]:
            # A wheel so large that it hardly turns: led down from the open throttle, as far as it goes.
            raw = solver.at_pressure(speeds, wanted)
            for breath in (0.7, 0.5, 0.35, LIGHT):
                if not raw.solved[0]:
                    break
                less = solver.at_pressure(speeds, wanted, breath=breath, start=raw.solutions[0])
                if not less.solved[0]:
                    break
                raw = less
    else:
        little = dataclasses.replace(
            engine, lambda_=min(engine.lambda_ / LIGHT, 8.0), mixture=(), delivery=tuple((n, LIGHT * v) for n, v in engine.delivery)
        )
        raw = prepare(dataclasses.replace(path, engine=little)).at_pressure(speeds, wanted)
    if not raw.solved[0]:
        return None
    return raw.solutions[0].copy(), raw.states[0].copy()


def _car(car: Car) -> np.ndarray:
    """The `car` as the kernel reads it; metres and kg."""
    total = car.gear_ratio * car.final_drive
    packed = np.zeros(transient.CAR)
    # Wheels, shafts and engine turn too: T. D. Gillespie 1992, eq. 2-9b (memory), 1.04 + 0.0025 N^2.
    packed[transient.MASS] = car.mass * (1.04 + 0.0025 * total**2)
    packed[transient.ROLLING] = ROLLING * car.mass * STANDARD_GRAVITY
    packed[transient.DRAG] = 0.5 * 1.2 * car.drag_area
    packed[transient.ADVANCE] = math.pi * car.tyre_diameter / total
    packed[transient.DRIVE] = car.drive
    return packed


def _asked(path: AirPath, speed: float, moving: bool) -> tuple[np.ndarray, np.ndarray]:
    """Engine speeds in rev/min from below `speed` to the rev limit where the car is `moving`, `speed` alone where it is held, and the
    pressure that is asked for at each, Pa."""
    if moving:
        low, top = max(0.6 * speed, 500.0), path.engine.rev_limit
        grid = np.linspace(low, top, max(int((top - low) / GRID), 2) + 1)
        wanted = path.site.pressure + path.boost.at(grid)
    else:
        grid = np.array([speed, speed + GRID])
        wanted = np.full(2, path.site.pressure + path.boost.full)
    # No boost asked for is no boost to reach: the schedule begins above nothing.
    return grid, np.maximum(wanted, path.site.pressure * 1.001)


def pull(solver: Solver, speed: float, *, car: Car | None = None, step: float = STEP, longest: float = LONGEST) -> Pull:
    """Open the throttle at an engine `speed` in rev/min that is held, or in the gear of a `car`;
    steps of `step` s for `longest` s at most. nan for a build with a blower, which has no
    rotor, and beyond the rev limit.

    Within 2 % of a step ten times as small; rotor inertia (25 % where estimated) and the turbine on its lowest
    lines decide.
    """
    path = solver.path
    top = path.engine.rev_limit
    if path.blower is not None or speed > top - (2.0 * GRID if car is not None else 0.0):
        # A blower has no rotor to wait for; beyond the rev limit nobody pulls.
        return _none(speed)
    light = _light(solver, speed)
    if light is None:
        return _none(speed)
    x, state = light
    grid, wanted = _asked(path, speed, car is not None)
    moved = np.zeros(transient.CAR) if car is None else _car(car)
    base = solver.packed[k.SITE].copy()
    base[k.INERTIA] = path.turbo.rotor * path.turbo.count
    base[k.VOLUME] = max(path.charge_volume, 1e-5)
    base[k.HOT_VOLUME] = max(path.hot_volume, 1e-6)
    mixtures = solver.mixtures(grid, base)
    trace = np.zeros((round(longest / step), transient.TRACE))
    pieces = np.zeros((len(solver.rows), march.RESULTS))
    count = transient.simulate_spool(
        solver.packed,
        mixtures,
        solver.bounds,
        grid,
        path.engine.breathing.at(grid),
        wanted,
        float(speed),
        x,
        moved,
        step,
        np.array([NEARLY, FULL * path.boost.full]),
        pieces,
        state,
        trace,
    )
    if count < 2:
        return _none(speed)
    rows = trace[:count]
    last = rows[-1]
    aim = float(np.interp(last[transient.SPEED], grid, wanted)) - path.site.pressure
    there = last[transient.BOOST] >= NEARLY * aim and aim >= FULL * path.boost.full
    return Pull(
        start=speed,
        seconds=float(last[transient.TIME]) if there else math.inf,
        reached=float(last[transient.SPEED]),
        time=rows[:, transient.TIME],
        speed=rows[:, transient.SPEED],
        boost=rows[:, transient.BOOST],
        power=rows[:, transient.CRANK],
        wheel=rows[:, transient.WHEEL],
    )
