"""A steady pull up a hill, and a butterfly behind the turbine that holds the train back down again.

note: m mass kg, v road speed m/s, P power W, T temperature K, tau time constant s. The engine stands at the power that the train
asks for: a diesel by its fuel, a spark engine by boost and then by its throttle, with the mixture of full load. Metal follows
late; the gas follows the metal of the manifold.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.stations import MANIFOLD, TURBINE_INLET
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, STANDARD_GRAVITY, STEFAN_BOLTZMANN
from zarvik.core.common.numerics import brentq
from zarvik.core.ducts import march
from zarvik.core.ducts.element import circle
from zarvik.core.engine.engine import FUEL_DENSITY, back_pressure_factor, friction_mean_pressure
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import heat_capacity, viscosity
from zarvik.core.limits.limits import DIESEL_EXHAUST, MATERIALS, SPARK_EXHAUST, Limit
from zarvik.core.manifold.load import Fittings
from zarvik.core.manifold.turbo_weight import turbo_mass
from zarvik.core.materials.metals import METALS
from zarvik.core.materials.table import values
from zarvik.core.stock.sizes import INDUCER_SHARE, openings
from zarvik.core.turbine.turbine import nozzle_function
from zarvik.core.vehicle.car import Car
from zarvik.core.vehicle.trailer import TowingCase

ROLLING = 0.013  # of the weight; T. D. Gillespie, Fundamentals of Vehicle Dynamics, 1992, ch. 4 (memory)
AIR = 1.2  # kg/m3 round the train
HEAT = values("heat_capacity")  # J/(kg K) at 500 °C
HOUSING = 0.4  # of a turbo's mass that its turbine housing weighs; common practice, no source
GEARS = 15  # that are tried between labouring and the limiter, a tenth apart
LEAST_BREATH = 0.15  # share of the air that a throttle lets through at the least
IDLE_SHARE = 0.03  # of its full fuel


def tractive_power(car: Car, train: TowingCase, *, grade: float | None = None, speed: float = 0.0) -> float:
    """Power in W that the `train` asks of the crank of its `car` on its `grade` (or another) at its `speed` (or another, m/s);
    below 0 downhill."""
    v = speed or train.speed
    slope = train.gradient if grade is None else grade
    weight = train.mass * STANDARD_GRAVITY / math.hypot(1.0, slope)
    force = weight * (slope + ROLLING) + 0.5 * AIR * car.drag_area * v * v
    return force * v / car.drive if force > 0.0 else force * v * car.drive


def engine_speed(car: Car, train: TowingCase, speed: float = 0.0) -> float:
    """rev/min of the engine of a `car` at the road speed of its `train` (or another `speed`, m/s), in the gear that the train is
    pulled in."""
    return (speed or train.speed) / (math.pi * car.tyre_diameter) * (train.gear_ratio or car.gear_ratio) * car.final_drive * 60.0


def cooler_gear(solver: Solver, car: Car, train: TowingCase, limit: float) -> float:
    """Ratio of the gear nearest to the present one in which the gas stays under `limit` K at the same road speed; 0 where there is
    none."""
    path = solver.path
    power, now, gear = tractive_power(car, train), engine_speed(car, train), train.gear_ratio or car.gear_ratio
    # Not at the limiter for minutes, nor where it labours
    speeds = np.geomspace(1.25 * path.engine.idle, 0.92 * path.engine.rev_limit, GEARS)
    for speed in sorted(speeds, key=lambda n: abs(math.log(n / now))):
        ratio = round(gear * float(speed) / now, 2)
        found = at_power(solver, engine_speed(car, replace(train, gear_ratio=ratio)), power, train.speed)
        if found is not None and found.point.stations[TURBINE_INLET].temperature <= limit:
            return ratio
    return 0.0


class _PartLoad:
    """An engine at one speed at part of its load."""

    def __init__(self, solver: Solver, speed: float, road: float) -> None:
        path = dataclasses.replace(solver.path, road_speed=road)
        engine = path.engine
        self.speed, self.spark = speed, engine.fuel.spark
        raw = solver.full_load
        near = raw.near(speed)
        self.start = raw.solutions[near] if near is not None else None
        if not self.spark:
            full = prepare(path).at(speed)
            rate = full.fuel if full.closure.solved else 0.0
            self.volume = max(rate, 1e-6) / (FUEL_DENSITY * engine.cylinders * speed / 120.0)
            engine = dataclasses.replace(engine, mixture=(), delivery=((speed, self.volume),), leanest=0.0)
            path = dataclasses.replace(path, engine=engine)
        self.path = path
        self.solver = prepare(path)

    def at(self, share: float) -> tuple[Solver, Point]:
        """The point at a share of the load (0 to 1)."""
        full = self.path.boost.full
        ambient = self.path.site.pressure
        speeds = np.array([self.speed])
        solver = self.solver
        if not self.spark:
            engine = dataclasses.replace(self.path.engine, delivery=((self.speed, max(share, IDLE_SHARE) * self.volume),))
            solver = Solver(dataclasses.replace(self.path, engine=engine), self.solver.packed, self.solver.bounds)
            raw = solver.at_pressure(speeds, np.array([ambient + full]), start=self.start)
        elif share >= 0.5:
            raw = solver.at_pressure(speeds, np.array([ambient + max((2.0 * share - 1.0) * full, 500.0)]), start=self.start)
        else:
            breath = LEAST_BREATH + (1.0 - LEAST_BREATH) * 2.0 * share
            raw = solver.at_pressure(speeds, np.array([ambient + 500.0]), start=self.start, breath=breath)
        if raw.solved[0]:
            self.start = raw.solutions[0]
        return solver, solver.point(raw, 0)


@dataclass(frozen=True, eq=False)
class Load:
    """An engine at part of its load: `share` of its way to full load, its `point` and the `solver` of that."""

    share: float
    point: Point
    solver: Solver


def at_power(solver: Solver, speed: float, power: float, road: float) -> Load | None:
    """The engine of a `solver` at `speed` rev/min where it makes `power` W, cooled by the wind of a `road` speed in m/s; None where
    it cannot, or nothing is solved."""
    loads = _PartLoad(solver, speed, road)
    if loads.start is None:
        return None
    local, top = loads.at(1.0)
    if not top.closure.solved or top.power < power:
        return None

    def over(share: float) -> float:
        _, point = loads.at(share)
        return point.power - power if point.closure.solved else -power

    low = 0.0
    if over(low) >= 0.0:
        local, point = loads.at(low)
        return Load(low, point, local)
    if over(1.0) < 0.0:
        return None
    share = float(brentq(over, low, 1.0, xtol=2e-4))
    local, point = loads.at(share)
    return Load(share, point, local) if point.closure.solved else None


# ---- minutes ------------------------------------------------------------------------------------


@dataclass(frozen=True, eq=False)
class WarmUp:
    """How it warms on the hill: `time` s, `gas` K before the turbine, `housing` K of the turbine's iron."""

    time: np.ndarray
    gas: np.ndarray
    housing: np.ndarray

    def passes(self, what: np.ndarray, limit: float) -> float:
        """Seconds until `what` (K, as long as `time`) passes a `limit` in K; inf where it does not."""
        over = np.nonzero(what > limit)[0]
        return float(self.time[over[0]]) if len(over) else math.inf


