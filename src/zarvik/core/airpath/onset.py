"""The rise to boost with the gate shut, followed by its pressure instead of by engine speed, compiled.

Where a turbo wakes, the boost comes steeply over engine speed, and where two states are possible it jumps: the
curve over speed has a fold there (`core.airpath.threshold.branches`). Over the plenum pressure the same curve is flat and has
no fold, so that each step of it closes from the one before.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.kernel import residuals
from zarvik.core.airpath.newton import ACCEPTED, TOLERANCE, eliminate, follow_step, put, put_table, size
from zarvik.core.airpath.slots import BURNT, SITE, UNKNOWNS, X_REGIME, Bounds, Packed
from zarvik.core.common.compiled import compiled

MOST_STEPS = 20  # of Newton's method at one pressure
FARTHEST = 3.0  # times the stretch of speeds beyond its ends that is still looked at
FINE = 1e-5  # share of the stretch for a numeric derivative


@compiled
def interpolated(rows: np.ndarray, share: float, out: np.ndarray) -> None:
    """Numbers at a `share` of a stretch (dimensionless), on the parabola through those at its ends and its middle: `rows` of three."""
    first = (1.0 - share) * (1.0 - 2.0 * share)
    middle = 4.0 * share * (1.0 - share)
    last = share * (2.0 * share - 1.0)
    for j in range(rows.shape[1]):
        out[j] = first * rows[0, j] + middle * rows[1, j] + last * rows[2, j]


@compiled
def _missed(
    packed: Packed,
    mixtures: tuple[np.ndarray, np.ndarray],
    bounds: Bounds,
    stretch: np.ndarray,
    y: np.ndarray,
    pressure: float,
    x: np.ndarray,
    here: np.ndarray,
    f: np.ndarray,
    pieces: np.ndarray,
    state: np.ndarray,
) -> None:
    """The residuals `f` at unknowns `y`, in which the share of the stretch of speeds stands in the place of the regime; pressure Pa."""
    share = y[X_REGIME]
    interpolated(stretch, share, here)
    if mixtures[0].shape[0] == 3:
        interpolated(mixtures[0], share, packed[SITE])
        interpolated(mixtures[1], share, packed[BURNT])
    put(x, y)
    x[X_REGIME] = 0.0
    residuals(packed, bounds, here[1], here[0], pressure, x, f, pieces, state)


@compiled
def boost_rise(
    whole: Packed,
    mixtures: tuple[np.ndarray, np.ndarray],
    bounds: Bounds,
    stretch: np.ndarray,
    start: np.ndarray,
    pressures: np.ndarray,
    shares: np.ndarray,
    solutions: np.ndarray,
    pieces: np.ndarray,
    state: np.ndarray,
) -> int:
    """Where along a stretch of engine speeds the plenum stands at each of the `pressures` (Pa absolute) with the gate shut.

    `stretch` (3, 2): engine speed in rev/min and VE at its beginning, middle and end; `mixtures`: numbers of the site and burnt gas there
    or one row for all, which are written; `start`: the unknowns of a solved point, with its share of the stretch in the place of the
    regime. Fills `shares` (of the stretch) and `solutions` (pressures, UNKNOWNS); gives how many of them closed, one after the other.
    `pieces`, `state`: to write on.
    """
    _, gas, _, rows, losses, lines, points, cooler, turbine, ignition, table = whole
    packed = (mixtures[0][0].copy(), gas, mixtures[1][0].copy(), rows, losses, lines, points, cooler, turbine, ignition, table)
    f = np.empty(UNKNOWNS)
    near = np.empty(UNKNOWNS)
    y = start.copy()
    x = np.empty(UNKNOWNS)
    trial = np.empty(UNKNOWNS)
    step = np.empty(UNKNOWNS)
    right = np.empty(UNKNOWNS)
    work = np.empty((UNKNOWNS, UNKNOWNS))
    jacobian = np.empty((UNKNOWNS, UNKNOWNS))
    here = np.empty(2)
    before = y.copy()
    known = False
    for number in range(pressures.shape[0]):
        if number > 1:
            # As far again as the step before, by the logarithm of the pressure.
            far = math.log(pressures[number] / pressures[number - 1]) / math.log(pressures[number - 1] / pressures[number - 2])
            put(trial, y)
            for j in range(UNKNOWNS):
                y[j] += far * (y[j] - before[j])
            put(before, trial)
        else:
            put(before, y)
        pressure = pressures[number]
        _missed(packed, mixtures, bounds, stretch, y, pressure, x, here, f, pieces, state)
        closed = False
        for _ in range(MOST_STEPS):
            if not size(f) < 1e6:
                return number  # a start from which nothing flows
            worst = 0.0
            for i in range(UNKNOWNS):
                worst = max(worst, abs(f[i]))
            if worst < TOLERANCE:
                closed = True
                break
            fresh = not known
            if fresh:
                for j in range(UNKNOWNS):
                    delta = FINE if j == X_REGIME else 1e-6
                    put(trial, y)
                    trial[j] += delta
                    _missed(packed, mixtures, bounds, stretch, trial, pressure, x, here, near, pieces, state)
                    for i in range(UNKNOWNS):
                        jacobian[i, j] = (near[i] - f[i]) / delta
                known = True
            for i in range(UNKNOWNS):
                right[i] = -f[i]
            put_table(work, jacobian)
            if not eliminate(work, right, step):
                if fresh:
                    break
                known = False
                continue
            scale = 1.0
            for i in range(UNKNOWNS):
                most = 1.0 if i == X_REGIME else 0.25
                if abs(step[i]) * scale > most:
                    scale = most / abs(step[i])
            now = size(f)
            after = now
            taken = False
            for _ in range(6 if fresh else 1):
                for i in range(UNKNOWNS):
                    trial[i] = y[i] + scale * step[i]
                if abs(trial[X_REGIME] - 0.5) < 0.5 + FARTHEST:
                    _missed(packed, mixtures, bounds, stretch, trial, pressure, x, here, near, pieces, state)
                    after = size(near)
                    if after < now:
                        taken = True
                        break
                scale *= 0.5
            if not taken:
                if fresh:
                    break
                known = False
                continue
            step *= scale
            follow_step(jacobian, step, f, near)
            known = after <= 0.25 * now
            put(y, trial)
            put(f, near)
        if not closed:
            worst = 0.0
            for i in range(UNKNOWNS):
                worst = max(worst, abs(f[i]))
            if not worst < ACCEPTED:
                return number
        shares[number] = y[X_REGIME]
        put(solutions[number], y)
        solutions[number, X_REGIME] = 0.0
    return int(pressures.shape[0])
