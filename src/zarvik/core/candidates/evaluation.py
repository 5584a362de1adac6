"""Turbos evaluated on this engine: each at every stage of the build, with its seconds, side by side; one turbo
with other housings; one blower with other pulleys."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import AirPath, Target, Turbo
from zarvik.core.airpath.reading import RawSolution
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.candidates.compare import Candidate, candidate
from zarvik.core.common.constants import HORSEPOWER
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.engine.belt import TOOTH_PITCH, TOOTHED, Belt, capacity
from zarvik.core.spool.pull import Pull, pull
from zarvik.core.stock.sizes import PULLEYS, TEETH, housings_near
from zarvik.core.vehicle.car import Car

MOST = 8  # side by side
Path = TypeVar("Path", bound=AirPath)


@dataclass(frozen=True)
class Stage:
    """A stage of the build: `key`, `boost` Pa gauge, and the `power` W wanted there, 0 for none."""

    key: str
    title: str
    boost: float
    power: float


@dataclass(frozen=True, eq=False)
class Line:
    """The full-load line of one turbo at one stage, over `speed` rev/min where it is solved: `boost` Pa
    gauge, `power` W, `torque` N m, corrected `flow` kg/s of one, `ratio`, `back_pressure` ratio; and its
    `figures`."""

    stage: Stage
    speed: np.ndarray
    boost: np.ndarray
    power: np.ndarray
    torque: np.ndarray
    flow: np.ndarray
    ratio: np.ndarray
    back_pressure: np.ndarray
    figures: Candidate

    @property
    def state(self) -> str:
        """How it does against what the stage wants."""
        return self.figures.state(self.stage.power or 1.0)


@dataclass(frozen=True, eq=False)
class Evaluated:
    """One turbo: a line for each stage, and for each the seconds at a `held` speed and in a gear
    (`geared`)."""

    turbo: Turbo
    lines: tuple[Line, ...]
    held: tuple[Pull, ...] = ()
    geared: tuple[Pull, ...] = ()


def at_stage(path: Path, stage: Stage) -> Path:
    """The air path at a stage of its build."""
    boost = dataclasses.replace(path.boost, full=stage.boost)
    target = Target(stage.power or path.target.power, path.target.speed, path.target.big_run)
    return dataclasses.replace(path, boost=boost, target=target)


def line(solver: Solver, stage: Stage) -> Line:
    """The full-load line of a packed air path at its `stage`."""
    raw: RawSolution = solver.full_load
    good = raw.solved
    states, speed = raw.states[good], raw.speed[good]
    plenum = states[:, k.P_PLENUM]
    return Line(
        stage,
        speed,
        plenum - solver.path.site.pressure,
        states[:, k.POWER],
        states[:, k.POWER] / (speed * math.pi / 30.0),
        states[:, k.MAP_FLOW],
        states[:, k.MAP_RATIO],
        states[:, k.P4] / plenum,
        candidate(solver),
    )


def evaluate(path: AirPath, turbos: Sequence[Turbo], stages: Sequence[Stage], progress: Progress = unwatched) -> tuple[Evaluated, ...]:
    """The lines of each of `turbos` at each of `stages`; without the seconds, which take longer."""
    found = []
    for number, turbo in enumerate(turbos):
        lines = []
        for step, stage in enumerate(stages):
            progress((number + step / len(stages)) / len(turbos))
            built = at_stage(dataclasses.replace(path, turbo=turbo), stage)
            lines.append(line(prepare(built), stage))
        found.append(Evaluated(turbo, tuple(lines)))
    return tuple(found)


def with_spool_times(
    path: AirPath, car: Car, evaluated: Sequence[Evaluated], held: float, geared: float, progress: Progress = unwatched
) -> tuple[Evaluated, ...]:
    """The same with the seconds from a closed throttle at a `held` engine speed, and in the gear of a `car` from
    `geared` rev/min."""
    found = []
    for number, one in enumerate(evaluated):
        first, second = [], []
        for step, one_line in enumerate(one.lines):
            progress((number + step / len(one.lines)) / len(evaluated))
            solver = prepare(at_stage(dataclasses.replace(path, turbo=one.turbo), one_line.stage))
            first.append(pull(solver, held))
            second.append(pull(solver, geared, car=car))
        found.append(dataclasses.replace(one, held=tuple(first), geared=tuple(second)))
    return tuple(found)


@dataclass(frozen=True)
class Housing:
    """The chosen turbo in a `housing` (A/R in m): its figures, and the seconds at the held speed."""

    housing: float
    figures: Candidate
    seconds: float


def housings(path: AirPath, held: float, progress: Progress = unwatched) -> tuple[Housing, ...]:
    """The turbo of an air path in its own housing and in each that is sold from 0.7 to 1.5 of it, smallest
    first; `held` engine speed in rev/min."""
    own = path.turbo.turbine.housing
    sizes = sorted({own, *housings_near(own)})
    # A size within two hundredths of the turbo's own is that one.
    sizes = [s for s in sizes if s == own or abs(s / own - 1.0) > 0.02]
    found = []
    for number, size in enumerate(sizes):
        progress(number / len(sizes))
        turbine = dataclasses.replace(path.turbo.turbine, housing=size)
        solver = prepare(dataclasses.replace(path, turbo=dataclasses.replace(path.turbo, turbine=turbine)))
        found.append(Housing(size, candidate(solver), pull(solver, held).seconds))
    return tuple(found)


@dataclass(frozen=True, kw_only=True)
class Pulley:
    """The blower with another pulley: `size` m (pitch diameter), `teeth` (0 for a ribbed belt), what the boost
    is at the target speed in Pa gauge with the bypass shut as far as it may be, `power` W there, highest
    rotor `speed` rev/min, `carried`: power that the belt carries there over what it needs, `slip` share."""

    size: float
    teeth: int
    ratio: float
    boost: float
    power: float
    belt_power: float
    speed: float
    carried: float
    slip: float


def pulleys(path: AirPath, progress: Progress = unwatched) -> tuple[Pulley, ...]:
    """The blower of an air path with each pulley on it that can be had, smallest first, as much boost as it makes
    at the target speed. Needs a blower with a belt."""
    blower = path.blower
    if blower is None or blower.belt is None:
        return ()
    belt = blower.belt
    if belt.kind == TOOTHED:
        sizes = [(n * TOOTH_PITCH / math.pi, n) for n in TEETH]
    else:
        sizes = [(d, 0) for d in PULLEYS]
    sizes = [s for s in sizes if 0.55 <= s[0] / belt.blower <= 1.8]
    found = []
    for number, (size, teeth) in enumerate(sizes):
        progress(number / len(sizes))
        found.append(_with_pulley(path, dataclasses.replace(belt, blower=size), teeth))
    return tuple(p for p in found if p.boost == p.boost)


def _with_pulley(path: AirPath, belt: Belt, teeth: int) -> Pulley:
    assert path.blower is not None
    changed = dataclasses.replace(path.blower, ratio=belt.ratio, belt=belt)
    # The bypass stays shut below what nobody would ask for: what the rotors move is what there is.
    free = dataclasses.replace(path.boost, full=5.0e5)
    solver = prepare(dataclasses.replace(path, blower=changed, boost=free))
    speed = path.target.speed
    point = solver.at(speed)
    top = path.engine.rev_limit
    nan = math.nan
    if not point.closure.solved:
        return Pulley(
            size=belt.blower,
            teeth=teeth,
            ratio=belt.ratio,
            boost=nan,
            power=nan,
            belt_power=nan,
            speed=belt.ratio * top,
            carried=nan,
            slip=nan,
        )
    power = point.turbo.power / changed.drive
    return Pulley(
        size=belt.blower,
        teeth=teeth,
        ratio=belt.ratio,
        boost=point.boost,
        power=point.power,
        belt_power=power,
        speed=belt.ratio * top,
        carried=capacity(belt, speed) / max(power, 1.0),
        slip=1.0 - point.turbo.real_speed / (belt.ratio * speed),
    )


def for_boost(found: Sequence[Pulley], boost: float, limit: float) -> Pulley | None:
    """The largest pulley that makes at least `boost` Pa gauge with rotors not above `limit` rev/min; None
    where no pulley does both."""
    good = [p for p in found if p.boost >= boost and p.speed <= limit]
    return max(good, key=lambda p: p.size, default=None)


@dataclass(frozen=True)
class GivenUp:
    """What a choice gives up against another turbo: `name` of the other, what of (`key` of a figure), and by
    how much (SI, positive: the other is better)."""

    name: str
    key: str
    by: float


# How much has to be given up to be worth a word
WORTH = {"power": HORSEPOWER, "spool": 50.0, "seconds": 0.05, "back_pressure": 0.03, "surge": 0.02}


def given_up_against(evaluated: Sequence[Evaluated], chosen: str, stage: int) -> tuple[GivenUp, ...]:
    """What the turbo `chosen` (its key) gives up against each of the others at a stage."""
    mine = next((w for w in evaluated if w.turbo.id == chosen), None)
    if mine is None:
        return ()
    found = []
    for other in evaluated:
        if other is mine:
            continue
        for key, sign in (("power", 1.0), ("spool", -1.0), ("seconds", -1.0), ("back_pressure", -1.0)):
            by = sign * (_figure(other, stage, key) - _figure(mine, stage, key))
            if math.isfinite(by) and by > WORTH[key]:
                found.append(GivenUp(other.turbo.name, key, by))
    return tuple(found)


def _figure(one: Evaluated, stage: int, key: str) -> float:
    if key == "seconds":
        return one.held[stage].seconds if one.held else math.nan
    return float(getattr(one.lines[stage].figures, key))
