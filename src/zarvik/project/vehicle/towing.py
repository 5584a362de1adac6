"""A document's train on its hill and its exhaust brake, told."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import TURBINE_INLET
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault, Figure, Sentence, message, revs
from zarvik.core.vehicle.towing import Braking, Hill, exhaust_braking, hill, hole_for, housing_limit, most_back, tractive_power
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project

SPEEDS = 6  # at which the brake is told


@dataclass(frozen=True)
class TowingReport:
    """What came of a train: the `hill` (None where nothing is towed), what the brake does over engine speed (`brakes`, empty without
    one) with the `hole` in m, the `most` Pa gauge that the springs hold, and W to be held back `down` the same hill."""

    hill: Hill | None
    brakes: tuple[Braking, ...]
    hole: float
    most: float
    down: float


def towing_report(project: Project, progress: Progress = unwatched) -> TowingReport:
    """The hill and the brake of a document. Raises Fault with a blower, or where there is neither; ProjectProblems for a document that
    cannot be assembled."""
    build = assemble(project)
    train = build.train
    if build.blower is not None:
        raise Fault("Towing is not calculated for blowers yet")
    if train.mass <= 0.0 and not train.brake:
        raise Fault("Enter the total mass, or that there is an exhaust brake")
    found = hill(prepare(build), build.car, train, build.fittings, progress) if train.mass > 0.0 else None
    brakes: tuple[Braking, ...] = ()
    hole, most, engine = 0.0, most_back(train), build.engine
    if train.brake and not engine.fuel.spark:
        hole = train.brake_orifice or hole_for(build, engine.rev_limit, most)
        low = 0.3 * engine.rev_limit
        steps = [low + (engine.rev_limit - low) * n / (SPEEDS - 1) for n in range(SPEEDS)]
        brakes = tuple(exhaust_braking(build, speed, hole) for speed in steps)
    return TowingReport(
        found, brakes, hole, most, max(-tractive_power(build.car, train, grade=-train.gradient), 0.0) if train.mass > 0.0 else 0.0
    )


def sentences(found: TowingReport, *, spark: bool) -> tuple[Sentence, ...]:
    """What a driver has to know of it; `spark`: an engine with spark ignition."""
    words: list[Sentence] = []
    if found.hill is not None:
        words += _of_hill(found.hill)
    if found.brakes:
        words += _of_brake(found)
    elif found.hill is not None and not spark and found.down > 0.0:
        words.append(
            message("Downhill {down} must be held back: by gear and brakes, or an exhaust brake", down=Figure(found.down, "power"))
        )
    if found.hill is not None:
        words.append(message("Trailer, hitch and brakes have legal weights: papers and law decide, not the engine"))
    return tuple(words)


def _of_hill(h: Hill) -> list[Sentence]:
    words = [message("The hill needs {power}, {speed} in this gear", power=Figure(h.power, "power"), speed=revs(h.gear))]
    if h.load is None or h.warms is None:
        words.append(message("The engine cannot hold that speed there"))
    else:
        gas = h.load.point.stations[TURBINE_INLET].temperature
        words.append(
            message(
                "Gas before the turbine {gas} at the end, boost {boost}",
                gas=Figure(gas, "temperature"),
                boost=Figure(h.load.point.boost, "pressure_gauge"),
            )
        )
        for what, limit, name in (
            (h.warms.gas, h.limit.good, message("Exhaust gas")),
            (h.warms.housing, housing_limit(), message("Turbine housing")),
        ):
            late = h.warms.passes(what, limit)
            if math.isfinite(late):
                words.append(
                    message("{name} exceeds {limit} after {late}", name=name, limit=Figure(limit, "temperature"), late=Figure(late, "time"))
                )
            else:
                words.append(
                    message(
                        "{name} stays below {limit}: {last} at the end",
                        name=name,
                        limit=Figure(limit, "temperature"),
                        last=Figure(float(what[-1]), "temperature"),
                    )
                )
    there = [(float(n), float(t)) for n, t in zip(h.speeds, h.gas, strict=True) if t == t]
    if there:
        speed, gas = min(there, key=lambda pair: pair[1])
        words.append(message("Coolest at {speed}: {gas}", speed=revs(speed), gas=Figure(gas, "temperature")))
    if h.holds == h.holds:
        words.append(
            message(
                "In this gear the gas stays below {limit} up to {road}",
                limit=Figure(h.limit.good, "temperature"),
                road=Figure(h.holds, "road_speed"),
            )
        )
    else:
        words.append(message("In this gear it stays too hot at any speed near this"))
    return words


def _of_brake(found: TowingReport) -> list[Sentence]:
    top = found.brakes[-1]
    words = [
        message(
            "Exhaust brake: a {hole} orifice builds {pressure} at {speed}; it holds {power}, with friction",
            hole=Figure(found.hole, "length"),
            pressure=Figure(top.pressure, "pressure_gauge"),
            speed=revs(top.speed),
            power=Figure(top.power, "power"),
        ),
        message(
            "The springs allow {most}: above it valves lift off their seats and can hit pistons", most=Figure(found.most, "pressure_gauge")
        ),
    ]
    if found.down > 0.0:
        enough = next((b for b in found.brakes if b.power >= found.down), None)
        if enough is not None:
            words.append(
                message(
                    "Down the same hill {down} must be held: the brake does from {speed}",
                    down=Figure(found.down, "power"),
                    speed=revs(enough.speed),
                )
            )
        else:
            words.append(message("Down the same hill {down} must be held: the brake alone cannot", down=Figure(found.down, "power")))
    words.append(message("The pump must cut fuel before it closes; its seals, manifold and turbo must stand the pressure"))
    return words
