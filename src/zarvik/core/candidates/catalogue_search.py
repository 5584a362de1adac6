"""Search the catalogue: every turbo with several housings in the present build, ranked."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import AirPath, Turbo
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.threshold import NEARLY
from zarvik.core.candidates.compare import Candidate, candidate, unsolved_candidate
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.compressor.surge import judged_margin
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.limits.limits import CHOKE, SURGE, WHEEL_SPEED
from zarvik.core.stock.sizes import next_housing

HOUSINGS = (0.80, 0.90, 1.0, 1.12, 1.25)  # of the housing that a turbo comes with
# What a shortfall costs in the ranking, each as a share; common practice, no source.
SHORT_POWER, LATE, SHORT_SURGE, SHORT_CHOKE, SHORT_SPEED = 0.05, 0.10, 0.10, 0.08, 0.04


@dataclass(frozen=True)
class CatalogueMatch:
    """A turbo with a housing (A/R in m) in the present build, its `figures`, and its `mark`: the
    less the better; inf where there is no solution."""

    turbo: Turbo
    housing: float
    figures: Candidate
    mark: float


def search(path: AirPath, turbos: Sequence[Turbo], progress: Progress = unwatched) -> tuple[CatalogueMatch, ...]:
    """All finds, the best first. Needs a build with a turbo."""
    tasks = list(_tasks(turbos))
    found: list[CatalogueMatch] = []
    for number, (turbo, housing) in enumerate(tasks):
        progress(number / len(tasks))
        found.append(_try(path, turbo, housing))
    return tuple(sorted(found, key=lambda f: f.mark))


def _tasks(turbos: Sequence[Turbo]) -> Iterator[tuple[Turbo, float]]:
    for turbo in turbos:
        for factor in HOUSINGS:
            housing = round(turbo.turbine.housing * factor * 1e4) / 1e4
            yield turbo, housing


def _far_off(path: AirPath, turbo: Turbo) -> bool:
    """Is the compressor so small that it could not pass half of the air, or so large that it would stand
    far left of its surge line at the target?"""
    engine, site = path.engine, path.site
    plenum = site.pressure + path.boost.full
    ratio = 1.03 * plenum / site.pressure
    density = plenum / (float(site.air.packed[GAS_CONSTANT]) * 330.0)
    speed = path.target.speed
    air = engine.swept_flow(speed) * float(engine.breathing.at(speed)) * density
    chart = turbo.chart
    corrected = air / path.turbo.count * chart.reference_pressure / site.pressure
    if ratio > 1.3 * chart.right_edge[:, 1].max():
        return True
    return not 0.4 * chart.surge_flow(ratio) < corrected < 2.0 * chart.flow_limit(ratio)


def _try(path: AirPath, turbo: Turbo, housing: float) -> CatalogueMatch:
    if _far_off(path, turbo):
        return CatalogueMatch(turbo, housing, unsolved_candidate(turbo), math.inf)
    other = _with(path, turbo, housing)
    figures = candidate(prepare(other))
    return CatalogueMatch(other.turbo, housing, figures, _mark(path, figures))


RANKED = 24  # of the best at a glance that are solved over the whole rev range


def rank(
    path: AirPath, turbos: Sequence[Turbo], progress: Progress = unwatched, *, most: int = RANKED
) -> tuple[tuple[CatalogueMatch, ...], int]:
    """Turbos in their own housing, a size smaller and a size larger, the best first, and how many were looked at: all
    of them at a glance, the `most` (count) best of those solved over the whole rev range. Needs a build with a turbo."""
    tasks = [
        (turbo, housing)
        for turbo in turbos
        for own in (turbo.turbine.housing,)
        for housing in (next_housing(own, -1), own, next_housing(own, 1))
        if housing is not None
    ]
    glances: list[CatalogueMatch] = []
    for number, (turbo, housing) in enumerate(tasks):
        progress(0.8 * number / len(tasks))
        if _far_off(path, turbo):
            continue
        solver = prepare(_with(path, turbo, housing))
        figures = rough_estimate(solver)
        glances.append(CatalogueMatch(turbo, housing, figures, _mark(path, figures)))
    glances.sort(key=lambda f: f.mark)
    found = []
    for number, one in enumerate(glances[:most]):
        progress(0.8 + 0.2 * number / most)
        found.append(_try(path, one.turbo, one.housing))
    return tuple(sorted(found, key=lambda f: f.mark)), len(tasks)


def rough_estimate(solver: Solver) -> Candidate:
    """A turbo by five points of the full load alone: rough, to choose what is worth a solution."""
    path = solver.path
    wish, target = path.boost.wish, path.target.speed
    wish = min(wish, target)
    speeds = np.unique([0.75 * wish, 0.875 * wish, wish, 0.5 * (wish + target), target])
    raw = solver.raw(speeds)
    boost = raw.states[:, k.P_PLENUM] - path.site.pressure
    full = raw.solved & (boost >= NEARLY * path.boost.full)
    counts = raw.solved & path.boost.counts(boost)
    spool = math.nan
    if full.any():
        i = int(full.argmax())
        spool = float(speeds[i])
        if i > 0 and raw.solved[i - 1] and boost[i] > boost[i - 1]:
            share = (NEARLY * path.boost.full - boost[i - 1]) / (boost[i] - boost[i - 1])
            spool = float(speeds[i - 1] + share * (speeds[i] - speeds[i - 1]))
    if not counts.any() or not raw.solved[-1]:
        return unsolved_candidate(path.turbo)
    chart, states = path.turbo.chart, raw.states[counts]
    flows, ratios = states[:, k.MAP_FLOW], [float(r) for r in states[:, k.MAP_RATIO]]
    surge = np.array([chart.surge_flow(r) for r in ratios])
    limit = np.array([chart.flow_limit(r) for r in ratios])
    last = raw.states[-1]
    return Candidate(
        id=path.turbo.id,
        name=path.turbo.name,
        power=float(last[k.POWER]),
        efficiency=float(last[k.MAP_EFFICIENCY]),
        shaft=float(last[k.SHAFT]),
        charge=float(last[k.T_COOLER_OUT]),
        surge=float(judged_margin(flows / surge - 1.0, np.array(ratios)).min()),
        choke=float((1.0 - flows / limit).min()),
        overspeed=float((1.0 - states[:, k.MAP_SPEED]).min()),
        spool=spool,
        back_pressure=float(last[k.P4] / last[k.P_PLENUM]),
        opening=float(states[:, k.OPENING].max()),
    )


def _with(path: AirPath, turbo: Turbo, housing: float) -> AirPath:
    turbine = dataclasses.replace(turbo.turbine, housing=housing)
    return dataclasses.replace(path, turbo=dataclasses.replace(turbo, turbine=turbine, count=path.turbo.count))


def _mark(path: AirPath, figures: Candidate) -> float:
    """Shortfalls as shares, squared and summed, so that one bad one outweighs several small ones;
    among those without any, the earlier and the stronger wins."""
    power = figures.power / path.target.power
    surge, choke, overspeed = figures.surge, figures.choke, figures.overspeed
    if not all(math.isfinite(v) for v in (power, surge, choke, overspeed)):
        return math.inf
    late = figures.spool / path.boost.wish
    late = late if math.isfinite(late) else 2.0
    short = (
        max(1.0 - power, 0.0) / SHORT_POWER,
        max(late - 1.0, 0.0) / LATE,
        max(SURGE.good - surge, 0.0) / SHORT_SURGE,
        max(CHOKE.good - choke, 0.0) / SHORT_CHOKE,
        max(WHEEL_SPEED.good - overspeed, 0.0) / SHORT_SPEED,
    )
    return sum(s * s for s in short) + 0.2 * late - 0.2 * power
