"""One-dimensional compressible flow relations, compiled.

note: M = Mach number, g = gamma, phi = mass flow parameter.
Source: NACA Report 1135 (1953), eqs. 44 and 59 ff.; A. H. Shapiro, 1953, ch. 6 (Fanno flow).
"""

from __future__ import annotations

import math

from zarvik.core.compiled import compiled


@compiled
def mass_flow_parameter(mach: float, gamma: float) -> float:
    """m sqrt(R T0 / gamma) / (A p0), dimensionless, at `mach` 0–1 for the ratio `gamma`."""
    return mach * (1.0 + 0.5 * (gamma - 1.0) * mach * mach) ** (
        -(gamma + 1.0) / (2.0 * (gamma - 1.0))
    )


@compiled
def mach_of_flow(parameter: float, gamma: float) -> float:
    """Subsonic Mach number for a mass flow `parameter`; 1.0 when it is at or past choking."""
    if parameter >= mass_flow_parameter(1.0, gamma):
        return 1.0
    return subsonic_mach(parameter, gamma)


@compiled
def subsonic_mach(parameter: float, gamma: float) -> float:
    """Mach number for a mass flow `parameter` that is known to lie below choking, ratio `gamma`."""
    half = 0.5 * (gamma - 1.0)
    power = (gamma + 1.0) / (2.0 * (gamma - 1.0))
    if parameter <= 0.0:
        return 0.0
    square = parameter * parameter
    # The first terms of the inverse series, then Newton.
    mach = parameter * (1.0 + square * (half * power + 2.5 * (half * power) ** 2 * square))
    mach = min(mach, 0.95)
    for _ in range(60):
        factor = 1.0 + half * mach * mach
        value = mach * factor**-power
        change = (parameter - value) * mach * factor / (value * (1.0 - mach * mach))
        if mach + change >= 1.0:
            mach = 0.5 * (mach + 1.0)
        elif mach + change <= 0.0:
            mach = 0.5 * mach
        else:
            mach += change
        if abs(change) < 1e-6 * mach:  # quadratic: the next change would be of 1e-12
            break
    return mach


@compiled
def speed_of_sound(temperature_total: float, mach: float, gamma: float, gas_r: float) -> float:
    """Local speed of sound in m/s from total temperature in K at `mach`."""
    static = temperature_total / (1.0 + 0.5 * (gamma - 1.0) * mach * mach)
    return math.sqrt(gamma * gas_r * static)


@compiled
def static_pressure(pressure_total: float, mach: float, gamma: float) -> float:
    """Static pressure in Pa from the total one at `mach`."""
    return pressure_total * (1.0 + 0.5 * (gamma - 1.0) * mach * mach) ** (-gamma / (gamma - 1.0))
