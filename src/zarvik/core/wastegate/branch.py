"""The branch that leads the gas from the collector to a gate: what it takes of what the valve would pass.

note: C discharge coefficient of the valve, K of turning off (`ducts.junctions`), A areas; incompressible heads in series.
"""

from __future__ import annotations

import math

from zarvik.core.ducts.element import circle
from zarvik.core.ducts.junctions import parting_side

VALVE = 0.72  # of a poppet valve at full lift on the smaller of port and curtain; Heywood 1988, sec. 6.3 (memory, 0.65 to 0.75)
SHARE = 0.5  # of the gas that turns off when the gate is asked for all it has; common practice, no source
FLAP = 0.6  # discharge of a flap over a hole in the wall of a housing; common practice, no source


def throat(valve: float, lift: float) -> float:
    """Area in m2 of a `valve` that lifts `lift` (m): the smaller of curtain and port, blended as two nozzles in series."""
    return float(((math.pi * valve * lift) ** -4 + circle(valve) ** -4) ** -0.25)


def branched_discharge(valve: float, branch: float, main: float, angle: float, lift: float = math.inf) -> float:
    """Discharge coefficient, on the smaller of port and curtain, of a gate with a `valve` of that diameter in m on a branch of the bore
    `branch` off a pipe of the bore `main` (m) at an `angle` in rad to the flow: the head that turning off takes and that of the valve,
    which lifts `lift` m, in series. Valid below choking and a little past it; 0.1 either way. Raises ValueError for a size of 0."""
    if min(valve, branch, main, lift) <= 0.0:
        raise ValueError("valve, branch and pipe need a diameter")
    ratio = SHARE * (main / branch) ** 2  # branch velocity over the main's
    turning = parting_side(ratio, angle) / ratio**2  # on the head in the branch
    own = VALVE * throat(valve, lift)
    return VALVE / math.sqrt(1.0 + turning * (own / circle(branch)) ** 2)
