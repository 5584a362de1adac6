"""Hoses as somebody put them on: what each side of the diaphragm sees with the solenoid without current and with it, and what
is wrong with them.

A port with nothing on it is open to the air. A three-port solenoid without current leads from its first to its second port, with
current from its second to its third; a four-port one without current leads 1 to 2 and 4 to 3, with current 1 to 4 and 2 to 3.
"""

from __future__ import annotations

import dataclasses
import string
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from zarvik.core.wastegate.actuator import COMPRESSOR, FOUR, MOST_DUTY, NONE, PLENUM, THREE, Actuator

IN, OUT, VENT, OTHER, LOWER, UPPER, AIR, CAP = "in", "out", "vent", "other", "lower", "upper", "open", "cap"
SOURCES = (COMPRESSOR, PLENUM)
SOLENOID = {NONE: (), THREE: (IN, OUT, VENT), FOUR: (IN, OUT, VENT, OTHER)}
_LINKS = {
    (NONE, False): (),
    (NONE, True): (),
    (THREE, False): ((IN, OUT),),
    (THREE, True): ((OUT, VENT),),
    (FOUR, False): ((IN, OUT), (OTHER, VENT)),
    (FOUR, True): ((IN, OTHER), (OUT, VENT)),
}
# What a side of the diaphragm sees
BOOST, OPEN, BLEEDS, SEALED = "boost", "open", "bleeds", "sealed"
# What is wrong, the worst first
BRIDGE, UNHELD, HELD_SHUT, BLEEDING, HALF, MISSING, SAME, RING, IDLE = (
    "bridge",
    "unheld",
    "held_shut",
    "bleeding",
    "half",
    "missing",
    "same",
    "ring",
    "idle",
)
ORDER = (BRIDGE, UNHELD, HELD_SHUT, BLEEDING, HALF, MISSING, SAME, RING, IDLE)
# With these the boost is not what somebody believes; the others cost a hose or the use of the solenoid.
GRAVE = (BRIDGE, UNHELD, HELD_SHUT, BLEEDING, HALF)


@dataclass(frozen=True)
class HoseConnection:
    """A hose by its `letter` from one port to another, each one of "compressor", "plenum"; "in", "out", "vent", "other" of the
    solenoid; "lower", "upper" of the gate; "open" for an end in the air, "cap" for one that is plugged; empty where nobody said
    it, which leaves it open."""

    letter: str
    begin: str
    end: str


@dataclass(frozen=True)
class DiaphragmPressures:
    """What the side that opens the gate sees (`lower`) and the one that shuts it (`upper`): "boost", "open", "bleeds" (boost that
    has a way into the open), "sealed"; the `source` of what reaches it, empty for none; whether compressor and plenum are
    joined by it (`bridged`)."""

    lower: str
    upper: str
    source: str
    bridged: bool


@dataclass(frozen=True)
class Wrong:
    """Something wrong of a `kind`, with the `letters` of the hoses and the `port` that it is about."""

    kind: str
    letters: tuple[str, ...] = ()
    port: str = ""


def hoses_of_pairs(ends: Iterable[tuple[str, str]]) -> tuple[HoseConnection, ...]:
    """Hoses from pairs of ends, lettered in their order; pairs of which nothing is said are left out."""
    return tuple(
        HoseConnection(letter, begin, end) for letter, (begin, end) in zip(string.ascii_uppercase, ends, strict=False) if begin or end
    )


class _Groups:
    """Ports that air gets between."""

    def __init__(self) -> None:
        self.of: dict[str, str] = {}

    def root(self, port: str) -> str:
        """The port that stands for all that are joined to one."""
        while self.of.setdefault(port, port) != port:
            port = self.of[port]
        return port

    def join(self, one: str, two: str) -> bool:
        """Join two; False where they were joined already."""
        a, b = self.root(one), self.root(two)
        self.of[a] = b
        return a != b


def _real(port: str) -> bool:
    return port not in ("", AIR, CAP)


