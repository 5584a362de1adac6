"""With the keyboard alone, and a page that cannot be written."""

from __future__ import annotations

from pathlib import Path

import pytest
from driving import field, find, pause, press
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from zarvik.project.variants import variants
from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow

CTRL = Qt.KeyboardModifier.ControlModifier


def test_with_the_keyboard_alone(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Change the target, keep the design, find the piece that costs most, cure it, compare with
    before, see the calculation of the power, print the page: no mouse anywhere."""
    find(window, "target power 330")
    entry = QApplication.focusWidget()
    assert entry is field(window.benches["goal"], "goal.target_power")
    QTest.keyClicks(entry, "335 hp")
    press(window, Qt.Key.Key_Return)
    assert settle(window)
    assert window.session.project.goal.target_power.si == pytest.approx(335 * 745.7, rel=1e-3)

    press(window, Qt.Key.Key_K, CTRL)
    assert variants.names(window.session.project)[-1] == "A"

    assert settle(window)
    press(window, Qt.Key.Key_F10)
    assert window.stack.currentWidget() is window.benches["pipes"]
    costs = window.desk.answer.costs
    dearest = max(costs, key=lambda key: costs[key])
    assert window.desk.piece == dearest
    before = window.desk.point.power

    press(window, Qt.Key.Key_F2)  # the checks; down to one that has a cure
    assert QApplication.focusWidget() is window.checks.checks
    for _ in range(20):
        if window.checks.checks.key == "target":
            break
        press(window, Qt.Key.Key_Down)
    press(window, Qt.Key.Key_C)
    assert settle(window)
    assert window.desk.point.power > before
    assert window.session.history.undo_label == "Fix: Target power"

    press(window, Qt.Key.Key_2, CTRL)
    press(window, Qt.Key.Key_PageUp, CTRL)  # the last tab of the phase
    window.session.jobs.idle()
    pause(20)
    bench = window.benches["compare"]
    rows = {r.title: r for _, group in bench.table.groups for r in group}
    assert bench.table.heads[0] == "now" and "A" in bench.table.heads
    assert any("oost" in title for title in rows)
    assert any(r.differs for r in rows.values())

    press(window, Qt.Key.Key_Home, target=window.slider)
    find(window, "power at the crank")
    assert window.side.stack.currentWidget() is window.side.calculation
    assert window.side.calculation.result.text().startswith(window.desk.text(window.desk.point.power, "power"))

    target = tmp_path / "page.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(target), ""))
    press(window, Qt.Key.Key_P, CTRL)
    assert target.read_bytes().startswith(b"%PDF")
    assert target.stat().st_size > 20_000


def test_a_page_that_cannot_be_written_is_said(window: MainWindow, tmp_path: Path) -> None:
    """The theme stays, a sentence tells."""
    window.use_theme("dark")
    (tmp_path / "no").write_text("no folder")
    window.write_page(str(tmp_path / "no" / "such" / "page.pdf"))
    assert "cannot be written" in window.notice.text()
    assert window.theme == "dark"
