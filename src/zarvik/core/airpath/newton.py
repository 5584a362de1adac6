"""Newton's method on the coupled equations, and the continuation along a sweep, compiled."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.kernel import (
    AIR,
    BELT,
    BOUND,
    CLOSED,
    DISPLACEMENT,
    ENERGY,
    FUEL,
    GATE_AREA,
    ITERATIONS,
    MAP_SPEED,
    P_PLENUM,
    RELEASED_HEAT,
    RESIDUAL,
    SITE_PRESSURE,
    SITE_TEMPERATURE,
    T_PORT,
    UNKNOWNS,
    Packed,
    energy_left,
    residuals,
)
from zarvik.core.compiled import compiled
from zarvik.core.ducts.march import speeds
from zarvik.core.engine.engine import air_demand

STARTS = 6
HOTTEST = 1600.0  # K at the ports
FASTEST = 1.8  # of the map's highest speed
HIGHEST = 12e5  # Pa in the plenum
TOLERANCE = 1e-8
ACCEPTED = 1e-7
MOST_ITERATIONS = 30
PATIENCE = 7


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
    residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
    tries = 0
    while not f[0] > -1.0 and tries < 60:
        # Far more air than a pipe passes: everything behind it stands near vacuum. Less of it.
        x[0] -= 0.02 if tries < 15 else 0.15
        residuals(packed, bounds, breathing, speed, wanted, x, f, pieces, state)
        tries += 1
    count = 0
    here = _size(f)
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
        for _ in range(8 if fresh else 1):
            for i in range(UNKNOWNS):
                trial[i] = x[i] + scale * step[i]
            residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
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
            residuals(packed, bounds, breathing, speed, wanted, trial, near, pieces, state)
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
        speeds(packed[1], packed[3], 0, bounds[2], state[AIR], pieces)
        speeds(packed[2], packed[3], bounds[2], bounds[4], exhaust, pieces)
        state[ENERGY] = energy_left(packed, bounds, speed, pieces, state)
    return closed


@compiled
def bound(site: np.ndarray, state: np.ndarray) -> float:
    """Which physical bound a closed state breaks, 0 for none."""
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


@compiled
def first_guess(
    packed: Packed, breathing: float, speed: float, wanted: float, kind: int, x: np.ndarray
) -> None:
    """A start for a point that has no neighbour: `kind` 0 hardly boosted, 1 gate controlling,
    2 in between, 3 wide open, 4 far more boost than is asked, 5 less than ambient in the plenum."""
    site, gas = packed[0], packed[1]
    p_ambient = site[SITE_PRESSURE]
    share = (0.0, 1.0, 0.5, 1.2, 2.2, 0.0)[kind]
    plenum = p_ambient + share * max(wanted - p_ambient, 0.0)
    if kind == 5:
        plenum = 0.7 * p_ambient
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
    x[3] = (-0.4, 0.3, -0.2, 1.1, 1.3, -0.7)[kind]
    if site[BELT] <= 0.0 and site[GATE_AREA] <= 0.0:
        x[3] = math.log(plenum / wanted)
    x[4] = x[2] + 0.03
    x[5] = math.log(3.0)


@compiled
def from_little_air(
    packed: Packed,
    bounds: tuple[int, int, int, int, int],
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
    ends on the branch that a gently opened throttle leads to. Arguments as in `newton`."""
    last = np.empty(UNKNOWNS)
    older = np.empty(UNKNOWNS)
    share = 0.12
    first_guess(packed, share * breathing, speed, wanted, 0, x)
    if not newton(
        packed, bounds, share * breathing, speed, wanted, x, jacobian, False, pieces, state
    ):
        return False
    last[:] = x
    older[:] = x
    before = 0.0
    step = 1.5
    for _ in range(40):
        there = min(share * step, 1.0)
        forward = math.log(there / share)
        for j in range(UNKNOWNS):
            x[j] = last[j]
            if before > 0.0:
                x[j] += min(max((last[j] - older[j]) * forward / before, -0.3), 0.3)
            elif j == 0:
                x[j] += forward
        if newton(
            packed, bounds, there * breathing, speed, wanted, x, jacobian, False, pieces, state
        ):
            if there >= 1.0:
                return True
            older[:] = last
            last[:] = x
            before = forward
            share = there
            step = min(step * 1.3, 2.0)
        else:
            step = math.sqrt(step)
            if step < 1.004:
                return False
    return False


@compiled
def walk(
    packed: Packed,
    bounds: tuple[int, int, int, int, int],
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
    """
    last = np.empty(UNKNOWNS)
    last[:] = x
    done = 0.0
    step = 1.0
    for _ in range(30):
        there = min(done + step, 1.0)
        for j in range(UNKNOWNS):
            x[j] = last[j]
        speed = speed0 + there * (speed1 - speed0)
        breath = breathing0 + there * (breathing1 - breathing0)
        x[0] += math.log(
            speed * breath
            / ((speed0 + done * (speed1 - speed0)) * (breathing0 + done * (breathing1 - breathing0)))
        )  # fmt: skip
        if newton(
            packed, bounds, breath, speed, wanted0 + there * (wanted1 - wanted0), x, jacobian,
            False, pieces, state,
        ):  # fmt: skip
            if there >= 1.0:
                return True
            last[:] = x
            done = there
        else:
            step *= 0.5
            if step < 0.06:
                return False
    return False


@compiled
def solve(
    whole: Packed,
    mixtures: tuple[np.ndarray, np.ndarray],
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
    to begin with, nan for none. `mixtures`: numbers of the site and burnt gas, one row a point, or one
    row for all. Fills `all_pieces` (points, pieces, RESULTS), `states` (points,
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
    sites, burnts = mixtures
    several = sites.shape[0] > 1
    for i in range(count):
        row = i if several else 0
        packed = (
            sites[row], whole[1], burnts[row], whole[3], whole[4], whole[5], whole[6], whole[7],
            whole[8], whole[9],
        )  # fmt: skip
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
            if not closed and have > 1:
                for j in range(UNKNOWNS):
                    x[j] = before[j]
                closed = newton(
                    packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, False,
                    all_pieces[i], states[i],
                )  # fmt: skip
        for kind in range(STARTS):
            if closed:
                break
            first_guess(packed, breathing[i], speeds[i], wanted[i], kind, x)
            closed = newton(
                packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, False,
                all_pieces[i], states[i],
            )  # fmt: skip
        if not closed:
            closed = from_little_air(
                packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, all_pieces[i],
                states[i],
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
    # What was not found on the way up is tried from the points above it, on the way down.
    for i in range(count - 2, -1, -1):
        if states[i, CLOSED] > 0.0 or states[i + 1, CLOSED] <= 0.0:
            continue
        row = i if several else 0
        packed = (
            sites[row], whole[1], burnts[row], whole[3], whole[4], whole[5], whole[6], whole[7],
            whole[8], whole[9],
        )  # fmt: skip
        for j in range(UNKNOWNS):
            x[j] = solutions[i + 1, j]
        if walk(
            packed, bounds, breathing[i + 1], breathing[i], speeds[i + 1], speeds[i],
            wanted[i + 1], wanted[i], x, jacobian, all_pieces[i], states[i],
        ):  # fmt: skip
            for j in range(UNKNOWNS):
                solutions[i, j] = x[j]
    for i in range(count):
        if states[i, CLOSED] > 0.0:
            states[i, BOUND] = bound(sites[i if several else 0], states[i])
            if states[i, BOUND] > 0.0:
                states[i, CLOSED] = 0.0
