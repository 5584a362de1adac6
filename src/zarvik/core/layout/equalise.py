"""Runs made to end where they must, and to be as long as each other, in steps that can be cut and marked.

Ends follow from a chain of screws: a straight moves all behind it along its way, a bend turns it about its own centre, a
roll about its way. The continuous problem is least squares; the steps are a closest-vector problem, rounded by L. Babai,
Combinatorica 6 (1986) 1.
"""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.layout.clash import self_clearance, trace
from zarvik.core.layout.frame import Frame, Misalignment, miss
from zarvik.core.layout.kinematics import chain_end, chain_miss, reduce_basis, solve_chain
from zarvik.core.layout.run import FIXED, SHORTER, Segment, place_pieces, straight
from zarvik.core.layout.run import bend as bend_of

CLOSING = 5  # numbers that bring an end to its place and direction
LENGTH, ANGLE, ROLL = "length", "angle", "roll"
# What one unit of a residual is: 0.1 mm of place, 0.1° of direction, 0.3 mm of length
PLACE, WAY, LONG = 1e-4, math.radians(0.1), 3e-4
SHORT = 3.0  # what a metre of length counts where none is asked for
SMALL = math.radians(5.0)  # a bend that is none
LONGEST = 0.6  # m of a straight
GOOD = Misalignment(0.0005, 0.0005, math.radians(0.5))  # what a fixture shows and a file takes off; common practice
FINE, FINE_ANGLE = 1e-4, math.radians(0.1)  # in which a last piece is cut to fit
HOPELESS = 20.0  # times as far off as what closes: 10 mm or 10° that no rounding brings back
ROUNDS = 5  # of rounding
STIFF = (3.0, 10.0, 1.0, 30.0)  # how strongly it stays near where it was, tried in turn
SEED = 7
ONE_RADIUS = 5e-4  # m within which radii are one
BESIDE = (0, 1, -1, 2)  # whole blocks beside the nearest number of them, the likeliest first
COMBINATIONS = 400  # of numbers of blocks that are tried
EQUAL = 0.006  # of its length that a run may miss the one that is aimed at


@dataclass(frozen=True)
class Steps:
    """Steps of what is changed: `length` m, `angle` rad of bends, `roll` rad; 0: free. `blocks`: lengths and arcs in whole
    pieces of so many m, all but the last straight and bend; 0: none. `arcs`: centreline radii in m with the rad that a block of that
    radius turns, where its arc is not as long as a straight block. `least`: shortest straight in m."""

    length: float = 0.001
    angle: float = math.radians(1.0)
    roll: float = math.radians(1.0)
    blocks: float = 0.0
    arcs: tuple[tuple[float, float], ...] = ()
    least: float = 0.005

    def arc(self, radius: float) -> float:
        """What a block with a centreline `radius` in m turns, rad; 0 without blocks."""
        return next((turn for of, turn in self.arcs if abs(of - radius) < ONE_RADIUS), self.blocks / radius)


@dataclass(frozen=True)
class FreeVariables:
    """What may be changed: lengths of straights, angles of bends, rolls."""

    length: bool = True
    angle: bool = True
    roll: bool = True


@dataclass(frozen=True)
class FittingTask:
    """A run that is to be fitted: its `segments` from the frame `start` to the frame `goal`."""

    segments: tuple[Segment, ...]
    start: Frame
    goal: Frame


@dataclass(frozen=True)
class FittedRun:
    """A run that was fitted: its `segments`, how its end still misses (`missed`) and its `length` m."""

    segments: tuple[Segment, ...]
    missed: Misalignment
    length: float

    @property
    def closes(self) -> bool:
        """Within half a millimetre and half a degree?"""
        m = self.missed
        return abs(m.gap) <= GOOD.gap and m.offset <= GOOD.offset and m.angle <= GOOD.angle

    @property
    def worth(self) -> float:
        """How far off it is: 1 at the edge of what closes."""
        return _worth(self.missed.gap, self.missed.offset, self.missed.angle)


def _worth(gap: float, offset: float, angle: float) -> float:
    return max(abs(gap) / GOOD.gap, offset / GOOD.offset, angle / GOOD.angle)


