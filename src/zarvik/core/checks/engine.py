"""Will the engine stand it: bottom end, charge temperature."""

from __future__ import annotations

from zarvik.core.airpath.solution import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import (
    FAILS,
    HOLDS,
    TIGHT,
    Change,
    Figure,
    Sentence,
    Verdict,
    graded,
    say,
)

BOTTOM_END_ROOM = 0.07  # run 7–15 % under what is trusted; common practice, no source
# Charge temperature in the plenum at full load; common practice, no source.
CHARGE_GOOD = 333.15
CHARGE_WORST = 358.15


def check(case: Case) -> list[Verdict]:
    """Boost against the bottom end, weekly and for the single run, and charge temperature."""
    trusted = case.system.engine.trusted_boost
    return [
        _bottom(case, "bottom_end", "Bottom end", case.system.boost.full, trusted, "boost.full"),
        _bottom(case, "big_run", "Single big run", case.system.target.big_run, trusted,
                "boost.big_run"),
        _charge(case),
    ]  # fmt: skip


def _bottom(case: Case, id: str, title: str, boost: float, trusted: float, place: str) -> Verdict:
    if place == "boost.full":
        creeping = max(case.solved, key=lambda p: p.boost, default=case.target)
        if creeping.closure.solved and creeping.boost > 1.02 * max(boost, 1e4):
            return _crept(creeping, trusted)
    margin = _room(boost, trusted)
    state = graded(margin, BOTTOM_END_ROOM)
    safe = (1.0 - BOTTOM_END_ROOM) * trusted // 500.0 * 500.0
    power = case.power_with(boost)
    return Verdict(
        id, title, state, margin,
        say("{boost} of {trusted}" + (", {power} at {speed}" if power == power else ""),
            boost=Figure(boost, "pressure_gauge"), trusted=Figure(trusted, "pressure_gauge"),
            power=Figure(power, "power"), speed=Figure(case.system.target.speed, "rotation")),
        say("Stay 7 % under it: {safe}", safe=Figure(safe, "pressure_gauge"))
        if state != HOLDS else None,
        (Change(place, safe),) if state != HOLDS else (),
        "brief", "7–15 % under the limit: common practice, no source. Overboost can break an engine",
    )  # fmt: skip


def _room(boost: float, trusted: float) -> float:
    return 1.0 - boost / trusted if trusted > 0 else (-1.0 if boost > 0 else 0.0)


def _crept(point: Point, trusted: float) -> Verdict:
    """The boost that the gate lets through, not the one that was asked for, meets the bottom end."""
    margin = _room(point.boost, trusted)
    return Verdict(
        "bottom_end", "Bottom end", graded(margin, BOTTOM_END_ROOM), margin,
        say("The boost creeps to {boost} at {speed}, of {trusted}",
            boost=Figure(point.boost, "pressure_gauge"),
            trusted=Figure(trusted, "pressure_gauge"), speed=Figure(point.speed, "rotation")),
        say("First make the gate hold the boost down"), (), "turbo",
        "7–15 % under the limit: common practice, no source. Overboost can break an engine",
    )  # fmt: skip


def _charge(case: Case) -> Verdict:
    point = case.target
    temperature = point.stations["plenum"].temperature
    ambient = case.system.site.temperature
    margin = (CHARGE_WORST - temperature) / (CHARGE_WORST - ambient)
    state = FAILS if temperature > CHARGE_WORST else TIGHT if temperature > CHARGE_GOOD else HOLDS
    spark = case.system.engine.fuel.spark
    before = point.stations["compressor_outlet"].temperature
    needed = (before - CHARGE_GOOD) / (before - ambient) if before > ambient + 1 else 0.0
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != HOLDS and case.system.cooler is None:
        cure = say("Fit a cooler: it takes {needed} of the way down to ambient to reach {good}",
                   needed=Figure(needed, "ratio"), good=Figure(CHARGE_GOOD, "temperature"))  # fmt: skip
        changes = (Change("cooler.fitted", 1.0),)
    elif state != HOLDS and needed < 0.95:
        cure = say("It takes {needed} of the way down to ambient to reach {good}; now it is {now}: "
                   "a larger core, or more air through it",
                   needed=Figure(needed, "ratio"), good=Figure(CHARGE_GOOD, "temperature"),
                   now=Figure(point.cooler_effectiveness, "ratio"))  # fmt: skip
    elif state != HOLDS:
        cure = say("No air-to-air cooler reaches {good} on this day: less pressure ratio, a more "
                   "efficient compressor, or water", good=Figure(CHARGE_GOOD, "temperature"))  # fmt: skip
    return Verdict(
        "charge_temperature", "Charge temperature", state, margin,
        say("{charge} in the plenum at {speed}, {before} before the cooler"
            + ("; knock comes nearer above {good}" if spark and state != HOLDS else ""),
            charge=Figure(temperature, "temperature"), before=Figure(before, "temperature"),
            speed=Figure(point.speed, "rotation"), good=Figure(CHARGE_GOOD, "temperature")),
        cure, changes, "brief", "60 °C good, 85 °C the most: common practice, no source",
    )  # fmt: skip
