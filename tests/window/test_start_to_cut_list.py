"""From the first page to a printed cut list in the order of the rail: with the keyboard alone, and by mouse."""

from __future__ import annotations

from pathlib import Path

import pytest
from driving import click, pause, press, printed, rest, wait_for
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from zarvik.window.app import settle
from zarvik.window.benches import PHASES
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.quantity_field import QuantityField

CTRL = Qt.KeyboardModifier.ControlModifier
KNOWN = (("litres", "2.2 L"), ("stock_power", "150 hp"), ("stock_speed", "5800"), ("power", "270 hp"))


def tab_to(window: MainWindow, wanted: QWidget, most: int = 60) -> None:
    """Go there with Tab alone."""
    for _ in range(most):
        if QApplication.focusWidget() is wanted:
            return
        press(window, Qt.Key.Key_Tab)
    raise AssertionError(f"{wanted.accessibleName() or wanted} is not reached with Tab")


def type_here(text: str) -> None:
    """Type over what has the focus."""
    field = QApplication.focusWidget()
    press(field, Qt.Key.Key_A, CTRL)
    QTest.keyClicks(field, text)


def cut_list_is_printed(goal: Path, name: str) -> None:
    """The cut list is on paper: its title, the build, pieces with sizes, and what to buy."""
    assert wait_for(goal.exists)
    words = " ".join(printed(goal))
    assert "Cut list" in words and name in words and "To buy" in words and "mm" in words and "page 1 of" in words


def test_by_keyboard_alone(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """What is known is typed on the first page, each phase is gone to by its number, an entry is changed, a turbo looked at, and the cut
    list is found and printed; no mouse."""
    goal = tmp_path / "heron.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(goal), ""))
    window.show_start(first=True)
    page = window.start
    assert QApplication.focusWidget() is page.name
    type_here("Heron")
    for key, text in KNOWN:
        tab_to(window, page.fields[key])
        type_here(text)
    tab_to(window, page.go)
    press(window, Qt.Key.Key_Space)
    assert wait_for(lambda: window.pages.currentWidget() is window.frame)
    assert settle(window)
    assert window.session.project.name == "Heron"
    for number, phase in enumerate(PHASES, 1):
        press(window, getattr(Qt.Key, f"Key_{number}"), CTRL)
        assert window._phase == phase.key
        press(window, Qt.Key.Key_F9)
        focus = QApplication.focusWidget()
        assert focus is not None and window.stack.isAncestorOf(focus), phase.key
        for _ in range(len(phase.benches) - 1):
            before = window.stack.currentWidget()
            press(window, Qt.Key.Key_PageDown, CTRL)
            assert window.stack.currentWidget() is not before and window._phase == phase.key
        pause(20)
    # An entry is found by its name and changed
    press(window, Qt.Key.Key_J, CTRL)
    QTest.keyClicks(window.finder.field, "target power")
    rest(window)
    press(window, Qt.Key.Key_Return, target=window.finder.field)
    entry = QApplication.focusWidget()
    assert not window.finder.isVisible() and isinstance(entry, QuantityField) and entry.accessibleName() == "Target power"
    type_here("265 hp")
    press(window, Qt.Key.Key_Return)
    assert window.session.project.goal.target_power.value == 265.0 and settle(window)
    press(window, Qt.Key.Key_7, CTRL)
    rest(window)
    press(window, Qt.Key.Key_J, CTRL)
    rest(window)
    QTest.keyClicks(window.finder.field, "Save cut list as PDF")
    press(window, Qt.Key.Key_Return, target=window.finder.field)
    rest(window)
    cut_list_is_printed(goal, "Heron")
    press(window, Qt.Key.Key_S, CTRL)  # asks for a file, which the dialog gives
    assert wait_for(lambda: not window.session.dirty)


def test_by_mouse(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The same with clicks: fields, the button, each phase of the rail and each of its tabs, the cut list from its menu."""
    goal = tmp_path / "heron.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(goal), ""))
    window.show_start(first=True)
    page = window.start
    for widget, text in ((page.name, "Heron"), *((page.fields[key], text) for key, text in KNOWN)):
        click(widget)
        widget.selectAll()
        QTest.keyClicks(widget, text)
    click(page.go)
    assert wait_for(lambda: window.pages.currentWidget() is window.frame)
    assert settle(window)
    for phase in PHASES:
        click(window.rail.steps[phase.key])
        assert window._phase == phase.key
        for key in phase.benches:
            bench = window.benches[key]
            if len(phase.benches) > 1:
                click(window.tabs.buttons[key])
            assert window.stack.currentWidget() is bench and bench.isVisible()
            for button in getattr(bench, "pages", {}).values():
                if button.isVisible():
                    click(button)
        pause(20)
    bench = window.benches["cut_weld"]
    bench.show_page("list")
    rest(window)
    action = next(a for a in bench.saving.menu().actions() if "Cut list" in a.text() and "PDF" in a.text())
    action.trigger()
    rest(window)
    cut_list_is_printed(goal, "Heron")
