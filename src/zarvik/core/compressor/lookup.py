"""Look-up in a compressor map, both ways, smooth inside and honest outside.

note: N corrected speed over maximum, m corrected flow, phi = m / N flow coefficient,
psi = (ratio^(2/7) - 1) / N^2 head coefficient, s = place between surge (0) and choke (1).

On each line psi and efficiency run over s as monotone cubics (Fritsch & Carlson, SIAM J. Numer.
Anal. 17 (1980) 238) that meet every map point exactly; between lines psi, efficiency and the two
ends in phi run over N the same way. Outside of the lines psi and phi stay as they are: that is the
similarity law (flow with speed, head with its square). Left of surge the line bends flat, right
of choke it falls steeply; both are continuous with the map in value and slope.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.compressor.chart import CompressorMap

_POWER = 2.0 / 7.0
SURGE_REACH = 0.25  # how far left of surge the line goes on bending, in s
CHOKE_FALL = 6.0  # how steeply it falls right of choke, in parts of psi over s^2

# Columns of the per-line block of a packed map
_SPEED = 0
_POINTS = 1
_PHI_SURGE = 2
_PHI_CHOKE = 3
_PHI_SURGE_SLOPE = 4
_PHI_CHOKE_SLOPE = 5
_HEAD = 6
MAX_POINTS = 24


def monotone_slopes(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Slopes of a monotone cubic through (x, y): weighted harmonic mean inside, one-sided ends.

    Source: Fritsch & Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300.
    """
    h = np.diff(x)
    d = np.diff(y) / h
    slopes = np.empty(len(x))
    slopes[0], slopes[-1] = d[0], d[-1]
    for i in range(1, len(x) - 1):
        if d[i - 1] * d[i] <= 0.0:
            slopes[i] = 0.0
        else:
            one, two = 2 * h[i] + h[i - 1], h[i] + 2 * h[i - 1]
            slopes[i] = (one + two) / (one / d[i - 1] + two / d[i])
    return slopes


@lru_cache(64)
def pack(chart: CompressorMap) -> tuple[np.ndarray, np.ndarray]:
    """Arrays that the compiled look-up reads: per line (n, 6) and per point (n, 5, MAX_POINTS).

    The map must be free of `chart.faults`. Lines with more than MAX_POINTS points are thinned
    evenly, their ends kept.
    """
    count = len(chart.lines)
    lines = np.zeros((count, _HEAD))
    points = np.zeros((count, 5, MAX_POINTS))
    for i, line in enumerate(chart.lines):
        keep = np.arange(len(line.flow))
        if len(keep) > MAX_POINTS:
            keep = np.unique(np.linspace(0, len(keep) - 1, MAX_POINTS).round().astype(int))
        flow = np.array(line.flow)[keep]
        speed = line.speed / chart.maximum_speed
        place = (flow - flow[0]) / (flow[-1] - flow[0])
        psi = (np.array(line.ratio)[keep] ** _POWER - 1.0) / speed**2
        efficiency = np.array(line.efficiency)[keep]
        n = len(keep)
        lines[i, _SPEED] = speed
        lines[i, _POINTS] = n
        lines[i, _PHI_SURGE] = flow[0] / speed
        lines[i, _PHI_CHOKE] = flow[-1] / speed
        points[i, 0, :n] = place
        points[i, 1, :n] = psi
        points[i, 2, :n] = monotone_slopes(place, psi)
        points[i, 3, :n] = efficiency
        points[i, 4, :n] = monotone_slopes(place, efficiency)
    for value, slope in ((_PHI_SURGE, _PHI_SURGE_SLOPE), (_PHI_CHOKE, _PHI_CHOKE_SLOPE)):
        lines[:, slope] = monotone_slopes(lines[:, _SPEED], lines[:, value])
        lines[0, slope] = lines[-1, slope] = 0.0
    return lines, points


@compiled
def _hermite(x: float, x0: float, x1: float, y0: float, y1: float, d0: float, d1: float) -> float:
    h = x1 - x0
    t = (x - x0) / h
    u = 1.0 - t
    return y0 * u * u * (1.0 + 2.0 * t) + y1 * t * t * (3.0 - 2.0 * t) + h * t * u * (d0 * u - d1 * t)


