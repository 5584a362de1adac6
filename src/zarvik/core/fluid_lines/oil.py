"""Oil to a turbo and back: what a restrictor lets through, and whether the drain carries it off.

note: nu kinematic viscosity m2/s, mu = nu rho, d bore, L length, C discharge; the bore first takes the head of the stream and then
rubs (entry and Hagen-Poiseuille in a row).
"""

from __future__ import annotations

import math

from zarvik.core.common.constants import STANDARD_GRAVITY
from zarvik.core.common.numerics import brentq
from zarvik.core.ducts.element import circle

DENSITY = 830.0  # kg/m3 of engine oil at 90 °C; common tables
DISCHARGE = 0.75  # of a short drilled bore with a sharp edge; common tables (memory)
# Kinematic viscosity in mm2/s at 40 and 100 °C: typical of the grade, common leaflets (memory)
GRADES = {
    "0w20": (45.0, 8.5),
    "5w30": (63.0, 11.0),
    "5w40": (83.0, 13.8),
    "10w40": (98.0, 14.6),
    "15w40": (108.0, 14.5),
    "20w50": (165.0, 18.5),
}
# Oil in m3/s that a turbo wants when hot, by its bearings: least and most; common practice, no source
WANTS = {"journal": (2.0 / 60e3, 5.0 / 60e3), "ball": (0.7 / 60e3, 2.0 / 60e3)}
FOAM = 0.3  # of its density that oil with air has when it leaves a turbo; common practice, no source
HALF = 0.5  # of its bore that a drain may fill: the rest is for air; common practice, no source


def viscosity(grade: str, temperature: float) -> float:
    """Kinematic viscosity in m2/s of a `grade` of oil at a `temperature` in K: Walther's rule, log10 log10 (nu + 0.7) straight over
    log10 T (ASTM D341). Raises KeyError for a grade that is not known."""
    cold, hot = GRADES[grade]
    one, two = (math.log10(math.log10(v + 0.7)) for v in (cold, hot))
    x, y = math.log10(313.15), math.log10(373.15)
    slope = (two - one) / (y - x)
    return 1e-6 * float(10.0 ** (10.0 ** (one + slope * (math.log10(temperature) - x))) - 0.7)


def feed_flow(bore: float, length: float, pressure: float, nu: float) -> float:
    """Oil in m3/s through a restrictor of `bore` and `length` m at a `pressure` Pa across it, kinematic viscosity `nu` m2/s."""

    def over(flow: float) -> float:
        head = 0.5 * DENSITY * (flow / (DISCHARGE * circle(bore))) ** 2
        rubs = 128.0 * nu * DENSITY * length * flow / (math.pi * bore**4)
        return head + rubs - pressure

    most = circle(bore) * math.sqrt(2.0 * pressure / DENSITY)
    return float(brentq(over, 0.0, most)) if pressure > 0.0 else 0.0


def restrictor_for(flow: float, length: float, pressure: float, nu: float) -> float:
    """Bore in m of the restrictor of `length` m that lets `flow` m3/s through at `pressure` Pa, kinematic viscosity `nu` m2/s."""
    return float(brentq(lambda d: feed_flow(d, length, pressure, nu) - flow, 1e-4, 2e-2))


def drain_flow(bore: float, fall: float, nu: float) -> float:
    """Oil in m3/s that a drain of `bore` m carries half full when it falls by the angle `fall` rad (of the pipe below level; a half
    pi hangs straight down): slow flow, half of that of the full bore. Foam is driven by its own small weight and rubs like oil, and
    only its share `FOAM` is oil: it counts twice. `nu` m2/s. Rough guide: foam within a third."""
    if fall <= 0.0:
        return 0.0
    foam = HALF * math.pi * bore**4 * FOAM * STANDARD_GRAVITY * math.sin(fall) / (128.0 * nu)
    return FOAM * foam
