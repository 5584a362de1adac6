"""What moves a number most: each uncertain input is moved by its own uncertainty and the whole path is
solved again, once up and once down."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.solution import Solver, approach, prepare
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.calculations import sheet
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.uncertainty.levers import UncertainInput, by, compressor_points, losses, scaled_attributes, turbine
from zarvik.core.whole_build.build import Build


@dataclass(frozen=True)
class Influence:
    """What a lever does to a number: its change in SI when the input goes `down` and `up`; nan
    where the path cannot be solved."""

    lever: UncertainInput
    down: float
    up: float

    @property
    def size(self) -> float:
        """The larger of the two changes; 0 where neither is known."""
        return float(np.nan_to_num(np.array([self.down, self.up])).__abs__().max())


def _plus(step: float) -> Callable[[float, float], float]:
    return lambda old, share: old + share * step


def _lambda(build: Build, share: float) -> Build:
    old = build.engine
    step = 0.02 * share
    engine = dataclasses.replace(old, lambda_=old.lambda_ + step, mixture=tuple((n, v + step) for n, v in old.mixture))
    return dataclasses.replace(build, engine=engine)


def _breathing(build: Build, share: float) -> Build:
    old = build.engine.breathing
    scaled = tuple(v * (1.0 + 0.03 * share) for v in old.efficiency)
    engine = dataclasses.replace(build.engine, breathing=dataclasses.replace(old, efficiency=scaled))
    return dataclasses.replace(build, engine=engine)


def _percent(text: str) -> Sentence:
    return message("±", text)


def levers(build: Build) -> Iterator[UncertainInput]:
    """The uncertain inputs of a build, with uncertainties that are common practice (no source)."""
    kelvin = message("±{step}", step=Figure(5.0, "temperature_difference"))
    yield UncertainInput("breathing", "Volumetric efficiency", _percent("3 %"), _breathing, "engine.best_breathing")
    yield UncertainInput("boost", "Target boost", _percent("3 %"), scaled_attributes("boost", full=by(0.03)), "goal.target_boost")
    yield UncertainInput("day", "Ambient temperature", kelvin, scaled_attributes("site", temperature=_plus(5.0)), "goal.design_day")
    yield UncertainInput("pressure", "Ambient pressure", _percent("1.5 %"), scaled_attributes("site", pressure=by(0.015)), "goal.altitude")
    yield UncertainInput("lambda", "Lambda at full load", message("±0.02"), _lambda, "engine.full_load_lambda")
    if build.engine.fuel.spark and build.engine.retard is not None:
        yield UncertainInput(
            "retard",
            "Ignition retard",
            message("±2°"),
            scaled_attributes("engine", retard=lambda old, share: max(old + 2.0 * share, 0.0)),
            "engine.retard",
        )
    yield UncertainInput("walls", "Cylinder wall heat", _percent("20 %"), scaled_attributes("engine", wall_trust=by(0.2)))
    if build.cooler is not None:
        yield UncertainInput(
            "cooler",
            "Intercooler conductance",
            _percent("15 %"),
            scaled_attributes("cooler", trust=by(0.15)),
            "intercooler.rating_confidence",
        )
    if build.blower is None:
        yield UncertainInput("compressor", "Compressor efficiency", message("±2 points"), compressor_points(0.02))
        yield UncertainInput(
            "turbine", "Turbine efficiency", _percent("3 %"), turbine("best", 0.03), f"turbos.{build.turbo.id}.turbine.efficiency"
        )
        yield UncertainInput(
            "housing", "Turbine housing", _percent("5 %"), turbine("housing", 0.05), f"turbos.{build.turbo.id}.turbine.housing"
        )
    else:
        yield UncertainInput(
            "blower",
            "Blower adiabatic efficiency",
            _percent("3 %"),
            scaled_attributes("blower", adiabatic=by(0.03)),
            "blower.adiabatic_efficiency",
        )
    yield UncertainInput("intake_loss", "Intake losses", _percent("20 %"), losses(0.2, INTAKE))
    yield UncertainInput("charge_loss", "Charge pipe losses", _percent("20 %"), losses(0.2, HOT_PIPE, COLD_PIPE))
    yield UncertainInput("exhaust_loss", "Exhaust losses", _percent("20 %"), losses(0.2, MANIFOLD, EXHAUST))
    yield UncertainInput("bay", "Heat loss of hot parts", _percent("50 %"), scaled_attributes("bay", hot_convection=by(0.5)))


def influences(build: Build, solver: Solver, speed: float, key: str, *, start: np.ndarray | None = None) -> tuple[Influence, ...]:
    """What moves the number of sheet `key` of a `build` and its `solver` at engine `speed` in rev/min, the largest first.

    `start`: unknowns of a solved point nearby. Empty when the point itself is not solved; raises
    KeyError for a sheet that the build does not have.
    """
    if start is None:
        start = solver.raw(approach(solver.path, speed)).solutions[-1]
    base = solver.at(speed, start=start)
    if not base.closure.solved:
        return ()
    result = sheet(build, solver, base, key).result
    if result.kind == "closure":
        return ()  # what the solver left over is no number of the build
    value = result.value

    def moved(lever: UncertainInput, share: float) -> float:
        try:
            changed = lever.move(build, share)
            other = prepare(changed)
        except ValueError:
            return float("nan")
        point = other.at(speed, start=start)
        if not point.closure.solved:
            return float("nan")
        try:
            return sheet(changed, other, point, key).result.value - value
        except KeyError:  # moved so far that it has no such number
            return float("nan")

    found = [Influence(lv, moved(lv, -1.0), moved(lv, 1.0)) for lv in levers(build)]
    return tuple(sorted(found, key=lambda i: -i.size))


__all__ = ["Influence", "UncertainInput", "influences", "levers"]
