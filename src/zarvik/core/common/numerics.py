"""A root finder, an integral, and SciPy's filters of pictures, loaded when they are first used: its packages take a third of a second, and
a window is to stand at once."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache
from typing import Any


def brentq(
    function: Callable[[float], float], low: float, high: float, *, xtol: float = 2e-12, rtol: float = 8.9e-16, maxiter: int = 100
) -> float:
    """Where a `function` is 0 between `low` and `high` (each a number in the unit of its argument), to `xtol` + `rtol` of the root. Raises
    ValueError where it has the same sign at both, RuntimeError after `maxiter` steps.

    R. P. Brent, Algorithms for Minimization without Derivatives, 1973, ch. 4: inverse quadratic or straight steps, halves where they are no
    good. As `scipy.optimize.brentq`, whose package takes a third of a second to read: the first checks would wait for it.
    """
    a, b = float(low), float(high)
    fa, fb = float(function(a)), float(function(b))
    if fa == 0.0 or fb == 0.0:
        return a if fa == 0.0 else b
    if not fa * fb < 0.0:
        raise ValueError(f"f(a) and f(b) must have different signs: {fa:g} at {a:g}, {fb:g} at {b:g}")
    c, fc, step, before = a, fa, b - a, b - a
    for _ in range(maxiter):
        if fb * fc > 0.0:
            c, fc, step, before = a, fa, b - a, b - a
        if abs(fc) < abs(fb):
            a, b, c, fa, fb, fc = b, c, b, fb, fc, fb
        near, half = 0.5 * (xtol + rtol * abs(b)), 0.5 * (c - b)
        if abs(half) <= near or fb == 0.0:
            return b
        if abs(before) < near or abs(fa) <= abs(fb):
            step = before = half
        else:
            s = fb / fa
            if a == c:
                p, q = 2.0 * half * s, 1.0 - s
            else:
                q, r = fa / fc, fb / fc
                p, q = s * (2.0 * half * q * (q - r) - (b - a) * (r - 1.0)), (q - 1.0) * (r - 1.0) * (s - 1.0)
            p, q = abs(p), -q if p > 0.0 else q
            if 2.0 * p < min(3.0 * half * q - abs(near * q), abs(before * q)):
                before, step = step, p / q
            else:
                step = before = half
        a, fa = b, fb
        b += step if abs(step) > near else math.copysign(near, half)
        fb = float(function(b))
    raise RuntimeError(f"no root after {maxiter} steps: {b:g}")


@lru_cache(1)
def _gauss() -> tuple[tuple[float, float], ...]:
    from numpy.polynomial.legendre import leggauss

    return tuple(zip(*(found.tolist() for found in leggauss(24)), strict=True))


def integral(function: Callable[[float], float], low: float, high: float) -> float:
    """Integral of a smooth `function` from `low` to `high` (each a number in the unit of its argument), by 24 points of Gauss and Legendre:
    what has a kink is given in two parts."""
    middle, half = 0.5 * (low + high), 0.5 * (high - low)
    return half * sum(weight * function(middle + half * x) for x, weight in _gauss())


def ndimage() -> Any:
    """`scipy.ndimage`."""
    import scipy.ndimage

    return scipy.ndimage
