"""Everything in its place: ports, runs, turbos, cooler and throttle, and how the ends miss what they must meet."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from zarvik.core.layout.bodies import CollectorSizes, Head, TurboBody, TurboSizes, collector_inlets, log_inlets, turbo_body
from zarvik.core.layout.frame import Frame, Misalignment, frame_looking, mirrored_frame, miss, moved_frame, start
from zarvik.core.layout.run import Placed, Segment, place_pieces

PRIMARY = "primary:"
CAST = "cast"
BEHIND, INTAKE, HOT, COLD, EXHAUST = "manifold", "intake", "hot_pipe", "cold_pipe", "exhaust"
TANK = 0.07  # m that an end tank of an intercooler is wide; common practice, no source


@dataclass(frozen=True)
class Position:
    """Where something stands: `origin` m (along the crank, up, out from the head), the way into it by `heading` and
    `pitch` rad; `measured`: somebody held a tape to it."""

    origin: tuple[float, float, float]
    heading: float
    pitch: float
    measured: bool = False

    @property
    def frame(self) -> Frame:
        """The frame of it."""
        return frame_looking(np.array(self.origin), self.heading, self.pitch)


@dataclass(frozen=True)
class Primary:
    """The pieces (`segments`) from the port of a `cylinder` to the collector's inlet number `inlet` (from 1, of the
    bank's own collector); `id` its key."""

    id: str
    cylinder: int
    inlet: int
    segments: tuple[Segment, ...]


@dataclass(frozen=True, kw_only=True)
class Space:
    """What is known of where things stand. `order`: cylinders in the order in which they fire; `runs`: segments by the name of the
    run, `behind` the collector apart; `shaft`, `compressor`, `drain`: how the turbo is turned, rad; `turbos`: 1, or 2 with a
    manifold each, `scrolls` 1 or 2; `cooler`: width, height, thickness m of the core, None without one; `slip`: the collector is
    slipped on; `crossing`: length in m of a crossover that brings the second bank's gas to the one turbo, 0 for none; `log`: m from
    the flange to the middle of a log; `spread`: ratio of the longest primary over the shortest, less one, that will do; `radius`:
    tightest bend in m that can be had, over the outside diameter. `blown`: a blower stands in the place of the turbo; `envelope`: how
    far primaries may reach out from the head face, below and above the ports, m, 0 for as far as they like. `filter`: where the intake
    begins; `filter_size`: diameter and length m of the air filter there. `grows`: strains of manifold and exhaust when they are hot."""

    head: Head
    order: tuple[int, ...]
    primaries: tuple[Primary, ...]
    runs: tuple[tuple[str, tuple[Segment, ...]], ...]
    behind: tuple[Segment, ...]
    collector: CollectorSizes | None
    turbo: Position
    sizes: TurboSizes
    shaft: float
    compressor: float
    drain: float
    turbos: int
    scrolls: int
    cooler: tuple[float, float, float] | None
    cooler_in: Position
    cooler_out: Position
    throttle: Position
    tail: Position
    slip: bool = False
    crossing: float = 0.0
    log: float = 0.09
    spread: float = 0.02
    radius: float = 1.0
    blown: bool = False
    envelope: tuple[float, float, float] = (0.0, 0.0, 0.0)
    filter: Position = Position((0.0, 0.0, 0.0), 0.0, 0.0)
    filter_size: tuple[float, float] = (0.0, 0.0)
    grows: tuple[float, float] = (0.0, 0.0)

    @property
    def said(self) -> bool:
        """Has anybody said where anything stands, or built a primary of pieces?"""
        spots = (self.turbo, self.cooler_in, self.cooler_out, self.throttle, self.tail, self.filter)
        return bool(self.primaries) or any(s.measured for s in spots)


@dataclass(frozen=True, eq=False)
class Line:
    """A run in its place: `key` (its run, or `primary:` and a key), its pieces, where it begins and ends; what its end
    `meets` ("collector", "turbine", "compressor", "blower", "cooler", "throttle", "tail", empty for nothing) in the frame `goal`;
    `judged`: both ends are known, so that a miss is one. `bank`: 0 or 1."""

    key: str
    placed: tuple[Placed, ...]
    start: Frame
    goal: Frame | None = None
    meets: str = ""
    judged: bool = False
    bank: int = 0

    @property
    def end(self) -> Frame:
        """Where it ends."""
        return self.placed[-1].last if self.placed else self.start

    @cached_property
    def missed(self) -> Misalignment | None:
        """How its end misses what it must meet; None where there is nothing."""
        return miss(self.end, self.goal) if self.goal is not None else None

    @property
    def length(self) -> float:
        """Along its middle, in m."""
        return sum(p.segment.length for p in self.placed)


