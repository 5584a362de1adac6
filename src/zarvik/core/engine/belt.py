"""The belt of a blower: its ratio, what it carries, and how much it slips.

note: mu friction, theta wrap, T1 tight and T2 slack side.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.method import Method

RIBBED, TOOTHED = "ribbed", "toothed"
GROOVE = math.radians(40.0)  # ISO 9981: groove angle of PK pulleys
FRICTION = 0.30  # rubber on steel, dry, from memory 0.25 to 0.5
# N a rib on the tight side of a PK belt for the seconds of full load; hours of it take 130 to 200, from memory. Of blowers six ribs drive
# some 65 hp, eight 100, ten 125: common practice, no source
RIB_PULL = 270.0
RIB_MASS = 0.0185  # kg/m of one rib
RIB_STIFFNESS = 18_000.0  # N a rib for a strain of 1; 1 % at 180 N, from memory
TOOTH_PITCH = 8.0e-3  # m
# N a metre of width, curved teeth of 8 mm pitch, for seconds; from memory 35 to 50 N/mm of plain, 85 to 110 of reinforced belts. Of
# blowers 76 mm drive some 300 hp: common practice, no source
TOOTH_PULL = 85_000.0
TOOTH_MASS = 5.5  # kg/m2
FASTEST_BELT = 45.0  # m/s; common practice for ribbed belts on cast pulleys
# Teeth that carry: below six in mesh each missing one takes a fifth (common to makers' tables).
FULL_MESH = 6.0


@dataclass(frozen=True)
class Belt:
    """A belt: `kind` RIBBED or TOOTHED; pulley on the crank and on the blower, `crank` and `blower`: pitch
    diameters in m; `step_up`: turns of the rotors for one of the pulley (gears inside the blower); `wide`: ribs,
    or m of width; `wrap` on the smaller pulley in rad."""

    kind: str
    crank: float
    blower: float
    step_up: float
    wide: float
    wrap: float

    @property
    def ratio(self) -> float:
        """Turns of the rotors for one of the crank, without slip."""
        return self.crank / self.blower * self.step_up

    def speed(self, crank_speed: float) -> float:
        """Of the belt in m/s at a `crank_speed` in rev/min."""
        return math.pi * self.crank * crank_speed / 60.0


def grip(friction: float, groove: float, wrap: float) -> float:
    """Greatest ratio of tight over slack side, the belt's own inertia taken off, at a coefficient of
    `friction`, in a `groove` of so many rad (pi: flat), round a `wrap` in rad: Euler-Eytelwein,
    exp(mu theta / sin(groove / 2))."""
    return math.exp(friction * wrap / math.sin(0.5 * groove))


def capacity(belt: Belt, crank_speed: float) -> float:
    """Power in W that the belt carries at a `crank_speed` in rev/min."""
    pull, share = pull_and_share(belt, crank_speed)
    return pull * share * belt.speed(crank_speed)


def pull_and_share(belt: Belt, crank_speed: float) -> tuple[float, float]:
    """Pull in N that the tight side may have at a `crank_speed` in rev/min, less what the belt's own mass takes
    up, and the share (0–1) of it that grip, or the teeth in mesh, transfer."""
    v = belt.speed(crank_speed)
    if belt.kind == RIBBED:
        inertia = RIB_MASS * belt.wide * v * v
        pull = max(RIB_PULL * belt.wide - inertia, 0.0)
        return pull, 1.0 - 1.0 / grip(FRICTION, GROOVE, belt.wrap)
    inertia = TOOTH_MASS * belt.wide * v * v
    small = min(belt.crank, belt.blower)
    mesh = math.pi * small / TOOTH_PITCH * belt.wrap / (2.0 * math.pi)
    share = min(max(1.0 - 0.2 * (FULL_MESH - mesh), 0.0), 1.0)
    return max(TOOTH_PULL * belt.wide - inertia, 0.0), share


def compliance(belt: Belt) -> float:
    """Share of its speed that the blower falls behind for each W over the crank speed in rev/min."""
    if belt.kind == TOOTHED:
        return 0.0
    return 1.0 / (RIB_STIFFNESS * belt.wide * belt.speed(1.0))


def slip(belt: Belt, crank_speed: float, power: float) -> float:
    """Share (0–1) of its speed that the blower loses to the belt's stretching at `power` in W and a
    `crank_speed` in rev/min: the difference of the two pulls over the stiffness. A toothed belt loses none."""
    return min(compliance(belt) * power / crank_speed, 0.2)


METHODS = (
    Method(
        key="belt_grip",
        title="Belt capacity",
        function=grip,
        limits={"friction": (0.1, 0.8), "wrap": (0.5, 6.3)},
        source="L. Euler 1775, J. A. Eytelwein 1808; wedge of the groove as in ISO 9981 belts",
        accuracy="20 %, friction",
    ),
    Method(
        key="belt_power",
        title="Blower belt power",
        function=capacity,
        limits={},
        source="Pull a rib or a millimetre from memory, no source; less the belt's own inertia",
        accuracy="25 %",
    ),
    Method(
        key="belt_slip",
        title="Ribbed belt slip",
        function=slip,
        limits={},
        source="Stretch by the difference of the pulls; stiffness from memory",
        accuracy="a factor of 2",
    ),
)
