"""The primaries of a manifold: equal pipes side by side, one a cylinder or a pair."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from zarvik.core.common.sentences import Fault
from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore, length
from zarvik.core.ducts.pieces.bend import bend_loss
from zarvik.core.ducts.pieces.step import step_loss
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


def build(*, id: str, name: str, count: float, bore: float, length: float, turns: float, material: str, cover: str = "bare") -> Element:
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


def of_pieces(id: str, name: str, pipes: Sequence[Sequence[Element]]) -> Element:
    """Element of primaries that are made of pieces: for each of the `pipes` its elements in their order (one at the least
    has a bore and a length); `id` its key, `name` its name. Each cylinder blows through its own pipe, so that the loss is
    the mean of theirs, each on the head in the mean bore; where two pieces do not meet, the step between them costs too. Raises ValueError
    where there is no pipe with a length."""
    pipes = [[e for e in pipe if e.length > 0.0 or e.loss.any()] for pipe in pipes]
    pipes = [pipe for pipe in pipes if sum(e.length for e in pipe) > 0.0]
    if not pipes:
        raise Fault("no primary has a piece with a length")
    every = [e for pipe in pipes for e in pipe]
    long = sum(e.length for e in every)
    area = sum(circle(e.diameter) * e.length for e in every) / long
    bore = math.sqrt(4.0 * area / math.pi)
    loss = np.zeros_like(every[0].loss)
    for pipe in pipes:
        for e in pipe:
            loss = loss + e.loss * (area / circle(e.diameter)) ** 2
        for one, two in itertools.pairwise(pipe):
            edge = min(one.diameter_out, two.diameter_in)
            loss = loss + step_loss(one.diameter_out, two.diameter_in) * (area / circle(edge)) ** 2
    surface = sum(e.surface for e in every)
    longest = max(every, key=lambda e: e.length)
    return Element(
        id=id,
        kind="primaries",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=PULSE_FACTOR * loss / len(pipes),
        parallel=len(pipes),
        length=long / len(pipes),
        volume=sum(e.volume for e in every),
        turn=sum(e.turn for e in every) / len(pipes),
        surface=surface,
        resistance=sum(e.resistance * e.surface for e in every) / surface if surface else 0.0,
        emissivity=sum(e.emissivity * e.surface for e in every) / surface if surface else 0.85,
        material=longest.material,
        method="Friction, bends and steps piece by piece, pulse factor 3",
        source="Clamond 2009; Rennels & Hudson 2012; pulse factor: common practice, no source",
    )


PRIMARIES = PieceKind(
    "primaries",
    "Primaries",
    "Equal pipes from the ports to the collector",
    (
        Parameter(
            name="count", title="Number of pipes", quantity="count", low=1.0, high=16.0, default=4.0, help="Pipes that share the flow"
        ),
        bore(default=0.0409),
        length(default=0.35),
        Parameter(
            name="turns",
            title="Bend angle per pipe",
            quantity="angle",
            low=0.0,
            high=math.radians(540),
            default=math.radians(150),
            help="All its bends together",
        ),
        MATERIAL,
        COVER,
    ),
    build,
)
