"""Anything rated on a flow bench: filter, screen, air-flow meter, silencer, catalyst."""

from __future__ import annotations

from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore

BENCH_DENSITY = 1.2  # kg/m3, air at 20 °C and 1013 hPa with common humidity


def build(
    *, id: str, name: str, bore: float, flow: float, drop: float, linear_share: float
) -> Element:
    """Element that passes `flow` (m3/s, of air of 1.2 kg/m3) at a pressure `drop` in Pa.

    `linear_share` 0–1: part of the drop that grows with the flow (paper, foam, honeycomb); the
    rest grows with its square. `bore` in m is that of its neck.
    """
    velocity = flow / circle(bore)
    return Element(
        id=id,
        kind="resistance",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled(0.0),
        linear=linear_share * drop / velocity,
        quadratic=(1.0 - linear_share) * drop / (0.5 * BENCH_DENSITY * velocity**2),
        method="Rated on a flow bench",
        source="Darcy-Forchheimer: drop = a V + b rho V²/2",
    )


RESISTANCE = PieceKind(
    "resistance",
    "Filter or rated part",
    "Filter, meter, screen: rated as flow at a pressure drop",
    (
        bore("Bore of the neck"),
        Parameter("flow", "Rated flow", "volume_flow", 1e-4, 20.0, 0.22, "As on the flow bench"),
        Parameter("drop", "Drop at that flow", "pressure_difference", 1.0, 1e5, 500.0, "Clean"),
        Parameter("linear_share", "Linear part", "ratio", 0.0, 1.0, 0.3, "Paper and foam 30–60 %, a meter 0 %"),
    ),
    build,
)  # fmt: skip
