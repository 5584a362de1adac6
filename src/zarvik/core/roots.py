"""SciPy's root finder, quadrature and filters of pictures, loaded when they are first used: they take a third of a second, and a window is to stand at once."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def brentq(function: Callable[..., float], low: float, high: float, **named: Any) -> float:
    """Where a `function` is 0 between `low` and `high` (each a number in the unit of its argument); `named` as of `scipy.optimize.brentq`. Raises ValueError where it
    has the same sign at both."""
    from scipy.optimize import brentq as found

    return float(found(function, low, high, **named))


def quad(function: Callable[..., float], low: float, high: float, **named: Any) -> tuple[float, float]:
    """Integral of a `function` from `low` to `high` (each a number in the unit of its argument) and its error; `named` as of `scipy.integrate.quad`."""
    from scipy.integrate import quad as integral

    found = integral(function, low, high, **named)
    return float(found[0]), float(found[1])


def ndimage() -> Any:
    """`scipy.ndimage`."""
    import scipy.ndimage

    return scipy.ndimage
