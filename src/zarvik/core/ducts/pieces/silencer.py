"""A silencer or resonator by the way it is built, for who has no figure of a flow bench."""

from __future__ import annotations

import math

from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.cover import skin
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore, length

BUILDS = (("through", "Straight through, perforated"), ("chamber", "One empty chamber"), ("turned", "Turned-back pipes inside"))
PERFORATED = 0.06  # friction factor of a tube with holes, two to four times that of a smooth one (memory)
ROUND = 1.5  # heads for each way back in a box: a close turn of 180 degrees (memory)
UNCERTAINTY = (0.6, 1.6)


def silencer_loss(built: str, bore: float, body: float, span: float) -> float:
    """Loss coefficient on the head in the neck of `bore` m of a silencer `built` as "through", "chamber" or "turned", with a
    `body` across and `span` long in m: friction along holes; a sudden widening and narrowing; two chambers with two turns.
    Borda-Carnot and Idelchik, diagram 4-9, with friction and turns from memory: within 40 to 60 %."""
    if built == "through":
        return PERFORATED * span / bore
    share = (bore / body) ** 2
    chamber = (1.0 - share) ** 2 + 0.5 * (1.0 - share)
    return chamber if built == "chamber" else 2.0 * chamber + 2.0 * ROUND


def build(*, id: str, name: str, bore: float, built: str, length: float, body: float) -> Element:
    """Element of a silencer of `bore`, `length` and a `body` across, in m; `built` as in `BUILDS`. Raises Fault for a body
    no wider than its pipe."""
    if body <= bore:
        raise Fault("the body of a silencer must be wider than its pipe")
    loss = silencer_loss(built, bore, body, length)
    wool = 0.05 if built == "through" else 0.0  # m2 K/W, 5 cm of wool: 0.1 W/(m K) when hot, a part of it wet and burnt
    warm = skin("stainless", "bare", body if built != "through" else bore, length)
    return Element(
        id=id,
        kind="silencer",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled(loss),
        spread=lambda: (UNCERTAINTY[0] * loss, UNCERTAINTY[1] * loss),
        length=length,
        volume=circle(bore if built == "through" else body) * length,
        surface=math.pi * bore * length if built == "through" else warm["surface"],
        resistance=wool,
        emissivity=warm["emissivity"],
        material="stainless",
        method="By its inside: holes, chambers, turns",
        source="Borda-Carnot; Idelchik, diagram 4-9; friction of holes and turns from memory",
    )


SILENCER = PieceKind(
    "silencer",
    "Silencer or resonator",
    "By its construction; with a flow-bench figure use a flow-rated part",
    (
        bore("Pipe bore"),
        Parameter("built", "Construction", "choice", default="through", choices=BUILDS, help="Look through it with a lamp"),
        length("Body length", default=0.45, low=0.05, high=2.0, help="Without its necks"),
        Parameter(
            name="body",
            title="Body diameter",
            quantity="length",
            low=0.04,
            high=0.6,
            default=0.152,
            help="For an oval, that of a round one of the same area",
        ),
    ),
    build,
)
