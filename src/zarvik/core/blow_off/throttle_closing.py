"""A foot that comes off: how large a blow-off valve has to be, and what a throttle that shuts does with it and without.

note: m mass flow, p pressure in the charge pipe, p_p plenum, n wheel speed, V volume of pipe and cooler, L, A its length and
bore area, B Greitzer's parameter. A compressor, a pipe, a volume and a throttle: E. M. Greitzer, ASME J. Eng. Power 98
(1976) 190, with the throttle that shuts, the valve that opens, and the wheel that slows down.
"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver
from zarvik.core.airpath.stations import COLD_PIPE, HOT_PIPE
from zarvik.core.blow_off.valve import VALVES, BlowOff
from zarvik.core.common.compiled import compiled
from zarvik.core.common.constants import AIR_CP, AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.compressor.lookup import efficiency_at, ends, log_ratio
from zarvik.core.stock.sizes import INDUCER_SHARE, openings
from zarvik.core.turbine.turbine import nozzle_function

SHUTS = 0.08  # s in which a foot shuts a throttle; common practice, no source
LEFT = 0.015  # of a throttle that stays open at idle; common practice, no source
OPENS = 0.03  # s in which a valve with a short wide hose opens; common practice, no source
FADES = 0.15  # s in which the power of the turbine falls to a third once fuel and air are gone; common practice, no source
LONGEST = 0.5  # s that is looked at
STEP = 1.5e-4  # s
IDLE_VACUUM = 0.65e5  # Pa below ambient in the plenum of an engine at idle; common practice, no source: 0.55 to 0.7 bar
SHUT_OFF = 0.5  # of the rise at the surge line that the turning wheel holds without flow; common practice, no source: 0.4 to 0.6
BACKWARD = 2.0  # how steeply it rises again with the flow turned back
MOMENT = 0.08  # s under the surge line that is a flutter and no surge; common practice, no source


def needed_area(solver: Solver, state: np.ndarray) -> float:
    """Effective area in m2 that passes what the compressors must move at the least, at the pressure of a solved `state` (SI)
    with the throttle shut: surge flow through an orifice to the open air (NACA 1135)."""
    path = solver.path
    chart = path.turbo.chart
    corrected = chart.surge_flow(float(state[k.MAP_RATIO])) * path.turbo.count
    flow = corrected * float(state[k.P1]) / chart.reference_pressure / math.sqrt(float(state[k.T1]) / chart.reference_temperature)
    p, t = float(state[k.P2]), float(state[k.T2])
    return flow * math.sqrt(DRY_AIR_GAS_CONSTANT * t) / (p * float(nozzle_function(max(p / path.site.pressure, 1.01), AIR_GAMMA)))


def room(solver: Solver) -> tuple[float, float, float]:
    """Volume m3 between compressor and throttle, length m and bore area m2 of the pipes in it."""
    path = solver.path
    elements = [e for run in (HOT_PIPE, COLD_PIPE) for e in path.runs[run]]
    length = max(sum(e.length for e in elements), 0.3)
    inner = [e for e in elements if e.length > 0.0]
    area = sum(e.area * e.length for e in inner) / length if inner else 0.25 * math.pi * 0.05**2
    return max(path.charge_volume - path.intake_volume, 5e-5), length, max(area, 1e-4)


def tip_speed(solver: Solver, state: np.ndarray) -> float:
    """Speed in m/s of the compressor's tips at a solved `state` (SI)."""
    chart = solver.path.turbo.chart
    inducer, _ = openings(float(chart.lines[-1].flow[-1]))
    wheel = float(state[k.MAP_SPEED]) * chart.maximum_speed * math.sqrt(float(state[k.T1]) / chart.reference_temperature)
    return math.pi * inducer / INDUCER_SHARE * wheel / 60.0


def sound(state: np.ndarray) -> float:
    """Speed of sound in m/s in the charge behind the compressor at a solved `state` (SI)."""
    return math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * float(state[k.T2]))


def greitzer(solver: Solver, state: np.ndarray) -> float:
    """Greitzer's B at a solved `state` (SI): tip speed over twice the speed of sound, times the root of the volume over bore area
    times length."""
    volume, length, area = room(solver)
    return tip_speed(solver, state) / (2.0 * sound(state)) * math.sqrt(volume / (area * length))


