"""Oil to the turbo and back, and fuel at the point that asks for the most."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.fluid_lines import oil
from zarvik.core.fluid_lines.fuel import injector_for
from zarvik.core.fluid_lines.lines import DENSITIES, drain_capacity, fed, feed_speed, injected, pump_delivery
from zarvik.core.limits.limits import DRAINS, DUTY, FAILS, FUEL_SPEED, MARGINAL, OIL_FLOOD, OIL_SHORT, OK, PUMPS

OIL_FEED_CHECK = Check("oil_feed", "Turbo oil feed", about="joints:supply", breaks=True)
OIL_DRAIN_CHECK = Check("oil_drain", "Turbo oil drain", about="joints:supply", limit=DRAINS, breaks=True)
INJECTORS_CHECK = Check("injectors", "Injectors", about="joints:supply", limit=DUTY, breaks=True)
FUEL_PUMP_CHECK = Check("fuel_pump", "Fuel pump", about="joints:supply", limit=PUMPS, breaks=True)
FUEL_LINE_CHECK = Check("fuel_line", "Fuel line", about="joints:supply", limit=FUEL_SPEED, breaks=True)

SIZES = tuple(
    x * 1e-6 / 60.0 for x in (220, 270, 330, 380, 440, 550, 650, 750, 850, 1000, 1300, 1700, 2200, 3000)
)  # m3/s, as they are sold
DRAIN_BORES = (0.0127, 0.016, 0.019, 0.022, 0.025, 0.032)  # m, hose and tube as they are sold
RESTRICTORS = (0.0008, 0.0009, 0.001, 0.0012, 0.0015, 0.0018, 0.002, 0.0025)  # m, as they are drilled


def density(key: str) -> float:
    """kg/m3 of the fuel of a key (a sort of petrol, e85, methanol, diesel)."""
    return DENSITIES.get(key, DENSITIES["petrol"])


def highest_fuel_point(case: Case) -> Point:
    """The solved point that burns the most."""
    return max(case.solved, key=lambda p: p.fuel, default=case.target)


def check(case: Case) -> list[CheckResult]:
    """What is said of them; nothing of what nobody has said."""
    return [*_oil(case), *_fuel(case)]


def _oil(case: Case) -> list[CheckResult]:
    lines, found = case.build.lines, []
    if case.build.blower is not None:
        return []
    least, most = oil.WANTS[lines.bearings]
    flow = fed(lines)
    if flow > 0.0:
        short = OIL_SHORT.state(flow / least - 1.0)
        limit, value = (OIL_SHORT, flow / least - 1.0) if flow < least or short != OK else (OIL_FLOOD, flow / most)
        state = limit.state(value)
        wanted = 0.5 * (least + most)
        bore = oil.restrictor_for(
            wanted, lines.restrictor_length, lines.oil_pressure, oil.viscosity(lines.oil_grade, lines.oil_temperature)
        )
        sold = min(RESTRICTORS, key=lambda d: abs(d - bore))
        found.append(
            OIL_FEED_CHECK.check_result(
                message(
                    "{flow} through {bore}; its bearings need {least} to {most}",
                    flow=Figure(flow, "liquid_flow", "oil_fed"),
                    bore=Figure(lines.restrictor_bore, "length", "=fluid_lines.restrictor_bore"),
                    least=Figure(least, "liquid_flow", "oil_least"),
                    most=Figure(most, "liquid_flow", "oil_most"),
                ),
                state=state,
                value=value,
                cure=message("A {bore} restrictor", bore=Figure(sold, "length")),
                changes=(Change("fluid_lines.restrictor_bore", sold),),
                limit=limit,
            )
        )
    if lines.drain_bore > 0.0:
        carries = drain_capacity(lines)
        comes = flow or most
        room = carries / comes - 1.0
        state = DRAINS.state(room)
        words, changes = _drain_cure(case, comes)
        if not lines.drain_above:
            state = FAILS if state == FAILS else MARGINAL
        found.append(
            OIL_DRAIN_CHECK.check_result(
                message(
                    "The {bore} drain at {fall} carries {carries} of foam half full; {comes} arrives",
                    (". It ends below the oil: it stays full" if not lines.drain_above else ""),
                    bore=Figure(lines.drain_bore, "length", "=fluid_lines.drain_bore"),
                    fall=Figure(lines.drain_slope, "angle", "=fluid_lines.drain_slope"),
                    carries=Figure(carries, "liquid_flow", "oil_drained"),
                    comes=Figure(comes, "liquid_flow", "oil_fed" if flow else ""),
                ),
                state=state,
                value=room,
                cure=words,
                changes=changes,
            )
        )
    return found


def _drain_cure(case: Case, comes: float) -> tuple[Sentence, tuple[Change, ...]]:
    """A drain of a size that is sold and carries what comes (m3/s); steeper where none does."""
    lines = case.build.lines
    nu = oil.viscosity(lines.oil_grade, lines.oil_temperature)
    for bore in DRAIN_BORES:
        room = oil.drain_flow(bore, lines.drain_slope, nu) / comes - 1.0
        if bore > lines.drain_bore and DRAINS.state(room) == OK:
            return message("A {bore} drain, ending above the oil in the sump", bore=Figure(bore, "length")), (
                Change("fluid_lines.drain_bore", bore),
            )
    return message("Steeper: within 30° of straight down, 16 mm or more, above the oil in the sump"), ()


def _fuel(case: Case) -> list[CheckResult]:
    lines, engine = case.build.lines, case.build.engine
    if not engine.fuel.spark:
        return []
    point = highest_fuel_point(case)
    found = _injectors(case, point) if lines.injector_flow > 0.0 else []
    # Where nothing is injected there is no flow to judge a pump by.
    nothing = any(v.margin is None for v in found)
    return found if nothing or lines.pump_flow <= 0.0 else [*found, *_pump_and_line(case, point)]


def _injectors(case: Case, point: Point) -> list[CheckResult]:
    """How long they are open at `point`; those that would do."""
    lines, engine = case.build.lines, case.build.engine
    boost, thick = max(point.boost, 0.0), density(engine.fuel.key)
    try:
        spray = injected(lines, fuel=point.fuel, boost=boost, cylinders=engine.cylinders, density=thick)
    except ValueError:
        return [
            INJECTORS_CHECK.check_result(
                message(
                    "{boost} boost against {base} fuel pressure: nothing is injected",
                    boost=Figure(boost, "pressure_gauge", "boost", point.speed),
                    base=Figure(lines.fuel_pressure, "pressure_gauge", "=fluid_lines.fuel_pressure"),
                ),
                state=FAILS,
                cure=message("Connect the regulator to the plenum, or raise the fuel pressure"),
            )
        ]
    need = injector_for(
        fuel=point.fuel,
        count=lines.injectors or engine.cylinders,
        rated_at=lines.injector_pressure,
        base=lines.fuel_pressure,
        boost=boost,
        follows=lines.follows_boost,
        density=thick,
    )
    sold = next((s for s in SIZES if s >= need), SIZES[-1])
    return [
        INJECTORS_CHECK.check_result(
            message(
                "{duty} duty at {speed}, with {across} across them",
                duty=Figure(spray.duty, "ratio", "injector_duty", point.speed),
                speed=revs(point.speed),
                across=Figure(spray.across, "pressure_difference", "injector_across", point.speed),
            ),
            value=spray.duty,
            cure=message("Injectors of {size}", size=Figure(sold, "injector_flow")),
            changes=(Change("fluid_lines.injector_flow", sold),),
        )
    ]


def _pump_and_line(case: Case, point: Point) -> list[CheckResult]:
    """What the pump gives at the pressure of the rail, and how fast that goes through the line."""
    lines = case.build.lines
    rail = lines.fuel_pressure + (max(point.boost, 0.0) if lines.follows_boost else 0.0)
    flow = point.fuel / density(case.build.engine.fuel.key)
    speed = feed_speed(lines, flow)
    return [
        FUEL_PUMP_CHECK.check_result(
            message(
                "At {rail} it gives {gives}; the engine uses {asked} at {speed}",
                rail=Figure(rail, "pressure_gauge", "fuel_rail", point.speed),
                gives=Figure(pump_delivery(lines, rail), "fuel_flow", "pump_flow", point.speed),
                asked=Figure(flow, "fuel_flow", "fuel_volume", point.speed),
                speed=revs(point.speed),
            ),
            value=pump_delivery(lines, rail) / flow - 1.0,
            cure=message("A larger pump, or a second one; upgrade fuse and wiring too"),
        ),
        FUEL_LINE_CHECK.check_result(
            message(
                "{speed} in the {bore} line, with the full pump flow circulating",
                speed=Figure(speed, "velocity", "fuel_speed", point.speed),
                bore=Figure(lines.fuel_line_bore, "length", "=fluid_lines.fuel_line_bore"),
            ),
            value=speed,
            cure=message("A wider line, away from the turbine and shielded; fuel lines need a licence in many places"),
        ),
    ]
