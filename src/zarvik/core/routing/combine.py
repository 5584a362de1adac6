"""Which tubes go together: one from each port, each to an inlet of its own, as equal and as far apart as can be found; compiled."""

from __future__ import annotations

import numpy as np

from zarvik.core.common.compiled import compiled
from zarvik.core.routing.polish import SHARE, TOLERANCE
from zarvik.core.routing.residuals import of_two

NO_WAY = 1e2  # m²: a port and an inlet between which there is no candidate
LENGTH_WEIGHT = 2e-3  # m² for each metre: of two that offend alike the shorter one


@compiled
def assign(costs: np.ndarray, order: np.ndarray, inlets: np.ndarray) -> bool:
    """Give every port an inlet of its own, into `inlets` (its number): in this `order` of ports (numbers) the cheapest that is free, then
    two are exchanged as long as that is cheaper. `costs` (ports, inlets) of each pair, m²; those of `NO_WAY` and more are not taken. False
    where one is left without."""
    count, many = costs.shape
    taken = np.zeros(many, np.bool_)
    for port in order:
        best = -1
        for inlet in range(many):
            if not taken[inlet] and (best < 0 or costs[port, inlet] < costs[port, best]):
                best = inlet
        inlets[port] = best
        taken[best] = True
    better = True
    while better:
        better = False
        for i in range(count):
            for k in range(i + 1, count):
                a, b = inlets[i], inlets[k]
                if costs[i, b] + costs[k, a] < costs[i, a] + costs[k, b] - 1e-12:
                    inlets[i], inlets[k] = b, a
                    better = True
    worst = 0.0
    for port in range(count):
        worst = max(worst, costs[port, inlets[port]])
    return worst < NO_WAY


@compiled
def together(
    chosen: np.ndarray,
    port: int,
    candidate: int,
    points: np.ndarray,
    lengths: np.ndarray,
    costs: np.ndarray,
    pairs: np.ndarray,
    rules: np.ndarray,
    asked: np.ndarray,
    work: np.ndarray,
) -> float:
    """What a set costs, m², with a `candidate` (a number) for a `port` (a number) in the place of the one that is `chosen`: what it offends
    against the others and by how much the lengths differ. `points` m, `lengths` m and `costs` m² of all; `pairs` m², of two, -1 where it
    has not been asked for yet; `rules`: m and rad; `asked`: see `polish`; `work` m."""
    total = costs[candidate]
    low, high, mean = lengths[candidate], lengths[candidate], lengths[candidate]
    count = chosen.shape[0]
    for k in range(count):
        if k == port:
            continue
        other = chosen[k]
        if pairs[candidate, other] < 0.0:
            found = of_two(points[candidate], lengths[candidate], points[other], lengths[other], rules, work)
            pairs[candidate, other] = found
            pairs[other, candidate] = found
        total += pairs[candidate, other] + costs[other]
        low, high = min(low, lengths[other]), max(high, lengths[other])
        mean += lengths[other]
    mean /= count
    spread = max(high - low - SHARE * asked[TOLERANCE] * mean, 0.0)
    outside = max(max(asked[0] - mean, mean - asked[1]), 0.0)
    return total + 0.5 * spread * spread + outside * outside + LENGTH_WEIGHT * high


@compiled
def descend(
    begin: np.ndarray,
    inlets: np.ndarray,
    port_of: np.ndarray,
    inlet_of: np.ndarray,
    points: np.ndarray,
    lengths: np.ndarray,
    costs: np.ndarray,
    pairs: np.ndarray,
    rules: np.ndarray,
    asked: np.ndarray,
    chosen: np.ndarray,
) -> float:
    """Exchange one tube after the other for a better one until there is none; what the set costs, m². `begin`: candidates to begin with,
    one a port; `inlets` of the ports; `port_of`, `inlet_of` the candidates. Fills `chosen`. `points` m, `lengths` m, `costs` m², `pairs`
    m², `rules` and `asked` as in `together`, m and rad."""
    work = np.empty(points.shape[1])
    count = begin.shape[0]
    for k in range(count):
        chosen[k] = begin[k]
    best = together(chosen, 0, chosen[0], points, lengths, costs, pairs, rules, asked, work)
    for _ in range(6):
        better = False
        for port in range(count):
            for candidate in range(costs.shape[0]):
                if port_of[candidate] != port or inlet_of[candidate] != inlets[port] or candidate == chosen[port]:
                    continue
                cost = together(chosen, port, candidate, points, lengths, costs, pairs, rules, asked, work)
                if cost < best - 1e-9:
                    best = cost
                    chosen[port] = candidate
                    better = True
        if not better:
            break
    return best


@compiled
def against(
    candidates: np.ndarray,
    points: np.ndarray,
    lengths: np.ndarray,
    costs: np.ndarray,
    others: np.ndarray,
    other_lengths: np.ndarray,
    left_out: int,
    rules: np.ndarray,
) -> np.ndarray:
    """What each of the `candidates` (their numbers) costs, m², beside `others` (tubes, points, 4; m) of `other_lengths` m, but the one that
    is `left_out` (its number). `points` m, `lengths` m and `costs` m² of all; `rules`: m and rad."""
    found = np.empty(candidates.shape[0])
    work = np.empty(points.shape[1])
    for i in range(candidates.shape[0]):
        k = candidates[i]
        total = costs[k]
        for j in range(others.shape[0]):
            if j != left_out:
                total += of_two(points[k], lengths[k], others[j], other_lengths[j], rules, work)
                total += 0.02 * (lengths[k] - other_lengths[j]) ** 2 / others.shape[0]
        found[i] = total
    return found
