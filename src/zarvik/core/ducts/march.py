"""The march along a run: total pressure falls piece by piece, with the local Mach number.

note: p0, T0 total pressure and temperature; K loss coefficient; M Mach number; phi mass flow
parameter. A piece with a loss coefficient K follows the Fanno line of f L / D = K in its reference
section (dp0/p0 = gamma M^2/2 dK), solved in closed form from whichever end is known: for wall
friction it is exact, for a bend or a valve it is the head at the place where it is lost. A mouth and
a sudden widening are exact by the balance of pressure and momentum. So each stands on the state that
it really has at its own inlet, up to Mach 1, in both directions.

The cold side is marched down from ambient. The exhaust is marched up from the tailpipe; its
temperatures, which do not depend on the pressure, are carried down first. Where the exhaust chokes,
the pressure before that place rises until it passes the gas, as it does behind a real engine.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.identity_cache import IdentityCacheEach
from zarvik.core.ducts.element import REYNOLDS_NODES, Element
from zarvik.core.ducts.flow import (
    friction_rise,
    mach_after_widening,
    mach_of_flow,
    mach_squared,
    mass_flow_parameter,
    mouth_square,
    speed_of_sound,
    static_pressure,
)
from zarvik.core.ducts.wall_heat import (
    PRANDTL,
    mild_skin_temperature,
    outlet_temperature,
    pulsating_nusselt,
    skin_temperature,
    steady_nusselt,
)
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import heat_capacity, heat_capacity_ratio, viscosity

# Columns of a packed element
DIAMETER = 0
AREA = 1
AREA_IN = 2
AREA_OUT = 3
LAW = 4
LINEAR = 5
QUADRATIC = 6
SURFACE = 7
RESISTANCE = 8
EMISSIVITY = 9
LOG_SHAPE = 10  # ln(diameter / area): ln Re = ln(m / mu) + this
COLUMNS = 11

# How a piece takes pressure away
FRICTION = 0.0  # by a loss coefficient, along the Fanno line
MOUTH = 1.0  # the head of the stream is lost in a space
WIDENING = 2.0  # sudden: by the balance of momentum
LAWS = {"friction": FRICTION, "mouth": MOUTH, "widening": WIDENING}

# Columns of what the march writes for each piece
P_IN = 0
T_IN = 1
P_OUT = 2
T_OUT = 3
MACH = 4  # the highest in the piece
VELOCITY = 5
REYNOLDS = 6
LOSS = 7
SKIN = 8  # outer skin temperature at the inlet of the piece
LOG_REYNOLDS = 9
RESULTS = 10

# What a bay is to the pieces in it: (temperature K, convective coefficient W/(m2 K))
Bay = tuple[float, float]

_LOG_FIRST = math.log(float(REYNOLDS_NODES[0]))
_LOG_STEP = math.log(float(REYNOLDS_NODES[1] / REYNOLDS_NODES[0]))
_NODES = len(REYNOLDS_NODES)
NEAR_CHOKE = 0.995  # of the flow parameter at Mach 1, about Mach 0.92
STEEP = 60.0  # how much steeper than the flow the pressure falls behind a piece that chokes
CORNER = 0.01  # half the width, in pressure, over which the exhaust begins to choke


_PACKED: IdentityCacheEach[Element, tuple[np.ndarray, np.ndarray]] = IdentityCacheEach(4000)


def pack(elements: Sequence[Element]) -> tuple[np.ndarray, np.ndarray]:
    """Arrays (n, COLUMNS) and (n, Reynolds nodes) that the compiled march reads."""
    rows = np.zeros((len(elements), COLUMNS))
    losses = np.zeros((len(elements), _NODES))
    for i, element in enumerate(elements):
        rows[i], losses[i] = _PACKED.of(element, _packed)
    return rows, losses


def _packed(element: Element) -> tuple[np.ndarray, np.ndarray]:
    row = np.zeros(COLUMNS)
    row[DIAMETER] = element.diameter
    row[AREA] = element.area
    row[AREA_IN] = element.area * (element.diameter_in / element.diameter) ** 2
    row[AREA_OUT] = element.area * (element.diameter_out / element.diameter) ** 2
    row[LAW] = LAWS[element.law]
    row[LINEAR] = element.linear
    row[QUADRATIC] = element.quadratic
    row[SURFACE] = element.surface
    row[RESISTANCE] = element.resistance
    row[EMISSIVITY] = element.emissivity
    row[LOG_SHAPE] = math.log(element.diameter / element.area)
    return row, np.asarray(element.loss, float)


@compiled
def loss_at(losses: np.ndarray, log_reynolds: float) -> float:
    """Loss coefficient at a Reynolds number, given as its logarithm, from values at the nodes; held
    outside of them.

    `losses` of one piece over the nodes, `log_reynolds` natural logarithm of a Reynolds number.
    """
    place = (log_reynolds - _LOG_FIRST) / _LOG_STEP
    place = min(max(place, 0.0), _NODES - 1.0)
    i = min(int(place), _NODES - 2)
    return losses[i] + (place - i) * (losses[i + 1] - losses[i])


def inside_coefficient(gas: np.ndarray, temperature: float, reynolds: float, diameter: float, pulsating: bool) -> float:
    """Heat transfer coefficient in W/(m2 K) from a `gas` of so many K (`temperature`) to the wall of a pipe of `diameter` m at a
    `reynolds` number; `pulsating` chooses the Nusselt relation."""
    relation = pulsating_nusselt if pulsating else steady_nusselt
    conductivity = viscosity(gas, temperature) * heat_capacity(gas, temperature) / PRANDTL
    return float(relation(math.log(reynolds)) * conductivity / diameter)


@compiled
def after_wall(
    gas: np.ndarray, row: np.ndarray, mass_flow: float, temperature: float, log_reynolds: float, mu: float, bay: Bay, pulsating: bool
) -> tuple[float, float]:
    """Gas temperature behind a piece and its outer skin temperature at the inlet, both in K.

    `mass_flow` kg/s, `temperature` K, `mu` Pa s; `pulsating` chooses the Nusselt relation.
    `row` of a packed piece, `log_reynolds` natural logarithm of a Reynolds number.
    """
    cp = heat_capacity(gas, temperature)
    nusselt = pulsating_nusselt(log_reynolds) if pulsating else steady_nusselt(log_reynolds)
    inside = nusselt * (mu * cp / PRANDTL) / row[DIAMETER]
    if pulsating:
        skin = skin_temperature(temperature, bay[0], inside, row[RESISTANCE], bay[1], row[EMISSIVITY])
    else:
        skin = mild_skin_temperature(temperature, bay[0], inside, row[RESISTANCE], bay[1], row[EMISSIVITY])
    after = outlet_temperature(temperature, bay[0], skin, inside, row[RESISTANCE], row[SURFACE], mass_flow * cp)
    return after, skin


@compiled
def loss_of(row: np.ndarray, share: float, mass_flow: float) -> float:
    """The whole loss coefficient of a piece: its own `share`, and its rating. A rating
    a V + b rho V^2 / 2 is b + 2 a / (rho V), and rho V = m / A is the same all along.
    `mass_flow` kg/s.

    `row` of a packed piece.
    """
    return share + row[QUADRATIC] + 2.0 * row[LINEAR] * row[AREA] / mass_flow


@compiled
def passing(pressure: float, needed: float) -> float:
    """The total `pressure` in Pa, or the one that is `needed` to pass a flow at Mach 1 when that is
    higher; the corner between them is rounded by `CORNER`, for the solver's sake (0.25 % at most)."""
    ratio = needed / pressure
    if ratio <= 1.0 - CORNER:
        return pressure
    if ratio >= 1.0 + CORNER:
        return needed
    return pressure * (1.0 + (ratio - 1.0 + CORNER) ** 2 / (4.0 * CORNER))