def _housing(solver: Solver, point: Point, fittings: Fittings) -> tuple[float, float]:
    """Where the iron of a turbine housing stands in the end, K, and its time constant, s."""
    path = solver.path
    turbo = path.turbo
    wide = turbo.turbine.wheel
    gas = point.stations[TURBINE_INLET].temperature
    flow = (point.air + point.fuel) / turbo.count
    reynolds = max(flow * wide / (circle(wide) * viscosity(solver.burnt, gas)), 1e3)
    inside = march.inside_coefficient(solver.burnt, gas, reynolds, wide, True)
    bay = path.bay
    within, without = math.pi * wide * 2.5 * wide, 6.0 * (1.6 * wide) ** 2  # m2, a scroll and the box round it

    def left(iron: float) -> float:
        lost = bay.hot_convection * (iron - bay.temperature) + 0.85 * STEFAN_BOLTZMANN * (iron**4 - bay.temperature**4)
        return within * inside * (gas - iron) - without * lost

    end = float(brentq(left, bay.temperature, gas))
    out = bay.hot_convection + 4.0 * 0.85 * STEFAN_BOLTZMANN * end**3
    wheel = openings(float(turbo.chart.lines[-1].flow[-1]))[0] / INDUCER_SHARE
    mass = HOUSING * (fittings.turbo_mass or turbo_mass(wheel))
    return end, mass * HEAT["cast"] / (inside * within + out * without)


