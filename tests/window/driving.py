"""Hands for the tests: find a field, type into it, click."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

import pypdfium2
from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from zarvik.window.benches.pipes.view import PipesBench
from zarvik.window.benches.turbo.view import TurboBench
from zarvik.window.frame.checks_panel import CheckDetails
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.form import Form
from zarvik.window.parts.quantity_field import QuantityField


def field(bench: QWidget, place: str) -> QuantityField:
    """The field of a bench that holds `place`; of those of a window the one that is seen."""
    for form in sorted(bench.findChildren(Form), key=lambda form: not form.isVisible()):
        found = form.fields.get(place)
        if isinstance(found, QuantityField):
            return found
    raise KeyError(place)


def type_into(entry: QuantityField, text: str) -> None:
    """Type as a user does: focus, select all, keys, Enter."""
    entry.setFocus()
    entry.selectAll()
    # QTest knows the keys of Latin-1 alone.
    QTest.keyClicks(entry, text.replace("€", "EUR"))
    QTest.keyClick(entry, Qt.Key.Key_Return)


def click(widget: QWidget) -> None:
    """Click in the middle of a widget, or on the box of a check box."""
    spot = widget.rect().center()
    if widget.metaObject().className() == "QCheckBox":
        spot.setX(8)
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=spot)


def pause(milliseconds: int) -> None:
    """Let the window and its threads work for a while. (`QTest.qWait` keeps Python's lock, so that no thread would.)"""
    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


def wait_for(done: Callable[[], bool], seconds: float = 60.0) -> bool:
    """Let the window live until something is so."""
    end = time.monotonic() + seconds
    while not done() and time.monotonic() < end:
        pause(20)
    return done()


def printed(path: Path) -> list[str]:
    """The words of each page of a PDF."""
    with pypdfium2.PdfDocument(path) as found:
        return [page.get_textpage().get_text_range().replace("\r\n", "\n") for page in found]


def chosen_check(window: MainWindow, key: str) -> CheckDetails:
    """A check chosen in the side panel by its key, and what is said of it there."""
    window.side.turn("checks")
    window.checks.checks.show_check(key)
    assert window.checks.checks.key == key, key
    return window.checks.details


def rest(window: MainWindow) -> None:
    """Let everything be found out that is asked, and what is asked then."""
    for _ in range(4):
        window.session.jobs.idle()
        pause(20)


def open_finder(window: MainWindow) -> None:
    """The finder by its key, with every bench made and every number named."""
    for key in window.benches:
        window.benches.get(key)
    QTest.keyClick(QApplication.focusWidget() or window, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    assert window.finder.isVisible()
    rest(window)


def find(window: MainWindow, words: str) -> None:
    """Ctrl+J, type, Enter."""
    open_finder(window)
    QTest.keyClicks(window.finder.field, words)
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert not window.finder.isVisible()


def press(
    window: QWidget, key: Qt.Key, modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier, *, target: QWidget | None = None
) -> None:
    """A key, to what has the focus."""
    QTest.keyClick(target or QApplication.focusWidget() or window, key, modifiers)


def pipes(window: MainWindow, piece: str) -> PipesBench:
    """The Charge pipes bench with a piece open."""
    window.desk.go(f"piece:{piece}")
    bench = window.benches["pipes"]
    assert isinstance(bench, PipesBench)
    assert window.stack.currentWidget() is bench
    return bench


def turbo(window: MainWindow) -> TurboBench:
    """The Turbo bench in front."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    assert isinstance(bench, TurboBench)
    return bench


def drop_of(window: MainWindow, piece: str) -> float:
    """Loss of a piece in the run that is drawn, in pixels."""
    assert window.run.profile is not None
    span = next(s for s in window.run.profile.spans if s.stretch.id == piece)
    return span.stretch.drop


def check_result(window: MainWindow, id: str) -> str:
    """What is said of a check."""
    details = chosen_check(window, id)
    return f"{details.state.text()} {details.text.plain()}"
