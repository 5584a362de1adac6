"""The march along a run: total pressure falls piece by piece, with the local Mach number.

note: p0, T0 total pressure and temperature; K loss coefficient; M Mach number; phi mass flow
parameter. A piece loses dp0/p0 = K gamma M^2 / 2, which for wall friction is the Fanno relation
and is within 0.5 % of the exact sudden widening at M 0.38; half of the loss and more would be
wrong by 9 % there if it stood on the static density.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from zarvik.core.compiled import compiled
from zarvik.core.ducts.element import REYNOLDS_NODES, Element
from zarvik.core.ducts.flow import mach_of_flow, mass_flow_parameter, speed_of_sound
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import heat_capacity_ratio, viscosity

# Columns of a packed element
DIAMETER = 0
AREA = 1
AREA_IN = 2
AREA_OUT = 3
SUBSTEPS = 4
LINEAR = 5
QUADRATIC = 6
COLUMNS = 7

# Columns of what the march writes for each piece
P_IN = 0
T_IN = 1
P_OUT = 2
T_OUT = 3
MACH = 4  # the highest in the piece
VELOCITY = 5
REYNOLDS = 6
LOSS = 7
RESULTS = 8

_LOG_FIRST = math.log(float(REYNOLDS_NODES[0]))
_LOG_STEP = math.log(float(REYNOLDS_NODES[1] / REYNOLDS_NODES[0]))
_NODES = len(REYNOLDS_NODES)


def pack(elements: Sequence[Element]) -> tuple[np.ndarray, np.ndarray]:
    """Arrays (n, COLUMNS) and (n, Reynolds nodes) that the compiled march reads."""
    rows = np.zeros((len(elements), COLUMNS))
    losses = np.zeros((len(elements), _NODES))
    for i, element in enumerate(elements):
        rows[i, DIAMETER] = element.diameter
        rows[i, AREA] = element.area
        rows[i, AREA_IN] = 0.25 * math.pi * element.diameter_in**2
        rows[i, AREA_OUT] = 0.25 * math.pi * element.diameter_out**2
        rows[i, SUBSTEPS] = element.substeps
        rows[i, LINEAR] = element.linear
        rows[i, QUADRATIC] = element.quadratic
        losses[i] = element.loss
    return rows, losses


@compiled
def loss_at(losses: np.ndarray, reynolds: float) -> float:
    """Loss coefficient at a Reynolds number, from values at the nodes; held outside of them."""
    place = (math.log(max(reynolds, 1.0)) - _LOG_FIRST) / _LOG_STEP
    place = min(max(place, 0.0), _NODES - 1.0)
    i = min(int(place), _NODES - 2)
    return losses[i] + (place - i) * (losses[i + 1] - losses[i])


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
    detailed: bool,
) -> tuple[float, int]:
    """Carry the total state along the pieces `first` to `last` (exclusive).

    `mass_flow` kg/s, total `pressure` Pa and `temperature` K at the start; `out` (pieces,
    RESULTS) is filled, Mach number and velocity only when `detailed`. Returns the total pressure at the end and the index of the piece that
    chokes, or -1: when it is not -1, the pressure means nothing.
    """
    p = pressure
    gas_r = gas[GAS_CONSTANT]
    gamma = heat_capacity_ratio(gas, temperature)
    mu = viscosity(gas, temperature)
    flux = mass_flow * math.sqrt(gas_r * temperature / gamma)
    most = mass_flow_parameter(1.0, gamma)
    for i in range(first, last):
        row = rows[i]
        reynolds = mass_flow * row[DIAMETER] / (row[AREA] * mu)
        k = loss_at(losses[i], reynolds)
        out[i, P_IN] = p
        out[i, T_IN] = temperature
        out[i, REYNOLDS] = reynolds
        out[i, LOSS] = k
        smallest = min(row[AREA_IN], row[AREA_OUT], row[AREA])
        if flux >= most * smallest * p:
            return p, i
        steps = int(row[SUBSTEPS])
        for _ in range(steps):
            if flux >= most * row[AREA] * p:
                return p, i
            mach = mach_of_flow(flux / (row[AREA] * p), gamma)
            square = mach * mach
            drop = p * 0.5 * gamma * square * k / steps
            density = p / (gas_r * temperature)
            velocity = mass_flow / (density * row[AREA])
            rated = row[LINEAR] * velocity + row[QUADRATIC] * 0.5 * density * velocity * velocity
            # The loss is taken at the state halfway through, to second order in the drop:
            # d ln M / d ln p0 = -(1 + (g - 1)/2 M^2) / (1 - M^2) at constant flow.
            fall = 0.5 * (drop + rated) / p
            steeper = 2.0 * (1.0 + 0.5 * (gamma - 1.0) * square) / max(1.0 - square, 0.02) - 1.0
            drop *= 1.0 + fall * steeper
            rated *= 1.0 + fall
            if drop + rated >= 0.9 * p:
                return p, i
            p -= drop + rated
        if flux >= most * smallest * p:
            return p, i
        out[i, P_OUT] = p
        out[i, T_OUT] = temperature
        if detailed:
            mach = mach_of_flow(flux / (smallest * p), gamma)
            out[i, MACH] = mach
            out[i, VELOCITY] = mach * speed_of_sound(temperature, mach, gamma, gas_r)
    return p, -1
