"""Knock screening: does the end gas have time to ignite by itself?

To rank and to warn, never to promise safety: charge temperature in the cylinder, residual gas, hot
spots and the true burn are not known.

note: tau ignition delay, ON octane number, x burnt share (Wiebe), LW Livengood-Wu integral.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.compiled import compiled
from zarvik.core.gas.combustion import Burn

ATMOSPHERE = 101_325.0
BURN_DEGREES = 52.0  # whole Wiebe duration at full load; from memory, 45–60
WIEBE = (5.0, 2.0)
HEATING = 28.0  # K that ports, walls and residual gas add before the valve closes; from memory
COMPRESSION_GAMMA = 1.33
BURNING_GAMMA = 1.28
WALL_SHARE = 0.16  # heat to the walls during the burn
END = 0.90  # burnt share past which there is no end gas worth the name


@compiled
def ignition_delay(octane: float, pressure: float, temperature: float) -> float:
    """Delay in s at `pressure` Pa and `temperature` K for an `octane` number of 80 to 120.

    Source: A. M. Douaud, P. Eyzat, SAE 780080 (1978): 17.68 ms (ON/100)^3.402 p^-1.7 exp(3800/T),
    p in atm.
    """
    return (
        0.01768
        * (octane / 100.0) ** 3.402
        * (pressure / ATMOSPHERE) ** -1.7
        * math.exp(3800.0 / temperature)
    )


@compiled
def knock_integral(
    octane: float,
    speed: float,
    plenum: float,
    charge: float,
    compression: float,
    heat_per_charge: float,
    gas_constant: float,
    retard: float,
) -> float:
    """Livengood-Wu integral of the end gas at 90 % burnt: above about 1 it would have ignited.

    `speed` rev/min, `plenum` Pa, `charge` K, `heat_per_charge` J per kg of trapped gas,
    `gas_constant` J/(kg K), `retard` degrees after best torque (50 % burnt at 8 degrees).
    Source: J. C. Livengood, P. C. Wu, 5th Symp. Combustion (1955) 347; Heywood 1988, sec. 9.6.
    """
    rod = 3.5  # connecting rod over crank radius
    start_temperature = charge + HEATING
    middle = 8.0 + retard
    a, m = WIEBE
    half = (math.log(2.0) / a) ** (1.0 / (m + 1.0))
    begin = middle - half * BURN_DEGREES
    step = 0.5
    seconds = step / (6.0 * speed)
    clearance = 1.0 / (compression - 1.0)
    theta = -140.0
    pressure = plenum
    volume0 = -1.0
    volume = 0.0
    mass = 0.0
    burnt = 0.0
    total = 0.0
    while theta < 100.0:
        angle = theta * math.pi / 180.0
        piston = 1.0 + rod - math.cos(angle) - math.sqrt(rod * rod - math.sin(angle) ** 2)
        now = clearance + 0.5 * piston
        if volume0 < 0.0:
            volume0 = now
            volume = now
            mass = plenum * now / (gas_constant * start_temperature)
        gamma = COMPRESSION_GAMMA if theta < begin else BURNING_GAMMA
        share = burnt
        if theta > begin:
            y = min((theta - begin) / BURN_DEGREES, 1.0)
            share = 1.0 - math.exp(-a * y ** (m + 1.0))
        heat = (share - burnt) * mass * heat_per_charge * (1.0 - WALL_SHARE)
        pressure = pressure * (volume / now) ** gamma + (gamma - 1.0) * heat / now
        volume = now
        burnt = share
        unburnt = start_temperature * (pressure / plenum) ** (1.0 - 1.0 / COMPRESSION_GAMMA)
        if theta > -60.0:
            total += seconds / ignition_delay(octane, pressure, unburnt)
        if burnt >= END:
            break
        theta += step
    return total


def heat_of_charge(burnt: Burn) -> float:
    """Heat in J that a kilogram of trapped gas gets: of air and fuel, with 4 % of residual gas."""
    return burnt.heat_per_air / (1.0 + burnt.fuel_per_air) * 0.96


def screen(
    *,
    octane: float,
    speed: np.ndarray,
    plenum: np.ndarray,
    charge: np.ndarray,
    compression: float,
    heat_per_charge: float,
    gas_constant: float,
    retard: float,
) -> np.ndarray:
    """`knock_integral` for many points; arguments in the same units."""
    return np.array(
        [
            knock_integral(
                octane,
                float(n),
                float(p),
                float(t),
                compression,
                heat_per_charge,
                gas_constant,
                retard,
            )
            for n, p, t in zip(speed, plenum, charge, strict=True)
        ]
    )
