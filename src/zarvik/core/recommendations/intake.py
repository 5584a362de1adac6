"""Throttle, and what measures the air, that a solved design needs."""

from __future__ import annotations

import math
from collections.abc import Iterator

from zarvik.core.checks.case import Case
from zarvik.core.checks.intake_side import throttles_sold
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.intake.intake_flow import throttle_of
from zarvik.core.limits.limits import OK, PEDAL, THROTTLE_LOSS
from zarvik.core.recommendations.recommendation import Recommendation

INTAKE = "intake"
FREE = 0.004  # of the pressure before it that an open throttle may take without anybody minding: some 45 m/s; common practice, no source
# Pa absolute that sensors of manifold pressure are sold for: "2.5 bar" to "6 bar"; common practice, no source
SENSORS = tuple(1e5 * bar for bar in (1.15, 2.0, 2.5, 3.0, 3.5, 4.0, 5.0, 6.0))
SENSOR_LEFT = 0.08  # of its range that stays over the highest boost; common practice, no source
METER_SPEED = 42.0  # m/s in the bore of a hot-film meter at the end of its range, air of the day; common practice, no source: 36 to 50
METER_BORES = tuple(1e-3 * d for d in (50, 55, 60, 65, 70, 75, 80, 85, 90, 100, 110))  # m, common practice, no source


def of_air(case: Case) -> Iterator[Recommendation]:
    """Throttle, sensor of pressure, and the meter that could stand in its place."""
    yield from _throttle(case)
    yield _sensor(case)
    if case.build.engine.fuel.spark:
        yield _meter(case)


def _throttle(case: Case) -> Iterator[Recommendation]:
    throttle = throttle_of(case.build)
    if throttle is None or not case.build.engine.fuel.spark:
        return
    sold = [c for c in throttles_sold(case, throttle) if THROTTLE_LOSS.state(c[1]) == OK]
    calm = [c for c in sold if PEDAL.state(c[2]) == OK]
    # The least that costs next to nothing and with which a foot still feels something; where none does both, the least loss that is felt.
    free = [c for c in calm if c[1] <= FREE]
    best = (
        min(free, key=lambda c: c[0], default=None)
        or max(calm, key=lambda c: c[0], default=None)
        or min(sold, key=lambda c: c[0], default=None)
    )
    if best is None:
        yield Recommendation(
            INTAKE,
            "Throttle",
            math.nan,
            message("Two of {bore}: no single one on sale is large enough", bore=Figure(throttle.bore, "length")),
        )
        return
    most = max(calm, key=lambda c: c[0])[0] if calm else best[0]
    yield Recommendation(
        INTAKE,
        "Throttle",
        best[0],
        message(
            ("{bore} or wider: it loses {share} of the pressure before it at {speed}; up to {most} the pedal still works well in town")
            if most > best[0]
            else ("{bore}: it loses {share} of the pressure before it at {speed}; full airflow in town at {travel} of the pedal"),
            ("" if calm else "; a cam or a table must open it slowly"),
            bore=Figure(best[0], "length"),
            most=Figure(most, "length"),
            share=Figure(best[1], "ratio"),
            speed=revs(case.hardest.speed),
            travel=Figure(best[2], "ratio"),
        ),
    )


def _sensor(case: Case) -> Recommendation:
    site = case.build.site.pressure
    highest = max(p.stations["plenum"].pressure for p in case.solved)
    highest = max(highest, site + max(case.build.target.big_run, 0.0))
    size = next((s for s in SENSORS if s * (1.0 - SENSOR_LEFT) >= highest), math.nan)
    if size == size:
        return Recommendation(
            INTAKE,
            "Pressure sensor",
            size,
            message(
                "One for {size}: the plenum reaches {highest}",
                size=Figure(size, "pressure_absolute"),
                highest=Figure(highest, "pressure_absolute"),
            ),
        )
    return Recommendation(
        INTAKE,
        "Pressure sensor",
        size,
        message("One that reaches {highest}, with 10 % reserve", highest=Figure(highest, "pressure_absolute")),
    )


def _meter(case: Case) -> Recommendation:
    """A meter in the pipe before the compressor, where one is kept; most builds go by pressure and speed."""
    air = case.hardest.air
    station = case.hardest.stations["compressor_inlet"]
    density = station.pressure / (DRY_AIR_GAS_CONSTANT * station.temperature)
    asked = math.sqrt(4.0 * air * 1.05 / (math.pi * density * METER_SPEED))
    size = next((b for b in METER_BORES if b >= asked), math.nan)
    if size == size:
        return Recommendation(
            INTAKE,
            "Air meter",
            size,
            message(
                "None needed with speed-density. If you keep one: {bore} bore or more, for {air}",
                bore=Figure(size, "length"),
                air=Figure(air, "meter_flow"),
            ),
        )
    return Recommendation(
        INTAKE, "Air meter", size, message("Speed-density: no meter on sale reaches {air}", air=Figure(air, "meter_flow"))
    )
