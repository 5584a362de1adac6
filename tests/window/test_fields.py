"""Fields in other units, entries in the units of the shop."""

from __future__ import annotations

import pytest
from driving import field, find
from PySide6.QtCore import Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from zarvik.project.edits import edits
from zarvik.project.variants import variants
from zarvik.window.frame.main_window import MainWindow

CTRL = Qt.KeyboardModifier.ControlModifier


def test_units_of_a_field(window: MainWindow) -> None:
    """Ctrl+Down goes through the units, the menu offers them all; the quantity stays and each is a
    step of undo."""
    boost = field(window.benches["goal"], "goal.target_boost")
    boost.setFocus()
    QTest.keyClick(boost, Qt.Key.Key_Down, CTRL)
    assert boost.text() == "15.9542 psi"
    assert window.session.project.goal.target_boost.si == pytest.approx(1.1e5, rel=1e-5)
    QTest.keyClick(boost, Qt.Key.Key_Up, CTRL)
    assert boost.text() == "1.1 bar"
    spot = boost.rect().center()
    event = QContextMenuEvent(QContextMenuEvent.Reason.Keyboard, spot, boost.mapToGlobal(spot))
    QApplication.sendEvent(boost, event)
    menu = boost.findChild(QMenu)
    assert menu is not None
    shown = {a.text(): a for a in menu.actions()}
    assert {"in bar", "in psi", "in kPa"} <= set(shown)
    shown["in kPa"].trigger()
    menu.close()
    assert window.session.project.goal.target_boost.unit == "kPa"


def test_entries_in_the_units_of_the_shop(window: MainWindow) -> None:
    """The presets for entries turn every field, as one step; the design stays the same."""
    before = window.session.project
    find(window, "entries too inch")
    project = window.session.project
    assert project.units == "inch"
    assert project.goal.target_boost.unit == "psi"
    assert project.cold_pipe[1].bore.unit == "in"
    assert project.goal.altitude.unit == "ft"
    for d in variants.differences(before, project):
        one, two = edits.get(before, d.place), edits.get(project, d.place)
        assert one.si == pytest.approx(two.si, rel=1e-5), d
    window.undo()
    assert window.session.project == before
