"""Newton's method on the coupled equations, and the continuation along a sweep, compiled."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.kernel import (
    AIR,
    BELT,
    CHOKED,
    CLOSED,
    DISPLACEMENT,
    ENERGY,
    FUEL,
    ITERATIONS,
    RESIDUAL,
    SITE_PRESSURE,
    SITE_TEMPERATURE,
    UNKNOWNS,
    Packed,
    energy_left,
    residuals,
)
from zarvik.core.compiled import compiled
from zarvik.core.ducts.march import speeds
from zarvik.core.engine.engine import air_demand

TOLERANCE = 1e-8
ACCEPTED = 1e-7
MOST_ITERATIONS = 60


@compiled
def _eliminate(matrix: np.ndarray, right: np.ndarray, out: np.ndarray) -> bool:
    """Solve a small system with partial pivoting; `matrix` and `right` are used up."""
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
def _size(f: np.ndarray) -> float:
    total = 0.0
    for i in range(UNKNOWNS):
        total += f[i] * f[i]
    return total


@compiled
def newton(
    packed: Packed,
    bounds: tuple[int, int, int, int, int],
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
    Broyden's rule in between (C. G. Broyden, Math. Comp. 19 (1965) 577), steps limited to a
    quarter in every unknown and cut back until the residual falls.
    """
    f = np.empty(UNKNOWNS)
    trial = np.empty(UNKNOWNS)
    near = np.empty(UNKNOWNS)
    step = np.empty(UNKNOWNS)
    work = np.empty((UNKNOWNS, UNKNOWNS))
    right = np.empty(UNKNOWNS)
    choked = residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
    last = choked
    tries = 0
    while choked >= 0 and tries < 30:
        x[0] -= 0.15
        choked = residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
        tries += 1
    count = 0
    here = _size(f)
    stuck = False
    settled = False
    while choked < 0 and count < MOST_ITERATIONS:
        worst = 0.0
        for i in range(UNKNOWNS):
            worst = max(worst, abs(f[i]))
        if worst < TOLERANCE:
            settled = True
            break
        fresh = not known
        if fresh:
            for j in range(UNKNOWNS):
                delta = 1e-6
                if j == 3:
                    # Stay on this side of the kinks of the regime.
                    delta = (
                        -1e-6
                        if (0.0 < x[3] <= 2e-6 + 0.0 or (x[3] > 1.0 - 1e-6 and x[3] <= 1.0))
                        else 1e-6
                    )
                if j == 0:
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
        if not _eliminate(work, right, step):
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
        for _ in range(14 if fresh else 1):
            for i in range(UNKNOWNS):
                trial[i] = x[i] + scale * step[i]
            code = residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
            if code >= 0:
                last = code
            else:
                after = _size(near)
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
            code = residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
            if code >= 0:
                last = code
                break
            after = _size(near)
            known = False
            for i in range(UNKNOWNS):
                x[i] = trial[i]
                f[i] = near[i]
            here = after
            continue
        length = 0.0
        for i in range(UNKNOWNS):
            step[i] *= scale
            length += step[i] * step[i]
        if length > 0.0:
            for i in range(UNKNOWNS):
                change = near[i] - f[i]
                for j in range(UNKNOWNS):
                    change -= jacobian[i, j] * step[j]
                change /= length
                for j in range(UNKNOWNS):
                    jacobian[i, j] += change * step[j]
        if (
            after > 0.5 * here
            or (x[3] > 0.0) != (trial[3] > 0.0)
            or (x[3] > 1.0) != (trial[3] > 1.0)
        ):
            known = False
        for i in range(UNKNOWNS):
            x[i] = trial[i]
            f[i] = near[i]
        here = after
    worst = 0.0
    closed = choked < 0
    if closed and not settled:
        # The last trial was not taken: what stands in `state` is not the state of `x`.
        closed = residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state) < 0
    for i in range(UNKNOWNS):
        worst = max(worst, abs(f[i]))
        if f[i] != f[i]:
            closed = False
        state[RESIDUAL + i] = f[i]
    closed = closed and worst < ACCEPTED
    state[ITERATIONS] = count
    state[CHOKED] = -1.0 if closed else float(last)
    state[CLOSED] = 1.0 if closed else 0.0
    if closed:
        exhaust = state[AIR] + state[FUEL]
        speeds(packed[1], packed[3], 0, bounds[2], state[AIR], pieces)
        speeds(packed[2], packed[3], bounds[2], bounds[4], exhaust, pieces)
        state[ENERGY] = energy_left(packed, bounds, speed, pieces, state)
    return closed


