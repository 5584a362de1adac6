"""A generator of invented compressor maps: one-dimensional flow through wheel and diffuser.

note: U blade speed, C absolute and W relative velocity, index 1 inducer, 2 exducer, t tangential,
m meridional, sigma slip factor, b2 exducer width.

Euler work with slip (F. J. Wiesner, J. Eng. Power 89 (1967) 558), incidence, skin friction, diffuser and volute losses and recirculation
in the form collected by H. W. Oh, E. S. Yoon, M. K. Chung, Proc. IMechE A 211 (1997) 331; inducer choking by the relative mass flow
parameter (S. L. Dixon, C. A. Hall, 2010, sec. 7.10); surge between the stall of diffuser and inducer. The constants are set so that
efficiencies and ranges come out as common for small turbochargers (peak 0.74–0.79; from memory, no source): it makes sizes behave as sizes
do and says nothing about any real part.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.compressor.chart import CompressorMap, SpeedLine

_CP = AIR_GAMMA / (AIR_GAMMA - 1.0) * DRY_AIR_GAS_CONSTANT  # of a perfect gas


@dataclass(frozen=True)
class Wheel:
    """A compressor wheel in its housing; lengths in m, angles in rad.

    `inducer`, `exducer`: tip diameters. `backsweep`: blade angle at the exducer from radial.
    `blades`: full plus half of the splitters. `tip_speed`: highest allowed, m/s.
    """

    inducer: float
    exducer: float
    hub: float = 0.30  # of the inducer
    width: float = 0.075  # of the exducer
    backsweep: float = math.radians(38.0)
    blades: float = 11.0
    tip_speed: float = 540.0
    diffuser: float = 1.65  # outer over exducer diameter


State = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]


def _points(wheel: Wheel, blade_speed: float, flow: np.ndarray, t1: float, p1: float, choke: float) -> State:
    """Pressure ratio, efficiency, flow angle into the diffuser (rad from radial), angle of the
    flow at the inducer's tip (rad from axial) at one exducer `blade_speed` (m/s) and each `flow` (kg/s)."""
    area1 = 0.25 * math.pi * wheel.inducer**2 * (1.0 - wheel.hub**2)
    density1 = p1 / (DRY_AIR_GAS_CONSTANT * t1)
    mean1 = wheel.inducer * math.sqrt((1.0 + wheel.hub**2) / 2.0)
    c1 = flow / (density1 * area1)
    static = np.full_like(flow, t1)
    for _ in range(20):
        static = np.maximum(t1 - c1 * c1 / (2.0 * _CP), 0.75 * t1)
        density = density1 * (static / t1) ** 2.5
        c1 = flow / (density * area1)
    u1 = blade_speed * mean1 / wheel.exducer
    w1 = np.hypot(u1, c1)
    u_tip = blade_speed * wheel.inducer / wheel.exducer
    tip_mach = np.hypot(u_tip, c1) / np.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * static)
    # The blade angle suits a fixed flow coefficient; what differs from it is incidence.
    incidence = u1 - c1 * 1.92
    area2 = math.pi * wheel.exducer * wheel.exducer * wheel.width * 0.94
    sigma = 1.0 - math.sqrt(math.cos(wheel.backsweep)) / wheel.blades**0.7
    # Above a relative Mach number of 0.85 at the inducer tip, shocks take their part.
    shock = 1.15 * np.maximum(tip_mach - 0.85, 0.0) ** 2 * 0.5 * w1**2
    entry = 0.62 * 0.5 * incidence**2
    ratio, efficiency = np.full_like(flow, 1.5), np.full_like(flow, 0.7)
    angle = np.zeros_like(flow)
    for _ in range(40):
        rise = 1.0 + (ratio ** (1.0 / 3.5) - 1.0) / np.maximum(efficiency, 0.2)
        density2 = density1 * (ratio**0.62) / np.maximum(rise**0.75, 0.3)
        cm2 = flow / (density2 * area2)
        ct2 = sigma * blade_speed - cm2 * math.tan(wheel.backsweep)
        c2 = np.hypot(cm2, ct2)
        w2 = np.hypot(cm2, blade_speed - ct2)
        work = blade_speed * ct2
        # Skin friction falls with Reynolds number; a wheel at low speed pays more of its work.
        friction = 0.125 * (400.0 / blade_speed) ** 0.45 * 0.5 * ((w1 + w2) / 2.0) ** 2
        slowed = np.maximum(w1 / np.maximum(w2, 1.0) - 1.15, 0.0)
        diffusion = 0.5 * slowed**2 * 0.10 * blade_speed**2
        angle = np.arctan2(ct2, cm2)
        flat = np.maximum(angle - math.radians(66.0), 0.0)
        diffuser = 0.5 * c2**2 * (0.23 + 0.35 * flat**2 * 8.0)
        clearance = 0.045 * work
        recirculation = 0.02 * np.tan(np.minimum(angle, math.radians(80.0))) * work * 0.35
        disc = 0.012 * blade_speed**2
        crowded = (flow / choke) ** 9 * 0.42 * work
        useful = work - friction - shock - entry - diffusion - diffuser - clearance - crowded
        spent = work + recirculation + disc
        efficiency = useful / spent
        base = 1.0 + useful / (_CP * t1)
        ratio = np.maximum(base, 0.3) ** 3.5
    tip = np.arctan2(u_tip, c1)
    return ratio, efficiency, angle, tip


