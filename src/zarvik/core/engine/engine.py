"""Air demand, indicated work and friction of a four-stroke engine.

note: V_d displacement, n speed, S_p mean piston speed, imep/fmep/bmep mean effective pressures.
"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, STANDARD_ATMOSPHERE, UNIVERSAL_GAS_CONSTANT, ZERO_CELSIUS
from zarvik.core.ducts.wall_heat import PRANDTL
from zarvik.core.engine.breathing import VE_REFERENCE_TEMPERATURE, Breathing
from zarvik.core.engine.cycle import fuel_air_work
from zarvik.core.gas.combustion import Burn, Fuel, burn
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity, temperature_of_enthalpy, viscosity

# Gross indicated over the fuel-air cycle: heat to the walls, time and blow-down. Heywood 1988,
# sec. 5.8: 0.8 to 0.85.
SPARK_SHARE = 0.82
DIESEL_SHARE = 0.80
FRICTION = (0.35e5, 0.005, 0.06e5, 0.0009e5)  # Chen & Flynn, SAE 650733: Pa, -, Pa/(m/s), ...
PEAK_OVER_IMEP = 4.4  # peak cylinder pressure over gross imep at full load; from memory, 4 to 5


# Heat from the gas to chamber and port walls: Nu = c Re^0.75 on bore and piston area, the form of
# C. F. Taylor, T. Y. Toong (Heywood 1988, sec. 12.4.3). Their c of 10.4 takes in the heat of friction
# and of the oil; c here is that of the gas alone, set so that unboosted petrol at full load leaves
# at 650-720 C at 1500 rpm and 850-900 C at 6000 (from memory, bands), and with friction 17-26 % of
# the fuel go to the coolant (Heywood 1988, table 12.1).
SPARK_NUSSELT = 6.4
DIESEL_NUSSELT = 6.4
COOLANT = 360.0  # K
# Mean effective gas temperature (Taylor 1985, ch. 8: it follows the mixture; values from memory)
GAS_RISE = 590.0  # K over 300 K for a stoichiometric petrol charge that came in at 300 K
GAS_HEAT = 2.72e6  # J/kg of charge, the heat of that charge
GAS_CHARGE = 0.35  # of what the charge is warmer than 300 K
# VE is understood on the stock exhaust: the back-pressure ratio that it was measured at.
REFERENCE_BACK_PRESSURE = 1.1
# Ten degrees of ignition after best torque take about 4.5 % (Heywood 1988, fig. 15-3), twenty 15 %.
RETARD_LOSS = 0.0045 / 10.0
FUEL_DENSITY = 832.0  # kg/m3 of diesel at the pump; EN 590: 820 to 845 at 15 C
REFERENCE_TEMPERATURE = 298.15  # K, zero of sensible enthalpy


@dataclass(frozen=True, kw_only=True)
class Engine:
    """A four-stroke engine.

    `bore`, `stroke` m; `compression` ratio; `rev_limit`, `idle` rev/min; `lambda_` at full load;
    `trusted_boost` Pa gauge that the bottom end is trusted to. `retard`: degrees of ignition after
    best torque, None to let the fuel decide (as much as keeps the knock index at 1). `mixture`:
    lambda over speed, pairs of rev/min and ratio, where it is not `lambda_` everywhere. `wall_trust`: factor
    on the heat to the walls, for spreads. `evaporated`: share of the fuel that evaporates before the valve closes and cools
    the charge. `delivery`: fuel that a pump gives at full load, pairs of rev/min and m3 an injection;
    lambda then follows from the air, and `leanest` is the lambda below which a limiter takes fuel away
    (0: none does).
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
    retard: float | None = None
    evaporated: float = 0.0
    mixture: tuple[tuple[float, float], ...] = ()
    wall_trust: float = 1.0
    delivery: tuple[tuple[float, float], ...] = ()
    leanest: float = 0.0

    @property
    def displacement(self) -> float:
        """Swept volume in m3."""
        return self.cylinders * 0.25 * math.pi * self.bore**2 * self.stroke

    def swept_flow(self, speed: float) -> float:
        """Swept volume in m3/s of a four-stroke at `speed` in rev/min."""
        return self.displacement * speed / 120.0

    @property
    def pistons(self) -> float:
        """Area of all pistons in m2."""
        return self.cylinders * 0.25 * math.pi * self.bore**2

    def fuel_rate(self, speed: np.ndarray | float) -> np.ndarray:
        """Fuel in kg/s that the pump gives at `speed` in rev/min: one injection a cylinder in two turns,
        straight between the rows of `delivery`, held outside."""
        speeds, volumes = zip(*self.delivery, strict=True)
        injection = np.interp(speed, speeds, volumes)
        return np.asarray(injection * FUEL_DENSITY * self.cylinders * np.asarray(speed) / 120.0)

    def at(self, speed: float) -> Engine:
        """The engine with the lambda that it runs at `speed` in rev/min."""
        if not self.mixture:
            return self
        speeds, lambdas = zip(*self.mixture, strict=True)
        return dataclasses.replace(self, lambda_=round(float(np.interp(speed, speeds, lambdas)), 4), mixture=())

    def piston_speed(self, speed: np.ndarray) -> np.ndarray:
        """Mean piston speed in m/s at `speed` in rev/min."""
        return 2.0 * self.stroke * np.asarray(speed) / 60.0

    @cached_property
    def burnt(self) -> Burn:
        """Combustion at the lambda of full load."""
        return burn(self.fuel, self.lambda_)


