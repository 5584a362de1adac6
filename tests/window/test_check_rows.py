"""Which checks stand under which heading, how a margin is drawn, and what is said of a state."""

from __future__ import annotations

import dataclasses

import pytest
from driving import chosen_check, pause, press
from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtTest import QTest

from zarvik.core.checks import CheckResult
from zarvik.core.common.sentences import message
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, TO_DO
from zarvik.window.app import settle
from zarvik.window.frame.arranged import NARROW, NARROW_RAIL
from zarvik.window.frame.check_rows import BREAKS, ELSEWHERE, FIND_OUT, HERE, MISSES, bar_place, check_rows, headline
from zarvik.window.frame.checks_panel import state_words
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.run.pressure_run import FULL, HIDDEN, LOW, RIBBON


def made(key: str, state: str, margin: float | None = 0.1, about: str = "gate", *, breaks: bool = False) -> CheckResult:
    """A check."""
    return CheckResult(key, key.title(), state, margin, message("said"), about=about, breaks=breaks)


SOME = [
    made("a", MARGINAL, 0.02, "gate"),
    made("b", FAILS, -0.3, "charge", breaks=True),
    made("c", MARGINAL, 0.01, "charge", breaks=True),
    made("d", TO_DO, None, "joints"),
    made("e", OK, 0.5, "gate"),
    made("f", OK, 0.4, "turbine:x"),
    made("g", FAILS, -0.1, "engine"),
]


def test_each_check_stands_under_the_heading_of_what_it_means() -> None:
    """Damage first, then the goal, then what is to be found out, then what is OK; those of the page in front first, then the worst."""
    rows = [row.key for row in check_rows(SOME, {"gate"}, unfolded=True)]
    assert rows == [BREAKS, "b", "c", MISSES, "a", "g", FIND_OUT, "d", HERE, "e", ELSEWHERE, "f"]
    rows = [row.key for row in check_rows(SOME, {"engine", "turbine"}, unfolded=False)]
    assert rows == [BREAKS, "b", "c", MISSES, "g", "a", FIND_OUT, "d", HERE, "f", ELSEWHERE]
    assert check_rows(SOME, {"gate"}, unfolded=False)[-1].words == "OK elsewhere (1)"
    assert check_rows([], set(), unfolded=True) == []


def test_every_check_is_listed_once() -> None:
    """None is lost between the headings, whatever page is in front."""
    for subjects in (set(), {"gate"}, {"charge", "joints"}, {"gate", "charge", "joints", "turbine", "engine"}):
        rows = [row.check_result.id for row in check_rows(SOME, subjects, unfolded=True) if row.check_result is not None]
        assert sorted(rows) == [v.id for v in SOME]


def test_the_headline_counts_the_worst_first() -> None:
    """States that no check has are left out."""
    assert headline(SOME) == "Checks: 2 fail, 2 marginal, 1 to do, 2 OK"
    assert headline(SOME[4:6]) == "Checks: 2 OK"


def test_a_margin_stands_on_the_side_that_it_belongs_to() -> None:
    """The limit in the middle, growing to either side, never past an end."""
    margins = (-50.0, -1.0, -0.2, -0.01, 0.0, 0.01, 0.04, 0.5, 1.0, 7.0)
    places = [bar_place(m) for m in margins]
    assert places == sorted(places) and places[4] == 0.0
    assert places[0] == places[1] == -1.0 and places[-1] == places[-2] == 1.0
    assert bar_place(0.04) == pytest.approx(0.2) and bar_place(-0.04) == pytest.approx(-0.2)


def test_what_is_marginal_is_never_said_to_be_missed() -> None:
    """Where only the uncertainty keeps it from failing there is no figure; a plain margin has one."""
    assert state_words(made("a", MARGINAL, -0.009)) == "Marginal, could go either way"
    assert state_words(made("a", MARGINAL, 0.04)) == "Marginal +4 %"
    assert state_words(made("a", FAILS, -0.12)) == "Fails missed by 12 %"
    assert state_words(made("a", TO_DO, None)) == "To do"


def test_the_button_of_a_line_cures_it(window: MainWindow) -> None:
    """A click on it is one step of the history; a click beside it chooses the line and changes nothing."""
    listed = window.checks.checks
    chosen_check(window, "target")
    boost = window.session.project.goal.target_boost
    area = QRectF(listed.visualRect(listed.currentIndex()))
    QTest.mouseClick(listed.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(30, round(area.center().y())))
    assert window.session.project.goal.target_boost == boost
    QTest.mouseClick(listed.viewport(), Qt.MouseButton.LeftButton, pos=listed.fix_area(area).center().toPoint())
    assert settle(window)
    assert window.session.history.undo_label == "Fix: Target power"
    window.undo()


