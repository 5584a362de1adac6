"""What the Goal & engine bench shows, without a window."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.answer.answer import Answer
from zarvik.project.document.document import Project
from zarvik.project.document.parts.engine import Engine
from zarvik.project.engine.diesel_pump import PumpSetting, sentences
from zarvik.project.language.language import tr
from zarvik.project.units.rendering import figure, render
from zarvik.project.units.units import KINDS, unit_of
from zarvik.window.parts.figure_rows import Row

NAMES = ("name", "engine.name", "note")
WANTED = ("goal.target_power", "goal.target_speed", "goal.target_boost", "goal.full_boost_from", "goal.hold_back_until")
STAGES = ("goal.mild_boost", "goal.mild_power", "goal.big_run_boost", "goal.big_run_power")
BAY = ("bay.temperature", "bay.air_speed")
WHERE = ("goal.altitude", "goal.design_day", "goal.humidity", "goal.road_speed", "goal.ready_by")
ENGINE = ("engine.cylinders", "engine.bore", "engine.stroke", "engine.compression", "engine.idle", "engine.rev_limit", "engine.breathing")
MIXTURE = (
    "engine.stock_power",
    "engine.stock_speed",
    "engine.stock_boost",
    "engine.best_breathing",
    "engine.best_breathing_speed",
    "engine.fuel",
    "engine.fuelling",
    "engine.delivery",
    "engine.pump",
    "engine.element_was",
    "engine.element",
    "engine.rack_was",
    "engine.rack",
    "engine.screw",
    "engine.limiter",
    "engine.leanest",
    "engine.full_load_lambda",
    "engine.mixture",
    "engine.trusted_boost",
    "engine.ignition",
    "engine.retard",
    "engine.evaporated",
    "engine.intake_volume",
)


OF_SHAPE = ("engine.best_breathing", "engine.best_breathing_speed")
"Used only where volumetric efficiency comes from a shape, not a table."


def has_pump(engine: Engine) -> bool:
    """Is it a diesel whose pump says what it gives?"""
    return engine.fuel == "diesel" and engine.fuelling != "lambda"


def counting(engine: Engine) -> dict[str, bool]:
    """Entries that belong to one kind of engine or fuelling, and whether they do to this one."""
    diesel = engine.fuel == "diesel"
    pump = has_pump(engine)
    return {
        "engine.fuelling": diesel or engine.fuelling != "lambda",
        "engine.delivery": pump and engine.fuelling == "stroke",
        "engine.pump": pump,
        "engine.element_was": pump,
        "engine.element": pump and engine.element_was.si > 0.0,
        "engine.rack_was": pump,
        "engine.rack": pump and engine.rack_was.si > 0.0,
        "engine.screw": pump,
        "engine.limiter": pump,
        "engine.leanest": pump and engine.limiter == "boost",
        "engine.full_load_lambda": not pump and engine.mixture == "one",
        "engine.mixture": not pump,
        "engine.ignition": not diesel,
        "engine.retard": not diesel and engine.ignition == "typed",
        "engine.evaporated": not diesel,
    }


SETTING_KINDS = (("injection", "injection"), ("least lambda", ""), ("hottest gas", "temperature"), ("power", "power"), ("torque", "torque"))


def setting_heads(units: Mapping[str, str]) -> tuple[str, ...]:
    """Titles over the figures of a setting, with their units."""
    return tuple(f"{tr(title)}, {units.get(kind, KINDS[kind][0].symbol)}" if kind else tr(title) for title, kind in SETTING_KINDS)


def setting_rows(found: Sequence[PumpSetting], units: Mapping[str, str]) -> list[Row]:
    """Settings of a pump as rows: fuel an injection, least lambda, hottest gas before the turbine, power at the target, most torque."""
    heads = setting_heads(units)

    def bare(value: float, kind: str) -> str:
        return figure(value, kind, units).rsplit("\N{NO-BREAK SPACE}", 1)[0]

    return [
        Row(
            str(number),
            render(setting.title, units),
            setting.now,
            setting.state,
            (
                bare(setting.gives, "injection"),
                f"{setting.least:.2f}",
                bare(setting.gas, "temperature"),
                bare(setting.power, "power"),
                bare(setting.torque, "torque"),
            ),
            ("",) * len(heads),
            heads,
        )
        for number, setting in enumerate(found)
    ]


def setting_words(found: Sequence[PumpSetting], project: Project) -> str:
    """How far the pump may be turned."""
    return "\n".join(f"· {render(s, project.shown_units)}" for s in sentences(tuple(found), project.goal.target_power.si))


@dataclass(frozen=True)
class Curves:
    """Full-load curves in shown units; points that are not solved are left out."""

    speed: list[float]
    power: list[float]
    torque: list[float]
    power_unit: str
    torque_unit: str
    target_speed: float
    target_power: float


def curves(answer: Answer, units: Mapping[str, str]) -> Curves:
    """The curves of an answer in the owner's units."""
    power = unit_of("power", units.get("power", KINDS["power"][0].symbol))
    torque = unit_of("torque", units.get("torque", KINDS["torque"][0].symbol))
    points = [p for p in answer.sweep if p.closure.solved]
    return Curves(
        [p.speed for p in points],
        [power.from_si(p.power) for p in points],
        [torque.from_si(p.torque) for p in points],
        power.symbol,
        torque.symbol,
        answer.build.target.speed,
        power.from_si(answer.build.target.power),
    )
