"""The solved air path: points with stations, pieces, turbo, gate and closure."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property, lru_cache, partial

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath import newton
from zarvik.core.airpath import stations as st
from zarvik.core.airpath.system import BoostSchedule, System
from zarvik.core.compressor import lookup
from zarvik.core.cooling import cooler as cooling
from zarvik.core.ducts import march
from zarvik.core.engine import engine as eng
from zarvik.core.engine import knock
from zarvik.core.engine.correction import standard_day_factor
from zarvik.core.gas import combustion
from zarvik.core.gas.mixture import GAS_CONSTANT, mix
from zarvik.core.gas.species import DRY_AIR
from zarvik.core.turbine import turbine as turbines

# Why a state whose sums close is none that could be (`kernel.BOUND`)
BOUNDS = {
    1: "the exhaust cannot get out: the gas at the ports would be hotter than any that burns (a pipe, "
    "turbine or gate of the hot side is far too narrow)",
    2: "the wheel would turn nearly twice as fast as it may: a turbo far too small, or boost that "
    "nothing holds",
    3: "the plenum would stand above 12 bar: the boost runs away",
    4: "energy would not be conserved: the gas leaves the range of its data",
    5: "the boost would be less than a twentieth of ambient: a pipe or compressor far too small for this "
    "engine",
}

NO_START = np.full(k.UNKNOWNS, np.nan)
ABSOLUTE_ZERO_FLOW = 1e-12
SWEEP_STEP = 125.0  # rev/min


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
    `velocity` m/s in it, `reynolds`, `loss` coefficient, `skin` temperature K. `section`: the run
    it belongs to.
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


@dataclass(frozen=True)
class TurboPoint:
    """Where compressor and turbine work.

    Compressor: `flow` kg/s corrected (of one), `ratio`, `speed` rev/min (corrected and real),
    `efficiency`, `power` W into the air. `region`: "inside", "surge", "choke", "overspeed",
    "below". Margins are relative: `surge` = flow over surge flow at this ratio - 1, `choke` = 1 -
    flow over the flow limit at this ratio, `overspeed` = 1 - speed over the maximum.
    Turbine: `expansion` ratio, `turbine_efficiency`, `blade_ratio` u/c0, `turbine_flow` kg/s,
    `turbine_power` W from the gas. Gate: `regime` "shut", "holding", "wide open", "no gate"; `opening` 0–1;
    `gate_flow` kg/s. `back_pressure`: turbine inlet over plenum.
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
    reason: str = ""
    choked: int = -1


@dataclass(frozen=True)
class Point:
    """The state of the whole path at one engine speed; SI. `retard`: degrees of ignition after best torque;
    `taken`: K of what the compressor or blower takes in (with what a bypass brings back). `corrected_power`: as a dyno would print
    it (SAE J1349)."""

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
    taken: float
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


@dataclass(frozen=True, eq=False)
class Raw:
    """What the kernel wrote, one row a point, with what is needed to read it."""

    speed: np.ndarray
    wanted: np.ndarray
    breathing: np.ndarray
    states: np.ndarray
    pieces: np.ndarray
    solutions: np.ndarray

    @property
    def solved(self) -> np.ndarray:
        """Which points closed."""
        return np.asarray(self.states[:, k.CLOSED] > 0.0)

    @property
    def power(self) -> np.ndarray:
        """Power at the crank in W."""
        return np.asarray(self.states[:, k.POWER])