@dataclass(frozen=True, eq=False)
class Layout:
    """Everything in its place: `lines`, `turbos`, the `outlets` of the collectors with their `inlets`, `ports` by
    cylinder, the core's two faces (`cooler`; None without one), the `throttle`."""

    lines: tuple[Line, ...]
    turbos: tuple[TurboBody, ...]
    outlets: tuple[Frame, ...]
    inlets: tuple[tuple[Frame, ...], ...]
    ports: tuple[Frame, ...]
    cooler: tuple[Frame, Frame] | None
    throttle: Frame

    def line(self, key: str) -> Line | None:
        """The run of this key."""
        return next((one for one in self.lines if one.key == key), None)

    @property
    def primaries(self) -> tuple[Line, ...]:
        """The runs from ports to collectors."""
        return tuple(one for one in self.lines if one.key.startswith(PRIMARY))


def _reversed(segments: tuple[Segment, ...], end: Frame) -> tuple[Frame, tuple[Placed, ...]]:
    """A run that ends at a frame: where it begins, and its pieces. The roll of its first bend, which has none before it,
    turns the whole run about the way into its end: 0 comes from above."""
    first = next((i for i, s in enumerate(segments) if s.bends), None)
    turn = 0.0
    if first is not None:
        turn = segments[first].roll
        segments = (*segments[:first], dataclasses.replace(segments[first], roll=0.0), *segments[first + 1 :])
    free = place_pieces(segments, start())
    begin = moved_frame(start(), free[-1].last.rolled(turn), end) if free else end
    return begin, place_pieces(segments, begin)


@lru_cache(64)
def lay_out(space: Space) -> Layout:
    """Everything of a `space` in its place. What is not measured stands where its pipe ends; the turbo always stands
    where it is said."""
    banks = 2 if (space.turbos > 1 or space.crossing > 0.0) and space.head.banks > 1 else 1
    gases = [space.turbo.frame]
    if banks > 1:
        other = mirrored_frame(gases[0], space.head.middle)
        gases.append(Frame(other.origin + np.array([space.head.stagger, 0.0, 0.0]), other.axes))
    lines: list[Line] = []
    turbos, outlets, inlets = [], [], []
    ports = tuple(space.head.port(c) for c in range(1, space.head.cylinders + 1))
    for bank, gas in enumerate(gases):
        sign = -1.0 if bank else 1.0
        sizes = dataclasses.replace(space.sizes, left=not space.sizes.left) if bank else space.sizes
        crossing = bank == 1 and space.crossing > 0.0
        if not crossing:
            turbos.append(turbo_body(gas, sizes, shaft=sign * space.shaft, compressor=sign * space.compressor, drain=sign * space.drain))
        behind = space.behind if not bank else mirrored_run(space.behind)
        own = [c for c in range(1, space.head.cylinders + 1) if banks == 1 or space.head.bank_of(c) == bank]
        if space.collector is not None and space.collector.form == "log":
            outlet = _log_end(space, tuple(ports[c - 1] for c in own), gas)
            if not crossing:
                lines.append(Line(BEHIND if not bank else f"{BEHIND}:2", place_pieces(behind, outlet), outlet, gas, "turbine", True, bank))
            outlets.append(outlet)
            inlets.append(log_inlets(tuple(ports[c - 1] for c in own), space.log))
        else:
            outlet, pieces = _reversed(behind, gas)
            if pieces and not crossing:
                lines.append(Line(BEHIND if not bank else f"{BEHIND}:2", pieces, outlet, None, "", False, bank))
            outlets.append(outlet)
            count = max(len(own), 1)
            if space.collector is not None and space.collector.form != CAST:
                turned = dataclasses.replace(space.collector, count=count, turn=sign * space.collector.turn)
                found = collector_inlets(outlet, turned)
                # On the other bank they are numbered the other way round, as in a mirror.
                inlets.append((found[0], *reversed(found[1:])) if bank else found)
            else:
                inlets.append((outlet,) * count)
    lines += _primaries(space, ports, inlets)
    cold_lines, cooler, throttle = _cold_side(space, turbos[0])
    lines += cold_lines
    # Without a turbo the exhaust begins where the manifold ends.
    lines += _exhausts(space, [outlets[0]] if space.blown else [turbo.gas_out for turbo in turbos])
    return Layout(
        lines=tuple(lines),
        turbos=tuple(turbos),
        outlets=tuple(outlets),
        inlets=tuple(inlets),
        ports=ports,
        cooler=cooler,
        throttle=throttle,
    )


def _primaries(space: Space, ports: Sequence[Frame], inlets: Sequence[Sequence[Frame]]) -> Iterator[Line]:
    """From the `ports` to the `inlets` of each bank's collector."""
    for primary in space.primaries:
        if not 1 <= primary.cylinder <= len(ports):
            continue
        bank = space.head.bank_of(primary.cylinder) if len(inlets) > 1 else 0
        number = primary.inlet - 1
        goal = inlets[bank][number] if 0 <= number < len(inlets[bank]) else None
        port = ports[primary.cylinder - 1]
        yield Line(
            PRIMARY + primary.id,
            place_pieces(primary.segments, port),
            port,
            goal,
            "collector" if goal is not None else "",
            space.collector is not None,
            bank,
        )