@dataclass(frozen=True, eq=False)
class ThrottleClosing:
    """A foot that comes off: `below` s that the flow stays under the surge line, how many times it turns `back` (a count),
    `peak` Pa absolute in the pipe; and the trace: `time` s, `pressure` Pa, `plenum` Pa, `flow` kg/s through the compressors,
    `edge` kg/s at surge."""

    below: float
    back: int
    peak: float
    time: np.ndarray
    pressure: np.ndarray
    plenum: np.ndarray
    flow: np.ndarray
    edge: np.ndarray


def simulate_lift_off(
    solver: Solver, state: np.ndarray, valve: BlowOff, *, step: float = STEP, longest: float = LONGEST, left: float = LEFT
) -> ThrottleClosing:
    """The throttle shut from a solved `state` (SI) with a `valve`, in steps of `step` s for `longest` s; `left`: share of it
    that stays open. Left of the surge line, which no map shows, the pressure falls by a cubic to `SHUT_OFF` of its rise at
    no flow (F. K. Moore, E. M. Greitzer, ASME J. Eng. Gas Turbines Power 108 (1986) 68)."""
    path, packed = solver.path, solver.packed
    lines, points = packed[k.LINES], packed[k.POINTS]
    chart, count = path.turbo.chart, path.turbo.count
    ambient = path.site.pressure
    p1, t1, t2 = float(state[k.P1]), float(state[k.T1]), float(state[k.T2])
    root = math.sqrt(t1 / chart.reference_temperature)
    scale = p1 / chart.reference_pressure / root * count  # kg/s of all for one kg/s corrected of one
    volume, length, area = room(solver)
    behind = max(path.intake_volume, 0.5e-3)
    flow, p, plenum = float(state[k.AIR]), float(state[k.P2]), float(state[k.P_PLENUM])
    warm = float(state[k.T_PLENUM])
    draws = flow / plenum  # the cylinders take by the plenum's pressure
    # The throttle's share of the loss from compressor to plenum: what is needed to pass the flow now
    passed = float(nozzle_function(max(p / plenum, 1.0005), AIR_GAMMA)) * p / math.sqrt(DRY_AIR_GAS_CONSTANT * t2)
    whole = flow / passed
    speed = float(state[k.MAP_SPEED])
    wheel = speed * chart.maximum_speed * root * math.pi / 30.0
    inertia = path.turbo.rotor * count
    power = float(state[k.SHAFT])
    below, back, peak, rows = march(
        lines,
        points,
        (float(step), float(longest), float(left)),
        (flow, p, plenum, wheel),
        (p1, t1, t2, float(ambient), float(scale), float(chart.maximum_speed * root)),
        (float(area / length), float(volume), float(behind), warm, draws, whole),
        (valve.diameter > 0.0, float(valve.spring), float(valve.area)),
        (float(inertia), power),
    )
    return ThrottleClosing(below, back, peak, *rows)


@compiled
def ratio_left_of_surge(ratio: float, share: float) -> float:
    """Pressure ratio of a compressor at a `share` of its surge flow where it makes the `ratio` at its surge line: that ratio right
    of it, a cubic down to no flow, and steeply up again when the flow is turned back."""
    if share >= 1.0:
        return ratio
    rise = ratio - 1.0
    if share >= 0.0:
        return 1.0 + rise * (SHUT_OFF + (1.0 - SHUT_OFF) * share * share * (3.0 - 2.0 * share))
    return 1.0 + rise * (SHUT_OFF + BACKWARD * share * share)


