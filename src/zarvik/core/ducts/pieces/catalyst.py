"""A honeycomb in the exhaust: gas in many square channels, slow and smooth, between two cones.

note: pitch of a cell from cells per square inch, h = pitch less wall, open share s = (h / pitch)^2. In each channel the flow
is laminar: friction factor times Reynolds number 14.227, and 1.43 heads for the profile that forms (R. K. Shah, A. L. London,
Laminar Flow Forced Convection in Ducts, 1978, square duct).
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.constants import INCH
from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.cover import skin
from zarvik.core.ducts.element import REYNOLDS_NODES, Element, circle
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore, length

SQUARE = 14.227  # Fanning friction factor times Reynolds number
FORMING = 1.433  # heads that the profile takes to form
MAT = 0.04  # m2 K/W, 6 mm of mat round the brick; common practice, no source
CONE = 0.2  # of the narrowing behind the brick, Idelchik diagram 5-23 (memory)


def honeycomb_loss(bore: float, face: float, span: float, cells: float, wall: float) -> np.ndarray:
    """Loss coefficient at the Reynolds nodes, on the head in the neck of `bore` m, of a brick of the diameter `face` and
    length `span` in m with so many `cells` a square inch (count) and a `wall` in m, cones with it. Raises Fault for a wall
    that leaves no channel, or a face smaller than the neck."""
    pitch = INCH / math.sqrt(cells)
    channel = pitch - wall
    if channel < 0.2 * pitch:
        raise Fault("walls of this thickness leave no channel between so many cells")
    if face < bore:
        raise Fault("the brick is smaller than its pipe")
    open_share = (channel / pitch) ** 2
    faster = circle(bore) / (circle(face) * open_share)  # velocity in a channel over that in the neck
    reynolds = REYNOLDS_NODES * faster * channel / bore
    inside = 4.0 * SQUARE / reynolds * span / channel + FORMING
    ends = 0.4 * (1.0 - open_share**2) + (1.0 - open_share) ** 2
    wide = circle(bore) / circle(face)
    return np.asarray((inside + ends) * faster**2 + (1.0 - wide) ** 2 + CONE * (1.0 - wide))


def build(*, id: str, name: str, bore: float, face: float, length: float, cells: float, wall: float) -> Element:
    """Element of a brick of `face` and `length` in a pipe of `bore`, `wall` of its cells, all in m; `cells` a square inch."""
    share = (1.0 - wall * math.sqrt(cells) / INCH) ** 2
    return Element(
        id=id,
        kind="catalyst",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=honeycomb_loss(bore, face, length, cells, wall),
        length=length,
        volume=circle(face) * length * share,
        surface=math.pi * face * length,
        resistance=MAT,
        emissivity=skin("stainless", "bare", face, length)["emissivity"],
        material="stainless",
        method="Laminar flow in square channels, two cones",
        source="Shah & London 1978; cones: Borda-Carnot, Idelchik ch. 5",
    )


CATALYST = PieceKind(
    "catalyst",
    "Catalyst or honeycomb",
    "A honeycomb brick between two cones",
    (
        bore("Pipe bore"),
        Parameter(
            name="face",
            title="Brick diameter",
            quantity="length",
            low=0.03,
            high=0.4,
            default=0.101,
            help="For an oval, that of a round one of the same area",
        ),
        length("Brick length", default=0.1, low=0.02, high=0.6, help="All bricks in a row together"),
        Parameter(
            name="cells",
            title="Cells per square inch",
            quantity="count",
            low=50.0,
            high=1200.0,
            default=200.0,
            help="Sport bricks have about 200, road bricks 400",
        ),
        Parameter(
            name="wall",
            title="Cell wall thickness",
            quantity="length",
            low=0.00002,
            high=0.0006,
            default=0.00017,
            help="Ceramic 0.17 mm, metal foil 0.05 mm",
        ),
    ),
    build,
)
