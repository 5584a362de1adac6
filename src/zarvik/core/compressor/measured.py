"""A compressor from what one can hold in the hand: its map by the mean line, the nearest known one, and a
map scaled to another size."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from zarvik.core.common.sentences import Fault
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.compressor.meanline import Wheel, generate

# What a map from two diameters is good to, 19 times out of 20: flow as a share, efficiency in points, speed
# as a share (the wheel's backsweep, width and housing are not measured; from memory, no source).
FLOW, POINTS, SPEED = 0.08, 0.04, 0.05
# And one that is scaled from a wheel of the same shape (Reynolds number, clearances; from memory)
SCALED_FLOW, SCALED_POINTS = 0.04, 0.02
TRIMS = (30.0, 75.0)  # of wheels that are made; common practice, no source
SIZES = ("inducer", "exducer", "turbine_wheel", "turbine_exducer")
"""What identifies a turbo: diameters in m, of the compressor at its inlet and outlet, of the turbine."""
WORN = 0.004  # share by which two measurements of one wheel differ


def trim(inducer: float, exducer: float) -> float:
    """Trim of a wheel from its diameters in m: 100 times the square of inducer over exducer."""
    return 100.0 * (inducer / exducer) ** 2


def check_wheel(inducer: float, exducer: float) -> None:
    """Raises Fault when `inducer` and `exducer` in m are those of no compressor wheel."""
    if not inducer < exducer:
        raise Fault("the inducer must be smaller than the exducer: {0:.1f} mm and {1:.1f} mm were given", 1e3 * inducer, 1e3 * exducer)
    found = trim(inducer, exducer)
    if not TRIMS[0] <= found <= TRIMS[1]:
        raise Fault("a trim of {0:.0f} is not made ({1:.0f} to {2:.0f}): measure again", found, *TRIMS)


@lru_cache(64)
def map_of_wheel(inducer: float, exducer: float, name: str) -> CompressorMap:
    """The map of a wheel by the mean line, from its `inducer` and `exducer` in m, called `name`.

    Raises Fault for no wheel. Good to FLOW, POINTS and SPEED.
    """
    check_wheel(inducer, exducer)
    return generate(Wheel(inducer, exducer), name)


def scaled(chart: CompressorMap, factor: float, name: str) -> CompressorMap:
    """The map of a wheel of the same shape that is `factor` (0.5 to 2) times as large, called `name`: at the same
    tip speed ratio and efficiency stay, the flow goes with the square, the speed with the inverse.

    Source: similarity of turbomachines at equal Mach numbers, Reynolds numbers left aside (Dixon & Hall
    2010, sec. 2.9). Raises Fault outside of 0.5 to 2.
    """
    if not 0.5 <= factor <= 2.0:
        raise Fault("a map cannot be scaled by {0:.2f}: 0.5 to 2 is the range", factor)
    lines = tuple(
        dataclasses.replace(line, speed=line.speed / factor, flow=tuple(m * factor**2 for m in line.flow)) for line in chart.lines
    )
    return dataclasses.replace(chart, name=name, maximum_speed=chart.maximum_speed / factor, lines=lines)


def inducer_of(trim: float, exducer: float) -> float:
    """Inducer in m of a wheel by its `trim` and `exducer` in m, as a wheel is often said."""
    return exducer * math.sqrt(trim / 100.0)


@dataclass(frozen=True)
class TurboMounting:
    """What a turbo is bolted to and where it came from, as words; empty where it is not known. `bolts`: between
    the holes of the inlet flange along its longer side, m, 0 for not measured."""

    flange: str = ""
    bolts: float = 0.0
    gate: str = ""
    cooling: str = ""
    donor: str = ""


@dataclass(frozen=True)
class NearestTurbo:
    """A known turbo beside measured diameters: its `key`, how far the worst diameter is off (share), `off`: by
    how much each measured one is larger than its own, in m, and what of the fit is `unlike` or `alike` (names of
    Fits)."""

    key: str
    worst: float
    off: dict[str, float]
    unlike: tuple[str, ...] = ()
    alike: tuple[str, ...] = ()

    @property
    def fits(self) -> bool:
        """Is it the same within what callipers and wear take?"""
        return bool(self.off) and self.worst <= WORN and not self.unlike


UNLIKE = 0.02  # what each thing that does not fit counts as, beside the worst diameter (share)
BOLTS = 1.5e-3  # m within which two bolt patterns are one


def _compared(said: TurboMounting, own: TurboMounting) -> tuple[list[str], list[str]]:
    """Names of what is unlike and alike of two fits, where both are known."""
    unlike: list[str] = []
    alike: list[str] = []
    for name in ("flange", "gate", "cooling"):
        one, two = getattr(said, name), getattr(own, name)
        if one and two:
            (alike if one == two else unlike).append(name)
    if said.bolts > 0.0 and own.bolts > 0.0:
        (alike if abs(said.bolts - own.bolts) <= BOLTS else unlike).append("bolts")
    words = {w for w in said.donor.lower().replace(",", " ").split() if len(w) > 1}
    if words and own.donor:
        both = words & set(own.donor.lower().replace(",", " ").split())
        # Half of the words that were said: the same engine in another's words.
        (alike if 2 * len(both) >= len(words) else unlike).append("donor")
    return unlike, alike


def identify(
    measured: Mapping[str, float],
    known: Mapping[str, Mapping[str, float]],
    said: TurboMounting = TurboMounting(),
    fits: Mapping[str, TurboMounting] | None = None,
) -> tuple[NearestTurbo, ...]:
    """The `known` turbos by key, nearest first, to `measured` diameters in m (names from SIZES; what was
    not measured is left out) and to what is `said` of flange, gate, cooling and donor against their `fits`."""
    found = []
    for key, sizes in known.items():
        both = [name for name in SIZES if name in measured and name in sizes]
        unlike, alike = _compared(said, (fits or {}).get(key, TurboMounting()))
        if not both and not unlike and not alike:
            continue
        off = {name: measured[name] - sizes[name] for name in both}
        worst = max((abs(off[n]) / sizes[n] for n in both), default=0.0)
        found.append(NearestTurbo(key, worst, off, tuple(unlike), tuple(alike)))
    return tuple(sorted(found, key=lambda n: n.worst + UNLIKE * (len(n.unlike) - 0.5 * len(n.alike))))
