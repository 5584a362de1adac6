"""A silicone joint: two pipe ends with a gap, bridged by a hose."""

from __future__ import annotations

import math
from functools import lru_cache

import fluids
import numpy as np

from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import PieceKind, bore, length
from zarvik.core.ducts.pieces.straight import friction_loss
from zarvik.core.stock.sizes import WALL

# A stream that leaves a step meets the wall again some 8 step heights further on; a gap shorter
# than that sees only a part of the loss of a full widening and narrowing.
# (From memory of the backward-facing-step literature, as a band of 6 to 9.)
REATTACHMENT = 8.0


@lru_cache(4096)
def joint_loss(bore: float, gap: float, step: float) -> np.ndarray:
    """Loss coefficient on the head in `bore` at the Reynolds nodes; all in m.

    `gap` and `step` m.
    """
    hose = bore + 2.0 * step
    friction = friction_loss(hose, gap, ROUGHNESS["silicone"][1]) * (bore / hose) ** 4
    if step < 1e-6:
        return friction
    share = 1.0 - math.exp(-gap / (REATTACHMENT * step))
    widening = fluids.diffuser_sharp(Di1=bore, Di2=hose)
    narrowing = sampled(lambda re: fluids.contraction_sharp(Di1=hose, Di2=bore, Re=re, fd=0.018, method="Rennels"))
    return share * (widening + narrowing) + friction


def build(*, id: str, name: str, bore: float, gap: float, step: float) -> Element:
    """Element of a joint of pipes of `bore` with `gap` between them and walls of `step`, in m."""
    hose = bore + 2.0 * step
    return Element(
        id=id,
        kind="joint",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=joint_loss(bore, gap, step),
        length=gap,
        material="silicone",
        volume=circle(hose) * gap,
        method="Sudden widening and narrowing, in part",
        source="Borda-Carnot; Rennels & Hudson 2012, ch. 10; reattachment length from memory",
    )


JOINT = PieceKind(
    "joint",
    "Silicone joint",
    "Two pipe ends joined by a hose and clamps",
    (
        bore(),
        length("Gap between pipe ends", "gap", 0.010, 0.0, 0.3, "Free length between the pipe ends"),
        length("Step height", "step", WALL, 0.0, 0.02, "Wall of the pipe, or its bead"),
    ),
    build,
)
