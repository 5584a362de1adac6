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
    """An air meter: `kind`, `bore` in m, `max_reading` in kg/s (0 where it is not known), straight pipe in m before and after it
    (`straight_before`, `straight_after`); `new_bore` in m of a housing that its insert was moved to, 0 for its own."""

    kind: str = "none"
    bore: float = 0.0
    max_reading: float = 0.0
    straight_before: float = 0.0
    straight_after: float = 0.0
    new_bore: float = 0.0


def meter_range(meter: Meter) -> float:
    """kg/s that a `meter` can say: the speed at its end is the same in another housing, so that it goes with the area."""
    if meter.new_bore <= 0.0 or meter.bore <= 0.0:
        return meter.max_reading
    return meter.max_reading * (meter.new_bore / meter.bore) ** 2


def says(meter: Meter) -> float:
    """What a `meter` says over what goes through it, until its table is scaled: 1 in its own housing."""
    if meter.new_bore <= 0.0 or meter.bore <= 0.0:
        return 1.0
    return (meter.bore / meter.new_bore) ** 2


def housing_for(meter: Meter, flow: float) -> float:
    """Bore in m of the housing in which the insert of a `meter` reaches `flow` kg/s with its reserve. nan where its range is not known."""
    if meter.max_reading <= 0.0 or meter.bore <= 0.0:
        return math.nan
    return meter.bore * math.sqrt(flow * (1.0 + RANGE_LEFT) / meter.max_reading)
