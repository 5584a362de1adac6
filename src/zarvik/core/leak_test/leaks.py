"""What goes out through a hole, and what a gauge that falls says of one.

note: isentropic orifice (NACA Report 1135), C discharge, V volume that is shut off; the air in it keeps the temperature of its
walls over the seconds of a test.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.common.numerics import integral
from zarvik.core.ducts.element import circle
from zarvik.core.turbine.turbine import nozzle_function

# of the pressure before a hole, behind it: under that no more goes through
CHOKED = (2.0 / (AIR_GAMMA + 1.0)) ** (AIR_GAMMA / (AIR_GAMMA - 1.0))


@dataclass(frozen=True)
class LeakTest:
    """A pressure test: gauge pressures in Pa at its start (`start_pressure`, 0 for no test) and at its end (`end_pressure`), `duration` in
    s, sealed `volume` in m3 (0: that of the design), `shop_temperature` in K."""

    start_pressure: float = 0.0
    end_pressure: float = 0.0
    duration: float = 60.0
    volume: float = 0.0
    shop_temperature: float = 293.15


DISCHARGE = 0.62  # of a ragged hole, a crack, a gasket that blows; sharp orifice, DRY_AIR_GAS_CONSTANT. W. Miller (memory)


def hole_flow(diameter: float, pressure: float, temperature: float, ambient: float) -> float:
    """Air in kg/s that leaves through a hole of `diameter` m from absolute `pressure` Pa at `temperature` K into `ambient` Pa; none
    backwards."""
    if pressure <= ambient:
        return 0.0
    return (
        DISCHARGE
        * circle(diameter)
        * pressure
        / math.sqrt(DRY_AIR_GAS_CONSTANT * temperature)
        * float(nozzle_function(pressure / ambient, AIR_GAMMA))
    )


def fall_time(diameter: float, volume: float, start: float, end: float, temperature: float, ambient: float) -> float:
    """Seconds in which `volume` m3 of air at `temperature` K falls from absolute `start` to `end` Pa through a hole of `diameter` m
    into `ambient` Pa. Raises ValueError for pressures that are none of a fall."""
    if not start > end > ambient or volume <= 0.0 or diameter <= 0.0:
        raise ValueError("a test falls from one pressure to a lower one that is still over the one outside")

    def slow(s: float) -> float:  # the last of it goes ever slower: over the root it is smooth
        return 2.0 * s / hole_flow(diameter, ambient + s * s, temperature, ambient)

    roots = [math.sqrt(p - ambient) for p in (end, min(max(ambient / CHOKED, end), start), start)]
    found = integral(slow, roots[0], roots[1]) + integral(slow, roots[1], roots[2])
    return float(volume / (DRY_AIR_GAS_CONSTANT * temperature) * found)


def equivalent_hole(volume: float, start: float, end: float, seconds: float, temperature: float, ambient: float) -> float:
    """Diameter in m of the one hole through which `volume` m3 at `temperature` K falls from absolute `start` to `end` Pa in so many
    `seconds` into `ambient` Pa: what leaks all together. Raises ValueError for what is no fall."""
    if seconds <= 0.0:
        raise ValueError("a fall takes time")
    # Time goes with one over the square of the diameter
    return math.sqrt(fall_time(1e-3, volume, start, end, temperature, ambient) / seconds) * 1e-3
