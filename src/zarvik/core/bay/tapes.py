"""Where something is by the lengths of tapes from marks whose places are known."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault

TAPE = 0.003  # m that a tape through an engine bay is good to (standard deviation); common practice, no source
CONTRADICT = 3.0  # standard deviations
WEAKEST = 0.2  # m: a place that is not good to that (standard deviation) was not measured
STEPS = 60


@dataclass(frozen=True, eq=False)
class Taped:
    """Where something is by tape: its `place` (3) m; what that is good to in its worst direction (`spread` m, twice the standard
    deviation); by how much (m) the tape that fits worst is `off`; `doubtful`: do the tapes contradict each other?"""

    place: np.ndarray
    spread: float
    off: float
    doubtful: bool


def by_tape(
    marks: np.ndarray, distances: Sequence[float], guess: np.ndarray, height: float | None = None, spreads: Sequence[float] = ()
) -> Taped:
    """Where something is that is `distances` m from `marks` (any number, 3; m), on the side of a `guess` (3) m. With two of them the
    `height` m is needed too. `spreads` m: what the marks themselves are good to (standard deviations). Least squares weighted by
    what tapes and marks are good to (C. F. Gauss 1809; K. Levenberg, Q. Appl. Math. 2 (1944) 164). Raises Fault with too few, with marks on
    one line, or where no place is as far from two of them as it should be."""
    if len(distances) + (height is not None) < 3:
        raise Fault("a place needs three tapes, or two and its height")
    spread = np.hypot(TAPE, np.array(spreads) if len(spreads) else np.zeros(len(distances)))
    for i, k in itertools.combinations(range(len(distances)), 2):
        apart = float(np.linalg.norm(marks[i] - marks[k]))
        short = max(apart - distances[i] - distances[k], abs(distances[i] - distances[k]) - apart)
        if short > CONTRADICT * float(np.hypot(spread[i], spread[k])):
            raise Fault("tapes {0} and {1} cannot both be right: by {2:.0f} mm", i + 1, k + 1, 1e3 * short)

    def misses(place: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        ways = place - marks
        far = np.maximum(np.linalg.norm(ways, axis=1), 1e-9)
        found, slopes = (far - np.array(distances)) / spread, ways / far[:, None] / spread[:, None]
        if height is not None:
            found = np.append(found, (place[1] - height) / TAPE)
            slopes = np.vstack([slopes, [0.0, 1.0 / TAPE, 0.0]])
        return found, slopes

    # A little aside: where the guess lies in the plane of the marks, nothing says to which side
    place = guess + np.array([1.7e-4, 2.3e-4, 3.1e-4])
    found, slopes = misses(place)
    damping = 1e-3
    for _ in range(STEPS):
        normal = slopes.T @ slopes
        step = np.linalg.solve(normal + damping * np.diag(np.diag(normal) + 1.0), -slopes.T @ found)
        trial, trial_slopes = misses(place + step)
        if trial @ trial <= found @ found:
            place, found, slopes, damping = place + step, trial, trial_slopes, damping / 5.0
            if float(np.abs(step).max()) < 1e-9:
                break
        else:
            damping *= 4.0
    weakest = float(np.linalg.eigvalsh(slopes.T @ slopes)[0])
    if weakest < 1.0 / WEAKEST**2:
        raise Fault("the marks lie nearly on one line as seen from there: one of them has to be well beside it")
    off = float(np.abs(found[: len(distances)] * spread).max())
    # What more tapes than three leave over is a chi-square of as many degrees of freedom
    doubtful = float(found @ found) > len(found) - 3 + CONTRADICT**2
    return Taped(place, 2.0 / math.sqrt(weakest), off, doubtful)
