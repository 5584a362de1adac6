"""One-dimensional compressible flow relations, compiled.

note: M = Mach number, g = gamma, phi = mass flow parameter.
Source: NACA Report 1135 (1953), eqs. 44 and 59 ff.; A. H. Shapiro, 1953, ch. 6 (Fanno flow).
"""

from __future__ import annotations

import math

from zarvik.core.common.compiled import compiled


@compiled
def mass_flow_parameter(mach: float, gamma: float) -> float:
    """m sqrt(R T0 / gamma) / (A p0), dimensionless, at `mach` 0–1 for the ratio `gamma`."""
    return mach * (1.0 + 0.5 * (gamma - 1.0) * mach * mach) ** (-(gamma + 1.0) / (2.0 * (gamma - 1.0)))


@compiled
def mach_of_flow(parameter: float, gamma: float) -> float:
    """Subsonic Mach number for a mass flow `parameter`; 1.0 when it is at or past choking.

    `gamma`: ratio of heat capacities.
    """
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
    """Local speed of sound in m/s from total temperature in K at `mach`.

    `temperature_total` K, `gamma` ratio of heat capacities, `gas_r` J/(kg K).
    """
    static = temperature_total / (1.0 + 0.5 * (gamma - 1.0) * mach * mach)
    return math.sqrt(gamma * gas_r * static)


@compiled
def static_pressure(pressure_total: float, mach: float, gamma: float) -> float:
    """Static pressure in Pa from the total one at `mach`.

    `pressure_total` Pa; `gamma`: ratio of heat capacities.
    """
    return pressure_total * (1.0 + 0.5 * (gamma - 1.0) * mach * mach) ** (-gamma / (gamma - 1.0))


SERIES_STEP = 0.02  # of a friction step: below it four terms are within 1e-9 of the closed form


@compiled
def friction_rise(square: float, loss: float, gamma: float) -> float:
    """ln(p0 before / p0 behind) of a stretch with the `loss` coefficient f L / D that leaves at a
    squared Mach number `square`, in adiabatic flow of the ratio `gamma`.

    note: z = 1 / M^2. Fanno: gamma K = z1 - z2 - (g + 1)/2 ln((2 z1 + g - 1)/(2 z2 + g - 1)), solved for
    z1 by Newton from an upper bound (the relation is convex, so every step comes closer); a short
    stretch by the first four terms of its series. Source: A. H. Shapiro, 1953, ch. 6; NACA Report
    1135 has the same flow. A negative `loss` gives the stretch before, down to M 1 (nan past it).
    """
    h = 0.5 * (gamma - 1.0)
    rest = max(1.0 - square, 1e-9)
    s = (1.0 + h * square) / rest
    w = gamma * loss * square
    if abs(w) * s * s <= SERIES_STEP:
        slope = (1.0 + h) / (rest * rest) * square
        bend = 2.0 * slope / rest * square
        a = 2.0 * s + slope
        fourth = s * ((3.0 * s + slope) * a + s * (3.0 * slope + bend))
        return 0.5 * w * (1.0 - w * (0.5 * s - w * (s * a / 6.0 - w * fourth / 24.0)))
    z2 = 1.0 / square
    tau = gamma * loss
    c = 0.5 * (gamma + 1.0)
    base = 2.0 * z2 + gamma - 1.0
    if tau >= 0.0:
        k = tau / c
        d = c * (k + math.sqrt(k * (k + 2.0)))
        if z2 > 1.0 + 1e-9:
            d = min(d, tau * base / (2.0 * (z2 - 1.0)))
    else:
        # What is left before Mach 1 is reached
        left = z2 - 1.0 - c * math.log(base / (gamma + 1.0))
        if -tau > left:
            return math.nan
        d = 0.0
    for _ in range(60):
        x = 2.0 * d / base
        value = d - c * math.log1p(x) - tau
        change = value * (base + 2.0 * d) / (2.0 * (z2 + d - 1.0) + 1e-300)
        d -= change
        if z2 + d < 1.0:
            d = 1.0 - z2
        if abs(change) <= 1e-9 * abs(d) + 1e-14:
            break
    z1 = z2 + d
    r = (gamma + 1.0) / (gamma - 1.0)
    return 0.5 * (math.log(z1 / z2) + r * math.log((1.0 + h / z1) / (1.0 + h / z2)))


@compiled
def mach_after_widening(square: float, ratio: float, gamma: float, upstream: bool) -> float:
    """Squared Mach number on the other side of a sudden widening, exact: the wall of the step bears
    the static pressure of the narrow side (J.-C. Borda, L. Carnot; compressible in Shapiro 1953,
    ch. 5). nan where there is no subsonic flow that does it.

    `square` is M^2 behind the step with `upstream` (M^2 before it is returned), before it without;
    `ratio` wide over narrow area. Momentum over flow is the same on both sides:
    (A2/A1 + g M1^2) / (M1 sqrt(1 + h M1^2)) = (1 + g M2^2) / (M2 sqrt(1 + h M2^2)), a quadratic.
    `gamma`: ratio of heat capacities.
    """
    h = 0.5 * (gamma - 1.0)
    here, there = (1.0, ratio) if upstream else (ratio, 1.0)
    b2 = (here + gamma * square) ** 2 / (square * (1.0 + h * square))
    a = gamma * gamma - b2 * h
    b = b2 - 2.0 * there * gamma
    inside = b * b - 4.0 * a * there * there
    if inside < 0.0 or b <= 0.0:
        return math.nan
    return 2.0 * there * there / (b + math.sqrt(inside))


@compiled
def mouth_square(parameter: float, gamma: float) -> float:
    """Squared Mach number at a mouth that stands at static pressure p, where `parameter` is
    m sqrt(R T0 / gamma) / (A p) = M sqrt(1 + h M^2) (NACA Report 1135, eq. 59): explicit."""
    h = 0.5 * (gamma - 1.0)
    psi = parameter * parameter
    return 2.0 * psi / (1.0 + math.sqrt(1.0 + 4.0 * h * psi))


@compiled
def fanno_length(mach: float, gamma: float) -> float:
    """f L / D that is left before Mach 1, dimensionless (A. H. Shapiro, 1953, ch. 6).

    `gamma`: ratio of heat capacities.
    """
    square = max(mach * mach, 1e-12)
    return (1.0 - square) / (gamma * square) + (gamma + 1.0) / (2.0 * gamma) * math.log(
        (gamma + 1.0) * square / (2.0 + (gamma - 1.0) * square)
    )