def test_what_is_ok_elsewhere_unfolds(window: MainWindow) -> None:
    """By Enter on its line, and again to fold it; nothing else opens."""
    listed = window.checks.checks
    assert settle(window)
    count = listed.rows.rowCount()
    listed.choose(ELSEWHERE)
    QTest.keyClick(listed, Qt.Key.Key_Return)
    assert listed.rows.rowCount() > count
    QTest.keyClick(listed, Qt.Key.Key_Return)
    assert listed.rows.rowCount() == count


def test_checks_of_the_page_in_front_come_first(window: MainWindow) -> None:
    """Another phase, another order; the chosen check stays chosen."""
    chosen_check(window, "target")
    window.show_bench("exhaust")
    first = next(row for row in window.checks.checks.rows.items if row.check_result is not None)
    assert first.check_result.about.partition(":")[0] == "gate"
    assert window.checks.checks.key == "target"


def test_a_check_that_goes_leaves_another_chosen(window: MainWindow) -> None:
    """The details never speak of one that is no more."""
    chosen_check(window, "surge")
    window.desk.edit("blower.fitted", True)
    assert settle(window)
    assert window.checks.checks.check_result is not None
    assert window.checks.details.title.text() == window.checks.checks.check_result.title
    assert window.checks.checks.key in {v.id for v in window.desk.answer.check_results}


def test_the_pressure_run_has_three_heights(window: MainWindow) -> None:
    """In full where it is the subject, a ribbon elsewhere; the key takes the next, which is remembered for the phase."""
    window.show_bench("pipes")
    assert window.run.mode == FULL and window.run.height() > 180
    window.show_bench("goal")
    assert window.run.mode == LOW and window.run.height() == RIBBON
    assert window.run.profile is not None and not window.run.labels
    press(window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    assert window.run.mode == HIDDEN and not window.run.isVisible() and window.slider.isVisible()
    window.show_bench("pipes")
    assert window.run.mode == FULL and window.run.isVisible()
    window.show_bench("goal")
    assert window.run.mode == HIDDEN
    QTest.mouseClick(window.slider.turn, Qt.MouseButton.LeftButton)
    assert window.run.mode == FULL
    assert window.settings.runs == {"goal": FULL}


def test_figures_of_the_ribbon_lead_to_their_sheets(window: MainWindow) -> None:
    """As in the full run."""
    window.show_bench("goal")
    window.run.grab()
    led = {}
    for area, key in list(window.run._hits):
        QTest.mouseClick(window.run, Qt.MouseButton.LeftButton, pos=area.center().toPoint())
        led[key] = window.side.calculation.key
    assert led == {key: key for key in ("power", "torque", "boost", "air")}


def test_a_narrow_window_has_numbers_and_a_drawer(window: MainWindow) -> None:
    """Below its width the side panel lies over the page when it is wanted; the rail shows numbers alone; nothing scrolls sideways."""
    window.resize(NARROW + 40, 800)
    pause(20)
    assert window.side.isVisible() and not window.side_button.isVisible()
    wide = window.stack.width()
    press(window, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier)
    assert not window.side.isVisible() and window.stack.width() > wide + 250
    press(window, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier)
    assert window.side.isVisible()
    window.resize(NARROW_RAIL - 100, 540)
    pause(20)
    assert not window.side.isVisible() and window.rail.width() < 60 and not window.rail.next.isVisible()
    room = window.stack.width()
    QTest.mouseClick(window.side_button, Qt.MouseButton.LeftButton)
    assert window.side.isVisible() and window.stack.width() == room
    assert window.side.geometry().right() <= window.width()
    window.resize(1280, 800)
    pause(20)
    assert window.side.isVisible() and window.rail.width() > 100 and window.rail.next.isVisible()
    assert window.stack.width() == window.width() - window.rail.width() - window.side.width() - 2


def test_no_check_is_marginal_by_less_than_nothing(window: MainWindow) -> None:
    """Whatever is shown, the words of a state do not contradict its margin."""
    assert settle(window)
    for check_result in window.desk.answer.check_results:
        said = state_words(check_result)
        assert not (said.startswith(("Marginal", "OK")) and "missed" in said), (check_result.id, said)
        moved = dataclasses.replace(check_result, margin=-0.3, state=MARGINAL)
        assert "missed" not in state_words(moved)