def diaphragm_pressures(hoses: Sequence[HoseConnection], control: str, on: bool) -> DiaphragmPressures:
    """What the gate sees through `hoses` with a solenoid of a kind ("none", "three", "four") that is `on` or not."""
    groups, open_at, touched = _Groups(), set(), set()
    for hose in hoses:
        ends = [e for e in (hose.begin, hose.end) if _real(e)]
        touched.update(ends)
        if len(ends) == 2:
            groups.join(*ends)
        elif ends and CAP not in (hose.begin, hose.end):
            open_at.add(ends[0])
    open_at.update(p for p in (LOWER, UPPER, *SOLENOID[control]) if p not in touched)
    for one, two in _LINKS[control, on]:
        groups.join(one, two)

    def side(port: str) -> tuple[str, str]:
        root = groups.root(port)
        source = next((s for s in SOURCES if groups.root(s) == root), "")
        vented = any(groups.root(p) == root for p in open_at)
        return (BLEEDS if vented else BOOST) if source else OPEN if vented else SEALED, source

    (lower, below), (upper, above) = side(LOWER), side(UPPER)
    bridged = groups.root(COMPRESSOR) == groups.root(PLENUM)
    return DiaphragmPressures(lower, upper, below or above, bridged)


def pressures_off_and_on(hoses: Sequence[HoseConnection], control: str) -> tuple[DiaphragmPressures, DiaphragmPressures]:
    """What the gate sees through `hoses` without current and with it. What is shut in with current keeps what it had without."""
    off, on = diaphragm_pressures(hoses, control, False), diaphragm_pressures(hoses, control, True)
    return off, dataclasses.replace(
        on, lower=off.lower if on.lower == SEALED else on.lower, upper=off.upper if on.upper == SEALED else on.upper
    )


def hose_faults(hoses: Sequence[HoseConnection], control: str) -> tuple[Wrong, ...]:
    """What is wrong with `hoses` on a solenoid of a kind, the worst first; nothing without hoses."""
    if not hoses:
        return ()
    found = []
    groups = _Groups()
    ports = (*SOURCES, LOWER, UPPER, *SOLENOID[control])
    for hose in hoses:
        if not (hose.begin and hose.end):
            found.append(Wrong(HALF, (hose.letter,)))
        found += [Wrong(MISSING, (hose.letter,), p) for p in dict.fromkeys((hose.begin, hose.end)) if _real(p) and p not in ports]
        if hose.begin == hose.end and _real(hose.begin):
            found.append(Wrong(SAME, (hose.letter,), hose.begin))
        elif _real(hose.begin) and _real(hose.end):
            around = all(e in SOLENOID[control] for e in (hose.begin, hose.end))
            if not groups.join(hose.begin, hose.end) or around:
                found.append(Wrong(RING, (hose.letter,)))
    off, on = pressures_off_and_on(hoses, control)
    if off.bridged or on.bridged:
        found.append(Wrong(BRIDGE))
    if off.lower in (OPEN, SEALED):
        found.append(Wrong(UNHELD))
    if off.upper in (BOOST, BLEEDS):
        found.append(Wrong(HELD_SHUT))
    if BLEEDS in (off.lower, off.upper, on.lower, on.upper):
        found.append(Wrong(BLEEDING))
    if control != NONE and (off.lower, off.upper) == (on.lower, on.upper):
        found.append(Wrong(IDLE))
    return tuple(sorted(found, key=lambda w: ORDER.index(w.kind)))


def as_moved(actuator: Actuator, sees: DiaphragmPressures) -> Actuator:
    """The `actuator` as the hoses leave it when it `sees` something. What bleeds is taken as lost below the diaphragm and as whole
    above it: the side of caution."""
    below, above = sees.lower == BOOST, sees.upper in (BOOST, BLEEDS)
    plain = dataclasses.replace(actuator, control=NONE, duty=0.0, off="", reference=sees.source or actuator.reference)
    if below and not above:
        return plain
    if above and not below:
        return dataclasses.replace(plain, control=FOUR, duty=MOST_DUTY, off="lower")
    # The same on both sides moves nothing, like nothing on either.
    return dataclasses.replace(plain, off="signal")