@compiled
def air_demand(gas: np.ndarray, displacement: float, efficiency: float, speed: float, pressure: float, temperature: float) -> float:
    """Moist air in kg/s that the engine draws.

    `displacement` m3, VE `efficiency`, `speed` rev/min, plenum total `pressure` Pa and
    `temperature` K. VE grows with the square root of the charge temperature (Heywood 1988,
    sec. 6.2.4), from the value at 298.15 K.
    """
    density = pressure / (gas[GAS_CONSTANT] * temperature)
    return efficiency * math.sqrt(temperature / VE_REFERENCE_TEMPERATURE) * density * displacement * speed / 120.0


@compiled
def back_pressure_factor(ratio: float, compression: float) -> float:
    """Factor on VE at the pressure `ratio` exhaust port over plenum, 1 at the ratio of 1.1 that a
    stock VE is understood at; `compression` ratio.

    Source: Heywood 1988, eq. 6.2 (ideal cycle): r/(r-1) - ((pe/pi) + gamma - 1)/(gamma (r-1)),
    with gamma 1.35; below 0.2 it fades instead of turning negative.
    """
    gamma = 1.35
    r = compression
    base = r / (r - 1.0) - (REFERENCE_BACK_PRESSURE + gamma - 1.0) / (gamma * (r - 1.0))
    here = r / (r - 1.0) - (ratio + gamma - 1.0) / (gamma * (r - 1.0))
    value = here / base
    if value < 0.2:
        value = 0.2 * math.exp((value - 0.2) / 0.2)
    return value


@compiled
def evaporable(gas: np.ndarray, temperature: float, pressure: float, fuel_per_air: float, vapour: np.ndarray) -> float:
    """Share of the fuel that a charge at `temperature` K and `pressure` Pa can hold as vapour.

    `fuel_per_air` kg/kg; `vapour`: Antoine constants (log10 Pa, K) and molar mass kg/mol; a
    first constant of 0 says that there is no limit. Raoult and Dalton: the mole share at saturation is its
    pressure over the whole. More than 1 says that all of it can.
    """
    if vapour[0] == 0.0:
        return 1e9
    saturation = 10.0 ** (vapour[0] - vapour[1] / (temperature + vapour[2]))
    if saturation >= 0.98 * pressure:
        return 1e9
    moles = saturation / (pressure - saturation)  # per mole of air
    return moles * vapour[3] * gas[GAS_CONSTANT] / (UNIVERSAL_GAS_CONSTANT * fuel_per_air)


# The charge, as the mean from before to after the fuel, at which the share that is entered holds (an intercooled charge of 40 °C), and
# that at which a drop of alcohol stops evaporating; common practice, no source
EVAPORATES_AT, WET_BULB = 298.15, ZERO_CELSIUS


@compiled
def evaporated_share(base: float, mean: float, vapour: np.ndarray) -> float:
    """Share of the fuel (0–1) that has evaporated when the valve shuts: `base` in an intercooled charge, more in a hotter one, in which
    each drop loses mass in proportion to how much warmer the charge is (the d2 law's rate in its first order; C. K. Law, Combustion
    Physics, 2006, ch. 13, memory). `mean` K of the charge before and after; `vapour` as in `evaporable`: petrol's light fractions, without
    a saturation of one fluid, evaporate as they do."""
    if vapour[0] == 0.0 or base <= 0.0 or base >= 1.0:
        return base
    drive = max(mean - WET_BULB, 0.0) / (EVAPORATES_AT - WET_BULB)
    return float(1.0 - (1.0 - base) ** drive)