def _choke_flow(wheel: Wheel, blade_speed: float, t1: float, p1: float) -> float:
    area1 = 0.25 * math.pi * wheel.inducer**2 * (1.0 - wheel.hub**2)
    throat = area1 * 0.665  # blade thickness and stagger
    u1 = blade_speed * wheel.inducer * math.sqrt((1.0 + wheel.hub**2) / 2.0) / wheel.exducer
    sound = math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * t1)
    inner = (2.0 + (AIR_GAMMA - 1.0) * (u1 / sound) ** 2) / (AIR_GAMMA + 1.0)
    inducer = throat * p1 / (DRY_AIR_GAS_CONSTANT * t1) * sound * inner ** ((AIR_GAMMA + 1) / (2 * (AIR_GAMMA - 1)))
    # At low speed the outlet, not the inducer, limits the flow: head is gone before it chokes.
    outlet = math.pi * wheel.exducer**2 * wheel.width * blade_speed * p1 / (DRY_AIR_GAS_CONSTANT * t1) * 0.62
    return (inducer**-4 + outlet**-4) ** -0.25


# A vaneless diffuser begins to stall where the flow enters it flatter than this from radial; wider ones
# earlier (Y. Senoo, Y. Kinoshita, J. Fluids Eng. 99 (1977) 104; the line from memory, within 2 degrees).
DIFFUSER_STALL = (math.radians(81.5), math.radians(37.0))  # at no width, less for each width / radius
# An inducer stalls at a steep flow onto its tip, the sooner the higher the relative Mach number
# (S. Kosuge, T. Ito, K. Nakanishi, J. Eng. Power 104 (1982) 782, in trend; values from memory).
INDUCER_STALL = (math.radians(80.5), math.radians(8.0), 0.7)


def _surge_flow(wheel: Wheel, blade_speed: float, flows: np.ndarray, states: State) -> float:
    """Flow in kg/s at which the stage surges: between the stall of its diffuser and that of its
    inducer, since it bears that of one of them for a while (geometric mean; band 8 %)."""
    into, tip = states[2], states[3]
    allowed = DIFFUSER_STALL[0] - DIFFUSER_STALL[1] * 2.0 * wheel.width
    u_tip = blade_speed * wheel.inducer / wheel.exducer
    mach = u_tip / np.sin(tip) / math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * 290.0)
    steep = INDUCER_STALL[0] - INDUCER_STALL[1] * np.maximum(mach - INDUCER_STALL[2], 0.0)
    # Both angles fall with the flow.
    one = float(np.interp(-allowed, -into, flows))
    two = float(np.interp(0.0, steep - tip, flows))
    return math.sqrt(one * two)


def generate(
    wheel: Wheel,
    name: str,
    *,
    reference_temperature: float = 298.0,
    reference_pressure: float = 1.0e5,
    fractions: tuple[float, ...] = (0.36, 0.48, 0.59, 0.69, 0.78, 0.86, 0.93, 1.0),
    points: int = 9,
) -> CompressorMap:
    """The map of a `wheel`, with lines at these `fractions` of its highest tip speed.

    Map at a `reference_temperature` in K and `reference_pressure` in Pa.
    """
    lines = []
    for fraction in fractions:
        blade_speed = fraction * wheel.tip_speed
        choke = _choke_flow(wheel, blade_speed, reference_temperature, reference_pressure)
        flows = np.linspace(0.12, 0.985, 240) * choke
        states = _points(wheel, blade_speed, flows, reference_temperature, reference_pressure, choke)
        ratios, effs = states[0], states[1]
        start = int(np.searchsorted(flows, _surge_flow(wheel, blade_speed, flows, states)))
        alive = np.nonzero((effs > 0.50) & (ratios > 1.0 + 0.42 * (ratios[start] - 1.0)))[0]
        stop = int(alive[-1])
        spread = 1.0 - (1.0 - np.linspace(0.0, 1.0, points)) ** 1.25
        chosen = np.unique((start + spread * (stop - start)).round().astype(int))
        speed = blade_speed / (math.pi * wheel.exducer) * 60.0
        lines.append(
            SpeedLine(
                float(round(speed, -2)),
                tuple(float(round(flows[i], 5)) for i in chosen),
                tuple(float(round(ratios[i], 4)) for i in chosen),
                tuple(float(round(effs[i], 4)) for i in chosen),
            )
        )
    return CompressorMap(name, reference_pressure, reference_temperature, lines[-1].speed, tuple(lines))
