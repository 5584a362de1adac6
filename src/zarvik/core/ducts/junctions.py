"""Streams that join and part: what a junction takes of the head of the whole stream.

note: K loss coefficient on the head of the whole stream, q share of the side stream in it, n area of the whole stream over
that of the side pipe, alpha angle between side and main (0 along the flow). Both come from the balance of momentum with one
pressure across the junction, as I. E. Idelchik, Handbook of Hydraulic Resistance, 3rd ed., eq. 7-1 to 7-4, has them
(his factors of 0.55 to 1 for the side stream left out: the high end).
"""

from __future__ import annotations

import math

from zarvik.core.common.compiled import compiled


@compiled
def straight_loss_joining(share: float, wide: float, cosine: float) -> float:
    """K of the stream that goes straight on while a `share` of the whole joins from the side: below 0 where the side
    stream drives it. `wide`: area of the whole over that of the side pipe, `cosine` of the angle to the flow;
    dimensionless. Idelchik eq. 7-2."""
    return 1.0 - (1.0 - share) ** 2 - 2.0 * wide * share * share * cosine


def parting_side(ratio: float, angle: float) -> float:
    """K, on the head before, of a stream that turns off into a branch at an `angle` in rad with a velocity `ratio` of
    branch over main: what of the velocity it does not take along is lost. Idelchik eq. 7-3 with A' = 1, dimensionless."""
    return 1.0 + ratio * ratio - 2.0 * ratio * math.cos(angle)


def merged(ratio: float, angle: float) -> float:
    """K of equal streams that merge at an `angle` in rad to the axis, with a velocity `ratio` of each stream over the
    whole: momentum with one pressure before the meeting, dimensionless."""
    return 1.0 + ratio * ratio - 2.0 * ratio * math.cos(angle)
