"""The fuel-air cycle: what an ideal engine with real, dissociating gas makes of a mixture.

The share of the heat that becomes work is not the same over lambda: rich gas dissociates less and
makes more moles, lean gas has the better specific heats. So the work is looked up, not shared out.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zarvik.core.compressor.lookup import monotone_slopes
from zarvik.core.engine.cycle_table import COMPRESSIONS, LAMBDAS, WORK


def _through(x: np.ndarray, y: np.ndarray, at: float) -> float:
    """The monotone cubic through points, held at its ends."""
    d = monotone_slopes(x, y)
    at = float(np.clip(at, x[0], x[-1]))
    i = int(np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(x) - 2))
    h = x[i + 1] - x[i]
    t = (at - x[i]) / h
    u = 1.0 - t
    return float(y[i] * u * u * (1 + 2 * t) + y[i + 1] * t * t * (3 - 2 * t) + h * t * u * (d[i] * u - d[i + 1] * t))


@lru_cache(4096)
def fuel_air_work(fuel: str, compression: float, lambda_: float) -> float:
    """Work in J per kg of dry air of the constant-volume fuel-air cycle.

    `fuel`: key; `compression` ratio 6-26, `lambda_` 0.45-20, held outside. Raises KeyError for a
    strange fuel. Source: Heywood 1988, ch. 5; table by Cantera (tools/make_cycle.py).
    """
    table = np.array(WORK[fuel])
    ratios = np.log(np.array(COMPRESSIONS))
    over = np.log(np.array(LAMBDAS))
    column = np.array([_through(ratios, row, float(np.log(compression))) for row in table])
    return 1000.0 * _through(over, column, float(np.log(lambda_)))
