"""Is the power there, and if not, what keeps it away?"""

from __future__ import annotations

import dataclasses

import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.threshold import NEARLY
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.knock import knock_margin, knocks
from zarvik.core.checks.mixture import MISFIRES
from zarvik.core.checks.smoke import injection
from zarvik.core.checks.wheel_of_each_turbo import too_large
from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.limits.limits import BOTTOM_END, FAILS, MARGINAL, OK, POWER, SMOKE

CHECK = Check("target", "Target power", about="pipes", limit=POWER)

RUNAWAY = "Only with runaway boost"
BESIDE = {
    "surge": "Only left of the surge line",
    "choke": "Only beyond the map, in choke",
    "overspeed": "Only above the maximum wheel speed",
}
KNOCKS = "Only with knock"
MISFIRED = "Not usable, the mixture misfires"
STEP = 500.0  # Pa, to which a suggested boost is rounded up

MISSING = {
    "heat": "Hot intake air costs most: at ambient temperature instead of {charge} it would be {gain} more.",
    "height": "Altitude costs most: at sea level the same boost gives {gain} more.",
    "back": "Back-pressure costs most: pumping takes {gain}.",
}
# Where the largest single thing is less than half of what is missing.
PART = {
    "heat": (
        "{missing} short. Hot intake air is the largest single loss, {gain} against ambient instead of "
        "{charge}. The rest is air: breathing, engine speed or boost."
    ),
    "height": "{missing} short. Altitude costs {gain} of it. The rest is air: breathing, engine speed or boost.",
    "back": ("{missing} short. Pumping against back-pressure takes {gain}. The rest is air: breathing, engine speed or boost."),
}
GAINS = {"heat": "gain_heat", "height": "gain_height", "back": "pumping_power"}
RESERVE = {**MISSING, "heat": "The largest reserve is intake temperature: at ambient instead of {charge} it would be {gain} more."}


def check(case: Case) -> list[CheckResult]:
    """The target power at its engine speed."""
    target, point = case.build.target, case.target
    if not point.closure.solved:
        return [
            CHECK.check_result(
                message("Not solved at {speed}: {reason}", speed=revs(target.speed), reason=point.closure.reason or ""),
                state=FAILS,
                margin=-1.0,
                basis="A point that does not balance is no result",
            )
        ]
    margin = point.power / target.power - 1.0
    state = POWER.state(margin)
    word = {FAILS: "Missed", MARGINAL: "Just reached", OK: "Reached"}[state]
    beside, depth = _beside_the_map(case)
    if beside and state != FAILS:
        state, word, margin = FAILS, beside, min(margin, -0.01 - depth)
    cause, gain = _what_costs_most(case)
    missing = target.power - point.power
    at = target.speed
    texts = RESERVE if state != FAILS else MISSING if gain > 0.5 * missing else PART
    reason = texts[cause]
    short = point.boost < NEARLY * point.wanted_boost - 1e3
    text = message(
        word,
        ": {power} of {wanted} at {speed}, with {boost} and {air} of air",
        ", target {asked}. " if short else ". ",
        reason,
        **({"asked": Figure(point.wanted_boost, "pressure_gauge", "asked_boost", at)} if short else {}),
        power=Figure(point.power, "power", "power", at),
        wanted=Figure(target.power, "power", "=goal.target_power"),
        speed=revs(at),
        boost=Figure(point.boost, "pressure_gauge", "boost", at),
        air=Figure(point.air, "mass_flow", "air", at),
        gain=Figure(gain, "power", GAINS[cause], at),
        missing=Figure(max(missing, 0.0), "power", "missing", at),
        charge=Figure(point.charge, "temperature", "charge", at),
    )
    fuel = case.build.engine.delivery and point.mixture > STARVED
    if fuel and state != OK:
        text = _little_fuel(case, word)
    cure, changes = case.cure("target", state, lambda: _more_fuel(case) if fuel else _more_boost(case))
    if beside:
        cure, changes = message("A compressor with this flow and pressure on its map"), ()
        if beside == RUNAWAY:
            cure = message("First a wastegate that holds the boost")
        elif beside == KNOCKS:
            cure = message("First stop the knock: less boost or compression, a cooler charge, more octane")
        elif beside == MISFIRED:
            cure = message("First a mixture that burns")
    return [CHECK.check_result(text, value=margin, cure=cure, changes=changes, about="target")]


