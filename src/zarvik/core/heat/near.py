"""How near a hot pipe something may stand that minds heat.

note: a small thing with its face to a long pipe sees it under the view factor R / s, s from the axis (E. M. Sparrow, R. D. Cess,
Radiation Heat Transfer, 1978); it gives heat off by the breeze on both sides and by radiation to the rest of the bay. The air is
as warm as the bay is said to be: in a plume right above a pipe it is warmer.
"""

from __future__ import annotations

from dataclasses import dataclass

from scipy.optimize import brentq

from zarvik.core.heat.wall import STEFAN_BOLTZMANN

THING = 0.9  # emissivity of rubber, paint, plastic
SHEET = 0.25  # of a bright shield of aluminium or stainless in use
SHIELD_GAP = 0.012  # m from the pipe to its shield; common practice, no source
BEHIND = 0.006  # m of air behind the shield, so that it can breathe; common practice, no source
FARTHEST = 3.0  # m


@dataclass(frozen=True)
class Thing:
    """What minds heat: `key`, `title`, what it stands for long, K."""

    key: str
    title: str
    stands: float


# What these stand for years, from memory of common tables; the maker of a part has the last word
THINGS = (
    Thing("plastic", "Plastic tank or cover", 363.0),
    Thing("paint", "Painted panel, carbon fibre", 373.0),
    Thing("wiring", "Wiring, plugs, sensors", 378.0),
    Thing("line", "Brake, clutch and fuel lines", 373.0),
    Thing("rubber", "Rubber hose, boots, mounts", 393.0),
    Thing("silicone", "Silicone hose", 453.0),
)


def warmed(source: float, *, emissivity: float, view: float, air: float, convection: float, hard: float = 1.0) -> float:
    """Temperature in K at which a thing stands that sees a skin of `source` K and `emissivity` under the `view` factor, in `air`
    of so many K with a `convection` W/(m2 K) on both its sides; `hard`: share of the time in which the skin is so hot, as things
    warm up over minutes."""
    exchange = hard * STEFAN_BOLTZMANN * view / (1.0 / THING + 1.0 / emissivity - 1.0)

    def left(t: float) -> float:
        around = STEFAN_BOLTZMANN * THING * (2.0 - view) * (t**4 - air**4)
        return float(exchange * (source**4 - t**4) - 2.0 * convection * (t - air) - around)

    low, high = min(air, source), max(air, source)
    return float(brentq(left, low, high)) if high - low > 1e-9 else air


def behind_shield(source: float, *, emissivity: float, air: float, convection: float) -> float:
    """Temperature in K of a bright sheet that stands round a skin of `source` K and `emissivity`, in `air` K, with a `convection`
    in W/(m2 K) on both its sides."""
    exchange = STEFAN_BOLTZMANN / (1.0 / SHEET + 1.0 / emissivity - 1.0)

    def left(t: float) -> float:
        return float(exchange * (source**4 - t**4) - 2.0 * convection * (t - air) - STEFAN_BOLTZMANN * SHEET * (t**4 - air**4))

    return float(brentq(left, min(air, source), max(air, source))) if source > air + 1e-9 else source


def distance(
    source: float, stands: float, *, radius: float, emissivity: float, air: float, convection: float, shielded: bool = False,
    hard: float = 1.0,
) -> float:  # fmt: skip
    """Least gap in m from the skin of a pipe (outside `radius` m, `source` K, `emissivity`) to a thing that `stands` so many K, in
    `air` K with a `convection` W/(m2 K), when the skin is so hot for a share `hard` of the time; `shielded`: with a bright sheet
    between and air on its far side. inf where the air alone is too hot, 0 where nothing need be kept."""
    if stands <= air:
        return float("inf")
    bore = radius
    if shielded:
        source = behind_shield(source, emissivity=emissivity, air=air, convection=convection)
        emissivity, bore = SHEET, radius + SHIELD_GAP + BEHIND

    def over(gap: float) -> float:
        return warmed(source, emissivity=emissivity, view=bore / (bore + gap), air=air, convection=convection, hard=hard) - stands

    if over(0.0) <= 0.0:
        return bore - radius
    if over(FARTHEST) >= 0.0:
        return float("inf")
    return float(brentq(over, 0.0, FARTHEST)) + bore - radius
