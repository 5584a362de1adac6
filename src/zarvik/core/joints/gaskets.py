"""What lies between two flanges: layers of gasket and spacer, what they stand, and how much heat they hold back.

note: heat goes through the layers in a row, t over k each, and past them through the bolts, which bridge every barrier.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from zarvik.core.common.constants import AIR_CP
from zarvik.core.ducts.element import circle

CONTACT = 1.0e-4  # m2 K/W of a face that is bolted dry; Incropera, table 3.1, 0.5 to 5e-4 (memory)
BOLT_STEEL = 45.0  # W/(m K)


@dataclass(frozen=True)
class LayerMaterial:
    """What a layer is of: `title`, conductivity `k` W/(m K), K that it `stands` for long, does it creep away under its bolts
    (`settles`)."""

    title: str
    k: float
    stands: float
    settles: bool = False


# Conductivities: common tables (memory); what they stand: common practice, no source
STUFFS: dict[str, LayerMaterial] = {
    "paper": LayerMaterial("Paper or cork", 0.15, 393.0, True),
    "fibre": LayerMaterial("Pressed fibre", 0.30, 523.0, True),
    "graphite": LayerMaterial("Graphite on perforated steel", 5.0, 723.0),
    "steel": LayerMaterial("Multi-layer steel", 16.0, 1073.0),
    "copper": LayerMaterial("Copper", 390.0, 923.0),
    "phenolic": LayerMaterial("Phenolic spacer", 0.30, 423.0, True),
    "plastic": LayerMaterial("Glass-filled nylon", 0.30, 403.0, True),
    "ceramic": LayerMaterial("Ceramic fibre board", 0.12, 1273.0, True),
    "aluminium": LayerMaterial("Aluminium spacer", 160.0, 523.0),
    "silicone": LayerMaterial("Silicone sealant", 0.25, 503.0),
}


@dataclass(frozen=True)
class GasketLayer:
    """A layer of a `stuff` (key), `thick` m."""

    stuff: str
    thick: float


def resistance(layers: Sequence[GasketLayer]) -> float:
    """m2 K/W of `layers` in a row between two faces, with a contact at each face and between any two."""
    return sum(x.thick / STUFFS[x.stuff].k for x in layers) + CONTACT * (len(layers) + 1)


def joint_conductance(layers: Sequence[GasketLayer], *, area: float, bolts: int, thread: float) -> float:
    """W/K through `layers` of `area` m2 and through so many steel `bolts` of a `thread` (m across) that bridge them."""
    through = area / resistance(layers)
    long = sum(x.thick for x in layers) + 2.0 * thread  # what is stretched: as much again in both flanges
    return through + bolts * BOLT_STEEL * circle(thread) / long


class ChargeWarming(NamedTuple):
    """By how many K the charge is `warmed`, the manifold's `metal` in K, the `heat` in W, and W/K of the
    joint (`conductance`) and that the charge takes up (`takes`)."""

    warmed: float
    metal: float
    heat: float
    conductance: float
    takes: float


def charge_warming(conductance: float, *, hot: float, charge: float, inside: float, flow: float, cp: float = AIR_CP) -> ChargeWarming:
    """What a hot flange does to the charge: heat through a joint of `conductance` W/K from a `hot` flange into the
    metal, and from that with `inside` W/K into `flow` kg/s of `charge` (K) of heat capacity `cp`."""
    stream = flow * cp
    # The charge takes up heat along the metal: as an exchanger with one side at one temperature
    takes = stream * (1.0 - math.exp(-inside / stream)) if stream > 0.0 else 0.0
    heat = (hot - charge) / (1.0 / conductance + 1.0 / takes) if takes > 0.0 else 0.0
    return ChargeWarming(heat / stream if stream > 0.0 else 0.0, hot - heat / conductance, heat, conductance, takes)


def weakest_layer(layers: Sequence[GasketLayer]) -> GasketLayer | None:
    """The layer that stands the least heat; None of none."""
    return min(layers, key=lambda x: STUFFS[x.stuff].stands, default=None)
