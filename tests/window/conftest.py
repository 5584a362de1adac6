"""A real window on the demo, closed without a thread, timer or window left."""

from __future__ import annotations

import gc
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from driving import pause
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from watchdog import entrances_watched

from made_bays import without_bay
from zarvik.project.document.document import Project
from zarvik.window.app import make_window, settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.opening import application


@pytest.fixture(scope="session")
def qapp() -> QApplication:
    """The program's own application."""
    return application()


@pytest.fixture(autouse=True)
def answers(answers_that_are_known: None, answers_that_are_near: None, jobs_that_are_known: None) -> None:
    """Every window of the tests goes by answers that are known or near."""


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


@pytest.fixture(scope="session")
def tarn(tarn: Project) -> Project:
    """The demo in an empty engine bay: what stands in a bay, and moves, takes time of every answer and has tests of its own."""
    return without_bay(tarn)


@pytest.fixture
def window(open_window: MakeWindow, tarn: Project) -> MainWindow:
    """The demo in a window."""
    return open_window(tarn)
