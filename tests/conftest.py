"""Shared fixtures: a state folder of its own for each test, the demo, a real window."""

from __future__ import annotations

import dataclasses
import gc
import os
import shutil
import threading
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

import pytest

# Each process of the run gets a screen of its own (pytest-xvfb), so that no window takes another's focus.
os.environ.setdefault("QT_QPA_PLATFORM", "xcb" if shutil.which("Xvfb") else "offscreen")

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
from zarvik.workspace.job_store import JobProgress
from zarvik.workspace.solving import Result, Solving


def pytest_addoption(parser: pytest.Parser) -> None:
    """`--quick`: without what takes long, for the inner loop."""
    parser.addoption("--quick", action="store_true", help="without the tests of tests/slow.txt")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """The slow ones are left out of a quick run; a new test is taken for a quick one until it was measured (`tests/mutants.py`)."""
    if config.getoption("--quick"):
        slow = set((Path(__file__).parent / "slow.txt").read_text("utf-8").split())
        config.hook.pytest_deselected(items=[item for item in items if item.nodeid.partition("[")[0] in slow])
        items[:] = [item for item in items if item.nodeid.partition("[")[0] not in slow]


def pytest_collection_finish(session: pytest.Session) -> None:
    """What was imported stays: looked through for garbage again and again it takes a tenth of the time of a run."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


@pytest.fixture(autouse=True)
def state_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Journals, logs and settings go to a folder of the test."""
    folder = tmp_path / "state"
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
    return tuple(shipped.demo(name) for name in shipped.demo_names())


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
