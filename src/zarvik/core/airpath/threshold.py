"""The boost threshold: the engine speed from which the full boost stands, with its band; the speeds at which two states are possible;
the least boost that the gate can hold."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.reading import RawSolution
from zarvik.core.airpath.solution import NO_START, Solver
from zarvik.core.turbine import turbine as turbines

LOOKS = 12  # halvings at most of the speeds between which a threshold lies
CLOSE = 4.0  # rev/min within which a threshold is looked for
STRETCH = 24.0  # rev/min to both sides of a fold that is looked at closely
RISE = 5  # steps of pressure up to nearly full boost
NEARLY = 0.97  # of the boost that is asked for counts as full; common practice, no source
# What is not known better: turbine efficiency with its pulses, flow area, heat that the manifold loses,
# heat that the cylinders lose (the exhaust temperature hangs on it).
UNCERTAINTY_EFFICIENCY, UNCERTAINTY_AREA, UNCERTAINTY_HEAT, UNCERTAINTY_WALLS = 0.02, 0.02, 0.5, 0.15


@dataclass(frozen=True)
class Crossing:
    """Where a boost that rises with engine speed first stands: the points before and behind
    (rev/min, Pa gauge) and the `speed` on the straight line between them."""

    before: tuple[float, float]
    behind: tuple[float, float]
    speed: float


def crossing(speed: np.ndarray, boost: np.ndarray, wanted: float) -> Crossing | None:
    """Where `boost` first reaches nearly `wanted` (Pa gauge); None when it never does.

    `speed` rev/min, rising.
    """
    high = np.nonzero(boost >= NEARLY * wanted)[0]
    if len(high) == 0:
        return None
    i = int(high[0])
    behind = (float(speed[i]), float(boost[i]))
    if i == 0:
        return Crossing(behind, behind, behind[0])
    return _between((float(speed[i - 1]), float(boost[i - 1])), behind, wanted)


def _between(before: tuple[float, float], behind: tuple[float, float], wanted: float) -> Crossing:
    share = (NEARLY * wanted - before[1]) / (behind[1] - before[1])
    return Crossing(before, behind, before[0] + share * (behind[0] - before[0]))


def full_speed(speed: np.ndarray, boost: np.ndarray, wanted: float) -> float:
    """Engine speed in rev/min at which `boost` first reaches nearly `wanted` (Pa gauge), on a
    straight line between points; nan when it never does."""
    found = crossing(speed, boost, wanted)
    return float("nan") if found is None else found.speed


def _gauge(solver: Solver, raw: RawSolution, i: int) -> float:
    return float(raw.states[i, k.P_PLENUM]) - solver.path.site.pressure


def _risen(solver: Solver, raw: RawSolution, found: Crossing, at: int, site: np.ndarray | None) -> Crossing | None:
    """Where the full boost stands, from the rise with the gate shut: at the highest speed that the rise reaches on its way to nearly full
    boost, be it its end or the fold from which the boost jumps, and not before the control asks for it. `at`: index of the
    point before. The crossing stands between two looks at the engine speeds next to it; None where they do not say so."""
    boost, ambient = solver.path.boost, solver.path.site.pressure
    nearly = NEARLY * boost.full
    low, high = found.before[0], found.behind[0]
    start, above = raw.solutions[at], raw.solutions[int(np.abs(raw.speed - high).argmin())]
    asked = boost.speed_at(NEARLY)
    speed = asked
    there = np.geomspace(found.before[1] + ambient, nearly + ambient, RISE + 1)
    speeds, solutions = solver.rise(low, high, there, start, site=site)
    if len(speeds) > RISE and speeds.max() > asked:
        top = int(speeds.argmax())
        if 0 < top < RISE:
            # A fold: nearer to it, over a stretch so short that VE and mixture are what they are.
            there = np.geomspace(there[top - 1], there[top + 1], RISE + 1)
            middle, begin = float(speeds[top]), float(speeds[top - 1])
            speeds, solutions = solver.rise(middle - STRETCH, middle + STRETCH, there, solutions[top - 1], begin=begin, site=site)
            top = int(speeds.argmax()) if len(speeds) > RISE else 0
            if not 0 < top < RISE:
                return None
            one, two, three = (float(n) for n in speeds[top - 1 : top + 2])
            speed = two + (three - one) ** 2 / (8.0 * (2.0 * two - one - three))
            start = solutions[top - 1]
        else:
            speed = float(speeds[top])
            start = above = solutions[top]
    ends = [found.before, found.behind]
    for side, begins in enumerate(((start, above), (above, raw.solutions[int(np.abs(raw.speed - high).argmin())]))):
        near = speed + (2 * side - 1) * 0.4 * CLOSE
        if low < near < high:
            # Near a fold the next state is far away.
            looks = (solver.raw(np.array([near]), start=begin, site=site) for begin in begins)
            look = next((one for one in looks if one.solved[0]), None)
            if look is None:
                return None
            ends[side] = (near, _gauge(solver, look, 0))
    before, behind = ends
    if not before[1] < nearly <= behind[1] or behind[0] - before[0] > CLOSE:
        return None
    return _between(before, behind, boost.full)


def threshold(solver: Solver, raw: RawSolution, *, site: np.ndarray | None = None) -> Crossing | None:
    """Where the full boost stands on a full-load curve, solved again between the two points that it
    lies between: the boost comes steeply there. `site`: the numbers of the site that `raw` was
    solved with, where they are not the solver's own.

    The rise is followed by its pressure up to there; where that has no answer, each look halves the speeds between them,
    coming up from the lower one, so that it stays on the branch of an engine that pulls up from below.
    """
    full = solver.path.boost.full
    good = np.nonzero(raw.solved)[0]
    found = crossing(raw.speed[good], raw.states[good, k.P_PLENUM] - solver.path.site.pressure, full)
    if found is None or found.before == found.behind:
        return found
    at = int(np.abs(raw.speed - found.before[0]).argmin())
    near = _risen(solver, raw, found, at, site)
    if near is not None:
        return near
    start = raw.solutions[at]
    for _ in range(LOOKS):
        # Where the boost jumps (the end of the lower of two states) the line between two points says
        # little: look closer.
        gap = found.behind[0] - found.before[0]
        if gap < CLOSE:
            break
        middle = 0.5 * (found.before[0] + found.behind[0])
        look = solver.raw(np.array([middle]), start=start, site=site)
        if not look.solved[0]:
            break
        here = (middle, _gauge(solver, look, 0))
        low = here[1] < NEARLY * full
        before, behind = (here, found.behind) if low else (found.before, here)
        found = _between(before, behind, full)
        if low:
            start = look.solutions[0]
    return found


def uncontrolled(solver: Solver) -> Solver:
    """The solver of the same build whose control lets the full boost in at any engine speed: what the turbo can do by itself."""
    boost = solver.path.boost
    free = dataclasses.replace(boost, full_from=min(boost.full_from, solver.path.engine.idle))
    return Solver(dataclasses.replace(solver.path, boost=free), solver.packed, solver.bounds)


def spool_edge(solver: Solver, raw: RawSolution, sign: float) -> Crossing | None:
    """The threshold with every uncertainty on one side: `sign` -1 for the early edge, 1 for the late
    one. `raw`: the full-load curve without uncertainties.

    Speeds in rev/min.
    """
    path = solver.path
    found = threshold(solver, raw)
    limit = path.engine.rev_limit
    top = limit if found is None else min(1.25 * found.speed, limit)
    low = path.engine.idle if found is None else 0.75 * found.speed
    speeds = np.linspace(max(path.engine.idle, low), top, 8)
    near = int(np.abs(raw.speed - speeds[0]).argmin())
    start = raw.solutions[near] if raw.solved[near] else NO_START
    site = solver.site_numbers.copy()
    site[k.TRUST_TURBINE] = 1.0 - sign * UNCERTAINTY_EFFICIENCY
    site[k.BAY_HOT_CONVECTION] *= 1.0 + sign * UNCERTAINTY_HEAT
    site[k.TRUST_HEAT] *= 1.0 + sign * UNCERTAINTY_WALLS
    turbine = solver.turbine_numbers.copy()
    turbine[turbines.AREA] *= 1.0 + sign * UNCERTAINTY_AREA
    uncertain = solver.with_turbine(turbine)
    return threshold(uncertain, uncertain.raw(speeds, site=site, start=start), site=site)


def spool_band(solver: Solver, raw: RawSolution) -> tuple[float, float, float]:
    """Engine speed at which full boost stands, and its band from the uncertainties, rev/min; nan where it
    never does."""
    found = (threshold(solver, raw), spool_edge(solver, raw, -1.0), spool_edge(solver, raw, 1.0))
    middle, early, late = (float("nan") if c is None else c.speed for c in found)
    return middle, early, late


@dataclass(frozen=True, eq=False)
class Branches:
    """Two ways through the speeds where a turbo wakes: boost in Pa gauge of an engine that pulls up
    from below (`lower`) and of one that comes down on its boost (`upper`). `both`: where they
    differ."""

    speed: np.ndarray
    lower: np.ndarray
    upper: np.ndarray
    both: np.ndarray


def branches(solver: Solver, raw: RawSolution) -> Branches | None:
    """Both branches round the onset of boost, by following the boosted one downward; None where
    there is nothing to follow."""
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
    ambient = solver.path.site.pressure
    return Branches(speeds, lower - ambient, upper - ambient, both)


def double_band(solver: Solver, raw: RawSolution) -> tuple[float, float] | None:
    """Engine speeds in rev/min between which two states are possible; None where there is only
    one."""
    found = branches(solver, raw)
    if found is None or not found.both.any():
        return None
    where = found.speed[found.both]
    return float(where[0]), float(where[-1])


def wide_open(solver: Solver, raw: RawSolution) -> tuple[np.ndarray, np.ndarray]:
    """Engine speeds in rev/min and the boost in Pa gauge with the gate wide open, where solved."""
    path = solver.path
    good = np.nonzero(raw.solved)[0]
    speeds = np.linspace(path.engine.rev_limit, max(path.engine.idle, 1500.0), 9)
    start = raw.solutions[good[-1]].copy() if len(good) else NO_START
    start[3] = 1.05
    raw = solver.at_pressure(speeds, np.full(9, path.site.pressure * 0.5), start=start)
    return speeds[raw.solved], raw.states[raw.solved, k.P_PLENUM] - path.site.pressure


def least_boost(solver: Solver, raw: RawSolution) -> float:
    """The lowest boost in Pa gauge that the gate can hold over the whole rev range: the peak of
    the curve with the gate wide open."""
    _, gauge = wide_open(solver, raw)
    return float(gauge.max()) if len(gauge) else float("nan")
