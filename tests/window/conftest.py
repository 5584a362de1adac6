"""A real window on the demo, closed without a thread, timer or window left."""

from __future__ import annotations

import dataclasses
import gc
from collections.abc import Callable, Iterator
from functools import lru_cache
from pathlib import Path

import pytest
from driving import pause
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from watchdog import entrances_watched

from zarvik.core.answer.answer import Answer
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.uncertainty.bands import Bands
from zarvik.formats import shipped
from zarvik.project.designs import search
from zarvik.project.document.document import Project
from zarvik.window.app import make_window, settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.opening import application
from zarvik.workspace import solving
from zarvik.workspace.job_store import JobProgress
from zarvik.workspace.solving import Result, Solving


@pytest.fixture(scope="session")
def qapp() -> QApplication:
    """The program's own application."""
    return application()


@lru_cache(1)
def _demos() -> tuple[Project, ...]:
    return tuple(shipped.demo(name) for name in shipped.demo_names())


_opened: list[tuple[Project, Result]] = []  # complete answers to documents as they were opened


@pytest.fixture(autouse=True)
def answers_that_are_known(monkeypatch: pytest.MonkeyPatch) -> None:
    """A document that was opened and answered before in this run is not solved once more when another window opens
    it: every edit of it is."""
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


@pytest.fixture(autouse=True)
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


@pytest.fixture(autouse=True)
def nothing_is_worked_out_in_the_window(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """The thread that paints solves nothing, lays nothing, cuts nothing."""
    caught = entrances_watched(monkeypatch)
    yield
    assert not caught, sorted(set(caught))[:5]


MakeWindow = Callable[..., MainWindow]


@pytest.fixture
def open_window(qapp: QApplication, no_threads_left: None) -> Iterator[MakeWindow]:
    """Opens windows as the program does, waits for the answer, closes them after the test."""
    opened: list[MainWindow] = []

    def make(project: Project, path: Path | None = None, theme: str = "light") -> MainWindow:
        window = make_window(project, path, theme)
        window.resize(1280, 800)
        window.show()
        opened.append(window)
        window.activateWindow()
        assert QTest.qWaitForWindowActive(window)
        assert settle(window)
        return window

    yield make
    for window in opened:
        window.session.close()
        window.hide()
        window.deleteLater()
    qapp.processEvents()
    pause(1)
    gc.collect()
    left = [w for w in qapp.topLevelWidgets() if isinstance(w, MainWindow) and w.isVisible()]
    assert not left


@pytest.fixture
def window(open_window: MakeWindow, tarn: Project) -> MainWindow:
    """The demo in a window."""
    return open_window(tarn)
