"""Two flanges that are to be bolted together: do their holes and bores meet, or which plate goes between, and what that takes.

note: a plate is bolted to one part by screws sunk into it and carries the threads of the other, so that each hole of the one needs
its own metal beside each hole of the other.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from functools import lru_cache

from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.pieces.reducer import cone_loss
from zarvik.core.ducts.pieces.step import step_loss

MEETS = 0.0005  # m that holes may stand apart and still be bolted through; clearance of ISO 273, medium, less an uncertainty
STEPS = 0.001  # m that bores may differ; common practice, no source
HEAD = 1.5  # of a cap screw's head over its thread; ISO 4762
SUNK = 1.1  # heads in the plate: depth over thread; ISO 4762 (head as high as the thread), a tenth more
FLOOR = 0.004  # m of plate under a sunk head; common practice, no source
WALL = 0.002  # m of metal between two holes; common practice, no source
LAND = 0.003  # m of gasket between a hole and a bore; common practice, no source
ENGAGES = {"aluminium": 1.5, "steel": 1.0}  # diameters of thread that hold; common practice, no source
EASY = math.radians(7.0)  # half angle of a cone that gas follows; Idelchik, ch. 5
TURNS = 72  # ways that a pattern is tried turned


@dataclass(frozen=True)
class Pattern:
    """Bolts of a flange: `count`, `across` m (of a circle, or between the holes of two; the long side of a rectangle), `up` m: its
    short side, 0 for a circle; `thread` m; `bore` m of the flange."""

    count: int
    across: float
    up: float
    thread: float
    bore: float

    @property
    def said(self) -> bool:
        """Has somebody measured it?"""
        return self.count >= 2 and self.across > 0.0

    def holes(self, turn: float = 0.0) -> tuple[tuple[float, float], ...]:
        """Middles of the holes, m, turned by `turn` rad."""
        if self.count == 2:
            flat = [(-0.5 * self.across, 0.0), (0.5 * self.across, 0.0)]
        elif self.count == 4 and self.up > 0.0:
            a, b = 0.5 * self.across, 0.5 * self.up
            flat = [(a, b), (-a, b), (-a, -b), (a, -b)]
        else:
            radius = 0.5 * self.across
            flat = [
                (radius * math.sin(2.0 * math.pi * n / self.count), radius * math.cos(2.0 * math.pi * n / self.count))
                for n in range(self.count)
            ]
        c, s = math.cos(turn), math.sin(turn)
        return tuple((c * x - s * y, s * x + c * y) for x, y in flat)


@dataclass(frozen=True)
class AdapterPlate:
    """A plate between two flanges: `thick` m, by how much the second is turned (`turn` rad), metal between the nearest two holes (`gap`
    m, below 0 where they run into each other), metal between holes and bore (`land` m), loss coefficient on the head in the smaller
    bore (`loss`), and that of the same bores without a cone (`sharp`)."""

    thick: float
    turn: float
    gap: float
    land: float
    loss: float
    sharp: float

    @property
    def made(self) -> bool:
        """Can it be made of one piece?"""
        return self.gap >= WALL and self.land >= LAND


def holes_match(one: Pattern, two: Pattern) -> bool:
    """Do the holes of both meet, as they stand or turned to a next hole?"""
    if one.count != two.count:
        return False
    return any(
        all(min(math.dist(a, b) for b in two.holes(turn)) <= MEETS for a in one.holes())
        for turn in (2.0 * math.pi * n / 8.0 for n in range(8))
    )


def bores_meet(one: Pattern, two: Pattern) -> bool:
    """Are the bores alike, or is one not said?"""
    return one.bore <= 0.0 or two.bore <= 0.0 or abs(one.bore - two.bore) <= STEPS


def _gap(one: Pattern, two: Pattern, turn: float) -> float:
    """Metal in m between the nearest holes of both: the sunk head of the one, the thread of the other."""
    return min(math.dist(a, b) for a, b in itertools.product(one.holes(), two.holes(turn))) - 0.5 * (HEAD * one.thread + two.thread)


def _land(one: Pattern, two: Pattern) -> float:
    found = []
    for pattern, size in ((one, HEAD * one.thread), (two, two.thread)):
        near = min(math.hypot(x, y) for x, y in pattern.holes())
        found.append(near - 0.5 * size - 0.5 * max(one.bore, two.bore))
    return min(found)


@lru_cache(256)
def plate(one: Pattern, two: Pattern, material: str = "aluminium", *, turned: bool = False) -> AdapterPlate:
    """The thinnest plate of a `material` ("aluminium" or "steel") between patterns `one` (before, screws sunk) and `two` (behind, threads
    in the plate); where the second may be `turned`, as it leaves the most metal."""
    best = max((2.0 * math.pi * n / TURNS for n in range(TURNS)), key=lambda t: (round(_gap(one, two, t), 6), -t)) if turned else 0.0
    thick = max(ENGAGES[material] * two.thread, SUNK * one.thread + FLOOR)
    if one.bore <= 0.0 or two.bore <= 0.0 or abs(one.bore - two.bore) < 1e-6:
        loss = sharp = 0.0
    else:
        rough = ROUGHNESS[material if material in ROUGHNESS else "mild_steel"][1]
        sharp = step_loss(one.bore, two.bore)
        # A cone steeper than the gas follows loses what the step does, not more.
        loss = min(float(cone_loss(one.bore, two.bore, thick, rough)[12]), sharp)
    return AdapterPlate(thick=thick, turn=best, gap=_gap(one, two, best), land=_land(one, two), loss=loss, sharp=sharp)


def easy_length(one: Pattern, two: Pattern) -> float:
    """Length in m of the cone between both bores that gas follows; 0 where they are alike or not said."""
    if one.bore <= 0.0 or two.bore <= 0.0:
        return 0.0
    return 0.5 * abs(one.bore - two.bore) / math.tan(EASY)
