"""A radial turbine: swallowing as two nozzles in series, efficiency over blade-speed ratio.

note: u tip speed, c0 spouting velocity of the isentropic expansion, nu = u / c0, er expansion
ratio p04 / p5. Inlet total to outlet static: the head at the exducer is lost, so the pressure
behind the turbine is taken as total from there on. Efficiencies are total to static.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity_ratio, isentropic_temperature, temperature_of_enthalpy

# Layout of a packed turbine
AREA = 0
DIAMETER = 1
BEST = 2
BEST_RATIO = 3
SPEED_FALL = 4
MECHANICAL = 5
COUNT = 6
PULSES = 7  # and on: the table of what pulses add (`pulses`), nothing for steady gas
PACKED_SIZE = 7
FALL = 0.10  # of the flow that a turning wheel keeps out, over the square of its tip Mach number; Watson & Janota 1982, in form


# Proportions of radial turbines that a builder can hold in his hand; common practice, no source: the
# throat stands at 0.72 of the wheel's diameter, an unvaned volute has 0.92 of its area, the
# hub takes 0.28 of the exducer's diameter, and the blades at their exit angle leave 0.62 of the ring.
THROAT_RADIUS = 0.72
VOLUTE = 0.92
HUB = 0.28
BLADES = 0.62


@dataclass(frozen=True, kw_only=True)
class Turbine:
    """A turbine by its dimensions.

    `wheel`: inducer tip diameter m, `exducer` m; `housing`: A/R in m (throat area over its
    radius); `best`: peak efficiency; `best_ratio`: blade-speed ratio there; `vanes` 0.3–1.5: area
    of variable vanes over that of the fixed housing; `scrolls`: 1 or 2. `pulses`: how much is counted
    of what the pulses of this engine and manifold add over steady gas (`pulses`), 0 for none, 1 for all.
    `mechanical`: efficiency of shaft and bearings.
    """

    name: str
    wheel: float
    exducer: float
    housing: float
    best: float = 0.72
    best_ratio: float = 0.66
    vanes: float = 1.0
    scrolls: int = 1
    pulses: float = 1.0
    mechanical: float = 0.96

    @property
    def throat(self) -> float:
        """Throat area of the housing in m2: A/R times the radius at which it stands."""
        return self.housing * THROAT_RADIUS * self.wheel * self.vanes

    @property
    def volute(self) -> float:
        """Volume of the housing in m3: half its throat, on the mean, once round the wheel; common practice, no source."""
        return 0.5 * self.throat / self.vanes * 2.0 * math.pi * THROAT_RADIUS * self.wheel

    @property
    def outlet(self) -> float:
        """Effective area of the exducer in m2: hub and blades taken off."""
        return 0.25 * math.pi * self.exducer**2 * (1.0 - HUB**2) * BLADES

    @property
    def area(self) -> float:
        """Effective flow area in m2: throat and exducer, two nozzles in series."""
        return math.sqrt(2.0) / math.sqrt(1.0 / (VOLUTE * self.throat) ** 2 + 1.0 / self.outlet**2)


def pack(turbine: Turbine, *, count: int = 1, pulses: np.ndarray | None = None) -> np.ndarray:
    """Array that the compiled turbine reads; `count`: how many share the exhaust evenly; `pulses`: the table of what
    pulses add, None for steady gas."""
    packed = np.zeros(PACKED_SIZE + (len(pulses) if pulses is not None else 1))
    if pulses is not None:
        packed[PULSES:] = pulses
    packed[AREA] = turbine.area
    packed[DIAMETER] = turbine.wheel
    # Two scrolls pay for keeping the pulses apart with more wall: 1.5 points (memory).
    packed[BEST] = turbine.best - (0.015 if turbine.scrolls == 2 else 0.0)
    packed[BEST_RATIO] = turbine.best_ratio
    packed[SPEED_FALL] = FALL
    packed[MECHANICAL] = turbine.mechanical
    packed[COUNT] = float(count)
    return packed


@compiled
def nozzle_function(ratio: float, gamma: float) -> float:
    """m sqrt(R T0) / (A p0) of an isentropic nozzle at the pressure `ratio` p0 / p; choked above
    critical, odd below 1 (the flow turns round), straight within 1e-4 of 1.

    Source: NACA Report 1135; A. J. C. de Saint-Venant, L. Wantzel, 1839.
    `gamma`: ratio of heat capacities.
    """
    if ratio < 1.0:
        return -nozzle_function_forward(1.0 / max(ratio, 1e-3), gamma) / max(ratio, 1e-3)
    return nozzle_function_forward(ratio, gamma)


@compiled
def nozzle_function_forward(ratio: float, gamma: float) -> float:
    """`nozzle_function` for a `ratio` of 1 and up.

    `gamma`: ratio of heat capacities.
    """
    edge = 1.0001
    if ratio < edge:
        return (ratio - 1.0) / (edge - 1.0) * nozzle_function_forward(edge, gamma)
    critical = (0.5 * (gamma + 1.0)) ** (gamma / (gamma - 1.0))
    r = min(ratio, critical)
    root = r ** (-2.0 / gamma) - r ** (-(gamma + 1.0) / gamma)
    return math.sqrt(2.0 * gamma / (gamma - 1.0) * max(root, 0.0))


@compiled
def swallowed(
    turbine: np.ndarray, gas: np.ndarray, inlet_pressure: float, inlet_temperature: float, outlet_pressure: float, tip_speed: float
) -> float:
    """Mass flow in kg/s through all turbines.

    Total `inlet_pressure` Pa and `inlet_temperature` K, `outlet_pressure` Pa, `tip_speed` m/s.
    Each of stator and rotor sees the root of the expansion ratio, so that the whole chokes late
    and softly, as radial turbines do (N. Watson, M. S. Janota, 1982, ch. 4, in its form); the
    rotor's own pressure field takes a part of the flow away as it turns faster.
    """
    gamma = heat_capacity_ratio(gas, inlet_temperature)
    ratio = inlet_pressure / outlet_pressure
    root = math.sqrt(ratio) if ratio > 1.0 else ratio
    sound = math.sqrt(gamma * gas[GAS_CONSTANT] * inlet_temperature)
    turning = 1.0 - turbine[SPEED_FALL] * (tip_speed / sound) ** 2
    return (
        turbine[COUNT]
        * turbine[AREA]
        * max(turning, 0.3)
        * inlet_pressure
        / math.sqrt(gas[GAS_CONSTANT] * inlet_temperature)
        * nozzle_function(root, gamma)
    )


@compiled
def efficiency_at(turbine: np.ndarray, blade_speed_ratio: float) -> float:
    """Total-to-static efficiency over `blade_speed_ratio` u / c0: a parabola with its peak at the
    best ratio, zero at standstill; past twice the best ratio it fades instead of turning
    negative. Source: J. H. Horlock, "Axial Flow Turbines", 1966, for the form; Watson & Janota
    1982, fig. 4.16, for radial turbines."""
    y = blade_speed_ratio / turbine[BEST_RATIO]
    value = y * (2.0 - y)
    if value < 0.1 and y > 1.0:
        value = 0.1 * math.exp((value - 0.1) / 0.1)
    return turbine[BEST] * value


@compiled
def expand(
    turbine: np.ndarray, gas: np.ndarray, inlet_pressure: float, inlet_temperature: float, outlet_pressure: float, tip_speed: float
) -> tuple[float, float, float, float]:
    """Specific work J/kg, outlet temperature K, efficiency and blade-speed ratio.

    Arguments as in `swallowed`. Without an expansion there is no work.
    `turbine` as `pack` gives it; `inlet_pressure`, `outlet_pressure` Pa, `inlet_temperature` K,
    `tip_speed` m/s.
    """
    ratio = inlet_pressure / outlet_pressure
    if ratio <= 1.0 + 1e-12:
        return 0.0, inlet_temperature, 0.0, 10.0
    ideal = isentropic_temperature(gas, inlet_temperature, 1.0 / ratio)
    head = enthalpy(gas, inlet_temperature) - enthalpy(gas, ideal)
    spouting = math.sqrt(2.0 * max(head, 1e-9))
    nu = tip_speed / spouting
    efficiency = efficiency_at(turbine, nu)
    work = efficiency * head
    out = temperature_of_enthalpy(gas, enthalpy(gas, inlet_temperature) - work, ideal)
    return work, out, efficiency, nu
