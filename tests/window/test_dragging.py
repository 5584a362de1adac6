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