STARVED = SMOKE.good + 0.15  # lambda above which a diesel could burn a good deal more


def _little_fuel(case: Case, word: str) -> Sentence:
    """A pump that gives less than the air could burn."""
    point, target = case.target, case.build.target
    given = injection(case.solver, point)
    return message(
        word,
        (
            ": {power} of {wanted} at {speed}. Fuel is short: the pump gives {given}, lambda is {mixture}. This "
            "air could burn {clean} cleanly"
        ),
        power=Figure(point.power, "power", "power", target.speed),
        wanted=Figure(target.power, "power", "=goal.target_power"),
        speed=revs(target.speed),
        given=Figure(given, "injection"),
        mixture=Figure(point.mixture, "factor", "lambda", target.speed),
        clean=Figure(given * point.mixture / SMOKE.good, "injection"),
    )


def _more_fuel(case: Case) -> tuple[Sentence | None, tuple[Change, ...]]:
    """The pump turned up until the power is there, as far as the air burns it clean."""
    wanted = case.build.target.power * (1.0 + POWER.good)
    engine = case.build.engine
    last: tuple[Solver, Point, float] | None = None
    for step in range(1, 61):
        factor = 1.0 + 0.05 * step
        rows = tuple((n, v * factor) for n, v in engine.delivery)
        turned = dataclasses.replace(engine, delivery=rows, leanest=max(engine.leanest, SMOKE.good))
        solver = prepare(dataclasses.replace(case.build, engine=turned))
        point = solver.at(case.build.target.speed)
        if not point.closure.solved or point.mixture < SMOKE.good + 1e-3:
            break
        last = solver, point, factor
        if point.power >= wanted:
            break
    if last is None:
        return message("More air first: with more fuel it would smoke"), ()
    solver, point, factor = last
    limited = engine.leanest >= SMOKE.good
    words = "Turn the pump up to {volume} per injection: {power}, lambda {mixture}"
    if not limited:
        words += "; with a boost-compensated limiter, or it smokes below"
    if point.power < wanted:
        words += "; more would smoke, add air first"
    return (
        message(
            words, volume=Figure(injection(solver, point), "injection"), power=Figure(point.power, "power"), mixture=f"{point.mixture:.2f}"
        ),
        (Change("engine.pump_by", factor), *(() if limited else (Change("engine.limiter", "boost"),))),
    )


def _beside_the_map(case: Case) -> tuple[str, float]:
    """Why the power at the target is none to count on, empty when it is, and by how much."""
    point, turbo, found = case.target, case.target.turbo, []
    if case.build.engine.fuel.spark and point.mixture > MISFIRES:
        found.append((MISFIRED, point.mixture - MISFIRES))
    if knocks(case.solver, point):
        found.append((KNOCKS, max(-knock_margin(case.solver, point), 0.0)))
    if turbo.regime == "no wastegate" and point.boost > 1.05 * point.wanted_boost + 2e3:
        found.append((RUNAWAY, point.boost / max(point.wanted_boost, 2e3) - 1.0))
    if case.build.blower is None and turbo.region in ("surge", "choke", "overspeed"):
        found.append((BESIDE[turbo.region], max(-min(turbo.surge, turbo.choke, turbo.overspeed), 0.0)))
    # The first is said; how far it is off is what is furthest off, or curing one thing would make it worse.
    return (found[0][0], max(depth for _, depth in found)) if found else ("", 0.0)


