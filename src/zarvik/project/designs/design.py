"""A design that was searched, and what a search found."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.answer.answer import Answer
from zarvik.core.budget.resources import Cost
from zarvik.core.candidates.compare import Candidate
from zarvik.core.checks import CheckResult
from zarvik.core.designs.pareto import Place
from zarvik.project.designs.choices import Axis
from zarvik.project.designs.limits import Limits
from zarvik.project.document.document import Project


@dataclass(frozen=True, eq=False, kw_only=True)
class Design:
    """A whole design: the `project`, its `sizes` in words by axis, `figures`, `cost` and `weeks`, its least `room` to a limit, what it
    is `short` of (by key of a limit), its whole `shortfall`
    (a ratio), and, once it is judged, its `answer` with bands and the `seconds` to full boost at the engine
    speed of the brief (nan while they are not known)."""

    project: Project
    place: Place
    sizes: dict[str, str]
    figures: Candidate
    cost: Cost
    weeks: float
    room: float
    short: dict[str, float]
    shortfall: float = 0.0
    answer: Answer | None = None
    seconds: float = math.nan

    @property
    def check_results(self) -> tuple[CheckResult, ...]:
        """Its checks, worst first; none while it is not judged."""
        return self.answer.check_results if self.answer is not None else ()

    @property
    def worst(self) -> str:
        """The worst state of its checks; empty while it is not judged."""
        return self.check_results[0].state if self.check_results else ""


@dataclass(frozen=True, eq=False)
class Trade:
    """One wish for a design: the `other` one that grants it at the least cost, and what it `costs` (by key of a limit:
    SI, above 0 is worse); no other where none was found."""

    wish: str
    other: Design | None
    costs: dict[str, float]


@dataclass(frozen=True)
class LimitGain:
    """What one unit more of a limit (`key`) would buy: the gain in what it helps most (`aim`, SI)."""

    key: str
    aim: str
    gain: float


@dataclass(frozen=True, eq=False, kw_only=True)
class Designs:
    """What a search found: different `designs`, the one that matters most first; the `axes` that were free and the
    `limits`; `every` design that was solved; the `nearest` possible one where none fulfils all, and the one that was
    left out most narrowly (`missed`) with the check that stopped it (`why`). `trades`: what wishes cost, for each
    design; `reliefs`: what one unit more of a limit would buy."""

    designs: tuple[Design, ...]
    axes: tuple[Axis, ...]
    limits: Limits
    every: tuple[Design, ...]
    names: tuple[str, ...] = ()
    nearest: Design | None = None
    missed: Design | None = None
    why: CheckResult | None = None
    wish: str = ""
    trades: tuple[tuple[Trade, ...], ...] = ()
    reliefs: tuple[LimitGain, ...] = ()

    @property
    def tried(self) -> int:
        """How many designs were solved."""
        return len(self.every)
