"""Search the shelf: every turbo with several housings in the present build, ranked."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.system import System, Turbo
from zarvik.core.compare import Candidate, candidate, nothing
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.limits import CHOKE, SURGE, WHEEL_SPEED
from zarvik.core.progress import Progress, unwatched

HOUSINGS = (0.80, 0.90, 1.0, 1.12, 1.25)  # of the housing that a turbo comes with
# What a shortfall costs in the ranking, each as a share; common practice, no source.
SHORT_POWER, LATE, SHORT_SURGE, SHORT_CHOKE, SHORT_SPEED = 0.05, 0.10, 0.10, 0.08, 0.04


@dataclass(frozen=True)
class Find:
    """A turbo with a housing (A/R in m) in the present build, its `figures`, and its `mark`: the
    less the better; inf where there is no solution."""

    turbo: Turbo
    housing: float
    figures: Candidate
    mark: float


def search(
    system: System,
    turbos: Sequence[Turbo],
    progress: Progress = unwatched,
) -> tuple[Find, ...]:
    """All finds, the best first. Needs a build with a turbo."""
    tasks = list(_tasks(turbos))
    found: list[Find] = []
    for number, (turbo, housing) in enumerate(tasks):
        progress(number / len(tasks))
        found.append(_try(system, turbo, housing))
    return tuple(sorted(found, key=lambda f: f.mark))


def _tasks(turbos: Sequence[Turbo]) -> Iterator[tuple[Turbo, float]]:
    for turbo in turbos:
        for factor in HOUSINGS:
            housing = round(turbo.turbine.housing * factor * 1e4) / 1e4
            yield turbo, housing


def _far_off(system: System, turbo: Turbo) -> bool:
    """Is the compressor so small that it could not pass half of the air, or so large that it would stand
    far left of its surge line at the target?"""
    engine, site = system.engine, system.site
    plenum = site.pressure + system.boost.full
    ratio = 1.03 * plenum / site.pressure
    density = plenum / (float(site.air.packed[GAS_CONSTANT]) * 330.0)
    speed = system.target.speed
    air = engine.swept_flow(speed) * float(engine.breathing.at(speed)) * density
    chart = turbo.chart
    corrected = air / system.turbo.count * chart.reference_pressure / site.pressure
    if ratio > 1.3 * chart.right_edge[:, 1].max():
        return True
    return not 0.4 * chart.surge_flow(ratio) < corrected < 2.0 * chart.flow_limit(ratio)


def _try(system: System, turbo: Turbo, housing: float) -> Find:
    if _far_off(system, turbo):
        return Find(turbo, housing, nothing(turbo), math.inf)
    turbine = dataclasses.replace(turbo.turbine, housing=housing)
    turbo = dataclasses.replace(turbo, turbine=turbine, count=system.turbo.count)
    figures = candidate(prepare(dataclasses.replace(system, turbo=turbo)))
    return Find(turbo, housing, figures, _mark(system, figures))


def _mark(system: System, figures: Candidate) -> float:
    """Shortfalls as shares, squared and summed, so that one bad one outweighs several small ones;
    among those without any, the earlier and the stronger wins."""
    power = figures.power / system.target.power
    surge, choke, overspeed = figures.surge, figures.choke, figures.overspeed
    if not all(math.isfinite(v) for v in (power, surge, choke, overspeed)):
        return math.inf
    late = figures.spool / system.boost.wish
    late = late if math.isfinite(late) else 2.0
    short = (
        max(1.0 - power, 0.0) / SHORT_POWER,
        max(late - 1.0, 0.0) / LATE,
        max(SURGE.good - surge, 0.0) / SHORT_SURGE,
        max(CHOKE.good - choke, 0.0) / SHORT_CHOKE,
        max(WHEEL_SPEED.good - overspeed, 0.0) / SHORT_SPEED,
    )
    return sum(s * s for s in short) + 0.2 * late - 0.2 * power
