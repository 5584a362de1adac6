"""Tubes through a bay: candidates by chance, sets of them that nearly go, moved until they do, and shortened while there is time.

Everything is decided by a seed and by numbers of tries, nothing by the clock: an answer can be had again.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.common.progress import look
from zarvik.core.routing.bay import MOST_BENDS, Bay, Tube
from zarvik.core.routing.combine import NO_WAY, against, assign, descend
from zarvik.core.routing.geodesic import straightened
from zarvik.core.routing.grid import Grid, tightest
from zarvik.core.routing.inspection import Inspection, inspect
from zarvik.core.routing.polish import NUMBERS, OWN, own, polish
from zarvik.core.routing.propose import propose
from zarvik.core.routing.residuals import MARGIN, of_two, rules_of
from zarvik.core.routing.tubes import SAMPLES, place_corners
from zarvik.core.solids.bodies import packed, rod

MOST_ROUNDS = 40  # after which no way is found
KEPT = 12  # candidates of a pair of ends and a number of bends
IN_LINE, MISS = 1e-6, 5e-5  # rad and m: ends that a straight tube, or one bend, joins
MARGIN_FIRST = 8e-4  # m: distances are looked at from point to point
TRIES = {2: 100, 3: 500, 4: 900, 5: 600}
ROUGH = 6  # steps of a tube by itself before it is put together with others
FIRST_STEPS, STEPS = 12, 40
NEARLY = 2e-6  # m²: little enough to be looked at
REPAIRED = 2e-3  # m²: a set that offends by no more may need another tube
LESS, STEP_DOWN = 0.005, 0.02  # shares by which tubes have to become shorter
MOST_KNOWN = 2500
ALMOST = 5e-5  # m²: less than that where it is only for shorter tubes
REPAIRS = 60  # tries
ORDER = ((2, 3), (4,), (3,))
PATIENCE = 8  # of them without success
TURNS = "kokn"
KICKS = (0.008, 0.08)  # m, least and most
CHANCES = 3  # candidates that are tried for one
GRIDS = 4  # of ever smaller cells
GRID_STEPS = 60  # of a tube along one
KEPT_ALONE = 5  # candidates of one tube that are gone on with
USELESS = 4e-3  # m²: what offends more is not gone on with
WIDE = 0.22
STARTS = 14  # sets that are begun with
SETS = 6  # of them that are gone on with


@dataclass
class _Library:
    """Candidates between ends: numbers of their tubes."""

    ports: list[int] = field(default_factory=list)
    inlets: list[int] = field(default_factory=list)
    bends: list[int] = field(default_factory=list)
    x: list[np.ndarray] = field(default_factory=list)
    radii: list[np.ndarray] = field(default_factory=list)
    points: list[np.ndarray] = field(default_factory=list)
    costs: list[float] = field(default_factory=list)
    lengths: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Routed:
    """Tubes that go, and how they were found to: `inspection`."""

    tubes: tuple[Tube, ...]
    inspection: Inspection


def ends_of(bay: Bay, port: int, inlet: int) -> np.ndarray:
    """A port and an inlet (their numbers) as the compiled code reads them (2, 2, 3): place m and way."""
    a, b = bay.ports[port], bay.inlets[inlet]
    return np.array([[a.place, a.way], [b.place, b.way]])


class Router:
    """Finds tubes for a bay; `seed` decides what chance does, no way is found after so many rounds (`patience`)."""

    def __init__(self, bay: Bay, seed: int = 1, patience: int = MOST_ROUNDS) -> None:
        self.bay = bay
        self.seed = seed
        self.patience = patience
        self.bodies = bay.packed()
        self.rules = rules_of(bay)
        self.rules[MARGIN] = MARGIN_FIRST
        self.sold = np.array(bay.radii)
        self.dice = np.random.default_rng(seed)
        self.library = _Library()
        self.best: tuple[list[int], np.ndarray, Routed] | None = None
        self._asked = 0

    def _lengths(self, longest: float = math.inf) -> np.ndarray:
        """Shortest and longest m that are asked for, and the tolerance."""
        bay = self.bay
        if bay.length > 0.0:
            half = 0.6 * bay.tolerance * bay.length
            return np.array([bay.length - half, min(bay.length + half, longest), bay.tolerance])
        return np.array([0.0, min(longest, 1e3), bay.tolerance])

    def propose(self, port: int, inlet: int, bends: int, tries: int, bodies: np.ndarray | None = None) -> None:
        """Add candidates with so many `bends` between a `port` and an `inlet` (numbers); `tries`: how many are looked at. `bodies`: packed,
        what they keep clear of for now, where that is not what stands in the bay."""
        look()
        bodies = self.bodies if bodies is None else bodies
        x, radii = np.zeros((KEPT, NUMBERS)), np.zeros((KEPT, MOST_BENDS))
        costs, lengths = np.empty(KEPT), np.empty(KEPT)
        ends = ends_of(self.bay, port, inlet)
        self._asked += 1
        seed = (self.seed * 7919 + self._asked) % 2**31
        count = propose(ends, bends, self.sold, bodies, self.rules, seed, tries, WIDE, x, radii, costs, lengths)
        for k in range(count):
            self._add(port, inlet, bends, x[k], radii[k], ROUGH, bodies)

    def _add(self, port: int, inlet: int, bends: int, x: np.ndarray, radii: np.ndarray, steps: int, bodies: np.ndarray) -> None:
        """Add a candidate, moved clear of packed `bodies` for so many `steps`, where it offends little; `x` m, `radii` m."""
        ends = ends_of(self.bay, port, inlet)
        free = np.array([0.0, 1e3, self.bay.tolerance])
        x = x[None].copy()
        if polish(ends[None], x, np.array([bends]), radii[None], bodies, self.rules, free, steps) > USELESS:
            return
        points, work = np.empty((SAMPLES, 4)), np.empty(OWN)
        length = own(ends, x[0], bends, radii, self.bodies, self.rules, points, work)
        cost = float(np.sum(work[: OWN - 2] ** 2))
        known = self.library
        known.ports.append(port)
        known.inlets.append(inlet)
        known.bends.append(bends)
        known.x.append(x[0])
        known.radii.append(radii.copy())
        known.points.append(points)
        known.costs.append(cost)
        known.lengths.append(length)

    def _allowed(self, counts: tuple[int, ...], others: tuple[int, ...] = (2,)) -> tuple[int, ...]:
        """Of some `counts` of bends those that a tube may have, or `others` where it may have none of them."""
        return tuple(count for count in counts if count <= self.bay.most_bends) or others

    def fill(self, counts: tuple[int, ...]) -> None:
        """Candidates between every port and every inlet that may be its own, with so many bends (`counts`, numbers)."""
        bay = self.bay
        for port in range(len(bay.ports)):
            for inlet in range(len(bay.inlets)) if bay.inlet_of is None else (bay.inlet_of[port],):
                for bends in counts:
                    self.propose(port, inlet, bends, TRIES[bends])

    def _tubes(self, chosen: list[int], x: np.ndarray) -> tuple[Tube, ...]:
        found = []
        for number, k in enumerate(chosen):
            library = self.library
            bends = library.bends[k]
            corners = np.empty((bends + 2, 3))
            ends = ends_of(self.bay, library.ports[k], library.inlets[k])
            place_corners(ends[0], ends[1], x[number], bends, corners)
            found.append(Tube(library.ports[k], library.inlets[k], corners[1:-1].copy(), library.radii[k][:bends].copy()))
        return tuple(found)

    def _moved(self, chosen: list[int], x: np.ndarray, margin: float, longest: float, steps: int) -> float:
        """Move `x` (tubes, NUMBERS) m of a set for so many `steps`; what is left, m². `margin` m; no tube longer than `longest` m."""
        look()
        library = self.library
        ends = np.array([ends_of(self.bay, library.ports[k], library.inlets[k]) for k in chosen])
        bends = np.array([library.bends[k] for k in chosen])
        radii = np.array([library.radii[k] for k in chosen])
        rules = self.rules.copy()
        rules[MARGIN] = margin
        return float(polish(ends, x, bends, radii, self.bodies, rules, self._lengths(longest), steps))

    def settle(self, chosen: list[int], x: np.ndarray, longest: float = math.inf) -> tuple[Routed | None, np.ndarray, float]:
        """Move a set of candidates (their numbers) from `x` (tubes, NUMBERS) m until it goes, no tube longer than `longest` m. The set,
        where it goes, where it was moved to, m, and what is left, m²."""
        moved, margin, cost = x.copy(), MARGIN_FIRST, 0.0
        for _ in range(3):
            cost = self._moved(chosen, moved, margin, longest, STEPS)
            if cost > NEARLY:
                break
            tubes = self._tubes(chosen, moved)
            seen = inspect(self.bay, tubes)
            if not seen.faults:
                return Routed(tubes, seen), moved, cost
            margin += 4e-4
        return None, moved, cost

    def _sets(self) -> list[list[int]]:
        """Sets that nearly go, the best first."""
        library, bay = self.library, self.bay
        count = len(bay.ports)
        port_of, inlet_of = np.array(library.ports), np.array(library.inlets)
        lengths, costs, points = np.array(library.lengths), np.array(library.costs), np.array(library.points)
        if len(set(library.ports)) < count:
            return []
        cheapest = np.full((count, len(bay.inlets)), NO_WAY)
        inlets = np.empty(count, np.int64)
        for port, inlet, cost, length in zip(port_of, inlet_of, costs, lengths, strict=True):
            cheapest[port, inlet] = min(cheapest[port, inlet], cost + 2e-3 * length)
        pairs = np.full((len(costs), len(costs)), -1.0)
        found: dict[tuple[int, ...], float] = {}
        typical = float(np.median(lengths))
        for start in range(STARTS):
            noise = 0.0 if start == 0 else 1e-3
            if not assign(cheapest + noise * self.dice.random(cheapest.shape), self.dice.permutation(count), inlets):
                continue
            near = typical * (0.75 + 0.6 * self.dice.random())
            begin = []
            for port in range(count):
                of = np.flatnonzero((port_of == port) & (inlet_of == inlets[port]))
                begin.append(int(of[np.argmin(costs[of] + 0.2 * (lengths[of] - near) ** 2)]))
            chosen = np.empty(count, np.int64)
            cost = descend(np.array(begin), inlets, port_of, inlet_of, points, lengths, costs, pairs, self.rules, self._lengths(), chosen)
            found[tuple(int(k) for k in chosen)] = cost
        return [list(key) for key in sorted(found, key=lambda key: found[key])]

    def answers(self, rounds: int = 4) -> Iterator[Routed]:
        """Sets that go, each shorter than the one before; `rounds`: how often more candidates are looked for once there is one."""
        if len(self.bay.ports) == 1:
            yield from self._alone(rounds)
            return
        tried: set[tuple[int, ...]] = set()
        left = rounds
        number = 0
        while left > 0 and (self.best is not None or number < self.patience):
            yield from self._bettered()
            if self._pruned():
                tried.clear()
            self.fill(self._allowed(ORDER[number % len(ORDER)]))
            begun = []
            for chosen in self._sets():
                if tuple(chosen) in tried:
                    continue
                tried.add(tuple(chosen))
                x = np.array([self.library.x[k] for k in chosen])
                begun.append((self._moved(chosen, x, MARGIN_FIRST, self._longest(LESS), FIRST_STEPS), chosen, x))
            begun.sort(key=lambda one: one[0])
            for _, chosen, x in begun[:SETS]:
                found, x, cost = self.settle(chosen, x, self._longest(LESS))
                if found is None and cost < (REPAIRED if self.best is None else ALMOST):
                    chosen, found, x = self.repaired(chosen, x, cost, self._longest(LESS))
                if found is not None:
                    yield from self._held(chosen, x, found)
            left -= self.best is not None
            number += 1
            if number == 1 and self.best is None and tightest(self.bay, sure=True) is not None:
                return  # one of the tubes gets through nowhere

    def _longest(self, less: float) -> float:
        """What a tube may be long, m: `less` (a share) than the longest of the best answer."""
        return math.inf if self.best is None else (1.0 - less) * max(self.best[2].inspection.lengths)

    def _held(self, chosen: list[int], x: np.ndarray, found: Routed) -> Iterator[Routed]:
        """A new best answer, and what it becomes with shorter tubes: `chosen` numbers at `x` (tubes, NUMBERS) m."""
        self.best = chosen, x, found
        yield found
        if self.bay.length > 0.0:
            return
        less = 0.06
        while less > 0.002:
            better, moved, _ = self.settle(chosen, x, self._longest(less))
            if better is None:
                less *= 0.5
            else:
                x = moved
                self.best = chosen, x, better
                yield better

    def _bettered(self) -> Iterator[Routed]:
        """What the best answer becomes where its tubes are to be a little shorter, and are moved and exchanged for that."""
        again = self.best is not None and self.bay.length == 0.0
        while again and self.best is not None:
            chosen, x, _ = self.best
            x = x.copy()
            longest = self._longest(STEP_DOWN)
            cost = self._moved(chosen, x, MARGIN_FIRST, longest, FIRST_STEPS)
            chosen, found, x = self.repaired(chosen, x, cost, longest)
            again = found is not None
            if found is not None:
                yield from self._held(chosen, x, found)

    def _pruned(self) -> bool:
        """Forget candidates that are too long for an answer that is better, or offend most, where there are many; were there any?"""
        known = self.library
        if len(known.costs) < MOST_KNOWN:
            return False
        kept = set(self.best[0]) if self.best is not None else set()
        longest = 1.05 * self._longest(0.0)
        order = sorted(range(len(known.costs)), key=lambda k: (k not in kept, known.lengths[k] > longest, known.costs[k]))[
            : MOST_KNOWN // 2
        ]
        for name in ("ports", "inlets", "bends", "x", "radii", "points", "costs", "lengths"):
            values = getattr(known, name)
            setattr(known, name, [values[k] for k in order])
        if self.best is not None:
            self.best = [order.index(k) for k in self.best[0]], self.best[1], self.best[2]
        return True

    def along_grid(self, goal: int, step: float) -> None:
        """Add tubes from the first port along the shortest way to an inlet, the `goal` (its number), on a grid of `step` m."""
        need = 0.5 * self.bay.diameter + self.bay.clearance
        for radius in self.bay.radii:
            look()
            grid = Grid.of(self.bay, self.bodies, (0,), (goal,), radius, step, need)
            points = grid.shortest()
            if not len(points):
                continue
            corners = np.empty((MOST_BENDS, 3))
            many = straightened(self.bodies, points, len(points), grid.need, 0.5 * grid.step, corners)
            if not 2 <= many <= self.bay.most_bends:
                continue
            x = np.zeros(NUMBERS)
            x[0] = x[1] = grid.lead
            x[2 : 2 + 3 * (many - 2)] = corners[1 : many - 1].ravel()
            self._add(0, goal, many, x, np.full(MOST_BENDS, radius), GRID_STEPS, self.bodies)

    def _plain(self, goal: int) -> Iterator[Routed]:
        """A straight tube to an inlet, the `goal` (its number), or one with a single bend, where the ends allow it."""
        port, inlet = self.bay.ports[0], self.bay.inlets[goal]
        between = inlet.place - port.place
        found = []
        if float(np.linalg.norm(np.cross(port.way, inlet.way))) < IN_LINE:
            if float(np.linalg.norm(np.cross(port.way, between))) < MISS and between @ port.way > 0.0 and port.way @ inlet.way > 0.0:
                found.append(Tube(0, goal, np.empty((0, 3)), np.empty(0)))
        else:
            ways = np.column_stack([port.way, inlet.way])
            legs = np.linalg.lstsq(ways, between, rcond=None)[0]
            if float(np.linalg.norm(ways @ legs - between)) < MISS:
                corner = port.place + legs[0] * port.way
                found += [Tube(0, goal, corner[None], np.array([radius])) for radius in sorted(self.bay.radii, reverse=True)]
        for tube in found:
            seen = inspect(self.bay, (tube,))
            if not seen.faults:
                yield Routed((tube,), seen)

    def _alone(self, rounds: int) -> Iterator[Routed]:
        """One tube, with few bends before many."""
        decided = self.bay.inlet_of
        goals = tuple(range(len(self.bay.inlets))) if decided is None else decided
        longest, left = math.inf, rounds
        for goal in goals:
            for found in self._plain(goal):
                if found.inspection.lengths[0] < longest:
                    yield found
                    longest = (1.0 - LESS) * found.inspection.lengths[0]
        for number in range(self.patience):
            if left <= 0:
                return
            for goal, bends in itertools.product(goals, (*self._allowed((2, 3, 4)), 0, *self._allowed((5,), ()))):
                begin = len(self.library.costs)
                if bends:
                    self.propose(0, goal, bends, (2 if number else 1) * TRIES[bends])
                elif number < GRIDS and (longest == math.inf or number == 1):
                    self.along_grid(goal, 0.6 * self.bay.diameter / (1.0 + 0.4 * number))
                for found in self._settled(range(begin, len(self.library.costs)), longest):
                    yield found
                    longest = (1.0 - LESS) * found.inspection.lengths[0]
            left -= longest < math.inf
            if number == 0 and longest == math.inf and tightest(self.bay, sure=True) is not None:
                return  # no tube of this size gets through

    def _settled(self, candidates: range, longest: float) -> Iterator[Routed]:
        """The best of some `candidates` (their numbers) for a single tube, no longer than `longest` m, each shorter than the one before."""
        library = self.library
        for k in sorted(candidates, key=lambda k: library.lengths[k] + 50.0 * library.costs[k] ** 0.5)[:KEPT_ALONE]:
            if library.lengths[k] > 1.1 * longest or library.costs[k] > REPAIRED:
                continue
            found, x, _ = self.settle([k], library.x[k][None].copy(), longest)
            if found is not None:
                for better in self._held([k], x, found):
                    longest = (1.0 - LESS) * better.inspection.lengths[0]
                    yield better

    def repaired(self, chosen: list[int], x: np.ndarray, cost: float, longest: float) -> tuple[list[int], Routed | None, np.ndarray]:
        """A set that nearly goes, moved by chance or with another candidate in the place of a tube that offends, as long as that helps.
        `chosen`: numbers of its candidates, at `x` (tubes, NUMBERS) m; what it `cost`s, m²; `longest` m that is asked for."""
        looked_at, better_at, least = math.inf, 0, cost
        for attempt in range(REPAIRS):
            if cost < 0.9 * least:
                better_at, least = attempt, cost
            if attempt - better_at > PATIENCE:
                break
            points, lengths, shares = self._shares(chosen, x)
            k = int(np.argmax(shares * (0.3 + self.dice.random(len(shares)))))
            turn = TURNS[attempt % len(TURNS)]
            if turn == "k":
                tried = [self._kicked(chosen, x, k)]
            else:
                tried = self._exchanged(chosen, x, k, points, lengths, anew=turn == "n")
            for other, y in tried:
                new = self._moved(other, y, MARGIN_FIRST, longest, FIRST_STEPS)
                if new < cost:
                    chosen, x, cost = other, y, new
                    break
            if cost < 1e-5 and cost < 0.5 * looked_at:
                looked_at = cost
                found, y, left = self.settle(chosen, x, longest)
                if found is not None:
                    return chosen, found, y
                if left < cost:
                    x, cost = y, left
        return chosen, None, x

    def _kicked(self, chosen: list[int], x: np.ndarray, k: int) -> tuple[list[int], np.ndarray]:
        """A set with its tube `k` (a number) moved by chance: `chosen` numbers, `x` (tubes, NUMBERS) m."""
        y = x.copy()
        far = KICKS[0] * (KICKS[1] / KICKS[0]) ** self.dice.random()
        y[k] += far * self.dice.normal(size=NUMBERS)
        return chosen, y

    def _exchanged(
        self, chosen: list[int], x: np.ndarray, k: int, points: np.ndarray, lengths: np.ndarray, *, anew: bool
    ) -> list[tuple[list[int], np.ndarray]]:
        """Sets with other candidates in the place of tube `k` (a number): those that go best with the others as they are now, found among
        those that are known or looked for `anew`. `chosen` numbers at `x` (tubes, NUMBERS) m; `points` (tubes, SAMPLES, 4) m and `lengths`
        m of the tubes."""
        library = self.library
        number = chosen[k]
        port, inlet = library.ports[number], library.inlets[number]
        if anew:
            bodies = np.vstack([self.bodies, *(self._as_bodies(points[i]) for i in range(len(chosen)) if i != k)])
            for bends in self._allowed((3, 4)):
                self.propose(port, inlet, bends, TRIES[bends], bodies)
        alike = np.array([c for c in range(len(library.costs)) if library.ports[c] == port and library.inlets[c] == inlet and c != number])
        if not len(alike):
            return []
        everything = np.array([library.points[c] for c in alike])
        own_lengths, own_costs = np.array([library.lengths[c] for c in alike]), np.array([library.costs[c] for c in alike])
        costs = against(np.arange(len(alike)), everything, own_lengths, own_costs, points, lengths, k, self.rules)
        found = []
        for place in np.argsort(costs)[:CHANCES]:
            other, y = list(chosen), x.copy()
            other[k] = int(alike[place])
            y[k] = library.x[other[k]]
            found.append((other, y))
        return found

    def _shares(self, chosen: list[int], x: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Points m and lengths m of the tubes of a set at `x` (tubes, NUMBERS) m, and how much each offends, m²."""
        library, count = self.library, len(chosen)
        points, lengths, shares, work = np.empty((count, SAMPLES, 4)), np.empty(count), np.zeros(count), np.empty(OWN)
        for k, number in enumerate(chosen):
            ends = ends_of(self.bay, library.ports[number], library.inlets[number])
            lengths[k] = own(ends, x[k], library.bends[number], library.radii[number], self.bodies, self.rules, points[k], work)
            shares[k] = float(np.sum(work[: OWN - 2] ** 2)) + 1e-12
        for i in range(count):
            for j in range(i + 1, count):
                both = of_two(points[i], lengths[i], points[j], lengths[j], self.rules, work[:SAMPLES])
                shares[i] += both
                shares[j] += both
        return points, lengths, shares

    def _as_bodies(self, points: np.ndarray) -> np.ndarray:
        """A tube along `points` (SAMPLES, 4) m as packed bodies, from which what a tube keeps clear of bodies is what it keeps clear of
        tubes."""
        chosen = points[::6, :3]
        radius = 0.5 * self.bay.diameter + self.bay.gap - self.bay.clearance
        return packed([rod("", a, b, radius) for a, b in itertools.pairwise(chosen)])


def followed(bay: Bay, tubes: tuple[Tube, ...]) -> Routed | None:
    """`tubes` that went through a bay which has changed since, moved until they go again: a body that is dragged takes them along. None
    where that does not do and new ones have to be looked for."""
    seen = inspect(bay, tubes)
    if not seen.faults:
        return Routed(tubes, seen)
    if min(len(tube.radii) for tube in tubes) < 2:
        return None
    router = Router(bay)
    known = router.library
    x = np.zeros((len(tubes), NUMBERS))
    for row, tube in zip(x, tubes, strict=True):
        bends, port, inlet = len(tube.radii), bay.ports[tube.port], bay.inlets[tube.inlet]
        row[0] = float((tube.corners[0] - port.place) @ port.way)
        row[1] = float((inlet.place - tube.corners[-1]) @ inlet.way)
        row[2 : 3 * bends - 4] = tube.corners[1:-1].ravel()
        known.ports.append(tube.port)
        known.inlets.append(tube.inlet)
        known.bends.append(bends)
        known.radii.append(np.concatenate([tube.radii, np.zeros(MOST_BENDS - bends)]))
    return router.settle(list(range(len(tubes))), x)[0]
