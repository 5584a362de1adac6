"""The solved air path: points with stations, pieces, turbo, gate and closure."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from functools import cached_property
from typing import cast

import numpy as np

from zarvik.core.airpath import onset, sweep
from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import AirPath, BoostSchedule
from zarvik.core.airpath.packing import burnt_gas, mixture_numbers, packed
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.reading import RawSolution, Reading
from zarvik.core.common.progress import look
from zarvik.core.ducts import march
from zarvik.core.engine.correction import standard_day_factor

NO_START = np.full(k.UNKNOWNS, np.nan)
SWEEP_STEP = 125.0  # rev/min


@dataclass(frozen=True, eq=False)
class Solver:
    """An air path packed for the kernel; solving it for any speeds touches no shared state."""

    path: AirPath
    packed: k.Packed
    bounds: k.Bounds

    @cached_property
    def day_factor(self) -> float:
        """What a dyno would multiply the power by (SAE J1349); 1 for a diesel."""
        if not self.path.engine.fuel.spark:
            return 1.0
        return standard_day_factor(dry_pressure=self.dry_pressure, temperature=self.path.site.temperature)

    @property
    def dry_pressure(self) -> float:
        """Pressure of the day in Pa without that of its water vapour."""
        site = self.path.site
        return float(site.pressure - dict(site.air.fractions).get("H2O", 0.0) * site.pressure)

    @cached_property
    def full_load(self) -> RawSolution:
        """The full-load curve, from idle to the rev limit."""
        return self.raw(sweep_speeds(self.path))

    def load_near(self, near: RawSolution | None) -> RawSolution:
        """The full-load curve, found beside that of an air path `near`."""
        if near is not None and "full_load" not in self.__dict__:
            self.__dict__["full_load"] = self.raw(sweep_speeds(self.path), near=near)
        return self.full_load

    @property
    def gas(self) -> np.ndarray:
        """The packed moist air."""
        return self.packed[k.GAS]

    @property
    def burnt(self) -> np.ndarray:
        """The packed exhaust gas."""
        return self.packed[k.BURNT]

    @property
    def site_numbers(self) -> np.ndarray:
        """Site, engine, gate and blower as the kernel reads them (`slots`)."""
        return self.packed[k.SITE]

    @property
    def cooler_numbers(self) -> np.ndarray:
        """The packed cooler."""
        return self.packed[k.COOLER]

    @property
    def turbine_numbers(self) -> np.ndarray:
        """The packed turbine."""
        return self.packed[k.TURBINE]

    @property
    def ignition_numbers(self) -> np.ndarray:
        """The packed ignition."""
        return self.packed[k.IGNITION]

    @property
    def rows(self) -> np.ndarray:
        """The packed pieces."""
        return self.packed[k.ROWS]

    @property
    def losses(self) -> np.ndarray:
        """The pieces' loss coefficients."""
        return self.packed[k.LOSSES]

    def raw(
        self,
        speed: np.ndarray,
        *,
        boost: BoostSchedule | None = None,
        rows: np.ndarray | None = None,
        losses: np.ndarray | None = None,
        start: np.ndarray | None = None,
        site: np.ndarray | None = None,
        near: RawSolution | None = None,
    ) -> RawSolution:
        """Solve for each `speed` in rev/min, followed in their order; other `boost`, pieces or numbers of the site where they
        are given. `start`: unknowns of a point nearby; `near`: what an air path that is nearly this one was solved by, which
        counts when it was at the same speeds.

        `rows`, `losses` as `march.pack` gives them.
        """
        path = self.path
        speed = np.ascontiguousarray(speed, float)
        wanted = path.site.pressure + (boost or path.boost).at(speed)
        return self.at_pressure(speed, wanted, rows=rows, losses=losses, start=start, site=site, near=near)

    def at_pressure(
        self,
        speed: np.ndarray,
        wanted: np.ndarray,
        *,
        rows: np.ndarray | None = None,
        losses: np.ndarray | None = None,
        start: np.ndarray | None = None,
        site: np.ndarray | None = None,
        near: RawSolution | None = None,
        breath: float = 1.0,
    ) -> RawSolution:
        """Solve with the plenum pressure that the gate is asked to hold, `wanted` Pa absolute.

        `speed` rev/min; `rows`, `losses`, `start`, `site`, `near` as in `raw`; `breath`: share of the air that a
        throttle lets through.
        """
        look()
        packed = (
            self.packed[k.SITE],
            self.packed[k.GAS],
            self.packed[k.BURNT],
            self.rows if rows is None else rows,
            self.losses if losses is None else losses,
            *self.packed[5:],
        )
        breathing = breath * self.path.engine.breathing.at(speed)
        states = np.zeros((len(speed), k.POINT_SIZE))
        pieces = np.zeros((len(speed), len(self.rows), march.RESULTS))
        solutions = np.zeros((len(speed), k.UNKNOWNS))
        beside = np.full((len(speed), k.UNKNOWNS), np.nan)
        if near is not None and np.array_equal(near.speed, speed):
            beside[near.solved] = near.solutions[near.solved]
        sweep.solve(
            packed,
            self.mixtures(speed, site),
            self.bounds,
            breathing,
            speed,
            wanted,
            NO_START if start is None else start,
            beside,
            pieces,
            states,
            solutions,
        )
        return RawSolution(speed=speed, wanted=wanted, breathing=breathing, states=states, pieces=pieces, solutions=solutions)

    def rise(
        self,
        low: float,
        high: float,
        pressures: np.ndarray,
        start: np.ndarray,
        *,
        begin: float | None = None,
        site: np.ndarray | None = None,
    ) -> tuple[np.ndarray, np.ndarray]:
        """Engine speeds in rev/min at which the plenum stands at `pressures` (Pa absolute, rising) with the gate shut, and the unknowns
        there, as far as they close. `low` and `high` rev/min: a stretch of speeds that they lie about; `start`: the unknowns
        of the solved point at `low`, or at the speed `begin`; `site` as in `raw`."""
        look()
        speed = np.array([low, 0.5 * (low + high), high])
        stretch = np.column_stack((speed, self.path.engine.breathing.at(speed)))
        shares = np.zeros(len(pressures))
        solutions = np.zeros((len(pressures), k.UNKNOWNS))
        first = np.array(start)
        first[k.X_REGIME] = 0.0 if begin is None else (begin - low) / (high - low)
        closed = onset.boost_rise(
            self.packed,
            self.mixtures(speed, site),
            self.bounds,
            stretch,
            first,
            pressures,
            shares,
            solutions,
            np.zeros((len(self.rows), march.RESULTS)),
            np.zeros(k.POINT_SIZE),
        )
        found = low + shares[:closed] * (high - low)
        wanted = self.path.site.pressure + self.path.boost.at(found)
        solutions[:closed, k.X_REGIME] = np.minimum(np.log(pressures[:closed] / wanted), 0.0)
        return found, solutions[:closed]

    def without_each(self, base: RawSolution) -> np.ndarray:
        """Power at the crank in W at the one point of `base` without the loss of each piece in turn; nan where it does not close from
        there."""
        look()
        sites, burnts = self.mixtures(base.speed, None)
        powers = np.full(len(self.rows), math.nan)
        sweep.without(
            (sites[0], self.packed[k.GAS], burnts[0], *self.packed[3:]),
            self.bounds,
            float(base.breathing[0]),
            float(base.speed[0]),
            float(base.wanted[0]),
            base.solutions[0].copy(),
            np.arange(len(self.rows)),
            powers,
        )
        return powers

    def mixtures(self, speed: np.ndarray, site: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
        """Numbers of the site and burnt gas by point, at each `speed` in rev/min: one row for all where
        lambda is one number. They may be written."""
        base = self.packed[k.SITE] if site is None else site
        engine = self.path.engine
        if engine.delivery:
            # Written by the kernel: each point has its own.
            sites = np.repeat(base[np.newaxis], len(speed), axis=0)
            sites[:, k.FUEL_RATE] = engine.fuel_rate(speed)
            return sites, np.repeat(self.burnt[np.newaxis], len(speed), axis=0)
        if not engine.mixture:
            # Copies: an array that may not be written is of another kind to the compiler, and would have
            # everything compiled once more.
            return base[np.newaxis].copy(), self.burnt[np.newaxis].copy()
        sites = np.repeat(base[np.newaxis], len(speed), axis=0)
        burnts = np.empty((len(speed), len(self.packed[k.BURNT])))
        for i, n in enumerate(speed):
            here = engine.at(float(n))
            mixture_numbers(sites[i], here)
            burnts[i] = burnt_gas(self.path, here)
        return sites, burnts

    def local(self, point: Point) -> Solver:
        """The solver with the mixture that the engine runs at a solved `point`, as the one lambda."""
        engine = self.path.engine
        if not engine.mixture and not engine.delivery:
            return self
        here = (
            dataclasses.replace(engine, lambda_=self.lambda_of(point), mixture=(), delivery=())
            if engine.delivery
            else engine.at(point.speed)
        )
        path = dataclasses.replace(self.path, engine=here)
        site = self.packed[k.SITE].copy()
        mixture_numbers(site, path.engine)
        burnt = burnt_gas(path, path.engine)
        return Solver(path, (site, self.packed[k.GAS], burnt, *self.packed[3:]), self.bounds)

    def lambda_of(self, point: Point) -> float:
        """Lambda of a `point`: its dry air over what its fuel needs; the engine's own without fuel."""
        return point.mixture if point.fuel > 0.0 else self.path.engine.lambda_

    def index(self, piece: str) -> int:
        """Place of a duct piece among all; raises KeyError for an id that is none's."""
        for i, element in enumerate(self.path.elements):
            if element.id == piece:
                return i
        raise KeyError(piece)

    def _with(self, place: int, array: np.ndarray) -> Solver:
        arrays = list(self.packed)
        arrays[place] = array
        return Solver(self.path, cast(k.Packed, tuple(arrays)), self.bounds)

    def with_turbine(self, turbine: np.ndarray) -> Solver:
        """The same solver with another packed turbine."""
        return self._with(k.TURBINE, turbine)

    def with_ignition(self, ignition: np.ndarray) -> Solver:
        """The same solver with another packed ignition."""
        return self._with(k.IGNITION, ignition)

    def with_cooler(self, cooler: np.ndarray) -> Solver:
        """The same solver with another packed cooler."""
        return self._with(k.COOLER, cooler)

    def sweep(self, speed: np.ndarray) -> tuple[Point, ...]:
        """Solved points for each `speed` in rev/min."""
        raw = self.raw(speed)
        return tuple(self.point(raw, i) for i in range(len(raw.speed)))

    def at(self, speed: float, *, start: np.ndarray | None = None) -> Point:
        """The solved point at one `speed` in rev/min, reached from low speed upward like a sweep
        when there is no `start`."""
        if start is not None:
            return self.point(self.raw(np.array([speed]), start=start), 0)
        raw = self.raw(approach(self.path, speed))
        return self.point(raw, len(raw.speed) - 1)

    def point(self, raw: RawSolution, i: int) -> Point:
        """Point `i` of a raw solution with its names."""
        return self._reading.point(raw, i)

    @cached_property
    def _reading(self) -> Reading:
        return Reading(self.path, self.day_factor, self.packed[k.TURBINE], self.packed[k.GAS], self.packed[k.BURNT])


def approach(path: AirPath, speed: float) -> np.ndarray:
    """Engine speeds in rev/min that lead from low speed up to `speed`: the branch that an engine
    pulling up from below is on."""
    low = min(0.55 * speed, max(path.engine.idle, 700.0))
    if speed <= low * 1.05:
        return np.array([speed])
    count = max(int((speed - low) / 500.0), 2)
    return np.linspace(low, speed, count + 1)


def sweep_speeds(path: AirPath) -> np.ndarray:
    """Engine speeds in rev/min from idle, rounded up, to the rev limit, which is the last."""
    first = math.ceil(path.engine.idle / SWEEP_STEP) * SWEEP_STEP
    speeds = np.arange(first, path.engine.rev_limit - 1e-6, SWEEP_STEP)
    return np.append(speeds, path.engine.rev_limit)


def target_point(solver: Solver, raw: RawSolution) -> Point:
    """The point at the target speed, followed upward from the last solved one of a full-load curve
    below it: the branch that an engine pulling up from below is on."""
    speed = solver.path.target.speed
    below = np.nonzero(raw.solved & (raw.speed <= speed))[0]
    if len(below) == 0:
        return solver.at(speed)
    return solver.at(speed, start=raw.solutions[below[-1]])


def prepare(path: AirPath) -> Solver:
    """Pack an air path for solving. Raises ValueError when its intercooler contradicts itself."""
    return Solver(path, packed(path), path.bounds())
