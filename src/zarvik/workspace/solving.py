"""Solving in the background: a request is a document, a result carries the document it is of."""

from __future__ import annotations

import dataclasses
import time
import traceback
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from zarvik.core.answer.answer import Answer, completed, figures, judged, with_connections
from zarvik.core.checks.case import Memo
from zarvik.core.common.progress import Progress, Stopped, part, unwatched, watched
from zarvik.core.uncertainty.bands import Bands
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import Problem, ProjectProblems
from zarvik.project.assembly.turbos import candidates
from zarvik.project.cures.cures import proved
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import RUNS
from zarvik.project.language.language import reason, tr_format
from zarvik.project.uncertainty.uncertainty import bands_of, with_bands
from zarvik.workspace.job_store import Job, JobProgress

CALM = 0.05  # s without an edit before costs, candidates and cures are found anew
PAINTING = 0.02  # s that are left to the window to paint the figures before they are judged
KEPT = 6  # complete answers that are kept: what is undone is there at once
OVERDUE = 0.15  # s after which figures are not shown any more without their checks


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
    return judge(solve_figures(project))


def solve_figures(project: Project, memo: Memo | None = None, bands: Bands | None = None) -> Result:
    """The figures of a document, to be judged; never raises for what the document says. `memo` and
    `bands`: of the document just before, for a quick judgement."""
    return _careful(project, lambda: _figures(project, memo, bands))


def _figures(project: Project, memo: Memo | None, bands: Bands | None) -> Answer:
    found = figures(assemble(project, id=project.name), candidates(project), memo)
    return dataclasses.replace(found, bands=bands)


def judge(first: Result) -> Result:
    """Figures with their checks, by the bands that they came with; itself when there are none."""
    found = first.answer
    if found is None or found.judged:
        return first
    done = _careful(first.project, lambda: _judged(found))
    return dataclasses.replace(done, seconds=first.seconds + done.seconds)


def _judged(found: Answer) -> Answer:
    whole = judged(found)
    return with_bands(whole, found.bands) if found.bands is not None else whole


def _careful(project: Project, work: Callable[[], Answer]) -> Result:
    start = time.perf_counter()
    try:
        found = work()
    except ProjectProblems as error:
        return Result(project, None, error.problems, time.perf_counter() - start)
    except ValueError as error:
        problem = Problem("", reason(error))
        return Result(project, None, (problem,), time.perf_counter() - start)
    except Exception as error:
        text = tr_format("the solver met an unexpected error ({0})", error)
        return Result(project, None, (Problem("", text),), time.perf_counter() - start, traceback.format_exc())
    return Result(project, found, (), time.perf_counter() - start, complete=False)


def complete(first: Result, progress: Progress = unwatched, show: Callable[[Result], None] | None = None) -> Result:
    """A result with costs, candidates, bands and tried cures; itself when it has no answer. `show` is
    told when all but the cures is there."""
    if first.answer is None:
        return dataclasses.replace(first, complete=True)
    start = time.perf_counter()
    try:
        with watched(progress):
            return _completed(first, progress, show, start)
    except Stopped:
        raise
    except Exception:
        return dataclasses.replace(first, complete=True, fault=traceback.format_exc())


def _completed(first: Result, progress: Progress, show: Callable[[Result], None] | None, start: float) -> Result:
    assert first.answer is not None
    whole = completed(first.answer, part(progress, 0.0, 0.3))
    bands = bands_of(first.project, whole, part(progress, 0.3, 0.6))
    if show is not None:
        seconds = first.seconds + time.perf_counter() - start
        show(Result(first.project, with_bands(whole, bands), (), seconds, complete=False))
    # A cure is judged by the middle of the bands, as the design is that it is tried on.
    found = with_bands(proved(first.project, whole, part(progress, 0.6, 1.0)), bands)
    seconds = first.seconds + time.perf_counter() - start
    return Result(first.project, found, (), seconds)


def _alike(one: Project, two: Project) -> bool:
    """Do two documents differ in numbers alone: same name, turbo, pieces, fittings?"""

    def shape(project: Project) -> tuple[object, ...]:
        runs = tuple(tuple(p.id for p in getattr(project, run)) for run in RUNS)
        fitted = (project.intercooler.fitted, project.blower.fitted, project.engine.fuel)
        return project.name, project.turbo, len(project.turbos), runs, fitted

    return shape(one) == shape(two)


def same_but(one: Project, two: Project, names: tuple[str, ...]) -> bool:
    """Are all parts of two documents the same objects, but those of these `names`?"""
    return all(getattr(one, name) is getattr(two, name) for name in type(one).model_fields if name not in names)


class Solving:
    """The job that finds the answer to a document, with what the last ones found out in mind."""

    def __init__(self) -> None:
        self._last: Result | None = None  # the last complete one
        self._kept: deque[Result] = deque(maxlen=KEPT)  # complete ones, the last of them too
        self._owed: float | None = None  # since when figures are shown without their checks, s

    def job(self, project: Project) -> Job:
        """The first answer is shown as soon as it is there; what takes longer waits until the hand
        rests."""
        return Job("answer", project, partial(self._solve, project), lane="answer")

    def _solve(self, project: Project, watch: JobProgress) -> Result:
        known = self._known(project) or self._ticked(project)
        if known is not None:
            self._owed = None
            self._last = known
            return known
        last = self._like(project)
        result = solve_figures(project, last.memo if last else None, last.bands if last else None)
        if result.answer is None:
            return result
        # A hand that does not rest would never see a check.
        now = time.monotonic()
        if self._owed is None or now - self._owed < OVERDUE:
            self._owed = self._owed or now
            watch.show(result)
            watch.rest(PAINTING)
        result = judge(result)
        self._owed = None
        watch.show(result)
        watch.rest(CALM)
        self._last = complete(result, watch, watch.show)
        if not self._last.fault:
            self._kept.append(self._last)
        return self._last

    def _known(self, project: Project) -> Result | None:
        """The complete answer to a document that is the same again, as after undo, or but for the designs that are kept beside it and
        what is cut already."""
        for result in reversed(self._kept):
            if same_but(result.project, project, ("variants", "pieces_cut")):
                return dataclasses.replace(result, project=project)
        return None

    def _ticked(self, project: Project) -> Result | None:
        """The last complete answer with another connection list, when nothing else of the document has changed."""
        last = self._last
        if last is None or last.answer is None or not last.complete or last.fault or not same_but(last.project, project, ("joints",)):
            return None
        start, answer = time.perf_counter(), last.answer
        found = _careful(project, lambda: with_connections(answer, assemble(project, id=project.name)))
        seconds = time.perf_counter() - start
        return dataclasses.replace(found, seconds=seconds, complete=True) if found.answer is not None else None

    def _like(self, project: Project) -> Answer | None:
        """The last complete answer, when it was one of nearly the same build."""
        last = self._last
        if last is None or last.answer is None or not _alike(last.project, project):
            return None
        return last.answer
