"""What a dyno would print: power corrected to a standard day."""

from __future__ import annotations

import math

DRY_PRESSURE = 99.0e3  # Pa, of the standard day
TEMPERATURE = 298.15  # K
SLOPE, OFFSET = 1.18, 0.18  # of indicated power, and what friction keeps of it; SAE J1349


def standard_day_factor(*, dry_pressure: float, temperature: float) -> float:
    """Factor on brake power of a spark engine at full load.

    `dry_pressure`: ambient pressure less the vapour pressure, Pa; `temperature` of the inlet air in
    K. Source: SAE J1349 (1990 and later): 1.18 (99 kPa / p_dry) sqrt(T / 298 K) - 0.18, meant for
    factors from 0.93 to 1.07; with boost control it flatters a turbocharged engine.
    """
    return SLOPE * (DRY_PRESSURE / dry_pressure) * math.sqrt(temperature / TEMPERATURE) - OFFSET
