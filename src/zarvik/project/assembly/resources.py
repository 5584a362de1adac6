"""Money, time and workshop of a document, and the invented catalogue."""

from __future__ import annotations

import csv
import dataclasses
import math
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from importlib import resources

from zarvik.core.budget.resources import WEEK, WORKS, Rate, Resources
from zarvik.core.common.identity_cache import FirstEqual
from zarvik.project.document import document as doc
from zarvik.project.document.parts.design_search import OTHER, THERE, THINGS
from zarvik.project.document.parts.workshop import OUT, OWN


@dataclass(frozen=True)
class Line:
    """A line of the catalogue: `title`, what it is said `per`, and its `rate`."""

    title: str
    per: str
    rate: Rate


@lru_cache(1)
def catalogue() -> dict[str, Line]:
    """The invented catalogue that ships with the program, by key."""
    text = (resources.files("zarvik.data") / "catalogue.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {
        row["key"]: Line(row["title"], row["per"], Rate(float(row["price"]), float(row["hours"]), float(row["days"]), row["work"]))
        for row in rows
    }


def rates_of(project: doc.Project) -> dict[str, Rate]:
    """The catalogue with what the owner says instead."""
    found = {key: line.rate for key, line in catalogue().items()}
    for price in project.workshop.prices:
        if price.id in found:
            found[price.id] = dataclasses.replace(found[price.id], price=price.price.si, hours=price.hours.si, days=price.days.si)
    return found


def weeks_of(project: doc.Project) -> float:
    """Weeks that there are: said, or between the days on which it begins and is wanted; 0 where neither is said."""
    ask = project.search
    if ask.build_time.si > 0.0 or not (ask.start_date and project.goal.ready_by):
        return ask.build_time.si
    between = date.fromisoformat(project.goal.ready_by) - date.fromisoformat(ask.start_date)
    # A day that has gone by leaves next to nothing.
    return max(between.days, 1) / WEEK


def _days(begins: str, here: str) -> float:
    """Days from one date to the other, none before it; nan where one is not said."""
    if not (begins and here):
        return math.nan
    return float(max((date.fromisoformat(here) - date.fromisoformat(begins)).days, 0))


_MEANS: FirstEqual[Resources] = FirstEqual()


def resources_of(project: doc.Project) -> Resources:
    """Money, time and workshop of a document."""
    ask, shop, fit = project.search, project.workshop, project.chosen.fit if project.chosen is not None else None
    core = project.intercooler
    volume = core.width.si * core.height.si * core.thickness.si if core.fitted and core.medium == "air" else 0.0
    other = set()
    if ask.housing == OTHER:
        other.add("housing")
    if ask.throttle == OTHER:
        other.add("throttle")
    return _MEANS.of(
        Resources(
            rates=rates_of(project),
            turbo_price=fit.price.si if fit is not None else 0.0,
            turbo_days=_days(ask.start_date, fit.here_by) if fit is not None else math.nan,
            other=frozenset(other),
            core_volume=volume,
            there=frozenset(key for key in THINGS if getattr(ask, key) == THERE),
            given_out=frozenset(key for key in WORKS if getattr(shop, key, OWN) == OUT),
            shop_rate=shop.hourly_rate.si,
            shop_days=shop.outsourced_days.si,
            hours_a_week=shop.hours.si,
            budget=ask.budget.si,
            weeks=weeks_of(project),
            turbo_budget=project.goal.budget.si,
        )
    )
