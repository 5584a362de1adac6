"""What pushes a joint apart, and what holds it.

note: F end force, T tension of a clamp's band, mu friction of hose on tube. A band of even tension presses with 2 pi T. Less reaches
the tube: the band drags on the hose on its way round (Euler-Eytelwein), the hose itself is squeezed, and silicone creeps. A bead is
a ramp that the hose has to climb: friction and slope add like the threads of a screw, (mu + tan b) / (1 - mu tan b).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.ducts.element import circle

DRY, OILY = 0.25, 0.10  # friction of silicone on a wiped and on an oily tube; common practice, no source
BAND_FRICTION = 0.3  # of a steel band on silicone, on its half turn from bolt to back; common practice, no source
HOSE_TAKES = 0.15  # of the band's force squeezes the hose instead of pressing on the tube; common practice, no source
BEAD_SLOPE = math.radians(20.0)  # of a rolled bead as soft hose climbs it; common practice, no source
ENGAGED = 0.025  # m of hose on a tube behind the clamp at the least: an inch; common practice, no source


@dataclass(frozen=True)
class Clamp:
    """A clamp: `key`, `title`, the `bolt` across in m and its `torque` N m (both of a bolt that is dry), or the `tension` N of a worm
    drive or spring directly; `kept`: share of its tension that is left when the silicone has crept."""

    key: str
    title: str
    torque: float
    bolt: float
    tension: float = 0.0
    kept: float = 0.45


# Torques from memory of common leaflets of clamps, not of one maker; tension that is left after creep: common practice, no source
CLAMPS = {
    c.key: c
    for c in (
        Clamp("tbolt", "T-bolt clamp", 5.0, 0.006),
        Clamp("worm", "Worm-drive clamp", 3.0, 0.0, 2200.0),
        Clamp(key="spring", title="Constant-tension spring clamp", torque=0.0, bolt=0.0, tension=900.0, kept=0.9),
        Clamp("none", "No clamp", 0.0, 0.0, 0.0),
    )
}
COARSE = {0.005: 0.0008, 0.006: 0.001, 0.008: 0.00125, 0.010: 0.0015, 0.012: 0.00175}  # m of pitch by m across; ISO 261
PROOF = 580e6  # Pa that a screw of class 8.8 stands without staying longer; ISO 898-1
USED = 0.70  # of that a screw is tightened to; common practice, no source
SOFT_SEAT = 0.6  # of it where what is clamped settles or is soft: aluminium threads, phenolic; common practice, no source
BAND_TORQUE = 8.0  # N m of the bolt of a V-band, tapped round and tightened again; common practice, no source
NUT = 0.2  # torque over bolt force and diameter, dry; common tables


STRETCHED = 0.003  # m over its own size that a straight coupler is drawn over; common practice, no source


def stress_area(across: float) -> float:
    """Area in m2 that a screw of a coarse thread `across` (m) carries with. ISO 898-1; raises KeyError for a size that is none."""
    return circle(across - 0.9382 * COARSE[across])


def screw_torque(across: float, *, soft: bool = False) -> float:
    """Torque in N m of a dry screw of class 8.8 `across` m, less in what is `soft`. Raises KeyError for a size that is none."""
    return NUT * USED * PROOF * stress_area(across) * across * (SOFT_SEAT if soft else 1.0)


def end_force(pressure: float, diameter: float) -> float:
    """Force in N that parts two ends of outside `diameter` m at a gauge `pressure` Pa: pressure times area."""
    return pressure * circle(diameter)


def band_tension(clamp: Clamp) -> float:
    """Tension in N of the band of a `clamp` that is torqued: its bolt's force, or what is known of it."""
    if clamp.bolt <= 0.0:
        return clamp.tension
    return clamp.torque / (NUT * clamp.bolt)


def seating_force(clamp: Clamp) -> float:
    """Force in N with which a `clamp` still presses the hose on the tube, summed round it: 2 pi T less what the band loses on its way
    from the bolt to the back of the hose, what squeezes the hose, and creep."""
    way = BAND_FRICTION * math.pi
    round_about = (1.0 - math.exp(-way)) / way
    return 2.0 * math.pi * band_tension(clamp) * round_about * (1.0 - HOSE_TAKES) * clamp.kept


def holding_force(clamp: Clamp, *, oily: bool, bead: bool) -> float:
    """Force in N that one `clamp` holds on a hose over a tube, which is `oily` or wiped, with a `bead` or without. Rough guide: within a
    third."""
    grip = OILY if oily else DRY
    if bead:
        slope = math.tan(BEAD_SLOPE)
        grip = (grip + slope) / (1.0 - grip * slope)
    return grip * seating_force(clamp)


def margin(clamp: Clamp, *, pressure: float, diameter: float, oily: bool, bead: bool) -> float:
    """Force that holds over the force that parts, less 1; a `clamp` on ends of `diameter` m at a gauge `pressure` Pa, `oily` or clean,
    with a `bead` or without. inf without pressure."""
    pushes = end_force(pressure, diameter)
    return holding_force(clamp, oily=oily, bead=bead) / pushes - 1.0 if pushes > 0.0 else math.inf
