"""Oil, fuel and breather that a solved design needs, in sizes that are sold."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator

from zarvik.core.checks.case import Case
from zarvik.core.checks.cooling import HOSES
from zarvik.core.checks.fluid_lines import DRAIN_BORES, RESTRICTORS, SIZES, density, highest_fuel_point
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.fluid_lines import oil
from zarvik.core.fluid_lines.crankcase_breather import WARM, blow_by, bore_for
from zarvik.core.fluid_lines.fuel import DUTY, injector_for
from zarvik.core.fluid_lines.lines import Lines, feed_speed, pump_delivery
from zarvik.core.limits.limits import CRANKCASE, DRAINS, FUEL_SPEED, OK, PUMPS
from zarvik.core.recommendations.recommendation import Recommendation

PUMP_SIZES = tuple(
    x * 1e-3 / 3600.0 for x in (95, 120, 155, 190, 255, 340, 450, 525)
)  # m3/s at 3 bar, as they are sold; common practice, no source
PUMP_RATED = 3e5  # Pa at which a pump's size is told, common practice, no source
WIDEST = 0.019  # m, of a hose on a valve cover; common practice, no source
LINES = (0.006, 0.008, 0.010, 0.0125, 0.016)  # m, bores of fuel line as they are sold; common practice, no source


SUPPLY = "supply"


def of_supply(case: Case) -> Iterator[Recommendation]:
    """Oil for each turbo and the way back, injectors, pump and line at the point that burns the most, and the hose of the crankcase. With a
    blower no oil, of a diesel no fuel: its pump is the engine's own."""
    if case.build.blower is None:
        yield from _oil(case.build.lines, case.build.turbo.count)
    if case.build.engine.fuel.spark:
        yield from _fuel(case)
    yield _breather(case)


def _breather(case: Case) -> Recommendation:
    """The hose that carries what comes past worn rings, as worn ones are found when it is too late to change the hose."""
    point, breather = case.hardest, dataclasses.replace(case.build.breather, bore=0.0)
    rest = {"air": point.air, "ambient": case.build.site.pressure, "inlet": point.stations["compressor_inlet"].pressure}
    size, several = float("nan"), breather.hoses
    # A wide hose does not go on a valve cover: rather two or three of those that do
    for several in range(max(breather.hoses, 1), 5):
        asked = bore_for(dataclasses.replace(breather, hoses=several), **rest, most=CRANKCASE.good)
        size = next((b for b in HOSES if b >= asked), float("nan"))
        if size <= WIDEST:
            break
    volume = blow_by(breather, point.air) * DRY_AIR_GAS_CONSTANT * WARM / case.build.site.pressure
    if size == size:
        return Recommendation(
            SUPPLY,
            "Breather",
            size,
            message(
                "{several}{bore} inside, to a catch can or the pipe behind the filter: {past} blow-by at {speed}",
                bore=Figure(size, "length"),
                several=f"{several} × " if several > 1 else "",
                past=Figure(volume, "gas_flow"),
                speed=revs(point.speed),
            ),
            several,
        )
    return Recommendation(
        SUPPLY, "Breather", size, message("Two hoses of {bore}, from both ends of the engine", bore=Figure(HOSES[-1], "length"))
    )


def _oil(lines: Lines, turbos: int) -> Iterator[Recommendation]:
    each = message(", for each turbo") if turbos > 1 else ""
    least, most = oil.WANTS[lines.bearings]
    nu = oil.viscosity(lines.oil_grade, lines.oil_temperature)
    wanted = 0.5 * (least + most)
    exact = oil.restrictor_for(wanted, lines.restrictor_length, lines.oil_pressure, nu)
    bore = min(RESTRICTORS, key=lambda d: abs(d - exact))
    flow = oil.feed_flow(bore, lines.restrictor_length, lines.oil_pressure, nu)
    yield Recommendation(
        SUPPLY,
        "Oil restrictor",
        bore,
        message(
            "{bore}, {long} long{each}: {flow} at {pressure}; the bearings need {least} to {most}",
            each=each,
            bore=Figure(bore, "length"),
            long=Figure(lines.restrictor_length, "length"),
            flow=Figure(flow, "liquid_flow"),
            pressure=Figure(lines.oil_pressure, "pressure_gauge"),
            least=Figure(least, "liquid_flow"),
            most=Figure(most, "liquid_flow"),
        ),
    )
    drain = next((d for d in DRAIN_BORES if DRAINS.state(oil.drain_flow(d, lines.drain_slope, nu) / flow - 1.0) == OK), float("nan"))
    if drain == drain:
        yield Recommendation(
            SUPPLY,
            "Oil drain",
            drain,
            message(
                "{bore} or wider{each}, sloping {fall} below horizontal all the way, ending above the oil in the sump",
                each=each,
                bore=Figure(drain, "length"),
                fall=Figure(lines.drain_slope, "angle"),
            ),
        )
    else:
        yield Recommendation(
            SUPPLY,
            "Oil drain",
            drain,
            message("Steeper than {fall}, or a scavenge pump: no hose on sale carries the foam", fall=Figure(lines.drain_slope, "angle")),
        )


