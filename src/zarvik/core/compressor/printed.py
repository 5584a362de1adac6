"""A map from what is printed of one: speed lines as points, efficiency as islands or not at all."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault
from zarvik.core.compressor.chart import CompressorMap, SpeedLine, faults
from zarvik.core.compressor.lookup import efficiency_at, pack
from zarvik.core.compressor.measured import TRIMS, map_of_wheel
from zarvik.core.stock.sizes import INDUCER_SHARE, openings

Points = Sequence[tuple[float, float]]  # corrected flow kg/s, pressure ratio

POINTS_A_LINE = 10
LOWEST, HIGHEST = 0.30, 0.86  # of efficiencies that a map is believed to have
MOST_ISLAND_POINTS = 500


@dataclass(frozen=True)
class MapQuality:
    """How well a map was read: `points` of the lines that were given, `lines`, worst `miss` of a given point
    beside the line that was made of them (share of the map's height), `covered`: share of the line points that
    lie inside of the outermost island, nan without islands, `crossings` of lines, and what is `wrong` with the
    map as it stands (empty when it can be used)."""

    points: int
    lines: int
    miss: float
    covered: float
    crossings: int
    wrong: tuple[str, ...]


@dataclass(frozen=True)
class PrintedMap:
    """What was read: `lines` by corrected speed in rev/min, `islands` of (efficiency 0–1, points), `peak`
    efficiency where it is printed (0: not). Reference state in Pa and K; `maximum` speed, 0 for the fastest
    line's."""

    name: str
    reference_pressure: float
    reference_temperature: float
    lines: Mapping[float, Points]
    islands: tuple[tuple[float, Points], ...] = ()
    peak: float = 0.0
    maximum: float = 0.0


def _line(points: Points) -> tuple[np.ndarray, np.ndarray]:
    """Points of one speed line in rising flow at even steps along the curve."""
    rows = np.array(sorted(points), float)
    keep = np.append(np.diff(rows[:, 0]) > 1e-9 * max(abs(rows[-1, 0]), 1e-9), True)
    rows = rows[keep]
    if len(rows) < 2:
        return rows[:, 0], rows[:, 1]
    flow, ratio = rows[:, 0], rows[:, 1]
    if len(rows) <= POINTS_A_LINE:
        return flow, ratio
    span = max(np.ptp(flow), 1e-9), max(np.ptp(ratio), 1e-3)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(flow) / span[0], np.diff(ratio) / span[1]))])
    at = np.linspace(0.0, along[-1], POINTS_A_LINE)
    return np.interp(at, along, flow), np.interp(at, along, ratio)


def _guess(lines: list[tuple[float, np.ndarray, np.ndarray]], top: float) -> list[np.ndarray]:
    """Efficiencies where none are printed: those of a wheel of the same choke flow by the mean line, at the same
    place between surge and choke and the same share of the highest speed."""
    choke = max(float(flow[-1]) for _, flow, _ in lines)
    inducer, _ = openings(choke)
    inducer = min(max(inducer, 0.013), 0.17)
    assert TRIMS[0] < 100.0 * INDUCER_SHARE**2 < TRIMS[1]
    like = map_of_wheel(round(inducer, 4), round(inducer / INDUCER_SHARE, 4), "like")
    packed, points = pack(like)
    found = []
    for speed, flow, _ in lines:
        share = speed / top
        ends = [(np.interp(share * like.maximum_speed, [q.speed for q in like.lines], [q.flow[i] for q in like.lines])) for i in (0, -1)]
        place = (flow - flow[0]) / max(flow[-1] - flow[0], 1e-12)
        there = ends[0] + place * (ends[1] - ends[0])
        found.append(np.array([efficiency_at(packed, points, share, float(m))[0] for m in there]))
    return found


