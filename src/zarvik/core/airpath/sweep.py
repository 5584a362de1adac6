"""The continuation along engine speeds, compiled."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.newton import ANEW, FROM_BEFORE, bound, newton, put, put_table
from zarvik.core.airpath.slots import BOUND, CLOSED, POINT_SIZE, POWER, SITE, UNKNOWNS, X_AIR, X_REGIME, Bounds, Packed
from zarvik.core.airpath.starts import continue_to, first_guess, from_little_air
from zarvik.core.common.compiled import compiled
from zarvik.core.ducts.march import LINEAR, QUADRATIC, RESULTS

STARTS = 6
PATIENT = 2  # points without an answer before the search gets thinner


@compiled
def at_point(whole: Packed, mixtures: tuple[np.ndarray, np.ndarray], i: int) -> Packed:
    """The packed system with the numbers of the site and the burnt gas of point `i`; `mixtures` has one
    row a point, or one row for all."""
    sites, burnts = mixtures
    row = min(i, sites.shape[0] - 1)
    _, gas, _, rows, losses, lines, points, cooler, turbine, ignition, table = whole
    return (sites[row], gas, burnts[min(i, burnts.shape[0] - 1)], rows, losses, lines, points, cooler, turbine, ignition, table)


@compiled
def solve(
    whole: Packed,
    mixtures: tuple[np.ndarray, np.ndarray],
    bounds: Bounds,
    breathing: np.ndarray,
    speeds: np.ndarray,
    wanted: np.ndarray,
    start: np.ndarray,
    near: np.ndarray,
    all_pieces: np.ndarray,
    states: np.ndarray,
    solutions: np.ndarray,
) -> None:
    """Solve one point for each engine speed (rev/min) with `wanted` plenum pressure (Pa absolute).

    The speeds are followed in their order by continuation, each point from the two before it; a point that does not close from there is
    tried from a few fixed starts. `start`: the unknowns to begin with, nan for none. `near` (points, UNKNOWNS): what a system that is
    nearly this one was solved by at the same points, nan for none; its curve is followed at the distance of the point before, but where it
    comes on boost. `mixtures`: numbers of the site and burnt gas, one row a point, or one row for all. Fills `all_pieces` (points, pieces,
    RESULTS), `states` (points, POINT_SIZE) and `solutions` (points, UNKNOWNS). `breathing` VE at each speed.
    """
    count = speeds.shape[0]
    jacobian = np.zeros((UNKNOWNS, UNKNOWNS))
    x = np.empty(UNKNOWNS)
    before = np.empty(UNKNOWNS)
    older = np.empty(UNKNOWNS)
    oldest = np.empty(UNKNOWNS)
    oldest_speed = 0.0
    misses = 0  # how many points in a row have not
    have = 0  # how many points in a row have closed
    known = ANEW
    if start[0] == start[0]:
        put(before, start)
        have = 1
    last_speed = 0.0
    older_speed = 0.0
    last_air = 1.0
    sites = mixtures[0]
    for i in range(count):
        packed = at_point(whole, mixtures, i)
        closed = False
        if near[i, 0] == near[i, 0] and (have == 0 or (i > 0 and near[i - 1, 0] == near[i - 1, 0])):
            # Which of two states it comes to, the points before decide.
            same = have == 0 or (near[i - 1, X_REGIME] > 0.0) == (near[i, X_REGIME] > 0.0) == (before[X_REGIME] > 0.0)
            if same:
                for j in range(UNKNOWNS):
                    x[j] = near[i, j] + (before[j] - near[i - 1, j] if have > 0 else 0.0)
                closed = newton(packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, known, all_pieces[i], states[i])
                known = closed
        if not closed and have > 0:
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
                x[X_AIR] += math.log(speeds[i] * breathing[i] / (last_speed * last_air))
            far = 0.0
            for j in range(UNKNOWNS):
                far = max(far, abs(x[j] - before[j]))
            closed = newton(packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, known, all_pieces[i], states[i])
            if not closed and far > 0.02:
                for j in range(UNKNOWNS):
                    x[j] = before[j]
                closed = newton(packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, ANEW, all_pieces[i], states[i])
        # Where one point after the other has no answer, only every eighth is searched for with
        # everything that there is.
        hard = misses < PATIENT or i % 8 == 0
        for number in range(STARTS if hard else 2):
            if closed:
                break
            # Where the hardly boosted state of the point before leads nowhere, there is none any more:
            # the gate comes first.
            kind = number if have == 0 or number > 1 else 1 - number
            first_guess(packed, breathing[i], speeds[i], wanted[i], kind, x)
            closed = newton(packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, ANEW, all_pieces[i], states[i])
        if not closed and hard:
            closed = from_little_air(packed, bounds, breathing[i], speeds[i], wanted[i], x, jacobian, all_pieces[i], states[i])
        for j in range(UNKNOWNS):
            solutions[i, j] = x[j]
        known = closed
        misses = 0 if closed else misses + 1
        if closed:
            put(oldest, older)
            oldest_speed = older_speed
            put(older, before)
            put(before, x)
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
        packed = at_point(whole, mixtures, i)
        for j in range(UNKNOWNS):
            x[j] = solutions[i + 1, j]
        if continue_to(
            packed,
            bounds,
            breathing[i + 1],
            breathing[i],
            speeds[i + 1],
            speeds[i],
            wanted[i + 1],
            wanted[i],
            x,
            jacobian,
            all_pieces[i],
            states[i],
        ):
            for j in range(UNKNOWNS):
                solutions[i, j] = x[j]
    for i in range(count):
        if states[i, CLOSED] > 0.0:
            states[i, BOUND] = bound(sites[min(i, sites.shape[0] - 1)], states[i])
            if states[i, BOUND] > 0.0:
                states[i, CLOSED] = 0.0


@compiled
def without(
    whole: Packed, bounds: Bounds, breathing: float, speed: float, wanted: float, start: np.ndarray, free: np.ndarray, powers: np.ndarray
) -> None:
    """Solve one point (engine `speed` rev/min, `wanted` plenum Pa, `breathing` VE) again without the loss of one piece after the other:
    `free`, their indices. `start`: the unknowns of the point with all of them. Fills `powers`, W at the crank; nan where it does not
    close from there."""
    site, gas, burnt, every, loss, lines, points, cooler, turbine, ignition, table = whole
    rows, losses = every.copy(), loss.copy()
    packed = (site.copy(), gas, burnt.copy(), rows, losses, lines, points, cooler, turbine, ignition, table)
    first, jacobian = np.zeros((UNKNOWNS, UNKNOWNS)), np.zeros((UNKNOWNS, UNKNOWNS))
    pieces, state = np.zeros((rows.shape[0], RESULTS)), np.zeros(POINT_SIZE)
    # A step from beside the solution finds the slopes there.
    x = start.copy()
    x[X_AIR] -= 1e-4
    newton(packed, bounds, breathing, speed, wanted, x, first, ANEW, pieces, state)
    for number in range(free.shape[0]):
        i = free[number]
        linear, quadratic, share = rows[i, LINEAR], rows[i, QUADRATIC], losses[i].copy()
        rows[i, LINEAR] = 0.0
        rows[i, QUADRATIC] = 0.0
        losses[i, :] = 0.0
        put(x, start)
        put_table(jacobian, first)
        closed = newton(packed, bounds, breathing, speed, wanted, x, jacobian, FROM_BEFORE, pieces, state)
        powers[number] = state[POWER] if closed and bound(packed[SITE], state) <= 0.0 else math.nan
        rows[i, LINEAR], rows[i, QUADRATIC] = linear, quadratic
        losses[i, :] = share