@compiled
def march(
    lines: np.ndarray,
    points: np.ndarray,
    steps: tuple[float, float, float],
    start: tuple[float, float, float, float],
    site: tuple[float, float, float, float, float, float],
    pipe: tuple[float, float, float, float, float, float],
    valve: tuple[bool, float, float],
    rotor: tuple[float, float],
) -> tuple[float, int, float, np.ndarray]:
    """s under the surge line, how many times the flow turns back (a count), highest pressure in Pa, and rows of the trace (time s,
    pressure and plenum Pa, flow and surge flow kg/s). `lines`, `points`: of a packed map. `steps`: one step and all of them in s, share of
    the throttle that stays open. `start`: flow kg/s, pressure and plenum Pa, wheel rad/s. `site`: pressure Pa and temperature K at the
    inlet, K behind the compressor, ambient Pa, kg/s of all for one kg/s corrected of one, rev/min of a wheel at the map's speed 1. `pipe`:
    bore area over length in m, volume before and behind the throttle in m3, K of the plenum, kg/s that the engine draws for a Pa,
    effective area in m2 of the throttle. `valve`: is there one, its spring in Pa, its area in m2. `rotor`: inertia kg m2, power W."""
    step, longest, left = steps
    flow, p, plenum, wheel = start
    p1, t1, t2, ambient, scale, fastest = site
    inertance, volume, behind, warm, draws, whole = pipe
    fitted, spring, blow_area = valve
    inertia, power = rotor
    sound = math.sqrt(DRY_AIR_GAS_CONSTANT * t2)
    speed = wheel * 30.0 / math.pi / fastest
    opened, peak, below, back, forward = 0.0, p, 0.0, 0, True
    count = round(longest / step)
    rows = np.zeros((5, (count + 9) // 10))
    for number in range(count):
        now = number * step
        throttle = whole * max(1.0 - now / SHUTS, left)
        through = throttle * p / sound * nozzle_function(max(p / plenum, 1.0), AIR_GAMMA) if p > plenum else 0.0
        target = 1.0 if fitted and p - plenum > spring else 0.0
        opened += max(min(target - opened, step / OPENS), -step / OPENS)
        blown = blow_area * opened * p / sound * nozzle_function(p / ambient, AIR_GAMMA) if p > ambient else 0.0
        edge = ends(lines, speed)[0] * scale
        right = max(flow, edge) / scale
        made = p1 * ratio_left_of_surge(math.exp(log_ratio(lines, points, speed, right)), flow / edge)
        efficiency = efficiency_at(lines, points, speed, right)[0]
        rise = AIR_CP * t1 * (max(made / p1, 1.0) ** ((AIR_GAMMA - 1.0) / AIR_GAMMA) - 1.0) / efficiency
        peak = max(peak, p)
        if number % 10 == 0:
            row = number // 10
            rows[0, row], rows[1, row], rows[2, row], rows[3, row], rows[4, row] = now, p, plenum, flow, edge
        below += step if flow < edge else 0.0
        if flow < 0.0 and forward:
            back += 1
        forward = flow >= 0.0
        flow += step * inertance * (made - p)
        p += step * AIR_GAMMA * DRY_AIR_GAS_CONSTANT * t2 / volume * (flow - through - blown)
        plenum += step * DRY_AIR_GAS_CONSTANT * warm / behind * (through - draws * plenum)
        p, plenum = max(p, 0.3 * ambient), max(plenum, 0.15 * ambient)
        energy = 0.5 * inertia * wheel * wheel + step * (power * math.exp(-now / FADES) - max(flow, 0.0) * rise)
        wheel = math.sqrt(max(2.0 * energy / inertia, 1.0))
        speed = max(wheel * 30.0 / math.pi / fastest, 0.05)
    return below, back, peak, rows


def size_for(solver: Solver, state: np.ndarray, valve: BlowOff) -> float | None:
    """The smallest valve that is sold (m) with which the compressor does no more than flutter for a moment when the throttle shuts
    from a solved `state` (SI), the `valve` otherwise as it is; None where none does."""
    for diameter in VALVES:
        found = simulate_lift_off(solver, state, dataclasses.replace(valve, diameter=diameter))
        if found.below <= MOMENT and found.back <= 1:
            return diameter
    return None


def spring_window(boost: float) -> tuple[float, float]:
    """What a spring may open at, Pa of charge pipe over plenum: over what an engine at idle has across the valve, so that it
    stays shut, and under what a shut throttle gives at the lowest `boost` (Pa gauge) that is driven."""
    return IDLE_VACUUM, boost + IDLE_VACUUM