@compiled
def charge_after_fuel(
    gas: np.ndarray, temperature: float, pressure: float, fuel_per_air: float, evaporated: float, latent: float, vapour: np.ndarray
) -> float:
    """Charge temperature in K after the fuel has evaporated in it: the share `evaporated` (0–1) of an intercooled charge, more in a
    hotter one (`evaporated_share`), and no more than the charge can hold.

    `temperature` K, `pressure` Pa, `fuel_per_air` kg/kg, `latent` J/kg, `vapour` as in
    `evaporable`. Energy balance at constant pressure; the wet bulb of the fuel is the limit.
    """
    start = enthalpy(gas, temperature)
    if vapour[0] == 0.0:
        return temperature_of_enthalpy(gas, start - evaporated * fuel_per_air * latent, temperature)
    # Less heat is asked for the colder it gets: one temperature balances
    low, high = 200.0, temperature
    for _ in range(44):
        middle = 0.5 * (low + high)
        share = min(
            evaporable(gas, middle, pressure, fuel_per_air, vapour), evaporated_share(evaporated, 0.5 * (middle + temperature), vapour)
        )
        if enthalpy(gas, middle) - start + share * fuel_per_air * latent > 0.0:
            high = middle
        else:
            low = middle
    return 0.5 * (low + high)


@compiled
def friction_mean_pressure(piston_speed: float, indicated: float) -> float:
    """Friction mean effective pressure in Pa at mean `piston_speed` m/s and gross `indicated` Pa.

    Source: S. K. Chen, P. F. Flynn, SAE 650733 (1965), with a common set of constants; the peak
    pressure is taken as 4.4 times the gross indicated mean effective pressure.
    """
    return FRICTION[0] + FRICTION[1] * PEAK_OVER_IMEP * indicated + FRICTION[2] * piston_speed + FRICTION[3] * piston_speed * piston_speed


@compiled
def late_factor(retard: float) -> float:
    """Work relative to that at best torque, `retard` degrees after it; falls without end."""
    return 1.0 / (1.0 + RETARD_LOSS * retard * retard)


@compiled
def mean_gas_temperature(charge: float, heat: float) -> float:
    """Gas temperature in K that stands for the whole cycle at the walls: `charge` K, `heat` released in
    J per kg of charge."""
    return 300.0 + GAS_RISE * heat / GAS_HEAT + GAS_CHARGE * (charge - 300.0)


@compiled
def wall_heat(burnt: np.ndarray, nusselt: float, flow: float, bore: float, pistons: float, charge: float, heat: float) -> float:
    """Heat in W from the gas to the walls of chambers and ports.

    `burnt` gas, factor `nusselt`, charge `flow` in kg/s through a `bore` in m over all `pistons`
    m2; `charge` K and `heat` J/kg as in `mean_gas_temperature`. Nu = c Re^0.75.
    """
    gas = mean_gas_temperature(charge, heat)
    mu = viscosity(burnt, gas)
    conductivity = mu * heat_capacity(burnt, gas) / PRANDTL
    reynolds = max(flow, 1e-9) / pistons * bore / mu
    h = nusselt * reynolds**0.75 * conductivity / bore
    return h * pistons * (gas - COOLANT)


@compiled
def displaced(gas: np.ndarray, temperature: float, pressure: float, fuel_per_air: float, evaporated: float, vapour: np.ndarray) -> float:
    """Air over the air there would be without the vapour of the fuel in its place; arguments as in
    `charge_after_fuel`.

    `temperature` K, `pressure` Pa, `fuel_per_air` kg/kg, `evaporated` share.
    """
    if evaporated <= 0.0 or vapour[3] <= 0.0:
        return 1.0
    share = min(evaporable(gas, temperature, pressure, fuel_per_air, vapour), evaporated)
    moles = share * fuel_per_air / vapour[3] * UNIVERSAL_GAS_CONSTANT / gas[GAS_CONSTANT]
    return 1.0 / (1.0 + moles)


