"""A curve through points that never swings past them."""

from __future__ import annotations

import numpy as np


def slopes_of(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Slopes at rising `x` (two or more, each a number of any unit) of the cubic through `y` that keeps its shape: between two pieces that
    fall and rise, or lie flat, it is level; else the harmonic mean of theirs, weighted by the widths; at the ends of three points.

    Source: F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300; ends: C. Moler, Numerical Computing with MATLAB, 2004,
    ch. 3. As `scipy.interpolate.PchipInterpolator`, whose package takes half a second to read.
    """
    h, d = np.diff(x), np.diff(y) / np.diff(x)
    if len(h) == 1:
        return np.array([d[0], d[0]])
    inside = np.zeros(len(h) - 1)
    one, two = 2.0 * h[1:] + h[:-1], h[1:] + 2.0 * h[:-1]
    same = d[:-1] * d[1:] > 0.0
    inside[same] = (one + two)[same] / (one[same] / d[:-1][same] + two[same] / d[1:][same])
    return np.concatenate([[_end(h[0], h[1], d[0], d[1])], inside, [_end(h[-1], h[-2], d[-1], d[-2])]])


def _end(h0: float, h1: float, d0: float, d1: float) -> float:
    slope = ((2.0 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
    if slope * d0 <= 0.0:
        return 0.0
    return float(3.0 * d0) if d0 * d1 < 0.0 and abs(slope) > 3.0 * abs(d0) else float(slope)


def curve_of(x: np.ndarray, y: np.ndarray, at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Value and slope of that cubic through `y` at rising `x` (each a number of any unit), `at` points within `x`."""
    m = slopes_of(x, y)
    i = np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(x) - 2)
    h = x[i + 1] - x[i]
    t = (at - x[i]) / h
    value = (
        (1.0 + 2.0 * t) * (1.0 - t) ** 2 * y[i]
        + h * t * (1.0 - t) ** 2 * m[i]
        + t * t * (3.0 - 2.0 * t) * y[i + 1]
        + h * t * t * (t - 1.0) * m[i + 1]
    )
    slope = 6.0 * t * (t - 1.0) * (y[i] - y[i + 1]) / h + (1.0 - 4.0 * t + 3.0 * t * t) * m[i] + (3.0 * t * t - 2.0 * t) * m[i + 1]
    return value, slope
