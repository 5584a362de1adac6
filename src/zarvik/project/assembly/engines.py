"""The engine of a document: breathing, mixture, the pump of a diesel, and figures that no engine makes."""

from __future__ import annotations

import dataclasses
import math

from zarvik.core.common.identity_cache import IdentityCache
from zarvik.core.engine.breathing import Breathing, from_archetype
from zarvik.core.engine.engine import MOST_BREATHING, Engine, breathing_of_torque, most_stock_pressure
from zarvik.core.gas.combustion import FUELS
from zarvik.project.assembly.problems import Problem
from zarvik.project.document import document as doc
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import UNKNOWN


def core_engine(project: doc.Project) -> Engine:
    """The engine alone, whatever else may be wrong with the document."""
    return engine_of(project, [])


_SOUND: IdentityCache[Engine | None] = IdentityCache()  # engines in which nothing contradicts itself


def engine_of(project: doc.Project, found: list[Problem]) -> Engine:
    """The engine; what contradicts itself is added to `found`."""

    def sound() -> Engine | None:
        wrong: list[Problem] = []
        engine = _made(project, wrong)
        return None if wrong else engine

    return _SOUND.of((project.engine, project.goal.target_speed), sound) or _made(project, found)


def _made(project: doc.Project, found: list[Problem]) -> Engine:
    e, brief = project.engine, project.goal
    if e.idle.si >= 0.8 * e.rev_limit.si:
        found.append(Problem("engine.idle", tr_format("The idle speed is too close to the rev limit")))
    if not e.idle.si <= brief.target_speed.si <= e.rev_limit.si:
        found.append(
            Problem(
                "goal.target_speed",
                tr_format(
                    "The target speed {0} must be between idle ({1}) and the rev limit ({2})", brief.target_speed, e.idle, e.rev_limit
                ),
            )
        )
    fuel = FUELS[e.fuel]
    lam = e.full_load_lambda.si
    if not fuel.spark and lam < 1.0 and e.fuelling == "lambda":
        found.append(Problem("engine.full_load_lambda", tr_format("A diesel runs lean at full load: lambda 1.1 to 1.6, never below 1")))
    engine = Engine(
        cylinders=int(e.cylinders.si),
        bore=e.bore.si,
        stroke=e.stroke.si,
        compression=e.compression.si,
        breathing=Breathing((1000.0,), (0.85,)),
        fuel=fuel,
        lambda_=lam,
        idle=e.idle.si,
        rev_limit=e.rev_limit.si,
        trusted_boost=e.trusted_boost.si,
        retard=e.retard.si if e.ignition == "typed" else None,
        evaporated=e.evaporated.si,
        mixture=_mixture(e, fuel.spark, found) if e.fuelling == "lambda" else (),
        delivery=_delivery(e, fuel.spark, found),
        leanest=e.leanest.si if e.limiter == "boost" else 0.0,
    )
    found += _slips(e, engine)
    return dataclasses.replace(engine, breathing=_breathing(e, engine, found))


def _slips(e: doc.Engine, engine: Engine) -> list[Problem]:
    """Figures of the stock engine that no engine makes, with the slip that is likely."""
    found = []
    most, boost = most_stock_pressure(e.stock_boost.si), e.stock_boost.si
    size = 1e3 * engine.displacement
    cause = (
        tr_format("Check bore ({0}) and stroke ({1}), or enter the stock boost", e.bore, e.stroke)
        if boost <= 0.0
        else tr_format("Check bore ({0}), stroke ({1}) and stock boost ({2})", e.bore, e.stroke, e.stock_boost)
    )

    def pressure(torque: float) -> float:
        return 4.0 * math.pi * torque / engine.displacement

    if e.stock_power.known != UNKNOWN and e.breathing not in ("table", "stock_torque"):
        mean = pressure(e.stock_power.si / (e.stock_speed.si * math.pi / 30.0))
        if mean > most:
            found.append(
                Problem(
                    "engine.stock_power",
                    tr_format(
                        "{0} at {1} from {2:.2f} L is a mean pressure of {3:.0f} bar. The most is about {4:.0f} bar. {5}",
                        e.stock_power,
                        e.stock_speed,
                        size,
                        mean / 1e5,
                        most / 1e5,
                        cause,
                    ),
                )
            )
    if e.breathing == "stock_torque" and e.stock_torque:
        speed, torque = max(e.stock_torque, key=lambda row: row[1])
        if pressure(torque) > most:
            found.append(
                Problem(
                    "engine.stock_torque",
                    tr_format(
                        ("{0:.0f} N m at {1:.0f} rpm from {2:.2f} L is a mean pressure of {3:.0f} bar. The most is about {4:.0f} bar. {5}"),
                        torque,
                        speed,
                        size,
                        pressure(torque) / 1e5,
                        most / 1e5,
                        cause,
                    ),
                )
            )
    return found + _breathing_slips(e)


