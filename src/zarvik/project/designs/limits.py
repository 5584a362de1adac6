"""What a design must fulfil, how far it is from it, and what it is worth."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass

from zarvik.core.budget.resources import Cost
from zarvik.core.candidates.compare import Candidate
from zarvik.core.common.constants import HORSEPOWER
from zarvik.core.designs.pareto import Score
from zarvik.core.limits.limits import BACK_PRESSURE, BOTTOM_END, CHARGE_TEMPERATURE, CHOKE, GATE, MOUTH_SPEED, POWER, SURGE, WHEEL_SPEED
from zarvik.core.whole_build.build import Build
from zarvik.project.document.parts.design_search import WEIGHTS, DesignSearch

OPEN_MOST = 1.0 - 0.5 * GATE.good  # of the gate's lift that a design may use; wide open it may creep
MOST_RESERVE = 0.10  # of the target's power; more is worth nothing
AIMS = ("threshold", "reserve", "room", "money", "weeks")
WEIGHT_OF = {"threshold": "quick_spool", "reserve": "power_reserve", "room": "margins", "money": "low_cost", "weeks": "short_build_time"}


@dataclass(frozen=True)
class Unit:
    """One unit of a limit: `title`, `step` in SI and its `kind`, `sign`: 1 where more of the limit is looser."""

    title: str
    step: float
    kind: str
    sign: float = 1.0


# In the order in which they are told
UNITS: dict[str, Unit] = {
    "power": Unit("Target power", 10.0 * HORSEPOWER, "power", -1.0),
    "spool": Unit("Full boost by", 100.0, "rotation"),
    "money": Unit("Build budget", 100.0, "money"),
    "weeks": Unit("Build time", 1.0, "weeks"),
    "bottom": Unit("Max safe boost", 0.05e5, "pressure_difference"),
    "drive": Unit("Clutch and gearbox limit", 20.0, "torque"),
    "surge": Unit("Surge margin", 0.02, "ratio", -1.0),
    "choke": Unit("Choke margin", 0.02, "ratio", -1.0),
    "overspeed": Unit("Wheel speed margin", 0.01, "ratio", -1.0),
    "gate": Unit("Wastegate reserve", 0.05, "ratio", -1.0),
    "back": Unit("Back-pressure ratio", 0.1, "factor"),
    "mouth": Unit("Gas speed at the tailpipe", 10.0, "velocity"),
    "knock": Unit("Knock margin", 0.1, "ratio", -1.0),
}
# What falls short by so much counts one in the search
_COUNTS = {
    "power": 0.05,
    "spool": 0.08,
    "surge": 0.10,
    "choke": 0.08,
    "overspeed": 0.04,
    "gate": 0.15,
    "back": 0.4,
    "money": 0.10,
    "weeks": 0.10,
    "bottom": 0.05,
    "drive": 0.05,
    "mouth": 0.10,
    "knock": 0.2,
}
_UNKNOWN = 5.0  # what is not solved counts
# What is worth as much as what, for a weight of one
_WORTH = {"threshold": 250.0, "reserve": 0.06, "room": 0.3, "weeks": 1.0}
_WORTH_OF_MONEY = 0.12  # of what the present design costs


@dataclass(frozen=True)
class Limits:
    """What a search holds its designs to: `power` W at least, full boost from `spool` rev/min, `money` and `weeks` (0:
    not counted)."""

    power: float
    spool: float
    money: float = 0.0
    weeks: float = 0.0

    @classmethod
    def of(cls, build: Build) -> Limits:
        """Those of a build."""
        resources = build.resources
        return cls(build.target.power, build.boost.wish, resources.budget if resources else 0.0, resources.weeks if resources else 0.0)

    def tightened(self, wish: str, figures: Candidate, cost: Cost, weeks: float) -> Limits:
        """With one wish more than a design gives: `spool`, `power`, `money` or `weeks`, by one unit."""
        step = UNITS[wish].step
        if wish == "spool":
            return dataclasses.replace(self, spool=min(self.spool, figures.spool - step))
        if wish == "power":
            return dataclasses.replace(self, power=max(self.power, figures.power + step))
        if wish == "money":
            return dataclasses.replace(self, money=max(cost.money - step, 1.0))
        return dataclasses.replace(self, weeks=max(weeks - 0.5 * step, 0.1))


def shortfalls(build: Build, limits: Limits, figures: Candidate, cost: Cost, weeks: float) -> dict[str, float]:
    """By how much a design misses each thing that it must fulfil, in the unit (SI) of UNITS; only what it misses, nan
    where it is not solved."""
    f, car = figures, build.car
    clutch = min((t for t in (car.clutch, car.gearbox) if t > 0.0), default=math.inf)
    trusted = build.engine.trusted_boost * (1.0 - BOTTOM_END.most)
    found = {
        "power": limits.power * (1.0 + POWER.most) - f.power,
        "spool": f.spool - limits.spool if f.spool == f.spool else math.nan,
        "surge": SURGE.most - f.surge,
        "choke": CHOKE.most - f.choke,
        "overspeed": WHEEL_SPEED.most - f.overspeed,
        "gate": f.opening - OPEN_MOST,
        "back": f.back_pressure - BACK_PRESSURE.most,
        "bottom": build.boost.full - trusted if build.blower is None else f.boost - trusted,
        "drive": f.torque - clutch,
        "money": cost.money - limits.money if limits.money > 0.0 else 0.0,
        "weeks": weeks - limits.weeks if limits.weeks > 0.0 else 0.0,
        "knock": -f.knock,
        "mouth": f.mouth - build.mouth_speed * (1.0 - MOUTH_SPEED.most) if build.mouth_speed > 0.0 else 0.0,
    }
    return {key: value for key, value in found.items() if not value <= 1e-9 * UNITS[key].step}


def total_shortfall(missed: Mapping[str, float], build: Build, limits: Limits) -> float:
    """How far a design is from what it must fulfil: its shortfalls, each over what counts one; 0 for none."""
    whole = {
        "power": limits.power,
        "spool": limits.spool,
        "money": limits.money,
        "weeks": limits.weeks,
        "bottom": build.engine.trusted_boost,
        "mouth": build.mouth_speed,
        "drive": min((t for t in (build.car.clutch, build.car.gearbox) if t > 0.0), default=1.0),
    }
    total = 0.0
    for key, value in missed.items():
        share = value / max(whole.get(key, 1.0), 1e-9)
        total += share / _COUNTS[key] if share == share else _UNKNOWN
    return total


def room(figures: Candidate, trusted: float) -> float:
    """The least of a design's rooms, each over what would hold well (a ratio, 1 at the most); below 0 where it fails.
    `trusted`: boost in Pa gauge that the bottom end is trusted with."""
    good = CHARGE_TEMPERATURE.most - CHARGE_TEMPERATURE.good
    parts = [
        (figures.surge - SURGE.most) / (SURGE.good - SURGE.most),
        (figures.choke - CHOKE.most) / (CHOKE.good - CHOKE.most),
        (figures.overspeed - WHEEL_SPEED.most) / (WHEEL_SPEED.good - WHEEL_SPEED.most),
        (1.0 - figures.opening) / GATE.good,
        BACK_PRESSURE.margin(figures.back_pressure) / BACK_PRESSURE.margin(BACK_PRESSURE.good),
        (1.0 - figures.boost / trusted) / BOTTOM_END.good if trusted > 0.0 else math.nan,
        (CHARGE_TEMPERATURE.most - figures.charge) / good,
    ]
    known = [p for p in parts if p == p]
    return min(1.0, *known) if known else -1.0


def aims(
    ask: DesignSearch, limits: Limits, figures: Candidate, cost: Cost, weeks: float, *, latest: float, least: float
) -> dict[str, float]:
    """What a design is worth in each thing that matters, the less the better. `latest` rev/min: stands for a boost
    that never comes; `least`: its least `room` (a ratio)."""
    f = figures
    every = {
        "threshold": f.spool if f.spool == f.spool else latest,
        "reserve": -min(f.power / limits.power - 1.0, MOST_RESERVE) if f.power == f.power else 1.0,
        "room": -least,
        "money": cost.money,
        "weeks": weeks,
    }
    wanted = [aim for aim in AIMS if WEIGHTS[getattr(ask, WEIGHT_OF[aim])] > 0.0]
    return {aim: every[aim] for aim in wanted or AIMS}


def aim_scales(names: tuple[str, ...], usual: float) -> tuple[float, ...]:
    """What counts one in each aim; `usual`: money that the present design costs."""
    worth = _WORTH | {"money": max(_WORTH_OF_MONEY * usual, 1.0)}
    return tuple(worth[name] for name in names)


def weighted_sum(ask: DesignSearch, score: Score, names: tuple[str, ...], usual: float) -> float:
    """The weighted sum of a design's aims, the less the better; `usual`: money that the present design costs."""
    worth = dict(zip(names, aim_scales(names, usual), strict=True))
    weights = {aim: WEIGHTS[getattr(ask, WEIGHT_OF[aim])] for aim in names}
    if not any(weights.values()):
        weights = dict.fromkeys(names, 1.0)
    return sum(weights[aim] * value / worth[aim] for aim, value in zip(names, score.aims, strict=True))
