"""Heat transfer and friction of the surfaces that charge coolers are made of.

note: j Colburn factor St Pr^(2/3), f Fanning friction factor, Re on the hydraulic diameter.
"""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Strip:
    """An offset strip fin in a passage: free fin `spacing`, passage `height` less the fin, strip
    `length` in the flow, fin `thickness`; m."""

    spacing: float
    height: float
    length: float
    thickness: float

    @property
    def hydraulic_diameter(self) -> float:
        """Of the passage, m (Manglik & Bergles 1995, eq. 5)."""
        s, h, long, t = self.spacing, self.height, self.length, self.thickness
        return 4.0 * s * h * long / (2.0 * (s * long + h * long + t * h) + t * s)


def strip_factors(fin: Strip, reynolds: float) -> tuple[float, float]:
    """j and f of an offset strip fin at a Reynolds number.

    Source: R. M. Manglik, A. E. Bergles, Exp. Thermal Fluid Sci. 10 (1995) 171, 18 surfaces within 20 %;
    120 to 10,000. `reynolds` number.
    """
    a = fin.spacing / fin.height
    d = fin.thickness / fin.length
    g = fin.thickness / fin.spacing
    re = max(reynolds, 1.0)
    j = 0.6522 * re**-0.5403 * a**-0.1541 * d**0.1499 * g**-0.0678
    j *= (1.0 + 5.269e-5 * re**1.340 * a**0.504 * d**0.456 * g**-1.055) ** 0.1
    f = 9.6243 * re**-0.7422 * a**-0.1856 * d**0.3053 * g**-0.2659
    f *= (1.0 + 7.669e-8 * re**4.429 * a**0.920 * d**3.767 * g**0.236) ** 0.1
    return j, f


@dataclass(frozen=True)
class Louvre:
    """A louvred fin between flat tubes: louvre `pitch` along the flow and `angle` in rad, fin `spacing`, fin
    `height` between the tubes, tube `depth` in the flow, `tubes` from tube to tube, fin `thickness`; m. The
    louvres reach over 0.85 of the fin."""

    pitch: float
    angle: float
    spacing: float
    height: float
    depth: float
    tubes: float
    thickness: float

    @property
    def cut(self) -> float:
        """Length of a louvre across the flow, m."""
        return 0.85 * self.height

    @property
    def hydraulic_diameter(self) -> float:
        """Of the passage between two fins, m."""
        free, high = self.spacing - self.thickness, self.height - self.thickness
        return 2.0 * free * high / (free + high)


LOUVRE_TURN = 1000.0  # Reynolds number on the louvre pitch from which friction falls more slowly


def louvre_factors(fin: Louvre, reynolds: float) -> tuple[float, float]:
    """j and f of a louvred fin at a `reynolds` number on its louvre pitch.

    j: Y.-J. Chang, C.-C. Wang, Int. J. Heat Mass Transfer 40 (1997) 533, 91 cores, 89 % of the points within
    15 %, 100 to 3,000. f: C. J. Davenport, AIChE Symp. Ser. 79 (1983) 19, in mm, up to 1,000; above it with the
    power -0.39 of his second range, joined where they meet (constants from memory).
    """
    re = max(reynolds, 1.0)
    p = fin.pitch
    j = (
        re**-0.49
        * (math.degrees(fin.angle) / 90.0) ** 0.27
        * (fin.spacing / p) ** -0.14
        * (fin.height / p) ** -0.29
        * (fin.depth / p) ** -0.23
        * (fin.cut / p) ** 0.68
        * (fin.tubes / p) ** -0.28
        * (fin.thickness / p) ** -0.05
    )
    high, lift = 1e3 * fin.height, 1e3 * p * math.sin(fin.angle)
    f = 5.47 * min(re, LOUVRE_TURN) ** -0.72 * lift**0.37 * (fin.cut / fin.height) ** 0.89
    f *= (1e3 * p) ** 0.2 * high**0.23 * max(re / LOUVRE_TURN, 1.0) ** -0.39
    return j, f


LAMINAR, TURBULENT = 2300.0, 4000.0


def plain_factors(aspect: float, reynolds: float, prandtl: float = 0.71, length: float = math.inf) -> tuple[float, float]:
    """j and f of a plain rectangular passage with `aspect` (short over long side, 0–1) and a `length` of so many
    hydraulic diameters (a ratio): heat with the thermal entry (H. Hausen 1943), friction fully developed.

    Laminar: R. K. Shah, A. L. London, Laminar Flow Forced Convection in Ducts (1978), constant wall
    temperature, polynomials in the aspect; turbulent: V. Gnielinski, Int. Chem. Eng. 16 (1976) 359 with
    Petukhov's friction; a straight line between 2,300 and 4,000. `reynolds`, `prandtl` numbers.
    """
    re = max(reynolds, 1.0)
    b = aspect
    developed = 7.541 * (1.0 - 2.610 * b + 4.970 * b**2 - 5.119 * b**3 + 2.702 * b**4 - 0.548 * b**5)
    friction = 24.0 * (1.0 - 1.3553 * b + 1.9467 * b**2 - 1.7012 * b**3 + 0.9564 * b**4 - 0.2537 * b**5)

    def laminar(at: float) -> tuple[float, float]:
        graetz = at * prandtl / length
        nusselt = developed + 0.0668 * graetz / (1.0 + 0.04 * graetz ** (2.0 / 3.0))
        return nusselt / (at * prandtl ** (1.0 / 3.0)), friction / at

    def turbulent(at: float) -> tuple[float, float]:
        darcy = (0.790 * math.log(at) - 1.64) ** -2
        eighth = darcy / 8.0
        nu = eighth * (at - 1000.0) * prandtl / (1.0 + 12.7 * math.sqrt(eighth) * (prandtl ** (2.0 / 3.0) - 1.0))
        return nu / (at * prandtl ** (1.0 / 3.0)), darcy / 4.0

    if re <= LAMINAR:
        return laminar(re)
    if re >= TURBULENT:
        return turbulent(re)
    share = (re - LAMINAR) / (TURBULENT - LAMINAR)
    one, two = laminar(LAMINAR), turbulent(TURBULENT)
    return one[0] + share * (two[0] - one[0]), one[1] + share * (two[1] - one[1])