@compiled
def beyond(excess: float) -> float:
    """Factor on the pressure behind a piece that is asked for more than chokes it, by the logarithm
    `excess` (dimensionless): steep, so that a solution stands within 2 % of the flow that really passes, and without
    an end, so that a solver finds its way back."""
    return math.exp(-STEEP * excess / (1.0 + 0.15 * STEEP * excess))


@compiled
def fallen(row: np.ndarray, loss: float, flux: float, pressure: float, gamma: float, most: float) -> tuple[float, bool]:
    """Total pressure in Pa behind a piece from the one before it, and whether it chokes.

    `loss` coefficient, `flux` = m sqrt(R T0 / gamma), `most`: the flow parameter at Mach 1. What chokes
    passes no more: the pressure behind it falls, in shocks, until the rest of the path asks for no more
    than that (`beyond`). `row` of a packed piece.
    """
    area = row[AREA]
    law = row[LAW]
    smallest = min(row[AREA_IN], row[AREA_OUT], area)
    ask = flux / (most * smallest * pressure)
    p = pressure
    choked = False
    if ask >= 1.0:
        p = pressure * beyond(math.log(ask))
        choked = True
    if loss <= 0.0:
        return p, choked
    # A piece that is choked at its mouth loses what it would at Mach 1.
    parameter = min(flux / (area * pressure), most * (1.0 - 1e-9))
    square = mach_squared(parameter * parameter, gamma)
    if law == MOUTH:
        still = static_pressure(1.0, math.sqrt(square), gamma)
        return p * (1.0 - min(loss, 1.0) * (1.0 - still)), choked
    if law == WIDENING:
        wide = row[AREA_OUT] / row[AREA_IN]
        behind = mach_after_widening(square, wide, gamma, False)
        if not behind <= 1.0:
            behind = 1.0
            choked = True
        kept = mass_flow_parameter(math.sqrt(square), gamma) / (wide * mass_flow_parameter(math.sqrt(behind), gamma))
        return p * min(kept, 1.0), choked
    near = NEAR_CHOKE * most
    rise = friction_rise(square, -loss, gamma)
    if rise == rise and parameter * math.exp(-rise) <= near:
        return p * math.exp(rise), choked
    # It leaves so near to Mach 1 that the pressure falls without bound with the flow: from the flow
    # that leaves a little below it the steep line takes over.
    limit = near * math.exp(-friction_rise(mach_squared(near * near, gamma), loss, gamma))
    return p * limit / near * beyond(max(math.log(parameter / limit), 0.0)), True


