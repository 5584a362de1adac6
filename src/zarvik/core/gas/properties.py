"""Caloric and transport properties of a packed gas, compiled.

Every function takes `gas`, the packed array of `mixture.Gas`, and is valid from 200 K to 6000 K
(viscosity to 2000 K). Source of the polynomials: NASA TM-4513 (see `species`).
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.gas.mixture import GAS_CONSTANT, HIGH, LOW, VISCOSITY
from zarvik.core.gas.species import RANGE_BREAK


@compiled
def heat_capacity(gas: np.ndarray, temperature: float) -> float:
    """Isobaric heat capacity cp in J/(kg K) at `temperature` in K."""
    t = temperature
    i = LOW if t < RANGE_BREAK else HIGH
    return gas[i] + t * (gas[i + 1] + t * (gas[i + 2] + t * (gas[i + 3] + t * gas[i + 4])))


@compiled
def enthalpy(gas: np.ndarray, temperature: float) -> float:
    """Specific enthalpy in J/kg at `temperature` in K, heats of formation (298.15 K) included."""
    t = temperature
    i = LOW if t < RANGE_BREAK else HIGH
    return gas[i + 5] + t * (gas[i] + t * (gas[i + 1] / 2 + t * (gas[i + 2] / 3 + t * (gas[i + 3] / 4 + t * gas[i + 4] / 5))))


@compiled
def entropy_function(gas: np.ndarray, temperature: float) -> float:
    """Entropy at reference pressure, s0(T), in J/(kg K) at `temperature` in K."""
    t = temperature
    i = LOW if t < RANGE_BREAK else HIGH
    return gas[i + 6] + gas[i] * math.log(t) + t * (gas[i + 1] + t * (gas[i + 2] / 2 + t * (gas[i + 3] / 3 + t * gas[i + 4] / 4)))


@compiled
def heat_capacity_ratio(gas: np.ndarray, temperature: float) -> float:
    """Ratio of heat capacities, gamma, at `temperature` in K."""
    cp = heat_capacity(gas, temperature)
    return cp / (cp - gas[GAS_CONSTANT])


@compiled
def viscosity(gas: np.ndarray, temperature: float) -> float:
    """Dynamic viscosity in Pa s at `temperature` in K, 200–2000 K."""
    v = VISCOSITY
    t = temperature
    return math.exp(gas[v] + gas[v + 1] * math.log(t) + gas[v + 2] / t + gas[v + 3] / (t * t))


@compiled
def temperature_of_enthalpy(gas: np.ndarray, specific_enthalpy: float, guess: float) -> float:
    """Temperature in K at which the enthalpy is `specific_enthalpy` in J/kg; `guess` in K."""
    t = guess
    for _ in range(30):
        step = (specific_enthalpy - enthalpy(gas, t)) / heat_capacity(gas, t)
        t = min(max(t + step, 0.5 * t), 2.0 * t)
        if abs(step) < 1e-10 * t:
            break
    return t


@compiled
def isentropic_temperature(gas: np.ndarray, temperature: float, pressure_ratio: float) -> float:
    """Temperature in K after an isentropic change from `temperature` by `pressure_ratio`."""
    target = entropy_function(gas, temperature) + gas[GAS_CONSTANT] * math.log(pressure_ratio)
    t = temperature * pressure_ratio**0.28
    for _ in range(30):
        step = (target - entropy_function(gas, t)) / heat_capacity(gas, t) * t
        t = min(max(t + step, 0.5 * t), 2.0 * t)
        if abs(step) < 1e-10 * t:
            break
    return t
