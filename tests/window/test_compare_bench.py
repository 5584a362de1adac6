"""Variants side by side, steps gone back to."""

from __future__ import annotations

import pytest
from driving import click, pause, press
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from zarvik.project.document.document import Project
from zarvik.project.units.units import parse
from zarvik.project.variants import variants
from zarvik.window.app import settle
from zarvik.window.benches.compare import presenter
from zarvik.window.frame.main_window import MainWindow


def test_variants_side_by_side(window: MainWindow) -> None:
    """Keep under a name, change, compare, overlay in the plots, go back; a bad name is said."""
    window.show_bench("compare")
    bench = window.benches["compare"]
    bench.name.setFocus()
    bench.name.selectAll()
    QTest.keyClicks(bench.name, "as bought")
    QTest.keyClick(bench.name, Qt.Key.Key_Return)
    assert variants.names(window.session.project)[-1] == "as bought"
    for name in bench.chosen[:-1]:
        bench.choose(name, False)
    row = next(r for r in bench.rows if r.name == "as bought")
    bench.name.setText("as bought")
    click(bench.keep_button)
    assert "already" in window.notice.text()
    before = window.desk.point.power
    window.desk.edit("goal.target_boost", parse("1.0 bar", "pressure_gauge"))
    assert settle(window)
    window.session.jobs.idle()
    pause(30)
    groups = dict(bench.table.groups)
    power = next(r for r in groups["Different results"] if r.title.startswith("Power"))
    assert power.cells[1].tone == "best" and power.cells[1].note.startswith("+")
    entries = groups["Different entries"]
    assert [c.text for c in entries[0].cells] == ["1 bar", "1.1 bar"]
    blank = window.run.grab().toImage()
    click(row.overlay)
    pause(30)
    assert window.desk.overlay_answer is not None
    assert window.run.grab().toImage() != blank
    click(row.enter)
    assert settle(window)
    assert window.desk.point.power == pytest.approx(before)
    assert not row.enter.isEnabled()
    click(row.remove)
    assert window.desk.overlay == ""
    assert "as bought" not in variants.names(window.session.project)


def test_comparison_rows(tarn: Project, tarn_answer: object) -> None:
    """A design that is not solved yet has dashes; equal ones differ in nothing."""
    rows = presenter.figures([tarn_answer, None], tarn.shown_units)  # type: ignore[list-item]
    assert rows and all(r.cells[1].text.startswith("–") for r in rows)
    same = presenter.figures([tarn_answer, tarn_answer], tarn.shown_units)  # type: ignore[list-item]
    assert not any(r.differs for r in same)
    assert presenter.figures([None], tarn.shown_units) == []


def test_steps_can_be_gone_back_to(window: MainWindow) -> None:
    """The list of steps names each with its value; Enter goes there, and forward again."""
    window.desk.edit("goal.target_boost", parse("1.0 bar", "pressure_gauge"))
    window.session.history.seal()
    window.desk.edit("cold_pipe.c-run.bore", parse("70 mm", "length"))
    press(window, Qt.Key.Key_F5)
    steps = window.side.steps.list
    texts = [steps.item(i).text().strip("• ↷") for i in range(steps.count())]
    assert texts == ["Run over the radiator, bore: 70 mm", "Target boost: 1 bar", "Opened"]
    steps.setCurrentRow(2)
    QTest.keyClick(steps, Qt.Key.Key_Return)
    assert window.session.history.position == 0
    steps.setCurrentRow(0)
    QTest.keyClick(steps, Qt.Key.Key_Return)
    assert window.session.project.cold_pipe[3].bore.si == pytest.approx(0.07)
