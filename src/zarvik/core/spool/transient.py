"""The air path in time, compiled: rotors that have to be brought to speed, pipes that have to be filled.

Each step is the steady solution with what the step stores (implicit Euler: energy of the rotors, mass of
the gas), so that a long wait ends in the steady point itself.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.kernel import gas_mass
from zarvik.core.airpath.newton import ANEW, newton, put
from zarvik.core.airpath.slots import (
    BURNT,
    CHARGE_BEFORE,
    GAS,
    HOT_BEFORE,
    HOT_VOLUME,
    MAP_FLOW,
    MAP_MAXIMUM,
    MAP_RATIO,
    P4,
    P_PLENUM,
    PER_STEP,
    POWER,
    SITE,
    SITE_PRESSURE,
    T4,
    T_PLENUM,
    UNKNOWNS,
    VOLUME,
    WHEEL_BEFORE,
    X_REGIME,
    X_WHEEL,
    Bounds,
    Packed,
)
from zarvik.core.airpath.starts import first_guess
from zarvik.core.airpath.sweep import at_point
from zarvik.core.common.compiled import compiled

# Columns of what is written: time s, engine speed rev/min, boost Pa gauge, power W, wheel speed rev/min,
# compressor flow (corrected) and ratio
TIME, SPEED, BOOST, CRANK, WHEEL, FLOW, RATIO = range(7)
TRACE = 7
SETTLED = 0.002  # of its speed a second that a wheel gains no more than this: it has arrived
# The car: kg with what turns, N of rolling, N/(m/s)2 of air, metres a turn of the crank, share of the power
# that reaches the road; all 0 where the speed is held
MASS, ROLLING, DRAG, ADVANCE, DRIVE = range(5)
CAR = 5


@compiled
def _note(packed: Packed, x: np.ndarray, state: np.ndarray) -> None:
    """Keep what the next step begins with: wheel speed rad/s and the gas in both volumes in kg."""
    site = packed[SITE]
    site[WHEEL_BEFORE] = math.exp(x[X_WHEEL]) * site[MAP_MAXIMUM] * math.pi / 30.0
    site[CHARGE_BEFORE] = gas_mass(packed[GAS], site[VOLUME], state[P_PLENUM], state[T_PLENUM])
    site[HOT_BEFORE] = gas_mass(packed[BURNT], site[HOT_VOLUME], state[P4], state[T4])


@compiled
def simulate_spool(
    whole: Packed,
    mixtures: tuple[np.ndarray, np.ndarray],
    bounds: Bounds,
    grid: np.ndarray,
    breathing: np.ndarray,
    wanted: np.ndarray,
    speed: float,
    x: np.ndarray,
    car: np.ndarray,
    step: float,
    enough: np.ndarray,
    pieces: np.ndarray,
    state: np.ndarray,
    trace: np.ndarray,
) -> int:
    """Open the throttle at an engine `speed` in rev/min from the steady state of closed throttle, with the
    unknowns `x` and its `state`, and follow it in steps of `step` s until the boost is `enough` of what is
    wanted (a share by speed), the last speed of the `grid` is reached or the `trace` is full.

    `grid`: engine speeds in rev/min, with VE `breathing`, plenum pressure `wanted` in Pa and a row of
    `mixtures` (site and burnt gas) for each. `car`: see MASS. Writes `trace`, a row a step; gives the number of
    rows, negative when a step did not close.
    """
    jacobian = np.zeros((UNKNOWNS, UNKNOWNS))
    before = np.empty(UNKNOWNS)
    last = grid.shape[0] - 1
    sites = mixtures[0]
    # Wheel and gas of the closed throttle
    first = at_point(whole, mixtures, 0)
    _note(first, x, state)
    wheel, cold, hot = (first[SITE][WHEEL_BEFORE], first[SITE][CHARGE_BEFORE], first[SITE][HOT_BEFORE])
    guess = np.empty(UNKNOWNS)
    rows = trace.shape[0]
    time = 0.0
    ambient = first[SITE][SITE_PRESSURE]
    known = ANEW
    for count in range(rows):
        place = min(max((speed - grid[0]) / (grid[1] - grid[0]), 0.0), float(last))
        low = min(int(place), last - 1)
        share = place - low
        breath = breathing[low] + share * (breathing[low + 1] - breathing[low])
        aim = wanted[low] + share * (wanted[low + 1] - wanted[low])
        packed = at_point(whole, mixtures, min(int(place + 0.5), sites.shape[0] - 1))
        site = packed[SITE]
        site[PER_STEP] = 1.0 / step
        site[WHEEL_BEFORE], site[CHARGE_BEFORE], site[HOT_BEFORE] = wheel, cold, hot
        if count == 0:
            # The throttle is open, the wheel is not faster yet.
            first_guess(packed, breath, speed, aim, 0, guess)
            guess[X_WHEEL] = x[X_WHEEL]
            guess[X_REGIME] = min(math.log(ambient / aim), -1e-3)
            put(x, guess)
        put(before, x)
        closed = newton(packed, bounds, breath, speed, aim, x, jacobian, known, pieces, state)
        if not closed and known:
            put(x, before)
            closed = newton(packed, bounds, breath, speed, aim, x, jacobian, ANEW, pieces, state)
        number = 0
        while not closed and number < 4:
            first_guess(packed, breath, speed, aim, number, guess)
            guess[X_WHEEL] = before[X_WHEEL]
            put(x, guess)
            closed = newton(packed, bounds, breath, speed, aim, x, jacobian, ANEW, pieces, state)
            number += 1
        if not closed:
            return -count
        known = True
        _note(packed, x, state)
        gained = site[WHEEL_BEFORE] / wheel - 1.0
        wheel, cold, hot = site[WHEEL_BEFORE], site[CHARGE_BEFORE], site[HOT_BEFORE]
        time += step
        boost = state[P_PLENUM] - ambient
        trace[count, TIME] = time
        trace[count, SPEED] = speed
        trace[count, BOOST] = boost
        trace[count, CRANK] = state[POWER]
        trace[count, WHEEL] = wheel * 30.0 / math.pi
        trace[count, FLOW] = state[MAP_FLOW]
        trace[count, RATIO] = state[MAP_RATIO]
        if boost >= enough[0] * (aim - ambient) and aim - ambient >= enough[1]:
            return count + 1
        if car[MASS] <= 0.0 and gained < SETTLED * step and count > 20:
            return count + 1  # it does not come any further
        if car[MASS] > 0.0:
            metres = speed / 60.0 * car[ADVANCE]
            push = car[DRIVE] * state[POWER] / max(metres, 0.5)
            gain = (push - car[ROLLING] - car[DRAG] * metres * metres) / car[MASS]
            speed += step * gain * 60.0 / car[ADVANCE]
            if speed >= grid[last] or speed <= grid[0]:
                return count + 1
    return rows
