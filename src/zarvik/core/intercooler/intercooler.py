"""An air-to-air intercooler, scaled from one rated or measured point.

note: m mass flow, r the rated point, rho density of the charge, UA conductance in W/K.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.sentences import Fault
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity, temperature_of_enthalpy
from zarvik.core.intercooler.effectiveness import crossflow_effectiveness, transfer_units_for

RATED_CP = 1010.0  # J/(kg K), air between 20 °C and 150 °C
RATED_DENSITY = 1.9  # kg/m3: charge of about 190 kPa gauge-and-all at 75 °C, as sellers rate
WATER_CP = 3900.0  # J/(kg K), water with a third of glycol, 40 °C
CHARGE_EXPONENT = 0.8  # turbulent inside the core: Nu over Re^0.8 (Dittus-Boelter)
COOLING_EXPONENT = 0.55  # offset-strip and louvred fins: j over Re^-0.45 (Kays & London 1984)
CORE_SHARE, CORE_POWER = 0.6, 1.75  # of the rated loss: friction in the core, over the flow to that power; the rest tanks, m^2

# Layout of a packed cooler
PRESENT = 0
CONDUCTANCE = 1
RATED_CHARGE = 2
RATED_COOLING = 3
RATED_DROP = 4
COOLING_FLOW = 5
WATER_CAPACITY = 6  # W/K of the water loop, 0 for air to air
FRONT = 7  # effectiveness of the front exchanger times its smaller capacity, W/K
DROP_CHARGE = 8  # kg/s of charge at which the rated drop holds
PACKED_SIZE = 9


@dataclass(frozen=True, kw_only=True)
class Intercooler:
    """One rated point of an intercooler and how it stands in the air.

    `effectiveness` 0–1 and `drop` Pa on the charge side hold at `rated_charge` and `rated_cooling` kg/s (drop at a charge
    density of 1.9 kg/m3, and at `drop_charge` where that is above 0: a figure from somewhere else than the other; with a
    `transfer` in W/K above 0 that is the conductance, and the effectiveness only says what it comes to: near 1 it hardly tells
    one core from another). `trust`: part of the rated conductance that is believed (common practice for a seller's figure: 0.8,
    no source). With `water_flow` kg/s above 0 the charge is cooled by water, and `front`, the effectiveness 0–1 (over the
    smaller capacity) of the exchanger in the wind at `front_wind` kg/s of air, cools the water; then `rated_cooling` is water
    too. `face_area` m2, `capture` 0–1: the part of the free stream that goes through the core. `volume` m3 of the charge in it;
    `least_wind` m/s for which a fan stands at any road speed.
    """

    effectiveness: float
    drop: float
    rated_charge: float
    rated_cooling: float
    face_area: float
    capture: float
    trust: float = 1.0
    water_flow: float = 0.0
    front: float = 0.0
    volume: float = 0.0
    least_wind: float = 0.0
    front_wind: float = 0.0
    drop_charge: float = 0.0
    transfer: float = 0.0

    def conductance(self) -> float:
        """Believed UA in W/K at the rated flows. Raises ValueError when no exchanger has it."""
        if self.transfer > 0.0:
            return self.trust * self.transfer
        charge = self.rated_charge * RATED_CP
        cooling = self.rated_cooling * (WATER_CP if self.water_flow > 0.0 else RATED_CP)
        least, most = min(charge, cooling), max(charge, cooling)
        effectiveness = self.effectiveness * charge / least
        if effectiveness >= 0.97:
            raise Fault("the rated effectiveness needs more cooling air than it gets")
        return self.trust * transfer_units_for(effectiveness, least / most) * least

    def cooling_flow(self, speed: float, density: float) -> float:
        """Cooling air in kg/s at road `speed` in m/s and air `density` in kg/m3."""
        return max(speed, self.least_wind) * density * self.face_area * self.capture

    def front_capacity(self, wind: float) -> float:
        """Effectiveness of the front exchanger times its smaller capacity, in W/K, with `wind` kg/s of air: its conductance
        is that of its rated point, moved with the air (half of the resistance on that side), so more wind never cools less."""
        water = self.water_flow * WATER_CP
        rated, now = (self.front_wind or wind) * RATED_CP, wind * RATED_CP
        if min(water, rated, now) <= 0.0:
            return 0.0
        least = min(water, rated)
        ratio = least / max(water, rated)
        units = transfer_units_for(min(self.front, most_front(ratio)), ratio)
        conductance = units * least / (0.5 + 0.5 * (now / rated) ** -COOLING_EXPONENT)
        least = min(water, now)
        return float(crossflow_effectiveness(conductance / least, least / max(water, now)) * least)


def most_front(ratio: float) -> float:
    """Effectiveness (0–1, over the smaller capacity) that an exchanger in the wind reaches, smaller over larger capacity at
    `ratio` (0–1): with 12 transfer units, far more than is built."""
    return float(crossflow_effectiveness(12.0, ratio))


def pack(cooler: Intercooler | None, *, road_speed: float, air_density: float) -> np.ndarray:
    """Array that the compiled cooler reads; `road_speed` m/s, `air_density` kg/m3."""
    packed = np.zeros(PACKED_SIZE)
    if cooler is not None:
        packed[PRESENT] = 1.0
        packed[CONDUCTANCE] = cooler.conductance()
        packed[RATED_CHARGE] = cooler.rated_charge
        packed[RATED_COOLING] = cooler.rated_cooling
        packed[RATED_DROP] = cooler.drop
        packed[DROP_CHARGE] = cooler.drop_charge or cooler.rated_charge
        wind = cooler.cooling_flow(road_speed, air_density)
        packed[COOLING_FLOW] = wind
        if cooler.water_flow > 0.0:
            packed[COOLING_FLOW] = cooler.water_flow
            packed[WATER_CAPACITY] = cooler.water_flow * WATER_CP
            packed[FRONT] = cooler.front_capacity(wind)
    return packed


@compiled
def cool(
    cooler: np.ndarray, gas: np.ndarray, mass_flow: float, pressure: float, temperature: float, ambient: float
) -> tuple[float, float, float, float, float]:
    """Charge after the intercooler, the packed `cooler`.

    `mass_flow` kg/s, total `pressure` Pa and `temperature` K before it, `ambient` K. Returns
    pressure Pa, temperature K, effectiveness against ambient, heat W, temperature K of the cooling
    air behind (of the hot water, where there is a water loop).
    """
    charge = mass_flow / cooler[RATED_CHARGE]
    cooling = max(cooler[COOLING_FLOW], 1e-6) / cooler[RATED_COOLING]
    # Half of the resistance to heat lies on each side at the rated point.
    conductance = cooler[CONDUCTANCE] / (0.5 * charge**-CHARGE_EXPONENT + 0.5 * cooling**-COOLING_EXPONENT)
    c_charge = mass_flow * heat_capacity(gas, 0.5 * (temperature + ambient))
    c_cooling = max(cooler[COOLING_FLOW], 1e-6) * heat_capacity(gas, ambient)
    if cooler[WATER_CAPACITY] > 0.0:
        c_cooling = cooler[WATER_CAPACITY]
    least = min(c_charge, c_cooling)
    effectiveness = crossflow_effectiveness(conductance / least, least / max(c_charge, c_cooling))
    heat = effectiveness * least * (temperature - ambient)
    behind = ambient + heat / c_cooling
    if cooler[WATER_CAPACITY] > 0.0:
        # Steady loop: heat = e1 C1 (charge - cold water) = e2 C2 (hot water - ambient).
        both = 1.0 / (effectiveness * least + 1e-12) + 1.0 / (cooler[FRONT] + 1e-9) - 1.0 / c_cooling
        heat = (temperature - ambient) / both
        behind = ambient + heat / (cooler[FRONT] + 1e-9)
    out = temperature_of_enthalpy(gas, enthalpy(gas, temperature) - heat / mass_flow, temperature)
    density = pressure / (gas[GAS_CONSTANT] * 0.5 * (temperature + out))
    passed = mass_flow / cooler[DROP_CHARGE]
    drop = cooler[RATED_DROP] * (RATED_DENSITY / density) * (CORE_SHARE * passed**CORE_POWER + (1.0 - CORE_SHARE) * passed * passed)
    # A loss that would eat the whole pressure fades instead: the solver then reports it.
    after = pressure - drop if drop < 0.5 * pressure else 0.25 * pressure * pressure / drop
    return after, out, heat / (c_charge * (temperature - ambient) + 1e-9), heat, behind
