"""A printed compressor map while it is traced: axes, traces, and the map that they make so far."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Fault
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.compressor.printed import MapQuality, PrintedMap, chart_of_printed
from zarvik.core.tracing.axes import Axes, Spot, Ticks
from zarvik.core.tracing.follow import WINDOW, snap_to_curve, trace_between

SPEED, ISLAND, SURGE, CHOKE = "speed", "island", "surge", "choke"
KINDS = (SPEED, ISLAND, SURGE, CHOKE)
MOST_TRACES = 120
PULL = 18.0  # px along a trace over which a point that is dragged takes its neighbours with it


@dataclass(eq=False)
class Trace:
    """A followed curve: its `kind`, its `value` (corrected speed in rev/min, or efficiency 0–1; 0 for surge and
    choke), and segments of spots in px, each from one click to the next."""

    kind: str
    value: float
    segments: list[np.ndarray] = field(default_factory=list)

    @property
    def spots(self) -> np.ndarray:
        """All spots in px, in the order of the clicks."""
        if not self.segments:
            return np.empty((0, 2))
        return np.vstack(self.segments)


@dataclass(eq=False, kw_only=True)
class Tracing:
    """The work on one `picture` (bytes; rows, columns, 3). `flow_unit`: kg/s for one of the axis across, or m3/s
    where `by_volume`; `pressure` Pa and `temperature` K that the print stands on; `peak` efficiency where it is
    printed, 0: not."""

    picture: np.ndarray
    across: Ticks | None = None
    up: Ticks | None = None
    flow_unit: float = 1.0
    by_volume: bool = False
    pressure: float = 1e5
    temperature: float = 298.0
    peak: float = 0.0
    traces: list[Trace] = field(default_factory=list)

    @property
    def axes(self) -> Axes | None:
        """The axes; None while one is missing. Raises Fault where they are none."""
        if self.across is None or self.up is None:
            return None
        return Axes(self.across, self.up)

    def snap(self, spot: Spot, reach: float = 10.0) -> Spot:
        """The drawn px near `spot` (px) within `reach` px."""
        return snap_to_curve(self.picture, spot, reach)

    def way(self, one: Spot, two: Spot, *, hasty: bool = False) -> np.ndarray:
        """The drawn curve between two spots (`one`, `two`, px); `hasty`: coarser, while a hand still moves."""
        return trace_between(self.picture, one, two, window=20_000 if hasty else WINDOW)

    def begin(self, kind: str, value: float) -> Trace:
        """A new trace of a `kind` (one of KINDS) with its `value` (rev/min, or 0–1). Raises Fault for a value that
        cannot be, or that is traced already."""
        if kind == SPEED and not 1000.0 <= value <= 2e6:
            raise Fault("a speed line needs its corrected speed in rpm, as 90000")
        if kind == ISLAND and not 0.2 <= value <= 0.9:
            raise Fault("an island needs its efficiency, as 72 %")
        if kind == SPEED and any(t.kind == kind and t.value == value for t in self.traces):
            raise Fault("the line of {0:g} rpm is already traced: remove it first, or use another speed", value)
        if len(self.traces) >= MOST_TRACES:
            raise Fault("a map can have at most {0} traces", MOST_TRACES)
        found = Trace(kind, value)
        self.traces.append(found)
        return found

    def drag(self, trace: Trace, start: Spot, end: Spot) -> None:
        """Pull the point of a `trace` that is nearest to `start` to `end` (px); its neighbours follow."""
        spots = trace.spots
        if len(spots) == 0:
            return
        nearest = int(np.hypot(*(spots - start).T).argmin())
        along = np.hypot(*(spots - spots[nearest]).T)
        weight = np.exp(-((along / PULL) ** 2))[:, np.newaxis]
        moved = spots + weight * (np.asarray(end) - spots[nearest])
        count = 0
        for i, segment in enumerate(trace.segments):
            trace.segments[i] = moved[count : count + len(segment)]
            count += len(segment)

    def _flow(self, values: np.ndarray) -> np.ndarray:
        """Corrected flow in kg/s of values on the axis across."""
        factor = self.flow_unit
        if self.by_volume:
            factor *= self.pressure / (DRY_AIR_GAS_CONSTANT * self.temperature)
        return values * factor

    def points(self, trace: Trace) -> np.ndarray:
        """A trace as rows of corrected flow in kg/s and pressure ratio. Raises Fault while there are no axes."""
        axes = self.axes
        if axes is None:
            raise Fault("set both axes first: two points on each, with their values")
        if len(trace.spots) == 0:
            return np.empty((0, 2))
        values = axes.values(trace.spots)
        return np.column_stack([self._flow(values[:, 0]), values[:, 1]])

    def printed(self, name: str) -> PrintedMap:
        """What has been read so far, called `name`. Raises Fault while there are no axes."""
        lines: dict[float, tuple[tuple[float, float], ...]] = {}
        islands = []
        edges = {kind: [self.points(t) for t in self.traces if t.kind == kind] for kind in (SURGE, CHOKE)}
        for trace in self.traces:
            rows = self.points(trace)
            if len(rows) < 2:
                continue
            if trace.kind == SPEED:
                lines[trace.value] = tuple(map(tuple, self._cut(rows, edges).tolist()))
            elif trace.kind == ISLAND:
                islands.append((trace.value, tuple(map(tuple, rows.tolist()))))
        return PrintedMap(
            name=name,
            reference_pressure=self.pressure,
            reference_temperature=self.temperature,
            lines=lines,
            islands=tuple(islands),
            peak=self.peak,
        )

    @staticmethod
    def _cut(rows: np.ndarray, edges: dict[str, list[np.ndarray]]) -> np.ndarray:
        """A speed line without what lies left of the surge line or right of the choke line."""
        keep = np.ones(len(rows), bool)
        for kind, sign in ((SURGE, 1.0), (CHOKE, -1.0)):
            for edge in edges[kind]:
                if len(edge) < 2:
                    continue
                order = edge[:, 1].argsort()
                ratio, flow = edge[order, 1], edge[order, 0]
                inside = (rows[:, 1] >= ratio[0]) & (rows[:, 1] <= ratio[-1])
                limit = np.interp(rows[:, 1], ratio, flow)
                keep &= ~(inside & (sign * (rows[:, 0] - limit) < 0.0))
        return rows[keep] if keep.sum() >= 2 else rows

    def result(self, name: str) -> tuple[CompressorMap, MapQuality]:
        """The map so far, called `name`, and how good it is. Raises Fault while there is none."""
        return chart_of_printed(self.printed(name))
