"""What runs begin and end at: ports of a head, turbochargers, collectors.

Axes of the engine: X along the crank from the first cylinder to the last, Y up, Z out from the head; the origin is the
middle of the first exhaust port in the face of the head.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault
from zarvik.core.layout.frame import Frame, frame_looking, mirrored_frame, rotation_about

# Half a head's width, from the ports to the deck, and the block below it, m: usual sizes, nobody measured them
HEAD_DEEP, HEAD_LOW, HEAD_HIGH, BLOCK = 0.21, 0.065, 0.085, 0.27
# A scroll as a ring of tube: its middle goes round at so many wheel diameters, its skin is so many from that; common practice, no source
TURBINE_SCROLL, COMPRESSOR_SCROLL = (0.62, 0.30), (0.66, 0.26)


@dataclass(frozen=True, kw_only=True)
class Head:
    """The exhaust side of the heads: number of `cylinders`, `shape` of the port with its `port_width` along the crank and `port_height` in
    m, `spacing` of the ports in m, `port_down_angle` in rad, `flange` thickness in m. `banks`: 1 or 2; the second bank's ports stand
    `bank_distance` m across and `stagger` m along. `odd`: odd cylinders are on the first bank, else the first half of them. `roll`: how
    far the engine rolls to either side on its mounts, rad, 0 where nobody says; `crank`: the middle of its crank, up and out m."""

    cylinders: int
    shape: str
    port_width: float
    port_height: float
    spacing: float
    port_down_angle: float
    flange: float
    banks: int = 1
    bank_distance: float = 0.6
    stagger: float = 0.0
    odd: bool = False
    roll: float = 0.0
    crank: tuple[float, float] = (-HEAD_LOW - BLOCK, -0.5 * HEAD_DEEP)

    @property
    def middle(self) -> float:
        """Z of the plane between two banks in m."""
        return -0.5 * self.bank_distance

    def bank_of(self, cylinder: int) -> int:
        """Bank (0 or 1) of a cylinder (1 and up)."""
        if self.banks == 1:
            return 0
        return (cylinder + 1) % 2 if self.odd else int(cylinder > (self.cylinders + 1) // 2)

    def place_of(self, cylinder: int) -> int:
        """How many of its bank stand before a cylinder (1 and up)."""
        return sum(self.bank_of(c) == self.bank_of(cylinder) for c in range(1, cylinder))

    def port(self, cylinder: int) -> Frame:
        """Where a run from the port of a cylinder (1 and up) begins: in the outer face of the flange. Raises Fault for a
        cylinder that the engine has not."""
        if not 1 <= cylinder <= self.cylinders:
            raise Fault("there is no cylinder {0}", cylinder)
        bank = self.bank_of(cylinder)
        along = self.spacing * self.place_of(cylinder)
        frame = frame_looking(np.array([along, 0.0, self.flange]), 0.0, -self.port_down_angle)
        if bank == 0:
            return frame
        other = mirrored_frame(frame, self.middle)
        return Frame(other.origin + np.array([self.stagger, 0.0, 0.0]), other.axes)


@dataclass(frozen=True, kw_only=True)
class TurboSizes:
    """A turbo as a tape knows it, m: from the face of its turbine flange `to_shaft`; the flange's middle beside the shaft
    by `beside`; `apart` from the middle of one housing to that of the other; the face of the compressor's outlet
    `outlet` from the shaft and beside it by `outlet_beside`; how far the faces of compressor inlet and turbine outlet
    lie beyond the middles of their housings (`inlet_beyond`, `outlet_beyond`). `compressor`, `turbine`: diameters of the
    wheels; `left`: the gas turns the other way round."""

    to_shaft: float
    beside: float
    apart: float
    outlet: float
    outlet_beside: float
    inlet_beyond: float
    outlet_beyond: float
    compressor: float
    turbine: float
    left: bool = False


def turbo_sizes(compressor: float, turbine: float) -> TurboSizes:
    """What a turbo with wheels of these diameters (`compressor`, `turbine`, m) measures about, until somebody holds a tape to it:
    common practice, no source, within a fifth."""
    return TurboSizes(
        to_shaft=1.15 * turbine,
        beside=0.80 * turbine,
        apart=0.045 + 0.5 * (compressor + turbine),
        outlet=0.95 * compressor,
        outlet_beside=0.80 * compressor,
        inlet_beyond=0.60 * compressor + 0.015,
        outlet_beyond=0.75 * turbine,
        compressor=compressor,
        turbine=turbine,
    )


@dataclass(frozen=True, eq=False, kw_only=True)
class TurboBody:
    """A turbo in its place. Frames with the way of the flow: gas in (`gas_in`), `gas_out`, `air_in`, `air_out`; `shaft`:
    unit vector from turbine to compressor; middles of the housings, m; `drain`: unit vector in which the oil leaves."""

    gas_in: Frame
    gas_out: Frame
    air_in: Frame
    air_out: Frame
    shaft: np.ndarray
    turbine: np.ndarray
    compressor: np.ndarray
    drain: np.ndarray
    sizes: TurboSizes


def turbo_body(gas_in: Frame, sizes: TurboSizes, *, shaft: float, compressor: float, drain: float) -> TurboBody:
    """A turbo whose turbine flange is met by the gas in the frame `gas_in`. `shaft` rad: how the shaft is turned about
    that way, 0 with the compressor up across it, clockwise for who looks along the gas. `compressor` rad: where the
    outlet blows, 0 back against the gas in the flange, clockwise for who looks into the compressor. `drain` rad: how the
    centre section is turned, 0 with its drain back against the gas, seen the same way."""
    turned = gas_in.rolled(shaft)
    s, z = turned.axes[:, 0], turned.axes[:, 2]
    hand = -1.0 if sizes.left else 1.0
    turbine = gas_in.origin + sizes.to_shaft * z + hand * sizes.beside * np.cross(s, z)
    eye = turbine + sizes.apart * s
    # Who looks into the compressor looks along -s.
    blow = rotation_about(-s, compressor) @ -z
    side = np.cross(blow, s) * hand
    out = eye + sizes.outlet * blow + sizes.outlet_beside * side
    return TurboBody(
        gas_in=gas_in,
        gas_out=_pointing(turbine - sizes.outlet_beyond * s, -s),
        air_in=_pointing(eye + sizes.inlet_beyond * s, -s),
        air_out=_pointing(out, blow),
        shaft=s,
        turbine=turbine,
        compressor=eye,
        drain=rotation_about(-s, drain) @ -z,
        sizes=sizes,
    )


def _pointing(origin: np.ndarray, along: np.ndarray) -> Frame:
    """A frame with up across its way, as `looking` has it."""
    level = float(np.hypot(along[0], along[2]))
    heading = math.atan2(along[0], along[2]) if level > 1e-9 else 0.0
    return frame_looking(origin, heading, math.atan2(float(along[1]), level))


@dataclass(frozen=True)
class CollectorSizes:
    """A collector: `form` as "merge", "sheet", "log" or "cast"; `count` of inlets, each for a tube of the outside diameter `tube`
    m; the `angle` rad of each to the axis; `length` m from the inlets to the outlet; `turn` rad about its axis."""

    form: str
    count: int
    tube: float
    angle: float
    length: float
    turn: float = 0.0

    @property
    def circle(self) -> float:
        """Radius in m on which the middles of the inlets stand, tube beside tube."""
        return 0.5 * self.tube / math.sin(math.pi / self.count) if self.count > 1 else 0.0

    @property
    def merge(self) -> float:
        """From the inlets to where their middles meet, in m: what a collector of this angle is long at least."""
        return self.circle / math.tan(self.angle) if self.angle > 1e-6 and self.count > 1 else 0.0


def collector_inlets(outlet: Frame, sizes: CollectorSizes) -> tuple[Frame, ...]:
    """Where the tubes end in a collector that ends at the frame `outlet`: their ways lean to the axis by the angle. The
    first stands up across it (x of the frame), the others clockwise for who looks along the gas."""
    found = []
    for number in range(sizes.count):
        turned = outlet.rolled(sizes.turn + 2.0 * math.pi * number / sizes.count)
        x, y, z = turned.axes.T
        if sizes.form == "sheet" or sizes.count == 1:
            lean = 0.0
        else:
            lean = sizes.angle
        origin = turned.origin - sizes.length * z + sizes.circle * x
        way = math.cos(lean) * z - math.sin(lean) * x
        up = math.cos(lean) * x + math.sin(lean) * z
        found.append(Frame(origin, np.column_stack([up, y, way])))
    return tuple(found)


def log_inlets(ports: tuple[Frame, ...], stub: float) -> tuple[Frame, ...]:
    """Where stubs of the length `stub` (m) from the `ports` meet a log that runs past them."""
    return tuple(port.moved(stub) for port in ports)


def drain_tilt(body: TurboBody) -> tuple[float, float]:
    """How far the drain of a turbo is from straight down, and its shaft from level, rad."""
    down = math.acos(float(np.clip(-body.drain[1], -1.0, 1.0)))
    return down, abs(math.asin(float(np.clip(body.shaft[1], -1.0, 1.0))))
