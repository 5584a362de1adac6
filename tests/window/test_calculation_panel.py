"""Working sheets: of any number, of a check, as in a book."""

from __future__ import annotations

import re

import pytest
from driving import chosen_check, field, pause, type_into
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from zarvik.project.edits import edits
from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.formula_text import symbol, typeset


def test_the_calculation_of_any_number(window: MainWindow) -> None:
    """A click on a figure opens its sheet; a value in it opens its own; the bars are what the core
    says; a click on a bar goes to the entry."""
    area, key = next(hit for hit in window.run._hits if hit[1] == "power")
    QTest.mouseClick(window.run, Qt.MouseButton.LeftButton, pos=area.center().toPoint())
    panel = window.side.calculation
    assert (key, panel.key) == ("power", "power")
    assert panel.isVisible()
    window.session.jobs.idle()
    pause(30)
    assert panel.bars.rows[0].lever.key == "breathing"
    sizes = [row.size for row in panel.bars.rows]
    assert sizes == sorted(sizes, reverse=True)
    panel.values.linkActivated.emit("indicated")
    assert panel.key == "indicated"
    assert panel.sheet is not None
    assert panel.sheet.result.value == pytest.approx(window.desk.point.indicated, rel=1e-6)
    at = next(i for i, row in enumerate(panel.bars.rows) if row.lever.about == "intercooler.rating_confidence")
    panel.bars.setFocus()
    panel.bars.at = at
    QTest.keyClick(panel.bars, Qt.Key.Key_Return)
    assert window.stack.currentWidget() is window.benches["pipes"]
    assert QApplication.focusWidget() is field(window.benches["pipes"], "intercooler.rating_confidence")


def test_the_sheet_follows_the_design_and_the_revs(window: MainWindow) -> None:
    """An edit and the rev slider move the open sheet; a number that the build loses is said."""
    window.show_bench("turbo")
    window.desk.show_calculation("gate_flow")
    panel = window.side.calculation
    assert panel.sheet is not None
    before = panel.sheet.result.value
    window.desk.set_speed(5000.0)
    assert panel.sheet.result.value != before
    type_into(field(window.benches["turbo"], "turbos.c54-71.turbine.housing"), "20 mm")
    assert settle(window)
    assert panel.sheet.result.value == pytest.approx(window.desk.point.turbo.gate_flow)
    window.desk.change("Blower", edits.with_value(window.session.project, "blower.fitted", True))
    assert settle(window)
    assert panel.sheet is None
    assert "does not have" in panel.relation.text()


@pytest.mark.parametrize("name", ["surge", "target", "exhaust_mach"])
def test_every_check_shows_its_number(window: MainWindow, name: str) -> None:
    """W on a line opens the sheet that the check stands on."""
    chosen_check(window, name)
    QTest.keyClick(window.checks.checks, Qt.Key.Key_W)
    assert window.side.calculation.sheet is not None


def test_relations_are_set_like_in_a_book() -> None:
    """Indices below, roots under a line, numbers in the place of symbols."""
    assert symbol("T_ref") == "<i>T</i><sub>ref</sub>"
    assert symbol("T2s") == "<i>T</i><sub>2s</sub>"
    assert symbol("imep") == "<i>imep</i>"
    assert "p<sup>-1.7</sup>" in re.sub("</?i>", "", typeset("p^-1.7 · exp(3800 K / T)"))
    relation = "n_w = n_c · √(T1 / T_ref)"
    text = typeset(relation)
    assert "overline" in text and "<sub>ref</sub>" in text
    assert re.sub(r"<[^>]+>", "", text) == "nw = nc · √T1 / Tref"
    numbers = typeset("√(T1 / T_ref)", {"T1": "34 °C (307 K)", "T_ref": "25 °C (298 K)"})
    assert re.sub(r"<[^>]+>", "", numbers) == "√34 °C (307 K) / 25 °C (298 K)"
