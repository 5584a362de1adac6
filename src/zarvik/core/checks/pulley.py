"""Other pulleys for a blower, as cures try them: sizes that can be had."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

from zarvik.core.checks.check_result import Change
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.engine.belt import TOOTH_PITCH, TOOTHED
from zarvik.core.engine.blower import Blower
from zarvik.core.stock.sizes import PULLEY_STEP, PULLEYS, TEETH, pulley_ratio


def with_smaller_pulleys(blower: Blower) -> Iterator[tuple[Blower, Sentence, Change]]:
    """The blower with smaller pulleys, one after the other, in words and as an edit."""
    yield from _others(blower, smaller=True)


def with_larger_pulleys(blower: Blower) -> Iterator[tuple[Blower, Sentence, Change]]:
    """The blower with larger pulleys, one after the other, in words and as an edit."""
    yield from _others(blower, smaller=False)


def _others(blower: Blower, *, smaller: bool) -> Iterator[tuple[Blower, Sentence, Change]]:
    belt = blower.belt
    if belt is None or not blower.by_pulley:
        first = pulley_ratio(blower.ratio)
        for step in range(1, 25):
            ratio = round(first + (step if smaller else 1 - step) * PULLEY_STEP, 4)
            if ratio <= 0.3 or (ratio - blower.ratio) * (1 if smaller else -1) <= 0.0:
                continue
            words = message(
                "A smaller blower pulley: drive ratio {ratio} instead of {now}"
                if smaller
                else "A larger blower pulley: drive ratio {ratio} instead of {now}; less air at every speed",
                ratio=Figure(ratio, "number"),
                now=Figure(blower.ratio, "number"),
            )
            yield dataclasses.replace(blower, ratio=ratio), words, Change("blower.drive_ratio", ratio)
        return
    if belt.kind == TOOTHED:
        sizes = [(n * TOOTH_PITCH / math.pi, n) for n in TEETH]
    else:
        sizes = [(d, 0) for d in PULLEYS]
    fits = [s for s in sizes if (s[0] < belt.blower - 1e-6 if smaller else s[0] > belt.blower + 1e-6)]
    for size, teeth in sorted(fits, reverse=smaller):
        other = dataclasses.replace(belt, blower=size)
        changed = dataclasses.replace(blower, belt=other, ratio=other.ratio)
        if teeth:
            words = message("{teeth} blower teeth instead of {now}", teeth=str(teeth), now=f"{belt.blower * math.pi / TOOTH_PITCH:.0f}")
            yield changed, words, Change("blower.teeth", float(teeth))
        else:
            words = message("A {size} blower pulley instead of {now}", size=Figure(size, "length"), now=Figure(belt.blower, "length"))
            yield changed, words, Change("blower.pulley", size)