def _injectors(each: float, count: int, rated_at: float, speed: float) -> Recommendation:
    """Those sold (`rated_at` Pa) that give `each` m3/s at `speed` rev/min, `count` of them."""
    size = next((s for s in SIZES if s >= each), float("nan"))
    words = (
        message(
            "{count} of {size} or more at {rated}: {duty} duty at {speed}",
            count=str(count),
            size=Figure(size, "injector_flow"),
            rated=Figure(rated_at, "pressure_gauge"),
            duty=Figure(DUTY * each / size, "ratio"),
            speed=revs(speed),
        )
        if size == size
        else message("{size} each: two per cylinder", size=Figure(each, "injector_flow"))
    )
    return Recommendation(SUPPLY, "Injectors", size, words)


def _fuel(case: Case) -> Iterator[Recommendation]:
    lines, engine = case.build.lines, case.build.engine
    point = highest_fuel_point(case)
    thick = density(engine.fuel.key)
    boost, count = max(point.boost, 0.0), lines.injectors or engine.cylinders
    rail = lines.fuel_pressure + (boost if lines.follows_boost else 0.0)
    flow = point.fuel / thick
    try:
        each = injector_for(
            fuel=point.fuel,
            count=count,
            rated_at=lines.injector_pressure,
            base=lines.fuel_pressure,
            boost=boost,
            follows=lines.follows_boost,
            density=thick,
        )
    except ValueError:
        yield Recommendation(
            SUPPLY,
            "Injectors",
            float("nan"),
            message(
                "Connect the regulator to the plenum: {boost} boost against {base} fuel pressure",
                boost=Figure(boost, "pressure_gauge"),
                base=Figure(lines.fuel_pressure, "pressure_gauge"),
            ),
        )
        return
    yield _injectors(each, count, lines.injector_pressure, point.speed)
    pump, several = _pump(lines, rail, flow)
    yield Recommendation(
        SUPPLY,
        "Fuel pump",
        several * pump,
        message(
            "{several}{size} or more (sold at {rated}): the engine uses {asked} with {rail} in the rail",
            several=f"{several} × " if several > 1 else "",
            size=Figure(pump, "fuel_flow"),
            rated=Figure(PUMP_RATED, "pressure_gauge"),
            asked=Figure(flow, "fuel_flow"),
            rail=Figure(rail, "pressure_gauge"),
        ),
    )
    line = next(
        (
            d
            for d in LINES
            if FUEL_SPEED.state(
                feed_speed(dataclasses.replace(lines, fuel_line_bore=d, pump_flow=several * pump, pump_pressure=PUMP_RATED), flow)
            )
            == OK
        ),
        LINES[-1],
    )
    yield Recommendation(SUPPLY, "Fuel line", line, message("{bore} inside, of fuel-resistant material", bore=Figure(line, "length")))


def _pump(lines: Lines, rail: float, flow: float) -> tuple[float, int]:
    """Size and number of pumps of one size that give `flow` m3/s at `rail` Pa with what has to be left: as few as will do."""
    for several in (1, 2, 3, 4):
        for size in PUMP_SIZES:
            gives = pump_delivery(dataclasses.replace(lines, pump_flow=several * size, pump_pressure=PUMP_RATED), rail)
            if PUMPS.state(gives / flow - 1.0) == OK:
                return size, several
    return PUMP_SIZES[-1], 5