class _Chain:
    """A run as a function of what may change in it."""

    def __init__(self, task: FittingTask, allowed: FreeVariables, steps: Steps, trim: bool = False, as_it_is: bool = False) -> None:
        """With `trim` the last straight and bend are cut to fit: a tenth of a mm, of a degree; `as_it_is`: bends that are there can only be
        cut shorter, hoses and castings keep their turn."""
        self.task = task
        self.variables: list[tuple[int, str]] = []
        low, high, unit, step, now = [], [], [], [], []
        last = max((i for i, s in enumerate(task.segments) if not s.bends and not s.held), default=-1)
        last_bend = max((i for i, s in enumerate(task.segments) if s.bends and not s.held), default=-1)
        self.last = last, last_bend
        block = steps.blocks

        def add(i: int, what: str, value: float, least: float, most: float, size: float, by: float) -> None:
            self.variables.append((i, what))
            now.append(value)
            low.append(min(least, value))
            high.append(max(most, value))
            unit.append(size)
            step.append(by)

        for i, s in enumerate(task.segments):
            if s.held or s.kind == "gap" or (as_it_is and s.turns == FIXED and s.kind != "hose"):
                continue
            if s.bends:
                if allowed.roll:
                    by = FINE_ANGLE if trim and i == last_bend else steps.roll or math.radians(0.01)
                    add(i, ROLL, s.roll, -4.0 * math.pi, 4.0 * math.pi, math.radians(30.0), by)
                if allowed.angle and not (as_it_is and s.turns == FIXED):
                    by = steps.arc(s.radius) if block and i != last_bend else steps.angle or math.radians(0.01)
                    by = FINE_ANGLE if trim and i == last_bend else by
                    add(i, ANGLE, s.angle, SMALL, s.angle if as_it_is and s.turns == SHORTER else math.pi, math.radians(30.0), by)
            elif allowed.length:
                by = block if block and i != last else steps.length or 1e-5
                by = FINE if trim and i == last else by
                add(i, LENGTH, s.length, min(steps.least, s.length), LONGEST, 0.05, by)
        pieces = task.segments
        size_of, roll_of = np.full(len(pieces), -1), np.full(len(pieces), -1)
        for number, (i, what) in enumerate(self.variables):
            (roll_of if what == ROLL else size_of)[i] = number
        self.chain = (
            np.array([int(s.bends) for s in pieces], np.int64),
            np.array([s.radius for s in pieces], float),
            np.array([s.angle if s.bends else s.length for s in pieces], float),
            np.array([s.roll for s in pieces], float),
            size_of,
            roll_of,
        )
        self.first = np.vstack([task.start.origin, task.start.axes.T])
        self.goal = np.array([task.goal.origin, task.goal.along])
        self.low, self.high = np.array(low), np.array(high)
        self.unit, self.step, self.now = np.array(unit), np.array(step), np.array(now)

    def made(self, values: np.ndarray) -> tuple[Segment, ...]:
        """The run with these `values` (m, rad)."""
        found = list(self.task.segments)
        for (i, what), value in zip(self.variables, values, strict=True):
            s = found[i]
            if what == ROLL:
                found[i] = dataclasses.replace(s, roll=math.remainder(float(value), 2.0 * math.pi))
            elif what == ANGLE:
                found[i] = dataclasses.replace(s, angle=float(value), length=s.radius * float(value))
            else:
                found[i] = dataclasses.replace(s, length=float(value))
        return tuple(found)

    def walked(self, values: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Residuals for `values` (m, rad): place, way, length (as it is) in their units, and their derivatives."""
        end, jacobian = np.zeros((4, 3)), np.zeros((7, len(self.variables)))
        length = chain_end(*self.chain, np.asarray(values, float), self.first, end, jacobian)
        scale = np.array([PLACE] * 3 + [WAY] * 3 + [LONG])
        residual = np.array([*(end[0] - self.goal[0]), *(end[3] - self.goal[1]), length]) / scale
        return residual, jacobian / scale[:, None]

    def settled(self, begin: np.ndarray, length: float, keep: float) -> np.ndarray:
        """The values (m, rad), from `begin`, for a `length` in m, as if there were no steps; `keep`: how strongly they stay."""
        values = begin
        # Ends that are held loosely first: on a narrow ridge every step is a small one.
        for loose in (300.0, 30.0, 3.0, 1.0):
            weights = np.array([1.0 / PLACE / loose, 1.0 / WAY / loose, 1.0 / LONG / loose if length else SHORT, keep])
            values = solve_chain(*self.chain, values, begin, self.first, self.goal, self.low, self.high, self.unit, length, weights, 40)
        return values

    def measured(self, values: np.ndarray) -> tuple[float, float]:
        """How far off the run is with these `values` (m, rad), 1 at the edge of what closes, and its length in m."""
        gap, offset, angle, length = chain_miss(*self.chain, np.asarray(values, float), self.first, self.goal)
        return _worth(gap, offset, angle), length

    def fitted(self, values: np.ndarray) -> FittedRun:
        """The run with these `values` (m, rad), measured anew piece by piece."""
        segments = self.made(values)
        end = place_pieces(segments, self.task.start)[-1].last if segments else self.task.start
        return FittedRun(segments, miss(end, self.task.goal), sum(s.length for s in segments))


def fit(
    task: FittingTask,
    *,
    length: float = 0.0,
    allowed: FreeVariables = FreeVariables(),
    steps: Steps = Steps(),
    tries: int = 4,
    keep: float = 0.02,
    as_it_is: bool = False,
) -> FittedRun:
    """A run made to end in its goal, and of that `length` (m; 0: whatever comes short of it), by changing what is
    `allowed` in `steps`; from where it stands and from `tries` other beginnings, the nearest to how it was taken that
    closes. Where whole steps do not close, the last straight and bend are cut to fit. `keep`: how strongly it stays as it
    was; `as_it_is`: of the bends that are there, which can only be cut shorter, hoses that keep their turn, and castings as they are. What
    does not close comes back as near as it came."""
    found = _fit(_Chain(task, allowed, steps, as_it_is=as_it_is), length, tries, keep)
    if found.closes or tries == 0 or found.worth > HOPELESS:
        return found
    trimmed = _fit(_Chain(task, allowed, steps, trim=True, as_it_is=as_it_is), length, tries, keep)
    return trimmed if _score(trimmed.worth, trimmed.length, length) < _score(found.worth, found.length, length) else found


def _fit(chain: _Chain, length: float, tries: int, keep: float) -> FittedRun:
    if not chain.variables:
        return chain.fitted(chain.now)
    random = np.random.default_rng(SEED)
    best: FittedRun | None = None
    far: list[tuple[float, np.ndarray]] = []
    for number in range(tries + 1):
        begin = chain.now if number == 0 else _elsewhere(chain, random)
        values = chain.settled(begin, length, keep)
        worth, _ = chain.measured(values)
        if worth > HOPELESS:
            far.append((worth, values))
            continue
        found = _stepped(chain, values, length)
        if best is None or _score(found.worth, found.length, length) < _score(best.worth, best.length, length):
            best = found
        if best.closes and (length == 0.0 or abs(best.length - length) <= EQUAL * length):
            break
    return best or _stepped(chain, min(far, key=lambda f: f[0])[1], length)


def in_blocks(task: FittingTask, steps: Steps, *, steepest: float = math.pi, most: int = 40) -> tuple[FittedRun, ...]:
    """Runs near to how this one stands, of whole blocks (`steps`) but for the last straight and bend, which are cut to fit; rolls are free,
    as blocks are turned by hand, and no bend is more than the `steepest`, rad. Those that close, the nearest first, `most` (count) of them;
    none without blocks, or where too little is left that could be cut to fit."""
    chain = _Chain(task, FreeVariables(), dataclasses.replace(steps, roll=FINE_ANGLE), trim=True)
    last, last_bend = chain.last
    whole = np.array([what != ROLL and i not in (last, last_bend) for i, what in chain.variables])
    if steps.blocks <= 0.0 or np.count_nonzero(~whole) < CLOSING:
        return ()
    places, unit = np.flatnonzero(whole), chain.step[whole]
    near = np.maximum(np.round(chain.now[whole] / unit), 1.0)
    random = np.random.default_rng(SEED)
    bends = np.array([what == ANGLE for _, what in chain.variables])
    low, high = chain.low.copy(), np.where(bends, np.minimum(chain.high, steepest), chain.high)
    found: list[FittedRun] = []
    for beside in _combinations(len(places), random):
        blocks = (near + beside) * unit
        if np.any(blocks < 0.5 * unit) or np.any(blocks > high[places]):
            continue
        chain.low, chain.high = low.copy(), high.copy()
        chain.low[places] = chain.high[places] = blocks
        begin = chain.now.copy()
        begin[places] = blocks
        values = chain.settled(begin, 0.0, 0.02)
        fitted = chain.fitted(np.where(whole, values, _rounded(chain, values)))
        if fitted.closes and not any(_alike(fitted, other) for other in found):
            found.append(fitted)
        if len(found) == most:
            break
    return tuple(found)


def _combinations(count: int, random: np.random.Generator) -> list[np.ndarray]:
    """So many numbers of blocks beside the nearest ones: all of them where they are few, else some by chance, the nearest first."""
    if len(BESIDE) ** count <= COMBINATIONS:
        every = [np.array(one, float) for one in itertools.product(BESIDE, repeat=count)]
    else:
        drawn = random.choice(BESIDE, size=(COMBINATIONS, count), p=(0.4, 0.25, 0.25, 0.1))
        every = [np.array(one, float) for one in {tuple(int(n) for n in row) for row in drawn}]
    return sorted(every, key=lambda one: (float(np.abs(one).sum()), one.tolist()))


def _elsewhere(chain: _Chain, random: np.random.Generator) -> np.ndarray:
    values = chain.now.copy()
    for n, (_, what) in enumerate(chain.variables):
        if what == ROLL:
            values[n] = random.uniform(-math.pi, math.pi)
        elif what == ANGLE:
            values[n] = random.uniform(math.radians(15.0), math.radians(150.0))
        else:
            values[n] = random.uniform(chain.low[n], chain.low[n] + 0.15)
    return values


def _score(worth: float, found: float, length: float) -> float:
    """How far off a run of this `worth` and of the length `found` m is that should be `length` m long: 1 at the edge of what will do."""
    return max(worth, abs(found - length) / (EQUAL * length)) if length else worth


def _stepped(chain: _Chain, values: np.ndarray, length: float) -> FittedRun:
    """The values in their steps: the nearest vector of a lattice, again with what is found until it gets no better."""
    best = base = _rounded(chain, values)
    least = _score(*chain.measured(base), length)
    # What stands at a limit stays there.
    free = (base > chain.low + 1.5 * chain.step) & (base < chain.high - 1.5 * chain.step)
    if least <= 0.5 or free.sum() < 3:
        return chain.fitted(best)
    step, unit = chain.step[free], chain.unit[free]
    moves: np.ndarray | None = None
    for stiff in STIFF:
        here = base.copy()
        for _ in range(ROUNDS):
            residual, jacobian = chain.walked(here)
            residual[6] -= length / LONG
            easy = LONG / (0.3 * EQUAL * length) if length else 0.0
            residual[6] *= easy
            jacobian[6] *= easy
            away = (here - values)[free] / unit
            columns = np.vstack([jacobian[:, free] * step, stiff * np.diag(step / unit)])
            change, moves = _closest(columns, -np.concatenate([residual, stiff * away]), moves)
            new = here.copy()
            new[free] += change * step
            # A straight that would be shorter than it may be stays as short as that.
            new = np.where(new < chain.low - 1e-9, here, np.where(new > chain.high + 1e-9, here, new))
            found = _score(*chain.measured(new), length)
            if found < least - 1e-12:
                best, least = new, found
            if np.allclose(new, here, atol=1e-12):
                break
            here = new
        if least <= 0.6:
            break
    return chain.fitted(best)


def _rounded(chain: _Chain, values: np.ndarray) -> np.ndarray:
    base = np.round(values / chain.step) * chain.step
    base = np.where(base < chain.low - 1e-12, np.ceil(chain.low / chain.step - 1e-9) * chain.step, base)
    return np.where(base > chain.high + 1e-12, np.floor(chain.high / chain.step + 1e-9) * chain.step, base)


def _closest(columns: np.ndarray, target: np.ndarray, moves: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    """Whole numbers k for which `columns` k comes near `target`, and the moves that make a short basis of them (from those
    of a lattice like it)."""
    basis, moves = _reduced(columns, moves)
    q, r = np.linalg.qr(basis)
    rest, whole = q.T @ target, np.zeros(basis.shape[1])
    for i in reversed(range(basis.shape[1])):
        whole[i] = round(float(rest[i] / r[i, i])) if r[i, i] else 0.0
        rest = rest - whole[i] * r[:, i]
    return np.asarray(moves @ whole), moves


def _reduced(columns: np.ndarray, moves: np.ndarray | None, share: float = 0.75) -> tuple[np.ndarray, np.ndarray]:
    """A short basis of the same lattice, and the whole numbers that make it from the columns."""
    u = np.eye(columns.shape[1]) if moves is None else moves.copy()
    r = np.ascontiguousarray(np.linalg.qr(columns @ u)[1])
    reduce_basis(r, u, share, 3000)
    return columns @ u, u


@dataclass(frozen=True)
class Equalised:
    """Runs made equal: each `fitted`, the `length` m that was aimed at."""

    fitted: tuple[FittedRun, ...]
    length: float

    @property
    def spread(self) -> float:
        """Longest over shortest, less one."""
        lengths = [f.length for f in self.fitted]
        return max(lengths) / min(lengths) - 1.0 if lengths and min(lengths) > 0.0 else 0.0

    @property
    def closes(self) -> bool:
        """Do all of them?"""
        return all(f.closes for f in self.fitted)


def equalise(
    tasks: Sequence[FittingTask],
    *,
    wanted: float = 0.0,
    allowed: FreeVariables = FreeVariables(),
    steps: Steps = Steps(),
    progress: Progress = unwatched,
) -> Equalised:
    """Runs made as long as each other, each ending in its goal: `wanted` m long, 0: as short as the one that needs the
    most; only what is `allowed` (and no piece that is held) changes, in `steps`."""
    if not wanted:
        shortest = []
        for number, task in enumerate(tasks):
            progress(0.4 * number / len(tasks))
            shortest.append(fit(task, allowed=allowed, steps=steps).length)
        wanted = math.ceil(max(shortest, default=0.0) * 1000.0) / 1000.0
    found = []
    for number, task in enumerate(tasks):
        progress(0.4 + 0.6 * number / len(tasks))
        found.append(fit(task, length=wanted, allowed=allowed, steps=steps, tries=12))
    return Equalised(tuple(found), wanted)


STUB = 0.02  # m of straight behind a port, for the weld
SLIP = 0.03  # m of straight before a collector, for a slip joint or the weld


STARTS = 40
LEAST_BEND = math.radians(15.0)  # what is less is cut from a bend for nothing
CHOICES = 8


def _tried(
    port: Frame, inlet: Frame, shapes: Sequence[tuple[float, int]], bore: float, wall: float, steps: Steps, random: np.random.Generator
) -> list[FittedRun]:
    """Runs of these shapes between two places, the best first; the nearest that there is where none closes."""
    tight = dataclasses.replace(steps, least=STUB)
    open_: list[tuple[float, _Chain, np.ndarray]] = []
    smooth: list[tuple[int, FittedRun, _Chain, np.ndarray]] = []
    for radius, bends in shapes:
        pieces = [straight("s1", STUB, bore)]
        for n in range(bends):
            pieces.append(bend_of(f"b{n + 1}", radius, 1.0, bore))
            pieces.append(straight(f"s{n + 2}", SLIP if n + 1 == bends else 0.04, bore))
        task = FittingTask(tuple(dataclasses.replace(p, wall=wall) for p in pieces), port, inlet)
        chain = _Chain(task, FreeVariables(), tight)
        chain.low[-1] = SLIP
        chain.low[[what == ANGLE for _, what in chain.variables]] = LEAST_BEND
        for _ in range(STARTS):
            values = chain.settled(_elsewhere(chain, random), 0.0, 0.005)
            worth, _ = chain.measured(values)
            open_.append((worth, chain, values))
            if worth >= 0.1:
                continue
            found = chain.fitted(values)
            if not any(_alike(found, f) for _, f, _, _ in smooth):
                smooth.append((bends, found, chain, values))
    # A bend more is worth 60 mm of tube.
    smooth.sort(key=lambda t: 0.06 * t[0] + t[1].length)
    good: list[FittedRun] = []
    for _, _, chain, values in smooth:
        found = _stepped(chain, values, 0.0)
        if found.closes and self_clearance(trace(place_pieces(found.segments, port))).gap >= 0.0:
            good.append(found)
        if len(good) == CHOICES:
            break
    if good:
        return good
    _, chain, values = min(open_, key=lambda t: t[0])
    return [_stepped(chain, values, 0.0)]


def paths_between(
    start: Frame,
    goal: Frame,
    *,
    bore: float,
    wall: float,
    radii: Sequence[float],
    steps: Steps = Steps(),
    most: int = 3,
    takes: float = 1.0,
) -> tuple[FittedRun, ...]:
    """Ways of straights and one to `most` bends from a frame to another in `steps`, tube of the `bore` and `wall`, bends of
    one of the `radii`, m; fewest bends and then the shortest first. `takes`: how many times half a millimetre and half a
    degree the joint at the end takes up (a ratio)."""
    random = np.random.default_rng(SEED)
    found: list[FittedRun] = []
    for bends in range(1, most + 1):
        for radius in radii:
            for one in _tried(start, goal, [(radius, bends)], bore, wall, steps, random)[:3]:
                if one.worth <= takes and not any(_alike(one, f) for f in found):
                    found.append(one)
    found.sort(key=lambda f: (sum(s.bends for s in f.segments), f.length))
    return tuple(found[:6])


def _alike(one: FittedRun, two: FittedRun) -> bool:
    return len(one.segments) == len(two.segments) and all(
        abs(a.length - b.length) < 0.004 and abs(math.remainder(a.roll - b.roll, 2.0 * math.pi)) < 0.05
        for a, b in zip(one.segments, two.segments, strict=True)
    )
