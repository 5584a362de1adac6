"""Oil and fuel of a build as plain numbers, and what comes of them at the point that asks for the most."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.fluid_lines import oil
from zarvik.core.fluid_lines.fuel import PUMP_LEFT, Injection, injection, line_speed

DROOP = 0.10  # of its flow that a pump loses for a bar more than it is rated at; common practice, no source
# kg/m3 of liquid fuel at 30 °C by family: petrol 745, E85 780, methanol 785, diesel 835; common tables
DENSITIES = {"petrol": 745.0, "e85": 780.0, "methanol": 785.0, "diesel": 835.0}


@dataclass(frozen=True, kw_only=True)
class Lines:
    """`grade` of oil, `bearings` ("journal" or "ball"), `oil` Pa at hot idle-free running and its `heat` K; bore and length of the
    `restrictor` (m, 0 for none), `drain` bore m with its `fall` rad below level, and whether it ends `above` the oil in the sump.
    Injectors: how many, 0 for one a cylinder (`injectors`), `rated` m3/s (0 where nobody knows) at `rated_at` Pa; `base` Pa of the
    regulator, and whether it `follows` the boost. `pump` m3/s (0: nobody knows) at `pump_at` Pa; bore of the fuel `line`, m."""

    grade: str = "10w40"
    bearings: str = "journal"
    oil: float = 4e5
    heat: float = 368.15
    restrictor: float = 0.0
    restrictor_long: float = 0.004
    drain: float = 0.0
    fall: float = 1.2
    above: bool = True
    injectors: int = 0
    rated: float = 0.0
    rated_at: float = 3e5
    base: float = 3e5
    follows: bool = True
    pump: float = 0.0
    pump_at: float = 3e5
    line: float = 0.008


def fed(lines: Lines) -> float:
    """Oil in m3/s that the restrictor of these `lines` lets to one turbo; 0 where none is said."""
    if lines.restrictor <= 0.0:
        return 0.0
    return oil.feed_flow(lines.restrictor, lines.restrictor_long, lines.oil, oil.viscosity(lines.grade, lines.heat))


def drain_capacity(lines: Lines) -> float:
    """Oil in m3/s that the drain of these `lines` carries half full; 0 where none is said."""
    return oil.drain_flow(lines.drain, lines.fall, oil.viscosity(lines.grade, lines.heat)) if lines.drain > 0.0 else 0.0


def injected(lines: Lines, *, fuel: float, boost: float, cylinders: int, density: float) -> Injection:
    """What the injectors of these `lines` do when an engine of so many `cylinders` asks for `fuel` kg/s of `density` kg/m3 at a `boost`
    in Pa gauge. Raises ValueError where nothing is left across them."""
    return injection(
        fuel=fuel,
        count=lines.injectors or cylinders,
        rated=lines.rated,
        rated_at=lines.rated_at,
        base=lines.base,
        boost=boost,
        follows=lines.follows,
        density=density,
    )


def pump_delivery(lines: Lines, rail: float) -> float:
    """Fuel in m3/s that the pump of these `lines` gives at `rail` Pa gauge: its figure, counted at nine tenths, less a tenth for each bar
    that the rail is over where it was rated."""
    more = (rail - lines.pump_at) / 1e5
    return max(PUMP_LEFT * lines.pump * (1.0 - DROOP * more), 0.0)


def feed_speed(lines: Lines, flow: float) -> float:
    """Velocity in m/s in the fuel line of these `lines`: of the `flow` m3/s that is burnt, or of all that the pump gives at rest,
    which goes round through the regulator."""
    return line_speed(max(flow, pump_delivery(lines, lines.base)), lines.line)
