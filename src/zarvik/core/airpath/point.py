"""A solved point with its names: stations, pieces, turbo, gate and closure."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

from zarvik.core.common.sentences import Sentence


@dataclass(frozen=True)
class Station:
    """Total `pressure` Pa and `temperature` K, `flow` kg/s, Mach number in the adjoining bore."""

    pressure: float
    temperature: float
    flow: float
    mach: float


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """One element of the path between two stations.

    `drop` Pa of total pressure (negative where it rises), `warming` K, highest `mach` and `velocity` m/s
    in it, `reynolds`, `loss` coefficient, `skin` temperature K, that of its `metal` under a cover K.
    `section`: the run it belongs to.
    """

    id: str
    kind: str
    name: str
    section: str
    start: str
    end: str
    pressure_in: float
    drop: float
    warming: float
    mach: float = 0.0
    velocity: float = 0.0
    reynolds: float = 0.0
    loss: float = 0.0
    skin: float = 0.0
    metal: float = 0.0


@dataclass(frozen=True, kw_only=True)
class TurboPoint:
    """Where compressor and turbine work.

    Compressor: `flow` kg/s corrected (of one), `ratio`, `speed` rev/min (corrected and real),
    `efficiency`, `power` W into the air. `region`: "inside", "surge", "choke", "overspeed",
    "below". Margins are relative: `surge` = flow over surge flow at this ratio - 1, `choke` = 1 -
    flow over the flow limit at this ratio, `overspeed` = 1 - speed over the maximum.
    Turbine: `expansion` ratio, `turbine_efficiency`, `blade_ratio` u/c0, `turbine_flow` kg/s,
    `turbine_power` W from the gas. Gate: `regime` "shut", "holding", "wide open", "no gate"; `opening` 0–1;
    `gate_flow` kg/s, `dumped` kg/s of it into the open. `back_pressure`: turbine inlet over plenum.
    """

    id: str
    flow: float
    ratio: float
    speed: float
    real_speed: float
    efficiency: float
    power: float
    region: str
    surge: float
    choke: float
    overspeed: float
    surge_flow: float
    flow_limit: float
    expansion: float
    turbine_efficiency: float
    blade_ratio: float
    turbine_flow: float
    turbine_power: float
    regime: str
    opening: float
    gate_flow: float
    dumped: float
    behind_gate: float
    joined: float
    overlap: float
    back_pressure: float


@dataclass(frozen=True)
class Closure:
    """Relative residuals of a point and whether it counts as solved; `reason` when not;
    `choked`: place of the first cold piece that chokes, -1 for none. Energy is
    summed from the stations' enthalpies, fuel included, over the heat released."""

    mass: float
    pressure: float
    energy: float
    shaft: float
    iterations: int
    solved: bool
    reason: Sentence | None = None
    choked: int = -1


@dataclass(frozen=True, kw_only=True)
class Point:
    """The state of the whole path at one engine speed; SI. `retard`: degrees of ignition after best torque; `mixture`: lambda;
    `evaporated`: share of the fuel that has evaporated when the valves shut; `taken`: K of what the compressor or blower takes in
    (with what a bypass brings back). `corrected_power`: as a dyno would print it (SAE J1349)."""

    speed: float
    wanted_boost: float
    boost: float
    air: float
    fuel: float
    power: float
    corrected_power: float
    torque: float
    efficiency: float
    indicated: float
    friction: float
    pumping: float
    charge: float
    retard: float
    mixture: float
    evaporated: float
    taken: float
    turbo: TurboPoint
    cooler_effectiveness: float
    cooler_heat: float
    cooling_air_out: float
    closure: Closure
    walk: Callable[[], tuple[dict[str, Station], tuple[Stretch, ...]]] = field(repr=False, compare=False)

    @cached_property
    def _walked(self) -> tuple[dict[str, Station], tuple[Stretch, ...]]:
        # Of the points of a sweep only a few are ever looked at piece by piece.
        return self.walk()

    @property
    def stations(self) -> dict[str, Station]:
        """States by station name, those between the pieces as `after:ID`."""
        return self._walked[0]

    @property
    def stretches(self) -> tuple[Stretch, ...]:
        """The elements of the path in the order of the flow."""
        return self._walked[1]

    @property
    def belt(self) -> bool:
        """Is the charge made on the belt, with no turbine in the exhaust?"""
        return any(s.kind == "open" for s in self.stretches)

    def drop(self, section: str) -> float:
        """Loss of total pressure in Pa over all pieces of a run."""
        return sum(s.drop for s in self.stretches if s.section == section)