def _manifold(solver: Solver, point: Point, fittings: Fittings) -> tuple[float, float, float]:
    """Of the manifold: mean metal K, time constant s, and how far the gas at its end follows its metal (0 to 1)."""
    path = solver.path
    stretches = {s.id: s for s in point.stretches}
    run = [e for e in path.runs[MANIFOLD] if e.surface > 0.0]
    if not run:
        return point.stations[TURBINE_INLET].temperature, 1.0, 0.0
    gas = point.stations["exhaust_port"].temperature
    surface, heat, gives, hot = 0.0, 0.0, 0.0, 0.0
    for e in run:
        s = stretches[e.id]
        inside = march.inside_coefficient(solver.burnt, gas, s.reynolds, e.diameter, True)
        stuff = METALS.get(e.material, METALS["stainless"])
        wall = fittings.primary_wall
        surface += e.surface
        heat += e.surface * wall * stuff.density * HEAT.get(e.material, HEAT["stainless"])
        gives += e.surface * inside
        hot += e.surface * s.metal
    out = path.bay.hot_convection + 4.0 * 0.5 * STEFAN_BOLTZMANN * (hot / surface) ** 3
    capacity = (point.air + point.fuel) * heat_capacity(solver.burnt, gas)
    return hot / surface, heat / (gives + out * surface), 1.0 - math.exp(-gives / capacity)


def warm_up(before: Load, hill: Load, fittings: Fittings, duration: float, steps: int = 181) -> WarmUp:
    """How gas and iron warm over `duration` s from a load that stood long (`before`) to one on the `hill`: two lumps of metal, each
    to its own end by its own time constant (`fittings`: their walls and weights; `steps`: a count of moments)."""
    time = np.linspace(0.0, duration, steps)
    cool, _, _ = _manifold(before.solver, before.point, fittings)
    warm, slow, follows = _manifold(hill.solver, hill.point, fittings)
    end = hill.point.stations[TURBINE_INLET].temperature
    gas = end - follows * (warm - cool) * np.exp(-time / slow)
    first, _ = _housing(before.solver, before.point, fittings)
    last, tau = _housing(hill.solver, hill.point, fittings)
    return WarmUp(time, gas, last - (last - first) * np.exp(-time / tau))


@dataclass(frozen=True, eq=False)
class Hill:
    """A train on its hill: `power` W that it asks for; the `gear` speed in rev/min with the `load` there (None where it cannot), how it
    warms (None with it); for other gears `speeds` (rev/min) and `gas` K before the turbine there (nan where the power is not
    had); the road speed m/s up to which it `holds` in the same gear (nan where nothing does); gas `limit`."""

    power: float
    gear: float
    load: Load | None
    warms: WarmUp | None
    speeds: np.ndarray
    gas: np.ndarray
    holds: float
    limit: Limit


def limit_of(path: AirPath) -> Limit:
    """What the gas before the turbine of a `path` is judged by."""
    return SPARK_EXHAUST if path.engine.fuel.spark else DIESEL_EXHAUST


def hill(solver: Solver, car: Car, train: TowingCase, fittings: Fittings, progress: Callable[[float], object] = lambda share: None) -> Hill:
    """The `train` behind its `car` on its hill with the engine of a `solver` (one with a turbine); `fittings`: what hangs on its hot side;
    `progress` hears shares of 1."""
    path = solver.path
    power = tractive_power(car, train)
    gear = engine_speed(car, train)
    low, high = max(1.25 * path.engine.idle, 0.3 * path.engine.rev_limit), path.engine.rev_limit
    speeds = np.linspace(low, high, 10)
    gas = np.full(len(speeds), math.nan)
    for i, speed in enumerate(speeds):
        progress(0.7 * i / len(speeds))
        found = at_power(solver, float(speed), power, train.speed)
        if found is not None:
            gas[i] = found.point.stations[TURBINE_INLET].temperature
    limit = limit_of(path)
    load = at_power(solver, gear, power, train.speed) if path.engine.idle <= gear <= high else None
    warms = None
    if load is not None:
        before = at_power(solver, gear, tractive_power(car, train, grade=0.0), train.speed)
        warms = warm_up(before or load, load, fittings, train.duration)
    return Hill(
        power=power, gear=gear, load=load, warms=warms, speeds=speeds, gas=gas, holds=_holding(solver, car, train, limit.good), limit=limit
    )