@compiled
def exhaust_temperature(
    air: np.ndarray,
    burnt: np.ndarray,
    flow: float,
    exhaust: float,
    charge: float,
    released: float,
    work: float,
    coolant: float,
    guess: float,
) -> float:
    """Mean gas temperature in K at the port from the energy balance.

    `flow` moist air kg/s at `charge` K, `exhaust` kg/s; `released`, net indicated `work` and
    `coolant` in W; `guess` K. Sensible enthalpies from 298.15 K, as the heating value is. Friction
    heat does not go to the gas.
    """
    sensible = flow * (enthalpy(air, charge) - enthalpy(air, REFERENCE_TEMPERATURE))
    rest = (sensible + released - work - coolant) / exhaust
    target = enthalpy(burnt, REFERENCE_TEMPERATURE) + max(rest, 2.0e4)
    return temperature_of_enthalpy(burnt, target, guess)


def work_per_air(engine: Engine) -> float:
    """Gross indicated work in J per kg of dry air at best ignition: a share of the fuel-air cycle at
    this compression and lambda."""
    share = SPARK_SHARE if engine.fuel.spark else DIESEL_SHARE
    return share * fuel_air_work(engine.fuel.key, engine.compression, engine.lambda_)


# A car that was boosted as it came: charge behind its intercooler, and what late ignition leaves of the work; common practice, no source
STOCK_CHARGE, STOCK_LATE = 323.15, 0.96


def _stock(engine: Engine, boost: float = 0.0) -> tuple[float, float]:
    """Indicated mean pressure in Pa that a VE of 1 gives the engine as it came, and the pumping in Pa that it works against: sea level,
    25 °C, dry air, lambda 0.88 (spark) or 1.4, the plenum 2 % under ambient and the reference back-pressure; boosted as it came by
    `boost` Pa gauge, with a charge of 50 °C."""
    plenum = 0.98 * STANDARD_ATMOSPHERE + boost
    charge = VE_REFERENCE_TEMPERATURE if boost <= 0.0 else STOCK_CHARGE
    density = plenum / (DRY_AIR_GAS_CONSTANT * charge) * math.sqrt(charge / VE_REFERENCE_TEMPERATURE)
    stock = dataclasses.replace(engine, lambda_=0.88 if engine.fuel.spark else 1.4, mixture=())
    late = STOCK_LATE if boost > 0.0 and engine.fuel.spark else 1.0
    per_breath = work_per_air(stock) * late * density
    return per_breath, (REFERENCE_BACK_PRESSURE - 1.0) * plenum


# Mean pressure that no engine of the road makes without boost; common practice, no source: 8 to 13 bar, racing engines 14 to 15
MOST_UNBOOSTED = 14.0e5
MOST_BREATHING = 1.15  # VE over which an entry is a slip; common practice, no source: tuned ones reach 1.10 to 1.15


def most_stock_pressure(boost: float = 0.0) -> float:
    """Highest brake mean pressure in Pa that an engine as it came is believed to make, boosted by so many Pa gauge (`boost`)."""
    return MOST_UNBOOSTED * (1.0 + max(boost, 0.0) / STANDARD_ATMOSPHERE)


def breathing_of_torque(engine: Engine, speed: tuple[float, ...], torque: tuple[float, ...], boost: float = 0.0) -> Breathing:
    """VE worked back from the stock full-load torque curve.

    `speed` rev/min, `torque` N m, stock `boost` Pa gauge. Brake = indicated - friction - pumping, solved for the air: the
    same relations as the boosted engine, turned round, on the stock engine's day.
    """
    per_breath, pumping = _stock(engine, boost)
    found = []
    for n, t in zip(speed, torque, strict=True):
        brake = 4.0 * math.pi * t / engine.displacement
        constant = friction_mean_pressure(2.0 * engine.stroke * n / 60.0, 0.0) + pumping
        indicated = (brake + constant) / (1.0 - FRICTION[1] * PEAK_OVER_IMEP)
        found.append(indicated / per_breath)
    return Breathing(tuple(speed), tuple(found))


def torque_of_breathing(engine: Engine, speed: tuple[float, ...], boost: float = 0.0) -> tuple[float, ...]:
    """Full-load torque in N m that the engine had as it came, from its VE, at `speed` in rev/min, boosted by `boost` Pa gauge then: what
    `breathing_of_torque` would take back."""
    per_breath, pumping = _stock(engine, boost)
    found = []
    for n in speed:
        indicated = float(engine.breathing.at(n)) * per_breath
        friction = friction_mean_pressure(2.0 * engine.stroke * n / 60.0, indicated)
        brake = indicated - friction - pumping
        found.append(brake * engine.displacement / (4.0 * math.pi))
    return tuple(found)
