"""A pipe that is there, bought or from a breaker's yard: sawn in at most two places, shortened and turned at the cuts, until it goes from
one flange to another.

note: at a cut in a straight, tube may be taken out and the rest turned; at one in a bend, the last degrees of the bend are taken out.
Least squares by K. Levenberg (1944) and D. W. Marquardt (1963), from many turns at once.
"""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.layout.frame import Frame, miss
from zarvik.core.layout.run import Segment, place_pieces

MOST_CUTS = 2
STARTS = 6  # turns about each cut that are begun with
FILLS = (1.0, 0.2, -0.6)  # how much of what may be taken out is there to begin with, as a sine
STEPS = 25
ARM = 0.15  # m by which a way that is off counts
HOLD = 0.02  # that lengths are kept by while ways are looked for
CLOSED = 2e-4  # m
MOST = 24  # answers
ALIKE = 0.02  # m of tube within which two of them are one
NUDGE = 1e-6


@dataclass(frozen=True)
class SawCut:
    """A cut: the pipe is sawn `at` m from its beginning as it is, `out` m behind that are taken out, the rest is `turn` rad clockwise for
    who looks along it."""

    at: float
    out: float
    turn: float


@dataclass(frozen=True, eq=False)
class Reused:
    """A pipe that has been cut: its `segments` from the first flange on, the `cuts`, m taken off at its beginning (`before`) and end
    (`behind`), and the `gap` m that is left at the end."""

    segments: tuple[Segment, ...]
    cuts: tuple[SawCut, ...]
    before: float
    behind: float
    gap: float

    @property
    def wasted(self) -> float:
        """Tube that is taken out, m."""
        return self.before + self.behind + sum(cut.out for cut in self.cuts)


