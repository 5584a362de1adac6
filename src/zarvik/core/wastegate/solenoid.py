"""Which port of a boost solenoid is which. Makers number them differently: blowing through the valve tells it.

A three-port valve has one port that is connected without power as well as with it: that one goes to the wastegate. Its other partner
without power takes the source of boost, the third is the vent: without power boost reaches the wastegate, with power the wastegate
vents. Hooked up any other way a power failure, or the valve at work, leaves the wastegate without pressure.
A four-port valve connects its ports in two pairs, and in two other pairs with power. Any port may take the source: port 1 here.
"""

from __future__ import annotations

from itertools import combinations, permutations

from zarvik.core.wastegate.actuator import FOUR, NONE, THREE

NAMED = "named"
ROLES = ("in", "out", "vent", "other")  # source, wastegate, vent, the shutting side of the wastegate
NAMES = ("source", "gate", "vent", "shut")


def _three() -> dict[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for off, on in permutations(combinations("123", 2), 2):
        common = next(iter(set(off) & set(on)))
        source, vent = (next(iter(set(pair) - {common})) for pair in (off, on))
        found["-".join(("".join(off), "".join(on)))] = (source, common, vent)
    return found


_PAIRS = (("12", "34"), ("13", "24"), ("14", "23"))


def _four() -> dict[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for off, on in permutations(_PAIRS, 2):
        partner = {pair[i]: pair[1 - i] for pair in off for i in (0, 1)}
        powered = {pair[i]: pair[1 - i] for pair in on for i in (0, 1)}
        out, other = partner["1"], powered["1"]
        vent = next(iter(set("1234") - {"1", out, other}))
        found[f"{'.'.join(off)}-{'.'.join(on)}"] = ("1", out, vent, other)
    return found


# Numbers of the ports in the order of `ROLES`, by what was found by blowing: connected without power - with power
PORTS: dict[str, dict[str, tuple[str, ...]]] = {NONE: {}, THREE: _three(), FOUR: _four()}


def numbers(control: str, found: str) -> tuple[str, ...]:
    """What is written beside each port, in the order of `ROLES` ("in", "out", "vent" and "other"), of a solenoid of a kind ("three",
    "four") by what was `found` by blowing; empty where nobody knows, or the kind does not fit."""
    if found == NAMED and control != NONE:
        return NAMES[:3] if control == THREE else NAMES
    return PORTS[control].get(found, ())


def role_of(port: str, written: tuple[str, ...]) -> str:
    """The role of a port that is entered by its place ("in" for port 1, "out" 2, "vent" 3, "other" 4) when this is `written` beside the
    roles; anything else stays as it is."""
    if port not in ROLES or not written or written[0] in NAMES:
        return port
    number = str(ROLES.index(port) + 1)
    return ROLES[written.index(number)] if number in written else port


def place_of(role: str, written: tuple[str, ...]) -> str:
    """The inverse of `role_of`."""
    if role not in ROLES or not written or written[0] in NAMES:
        return role
    return ROLES[int(written[ROLES.index(role)]) - 1] if ROLES.index(role) < len(written) else role
