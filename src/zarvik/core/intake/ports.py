"""Openings along the way from the runner to the valve: their areas, the lips between them, how fast the charge goes there.

note: A area, v velocity, a of sound; while its valve is open a port passes a stroke's charge in a quarter of the time that two
turns take, so that v is four times the mean; the stroke is taken as half a sine.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from zarvik.core.ducts.element import circle

OPEN_SHARE = 0.25  # of two turns that a port passes its charge in: the intake stroke
PEAK = 0.5 * math.pi  # of a half sine over its mean
# Mean over the charge of v squared, over the square of the mean v: of a half sine, (pi / 2)^2 times 2 / 3
PULSED = PEAK**2 * 2.0 / 3.0
LIFTED = 1.45  # mean flow coefficient of a valve over its lift by its diameter, up to a quarter; C. F. Taylor 1985, ch. 6 (memory)
OVER = 0.25  # of its diameter beyond which more lift adds nothing: the curtain is as large as the head
RECTANGLE_CORNER = 0.15  # of the shorter side; common practice, no source


@dataclass(frozen=True)
class Opening:
    """An opening: `wide` and `high` m (0 high: as high as wide), `shape` as "round", "oval" or "rectangle", `count` of equal ones side by
    side."""

    wide: float = 0.0
    high: float = 0.0
    shape: str = "round"
    count: int = 1

    @property
    def tall(self) -> float:
        """Height in m."""
        return self.high or self.wide

    @property
    def area(self) -> float:
        """Area in m2 of all: corners of a rectangle are rounded by `RECTANGLE_CORNER`, those of an oval by half its shorter side."""
        return self.count * _box(self.wide, self.tall, _corner(self.shape, self.wide, self.tall))

    @property
    def said(self) -> bool:
        """Has somebody measured it?"""
        return self.wide > 0.0


@dataclass(frozen=True, kw_only=True)
class Ports:
    """Openings along the way, as measured: end of the `runner` in the manifold, hole of the `gasket`, `port` in the head, `throat` above
    the valve seat; how far the manifold is out of line sideways and upwards (`offset_sideways`, `offset_up`) in m; `valves` per cylinder,
    `valve_diameter` and `valve_lift` in m."""

    runner: Opening = field(default_factory=Opening)
    gasket: Opening = field(default_factory=Opening)
    port: Opening = field(default_factory=Opening)
    throat: Opening = field(default_factory=Opening)
    offset_sideways: float = 0.0
    offset_up: float = 0.0
    valves: int = 2
    valve_diameter: float = 0.0
    valve_lift: float = 0.0


@dataclass(frozen=True)
class Place:
    """An opening on the way: `key`, `title`, its `area` m2, mean `speed` m/s and `mach` while the valve is open."""

    key: str
    title: str
    area: float
    speed: float
    mach: float


@dataclass(frozen=True)
class Edge:
    """Where two openings meet: keys `before` and `behind`, m by which the edge behind stands in the stream at its worst (`lip`), m by
    which the wall falls back (`back`), Pa that are lost (`loss`)."""

    before: str
    behind: str
    lip: float
    back: float
    loss: float


@dataclass(frozen=True)
class IntakePassage:
    """The way of the charge: its `places`, its `edges`, flow coefficient and mean Mach index of the valves (`index`; nan where nobody
    measured them)."""

    places: tuple[Place, ...]
    edges: tuple[Edge, ...]
    index: float

    @property
    def loss(self) -> float:
        """Pa that all edges take while the charge goes in."""
        return sum(e.loss for e in self.edges)

    @property
    def narrowest(self) -> Place:
        """The smallest opening."""
        return min(self.places, key=lambda p: p.area)


TITLES = {"runner": "Runner end", "gasket": "Gasket opening", "port": "Port in the head", "throat": "Throat above the seat"}


def _corner(shape: str, wide: float, high: float) -> float:
    return (RECTANGLE_CORNER if shape == "rectangle" else 0.5) * min(wide, high)


def _box(wide: float, high: float, corner: float) -> float:
    """Area in m2 of a box with rounded corners."""
    r = min(corner, 0.5 * min(wide, high))
    return wide * high - (4.0 - math.pi) * r * r


def edge_loss(before: Opening, behind: Opening, aside: float, up: float) -> tuple[float, float, float]:
    """Lip and fall-back in m, and loss coefficient on the head in the opening `behind`, of two openings whose middles are `aside` and
    `up` m apart: narrowing to what both leave (Idelchik, diagram 4-9), and Borda-Carnot from there."""
    left = []
    lip = back = 0.0
    for one, two, off in ((before.wide, behind.wide, abs(aside)), (before.tall, behind.tall, abs(up))):
        for way in (off, -off):
            gap = 0.5 * (one - two) + way
            lip, back = max(lip, gap), max(back, -gap)
        left.append(max(min(0.5 * one, 0.5 * two + off) + min(0.5 * one, 0.5 * two - off), 0.0))
    wide, high = left
    corner = min(_corner(before.shape, before.wide, before.tall), _corner(behind.shape, behind.wide, behind.tall))
    free = max(min(_box(wide, high, corner) * behind.count, before.area, behind.area), 1e-9)
    narrowing = 0.5 * (1.0 - free / before.area) * (behind.area / free) ** 2
    widening = (behind.area / free - 1.0) ** 2
    return lip, back, narrowing + widening


def flow_coefficient(valve: float, lift: float) -> float:
    """Mean flow coefficient (0 to 1) over a whole opening of a `valve` of a `lift`, m: rises with lift over diameter up to a quarter.
    C. F. Taylor, The Internal-Combustion Engine, vol. 1, 1985, ch. 6 (memory)."""
    return LIFTED * min(lift / valve, OVER)


def mach_index(ports: Ports, *, piston_area: float, piston_speed: float, sound: float) -> float:
    """Mean inlet Mach index of C. F. Taylor: mean velocity through the valves of `ports` as if their flow coefficient narrowed them, over
    that of `sound` m/s; `piston_area` m2 and mean `piston_speed` m/s of one cylinder. nan where nobody measured the valves."""
    if ports.valve_diameter <= 0.0 or ports.valve_lift <= 0.0:
        return math.nan
    return (
        piston_area
        * piston_speed
        / (ports.valves * circle(ports.valve_diameter) * flow_coefficient(ports.valve_diameter, ports.valve_lift) * sound)
    )


def way(ports: Ports, *, flow: float, density: float, sound: float, piston_area: float, piston_speed: float) -> IntakePassage:
    """The way through `ports` when one cylinder takes a mean `flow` kg/s of charge of `density` kg/m3 in which `sound` goes so many m/s;
    its `piston_area` m2 and mean `piston_speed` m/s. Raises ValueError where nothing was measured."""
    said = {key: getattr(ports, key) for key in TITLES}
    found = [(key, opening) for key, opening in said.items() if opening.said]
    if not found:
        raise ValueError("no opening has been measured")
    places, edges = [], []
    for number, (key, opening) in enumerate(found):
        speed = flow / (OPEN_SHARE * density * opening.area)
        places.append(Place(key, TITLES[key], opening.area, speed, speed / sound))
        if number == 0 or key == "throat":
            continue
        before_key, before = found[number - 1]
        # The manifold sits aside of what is bolted to the head: the gasket goes with the head's studs.
        off = (ports.offset_sideways, ports.offset_up) if before_key == "runner" else (0.0, 0.0)
        lip, back, loss = edge_loss(before, opening, *off)
        edges.append(Edge(before_key, key, max(lip, 0.0), max(back, 0.0), loss * 0.5 * density * PULSED * speed**2))
    return IntakePassage(tuple(places), tuple(edges), mach_index(ports, piston_area=piston_area, piston_speed=piston_speed, sound=sound))
