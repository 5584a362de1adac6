"""The march along a run: total pressure falls piece by piece, with the local Mach number.

note: p0, T0 total pressure and temperature; K loss coefficient; M Mach number; phi mass flow
parameter. A piece loses dp0/p0 = K gamma M^2 / 2, which for wall friction is the Fanno relation
and is within 0.5 % of the exact sudden widening at M 0.38; half of the loss and more would be
wrong by 9 % there if it stood on the static density.

The cold side is marched down from ambient. The exhaust is marched up from the tailpipe; its
temperatures, which do not depend on the pressure, are carried down first. Where the exhaust chokes,
the pressure before that place rises until it passes the gas, as it does behind a real engine.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from zarvik.core.compiled import compiled
from zarvik.core.ducts.element import REYNOLDS_NODES, Element
from zarvik.core.ducts.flow import (
    mach_of_flow,
    mach_squared,
    mass_flow_parameter,
    speed_of_sound,
)
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import heat_capacity, heat_capacity_ratio, viscosity
from zarvik.core.heat.wall import (
    PRANDTL,
    cooled,
    mild_skin_temperature,
    pulsating_nusselt,
    skin_temperature,
    steady_nusselt,
)

# Columns of a packed element
DIAMETER = 0
AREA = 1
AREA_IN = 2
AREA_OUT = 3
SUBSTEPS = 4
LINEAR = 5
QUADRATIC = 6
SURFACE = 7
RESISTANCE = 8
EMISSIVITY = 9
LOG_SHAPE = 10  # ln(diameter / area): ln Re = ln(m / mu) + this
COLUMNS = 11

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
CORNER = 0.03  # half the width, in pressure, over which the exhaust begins to choke


def pack(elements: Sequence[Element]) -> tuple[np.ndarray, np.ndarray]:
    """Arrays (n, COLUMNS) and (n, Reynolds nodes) that the compiled march reads."""
    rows = np.zeros((len(elements), COLUMNS))
    losses = np.zeros((len(elements), _NODES))
    for i, element in enumerate(elements):
        rows[i, DIAMETER] = element.diameter
        rows[i, AREA] = element.area
        rows[i, AREA_IN] = element.area * (element.diameter_in / element.diameter) ** 2
        rows[i, AREA_OUT] = element.area * (element.diameter_out / element.diameter) ** 2
        rows[i, SUBSTEPS] = element.substeps
        rows[i, LINEAR] = element.linear
        rows[i, QUADRATIC] = element.quadratic
        rows[i, SURFACE] = element.surface
        rows[i, RESISTANCE] = element.resistance
        rows[i, EMISSIVITY] = element.emissivity
        rows[i, LOG_SHAPE] = math.log(element.diameter / element.area)
        losses[i] = element.loss
    return rows, losses


@compiled
def loss_at(losses: np.ndarray, log_reynolds: float) -> float:
    """Loss coefficient at a Reynolds number, given as its logarithm, from values at the nodes; held
    outside of them."""
    place = (log_reynolds - _LOG_FIRST) / _LOG_STEP
    place = min(max(place, 0.0), _NODES - 1.0)
    i = min(int(place), _NODES - 2)
    return losses[i] + (place - i) * (losses[i + 1] - losses[i])


@compiled
def after_wall(
    gas: np.ndarray,
    row: np.ndarray,
    mass_flow: float,
    temperature: float,
    log_reynolds: float,
    mu: float,
    bay: Bay,
    pulsating: bool,
) -> tuple[float, float]:
    """Gas temperature behind a piece and its outer skin temperature at the inlet, both in K.

    `mass_flow` kg/s, `temperature` K, `mu` Pa s; `pulsating` chooses the Nusselt relation.
    """
    cp = heat_capacity(gas, temperature)
    nusselt = pulsating_nusselt(log_reynolds) if pulsating else steady_nusselt(log_reynolds)
    inside = nusselt * (mu * cp / PRANDTL) / row[DIAMETER]
    if pulsating:
        skin = skin_temperature(
            temperature, bay[0], inside, row[RESISTANCE], bay[1], row[EMISSIVITY]
        )
    else:
        skin = mild_skin_temperature(
            temperature, bay[0], inside, row[RESISTANCE], bay[1], row[EMISSIVITY]
        )
    after = cooled(temperature, bay[0], skin, inside, row[RESISTANCE], row[SURFACE], mass_flow * cp)
    return after, skin


@compiled
def loss_here(
    row: np.ndarray,
    share: float,
    flux: float,
    pressure: float,
    gamma: float,
    specific: float,
    mass_flow: float,
) -> tuple[float, float, float]:
    """Loss of a step at total `pressure` Pa: by its loss coefficient `share`, by its rating (both
    Pa), and how much faster than the pressure falls the first one grows.

    `flux` = m sqrt(R T / gamma), `specific` = R T in J/kg, `mass_flow` kg/s. At constant flow
    d ln M / d ln p0 = -(1 + (gamma - 1)/2 M^2) / (1 - M^2) (Shapiro 1953).
    """
    parameter = flux / (row[AREA] * pressure)
    square = mach_squared(parameter * parameter, gamma)
    density = pressure / specific
    velocity = mass_flow / (density * row[AREA])
    rated = row[LINEAR] * velocity + row[QUADRATIC] * 0.5 * density * velocity * velocity
    steeper = 2.0 * (1.0 + 0.5 * (gamma - 1.0) * square) / max(1.0 - square, 0.02) - 1.0
    return pressure * 0.5 * gamma * square * share, rated, steeper


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
    piece that chokes, or -1: when it is not -1, the pressure means nothing.
    """
    p = pressure
    t = temperature
    gas_r = gas[GAS_CONSTANT]
    gamma = heat_capacity_ratio(gas, t)
    mu = viscosity(gas, t)
    most = mass_flow_parameter(1.0, gamma)
    log_flow = math.log(mass_flow / mu)
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
        smallest = min(row[AREA_IN], row[AREA_OUT], row[AREA])
        if flux >= most * smallest * p:
            return p, t, i
        steps = int(row[SUBSTEPS])
        for _ in range(steps):
            if flux >= most * row[AREA] * p:
                return p, t, i
            drop, rated, steeper = loss_here(
                row, k / steps, flux, p, gamma, gas_r * mean, mass_flow
            )
            # The loss is taken at the state halfway through, to second order in the drop.
            fall = 0.5 * (drop + rated) / p
            drop *= 1.0 + fall * steeper
            rated *= 1.0 + fall
            if drop + rated >= 0.9 * p:
                return p, t, i
            p -= drop + rated
        if flux >= most * smallest * p:
            return p, t, i
        out[i, P_OUT] = p
        out[i, T_OUT] = after
        t = after
    return p, t, -1


