"""A flow meter before the compressor: does its range reach, does its bore stay, does the air come to it straight?

note: a meter measures the speed of the air in its own bore and says a mass for that bore.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

KINDS = {"none": "None: speed-density", "film": "Hot film or wire", "vane": "Vane"}
RANGE_LEFT = 0.05  # of its range that is kept for a cold day; common practice, no source
STRAIGHT = {"film": (3.0, 1.0), "vane": (1.0, 0.5)}  # bores before and behind; common practice, no source


@dataclass(frozen=True)
class Meter:
    """A meter: `kind`, its `bore` m, `most` kg/s that it can say (0 where nobody knows), straight pipe `before` and `behind` it, m; was
    its insert put into another housing of `housing` m (0: it is in its own)."""

    kind: str = "none"
    bore: float = 0.0
    most: float = 0.0
    before: float = 0.0
    behind: float = 0.0
    housing: float = 0.0


def meter_range(meter: Meter) -> float:
    """kg/s that a `meter` can say: the speed at its end is the same in another housing, so that it goes with the area."""
    if meter.housing <= 0.0 or meter.bore <= 0.0:
        return meter.most
    return meter.most * (meter.housing / meter.bore) ** 2


def says(meter: Meter) -> float:
    """What a `meter` says over what goes through it, until its table is scaled: 1 in its own housing."""
    if meter.housing <= 0.0 or meter.bore <= 0.0:
        return 1.0
    return (meter.bore / meter.housing) ** 2


def housing_for(meter: Meter, flow: float) -> float:
    """Bore in m of the housing in which the insert of a `meter` reaches `flow` kg/s with its reserve. nan where its range is not known."""
    if meter.most <= 0.0 or meter.bore <= 0.0:
        return math.nan
    return meter.bore * math.sqrt(flow * (1.0 + RANGE_LEFT) / meter.most)
