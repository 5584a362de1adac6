"""What carries the turbo's weight, and how an exhaust is hung.

note: W section modulus m3, sigma bending stress Pa, creep: stress at which a metal breaks within 1,000 h.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.constants import STANDARD_GRAVITY
from zarvik.core.materials import metals
from zarvik.core.materials.table import value

MASS_AT, WHEEL_AT, MASS_POWER = 5.0, 0.05, 1.9  # kg of a turbo with a wheel of so many m, and how it grows; common practice, no source
SHAKES = 4.0  # times its weight, its own with it, on a rough road and a running engine; common practice, no source
# Stress in Pa at which these break within 1,000 hours
CREEP = {key: tuple(value(key, f"creep_{at}") for at in (500, 600, 700, 800, 900)) for key in metals.METALS}
_AT = (773.15, 873.15, 973.15, 1073.15, 1173.15)


def creep(material: str, temperature: float) -> float:
    """Stress in Pa that breaks a `material` (key of `CREEP`) within 1,000 h at a `temperature` in K: straight over the logarithm,
    below 500 °C held, above 900 °C on by the same slope. Raises KeyError for another material."""
    logs = np.log(CREEP[material])
    if temperature > _AT[-1]:
        slope = (logs[-1] - logs[-2]) / (_AT[-1] - _AT[-2])
        return float(math.exp(logs[-1] + slope * (temperature - _AT[-1])))
    return float(math.exp(np.interp(temperature, _AT, logs)))


def turbo_mass(wheel: float) -> float:
    """Mass in kg of a turbo with its iron housings by the tip diameter of its compressor `wheel` in m: 5 kg at 50 mm, 11 kg at
    76 mm; within a third. Common practice, no source."""
    return MASS_AT * (wheel / WHEEL_AT) ** MASS_POWER


def modulus(diameter: float, wall: float) -> float:
    """Section modulus in m3 of a tube of outside `diameter` and `wall` in m."""
    inner = diameter - 2.0 * wall
    return math.pi / 32.0 * (diameter**4 - inner**4) / diameter


def bending(mass: float, lever: float, *, diameter: float, wall: float, pipes: int) -> float:
    """Stress in Pa where `pipes` tubes of outside `diameter` and `wall` leave the flange and carry `mass` kg at a `lever` (m) that
    shakes with `SHAKES`: each bends for itself, so that a manifold whose pipes brace each other stands more."""
    return SHAKES * STANDARD_GRAVITY * mass * lever / (pipes * modulus(diameter, wall))


# ---- hanging ------------------------------------------------------------------------------------
MOST_EACH = 5.0  # kg a hanger of rubber takes; common practice, no source
FARTHEST = 1.0  # m from one to the next; common practice, no source


@dataclass(frozen=True)
class HangerPlan:
    """How an exhaust is hung: `mass` kg and `length` m of what there is to hang, how many `hangers` (a count), m `between` them,
    how far it `grows` in m when hot, and the engine speed in rev/min at which pipe `between` two of them swings with the
    firing (`swings`; 0 where it is outside of the range)."""

    mass: float
    length: float
    hangers: int
    between: float
    grows: float
    swings: float


def hanging_frequency(diameter: float, wall: float, span: float, modulus_of: float, density: float) -> float:
    """Lowest frequency in Hz of a tube (outside `diameter`, `wall`, m) between two hangers that are `span` m apart: pinned at
    both ends, pi/2 sqrt(E I / m L4). W. C. Young, Roark's Formulas, 7th ed., table 16.1. `modulus_of` Pa, `density` kg/m3."""
    inner = diameter - 2.0 * wall
    inertia = math.pi / 64.0 * (diameter**4 - inner**4)
    each = density * math.pi / 4.0 * (diameter**2 - inner**2)
    return 0.5 * math.pi * math.sqrt(modulus_of * inertia / (each * span**4))


def hanger_plan(
    *, mass: float, length: float, grows: float, diameter: float, wall: float, stuff: metals.Metal, hot: float, cylinders: int, limit: float
) -> HangerPlan:
    """How to hang `mass` kg of exhaust along `length` m that `grows` so many m, of tube (outside `diameter`, `wall`, m) of a metal
    (`stuff`) at `hot` K, behind an engine of so many `cylinders` up to the `limit` rev/min. At least two hangers."""
    count = max(math.ceil(mass / MOST_EACH), math.ceil(length / FARTHEST), 2)
    between = length / count
    pitch = hanging_frequency(diameter, wall, between, metals.modulus(stuff, hot), stuff.density)
    speed = pitch * 120.0 / cylinders
    return HangerPlan(mass=mass, length=length, hangers=count, between=between, grows=grows, swings=speed if speed < limit else 0.0)