@compiled
def speeds(
    gas: np.ndarray, rows: np.ndarray, first: int, last: int, mass_flow: float, out: np.ndarray
) -> None:
    """Fill the highest Mach number, the velocity there (m/s) and the Reynolds number of the pieces
    `first` to `last` (exclusive), from the pressures and temperatures that a march left in `out`.
    `mass_flow` kg/s."""
    gas_r = gas[GAS_CONSTANT]
    for i in range(first, last):
        row = rows[i]
        mean = 0.5 * (out[i, T_IN] + out[i, T_OUT])
        gamma = heat_capacity_ratio(gas, mean)
        flux = mass_flow * math.sqrt(gas_r * mean / gamma)
        smallest = min(row[AREA_IN], row[AREA_OUT], row[AREA])
        mach = mach_of_flow(flux / (smallest * out[i, P_OUT]), gamma)
        out[i, MACH] = mach
        out[i, VELOCITY] = mach * speed_of_sound(mean, mach, gamma, gas_r)
        out[i, REYNOLDS] = math.exp(out[i, LOG_REYNOLDS])


@compiled
def temperatures(
    gas: np.ndarray,
    rows: np.ndarray,
    first: int,
    last: int,
    mass_flow: float,
    temperature: float,
    out: np.ndarray,
    bay: Bay,
) -> float:
    """Carry the gas temperature down the hot pieces `first` to `last` (exclusive); K.

    Fills temperatures, skin and Reynolds number of `out`; returns the temperature at the end.
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
def passing(pressure: float, needed: float) -> float:
    """The total `pressure` in Pa, or the one that is `needed` to pass a flow at Mach 1 when that is
    higher; the corner between them is rounded by `CORNER`, for the solver's sake (0.8 % at most)."""
    ratio = needed / pressure
    if ratio <= 1.0 - CORNER:
        return pressure
    if ratio >= 1.0 + CORNER:
        return needed
    return pressure * (1.0 + (ratio - 1.0 + CORNER) ** 2 / (4.0 * CORNER))


@compiled
def march_up(
    gas: np.ndarray,
    rows: np.ndarray,
    losses: np.ndarray,
    first: int,
    last: int,
    mass_flow: float,
    pressure: float,
    out: np.ndarray,
) -> float:
    """Total pressure in Pa before the hot pieces `first` to `last` (exclusive), from the
    `pressure` behind them. `temperatures` has to have been there before.

    A piece that chokes leaves at Mach 1 above the pressure behind it; the rest is lost in shocks.
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
        smallest = min(row[AREA_IN], row[AREA_OUT], row[AREA])
        p = passing(p, flux / (mass_flow_parameter(1.0, gamma) * smallest))
        out[i, P_OUT] = p
        steps = int(row[SUBSTEPS])
        for _ in range(steps):
            drop, rated, steeper = loss_here(
                row, k / steps, flux, p, gamma, gas_r * mean, mass_flow
            )
            # As in `march`, but here the state halfway is the slower one.
            rise = 0.5 * (drop + rated) / p
            p += drop / (1.0 + rise * steeper) + rated / (1.0 + rise)
        out[i, P_IN] = p
    return p
