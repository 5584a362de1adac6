"""Solving in the background: a request is a document, a result carries the document it is of."""

from __future__ import annotations

import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass

from zarvik.core.answer import Answer, answer
from zarvik.project.assemble import Problem, ProjectProblems, assemble, candidates
from zarvik.project.document import Project
from zarvik.workspace.latest import Latest


@dataclass(frozen=True)
class Result:
    """The answer to one document, or what keeps it from having one. `seconds`: solving time."""

    project: Project
    answer: Answer | None
    problems: tuple[Problem, ...]
    seconds: float
    fault: str = ""


def solve(project: Project) -> Result:
    """Assemble, solve and judge a document; never raises for what the document says."""
    start = time.perf_counter()
    try:
        found = answer(assemble(project, id=project.name), candidates(project))
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
    return Result(project, found, (), time.perf_counter() - start)


class Solving:
    """One thread that solves the newest document; `done` is called on that thread."""

    def __init__(self, done: Callable[[Result], None]) -> None:
        self._worker: Latest[Project] = Latest("zarvik-solve", lambda p: done(solve(p)))

    def ask(self, project: Project) -> None:
        """Solve this document; an older one that waits is dropped."""
        self._worker.put(project)

    def idle(self, timeout: float = 60.0) -> bool:
        """Wait until nothing is being solved."""
        return self._worker.idle(timeout)

    def close(self) -> None:
        """End the thread."""
        self._worker.close()
