"""The coupled steady solution of the cold side, compiled.

Unknowns of a point: the compressor's outlet pressure and the air flow. Residuals: the plenum
pressure that the path gives against the one asked for, and the air that the engine draws against
the air that flows. Newton with a numeric Jacobian and a damped step; nothing is nested but the
compressor's speed, which follows from flow and ratio.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.compiled import compiled
from zarvik.core.compressor.lookup import inverse
from zarvik.core.cooling.cooler import PRESENT, cool
from zarvik.core.ducts.march import march
from zarvik.core.engine.engine import air_demand
from zarvik.core.gas.properties import enthalpy, isentropic_temperature, temperature_of_enthalpy

# Numbers of the site and engine that the kernel reads
SITE_PRESSURE = 0
SITE_TEMPERATURE = 1
DISPLACEMENT = 2
MAP_PRESSURE = 3
MAP_TEMPERATURE = 4
SITE_SIZE = 5

# What it writes for each point
AIR = 0
P1 = 1
P2 = 2
T2 = 3
P_COOLER_IN = 4
P_COOLER_OUT = 5
T_COOLER_OUT = 6
P_PLENUM = 7
MAP_FLOW = 8
MAP_RATIO = 9
MAP_SPEED = 10
MAP_EFFICIENCY = 11
MAP_PLACE = 12
EFFECTIVENESS = 13
COOLER_HEAT = 14
COOLING_AIR_OUT = 15
MASS_RESIDUAL = 16
PRESSURE_RESIDUAL = 17
ITERATIONS = 18
CHOKED = 19  # index of the piece that chokes, -1 for none
SHAFT = 20  # W into the air
POINT_SIZE = 21

TOLERANCE = 1e-10
MOST_ITERATIONS = 40


@compiled
def path(
    site: np.ndarray,
    gas: np.ndarray,
    rows: np.ndarray,
    losses: np.ndarray,
    bounds: tuple[int, int, int],
    lines: np.ndarray,
    points: np.ndarray,
    cooler: np.ndarray,
    outlet_pressure: float,
    air: float,
    pieces: np.ndarray,
    state: np.ndarray,
    detailed: bool,
) -> int:
    """March `air` (kg/s) from ambient to plenum with the compressor outlet at `outlet_pressure`
    (Pa). Fills `pieces` and `state`; returns the index of a choking piece or -1."""
    ambient = site[SITE_TEMPERATURE]
    p1, choked = march(
        gas, rows, losses, 0, bounds[0], air, site[SITE_PRESSURE], ambient, pieces, detailed
    )
    if choked >= 0:
        return choked
    ratio = outlet_pressure / p1
    flow = air * math.sqrt(ambient / site[MAP_TEMPERATURE]) / (p1 / site[MAP_PRESSURE])
    speed, efficiency, place = inverse(lines, points, flow, ratio, state[MAP_SPEED])
    ideal = isentropic_temperature(gas, ambient, ratio)
    h1 = enthalpy(gas, ambient)
    rise = (enthalpy(gas, ideal) - h1) / efficiency
    t2 = temperature_of_enthalpy(gas, h1 + rise, ideal)
    state[AIR] = air
    state[P1] = p1
    state[P2] = outlet_pressure
    state[T2] = t2
    state[SHAFT] = air * rise
    state[MAP_FLOW] = flow
    state[MAP_RATIO] = ratio
    state[MAP_SPEED] = speed
    state[MAP_EFFICIENCY] = efficiency
    state[MAP_PLACE] = place
    p, choked = march(
        gas, rows, losses, bounds[0], bounds[1], air, outlet_pressure, t2, pieces, detailed
    )
    if choked >= 0:
        return choked
    state[P_COOLER_IN] = p
    t3 = t2
    state[EFFECTIVENESS] = 0.0
    state[COOLER_HEAT] = 0.0
    state[COOLING_AIR_OUT] = ambient
    if cooler[PRESENT] > 0.0:
        p, t3, effectiveness, heat, behind = cool(cooler, gas, air, p, t2, ambient)
        state[EFFECTIVENESS] = effectiveness
        state[COOLER_HEAT] = heat
        state[COOLING_AIR_OUT] = behind
    state[P_COOLER_OUT] = p
    state[T_COOLER_OUT] = t3
    p, choked = march(gas, rows, losses, bounds[1], bounds[2], air, p, t3, pieces, detailed)
    state[P_PLENUM] = p
    return choked


@compiled
def residuals(
    site: np.ndarray,
    gas: np.ndarray,
    rows: np.ndarray,
    losses: np.ndarray,
    bounds: tuple[int, int, int],
    lines: np.ndarray,
    points: np.ndarray,
    cooler: np.ndarray,
    efficiency: float,
    speed: float,
    wanted: float,
    x: float,
    y: float,
    pieces: np.ndarray,
    state: np.ndarray,
) -> tuple[float, float, int]:
    """Residuals of pressure and air at x = ln(p2 / wanted), y = ln(air)."""
    choked = path(
        site, gas, rows, losses, bounds, lines, points, cooler,
        wanted * math.exp(x), math.exp(y), pieces, state, False,
    )  # fmt: skip
    if choked >= 0:
        return 1.0, 1.0, choked
    demand = air_demand(
        gas, site[DISPLACEMENT], efficiency, speed, state[P_PLENUM], state[T_COOLER_OUT]
    )
    return math.log(state[P_PLENUM] / wanted), math.log(demand) - y, -1


@compiled
def solve(
    site: np.ndarray,
    gas: np.ndarray,
    rows: np.ndarray,
    losses: np.ndarray,
    bounds: tuple[int, int, int],
    lines: np.ndarray,
    points: np.ndarray,
    cooler: np.ndarray,
    efficiencies: np.ndarray,
    speeds: np.ndarray,
    wanted: np.ndarray,
    all_pieces: np.ndarray,
    states: np.ndarray,
) -> None:
    """Solve one point for each engine speed (rev/min) with the plenum at `wanted` (Pa absolute).

    Fills `all_pieces` (points, pieces, RESULTS) and `states` (points, POINT_SIZE). A point that
    does not close keeps its residuals, so that the caller can say so. Each point starts from the
    one before it, its Jacobian too, which Broyden's rule then keeps up to date (C. G. Broyden,
    Math. Comp. 19 (1965) 577).
    """
    x = 0.04
    hot = site[SITE_TEMPERATURE] + 25.0
    known = False
    a = b = c = d = 0.0
    for i in range(speeds.shape[0]):
        pieces = all_pieces[i]
        state = states[i]
        target = wanted[i]
        y = math.log(air_demand(gas, site[DISPLACEMENT], efficiencies[i], speeds[i], target, hot))
        first, second, choked = residuals(
            site, gas, rows, losses, bounds, lines, points, cooler, efficiencies[i], speeds[i],
            target, x, y, pieces, state,
        )  # fmt: skip
        # Start below choking: less air, then walk back up.
        tries = 0
        while choked >= 0 and tries < 40:
            y -= 0.1
            x += 0.02
            known = False
            first, second, choked = residuals(
                site, gas, rows, losses, bounds, lines, points, cooler, efficiencies[i],
                speeds[i], target, x, y, pieces, state,
            )  # fmt: skip
            tries += 1
        last_choked = choked
        count = 0
        while count < MOST_ITERATIONS and choked < 0:
            if abs(first) < TOLERANCE and abs(second) < TOLERANCE:
                break
            fresh = not known
            if fresh:
                step = 1e-6
                fx, sx, _ = residuals(
                    site, gas, rows, losses, bounds, lines, points, cooler, efficiencies[i],
                    speeds[i], target, x + step, y, pieces, state,
                )  # fmt: skip
                fy, sy, _ = residuals(
                    site, gas, rows, losses, bounds, lines, points, cooler, efficiencies[i],
                    speeds[i], target, x, y - step, pieces, state,
                )  # fmt: skip
                a = (fx - first) / step
                b = (first - fy) / step
                c = (sx - second) / step
                d = (second - sy) / step
                known = True
            det = a * d - b * c
            dx = (-first * d + second * b) / det
            dy = (-second * a + first * c) / det
            size = max(abs(dx), abs(dy))
            scale = 1.0 if size < 0.25 else 0.25 / size
            before = first * first + second * second
            f = first
            s = second
            for _ in range(12):
                f, s, choked = residuals(
                    site, gas, rows, losses, bounds, lines, points, cooler, efficiencies[i],
                    speeds[i], target, x + scale * dx, y + scale * dy, pieces, state,
                )  # fmt: skip
                if choked >= 0:
                    last_choked = choked
                elif f * f + s * s < before * (1.0 + 1e-9) or not fresh:
                    break
                scale *= 0.5
            if choked >= 0:
                if fresh:
                    break
                # An old Jacobian led into choking: go back and take a new one.
                known = False
                choked = -1
                count += 1
                continue
            dx *= scale
            dy *= scale
            after = f * f + s * s
            if after > before and not fresh:
                known = False
                count += 1
                continue
            x += dx
            y += dy
            length = dx * dx + dy * dy
            if length > 0.0:
                u = (f - first - a * dx - b * dy) / length
                v = (s - second - c * dx - d * dy) / length
                a += u * dx
                b += u * dy
                c += v * dx
                d += v * dy
            if after > 0.09 * before and not fresh:
                known = False
            first = f
            second = s
            count += 1
            if scale < 1e-3:
                break
        state[PRESSURE_RESIDUAL] = first
        state[MASS_RESIDUAL] = second
        state[ITERATIONS] = count
        closed = abs(first) < 1e-8 and abs(second) < 1e-8
        if closed:
            # Once more at the solution, with the numbers that only the reader wants.
            path(
                site, gas, rows, losses, bounds, lines, points, cooler,
                target * math.exp(x), math.exp(y), pieces, state, True,
            )  # fmt: skip
            hot = state[T_COOLER_OUT]
        else:
            x = 0.04
            hot = site[SITE_TEMPERATURE] + 25.0
            known = False
        state[CHOKED] = -1.0 if closed else float(last_choked)
