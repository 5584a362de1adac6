"""Why a design is as it is: what binds it, what a wish costs, what one unit more of a limit would buy."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

from zarvik.core.checks import CheckResult
from zarvik.project.designs.design import Design, Designs, LimitGain, Trade
from zarvik.project.designs.limits import UNITS

# Smaller differences are not told: rev/min, W, money, weeks
TOLD = {"spool": 15.0, "power": 700.0, "money": 10.0, "weeks": 0.15}
LOOKS = 3  # designs that are judged for a wish
BINDS = 0.08  # a check with so little room binds


def values(design: Design) -> dict[str, float]:
    """The figures that designs are traded in, the less the better: power with its sign turned."""
    return {"spool": design.figures.spool, "power": -design.figures.power, "money": design.cost.money, "weeks": design.weeks}


def fulfilling_designs(found: Designs) -> list[Design]:
    """Every solved design that misses nothing of what the search screens."""
    return [d for d in found.every if not d.short]


def trades(found: Designs, design: Design, passes: Callable[[Design], bool]) -> tuple[Trade, ...]:
    """For each wish the cheapest way among all that were solved: one unit better in it, what is worse for that.
    `passes`: does a design fail no check?"""
    others, mine = fulfilling_designs(found), values(design)
    made = []
    for wish in TOLD:
        step = UNITS[wish].step if wish != "weeks" else 0.5
        granted = [d for d in others if d.place != design.place and values(d)[wish] <= mine[wish] - step]
        granted.sort(key=lambda d: _worse(mine, values(d), wish))
        best = next((d for d in granted[:LOOKS] if passes(d)), None)
        costs = {}
        if best is not None:
            theirs = values(best)
            costs = {key: theirs[key] - mine[key] for key in TOLD if key != wish and abs(theirs[key] - mine[key]) >= TOLD[key]}
        made.append(Trade(wish, best, costs))
    return tuple(made)


def _worse(mine: dict[str, float], theirs: dict[str, float], wish: str) -> float:
    """How much worse another design is in all but the wish, in units of each limit."""
    return sum(max(theirs[key] - mine[key], 0.0) / UNITS[key].step for key in TOLD if key != wish)


def reliefs(found: Designs) -> tuple[LimitGain, ...]:
    """What one unit more of each limit would buy, by the designs that miss that limit alone and by no more than a
    unit. A limit that would buy nothing is left out."""
    inside = fulfilling_designs(found)
    made = []
    for key, unit in UNITS.items():
        near = [d for d in found.every if d.short and set(d.short) == {key} and d.short[key] <= unit.step * 1.001]
        if not near or not inside:
            continue
        best: tuple[float, str, float] | None = None
        for aim in TOLD:
            if aim == key:
                continue
            gain = _least(inside, aim) - _least(near, aim)
            if gain >= TOLD[aim]:
                size = gain / UNITS[aim].step
                if best is None or size > best[0]:
                    best = size, aim, gain
        if best is not None:
            made.append(LimitGain(key, best[1], best[2]))
    return tuple(made)


def _least(designs: Iterable[Design], aim: str) -> float:
    return min((v for d in designs if (v := values(d)[aim]) == v), default=math.inf)


def binding(design: Design) -> tuple[CheckResult, ...]:
    """The checks that keep a design from more: tight, or with little room left; the narrowest first."""
    found = [v for v in design.check_results if v.margin is not None and (v.state == "marginal" or 0.0 <= v.margin < BINDS)]
    return tuple(found[:4])


def obstacles_of(found: Designs) -> dict[str, float]:
    """What stands in the way of an impossible target: what the design misses that comes nearest to all."""
    left = [d for d in found.every if d.short]
    if not left:
        return {}
    return min(left, key=lambda d: (len(d.short), sum(v / UNITS[k].step for k, v in d.short.items()))).short
