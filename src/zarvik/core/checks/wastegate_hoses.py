"""Are the hoses of the gate on the car as they should be: loops, open ends, a reference that reaches nothing?"""

from __future__ import annotations

from zarvik.core.boost_control.held_boost import RUN_AWAY, gate_point_near, hoses
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Filling, Sentence, message, revs
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, TO_DO
from zarvik.core.wastegate.actuator import NONE, Actuator
from zarvik.core.wastegate.hoses import (
    BLEEDING,
    BRIDGE,
    GRAVE,
    HALF,
    HELD_SHUT,
    IDLE,
    MISSING,
    RING,
    SAME,
    UNHELD,
    Wrong,
    as_moved,
    hose_faults,
    hoses_of_pairs,
    pressures_off_and_on,
)
from zarvik.core.wastegate.solenoid import ROLES, place_of

CHECK = Check("plumbing", "Hoses as fitted", about="gate", breaks=True)

PORTS = {"compressor": "compressor", "plenum": "plenum", "lower": "wastegate, opening side", "upper": "wastegate, closing side"}
BLOW = "Blow through the solenoid unpowered, then powered, and enter which ports are connected"
_WORDS = {
    BRIDGE: "Hoses join compressor and plenum: air bypasses the throttle",
    UNHELD: "Unpowered, no boost reaches the opening side of the wastegate: its reference is open",
    HELD_SHUT: "Unpowered, boost reaches the closing side of the wastegate",
    BLEEDING: "The wastegate hose also has a way to atmosphere: it gets less than boost",
    HALF: "Hose {hoses} ends nowhere",
    MISSING: "Hose {hoses} goes to a port that this solenoid does not have: {port}",
    SAME: "Hose {hoses} begins and ends at the same port: {port}",
    RING: "Hose {hoses} closes a loop: it joins what is already joined, or bypasses the solenoid",
    IDLE: "The solenoid changes nothing: the wastegate gets the same, powered or not",
}

GOOD = "Boost reaches the wastegate; no loop, no open end"


def hose_fault_sentence(wrong: Wrong, actuator: Actuator) -> Sentence:
    """What is wrong with the hoses of an `actuator`, in a sentence."""
    return message(_WORDS[wrong.kind], hoses=", ".join(wrong.letters), port=port_words(wrong.port, actuator.ports))


def port_words(port: str, written: tuple[str, ...]) -> Sentence:
    """A port in words, with what is `written` beside it on a solenoid."""
    if port in ROLES:
        at = ROLES.index(port)
        return message("solenoid, port {number}", number=written[at] if at < len(written) else "?")
    return message(PORTS.get(port, "–"))


def check(case: Case) -> list[CheckResult]:
    """The hoses that somebody said, as they are joined; nothing where none are said, without a gate, or for a design that is only tried."""
    actuator = case.build.actuator
    if actuator is None or case.plain or not actuator.plumbed or case.build.gate.area <= 0.0:
        return []
    if actuator.unknown_ports:
        return [
            CHECK.check_result(
                message("The hoses cannot be checked: the connected ports of this solenoid are unknown"),
                state=TO_DO,
                cure=message(BLOW),
                basis="Connected ports",
            )
        ]
    pipes = hoses_of_pairs(actuator.plumbed)
    found = hose_faults(pipes, actuator.control)
    off, _ = pressures_off_and_on(pipes, actuator.control)
    speed = case.target.speed
    held = gate_point_near(case.solver, as_moved(actuator, off), speed)
    figures: dict[str, Filling] = {"speed": revs(speed)}
    if held is not None:
        figures["boost"] = Figure(min(held.boost, RUN_AWAY), "pressure_gauge", "plumbed_off", speed)
    runs = held is not None and held.boost > case.build.engine.trusted_boost
    grave = runs or any(w.kind in GRAVE for w in found)
    state = FAILS if grave else MARGINAL if found else OK
    then = (
        ""
        if held is None
        else (
            "; past {boost} at {speed} then"
            if held.boost > RUN_AWAY
            else "; {boost} at {speed} unpowered"
            if actuator.control != NONE
            else "; {boost} at {speed}"
        )
    )
    if found:
        first = hose_fault_sentence(found[0], actuator)
        more = [hose_fault_sentence(w, actuator) for w in found[1:3]]
        figures |= {"first": first} | {name: words for name, words in zip(("second", "third"), more, strict=False)}
        text = message("{first}" + "".join(f". {{{name}}}" for name in ("second", "third")[: len(more)]), then, **figures)
        cure, changes = message("Connect them as in the plan"), hoses_as_planned(actuator)
    else:
        text = message(GOOD, then, **figures)
        cure, changes = None, ()
    return [
        CHECK.check_result(
            text,
            state=state,
            cure=cure,
            changes=changes,
            basis="Connected ports; balance of forces at the wastegate. Overboost can break an engine",
        )
    ]


def hoses_as_planned(actuator: Actuator) -> tuple[Change, ...]:
    """Edits after which hoses A to D are as in the plan of the `actuator`: both ends of each, by keys of ports."""
    planned = [(place_of(h.begin, actuator.ports), place_of(h.end, actuator.ports)) for h in hoses(actuator)]
    planned += [("", "")] * (4 - len(planned))
    return tuple(
        Change(f"wastegate.hose_{letter}{end}", port)
        for letter, pair in zip("abcd", planned, strict=True)
        for end, port in zip(("", "_to"), pair, strict=True)
    )
