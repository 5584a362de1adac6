"""Spring, solenoid and blow-off valve that a solved design needs."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

from zarvik.core.blow_off.throttle_closing import needed_area, size_for
from zarvik.core.blow_off.valve import VALVES, BlowOff, diameter_of
from zarvik.core.boost_control.held_boost import gate_point_near
from zarvik.core.checks.boost_control import spring_that_suits
from zarvik.core.checks.case import Case
from zarvik.core.common.sentences import Figure, message
from zarvik.core.recommendations.recommendation import Recommendation
from zarvik.core.wastegate.actuator import FOUR, NONE, THREE

GATE = "gate"
LITTLE = 0.3e5  # Pa gauge under which no gate is sprung; common practice, no source
KINDS = {
    NONE: "None: the spring alone holds the target",
    THREE: "Three ports, in the hose to the wastegate",
    FOUR: "Four ports, to both sides of the diaphragm: three do not reach the target with this spring",
}


def of_gate(case: Case) -> Iterator[Recommendation]:
    """Spring and solenoid of the gate, and the valve for a foot that comes off."""
    actuator = case.build.actuator
    if actuator is not None and case.build.gate.area > 0.0 and case.build.blower is None:
        yield from _spring(case)
    if case.build.blow_off is not None and case.build.engine.fuel.spark and case.build.blower is None:
        yield from _blow_off(case)


def _spring(case: Case) -> Iterator[Recommendation]:
    actuator, wanted, speed = case.build.actuator, case.target.wanted_boost, case.target.speed
    assert actuator is not None
    bare = dataclasses.replace(actuator, control=NONE, duty=0.0, said=False, plumbed=(), ports=())
    alone = spring_that_suits(case, bare, wanted)
    big = case.build.target.big_run
    highest = max(wanted, big)
    three = spring_that_suits(case, dataclasses.replace(bare, control=THREE), highest)
    steps = case.build.boost.full_from > case.build.engine.idle and case.build.boost.full_from > 1.05 * case.threshold
    kind = NONE if alone is not None and not steps and big <= 1.05 * wanted else THREE
    size = alone if kind == NONE else three
    if size is None:
        yield Recommendation(
            GATE,
            "Wastegate spring",
            math.nan,
            message(
                "No spring on sale is soft enough: exhaust pressure opens the valve by itself"
                if wanted < LITTLE
                else "Not available: the design does not reach the target boost"
            ),
        )
        return
    held = gate_point_near(
        case.solver, dataclasses.replace(bare, spring=bare.opens_at(size), full=bare.opens_at(size) * bare.full / bare.spring), speed
    )
    reached = gate_point_near(
        case.solver,
        dataclasses.replace(bare, control=THREE, duty=1.0, spring=bare.opens_at(size), full=bare.opens_at(size) * bare.full / bare.spring),
        speed,
    )
    if kind == THREE and reached is not None and reached.boost < highest:
        kind = FOUR
    words = message(
        "A spring sold for {spring}" if actuator.by_boost else "A spring that opens at {spring} on the bench",
        (": alone it holds {holds} at the target" if held is not None else ""),
        spring=Figure(size, "pressure_gauge"),
        holds=Figure(held.boost, "pressure_gauge") if held is not None else "",
    )
    yield Recommendation(GATE, "Wastegate spring", size, words)
    yield Recommendation(GATE, "Wastegate solenoid", math.nan, message("{kind}", kind=message(KINDS[kind])))


def _blow_off(case: Case) -> Iterator[Recommendation]:
    raw = case.solver.full_load
    at = raw.near(case.target.speed)
    if at is None:
        return
    valve = case.build.blow_off or BlowOff(VALVES[0])
    # It passes the flow at the surge line for as long as the throttle is shut, and the moment when it shuts.
    steady = diameter_of(needed_area(case.solver, raw.states[at]))
    first = size_for(case.solver, raw.states[at], valve)
    size = next((d for d in VALVES if first is not None and d >= max(first, steady) - 1e-9), None)
    if size is None:
        yield Recommendation(
            GATE,
            "Blow-off valve",
            math.nan,
            message("Two of {bore}: a single one on sale does not pass the flow", bore=Figure(VALVES[-1], "length")),
        )
        return
    back = (
        message("recirculated into the intake behind the meter")
        if valve.metered
        else message("to atmosphere, or back into the intake behind the filter")
    )
    yield Recommendation(GATE, "Blow-off valve", size, message("{bore} or wider, {where}", bore=Figure(size, "length"), where=back))
