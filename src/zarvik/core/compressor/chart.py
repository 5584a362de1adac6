"""A compressor map as data, and everything that can be wrong with one.

Corrected quantities follow SAE J1826: corrected flow = m sqrt(T01 / T_ref) / (p01 / p_ref),
corrected speed = n sqrt(T_ref / T01). Ratio and efficiency are total to total.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np


@dataclass(frozen=True)
class SpeedLine:
    """One line of constant corrected speed, from surge to choke.

    `speed`: rev/min, corrected. `flow`: kg/s, corrected, rising. `ratio`: pressure ratio.
    `efficiency`: isentropic, 0–1. All three of the same length, two points at least.
    """

    speed: float
    flow: tuple[float, ...]
    ratio: tuple[float, ...]
    efficiency: tuple[float, ...]


@dataclass(frozen=True)
class MapFault:
    """What is wrong with a map: the speed line and point (counted from 1; 0 = the whole)."""

    line: int
    point: int
    text: str


@dataclass(frozen=True)
class CompressorMap:
    """A compressor map with the reference state that its corrected numbers stand on.

    `reference_pressure` Pa, `reference_temperature` K; `maximum_speed` rev/min, corrected.
    `lines` in rising speed.
    """

    name: str
    reference_pressure: float
    reference_temperature: float
    maximum_speed: float
    lines: tuple[SpeedLine, ...]

    @cached_property
    def surge_line(self) -> np.ndarray:
        """Points (flow kg/s, pressure ratio) of the left ends of the speed lines."""
        return np.array([(line.flow[0], line.ratio[0]) for line in self.lines])

    @cached_property
    def right_edge(self) -> np.ndarray:
        """Points (flow, pressure ratio) of the choke ends, then along the fastest line to surge."""
        ends = [(line.flow[-1], line.ratio[-1]) for line in self.lines]
        top = self.lines[-1]
        ends += [(m, r) for m, r in zip(top.flow[-2::-1], top.ratio[-2::-1], strict=True)]
        return np.array(ends)

    def surge_flow(self, ratio: float) -> float:
        """Corrected flow in kg/s on the surge line at a pressure `ratio`; similarity below it."""
        flow, ratios = self._surge
        if ratio <= ratios[0]:
            return float(flow[0] * math.sqrt(max(ratio - 1.0, 0.0) / (ratios[0] - 1.0)))
        return float(np.interp(ratio, ratios, flow))

    def flow_limit(self, ratio: float) -> float:
        """Highest corrected flow in kg/s inside the map at a pressure `ratio`: choke or speed."""
        flow, rising = self._limit
        return float(np.interp(ratio, rising, flow))

    @cached_property
    def _surge(self) -> tuple[np.ndarray, np.ndarray]:
        line = self.surge_line
        return line[:, 0].copy(), line[:, 1].copy()

    @cached_property
    def _limit(self) -> tuple[np.ndarray, np.ndarray]:
        edge = self.right_edge
        return edge[:, 0], np.maximum.accumulate(edge[:, 1])


def faults(chart: CompressorMap) -> list[MapFault]:
    """Everything that keeps a map from being used, with line and point; empty when it is sound."""
    found: list[MapFault] = []
    if not 200.0 <= chart.reference_temperature <= 400.0:
        found.append(MapFault(0, 0, "the reference temperature must be between 200 K and 400 K"))
    if not 5e4 <= chart.reference_pressure <= 2e5:
        found.append(MapFault(0, 0, "the reference pressure must be between 50 and 200 kPa"))
    if not math.isfinite(chart.maximum_speed) or chart.maximum_speed > 2e6:
        found.append(MapFault(0, 0, "the maximum speed must be at most 2,000,000 rev/min"))
    if len(chart.lines) > 80 or any(len(line.flow) > 400 for line in chart.lines):
        found.append(MapFault(0, 0, "a map can have at most 80 speed lines of 400 points"))
    if len(chart.lines) < 2:
        found.append(MapFault(0, 0, "a map needs at least two speed lines"))
    for i, line in enumerate(chart.lines, 1):
        found += _line_faults(i, line)
    if found:
        return found
    for i, (slow, fast) in enumerate(zip(chart.lines, chart.lines[1:], strict=False), 2):
        if fast.speed <= slow.speed:
            found.append(MapFault(i, 0, f"speed lines must rise: {fast.speed:g} after {slow.speed:g} rev/min"))
        elif fast.flow[0] <= slow.flow[0] or fast.flow[-1] <= slow.flow[-1]:
            found.append(MapFault(i, 0, "the surge and choke ends must move to higher flow with speed"))
        elif fast.ratio[0] <= slow.ratio[0]:
            found.append(MapFault(i, 1, "the surge end must move to a higher ratio with speed"))
        else:
            found += _crossing(i, slow, fast)
    if chart.lines and not chart.maximum_speed >= chart.lines[-1].speed * 0.999:
        found.append(MapFault(0, 0, "the maximum speed must not be below the fastest speed line"))
    return found


def _line_faults(i: int, line: SpeedLine) -> list[MapFault]:
    found = []
    if not (math.isfinite(line.speed) and 100.0 <= line.speed <= 2e6):
        found.append(MapFault(i, 0, f"speed {line.speed:g} rev/min must lie in 100 to 2,000,000"))
    if len(line.flow) < 2:
        found.append(MapFault(i, 1, "a speed line needs at least two points"))
    checks = (
        ("corrected flow", line.flow, 1e-4, 20.0),
        ("pressure ratio", line.ratio, 0.5, 10.0),
        ("efficiency", line.efficiency, 0.05, 0.95),
    )
    for title, values, low, high in checks:
        for j, value in enumerate(values, 1):
            if not math.isfinite(value):
                found.append(MapFault(i, j, f"{title} is not a number"))
            elif not low <= value <= high:
                found.append(MapFault(i, j, f"{title} {value:g} must lie in {low:g} to {high:g}"))
    for j in range(1, len(line.flow)):
        if not line.flow[j] > line.flow[j - 1]:
            found.append(MapFault(i, j + 1, "flow must increase from surge to choke along a line"))
        elif line.ratio[j] > line.ratio[j - 1] * 1.05:
            found.append(MapFault(i, j + 1, "the pressure ratio jumps up along the line"))
    return found


def _crossing(i: int, slow: SpeedLine, fast: SpeedLine) -> list[MapFault]:
    low, high = max(slow.flow[0], fast.flow[0]), min(slow.flow[-1], fast.flow[-1])
    if low >= high:
        return []
    flows = np.linspace(low, high, 40)
    gap = np.interp(flows, fast.flow, fast.ratio) - np.interp(flows, slow.flow, slow.ratio)
    if float(gap.min()) <= 0.0:
        where = float(flows[int(gap.argmin())])
        return [MapFault(i, 0, f"the lines of {slow.speed:g} and {fast.speed:g} rev/min cross at {where:.4g} kg/s")]
    return []