def _of_islands(printed: PrintedMap, lines: list[tuple[float, np.ndarray, np.ndarray]]) -> tuple[list[np.ndarray], float]:
    """Efficiencies along the lines by a thin plate through the islands, and the share of the points inside of the
    outermost one."""
    rows = [(m, r, level) for level, points in printed.islands for m, r in points]
    every = max(len(rows) // MOST_ISLAND_POINTS, 1)
    data = np.array(rows[::every], float)
    wide = max(float(flow[-1]) for _, flow, _ in lines)
    high = max(max(float(ratio.max()) for _, _, ratio in lines) - 1.0, 1e-6)
    levels = sorted({level for level, _ in printed.islands})
    top = printed.peak or levels[-1] + (0.5 * (levels[-1] - levels[-2]) if len(levels) > 1 else 0.01)
    best = [np.mean(points, axis=0) for level, points in printed.islands if level == levels[-1]]
    peak = np.array([[*np.mean(best, axis=0), top]])
    data = np.vstack([data, peak])
    spots = np.column_stack([data[:, 0] / wide, (data[:, 1] - 1.0) / high])
    _, first = np.unique(np.round(spots, 5), axis=0, return_index=True)
    spots, values = spots[first], data[first, 2]
    # A second to load, for what few builds ask for
    from scipy.interpolate import RBFInterpolator

    plate = RBFInterpolator(spots, values, kernel="thin_plate_spline", smoothing=1e-5)
    lowest = min(level for level, _ in printed.islands)
    found, inside, total = [], 0, 0
    for _, flow, ratio in lines:
        value = plate(np.column_stack([flow / wide, (ratio - 1.0) / high]))
        inside += int(np.sum(value >= lowest - 0.005))
        total += len(value)
        # Beyond the outermost island the plate runs on straight: half as steep as that, and not without end.
        beyond = value < lowest
        value = np.where(beyond, lowest + 0.8 * (value - lowest), value)
        found.append(np.clip(value, LOWEST, top))
    return found, inside / max(total, 1)


def chart_of_printed(printed: PrintedMap) -> tuple[CompressorMap, MapQuality]:
    """The map of what was read, and how good it is; `wrong` says why it cannot be used.

    Raises Fault where there is no line at all, and for efficiencies that none has.
    """
    lines = [(float(speed), *_line(points)) for speed, points in sorted(printed.lines.items()) if len(points) > 1]
    lines = [entry for entry in lines if len(entry[1]) > 1]
    if not lines:
        raise Fault("there is no speed line with two points yet")
    for level, points in printed.islands:
        if not 0.2 <= level <= HIGHEST + 0.04:
            raise Fault("an efficiency of {0:.0f} % is impossible for a compressor", 100.0 * level)
        if len(points) < 2:
            raise Fault("an island needs at least two points")
    fastest = lines[-1][0]
    covered = math.nan
    if printed.islands:
        efficiency, covered = _of_islands(printed, lines)
    else:
        efficiency = _guess(lines, max(printed.maximum, fastest))
        if printed.peak:
            best = max(float(e.max()) for e in efficiency)
            efficiency = [np.clip(e * printed.peak / best, LOWEST, HIGHEST) for e in efficiency]
    chart = CompressorMap(
        printed.name,
        printed.reference_pressure,
        printed.reference_temperature,
        max(printed.maximum, fastest),
        tuple(
            SpeedLine(speed, _rounded(flow), _rounded(ratio), _rounded(eta))
            for (speed, flow, ratio), eta in zip(lines, efficiency, strict=True)
        ),
    )
    found = faults(chart)
    crossings = sum("cross" in f.text for f in found)
    high = max(float(ratio.max()) for _, _, ratio in lines) - 1.0
    miss = 0.0
    for speed, points in printed.lines.items():
        line = next((q for q in chart.lines if q.speed == speed), None)
        if line is None:
            continue
        for m, r in points:
            if line.flow[0] <= m <= line.flow[-1]:
                miss = max(miss, _beside(line, m, r, high))
    quality = MapQuality(
        points=sum(len(p) for p in printed.lines.values()),
        lines=len(lines),
        miss=miss,
        covered=covered,
        crossings=crossings,
        wrong=tuple(f.text for f in found),
    )
    return chart, quality


def _beside(line: SpeedLine, flow: float, ratio: float, high: float) -> float:
    """How far a point lies off the line made of it, square to it, as a share of the map's width and height."""
    wide = line.flow[-1]
    x, y = np.array(line.flow) / wide, np.array(line.ratio) / high
    px, py = flow / wide, ratio / high
    best = math.inf
    for i in range(len(x) - 1):
        dx, dy = x[i + 1] - x[i], y[i + 1] - y[i]
        t = min(max(((px - x[i]) * dx + (py - y[i]) * dy) / max(dx * dx + dy * dy, 1e-18), 0.0), 1.0)
        best = min(best, math.hypot(px - x[i] - t * dx, py - y[i] - t * dy))
    return best


def _rounded(values: np.ndarray) -> tuple[float, ...]:
    return tuple(float(f"{v:.6g}") for v in values)
