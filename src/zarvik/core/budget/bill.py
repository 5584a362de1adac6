"""The bill of a build: what each thing costs in money, hours and days, from a catalogue of an invented shop."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.budget.resources import Cost, Item, Resources
from zarvik.core.common.identity_cache import IdentityCache
from zarvik.core.ducts.element import Element
from zarvik.core.stock.sizes import INDUCER_SHARE, openings

RUNS = {INTAKE: "Intake", HOT_PIPE: "Hot charge pipe", COLD_PIPE: "Cold charge pipe", MANIFOLD: "Manifold", EXHAUST: "Exhaust"}


def bill(path: AirPath, resources: Resources | None) -> tuple[Item, ...]:
    """Every line of what the build of a `path` costs with its `resources`; nothing where nobody counts them. What is there already costs
    nothing."""
    if resources is None:
        return ()
    found: list[Item] = []
    if path.blower is None:
        found += _turbo(path, resources)
        found += _gate(path, resources)
    else:
        found.append(_blower(path, resources))
    if resources.core_volume > 0.0:
        price = resources.rates["cooler"].price + resources.rates["cooler_dm3"].price * (1e3 * resources.core_volume - 8.0)
        found.append(resources.item("cooler", "Intercooler", "cooler", price=max(price, 0.4 * resources.rates["cooler"].price)))
    for run, title in RUNS.items():
        found += _pipes(path, resources, run, title)
    return tuple(item for item in found if item.key not in resources.there)


def cost(items: Iterable[Item]) -> Cost:
    """The sum of a bill, with its longest wait."""
    items = tuple(items)
    return Cost(sum(i.money for i in items), sum(i.hours for i in items), max((i.days for i in items), default=0.0))


def by_key(items: Iterable[Item]) -> dict[str, tuple[str, Cost]]:
    """What each thing costs: title and sum by key, the dearest first."""
    groups: dict[str, list[Item]] = {}
    for item in items:
        groups.setdefault(item.key, []).append(item)
    order = sorted(groups.items(), key=lambda pair: -cost(pair[1]).money)
    return {key: (group[0].title, cost(group)) for key, group in order}


def _turbo(path: AirPath, resources: Resources) -> list[Item]:
    """Each turbo at its own price, or by the size of its compressor where that is not said."""
    price = resources.turbo_price
    if price <= 0.0:
        tip = openings(float(path.turbo.chart.lines[-1].flow[-1]))[0] / INDUCER_SHARE
        price = resources.rates["turbo"].price * (tip / 0.060) ** resources.rates["turbo_growth"].price
    count = float(path.turbo.count)
    item = resources.item("turbo", "Turbo", "turbo", count, price=price)
    if resources.turbo_days == resources.turbo_days:
        item = Item(item.key, item.title, item.money, item.hours, resources.turbo_days)
    found = [item]
    if "housing" in resources.other:
        found.append(resources.item("housing", "Another housing", "housing", count))
    return found


def _gate(path: AirPath, resources: Resources) -> list[Item]:
    gate = path.gate
    if gate.area <= 0.0:
        return []
    price = resources.rates["gate"].price + resources.rates["gate_mm"].price * max(1e3 * gate.diameter - 38.0, -20.0)
    return [resources.item("gate", "Wastegate", "gate", float(gate.count), price=price)]


def _blower(path: AirPath, resources: Resources) -> Item:
    blower = path.blower
    assert blower is not None
    litres = 1e3 * blower.displacement
    price = resources.rates["blower"].price + resources.rates["blower_litre"].price * (litres - 1.0)
    return resources.item("blower", "Blower and drive", "blower", price=max(price, 0.5 * resources.rates["blower"].price))


_PIPES: IdentityCache[tuple[Item, ...]] = IdentityCache(2 * len(RUNS))


def _pipes(path: AirPath, resources: Resources, run: str, title: str) -> tuple[Item, ...]:
    """Tube, bends, welds and joints of a run, and the primaries of a manifold."""
    elements = path.runs[run]
    return _PIPES.of((run, resources, *elements), lambda: tuple(_of_run(elements, resources, run, title)))


def _of_run(elements: Sequence[Element], resources: Resources, run: str, title: str) -> list[Item]:
    found: list[Item] = []
    rates = resources.rates
    cast = any(e.form == "cast" for e in elements)
    log = any(e.form == "log" for e in elements)
    for e in elements:
        mm, many = 1e3 * e.diameter, float(e.parallel)
        if e.form == "cast":
            # It is bolted on: its runners are no work.
            found.append(resources.item(run, title, "casting", many))
        elif e.kind == "primaries" and cast:
            continue
        elif e.kind == "primaries":
            found.append(resources.item(run, title, "stub" if log else "primary", many))
        elif e.kind == "crossover":
            # One pipe, whatever flows beside it: tube, a bend for each quarter turn, a weld at each of their ends
            quarters = max(math.ceil(e.turn / (0.5 * math.pi) - 1e-9), 1)
            price = rates["tube"].price + rates["tube_mm"].price * (mm - 60.0)
            bent = rates["bend"].price + rates["bend_mm"].price * (mm - 60.0)
            found.append(resources.item(run, title, "tube", price=max(price, 6.0) * e.length))
            found.append(resources.item(run, title, "bend", quarters, price=max(bent, 6.0)))
            found.append(resources.item(run, title, "weld", quarters + 1.0))
        elif e.kind in ("catalyst", "silencer"):
            found.append(resources.item(run, title, e.kind, many))
            found.append(resources.item(run, title, "weld", 2.0 * many))
        elif e.kind in ("bend", "crush", "mitre"):
            price = rates["bend"].price + rates["bend_mm"].price * (mm - 60.0)
            # A bend of less than 45 degrees is cut from one of 90.
            quarter = max(e.turn / (0.5 * math.pi), 0.5)
            found.append(resources.item(run, title, "bend", many, price=max(price, 6.0) * quarter))
            found.append(resources.item(run, title, "weld", many))
        elif e.kind in ("straight", "reducer"):
            price = rates["tube"].price + rates["tube_mm"].price * (mm - 60.0)
            # Its hours are those of a cut, whatever its length.
            found.append(resources.item(run, title, "tube", many, price=max(price, 6.0) * e.length))
            found.append(resources.item(run, title, "weld", many))
        elif e.kind == "joint":
            found.append(resources.item(run, title, "joint", many))
        elif e.kind == "throttle" and "throttle" in resources.other:
            found.append(resources.item("throttle", "Throttle", "throttle", many))
    return found
