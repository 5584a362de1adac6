"""Anything rated on a flow bench: filter, screen, air-flow meter, silencer, catalyst."""

from __future__ import annotations

import math

from zarvik.core.common.constants import AIR_GAMMA, STANDARD_ATMOSPHERE
from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.flow import fanno_length, mach_of_flow
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore

BENCH_DENSITY = 1.2  # kg/m3, air at 20 °C and 1013 hPa with common humidity


def _bench_mach(mass_flow: float, area: float, pressure: float) -> float:
    """Mach number on the bench for kg/s through m2 at a total `pressure` in Pa."""
    sound_flow = area * pressure * math.sqrt(AIR_GAMMA * BENCH_DENSITY / STANDARD_ATMOSPHERE)
    return float(mach_of_flow(mass_flow / sound_flow, AIR_GAMMA))


def build(*, id: str, name: str, bore: float, flow: float, drop: float, linear_share: float) -> Element:
    """Element that passes `flow` (m3/s, of air of 1.2 kg/m3) at a pressure `drop` in Pa.

    `linear_share` 0–1: part of the drop that grows with the flow (paper, foam, honeycomb); the
    rest grows with its square. `bore` in m is that of its neck.
    """
    area = circle(bore)
    mass_flow = flow * BENCH_DENSITY
    one = _bench_mach(mass_flow, area, STANDARD_ATMOSPHERE)
    two = _bench_mach(mass_flow, area, STANDARD_ATMOSPHERE - drop)
    if not two < 1.0:
        raise Fault("this neck chokes at the rated flow: its bore is too small")
    loss = fanno_length(one, AIR_GAMMA) - fanno_length(two, AIR_GAMMA)
    return Element(
        id=id,
        kind="resistance",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled(0.0),
        linear=linear_share * loss * mass_flow / (2.0 * area),
        quadratic=(1.0 - linear_share) * loss,
        method="Rated on a flow bench",
        source="Darcy-Forchheimer: drop = a V + b rho V²/2",
    )


RESISTANCE = PieceKind(
    "resistance",
    "Filter or flow-rated part",
    "Filter, meter, screen: rated flow at a pressure drop",
    (
        bore("Neck bore"),
        Parameter(
            name="flow",
            title="Rated flow",
            quantity="volume_flow",
            low=1e-4,
            high=20.0,
            default=0.22,
            help="As on the flow bench",
            uncertainty=InputUncertainty(0.05, 0.15, 0.30, measure="A head shop's flow bench, or a water gauge across it at full load"),
        ),
        Parameter(
            name="drop", title="Pressure drop at that flow", quantity="pressure_difference", low=1.0, high=1e5, default=500.0, help="Clean"
        ),
        Parameter(
            name="linear_share",
            title="Linear share of the loss",
            quantity="ratio",
            low=0.0,
            high=1.0,
            default=0.3,
            help="Paper and foam 30–60 %, a meter 0 %",
            uncertainty=InputUncertainty(0.10, 0.15, 0.20, absolute=True, measure="Two flows on the bench"),
        ),
    ),
    build,
)
