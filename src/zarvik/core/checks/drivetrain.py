"""Do clutch and gearbox take the torque, in every gear?"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.limits.limits import DRIVE, LOW_GEARS

DRIVE_CHECK = Check("drive", "Clutch and gearbox", about="engine", limit=DRIVE, breaks=True)
LOW_GEARS_CHECK = Check("low_gears", "Low gears", about="engine", limit=LOW_GEARS, breaks=True)

STEP = 5000.0  # Pa, to which a suggested boost is rounded down
LEAST = 2  # steps


def check(case: Case) -> list[CheckResult]:
    """The highest torque against what clutch, gearbox and the low gears take; nothing where nobody says it."""
    car = case.build.car
    peak = max(case.solved, key=lambda p: p.torque, default=None)
    if peak is None:
        return []
    limits = [(v, p, w) for v, p, w in ((car.clutch, "car.clutch", "clutch"), (car.gearbox, "car.gearbox", "gearbox")) if v > 0.0]
    return [*(_weakest(case, peak, *min(limits)) if limits else []), *(_low_gears(case, peak) if car.low_gears > 0.0 else [])]


def _weakest(case: Case, peak: Point, limit: float, place: str, what: str) -> list[CheckResult]:
    """The highest torque against the `limit` N m of clutch or gearbox, which is entered at `place`."""
    margin = 1.0 - peak.torque / limit

    def find() -> tuple[Sentence | None, tuple[Change, ...]]:
        boost = boost_for(case, (1.0 - DRIVE.good) * limit)
        if not boost > 0.0:
            return message("Even without boost it is exceeded: fit a stronger {what}", what=message(what)), ()
        return message("Limit boost to {boost}, or fit a stronger {what}", boost=Figure(boost, "pressure_gauge"), what=message(what)), (
            Change("boost.full", boost),
        )

    cure, changes = case.cure("drive", DRIVE.state(margin), find)
    return [
        DRIVE_CHECK.check_result(
            message(
                "{torque} at {speed}; the {what} limit is {limit}",
                torque=Figure(peak.torque, "torque", "torque", peak.speed),
                speed=revs(peak.speed),
                what=message(what),
                limit=Figure(limit, "torque", "=" + place),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]


def _low_gears(case: Case, peak: Point) -> list[CheckResult]:
    """What is too much for the low gears can be held back in them, within reason."""
    most = case.build.car.low_gears
    margin = 1.0 - peak.torque / most

    def hold() -> tuple[Sentence | None, tuple[Change, ...]]:
        boost = boost_for(case, most)
        if not boost > 0.0:
            return message("No boost in low gears, and it is still exceeded"), ()
        return message("Boost by gear: {boost} in low gears", boost=Figure(boost, "pressure_gauge")), ()

    cure, changes = case.cure("low_gears", LOW_GEARS.state(margin), hold)
    return [
        LOW_GEARS_CHECK.check_result(
            message(
                "{torque} at {speed}; the low-gear limit is {limit}",
                torque=Figure(peak.torque, "torque", "torque", peak.speed),
                speed=revs(peak.speed),
                limit=Figure(most, "torque", "=car.low_gears"),
            ),
            value=margin,
            cure=cure,
            changes=changes,
        )
    ]


def boost_for(case: Case, torque: float) -> float:
    """The highest boost in Pa gauge, in steps that one sets, with which no point of the full load has more than
    `torque` N m; 0 where even none has more."""
    good = np.nonzero(case.raw.solved)[0]
    if len(good) == 0:
        return 0.0
    peak = int(good[int((case.raw.power[good] / case.raw.speed[good]).argmax())])
    around = good[np.abs(good - peak) <= 8][::2]
    speeds = case.raw.speed[around]
    site = case.build.site.pressure

    def highest(boost: float) -> float:
        raw = case.solver.at_pressure(speeds, np.full(len(speeds), site + boost))
        solved = raw.power[raw.solved] / (speeds[raw.solved] * math.pi / 30.0)
        return float(solved.max()) if len(solved) else math.nan

    # Hardly any boost: none at all is less than a turbo in the way lets through.
    low, high = LEAST, max(int(case.build.boost.full // STEP), LEAST) + 1
    if not highest(low * STEP) <= torque:
        return 0.0
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if highest(middle * STEP) <= torque else (low, middle)
    return low * STEP