@compiled
def before(row: np.ndarray, loss: float, flux: float, pressure: float, gamma: float, most: float) -> tuple[float, float]:
    """Total pressure in Pa before a piece from the one behind it, and that behind it which the piece
    sees: higher than `pressure` where the piece chokes. Arguments as in `fallen`.

    `row` of a packed piece, its `loss` coefficient, `flux` kg/s √K per m2, `gamma` ratio of
    heat capacities, `most` Mach number.
    """
    law = row[LAW]
    if law == MOUTH and loss > 0.0:
        area = row[AREA]
        h = 0.5 * (gamma - 1.0)
        if loss >= 1.0:
            square = mouth_square(flux / (area * pressure), gamma)
            if square >= 1.0:
                return flux / (area * most), pressure
            return pressure * (1.0 + h * square) ** (gamma / (gamma - 1.0)), pressure
        # A part of the head is kept: static + (1 - loss) head = what is behind; falls with M.
        low, high = 0.0, 1.0
        for _ in range(60):
            square = 0.5 * (low + high)
            total = flux / (area * mass_flow_parameter(math.sqrt(square), gamma))
            still = static_pressure(total, math.sqrt(square), gamma)
            if still + (1.0 - loss) * (total - still) > pressure:
                low = square
            else:
                high = square
        return flux / (area * mass_flow_parameter(math.sqrt(high), gamma)), pressure
    if law == WIDENING and loss > 0.0:
        p = passing(pressure, flux / (most * row[AREA_OUT]))
        parameter = flux / (row[AREA_OUT] * p)
        square = mach_squared(min(parameter, most * (1.0 - 1e-12)) ** 2, gamma)
        ahead = mach_after_widening(square, row[AREA_OUT] / row[AREA_IN], gamma, True)
        needed = flux / (most * row[AREA_IN])
        if not ahead < 1.0:
            return max(needed, p), p
        total = flux / (row[AREA_IN] * mass_flow_parameter(math.sqrt(ahead), gamma))
        return max(total, needed), p
    smallest = min(row[AREA_IN], row[AREA_OUT], row[AREA])
    p = passing(pressure, flux / (most * smallest))
    if loss <= 0.0:
        return p, p
    parameter = flux / (row[AREA] * p)
    square = mach_squared(min(parameter, most * (1.0 - 1e-12)) ** 2, gamma)
    return p * math.exp(friction_rise(square, loss, gamma)), p


@compiled
def march(
    gas: np.ndarray,
    rows: np.ndarray,
    losses: np.ndarray,
    first: int,
    last: int,
    mass_flow: float,
    pressure: float,
    temperature: float,
    out: np.ndarray,
    bay: Bay,
) -> tuple[float, float, int]:
    """Carry the total state along the pieces `first` to `last` (exclusive).

    `mass_flow` kg/s, total `pressure` Pa and `temperature` K at the start; `out` (pieces,
    RESULTS) is filled but for what `speeds` adds. `bay`: its temperature in K and convective
    coefficient in W/(m2 K). Returns total pressure and temperature at the end and the index of the
    first piece that chokes, or -1; behind it the pressure is what `beyond` says.
    `rows` and `losses` as `pack` gives them.
    """
    p = pressure
    t = temperature
    gas_r = gas[GAS_CONSTANT]
    gamma = heat_capacity_ratio(gas, t)
    mu = viscosity(gas, t)
    most = mass_flow_parameter(1.0, gamma)
    log_flow = math.log(mass_flow / mu)
    choked = -1
    for i in range(first, last):
        row = rows[i]
        log_reynolds = log_flow + row[LOG_SHAPE]
        k = loss_at(losses[i], log_reynolds)
        out[i, P_IN] = p
        out[i, T_IN] = t
        out[i, LOG_REYNOLDS] = log_reynolds
        out[i, LOSS] = k
        if row[SURFACE] > 0.0:
            after, skin = after_wall(gas, row, mass_flow, t, log_reynolds, mu, bay, False)
            out[i, SKIN] = skin
        else:
            after = t
            out[i, SKIN] = t
        mean = 0.5 * (t + after)
        flux = mass_flow * math.sqrt(gas_r * mean / gamma)
        p, stuck = fallen(row, loss_of(row, k, mass_flow), flux, p, gamma, most)
        if stuck and choked < 0:
            choked = i
        out[i, P_OUT] = p
        out[i, T_OUT] = after
        t = after
    return p, t, choked


