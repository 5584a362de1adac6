"""A step in the wall: port against gasket, flange against flange."""

from __future__ import annotations

from zarvik.core.ducts.element import Element, sampled
from zarvik.core.ducts.kinds import PieceKind, bore


def step_loss(bore_in: float, bore_out: float) -> float:
    """Loss coefficient on the head in the smaller bore (m): Borda-Carnot where it widens,
    0.5 (1 - A2/A1) where it narrows (Idelchik, diagram 4-9).

    `bore_in`, `bore_out` m.
    """
    ratio = (min(bore_in, bore_out) / max(bore_in, bore_out)) ** 2
    return (1.0 - ratio) ** 2 if bore_out > bore_in else 0.5 * (1.0 - ratio)


def build(*, id: str, name: str, bore_in: float, bore_out: float) -> Element:
    """Element of a sudden step from `bore_in` to `bore_out` in m."""
    return Element(
        id=id,
        kind="step",
        name=name,
        diameter_in=bore_in,
        diameter_out=bore_out,
        diameter=min(bore_in, bore_out),
        loss=sampled(step_loss(bore_in, bore_out)),
        law="widening" if bore_out > bore_in else "friction",
        method="Sudden widening or narrowing",
        source="Borda-Carnot; Idelchik, diagram 4-9",
    )


STEP = PieceKind(
    "step",
    "Step",
    "Port or gasket that does not match",
    (bore("Bore before", "bore_in", "in", 0.058), bore("Bore after", "bore_out", "out", 0.0602)),
    build,
)
