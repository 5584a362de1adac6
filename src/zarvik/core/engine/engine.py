"""Air demand, indicated work and friction of a four-stroke engine.

note: V_d displacement, n speed, S_p mean piston speed, imep/fmep/bmep mean effective pressures.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.compiled import compiled
from zarvik.core.engine.breathing import VE_REFERENCE_TEMPERATURE, Breathing
from zarvik.core.gas.combustion import Burn, Fuel, burn
from zarvik.core.gas.mixture import GAS_CONSTANT

CYCLE_GAMMA = 1.28
# Gross indicated over the ideal constant-volume cycle: heat to the walls, time and blow-down.
# Heywood 1988, sec. 5.8, gives 0.8–0.85 of the fuel-air cycle; on this gamma 0.82 fits it.
SPARK_SHARE = 0.82
DIESEL_SHARE = 0.74
FRICTION = (0.35e5, 0.005, 0.06e5, 0.0009e5)  # Chen & Flynn, SAE 650733: Pa, -, Pa/(m/s), ...
PEAK_OVER_IMEP = 4.4  # peak cylinder pressure over gross imep at full load; from memory, 4 to 5


@dataclass(frozen=True)
class Engine:
    """A four-stroke engine.

    `bore`, `stroke` m; `compression` ratio; `rev_limit`, `idle` rev/min; `lambda_` at full load;
    `trusted_boost` Pa gauge that the bottom end is trusted to.
    """

    cylinders: int
    bore: float
    stroke: float
    compression: float
    breathing: Breathing
    fuel: Fuel
    lambda_: float
    idle: float
    rev_limit: float
    trusted_boost: float

    @property
    def displacement(self) -> float:
        """Swept volume in m3."""
        return self.cylinders * 0.25 * math.pi * self.bore**2 * self.stroke

    def piston_speed(self, speed: np.ndarray) -> np.ndarray:
        """Mean piston speed in m/s at `speed` in rev/min."""
        return 2.0 * self.stroke * np.asarray(speed) / 60.0

    @cached_property
    def burnt(self) -> Burn:
        """Combustion at the lambda of full load."""
        return burn(self.fuel, self.lambda_)


@compiled
def air_demand(
    gas: np.ndarray,
    displacement: float,
    efficiency: float,
    speed: float,
    pressure: float,
    temperature: float,
) -> float:
    """Moist air in kg/s that the engine draws.

    `displacement` m3, VE `efficiency`, `speed` rev/min, plenum total `pressure` Pa and
    `temperature` K. VE grows with the square root of the charge temperature (Heywood 1988,
    sec. 6.2.4), from the value at 298.15 K.
    """
    density = pressure / (gas[GAS_CONSTANT] * temperature)
    return (
        efficiency
        * math.sqrt(temperature / VE_REFERENCE_TEMPERATURE)
        * density
        * displacement
        * speed
        / 120.0
    )


def ideal_efficiency(compression: float) -> float:
    """Efficiency (0–1) of the constant-volume cycle at a `compression` ratio: 1 - r^(1 - gamma),
    gamma 1.28 (Heywood 1988, eq. 5.31)."""
    return 1.0 - float(compression ** (1.0 - CYCLE_GAMMA))


def indicated_efficiency(engine: Engine) -> float:
    """Gross indicated work over the heat that the oxygen releases."""
    share = SPARK_SHARE if engine.fuel.spark else DIESEL_SHARE
    return share * ideal_efficiency(engine.compression)


@dataclass(frozen=True)
class Work:
    """What the engine makes of its air, one entry a point.

    `power` W and `torque` N m at the crank; mean effective pressures in Pa; `fuel` kg/s.
    """

    power: np.ndarray
    torque: np.ndarray
    indicated: np.ndarray
    friction: np.ndarray
    fuel: np.ndarray


def friction_pressure(engine: Engine, speed: np.ndarray, indicated: np.ndarray) -> np.ndarray:
    """Friction mean effective pressure in Pa at `speed` rev/min and gross `indicated` Pa.

    Source: S. K. Chen, P. F. Flynn, SAE 650733 (1965), with a common set of constants; the peak
    pressure is taken as 4.4 times the gross indicated mean effective pressure.
    """
    a, b, c, d = FRICTION
    piston = engine.piston_speed(speed)
    return np.asarray(a + b * PEAK_OVER_IMEP * indicated + c * piston + d * piston**2)


def work(
    engine: Engine, speed: np.ndarray, air: np.ndarray, dry_share: float, pumping: np.ndarray
) -> Work:
    """Crank work from the air drawn in.

    `speed` rev/min, `air` kg/s of moist air with the mass share `dry_share` of dry air,
    `pumping` Pa: exhaust port minus plenum, as mean effective pressure.
    """
    burnt = engine.burnt
    speed = np.asarray(speed, float)
    dry = np.asarray(air) * dry_share
    per_second = engine.displacement * speed / 120.0
    indicated = indicated_efficiency(engine) * burnt.heat_per_air * dry / per_second
    friction = friction_pressure(engine, speed, indicated)
    brake = indicated - friction - pumping
    power = brake * per_second
    return Work(
        power, power / (speed * math.pi / 30.0), indicated, friction, dry * burnt.fuel_per_air
    )
