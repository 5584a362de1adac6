"""Hoses and clamps that a solved design needs."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator

from zarvik.core.checks.case import Case
from zarvik.core.common.sentences import Figure, Filling, Sentence, message
from zarvik.core.connections import row as r
from zarvik.core.connections.rules import REACHED
from zarvik.core.joints.hose_joints import CLAMPS, end_force, margin
from zarvik.core.recommendations.recommendation import Recommendation

JOINTS = "joints"
WORM_ENDS = 0.7e5  # Pa gauge from where a worm drive is not trusted on a charge pipe; common practice, no source
STEP = 1.0e-3  # m within which two ends take one hose
# Inside, m, as hoses are sold; one is drawn over a tube that is so much of it wider, or clamped on one that is so much narrower.
# Common practice, no source
SOLD = tuple(1e-3 * d for d in (32, 35, 38, 41, 45, 48, 51, 54, 57, 60, 63, 65, 68, 70, 73, 76, 80, 83, 85, 89, 95, 102, 108, 114, 127))
WIDER, NARROWER = 0.04, 0.012


def sold_hose(end: float) -> float:
    """Inside of the hose in m that is sold for a tube whose outside is an `end` in m; the end itself where none is."""
    fit = [size for size in SOLD if size * (1.0 - NARROWER) <= end <= size * (1.0 + WIDER)]
    return min(fit, key=lambda size: abs(size - end), default=end)


def _named(size: float, number: int) -> Sentence:
    """So many hoses of a size in m; the sizes about it that are sold where none of that size is."""
    about = {"below": max((s for s in SOLD if s < size), default=0.0), "above": min((s for s in SOLD if s > size), default=0.0)}
    near = {name: Figure(s, "length") for name, s in about.items() if s > 0.0}
    words = (
        "{count} for {size}"
        if size in SOLD
        else ("{count} for {size}, a size that is not sold: bring the end to " + " or ".join(f"{{{name}}}" for name in near))
    )
    return message(words, count=str(number), size=Figure(size, "length"), **near)


def of_joints(case: Case) -> Iterator[Recommendation]:
    """The hoses of every size that joins two ends, and the clamp that holds the worst of them."""
    hosed = [x for x in case.build.connections if x.kind == r.JOINT and x.made == r.HOSED and x.diameter > 0.0 and not x.lost]
    if not hosed:
        return
    count: Counter[float] = Counter()
    for x in sorted(hosed, key=lambda x: x.diameter):
        hose = sold_hose(x.diameter)
        count[next((size for size in count if abs(hose - size) <= STEP), hose)] += 1
    names = [_named(size, number) for size, number in sorted(count.items())]
    fillings: dict[str, Filling] = {f"n{i}": name for i, name in enumerate(names)}
    hot = max(x.temperature for x in hosed)
    sort = (
        (message("four-layer silicone") if hot < 473.15 else message("heat-lined silicone"))
        if hot > 373.15
        else message("silicone, or fabric-reinforced rubber")
    )
    yield Recommendation(
        JOINTS,
        "Hoses",
        max(count),
        message(
            ", ".join(f"{{n{i}}}" for i in range(len(names))) + ": {sort}, {hot} at most, on beaded ends",
            sort=sort,
            hot=Figure(hot, "temperature"),
            **fillings,
        ),
    )
    worst = max(hosed, key=lambda x: x.pressure * x.diameter**2)
    for key in ("worm", "tbolt"):
        left = margin(CLAMPS[key], pressure=worst.pressure, diameter=worst.diameter, oily=True, bead=True)
        if left >= REACHED and (key != "worm" or worst.pressure <= WORM_ENDS):
            words = (
                "{count} × {clamp}, behind a bead: worst separating force {force}, it holds {times} times that"
                if left < 9.0
                else ("{count} × {clamp}, behind a bead: worst separating force {force}, which is little")
            )
            yield Recommendation(
                JOINTS,
                "Clamps",
                worst.diameter,
                message(
                    words,
                    count=str(2 * len(hosed)),
                    clamp=message(CLAMPS[key].title),
                    times=f"{left + 1.0:.1f}",
                    force=Figure(end_force(worst.pressure, worst.diameter), "force"),
                ),
            )
            return
    yield Recommendation(
        JOINTS,
        "Clamps",
        math.nan,
        message(
            "No hose clamp holds {pressure} at {size}: use a V-band or a flange",
            pressure=Figure(worst.pressure, "pressure_gauge"),
            size=Figure(worst.diameter, "length"),
        ),
    )
