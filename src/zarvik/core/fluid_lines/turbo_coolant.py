"""Water through the centre section of a turbo: what it carries while the engine runs, and whether it goes on by itself afterwards.

note: a loop that rises from turbo to its return goes round by the weight of warm water against cold: rho beta dT g h against
the hose friction; Q = m cp dT closes it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import STANDARD_GRAVITY
from zarvik.core.common.numerics import brentq
from zarvik.core.ducts.element import circle
from zarvik.core.fluid_lines.crankcase_breather import friction
from zarvik.core.intercooler.intercooler import WATER_CP

# W for each kelvin between turbine housing and water, of a wheel of 50 mm; goes with its square; common practice, no source
THROUGH = 2.0
SOAKS = 0.25  # of it that still comes in the minutes after the engine is shut off; common practice, no source
DENSITY, VISCOSITY, SWELLS = 1000.0, 4.0e-4, 7.0e-4  # kg/m3, Pa s, 1/K of water with a third of glycol at 90 °C; common tables
PUMPED = 15e3  # Pa of an engine's pump across a small circuit; common practice, no source
FITTINGS = 6.0  # velocity heads that unions, bends and the passage lose; common practice, no source
HOT = 363.15  # K of the water that comes
WATERED = {"flows": "Connected", "none": "Plugged: oil cooled only"}


@dataclass(frozen=True)
class CoolantCircuit:
    """`water` (key of `WATERED`), `bore` of its hoses and `length` of both together, m; `rise` m from the turbo to where its return joins,
    below 0 where that is lower."""

    water: str = "flows"
    bore: float = 0.008
    length: float = 1.6
    rise: float = 0.0


def heat_to_water(wheel: float, housing: float, water: float = HOT) -> float:
    """W that the turbine housing (K) of a `wheel` (m) sends into `water` (K) through its centre section."""
    return THROUGH * (wheel / 0.05) ** 2 * max(housing - water, 0.0)


def _rubs(circuit: CoolantCircuit, flow: float) -> float:
    """Pa that `flow` kg/s loses in a `circuit`."""
    if flow <= 0.0:
        return 0.0
    speed = flow / (DENSITY * circle(circuit.bore))
    re = DENSITY * speed * circuit.bore / VISCOSITY
    return (friction(re) * circuit.length / circuit.bore + FITTINGS) * 0.5 * DENSITY * speed**2


def pump_flow(circuit: CoolantCircuit) -> float:
    """kg/s that the engine's pump sends through a `circuit`."""
    return float(brentq(lambda m: _rubs(circuit, m) - PUMPED, 0.0, 20.0))


def temperature_rise(heat: float, flow: float) -> float:
    """K by which `heat` W warm `flow` kg/s of water."""
    return heat / (flow * WATER_CP) if flow > 0.0 else math.inf


def thermosiphon_flow(circuit: CoolantCircuit, heat: float) -> float:
    """kg/s that go round by themselves through a `circuit` while `heat` W still come; 0 where it does not rise."""
    if circuit.rise <= 0.0 or heat <= 0.0:
        return 0.0

    def over(flow: float) -> float:
        return DENSITY * SWELLS * temperature_rise(heat, flow) * STANDARD_GRAVITY * circuit.rise - _rubs(circuit, flow)

    return float(brentq(over, 1e-15, 5.0))
