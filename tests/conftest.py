"""Shared fixtures: a state folder of its own for each test, the demo, a real window."""

from __future__ import annotations

import collections
import dataclasses
import gc
import itertools
import os
import shutil
import threading
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

import pytest

# Each process of the run gets a screen of its own (pytest-xvfb), so that no window takes another's focus.
os.environ.setdefault("QT_QPA_PLATFORM", "xcb" if shutil.which("Xvfb") else "offscreen")

from made_bays import without_bay
from zarvik.commands import solving as solving_commands
from zarvik.core.answer.answer import Answer, answer
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.uncertainty.bands import Bands
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates
from zarvik.project.designs import search
from zarvik.project.document.document import Project
from zarvik.project.language import language
from zarvik.workspace import solving
from zarvik.workspace.job_store import DONE, JobProgress, JobResult, JobStore, same
from zarvik.workspace.jobs import BESIDE
from zarvik.workspace.solving import Result, Solving


def pytest_addoption(parser: pytest.Parser) -> None:
    """`--quick`: without what takes long, for the inner loop."""
    parser.addoption("--quick", action="store_true", help="without the tests of tests/slow.txt")


LONG = 4.0  # s: what takes longer than this is begun first


def _slow() -> dict[str, float]:
    """The tests that a quick run leaves out, and the seconds that one of them took the longest of its kind (`tests/mutants.py slow`)."""
    lines = (Path(__file__).parent / "slow.txt").read_text("utf-8").splitlines()
    return {name: float(seconds) for name, seconds in (line.rsplit(" ", 1) for line in lines)}


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """The slow ones are left out of a quick run; a new test is taken for a quick one until it was measured. In a whole run the longest
    come first, dealt out to its processes, so that none works on alone at the end."""
    slow = _slow()
    times = {item: slow.get(item.nodeid.partition("[")[0], 0.0) for item in items}
    if config.getoption("--quick"):
        config.hook.pytest_deselected(items=[item for item in items if times[item]])
        items[:] = [item for item in items if not times[item]]
        return
    processes = getattr(config, "workerinput", {}).get("workercount", 1)
    if processes > 1:
        items[:] = _dealt_out(items, times, processes)


