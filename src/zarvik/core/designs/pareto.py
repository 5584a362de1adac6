"""Search over sizes for the best compromises: which points no other beats in everything.

K. Deb, A. Pratap, S. Agarwal, T. Meyarivan, A fast and elitist multiobjective genetic algorithm: NSGA-II, IEEE
Trans. Evol. Comp. 6 (2002) 182; here over whole numbers, with every point evaluated once, and a last walk from each
point of the front to its neighbours.
"""

from __future__ import annotations

import itertools
import math
import random
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from zarvik.core.common.progress import Progress, unwatched

Place = tuple[int, ...]  # number of the size on each axis


@dataclass(frozen=True)
class Score:
    """What a point is worth: `aims`, the less the better (any unit), and `short`: how far it is from what it must
    fulfil, 0 where it fulfils all."""

    aims: tuple[float, ...]
    short: float = 0.0


def dominates(one: Score, two: Score) -> bool:
    """Is `one` better in something and worse in nothing? What falls less short beats first (K. Deb 2002)."""
    if one.short != two.short and max(one.short, two.short) > 0.0:
        return one.short < two.short
    no_worse = all(a <= b for a, b in zip(one.aims, two.aims, strict=True))
    return no_worse and one.aims != two.aims


def non_dominated(scores: Sequence[Score]) -> list[int]:
    """Numbers of the scores that no other one beats."""
    if not scores:
        return []
    aims = np.array([s.aims for s in scores])
    short = np.array([s.short for s in scores])
    keep = []
    for i in range(len(scores)):
        # Compared with all at once: less short beats; equally short, no worse in anything and not the same.
        less = short < short[i]
        level = short == short[i]
        no_worse = (aims <= aims[i]).all(axis=1)
        other = (aims != aims[i]).any(axis=1)
        if not (less | (level & no_worse & other)).any():
            keep.append(i)
    return keep


def non_dominated_ranks(scores: Sequence[Score]) -> list[int]:
    """Rank of each score: 0 for the unbeaten, 1 for those that only they beat, and so on."""
    left = set(range(len(scores)))
    rank = [0] * len(scores)
    level = 0
    while left:
        order = sorted(left)
        here = [order[n] for n in non_dominated([scores[i] for i in order])]
        for i in here:
            rank[i] = level
        left -= set(here)
        level += 1
    return rank


def crowding_distance(scores: Sequence[Score]) -> list[float]:
    """How much room each score has to its neighbours over all aims, inf at the ends."""
    room = [0.0] * len(scores)
    if not scores:
        return room
    for m in range(len(scores[0].aims)):
        order = sorted(range(len(scores)), key=lambda i: scores[i].aims[m])
        low, high = scores[order[0]].aims[m], scores[order[-1]].aims[m]
        room[order[0]] = room[order[-1]] = math.inf
        span = high - low
        if not (span > 0.0 and math.isfinite(span)):
            continue
        for before, here, behind in zip(order, order[1:], order[2:], strict=False):
            room[here] += (scores[behind].aims[m] - scores[before].aims[m]) / span
    return room


@dataclass
class Evaluations:
    """Everything that was evaluated: score by place, None for a place that is no design; `count` of evaluations."""

    scores: dict[Place, Score | None] = field(default_factory=dict)

    @property
    def count(self) -> int:
        """How many places were evaluated."""
        return len(self.scores)

    def front(self) -> list[Place]:
        """Places that no other one beats, in the order of their first aim; those that fulfil everything, where there
        are any."""
        good = [(p, s) for p, s in self.scores.items() if s is not None]
        fulfil = [(p, s) for p, s in good if s.short == 0.0]
        chosen = fulfil or good
        if not fulfil and good:
            least = min(s.short for _, s in good)
            chosen = [(p, s) for p, s in good if s.short <= least]
        keep = non_dominated([s for _, s in chosen])
        places = [chosen[i] for i in keep]
        return [p for p, _ in sorted(places, key=lambda item: (item[1].aims, item[0]))]


POPULATION, CHILDREN_PART = 32, 0.5  # of the budget that the generations get before the last walk


