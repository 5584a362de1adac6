"""Effectiveness of a cross-flow exchanger over its number of transfer units, compiled.

note: NTU = U A / C_min, C = m cp, Cr = C_min / C_max, eps = effectiveness.
"""

from __future__ import annotations

import math
from functools import lru_cache

from zarvik.core.common.compiled import compiled
from zarvik.core.common.sentences import Fault


@compiled
def crossflow_effectiveness(transfer_units: float, capacity_ratio: float) -> float:
    """Effectiveness 0–1 of cross-flow with both streams unmixed.

    `transfer_units` 0 and up, `capacity_ratio` 0–1. Source: F. P. Incropera, D. P. DeWitt,
    "Fundamentals of Heat and Mass Transfer", 6th ed., eq. 11.32; within 4 % of
    the exact series for 0.3 to 4 transfer units.
    """
    n = transfer_units
    c = capacity_ratio
    if n <= 0.0:
        return 0.0
    if c < 1e-9:
        return 1.0 - math.exp(-n)
    return 1.0 - math.exp(n**0.22 / c * (math.exp(-c * n**0.78) - 1.0))


@lru_cache(256)
def transfer_units_for(effectiveness: float, capacity_ratio: float) -> float:
    """The number of transfer units that gives `effectiveness`; raises ValueError past 0.98 of
    what the exchanger can reach with 40 units.

    `capacity_ratio` 0–1.
    """
    low, high = 0.0, 40.0
    if not 0.0 < effectiveness < 0.98 * crossflow_effectiveness(high, capacity_ratio):
        raise Fault("no cross-flow exchanger has an effectiveness of {0:.3g}", effectiveness)
    for _ in range(200):
        middle = 0.5 * (low + high)
        if crossflow_effectiveness(middle, capacity_ratio) < effectiveness:
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)