def _cold_side(space: Space, body: TurboBody) -> tuple[list[Line], tuple[Frame, Frame] | None, Frame]:
    """Intake, charge pipes and what lies between them: the lines, the two faces of the intercooler, the throttle."""
    runs = dict(space.runs)
    intake = runs.get(INTAKE, ())
    if space.filter.measured:
        begin = space.filter.frame
        lines = [Line(INTAKE, place_pieces(intake, begin), begin, body.air_in, "blower" if space.blown else "compressor", True)]
    else:
        begin, pieces = _reversed(intake, body.air_in)
        lines = [Line(INTAKE, pieces, begin)]
    hot = place_pieces(runs.get(HOT, ()), body.air_out)
    end = hot[-1].last if hot else body.air_out
    cooler = None
    if space.cooler is not None:
        face = space.cooler_in.frame if space.cooler_in.measured else end
        across = space.cooler[0] + 2.0 * TANK
        out = space.cooler_out.frame if space.cooler_out.measured else face.moved(across)
        cooler = (face, out)
        lines.append(Line(HOT, hot, body.air_out, face, "cooler", space.cooler_in.measured))
        end = out
    else:
        lines.append(Line(HOT, hot, body.air_out))
    cold = place_pieces(_before_throttle(runs.get(COLD, ())), end)
    last = cold[-1].last if cold else end
    throttle = space.throttle.frame if space.throttle.measured else last
    judged = space.throttle.measured and (space.cooler is None or space.cooler_out.measured)
    lines.append(Line(COLD, cold, end, throttle, "throttle", judged))
    return lines, cooler, throttle


def _exhausts(space: Space, begins: Sequence[Frame]) -> Iterator[Line]:
    """From each turbo, or the manifold of a blower build, to the open; the second's is the mirror of the first's."""
    run, out = dict(space.runs).get(EXHAUST, ()), begins[0]
    tail = space.tail.frame if space.tail.measured else None
    yield Line(EXHAUST, place_pieces(run, out), out, tail, "tail" if tail is not None else "", tail is not None)
    if len(begins) > 1:
        out = begins[1]
        yield Line(f"{EXHAUST}:2", place_pieces(mirrored_run(run), out), out, bank=1)


def _before_throttle(segments: tuple[Segment, ...]) -> tuple[Segment, ...]:
    """The pieces up to a throttle."""
    found = []
    for s in segments:
        if s.kind == "throttle":
            break
        found.append(s)
    return tuple(found)


def mirrored_run(segments: tuple[Segment, ...]) -> tuple[Segment, ...]:
    """The mirror image of a run, for the other bank: it rolls the other way."""
    return tuple(dataclasses.replace(s, roll=-s.roll) if s.roll else s for s in segments)


def _log_end(space: Space, ports: tuple[Frame, ...], gas: Frame) -> Frame:
    """The end of the log that is nearer to the turbine, half a port's spacing behind the last port."""
    middles = np.array([p.moved(space.log).origin for p in ports])
    beyond = 0.5 * space.head.spacing
    low, high = middles[middles[:, 0].argmin()], middles[middles[:, 0].argmax()]
    if float(gas.origin[0]) < 0.5 * (low[0] + high[0]):
        return frame_looking(low - np.array([beyond, 0.0, 0.0]), -0.5 * math.pi, 0.0)
    return frame_looking(high + np.array([beyond, 0.0, 0.0]), 0.5 * math.pi, 0.0)


FIRING = {
    1: (1,),
    2: (1, 2),
    3: (1, 3, 2),
    4: (1, 3, 4, 2),
    5: (1, 2, 4, 5, 3),
    6: (1, 5, 3, 6, 2, 4),
    8: (1, 8, 4, 3, 6, 5, 7, 2),
    10: (1, 6, 5, 10, 2, 7, 3, 8, 4, 9),
    12: (1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10),
}
"""Firing orders that are usual; common practice, no source. Others are said."""


def firing(said: tuple[int, ...], cylinders: int) -> tuple[int, ...]:
    """The firing order that is `said`, or what is usual for so many `cylinders` (count): also where another number of them is
    named."""
    if len(said) == cylinders:
        return said
    return FIRING.get(cylinders, tuple(range(1, cylinders + 1)))


def firing_interval(order: tuple[int, ...], one: int, two: int) -> float:
    """Crank degrees between two cylinders of a four-stroke, the shorter way round; nan for one that never fires."""
    if one not in order or two not in order:
        return math.nan
    step = 720.0 / len(order)
    way = abs(order.index(one) - order.index(two)) * step
    return min(way, 720.0 - way)
