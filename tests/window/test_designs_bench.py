"""The Designs bench in the real window: search, look, take over, undo; what it says when there is none."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from driving import click
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from zarvik.formats import shelf
from zarvik.project.edits import put
from zarvik.project.units import parse
from zarvik.window.app import settle
from zarvik.window.benches.designs.view import DesignsBench
from zarvik.window.frame.main_window import MainWindow


def rest(window: MainWindow) -> None:
    """Let everything be found out that is asked."""
    for _ in range(4):
        window.session.questions.idle()
        QTest.qWait(20)


def bench_of(window: MainWindow, *free: str) -> DesignsBench:
    """The bench in front, with these sizes free."""
    window.show_bench("designs")
    bench = window.benches["designs"]
    assert isinstance(bench, DesignsBench)
    for key, box in bench.free.items():
        box.setChecked(key in free)
    return bench


def test_a_design_is_searched_and_taken_over(window: MainWindow) -> None:
    """The picture has a point for each row; looking at one tells its sizes; taken over it is the present design with
    its own figures, and one undo brings the old one back."""
    bench = bench_of(window, "turbo", "housing", "boost")
    assert bench.take.isHidden()
    before = window.desk.project
    click(bench.go)
    assert not window.session.questions.idle(0.0) or bench.found is not None
    rest(window)
    assert bench.found is not None and not bench.part and len(bench.found.designs) >= 2
    shown = [row for row in bench.rows if not row.isHidden()]
    assert len(shown) == len(bench.chart.choices) == len(bench.found.designs)
    bench.chart.grab()
    QTest.mouseClick(bench.chart, Qt.MouseButton.LeftButton, pos=bench.chart._spots[1].toPoint())
    assert bench.chosen == 1 and "Turbo" in bench.sizes.text()
    QTest.mouseClick(shown[0], Qt.MouseButton.LeftButton, pos=QPoint(60, 12))
    assert bench.chosen == 0
    for number in range(bench.across.count()):
        bench.across.setCurrentIndex(number)
        bench.across.activated.emit(number)
        assert len(bench.chart.choices) == len(shown)
    click(bench.take)
    assert settle(window)
    one = bench.found.designs[0]
    assert window.desk.answer.target.power == pytest.approx(one.figures.power, rel=1e-4)
    assert window.desk.project.name == before.name and window.desk.project.variants == before.variants
    window.session.history.undo()
    assert window.desk.project == before


def test_what_cannot_be_is_told(open_window: Callable[..., MainWindow]) -> None:
    """A power that nothing gives: no design, and why; nothing free: told; a blower: no search."""
    window = open_window(put(shelf.demo("tarn"), "brief.target_power", parse("800 hp", "power")))
    bench = bench_of(window, "turbo", "boost")
    click(bench.go)
    rest(window)
    assert "none fulfils" in bench.text.text() and bench.take.isHidden()
    bench = bench_of(window)
    click(bench.go)
    rest(window)
    assert "nothing is left free" in window.notice.text()


def test_a_search_is_ended_by_the_hand(window: MainWindow) -> None:
    """Cancelled, it stops; the window goes on, and a new search begins."""
    bench = bench_of(window, "turbo", "housing", "gate", "boost", "exhaust")
    bench.tries.setCurrentIndex(2)
    click(bench.go)
    QTest.qWait(300)
    window.session.questions.cancel("designs")
    rest(window)
    assert not bench.part
    bench.tries.setCurrentIndex(0)
    for key in ("gate", "exhaust", "housing"):
        bench.free[key].setChecked(False)
    click(bench.go)
    rest(window)
    assert bench.found is not None
