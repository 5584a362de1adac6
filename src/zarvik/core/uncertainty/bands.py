"""Bands of answers: how far each may lie from its value, and what moves it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from zarvik.core.uncertainty.levers import UncertainInput

POWER, THRESHOLD, CHARGE, GAS, AIR = "power", "threshold", "charge", "gas", "air"
MARGIN = "margin:"
"""Before the key of a check: its margin."""


@dataclass(frozen=True)
class InputEffect:
    """What a lever does to the answers: change by name of the answer when the input goes `down` and
    `up` by what it is good to (SI)."""

    lever: UncertainInput
    down: dict[str, float]
    up: dict[str, float]


@dataclass(frozen=True)
class Band:
    """How far an answer may lie `below` and `above` its value, 19 times out of 20 (SI, both
    positive). `own`: share (0–1) of its square that is the model's own. `lever`: what moves it most."""

    below: float
    above: float
    own: float
    lever: UncertainInput | None = None

    @property
    def half(self) -> float:
        """Half of its width."""
        return 0.5 * (self.below + self.above)


@dataclass(frozen=True, eq=False)
class Bands:
    """Bands by name of the answer, the `shifts` that they were made of, and the answers in the `middle`
    of them (SI)."""

    bands: dict[str, Band]
    shifts: tuple[InputEffect, ...]
    middle: dict[str, float]

    def of(self, name: str) -> Band | None:
        """The band of an answer, None where there is none."""
        return self.bands.get(name)


def combined_bands(found: Iterable[InputEffect], middle: dict[str, float]) -> Bands:
    """The shifts of all levers together, as bands round the answers in the `middle` (SI)."""
    every = tuple(found)
    names = {name for shift in every for name in shift.up}
    return Bands({name: _band(name, every) for name in names}, every, middle)


def _band(name: str, every: tuple[InputEffect, ...]) -> Band:
    below = above = own = whole = most = 0.0
    lever = None
    for shift in every:
        one, two = shift.down.get(name, 0.0), shift.up.get(name, 0.0)
        above += max(one, two, 0.0) ** 2
        below += min(one, two, 0.0) ** 2
        square = 0.25 * (abs(one) + abs(two)) ** 2
        whole += square
        if not shift.lever.about:
            own += square
        if square > most:
            most, lever = square, shift.lever
    return Band(math.sqrt(below), math.sqrt(above), own / whole if whole > 0.0 else 0.0, lever)


def narrowing(bands: Bands, shares: Mapping[str, float]) -> dict[str, float]:
    """How much narrower half of each band becomes (SI) when the uncertainty of some levers, by key, shrinks to
    `shares` (0–1) of what it is."""
    found = {}
    shifts = [(s, 1.0 - shares[s.lever.key] ** 2) for s in bands.shifts if s.lever.key in shares]
    for name, band in bands.bands.items():
        above, below = band.above**2, band.below**2
        for shift, gone in shifts:
            one, two = shift.down.get(name, 0.0), shift.up.get(name, 0.0)
            above -= gone * max(one, two, 0.0) ** 2
            below -= gone * min(one, two, 0.0) ** 2
        left = 0.5 * (math.sqrt(max(above, 0.0)) + math.sqrt(max(below, 0.0)))
        found[name] = band.half - left
    return found
