"""What a hole in the charge side costs here: boost that is not held, full boost that comes later, a mixture that a meter gets wrong."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver
from zarvik.core.airpath.threshold import threshold
from zarvik.core.ducts.element import circle
from zarvik.core.leak_test.leaks import DISCHARGE


@dataclass(frozen=True)
class Hole:
    """What a hole of `diameter` m does: share of the air that leaves (`share`), Pa of boost that the target is `short` of, W of
    `power` less there, rev/min by which full boost comes `later` (nan where it never does)."""

    diameter: float
    share: float
    short: float
    power: float
    later: float


def hole_costs(solver: Solver, diameter: float) -> Hole:
    """What a hole of `diameter` m at the plenum costs a build with the design of a `solver`; nan where the target is not solved."""
    site = solver.site_numbers.copy()
    site[k.LEAK_AREA] = DISCHARGE * circle(diameter)
    whole = solver.full_load
    holed = solver.raw(whole.speed, site=site)
    speed = solver.path.target.speed
    near = whole.near(speed)
    if near is None or not holed.solved[near]:
        return Hole(diameter, math.nan, math.nan, math.nan, math.nan)
    one = solver.raw(np.array([speed]), start=whole.solutions[near])
    two = solver.raw(np.array([speed]), start=holed.solutions[near], site=site)
    a, b = one.states[0], two.states[0]
    before, after = threshold(solver, whole), threshold(solver, holed, site=site)
    later = after.speed - before.speed if before is not None and after is not None else math.nan
    return Hole(
        diameter, float(b[k.LEAK] / (b[k.AIR] + b[k.LEAK])), float(a[k.P_PLENUM] - b[k.P_PLENUM]), float(a[k.POWER] - b[k.POWER]), later
    )
