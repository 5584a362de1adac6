"""What the builder has for it: money, evenings, machines, parts that are there already."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

FIT, WELD, BEND, MACHINE = "fit", "weld", "bend", "machine"  # kinds of work
WORKS = (FIT, WELD, BEND, MACHINE)
WEEK = 7.0  # days


@dataclass(frozen=True)
class Rate:
    """A line of the catalogue: `price` in money and `hours` of work for what its key says, `days` until it is here, and
    the kind of `work`."""

    price: float
    hours: float
    days: float = 0.0
    work: str = FIT


@dataclass(frozen=True)
class Item:
    """A line of the bill: what it is of (`key`), its `title`, how much of it in words, `money`, the builder's own
    `hours`, and `days` until it is here."""

    key: str
    title: str
    money: float
    hours: float
    days: float = 0.0


@dataclass(frozen=True)
class Cost:
    """What a build costs: `money`, `hours` of the builder's own work, and the longest wait in `days`."""

    money: float = 0.0
    hours: float = 0.0
    days: float = 0.0

    def weeks(self, hours_a_week: float) -> float:
        """Weeks until it stands, with `hours_a_week` (a number): the longest wait, for the work is made round the
        parts, and then the work."""
        work = self.hours / hours_a_week if hours_a_week > 0.0 else math.inf if self.hours > 0.0 else 0.0
        return self.days / WEEK + work


@dataclass(frozen=True, kw_only=True)
class Resources:
    """Money, time and workshop of a build.

    `rates`: catalogue by key. `turbo_price`: of one in money, 0 where the catalogue says it by size; `turbo_days`:
    until it is here, nan where the catalogue says it. `other`: what is another one than comes with it, `housing` and
    `throttle`. `core_volume` m3. `there`: keys of what is there already and costs nothing. `given_out`: kinds of work
    that a shop does, at `shop_rate` money an hour, `shop_days` away. `hours_a_week` of the builder. `budget` and
    `weeks`: what there is of both, `turbo_budget`: what of it may go into turbos; 0 where it is not counted.
    """

    rates: Mapping[str, Rate] = field(default_factory=dict, repr=False)
    turbo_price: float = 0.0
    turbo_days: float = math.nan
    other: frozenset[str] = frozenset()
    core_volume: float = 0.0
    there: frozenset[str] = frozenset()
    given_out: frozenset[str] = frozenset()
    shop_rate: float = 0.0
    shop_days: float = 0.0
    hours_a_week: float = 10.0
    budget: float = 0.0
    weeks: float = 0.0
    turbo_budget: float = 0.0

    def item(self, key: str, title: str, rate: str, count: float = 1.0, *, price: float | None = None) -> Item:
        """A line of the bill under a `key` with a `title`: `count` (a number) of what `rate` names (its key), at another
        `price` each (money) where the size makes it; work that is given out costs money instead of hours."""
        found = self.rates.get(rate, Rate(0.0, 0.0))
        money, hours, days = count * (found.price if price is None else price), count * found.hours, found.days
        if found.work in self.given_out and hours > 0.0:
            money, hours, days = money + hours * self.shop_rate, 0.0, max(days, self.shop_days)
        return Item(key, title, money, hours, days)