def _dealt_out(items: list[pytest.Item], times: dict[pytest.Item, float], processes: int) -> list[pytest.Item]:
    """Each process begins with an equal part of the list: its share of the long ones first, then of the others in their order."""
    long = sorted((item for item in items if times[item] > LONG), key=lambda item: -times[item])
    rest = [item for item in items if times[item] <= LONG]
    part = -(-len(items) // processes)
    found: list[pytest.Item] = []
    for number in range(processes):
        own = long[number::processes]
        count = min(part - len(own), len(rest))
        found += [*own, *rest[:count]]
        rest = rest[count:]
    return [*found, *rest]


def pytest_collection_finish(session: pytest.Session) -> None:
    """What was imported stays: looked through for garbage again and again it takes a tenth of the time of a run."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


@pytest.fixture(scope="session")
def state_folders(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where the tests of a process keep what they leave."""
    return tmp_path_factory.mktemp("states")


_numbers = itertools.count()
EACH_ITS_OWN = "MUTANTS_TIMES" in os.environ  # while it is written down which test runs which line, none goes by what another has found


@pytest.fixture(autouse=True)
def state_folder(state_folders: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Journals, logs and settings go to a folder of the test, which is made when something is written: most tests write nothing."""
    folder = state_folders / str(next(_numbers))
    monkeypatch.setenv("ZARVIK_STATE", str(folder))
    return folder


@pytest.fixture(scope="session")
def tarn() -> Project:
    """The demo project."""
    return shipped.demo("tarn")


@pytest.fixture(scope="session")
def tarn_answer(tarn: Project) -> Answer:
    """The demo project, solved and judged."""
    return answer(assemble(tarn, id="tarn"), candidates(tarn))


@pytest.fixture
def no_threads_left() -> Iterator[None]:
    """Fails when the test leaves a thread of the program behind."""
    yield
    left = [t.name for t in threading.enumerate() if t.name.startswith("zarvik")]
    assert not left, f"threads left behind: {left}"


@pytest.fixture
def own_language() -> Iterator[None]:
    """English again after a test in another language."""
    yield
    language.use(None)


@lru_cache(1)
def _demos() -> tuple[Project, ...]:
    return (*(shipped.demo(name) for name in shipped.demo_names()), without_bay(shipped.demo("tarn")))


_opened: list[tuple[Project, Result]] = []  # complete answers to documents as they were opened


@pytest.fixture
def answers_that_are_known(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """A document that was opened and answered before in this run is not solved once more when another window opens
    it: every edit of it is. Where whole answers are looked at, each is its own: what is known may have near bands."""
    if request.node.get_closest_marker("whole_answers") is not None:
        return
    solve = Solving._solve

    def known(self: Solving, project: Project, watch: JobProgress) -> Result:
        for before, result in _opened:
            if before == project:
                self._last = dataclasses.replace(result, project=project)
                return self._last
        found = solve(self, project, watch)
        if found.complete and found.answer is not None and project in _demos():
            _opened.append((project, found))
        return found

    monkeypatch.setattr(Solving, "_solve", known)


_found: dict[tuple[str, object], list[tuple[object, object]]] = collections.defaultdict(list)  # by key and language
EACH = 8  # of a key that are remembered


def _equal(one: object, two: object) -> bool:
    """As what is asked is compared, but documents by what they say."""
    if isinstance(one, tuple) and isinstance(two, tuple):
        return len(one) == len(two) and all(map(_equal, one, two))
    return same(one, two) or (isinstance(one, Project) and one == two)


@pytest.fixture
def jobs_that_are_known(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """What another window of this run has asked of the same document is not worked out once more, but for long work, of which the
    progress is looked at, and variants where whole answers are looked at."""
    if EACH_ITS_OWN:
        return
    whole = request.node.get_closest_marker("whole_answers") is not None
    do = JobStore._do

    def known(self: JobStore, reply: JobResult) -> None:
        job = reply.job
        if job.title or job.key == "answer" or (whole and job.key.startswith(BESIDE)):
            do(self, reply)
            return
        before = _found[job.key, language._say]
        found = [value for of, value in before if _equal(of, job.of)]
        if found:
            reply.job = dataclasses.replace(job, work=lambda watch: found[0])
        do(self, reply)
        if reply.job is job and reply.state == DONE and len(before) < EACH:
            before.append((job.of, reply.value))

    monkeypatch.setattr(JobStore, "_do", known)


_told: list[tuple[Project, object, Answer]] = []  # whole answers of demos, with the language they were given in


@pytest.fixture(autouse=True)
def whole_answers_that_are_known(monkeypatch: pytest.MonkeyPatch) -> None:
    """A demo as it ships has one whole answer, whatever the command is that asks for it."""
    if EACH_ITS_OWN:
        return
    own = solving_commands.whole_answer

    def known(project: Project) -> Answer:
        for before, words, found in _told:
            if words is language._say and before == project:
                return found
        found = own(project)
        if project in _demos():
            _told.append((project, language._say, found))
        return found

    monkeypatch.setattr(solving_commands, "whole_answer", known)


_bands: list[tuple[Project, Bands]] = []  # of the first of many documents that are alike
WHOLE = ("test_random_hand", "test_figures")  # files of which every test works out whole answers


@pytest.fixture
def answers_that_are_near(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """How far figures may lie from what they are, and whether each cure cures, takes most of an answer's time: where a test is about
    something else, the edits of a document go by the bands of the first one like it, as the window's quick answers do, and their cures are
    not tried. A document as it was opened has all of its own."""
    if request.module.__name__ in WHOLE or request.node.get_closest_marker("whole_answers") is not None:
        return
    own, tried = solving.bands_of, solving.proved

    def near(project: Project, answer: Answer, progress: Progress = unwatched) -> Bands:
        for before, bands in _bands:
            if solving._alike(before, project):
                return bands
        bands = own(project, answer, progress)
        _bands.append((project, bands))
        return bands

    def as_they_are(project: Project, answer: Answer, progress: Progress = unwatched) -> Answer:
        return tried(project, answer, progress) if project in _demos() else answer

    monkeypatch.setattr(solving, "bands_of", near)
    monkeypatch.setattr(search, "bands_of", near)
    monkeypatch.setattr(solving, "proved", as_they_are)