def _breathing_slips(e: doc.Engine) -> list[Problem]:
    found = []
    if e.breathing not in ("table", "stock_torque") and e.best_breathing.known != UNKNOWN and e.best_breathing.si > MOST_BREATHING:
        found.append(
            Problem(
                "engine.best_breathing",
                tr_format("A volumetric efficiency of {0} looks like a slip. Usual: 80 to 110 % of plenum density", e.best_breathing),
            )
        )
    if e.breathing == "table" and any(value > MOST_BREATHING + 0.05 for _, value in e.breathing_table):
        found.append(
            Problem(
                "engine.breathing_table",
                tr_format(
                    "A volumetric efficiency over {0:.0f} % looks like a slip. Usual: 80 to 110 % of plenum density",
                    100.0 * (MOST_BREATHING + 0.05),
                ),
            )
        )
    return found


TABLE_WORDS = {
    "breathing_table": "volumetric efficiency",
    "stock_torque": "stock torque",
    "lambda_table": "lambda by engine speed",
    "delivery_table": "fuel by engine speed",
}


def _mixture(e: doc.Engine, spark: bool, found: list[Problem]) -> tuple[tuple[float, float], ...]:
    if e.mixture != "table":
        return ()
    if not e.lambda_table:
        found.append(Problem("engine.lambda_table", tr_format("The table of lambda by engine speed is empty")))
    if not spark and any(row[1] < 1.0 for row in e.lambda_table):
        found.append(Problem("engine.lambda_table", tr_format("A diesel runs lean at full load: lambda 1.1 to 1.6, never below 1")))
    return e.lambda_table


def _delivery(e: doc.Engine, spark: bool, found: list[Problem]) -> tuple[tuple[float, float], ...]:
    """What the pump gives an injection (rev/min, m3); nothing where lambda says how much."""
    if e.fuelling == "lambda":
        return ()
    if spark:
        found.append(Problem("engine.fuelling", tr_format("Fuel from the pump is for a diesel. With spark ignition lambda sets the fuel")))
        return ()
    if e.fuelling == "stroke":
        return ((e.rev_limit.si, e.delivery.si * pump_gives(e)),)
    if len(e.delivery_table) < 2:
        found.append(
            Problem("engine.delivery_table", tr_format("The engine table ({0}) needs at least two rows", TABLE_WORDS["delivery_table"]))
        )
        return ()
    return tuple((n, v * pump_gives(e)) for n, v in e.delivery_table)


SCREW_GIVES = 0.10  # of the fuel more for each turn of a full-load screw; common practice, no source: 0.06 to 0.15, less towards its end


RACK_EMPTY = 0.4  # of the travel of full load as it came at which an in-line pump begins to give; common practice, no source: 0.3 to 0.5


def pump_gives(e: doc.Engine) -> float:
    """Fuel an injection over that of the pump as it came: what it is said to be turned to, its plunger's area, its rack, and its screw. A
    plunger displaces its area times its effective stroke, which grows with the rack from where it begins to give."""
    rack = 1.0
    if e.rack.si > 0.0 and e.rack_was.si > 0.0:
        rack = max((e.rack.si / e.rack_was.si - RACK_EMPTY) / (1.0 - RACK_EMPTY), 0.05)
    area = (e.element.si / e.element_was.si) ** 2 if e.element.si > 0.0 and e.element_was.si > 0.0 else 1.0
    return e.pump.si * area * rack * max(1.0 + SCREW_GIVES * e.screw.si, 0.2)


def _breathing(e: doc.Engine, engine: Engine, found: list[Problem]) -> Breathing:
    if e.breathing in ("table", "stock_torque"):
        name = "breathing_table" if e.breathing == "table" else "stock_torque"
        rows = getattr(e, name)
        if len(rows) < 2:
            found.append(Problem(f"engine.{name}", tr_format("The engine table ({0}) needs at least two rows", TABLE_WORDS[name])))
            return engine.breathing
        speeds, values = tuple(r[0] for r in rows), tuple(r[1] for r in rows)
        if e.breathing == "table":
            return Breathing(speeds, values)
        return breathing_of_torque(engine, speeds, values, e.stock_boost.si)
    return from_archetype(e.breathing, peak_speed=e.best_breathing_speed.si, peak=e.best_breathing.si)
