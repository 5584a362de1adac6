"""A charge cooler from its outer dimensions: what it does at given flows.

note: the charge flows along the width through flat passages, the cooling air through the thickness between
them; index c charge, a cooling air.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.cooling.cooler import RATED_CP, RATED_DENSITY
from zarvik.core.cooling.effectiveness import crossflow_effectiveness
from zarvik.core.cooling.surfaces import Strip, plain_factors, strip_factors
from zarvik.core.methods import Method
from zarvik.core.words import Fault

VISCOSITY, PRANDTL = 2.0e-5, 0.70  # Pa s, of air at 50 °C, both sides
AIR_DENSITY = 1.12  # kg/m3, cooling air
ALUMINIUM = 180.0  # W/(m K), brazing sheet


@dataclass(frozen=True)
class Build:
    """How cores of one kind are made; m. `passage`, `gap`: inside height of a charge passage and of the
    space between two; `wall`: between them; `charge_strip`, `air_strip`: strip length, 0 for plain fins;
    `charge_pitch`: of the fins in the passages; `fin`: thickness. Common practice, no source."""

    title: str
    passage: float
    gap: float
    wall: float
    charge_pitch: float
    charge_strip: float
    air_strip: float
    fin: float


BUILDS: dict[str, Build] = {
    "bar_plate": Build("Bar and plate", 6.5e-3, 9.5e-3, 0.6e-3, 3.8e-3, 9.0e-3, 6.0e-3, 0.15e-3),
    "tube_fin": Build("Tube and fin", 6.0e-3, 8.5e-3, 0.9e-3, 4.5e-3, 0.0, 4.0e-3, 0.10e-3),
}
TANKS = 2.0  # velocity heads of the connections that both tanks lose together; from memory, 1.5 to 3


@dataclass(frozen=True)
class Core:
    """A core: `width` along the charge flow, `height` of the stack, `thickness` along the cooling air (m),
    `fins` of the cooling air a metre, `entry`: bore of the connections in m; `build`: key of BUILDS."""

    width: float
    height: float
    thickness: float
    fins: float
    entry: float
    build: str


@dataclass(frozen=True)
class Rating:
    """What a core does: `effectiveness` (0–1, on the charge), `drop` of the charge and `air_drop` of the
    cooling air in Pa, of the drop the part of the `tanks`."""

    effectiveness: float
    drop: float
    air_drop: float
    tanks: float


def _side(
    fin: Strip, plain: bool, area: float, flow: float, length: float, density: float
) -> tuple[float, float, float]:
    """Conductance of one side in W/K before its fins' efficiency, heat transfer coefficient, and pressure
    drop in Pa: free flow `area` m2, mass `flow` kg/s, flow `length` m, `density` kg/m3."""
    diameter = fin.hydraulic_diameter
    flux = flow / area
    reynolds = flux * diameter / VISCOSITY
    if plain:
        sides = sorted((fin.spacing, fin.height))
        j, f = plain_factors(sides[0] / sides[1], reynolds, PRANDTL)
    else:
        j, f = strip_factors(fin, reynolds)
    coefficient = j * flux * RATED_CP / PRANDTL ** (2.0 / 3.0)
    surface = 4.0 * area * length / diameter
    # Into the passages and out of them: half and one velocity head of what the free area leaves.
    drop = (4.0 * f * length / diameter + 1.0) * flux**2 / (2.0 * density)
    return coefficient * surface, coefficient, drop


def _fin_efficiency(coefficient: float, fin: float, height: float) -> float:
    """Of a straight fin that both walls feed: tanh(m l) / (m l) over half its height."""
    m = math.sqrt(2.0 * coefficient / (ALUMINIUM * fin))
    reach = 0.5 * height
    return math.tanh(m * reach) / (m * reach)


def rate(core: Core, *, charge: float, cooling: float) -> Rating:
    """What a core does at `charge` and `cooling` kg/s (charge density 1.9 kg/m3, as sellers rate).

    Raises Fault when no core can be so: fins denser than they are thick, connections larger than the core.
    Source: effectiveness and transfer units, Kays & London 1984, ch. 2; good to about 8 points and 30 %.
    """
    b = BUILDS[core.build]
    pitch = 1.0 / core.fins
    if pitch < 2.5 * b.fin:
        raise Fault("fins as close as {0:.2f} mm cannot be brazed", 1e3 * pitch)
    if core.entry > 2.5 * core.thickness:
        raise Fault(
            "connections of {0:.0f} mm are far wider than a core of {1:.0f} mm", 1e3 * core.entry,
            1e3 * core.thickness,
        )  # fmt: skip
    layers = max(int((core.height - b.gap) / (b.passage + b.gap + 2.0 * b.wall)), 1)
    inside = Strip(b.charge_pitch - b.fin, b.passage - b.fin, b.charge_strip or core.width, b.fin)
    outside = Strip(pitch - b.fin, b.gap - b.fin, b.air_strip, b.fin)
    free_c = layers * core.thickness * b.passage * inside.spacing / b.charge_pitch * 0.92
    free_a = (layers + 1) * core.width * b.gap * outside.spacing / pitch * 0.96
    ua_c, h_c, drop_c = _side(inside, not b.charge_strip, free_c, charge, core.width, RATED_DENSITY)
    ua_a, h_a, drop_a = _side(outside, False, free_a, cooling, core.thickness, AIR_DENSITY)
    # Most of the surface is fin.
    for_c = ua_c * (0.3 + 0.7 * _fin_efficiency(h_c, b.fin, b.passage))
    for_a = ua_a * (0.15 + 0.85 * _fin_efficiency(h_a, b.fin, b.gap))
    conductance = 1.0 / (1.0 / for_c + 1.0 / for_a)
    one, two = charge * RATED_CP, cooling * RATED_CP
    least, most = min(one, two), max(one, two)
    effectiveness = crossflow_effectiveness(conductance / least, least / most) * least / one
    head = (charge / (0.25 * math.pi * core.entry**2)) ** 2 / (2.0 * RATED_DENSITY)
    tanks = TANKS * head
    return Rating(float(effectiveness), drop_c + tanks, drop_a, tanks)


# How much of the head of the road speed drives air through a core, suction behind it included, by how it
# stands (from memory; 0.2 behind a radiator to 1 in a sealed duct that opens into a wheel arch).
STANDS: dict[str, tuple[float, str]] = {
    "open": (0.6, "Open behind the grille"), "ducted": (1.0, "Sealed into a duct"),
    "behind": (0.3, "Behind another core"), "scoop": (0.7, "Under a scoop"),
}  # fmt: skip


def cooling_flow(core: Core, *, road_speed: float, share: float) -> float:
    """Cooling air in kg/s that the wind drives through a core: `share` (0–1) of the head of the `road_speed`
    in m/s stands before it, and the core takes all of it. Raises Fault as `rate`."""
    head = share * 0.5 * AIR_DENSITY * road_speed**2
    low, high = 0.0, AIR_DENSITY * core.width * core.height * max(road_speed, 0.1)
    for _ in range(50):
        middle = 0.5 * (low + high)
        drop = rate(core, charge=0.2, cooling=max(middle, 1e-6)).air_drop
        low, high = (middle, high) if drop < head else (low, middle)
    return 0.5 * (low + high)


RATING = Method(
    "core_by_size", "Cooler from its dimensions", rate, {},
    "Manglik & Bergles 1995 (strips), Shah & London 1978 and Gnielinski 1976 (plain), Kays & London 1984; "
    "how cores are made: common practice, no source", "8 points of effectiveness, 30 % of the loss",
)  # fmt: skip
