"""Does the gas stand a long hill with the train behind, and do the valve springs stand the exhaust brake?"""

from __future__ import annotations

import dataclasses

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Filling, Sentence, message, revs
from zarvik.core.limits.limits import BRAKE, FAILS
from zarvik.core.vehicle.towing import at_power, cooler_gear, engine_speed, exhaust_braking, hole_for, limit_of, most_back, tractive_power

HILL = Check("tow", "Climb under load", about="engine", breaks=True)
BRAKE_CHECK = Check("brake", "Exhaust brake", about="engine", limit=BRAKE)


def check(case: Case) -> list[CheckResult]:
    """The hill in the gear that is said; the brake at the rev limit. Nothing for a design that is only tried."""
    if case.plain or case.build.blower is not None:
        return []
    return [*_hill(case), *_brake(case)]


def _hill(case: Case) -> list[CheckResult]:
    build, train = case.build, case.build.train
    if train.mass <= 0.0:
        return []
    gear = engine_speed(build.car, train)
    power = tractive_power(build.car, train)
    limit = limit_of(build)
    figures: dict[str, Filling] = {
        "power": Figure(power, "power", "tow_power"),
        "speed": Figure(gear, "rotation", "tow_speed"),
        "road": Figure(train.speed, "road_speed", "=towing.speed"),
    }
    if not build.engine.idle <= gear <= build.engine.rev_limit:
        cure, changes = _another_gear(case, FAILS)
        return [
            HILL.check_result(
                message("In this gear {road} needs {speed}: outside the engine's range", road=figures["road"], speed=figures["speed"]),
                state=FAILS,
                cure=cure,
                changes=changes,
                limit=limit,
            )
        ]
    found = at_power(case.solver, gear, power, train.speed)
    if found is None:
        cure, changes = _another_gear(case, FAILS)
        return [
            HILL.check_result(
                message(
                    "The climb needs {power} at {speed}; the engine cannot make it and slows down",
                    **{n: figures[n] for n in ("power", "speed")},
                ),
                state=FAILS,
                cure=cure,
                changes=changes,
                limit=limit,
            )
        ]
    gas = found.point.stations["turbine_inlet"].temperature
    cure, changes = _another_gear(case, limit.state(gas))
    return [
        HILL.check_result(
            message(
                "{power} at {speed} for {road}: gas {gas} before the turbine throughout the climb",
                gas=Figure(gas, "temperature", "tow_gas"),
                **figures,
            ),
            value=gas,
            cure=cure,
            changes=changes,
            limit=limit,
        )
    ]


def _another_gear(case: Case, state: str) -> tuple[Sentence | None, tuple[Change, ...]]:
    def find() -> tuple[Sentence | None, tuple[Change, ...]]:
        train = case.build.train
        ratio = cooler_gear(case.solver, case.build.car, train, limit_of(case.build).good)
        if not ratio:
            return message("Slower: no gear is enough at this speed"), ()
        speed = engine_speed(case.build.car, dataclasses.replace(train, gear_ratio=ratio))
        return message("A gear ratio near {ratio}: {speed} at the same road speed", ratio=f"{ratio:.2f}", speed=revs(speed)), (
            Change("towing.gear_ratio", ratio),
        )

    return case.cure("tow", state, find)


def _brake(case: Case) -> list[CheckResult]:
    build, train = case.build, case.build.train
    if not train.brake or build.engine.fuel.spark:
        return []
    limit = build.engine.rev_limit
    most = most_back(train)
    hole = train.brake_orifice or hole_for(build, limit, most)
    found = exhaust_braking(build, limit, hole)
    state = BRAKE.state(found.pressure / most - 1e-6)
    best = hole_for(build, limit, most)
    return [
        BRAKE_CHECK.check_result(
            message(
                "Closed: {pressure} at {speed}, holding {power}. The exhaust valve springs allow {most}",
                pressure=Figure(found.pressure, "pressure_gauge", "brake_pressure"),
                speed=revs(limit),
                power=Figure(found.power, "power", "brake_power"),
                most=Figure(most, "pressure_gauge", "brake_most"),
            ),
            state=state,
            value=found.pressure / most,
            cure=message("A {size} orifice in the butterfly", size=Figure(best, "length")),
            changes=(Change("towing.brake_orifice", round(best + 5e-5, 4)),),
        )
    ]
