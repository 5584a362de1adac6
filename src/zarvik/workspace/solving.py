"""Solving in the background: a request is a document, a result carries the document it is of."""

from __future__ import annotations

import dataclasses
import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass

from zarvik.core.answer import Answer, completed, first_answer
from zarvik.project.assemble import Problem, ProjectProblems, assemble, candidates
from zarvik.project.document import Project
from zarvik.workspace.latest import Latest


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


def solve(project: Project) -> Result:
    """Assemble, solve and judge a document; never raises for what the document says."""
    start = time.perf_counter()
    try:
        found = first_answer(assemble(project, id=project.name), candidates(project))
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


def complete(first: Result) -> Result:
    """A result with costs and candidates; itself when it has no answer."""
    if first.answer is None:
        return dataclasses.replace(first, complete=True)
    start = time.perf_counter()
    try:
        found = completed(first.answer, candidates(first.project))
    except Exception:
        return dataclasses.replace(first, complete=True, fault=traceback.format_exc())
    seconds = first.seconds + time.perf_counter() - start
    return Result(first.project, found, (), seconds)


class Solving:
    """One thread that solves the newest document; `done` is called on that thread, with the first
    answer and, unless a newer document waits by then, with the complete one."""

    def __init__(self, done: Callable[[Result], None]) -> None:
        self._done = done
        self._worker: Latest[Project] = Latest("zarvik-solve", self._solve)

    def _solve(self, project: Project) -> None:
        result = solve(project)
        self._done(result)
        if not result.complete and not self._worker.outdated():
            self._done(complete(result))

    def ask(self, project: Project) -> None:
        """Solve this document; an older one that waits is dropped."""
        self._worker.put(project)

    def idle(self, timeout: float = 60.0) -> bool:
        """Wait until nothing is being solved."""
        return self._worker.idle(timeout)

    def close(self) -> None:
        """End the thread."""
        self._worker.close()
