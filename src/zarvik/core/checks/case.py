"""What the checks look at: the system, its solver, the full-load sweep, the target point."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Point, Raw, Solver, prepare
from zarvik.core.airpath.system import System, Turbo
from zarvik.core.checks.verdict import Verdict
from zarvik.core.ducts import march
from zarvik.core.ducts.element import Element


@dataclass(frozen=True)
class Case:
    """A solved system to be judged. `candidates`: the other turbos that could be had."""

    solver: Solver
    raw: Raw
    sweep: tuple[Point, ...]
    target: Point
    candidates: tuple[Turbo, ...] = ()

    @property
    def system(self) -> System:
        """The system that was solved."""
        return self.solver.system

    @cached_property
    def solved(self) -> tuple[Point, ...]:
        """The points of the sweep that closed."""
        return tuple(p for p in self.sweep if p.closure.solved)

    @cached_property
    def boosted(self) -> tuple[Point, ...]:
        """Solved points that are asked for at least a fifth of the full boost."""
        full = self.system.boost.full
        return tuple(p for p in self.solved if p.wanted_boost > max(0.2 * full, 2e3))

    @cached_property
    def hardest(self) -> Point:
        """The solved point that moves the most air (the target point when none is solved)."""
        return max(self.solved, key=lambda p: p.air, default=self.target)

    def power_with(self, boost: float) -> float:
        """Power in W at the target speed with another full boost in Pa gauge; nan unsolved."""
        schedule = dataclasses.replace(
            self.system.boost, full=boost, full_from=min(
                self.system.boost.full_from, self.system.target.speed)
        )  # fmt: skip
        raw = self.solver.raw(np.array([self.system.target.speed]), boost=schedule)
        return float(raw.work.power[0]) if raw.solved[0] else float("nan")

    def with_turbo(self, turbo: Turbo) -> Solver:
        """A solver for the same build with another turbo."""
        return prepare(dataclasses.replace(self.system, turbo=turbo))


def piece_costs(solver: Solver, speed: float) -> dict[str, float]:
    """What the loss of each duct piece costs at `speed` (rev/min): W that the shaft would save at
    the same boost, found by solving again without that loss. Keys are element ids; empty when the
    point itself is not solved."""
    one = np.array([speed])
    base = solver.raw(one)
    if not base.solved[0]:
        return {}
    shaft = float(base.states[0, k.SHAFT])
    costs = {}
    rows, losses = solver.rows.copy(), solver.losses.copy()
    for i, element in enumerate(solver.system.elements):
        rows[i, march.LINEAR] = rows[i, march.QUADRATIC] = losses[i] = 0.0
        states = solver.states(one, base.breathing, base.wanted, rows=rows, losses=losses)
        costs[element.id] = shaft - float(states[0, k.SHAFT])
        rows[i], losses[i] = solver.rows[i], solver.losses[i]
    return costs


def choked_piece(solver: Solver, raw: Raw, i: int) -> Element | None:
    """The duct piece that chokes at point `i`, None when none does."""
    index = int(raw.states[i, k.CHOKED])
    return solver.system.elements[index] if index >= 0 else None


Check = Callable[[Case], list[Verdict]]
