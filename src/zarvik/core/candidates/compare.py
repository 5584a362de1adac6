"""Candidates side by side: the same build with each turbo."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import Turbo
from zarvik.core.airpath.reading import RawSolution
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.threshold import NEARLY, threshold
from zarvik.core.checks.knock import LUGGING, knock_margin
from zarvik.core.common.progress import Progress, beside, unwatched
from zarvik.core.compressor.surge import judged_margin
from zarvik.core.limits.limits import CHOKE, FAILS, MARGINAL, ORDER, POWER, SURGE, TO_DO, WHEEL_SPEED

DRIVEN = 0.9  # of the asked boost from which on a blower counts as giving it


@dataclass(frozen=True, kw_only=True)
class Candidate:
    """How a turbo does in this build.

    `power` W, `efficiency` and `shaft` W (what the turbine would have to give) at the target speed; least margins (relative) along the
    boosted full-load line: `surge`, `choke`, `overspeed`; `charge` K in the plenum and `back_pressure` ratio at the target speed;
    `spool`: rev/min from which the full boost stands; `opening` 0-1: the widest of the gate while boosted; `boost` Pa gauge, the highest
    that is made, `torque` N m, the highest, and `mouth` m/s, the gas speed at the tail pipe at the target speed; `knock`: margin to it (a
    ratio), where full boost begins or at the target. `where`: the engine speed in rev/min of each figure that belongs to one.
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
    boost: float = math.nan
    torque: float = math.nan
    mouth: float = math.nan
    knock: float = math.inf
    where: dict[str, float] = field(default_factory=dict, compare=False)

    def state(self, wanted: float, uncertainty: float = 0.0) -> str:
        """The worst of its rooms and of its power against the `wanted` one in W; open where nothing
        is solved. `uncertainty`: what a power is good to (share, 2 sigma): a miss of less than half of that is tight, as the
        checks have it."""
        rooms = ((SURGE, self.surge), (CHOKE, self.choke), (WHEEL_SPEED, self.overspeed))
        if any(not math.isfinite(room) for _, room in rooms):
            return TO_DO
        states = [limit.state(room) for limit, room in rooms]
        short = self.power / wanted - 1.0
        reached = POWER.state(short)
        states.append(MARGINAL if reached == FAILS and short >= -0.5 * uncertainty else reached)
        return min(states, key=lambda s: ORDER[s])


def unsolved_candidate(turbo: Turbo) -> Candidate:
    """A turbo that was not solved: no figures."""
    nan = math.nan
    return Candidate(
        id=turbo.id,
        name=turbo.name,
        power=nan,
        efficiency=nan,
        shaft=nan,
        charge=nan,
        surge=nan,
        choke=nan,
        overspeed=nan,
        spool=nan,
        back_pressure=nan,
        opening=nan,
    )


def compare(solver: Solver, turbos: tuple[Turbo, ...], progress: Progress = unwatched) -> tuple[Candidate, ...]:
    """Each of `turbos` in the air path of `solver`; margins are nan where nothing is solved."""
    done = iter(range(len(turbos)))

    def solved(turbo: Turbo) -> Candidate:
        progress(next(done) / len(turbos))
        own = turbo is solver.path.turbo
        return candidate(solver if own else prepare(dataclasses.replace(solver.path, turbo=turbo)))

    return tuple(beside(solved, turbos, len(solver.path.elements)))


