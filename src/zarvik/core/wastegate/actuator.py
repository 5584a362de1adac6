"""What moves a wastegate: a diaphragm with pressure on one side or both, springs, and the exhaust on its valve.

note: A_d area of the diaphragm, A_v of the valve times its lever, p_l below (opens), p_u above (shuts), p4 before and
p5 behind the valve, s spring. All pressures gauge where they are on the diaphragm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.wastegate.wastegate_flow import Wastegate

NONE, THREE, FOUR = "none", "three", "four"
PLENUM, COMPRESSOR = "plenum", "compressor"
# A solenoid lets through at most, and vents at most, so much of what it is told; common practice, no source.
MOST_DUTY = 0.90
# Effective diameter of the diaphragm over the valve's; gates with a valve of their own 1.5 to 1.7, housings with a flap and
# a can on a lever 1.8 to 2.4, as the flap sees it; common practice, no source.
OUTSIDE, INSIDE = 1.6, 2.1
# The engine that a spring is sold for: pressure across the gate over boost, and the share of the lift that holds it; common
# practice, no source: 1.1 to 1.6 and a fifth to a half
SOLD_GAS, SOLD_LIFT = 1.3, 0.3
FULL_SHARE = 1.45  # pressure at full lift over that at first opening, on the bench; common practice, no source: 1.3 to 1.7
# What springs that are sold come to, alone and stacked, by what they are sold for, Pa; common practice, no source
SPRINGS = tuple(round(1e4 * tenth, 1) for tenth in range(2, 26))


@dataclass(frozen=True, kw_only=True)
class Actuator:
    """`spring`: Pa gauge under the diaphragm at which the valve begins to open with nothing in the exhaust, `full`: at which
    it is fully open; `diaphragm`: its effective diameter m, and `valve`: the diameter in m that the exhaust presses on
    (times the root of the lever where there is one). `reference`: where the hose comes from, `control`: what stands in it;
    `duty`: share of the time that the solenoid is on, 0 to 1; `off`: the hose that has come off ("signal", "lower",
    "upper"), or the vent that is pinched ("vent"), empty for none; `said`: somebody said the spring; `hose`: bore of the
    hose to the gate and how `long` it is, m; `plumbed`: pairs of ends of the hoses as somebody put them on, empty where nobody
    said; `ports`: what is written beside the solenoid's ports, by `solenoid.ROLES`, empty where nobody
    knows; `by_boost`: its spring is sold by the boost that it holds, not by what opens it on the bench; `flap`: "idle" for the flap of a
    turbo that has one beside a gate on the manifold, "missing" where a flap is said and the turbo has none."""

    spring: float
    full: float
    diaphragm: float
    valve: float
    reference: str = COMPRESSOR
    control: str = NONE
    duty: float = 0.0
    off: str = ""
    said: bool = True
    hose: float = 0.004
    long: float = 0.6
    plumbed: tuple[tuple[str, str], ...] = ()
    ports: tuple[str, ...] = ()
    by_boost: bool = False
    flap: str = ""

    @property
    def share(self) -> float:
        """Area of the valve over that of the diaphragm."""
        return (self.valve / self.diaphragm) ** 2

    def opens_at(self, sold: float) -> float:
        """Pa gauge at which a spring that is `sold` as so many Pa opens on the bench, as springs are named here."""
        return bench_of(sold, self.share) if self.by_boost else sold

    @property
    def unknown_ports(self) -> bool:
        """Does nobody know which port of its solenoid is which?"""
        return self.control != NONE and not self.ports

    def pressures(self, gauge: float) -> tuple[float, float]:
        """Pa gauge below and above the diaphragm when the hose brings `gauge` Pa: a three-port solenoid vents a part of
        what goes below, a four-port one sends that part above."""
        part = min(max(self.duty, 0.0), MOST_DUTY)
        if self.control == NONE or self.off == "vent":
            # What cannot leave goes where it goes without current.
            part = 0.0
        below = (1.0 - part) * gauge
        above = part * gauge if self.control == FOUR else 0.0
        if self.off == "signal":
            return 0.0, 0.0
        return (0.0 if self.off == "lower" else below), (0.0 if self.off == "upper" else above)

    def lift(self, gauge: float, before: float, behind: float) -> float:
        """Share of its lift that the valve stands at (below 0: held shut by so much): `gauge` Pa in the hose, `before` and
        `behind` the valve Pa. Balance of forces: (p_l - p_u) A_d + (p4 - p5) A_v = s A_d + rate times lift."""
        below, above = self.pressures(gauge)
        return (below - above + self.share * (before - behind) - self.spring) / (self.full - self.spring)


def lift_for(gate: Wastegate, opening: float) -> float:
    """Share of its lift at which a gate has the share `opening` of its effective area."""
    if opening <= 0.0 or gate.area <= 0.0:
        return 0.0
    valve = (gate.count / (min(opening, 1.0) * gate.area)) ** 2 - gate.pipes  # 1 / A^2 that the valve itself may have
    area = valve**-0.5 / gate.discharge
    port = 0.25 * math.pi * gate.diameter**2
    rest = area**-4 - port**-4
    return min(rest**-0.25 / (math.pi * gate.diameter * gate.lift), 1.0)


def bench_of(rated: float, share: float) -> float:
    """Pa gauge at which a spring opens on the bench when it is sold by the boost that it holds on an engine (`rated` Pa gauge), with
    `SOLD_GAS` times that across the valve and `SOLD_LIFT` of its lift; `share`: valve over diaphragm."""
    return rated * (1.0 + SOLD_GAS * share) / (1.0 + (FULL_SHARE - 1.0) * SOLD_LIFT)