@compiled
def first_guess(
    packed: Packed, breathing: float, speed: float, wanted: float, kind: int, x: np.ndarray
) -> None:
    """A start for a point that has no neighbour: `kind` 0 hardly boosted, 1 gate controlling,
    2 in between, 3 wide open."""
    site, gas = packed[0], packed[1]
    p_ambient = site[SITE_PRESSURE]
    share = (0.0, 1.0, 0.5, 1.2)[kind]
    plenum = p_ambient + share * max(wanted - p_ambient, 0.0)
    ratio = max(plenum / p_ambient, 1.0) * 1.03
    temperature = site[SITE_TEMPERATURE] + 25.0 * (ratio - 1.0)
    air = air_demand(gas, site[DISPLACEMENT], breathing, speed, plenum, temperature)
    x[0] = math.log(0.97 * air)
    if site[BELT] > 0.0:
        x[1] = math.log(ratio)
        x[2] = 0.05
    else:
        x[1] = math.log(min(max(0.62 * math.sqrt(max(ratio - 1.0, 0.004)), 0.03), 1.2))
        x[2] = math.log(1.0 + 1.05 * (ratio - 1.0) + 0.02)
    x[3] = (-0.4, 0.3, -0.2, 1.1)[kind]
    x[4] = x[2] + 0.03
    x[5] = math.log(3.0)


@compiled
def solve(
    packed: Packed,
    bounds: tuple[int, int, int, int, int],
    breathing: np.ndarray,
    speeds: np.ndarray,
    wanted: np.ndarray,
    start: np.ndarray,
    all_pieces: np.ndarray,
    states: np.ndarray,
    solutions: np.ndarray,
) -> None:
    """Solve one point for each engine speed (rev/min) with `wanted` plenum pressure (Pa absolute).

    The speeds are followed in their order by continuation, each point from the two before it; a
    point that does not close from there is tried from a few fixed starts. `start`: the unknowns
    to begin with, nan for none. Fills `all_pieces` (points, pieces, RESULTS), `states` (points,
    POINT_SIZE) and `solutions` (points, UNKNOWNS).
    """
    count = speeds.shape[0]
    jacobian = np.zeros((UNKNOWNS, UNKNOWNS))
    x = np.empty(UNKNOWNS)
    before = np.empty(UNKNOWNS)
    older = np.empty(UNKNOWNS)
    oldest = np.empty(UNKNOWNS)
    oldest_speed = 0.0
    have = 0  # how many points in a row have closed
    known = False
    if start[0] == start[0]:
        before[:] = start
        have = 1
    last_speed = 0.0
    older_speed = 0.0
    last_air = 1.0
    for i in range(count):
        closed = False
        if have > 0:
            for j in range(UNKNOWNS):
                x[j] = before[j]
            if have > 1 and abs(last_speed - older_speed) > 1e-9:
                share = (speeds[i] - last_speed) / (last_speed - older_speed)
                bend = 0.0
                if have > 2 and abs(older_speed - oldest_speed) > 1e-9:
                    bend = (last_speed - older_speed) / (older_speed - oldest_speed)
                if 0.0 < share < 2.5:
                    for j in range(UNKNOWNS):
                        moved = share * (before[j] - older[j])
                        if 0.4 < bend < 2.5:
                            # The parabola through three points, by divided differences.
                            rest = (before[j] - older[j]) - bend * (older[j] - oldest[j])
                            moved += rest * bend * share * (share + 1.0) / (bend + 1.0)
                        x[j] += min(max(moved, -0.3), 0.3)
            elif last_speed > 0.0:
                x[0] += math.log(speeds[i] * breathing[i] / (last_speed * last_air))
            closed = newton(
                packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, known,
                all_pieces[i], states[i],
            )  # fmt: skip
            if (not closed and states[i, CHOKED] < 0) or (not closed and have > 1):
                for j in range(UNKNOWNS):
                    x[j] = before[j]
                closed = newton(
                    packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, False,
                    all_pieces[i], states[i],
                )  # fmt: skip
        for kind in range(4):
            if closed:
                break
            first_guess(packed, breathing[i], speeds[i], wanted[i], kind, x)
            closed = newton(
                packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, False,
                all_pieces[i], states[i],
            )  # fmt: skip
        for j in range(UNKNOWNS):
            solutions[i, j] = x[j]
        known = closed
        if closed:
            oldest[:] = older
            oldest_speed = older_speed
            older[:] = before
            before[:] = x
            older_speed = last_speed
            last_speed = speeds[i]
            last_air = breathing[i]
            have += 1
        else:
            have = 0