@compiled
def _row(points: np.ndarray, count: int, value: int, place: float) -> float:
    """Value along one speed line at `place`; `value` 1 = psi, 3 = efficiency."""
    x = points[0]
    y = points[value]
    d = points[value + 1]
    if place < 0.0:
        return y[0] - d[0] * SURGE_REACH * (1.0 - math.exp(place / SURGE_REACH))
    if place > 1.0:
        over = place - 1.0
        last = count - 1
        if value == 1:
            return y[last] + d[last] * over - CHOKE_FALL * max(y[0], 0.01) * over * over
        fall = min(d[last], 0.0) / y[last]
        return y[last] * math.exp(fall * over) + (d[last] - fall * y[last]) * over / (1.0 + over * over)
    i = 0
    while i < count - 2 and place > x[i + 1]:
        i += 1
    return _hermite(place, x[i], x[i + 1], y[i], y[i + 1], d[i], d[i + 1])


@compiled
def _blend_slope(xa: float, xb: float, xc: float, ya: float, yb: float, yc: float) -> float:
    """Slope at the middle of three points by the rule of `monotone_slopes`."""
    ha = xb - xa
    hb = xc - xb
    da = (yb - ya) / ha
    db = (yc - yb) / hb
    if da * db <= 0.0:
        return 0.0
    one = 2.0 * hb + ha
    two = hb + 2.0 * ha
    return (one + two) / (one / da + two / db)


@compiled
def _across(lines: np.ndarray, points: np.ndarray, k: int, speed: float, value: int, place: float) -> float:
    """Value at `speed` between line k and k + 1 at one `place`."""
    n = lines.shape[0]
    x0 = lines[k, _SPEED]
    x1 = lines[k + 1, _SPEED]
    y0 = _row(points[k], int(lines[k, _POINTS]), value, place)
    y1 = _row(points[k + 1], int(lines[k + 1, _POINTS]), value, place)
    d0 = 0.0
    d1 = 0.0
    if k > 0:
        before = _row(points[k - 1], int(lines[k - 1, _POINTS]), value, place)
        d0 = _blend_slope(lines[k - 1, _SPEED], x0, x1, before, y0, y1)
    if k + 2 < n:
        after = _row(points[k + 2], int(lines[k + 2, _POINTS]), value, place)
        d1 = _blend_slope(x0, x1, lines[k + 2, _SPEED], y0, y1, after)
    return _hermite(speed, x0, x1, y0, y1, d0, d1)


@compiled
def ends(lines: np.ndarray, speed: float) -> tuple[float, float]:
    """Corrected flow (kg/s) at surge and at choke for a speed given over the maximum speed.

    `lines` as `pack` gives them.
    """
    n = lines.shape[0]
    if speed <= lines[0, _SPEED]:
        return lines[0, _PHI_SURGE] * speed, lines[0, _PHI_CHOKE] * speed
    if speed >= lines[n - 1, _SPEED]:
        return lines[n - 1, _PHI_SURGE] * speed, lines[n - 1, _PHI_CHOKE] * speed
    k = 0
    while k < n - 2 and speed > lines[k + 1, _SPEED]:
        k += 1
    a = lines[k]
    b = lines[k + 1]
    surge = _hermite(speed, a[0], b[0], a[_PHI_SURGE], b[_PHI_SURGE], a[_PHI_SURGE_SLOPE], b[_PHI_SURGE_SLOPE])
    choke = _hermite(speed, a[0], b[0], a[_PHI_CHOKE], b[_PHI_CHOKE], a[_PHI_CHOKE_SLOPE], b[_PHI_CHOKE_SLOPE])
    return surge * speed, choke * speed


