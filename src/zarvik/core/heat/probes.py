"""What a thermocouple in the exhaust shows, and how late.

note: Nu Nusselt number of a cylinder across the stream, h W/(m2 K), m of a fin 1/m, tau s. The tip gives heat to colder walls
by radiation and to its boss by its own metal; what passes it in beats warms it only while it blows.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import STEFAN_BOLTZMANN
from zarvik.core.common.numerics import brentq

SHEATH = 25.0  # W/(m K), nickel alloy at 900 K; common tables (memory)
EMISSIVITY = 0.85  # oxidised
HEAT = 8400.0 * 530.0  # J/(m3 K) of sheath and filling, nickel alloy at 900 K (memory)
PRANDTL = 0.71


def cylinder_nusselt(reynolds: float) -> float:
    """Nusselt number of a cylinder across a stream at a `reynolds` number of 1 to 1e6, Prandtl 0.71. S. W. Churchill,
    M. Bernstein, J. Heat Transfer 99 (1977) 300."""
    first = 0.62 * math.sqrt(reynolds) * PRANDTL ** (1.0 / 3.0) / (1.0 + (0.4 / PRANDTL) ** (2.0 / 3.0)) ** 0.25
    return 0.3 + first * (1.0 + (reynolds / 282e3) ** 0.625) ** 0.8


@dataclass(frozen=True)
class Reading:
    """What a probe shows: `shown` K, `error` K (shown less gas, by heat that it gives away), `late` s to 63 % of a step."""

    shown: float
    error: float
    late: float


def probe_reading(
    *, gas: float, wall: float, flux: float, viscosity: float, conductivity: float, diameter: float, depth: float, blows: float = 1.0
) -> Reading:
    """What a probe of `diameter` that stands `depth` (m) in the stream shows in gas of `gas` K between walls of `wall` K.

    `flux`: mean mass flow over the pipe's section, kg/(s m2); `viscosity` Pa s and `conductivity` W/(m K) of the gas; `blows`:
    share of the time in which it flows (1 behind a collector, a third behind one port). Raises ValueError for a share or a
    size outside of reason."""
    if not 0.0 < blows <= 1.0 or min(diameter, depth, flux) <= 0.0:
        raise ValueError("a probe needs a size, a stream, and a share of the time of more than nothing")
    # While it blows all of the flow passes in that share of the time
    inside = blows * cylinder_nusselt(flux / blows * diameter / viscosity) * conductivity / diameter

    def left(tip: float) -> float:
        return inside * (gas - tip) - EMISSIVITY * STEFAN_BOLTZMANN * (tip**4 - wall**4)

    low, high = sorted((gas, wall))
    long = brentq(left, low, high) if high - low > 1e-6 else gas
    radiated = EMISSIVITY * STEFAN_BOLTZMANN * (long + wall) * (long**2 + wall**2)
    fin = math.sqrt(4.0 * (inside + radiated) / (SHEATH * diameter))
    shown = long - (long - wall) / math.cosh(fin * depth)
    return Reading(shown, shown - gas, HEAT * diameter / (4.0 * (inside + radiated)))
