"""Two banks on one turbo: what the far one's gas loses on its way more than the near one's, and what that costs it in air."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.point import Point, Stretch
from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.march import loss_at
from zarvik.core.ducts.pieces.crossover import far_loss
from zarvik.core.engine.engine import back_pressure_factor


@dataclass(frozen=True)
class CrossoverEffect:
    """What a crossover (`element`, its `stretch` of a point) does: `far`, loss coefficient that only the far bank's gas sees;
    `pressure` Pa that stands at its ports more than at the near ones; `air`: share of air that it draws less."""

    element: Element
    stretch: Stretch
    far: float
    pressure: float
    air: float


def banks_of(path: AirPath, point: Point) -> CrossoverEffect | None:
    """The two banks of a `path` at a solved `point`; None without a crossover."""
    element = next((e for e in path.runs[MANIFOLD] if e.kind == "crossover"), None)
    if element is None:
        return None
    stretch = next(s for s in point.stretches if s.id == element.id)
    losses = far_loss(element.diameter, element.length, element.turn, element.material)
    far = float(loss_at(losses, math.log(stretch.reynolds)))
    pressure = stretch.drop * far / stretch.loss if stretch.loss > 0.0 else 0.0
    middle = point.stations["exhaust_port"].pressure * point.turbo.overlap
    plenum = point.stations["plenum"].pressure
    one, two = (back_pressure_factor((middle + way * 0.5 * pressure) / plenum, path.engine.compression) for way in (-1.0, 1.0))
    return CrossoverEffect(element, stretch, far, pressure, 1.0 - two / one)
