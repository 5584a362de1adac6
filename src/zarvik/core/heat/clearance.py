"""Clearance between hot parts and what minds heat.

Judged at sustained full load (a hill, a tow, a lap: minutes, so that skin and part are in balance) and in the soak after the
engine is stopped (no breeze, hotter bay air, a pipe that cools while the part still warms). An average over the day says
nothing: a hose is spoilt by the hottest minutes.

note: F view factor of a small face that looks at a pipe: (R / s) (2 / pi) (z a / (a^2 + z^2) + atan(z / a)), R radius, s distance
from the axis, z half of the length in sight, a = s - (pi/4) R: a thin cylinder integrated (E. M. Sparrow, R. D. Cess, Radiation Heat
Transfer, 1978, for z without end, R / s). E exchange factor between two grey faces. Rough guide: the air in the plume right above a pipe
is hotter than the bay.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.common.constants import STEFAN_BOLTZMANN

PART_EMISSIVITY = 0.9  # of rubber, paint, plastic; Incropera, table A.11 (memory)
SHIELD_EMISSIVITY = 0.25  # of a bright shield of aluminium or stainless in use; Incropera, table A.11 (memory)
SHIELD_HEAT = 2000.0  # J/(m2 K), 0.8 mm of aluminium
SHIELD_GAP = 0.012  # m from the pipe to its shield; common practice, no source
ENGINE_MOVEMENT = 0.012  # m that an engine rocks on good mounts, half an inch; common practice, no source
FULL_HAND = 0.075  # m, the least that is left to a hot bare exhaust: "a full hand", 75 to 100; common practice, no source
HOT_EXHAUST = 673.15  # K, 400 °C: a bare skin from here on gets the full hand
LENGTH_IN_SIGHT = 0.5  # m of pipe that one place of an engine bay looks at; common practice, no source
FARTHEST = 3.0  # m
# The soak after a stop; common practice, no source: under-bonnet air rises by 20 to 35 K, for some ten minutes, without a breeze
SOAK_RISE = 25.0
SOAK_CONVECTION = 6.0  # W/(m2 K), free
SOAK_TIME = 900.0  # s
SOAK_STEP = 10.0  # s
HOUSING_HEAT = 28400.0  # J/(m2 K), 8 mm of iron
METAL_HEAT = 3.95e6  # J/(m3 K) of steel and iron


@dataclass(frozen=True)
class Thing:
    """A part that minds heat: `stands` K for years, `peak` K for minutes; `floor` m that is always left beside it, `heat` J/(m2 K)
    that warms it, by the area of one side."""

    key: str
    title: str
    stands: float
    peak: float
    floor: float
    heat: float


# From memory of common tables, as bands of 10 K; the maker of a part has the last word. Floors: common practice, no source.
THINGS = (
    Thing("plastic", "Plastic tank or cover", 363.0, 393.0, 0.010, 4500.0),
    Thing("paint", "Painted panel, carbon fibre", 373.0, 403.0, 0.006, 3200.0),
    Thing("wiring", "Wiring, plugs, sensors", 378.0, 398.0, 0.010, 2500.0),
    Thing("line", "Brake, clutch and fuel lines", 373.0, 403.0, 0.006, 5600.0),
    Thing("rubber", "Rubber hose, boots, mounts", 393.0, 413.0, 0.010, 8200.0),
    Thing("silicone", "Silicone hose", 453.0, 483.0, 0.010, 8500.0),
)


def view(away: np.ndarray | float, radius: float, sight: float = LENGTH_IN_SIGHT) -> np.ndarray:
    """View factor of a small face to a pipe of `radius` m whose skin is `away` m off and of which `sight` m are seen."""
    s = np.asarray(away, float) + radius
    # The ends are cut off from the face that is seen: on the mean pi/4 of the radius before the axis
    near, z = s - 0.25 * math.pi * radius, 0.5 * sight
    return np.asarray(radius / s * (2.0 / math.pi) * (z * near / (near * near + z * z) + np.arctan(z / near)))


def _exchange(one: np.ndarray | float, other: float) -> np.ndarray:
    return np.asarray(STEFAN_BOLTZMANN / (1.0 / np.asarray(one, float) + 1.0 / other - 1.0))


@compiled
def _settle(source: np.ndarray, gain: np.ndarray, lose: np.ndarray, air: float, convection: float) -> np.ndarray:
    """`_settled` of arrays of one size."""
    found = np.empty(len(source))
    for i in range(len(source)):
        have = gain[i] * source[i] ** 4 + 2.0 * convection * air + lose[i] * air**4
        # a T^4 + b T = have is convex: from above Newton comes down without a jump
        t = max(source[i], air)
        for _ in range(60):
            step = ((gain[i] + lose[i]) * t**4 + 2.0 * convection * t - have) / (4.0 * (gain[i] + lose[i]) * t**3 + 2.0 * convection)
            t -= step
            if abs(step) < 1e-7:
                break
        found[i] = t
    return found


def _settled(source: np.ndarray, gain: np.ndarray | float, lose: np.ndarray | float, air: float, convection: float) -> np.ndarray:
    """Temperature in K at which what is radiated onto a sheet (`gain`) leaves it again by radiation (`lose`, both W/(m2 K4)) and by
    `convection` W/(m2 K) on both its sides."""
    one, two, three = (np.array(row) for row in np.broadcast_arrays(np.asarray(source, float), gain, lose))
    return np.asarray(_settle(one, two, three, float(air), float(convection)))


def balance(source: np.ndarray, seen: np.ndarray, *, emissivity: float, air: float, convection: float) -> np.ndarray:
    """Temperature in K of a part in balance: it sees a skin of `source` K and `emissivity` under the view factor `seen`, in
    `air` K, with `convection` in W/(m2 K) on both its sides."""
    gain = _exchange(emissivity, PART_EMISSIVITY) * seen
    lose = STEFAN_BOLTZMANN * PART_EMISSIVITY * (2.0 - seen)
    return _settled(source, gain, lose, air, convection)


def shield(source: np.ndarray, *, emissivity: float, air: float, convection: float) -> np.ndarray:
    """Temperature in K of a bright sheet round a skin of `source` K and `emissivity`, in `air` K, with a `convection` in W/(m2 K) on
    both its sides."""
    gain = _exchange(emissivity, SHIELD_EMISSIVITY)
    lose = STEFAN_BOLTZMANN * SHIELD_EMISSIVITY
    return _settled(source, gain, lose, air, convection)


_GAPS = np.concatenate(([0.0], np.geomspace(0.002, FARTHEST, 60)))


@compiled
def soak(
    skin: float, sheet: float, part: np.ndarray, seen: np.ndarray, part_heat: np.ndarray, pipe: tuple[float, float, float], shielded: bool
) -> np.ndarray:
    """Highest temperature in K that parts come to after the stop: from the `part` K that each had while running where it is, its view
    factor `seen`, its `part_heat` in J/(m2 K); the `skin` and its `sheet` in K; `pipe`: emissivity, wall heat in J/(m2 K), K of the air;
    `shielded`: the parts look at the sheet. Classical Runge-Kutta of the fourth order."""
    emissivity, heat, air = pipe
    hot = air + SOAK_RISE
    hot4 = hot * hot * (hot * hot)
    direct = STEFAN_BOLTZMANN / (1.0 / emissivity + 1.0 / PART_EMISSIVITY - 1.0)
    to_sheet = STEFAN_BOLTZMANN / (1.0 / emissivity + 1.0 / SHIELD_EMISSIVITY - 1.0)
    from_sheet = STEFAN_BOLTZMANN / (1.0 / SHIELD_EMISSIVITY + 1.0 / PART_EMISSIVITY - 1.0)
    gain = from_sheet if shielded else direct
    share = np.array([0.5, 0.5, 1.0])
    weight = np.array([1.0, 2.0, 2.0, 1.0])
    now = part.copy()
    top = part.copy()
    source4 = np.empty(4)
    for _ in range(round(SOAK_TIME / SOAK_STEP)):
        # The pipe and its sheet do not feel the part: their four stages first
        s, h = skin, sheet
        ds, dh, mean_s, mean_h = 0.0, 0.0, 0.0, 0.0
        for stage in range(4):
            if stage:
                s, h = skin + share[stage - 1] * SOAK_STEP * ds, sheet + share[stage - 1] * SOAK_STEP * dh
            s4 = s * s * (s * s)
            if shielded:
                h4 = h * h * (h * h)
                passed = to_sheet * (s4 - h4)
                ds = -(SOAK_CONVECTION * (s - hot) + passed) / heat
                dh = (passed - 2.0 * SOAK_CONVECTION * (h - hot) - STEFAN_BOLTZMANN * SHIELD_EMISSIVITY * (h4 - hot4)) / SHIELD_HEAT
                source4[stage] = h4
            else:
                ds = -(SOAK_CONVECTION * (s - hot) + STEFAN_BOLTZMANN * emissivity * (s4 - hot4)) / heat
                source4[stage] = s4
            mean_s += weight[stage] * ds / 6.0
            mean_h += weight[stage] * dh / 6.0
        skin, sheet = skin + SOAK_STEP * mean_s, sheet + SOAK_STEP * mean_h
        for i in range(part.shape[0]):
            around = STEFAN_BOLTZMANN * PART_EMISSIVITY * (2.0 - seen[i])
            p, dp, mean_p = now[i], 0.0, 0.0
            for stage in range(4):
                if stage:
                    p = now[i] + share[stage - 1] * SOAK_STEP * dp
                p4 = p * p * (p * p)
                dp = gain * seen[i] * (source4[stage] - p4) - 2.0 * SOAK_CONVECTION * (p - hot) - around * (p4 - hot4)
                dp /= part_heat[i]
                mean_p += weight[stage] * dp / 6.0
            now[i] += SOAK_STEP * mean_p
            top[i] = max(top[i], now[i])
    return top


@compiled
def _between(low: int, high: int, warm: float, cool: float, limit: float, gaps: np.ndarray) -> float:
    """The gap in m at which a part has its `limit` K, straight between two of the table at which it is `warm` and `cool` K."""
    return gaps[low] + (warm - limit) / (warm - cool) * (gaps[high] - gaps[low])


@compiled
def _least(
    skin: float,
    sheet: float,
    running: np.ndarray,
    seen: np.ndarray,
    gaps: np.ndarray,
    things: np.ndarray,
    pipe: tuple[float, float, float],
    shielded: bool,
) -> np.ndarray:
    """For each of the `things` (rows: J/(m2 K), K for years, K for minutes) the least of the `gaps` in m from which on it stays under both
    limits, straight between two; inf where none does. `running` K and `seen` by gap; else as `soak`. The wider the gap the cooler is the
    part, so that halves of the table are ruled out one by one."""
    found = np.zeros(len(things))
    end = len(gaps) - 1
    for i in range(len(things)):
        heat, stands, peak = things[i]
        if running[end] > stands:
            found[i] = np.inf
            continue
        last = end
        while last >= 0 and running[last] <= stands:
            last -= 1
        if last >= 0:
            found[i] = _between(last, last + 1, running[last], running[last + 1], stands, gaps)
        one = np.array([heat])
        low, high = 0, end
        warm = soak(skin, sheet, running[:1], seen[:1], one, pipe, shielded)[0]
        cool = soak(skin, sheet, running[end:], seen[end:], one, pipe, shielded)[0]
        if warm <= peak:
            continue
        if cool > peak:
            found[i] = np.inf
            continue
        while high - low > 1:
            middle = (low + high) // 2
            now = soak(skin, sheet, running[middle : middle + 1], seen[middle : middle + 1], one, pipe, shielded)[0]
            if now > peak:
                low, warm = middle, now
            else:
                high, cool = middle, now
        found[i] = max(found[i], _between(low, high, warm, cool, peak, gaps))
    return found


def floor_bare(skin: float, thing: Thing) -> float:
    """The least gap in m to a bare `skin` (K) whatever the heat says: what the engine moves and the part's own floor; a full hand
    from `HOT_EXHAUST` on, straight between."""
    least = ENGINE_MOVEMENT + thing.floor
    share = (skin - thing.stands) / (HOT_EXHAUST - thing.stands)
    return least + (FULL_HAND - least) * min(max(share, 0.0), 1.0)


def floor_shielded(thing: Thing) -> float:
    """The least gap in m from the hot skin to a part behind a shield: the engine moves before the shield, the part has its floor
    behind it. A finger, 18 mm, to a hard line."""
    return max(SHIELD_GAP, ENGINE_MOVEMENT) + thing.floor


def clearances(
    skin: float, *, radius: float, emissivity: float, heat: float, air: float, convection: float, sight: float = LENGTH_IN_SIGHT
) -> tuple[tuple[float, float], ...]:
    """For each of `THINGS` the least gap in m from the skin of a pipe (outside `radius` m, `skin` K at full load, `emissivity`, wall
    `heat` J/(m2 K)) as it is, and behind a bright shield, in `air` K with a `convection` in W/(m2 K); `sight`: m of the pipe that a
    part looks at. inf where the bay's air alone is too hot. Never less with more heat; a shield never asks for more than a bare
    pipe."""
    things = np.array([(t.heat, t.stands, t.peak) for t in THINGS])
    bare = np.array([skin])
    sheet = shield(bare, emissivity=emissivity, air=air, convection=convection)
    pipe = (float(emissivity), float(heat), float(air))
    found: list[list[float]] = []
    for source, glow, bore, shielded in ((bare, emissivity, radius, False), (sheet, SHIELD_EMISSIVITY, radius + SHIELD_GAP, True)):
        seen = view(_GAPS, bore, sight)
        running = balance(source, seen, emissivity=glow, air=air, convection=convection)
        row = []
        for thing, gap in zip(THINGS, _least(float(skin), float(sheet[0]), running, seen, _GAPS, things, pipe, shielded), strict=True):
            if thing.stands <= air or thing.peak <= air + SOAK_RISE:
                row.append(math.inf)
            else:
                row.append(max(gap + SHIELD_GAP, floor_shielded(thing)) if shielded else max(gap, floor_bare(skin, thing)))
        found.append(row)
    return tuple((float(gap), float(min(gap, behind))) for gap, behind in zip(*found, strict=True))
