"""Heat through the wall of a duct, compiled: inside convection, layers, outside convection and
radiation.

note: Nu Nusselt number, h heat transfer coefficient, U overall, s skin, e emissivity.
"""

from __future__ import annotations

import math

from zarvik.core.common.compiled import compiled
from zarvik.core.common.constants import STEFAN_BOLTZMANN

STEADY_FACTOR = 0.023 * 0.71**0.4
PRANDTL = 0.71  # air and lean or rich burnt gas, 300–1300 K, within 5 %

PULSED_FACTOR, PULSED_POWER = 0.07, 0.75  # Nusselt number over Reynolds number in pulses; Depcik & Assanis 2002 (memory)


@compiled
def steady_nusselt(log_reynolds: float) -> float:
    """Nusselt number of steady turbulent pipe flow, from the logarithm of a Reynolds number of 4e3
    and up.

    Source: Dittus & Boelter in the form of McAdams 1942, 0.023 Re^0.8 Pr^0.4.
    `log_reynolds`: natural logarithm of the Reynolds number.
    """
    return STEADY_FACTOR * math.exp(0.8 * log_reynolds)


@compiled
def pulsating_nusselt(log_reynolds: float) -> float:
    """Nusselt number of the pulsating flow in an engine's ports and exhaust, from the logarithm of a
    Reynolds number of 1e3–1e6.

    Source: C. Depcik, D. Assanis, SAE 2002-01-0372: 0.07 Re^0.75 (from memory).
    `log_reynolds`: natural logarithm of the Reynolds number.
    """
    return PULSED_FACTOR * math.exp(PULSED_POWER * log_reynolds)


@compiled
def skin_temperature(gas: float, bay: float, inside: float, resistance: float, outside: float, emissivity: float) -> float:
    """Outer skin temperature in K where the heat from the gas meets what the bay takes.

    `gas` and `bay` temperature K; `inside` h W/(m2 K); `resistance` of the layers m2 K/W;
    `outside` convective h W/(m2 K); `emissivity` 0–1. All on one area.
    """
    through = 1.0 / (1.0 / max(inside, 1e-6) + resistance)
    # Start from radiation made straight at a mean temperature, then Newton.
    mean = bay + 0.35 * (gas - bay)
    straight = 4.0 * emissivity * STEFAN_BOLTZMANN * mean * mean * mean
    skin = bay + (gas - bay) * through / (through + outside + straight + 1e-12)
    for _ in range(30):
        radiated = emissivity * STEFAN_BOLTZMANN * (skin**4 - bay**4)
        balance = through * (gas - skin) - outside * (skin - bay) - radiated
        slope = through + outside + 4.0 * emissivity * STEFAN_BOLTZMANN * skin**3
        step = balance / slope
        skin += step
        if abs(step) < 1e-6 * skin:  # quadratic: the next step would be of 1e-12
            break
    return skin


@compiled
def metal_temperature(gas: float, skin: float, inside: float, resistance: float) -> float:
    """Temperature in K of the metal under a cover: on the gas's side of all layers. `gas`, outer `skin` K; `inside` W/(m2 K);
    `resistance` of the layers m2 K/W. Of a bare pipe it is its skin."""
    return gas - (gas - skin) / (1.0 + inside * resistance)


@compiled
def mild_skin_temperature(gas: float, bay: float, inside: float, resistance: float, outside: float, emissivity: float) -> float:
    """`skin_temperature` with the radiation made straight about the bay's and the gas's mean, in
    the same units: within 1 K for gas below 500 K, as charge air is.

    `inside`, `outside` W/(m2 K), `resistance` m2 K/W, `emissivity` 0–1.
    """
    through = 1.0 / (1.0 / max(inside, 1e-6) + resistance)
    mean = 0.5 * (gas + bay)
    away = outside + 4.0 * emissivity * STEFAN_BOLTZMANN * mean * mean * mean
    return bay + (gas - bay) * through / (through + away + 1e-12)


@compiled
def outlet_temperature(gas: float, bay: float, skin: float, inside: float, resistance: float, area: float, capacity: float) -> float:
    """Gas temperature in K at the end of a duct.

    `gas`, `bay`, `skin` K (skin at the inlet's gas temperature); `inside` h W/(m2 K);
    `resistance` m2 K/W; `area` m2; `capacity` m cp in W/K. Exponential along the duct with the
    overall coefficient that the skin temperature stands for.
    """
    if abs(gas - bay) < 1e-9 or area <= 0.0:
        return gas
    through = 1.0 / (1.0 / max(inside, 1e-6) + resistance)
    overall = through * (gas - skin) / (gas - bay)
    return bay + (gas - bay) * math.exp(-overall * area / max(capacity, 1e-9))
