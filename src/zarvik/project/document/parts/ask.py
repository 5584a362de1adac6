"""What a search is asked: what may be another one, what is there already, limits, and what matters."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, Day, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

FREE, KEPT, THERE, OTHER = "free", "kept", "there", "other"
# What can be in the shop already, by the keys of the bill
THINGS = ("turbo", "gate", "cooler", "hot_pipe", "cold_pipe", "exhaust", "intake", "manifold", "blower")
_FREE = (FREE, "free")
_KEPT = (KEPT, "as it is")
_THERE = (THERE, "is there")
NOTHING, SOME, MUCH = "nothing", "some", "much"
WEIGHTS = {NOTHING: 0.0, SOME: 1.0, MUCH: 3.0}
_MATTERS = ((NOTHING, "not at all"), (SOME, "some"), (MUCH, "most"))


def _size(title: str, help: str = "") -> Choice:
    return Choice(title, lambda: (_FREE, _KEPT, _THERE), help)


def _way(title: str, help: str = "") -> Choice:
    return Choice(title, lambda: (_FREE, _KEPT), help)


def _changed(title: str, help: str) -> Choice:
    return Choice(title, lambda: (_FREE, _KEPT, (OTHER, "is another")), help)


def _part(title: str) -> Choice:
    return Choice(title, lambda: (_KEPT, _THERE))


def _matters(title: str, help: str) -> Choice:
    return Choice(title, lambda: _MATTERS, help)


_MONEY = QuantitySpec(
    kind="money", low="0 €", high="10000000 €", unit="€", title="Money for the build", help="By the catalogue; 0 where it is not counted"
)
_WEEKS = QuantitySpec(
    kind="weeks",
    low="0 weeks",
    high="520 weeks",
    unit="weeks",
    title="Weeks for the build",
    help="0: between the day it begins and the one it has to run on, where both are said",
)
_MOUTH = QuantitySpec(
    kind="velocity",
    low="0 m/s",
    high="500 m/s",
    unit="m/s",
    title="Gas speed at the mouth",
    help="At the most, for the noise of the flow: 100 to 130 m/s for a quiet car (common practice); 0 for any",
)


class Ask(Part):
    """What the search of whole designs is asked."""

    turbo: Annotated[str, _size("Turbo")] = FREE
    count: Annotated[str, _way("One or two turbos")] = KEPT
    housing: Annotated[str, _changed("Turbine housing", "Another one than it came with is paid for")] = FREE
    gate: Annotated[str, _size("Wastegate", "Its size and how many")] = FREE
    hot_pipe: Annotated[str, _size("Hot charge pipe")] = KEPT
    cold_pipe: Annotated[str, _size("Cold charge pipe")] = KEPT
    exhaust: Annotated[str, _size("Exhaust")] = KEPT
    cooler: Annotated[str, _size("Cooler core")] = KEPT
    throttle: Annotated[str, _changed("Throttle", "Another one than the engine came with is paid for")] = KEPT
    boost: Annotated[str, _way("Boost")] = FREE
    hold: Annotated[str, _way("Holding the boost back", "From which engine speed on the control lets it in")] = FREE
    pulley: Annotated[str, _way("Pulley of the blower")] = FREE
    intake: Annotated[str, _part("Intake")] = KEPT
    manifold: Annotated[str, _part("Manifold")] = KEPT
    blower: Annotated[str, _part("Blower")] = KEPT
    money: Annotated[Quantity, _MONEY] = _MONEY("0 €")
    weeks: Annotated[Quantity, _WEEKS] = _WEEKS("0 weeks")
    begins: Annotated[str, Day("Begins on", help="Day on which work and orders begin")] = ""
    mouth_speed: Annotated[Quantity, _MOUTH] = _MOUTH("0 m/s")
    spool: Annotated[str, _matters("Early boost", "Engine speed from which the full boost stands")] = SOME
    top: Annotated[str, _matters("Power to spare", "Over the target, up to a tenth")] = SOME
    room: Annotated[str, _matters("Room to limits", "Surge, choke, wheel speed, gate: the least of them")] = SOME
    spend: Annotated[str, _matters("Little money", "The whole bill")] = SOME
    haste: Annotated[str, _matters("Few weeks", "The longest wait and the hours of work")] = SOME
