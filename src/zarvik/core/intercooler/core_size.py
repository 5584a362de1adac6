"""A intercooler from its outer dimensions: what it does at given flows.

note: the charge flows along the width through flat passages, the cooling air through the thickness between
them; index c charge, a cooling air.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from zarvik.core.common.method import Method
from zarvik.core.common.sentences import Fault
from zarvik.core.intercooler.effectiveness import crossflow_effectiveness
from zarvik.core.intercooler.intercooler import RATED_CP, RATED_DENSITY, WATER_CP
from zarvik.core.intercooler.surfaces import Louvre, Strip, louvre_factors, plain_factors, strip_factors

VISCOSITY, PRANDTL = 2.0e-5, 0.70  # Pa s, of air at 50 °C, both sides
AIR_DENSITY = 1.12  # kg/m3, cooling air
ALUMINIUM = 180.0  # W/(m K), brazing sheet


@dataclass(frozen=True, kw_only=True)
class Build:
    """How cores of one kind are made; m. `passage`, `gap`: inside height of a charge passage and of the
    space between two; `wall`: between them; `charge_strip`, `air_strip`: strip length, 0 for plain fins;
    `charge_pitch`: of the fins in the passages; `fin`: thickness; `louvre`: pitch of louvres in place of strips
    on the air side, 0 for none. Common practice, no source."""

    title: str
    passage: float
    gap: float
    wall: float
    charge_pitch: float
    charge_strip: float
    air_strip: float
    fin: float
    louvre: float = 0.0


BUILDS: dict[str, Build] = {
    "bar_plate": Build(
        title="Bar and plate",
        passage=6.5e-3,
        gap=9.5e-3,
        wall=0.6e-3,
        charge_pitch=3.8e-3,
        charge_strip=9.0e-3,
        air_strip=6.0e-3,
        fin=0.15e-3,
    ),
    "tube_fin": Build(
        title="Tube and fin", passage=6.0e-3, gap=8.5e-3, wall=0.9e-3, charge_pitch=4.5e-3, charge_strip=0.0, air_strip=4.0e-3, fin=0.10e-3
    ),
    "tube_louvre": Build(
        title="Tube and louvred fin",
        passage=6.0e-3,
        gap=8.5e-3,
        wall=0.5e-3,
        charge_pitch=4.5e-3,
        charge_strip=0.0,
        air_strip=0.0,
        fin=0.08e-3,
        louvre=1.4e-3,
    ),
}
LOUVRE_ANGLE = math.radians(27.0)  # of louvres, 23 to 30 degrees
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
    cooling air in Pa, of the drop the part of the `tanks`; its `conductance` in W/K."""

    effectiveness: float
    drop: float
    air_drop: float
    tanks: float
    conductance: float


def _louvred(fin: Louvre, area: float, flow: float, length: float, density: float) -> tuple[float, float, float]:
    """As `_side`, for louvred fins."""
    diameter = fin.hydraulic_diameter
    flux = flow / area
    j, f = louvre_factors(fin, flux * fin.pitch / VISCOSITY)
    coefficient = j * flux * RATED_CP / PRANDTL ** (2.0 / 3.0)
    drop = (4.0 * f * length / diameter + 1.0) * flux**2 / (2.0 * density)
    return coefficient * 4.0 * area * length / diameter, coefficient, drop


def _side(fin: Strip, plain: bool, area: float, flow: float, length: float, density: float) -> tuple[float, float, float]:
    """Conductance of one side in W/K before its fins' efficiency, heat transfer coefficient, and pressure
    drop in Pa: free flow `area` m2, mass `flow` kg/s, flow `length` m, `density` kg/m3."""
    diameter = fin.hydraulic_diameter
    flux = flow / area
    reynolds = flux * diameter / VISCOSITY
    if plain:
        sides = sorted((fin.spacing, fin.height))
        j, f = plain_factors(sides[0] / sides[1], reynolds, PRANDTL, length / diameter)
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


def _outside(core: Core, area: float, cooling: float) -> tuple[float, float, float]:
    """As `_side`, of the cooling air through strips or louvres."""
    b, pitch = BUILDS[core.build], 1.0 / core.fins
    if b.louvre:
        fin = Louvre(
            pitch=b.louvre,
            angle=LOUVRE_ANGLE,
            spacing=pitch,
            height=b.gap,
            depth=core.thickness,
            tubes=b.gap + b.passage + 2.0 * b.wall,
            thickness=b.fin,
        )
        return _louvred(fin, area, cooling, core.thickness, AIR_DENSITY)
    strip = Strip(pitch - b.fin, b.gap - b.fin, b.air_strip, b.fin)
    return _side(strip, False, area, cooling, core.thickness, AIR_DENSITY)