@compiled
def _value(lines: np.ndarray, points: np.ndarray, speed: float, value: int, place: float) -> float:
    """psi (`value` 1) or efficiency (3) at `speed` and `place`, on the lines or past them."""
    n = lines.shape[0]
    if speed <= lines[0, _SPEED]:
        return _row(points[0], int(lines[0, _POINTS]), value, place)
    if speed >= lines[n - 1, _SPEED]:
        return _row(points[n - 1], int(lines[n - 1, _POINTS]), value, place)
    k = 0
    while k < n - 2 and speed > lines[k + 1, _SPEED]:
        k += 1
    return _across(lines, points, k, speed, value, place)


@compiled
def log_ratio(lines: np.ndarray, points: np.ndarray, speed: float, flow: float) -> float:
    """Logarithm of the pressure ratio at `speed` (over the maximum) and corrected `flow` (kg/s).

    `lines` and `points` as `pack` gives them.
    """
    surge, choke = ends(lines, speed)
    base = 1.0 + _value(lines, points, speed, 1, (flow - surge) / (choke - surge)) * speed * speed
    if base < 0.5:
        # Far right of choke the head goes on falling, ever more slowly: no number overflows.
        return 3.5 * (math.log(0.5) - math.log1p((0.5 - base) / 0.5))
    return 3.5 * math.log(base)


@compiled
def efficiency_at(lines: np.ndarray, points: np.ndarray, speed: float, flow: float) -> tuple[float, float]:
    """Isentropic efficiency and place s at `speed` (over the maximum) and corrected `flow`.

    `lines` and `points` as `pack` gives them.
    """
    surge, choke = ends(lines, speed)
    place = (flow - surge) / (choke - surge)
    efficiency = _value(lines, points, speed, 3, place)
    # Efficiency off the map fades toward a floor instead of crossing zero.
    if efficiency < 0.2:
        efficiency = max(0.2 * math.exp((efficiency - 0.2) / 0.2), 0.02)
    return efficiency, place


@compiled
def forward(lines: np.ndarray, points: np.ndarray, speed: float, flow: float) -> tuple[float, float, float]:
    """Pressure ratio, efficiency and place s from speed (over the maximum) and flow (kg/s).

    `lines` and `points` as `pack` gives them.
    """
    efficiency, place = efficiency_at(lines, points, speed, flow)
    return math.exp(log_ratio(lines, points, speed, flow)), efficiency, place


@compiled
def inverse(lines: np.ndarray, points: np.ndarray, flow: float, ratio: float, guess: float) -> tuple[float, float, float]:
    """Speed (over the maximum), efficiency and place s from flow (kg/s) and pressure ratio.

    `guess`: a speed near the answer saves time, 0 when there is none. The answer does not depend on it.
    `lines` and `points` as `pack` gives them.
    """
    target = math.log(ratio)
    low = 1e-3
    high = 3.0
    f_low = 0.0
    f_high = 0.0
    known_low = False
    known_high = False
    if low < guess < high:
        value = log_ratio(lines, points, guess, flow) - target
        width = max(1e-7, min(0.02, 1.2 * abs(value))) * guess
        if value > 0.0:
            high, f_high, known_high = guess, value, True
            other = guess - width
        else:
            low, f_low, known_low = guess, value, True
            other = guess + width
        value = log_ratio(lines, points, other, flow) - target
        if value > 0.0 and other < high:
            high, f_high, known_high = other, value, True
        elif value <= 0.0 and other > low:
            low, f_low, known_low = other, value, True
    if not known_low:
        f_low = log_ratio(lines, points, low, flow) - target
    if not known_high:
        f_high = log_ratio(lines, points, high, flow) - target
    speed = low
    side = 0
    for count in range(100):
        if f_high == f_low:
            break
        speed = (f_high * low - f_low * high) / (f_high - f_low)
        if not (low < speed < high) or count % 6 == 5:
            speed = 0.5 * (low + high)
        value = log_ratio(lines, points, speed, flow) - target
        if abs(value) < 1e-13 or high - low < 1e-14:
            break
        if value > 0.0:
            high = speed
            f_high = value
            if side == 1:
                f_low *= 0.5
            side = 1
        else:
            low = speed
            f_low = value
            if side == -1:
                f_high *= 0.5
            side = -1
    efficiency, place = efficiency_at(lines, points, speed, flow)
    return speed, efficiency, place
