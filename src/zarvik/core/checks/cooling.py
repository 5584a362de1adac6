"""The engine's water in town, on the road, held at full load and on a hill; water through the turbo; pressure under the pistons."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.fluid_lines import highest_fuel_point
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Figure, Filling, message, revs
from zarvik.core.fluid_lines import crankcase_breather, turbo_coolant
from zarvik.core.limits.limits import COOLANT, CRANKCASE, FAILS, MARGINAL, OK, PULL, RADIATOR, SUCKED, TURBO_WATER
from zarvik.core.radiator.radiator import BEGINS
from zarvik.core.radiator.water_heat import (
    full_load_seconds,
    radiator_at,
    radiator_in_town,
    radiator_on_hill,
    sustained_share,
    turbo_heat,
    water_heat_load,
)

RADIATOR_CHECK = Check("radiator", "Radiator", about="joints:cooling", breaks=True)
RADIATOR_TOWN_CHECK = Check("radiator_town", "Radiator in traffic", about="joints:cooling", limit=COOLANT, breaks=True)
CRANKCASE_CHECK = Check("crankcase", "Crankcase pressure", about="joints:supply", breaks=True)
RADIATOR_HILL_CHECK = Check("radiator_hill", "Radiator uphill", about="joints:cooling", limit=COOLANT, breaks=True)

CRUISE = 0.12  # of the heat of full load that an engine gives off between pulls; common practice, no source: 0.08 to 0.2
HOSES = tuple(1e-3 * d for d in (10, 13, 16, 19, 25, 32, 38))  # m, as they are sold

TURBO_WATER_CHECK = Check("turbo_water", "Turbo coolant", about="joints:cooling", limit=TURBO_WATER, breaks=True)


def check(case: Case) -> list[CheckResult]:
    """What is said of them; nothing of what nobody has said."""
    return [*_radiator(case), *_turbo(case), *_crankcase(case)]


def sustained_share_wanted(case: Case) -> float:
    """Share of the heat of full load that the water has to lose over a long drive: full load for its share of the time, a cruise
    between."""
    hard = min(max(case.build.fittings.full_load_share, 0.0), 1.0)
    return hard + (1.0 - hard) * CRUISE


def _radiator(case: Case) -> list[CheckResult]:
    build = case.build
    if build.radiator.core is None:
        return []
    point = highest_fuel_point(case)
    full = radiator_at(case.solver, case.build.radiator, point)
    # Two things are asked: for good the share of full load that the car is driven at, and that a pull ends before the water does.
    seconds, share, asked = (
        full_load_seconds(case.solver, case.build.radiator, point),
        sustained_share(case.solver, case.build.radiator, point),
        sustained_share_wanted(case),
    )
    room = share / asked - 1.0
    state = min(RADIATOR.state(room), PULL.state(min(seconds, 1e6)), key=(FAILS, MARGINAL, OK).index)
    margin = min(room, PULL.margin(min(seconds, 1e6)))
    figures: dict[str, Filling] = {
        "full": Figure(full.water, "temperature", "radiator_full", point.speed),
        "heat": Figure(water_heat_load(case.solver, point), "heat_flow", "water_heat", point.speed),
        "speed": revs(point.speed),
        "wind": Figure(build.road_speed, "road_speed", "=goal.road_speed"),
        "taken": Figure(full.taken, "temperature", "radiator_air", point.speed),
    }
    if seconds < 1e6:
        figures["seconds"] = Figure(seconds, "seconds", "radiator_lasts", point.speed)
        figures["share"] = Figure(share, "ratio", "radiator_share", point.speed)
        figures["asked"] = Figure(asked, "ratio", "=fittings.full_load_share")
        words = message(
            (
                "At {wind}, full load ({heat} into the coolant at {speed}) lasts {seconds} from a warm start. It "
                "sustains {share} of full load; {asked} is required, at {taken} air"
            ),
            **figures,
        )
    else:
        words = message("At {wind} it sustains full load ({heat} into the coolant at {speed}): {full}, at {taken} air", **figures)
    return [
        RADIATOR_CHECK.check_result(
            words,
            state=state,
            margin=margin,
            cure=message("Seal sides and top, move or thin the intercooler, a thicker core with more air, or less boost on long pulls"),
            basis=(RADIATOR if room <= PULL.margin(min(seconds, 1e6)) else PULL).basis,
        ),
        _in_town(case),
        *_on_hill(case, point),
    ]


def _in_town(case: Case) -> CheckResult:
    """Standing in a queue, with what the fans move."""
    build = case.build
    town = radiator_in_town(case.solver, build.radiator)
    figures: dict[str, Filling] = {
        "fan": Figure(build.radiator.wind.fan, "volume_flow", "=radiator.fan_flow"),
        "town": Figure(town.water, "temperature", "radiator_town"),
    }
    boils = town.water >= 1e4
    return RADIATOR_TOWN_CHECK.check_result(
        message("Standing, {fan} of fan could cool to {town}: the thermostat controls", **figures)
        if town.water < BEGINS
        else message("Standing, no fan moves air: it boils in traffic, with any engine")
        if boils
        else message("Standing, with {fan} of fan, the coolant reaches {town}", **figures),
        state=MARGINAL if boils else "",
        value=None if boils else town.water,
        cure=message("Fans on a shroud over the whole core; their printed flow is without a core"),
    )


def _on_hill(case: Case, point: Point) -> list[CheckResult]:
    """With a load behind it, as long as the hill lasts."""
    train = case.build.train
    if train.mass <= 0.0:
        return []
    hill = radiator_on_hill(case.solver, case.build.radiator, case.build.car, train, point)
    return [
        RADIATOR_HILL_CHECK.check_result(
            message(
                "Coolant {hill} throughout the climb, at {wind}",
                hill=Figure(hill.water, "temperature", "radiator_hill", point.speed),
                wind=Figure(train.speed, "road_speed", "=towing.speed"),
            ),
            value=hill.water,
            cure=message("A lower gear turns fan and pump faster; or slower uphill, a thicker core, more air behind it"),
        )
    ]


def _turbo(case: Case) -> list[CheckResult]:
    build, circuit = case.build, case.build.coolant
    if build.blower is not None or (circuit.bore <= 0.0 and circuit.water == "flows"):
        return []
    point = highest_fuel_point(case)
    heat = turbo_heat(build, point)
    if circuit.water == "none":
        return [_plugged(build.lines.bearings == "ball", heat, point.speed)]
    flow = turbo_coolant.pump_flow(circuit)
    warmer = turbo_coolant.temperature_rise(heat, flow)
    state = TURBO_WATER.state(warmer)
    round_ = turbo_coolant.thermosiphon_flow(circuit, turbo_coolant.SOAKS * heat)
    figures: dict[str, Filling] = {
        "warmer": Figure(warmer, "warming", "turbo_water", point.speed),
        "heat": Figure(heat, "heat_flow", "turbo_heat", point.speed),
        "bore": Figure(circuit.bore, "length", "=turbo_coolant.bore"),
        "rise": Figure(circuit.rise, "length", "=turbo_coolant.return_height"),
        "after": Figure(turbo_coolant.temperature_rise(turbo_coolant.SOAKS * heat, round_), "warming", "turbo_after", point.speed)
        if round_ > 0.0
        else "",
    }
    stands = round_ <= 0.0
    if not stands and state == OK:
        # Once it boils in there it goes in bursts
        state = MARGINAL if turbo_coolant.temperature_rise(turbo_coolant.SOAKS * heat, round_) > TURBO_WATER.most else OK
    return [
        TURBO_WATER_CHECK.check_result(
            message(
                "{heat} warms the flow of the {bore} hose by {warmer}. After shut-off nothing circulates, because the return does not rise",
                **figures,
            )
            if stands
            else message(
                ("{heat} warms the flow of the {bore} hose by {warmer}. After shut-off it circulates over {rise} and warms by {after}"),
                **figures,
            ),
            state=MARGINAL if stands and state == OK else state,
            value=warmer,
            cure=message("Let the return rise all the way to where it joins: feed below, return above")
            if stands
            else message("Wider, shorter hoses, fewer bends, more rise; idle two minutes before shut-off"),
        )
    ]


def _plugged(ball: bool, heat: float, speed: float) -> CheckResult:
    """A turbo with no water through it: its `heat` W at `speed` rev/min goes into the oil; on `ball` bearings that is too much."""
    return TURBO_WATER_CHECK.check_result(
        message(
            "Plugged: {heat} at {speed} goes into the oil alone", heat=Figure(heat, "heat_flow", "turbo_heat", speed), speed=revs(speed)
        ),
        state=MARGINAL if ball else OK,
        cure=message("Connect its coolant: ball bearings get little oil to carry heat away"),
        advice=message("Idle two minutes before shut-off, or oil cokes in the bearing"),
    )


def _crankcase(case: Case) -> list[CheckResult]:
    build, breather, point = case.build, case.build.breather, case.hardest
    if breather.bore <= 0.0:
        return []
    inlet = point.stations["compressor_inlet"].pressure
    rest = {"air": point.air, "ambient": build.site.pressure, "inlet": inlet}
    under = crankcase_breather.crankcase(breather, **rest)
    limit, value = (CRANKCASE, under) if under >= 0.0 else (SUCKED, -under)
    past = crankcase_breather.blow_by(breather, point.air)
    volume = past * DRY_AIR_GAS_CONSTANT * crankcase_breather.WARM / build.site.pressure
    figures: dict[str, Filling] = {
        "under": Figure(abs(under), "pressure_difference", "crankcase", point.speed),
        "past": Figure(volume, "gas_flow", "past_rings", point.speed),
        "speed": revs(point.speed),
        "bore": Figure(breather.bore, "length", "=breather.bore"),
    }
    asked = crankcase_breather.bore_for(breather, **rest, most=CRANKCASE.good)
    sold = next((b for b in HOSES if b >= asked), 0.0)
    if under < 0.0:
        words, cure = (
            message("{past} blow-by at {speed}: the pipe before the compressor draws {under} in the crankcase", **figures),
            message("Closer to the filter, a smaller hose, or a vented catch can"),
        )
        changes: tuple[Change, ...] = ()
    else:
        # No crankcase holds ten times of what its seals weep at.
        words = (
            message("{past} blow-by at {speed} cannot leave through {bore}: seals and dipstick get pushed out", **figures)
            if under > 10.0 * CRANKCASE.most
            else message("{past} blow-by at {speed} makes {under} in the crankcase through {bore}", **figures)
        )
        cure = (
            message("A hose of {sold}, or two", sold=Figure(sold, "length")) if sold else message("Two hoses, from both ends of the engine")
        )
        changes = (Change("breather.bore", sold),) if sold else ()
    return [CRANKCASE_CHECK.check_result(words, value=value, cure=cure, changes=changes, limit=limit)]
