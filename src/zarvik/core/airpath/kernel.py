"""The coupled steady solution of the whole path, compiled.

Unknowns of a point (`x`): 0 ln air, 1 ln wheel speed over the map's maximum (with a blower: ln
pressure ratio), 2 ln turbine inlet pressure over ambient, 3 regime, 4 ln port pressure over ambient,
5 ln turbine outlet temperature over 300 K.

The regime covers the gate with one variable: below 0 it is shut and the plenum is short of what is
asked by that logarithm; between 0 and 1 it opens and the plenum stands at what is asked; above 1 it
is wide open and the plenum is above.

Residuals: 0 the engine's air, 1 the exhaust that turbine and gate swallow, 2 the power of the shaft
(with a blower: its air), 3 plenum pressure against the regime, 4 port pressure against the march up
the manifold, 5 turbine outlet temperature. Nothing is nested but fixed-point steps of a march.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.compiled import compiled
from zarvik.core.compressor.lookup import efficiency_at, log_ratio
from zarvik.core.cooling.cooler import PRESENT, cool
from zarvik.core.ducts.march import T_IN, T_OUT, march, march_up, temperatures
from zarvik.core.engine.blower import blower_efficiency, blown
from zarvik.core.engine.engine import (
    REFERENCE_TEMPERATURE,
    air_demand,
    back_pressure_factor,
    charge_after_fuel,
    displaced,
    exhaust_temperature,
    friction_mean_pressure,
    late_factor,
    wall_heat,
)
from zarvik.core.engine.knock import retard_of
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, isentropic_temperature, temperature_of_enthalpy
from zarvik.core.turbine.turbine import COUNT, DIAMETER, MECHANICAL, PULSE, expand, swallowed
from zarvik.core.valves.wastegate import bypassed

# ---- numbers of the system that the kernel reads ------------------------------------------------
SITE_PRESSURE = 0
SITE_TEMPERATURE = 1
DISPLACEMENT = 2
MAP_PRESSURE = 3
MAP_TEMPERATURE = 4
MAP_MAXIMUM = 5  # rev/min
RELEASED = 6  # J per kg of dry air, frozen CO, H2 and what stays unburnt taken off
FUEL_PER_AIR = 7
WORK = 8  # gross indicated, J per kg of dry air, at best ignition
STROKE = 9
COMPRESSION = 10
NUSSELT = 11  # factor of the heat to the walls
DRY_SHARE = 12
EVAPORATED = 13
LATENT = 14
BAY_TEMPERATURE = 15
BAY_CONVECTION = 16
BAY_HOT_CONVECTION = 17
GATE_AREA = 18
BELT = 19  # 0 turbo, 1 blower
BELT_RATIO = 20
BLOWER_DISPLACEMENT = 21
BLOWER_VOLUMETRIC = 22
BLOWER_LEAK = 23
BLOWER_ADIABATIC = 24
BLOWER_FALL = 25
BLOWER_DRIVE = 26
TRUST_TURBINE = 27  # factor on turbine efficiency, 1; for spreads
VAPOUR = 28  # Antoine constants and molar mass of the fuel's vapour
BORE = 32
PISTONS = 33  # m2
TRUST_HEAT = 34  # factor on the heat to the walls, 1; for spreads
SITE_SIZE = 35

# ---- what it writes for each point --------------------------------------------------------------
AIR = 0
P1 = 1
T1 = 2
P2 = 3
T2 = 4
P_COOLER_IN = 5
T_COOLER_IN = 6
P_COOLER_OUT = 7
T_COOLER_OUT = 8
P_PLENUM = 9
T_PLENUM = 10
MAP_FLOW = 11
MAP_RATIO = 12
MAP_SPEED = 13
MAP_EFFICIENCY = 14
MAP_PLACE = 15
EFFECTIVENESS = 16
COOLER_HEAT = 17
COOLING_AIR_OUT = 18
SHAFT = 19  # W that the compressor (blower) puts into the air
FUEL = 20
INDICATED = 21  # gross mean effective pressure
FRICTION = 22
PUMPING = 23
POWER = 24  # W at the crank
T_CHARGE = 25  # after the fuel
P_PORT = 26
T_PORT = 27
P4 = 28
T4 = 29
P5 = 30
T5 = 31
TURBINE_FLOW = 32
GATE_FLOW = 33
TURBINE_EFFICIENCY = 34
BLADE_RATIO = 35
TURBINE_POWER = 36  # W from the gas
REGIME = 37
OPENING = 38
COOLANT_HEAT = 39
RELEASED_HEAT = 40
TAIL_TEMPERATURE = 41
BELT_POWER = 42
RESIDUAL = 43  # six of them
ITERATIONS = 49
CHOKED = 50  # index of the first cold piece that chokes, -1 for none
CLOSED = 51
ENERGY = 52  # W that are left of the energy balance
RETARD = 53  # degrees after best torque
T_TAKEN = 54  # K of what the compressor or blower takes in
BOUND = 55  # why a closed state is none that could be, 0 for none (see `solution.BOUNDS`)
POINT_SIZE = 56

UNKNOWNS = 6

Packed = tuple[
    np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray,
    np.ndarray, np.ndarray, np.ndarray,
]  # fmt: skip


@compiled
def shortfall(regime: float, gated: float) -> float:
    """ln of plenum pressure over what is asked, for a `regime`; without a gate (`gated` m2 of 0) there
    is no hold, and the regime is that logarithm itself."""
    if gated <= 0.0:
        return regime
    return min(regime, 0.0) + max(regime - 1.0, 0.0)


@compiled
def residuals(
    packed: Packed,
    bounds: tuple[int, int, int, int, int],
    breathing: float,
    speed: float,
    wanted: float,
    x: np.ndarray,
    f: np.ndarray,
    pieces: np.ndarray,
    state: np.ndarray,
) -> None:
    """Fill `f` with the six residuals and `state`, `pieces` with everything on the way.

    `breathing` VE, `speed` rev/min, `wanted` plenum Pa absolute.
    """
    site, gas, burnt, rows, losses, lines, points, cooler, turbine, knock = packed
    ambient = site[SITE_TEMPERATURE]
    p_ambient = site[SITE_PRESSURE]
    cold_bay = (site[BAY_TEMPERATURE], site[BAY_CONVECTION])
    hot_bay = (site[BAY_TEMPERATURE], site[BAY_HOT_CONVECTION])
    air = math.exp(x[0])
    state[AIR] = air

    # Intake and compressor
    p1, t1, choked = march(
        gas, rows, losses, 0, bounds[0], air, p_ambient, ambient, pieces, cold_bay
    )
    state[CHOKED] = choked
    state[P1] = p1
    state[T1] = t1
    belt = site[BELT] > 0.0
    wheel = 0.0
    if belt:
        ratio = math.exp(x[1])
        efficiency = blower_efficiency(site[BLOWER_ADIABATIC], site[BLOWER_FALL], ratio)
        turning = speed * site[BELT_RATIO]
        state[MAP_FLOW] = air
        state[MAP_SPEED] = turning
        state[MAP_PLACE] = 0.5
    else:
        wheel = math.exp(x[1])
        root = math.sqrt(t1 / site[MAP_TEMPERATURE])
        flow = air / turbine[COUNT] * root / (p1 / site[MAP_PRESSURE])
        corrected = wheel / root
        ratio = math.exp(log_ratio(lines, points, corrected, flow))
        efficiency, place = efficiency_at(lines, points, corrected, flow)
        turning = wheel * site[MAP_MAXIMUM]
        state[MAP_FLOW] = flow
        state[MAP_SPEED] = corrected
        state[MAP_PLACE] = place
    opening = min(max(x[3], 0.0), 1.0)
    if not belt and site[GATE_AREA] <= 0.0:
        opening = 0.0
    p2 = p1 * ratio
    h1 = enthalpy(gas, t1)
    # With a blower the bypass brings back to the inlet what is too much: it has been paid for, and it
    # is warm.
    around = opening if belt else 0.0
    mixed_inlet = t1
    h_in = h1
    rise = 0.0
    ideal = t1
    for _ in range(40):
        ideal = isentropic_temperature(gas, mixed_inlet, ratio)
        rise = (enthalpy(gas, ideal) - h_in) / efficiency
        if ratio < 1.0:
            # Driven by the air: the part of the drop that the wheel does not take out stays in it.
            rise = (enthalpy(gas, ideal) - h_in) * efficiency
        if around <= 0.0:
            break
        moved_to = h1 + around * rise
        done = abs(moved_to - h_in) < 1e-7 * h1
        h_in = moved_to
        mixed_inlet = temperature_of_enthalpy(gas, h_in, mixed_inlet)
        if done:
            break
    t2 = temperature_of_enthalpy(gas, h_in + rise, ideal)
    state[P2] = p2
    state[T2] = t2
    state[MAP_RATIO] = ratio
    state[MAP_EFFICIENCY] = efficiency
    worked = air * (1.0 + around) * rise
    state[SHAFT] = worked
    state[T_TAKEN] = mixed_inlet

    # Charge pipes and cooler
    p, t, choked = march(gas, rows, losses, bounds[0], bounds[1], air, p2, t2, pieces, cold_bay)
    if state[CHOKED] < 0.0:
        state[CHOKED] = choked
    state[P_COOLER_IN] = p
    state[T_COOLER_IN] = t
    state[EFFECTIVENESS] = 0.0
    state[COOLER_HEAT] = 0.0
    state[COOLING_AIR_OUT] = ambient
    if cooler[PRESENT] > 0.0:
        p, t, effectiveness, heat, behind = cool(cooler, gas, air, p, t, ambient)
        state[EFFECTIVENESS] = effectiveness
        state[COOLER_HEAT] = heat
        state[COOLING_AIR_OUT] = behind
    state[P_COOLER_OUT] = p
    state[T_COOLER_OUT] = t
    p, t, choked = march(gas, rows, losses, bounds[1], bounds[2], air, p, t, pieces, cold_bay)
    if state[CHOKED] < 0.0:
        state[CHOKED] = choked
    state[P_PLENUM] = p
    state[T_PLENUM] = t

    # Engine
    p_port = p_ambient * math.exp(x[4])
    charge = t
    if site[EVAPORATED] > 0.0:
        charge = charge_after_fuel(
            gas, t, p, site[FUEL_PER_AIR] * site[DRY_SHARE], site[EVAPORATED], site[LATENT],
            site[VAPOUR : VAPOUR + 4],
        )  # fmt: skip
    state[T_CHARGE] = charge
    demand = (
        air_demand(gas, site[DISPLACEMENT], breathing, speed, p, charge)
        * back_pressure_factor(p_port / p, site[COMPRESSION])
        * displaced(
            gas, charge, p, site[FUEL_PER_AIR] * site[DRY_SHARE], site[EVAPORATED],
            site[VAPOUR : VAPOUR + 4],
        )
    )  # fmt: skip
    dry = air * site[DRY_SHARE]
    fuel = dry * site[FUEL_PER_AIR]
    released = dry * site[RELEASED]
    swept = site[DISPLACEMENT] * speed / 120.0
    retard = retard_of(knock, speed, p, charge)
    state[RETARD] = retard
    indicated = site[WORK] * late_factor(retard) * dry / swept
    pumping = p_port - p
    friction = friction_mean_pressure(2.0 * site[STROKE] * speed / 60.0, indicated)
    belt_power = worked / site[BLOWER_DRIVE] if belt else 0.0
    exhaust = air + fuel
    coolant = site[TRUST_HEAT] * wall_heat(
        burnt, site[NUSSELT], exhaust, site[BORE], site[PISTONS], charge, released / exhaust
    )
    t_port = exhaust_temperature(
        gas, burnt, air, exhaust, t, released, (indicated - pumping) * swept, coolant, 1100.0
    )
    state[FUEL] = fuel
    state[INDICATED] = indicated
    state[FRICTION] = friction
    state[PUMPING] = pumping
    state[BELT_POWER] = belt_power
    state[POWER] = (indicated - pumping - friction) * swept - belt_power
    state[P_PORT] = p_port
    state[T_PORT] = t_port
    state[COOLANT_HEAT] = coolant
    state[RELEASED_HEAT] = released

    # Hot side: temperatures down, pressures up
    t4 = temperatures(burnt, rows, bounds[2], bounds[3], exhaust, t_port, pieces, hot_bay)
    t5 = 300.0 * math.exp(x[5])
    state[TAIL_TEMPERATURE] = temperatures(
        burnt, rows, bounds[3], bounds[4], exhaust, t5, pieces, hot_bay
    )
    p5 = march_up(burnt, rows, losses, bounds[3], bounds[4], exhaust, p_ambient, pieces)
    p4 = p_ambient * math.exp(x[2])
    port = march_up(burnt, rows, losses, bounds[2], bounds[3], exhaust, p4, pieces)
    state[P4] = p4
    state[T4] = t4
    state[P5] = p5
    state[T5] = t5
    state[REGIME] = x[3]
    state[OPENING] = opening

    f[0] = math.log(demand) - x[0]
    f[3] = math.log(p / wanted) - shortfall(x[3], 1.0 if belt else site[GATE_AREA])
    f[4] = math.log(port / p_port)
    if belt:
        density = p1 / (gas[GAS_CONSTANT] * mixed_inlet)
        moved = blown(
            site[BLOWER_DISPLACEMENT], site[BLOWER_VOLUMETRIC], site[BLOWER_LEAK], turning, ratio,
            density,
        )  # fmt: skip
        # The bypass lets what is too much back to the inlet: at most as much again as flows.
        f[1] = math.log(p4 / p5)
        f[2] = math.log(moved / (air * (1.0 + opening)))
        f[5] = math.log(t4 / t5)
        state[TURBINE_FLOW] = exhaust
        state[GATE_FLOW] = air * opening
        state[TURBINE_EFFICIENCY] = 0.0
        state[BLADE_RATIO] = 0.0
        state[TURBINE_POWER] = 0.0
        return
    tip = math.pi * turbine[DIAMETER] * turning / 60.0
    through = swallowed(turbine, burnt, p4, t4, p5, tip)
    past = bypassed(opening * site[GATE_AREA], burnt, p4, t4, p5)
    work, out, eta, nu = expand(turbine, burnt, p4, t4, p5, tip)
    trusted = site[TRUST_TURBINE] * turbine[PULSE]
    work *= trusted
    if trusted != 1.0:
        out = temperature_of_enthalpy(burnt, enthalpy(burnt, t4) - work, out)
    mixed = temperature_of_enthalpy(
        burnt, enthalpy(burnt, t4) - work * max(through, 0.0) / exhaust, out
    )
    power = work * max(through, 0.0)
    f[1] = (through + past) / exhaust - 1.0
    f[2] = (power * turbine[MECHANICAL] - worked) / (air * 1.0e4 + abs(worked))
    f[5] = math.log(mixed / t5)
    state[TURBINE_FLOW] = through
    state[GATE_FLOW] = past
    state[TURBINE_EFFICIENCY] = eta
    state[BLADE_RATIO] = nu
    state[TURBINE_POWER] = power


@compiled
def energy_left(
    packed: Packed,
    bounds: tuple[int, int, int, int, int],
    speed: float,
    pieces: np.ndarray,
    state: np.ndarray,
) -> float:
    """What is left of the energy balance in W, summed from the stations: in by air and fuel; out
    by crank, coolant, friction, cooler, walls, shaft losses and exhaust. `speed` rev/min."""
    site, gas, burnt = packed[0], packed[1], packed[2]
    air = state[AIR]
    exhaust = air + state[FUEL]
    base = REFERENCE_TEMPERATURE
    into = air * (enthalpy(gas, site[SITE_TEMPERATURE]) - enthalpy(gas, base))
    into += state[RELEASED_HEAT]
    out = exhaust * (enthalpy(burnt, state[TAIL_TEMPERATURE]) - enthalpy(burnt, base))
    walls = 0.0
    for i in range(bounds[4]):
        before, behind = pieces[i, T_IN], pieces[i, T_OUT]
        if before != behind:
            if i >= bounds[2]:
                walls += exhaust * (enthalpy(burnt, before) - enthalpy(burnt, behind))
            else:
                walls += air * (enthalpy(gas, before) - enthalpy(gas, behind))
    swept = site[DISPLACEMENT] * speed / 120.0
    lost = state[COOLANT_HEAT] + state[FRICTION] * swept + state[COOLER_HEAT] + walls
    taken = state[BELT_POWER] if site[BELT] > 0.0 else state[TURBINE_POWER]
    return into - out - state[POWER] - lost - (taken - state[SHAFT])
