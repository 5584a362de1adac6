"""Where a point begins that has no solved neighbour, and how a solution is led from one place to another; compiled."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.newton import ANEW, newton, put
from zarvik.core.airpath.slots import (
    BELT,
    DISPLACEMENT,
    GAS,
    GATE_AREA,
    SITE,
    SITE_PRESSURE,
    SITE_TEMPERATURE,
    UNKNOWNS,
    X_AIR,
    X_OUTLET,
    X_PORT,
    X_REGIME,
    X_TURBINE_INLET,
    X_WHEEL,
    Bounds,
    Packed,
)
from zarvik.core.common.compiled import compiled
from zarvik.core.engine.engine import air_demand


@compiled
def first_guess(packed: Packed, breathing: float, speed: float, wanted: float, kind: int, x: np.ndarray) -> None:
    """A start for a point that has no neighbour: `kind` 0 hardly boosted, 1 gate controlling,
    2 in between, 3 wide open, 4 far more boost than is asked, 5 less than ambient in the plenum.

    `breathing` VE, `speed` rev/min, `wanted` plenum Pa; writes the unknowns `x`.
    """
    site, gas = packed[SITE], packed[GAS]
    p_ambient = site[SITE_PRESSURE]
    share = (0.0, 1.0, 0.5, 1.2, 2.2, 0.0)[kind]
    plenum = p_ambient + share * max(wanted - p_ambient, 0.0)
    if kind == 5:
        plenum = 0.7 * p_ambient
    ratio = max(plenum / p_ambient, 1.0) * 1.03
    temperature = site[SITE_TEMPERATURE] + 25.0 * (ratio - 1.0)
    air = air_demand(gas, site[DISPLACEMENT], breathing, speed, plenum, temperature)
    x[X_AIR] = math.log(0.97 * air)
    if site[BELT] > 0.0:
        x[X_WHEEL] = math.log(ratio)
        x[X_TURBINE_INLET] = 0.05
    else:
        x[X_WHEEL] = math.log(min(max(0.62 * math.sqrt(max(ratio - 1.0, 0.004)), 0.03), 1.2))
        x[X_TURBINE_INLET] = math.log(1.0 + 1.05 * (ratio - 1.0) + 0.02)
    x[X_REGIME] = (-0.4, 0.3, -0.2, 1.1, 1.3, -0.7)[kind]
    if site[BELT] <= 0.0 and site[GATE_AREA] <= 0.0:
        x[X_REGIME] = math.log(plenum / wanted)
    x[X_PORT] = x[X_TURBINE_INLET] + 0.03
    x[X_OUTLET] = math.log(3.0)


@compiled
def from_little_air(
    packed: Packed,
    bounds: Bounds,
    breathing: float,
    speed: float,
    wanted: float,
    x: np.ndarray,
    jacobian: np.ndarray,
    pieces: np.ndarray,
    state: np.ndarray,
) -> bool:
    """Solve a point by letting the engine breathe more and more: with little air everything stands near
    ambient and is easily found. The share of its breath grows in steps that follow how they go; it
    ends on the branch that a gently opened throttle leads to. Arguments as in `newton`.

    `breathing` VE, `speed` rev/min, `wanted` plenum Pa; `jacobian` is overwritten.
    """
    last = np.empty(UNKNOWNS)
    older = np.empty(UNKNOWNS)
    share = 0.12
    first_guess(packed, share * breathing, speed, wanted, 0, x)
    if not newton(packed, bounds, share * breathing, speed, wanted, x, jacobian, ANEW, pieces, state):
        return False
    put(last, x)
    put(older, x)
    before = 0.0
    step = 1.5
    for _ in range(40):
        there = min(share * step, 1.0)
        forward = math.log(there / share)
        for j in range(UNKNOWNS):
            x[j] = last[j]
            if before > 0.0:
                x[j] += min(max((last[j] - older[j]) * forward / before, -0.3), 0.3)
            elif j == X_AIR:
                x[j] += forward
        if newton(packed, bounds, there * breathing, speed, wanted, x, jacobian, ANEW, pieces, state):
            if there >= 1.0:
                return True
            put(older, last)
            put(last, x)
            before = forward
            share = there
            step = min(step * 1.3, 2.0)
        else:
            step = math.sqrt(step)
            if step < 1.004:
                return False
    return False


@compiled
def continue_to(
    packed: Packed,
    bounds: Bounds,
    breathing0: float,
    breathing1: float,
    speed0: float,
    speed1: float,
    wanted0: float,
    wanted1: float,
    x: np.ndarray,
    jacobian: np.ndarray,
    pieces: np.ndarray,
    state: np.ndarray,
) -> bool:
    """Lead a solution `x` at one engine speed to another in steps that are halved where they fail.

    From `breathing0`, `speed0` rev/min, `wanted0` Pa to the second of each.
    The second are `breathing1` VE, `speed1` rev/min, `wanted1` Pa; `jacobian` is overwritten.
    """
    last = np.empty(UNKNOWNS)
    put(last, x)
    done = 0.0
    step = 1.0
    for _ in range(30):
        there = min(done + step, 1.0)
        for j in range(UNKNOWNS):
            x[j] = last[j]
        speed = speed0 + there * (speed1 - speed0)
        breath = breathing0 + there * (breathing1 - breathing0)
        x[X_AIR] += math.log(speed * breath / ((speed0 + done * (speed1 - speed0)) * (breathing0 + done * (breathing1 - breathing0))))
        if newton(packed, bounds, breath, speed, wanted0 + there * (wanted1 - wanted0), x, jacobian, ANEW, pieces, state):
            if there >= 1.0:
                return True
            put(last, x)
            done = there
        else:
            step *= 0.5
            if step < 0.06:
                return False
    return False
