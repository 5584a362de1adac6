"""The air path as plain numbers in SI: what the document is assembled into and what is solved."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.ducts.element import Element
from zarvik.core.engine.blower import Blower
from zarvik.core.engine.engine import Engine
from zarvik.core.gas.ambient import Site
from zarvik.core.intercooler.intercooler import Intercooler
from zarvik.core.layout.placement import Space
from zarvik.core.stock.sizes import INDUCER_SHARE, openings
from zarvik.core.turbine.rotor import inertia
from zarvik.core.turbine.turbine import Turbine
from zarvik.core.wastegate.wastegate_flow import Wastegate


@dataclass(frozen=True)
class BoostSchedule:
    """The boost that the gate is asked to hold over engine speed.

    `full` Pa gauge from `full_from` rev/min up; below it falls smoothly to nothing at the
    fraction `onset` of that speed. Where the turbine cannot give it, the gate stays shut. `wish`:
    engine speed in rev/min from which the builder would like the full boost.
    """

    full: float
    full_from: float
    onset: float = 0.6
    wish: float = 3500.0

    def at(self, speed: np.ndarray | float) -> np.ndarray:
        """Boost asked for in Pa gauge at engine `speed` in rev/min."""
        start = self.onset * self.full_from
        t = (np.asarray(speed, float) - start) / (self.full_from - start)
        t = np.minimum(np.maximum(t, 0.0), 1.0)
        return np.asarray(self.full * t * t * (3.0 - 2.0 * t))

    def speed_at(self, share: float) -> float:
        """Engine speed in rev/min from which the gate is asked for a `share` (0–1) of the full boost: the root of 3 t² - 2 t³ = share."""
        t = 0.5 - math.sin(math.asin(1.0 - 2.0 * share) / 3.0)
        start = self.onset * self.full_from
        return start + t * (self.full_from - start)

    def counts(self, boost: np.ndarray | float) -> np.ndarray:
        """Is a `boost` in Pa gauge enough to speak of an engine under boost: a fifth of the full
        one, and more than a breath (common practice, no source)?"""
        return np.asarray(boost) > max(0.2 * self.full, 2e3)


@dataclass(frozen=True)
class Target:
    """What is wanted: `power` W at `speed` rev/min, and a highest `big_run` boost in Pa gauge."""

    power: float
    speed: float
    big_run: float


@dataclass(frozen=True)
class Turbo:
    """A turbocharger: compressor map, turbine, and how many of them share the air evenly; `inertia` of one
    rotor in kg m2, 0 where it is not said."""

    id: str
    name: str
    chart: CompressorMap
    turbine: Turbine
    count: int = 1
    inertia: float = 0.0

    @property
    def rotor(self) -> float:
        """Moment of inertia of one rotor in kg m2: said, or estimated from its wheels."""
        if self.inertia > 0.0:
            return self.inertia
        inducer, _ = openings(float(self.chart.lines[-1].flow[-1]))
        return inertia(self.turbine.wheel, inducer / INDUCER_SHARE)


@dataclass(frozen=True)
class Bay:
    """The engine bay: air `temperature` K and convective coefficient W/(m2 K) round the pipes,
    cold side and hot side."""

    temperature: float
    convection: float
    hot_convection: float


@dataclass(frozen=True, kw_only=True)
class AirPath:
    """The whole air path, as it is solved: what is only judged of a build stands in `whole_build`. `runs`: elements by section name.
    `road_speed` m/s. A `blower`, where there is one, stands in the place of compressor and turbine. `intake_volume`: plenum and runners,
    m3. `space`: where things stand, None where nobody says it: the solver reads from it which cylinders blow into which turbine entry."""

    id: str
    name: str
    site: Site
    engine: Engine
    target: Target
    boost: BoostSchedule
    turbo: Turbo
    cooler: Intercooler | None
    runs: dict[str, tuple[Element, ...]]
    road_speed: float
    gate: Wastegate
    bay: Bay
    blower: Blower | None = None
    intake_volume: float = 0.0
    space: Space | None = None

    @property
    def charge_volume(self) -> float:
        """Volume in m3 between compressor and valves that boost has to fill."""
        pipes = sum(e.volume for run in (HOT_PIPE, COLD_PIPE) for e in self.runs[run])
        cooler = self.cooler.volume if self.cooler is not None else 0.0
        return pipes + cooler + self.intake_volume

    @property
    def hot_volume(self) -> float:
        """Volume in m3 between the valves and the turbines."""
        return sum(e.volume for e in self.runs[MANIFOLD])

    @property
    def alone(self) -> int:
        """How many pieces of the exhaust the turbine has for itself, before the gate's gas comes back."""
        gate = self.gate
        if self.blower is not None or gate.to_air or gate.area <= 0.0:
            return 0
        return max(min(gate.pieces_bypassed, len(self.runs[EXHAUST]) - 1), 0)

    @property
    def elements(self) -> tuple[Element, ...]:
        """All duct pieces, intake first, in the order of the flow."""
        return self.runs[INTAKE] + self.runs[HOT_PIPE] + self.runs[COLD_PIPE] + self.runs[MANIFOLD] + self.runs[EXHAUST]

    def bounds(self) -> tuple[int, int, int, int, int]:
        """Number of pieces up to the end of intake, hot pipe, cold pipe, manifold, exhaust."""
        found = []
        total = 0
        for name in (INTAKE, HOT_PIPE, COLD_PIPE, MANIFOLD, EXHAUST):
            total += len(self.runs[name])
            found.append(total)
        return found[0], found[1], found[2], found[3], found[4]
