"""The solved air path: points with stations, pieces, turbo and closure."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property, partial

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath import stations as st
from zarvik.core.airpath.system import BoostSchedule, System
from zarvik.core.compressor import lookup
from zarvik.core.cooling import cooler as cooling
from zarvik.core.ducts import march
from zarvik.core.engine.engine import Work, work
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy

SOLVED = 1e-6  # relative: a point with a larger mass or pressure residual is not solved


@dataclass(frozen=True)
class Station:
    """Total `pressure` Pa and `temperature` K, `flow` kg/s, Mach number in the adjoining bore."""

    pressure: float
    temperature: float
    flow: float
    mach: float


@dataclass(frozen=True)
class Stretch:
    """One element of the path between two stations.

    `drop` Pa of total pressure (negative where it rises), `warming` K, highest `mach` and
    `velocity` m/s in it, `reynolds`, `loss` coefficient. `section`: the run it belongs to.
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
    mach: float
    velocity: float
    reynolds: float
    loss: float


@dataclass(frozen=True)
class TurboPoint:
    """Where the compressor works.

    `flow` kg/s corrected, `ratio`, `speed` rev/min (corrected and real), `efficiency`,
    `power` W on the shaft. `region`: "inside", "surge", "choke", "overspeed", "below".
    Margins are relative: `surge` = flow over surge flow at this ratio - 1, `choke` = 1 - flow
    over the flow limit at this ratio, `overspeed` = 1 - speed over the maximum.
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


@dataclass(frozen=True)
class Closure:
    """Relative residuals of a point and whether it counts as solved; `reason` when not."""

    mass: float
    pressure: float
    energy: float
    iterations: int
    solved: bool
    reason: str = ""


@dataclass(frozen=True)
class Point:
    """The state of the whole path at one engine speed; SI."""

    speed: float
    wanted_boost: float
    boost: float
    air: float
    fuel: float
    power: float
    torque: float
    efficiency: float
    indicated: float
    friction: float
    turbo: TurboPoint
    cooler_effectiveness: float
    cooler_heat: float
    cooling_air_out: float
    closure: Closure
    walk: Callable[[], tuple[dict[str, Station], tuple[Stretch, ...]]] = field(
        repr=False, compare=False
    )

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

    def drop(self, section: str) -> float:
        """Loss of total pressure in Pa over all pieces of a run."""
        return sum(s.drop for s in self.stretches if s.section == section)


@dataclass(frozen=True)
class Raw:
    """What the kernel wrote, one row a point, with what is needed to read it."""

    speed: np.ndarray
    wanted: np.ndarray
    breathing: np.ndarray
    states: np.ndarray
    pieces: np.ndarray
    work: Work

    @property
    def solved(self) -> np.ndarray:
        """Which points closed."""
        residual = np.maximum(
            np.abs(self.states[:, k.MASS_RESIDUAL]), np.abs(self.states[:, k.PRESSURE_RESIDUAL])
        )
        return np.asarray((residual < SOLVED) & (self.states[:, k.CHOKED] < 0))


@dataclass(frozen=True)
class Solver:
    """A system packed for the kernel; solving it for any speeds touches no shared state."""

    system: System
    gas: np.ndarray
    site: np.ndarray
    rows: np.ndarray
    losses: np.ndarray
    lines: np.ndarray
    points: np.ndarray
    cooler: np.ndarray
    bounds: tuple[int, int, int]
    dry_share: float = field(default=1.0)

    def raw(
        self,
        speed: np.ndarray,
        *,
        boost: BoostSchedule | None = None,
        rows: np.ndarray | None = None,
        losses: np.ndarray | None = None,
    ) -> Raw:
        """Solve for each `speed` in rev/min; other `boost` or pieces where they are given."""
        system = self.system
        speed = np.ascontiguousarray(speed, float)
        wanted = system.site.pressure + (boost or system.boost).at(speed)
        breathing = system.engine.breathing.at(speed)
        pieces = np.zeros((len(speed), len(self.rows), march.RESULTS))
        states = self.states(speed, breathing, wanted, rows=rows, losses=losses, pieces=pieces)
        made = work(system.engine, speed, states[:, k.AIR], self.dry_share, np.zeros_like(speed))
        return Raw(speed, wanted, breathing, states, pieces, made)

    def states(
        self,
        speed: np.ndarray,
        breathing: np.ndarray,
        wanted: np.ndarray,
        *,
        rows: np.ndarray | None = None,
        losses: np.ndarray | None = None,
        pieces: np.ndarray | None = None,
    ) -> np.ndarray:
        """The kernel's own rows for each `speed` (rev/min) with its VE `breathing` and the plenum
        at `wanted` (Pa absolute)."""
        states = np.zeros((len(speed), k.POINT_SIZE))
        if pieces is None:
            pieces = np.zeros((len(speed), len(self.rows), march.RESULTS))
        k.solve(
            self.site, self.gas, self.rows if rows is None else rows,
            self.losses if losses is None else losses, self.bounds, self.lines, self.points,
            self.cooler, breathing, speed, wanted, pieces, states,
        )  # fmt: skip
        return states

    def sweep(self, speed: np.ndarray) -> tuple[Point, ...]:
        """Solved points for each `speed` in rev/min."""
        raw = self.raw(speed)
        return tuple(self.point(raw, i) for i in range(len(raw.speed)))

    def at(self, speed: float) -> Point:
        """The solved point at one `speed` in rev/min."""
        return self.point(self.raw(np.array([speed])), 0)

    def point(self, raw: Raw, i: int) -> Point:
        """Point `i` of a raw solution with its names."""
        system = self.system
        s = raw.states[i]
        ambient = system.site
        turbo = self._turbo(s)
        gas = self.gas
        h_in, h_out = enthalpy(gas, ambient.temperature), enthalpy(gas, s[k.T_COOLER_OUT])
        air = float(s[k.AIR])
        balance = air * (h_out - h_in) - turbo.power + float(s[k.COOLER_HEAT])
        solved = bool(raw.solved[i])
        reason = "" if solved else self._reason(s)
        return Point(
            speed=float(raw.speed[i]),
            wanted_boost=float(raw.wanted[i] - ambient.pressure),
            boost=float(s[k.P_PLENUM] - ambient.pressure),
            air=air,
            fuel=float(raw.work.fuel[i]),
            power=float(raw.work.power[i]),
            torque=float(raw.work.torque[i]),
            efficiency=float(raw.breathing[i]),
            indicated=float(raw.work.indicated[i]),
            friction=float(raw.work.friction[i]),
            turbo=turbo,
            cooler_effectiveness=float(s[k.EFFECTIVENESS]),
            cooler_heat=float(s[k.COOLER_HEAT]),
            cooling_air_out=float(s[k.COOLING_AIR_OUT]),
            closure=Closure(
                mass=abs(float(s[k.MASS_RESIDUAL])),
                pressure=abs(float(s[k.PRESSURE_RESIDUAL])),
                energy=abs(balance) / max(abs(turbo.power), 1.0),
                iterations=int(s[k.ITERATIONS]),
                solved=solved,
                reason=reason,
            ),
            walk=partial(self._walk, raw, i),
        )

    def _reason(self, s: np.ndarray) -> str:
        choked = int(s[k.CHOKED])
        if choked >= 0:
            element = self.system.elements[choked]
            return (
                f"the flow chokes in “{element.name or element.id}” "
                f"({element.diameter * 1000:.0f} mm bore): this run cannot pass the air"
            )
        return "the equations did not close at this point"

    def _walk(self, raw: Raw, i: int) -> tuple[dict[str, Station], tuple[Stretch, ...]]:
        s, pieces = raw.states[i].tolist(), raw.pieces[i].tolist()
        air, ambient = s[k.AIR], self.system.site
        stations = {st.AMBIENT: Station(ambient.pressure, ambient.temperature, air, 0.0)}
        stretches: list[Stretch] = []
        index = 0
        begins = {
            st.AMBIENT: (ambient.pressure, ambient.temperature),
            st.COMPRESSOR_OUTLET: (s[k.P2], s[k.T2]),
            st.COOLER_OUTLET: (s[k.P_COOLER_OUT], s[k.T_COOLER_OUT]),
        }
        for section, (start, end) in st.SECTIONS.items():
            run = self.system.runs[section]
            if section == st.HOT_PIPE:
                stretches.append(self._rise(s))
            if section == st.COLD_PIPE and self.system.cooler is not None:
                stretches.append(self._cooler(s))
            pressure, temperature = begins[start]
            if start != st.AMBIENT:
                mach = pieces[index][march.MACH] if run else 0.0
                stations[start] = Station(pressure, temperature, air, mach)
            here = start
            for element, row in zip(run, pieces[index : index + len(run)], strict=True):
                there = end if element is run[-1] else f"after:{element.id}"
                stretches.append(
                    Stretch(
                        element.id, element.kind, element.name, section, here, there,
                        row[march.P_IN], row[march.P_IN] - row[march.P_OUT],
                        row[march.T_OUT] - row[march.T_IN], row[march.MACH],
                        row[march.VELOCITY], row[march.REYNOLDS], row[march.LOSS],
                    )
                )  # fmt: skip
                stations[there] = Station(row[march.P_OUT], temperature, air, row[march.MACH])
                here = there
            if not run:
                stations[end] = Station(pressure, temperature, air, 0.0)
            index += len(run)
        # The plenum is a space in which the stream has come to rest.
        plenum = stations[st.PLENUM]
        stations[st.PLENUM] = Station(plenum.pressure, plenum.temperature, air, 0.0)
        return stations, tuple(stretches)

    def _rise(self, s: list[float]) -> Stretch:
        return Stretch(
            self.system.turbo.id, "compressor", self.system.turbo.name, "compressor",
            st.COMPRESSOR_INLET, st.COMPRESSOR_OUTLET, float(s[k.P1]),
            float(s[k.P1] - s[k.P2]), float(s[k.T2]) - self.system.site.temperature,
            0.0, 0.0, 0.0, 0.0,
        )  # fmt: skip

    def _cooler(self, s: list[float]) -> Stretch:
        return Stretch(
            "cooler", "cooler", "Cooler", "cooler", st.COOLER_INLET, st.COOLER_OUTLET,
            float(s[k.P_COOLER_IN]), float(s[k.P_COOLER_IN] - s[k.P_COOLER_OUT]),
            float(s[k.T_COOLER_OUT] - s[k.T2]), 0.0, 0.0, 0.0, 0.0,
        )  # fmt: skip

    def _turbo(self, s: np.ndarray) -> TurboPoint:
        chart = self.system.turbo.chart
        ambient = self.system.site.temperature
        ratio, flow = float(s[k.MAP_RATIO]), float(s[k.MAP_FLOW])
        speed = float(s[k.MAP_SPEED]) * chart.maximum_speed
        surge_flow, limit = chart.surge_flow(ratio), chart.flow_limit(ratio)
        place = float(s[k.MAP_PLACE])
        if speed > chart.maximum_speed * (1 + 1e-9):
            region = "overspeed"
        elif speed < chart.lines[0].speed:
            region = "below"
        elif place < 0.0:
            region = "surge"
        elif place > 1.0:
            region = "choke"
        else:
            region = "inside"
        return TurboPoint(
            id=self.system.turbo.id,
            flow=flow,
            ratio=ratio,
            speed=speed,
            real_speed=speed * math.sqrt(ambient / chart.reference_temperature),
            efficiency=float(s[k.MAP_EFFICIENCY]),
            power=float(s[k.SHAFT]),
            region=region,
            surge=flow / surge_flow - 1.0 if surge_flow > 0 else math.inf,
            choke=1.0 - flow / limit,
            overspeed=1.0 - speed / chart.maximum_speed,
            surge_flow=surge_flow,
            flow_limit=limit,
        )


def prepare(system: System) -> Solver:
    """Pack a system for solving. Raises ValueError when its cooler contradicts itself."""
    air = system.site.air
    density = system.site.pressure / (air.packed[GAS_CONSTANT] * system.site.temperature)
    rows, losses = march.pack(system.elements)
    lines, points = lookup.pack(system.turbo.chart)
    site = np.zeros(k.SITE_SIZE)
    site[k.SITE_PRESSURE] = system.site.pressure
    site[k.SITE_TEMPERATURE] = system.site.temperature
    site[k.DISPLACEMENT] = system.engine.displacement
    site[k.MAP_PRESSURE] = system.turbo.chart.reference_pressure
    site[k.MAP_TEMPERATURE] = system.turbo.chart.reference_temperature
    return Solver(
        system=system,
        gas=air.packed,
        site=site,
        rows=rows,
        losses=losses,
        lines=lines,
        points=points,
        cooler=cooling.pack(system.cooler, road_speed=system.road_speed, air_density=density),
        bounds=system.bounds(),
        dry_share=1.0 - air.mass_fraction("H2O"),
    )
