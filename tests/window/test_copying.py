"""Lists and tables on the clipboard and as CSV."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest
from driving import chosen_check, rest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.copying import as_csv, as_text

AWKWARD = [["a\u00a0b", 'say "x", y', "two\nlines"], ["=1+1", "-5 hp", ""]]


def test_cells_stay_apart() -> None:
    """A spreadsheet reads back the same cells, and no formula."""
    assert as_text(AWKWARD) == 'a b\tsay "x", y\ttwo lines\n=1+1\t-5 hp\t'
    assert list(csv.reader(io.StringIO(as_csv(AWKWARD)))) == [["a b", 'say "x", y', "two lines"], ["'=1+1", "-5 hp", ""]]
    assert as_text([]) == as_csv([]) == ""


def test_a_check_is_copied(window: MainWindow) -> None:
    """Ctrl+C takes the chosen row, the menu all of them."""
    chosen_check(window, "target")
    listed = window.checks.checks
    listed.setFocus()
    QTest.keyClick(listed, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text().startswith("Target power\tMarginal")
    next(a for a in listed.actions() if a.text() == "Copy all rows").trigger()
    assert QGuiApplication.clipboard().text().count("\n") == listed.rows.rowCount() - 1


def test_a_comparison_is_copied_and_saved(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Heads and all figures; the file has the same rows."""
    window.keep_variant()
    window.show_bench("compare")
    assert settle(window)
    rest(window)
    table = window.benches["compare"].table
    next(a for a in table.actions() if a.text() == "Copy table").trigger()
    lines = QGuiApplication.clipboard().text().split("\n")
    assert lines[0].split("\t")[1] == "now" and any("hp" in line for line in lines)
    goal = tmp_path / "t"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *args: (str(goal), ""))
    next(a for a in table.actions() if a.text() == "Save as CSV…").trigger()
    saved = list(csv.reader(io.StringIO((tmp_path / "t.csv").read_text("utf-8"))))
    assert len(saved) == len(lines) and saved[0] == lines[0].split("\t")