def _holding(solver: Solver, car: Car, train: TowingCase, limit: float) -> float:
    """Road speed in m/s up to which the gas stays under `limit` K in the gear of the car."""
    path = solver.path

    def fits(speed: float) -> bool:
        n = engine_speed(car, train, speed)
        if not path.engine.idle <= n <= path.engine.rev_limit:
            return False
        found = at_power(solver, n, tractive_power(car, train, speed=speed), speed)
        return found is not None and found.point.stations[TURBINE_INLET].temperature <= limit

    speeds = np.linspace(0.4, 1.4, 11) * train.speed
    good = [float(v) for v in speeds if fits(float(v))]
    if not good:
        return math.nan
    top = max(good)
    beyond = top + 0.1 * train.speed
    for _ in range(5):
        middle = 0.5 * (top + beyond)
        if fits(middle):
            top = middle
        else:
            beyond = middle
    return top


def housing_limit() -> float:
    """K that a turbine housing of cast iron stands for long."""
    return MATERIALS["cast"].good


# ---- exhaust brake ------------------------------------------------------------------------------
MOTORED = 473.15  # K of air that an engine pumps without fuel, warmed by its walls; common practice, no source
DISCHARGE = 0.8  # of a hole in a butterfly, sharp, at ratios past choking; common practice, no source
USUAL_MOST = 3.0e5  # Pa gauge in the manifold where nobody knows the springs; common practice, no source
SPRING_LEFT = 0.85  # of the springs' force that is asked of them; common practice, no source
BRAKE_GAMMA = 1.38
SMALLEST, WIDEST = 0.002, 0.12  # m of a hole in a butterfly


@dataclass(frozen=True)
class Braking:
    """What a shut butterfly does at an engine `speed` in rev/min: `pressure` Pa gauge before it, `power` W that the crank takes up
    from the wheels (friction of the engine with it), and that by `friction` alone."""

    speed: float
    pressure: float
    power: float
    friction: float


def most_back(train: TowingCase) -> float:
    """Pa gauge in the manifold at which the springs of the exhaust valves of a `train`'s engine give way: force over the valve's
    area, with a reserve; what is usual where nobody knows them."""
    if train.valve_diameter <= 0.0 or train.valve_spring_force <= 0.0:
        return USUAL_MOST
    return SPRING_LEFT * train.valve_spring_force / circle(train.valve_diameter)


def air_density(path: AirPath) -> float:
    """Density in kg/m³ of the air of the day."""
    return path.site.pressure / (float(path.site.air.packed[GAS_CONSTANT]) * path.site.temperature)


def pumped_and_passed(path: AirPath, pressure: float) -> tuple[float, float]:
    """With a `pressure` (Pa absolute) before a shut butterfly: the share of their breathing that the cylinders pump, and the nozzle
    function of its hole."""
    ratio = pressure / path.site.pressure
    return float(back_pressure_factor(ratio, path.engine.compression)), float(nozzle_function(ratio, BRAKE_GAMMA))


def exhaust_braking(path: AirPath, speed: float, hole: float) -> Braking:
    """An engine of a `path` that is driven at `speed` rev/min without fuel against a butterfly with a `hole` (bore, m): the pressure
    at which the hole passes what the cylinders pump."""
    engine, ambient = path.engine, path.site.pressure
    breath = float(engine.breathing.at(speed))
    swept = engine.displacement * speed / 120.0
    charge = air_density(path) * swept * breath

    def over(p: float) -> float:
        left, nozzle = pumped_and_passed(path, p)
        return charge * left - DISCHARGE * circle(hole) * p / math.sqrt(DRY_AIR_GAS_CONSTANT * MOTORED) * nozzle

    high = 20.0 * ambient
    p = (
        float(brentq(over, ambient * 1.0001, high))
        if over(high) < 0.0 < over(ambient * 1.0001)
        else (high if over(high) >= 0.0 else ambient)
    )
    rubbing = float(friction_mean_pressure(2.0 * engine.stroke * speed / 60.0, 0.0)) * swept
    return Braking(speed, p - ambient, (p - ambient) * swept + rubbing, rubbing)


def hole_for(path: AirPath, speed: float, most: float) -> float:
    """Bore in m of the hole with which a butterfly holds `most` Pa gauge at an engine `speed` in rev/min, between `SMALLEST` and
    `WIDEST`."""

    def over(bore: float) -> float:
        return exhaust_braking(path, speed, bore).pressure - most

    if over(SMALLEST) <= 0.0:
        return SMALLEST
    return WIDEST if over(WIDEST) >= 0.0 else float(brentq(over, SMALLEST, WIDEST))
