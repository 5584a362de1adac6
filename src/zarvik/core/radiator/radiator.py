"""The engine's radiator behind whatever stands before it: how hot the water gets in traffic, on the road, and held at full load.

note: Q heat to the water W, eps effectiveness, C the smaller capacity flow W/K: the water comes in Q / (eps C) hotter than the air.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache

from zarvik.core.common.constants import INCH
from zarvik.core.intercooler.core_size import Core, Wind, cooling_air, front_drop, rate_front
from zarvik.core.intercooler.intercooler import RATED_CP, WATER_CP

RUBBED = 0.6  # of an engine's friction that goes into the water, the rest with the oil into the air; common practice, no source
# W of heat to the water for each m3 of displacement at idle: half a litre of fuel an hour and litre, a third of it to the water;
# common practice, no source
IDLING = 1.5e6
WATER_RISES = 7.0  # K that the water falls in a radiator at the heat of full load, where nobody knows its pump; common practice, no source
CONDENSER = Core(width=0.6, height=0.4, thickness=0.016, fins=18.0 / INCH, entry=0.01, build="tube_louvre")
CONDENSED = 4000.0  # W that an air conditioning gives off; common practice, no source


# How much of the head of the road speed drives air through it, suction behind it included, by how it stands; common practice, no source
STANDS: dict[str, tuple[float, str]] = {
    "open": (0.45, "Open sides"),
    "sealed": (0.65, "Sealed to the grille"),
    "rear": (0.2, "At the rear, with scoops"),
}


@dataclass(frozen=True)
class Radiator:
    """`core` of the radiator, None where nobody measured it; its `wind` (share of the head, opening, fan); Pa that a intercooler
    before it takes of each kg/s squared of its air (`resists`, 0 for none); a `condenser` before it; `water` kg/s, 0 where nobody knows
    it."""

    core: Core | None = None
    wind: Wind = field(default_factory=lambda: Wind(0.45))
    resists: float = 0.0
    condenser: bool = False
    water: float = 0.0


# J/K of water and of the metal that it wets, for each m3 of displacement; common practice, no source
HOLDS_HEAT = 3.0e7
BEGINS = 363.15  # K of the water before a pull: what a thermostat holds


@dataclass(frozen=True)
class RadiatorState:
    """A radiator at work: `air` kg/s through it, K of that air as it comes (`taken`), hottest `water` K, `effectiveness`, W
    for each kelvin of the water over that air (`carries`)."""

    air: float
    taken: float
    water: float
    effectiveness: float
    carries: float = 0.0


@lru_cache(64)
def air_through(radiator: Radiator, road_speed: float) -> float:
    """Cooling air in kg/s through a `radiator` at a `road_speed` m/s: head of the wind and of the fan against its core, what stands before
    it, and a narrow opening (Borda-Carnot). Raises ValueError where nobody measured it."""
    core, _wind = radiator.core, radiator.wind
    if core is None:
        raise ValueError("the radiator has not been measured")
    condenser = Core(
        width=core.width,
        height=core.height,
        thickness=CONDENSER.thickness,
        fins=CONDENSER.fins,
        entry=CONDENSER.entry,
        build=CONDENSER.build,
    )

    def takes(flow: float) -> float:
        more = front_drop(condenser, flow) if radiator.condenser else 0.0
        return front_drop(core, flow) + radiator.resists * flow**2 + more

    return cooling_air(takes, face=core.width * core.height, wind=radiator.wind, road_speed=road_speed)


def water_flow(radiator: Radiator, full_heat: float) -> float:
    """kg/s of water through a `radiator`: said, or so that it falls by `WATER_RISES` at `full_heat` W of full load."""
    return radiator.water or full_heat / (WATER_CP * WATER_RISES)


def radiator_state(radiator: Radiator, *, heat: float, full_heat: float, before: float, road_speed: float, ambient: float) -> RadiatorState:
    """How hot the water of a `radiator` gets when it takes off `heat` W for good at a `road_speed` m/s and `ambient` K, in air that a
    charge cooler `before` it has taken so many W to; `full_heat` W sets the pump where nobody knows it. inf K without any wind. Raises
    ValueError where nobody measured it."""
    air = air_through(radiator, road_speed)
    core = radiator.core
    if core is None or air < 1e-4:
        return RadiatorState(air, ambient, float("inf"), 0.0)
    taken = ambient + (before + (CONDENSED if radiator.condenser else 0.0)) / (air * RATED_CP)
    water = water_flow(radiator, full_heat)
    eps = rate_front(core, water=water, air=air)
    carries = eps * min(air * RATED_CP, water * WATER_CP)
    return RadiatorState(air, taken, taken + heat / carries, eps, carries)


def seconds_to_limit(found: RadiatorState, displacement: float, most: float) -> float:
    """Seconds in which the water of an engine of so much `displacement` (m3) comes from `BEGINS` to `most` K while it goes to what is
    `found`: one lump of metal and water. inf where it stays below."""
    if found.water <= most or found.carries <= 0.0:
        return math.inf if found.water <= most else 0.0
    tau = HOLDS_HEAT * displacement / found.carries
    return tau * math.log((found.water - BEGINS) / (found.water - most))
