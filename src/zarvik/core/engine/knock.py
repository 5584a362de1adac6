"""Knock screening: does the end gas have time to ignite by itself?

To rank and to warn, never to promise safety: charge temperature in the cylinder, residual gas, hot
spots and the true burn are not known.

note: tau ignition delay, ON octane number, x burnt share (Wiebe), LW Livengood-Wu integral.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.engine.engine import Engine
from zarvik.core.gas.combustion import Burn

FROM_CHARGE = 0.5
CHARGE_CAPACITY = 1030.0  # J/(kg K) of air with some vapour
BURN_DEGREES = 52.0  # whole Wiebe duration at full load; from memory, 45–60
WIEBE = (5.0, 2.0)
# K that ports, walls and residual gas add before the charge is shut in, before the fuel takes some of
# it back by evaporating: from memory, set so that an unboosted engine of compression 9.6 on 98 octane
# stands at 0.5 and one of 12 at 1.0 (common practice, no source)
HEATING = 50.0
COMPRESSION_GAMMA = 1.33
BURNING_GAMMA = 1.28
WALL_SHARE = 0.16  # heat to the walls during the burn
RANGE = 100.0  # octane number up to which the relation was fitted
# Delay of ignition: s, powers of octane number and pressure, activation temperature in K; Douaud and Eyzat 1978
DELAY, OCTANE_POWER, PRESSURE_POWER, ACTIVATION = 0.01768, 3.402, 1.7, 3800.0
END = 0.90  # burnt share past which there is no end gas worth the name


@compiled
def ignition_delay(octane: float, pressure: float, temperature: float) -> float:
    """Delay in s at `pressure` Pa and `temperature` K for an `octane` number of 80 to 120.

    Source: A. M. Douaud, P. Eyzat, SAE 780080 (1978): 17.68 ms (ON/100)^3.402 p^-1.7 exp(3800/T),
    p in atm.
    """
    at_pressure = (pressure / STANDARD_ATMOSPHERE) ** -PRESSURE_POWER
    return DELAY * (octane / 100.0) ** OCTANE_POWER * at_pressure * math.exp(ACTIVATION / temperature)


@compiled
def knock_integral(
    octane: float,
    speed: float,
    plenum: float,
    charge: float,
    compression: float,
    heat_per_charge: float,
    gas_constant: float,
    retard: float,
    cooling: float,
) -> float:
    """Livengood-Wu integral of the end gas at 90 % burnt: above about 1 it would have ignited.

    `speed` rev/min, `plenum` Pa, `charge` K, `heat_per_charge` J per kg of trapped gas, `gas_constant`
    J/(kg K), `retard` degrees after best torque (50 % burnt at 8 degrees), `cooling` K by the fuel that
    evaporates in the cylinder. Source: J. C. Livengood, P. C. Wu, 5th Symp. Combustion (1955) 347;
    Heywood 1988, sec. 9.6. `octane` number, `compression` ratio.
    """
    rod = 3.5  # connecting rod over crank radius
    start_temperature = charge + HEATING - cooling
    middle = 8.0 + retard
    a, m = WIEBE
    half = (math.log(2.0) / a) ** (1.0 / (m + 1.0))
    begin = middle - half * BURN_DEGREES
    step = 0.5
    seconds = step / (6.0 * speed)
    clearance = 1.0 / (compression - 1.0)
    theta = -140.0
    pressure = plenum
    volume0 = -1.0
    volume = 0.0
    mass = 0.0
    burnt = 0.0
    total = 0.0
    while theta < 100.0:
        angle = theta * math.pi / 180.0
        piston = 1.0 + rod - math.cos(angle) - math.sqrt(rod * rod - math.sin(angle) ** 2)
        now = clearance + 0.5 * piston
        if volume0 < 0.0:
            volume0 = now
            volume = now
            mass = plenum * now / (gas_constant * start_temperature)
        gamma = COMPRESSION_GAMMA if theta < begin else BURNING_GAMMA
        share = burnt
        if theta > begin:
            y = min((theta - begin) / BURN_DEGREES, 1.0)
            share = 1.0 - math.exp(-a * y ** (m + 1.0))
        heat = (share - burnt) * mass * heat_per_charge * (1.0 - WALL_SHARE)
        pressure = pressure * (volume / now) ** gamma + (gamma - 1.0) * heat / now
        volume = now
        burnt = share
        unburnt = start_temperature * (pressure / plenum) ** (1.0 - 1.0 / COMPRESSION_GAMMA)
        if theta > -60.0:
            total += seconds / ignition_delay(octane, pressure, unburnt)
        if burnt >= END:
            break
        theta += step
    return total


def heat_of_charge(burnt: Burn) -> float:
    """Heat in J that a kilogram of trapped gas gets: of air and fuel, with 4 % of residual gas."""
    return burnt.heat_per_air / (1.0 + burnt.fuel_per_air) * 0.96


@compiled
def evaporation_correction(more: float, fuel_per_air: float, latent: float) -> float:
    """K by which the end gas starts hotter when so much `more` of the fuel than the share that is entered has evaporated before the valve
    shuts: it is not there to cool the cylinder. `fuel_per_air` kg/kg, `latent` J/kg."""
    return FROM_CHARGE * more * fuel_per_air * latent / (CHARGE_CAPACITY * (1.0 + fuel_per_air))


def screening_charge(engine: Engine, charge: float, evaporated: float) -> float:
    """Charge in K as the screening takes it: `charge` K, and what has `evaporated` before the valve shut cools no more."""
    return charge + float(evaporation_correction(evaporated - engine.evaporated, engine.burnt.fuel_per_air, engine.fuel.vaporisation))


def evaporation_cooling(engine: Engine) -> float:
    """K by which the fuel that is still liquid when the valve closes cools the charge in the cylinder;
    half of that heat comes from the walls (from memory: 0.3 to 0.7)."""
    fuel_per_air = engine.burnt.fuel_per_air
    heat = (1.0 - engine.evaporated) * fuel_per_air * engine.fuel.vaporisation
    return FROM_CHARGE * heat / (CHARGE_CAPACITY * (1.0 + fuel_per_air))


def screen(
    engine: Engine, *, speed: np.ndarray, plenum: np.ndarray, charge: np.ndarray, gas_constant: float, retard: np.ndarray
) -> np.ndarray:
    """`knock_integral` for many points: `speed` rev/min, `plenum` Pa, `charge` K, `retard` degrees,
    `gas_constant` J/(kg K)."""
    cooling, heat = evaporation_cooling(engine), heat_of_charge(engine.burnt)
    octane = engine.fuel.octane or 100.0
    return np.array(
        [
            knock_integral(octane, float(n), float(p), float(t), engine.compression, heat, gas_constant, float(z), cooling)
            for n, p, t, z in zip(speed, plenum, charge, retard, strict=True)
        ]
    )


# ---- the retard that the fuel asks for -----------------------------------------------------------
# Packed: 0 mode (0 typed, 1 by the fuel), 1 typed degrees, then ln of the integral at the reference
# pressure and speed over charge temperature and retard.
MODE = 0
TYPED = 1
TABLE = 2
REFERENCE_PRESSURE = 2.0e5
REFERENCE_SPEED = 4000.0
T_FIRST, T_STEP, T_COUNT = 260.0, 20.0, 13
Z_STEP, Z_COUNT = 2.0, 13
MOST_RETARD = 20.0  # degrees; past it the exhaust and the loss ask for less boost (common practice)
SOFT = 0.6  # degrees over which the retard sets in, for the solver's sake
PRESSURE_POWER = 1.7


@lru_cache(64)
def _table(octane: float, compression: float, heat: float, gas_constant: float, cooling: float) -> np.ndarray:
    found = np.empty((T_COUNT, Z_COUNT))
    for i in range(T_COUNT):
        for j in range(Z_COUNT):
            found[i, j] = knock_integral(
                octane, REFERENCE_SPEED, REFERENCE_PRESSURE, T_FIRST + i * T_STEP, compression, heat, gas_constant, j * Z_STEP, cooling
            )
    # Falling with the retard, so that it can be read backward
    logs = np.minimum.accumulate(np.log(np.maximum(found, 1e-12)), axis=1)
    return logs - 1e-6 * np.arange(Z_COUNT)


def pack(engine: Engine, gas_constant: float) -> np.ndarray:
    """What `retard_of` reads; `gas_constant` of the charge in J/(kg K)."""
    packed = np.zeros(TABLE + T_COUNT * Z_COUNT)
    if not engine.fuel.spark or engine.fuel.octane is None:
        return packed
    if engine.retard is not None:
        packed[TYPED] = engine.retard
        return packed
    packed[MODE] = 1.0
    packed[TABLE:] = _table(
        engine.fuel.octane, engine.compression, heat_of_charge(engine.burnt), gas_constant, evaporation_cooling(engine)
    ).ravel()
    return packed


@compiled
def retard_of(packed: np.ndarray, speed: float, plenum: float, charge: float) -> float:
    """Degrees after best torque that bring the knock integral to 1, between 0 and `MOST_RETARD`, or
    the typed ones.

    `speed` rev/min, `plenum` Pa, `charge` K. At one temperature the integral is in proportion to
    p^1.7 / n (it stands so in the relation), so a table over temperature and retard is enough.
    `packed` as `pack` gives it.
    """
    if packed[MODE] == 0.0:
        return packed[TYPED]
    # What the table has to fall to
    wanted = -(PRESSURE_POWER * math.log(plenum / REFERENCE_PRESSURE) + math.log(REFERENCE_SPEED / speed))
    place = min(max((charge - T_FIRST) / T_STEP, 0.0), T_COUNT - 1.001)
    i = int(place)
    share = place - i
    row = TABLE + i * Z_COUNT
    found = 0.0
    before = packed[row] * (1.0 - share) + packed[row + Z_COUNT] * share
    for j in range(1, Z_COUNT):
        here = packed[row + j] * (1.0 - share) + packed[row + Z_COUNT + j] * share
        slope = (here - before) / Z_STEP
        if wanted >= here or j == Z_COUNT - 1:
            found = (j - 1) * Z_STEP + (wanted - before) / slope
            break
        before = here
    # Both ends are rounded.
    if found > -12.0 * SOFT:
        found = SOFT * math.log1p(math.exp(min(found / SOFT, 60.0))) if found < 12.0 * SOFT else found
    else:
        return 0.0
    over = (MOST_RETARD - found) / SOFT
    if over > 12.0:
        return found
    if over < -12.0:
        return MOST_RETARD
    return MOST_RETARD - SOFT * math.log1p(math.exp(over))
