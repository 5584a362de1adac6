"""What a design costs in money and hours, from a catalogue of an invented shop."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.airpath.system import System
from zarvik.core.sizes import INDUCER_SHARE, openings

HOURS_A_WEEK = 10.0  # that a builder gives to it; common practice, no source


@dataclass(frozen=True)
class Rate:
    """A line of the catalogue: `price` in money and `hours` for what its key says."""

    price: float
    hours: float


@dataclass(frozen=True)
class Cost:
    """What something costs: `money`, and `hours` of work."""

    money: float = 0.0
    hours: float = 0.0

    def __add__(self, other: Cost) -> Cost:
        return Cost(self.money + other.money, self.hours + other.hours)

    @property
    def weeks(self) -> float:
        """Weeks of the builder's evenings."""
        return self.hours / HOURS_A_WEEK


def _of(rate: Rate, count: float = 1.0) -> Cost:
    return Cost(rate.price * count, rate.hours * count)


def turbo_cost(system: System, rates: Mapping[str, Rate], price: float) -> Cost:
    """The turbos: each at its own `price` (a number, in the money of the catalogue), or by the size of its compressor where that is 0."""
    if price <= 0.0:
        tip = openings(float(system.turbo.chart.lines[-1].flow[-1]))[0] / INDUCER_SHARE
        price = rates["turbo"].price * (tip / 0.060) ** rates["turbo_growth"].price
    return Cost(price * system.turbo.count, rates["turbo"].hours * system.turbo.count)


def gate_cost(system: System, rates: Mapping[str, Rate]) -> Cost:
    """The wastegates, by their valve."""
    gate = system.gate
    if gate.area <= 0.0:
        return Cost()
    price = rates["gate"].price + rates["gate_mm"].price * max(1e3 * gate.diameter - 38.0, -20.0)
    return Cost(price * gate.count, rates["gate"].hours * gate.count)


def cooler_cost(volume: float, rates: Mapping[str, Rate]) -> Cost:
    """A core of so much `volume` in m3; nothing for none."""
    if volume <= 0.0:
        return Cost()
    price = rates["cooler"].price + rates["cooler_dm3"].price * (1e3 * volume - 8.0)
    return Cost(max(price, 0.4 * rates["cooler"].price), rates["cooler"].hours)


def pipes_cost(system: System, rates: Mapping[str, Rate]) -> Cost:
    """Tube, bends, welds and joints of every run, and the primaries."""
    total = Cost()
    for run in (INTAKE, HOT_PIPE, COLD_PIPE, MANIFOLD, EXHAUST):
        for e in system.runs[run]:
            mm = 1e3 * e.diameter
            if e.kind == "primaries":
                total += _of(rates["primary"], e.parallel)
            elif e.kind in ("bend", "crush", "mitre"):
                price = rates["bend"].price + rates["bend_mm"].price * (mm - 60.0)
                quarter = max(e.turn / (0.5 * math.pi), 0.5) * e.parallel
                total += Cost(max(price, 6.0) * quarter, rates["bend"].hours * e.parallel)
                total += _of(rates["weld"], 1.0 * e.parallel)
            elif e.kind in ("straight", "reducer"):
                price = rates["tube"].price + rates["tube_mm"].price * (mm - 60.0)
                total += Cost(max(price, 6.0) * e.length * e.parallel, rates["tube"].hours * e.parallel)
                total += _of(rates["weld"], 1.0 * e.parallel)
            elif e.kind == "joint":
                total += _of(rates["joint"], e.parallel)
    return total