def _what_costs_most(case: Case) -> tuple[str, float]:
    """The largest single thing between this and more power, with its gain in W."""
    solver, point = case.solver, case.target
    speed = np.array([case.build.target.speed])
    ambient = case.build.site.temperature
    # Air goes with the root of charge temperature; a perfect cooler brings ambient.
    cooling = point.power * ((point.charge / ambient) ** 0.5 - 1.0)
    higher = np.array([STANDARD_ATMOSPHERE + case.build.boost.full])
    height = float(solver.at_pressure(speed, higher, start=case.start).power[0]) - point.power
    # Without the back-pressure above the plenum: pumping work, and the air that it keeps out.
    swept = case.build.engine.swept_flow(case.build.target.speed)
    back = max(point.pumping, 0.0) * swept
    found = {"heat": cooling, "height": height, "back": back}
    cause = max(found, key=lambda key: found[key])
    return cause, found[cause]


def _would_knock(case: Case, boost: float) -> bool:
    """Would the engine knock at the target with another full boost (Pa gauge), with as much retard as is usual?"""
    speed = np.array([case.build.target.speed])
    raw = case.solver.at_pressure(speed, np.array([case.build.site.pressure + boost]), start=case.start)
    return bool(raw.solved[0]) and knocks(case.solver, case.solver.point(raw, 0))


def _no_more_boost(case: Case, high: float, most: float, made: float) -> Sentence | None:
    """Why the highest boost `high` Pa that the bottom end leaves is no way out, where `most` W and a boost of `made` Pa come of it; None
    where it is one."""
    goal, low = case.build.target.power, case.build.boost.full
    trusted = Figure(case.build.engine.trusted_boost, "pressure_gauge")
    if made < NEARLY * high:
        return too_large(case) or message(
            "Boost is limited to {made} at {speed}: a smaller housing or turbine, or a less restrictive exhaust",
            made=Figure(max(made, 0.0), "pressure_gauge"),
            speed=revs(case.build.target.speed),
        )
    if case.target.power >= goal and most < goal * (1.0 + POWER.good):
        return message("The engine's boost limit ({trusted}) allows no more reserve", trusted=trusted)
    if most >= goal:
        return None
    if high > low + 4.0 * STEP and most > 1.003 * case.target.power:
        return message(
            "Even {boost}, 7 % below the engine's limit, gives only {power}: cool the charge or improve breathing",
            boost=Figure(high, "pressure_gauge"),
            power=Figure(most, "power"),
        )
    return message(
        ("The engine's boost limit ({trusted}) allows no more: cool the charge, improve breathing, or build the engine"), trusted=trusted
    )


def _more_boost(case: Case) -> tuple[Sentence | None, tuple[Change, ...]]:
    wanted = case.build.target.power * (1.0 + POWER.good)
    limit = case.build.engine.trusted_boost
    # As much as leaves the bottom end its room, in whole steps
    low = case.build.boost.full
    high = max(limit * (1.0 - BOTTOM_END.good) // STEP * STEP, low)
    most, made = case.made_with(high)
    why = _no_more_boost(case, high, most, made)
    if why is not None:
        return why, ()
    if most >= case.build.target.power:
        wanted = min(wanted, most)
    least = case.target.power
    # Power is nearly straight in boost: false position meets the step within a few solutions.
    for _ in range(8):
        if high - low < STEP:
            break
        share = min(max((wanted - least) / (most - least), 0.05), 0.95)
        middle = low + share * (high - low)
        power = case.power_with(middle)
        if power >= wanted:
            high, most = middle, power
        else:
            low, least = middle, power
        if 0.0 <= most - wanted < 1e-4 * wanted:
            break
    boost = round(-(-(high - 1.0) // STEP) * STEP)
    if _would_knock(case, boost):
        return message("More boost would knock on this fuel: cool the charge, more octane, or improve breathing"), ()
    return (
        message(
            "Raise boost to {boost}: {power} (engine limit {trusted})",
            boost=Figure(boost, "pressure_gauge"),
            power=Figure(case.power_with(boost), "power"),
            trusted=Figure(limit, "pressure_gauge"),
        ),
        (Change("boost.full", boost),),
    )
