"""Does the blow-off valve pass what the compressor moves when the throttle shuts, and does it go where it may?"""

from __future__ import annotations

import numpy as np

from zarvik.core.blow_off.throttle_closing import greitzer, needed_area, spring_window
from zarvik.core.blow_off.valve import AIR, VALVES, BlowOff, diameter_of
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Filling, message, revs
from zarvik.core.limits.limits import BLOW_OFF, FAILS, MARGINAL
from zarvik.core.whole_build.build import Build

CHECK = Check("blow_off", "Blow-off valve", about="gate", limit=BLOW_OFF, breaks=True)


def check(case: Case) -> list[CheckResult]:
    """The valve against surge flow at the target; nothing for an engine without a throttle, with a blower, or a design that is only
    tried."""
    build = case.build
    valve = build.blow_off
    if valve is None or case.plain or not build.engine.fuel.spark or build.blower is not None:
        return []
    raw = case.solver.full_load
    at = raw.near(case.target.speed)
    if at is None:
        return []
    needed = needed_area(case.solver, raw.states[at])
    # A compressor that does not work has nothing to blow off.
    return [_judged(case, valve, needed, float(raw.speed[at]), raw.states[at])] if needed > 0.0 else []


def _judged(case: Case, valve: BlowOff, needed: float, speed: float, state: np.ndarray) -> CheckResult:
    """The `valve` where `needed` m2 are, for the `state` of the solver at `speed` rev/min."""
    size = diameter_of(needed)
    sold = next((d for d in VALVES if d >= size), VALVES[-1])
    figures: dict[str, Filling] = {
        "speed": revs(speed),
        "needed": Figure(size, "length", "blow_off_needed", speed),
        "b": Figure(greitzer(case.solver, state), "number", "greitzer", speed),
    }
    cure, changes = message("A valve of {size} or similar", size=Figure(sold, "length")), (Change("wastegate.blow_off", sold),)
    if valve.diameter <= 0.0:
        return CHECK.check_result(
            message(
                ("None fitted: the compressor surges when the throttle closes at {speed} (Greitzer's B {b}). {needed} is enough"), **figures
            ),
            state=MARGINAL,
            cure=cure,
            changes=changes,
        )
    figures["valve"] = Figure(valve.diameter, "length", "=wastegate.blow_off")
    margin = valve.area / needed - 1.0
    if valve.metered and valve.to == AIR:
        return CHECK.check_result(
            message(
                ("It vents air that the meter has counted: the mixture goes far too rich each time. {valve} fitted, {needed} needed"),
                **figures,
            ),
            state=FAILS,
            cure=message("Recirculate it into the intake behind the meter"),
            changes=(Change("wastegate.blow_off_outlet", "back"),),
            basis="Meter before the compressor; common practice, no source",
        )
    wrong = _wrong_spring(case.build, valve, figures)
    if wrong is not None:
        return wrong
    return CHECK.check_result(
        message("{valve} fitted, {needed} needed to pass the flow when the throttle closes at {speed} (Greitzer's B {b})", **figures),
        value=margin,
        cure=cure,
        changes=changes,
    )


def _wrong_spring(build: Build, valve: BlowOff, figures: dict[str, Filling]) -> CheckResult | None:
    """A spring that lets it stand open at idle, or keeps it shut; None for one between."""
    low, high = spring_window(max(build.boost.full, 1e4))
    if low <= valve.spring <= high:
        return None
    figures = figures | {
        "spring": Figure(valve.spring, "pressure_difference", "=wastegate.blow_off_pressure"),
        "low": Figure(low, "pressure_difference"),
        "high": Figure(high, "pressure_difference"),
    }
    return CHECK.check_result(
        message("Its spring opens at {spring}. At idle there is {low} across it, so it stays open", **figures)
        if valve.spring < low
        else message("Its spring opens at {spring}. A closed throttle gives {high} at most, so it stays closed", **figures),
        state=MARGINAL,
        cure=message("A spring between the two"),
        changes=(Change("wastegate.blow_off_pressure", 1e4 * round((low + min(high, low + 4e4)) / 2e4)),),
    )
