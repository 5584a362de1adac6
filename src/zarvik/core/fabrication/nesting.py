"""Pieces cut from stock with little waste.

The cutting-stock problem in its assignment form (L. V. Kantorovich, Management Science 6 (1960) 366), solved by SciPy's
HiGHS for the few pieces of a build; first-fit decreasing (D. S. Johnson, 1973: within 11/9 of the best and one bar) where
that takes too long, whichever is better.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault

PATIENCE = 4.0  # s
MANY = 400  # of pieces times bars, above which only the simple way is gone


@dataclass(frozen=True)
class Stock:
    """A length that tube can be had in: `name`, `length` m, how many there are (`count`, -1: as many as are bought) and
    what one costs (`price` in money; 0 for what is in the shop)."""

    name: str
    length: float
    count: int = -1
    price: float = 0.0


@dataclass(frozen=True)
class Bar:
    """A bar of stock with the numbers of the `pieces` that are cut from it and their `lengths` in m, and what is `left`
    in m."""

    stock: Stock
    pieces: tuple[int, ...]
    left: float
    lengths: tuple[float, ...] = ()


@dataclass(frozen=True)
class Nested:
    """Bars that are cut, `bought` money, and how many bars there have to be at the least by length alone (`bound`, a count)."""

    bars: tuple[Bar, ...]
    bought: float
    bound: int


def nest(pieces: Sequence[float], stock: Sequence[Stock], *, kerf: float = 0.002) -> Nested:
    """Cut `pieces` (lengths in m) from `stock` with a saw of `kerf` m: the least money, then the least length of bars.
    Raises Fault for a piece that no stock holds, or where there is not stock enough."""
    if any(not (p > 0.0 and math.isfinite(p)) for p in pieces):
        raise Fault("a piece needs a length")
    if not pieces:
        return Nested((), 0.0, 0)
    if not stock:
        raise Fault("there is no stock to cut from")
    longest = max(s.length for s in stock)
    if max(pieces) > longest + 1e-9:
        raise Fault("a piece of {0:.0f} mm is longer than any stock ({1:.0f} mm)", 1e3 * max(pieces), 1e3 * longest)
    bars = _bars(pieces, stock, kerf)
    simple = _first_fit(pieces, bars, kerf)
    exact = _exact(pieces, bars, kerf) if len(pieces) * len(bars) <= MANY else None
    chosen = min((c for c in (simple, exact) if c is not None), key=lambda c: _worth(c, bars), default=None)
    if chosen is None:
        raise Fault("there is not enough stock for all pieces")
    made = tuple(
        Bar(bars[b], tuple(cut), _left([pieces[i] for i in cut], bars[b].length, kerf), tuple(pieces[i] for i in cut))
        for b, cut in sorted(chosen.items())
    )
    need = sum(p + kerf for p in pieces) / (longest + kerf)
    return Nested(made, sum(b.stock.price for b in made), math.ceil(need - 1e-9))


def _bars(pieces: Sequence[float], stock: Sequence[Stock], kerf: float) -> list[Stock]:
    """Every bar that may be cut: what there is, and of what is bought as many as could be needed."""
    found: list[Stock] = []
    for s in stock:
        fitting = [p for p in pieces if p <= s.length + 1e-9]
        each = max(int((s.length + kerf) / (max(fitting) + kerf)), 1) if fitting else 1
        need = math.ceil(len(fitting) / each)
        found += [s] * (min(s.count, len(fitting)) if s.count >= 0 else need)
    return found


def _left(cut: Sequence[float], length: float, kerf: float) -> float:
    # The last piece may end with the bar: it needs no cut then.
    return length - sum(cut) - kerf * max(len(cut) - 1, 0) if cut else length


def _worth(chosen: dict[int, list[int]], bars: Sequence[Stock]) -> tuple[float, float]:
    return sum(bars[b].price for b in chosen), sum(bars[b].length for b in chosen)


def _first_fit(pieces: Sequence[float], bars: Sequence[Stock], kerf: float) -> dict[int, list[int]] | None:
    order = sorted(range(len(pieces)), key=lambda i: -pieces[i])
    # What costs nothing first, then the longest.
    rows = sorted(range(len(bars)), key=lambda b: (bars[b].price > 0.0, -bars[b].length))
    cut: dict[int, list[int]] = {}
    for i in order:
        for b in rows:
            held = [pieces[j] for j in cut.get(b, [])] + [pieces[i]]
            if _left(held, bars[b].length, kerf) >= -1e-9:
                cut.setdefault(b, []).append(i)
                break
        else:
            return None
    return cut


def _exact(pieces: Sequence[float], bars: Sequence[Stock], kerf: float) -> dict[int, list[int]] | None:
    """x[b, i]: piece i from bar b; y[b]: bar b is cut. Equal bars are taken in their order."""
    # SciPy's optimisers take a fifth of a second to load: not at every start.
    from scipy.optimize import Bounds, LinearConstraint, milp

    m, n = len(bars), len(pieces)
    price = max((b.price for b in bars), default=0.0)
    total = sum(b.length for b in bars)
    cost = np.zeros(m * n + m)
    for b, bar in enumerate(bars):
        # Money first; of equal money the shortest bars.
        cost[m * n + b] = bar.price / max(price, 1e-9) * 1e3 + bar.length / total
    rows, low, high = [], [], []
    for i in range(n):
        row = np.zeros(m * n + m)
        row[[b * n + i for b in range(m)]] = 1.0
        rows.append(row)
        low.append(1.0)
        high.append(1.0)
    for b, bar in enumerate(bars):
        row = np.zeros(m * n + m)
        row[b * n : (b + 1) * n] = [p + kerf for p in pieces]
        row[m * n + b] = -(bar.length + kerf)
        rows.append(row)
        low.append(-np.inf)
        high.append(0.0)
        if b and bars[b - 1] == bar:
            same = np.zeros(m * n + m)
            same[m * n + b - 1], same[m * n + b] = 1.0, -1.0
            rows.append(same)
            low.append(0.0)
            high.append(np.inf)
    done = milp(
        cost,
        constraints=LinearConstraint(np.array(rows), low, high),
        integrality=np.ones(m * n + m),
        bounds=Bounds(0.0, 1.0),
        options={"time_limit": PATIENCE},
    )
    if done.x is None:
        return None
    cut: dict[int, list[int]] = {}
    for b in range(m):
        held = [i for i in range(n) if done.x[b * n + i] > 0.5]
        if held:
            cut[b] = held
    return cut
