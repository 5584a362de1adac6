"""The coupled steady solution of the whole path, compiled.

Unknowns of a point (`x`), residuals (`f`) and everything else that is read and written stand where
`slots` says.

The regime covers the gate with one variable: below 0 it is shut and the plenum is short of what is
asked by that logarithm; between 0 and 1 it opens and the plenum stands at what is asked; above 1 it
is wide open and the plenum is above.

Nothing is nested but fixed-point steps of a march.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.slots import (
    AGAINST,
    AIR,
    BAY_CONVECTION,
    BAY_HOT_CONVECTION,
    BAY_TEMPERATURE,
    BEHIND_GATE,
    BELT,
    BELT_POWER,
    BELT_RATIO,
    BELT_SLIP,
    BLADE_RATIO,
    BLOWER_ADIABATIC,
    BLOWER_DISPLACEMENT,
    BLOWER_DRIVE,
    BLOWER_FALL,
    BLOWER_LEAK,
    BLOWER_VOLUMETRIC,
    BORE,
    BURNT,
    CHARGE_BEFORE,
    CHOKED,
    COMPRESSION,
    COOLANT_HEAT,
    COOLER_HEAT,
    COOLING_AIR_OUT,
    DISPLACEMENT,
    DRY_SHARE,
    DUMPED,
    DUMPS,
    EFFECTIVENESS,
    EVAPORATED,
    EVAPORATED_FUEL,
    F_ENGINE,
    F_EXHAUST,
    F_OUTLET,
    F_PLENUM,
    F_PORT,
    F_SHAFT,
    FRICTION,
    FUEL,
    FUEL_PER_AIR,
    FUEL_RATE,
    GAS,
    GATE_AREA,
    GATE_FLOW,
    HOT_BEFORE,
    HOT_VOLUME,
    INDICATED,
    INERTIA,
    JOIN_COSINE,
    JOIN_WIDE,
    JOINED,
    LATENT,
    LEAK,
    LEAK_AREA,
    MAP_EFFICIENCY,
    MAP_FLOW,
    MAP_MAXIMUM,
    MAP_PLACE,
    MAP_PRESSURE,
    MAP_RATIO,
    MAP_SPEED,
    MAP_TEMPERATURE,
    MIX_BURNT,
    MIX_FUEL,
    MIX_RELEASED,
    MIX_WORK,
    MIXTURES,
    MOST_FUEL,
    NUSSELT,
    OPENING,
    P1,
    P2,
    P4,
    P5,
    P_COOLER_IN,
    P_COOLER_OUT,
    P_PLENUM,
    P_PORT,
    PER_STEP,
    PISTONS,
    POWER,
    PUMPING,
    REGIME,
    REJOINS,
    RELEASED,
    RELEASED_HEAT,
    RETARD,
    SHAFT,
    SITE,
    SITE_PRESSURE,
    SITE_TEMPERATURE,
    STROKE,
    T1,
    T2,
    T4,
    T5,
    T_CHARGE,
    T_COOLER_IN,
    T_COOLER_OUT,
    T_PLENUM,
    T_PORT,
    T_TAKEN,
    TAIL_TEMPERATURE,
    TRUST_HEAT,
    TRUST_TURBINE,
    TURBINE,
    TURBINE_EFFICIENCY,
    TURBINE_FLOW,
    TURBINE_POWER,
    VAPOUR,
    VENTS,
    VOLUME,
    WHEEL_BEFORE,
    WORK,
    X_AIR,
    X_OUTLET,
    X_PORT,
    X_REGIME,
    X_TURBINE_INLET,
    X_WHEEL,
    Bounds,
    Packed,
)
from zarvik.core.common.compiled import compiled
from zarvik.core.compressor.lookup import efficiency_at, log_ratio
from zarvik.core.ducts.flow import mach_squared
from zarvik.core.ducts.junctions import straight_loss_joining
from zarvik.core.ducts.march import AREA, T_IN, T_OUT, march, march_up, temperatures
from zarvik.core.engine.blower import blower_efficiency, delivered_flow
from zarvik.core.engine.engine import (
    REFERENCE_TEMPERATURE,
    air_demand,
    back_pressure_factor,
    charge_after_fuel,
    displaced,
    evaporable,
    evaporated_share,
    exhaust_temperature,
    friction_mean_pressure,
    late_factor,
    wall_heat,
)
from zarvik.core.engine.knock import evaporation_correction, retard_of
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity_ratio, isentropic_temperature, temperature_of_enthalpy
from zarvik.core.intercooler.intercooler import PRESENT, cool
from zarvik.core.turbine.pulses import pulse_factors
from zarvik.core.turbine.turbine import COUNT, DIAMETER, MECHANICAL, PULSES, expand, swallowed
from zarvik.core.wastegate.wastegate_flow import bypassed


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
    bounds: Bounds,
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
    site = packed[SITE]
    state[AIR] = math.exp(x[X_AIR])
    compress(packed, bounds, speed, x, pieces, state)
    charge(packed, bounds, pieces, state)
    stored = 0.0
    if site[PER_STEP] > 0.0:
        stored = site[PER_STEP] * (gas_mass(packed[GAS], site[VOLUME], state[P_PLENUM], state[T_PLENUM]) - site[CHARGE_BEFORE])
        # What fills the pipes does not reach the cylinders. A trial may ask for more than flows.
        state[AIR] = max(state[AIR] - stored, 0.05 * state[AIR])
    state[LEAK] = 0.0
    if site[LEAK_AREA] > 0.0:
        gas = packed[GAS]
        out = bypassed(site[LEAK_AREA], gas, state[P_PLENUM], state[T_PLENUM], site[SITE_PRESSURE])
        # A breath in through a hole is left out: it only helps below boost.
        state[LEAK] = min(max(out, 0.0), 0.5 * state[AIR])
        state[AIR] -= state[LEAK]
    if site[FUEL_RATE] > 0.0:
        mix_by_fuel(packed, state[AIR])
    demand = breathe_and_burn(packed, breathing, speed, x, state)
    port = exhaust(packed, bounds, x, pieces, state)
    gated = 1.0 if site[BELT] > 0.0 else site[GATE_AREA]
    f[F_ENGINE] = math.log(demand / state[AIR])
    f[F_PLENUM] = math.log(state[P_PLENUM] / wanted) - shortfall(x[X_REGIME], gated)
    f[F_PORT] = math.log(port / state[P_PORT])
    if site[BELT] > 0.0:
        driven_by_belt(packed, f, state)
    else:
        driven_by_turbine(packed, speed, x, f, state)


@compiled
def gas_mass(gas: np.ndarray, volume: float, pressure: float, temperature: float) -> float:
    """Gas in kg that a `volume` m3 holds at `pressure` Pa and `temperature` K."""
    return pressure * volume / (gas[GAS_CONSTANT] * temperature)


@compiled
def mix_by_fuel(packed: Packed, air: float) -> None:
    """Where a pump gives the fuel, set lambda by the `air` in kg/s that comes: fuel per air, heat, work
    and burnt gas, between the rows of MIXTURES (straight over fuel per air: when lean, the composition is
    linear in it)."""
    site, burnt, table = packed[SITE], packed[BURNT], packed[MIXTURES]
    last = table.shape[0] - 1
    fuel = site[FUEL_RATE] / (air * site[DRY_SHARE])
    if site[MOST_FUEL] > 0.0:
        fuel = min(fuel, site[MOST_FUEL])
    fuel = min(max(fuel, table[0, MIX_FUEL]), table[last, MIX_FUEL])
    low, high = 0, last
    while high - low > 1:
        middle = (low + high) // 2
        if table[middle, MIX_FUEL] > fuel:
            high = middle
        else:
            low = middle
    share = (fuel - table[low, MIX_FUEL]) / (table[high, MIX_FUEL] - table[low, MIX_FUEL])
    site[FUEL_PER_AIR] = fuel
    site[RELEASED] = (1.0 - share) * table[low, MIX_RELEASED] + share * table[high, MIX_RELEASED]
    site[WORK] = (1.0 - share) * table[low, MIX_WORK] + share * table[high, MIX_WORK]
    for j in range(burnt.shape[0]):
        burnt[j] = (1.0 - share) * table[low, MIX_BURNT + j] + share * table[high, MIX_BURNT + j]


@compiled
def intake_air(site: np.ndarray, air: float, opening: float) -> float:
    """Air in kg/s through the intake: `air` that goes on, and what a blower's bypass vents at its `opening`, a share of that; numbers
    of the `site`."""
    return air * (1.0 + opening) if site[BELT] > 0.0 and site[VENTS] > 0.0 else air


@compiled
def compress(packed: Packed, bounds: Bounds, speed: float, x: np.ndarray, pieces: np.ndarray, state: np.ndarray) -> None:
    """From the surroundings through the intake to behind the compressor or blower. `speed` rev/min."""
    site, gas, _, rows, losses, lines, points, _, turbine, _, _ = packed
    air = state[AIR]
    belt = site[BELT] > 0.0
    opening = min(max(x[X_REGIME], 0.0), 1.0)
    if not belt and site[GATE_AREA] <= 0.0:
        opening = 0.0
    p1, t1, choked = march(
        gas,
        rows,
        losses,
        0,
        bounds[0],
        intake_air(site, air, opening),
        site[SITE_PRESSURE],
        site[SITE_TEMPERATURE],
        pieces,
        (site[BAY_TEMPERATURE], site[BAY_CONVECTION]),
    )
    state[CHOKED] = choked
    state[P1] = p1
    state[T1] = t1
    if belt:
        ratio = math.exp(x[X_WHEEL])
        efficiency = blower_efficiency(site[BLOWER_ADIABATIC], site[BLOWER_FALL], ratio)
        state[MAP_FLOW] = air
        state[MAP_SPEED] = speed * site[BELT_RATIO]
        state[MAP_PLACE] = 0.5
    else:
        root = math.sqrt(t1 / site[MAP_TEMPERATURE])
        flow = air / turbine[COUNT] * root / (p1 / site[MAP_PRESSURE])
        corrected = math.exp(x[X_WHEEL]) / root
        ratio = math.exp(log_ratio(lines, points, corrected, flow))
        efficiency, place = efficiency_at(lines, points, corrected, flow)
        state[MAP_FLOW] = flow
        state[MAP_SPEED] = corrected
        state[MAP_PLACE] = place
    h1 = enthalpy(gas, t1)
    # With a blower the bypass brings back to the inlet what is too much: it has been paid for, and it
    # is warm.
    around = opening if belt and site[VENTS] <= 0.0 else 0.0
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
    state[P2] = p1 * ratio
    state[T2] = temperature_of_enthalpy(gas, h_in + rise, ideal)
    state[MAP_RATIO] = ratio
    state[MAP_EFFICIENCY] = efficiency
    state[OPENING] = opening
    state[SHAFT] = air * (1.0 + (opening if belt else 0.0)) * rise
    if belt:
        # The belt stretches: the blower falls behind by what it pulls.
        state[MAP_SPEED] *= 1.0 - min(site[BELT_SLIP] * max(state[SHAFT], 0.0) / speed, 0.2)
    state[T_TAKEN] = mixed_inlet


@compiled
def charge(packed: Packed, bounds: Bounds, pieces: np.ndarray, state: np.ndarray) -> None:
    """From behind the compressor through pipes and intercooler into the plenum.

    Fills `state` and `pieces` in SI units.
    """
    site, gas, _, rows, losses, _, _, cooler, _, _, _ = packed
    air, ambient = state[AIR], site[SITE_TEMPERATURE]
    bay = (site[BAY_TEMPERATURE], site[BAY_CONVECTION])
    p, t, choked = march(gas, rows, losses, bounds[0], bounds[1], air, state[P2], state[T2], pieces, bay)
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
    p, t, choked = march(gas, rows, losses, bounds[1], bounds[2], air, p, t, pieces, bay)
    if state[CHOKED] < 0.0:
        state[CHOKED] = choked
    state[P_PLENUM] = p
    state[T_PLENUM] = t


@compiled
def breathe_and_burn(packed: Packed, breathing: float, speed: float, x: np.ndarray, state: np.ndarray) -> float:
    """The cylinders: what they take in kg/s, and what they make of the air that comes. `breathing` VE,
    `speed` rev/min."""
    site, gas, burnt, _, _, _, _, _, turbine, knock, _ = packed
    air, p, t = state[AIR], state[P_PLENUM], state[T_PLENUM]
    p_port = site[SITE_PRESSURE] * math.exp(x[X_PORT])
    # What stays behind in a cylinder is what its neighbours press on it while both its valves are open.
    against = pulse_factors(turbine[PULSES:], speed, math.exp(x[X_TURBINE_INLET]))[2]
    state[AGAINST] = against
    into, share = t, 0.0
    per_air = site[FUEL_PER_AIR] * site[DRY_SHARE]
    vapour = site[VAPOUR : VAPOUR + 4]
    if site[EVAPORATED] > 0.0:
        into = charge_after_fuel(gas, t, p, per_air, site[EVAPORATED], site[LATENT], vapour)
        share = min(evaporated_share(site[EVAPORATED], 0.5 * (into + t), vapour), evaporable(gas, into, p, per_air, vapour))
    state[EVAPORATED_FUEL] = share
    demand = (
        air_demand(gas, site[DISPLACEMENT], breathing, speed, p, into)
        * back_pressure_factor(against * p_port / p, site[COMPRESSION])
        * displaced(gas, into, p, per_air, share, vapour)
    )
    dry = air * site[DRY_SHARE]
    fuel = dry * site[FUEL_PER_AIR]
    released = dry * site[RELEASED]
    swept = site[DISPLACEMENT] * speed / 120.0
    retard = retard_of(knock, speed, p, into + evaporation_correction(share - site[EVAPORATED], site[FUEL_PER_AIR], site[LATENT]))
    indicated = site[WORK] * late_factor(retard) * dry / swept
    pumping = p_port - p
    friction = friction_mean_pressure(2.0 * site[STROKE] * speed / 60.0, indicated)
    belt_power = state[SHAFT] / site[BLOWER_DRIVE] if site[BELT] > 0.0 else 0.0
    gone = air + fuel
    coolant = site[TRUST_HEAT] * wall_heat(burnt, site[NUSSELT], gone, site[BORE], site[PISTONS], into, released / gone)
    state[T_CHARGE] = into
    state[RETARD] = retard
    state[FUEL] = fuel
    state[INDICATED] = indicated
    state[FRICTION] = friction
    state[PUMPING] = pumping
    state[BELT_POWER] = belt_power
    state[POWER] = (indicated - pumping - friction) * swept - belt_power
    state[P_PORT] = p_port
    state[T_PORT] = exhaust_temperature(gas, burnt, air, gone, t, released, (indicated - pumping) * swept, coolant, 1100.0)
    state[COOLANT_HEAT] = coolant
    state[RELEASED_HEAT] = released
    return demand


@compiled
def exhaust(packed: Packed, bounds: Bounds, x: np.ndarray, pieces: np.ndarray, state: np.ndarray) -> float:
    """The hot side: temperatures down from the ports, pressures up from the open air. Gives the pressure
    in Pa that the manifold needs at the ports."""
    site, _, burnt, rows, losses, _, _, _, _, _, _ = packed
    p_ambient = site[SITE_PRESSURE]
    bay = (site[BAY_TEMPERATURE], site[BAY_HOT_CONVECTION])
    gone = state[AIR] + state[FUEL]
    state[T4] = temperatures(burnt, rows, bounds[2], bounds[3], gone, state[T_PORT], pieces, bay)
    joined = 300.0 * math.exp(x[X_OUTLET])
    state[JOINED] = joined
    p4 = p_ambient * math.exp(x[X_TURBINE_INLET])
    state[P4] = p4
    state[DUMPED] = 0.0
    if site[DUMPS] > 0.0:
        state[DUMPED] = bypassed(state[OPENING] * site[GATE_AREA], burnt, p4, state[T4], p_ambient)
    # What is blown into the open does not go through the exhaust. A trial may dump more than there is.
    behind = max(gone - state[DUMPED], 0.05 * gone)
    back = bounds[3] + int(site[REJOINS])
    state[TAIL_TEMPERATURE] = temperatures(burnt, rows, back, bounds[4], behind, joined, pieces, bay)
    state[P5] = march_up(burnt, rows, losses, back, bounds[4], behind, p_ambient, pieces)
    state[BEHIND_GATE] = p_ambient if site[DUMPS] > 0.0 else state[P5]
    state[T5] = joined
    if back > bounds[3]:
        alone(packed, bounds[3], back, pieces, state)
    state[REGIME] = x[X_REGIME]
    return march_up(burnt, rows, losses, bounds[2], bounds[3], gone, p4, pieces)


LEAST_JOINING = -0.5  # K below which a stream from the side does not help, whatever momentum says


@compiled
def alone(packed: Packed, first: int, back: int, pieces: np.ndarray, state: np.ndarray) -> None:
    """The pieces `first` to `back` (exclusive) of the exhaust, which the turbine has for itself: the gate's gas joins behind
    them. `state` holds what stands behind the meeting; pressure and temperature behind the turbine are filled in."""
    site, _, burnt, rows, losses, _, _, _, _, _, _ = packed
    bay = (site[BAY_TEMPERATURE], site[BAY_HOT_CONVECTION])
    gone, joined, behind = state[AIR] + state[FUEL], state[JOINED], state[P5]
    past = bypassed(state[OPENING] * site[GATE_AREA], burnt, state[P4], state[T4], behind)
    through = max(gone - past, 0.05 * gone)
    past = gone - through
    gamma = heat_capacity_ratio(burnt, joined)
    area = rows[back - 1, AREA]
    asked = gone * math.sqrt(burnt[GAS_CONSTANT] * joined / gamma) / (area * behind)
    loss = max(straight_loss_joining(past / gone, site[JOIN_WIDE], site[JOIN_COSINE]), LEAST_JOINING)
    before = behind * (1.0 + 0.5 * gamma * loss * mach_squared(min(asked * asked, 0.25), gamma))
    # What the turbine sends is what the whole stream has less what the gate brings.
    own = (gone * enthalpy(burnt, joined) - past * enthalpy(burnt, state[T4])) / through
    end = temperature_of_enthalpy(burnt, max(own, enthalpy(burnt, 250.0)), joined)
    t5 = end
    for _ in range(40):
        missed = end - temperatures(burnt, rows, first, back, through, t5, pieces, bay)
        t5 += missed
        if abs(missed) < 1e-10 * end:
            break
    state[T5] = t5
    state[P5] = march_up(burnt, rows, losses, first, back, through, before, pieces)


@compiled
def driven_by_belt(packed: Packed, f: np.ndarray, state: np.ndarray) -> None:
    """What a blower moves against what flows; no turbine stands in the exhaust.

    Residuals `f` are ratios; `state` in SI units.
    """
    site, gas = packed[SITE], packed[GAS]
    air, opening = state[AIR], state[OPENING]
    density = state[P1] / (gas[GAS_CONSTANT] * state[T_TAKEN])
    moved = delivered_flow(
        site[BLOWER_DISPLACEMENT], site[BLOWER_VOLUMETRIC], site[BLOWER_LEAK], state[MAP_SPEED], state[MAP_RATIO], density
    )
    # The bypass lets what is too much back to the inlet: at most as much again as flows.
    f[F_EXHAUST] = math.log(state[P4] / state[P5])
    f[F_SHAFT] = math.log(moved / (air * (1.0 + opening)))
    f[F_OUTLET] = math.log(state[T4] / state[T5])
    state[TURBINE_FLOW] = air + state[FUEL]
    state[GATE_FLOW] = air * opening
    state[TURBINE_EFFICIENCY] = 0.0
    state[BLADE_RATIO] = 0.0
    state[TURBINE_POWER] = 0.0


@compiled
def driven_by_turbine(packed: Packed, speed: float, x: np.ndarray, f: np.ndarray, state: np.ndarray) -> None:
    """What turbine and gate swallow, and the power that the turbine gives to the shaft.

    Residuals `f` are ratios; engine `speed` rev/min; `x` unknowns, `state` in SI units.
    """
    site, burnt, turbine = packed[SITE], packed[BURNT], packed[TURBINE]
    gone = state[AIR] + state[FUEL]
    p4, t4, p5 = state[P4], state[T4], state[P5]
    tip = math.pi * turbine[DIAMETER] * math.exp(x[X_WHEEL]) * site[MAP_MAXIMUM] / 60.0
    # Pressures are means over a cycle: what beats does more work a kg, and passes less.
    more, less, _ = pulse_factors(turbine[PULSES:], speed, p4 / p5)
    through = less * swallowed(turbine, burnt, p4, t4, p5, tip)
    past = state[DUMPED]
    if site[DUMPS] <= 0.0:
        past = bypassed(state[OPENING] * site[GATE_AREA], burnt, p4, t4, state[BEHIND_GATE])
    work, out, eta, nu = expand(turbine, burnt, p4, t4, p5, tip)
    trusted = site[TRUST_TURBINE] * more
    work *= trusted
    if trusted != 1.0:
        out = temperature_of_enthalpy(burnt, enthalpy(burnt, t4) - work, out)
    mixed = temperature_of_enthalpy(burnt, enthalpy(burnt, t4) - work * max(through, 0.0) / max(gone - state[DUMPED], 0.05 * gone), out)
    if site[REJOINS] > 0.0:
        mixed = out
    power = work * max(through, 0.0)
    filling, speeding = 0.0, 0.0
    if site[PER_STEP] > 0.0:
        filling = site[PER_STEP] * (gas_mass(burnt, site[HOT_VOLUME], p4, t4) - site[HOT_BEFORE])
        wheel = 2.0 * tip / turbine[DIAMETER]
        before = site[WHEEL_BEFORE]
        # Energy of the rotors, so that it is conserved over the step
        speeding = 0.5 * site[PER_STEP] * site[INERTIA] * (wheel * wheel - before * before)
    f[F_EXHAUST] = (through + past + filling) / gone - 1.0
    f[F_SHAFT] = (power * turbine[MECHANICAL] - state[SHAFT] - speeding) / (state[AIR] * 1.0e4 + abs(state[SHAFT]))
    f[F_OUTLET] = math.log(mixed / state[T5])
    state[TURBINE_FLOW] = through
    state[GATE_FLOW] = past
    state[TURBINE_EFFICIENCY] = eta
    state[BLADE_RATIO] = nu
    state[TURBINE_POWER] = power


@compiled
def energy_left(packed: Packed, bounds: Bounds, speed: float, pieces: np.ndarray, state: np.ndarray) -> float:
    """What is left of the energy balance in W, summed from the stations: in by air and fuel; out
    by crank, coolant, friction, cooler, walls, shaft losses and exhaust. `speed` rev/min."""
    site, gas, burnt = packed[SITE], packed[GAS], packed[BURNT]
    air = state[AIR]
    exhaust = air + state[FUEL]
    base = REFERENCE_TEMPERATURE
    leak = state[LEAK]
    into = (air + leak) * (enthalpy(gas, site[SITE_TEMPERATURE]) - enthalpy(gas, base))
    vented = intake_air(site, air + leak, state[OPENING]) - air - leak
    into += vented * (enthalpy(gas, site[SITE_TEMPERATURE]) - enthalpy(gas, base))
    into += state[RELEASED_HEAT]
    dumped = state[DUMPED]
    out = (exhaust - dumped) * (enthalpy(burnt, state[TAIL_TEMPERATURE]) - enthalpy(burnt, base))
    out += dumped * (enthalpy(burnt, state[T4]) - enthalpy(burnt, base))
    out += leak * (enthalpy(gas, state[T_PLENUM]) - enthalpy(gas, base))
    out += vented * (enthalpy(gas, state[T2]) - enthalpy(gas, base))
    walls = 0.0
    back = bounds[3] + int(site[REJOINS])
    for i in range(bounds[4]):
        before, behind = pieces[i, T_IN], pieces[i, T_OUT]
        if before != behind:
            if i >= bounds[2]:
                flow = exhaust
                if i >= back:
                    flow -= dumped
                elif i >= bounds[3]:
                    flow -= state[GATE_FLOW]
                walls += flow * (enthalpy(burnt, before) - enthalpy(burnt, behind))
            else:
                walls += (air + leak + (vented if i < bounds[0] else 0.0)) * (enthalpy(gas, before) - enthalpy(gas, behind))
    swept = site[DISPLACEMENT] * speed / 120.0
    lost = state[COOLANT_HEAT] + state[FRICTION] * swept + state[COOLER_HEAT] + walls
    taken = state[BELT_POWER] if site[BELT] > 0.0 else state[TURBINE_POWER]
    return into - out - state[POWER] - lost - (taken - state[SHAFT])
