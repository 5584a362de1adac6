"""A line of the connection list: a port, bung, joint, hose, line or sensor with what was decided and how far it is."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.joints.flanges import Pattern
from zarvik.core.joints.gaskets import GasketLayer

PORT, BUNG, JOINT, HOSE, LINE, SENSOR = "port", "bung", "joint", "hose", "line", "sensor"
KINDS = {PORT: "Port", BUNG: "Bung", JOINT: "Joint", HOSE: "Hose", LINE: "Line", SENSOR: "Sensor"}

UNDECIDED, KEEP, CHECK, PLUG, CAP, GAUGE, WELD, BLEND = "", "keep", "check", "plug", "cap", "gauge", "weld", "blend"
DECISIONS = {
    UNDECIDED: "Undecided",
    KEEP: "Keep",
    CHECK: "Keep with a check valve",
    PLUG: "Plug",
    CAP: "Cap and clamp",
    GAUGE: "Keep for a gauge",
    WELD: "Weld shut",
    BLEND: "Cut off and blend",
}
SHUT = (PLUG, CAP, WELD, BLEND)

OPEN, DRY, HAND, TORQUED, TESTED, REOPENED = "open", "dry", "hand", "torqued", "tested", "reopened"
STATES = {OPEN: "Not fitted", DRY: "Dry-fitted", HAND: "Hand tight", TORQUED: "Torqued", TESTED: "Leak-tested", REOPENED: "Reopened"}
DONE = (TORQUED, TESTED)

BOOST, SUCTION, EXHAUST, OIL, FUEL, WATER, VACUUM = "boost", "suction", "exhaust", "oil", "fuel", "water", "vacuum"
SIDES = {BOOST: "Boost", SUCTION: "Before the compressor", EXHAUST: "Exhaust", OIL: "Oil", FUEL: "Fuel", WATER: "Coolant", VACUUM: "Vacuum"}

# How a joint of two ends is made
HOSED, WELDED, FLANGED, BANDED, SLIPPED, SCREWED = "hose", "weld", "flange", "vband", "slip", "screw"
MADE = {HOSED: "Hose and clamp", WELDED: "Weld", FLANGED: "Flange and gasket", BANDED: "V-band", SLIPPED: "Slip joint", SCREWED: "Thread"}


@dataclass(frozen=True)
class Row:
    """A line of the connection list, in SI. `key`: stable, of the piece and its end, or of its own; `name`, `where` (title of the piece or
    place); `side`: what it sees; `made`: how two ends are joined; `diameter` outside m, `bore` m, `wall` m, `material`; `thread` key;
    `served`: what it was for; `at` m from the beginning of its piece, `clock` rad; `decision`, `state`; `clamp` key, `bead`, `oily`;
    `torque` N m; `pressure` Pa gauge and `temperature` K that it sees at the most; `behind`: m from the last bend or throttle before it;
    `measured`, `note`: words; `by_hand`: somebody wrote it, else the design made it; `lost`: its piece is gone; `piece`: key of that
    piece. Of a flange: bolts and bore of the `one` before and of the `other`, None where nobody measured them; `layers` between them,
    `face` m2 that they cover (0 where nobody says it); `turns`: may the other be turned. `said`: somebody said something of it; `sealed`:
    how (key of `threads.SEALS`); `meets`: outside m of the other end, 0 where it is the same one; `engaged`: m of hose on the tube, 0
    where nobody measured it."""

    key: str
    kind: str
    name: str
    where: str
    side: str
    piece: str = ""
    made: str = ""
    diameter: float = 0.0
    bore: float = 0.0
    wall: float = 0.0
    material: str = ""
    thread: str = ""
    served: str = ""
    at: float = 0.0
    clock: float = 0.0
    decision: str = UNDECIDED
    state: str = OPEN
    clamp: str = "tbolt"
    bead: bool = True
    oily: bool = False
    torque: float = 0.0
    pressure: float = 0.0
    temperature: float = 293.15
    measured: str = ""
    note: str = ""
    behind: float = math.inf
    one: Pattern | None = None
    other: Pattern | None = None
    layers: tuple[GasketLayer, ...] = ()
    face: float = 0.0
    turns: bool = False
    said: bool = False
    sealed: str = ""
    meets: float = 0.0
    engaged: float = 0.0
    by_hand: bool = False
    lost: bool = False

    @property
    def shut(self) -> bool:
        """Is it closed for good?"""
        return self.decision in SHUT

    @property
    def decided(self) -> bool:
        """Has somebody said what becomes of it? Only ports are asked."""
        return self.kind != PORT or self.decision != UNDECIDED
