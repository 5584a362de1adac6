"""Questions about an answer that take a moment: what moves a number, how variants compare. One
thread, the newest question first; a late reply is dropped by who asked."""

from __future__ import annotations

import traceback
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from zarvik.core.airpath.solution import Solver
from zarvik.core.working.sensitivity import Influence, influences
from zarvik.project.document import Project
from zarvik.workspace.latest import Latest
from zarvik.workspace.solving import Result, solve


@dataclass(frozen=True)
class Asked:
    """What moves the number of sheet `key` of the system of `solver` at `speed` rev/min?"""

    solver: Solver
    speed: float
    key: str


@dataclass(frozen=True)
class Reply:
    """A question with its reply; `fault` when there is none."""

    asked: Any
    found: Any
    fault: str = ""


class Influences:
    """Tells what moves a number; `told` is called on its thread."""

    def __init__(self, told: Callable[[Reply], None]) -> None:
        self._told = told
        # A pause, so that a drag does not ask for every step of itself.
        self._worker: Latest[Asked] = Latest("zarvik-influences", self._ask, pause=0.12)

    def _ask(self, asked: Asked) -> None:
        found: tuple[Influence, ...] = ()
        fault = ""
        try:
            found = influences(asked.solver, asked.speed, asked.key)
        except KeyError:
            fault = "this build does not have that number"
        except Exception:
            fault = traceback.format_exc()
        self._told(Reply(asked, found, fault))

    def ask(self, asked: Asked) -> None:
        """Ask; an older question that waits is dropped."""
        self._worker.put(asked)

    def idle(self) -> bool:
        """Wait until nothing is asked."""
        return self._worker.idle()

    def close(self) -> None:
        """End the thread."""
        self._worker.close()


class Comparing:
    """Solves designs beside the present one and keeps their results."""

    def __init__(self, told: Callable[[Result], None]) -> None:
        self._told = told
        self._kept: dict[int, Result] = {}
        self._worker: Latest[tuple[Project, ...]] = Latest("zarvik-compare", self._solve)

    def result(self, design: Project) -> Result | None:
        """The result of a design that was asked for, None while it is not there."""
        found = self._kept.get(id(design))
        return found if found is not None and found.project is design else None

    def ask(self, designs: tuple[Project, ...]) -> None:
        """Solve these designs, those that are not known yet."""
        self._kept = {id(d): r for d in designs if (r := self.result(d)) is not None}
        missing = tuple(d for d in designs if self.result(d) is None)
        if missing:
            self._worker.put(missing)

    def _solve(self, designs: tuple[Project, ...]) -> None:
        for design in designs:
            if self._worker.outdated():
                return
            result = solve(design)
            self._kept[id(design)] = result
            self._told(result)

    def idle(self) -> bool:
        """Wait until every design is solved."""
        return self._worker.idle()

    def close(self) -> None:
        """End the thread."""
        self._worker.close()
