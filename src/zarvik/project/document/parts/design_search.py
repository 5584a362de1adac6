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
_KEPT = (KEPT, "present")
_THERE = (THERE, "owned")
NOTHING, SOME, MUCH = "nothing", "some", "much"
WEIGHTS = {NOTHING: 0.0, SOME: 1.0, MUCH: 3.0}
_MATTERS = ((NOTHING, "not allowed"), (SOME, "some"), (MUCH, "most"))


def _size(title: str, help: str = "") -> Choice:
    return Choice(title, lambda: (_FREE, _KEPT, _THERE), help)


def _way(title: str, help: str = "") -> Choice:
    return Choice(title, lambda: (_FREE, _KEPT), help)


def _changed(title: str, help: str) -> Choice:
    return Choice(title, lambda: (_FREE, _KEPT, (OTHER, "replaceable")), help)


def _part(title: str) -> Choice:
    return Choice(title, lambda: (_KEPT, _THERE))


def _matters(title: str, help: str) -> Choice:
    return Choice(title, lambda: _MATTERS, help)


_MONEY = QuantitySpec(
    kind="money", low="0 €", high="10000000 €", unit="€", title="Build budget", help="By catalogue prices", blank="no limit"
)
_WEEKS = QuantitySpec(
    kind="weeks",
    low="0 weeks",
    high="520 weeks",
    unit="weeks",
    title="Build time",
    help="Time from start to deadline is used if both are set",
    blank="from the dates",
)
_MOUTH = QuantitySpec(
    kind="velocity",
    low="0 m/s",
    high="500 m/s",
    unit="m/s",
    title="Gas speed at the tailpipe",
    help="Limit for flow noise: 100–130 m/s for a quiet car (common practice)",
    blank="no limit",
)


class DesignSearch(Part):
    """What the search of whole designs is asked."""

    turbo: Annotated[str, _size("Turbo")] = FREE
    count: Annotated[str, _way("Number of turbos")] = KEPT
    housing: Annotated[str, _changed("Turbine housing", "A different one must be paid for")] = FREE
    gate: Annotated[str, _size("Wastegate", "Size and number")] = FREE
    hot_pipe: Annotated[str, _size("Hot charge pipe")] = KEPT
    cold_pipe: Annotated[str, _size("Cold charge pipe")] = KEPT
    exhaust: Annotated[str, _size("Exhaust")] = KEPT
    cooler: Annotated[str, _size("Intercooler core")] = KEPT
    throttle: Annotated[str, _changed("Throttle", "A core other than the stock one must be paid for")] = KEPT
    boost: Annotated[str, _way("Boost")] = FREE
    hold: Annotated[str, _way("Delayed boost", "Engine speed from which the controller allows full boost")] = FREE
    pulley: Annotated[str, _way("Blower pulley")] = FREE
    intake: Annotated[str, _part("Intake")] = KEPT
    manifold: Annotated[str, _part("Manifold")] = KEPT
    blower: Annotated[str, _part("Blower")] = KEPT
    budget: Annotated[Quantity, _MONEY] = _MONEY("0 €")
    build_time: Annotated[Quantity, _WEEKS] = _WEEKS("0 weeks")
    start_date: Annotated[str, Day("Start date", help="First day of work and orders")] = ""
    tailpipe_speed: Annotated[Quantity, _MOUTH] = _MOUTH("0 m/s")
    quick_spool: Annotated[str, _matters("Early full boost", "Engine speed at full boost")] = SOME
    power_reserve: Annotated[str, _matters("Power reserve", "Above the target, up to 10 %")] = SOME
    margins: Annotated[str, _matters("Margins", "Smallest margin: surge, choke, speed, boost control")] = SOME
    low_cost: Annotated[str, _matters("Low cost", "Total cost")] = SOME
    short_build_time: Annotated[str, _matters("Short build time", "Longest delivery plus hours of work")] = SOME
