"""What do spring and solenoid really hold, and what happens when a hose comes off?"""

from __future__ import annotations

import dataclasses

from zarvik.core.boost_control.held_boost import RUN_AWAY, GatePoint, duty_for, failures, gate_point_near, spring_for
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.wastegate_hoses import BLOW
from zarvik.core.common.sentences import Figure, Filling, Sentence, message, revs
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, SPRING, TO_DO
from zarvik.core.wastegate.actuator import FOUR, NONE, SPRINGS, THREE, Actuator

SPRING_CHECK = Check("spring", "Wastegate spring", about="gate", limit=SPRING, breaks=True)
HOSES_CHECK = Check("hoses", "Wastegate hose failure", about="gate", breaks=True)
SOLENOID_CHECK = Check("solenoid", "Solenoid ports", about="gate", breaks=True)
FLAP_CHECK = Check("flap", "Internal wastegate flap", about="gate", breaks=True)

# Hoses by what they join; the ends are numbered in the plan
HOSES = {
    "signal": "from the pressure source",
    "lower": "to the opening side of the wastegate",
    "upper": "to the closing side of the wastegate",
    "vent": "of the vent",
}


def check(case: Case) -> list[CheckResult]:
    """The spring against what is asked, and the worst of its hoses; nothing without a gate, with a blower, or for a design
    that is only tried."""
    actuator = case.build.actuator
    if actuator is None or case.plain or case.build.gate.area <= 0.0:
        return []
    own = _own_flap(actuator)
    solver, speed = case.solver, case.target.speed
    wanted = case.target.wanted_boost
    off = gate_point_near(solver, dataclasses.replace(actuator, duty=0.0), speed)
    if off is None:
        return own
    if not actuator.said:
        cure, changes = _spring(case, actuator, wanted) or (None, ())
        return [
            SPRING_CHECK.check_result(
                message(
                    "No spring chosen yet. One that opens at {spring} on the bench would hold {boost} at {speed}",
                    spring=Figure(actuator.spring, "pressure_gauge", "spring_guess"),
                    boost=Figure(off.boost, "pressure_gauge", "spring_off", speed),
                    speed=revs(speed),
                ),
                state=TO_DO,
                cure=cure,
                changes=changes,
            ),
            *own,
        ]
    check_results = [*own, _judged(case, actuator, off, wanted)]
    if actuator.unknown_ports:
        check_results.append(
            SOLENOID_CHECK.check_result(
                message(
                    "It is unknown which ports of this solenoid are connected. Connected wrongly, the wastegate gets no "
                    "pressure and boost runs away"
                ),
                state=TO_DO,
                cure=message(BLOW),
                basis="Makers number ports differently: common practice, no source. Overboost can break an engine",
            )
        )
    check_results += _hoses(case, actuator)
    return check_results


def _own_flap(actuator: Actuator) -> list[CheckResult]:
    """What becomes of the flap that the turbo came with; nothing where it is the gate, or nobody says how the turbo is."""
    if actuator.flap == "idle":
        return [
            FLAP_CHECK.check_result(
                message("The turbo has an internal flap, but the wastegate is external: the flap must not open by itself"),
                state=TO_DO,
                cure=message("Remove the rod, lock the lever and weld the flap closed; or use the flap alone"),
            )
        ]
    if actuator.flap == "missing":
        return [
            FLAP_CHECK.check_result(
                message("The wastegate type is internal flap, but this turbo has none: nothing would limit boost"),
                state=FAILS,
                cure=message("An external wastegate, or a turbine housing with a flap"),
            )
        ]
    return []


def _judged(case: Case, actuator: Actuator, off: GatePoint, wanted: float) -> CheckResult:
    solver, speed = case.solver, case.target.speed
    asked = Figure(wanted, "pressure_gauge", "asked_boost", speed)
    alone = Figure(off.boost, "pressure_gauge", "spring_off", speed)
    figures: dict[str, Filling] = {"alone": alone, "asked": asked, "speed": revs(speed)}
    top = case.build.engine.rev_limit
    end = gate_point_near(solver, dataclasses.replace(actuator, duty=0.0), top)
    more = ""
    if end is not None and abs(end.boost - off.boost) > 2e3:
        figures |= {"end": Figure(end.boost, "pressure_gauge", "spring_off", top), "limit": revs(top)}
        more = ", {end} at {limit}: exhaust pressure on the valve helps to open it"
    if actuator.control == NONE:
        apart = off.boost / max(wanted, 1e3) - 1.0
        text = message("The spring alone holds {alone} of {asked} at {speed}", more, **figures)
    else:
        full = gate_point_near(solver, dataclasses.replace(actuator, duty=1.0), speed)
        most = min(full.boost, RUN_AWAY) if full is not None else off.boost
        apart = max(off.boost / max(wanted, 1e3) - 1.0, 0.0) + min(most / max(wanted, 1e3) - 1.0, 0.0)
        figures["most"] = Figure(most, "pressure_gauge", "spring_on", speed)
        duty = duty_for(solver, actuator, speed, wanted)
        if duty == duty:
            figures["duty"] = Figure(duty, "ratio", "duty_wanted", speed)
            more += "; {asked} needs {duty} duty. Make the first start on the spring alone"
        text = message("The spring alone holds {alone}, the solenoid up to {most}; the target is {asked} at {speed}", more, **figures)
    state = SPRING.state(abs(apart))
    early = _too_early(case, actuator)
    if early is not None:
        figures |= {"early": Figure(early.boost, "pressure_gauge", "spring_off", early.speed), "at": revs(early.speed)}
        return SPRING_CHECK.check_result(
            message(
                "The spring alone holds {alone} of {asked} at {speed}",
                more,
                "; nothing delays the boost: {early} at {at} already",
                **figures,
            ),
            state=FAILS if state == FAILS else MARGINAL,
            value=abs(apart),
            cure=message("A solenoid in the hose can delay it; a spring cannot"),
            changes=(Change("wastegate.control", THREE),),
        )
    cure, changes = case.cure("spring", state, lambda: _spring(case, actuator, wanted) or (None, ()))
    return SPRING_CHECK.check_result(text, value=abs(apart), cure=cure, changes=changes)


