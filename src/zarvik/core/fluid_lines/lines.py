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
    """`oil_grade`, `bearings` ("journal" or "ball"), hot `oil_pressure` Pa and `oil_temperature` K; bore and length of the restrictor (m, 0
    for none); `drain_bore` m, `drain_slope` rad below level, and whether it ends `drain_above` the oil in the sump.

    Injectors: how many (`injectors`, 0 for one a cylinder), `injector_flow` m3/s (0 where nobody knows) at `injector_pressure` Pa;
    `fuel_pressure` Pa of the regulator, and whether it `follows_boost`. `pump_flow` m3/s (0: nobody knows) at `pump_pressure` Pa;
    `fuel_line_bore` m."""

    oil_grade: str = "10w40"
    bearings: str = "journal"
    oil_pressure: float = 4e5
    oil_temperature: float = 368.15
    restrictor_bore: float = 0.0
    restrictor_length: float = 0.004
    drain_bore: float = 0.0
    drain_slope: float = 1.2
    drain_above: bool = True
    injectors: int = 0
    injector_flow: float = 0.0
    injector_pressure: float = 3e5
    fuel_pressure: float = 3e5
    follows_boost: bool = True
    pump_flow: float = 0.0
    pump_pressure: float = 3e5
    fuel_line_bore: float = 0.008


def fed(lines: Lines) -> float:
    """Oil in m3/s that the restrictor of these `lines` lets to one turbo; 0 where none is said."""
    if lines.restrictor_bore <= 0.0:
        return 0.0
    return oil.feed_flow(
        lines.restrictor_bore, lines.restrictor_length, lines.oil_pressure, oil.viscosity(lines.oil_grade, lines.oil_temperature)
    )


def drain_capacity(lines: Lines) -> float:
    """Oil in m3/s that the drain of these `lines` carries half full; 0 where none is said."""
    return (
        oil.drain_flow(lines.drain_bore, lines.drain_slope, oil.viscosity(lines.oil_grade, lines.oil_temperature))
        if lines.drain_bore > 0.0
        else 0.0
    )


def injected(lines: Lines, *, fuel: float, boost: float, cylinders: int, density: float) -> Injection:
    """What the injectors of these `lines` do when an engine of so many `cylinders` asks for `fuel` kg/s of `density` kg/m3 at a `boost`
    in Pa gauge. Raises ValueError where nothing is left across them."""
    return injection(
        fuel=fuel,
        count=lines.injectors or cylinders,
        rated=lines.injector_flow,
        rated_at=lines.injector_pressure,
        base=lines.fuel_pressure,
        boost=boost,
        follows=lines.follows_boost,
        density=density,
    )


def pump_delivery(lines: Lines, rail: float) -> float:
    """Fuel in m3/s that the pump of these `lines` gives at `rail` Pa gauge: its figure, counted at nine tenths, less a tenth for each bar
    that the rail is over where it was rated."""
    more = (rail - lines.pump_pressure) / 1e5
    return max(PUMP_LEFT * lines.pump_flow * (1.0 - DROOP * more), 0.0)


def feed_speed(lines: Lines, flow: float) -> float:
    """Velocity in m/s in the fuel line of these `lines`: of the `flow` m3/s that is burnt, or of all that the pump gives at rest,
    which goes round through the regulator."""
    return line_speed(max(flow, pump_delivery(lines, lines.fuel_pressure)), lines.fuel_line_bore)