@dataclass(frozen=True, eq=False)
class Solver:
    """A system packed for the kernel; solving it for any speeds touches no shared state."""

    system: System
    packed: k.Packed
    bounds: tuple[int, int, int, int, int]

    @cached_property
    def day_factor(self) -> float:
        """What a dyno would multiply the power by (SAE J1349); 1 for a diesel."""
        site = self.system.site
        if not self.system.engine.fuel.spark:
            return 1.0
        vapour = dict(site.air.fractions).get("H2O", 0.0) * site.pressure
        return standard_day_factor(
            dry_pressure=site.pressure - vapour, temperature=site.temperature
        )

    @cached_property
    def full_load(self) -> Raw:
        """The full-load curve, from idle to the rev limit."""
        return self.raw(sweep_speeds(self.system))

    @property
    def gas(self) -> np.ndarray:
        """The packed moist air."""
        return self.packed[1]

    @property
    def burnt(self) -> np.ndarray:
        """The packed exhaust gas."""
        return self.packed[2]

    @property
    def rows(self) -> np.ndarray:
        """The packed pieces."""
        return self.packed[3]

    @property
    def losses(self) -> np.ndarray:
        """The pieces' loss coefficients."""
        return self.packed[4]

    def raw(
        self,
        speed: np.ndarray,
        *,
        boost: BoostSchedule | None = None,
        rows: np.ndarray | None = None,
        losses: np.ndarray | None = None,
        start: np.ndarray | None = None,
        site: np.ndarray | None = None,
    ) -> Raw:
        """Solve for each `speed` in rev/min, followed in their order; other `boost`, pieces or
        numbers of the site where they are given. `start`: unknowns of a point nearby."""
        system = self.system
        speed = np.ascontiguousarray(speed, float)
        wanted = system.site.pressure + (boost or system.boost).at(speed)
        return self.at_pressure(speed, wanted, rows=rows, losses=losses, start=start, site=site)

    def at_pressure(
        self,
        speed: np.ndarray,
        wanted: np.ndarray,
        *,
        rows: np.ndarray | None = None,
        losses: np.ndarray | None = None,
        start: np.ndarray | None = None,
        site: np.ndarray | None = None,
    ) -> Raw:
        """Solve with the plenum pressure that the gate is asked to hold, `wanted` Pa absolute."""
        packed = (
            self.packed[0],
            self.packed[1],
            self.packed[2],
            self.rows if rows is None else rows,
            self.losses if losses is None else losses,
            *self.packed[5:],
        )
        breathing = self.system.engine.breathing.at(speed)
        states = np.zeros((len(speed), k.POINT_SIZE))
        pieces = np.zeros((len(speed), len(self.rows), march.RESULTS))
        solutions = np.zeros((len(speed), k.UNKNOWNS))
        newton.solve(
            packed, self._mixtures(speed, site), self.bounds, breathing, speed, wanted,
            NO_START if start is None else start, pieces, states, solutions,
        )  # fmt: skip
        return Raw(speed, wanted, breathing, states, pieces, solutions)

    def _mixtures(self, speed: np.ndarray, site: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
        """Numbers of the site and burnt gas by point: one row for all where lambda is one number."""
        base = self.packed[0] if site is None else site
        engine = self.system.engine
        if not engine.mixture:
            return base[np.newaxis], self.packed[2][np.newaxis]
        sites = np.repeat(base[np.newaxis], len(speed), axis=0)
        burnts = np.empty((len(speed), len(self.packed[2])))
        for i, n in enumerate(speed):
            here = engine.at(float(n))
            mixture_numbers(sites[i], here)
            burnts[i] = burnt_gas(self.system, here)
        return sites, burnts

    def local(self, speed: float) -> Solver:
        """The solver with the mixture that the engine runs at `speed` in rev/min."""
        if not self.system.engine.mixture:
            return self
        system = dataclasses.replace(self.system, engine=self.system.engine.at(speed))
        site = self.packed[0].copy()
        mixture_numbers(site, system.engine)
        burnt = burnt_gas(system, system.engine)
        return Solver(system, (site, self.packed[1], burnt, *self.packed[3:]), self.bounds)

    def index(self, piece: str) -> int:
        """Place of a duct piece among all; raises KeyError for an id that is none's."""
        for i, element in enumerate(self.system.elements):
            if element.id == piece:
                return i
        raise KeyError(piece)

    def with_turbine(self, turbine: np.ndarray) -> Solver:
        """The same solver with another packed turbine."""
        return Solver(self.system, (*self.packed[:8], turbine, self.packed[9]), self.bounds)

    def with_ignition(self, ignition: np.ndarray) -> Solver:
        """The same solver with another packed ignition."""
        return Solver(self.system, (*self.packed[:9], ignition), self.bounds)

    def with_cooler(self, cooler: np.ndarray) -> Solver:
        """The same solver with another packed cooler."""
        return Solver(self.system, (*self.packed[:7], cooler, *self.packed[8:]), self.bounds)

    def sweep(self, speed: np.ndarray) -> tuple[Point, ...]:
        """Solved points for each `speed` in rev/min."""
        raw = self.raw(speed)
        return tuple(self.point(raw, i) for i in range(len(raw.speed)))

    def at(self, speed: float, *, start: np.ndarray | None = None) -> Point:
        """The solved point at one `speed` in rev/min, reached from low speed upward like a sweep
        when there is no `start`."""
        if start is not None:
            return self.point(self.raw(np.array([speed]), start=start), 0)
        raw = self.raw(approach(self.system, speed))
        return self.point(raw, len(raw.speed) - 1)

    def point(self, raw: Raw, i: int) -> Point:
        """Point `i` of a raw solution with its names."""
        s = raw.states[i].tolist()
        ambient = self.system.site
        speed = float(raw.speed[i])
        return Point(
            speed=speed,
            wanted_boost=float(raw.wanted[i] - ambient.pressure),
            boost=s[k.P_PLENUM] - ambient.pressure,
            air=s[k.AIR],
            fuel=s[k.FUEL],
            power=s[k.POWER],
            corrected_power=s[k.POWER] * self.day_factor,
            torque=s[k.POWER] / (speed * math.pi / 30.0),
            efficiency=float(raw.breathing[i]),
            indicated=s[k.INDICATED],
            friction=s[k.FRICTION],
            pumping=s[k.PUMPING],
            charge=s[k.T_CHARGE],
            retard=s[k.RETARD],
            taken=s[k.T_TAKEN],
            turbo=self._turbo(s),
            cooler_effectiveness=s[k.EFFECTIVENESS],
            cooler_heat=s[k.COOLER_HEAT],
            cooling_air_out=s[k.COOLING_AIR_OUT],
            closure=self._closure(raw, i, s),
            walk=partial(self._walk, raw, i),
        )

    def _closure(self, raw: Raw, i: int, s: list[float]) -> Closure:
        solved = bool(s[k.CLOSED] > 0.0)
        power = abs(s[k.TURBINE_POWER]) + 1e-9
        mechanical = float(self.packed[8][turbines.MECHANICAL])
        shaft = 0.0
        if self.system.blower is None:
            shaft = abs(s[k.TURBINE_POWER] * mechanical - s[k.SHAFT]) / power
        residual = [abs(r) for r in s[k.RESIDUAL : k.RESIDUAL + k.UNKNOWNS]]
        # With a blower its own flow stands third, and the pipe in the turbine's place second.
        flow, pipe = (2, 1) if self.system.blower is not None else (1, 4)
        return Closure(
            mass=max(residual[0], residual[flow]),
            pressure=max(residual[pipe], residual[3], residual[4]),
            energy=abs(s[k.ENERGY]) / max(s[k.RELEASED_HEAT], 1e-9),
            shaft=shaft,
            iterations=int(s[k.ITERATIONS]),
            solved=solved,
            reason="" if solved else self._reason(s),
            choked=int(s[k.CHOKED]),
        )

    def _reason(self, s: list[float]) -> str:
        choked = int(s[k.CHOKED])
        if choked >= 0:
            element = self.system.elements[choked]
            return (
                f"the flow chokes in “{element.name or element.id}” "
                f"({element.diameter * 1000:.0f} mm bore): this run cannot pass the gas"
            )
        return self._hard(s)

    def _hard(self, s: list[float]) -> str:
        """Why a point without a choking pipe has no answer, with the entry that stands in the way."""
        system = self.system
        if system.blower is None and system.gate.area <= 0.0:
            return (
                "without a wastegate the boost runs away, and there is no state in which it stops: a "
                "gate has to hold it"
            )
        bound = int(s[k.BOUND])
        if bound:
            return BOUNDS[bound]
        return "no state was found in which flow, pressures and shaft power agree"

    def _walk(self, raw: Raw, i: int) -> tuple[dict[str, Station], tuple[Stretch, ...]]:
        s, pieces = raw.states[i].tolist(), raw.pieces[i].tolist()
        site = self.system.site
        cold = s[k.AIR]
        hot = cold + s[k.FUEL]
        stations = {st.AMBIENT: Station(site.pressure, site.temperature, cold, 0.0)}
        stretches: list[Stretch] = []
        index = 0
        begins = {
            st.AMBIENT: (site.pressure, site.temperature),
            st.COMPRESSOR_OUTLET: (s[k.P2], s[k.T2]),
            st.COOLER_OUTLET: (s[k.P_COOLER_OUT], s[k.T_COOLER_OUT]),
            st.EXHAUST_PORT: (s[k.P_PORT], s[k.T_PORT]),
            st.TURBINE_OUTLET: (s[k.P5], s[k.T5]),
        }
        for section, (start, end) in st.SECTIONS.items():
            run = self.system.runs[section]
            flow = cold if section in st.COLD_SECTIONS else hot
            if section == st.HOT_PIPE:
                stretches.append(self._rise(s))
            elif section == st.COLD_PIPE and self.system.cooler is not None:
                stretches.append(self._cooler(s))
            elif section == st.MANIFOLD:
                stretches.append(self._cylinders(s))
            elif section == st.EXHAUST:
                stretches += self._turbine(s)
            pressure, temperature = begins[start]
            if start != st.AMBIENT:
                mach = pieces[index][march.MACH] if run else 0.0
                stations[start] = Station(pressure, temperature, flow, mach)
            here = start
            for element, row in zip(run, pieces[index : index + len(run)], strict=True):
                there = end if element is run[-1] else f"after:{element.id}"
                stretches.append(
                    Stretch(
                        element.id, element.kind, element.name, section, here, there,
                        row[march.P_IN], row[march.P_IN] - row[march.P_OUT],
                        row[march.T_OUT] - row[march.T_IN], row[march.MACH],
                        row[march.VELOCITY], row[march.REYNOLDS], row[march.LOSS],
                        row[march.SKIN],
                    )
                )  # fmt: skip
                stations[there] = Station(row[march.P_OUT], row[march.T_OUT], flow, row[march.MACH])
                here = there
            if not run:
                stations[end] = Station(pressure, temperature, flow, 0.0)
            index += len(run)
        # Plenum and surroundings are spaces in which the stream has come to rest.
        for name in (st.PLENUM, st.TAILPIPE):
            rest = stations[name]
            stations[name] = Station(rest.pressure, rest.temperature, rest.flow, 0.0)
        return stations, tuple(stretches)

    def _rise(self, s: list[float]) -> Stretch:
        turbo, blower = self.system.turbo, self.system.blower
        return Stretch(
            "blower" if blower else turbo.id, "compressor", blower.name if blower else turbo.name,
            "compressor", st.COMPRESSOR_INLET, st.COMPRESSOR_OUTLET, s[k.P1], s[k.P1] - s[k.P2],
            s[k.T2] - s[k.T1],
        )  # fmt: skip

    def _cooler(self, s: list[float]) -> Stretch:
        return Stretch(
            "cooler", "cooler", "Cooler", "cooler", st.COOLER_INLET, st.COOLER_OUTLET,
            s[k.P_COOLER_IN], s[k.P_COOLER_IN] - s[k.P_COOLER_OUT],
            s[k.T_COOLER_OUT] - s[k.T_COOLER_IN],
        )  # fmt: skip

    def _cylinders(self, s: list[float]) -> Stretch:
        return Stretch(
            "engine", "engine", "Cylinders", "engine", st.PLENUM, st.EXHAUST_PORT, s[k.P_PLENUM],
            s[k.P_PLENUM] - s[k.P_PORT], s[k.T_PORT] - s[k.T_PLENUM],
        )  # fmt: skip

    def _turbine(self, s: list[float]) -> list[Stretch]:
        if self.system.blower is not None:
            return [
                Stretch(
                    "pipe", "open", "No turbine", "turbine", st.TURBINE_INLET, st.TURBINE_OUTLET,
                    s[k.P4], s[k.P4] - s[k.P5], s[k.T5] - s[k.T4],
                )
            ]  # fmt: skip
        return [
            Stretch(
                "turbine", "turbine", self.system.turbo.turbine.name, "turbine",
                st.TURBINE_INLET, st.TURBINE_OUTLET, s[k.P4], s[k.P4] - s[k.P5],
                s[k.T5] - s[k.T4],
            )
        ]  # fmt: skip

    def _turbo(self, s: list[float]) -> TurboPoint:
        chart = self.system.turbo.chart
        blower = self.system.blower
        ratio, flow = s[k.MAP_RATIO], s[k.MAP_FLOW]
        if blower is not None:
            speed = real = s[k.MAP_SPEED]
            limit = surge_flow = math.nan
            surge = choke = math.inf
            overspeed = 1.0 - speed / blower.maximum_speed
            region = "overspeed" if overspeed < 0 else "inside"
        else:
            speed = s[k.MAP_SPEED] * chart.maximum_speed
            real = speed * math.sqrt(max(s[k.T1], 1.0) / chart.reference_temperature)
            surge_flow, limit = chart.surge_flow(ratio), chart.flow_limit(ratio)
            surge = flow / surge_flow - 1.0 if surge_flow > 0 else math.inf
            choke = 1.0 - flow / limit
            overspeed = 1.0 - speed / chart.maximum_speed
            place = s[k.MAP_PLACE]
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
        regime = s[k.REGIME]
        gated = self.system.gate.area > 0.0 or blower is not None
        word = "shut" if regime <= 1e-9 else "holding" if regime < 1.0 else "wide open"
        if not gated:
            word = "no gate"
        return TurboPoint(
            id=self.system.turbo.id if blower is None else "blower",
            flow=flow,
            ratio=ratio,
            speed=speed,
            real_speed=real,
            efficiency=s[k.MAP_EFFICIENCY],
            power=s[k.SHAFT],
            region=region,
            surge=surge,
            choke=choke,
            overspeed=overspeed,
            surge_flow=surge_flow,
            flow_limit=limit,
            expansion=s[k.P4] / s[k.P5] if s[k.P5] else math.nan,
            turbine_efficiency=s[k.TURBINE_EFFICIENCY],
            blade_ratio=s[k.BLADE_RATIO],
            turbine_flow=s[k.TURBINE_FLOW],
            turbine_power=s[k.TURBINE_POWER],
            regime=word,
            opening=s[k.OPENING],
            gate_flow=s[k.GATE_FLOW],
            back_pressure=s[k.P4] / s[k.P_PLENUM] if s[k.P_PLENUM] else math.nan,
        )


def approach(system: System, speed: float) -> np.ndarray:
    """Engine speeds in rev/min that lead from low speed up to `speed`: the branch that an engine
    pulling up from below is on."""
    low = min(0.55 * speed, max(system.engine.idle, 700.0))
    if speed <= low * 1.05:
        return np.array([speed])
    count = max(int((speed - low) / 500.0), 2)
    return np.linspace(low, speed, count + 1)


def sweep_speeds(system: System) -> np.ndarray:
    """Engine speeds in rev/min from idle, rounded up, to the rev limit, which is the last."""
    first = math.ceil(system.engine.idle / SWEEP_STEP) * SWEEP_STEP
    speeds = np.arange(first, system.engine.rev_limit - 1e-6, SWEEP_STEP)
    return np.append(speeds, system.engine.rev_limit)


def mixture_numbers(site: np.ndarray, engine: eng.Engine) -> None:
    """Write what hangs on lambda into the numbers of the kernel."""
    burn = engine.burnt
    site[k.RELEASED] = burn.heat_per_air
    site[k.FUEL_PER_AIR] = burn.fuel_per_air
    site[k.WORK] = eng.work_per_air(engine)


@lru_cache(1024)
def _burnt(fuel: str, lambda_: float, water: float) -> np.ndarray:
    burn = combustion.burn(combustion.FUELS[fuel], lambda_)
    products = dict(burn.products)
    # The vapour of the air goes through: moles per mole of carbon beside the products.
    moles_air = combustion.FUELS[fuel].oxygen_demand * lambda_ / DRY_AIR["O2"]
    products["H2O"] += moles_air * water / max(1.0 - water, 1e-9)
    return mix(products).packed


def burnt_gas(system: System, engine: eng.Engine) -> np.ndarray:
    """The packed exhaust gas of an `engine` in the moist air of a system."""
    water = dict(system.site.air.fractions).get("H2O", 0.0)
    return _burnt(engine.fuel.key, engine.lambda_, water)


def prepare(system: System) -> Solver:
    """Pack a system for solving. Raises ValueError when its cooler contradicts itself."""
    air = system.site.air
    engine = system.engine
    burnt = burnt_gas(system, engine)
    density = system.site.pressure / (air.packed[GAS_CONSTANT] * system.site.temperature)
    rows, losses = march.pack(system.elements)
    lines, points = lookup.pack(system.turbo.chart)
    site = np.zeros(k.SITE_SIZE)
    site[k.SITE_PRESSURE] = system.site.pressure
    site[k.SITE_TEMPERATURE] = system.site.temperature
    site[k.DISPLACEMENT] = engine.displacement
    site[k.MAP_PRESSURE] = system.turbo.chart.reference_pressure
    site[k.MAP_TEMPERATURE] = system.turbo.chart.reference_temperature
    site[k.MAP_MAXIMUM] = system.turbo.chart.maximum_speed
    mixture_numbers(site, engine)
    site[k.BORE] = engine.bore
    site[k.PISTONS] = engine.pistons
    site[k.TRUST_HEAT] = engine.wall_trust
    site[k.STROKE] = engine.stroke
    site[k.COMPRESSION] = engine.compression
    site[k.NUSSELT] = eng.SPARK_NUSSELT if engine.fuel.spark else eng.DIESEL_NUSSELT
    site[k.DRY_SHARE] = 1.0 - air.mass_fraction("H2O")
    site[k.EVAPORATED] = engine.evaporated
    site[k.LATENT] = engine.fuel.vaporisation
    site[k.VAPOUR + 3] = engine.fuel.vapour_mass
    if engine.fuel.saturation is not None:
        site[k.VAPOUR : k.VAPOUR + 3] = engine.fuel.saturation
    site[k.BAY_TEMPERATURE] = system.bay.temperature
    site[k.BAY_CONVECTION] = system.bay.convection
    site[k.BAY_HOT_CONVECTION] = system.bay.hot_convection
    site[k.GATE_AREA] = system.gate.area
    site[k.TRUST_TURBINE] = 1.0
    if system.blower is not None:
        blower = system.blower
        site[k.BELT] = 1.0
        site[k.BELT_RATIO] = blower.ratio
        site[k.BLOWER_DISPLACEMENT] = blower.displacement
        site[k.BLOWER_VOLUMETRIC] = blower.volumetric
        site[k.BLOWER_LEAK] = blower.leak
        site[k.BLOWER_ADIABATIC] = blower.adiabatic
        site[k.BLOWER_FALL] = blower.fall
        site[k.BLOWER_DRIVE] = blower.drive
    cooler = cooling.pack(system.cooler, road_speed=system.road_speed, air_density=density)
    turbine = turbines.pack(system.turbo.turbine, count=system.turbo.count)
    ignition = knock.pack(engine, float(air.packed[GAS_CONSTANT]))
    packed = (site, air.packed, burnt, rows, losses, lines, points, cooler, turbine, ignition)
    return Solver(system, packed, system.bounds())