def search(
    sizes: Sequence[int],
    evaluate: Callable[[Place], Score | None],
    *,
    budget: int,
    seed: int = 1,
    starts: Iterable[Place] = (),
    progress: Progress = unwatched,
    on_generation: Callable[[Evaluations], None] | None = None,
) -> Evaluations:
    """Search the places of axes with so many `sizes` (number of choices each) within a `budget` of evaluations;
    the same `seed` finds the same. `starts`: places to begin with. `on_generation` hears after each generation.

    Where all places are no more than the budget, each is evaluated.
    """
    found = Evaluations()
    dice = random.Random(seed)
    total = math.prod(sizes)

    def ask(place: Place) -> None:
        if place not in found.scores and found.count < budget:
            progress(found.count / budget)
            found.scores[place] = evaluate(place)

    if total <= budget:
        for place in itertools.product(*(range(n) for n in sizes)):
            ask(place)
        return found
    people: list[Place] = []

    def add(place: Place) -> None:
        ask(place)
        if found.scores.get(place) is not None and place not in people:
            people.append(place)

    for place in starts:
        add(tuple(min(max(p, 0), n - 1) for p, n in zip(place, sizes, strict=True)))
    tries = 0
    while len(people) < POPULATION and found.count < 0.4 * budget and tries < 20 * budget:
        add(tuple(dice.randrange(n) for n in sizes))
        tries += 1
    idle = 0
    while found.count < CHILDREN_PART * budget + 0.5 * CHILDREN_PART * budget and people and idle < 40:
        before = found.count
        people = _survivors(people, found)
        if on_generation is not None:
            on_generation(found)
        for _ in range(POPULATION):
            add(_child(people, found, sizes, dice))
        idle = idle + 1 if found.count == before else 0
    _walk(found, sizes, ask, budget)
    return found


def _survivors(people: Sequence[Place], found: Evaluations) -> list[Place]:
    """The best of a population by rank, then by room."""
    scores = [s for p in people if (s := found.scores[p]) is not None]
    rank = non_dominated_ranks(scores)
    kept: list[Place] = []
    for level in range(max(rank, default=0) + 1):
        here = [i for i, r in enumerate(rank) if r == level]
        if len(kept) + len(here) > POPULATION:
            room = crowding_distance([scores[i] for i in here])
            order = sorted(range(len(here)), key=lambda n: -room[n])
            here = [here[n] for n in order[: POPULATION - len(kept)]]
        kept += [people[i] for i in here]
        if len(kept) >= POPULATION:
            break
    return kept


def _child(people: Sequence[Place], found: Evaluations, sizes: Sequence[int], dice: random.Random) -> Place:
    """Of two parents, each the better of two that were drawn; a size here and there a step or a leap off."""

    def parent() -> Place:
        one, two = dice.choice(people), dice.choice(people)
        a, b = found.scores[one], found.scores[two]
        assert a is not None and b is not None
        return two if dominates(b, a) else one

    mother, father = parent(), parent()
    child = [dice.choice(pair) for pair in zip(mother, father, strict=True)]
    for i, count in enumerate(sizes):
        roll = dice.random()
        if roll < 0.6 / len(sizes) + 0.05:
            child[i] = min(max(child[i] + dice.choice((-2, -1, 1, 2)), 0), count - 1)
        elif roll < 0.6 / len(sizes) + 0.10:
            child[i] = dice.randrange(count)
    return tuple(child)


def _walk(found: Evaluations, sizes: Sequence[int], ask: Callable[[Place], None], budget: int) -> None:
    """From each place of the front to its neighbours, one size up or down, while that finds something new."""
    walked: set[Place] = set()
    while found.count < budget:
        todo = [p for p in found.front() if p not in walked]
        if not todo:
            return
        for place in todo:
            walked.add(place)
            for i, count in enumerate(sizes):
                for step in (-1, 1):
                    there = place[i] + step
                    if 0 <= there < count:
                        ask((*place[:i], there, *place[i + 1 :]))


def diverse(places: Sequence[Place], scores: Sequence[Score], sizes: Sequence[int], most: int) -> list[int]:
    """Numbers of at most `most` places (count) that are as unlike as can be: first the best of each aim, then always
    the one that is farthest from those that are there, by aims and by sizes."""
    if not places:
        return []
    count = len(scores[0].aims)
    spans = []
    for m in range(count):
        values = [s.aims[m] for s in scores if math.isfinite(s.aims[m])]
        spans.append((max(values) - min(values)) if values else 0.0)

    def apart(i: int, j: int) -> float:
        total = 0.0
        for m in range(count):
            if spans[m] > 0.0:
                a, b = scores[i].aims[m], scores[j].aims[m]
                total += min(abs(a - b) / spans[m], 1.0) if math.isfinite(a - b) else 1.0
        for k, n in enumerate(sizes):
            if n > 1:
                total += 0.5 * abs(places[i][k] - places[j][k]) / (n - 1)
        return total

    chosen: list[int] = []
    for m in range(count):
        best = min(range(len(places)), key=lambda i: (scores[i].aims[m], scores[i].aims, places[i]))
        if best not in chosen and len(chosen) < most:
            chosen.append(best)
    while len(chosen) < min(most, len(places)):
        rest = [i for i in range(len(places)) if i not in chosen]
        chosen.append(max(rest, key=lambda i: (min(apart(i, j) for j in chosen), places[i])))
    return chosen
