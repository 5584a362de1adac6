"""The primaries of a manifold: equal pipes side by side, one a cylinder or a pair."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore, length
from zarvik.core.ducts.pieces.bend import bend_loss
from zarvik.core.ducts.pieces.straight import MATERIAL, friction_loss

# Each primary carries its flow in pulses: for a cylinder that blows for a third of the cycle the
# mean square of the velocity is three times that of the steady mean (common practice, no source;
# four cylinders, 240 degrees of 720). The loss of the mean flow is multiplied by it.
PULSE_FACTOR = 3.0


@lru_cache(2048)
def primary_loss(bore: float, span: float, turns: float, rough: float) -> np.ndarray:
    """Loss coefficient of one primary in steady flow; `bore`, `span` m, `turns` rad in all.

    `rough`: absolute roughness in m.
    """
    loss = friction_loss(bore, span, rough)
    whole, rest = divmod(turns, math.pi / 2.0)
    radius = 1.5 * bore
    for angle in [math.pi / 2.0] * int(whole) + ([rest] if rest > math.radians(1.0) else []):
        # Friction along the bend is in its own coefficient: the length of the arc is taken out.
        arc = friction_loss(bore, radius * angle, rough)
        loss = loss + np.maximum(bend_loss(bore, radius, angle, rough) - arc, 0.0)
    return loss


def build(
    *, id: str, name: str, count: float, bore: float, length: float, turns: float,
    material: str, cover: str = "bare",
) -> Element:  # fmt: skip
    """Element of `count` pipes of `bore` and `length` in m that turn by `turns` rad each."""
    pipes = round(count)
    rough = ROUGHNESS[material][1]
    return Element(
        id=id,
        kind="primaries",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=PULSE_FACTOR * primary_loss(bore, length, turns, rough),
        parallel=pipes,
        length=length,
        volume=pipes * circle(bore) * length,
        turn=turns,
        **skin(material, cover, bore, length, pipes),
        method="Friction and bends, pulse factor 3",
        source="Clamond 2009; Rennels & Hudson 2012, ch. 15; pulse factor: common practice, no source",
    )


PRIMARIES = PieceKind(
    "primaries",
    "Primaries",
    "Equal pipes from the ports to the collector",
    (
        Parameter("count", "How many", "count", 1.0, 16.0, 4.0, "Pipes that share the flow"),
        bore(default=0.0409),
        length(default=0.35),
        Parameter("turns", "Turn of each", "angle", 0.0, math.radians(540), math.radians(150), "All its bends together"),
        MATERIAL,
        COVER,
    ),
    build,
)  # fmt: skip
