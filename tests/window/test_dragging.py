"""What a hand drags in a chart: the entry follows, one undo takes all of it back, the axes stay, the run compares with the start."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import pytest
from driving import pause, rest
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from zarvik.formats import shipped
from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.run.bore_drag import NEAR, bores_of, grip_at


@pytest.fixture
def window(open_window: Callable[..., MainWindow]) -> MainWindow:
    """The demo with the large turbo."""
    return open_window(shipped.demo("tarn"))


def move(widget: QWidget, spot: QPointF, button: Qt.MouseButton = Qt.MouseButton.NoButton) -> None:
    """The mouse at a spot, with a button held down; by itself, without the pointer of the desktop."""
    there = QPointF(spot.toPoint())
    event = QMouseEvent(
        QEvent.Type.MouseMove, there, QPointF(widget.mapToGlobal(there)), Qt.MouseButton.NoButton, button, Qt.KeyboardModifier.NoModifier
    )
    QApplication.sendEvent(widget, event)


def drag(widget: QWidget, spots: Sequence[QPointF], *, let_go: bool = True) -> None:
    """Press at the first spot, move over the others, let go at the last."""
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=spots[0].toPoint())
    for spot in spots[1:]:
        move(widget, spot, Qt.MouseButton.LeftButton)
        pause(10)
    if let_go:
        QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=spots[-1].toPoint())


def test_the_target_is_dragged(window: MainWindow) -> None:
    """The cross goes where the hand goes, in whole horsepower and steps of 50 rpm; beside it nothing is taken hold of; the axes do not move
    under the hand; one undo."""
    window.show_bench("goal")
    assert settle(window)
    pause(30)
    chart, brief = window.benches["goal"].chart, window.desk.project.goal
    steps = window.session.history.position
    (grip,) = chart.grips()
    start = grip.area.center()
    assert start == chart.at(6400.0, 330.0)
    drag(chart, [QPointF(start.x() - 60, start.y() + 60), QPointF(start.x(), start.y() + 10)])
    assert window.desk.project.goal is brief and chart.held is None
    axes = chart.x_axis, chart.y_axis
    end = chart.at(5500.0, 372.0)
    drag(chart, [start, 0.5 * (start + end), end], let_go=False)
    assert (chart.x_axis, chart.y_axis) == axes and chart.held is not None
    found = window.desk.project.goal
    assert found.target_power.unit == "hp" and found.target_power.value == pytest.approx(372.0, abs=2.0)
    assert found.target_speed.value % 50.0 == 0.0 and found.target_speed.value == pytest.approx(5500.0, abs=50.0)
    QTest.mouseRelease(chart, Qt.MouseButton.LeftButton, pos=end.toPoint())
    assert settle(window)
    assert window.session.history.position == steps + 1
    window.undo()
    assert window.desk.project.goal == brief
    move(chart, chart.grips()[0].area.center())
    assert chart.cursor().shape() == Qt.CursorShape.SizeAllCursor and "target" in chart.toolTip()
    move(chart, QPointF(5.0, 5.0))
    assert chart.cursor().shape() == Qt.CursorShape.ArrowCursor and not chart.toolTip()


def test_the_boost_and_the_spring_are_dragged(window: MainWindow) -> None:
    """The line of the target follows the hand at once, in hundredths of a bar; a stiffer spring by its curve's end; each one undo; the run
    compares with where the drag began."""
    window.show_bench("exhaust")
    bench = window.benches["exhaust"]
    bench.show_page("gate")
    rest(window)
    chart, project = bench.chart, window.desk.project
    line = chart.grips()[-1]
    start = QPointF(chart.at(3000.0, 0.0).x(), line.area.center().y())
    end = QPointF(start.x(), start.y() + 25.0)
    drag(chart, [start, QPointF(start.x(), start.y() + 12.0), end])
    wanted = round(chart.value_at(end)[1], 2)
    assert window.desk.project.goal.target_boost.value == pytest.approx(wanted, abs=0.011)
    assert chart.curves.asked == pytest.approx(wanted, abs=0.011)
    rest(window)
    assert window.run._before_point is not None and "Drag the target boost" in str(window.session.history.undo_label)
    before = window.run._before_point.boost
    assert before == pytest.approx(project.goal.target_boost.si, rel=0.02), "the start of the drag, not its last step"
    window.undo()
    rest(window)
    assert window.desk.project.goal.target_boost == project.goal.target_boost
    spring = window.desk.project.wastegate.spring
    assert spring.si > 0.0
    grip = chart.grips()[0]
    at = grip.area.center()
    drag(chart, [at, QPointF(at.x(), at.y() - 10.0)])
    assert window.desk.project.wastegate.spring.si > spring.si
    window.undo()
    assert window.desk.project.wastegate.spring == spring


def test_what_an_entry_does_not_allow_stays(window: MainWindow) -> None:
    """Beyond the ends of the axes the ends count; a number that is refused leaves the entry as it was."""
    power = window.desk.project.goal.target_power
    window.desk.drag("far", ("goal.target_power", -5.0), ("goal.target_boost", 1.23456e5))
    assert window.desk.project.goal.target_power == power
    assert window.desk.project.goal.target_boost.value == pytest.approx(1.23, abs=0.006)
    chart = window.benches["goal"].chart
    assert chart.value_at(QPointF(-1e6, -1e6)) == (chart.x_axis.low, chart.y_axis.high)


def test_bores_are_pulled_on_the_run(window: MainWindow) -> None:
    """Pulled up by 20 px a piece is 5 mm wider and costs less pressure; pulled at a joint both its ends are; one undo each; a press that
    does not move opens the piece as before."""
    window.show_bench("pipes")
    assert settle(window)
    pause(30)
    run, project = window.run, window.desk.project
    assert run.profile is not None
    span = next(s for s in run.profile.spans if s.stretch.id == "h-run")
    before, steps = span.stretch.drop, window.session.history.position
    middle = QPointF(0.5 * (span.left + span.right), 0.5 * (span.top_in + run.profile.base) + 8.0)
    drag(run, [middle, QPointF(middle.x(), middle.y() - 9.0), QPointF(middle.x(), middle.y() - 20.0)])
    was = {p.id: p for p in project.hot_pipe}
    bore = next(p.bore for p in window.desk.project.hot_pipe if p.id == "h-run")
    assert bore.si == pytest.approx(was["h-run"].bore.si + 0.005, abs=1e-4)
    assert settle(window)
    assert next(s.drop for s in window.desk.point.stretches if s.id == "h-run") < before
    assert window.session.history.position == steps + 1 and "bore" in str(window.session.history.undo_label)
    window.undo()
    assert settle(window) and window.desk.project == project
    pause(30)
    one, two = (next(s for s in run.profile.spans if s.stretch.id == key) for key in ("h-down", "h-run"))
    assert one.right == two.left
    spot = QPointF(one.right, 0.5 * (two.top_in + run.profile.base) + 8.0)
    move(run, spot)
    assert run.cursor().shape() == Qt.CursorShape.SizeVerCursor
    drag(run, [spot, QPointF(spot.x(), spot.y() + 12.0)])
    pieces = {p.id: p for p in window.desk.project.hot_pipe}
    wide = max(was["h-down"].bore.si, was["h-run"].bore.si)
    assert pieces["h-down"].bore.si == pytest.approx(wide - 0.003, abs=1e-4) and pieces["h-run"].bore.si == pytest.approx(
        wide - 0.003, abs=1e-4
    )
    window.undo()
    assert window.desk.project == project
    QTest.mouseClick(run, Qt.MouseButton.LeftButton, pos=middle.toPoint())
    assert window.desk.piece == "h-run" and window.desk.project == project


def test_nothing_to_pull_at_engine_and_turbo(window: MainWindow) -> None:
    """What is no piece of a run, or stands between two runs, has no bore to pull."""
    window.show_bench("pipes")
    assert settle(window)
    profile, project = window.run.profile, window.desk.project
    assert profile is not None
    for span in profile.spans:
        middle = 0.5 * (span.left + span.right)
        grip = grip_at(project, profile, middle, 100.0)
        if span.width > 3.0 * NEAR:
            assert (grip is not None) == bool(bores_of(project, span)), span.stretch.id
            assert grip is None or not grip.joint
    for one, two in zip(profile.spans, profile.spans[1:], strict=False):
        if one.stretch.section != two.stretch.section:
            grip = grip_at(project, profile, one.right, 100.0)
            assert grip is None or not grip.joint
