"""How many hot cycles a manifold lasts until it cracks, and what would make it last longer.

Rough guide, within a factor of `BAND` either way: it ranks ways of building a manifold, it promises nothing.

Strain range of one hot cycle at the worst place: what the growth along the head bends into a primary, never more than the flange
holds before it slides under its bolts; and the difference in temperature within the part. Both are raised by the notch of a weld.
A turbo that hangs on unbraced tubes swings at their own frequency and adds its own damage, and mild steel scales away (Miner's sum).

note: e strain range, E modulus Pa, W section modulus m3, L length m, F force N, K notch factor, N cycles.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass

from zarvik.core.common.constants import STANDARD_GRAVITY
from zarvik.core.manifold.turbo_weight import modulus
from zarvik.core.materials.metals import HEAD_WARM, METALS, bent_aside, cycles, growth
from zarvik.core.materials.metals import modulus as stiffness
from zarvik.core.materials.table import values
from zarvik.core.stock.sizes import WALL as WALL_OF_TUBE

CAST, LOG, MERGE = "cast", "log", "merge"
BAND = 3.0  # a factor either way; common practice, no source
# What two M8 bolts still hold when hot (10 kN each of 16 kN) times a friction of 0.3; common practice, no source
SLIDES_AT = 6000.0  # N a port
# Share of the rise over the head by which one place of the part is hotter than another; common practice, no source
CAST_GRADIENT = 0.12
WELDED_GRADIENT = 0.20  # of sixteen gauge; thicker walls even it out
RESTRAINED = 0.5  # share of that difference which is strain, between free (0) and held on all sides (1)
# Notch factors on strain. Butt weld on pipe: 2 on a polished bar (A. R. C. Markl, Trans. ASME 74 (1952) 287, memory); a root that was
# not purged is rough and burnt; common practice, no source
CAST_NOTCH = 1.6
WELD_NOTCH = 2.0
UNPURGED_NOTCH = 3.0
RELIEVED = 0.85  # of the notch's effect that stress relief leaves; common practice, no source
WELD_DUCTILITY = values("weld_ductility")  # true strain at fracture of weld metal and of the zone beside it
# Unbraced, the turbo swings on the tubes: amplitude over gravity at resonance, and swings of one hot cycle; common practice, no source
SWING = 10.0
SWINGS = 3000.0
# Mild steel scales away: mm/h at 800 °C from the parabolic constant of iron in air with scale that spalls, half of its activation
# energy over the gas constant (N. Birks, G. H. Meier, High Temperature Oxidation of Metals; memory, within a factor of two)
SCALES = 0.03e-3 / 3600.0  # m/s
SCALES_AT, SCALING = 1073.15, 10_200.0  # K
HOTTEST_TIME = 360.0  # s of one hot cycle at the hottest; common practice, no source
WALL_LOST = 0.5  # share of the wall that is lost when it fails; common practice, no source
MOST = 50_000.0  # hot cycles: more is not told apart
SHORTEST = 1.0
THICKER = 1.5  # times the wall, the next step that is tried


@dataclass(frozen=True)
class Made:
    """How a manifold is made: `material` (key of `metal.METALS`), `form` ("cast", "log", "merge"); a primary's outside `diameter`,
    `wall` and free `length` m; a log's or casting's outside `body` m, 0 for a small collector; `span` m from its middle to the last
    port; turbo `mass` kg at a `lever` m on so many `pipes` (a count); `braced`, `slip` joints at the collector, `purged` roots,
    `relieved` of stress."""

    material: str
    form: str
    diameter: float
    wall: float
    length: float
    body: float
    span: float
    mass: float
    lever: float
    pipes: int
    braced: bool = False
    slip: bool = False
    purged: bool = False
    relieved: bool = False


@dataclass(frozen=True)
class Life:
    """Hot `cycles` until a crack (a count): of `heat` alone, of the `swinging` turbo alone, until mild steel is `scaled` away; strain
    ranges: `bent` by growth, of the `gradient`, both without the notch; `slides`: the flange slides before the pipe takes it all."""

    cycles: float
    heat: float
    swinging: float
    scaled: float
    bent: float
    gradient: float
    slides: bool

    @property
    def band(self) -> tuple[float, float]:
        """Between which numbers of hot cycles it lies."""
        return self.cycles / BAND, min(self.cycles * BAND, MOST)


def notch_factor(made: Made) -> float:
    """Notch factor K on strain at the worst place."""
    if made.form == CAST:
        return CAST_NOTCH
    factor = WELD_NOTCH if made.purged or made.material != "stainless" else UNPURGED_NOTCH
    return factor * RELIEVED if made.relieved else factor


def bending_strain(made: Made, temperature: float) -> tuple[float, bool]:
    """Strain range that growth bends into a primary at a metal `temperature` in K, and does its flange slide? Guided beam: the force is
    12 E I x / L3, at most `SLIDES_AT`; the moment F L / 2 at both ends."""
    if made.slip and made.form == MERGE:
        return 0.0, False
    metal = METALS[made.material]
    grows = growth(metal, made.span, temperature)
    aside = bent_aside(grows, diameter=made.diameter, wall=made.wall, length=made.length, body=made.body, span=made.span)
    elastic, section = stiffness(metal, temperature), modulus(made.diameter, made.wall)
    inertia = 0.5 * section * made.diameter
    force = 12.0 * elastic * inertia * abs(aside) / made.length**3
    held = min(force, SLIDES_AT)
    return held * made.length / (2.0 * elastic * section), force > SLIDES_AT


def gradient(made: Made, temperature: float) -> float:
    """Strain range of the difference in temperature within the part, at a metal `temperature` in K."""
    rise = max(temperature - 293.15 - HEAD_WARM, 0.0)
    share = CAST_GRADIENT if made.form == CAST else WELDED_GRADIENT * (WALL_OF_TUBE / made.wall) ** 0.28
    return RESTRAINED * METALS[made.material].expansion * share * rise


def life(made: Made, temperature: float) -> Life:
    """How many hot cycles a manifold lasts at a metal `temperature` in K (500 to 1,250). Raises KeyError for a material without
    strength."""
    metal = METALS[made.material]
    if made.form != CAST:
        metal = dataclasses.replace(metal, ductility=min(metal.ductility, WELD_DUCTILITY.get(made.material, metal.ductility)))
    factor = notch_factor(made)
    aside, slides = bending_strain(made, temperature)
    uneven = gradient(made, temperature)
    heat = cycles(metal, factor * max(aside + uneven, 1e-5), temperature)
    swinging = math.inf
    if not made.braced and made.lever > 0.0 and made.mass > 0.0:
        stress = SWING * STANDARD_GRAVITY * made.mass * made.lever / (made.pipes * modulus(made.diameter, made.wall))
        swinging = cycles(metal, factor * 2.0 * stress / stiffness(metal, temperature), temperature, most=1e12) / SWINGS
    scaled = math.inf
    if made.material == "mild_steel":
        speed = SCALES * math.exp(-SCALING * (1.0 / temperature - 1.0 / SCALES_AT))
        scaled = WALL_LOST * made.wall / (speed * HOTTEST_TIME)
    all_three = 1.0 / (1.0 / heat + 1.0 / swinging + 1.0 / scaled)
    return Life(
        cycles=min(max(all_three, SHORTEST), MOST), heat=heat, swinging=swinging, scaled=scaled, bent=aside, gradient=uneven, slides=slides
    )


BRACE, SLIP, PURGE, RELIEF, WALL = "brace", "slip", "purge", "relief", "wall"


def life_improvements(made: Made, temperature: float) -> tuple[tuple[str, float], ...]:
    """What makes a manifold last longer at a metal `temperature` in K, and by which factor; the best first, none under a fifth more."""
    own = life(made, temperature).cycles

    def tried() -> Iterator[tuple[str, Made]]:
        if not made.braced:
            yield BRACE, dataclasses.replace(made, braced=True)
        if made.form == MERGE and not made.slip:
            yield SLIP, dataclasses.replace(made, slip=True)
        if made.form != CAST and made.material == "stainless" and not made.purged:
            yield PURGE, dataclasses.replace(made, purged=True)
        if made.form != CAST and not made.relieved:
            yield RELIEF, dataclasses.replace(made, relieved=True)
        if made.form != CAST:
            yield WALL, dataclasses.replace(made, wall=THICKER * made.wall, diameter=made.diameter + 2.0 * (THICKER - 1.0) * made.wall)

    found = [(key, life(other, temperature).cycles / own) for key, other in tried()]
    return tuple(sorted((pair for pair in found if pair[1] > 1.2), key=lambda pair: -pair[1]))


# ---- mass -----------------------------------------------------------------------------------------
CAST_EXTRA = 1.3  # ribs, bosses and fillets of a casting over its walls; common practice, no source
PORT_FLANGE = 2.4  # area of a port's flange without its hole, over the bore squared; common practice, no source
TURBO_FLANGE = 3.2  # the same of the flange to the turbine, over its bore squared; common practice, no source
TURBO_THICK = 0.014  # m; common practice, no source


def flange_mass(density: float, *, ports: int, bore: float, thickness: float, turbos: int, inlet: float) -> float:
    """Mass in kg of the flanges: `ports` (a count) of a `bore` m and a `thickness` m at the head, one for each of the `turbos` with an
    `inlet` m; of `density` kg/m3."""
    return density * (ports * PORT_FLANGE * bore**2 * thickness + turbos * TURBO_FLANGE * inlet**2 * TURBO_THICK)
