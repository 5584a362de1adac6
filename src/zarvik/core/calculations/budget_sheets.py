"""Sheets of what a build costs in money and weeks."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.budget.bill import bill, by_key, cost
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet, total
from zarvik.core.common.sentences import Figure, message
from zarvik.core.whole_build.build import Build

SOURCE = "Invented catalogue, with your own prices where entered"


def _money(build: Build, solver: Solver, point: Point) -> Sheet:
    groups = by_key(bill(build, build.resources)).values()
    parts = [(message(title), one.money, "") for title, one in groups]
    return total("bill", "Build cost", "M", "money", parts, SOURCE)


def _hours(build: Build, solver: Solver, point: Point) -> Sheet:
    groups = by_key(bill(build, build.resources)).values()
    parts = [(message(title), one.hours, "") for title, one in groups]
    return total("bill_hours", "Hours of work", "h", "work", parts, SOURCE)


def _days(build: Build, solver: Solver, point: Point) -> Sheet:
    groups = list(by_key(bill(build, build.resources)).values())
    lines = tuple(Line(f"d_{n}", message(title), Figure(one.days, "days")) for n, (title, one) in enumerate(groups, 1))
    most = max((one.days for _, one in groups), default=0.0)
    right = ", ".join(line.symbol for line in lines) or "0"
    return Sheet(
        key="bill_days", title="Longest delivery", result=Figure(most, "days"), relation=f"d = max({right})", lines=lines, source=SOURCE
    )


def _weeks(build: Build, solver: Solver, point: Point) -> Sheet:
    resources, one = build.resources, cost(bill(build, build.resources))
    if resources is None:
        raise KeyError("bill_weeks")
    return Sheet(
        key="bill_weeks",
        title="Build time",
        result=Figure(one.weeks(resources.hours_a_week), "weeks"),
        relation="t = d / 7 + h / w",
        lines=(
            Line("d", "days of the longest wait: the work is made round the parts", Figure(one.days, "days"), "bill_days"),
            Line("h", "work", Figure(one.hours, "work"), "bill_hours"),
            Line("w", "hours of a week", Figure(resources.hours_a_week, "work")),
        ),
        source=f"{SOURCE}; one after the other: common practice",
    )


SHEETS: dict[str, BuildMaker] = {"bill": _money, "bill_hours": _hours, "bill_days": _days, "bill_weeks": _weeks}
