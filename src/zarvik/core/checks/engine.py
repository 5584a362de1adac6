"""Will the engine stand it: bottom end, charge temperature."""

from __future__ import annotations

import dataclasses
import math

import numpy as np

from zarvik.core.airpath import kernel as k
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
from zarvik.core.cooling import cooler as cooling

SCALE = 0.035  # 12 psi is said for 0.8 bar: rounding on a gauge is no failure; common practice
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
    big = boost > case.system.boost.full
    power, at = case.power_with(boost), case.system.target.speed
    most = case.most_boost
    if not big:
        # The boost that is made meets the bottom end, not the one that is asked for.
        if most.closure.solved and most.boost > 1.02 * max(boost, 1e4):
            return _crept(most, trusted)
        made = min(most.boost, boost)
    else:
        made = min(case.made_with(boost)[1], boost)
    margin = _room(made if made == made else boost, trusted)
    # What was asked for and is not made is only a warning.
    asked = _room(boost, trusted)
    state = graded(margin + SCALE, BOTTOM_END_ROOM + SCALE)
    short = made == made and made < 0.95 * boost - 2e3
    if short and state == HOLDS and asked < 0.0:
        state = TIGHT
    safe = math.floor(round((1.0 - BOTTOM_END_ROOM) * trusted / 5000.0, 6)) * 5000.0
    entry = "=brief.big_run_boost" if big else "=brief.target_boost"
    return Verdict(
        id, title, state, margin,
        say(("{made} are made where {boost} are asked for, of {trusted}" if short else
             "{boost} of {trusted}")
            + (", {power} at {speed}" if power == power else ""),
            boost=Figure(boost, "pressure_gauge", entry),
            trusted=Figure(trusted, "pressure_gauge", "=engine.trusted_boost"),
            power=Figure(power, "power", f"{id}_power", at), speed=revs(at),
            **({"made": Figure(made, "pressure_gauge", f"{id}_boost", at)} if short else {})),
        say("Stay 7 % under it: {safe}", safe=Figure(safe, "pressure_gauge"))
        if state != HOLDS else None,
        (Change(place, safe),) if state != HOLDS and safe < boost else (),
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


def _larger_core(case: Case, good: float) -> tuple[Sentence, tuple[Change, ...]]:
    """How much more of the same core, in steps of 10 mm of its width, brings the charge to `good` K."""
    cooler = case.system.cooler
    assert cooler is not None
    for share in (1.1, 1.2, 1.35, 1.5, 1.75, 2.0):
        more = dataclasses.replace(
            cooler, rated_charge=cooler.rated_charge * share,
            rated_cooling=cooler.rated_cooling * share, face_area=cooler.face_area * share,
        )  # fmt: skip
        density = case.system.site.pressure / (case.solver.gas[0] * case.system.site.temperature)
        packed = cooling.pack(more, road_speed=case.system.road_speed, air_density=density)
        raw = case.solver.with_cooler(packed).raw(
            np.array([case.system.target.speed]), start=case.start
        )
        if raw.solved[0] and raw.states[0, k.T_CHARGE] <= good:
            return (
                say("A core of {share} times the face, of the same make, brings it to {good}",
                    share=f"{share:g}", good=Figure(good, "temperature")),
                (Change("cooler.scale", share),),
            )  # fmt: skip
    return (
        say("A larger core alone does not bring it to {good} on this day: more air through it (a duct, "
            "a fan), less pressure ratio, a more efficient compressor, or water",
            good=Figure(good, "temperature")),
        (),
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
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != HOLDS and case.system.cooler is None:
        cure = say("Fit a charge cooler: {good} is comfortable", good=Figure(good, "temperature"))
        changes = (Change("cooler.fitted", 1.0),)
    elif state != HOLDS:
        cure, changes = case.cure("charge_temperature", state, lambda: _larger_core(case, good))
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
