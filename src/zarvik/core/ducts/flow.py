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


SERIES_LIMIT = 0.055  # of the squared flow parameter, about M 0.26
STEP_LIMIT = 0.14  # about M 0.44


@compiled
def mach_squared(square: float, gamma: float) -> float:
    """Squared Mach number for the `square` of a mass flow parameter below choking, ratio `gamma`.

    The first six terms of the inverse series (J.-L. Lagrange, 1770) of
    M^2 = phi^2 (1 + (g - 1)/2 M^2)^((g + 1)/(g - 1)): alone within 1e-6 below M 0.26, with one
    Newton step below M 0.44, at a fraction of the cost of the iteration that takes over above.
    """
    if square > STEP_LIMIT:
        mach = subsonic_mach(math.sqrt(square), gamma)
        return mach * mach
    h = 0.5 * (gamma - 1.0)
    r = (gamma + 1.0) / (gamma - 1.0)
    z = h * square
    c3 = r * (3.0 * r - 1.0) / 2.0
    c4 = r * (4.0 * r - 1.0) * (4.0 * r - 2.0) / 6.0
    c5 = r * (5.0 * r - 1.0) * (5.0 * r - 2.0) * (5.0 * r - 3.0) / 24.0
    c6 = r * (6.0 * r - 1.0) * (6.0 * r - 2.0) * (6.0 * r - 3.0) * (6.0 * r - 4.0) / 120.0
    u = square * (1.0 + z * (r + z * (c3 + z * (c4 + z * (c5 + z * c6)))))
    if square <= SERIES_LIMIT:
        return u
    right = square * (1.0 + h * u) ** r
    slope = 1.0 - r * h * right / (1.0 + h * u)
    return u - (u - right) / slope


@compiled
def speed_of_sound(temperature_total: float, mach: float, gamma: float, gas_r: float) -> float:
    """Local speed of sound in m/s from total temperature in K at `mach`."""
    static = temperature_total / (1.0 + 0.5 * (gamma - 1.0) * mach * mach)
    return math.sqrt(gamma * gas_r * static)


@compiled
def static_pressure(pressure_total: float, mach: float, gamma: float) -> float:
    """Static pressure in Pa from the total one at `mach`."""
    return pressure_total * (1.0 + 0.5 * (gamma - 1.0) * mach * mach) ** (-gamma / (gamma - 1.0))
