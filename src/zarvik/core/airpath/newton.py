"""Newton's method on the coupled equations, and the continuation along a sweep, compiled."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath.kernel import energy_left, residuals
from zarvik.core.airpath.slots import (
    AIR,
    BELT,
    BURNT,
    CLOSED,
    DUMPED,
    ENERGY,
    F_ENGINE,
    FUEL,
    GAS,
    GATE_FLOW,
    ITERATIONS,
    MAP_SPEED,
    P_PLENUM,
    REJOINS,
    RELEASED_HEAT,
    RESIDUAL,
    ROWS,
    SITE,
    SITE_PRESSURE,
    T_PORT,
    UNKNOWNS,
    X_AIR,
    X_REGIME,
    Bounds,
    Packed,
)
from zarvik.core.common.compiled import compiled
from zarvik.core.ducts.march import speeds

HOTTEST = 1600.0  # K at the ports
FASTEST = 1.8  # of the map's highest speed
HIGHEST = 12e5  # Pa in the plenum
TOLERANCE = 1e-8
ACCEPTED = 1e-7
MOST_ITERATIONS = 30
PATIENCE = 7

# Is a Jacobian taken over? Not Python's own True and False: the compiler would write the whole of Newton's method once for each.
ANEW: bool = np.bool_(False)  # type: ignore[assignment]
FROM_BEFORE: bool = np.bool_(True)  # type: ignore[assignment]


@compiled
def eliminate(matrix: np.ndarray, right: np.ndarray, out: np.ndarray) -> bool:
    """Solve a small system for the unknowns `out` with partial pivoting; `matrix` and `right` are used up."""
    n = UNKNOWNS
    for column in range(n):
        best = column
        for i in range(column + 1, n):
            if abs(matrix[i, column]) > abs(matrix[best, column]):
                best = i
        if not abs(matrix[best, column]) > 1e-14:
            return False
        if best != column:
            for j in range(n):
                swap = matrix[column, j]
                matrix[column, j] = matrix[best, j]
                matrix[best, j] = swap
            swap = right[column]
            right[column] = right[best]
            right[best] = swap
        for i in range(column + 1, n):
            factor = matrix[i, column] / matrix[column, column]
            if factor != 0.0:
                for j in range(column, n):
                    matrix[i, j] -= factor * matrix[column, j]
                right[i] -= factor * right[column]
    for i in range(n - 1, -1, -1):
        total = right[i]
        for j in range(i + 1, n):
            total -= matrix[i, j] * out[j]
        out[i] = total / matrix[i, i]
    return True


@compiled
def put(here: np.ndarray, what: np.ndarray) -> None:
    """Copy the unknowns or residuals `what` to `here` (UNKNOWNS of either, dimensionless). A slice would take a second to compile, for
    the sentence it has ready if sizes differ."""
    for i in range(UNKNOWNS):
        here[i] = what[i]


@compiled
def put_table(here: np.ndarray, what: np.ndarray) -> None:
    """Copy the square table `what` to `here` (UNKNOWNS by UNKNOWNS, dimensionless)."""
    for i in range(UNKNOWNS):
        put(here[i], what[i])


@compiled
def size(f: np.ndarray) -> float:
    """Sum of the squares of the residuals `f` (dimensionless)."""
    total = 0.0
    for i in range(UNKNOWNS):
        total += f[i] * f[i]
    return total


@compiled
def follow_step(jacobian: np.ndarray, step: np.ndarray, f: np.ndarray, near: np.ndarray) -> None:
    """Bring a `jacobian` up to date with a `step` of the unknowns from residuals `f` to `near`, by Broyden's rule (C. G. Broyden, Math.
    Comp. 19 (1965) 577); dimensionless."""
    length = 0.0
    for i in range(UNKNOWNS):
        length += step[i] * step[i]
    if length <= 0.0:
        return
    for i in range(UNKNOWNS):
        change = near[i] - f[i]
        for j in range(UNKNOWNS):
            change -= jacobian[i, j] * step[j]
        change /= length
        for j in range(UNKNOWNS):
            jacobian[i, j] += change * step[j]


@compiled
def newton(
    packed: Packed,
    bounds: Bounds,
    breathing: float,
    speed: float,
    wanted: float,
    x: np.ndarray,
    jacobian: np.ndarray,
    known: bool,
    pieces: np.ndarray,
    state: np.ndarray,
) -> bool:
    """Bring `x` to a solution; True when it closes.

    `jacobian` is taken over when `known`, and left up to date. Newton with a numeric Jacobian,
    Broyden's rule in between (C. G. Broyden, Math. Comp. 19 (1965) 577), steps limited to a quarter in
    every unknown and cut back until the residual falls. `breathing` VE, `speed` rev/min, `wanted`
    plenum Pa; unknowns `x`, `pieces`, `state` as in `residuals`.
    """
    f = np.empty(UNKNOWNS)
    trial = np.empty(UNKNOWNS)
    near = np.empty(UNKNOWNS)
    step = np.empty(UNKNOWNS)
    work = np.empty((UNKNOWNS, UNKNOWNS))
    right = np.empty(UNKNOWNS)
    residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
    tries = 0
    while not f[F_ENGINE] > -1.0 and tries < 60:
        # Far more air than a pipe passes: everything behind it stands near vacuum. Less of it.
        x[X_AIR] -= 0.02 if tries < 15 else 0.15
        residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
        tries += 1
    count = 0
    here = size(f)
    noted = here
    checked = 0
    stuck = False
    settled = False
    while count < MOST_ITERATIONS:
        worst = 0.0
        for i in range(UNKNOWNS):
            worst = max(worst, abs(f[i]))
        if worst < TOLERANCE:
            settled = True
            break
        if count >= checked + PATIENCE:
            # Crawling: there is no solution on this side of a fold, another start is cheaper.
            if here > 0.2 * noted:
                break
            noted = here
            checked = count
        fresh = not known
        if fresh:
            for j in range(UNKNOWNS):
                delta = 1e-6
                if j == X_REGIME:
                    # Stay on this side of the kinks of the regime.
                    delta = -1e-6 if (0.0 < x[X_REGIME] <= 2e-6 + 0.0 or (x[X_REGIME] > 1.0 - 1e-6 and x[X_REGIME] <= 1.0)) else 1e-6
                if j == X_AIR:
                    delta = -1e-6
                for i in range(UNKNOWNS):
                    trial[i] = x[i]
                trial[j] += delta
                residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
                for i in range(UNKNOWNS):
                    jacobian[i, j] = (near[i] - f[i]) / delta
            known = True
        for i in range(UNKNOWNS):
            right[i] = -f[i]
            for j in range(UNKNOWNS):
                work[i, j] = jacobian[i, j]
        if not eliminate(work, right, step):
            if fresh:
                break
            known = False
            count += 1
            continue
        scale = 1.0
        for i in range(UNKNOWNS):
            if abs(step[i]) * scale > 0.25:
                scale = 0.25 / abs(step[i])
        after = here
        accepted = False
        for _ in range(8 if fresh else 1):
            for i in range(UNKNOWNS):
                trial[i] = x[i] + scale * step[i]
            residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
            after = size(near)
            if after < here * (1.0 - 1e-4 * scale):
                accepted = True
                break
            scale *= 0.5
        count += 1
        if not accepted:
            if not fresh:
                known = False
                continue
            if stuck or not after < 1e3:
                break
            # A kink of the regime may lie on the way: step over it once.
            stuck = True
            for i in range(UNKNOWNS):
                trial[i] = x[i] + 0.3 * step[i] * min(1.0, 0.25 / max(abs(step[i]), 1e-9))
            residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
            after = size(near)
            known = False
            for i in range(UNKNOWNS):
                x[i] = trial[i]
                f[i] = near[i]
            here = after
            continue
        for i in range(UNKNOWNS):
            step[i] *= scale
        follow_step(jacobian, step, f, near)
        if after > 0.5 * here or (x[X_REGIME] > 0.0) != (trial[X_REGIME] > 0.0) or (x[X_REGIME] > 1.0) != (trial[X_REGIME] > 1.0):
            known = False
        for i in range(UNKNOWNS):
            x[i] = trial[i]
            f[i] = near[i]
        here = after
    worst = 0.0
    closed = True
    if not settled:
        # The last trial was not taken: what stands in `state` is not the state of `x`.
        residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
    for i in range(UNKNOWNS):
        worst = max(worst, abs(f[i]))
        if f[i] != f[i]:
            closed = False
        state[RESIDUAL + i] = f[i]
    closed = closed and worst < ACCEPTED
    state[ITERATIONS] = count
    state[CLOSED] = 1.0 if closed else 0.0
    if closed:
        exhaust = state[AIR] + state[FUEL]
        speeds(packed[GAS], packed[ROWS], 0, bounds[2], state[AIR], pieces)
        speeds(packed[BURNT], packed[ROWS], bounds[2], bounds[3], exhaust, pieces)
        behind = max(exhaust - state[DUMPED], 0.05 * exhaust)
        back = bounds[3] + int(packed[SITE][REJOINS])
        speeds(packed[BURNT], packed[ROWS], bounds[3], back, exhaust - state[GATE_FLOW], pieces)
        speeds(packed[BURNT], packed[ROWS], back, bounds[4], behind, pieces)
        state[ENERGY] = energy_left(packed, bounds, speed, pieces, state)
    return closed


@compiled
def bound(site: np.ndarray, state: np.ndarray) -> float:
    """Which physical bound a closed state breaks, 0 for none.

    `site` and `state` as in `slots`, in SI units.
    """
    if not abs(state[ENERGY]) <= 1e-4 * abs(state[RELEASED_HEAT]):
        return 4.0
    if state[T_PORT] > HOTTEST or not state[T_PORT] > 200.0:
        return 1.0
    if site[BELT] <= 0.0 and state[MAP_SPEED] > FASTEST:
        return 2.0
    if state[P_PLENUM] > HIGHEST:
        return 3.0
    if state[P_PLENUM] < 0.05 * site[SITE_PRESSURE]:
        return 5.0
    return 0.0
