"""What the Brief & engine bench shows, without a window."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from zarvik.core.answer import Answer
from zarvik.project.units import KINDS, unit_of

NAMES = ("name", "engine.name", "note")
WANTED = (
    "brief.target_power", "brief.target_speed", "brief.target_boost", "brief.full_boost_from",
    "brief.hold_back_until",
    "brief.big_run_boost",
)  # fmt: skip
BAY = ("bay.temperature", "bay.breeze")
WHERE = ("brief.altitude", "brief.design_day", "brief.humidity", "brief.road_speed")
ENGINE = (
    "engine.cylinders", "engine.bore", "engine.stroke", "engine.compression", "engine.idle",
    "engine.rev_limit", "engine.breathing",
)  # fmt: skip
MIXTURE = (
    "engine.stock_power", "engine.stock_speed", "engine.best_breathing", "engine.best_breathing_speed", "engine.fuel", "engine.full_load_lambda",
    "engine.mixture", "engine.trusted_boost", "engine.ignition", "engine.retard", "engine.evaporated",
)  # fmt: skip


OF_SHAPE = ("engine.best_breathing", "engine.best_breathing_speed")
"""What counts only where VE comes from a shape, not from a table."""


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
        answer.system.target.speed,
        power.from_si(answer.system.target.power),
    )