def _too_early(case: Case, actuator: Actuator) -> GatePoint | None:
    """What stands below the speed until which the boost is to be held back, where it is clearly more than is asked there and nothing
    but a spring holds it."""
    boost = case.build.boost
    speed = 0.85 * boost.full_from
    if actuator.control != NONE or speed < case.build.engine.idle:
        return None
    held = gate_point_near(case.solver, actuator, speed)
    return held if held is not None and held.boost > float(boost.at(speed)) + 0.15 * boost.full else None


def spring_that_suits(case: Case, actuator: Actuator, wanted: float) -> float | None:
    """The spring that is sold (Pa, as springs are named here) which suits a `wanted` boost in Pa gauge: without a solenoid the nearest to
    what is asked; with one the weakest that reaches it with a tenth in hand. None where none does, or nothing is solved."""
    solver, speed = case.solver, case.target.speed
    near = solver.full_load.near(speed)
    if near is None:
        return None
    start = solver.full_load.solutions[near]
    # Four ports reach anything: a spring that asks for a third of the time still falls safely without current.
    bare = dataclasses.replace(actuator, duty={NONE: 0.0, THREE: 1.0, FOUR: FOUR_ON}[actuator.control])
    ideal = spring_for(solver, bare, speed, start, wanted if actuator.control == NONE else 1.1 * wanted)
    if not ideal > 0.0:
        return None
    if actuator.control == NONE:
        return min(SPRINGS, key=lambda s: abs(actuator.opens_at(s) - ideal))
    return next((s for s in SPRINGS if actuator.opens_at(s) >= ideal), SPRINGS[-1])


def _spring(case: Case, actuator: Actuator, wanted: float) -> tuple[Sentence, tuple[Change, ...]] | None:
    """The spring that suits, in words and as a step."""
    chosen = spring_that_suits(case, actuator, wanted)
    if chosen is None:
        return None
    if actuator.said and abs(actuator.opens_at(chosen) - actuator.spring) < 2e3:
        return message("No spring on sale comes closer: a solenoid, or the rod adjuster, makes up the rest"), ()
    changes = (Change("wastegate.spring", chosen), Change("wastegate.fully_open", chosen * actuator.full / actuator.spring))
    if actuator.control == NONE:
        words = (
            message("A spring, or a stack, sold for {spring}", spring=Figure(chosen, "pressure_gauge"))
            if actuator.by_boost
            else message("A spring, or a stack, that opens at {spring} on the bench", spring=Figure(chosen, "pressure_gauge"))
        )
    else:
        words = (
            message(
                "A spring sold for {spring}: the softest with which the solenoid reaches the target",
                spring=Figure(chosen, "pressure_gauge"),
            )
            if actuator.by_boost
            else message(
                "A spring that opens at {spring} on the bench: the softest with which the solenoid reaches the target",
                spring=Figure(chosen, "pressure_gauge"),
            )
        )
    return words, changes


def _hoses(case: Case, actuator: Actuator) -> list[CheckResult]:
    """What the worst hose does when it comes off."""
    solver, speed = case.solver, case.target.speed
    near = solver.full_load.near(speed)
    if near is None:
        return []
    found = [f for f in failures(solver, actuator, speed, solver.full_load.solutions[near]) if f.held is not None]
    if not found:
        return []
    worst = max(found, key=lambda f: f.held.boost if f.held is not None else 0.0)
    assert worst.held is not None
    trusted = case.build.engine.trusted_boost
    # Beyond what anybody looks at, a number would only seem to be one.
    boost = min(worst.held.boost, RUN_AWAY)
    runs = boost > trusted
    figures: dict[str, Filling] = {
        "hose": message(HOSES[worst.hose.key]),
        "trusted": Figure(trusted, "pressure_gauge", "=engine.trusted_boost"),
        "speed": revs(speed),
        "boost": Figure(boost, "pressure_gauge", f"off_{worst.hose.key}", speed),
    }
    text = (
        message(("If the hose {hose} comes off, nothing limits boost: past {boost} at {speed}. The engine's limit is {trusted}"), **figures)
        if worst.held.boost > RUN_AWAY
        else message("If the hose {hose} comes off, boost rises to {boost} at {speed}. The engine's limit is {trusted}", **figures)
        if runs
        else message(
            ("If any hose comes off, boost stays within the engine's limit: {boost} of {trusted} at {speed}, hose {hose}"), **figures
        )
    )
    return [
        HOSES_CHECK.check_result(
            text,
            state=MARGINAL if runs else OK,
            cure=message("A boost cut in the engine control, clamps at both ends, heat-rated hoses") if runs else None,
            basis="Balance of forces at the wastegate. Overboost can break an engine",
        )
    ]


FOUR_ON = 0.35
