"""What a charge pipe of two straights and a bend takes from 0.26 kg/s of air at 2.1 bar absolute and 45 °C.

Only `zarvik.core`: no document, no window. Paste it into a notebook.
"""

import numpy as np

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.ducts.element import REYNOLDS_NODES
from zarvik.core.ducts.pieces import KINDS

BORE, FLOW, PRESSURE, TEMPERATURE = 0.0602, 0.26, 2.1e5, 318.15  # m, kg/s, Pa, K

pieces = [
    KINDS["straight"].build(id="a", name="from the cooler", bore=BORE, length=0.55, material="aluminium"),
    KINDS["bend"].build(id="b", name="90°", bore=BORE, radius=1.5 * BORE, angle=np.pi / 2.0, material="aluminium"),
    KINDS["straight"].build(id="c", name="to the throttle", bore=BORE, length=0.30, material="aluminium"),
]
density = PRESSURE / (DRY_AIR_GAS_CONSTANT * TEMPERATURE)
velocity = FLOW / (density * 0.25 * np.pi * BORE**2)
reynolds = density * velocity * BORE / 1.94e-5  # viscosity of air at 45 °C, Pa s
head = 0.5 * density * velocity**2
losses = [float(np.interp(np.log(reynolds), np.log(REYNOLDS_NODES), piece.loss)) for piece in pieces]
drop = head * sum(losses)

if __name__ == "__main__":
    print(f"{velocity:.0f} m/s, Reynolds number {reynolds:.3g}, dynamic head {head:.0f} Pa")
    for piece, loss in zip(pieces, losses, strict=True):
        print(f"{piece.name:16} K = {loss:.3f}   {head * loss:5.0f} Pa   ({piece.source or piece.method or 'friction'})")
    print(f"together {drop:.0f} Pa")
