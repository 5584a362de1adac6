"""The air path as plain numbers in SI: what the document is assembled into and what is solved."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.stations import COLD_PIPE, HOT_PIPE, INTAKE
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.cooling.cooler import Cooler
from zarvik.core.ducts.element import Element
from zarvik.core.engine.engine import Engine
from zarvik.core.site import Site


@dataclass(frozen=True)
class BoostSchedule:
    """The boost that is asked for over engine speed.

    `full` Pa gauge from `full_from` rev/min up; below it falls smoothly to nothing at the
    fraction `onset` of that speed. It is a wish: whether the turbine can give it is not asked.
    """

    full: float
    full_from: float
    onset: float = 0.6

    def at(self, speed: np.ndarray | float) -> np.ndarray:
        """Boost asked for in Pa gauge at engine `speed` in rev/min."""
        start = self.onset * self.full_from
        t = np.clip((np.asarray(speed, float) - start) / (self.full_from - start), 0.0, 1.0)
        return np.asarray(self.full * t * t * (3.0 - 2.0 * t))


@dataclass(frozen=True)
class Target:
    """What is wanted: `power` W at `speed` rev/min, and a highest `big_run` boost in Pa gauge."""

    power: float
    speed: float
    big_run: float


@dataclass(frozen=True)
class Turbo:
    """One turbocharger; for now its compressor."""

    id: str
    name: str
    chart: CompressorMap


@dataclass(frozen=True)
class System:
    """The whole path. `runs`: elements by section name. `road_speed` m/s."""

    id: str
    name: str
    site: Site
    engine: Engine
    target: Target
    boost: BoostSchedule
    turbo: Turbo
    cooler: Cooler | None
    runs: dict[str, tuple[Element, ...]]
    road_speed: float

    @property
    def elements(self) -> tuple[Element, ...]:
        """All duct pieces, intake first, in the order of the flow."""
        return self.runs[INTAKE] + self.runs[HOT_PIPE] + self.runs[COLD_PIPE]

    def bounds(self) -> tuple[int, int, int]:
        """Number of pieces up to the end of the intake, the hot pipe, the cold pipe."""
        one = len(self.runs[INTAKE])
        two = one + len(self.runs[HOT_PIPE])
        return one, two, two + len(self.runs[COLD_PIPE])
