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
    revs,
    say,
)

BOTTOM_END_ROOM = 0.07  # run 7–15 % under what is trusted; common practice, no source
# Charge temperature in the plenum at full load; common practice, no source.
CHARGE_GOOD = 333.15
CHARGE_WORST = 358.15
ALCOHOL_ROOM = 25.0  # K that alcohol stands more of; common practice, no source


def check(case: Case) -> list[Verdict]:
    """Boost against the bottom end, weekly and for the single run, and charge temperature."""
    trusted = case.system.engine.trusted_boost
    return [
        _bottom(case, "bottom_end", "Bottom end", case.system.boost.full, trusted, "boost.full"),
        # A big run below the weekly boost asks for nothing more than the weekly one.
        _bottom(case, "big_run", "Single big run",
                max(case.system.target.big_run, case.system.boost.full), trusted, "boost.big_run"),
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
    power, at = case.power_with(boost), case.system.target.speed
    big = boost > case.system.boost.full
    entry = "=brief.big_run_boost" if big else "=brief.target_boost"
    return Verdict(
        id, title, state, margin,
        say("{boost} of {trusted}" + (", {power} at {speed}" if power == power else ""),
            boost=Figure(boost, "pressure_gauge", entry),
            trusted=Figure(trusted, "pressure_gauge", "=engine.trusted_boost"),
            power=Figure(power, "power", f"{id}_power", at), speed=revs(at)),
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
            boost=Figure(point.boost, "pressure_gauge", "boost", point.speed),
            trusted=Figure(trusted, "pressure_gauge", "=engine.trusted_boost"),
            speed=revs(point.speed)),
        say("First make the gate hold the boost down"), (), "turbo",
        "7–15 % under the limit: common practice, no source. Overboost can break an engine",
    )  # fmt: skip


def _charge(case: Case) -> Verdict:
    point = case.target
    plenum = point.stations["plenum"].temperature
    # What the fuel takes out as it evaporates counts: it is the cooler of those who have none.
    temperature = point.charge
    wet = plenum - temperature > 1.0
    ambient = case.system.site.temperature
    room = ALCOHOL_ROOM if case.system.engine.fuel.saturation is not None else 0.0
    good, most = CHARGE_GOOD + room, CHARGE_WORST + room
    margin = (most - temperature) / (most - ambient)
    state = FAILS if temperature > most else TIGHT if temperature > good else HOLDS
    spark = case.system.engine.fuel.spark
    before = point.stations["cooler_inlet"].temperature
    needed = (before - good) / (before - ambient) if before > ambient + 1 else 0.0
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != HOLDS and case.system.cooler is None:
        cure = say("Fit a cooler: it takes {needed} of the way down to ambient to reach {good}",
                   needed=Figure(needed, "ratio"), good=Figure(good, "temperature"))  # fmt: skip
        changes = (Change("cooler.fitted", 1.0),)
    elif state != HOLDS and needed < 0.95:
        cure = say("It takes {needed} of the way down to ambient to reach {good}; now it is {now}: "
                   "a larger core, or more air through it",
                   needed=Figure(needed, "ratio"), good=Figure(good, "temperature"),
                   now=Figure(point.cooler_effectiveness, "ratio", "effectiveness", point.speed))  # fmt: skip
    elif state != HOLDS:
        cure = say("No air-to-air cooler reaches {good} on this day: less pressure ratio, a more "
                   "efficient compressor, or water", good=Figure(good, "temperature"))  # fmt: skip
    return Verdict(
        "charge_temperature", "Charge temperature", state, margin,
        say(("{charge} after the fuel has evaporated, {plenum} in the plenum at {speed}" if wet else
             "{charge} in the plenum at {speed}")
            + (", {before} before the cooler" if case.system.cooler else "")
            + ("; knock comes nearer above {good}" if spark and state != HOLDS else ""),
            charge=Figure(temperature, "temperature", "charge", point.speed),
            plenum=Figure(plenum, "temperature", "temperature:plenum", point.speed),
            before=Figure(before, "temperature", "temperature:cooler_inlet", point.speed),
            speed=revs(point.speed), good=Figure(good, "temperature")),
        cure, changes, "brief", "60 °C good, 85 °C the most, alcohol 25 °C more: common practice, no source",
    )  # fmt: skip
