"""Candidates side by side: the same build with each turbo."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Solver, prepare, sweep_speeds
from zarvik.core.airpath.system import Turbo
from zarvik.core.checks.bands import full_speed


@dataclass(frozen=True)
class Candidate:
    """How a turbo does in this build.

    `power` W, `efficiency` and `shaft` W (what the turbine would have to give) at the target
    speed; least margins (relative) along the boosted full-load line: `surge`, `choke`,
    `overspeed`; `charge` K in the plenum and `back_pressure` ratio at the target speed; `spool`:
    rev/min from which the full boost stands; `opening` 0-1: the widest of the gate while boosted.
    """

    id: str
    name: str
    power: float
    efficiency: float
    shaft: float
    charge: float
    surge: float
    choke: float
    overspeed: float
    spool: float
    back_pressure: float
    opening: float


def compare(solver: Solver, turbos: tuple[Turbo, ...]) -> tuple[Candidate, ...]:
    """Each of `turbos` in the system of `solver`; margins are nan where nothing is solved."""
    return tuple(candidate(prepare(dataclasses.replace(solver.system, turbo=turbo))) for turbo in turbos)


def candidate(solver: Solver) -> Candidate:
    """How the turbo of a packed system does, over the speeds of a sweep."""
    system = solver.system
    chart = system.turbo.chart
    speeds = sweep_speeds(system)
    raw = solver.raw(speeds)
    near = int(np.abs(speeds - system.target.speed).argmin())
    last = solver.raw(np.array([system.target.speed]), start=raw.solutions[near])
    good = np.append(raw.solved, last.solved)
    states = np.vstack([raw.states, last.states])
    boost = states[:-1, k.P_PLENUM] - system.site.pressure
    line = np.nonzero(good[:-1] & (boost > 0.2 * system.boost.full))[0]
    ratios = [float(r) for r in states[line, k.MAP_RATIO]]
    flows = states[line, k.MAP_FLOW]
    surge = np.array([chart.surge_flow(r) for r in ratios])
    limit = np.array([chart.flow_limit(r) for r in ratios])
    nan = float("nan")
    some = len(line) > 0
    return Candidate(
        id=system.turbo.id,
        name=system.turbo.name,
        power=float(states[-1, k.POWER]) if good[-1] else nan,
        efficiency=float(states[-1, k.MAP_EFFICIENCY]) if good[-1] else nan,
        shaft=float(states[-1, k.SHAFT]) if good[-1] else nan,
        charge=float(states[-1, k.T_COOLER_OUT]) if good[-1] else nan,
        surge=float((flows / surge).min() - 1.0) if some else nan,
        choke=float((1.0 - flows / limit).min()) if some else nan,
        overspeed=float(1.0 - states[line, k.MAP_SPEED].max()) if some else nan,
        spool=full_speed(speeds[raw.solved], boost[raw.solved], system.boost.full),
        back_pressure=float(states[-1, k.P4] / states[-1, k.P_PLENUM]) if good[-1] else nan,
        opening=float(states[line, k.OPENING].max()) if some else nan,
    )