@compiled
def speeds(gas: np.ndarray, rows: np.ndarray, first: int, last: int, mass_flow: float, out: np.ndarray) -> None:
    """Fill the highest Mach number, the velocity there (m/s) and the Reynolds number of the pieces
    `first` to `last` (exclusive), from the pressures and temperatures that a march left in `out`.
    `mass_flow` kg/s.

    Where a piece widens or opens into a space, the narrow side is the fast one and is met with the
    pressure before the loss; else it is fastest at its end. `rows` as `pack` gives them.
    """
    gas_r = gas[GAS_CONSTANT]
    for i in range(first, last):
        row = rows[i]
        mean = 0.5 * (out[i, T_IN] + out[i, T_OUT])
        gamma = heat_capacity_ratio(gas, mean)
        flux = mass_flow * math.sqrt(gas_r * mean / gamma)
        smallest = min(row[AREA_IN], row[AREA_OUT], row[AREA])
        opens = row[LAW] == MOUTH or row[AREA_IN] < row[AREA_OUT]
        total = out[i, P_IN] if opens else out[i, P_OUT]
        mach = mach_of_flow(flux / (smallest * total), gamma)
        out[i, MACH] = mach
        out[i, VELOCITY] = mach * speed_of_sound(mean, mach, gamma, gas_r)
        out[i, REYNOLDS] = math.exp(out[i, LOG_REYNOLDS])


@compiled
def temperatures(
    gas: np.ndarray, rows: np.ndarray, first: int, last: int, mass_flow: float, temperature: float, out: np.ndarray, bay: Bay
) -> float:
    """Carry the gas temperature down the hot pieces `first` to `last` (exclusive); K.

    Fills temperatures, skin and Reynolds number of `out`; returns the temperature at the end.
    `rows` as `pack` gives them; `mass_flow` kg/s.
    """
    t = temperature
    for i in range(first, last):
        row = rows[i]
        mu = viscosity(gas, t)
        flow = max(mass_flow, 1e-9)
        log_reynolds = math.log(flow / mu) + row[LOG_SHAPE]
        out[i, LOG_REYNOLDS] = log_reynolds
        out[i, T_IN] = t
        out[i, SKIN] = t
        if row[SURFACE] > 0.0:
            t, out[i, SKIN] = after_wall(gas, row, flow, t, log_reynolds, mu, bay, True)
        out[i, T_OUT] = t
    return t


@compiled
def march_up(
    gas: np.ndarray, rows: np.ndarray, losses: np.ndarray, first: int, last: int, mass_flow: float, pressure: float, out: np.ndarray
) -> float:
    """Total pressure in Pa before the hot pieces `first` to `last` (exclusive), from the
    `pressure` behind them. `temperatures` has to have been there before.

    A piece that chokes leaves at Mach 1 above the pressure behind it; the rest is lost in shocks.
    `mass_flow` kg/s; `rows` and `losses` as `pack` gives them.
    """
    p = pressure
    gas_r = gas[GAS_CONSTANT]
    for i in range(last - 1, first - 1, -1):
        row = rows[i]
        mean = 0.5 * (out[i, T_IN] + out[i, T_OUT])
        gamma = heat_capacity_ratio(gas, mean)
        flux = mass_flow * math.sqrt(gas_r * mean / gamma)
        k = loss_at(losses[i], out[i, LOG_REYNOLDS])
        out[i, LOSS] = k
        most = mass_flow_parameter(1.0, gamma)
        p, behind = before(row, loss_of(row, k, mass_flow), flux, p, gamma, most)
        out[i, P_OUT] = behind
        out[i, P_IN] = p
    return p
