"""Search the shelf: every turbo with several housings in the present build, ranked."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.system import System, Turbo
from zarvik.core.checks.bands import full_speed

HOUSINGS = (0.80, 0.90, 1.0, 1.12, 1.25)  # of the housing that a turbo comes with
# What a shortfall costs in the ranking, each as a share; common practice, no source.
SURGE_ROOM, CHOKE_ROOM, SPEED_ROOM = 0.05, 0.08, 0.05


@dataclass(frozen=True)
class Find:
    """A turbo with a housing (A/R in m) in the present build: power W and back-pressure ratio at
    the target, threshold rev/min, least margins, and its `mark`: 0 is perfect, the less the better;
    inf where the target has no solution."""

    turbo: Turbo
    housing: float
    power: float
    threshold: float
    surge: float
    choke: float
    overspeed: float
    back_pressure: float
    opening: float
    mark: float


def search(
    system: System,
    turbos: Sequence[Turbo],
    step: Callable[[float], bool] = lambda done: True,
) -> tuple[Find, ...]:
    """All finds, the best first. `step` hears the share that is done (0–1) after each and stops the
    search by saying False: what is found until then is returned. Needs a build with a turbo."""
    tasks = list(_tasks(turbos))
    found: list[Find] = []
    for number, (turbo, housing) in enumerate(tasks, 1):
        found.append(_try(system, turbo, housing))
        if not step(number / len(tasks)):
            break
    return tuple(sorted(found, key=lambda f: f.mark))


def _tasks(turbos: Sequence[Turbo]) -> Iterator[tuple[Turbo, float]]:
    for turbo in turbos:
        for factor in HOUSINGS:
            housing = round(turbo.turbine.housing * factor * 1e4) / 1e4
            yield turbo, housing


def _try(system: System, turbo: Turbo, housing: float) -> Find:
    turbine = dataclasses.replace(turbo.turbine, housing=housing)
    turbo = dataclasses.replace(turbo, turbine=turbine, count=system.turbo.count)
    solver = prepare(dataclasses.replace(system, turbo=turbo))
    speeds = np.linspace(max(system.engine.idle, 1000.0), system.engine.rev_limit, 25)
    raw = solver.raw(speeds)
    near = int(np.abs(speeds - system.target.speed).argmin())
    last = solver.raw(np.array([system.target.speed]), start=raw.solutions[near])
    nan = math.nan
    if not (last.solved[0] and raw.solved.any()):
        return Find(turbo, housing, nan, nan, nan, nan, nan, nan, nan, math.inf)
    good = raw.solved
    boost = raw.states[good, k.P_PLENUM] - system.site.pressure
    threshold = full_speed(speeds[good], boost, system.boost.full)
    line = raw.states[good][boost > 0.2 * system.boost.full]
    chart = turbo.chart
    surge = choke = overspeed = nan
    if len(line):
        ratios = [float(r) for r in line[:, k.MAP_RATIO]]
        flows = line[:, k.MAP_FLOW]
        surge = float((flows / [chart.surge_flow(r) for r in ratios]).min() - 1.0)
        choke = float((1.0 - flows / [chart.flow_limit(r) for r in ratios]).min())
        overspeed = float(1.0 - line[:, k.MAP_SPEED].max())
    state = last.states[0]
    power = float(state[k.POWER])
    mark = _mark(
        power / system.target.power, threshold / system.boost.wish, surge, choke, overspeed
    )
    return Find(
        turbo, housing, power, threshold, surge, choke, overspeed,
        float(state[k.P4] / state[k.P_PLENUM]), float(raw.states[good, k.OPENING].max()), mark,
    )  # fmt: skip


def _mark(power: float, late: float, surge: float, choke: float, overspeed: float) -> float:
    """Shortfalls as shares, squared and summed, so that one bad one outweighs several small ones;
    among those without any, the earlier and the stronger wins."""
    if not all(math.isfinite(v) for v in (surge, choke, overspeed)):
        return math.inf
    late = late if math.isfinite(late) else 2.0
    short = (
        max(1.0 - power, 0.0) / 0.05,
        max(late - 1.0, 0.0) / 0.10,
        max(SURGE_ROOM - surge, 0.0) / 0.10,
        max(CHOKE_ROOM - choke, 0.0) / 0.08,
        max(SPEED_ROOM - overspeed, 0.0) / 0.04,
    )
    return sum(s * s for s in short) + 0.2 * late - 0.2 * power
