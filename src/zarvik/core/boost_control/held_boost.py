"""What a spring really holds: boost over engine speed with the gate moved by its diaphragm, and what comes of a hose that
is off.

At each speed the boost is looked for at which the lift that the forces give is the lift that holds it. The forces open more
with more boost, and less lift is needed for it: there is one such boost.
"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.reading import RawSolution
from zarvik.core.airpath.solution import Solver
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.common.numerics import brentq
from zarvik.core.spool.pull import pull
from zarvik.core.wastegate.actuator import FOUR, MOST_DUTY, NONE, PLENUM, Actuator, lift_for

SHUT, HOLDING, WIDE = "shut", "holding", "fully open"
LEAST = 500.0  # Pa gauge that is asked for to see the gate wide open
MOST = 4.0e5  # Pa gauge beyond which nobody looks
NEAR = 5.0  # Pa
RUN_AWAY = 3.0e5  # Pa gauge beyond which a number would only seem to be one


@dataclass(frozen=True)
class GatePoint:
    """What stands at an engine `speed` in rev/min: `boost` Pa gauge in the plenum, share of the valve's `lift`, Pa gauge in
    the hose (`reference`), Pa `before` and `behind` the valve; the gate is "shut", "holding" or "wide open"."""

    speed: float
    boost: float
    lift: float
    reference: float
    before: float
    behind: float
    state: str


class _SpeedPoint:
    """One engine speed, solved for one boost after the other, each from the one before."""

    def __init__(self, solver: Solver, actuator: Actuator, speed: float, start: np.ndarray) -> None:
        self.solver, self.actuator, self.speed, self.start = solver, actuator, speed, start
        self.ambient = solver.path.site.pressure

    def solved(self, asked: float) -> np.ndarray | None:
        """The state when the gate is asked to hold so many Pa gauge; None where there is none."""
        raw = self.solver.at_pressure(np.array([self.speed]), np.array([self.ambient + asked]), start=self.start)
        if not raw.solved[0]:
            return None
        self.start = raw.solutions[0]
        found: np.ndarray = raw.states[0]
        return found

    def gauge(self, state: np.ndarray) -> float:
        """Pa gauge that the hose brings."""
        place = k.P_PLENUM if self.actuator.reference == PLENUM else k.P2
        return float(state[place]) - self.ambient

    def over(self, state: np.ndarray) -> float:
        """Lift that the forces give over the lift that is needed, in shares of the whole."""
        given = self.actuator.lift(self.gauge(state), float(state[k.P4]), self.behind(state))
        return min(max(given, -1.0), 2.0) - self.lift(state)

    def lift(self, state: np.ndarray) -> float:
        """The lift at which the gate stands, a share of the whole."""
        return lift_for(self.solver.path.gate, float(state[k.OPENING]))

    def boost(self, state: np.ndarray) -> float:
        """Pa gauge in the plenum."""
        return float(state[k.P_PLENUM]) - self.ambient

    def behind(self, state: np.ndarray) -> float:
        """Pa behind the valve."""
        return float(state[k.BEHIND_GATE])

    def held(self, state: np.ndarray, what: str) -> GatePoint:
        """The state as it is told, in Pa and shares; `what` the gate does."""
        return GatePoint(
            speed=self.speed,
            boost=float(state[k.P_PLENUM]) - self.ambient,
            lift=self.lift(state),
            reference=self.gauge(state),
            before=float(state[k.P4]),
            behind=self.behind(state),
            state=what,
        )


def _first(at: _SpeedPoint, actuator: Actuator) -> tuple[float, np.ndarray | None]:
    """A boost in Pa to begin with, near where the forces would balance if the exhaust pressed as the plenum does, and the state at it."""
    below, above = actuator.pressures(1.0)
    asked = min(max(actuator.spring / max(below - above + actuator.share, 0.2), 1e4), 0.5 * MOST)
    state = at.solved(asked)
    while state is None and asked > 4.0 * LEAST:
        # What nothing can stand at is not asked for.
        asked *= 0.5
        state = at.solved(asked)
    return asked, state


def gate_point(solver: Solver, actuator: Actuator, speed: float, start: np.ndarray) -> GatePoint | None:
    """What the gate of a `solver` holds with its `actuator` at one engine `speed` in rev/min, from the unknowns of a point
    nearby (`start`); None where nothing is solved."""
    at = _SpeedPoint(solver, actuator, speed, start)
    asked, state = _first(at, actuator)
    if state is None:
        return None
    low, high = math.nan, math.nan
    if at.over(state) >= 0.0:
        high = min(asked, at.boost(state))
        while True:
            asked /= 1.35
            if asked < 2.0 * LEAST:
                state = at.solved(LEAST)
                if state is None:
                    return None
                if at.over(state) >= 0.0:
                    return at.held(state, WIDE if state[k.OPENING] >= 1.0 - 1e-9 else HOLDING)
                low = at.boost(state)
                break
            state = at.solved(asked)
            if state is None:
                return None
            if at.over(state) < 0.0:
                low = max(asked, at.boost(state)) if state[k.OPENING] >= 1.0 - 1e-9 else asked
                break
            if state[k.OPENING] >= 1.0 - 1e-9:
                # Less is asked for than the open gate holds: it creeps.
                return at.held(state, WIDE)
            high = min(asked, at.boost(state))
    else:
        while True:
            if state[k.REGIME] <= 0.0:
                return at.held(state, SHUT)
            low, before = asked, state
            asked *= 1.35
            found = at.solved(asked) if asked < MOST else None
            if found is None:
                return at.held(before, SHUT if before[k.OPENING] <= 0.0 else HOLDING)
            state = found
            if at.over(state) >= 0.0:
                high = min(asked, at.boost(state))
                break

    def gap(boost: float) -> float:
        state = at.solved(boost)
        return at.over(state) if state is not None else math.nan

    if not (low < high and gap(low) < 0.0 <= gap(high)):
        # The two ends are one: what stands there stands.
        state = at.solved(high)
        return at.held(state, SHUT if state[k.OPENING] <= 0.0 else HOLDING) if state is not None else None
    boost = brentq(gap, low, high, xtol=NEAR, rtol=1e-9)
    state = at.solved(float(boost))
    return at.held(state, HOLDING) if state is not None else None


@dataclass(frozen=True, eq=False)
class Curve:
    """What stands over the rev range, a point a speed; those that nothing was found for are left out."""

    points: tuple[GatePoint, ...]

    @property
    def calculation(self) -> tuple[GatePoint, ...]:
        """Where the gate is at work."""
        return tuple(p for p in self.points if p.state != SHUT)

    @property
    def most(self) -> GatePoint | None:
        """The highest boost; None without a point."""
        return max(self.points, key=lambda p: p.boost, default=None)

    @property
    def first(self) -> GatePoint | None:
        """Where the gate first opens on the way up; None where it never does."""
        return next(iter(self.calculation), None)

    def at(self, speed: float) -> GatePoint | None:
        """The point nearest to a `speed` in rev/min."""
        return min(self.points, key=lambda p: abs(p.speed - speed), default=None)


SPEEDS = 12


def curve(solver: Solver, raw: RawSolution, actuator: Actuator, *, count: int = SPEEDS) -> Curve:
    """What the `actuator` holds over the rev range of a full-load curve `raw`, at `count` of its speeds: from where the
    turbine brings anything, to the limit. Empty without a gate or with a blower."""
    path = solver.path
    if path.gate.area <= 0.0 or path.blower is not None:
        return Curve(())
    good = np.nonzero(raw.solved)[0]
    if len(good) == 0:
        return Curve(())
    chosen = good[np.unique(np.linspace(0, len(good) - 1, count).round().astype(int))]
    found = [gate_point(solver, actuator, float(raw.speed[i]), raw.solutions[i]) for i in chosen]
    return Curve(tuple(h for h in found if h is not None))


def gate_point_near(solver: Solver, actuator: Actuator, speed: float) -> GatePoint | None:
    """`gate_point` an engine `speed` in rev/min from the nearest point of the full-load curve."""
    near = solver.full_load.near(speed)
    return gate_point(solver, actuator, speed, solver.full_load.solutions[near]) if near is not None else None


def duty_for(solver: Solver, actuator: Actuator, speed: float, boost: float) -> float:
    """The duty at which a solenoid holds a `boost` (Pa gauge in the plenum) at a `speed` in rev/min, 0 to 1; nan where none
    does, or the gate does not hold that. Closed form: the forces at the lift that is needed."""
    forces = duty_forces(solver, actuator, speed, boost)
    if forces is None or actuator.control == NONE:
        return math.nan
    reference, needed = forces
    part = 1.0 - needed / reference
    part = 0.5 * part if actuator.control == FOUR else part
    return part if -1e-9 <= part <= MOST_DUTY else math.nan


def duty_forces(solver: Solver, actuator: Actuator, speed: float, boost: float) -> tuple[float, float] | None:
    """Pressures in Pa gauge at a `speed` in rev/min at which the gate holds a `boost` (Pa gauge in the plenum): in the hose, and what the
    diaphragm has to get of it, which is the spring at that lift less what the gas pushes at the valve; None where the gate does not hold
    it."""
    near = solver.full_load.near(speed)
    if near is None:
        return None
    at = _SpeedPoint(solver, actuator, speed, solver.full_load.solutions[near])
    state = at.solved(boost)
    if state is None or state[k.OPENING] <= 0.0 or at.gauge(state) <= 0.0:
        return None
    needed = actuator.spring + (actuator.full - actuator.spring) * at.lift(state)
    return at.gauge(state), needed - actuator.share * (float(state[k.P4]) - at.behind(state))


def response_time(actuator: Actuator, temperature: float = 300.0) -> float:
    """Seconds that the air under a diaphragm takes to follow the pressure in its hose: chamber and hose fill through the
    hose's own friction, near the speed of sound at first (isentropic orifice, NACA 1135; f L / D with f of 0.03). `temperature`
    K; within a factor of two."""
    area = 0.25 * math.pi * actuator.hose**2
    through = area / math.sqrt(1.0 + 0.03 * actuator.long / actuator.hose)
    room = 0.25 * math.pi * actuator.diaphragm**2 * CHAMBER + area * actuator.long
    return room / (through * CRITICAL * math.sqrt(DRY_AIR_GAS_CONSTANT * temperature))


CHAMBER = 0.012  # m that the chamber under a diaphragm is high; common practice, no source
CRITICAL = 0.685  # nozzle function of air at Mach 1


@dataclass(frozen=True)
class Overshoot:
    """How far the boost runs past what is held when it comes fast: `rate` of its rise Pa/s, `late` s that the gate is, `over`
    Pa."""

    rate: float
    late: float
    over: float


def overshoot(solver: Solver, actuator: Actuator, speed: float) -> Overshoot | None:
    """What a pedal put down at a held engine `speed` in rev/min adds; None where the boost never comes."""
    pulled = pull(solver, speed)
    if len(pulled.time) < 6 or not math.isfinite(pulled.seconds):
        return None
    rate = float(pulled.boost[-1] - pulled.boost[-6]) / float(pulled.time[-1] - pulled.time[-6])
    late = response_time(actuator)
    return Overshoot(rate, late, max(rate, 0.0) * late)


def spring_for(solver: Solver, actuator: Actuator, speed: float, start: np.ndarray, boost: float) -> float:
    """The spring (Pa gauge at first opening on the bench) with which an actuator holds a `boost` (Pa gauge in the plenum) at
    a `speed` in rev/min, its rate in proportion; nan where the gate cannot hold that there. Closed form: the forces at
    the lift that is needed. `start`: unknowns of a point nearby."""
    at = _SpeedPoint(solver, actuator, speed, start)
    state = at.solved(boost)
    if state is None or state[k.OPENING] <= 0.0 or state[k.REGIME] > 1.0:
        return math.nan
    below, above = actuator.pressures(at.gauge(state))
    force = below - above + actuator.share * (float(state[k.P4]) - at.behind(state))
    growth = actuator.full / actuator.spring - 1.0
    return force / (1.0 + growth * at.lift(state))


# ---- hoses --------------------------------------------------------------------------------------
@dataclass(frozen=True)
class Hose:
    """A hose from one port to another: `key` ("signal", "lower", "upper", "vent"), where it begins and ends ("plenum",
    "compressor"; of the solenoid "in", "out", "other", "vent"; of the gate "lower", "upper"; "open")."""

    key: str
    begin: str
    end: str


def hoses(actuator: Actuator) -> tuple[Hose, ...]:
    """The hoses of an actuator with what stands in them. A three-port solenoid without current leads from its first to its
    second port, with current from its second to its third; a four-port one with current changes the two sides of the
    diaphragm over."""
    source = "plenum" if actuator.reference == PLENUM else "compressor"
    if actuator.control == NONE:
        return (Hose("signal", source, "lower"),)
    found = [Hose("signal", source, "in"), Hose("lower", "out", "lower")]
    if actuator.control == FOUR:
        found.append(Hose("upper", "other", "upper"))
    return (*found, Hose("vent", "vent", "open"))


@dataclass(frozen=True)
class HoseFailure:
    """What stands when a `hose` has come off (its vent is pinched); `held` None where nothing could be solved."""

    hose: Hose
    held: GatePoint | None


def failures(solver: Solver, actuator: Actuator, speed: float, start: np.ndarray) -> tuple[HoseFailure, ...]:
    """What each hose that comes off leads to at a `speed` in rev/min, from the unknowns of a point nearby (`start`)."""
    return tuple(
        HoseFailure(hose, gate_point(solver, dataclasses.replace(actuator, off=hose.key), speed, start)) for hose in hoses(actuator)
    )