@lru_cache(256)
def rate(core: Core, *, charge: float, cooling: float) -> Rating:
    """What a core does at `charge` and `cooling` kg/s (charge density 1.9 kg/m3, as sellers rate).

    Raises Fault when no core can be so: fins denser than they are thick, connections larger than the core.
    Source: effectiveness and transfer units, Kays & London 1984, ch. 2; good to about 8 points and 30 %.
    """
    b = BUILDS[core.build]
    pitch = 1.0 / core.fins
    if pitch < 2.5 * b.fin:
        raise Fault("fins {0:.2f} mm apart cannot be brazed", 1e3 * pitch)
    if core.entry > 2.5 * core.thickness:
        raise Fault("ports of {0:.0f} mm are far wider than a core of {1:.0f} mm", 1e3 * core.entry, 1e3 * core.thickness)
    layers = max(int((core.height - b.gap) / (b.passage + b.gap + 2.0 * b.wall)), 1)
    inside = Strip(b.charge_pitch - b.fin, b.passage - b.fin, b.charge_strip or core.width, b.fin)
    free_c = layers * core.thickness * b.passage * inside.spacing / b.charge_pitch * 0.92
    free_a = (layers + 1) * core.width * b.gap * (pitch - b.fin) / pitch * 0.96
    ua_c, h_c, drop_c = _side(inside, not b.charge_strip, free_c, charge, core.width, RATED_DENSITY)
    ua_a, h_a, drop_a = _outside(core, free_a, cooling)
    # Most of the surface is fin.
    for_c = ua_c * (0.3 + 0.7 * _fin_efficiency(h_c, b.fin, b.passage))
    for_a = ua_a * (0.15 + 0.85 * _fin_efficiency(h_a, b.fin, b.gap))
    conductance = 1.0 / (1.0 / for_c + 1.0 / for_a)
    one, two = charge * RATED_CP, cooling * RATED_CP
    least, most = min(one, two), max(one, two)
    effectiveness = crossflow_effectiveness(conductance / least, least / most) * least / one
    head = (charge / (0.25 * math.pi * core.entry**2)) ** 2 / (2.0 * RATED_DENSITY)
    tanks = TANKS * head
    return Rating(float(effectiveness), drop_c + tanks, drop_a, tanks, conductance)


# How much of the head of the road speed drives air through a core, suction behind it included, by how it
# stands (from memory; 0.2 behind a radiator to 1 in a sealed duct that opens into a wheel arch).
STANDS: dict[str, tuple[float, str]] = {
    "open": (0.6, "Open behind the grille"),
    "ducted": (1.0, "Sealed into a duct"),
    "behind": (0.3, "Behind another core"),
    "scoop": (0.7, "Under a scoop"),
}


@dataclass(frozen=True)
class Wind:
    """What drives air through a core: `share` (0–1) of the head of the road speed, an `opening` before it in m2
    (0: as large as the core), and a fan of free `fan` flow in m3/s (0: none)."""

    share: float
    opening: float = 0.0
    fan: float = 0.0


FAN_HEAD = 180.0  # Pa at no flow of an electric fan of 0.3 to 0.4 m; from memory 120 to 250


@lru_cache(64)
def cooling_flow(core: Core, *, road_speed: float, wind: Wind, radiator: bool = False) -> float:
    """Cooling air in kg/s that `wind` and fan drive through a core (a `radiator`: water in its tubes) at `road_speed` m/s.
    Raises Fault as `rate`.

    Head of the wind and of the fan (it falls with the square of its flow) against the core and against the
    opening (the stream that an opening narrower than the core lets in spreads again: Borda–Carnot).
    """

    def takes(flow: float) -> float:
        return front_drop(core, flow) if radiator else rate(core, charge=0.2, cooling=flow).air_drop

    return cooling_air(takes, face=core.width * core.height, wind=wind, road_speed=road_speed)


def cooling_air(takes: Callable[[float], float], *, face: float, wind: Wind, road_speed: float) -> float:
    """Cooling air in kg/s at which the head of `wind` and fan at a `road_speed` m/s is what stands in a `face` m2 takes: `takes` gives Pa
    of kg/s; an opening narrower than the face takes a Borda-Carnot loss besides."""
    opening = min(wind.opening or face, face)
    widening = (face / opening - 1.0) ** 2

    def left(flow: float) -> float:
        volume = flow / AIR_DENSITY
        drop = takes(max(flow, 1e-6)) + widening * 0.5 * AIR_DENSITY * (volume / face) ** 2
        head = wind.share * 0.5 * AIR_DENSITY * road_speed**2
        if wind.fan > 0.0:
            # A fan that the wind overtakes turns along: it adds nothing, and holds nothing back.
            head += max(FAN_HEAD * (1.0 - (volume / wind.fan) ** 2), 0.0)
        return head - drop

    low, high = 0.0, AIR_DENSITY * (face * max(road_speed, 0.1) + wind.fan)
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if left(middle) > 0.0 else (low, middle)
    return 0.5 * (low + high)


def charge_volume(core: Core) -> float:
    """Volume in m3 of the charge in a core and both its tanks: passages between the plates, and tanks half as
    deep as the connections are wide."""
    b = BUILDS[core.build]
    inside = core.width * core.height * core.thickness * b.passage / (b.passage + b.gap + 2.0 * b.wall)
    return 0.85 * inside + 2.0 * core.height * core.thickness * 0.5 * core.entry


