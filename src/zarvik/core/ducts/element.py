"""What every piece of a run becomes before it is marched: areas and a loss over Reynolds number."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.common.sentences import Sentence

# Reynolds numbers at which a loss coefficient is sampled; between them it is interpolated over
# the logarithm. Engine flow pulsates and is turbulent, so the lowest number is held below.
REYNOLDS_NODES = np.geomspace(4.0e3, 4.0e6, 25)


@dataclass(frozen=True, kw_only=True)
class Element:
    """One piece, ready to be marched.

    `diameter`: hydraulic diameter in m of the section that the loss refers to. `area_in`, `area_out`, `area` (reference): m2.
    `loss`: loss coefficient at each of `REYNOLDS_NODES`, on the dynamic head gamma p M^2 / 2 of the reference section. `spread`:
    when called, the lowest and highest value of the published methods at Re 2e5 (asked for only when it is shown: some methods
    load large tables). `linear`: Pa/(m/s) and `quadratic`: dimensionless, for a resistance rated on a flow bench, on the velocity
    in the reference section. `law`: how it takes pressure away, "friction" (by its loss coefficient), "mouth" (into a space) or
    "widening" (sudden). `length` in m, `volume` in m3, `turn` in rad. `parallel`: equal pipes side by side that share the flow.
    `surface` m2 through which heat goes, `resistance` of wrap and coating m2 K/W, `emissivity` of the outer skin; `material`: key,
    empty where it is not said; `form`: of a collector. `notes`: limits that the piece steps over.
    """

    id: str
    kind: str
    name: str
    diameter_in: float
    diameter_out: float
    diameter: float
    loss: np.ndarray = field(compare=False)
    spread: Callable[[], tuple[float, float]] | None = field(default=None, compare=False)
    linear: float = 0.0
    quadratic: float = 0.0
    law: str = "friction"
    length: float = 0.0
    volume: float = 0.0
    turn: float = 0.0
    parallel: int = 1
    surface: float = 0.0
    resistance: float = 0.0
    emissivity: float = 0.85
    material: str = ""
    form: str = ""
    method: str = ""
    source: str = ""
    notes: tuple[Sentence, ...] = ()

    @property
    def area(self) -> float:
        """Reference area of all parallel pipes, m2."""
        return self.parallel * circle(self.diameter)


def circle(diameter: float) -> float:
    """Area in m2 of a circle of `diameter` in m."""
    return 0.25 * math.pi * diameter * diameter


def sampled(function: Callable[[float], float] | float) -> np.ndarray:
    """Loss coefficients at `REYNOLDS_NODES` from a function of the Reynolds number."""
    if not callable(function):
        return np.full(len(REYNOLDS_NODES), float(function))
    return np.array([float(function(float(re))) for re in REYNOLDS_NODES])
