"""Saturation pressure of water over ice and over liquid."""

from __future__ import annotations

import math

from zarvik.core.common.constants import ZERO_CELSIUS

# R. W. Hyland, A. Wexler, ASHRAE Transactions 89-2A (1983) 500; ASHRAE Handbook of
# Fundamentals, Psychrometrics, eq. 5 (ice) and 6 (liquid).
_ICE = (-5.6745359e3, 6.3925247, -9.677843e-3, 6.2215701e-7, 2.0747825e-9, -9.484024e-13, 4.1635019)
_LIQUID = (-5.8002206e3, 1.3914993, -4.8640239e-2, 4.1764768e-5, -1.4452093e-8, 0.0, 6.5459673)


def saturation_pressure(temperature: float) -> float:
    """Saturation pressure of water in Pa at `temperature` in K, valid 173.15–473.15 K.

    Over ice below 273.15 K. Raises ValueError outside the range. Source: Hyland & Wexler 1983
    as printed in the ASHRAE Handbook of Fundamentals; 0.3 % of the standard steam tables.
    """
    if not 173.15 <= temperature <= 473.15:
        raise ValueError(f"saturation pressure is known from 173.15 K to 473.15 K: {temperature}")
    t = temperature
    c = _ICE if t < ZERO_CELSIUS else _LIQUID
    power = c[0] / t + c[1] + c[2] * t + c[3] * t**2 + c[4] * t**3 + c[5] * t**4
    return math.exp(power + c[6] * math.log(t))
