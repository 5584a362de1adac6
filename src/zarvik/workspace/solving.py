"""Solving in the background: a request is a document, a result carries the document it is of."""

from __future__ import annotations

import dataclasses
import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass

from zarvik.core.answer import Answer, completed, first_answer
from zarvik.core.checks.case import Memo
from zarvik.project.assemble import Problem, ProjectProblems, assemble, candidates
from zarvik.project.cures import proved
from zarvik.project.document import Project
from zarvik.project.edits import RUNS
from zarvik.workspace.latest import Latest

CALM = 0.05  # s without an edit before costs, candidates and cures are found anew


@dataclass(frozen=True)
class Result:
    """The answer to one document, or what keeps it from having one. `seconds`: solving
    time. `complete`: costs and candidates are in it too."""

    project: Project
    answer: Answer | None
    problems: tuple[Problem, ...]
    seconds: float
    fault: str = ""
    complete: bool = True


def solve(project: Project, memo: Memo | None = None) -> Result:
    """Assemble, solve and judge a document; never raises for what the document says. `memo`: of the
    document just before, for a quick judgement."""
    start = time.perf_counter()
    try:
        system = assemble(project, id=project.name)
        found = first_answer(system, candidates(project), memo)
    except ProjectProblems as error:
        return Result(project, None, error.problems, time.perf_counter() - start)
    except ValueError as error:
        problem = Problem("", str(error))
        return Result(project, None, (problem,), time.perf_counter() - start)
    except Exception as error:
        text = f"the solver met something unexpected ({error})"
        return Result(
            project, None, (Problem("", text),), time.perf_counter() - start,
            traceback.format_exc(),
        )  # fmt: skip
    return Result(project, found, (), time.perf_counter() - start, complete=False)


class Outdated(Exception):
    """Something newer waits: what is being found out is not wanted any more."""


def complete(first: Result, between: Callable[[], None] = lambda: None) -> Result:
    """A result with costs and candidates; itself when it has no answer. `between` is called every
    few milliseconds and may raise Outdated, which goes through."""
    if first.answer is None:
        return dataclasses.replace(first, complete=True)
    start = time.perf_counter()
    try:
        found = proved(first.project, completed(first.answer, between), between)
    except Outdated:
        raise
    except Exception:
        return dataclasses.replace(first, complete=True, fault=traceback.format_exc())
    seconds = first.seconds + time.perf_counter() - start
    return Result(first.project, found, (), seconds)


def _alike(one: Project, two: Project) -> bool:
    """Do two documents differ in numbers alone: same name, turbo, pieces, fittings?"""

    def shape(project: Project) -> tuple[object, ...]:
        runs = tuple(tuple(p.id for p in getattr(project, run)) for run in RUNS)
        fitted = (project.cooler.fitted, project.blower.fitted, project.engine.fuel)
        return project.name, project.turbo, len(project.turbos), runs, fitted

    return shape(one) == shape(two)


class Solving:
    """One thread that solves the newest document; `done` is called on that thread, with the first
    answer and, unless a newer document waits by then, with the complete one."""

    def __init__(self, done: Callable[[Result], None]) -> None:
        self._done = done
        self._last: Result | None = None  # the last complete one
        self._worker: Latest[Project] = Latest("zarvik-solve", self._solve)

    def _solve(self, project: Project) -> None:
        result = solve(project, self._memo(project))
        self._done(result)
        # While a hand drags, what takes longer waits until it rests.
        if not result.complete and self._worker.calm(CALM):
            try:
                result = complete(result, self._go_on)
            except Outdated:
                return
            self._last = result
            self._done(result)

    def _go_on(self) -> None:
        if self._worker.outdated():
            raise Outdated

    def _memo(self, project: Project) -> Memo | None:
        """What the last judgement found out, when it was one of nearly the same build."""
        last = self._last
        if last is None or last.answer is None or not _alike(last.project, project):
            return None
        return last.answer.memo

    def ask(self, project: Project) -> None:
        """Solve this document; an older one that waits is dropped."""
        self._worker.put(project)

    def idle(self, timeout: float = 60.0) -> bool:
        """Wait until nothing is being solved."""
        return self._worker.idle(timeout)

    def close(self) -> None:
        """End the thread."""
        self._worker.close()
