"""What the pulses of the cylinders give a turbine over steady gas of the same mean pressure.

note: filling and emptying. Cylinders blow through their valves into the volume between valves and wheel, the turbine
(and a gate) empties it; pressure and temperature in the volume follow from mass and energy, no waves in the pipes
(N. Watson, M. S. Janota, "Turbocharging the Internal Combustion Engine", 1982, ch. 15 for the method, ch. 7 for pulse
against constant pressure). The gas is perfect here (gamma, R constant): what comes out are ratios. m kg, T K, p Pa, V m3.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.constants import EXHAUST_GAS_CONSTANT
from zarvik.core.turbine.monotone import curve_of
from zarvik.core.turbine.turbine import nozzle_function

GAMMA = 1.32  # burnt gas at 1,100 K
OPENS = math.radians(130.0)  # of the crank after firing dead centre; common practice, no source: 50 degrees before bottom
CLOSES = math.radians(370.0)  # 10 degrees after the dead centre of the gas exchange
# Effective area of a cylinder's exhaust valves at full lift over the piston's; J. B. Heywood 1988, sec. 6.3 (memory)
VALVES = 0.11
MOST_CYCLES = 30
SETTLED = 1e-3


@dataclass(frozen=True)
class PulsedEntry:
    """What beats on one entry of a turbine. `fires`: crank angles in rad (0 to 4 pi, four-stroke) at which the cylinders
    of that entry fire; `cylinder`: swept volume of one m3, `piston`: its area m2, `rod`: crank over rod length,
    `compression` ratio; `volume` m3 between their valves and the wheel; `delays`: m of pipe from each port to the
    collector (as many as `fires`)."""

    fires: tuple[float, ...]
    cylinder: float
    piston: float
    compression: float
    volume: float
    delays: tuple[float, ...] = ()
    rod: float = 0.30


@compiled
def swept(angle: float, cylinder: float, compression: float, rod: float) -> float:
    """Volume in m3 over the piston at a crank `angle` in rad after dead centre; `cylinder` swept m3, `compression`
    ratio, `rod`: crank over rod length. J. B. Heywood, 1988, eq. 2.4 to 2.6."""
    sine = math.sin(angle)
    way = 1.0 - math.cos(angle) + (1.0 - math.sqrt(1.0 - rod * rod * sine * sine)) / rod
    return cylinder * (1.0 / (compression - 1.0) + 0.5 * way)


@compiled
def flow(area: float, p: float, t: float, behind: float) -> float:
    """Mass flow in kg/s through an effective `area` m2 from total pressure `p` Pa at `t` K to `behind` Pa; none
    backwards."""
    if p <= behind:
        return 0.0
    return area * p / math.sqrt(EXHAUST_GAS_CONSTANT * t) * nozzle_function(p / behind, GAMMA)


@compiled
def solve_pulse_cycle(
    fires: np.ndarray,
    delays: np.ndarray,
    sizes: np.ndarray,
    area: float,
    gate: float,
    charge: float,
    hot: float,
    behind: float,
    speed: float,
    guess: float,
    trace: np.ndarray,
) -> tuple[float, float, float, float]:
    """One entry beaten until a cycle is like the one before: mean pressure Pa, mean flow kg/s through the turbine, mean
    ideal work of it in W with the efficiency over its best, and mean temperature K of what flows (by mass).

    `fires` rad, `delays` s, `sizes`: swept volume m3, piston area m2, compression, crank over rod, volume m3. `area`,
    `gate`: effective m2 of turbine and gate; `charge` kg in a cylinder when its valve opens, `hot` K then; `behind` Pa
    behind the turbine; engine `speed` rad/s; `guess`: about the mean pressure over the one behind. At the mean pressure the wheel turns at
    its best blade-speed ratio. `trace`: filled with the pressure in Pa over the last cycle, in even steps.
    """
    cylinder, piston, compression, rod, volume = sizes[0], sizes[1], sizes[2], sizes[3], sizes[4]
    count = fires.shape[0]
    cp = GAMMA * EXHAUST_GAS_CONSTANT / (GAMMA - 1.0)
    cv = cp - EXHAUST_GAS_CONSTANT
    steps = trace.shape[0]
    dt = 4.0 * math.pi / steps / speed
    mass = np.zeros(count)
    temperature = np.full(count, hot)
    p = behind * max(guess, 1.05)
    t = hot / 1.15
    before, flow_before = 0.0, 0.0
    mean_p, mean_m, mean_w, mean_t = 0.0, 0.0, 0.0, 0.0
    held = p * volume / (EXHAUST_GAS_CONSTANT * t)
    mean_ratio = max(guess, 1.05)
    for cycle in range(MOST_CYCLES):
        sum_p, sum_m, sum_w, sum_h = 0.0, 0.0, 0.0, 0.0
        for i in range(steps):
            now = 4.0 * math.pi * i / steps
            into, heat = 0.0, 0.0
            for c in range(count):
                angle = (now - delays[c] * speed - fires[c]) % (4.0 * math.pi)
                if angle < OPENS or angle >= CLOSES:
                    mass[c] = 0.0
                    continue
                if mass[c] <= 0.0:
                    mass[c] = charge
                    temperature[c] = hot
                v = swept(angle, cylinder, compression, rod)
                inside = mass[c] * EXHAUST_GAS_CONSTANT * temperature[c] / v
                lift = math.sin(math.pi * (angle - OPENS) / (CLOSES - OPENS))
                valve = VALVES * piston * min(1.0, 1.6 * lift * lift)
                if inside >= p:
                    gone = flow(valve, inside, temperature[c], p) * dt
                    gone = min(gone, 0.5 * mass[c])
                    carried = gone * cp * temperature[c]
                else:
                    gone = -flow(valve, p, t, inside) * dt
                    gone = max(gone, -0.2 * held)
                    carried = gone * cp * t
                # Volume and gas change together: work of the piston over the step
                after = swept(angle + 4.0 * math.pi / steps, cylinder, compression, rod)
                energy = mass[c] * cv * temperature[c] - carried - inside * (after - v)
                mass[c] -= gone
                temperature[c] = max(energy / (mass[c] * cv), 200.0)
                into += gone
                heat += carried
            through = flow(area, p, t, behind) * dt
            past = flow(gate, p, t, behind) * dt
            ratio = max(p / behind, 1.0)
            head = cp * t * (1.0 - ratio ** ((1.0 - GAMMA) / GAMMA))
            mean_head = 1.0 - mean_ratio ** ((1.0 - GAMMA) / GAMMA)
            here = 1.0 - ratio ** ((1.0 - GAMMA) / GAMMA)
            share = 0.0
            if here > 1e-9:
                y = math.sqrt(max(mean_head, 1e-9) / here)
                share = y * (2.0 - y)
                if share < 0.1 and y > 1.0:
                    share = 0.1 * math.exp((share - 0.1) / 0.1)
            sum_p += p
            sum_m += through
            sum_w += through * head * share
            sum_h += through * t
            trace[i] = p
            out = through + past
            energy = held * cv * t + heat - out * cp * t
            held = max(held + into - out, 1e-9)
            t = min(max(energy / (held * cv), 300.0), 3000.0)
            p = held * EXHAUST_GAS_CONSTANT * t / volume
        cycle_time = 4.0 * math.pi / speed
        mean_p, mean_m, mean_w = sum_p / steps, sum_m / cycle_time, sum_w / cycle_time
        mean_t = sum_h / max(sum_m, 1e-12)
        mean_ratio = max(mean_p / behind, 1.0 + 1e-6)
        if cycle > 1 and abs(mean_p - before) < SETTLED * mean_p and abs(mean_m - flow_before) < SETTLED * mean_m:
            break
        before, flow_before = mean_p, mean_m
    return mean_p, mean_m, mean_w, mean_t


# ---- the table that the air path reads ----------------------------------------------------------
SPEEDS = 5
NODES = 9
HIGHEST = 4.0  # expansion ratio of the last node
_STEP = math.log(HIGHEST) / (NODES - 1)
_STEADY_RATIOS = (1.06, 1.2, 1.45, 2.0, 3.0)
_GAS = 1100.0  # K before the turbine; ratios hardly depend on it
_DENSITY = 1.15  # kg/m3 of air that an engine breathes without boost, with its fuel and what stays behind
_MOST_FILL = 4.0  # times what it holds without boost
COLUMNS = 6  # work, flow, overlap, each with its slope
WIDTH = 1 + COLUMNS * NODES
TABLE_SIZE = 1 + SPEEDS * WIDTH


@dataclass(frozen=True)
class Factors:
    """What pulses make of a turbine at one mean pressure: `work` a kg over that of steady gas at the mean pressure, `flow`
    over the steady one; `ratio`: that mean pressure over the one behind; `peak`, `trough`: highest and lowest pressure
    in the volume over the one behind; `overlap`: pressure at the ports while both valves of a cylinder stand open, over the
    mean."""

    work: float
    flow: float
    ratio: float
    peak: float
    trough: float
    overlap: float


OVERLAP = math.radians(360.0), math.radians(20.0)  # middle and half of it, of the crank after firing; common practice, no source
_WINDOW = np.linspace(-1.0, 1.0, 9)


def overlap_pressure(trace: np.ndarray, fires: np.ndarray, late: np.ndarray) -> float:
    """Mean pressure that the cylinders feel at their ports while both their valves stand open, in the unit of a `trace` over
    one cycle in even steps: what a neighbour blows there is what stays behind in them. `fires` rad; `late`: rad of the crank
    that a pulse takes from each port to the volume and back."""
    cycle = 4.0 * math.pi
    at = (fires[:, None] + OVERLAP[0] + OVERLAP[1] * _WINDOW[None, :] - late[:, None]) % cycle
    steps = np.arange(len(trace)) * (cycle / len(trace))
    return float(np.interp(at, steps, trace, period=cycle).mean())


def factors(
    beats: PulsedEntry, area: float, *, speed: float, ratio: float, behind: float = 1.05e5, steps: int = 0, trace: np.ndarray | None = None
) -> Factors:
    """The factors of one entry with an effective turbine `area` m2 at an engine `speed` in rev/min, when the gas is what
    a steady turbine would pass at the expansion `ratio`; what the cylinders hold without boost flows in any case, past
    a gate what is more. `behind` Pa; `steps` a cycle, 0 for one degree; `trace`: filled with the pressure over a cycle in
    Pa. Raises ValueError where nothing fires."""
    count = len(beats.fires)
    if not count:
        raise ValueError("no cylinder fires into this entry")
    cp = GAMMA * EXHAUST_GAS_CONSTANT / (GAMMA - 1.0)
    through = area * ratio * behind / math.sqrt(EXHAUST_GAS_CONSTANT * _GAS) * nozzle_function(ratio, GAMMA)
    charge = through * 120.0 / speed / count
    least = _DENSITY * beats.cylinder
    gate = 0.0
    if charge < least:
        gate = area * (least / charge - 1.0)
        charge = least
    elif charge > _MOST_FILL * least:
        charge = _MOST_FILL * least
    # Enthalpy that leaves: the energy in the cylinder and what the piston pushes out
    hot = (cp * _GAS - ratio * behind * beats.cylinder / charge) / (cp - EXHAUST_GAS_CONSTANT)
    delays = np.array(beats.delays or (0.0,) * count) / math.sqrt(GAMMA * EXHAUST_GAS_CONSTANT * _GAS)
    sizes = np.array([beats.cylinder, beats.piston, beats.compression, beats.rod, beats.volume])
    if trace is None:
        # Small volumes follow fast: a step is at most a tenth of what empties the volume
        empties = beats.volume / (math.sqrt(EXHAUST_GAS_CONSTANT * _GAS) * max(area + gate, VALVES * beats.piston))
        fine = 4.0 * math.pi / (speed * math.pi / 30.0) / (0.15 * empties)
        trace = np.empty(steps or int(min(max(fine, 360.0), 2880.0)))
    p, m, w, t = solve_pulse_cycle(
        np.array(beats.fires), delays - delays.min(), sizes, area, gate, charge, hot, behind, speed * math.pi / 30.0, ratio, trace
    )
    found = p / behind
    steady = area * p / math.sqrt(EXHAUST_GAS_CONSTANT * t) * nozzle_function(found, GAMMA)
    head = cp * t * (1.0 - found ** ((1.0 - GAMMA) / GAMMA))
    # The cycle begins with the shortest pipe's pulse; what stands in the volume is felt at a port late by its pipe
    late = (delays + delays.min()) * speed * math.pi / 30.0
    felt = overlap_pressure(trace, np.array(beats.fires), late)
    return Factors(
        work=w / (m * head),
        flow=m / steady,
        ratio=found,
        peak=float(trace.max()) / behind,
        trough=float(trace.min()) / behind,
        overlap=felt / p,
    )


@lru_cache(256)
def table(entries: tuple[PulsedEntry, ...], area: float, idle: float, limit: float, share: float = 1.0) -> np.ndarray:
    """What the kernel reads: how many engine speeds; for each its logarithm, and at even steps of the logarithm of the
    mean expansion ratio `work`, its slope, `flow`, its slope, `overlap`, its slope. `entries` share the effective `area` m2 evenly; `idle`,
    `limit` rev/min; `share` of the pulses that is counted, 1 for all."""
    found = np.zeros(TABLE_SIZE)
    found[0] = SPEEDS
    nodes = np.arange(NODES) * _STEP
    kinds = {entry: entries.count(entry) for entry in entries}
    for row, speed in enumerate(np.geomspace(max(idle, 700.0), limit, SPEEDS)):
        sums, slopes = np.zeros((COLUMNS // 2, NODES)), np.zeros((COLUMNS // 2, NODES))
        for entry, count in kinds.items():
            made = [factors(entry, area / len(entries), speed=float(speed), ratio=r) for r in _STEADY_RATIOS]
            x = np.log([f.ratio for f in made])
            kept = [0, *(i for i in range(1, len(x)) if x[i] > x[i - 1] + 0.02)]
            part = count / len(entries)
            for out, slope, values in zip(sums, slopes, zip(*((f.work, f.flow, f.overlap) for f in made), strict=True), strict=True):
                inside = np.clip(nodes, x[kept[0]], x[kept[-1]])
                if len(kept) < 2:
                    out += part * values[0]
                    continue
                value, rise = curve_of(x[kept], np.array(values)[kept], inside)
                out += part * value
                slope += part * rise * (inside == nodes)
        begin = 1 + row * WIDTH
        found[begin] = math.log(speed)
        body = found[begin + 1 : begin + WIDTH].reshape(NODES, COLUMNS)
        body[:, 0::2], body[:, 1::2] = 1.0 + share * (sums.T - 1.0), share * slopes.T
    found.setflags(write=False)
    return found


@compiled
def pulse_factors(pulses: np.ndarray, speed: float, ratio: float) -> tuple[float, float, float]:
    """Factors on work and flow of a turbine, and on the pressure at the ports during overlap, from a packed table at its end
    (`pulses`, empty or 0 for steady gas), at an engine `speed` in rev/min and the mean expansion `ratio`: cubic over the ratio,
    straight over the logarithm of the speed, held outside."""
    if pulses.shape[0] < TABLE_SIZE or pulses[0] < 2.0 or ratio <= 0.0:
        return 1.0, 1.0, 1.0
    x = min(max(math.log(ratio) / _STEP, 0.0), NODES - 1.0)
    i = min(int(x), NODES - 2)
    t = x - i
    level = math.log(max(speed, 1.0))
    row = 0
    while row < SPEEDS - 2 and level > pulses[1 + (row + 1) * WIDTH]:
        row += 1
    low, high = pulses[1 + row * WIDTH], pulses[1 + (row + 1) * WIDTH]
    upper = min(max((level - low) / (high - low), 0.0), 1.0)
    h00, h10 = (1.0 + 2.0 * t) * (1.0 - t) * (1.0 - t), t * (1.0 - t) * (1.0 - t)
    h01, h11 = t * t * (3.0 - 2.0 * t), t * t * (t - 1.0)
    work, flow, overlap = 0.0, 0.0, 0.0
    for k in range(2):
        part = upper if k else 1.0 - upper
        at = 2 + (row + k) * WIDTH + COLUMNS * i
        work += part * (h00 * pulses[at] + _STEP * h10 * pulses[at + 1] + h01 * pulses[at + 6] + _STEP * h11 * pulses[at + 7])
        flow += part * (h00 * pulses[at + 2] + _STEP * h10 * pulses[at + 3] + h01 * pulses[at + 8] + _STEP * h11 * pulses[at + 9])
        overlap += part * (h00 * pulses[at + 4] + _STEP * h10 * pulses[at + 5] + h01 * pulses[at + 10] + _STEP * h11 * pulses[at + 11])
    return work, flow, overlap
