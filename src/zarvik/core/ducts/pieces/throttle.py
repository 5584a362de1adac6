"""A throttle, wide open: the shaft and blade stand in the bore."""

from __future__ import annotations

import math

from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore


def throttle_loss(bore: float, shaft: float) -> float:
    """Loss coefficient of a wide-open butterfly: narrowing to the free area and widening again.

    `bore`, `shaft` (thickness across the flow) in m. Source: 0.5 (1 - A2/A1) for the narrowing
    (Idelchik, diagram 4-9) and Borda-Carnot for the widening, on the head in the full bore.
    """
    blocked = min(4.0 * shaft / (math.pi * bore), 0.95)
    return (0.5 * blocked + blocked**2) / (1.0 - blocked) ** 2


def build(*, id: str, name: str, bore: float, shaft: float) -> Element:
    """Element of a wide-open throttle of `bore` whose `shaft` is so thick, in m."""
    if shaft >= 0.7 * bore:
        raise Fault("the shaft fills the throttle")
    return Element(
        id=id,
        kind="throttle",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled(throttle_loss(bore, shaft)),
        length=bore,
        volume=circle(bore) * bore,
        method="Narrowing and widening round the shaft",
        source="Idelchik, diagram 4-9; Borda-Carnot",
    )


THROTTLE = PieceKind(
    "throttle",
    "Throttle, fully open",
    "Butterfly at full load",
    (
        bore(default=0.065),
        Parameter(
            name="shaft",
            title="Shaft diameter",
            quantity="length",
            low=0.0,
            high=0.05,
            default=0.009,
            help="Shaft or blade, whichever is thicker",
        ),
    ),
    build,
)
