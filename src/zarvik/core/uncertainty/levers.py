"""What can be pulled to see how far an answer moves: an input, and what it is good to."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.common.sentences import Sentence, message
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.whole_build.build import Build

Move = Callable[[Build, float], Build]


@dataclass(frozen=True)
class UncertainInput:
    """An input with its uncertainty: `title`, the `step` in words, and `move`, which gives the build
    with the input moved by a share of the step (-1 down, 1 up). `about`: place of the entry in the
    document, empty where there is none: the model's own uncertainty."""

    key: str
    title: str
    step: Sentence
    move: Move
    about: str = ""


def scaled_attributes(part: str, **change: Callable[[float, float], float]) -> Move:
    """Move attributes of one part of the build by functions of (old value, share)."""

    def move(build: Build, share: float) -> Build:
        old = getattr(build, part)
        new = {name: rule(getattr(old, name), share) for name, rule in change.items()}
        return dataclasses.replace(build, **{part: dataclasses.replace(old, **new)})

    return move


def by(relative: float) -> Callable[[float, float], float]:
    """The old value times 1 + share · `relative` (a ratio)."""
    return lambda old, share: old * (1.0 + share * relative)


def compressor_points(points: float) -> Move:
    """Move the efficiency of the whole map by `points` (0–1)."""

    def move(build: Build, share: float) -> Build:
        def lifted(chart: CompressorMap) -> CompressorMap:
            lines = tuple(dataclasses.replace(ln, efficiency=tuple(e + points * share for e in ln.efficiency)) for ln in chart.lines)
            return dataclasses.replace(chart, lines=lines)

        return dataclasses.replace(build, turbo=dataclasses.replace(build.turbo, chart=lifted(build.turbo.chart)))

    return move


def turbine(name: str, relative: float) -> Move:
    """Move one number of the turbine, called `name`, by a `relative` share (a ratio)."""

    def move(build: Build, share: float) -> Build:
        old = build.turbo.turbine
        new = dataclasses.replace(old, **{name: getattr(old, name) * (1.0 + share * relative)})
        return dataclasses.replace(build, turbo=dataclasses.replace(build.turbo, turbine=new))

    return move


def losses(relative: float, *sections: str) -> Move:
    """Move the losses of whole runs by a `relative` share (a ratio)."""

    def move(build: Build, share: float) -> Build:
        factor = 1.0 + relative * share
        runs = dict(build.runs)
        for section in sections:
            runs[section] = tuple(
                dataclasses.replace(e, loss=e.loss * factor, linear=e.linear * factor, quadratic=e.quadratic * factor)
                for e in runs[section]
            )
        return dataclasses.replace(build, runs=runs)

    return move


# What the model itself is good to, 19 times out of 20 (common practice, no source; the wall heat by the
# scatter of Taylor & Toong's points, the losses by the spread of the published methods).
PRESSURE, WALLS, COMPRESSOR, TURBINE, LOSSES, BAY = 0.015, 0.15, 0.02, 0.02, 0.20, 0.50


def of_the_model(build: Build) -> Iterator[UncertainInput]:
    """What the relations themselves are good to in this build; no entry changes it."""
    yield UncertainInput("model_pressure", "Ambient pressure", message("±1.5 %"), scaled_attributes("site", pressure=by(PRESSURE)))
    yield UncertainInput("model_walls", "Cylinder wall heat", message("±15 %"), scaled_attributes("engine", wall_trust=by(WALLS)))
    if build.blower is None:
        yield UncertainInput("model_compressor", "Compressor map efficiency", message("±2 points"), compressor_points(COMPRESSOR))
        yield UncertainInput("model_turbine", "Turbine flow", message("±2 %"), turbine("housing", TURBINE))
    yield UncertainInput("model_intake", "Intake losses", message("±20 %"), losses(LOSSES, INTAKE))
    yield UncertainInput("model_charge", "Charge pipe losses", message("±20 %"), losses(LOSSES, HOT_PIPE, COLD_PIPE))
    yield UncertainInput("model_exhaust", "Manifold and exhaust losses", message("±20 %"), losses(LOSSES, MANIFOLD, EXHAUST))
    yield UncertainInput("model_bay", "Heat loss of hot parts", message("±50 %"), scaled_attributes("bay", hot_convection=by(BAY)))
