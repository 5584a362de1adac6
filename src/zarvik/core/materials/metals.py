"""What heat does to a manifold: how far its metal grows, how much of that is bent into its pipes, and how often it stands
that.

note: e strain, a expansion 1/K, d outside diameter, L length, D ductility. Strength at heat hangs on the melt: everything
here is an order of magnitude, to put schools side by side.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.materials.table import NAMES, value, values


@dataclass(frozen=True)
class Metal:
    """A metal: `expansion` 1/K on the mean from 20 to 700 °C, `density` kg/m3, `modulus` Pa at 20 and at 800 °C, `strength`
    Pa at 20, 500, 700 and 900 °C (ultimate), `ductility` (true strain at fracture)."""

    title: str
    expansion: float
    density: float
    modulus: tuple[float, float]
    strength: tuple[float, float, float, float]
    ductility: float


METALS = {
    key: Metal(
        NAMES[key].title,
        expansion=value(key, "expansion"),
        density=value(key, "density"),
        modulus=(value(key, "modulus_20"), value(key, "modulus_800")),
        strength=(value(key, "strength_20"), value(key, "strength_500"), value(key, "strength_700"), value(key, "strength_900")),
        ductility=value(key, "ductility"),
    )
    for key in values("creep_500")  # what is strong in heat
}
HEAD_EXPANSION = 23.0e-6  # 1/K, aluminium; ASM Metals Handbook vol. 2 (memory)
HEAD_WARM = 90.0  # K over the cold engine that a head comes to
COLD = 293.15
_AT = (293.15, 773.15, 973.15, 1173.15)


def strength(metal: Metal, temperature: float) -> float:
    """Ultimate strength in Pa at a `temperature` in K, straight between what is known."""
    return float(np.interp(temperature, _AT, metal.strength))


def modulus(metal: Metal, temperature: float) -> float:
    """Young's modulus in Pa at a `temperature` in K, straight between 20 and 800 °C and on to half of that."""
    cold, hot = metal.modulus
    value = cold + (hot - cold) * (temperature - COLD) / 780.0
    return max(value, 0.5 * hot)


def growth(metal: Metal, span: float, temperature: float) -> float:
    """How far a `span` in m of hot `metal` at a `temperature` in K grows beyond the head that it is bolted to, in m."""
    return span * (metal.expansion * (temperature - COLD) - HEAD_EXPANSION * HEAD_WARM)


BOLTS_GIVE = 0.0005  # m that a flange slides under its bolts, holes of 8.5 mm on M8; common practice, no source


def bent_aside(grows: float, *, diameter: float, wall: float, length: float, body: float, span: float) -> float:
    """How far the end of a pipe (outside `diameter`, `wall`, `length` in m) is really pushed aside, in m, when what it ends in
    wants to grow by `grows` m: what the bolts give is taken off; a body of the outside diameter `body` (of the same wall)
    that is `span` m long from its middle is squeezed meanwhile, two springs in a row: E A / span against 12 E I / L3. A
    `body` of 0 is a small collector, which is not squeezed."""
    left = max(abs(grows) - BOLTS_GIVE, 0.0)
    if body <= 0.0 or span <= 0.0:
        return left
    inner = diameter - 2.0 * wall
    bending = 12.0 * math.pi / 64.0 * (diameter**4 - inner**4) / length**3
    squeezed = math.pi * (body - wall) * wall / span
    return left * squeezed / (squeezed + bending)


def cycles(metal: Metal, strain: float, temperature: float, most: float = 1e7) -> float:
    """About how many times a `metal` stands a range of `strain` at a `temperature` in K until it cracks, within a factor of
    five: universal slopes, de = 3.5 (Su / E) N^-0.12 + D^0.6 N^-0.6. S. S. Manson, Experimental Mechanics 5 (1965) 193
    (memory). Where heat is held long a tenth of it (his rule for creep, memory) is the low end. At `most` so many, at
    least one."""
    elastic = 3.5 * strength(metal, temperature) / modulus(metal, temperature)
    plastic = metal.ductility**0.6

    def stood(count: float) -> float:
        return elastic * count**-0.12 + plastic * count**-0.6

    low, high = 0.0, math.log10(most) + 1.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        if stood(10.0**middle) > strain:
            low = middle
        else:
            high = middle
    return min(max(10.0**low, 1.0), most)


def pipe_mass(metal: Metal, bore: float, wall: float, length: float) -> float:
    """What a pipe of `bore`, `wall` and `length` in m weighs, kg."""
    return math.pi * (bore + wall) * wall * length * metal.density