@dataclass(frozen=True)
class _Chain:
    """A pipe with what may change: `segments`; numbers of those with a cut (`cuts`); of all that may be shorter (`sizes`), between `low`
    and `high` (m, or rad of a bend); `loose`: it may be turned as a whole at its beginning."""

    segments: tuple[Segment, ...]
    cuts: tuple[int, ...]
    sizes: tuple[int, ...]
    low: np.ndarray
    high: np.ndarray
    loose: bool

    @property
    def turns(self) -> int:
        """How many turns are free (a count)."""
        return len(self.cuts) + self.loose

    def values(self, x: np.ndarray) -> np.ndarray:
        """Lengths m and angles rad (starts, sizes) of numbers `x` (starts, turns and sizes)."""
        return self.low + (self.high - self.low) * (0.5 + 0.5 * np.sin(x[:, self.turns :]))

    def ends(self, x: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Where the pipe ends: places (starts, 3) m from its beginning, and axes (starts, 3, 3)."""
        count = len(x)
        place, axes = np.zeros((count, 3)), np.tile(np.eye(3), (count, 1, 1))
        values = self.values(x)
        if self.loose:
            axes = axes @ _about_z(x[:, -1 + self.turns])
        for number, s in enumerate(self.segments):
            size = values[:, self.sizes.index(number)] if number in self.sizes else np.full(count, s.angle if s.bends else s.length)
            if s.roll:
                axes = axes @ _about_z(np.full(count, s.roll))
            if s.bends:
                chord = s.radius * np.column_stack([1.0 - np.cos(size), np.zeros(count), np.sin(size)])
                place = place + np.einsum("nij,nj->ni", axes, chord)
                axes = axes @ _about_y(size)
            else:
                place = place + size[:, None] * axes[:, :, 2]
            if number in self.cuts:
                axes = axes @ _about_z(x[:, self.cuts.index(number)])
        return place, axes


def _about_z(angle: np.ndarray) -> np.ndarray:
    zero, one = np.zeros_like(angle), np.ones_like(angle)
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([np.stack([c, -s, zero], -1), np.stack([s, c, zero], -1), np.stack([zero, zero, one], -1)], -2)


def _about_y(angle: np.ndarray) -> np.ndarray:
    zero, one = np.zeros_like(angle), np.ones_like(angle)
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([np.stack([c, zero, s], -1), np.stack([zero, one, zero], -1), np.stack([-s, zero, c], -1)], -2)


def reused(
    segments: Sequence[Segment], start: Frame, goal: Frame, *, loose: bool = True, least: float = 0.015, progress: Progress = unwatched
) -> tuple[Reused, ...]:
    """How a pipe of these `segments` can be made to go from a frame `start` to a frame `goal`: fewest cuts first, then least taken out;
    none where it cannot. `loose`: it may be turned where it begins, as in a clamp; `least` m of straight that stays beside a weld. Raises
    ValueError for a pipe without a piece."""
    pipe = tuple(s for s in segments if s.length > 0.0)
    if not pipe:
        raise ValueError("a pipe has at least one piece")
    found: list[Reused] = []
    kinds = [cuts for count in range(MOST_CUTS + 1) for cuts in itertools.combinations(range(len(pipe)), count)]
    for number, cuts in enumerate(kinds):
        progress(number / len(kinds))
        chain = _chain(pipe, cuts, least, loose)
        if chain is not None and not any(len(one.cuts) < len(cuts) for one in found):
            found += _answers(chain, start, goal)
    found.sort(key=lambda one: (len(one.cuts), one.wasted))
    return tuple(_different(found))


def _different(found: Sequence[Reused]) -> Iterator[Reused]:
    """The first few that differ."""
    kept: list[Reused] = []
    for one in found:
        places = [cut.at for cut in one.cuts]
        if any(
            all(abs(a - b) < ALIKE for a, b in zip(places, [cut.at for cut in other.cuts], strict=True))
            and abs(one.wasted - other.wasted) < ALIKE
            for other in kept
        ):
            continue
        kept.append(one)
        yield one
        if len(kept) == MOST:
            return


def _chain(pipe: tuple[Segment, ...], cuts: tuple[int, ...], least: float, loose: bool) -> _Chain | None:
    """What may change with these cuts; None where a straight is too short to be cut."""
    ends = {n for n in (0, len(pipe) - 1) if not pipe[n].bends}
    sizes = tuple(sorted(ends | set(cuts)))
    high = np.array([pipe[n].angle if pipe[n].bends else pipe[n].length for n in sizes])
    # A weld is at a cut, at both ends of what is left
    low = np.array([0.1 * h if pipe[n].bends else (2.0 * least if n in cuts else least) for n, h in zip(sizes, high, strict=True)])
    if any(low[k] > high[k] for k, n in enumerate(sizes) if n in cuts):
        return None
    return _Chain(pipe, cuts, sizes, np.minimum(low, high), high, loose)


def _answers(chain: _Chain, start: Frame, goal: Frame) -> Iterator[Reused]:
    """Every way in which a chain closes, from many turns to begin with."""
    place, along = (goal.origin - start.origin) @ start.axes, goal.along @ start.axes
    turns = np.linspace(0.0, 2.0 * math.pi, STARTS, endpoint=False)
    first = np.array(list(itertools.product(turns, repeat=chain.turns))).reshape(STARTS**chain.turns, chain.turns)
    sets = []
    for fill in FILLS:
        x = np.column_stack([first, np.full((len(first), len(chain.sizes)), fill)])
        # With the least taken out, and with more: for what stands in the way of the first
        sets.append(_settled(chain, x, place, along, HOLD, STEPS) if fill == FILLS[0] else x)
    x = _settled(chain, np.vstack(sets), place, along, 0.0, STEPS)
    off = np.linalg.norm(_residuals(chain, x, place, along, 0.0)[:, :6], axis=1)
    kept: list[Reused] = []
    for k in np.argsort(off):
        if off[k] > CLOSED:
            return
        one = _made(chain, x[k], start, goal)
        if all(abs(one.wasted - other.wasted) > ALIKE for other in kept):
            kept.append(one)
            yield one


def _residuals(chain: _Chain, x: np.ndarray, place: np.ndarray, along: np.ndarray, hold: float) -> np.ndarray:
    """By how much ends (of `x`, starts) are off a place m and a way, m, and what is taken out, by `hold` of it."""
    there, axes = chain.ends(x)
    held = hold * (chain.high - chain.values(x))
    return np.column_stack([there - place, ARM * (axes[:, :, 2] - along), held])


def _settled(chain: _Chain, x: np.ndarray, place: np.ndarray, along: np.ndarray, hold: float, steps: int) -> np.ndarray:
    """Numbers `x` (starts, numbers) after so many `steps` towards a place m and a way."""
    damping = np.full(len(x), 1e-3)
    r = _residuals(chain, x, place, along, hold)
    cost = (r * r).sum(axis=1)
    for _ in range(steps):
        slopes = np.empty((*r.shape, x.shape[1]))
        for k in range(x.shape[1]):
            moved = x.copy()
            moved[:, k] += NUDGE
            slopes[:, :, k] = (_residuals(chain, moved, place, along, hold) - r) / NUDGE
        normal = np.einsum("nij,nik->njk", slopes, slopes)
        right = -np.einsum("nij,ni->nj", slopes, r)
        normal += (damping[:, None] * (np.einsum("njj->nj", normal) + 1e-9))[:, :, None] * np.eye(x.shape[1])
        step = np.clip(np.linalg.solve(normal, right[:, :, None])[:, :, 0], -0.7, 0.7)
        trial = _residuals(chain, x + step, place, along, hold)
        less = (trial * trial).sum(axis=1)
        better = less < cost
        x, r, cost = np.where(better[:, None], x + step, x), np.where(better[:, None], trial, r), np.where(better, less, cost)
        damping = np.clip(np.where(better, 0.3 * damping, 5.0 * damping), 1e-9, 1e6)
    return x


def _made(chain: _Chain, x: np.ndarray, start: Frame, goal: Frame) -> Reused:
    """The pipe of a chain with the numbers `x`."""
    values = dict(zip(chain.sizes, (float(v) for v in chain.values(x[None])[0]), strict=True))
    segments: list[Segment] = []
    cuts: list[SawCut] = []
    along, turn = 0.0, float(x[chain.turns - 1]) if chain.loose else 0.0
    for number, s in enumerate(chain.segments):
        size = values.get(number, s.angle if s.bends else s.length)
        s, turn = dataclasses.replace(s, roll=math.remainder(s.roll + turn, 2.0 * math.pi)), 0.0
        if number in chain.cuts and any(later.bends for later in chain.segments[number + 1 :]):
            turn = math.remainder(float(x[chain.cuts.index(number)]), 2.0 * math.pi)
        if s.bends:
            segments.append(dataclasses.replace(s, angle=size, length=s.radius * size))
            if number in chain.cuts:
                cuts.append(SawCut(along + s.radius * size, s.radius * (s.angle - size), turn))
        elif number in chain.cuts:
            half = 0.5 * size
            segments += [dataclasses.replace(s, length=half), dataclasses.replace(s, id=f"{s.id}-2", length=half, roll=turn)]
            cuts.append(SawCut(along + half, s.length - size, turn))
            turn = 0.0
        else:
            segments.append(dataclasses.replace(s, length=size))
        along += s.length
    before = chain.segments[0].length - values[0] if 0 in values and 0 not in chain.cuts else 0.0
    end = len(chain.segments) - 1
    behind = chain.segments[end].length - values[end] if end in values and end not in chain.cuts and end else 0.0
    missed = miss(place_pieces(segments, start)[-1].last, goal)
    return Reused(tuple(_rolled(segments)), tuple(cuts), before, behind, math.hypot(missed.gap, missed.offset))


def _rolled(segments: Sequence[Segment]) -> Iterator[Segment]:
    """The pieces with what straights are turned as a roll of the bends behind them: a straight has none that anybody sees."""
    roll = 0.0
    for s in segments:
        roll = math.remainder(roll + s.roll, 2.0 * math.pi)
        yield dataclasses.replace(s, roll=roll if s.bends else 0.0)
        roll = 0.0 if s.bends else roll