def candidate(solver: Solver, *, mouth: bool = False) -> Candidate:
    """How the turbo of a packed air path does, over the speeds of a sweep; with the gas speed at the `mouth` where that is asked for."""
    path = solver.path
    chart = path.turbo.chart
    raw = solver.full_load
    speeds = raw.speed
    near = int(np.abs(speeds - path.target.speed).argmin())
    last = solver.raw(np.array([path.target.speed]), start=raw.solutions[near])
    good = np.append(raw.solved, last.solved)
    if path.blower is not None:
        return _driven(solver, raw, last, mouth=mouth)
    states = np.vstack([raw.states, last.states])
    boost = states[:-1, k.P_PLENUM] - path.site.pressure
    line = np.nonzero(good[:-1] & path.boost.counts(boost))[0]
    ratios = [float(r) for r in states[line, k.MAP_RATIO]]
    flows = states[line, k.MAP_FLOW]
    surge = np.array([chart.surge_flow(r) for r in ratios])
    limit = np.array([chart.flow_limit(r) for r in ratios])
    spool = threshold(solver, raw)
    surges, chokes = judged_margin(flows / surge - 1.0, np.array(ratios)), 1.0 - flows / limit
    spins, openings = 1.0 - states[line, k.MAP_SPEED], states[line, k.OPENING]
    nan = float("nan")
    some = len(line) > 0
    aim = path.target.speed
    where = dict.fromkeys(("power", "efficiency", "shaft", "charge", "back_pressure"), aim)
    if some:
        where["surge"] = float(speeds[line[surges.argmin()]])
        where["choke"] = float(speeds[line[chokes.argmin()]])
        where["overspeed"] = float(speeds[line[spins.argmin()]])
        where["opening"] = float(speeds[line[openings.argmax()]])
    return Candidate(
        id=path.turbo.id,
        name=path.turbo.name,
        power=float(states[-1, k.POWER]) if good[-1] else nan,
        efficiency=float(states[-1, k.MAP_EFFICIENCY]) if good[-1] else nan,
        shaft=float(states[-1, k.SHAFT]) if good[-1] else nan,
        charge=float(states[-1, k.T_COOLER_OUT]) if good[-1] else nan,
        surge=float(surges.min()) if some else nan,
        choke=float(chokes.min()) if some else nan,
        overspeed=float(spins.min()) if some else nan,
        spool=spool.speed if spool is not None else nan,
        back_pressure=float(states[-1, k.P4] / states[-1, k.P_PLENUM]) if good[-1] else nan,
        opening=float(openings.max()) if some else nan,
        where=where,
        **_tops(solver, raw, last, mouth=mouth),
    )


def _tops(solver: Solver, raw: RawSolution, last: RawSolution, *, mouth: bool) -> dict[str, float]:
    """The highest boost and torque of a full-load line, and the gas speed at the mouth at the target."""
    nan = float("nan")
    if not raw.solved.any():
        return {"boost": nan, "torque": nan, "mouth": nan, "knock": nan}
    boost = raw.states[raw.solved, k.P_PLENUM] - solver.path.site.pressure
    torque = raw.states[raw.solved, k.POWER] / (raw.speed[raw.solved] * math.pi / 30.0)
    gone = nan
    # Walking through the pieces takes its time: only where it is asked for.
    if mouth and last.solved[0]:
        gone = next((s.velocity for s in reversed(solver.point(last, 0).stretches) if s.velocity > 0.0), nan)
    return {"boost": float(boost.max()), "torque": float(torque.max()), "mouth": gone, "knock": _knock(solver, raw, last)}


def _knock(solver: Solver, raw: RawSolution, last: RawSolution) -> float:
    """The lesser margin to knock, where full boost begins and at the target."""
    if solver.path.engine.fuel.octane is None:
        return math.inf
    boost = raw.states[:, k.P_PLENUM] - solver.path.site.pressure
    driven = raw.speed >= LUGGING * solver.path.engine.idle
    full = np.nonzero(raw.solved & driven & (boost >= NEARLY * solver.path.boost.full))[0]
    found = [knock_margin(solver, solver.point(raw, int(full[0])))] if len(full) else []
    if last.solved[0]:
        found.append(knock_margin(solver, solver.point(last, 0)))
    return min(found, default=math.nan)


def _driven(solver: Solver, raw: RawSolution, last: RawSolution, *, mouth: bool) -> Candidate:
    """How a blower does: it has no map and no gate, so their rooms are without end."""
    path, nan = solver.path, float("nan")
    blower = path.blower
    assert blower is not None
    tops = _tops(solver, raw, last, mouth=mouth)
    boost = raw.states[:, k.P_PLENUM] - path.site.pressure
    # A blower gives what its rotors move; nine tenths of what is asked count as there.
    there = raw.speed[raw.solved & (boost >= DRIVEN * path.boost.full)]
    fastest = path.engine.rev_limit * blower.ratio
    one = last.states[0]
    good = bool(last.solved[0])
    return Candidate(
        id="blower",
        name=blower.name,
        power=float(one[k.POWER]) if good else nan,
        efficiency=nan,
        shaft=float(one[k.SHAFT]) if good else nan,
        charge=float(one[k.T_COOLER_OUT]) if good else nan,
        surge=math.inf,
        choke=math.inf,
        overspeed=1.0 - fastest / blower.maximum_speed,
        spool=float(there[0]) if len(there) else nan,
        back_pressure=float(one[k.P4] / one[k.P_PLENUM]) if good else nan,
        opening=0.0,
        where={"power": path.target.speed, "charge": path.target.speed},
        **tops,
    )
