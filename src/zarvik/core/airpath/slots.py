"""Where each number of a point stands: what the kernel reads, what it writes, its unknowns."""

from __future__ import annotations

import numpy as np

# ---- numbers of the air path that the kernel reads ------------------------------------------------
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
FUEL_RATE = 35  # kg/s that a pump gives whatever the air, 0 where the fuel follows the air
MOST_FUEL = 36  # of it per kg of dry air that a limiter lets through, 0 for no limiter
# What a step in time adds (`core.spooling`); 1/s, 0 for a steady point
PER_STEP = 37
INERTIA = 38  # kg m2 of all rotors
VOLUME = 39  # m3 between compressor and valves
HOT_VOLUME = 40  # m3 between valves and turbine
WHEEL_BEFORE = 41  # rad/s at the beginning of the step
CHARGE_BEFORE = 42  # kg in the cold volume then
HOT_BEFORE = 43  # kg in the hot volume then
BELT_SLIP = 44  # share of its speed a W over the crank speed in rev/min
DUMPS = 45  # 1 where the gate blows into the open, 0 where its gas goes back behind the turbine
REJOINS = 46  # pieces of the exhaust before the one at which the gate's gas comes back
JOIN_WIDE = 47  # area of the exhaust there over that of the gate's pipe
JOIN_COSINE = 48  # of the angle at which it joins
LEAK_AREA = 49  # effective m2 of holes between compressor and valves, 0 for a tight build
VENTS = 50  # 1 where a blower's bypass blows into the open, 0 where it leads back before the blower
SITE_SIZE = 51
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
DUMPED = 56  # kg/s that the gate blows into the open
BEHIND_GATE = 57  # Pa behind the gate
AGAINST = 58  # pressure at a port while both valves stand open, over its mean
JOINED = 59  # temperature in K behind the place where the gate's gas is back
LEAK = 60  # kg/s that leaves through them
EVAPORATED_FUEL = 61  # share of the fuel that has evaporated when the valves shut
POINT_SIZE = 62
# ---- unknowns and residuals ---------------------------------------------------------------------
X_AIR = 0  # ln air
X_WHEEL = 1  # ln wheel speed over the map's maximum; with a blower ln pressure ratio
X_TURBINE_INLET = 2  # ln turbine inlet pressure over ambient
X_REGIME = 3
X_PORT = 4  # ln port pressure over ambient
X_OUTLET = 5  # ln temperature over 300 K of the whole stream behind turbine and gate
UNKNOWNS = 6

F_ENGINE = 0  # the engine's air
F_EXHAUST = 1  # the exhaust that turbine and gate swallow; with a blower the pipe in their place
F_SHAFT = 2  # the power of the shaft; with a blower its air
F_PLENUM = 3  # plenum pressure against the regime
F_PORT = 4  # port pressure against the march up the manifold
F_OUTLET = 5  # turbine outlet temperature

# ---- arrays of a packed air path ------------------------------------------------------------------
SITE, GAS, BURNT, ROWS, LOSSES, LINES, POINTS, COOLER, TURBINE, IGNITION, MIXTURES = range(11)
Packed = tuple[
    np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray
]
# Columns of MIXTURES, where the fuel is given and not lambda: rising fuel per dry air, what hangs on it
MIX_FUEL, MIX_RELEASED, MIX_WORK, MIX_BURNT = range(4)

# Number of pieces up to the end of each run: intake, hot pipe, cold pipe, manifold, exhaust.
Bounds = tuple[int, int, int, int, int]
