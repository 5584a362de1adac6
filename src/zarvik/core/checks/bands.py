"""What takes solutions of its own: the threshold with its band, the range of two states, the least
boost of the gate."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import NO_START, Raw, Solver
from zarvik.core.turbine import turbine as turbines

NEARLY = 0.97  # of the boost that is asked for counts as full; common practice, no source
# What is not known better: turbine efficiency, flow area, heat that the manifold loses.
DOUBT_EFFICIENCY, DOUBT_AREA, DOUBT_HEAT = 0.02, 0.02, 0.5


def full_speed(speed: np.ndarray, boost: np.ndarray, wanted: float) -> float:
    """Engine speed in rev/min at which `boost` first reaches nearly `wanted` (Pa gauge), on a
    straight line between points; nan when it never does."""
    high = np.nonzero(boost >= NEARLY * wanted)[0]
    if len(high) == 0:
        return float("nan")
    i = int(high[0])
    if i == 0:
        return float(speed[0])
    share = (NEARLY * wanted - boost[i - 1]) / (boost[i] - boost[i - 1])
    return float(speed[i - 1] + share * (speed[i] - speed[i - 1]))


def spool_band(solver: Solver, raw: Raw) -> tuple[float, float, float]:
    """Engine speed at which full boost stands, and its band from the doubts, rev/min."""
    system = solver.system
    gauge = raw.states[:, k.P_PLENUM] - system.site.pressure
    good = raw.solved
    middle = full_speed(raw.speed[good], gauge[good], system.boost.full)
    top = (
        system.engine.rev_limit if middle != middle else min(1.25 * middle, system.engine.rev_limit)
    )
    low = 0.75 * middle if middle == middle else system.engine.idle
    speeds = np.linspace(max(system.engine.idle, low), top, 8)
    near = int(np.abs(raw.speed - speeds[0]).argmin())
    start = raw.solutions[near] if good[near] else NO_START
    found = [middle]
    for sign in (-1.0, 1.0):
        site = solver.packed[0].copy()
        site[k.TRUST_TURBINE] = 1.0 - sign * DOUBT_EFFICIENCY
        site[k.BAY_HOT_CONVECTION] *= 1.0 + sign * DOUBT_HEAT
        turbine = solver.packed[8].copy()
        turbine[turbines.AREA] *= 1.0 + sign * DOUBT_AREA
        raw = solver.with_turbine(turbine).raw(speeds, site=site, start=start)
        gauge = raw.states[:, k.P_PLENUM] - system.site.pressure
        found.append(full_speed(speeds[raw.solved], gauge[raw.solved], system.boost.full))
    return found[0], found[1], found[2]


def double_band(solver: Solver, raw: Raw) -> tuple[float, float] | None:
    """Engine speeds in rev/min between which two states are possible: an engine that pulls up
    from below is on the lower one, one that is throttled down from boost on the upper one. Found
    by following the boosted branch downward; None where there is only one."""
    good = np.nonzero(raw.solved & (raw.states[:, k.REGIME] > 0.0))[0]
    if len(good) == 0 or good[0] == 0:
        return None
    top = int(good[0])
    bottom = max(top - 2, 0)
    if not raw.solved[bottom]:
        return None
    speeds = np.linspace(raw.speed[bottom], raw.speed[top], 13)
    up = solver.raw(speeds, start=raw.solutions[bottom])
    down = solver.raw(speeds[::-1].copy(), start=raw.solutions[top])
    lower = up.states[:, k.P_PLENUM]
    upper = down.states[::-1, k.P_PLENUM]
    both = up.solved & down.solved[::-1] & (upper > 1.01 * lower)
    if not both.any():
        return None
    where = speeds[both]
    return float(where[0]), float(where[-1])


def least_boost(solver: Solver, raw: Raw) -> float:
    """The lowest boost in Pa gauge that the gate can hold over the whole rev range: the peak of
    the curve with the gate wide open."""
    system = solver.system
    good = np.nonzero(raw.solved)[0]
    speeds = np.linspace(system.engine.rev_limit, max(system.engine.idle, 1500.0), 9)
    start = raw.solutions[good[-1]].copy() if len(good) else NO_START
    start[3] = 1.05
    raw = solver.at_pressure(speeds, np.full(9, system.site.pressure * 0.5), start=start)
    gauge = raw.states[raw.solved, k.P_PLENUM] - system.site.pressure
    return float(gauge.max()) if len(gauge) else float("nan")
