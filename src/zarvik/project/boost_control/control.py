"""What moves the gate of a document, told: curves over engine speed, hoses with their ports, what comes of each."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass

from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.blow_off.throttle_closing import simulate_lift_off, size_for, spring_window
from zarvik.core.blow_off.valve import BlowOff
from zarvik.core.boost_control.held_boost import RUN_AWAY, GatePoint, HoseFailure, Overshoot, curve, duty_for, failures, hoses, overshoot
from zarvik.core.checks import wastegate_hoses
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.wastegate.actuator import FOUR, NONE, THREE, Actuator
from zarvik.core.wastegate.hoses import hose_faults, hoses_of_pairs
from zarvik.core.wastegate.solenoid import ROLES
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure

PORTS = {
    "compressor": "compressor outlet",
    "plenum": "plenum",
    "lower": "wastegate, opening side",
    "upper": "wastegate, closing side",
    "open": "atmosphere, through a filter",
}
BLOW = "Ports unknown: blow through the solenoid before you connect it"


def port_name(actuator: Actuator, port: str) -> str:
    """A port in words, with what is written beside it on the solenoid of an `actuator`; "?" where nobody knows."""
    if port not in ROLES:
        return tr(PORTS[port])
    return tr_format("solenoid, port {0}", tr(port_mark(actuator, port)))


def port_mark(actuator: Actuator, port: str) -> str:
    """What is written beside a port of the solenoid, "?" where nobody knows."""
    at = ROLES.index(port)
    return actuator.ports[at] if at < len(actuator.ports) else "?"


LETTERS = "ABCD"
WHAT = {
    "runs": "above the engine's boost limit",
    "more": "above target, below the engine's boost limit",
    "falls": "boost falls: safe",
    "stays": "about unchanged",
}
RUNS, MORE, FALLS, STAYS = "runs", "more", "falls", "stays"


@dataclass(frozen=True)
class Line:
    """A hose of the plan: its `letter`, where it begins and ends in words, and what comes of it: `boost` Pa gauge when it is off
    (the vent: pinched), nan where nothing is found; "runs" past what the bottom end is trusted to, brings "more", "falls", or "stays"."""

    letter: str
    key: str
    begin: str
    end: str
    boost: float
    what: str


@dataclass(frozen=True, eq=False, kw_only=True)
class Control:
    """What the gate holds: points over engine speed on the spring `alone`, with what is set (`now`), and with all of the
    solenoid (`most`, empty without one); the `lines` of the hoses; the `overshoot`; the `duty` for the target (nan for none); what a
    foot that comes off does, with the blow-off valve and without (`relief`); what is wrong with the hoses as they are on the car
    (`plumbed`), or that nothing is, empty where nobody said them."""

    actuator: Actuator
    speed: float
    asked: float
    trusted: float
    alone: tuple[GatePoint, ...]
    now: tuple[GatePoint, ...]
    most: tuple[GatePoint, ...]
    lines: tuple[Line, ...]
    overshoot: Overshoot | None
    duty: float
    gates: int
    relief: tuple[Sentence, ...] = ()
    plumbed: tuple[Sentence, ...] = ()


def control(project: Project, progress: Progress = unwatched) -> Control:
    """What spring and solenoid of a document do. Raises Fault for one without a gate."""
    build = assemble(project)
    if build.actuator is None or build.gate.area <= 0.0:
        raise Fault(
            "A blower is controlled by its bypass: see the blower entries"
            if project.blower.fitted
            else "No wastegate: nothing limits the boost"
        )
    solver = prepare(build)
    raw = solver.full_load
    actuator = build.actuator
    alone = curve(solver, raw, dataclasses.replace(actuator, duty=0.0)).points
    progress(0.3)
    solenoid = actuator.control != NONE
    most = curve(solver, raw, dataclasses.replace(actuator, duty=1.0)).points if solenoid else ()
    progress(0.6)
    now = curve(solver, raw, actuator).points if solenoid and actuator.duty > 0.0 else alone
    progress(0.8)
    speed = build.target.speed
    asked = float(build.boost.at(speed))
    return Control(
        actuator=actuator,
        speed=speed,
        asked=asked,
        trusted=build.engine.trusted_boost,
        alone=alone,
        now=now,
        most=most,
        lines=_lines(solver, actuator, speed, asked),
        overshoot=overshoot(solver, actuator, project.goal.pedal_at.si),
        duty=duty_for(solver, actuator, speed, asked),
        gates=int(project.wastegate.count.si),
        relief=_relief(solver, build.blow_off, speed),
        plumbed=_plumbed(actuator),
    )


def _plumbed(actuator: Actuator) -> tuple[Sentence, ...]:
    if not actuator.plumbed:
        return ()
    if actuator.unknown_ports:
        return (message(BLOW),)
    wrong = hose_faults(hoses_of_pairs(actuator.plumbed), actuator.control)
    return tuple(wastegate_hoses.hose_fault_sentence(w, actuator) for w in wrong) or (message(wastegate_hoses.GOOD),)


def _relief(solver: Solver, valve: BlowOff | None, speed: float) -> tuple[Sentence, ...]:
    """What a blow-off `valve` does when the throttle shuts at an engine `speed` in rev/min; nothing for an engine without one."""
    raw = solver.full_load
    at = raw.near(speed)
    if valve is None or not solver.path.engine.fuel.spark or at is None:
        return ()
    here, state = Figure(float(raw.speed[at]), "rotation"), raw.states[at]
    bare = simulate_lift_off(solver, state, BlowOff(0.0))
    found = [
        message(
            ("Throttle closed at {speed} without a blow-off valve: flow reverses {count} times in half a second, up to {peak}"),
            speed=here,
            count=str(bare.back),
            peak=Figure(bare.peak - solver.path.site.pressure, "pressure_gauge"),
        )
        if bare.back
        else message("Throttle closed at {speed} without a blow-off valve: flow does not reverse", speed=here)
    ]
    if valve.diameter > 0.0:
        fitted = simulate_lift_off(solver, state, valve)
        size = Figure(valve.diameter, "length")
        if fitted.back > 1:
            found.append(message("With {size} the flow still reverses {count} times", size=size, count=str(fitted.back)))
        elif fitted.below > 0.0:
            found.append(message("With {size} it flutters for {moment}", size=size, moment=Figure(fitted.below, "time")))
        else:
            found.append(message("With {size} it never gets close", size=size))
    best = size_for(solver, state, valve)
    if best is not None:
        found.append(message("Smallest valve that prevents it: {size}", size=Figure(best, "length")))
    low, high = spring_window(max(solver.path.boost.full, 1e4))
    found.append(
        message(
            "Blow-off spring: above {low}, or it stays open at idle; well below {high}",
            low=Figure(low, "pressure_difference"),
            high=Figure(high, "pressure_difference"),
        )
    )
    return tuple(found)


def _lines(solver: Solver, actuator: Actuator, speed: float, asked: float) -> tuple[Line, ...]:
    near = solver.full_load.near(speed)
    if near is None:
        return tuple(
            Line(a, h.key, port_name(actuator, h.begin), port_name(actuator, h.end), math.nan, STAYS)
            for a, h in zip(LETTERS, hoses(actuator), strict=False)
        )
    start = solver.full_load.solutions[near]
    # With what is set, or where nothing is, with what would hold the target
    duty = actuator.duty
    if actuator.control != NONE and duty <= 0.0:
        wanted = duty_for(solver, actuator, speed, asked)
        duty = wanted if wanted == wanted else 0.5
    found: tuple[HoseFailure, ...] = failures(solver, dataclasses.replace(actuator, duty=duty), speed, start)
    trusted = solver.path.engine.trusted_boost
    lines = []
    for letter, one in zip(LETTERS, found, strict=False):
        boost = one.held.boost if one.held is not None else math.nan
        what = RUNS if not boost <= trusted else MORE if boost > 1.05 * asked else FALLS if boost < 0.95 * asked else STAYS
        lines.append(Line(letter, one.hose.key, port_name(actuator, one.hose.begin), port_name(actuator, one.hose.end), boost, what))
    return tuple(lines)


def steps(found: Control) -> tuple[Sentence, ...]:
    """How it is hooked up, in the order of the work."""
    a = found.actuator
    source = message("compressor outlet") if a.reference == "compressor" else message("plenum")
    found_steps = [
        message("Take the pressure from the {source} with its own hose: nothing else on it", source=source),
        message(
            "Heat- and oil-resistant hose, {bore} bore, short: {long}. Delay about {late}",
            bore=Figure(a.hose, "length"),
            long=Figure(a.long, "length"),
            late=Figure(found.overshoot.late if found.overshoot else math.nan, "time"),
        )
        if found.overshoot is not None
        else message(
            "Heat- and oil-resistant hose, {bore} bore, short: {long}", bore=Figure(a.hose, "length"), long=Figure(a.long, "length")
        ),
    ]
    if a.control == NONE:
        found_steps.append(message("Leave the closing side of the diaphragm open to the air"))
    else:
        found_steps.append(_blowing(a))
        found_steps.append(message("First start on the spring only: solenoid unpowered until the mixture is checked"))
        if a.control == FOUR:
            found_steps.append(message("With four ports boost itself can hold the wastegate closed: start low, go up in small steps"))
    if found.gates > 1:
        found_steps.append(message("Split each hose with a tee near the wastegates, both branches the same length"))
    found_steps.append(message("Clamp both ends of each hose. Keep hoses away from the exhaust. Set a boost cut in the engine control"))
    return tuple(found_steps)


def _blowing(a: Actuator) -> Sentence:
    """How the ports of its solenoid are found, or proved, by blowing."""
    if a.unknown_ports:
        return message("Blow through the solenoid before you connect it. Enter which ports are connected unpowered and at 12 V")
    one, two, three = (port_mark(a, role) for role in ("in", "out", "vent"))
    if a.control == THREE:
        return message(
            "Check the ports by blowing. Unpowered {one} and {two} are connected; powered {two} and {three}", one=one, two=two, three=three
        )
    return message(
        ("Check the ports by blowing. Unpowered {one} leads to {two} and {four} to {three}; powered {one} to {four} and {two} to {three}"),
        one=one,
        two=two,
        three=three,
        four=port_mark(a, "other"),
    )


def unsaid(found: Control, units: Mapping[str, str]) -> str:
    """That nobody has said the spring, and what stands in for it; empty where somebody has."""
    if found.actuator.said:
        return ""
    return tr_format(
        "No spring chosen yet: one that opens at {0} on the bench is assumed", figure(found.actuator.spring, "pressure_gauge", units)
    )


def held_boost(boost: float, units: Mapping[str, str]) -> str:
    """A boost in Pa gauge in the owner's unit; what nothing holds is not told any more closely."""
    if boost != boost:
        return tr("no limit")
    if boost > RUN_AWAY:
        return tr_format("over {0}", figure(RUN_AWAY, "pressure_gauge", units))
    return figure(boost, "pressure_gauge", units)


def cycles_text(count: float) -> str:
    """A number of heat cycles, rounded as roughly as it is known."""
    if count != count:
        return "–"
    digits = 10 ** max(len(str(int(count))) - 1, 0)
    return f"{round(count / digits) * digits:,.0f}".replace(",", "\u202f")
