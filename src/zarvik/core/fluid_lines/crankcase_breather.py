"""Gas past the piston rings: how much, and what pressure it makes under the pistons on its way out through the hoses.

note: f friction factor, the larger of 64 / Re and Blasius' 0.3164 / Re^0.25; K of entry, exit, bends, can on the head in the bore.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.common.numerics import brentq
from zarvik.core.ducts.element import circle

# Of the air that the engine draws at full load; common practice, no source: 0.5 to 1 % of a fresh engine, past 3 % it is worn out
PAST = {"fresh": 0.008, "used": 0.015, "worn": 0.03}
WARM = 363.0  # K of that gas; common practice, no source
VISCOSITY = 2.1e-5
HOSE_K = 0.5 + 1.0 + 2.0 * 0.3  # entry, exit, two bends
CAN_K = 4.0  # of a can with baffles, on the head in its hose; common practice, no source
ENDS = {
    "inlet": "To the pipe before the compressor",
    "can": "Vented catch can",
    "both": "Catch can, then before the compressor",
    "open": "Vented to atmosphere",
}


@dataclass(frozen=True)
class Breather:
    """Crankcase ventilation: `ring_condition` (key of `PAST`), measured `blow_by` in kg/s (0 where it was not measured), `hoses` in
    parallel of a `bore` and `length` in m, and their `outlet` (key of `ENDS`)."""

    ring_condition: str = "used"
    blow_by: float = 0.0
    hoses: int = 1
    bore: float = 0.0
    length: float = 0.6
    outlet: str = "can"


def blow_by(breather: Breather, air: float) -> float:
    """kg/s past the rings of an engine that draws `air` kg/s at full load: measured, or a share by how its rings of the `breather` are."""
    return breather.blow_by or PAST[breather.ring_condition] * air


def friction(reynolds: float) -> float:
    """Darcy friction factor of a smooth hose over its Reynolds number: 64 / Re, or Blasius where that is more."""
    reynolds = max(reynolds, 1e-9)
    return max(64.0 / reynolds, 0.3164 / reynolds**0.25)


def hose_drop(flow: float, bore: float, length: float, more: float, pressure: float) -> float:
    """Pa that `flow` kg/s of warm gas loses in a hose of `bore` and `length` m with losses `more` (coefficients) on its way to absolute
    `pressure` Pa: the gas keeps its temperature and thins out on the way (isothermal flow of a long pipe)."""
    if flow <= 0.0:
        return 0.0
    density = pressure / (DRY_AIR_GAS_CONSTANT * WARM)
    speed = flow / (density * circle(bore))
    thick = (friction(density * speed * bore / VISCOSITY) * length / bore + more) * 0.5 * density * speed**2
    return 2.0 * thick / (1.0 + math.sqrt(1.0 + 2.0 * thick / pressure))


def _losses(breather: Breather) -> float:
    return HOSE_K + (CAN_K if breather.outlet in ("can", "both") else 0.0)


def crankcase(breather: Breather, *, air: float, ambient: float, inlet: float) -> float:
    """Pa gauge under the pistons of an engine that draws `air` kg/s through a `breather`, when the pipe before the compressor stands at
    absolute `inlet` Pa and the day at `ambient` Pa."""
    drop = hose_drop(blow_by(breather, air) / max(breather.hoses, 1), breather.bore, breather.length, _losses(breather), ambient)
    return drop + (inlet - ambient if breather.outlet in ("inlet", "both") else 0.0)


def bore_for(breather: Breather, *, air: float, ambient: float, inlet: float, most: float) -> float:
    """Bore in m of as many hoses that keep the crankcase at `most` Pa gauge; the rest as `crankcase` (`breather`, `air` kg/s, `ambient` and
    `inlet` Pa). nan where none up to 0.2 m does."""
    each = blow_by(breather, air) / max(breather.hoses, 1)
    allowed = most - (inlet - ambient if breather.outlet in ("inlet", "both") else 0.0)

    def over(bore: float) -> float:
        return hose_drop(each, bore, breather.length, _losses(breather), ambient) - allowed

    if allowed <= 0.0 or over(0.2) > 0.0:
        return float("nan")
    return float(brentq(over, 1e-3, 0.2)) if over(1e-3) > 0.0 else 1e-3