# Water in the passages of a core or a radiator: glycol and a third, 40 °C
WATER_VISCOSITY, WATER_CONDUCTIVITY = 1.2e-3, 0.45  # Pa s, W/(m K)
WATER_GAP = 1.6e-3  # m inside of a flat water tube or passage


def _water_side(flow: float, area: float, length: float) -> float:
    """Conductance in W/K of `flow` kg/s of water through flat tubes of so much `area` m2 and `length` m."""
    diameter = 2.0 * WATER_GAP
    reynolds = flow / area * diameter / WATER_VISCOSITY
    prandtl = WATER_VISCOSITY * WATER_CP / WATER_CONDUCTIVITY
    j, _ = plain_factors(0.02, reynolds, prandtl, length / diameter)
    coefficient = j * reynolds * prandtl ** (1.0 / 3.0) * WATER_CONDUCTIVITY / diameter
    return coefficient * 4.0 * area * length / diameter


@lru_cache(64)
def rate_water(core: Core, *, charge: float, water: float) -> Rating:
    """What a water-cooled core does at `charge` and `water` kg/s: the charge flows along the width through
    strips or louvres between flat water passages; effectiveness on the charge over the water's temperature.
    Raises Fault as `rate`."""
    b = BUILDS[core.build]
    pitch = 1.0 / core.fins
    if pitch < 2.5 * b.fin:
        raise Fault("fins {0:.2f} mm apart cannot be brazed", 1e3 * pitch)
    layers = max(int((core.height - b.gap) / (WATER_GAP + b.gap + 2.0 * b.wall)), 1)
    fin = Strip(pitch - b.fin, b.gap - b.fin, b.air_strip or 4.0e-3, b.fin)
    free = (layers + 1) * core.thickness * b.gap * fin.spacing / pitch * 0.96
    ua, coefficient, drop = _side(fin, False, free, charge, core.width, RATED_DENSITY)
    for_charge = ua * (0.15 + 0.85 * _fin_efficiency(coefficient, b.fin, b.gap))
    area = layers * WATER_GAP * core.width * 0.9  # across the charge: along the thickness
    for_water = _water_side(water, area, core.thickness)
    conductance = 1.0 / (1.0 / for_charge + 1.0 / for_water)
    one, two = charge * RATED_CP, water * WATER_CP
    least, most = min(one, two), max(one, two)
    effectiveness = crossflow_effectiveness(conductance / least, least / most) * least / one
    tanks = TANKS * (charge / (0.25 * math.pi * core.entry**2)) ** 2 / (2.0 * RATED_DENSITY)
    return Rating(float(effectiveness), drop + tanks, 0.0, tanks, conductance)


def _front_air(core: Core, air: float) -> tuple[int, float, float, float]:
    """Rows of water tubes of a radiator, and as `_side` of the `air` in kg/s through its louvred fins. Raises Fault for fins that
    cannot be."""
    pitch = 1.0 / core.fins
    b = BUILDS["tube_louvre"]
    if pitch < 2.5 * b.fin:
        raise Fault("fins {0:.2f} mm apart cannot be brazed", 1e3 * pitch)
    period = b.gap + WATER_GAP + 2.0 * b.wall
    layers = max(int((core.height - b.gap) / period), 1)
    fin = Louvre(pitch=b.louvre, angle=LOUVRE_ANGLE, spacing=pitch, height=b.gap, depth=core.thickness, tubes=period, thickness=b.fin)
    free = (layers + 1) * core.width * b.gap * (pitch - b.fin) / pitch * 0.96
    ua, coefficient, drop = _louvred(fin, free, air, core.thickness, AIR_DENSITY)
    return layers, ua, coefficient, drop


def front_drop(core: Core, air: float) -> float:
    """Pa that the `air` in kg/s loses in a radiator `core`. Raises Fault for fins that cannot be."""
    return _front_air(core, air)[3]


@lru_cache(64)
def rate_front(core: Core, *, water: float, air: float) -> float:
    """Effectiveness (0–1, over the smaller capacity) of the exchanger in the wind that cools `water` kg/s with
    `air` kg/s: a radiator, water along its width in flat tubes between louvred fins. Raises Fault for fins that
    cannot be."""
    layers, ua, coefficient, _ = _front_air(core, air)
    b = BUILDS["tube_louvre"]
    for_air = ua * (0.15 + 0.85 * _fin_efficiency(coefficient, b.fin, b.gap))
    for_water = _water_side(water, layers * WATER_GAP * core.thickness * 0.85, core.width)
    conductance = 1.0 / (1.0 / for_air + 1.0 / for_water)
    one, two = water * WATER_CP, air * RATED_CP
    least, most = min(one, two), max(one, two)
    return float(crossflow_effectiveness(conductance / least, least / most))


RATING = Method(
    key="core_by_size",
    title="Intercooler from its dimensions",
    function=rate,
    limits={},
    source="Manglik & Bergles 1995 (strips), Chang & Wang 1997 and Davenport 1983 (louvres), Shah & London 1978 and Gnielinski 1976 "
    "(plain), "
    "Kays & London 1984; "
    "how cores are made: common practice, no source",
    accuracy="8 points of effectiveness, 30 % of the loss",
)
