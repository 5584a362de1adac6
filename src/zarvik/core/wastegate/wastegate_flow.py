"""The wastegate as an isentropic orifice in parallel with the turbine.

note: d valve diameter, L lift; curtain area pi d L, port area pi d^2 / 4.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.ducts.element import circle
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import heat_capacity_ratio
from zarvik.core.turbine.turbine import nozzle_function

# Heads lost in a pipe that is narrower than the valve: into it, along it, and out of it; Miller, Internal Flow Systems, 1990 (memory):
# 0.3 to 0.5, 0.2 to 0.4, and the whole head at its end
PIPE_HEADS = 1.5


@dataclass(frozen=True, kw_only=True)
class Wastegate:
    """One or several wastegates: valve `diameter` and full `lift` in m, `count`, `discharge` coefficient of the open valve with its branch
    (0.6–0.8 off a straight branch, less at a right angle). `to_air`: vents to the open; else the gas returns behind the first
    `pieces_bypassed` exhaust pieces through a pipe of `return_bore` in m, at a `return_angle` in rad to the flow. `branch_bore` in m of
    the pipe to each valve, 0 where it is not known."""

    diameter: float
    lift: float
    count: int = 1
    discharge: float = 0.7
    to_air: bool = False
    pieces_bypassed: int = 0
    return_bore: float = 0.04
    return_angle: float = 0.5
    branch_bore: float = 0.0

    @property
    def pipes(self) -> float:
        """What branch and pipe back add to 1 / A^2 of one gate, 1/m4: nothing as wide as the valve, for which its discharge is said."""
        bores = (self.branch_bore, 0.0 if self.to_air else self.return_bore)
        return sum(PIPE_HEADS * (circle(bore) ** -2 - circle(self.diameter) ** -2) for bore in bores if 0.0 < bore < self.diameter)

    def opened(self, lift: float) -> float:
        """Effective area of all gates in m2 at a share of their `lift`: the smaller of curtain and port, blended as two nozzles in series,
        and heads of narrow pipes in series with that."""
        curtain = math.pi * self.diameter * self.lift * lift
        port = circle(self.diameter)
        if curtain <= 0.0 or port <= 0.0:
            return 0.0
        valve = self.discharge / (curtain**-4 + port**-4) ** 0.25
        return self.count / math.sqrt(valve**-2 + self.pipes)

    @property
    def area(self) -> float:
        """Effective area of all gates at full lift, m2."""
        return self.opened(1.0)


@compiled
def bypassed(area: float, gas: np.ndarray, inlet_pressure: float, inlet_temperature: float, outlet_pressure: float) -> float:
    """Mass flow in kg/s through an effective `area` m2 from total `inlet_pressure` Pa and
    `inlet_temperature` K to `outlet_pressure` Pa."""
    gamma = heat_capacity_ratio(gas, inlet_temperature)
    return (
        area * inlet_pressure / math.sqrt(gas[GAS_CONSTANT] * inlet_temperature) * nozzle_function(inlet_pressure / outlet_pressure, gamma)
    )
