"""Whole-user stories in the real window: travel, look, be led on."""

from __future__ import annotations

from pathlib import Path

from driving import chosen_check, click, field, pipes, rest, type_into
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QToolButton

from zarvik.formats import shipped
from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.workspace import settings


def test_a_check_opens_what_it_speaks_of(window: MainWindow) -> None:
    """Charge pressure loss leads to the piece that costs most."""
    details = chosen_check(window, "charge_mach")
    about = window.checks.checks.check_result.about
    click(details.go)
    assert window.stack.currentWidget() is window.benches["pipes"]
    assert window.desk.piece == about.partition(":")[2]


def test_rev_slider_and_run_by_keyboard_and_mouse(window: MainWindow) -> None:
    """Left and Home on the slider; clicks on the run open pieces, the compressor, the intercooler."""
    window.slider.setFocus()
    QTest.keyClick(window.slider, Qt.Key.Key_Left)
    assert window.desk.speed == 6375.0
    power = window.desk.point.power
    assert power < window.desk.answer.target.power
    QTest.mouseClick(window.slider, Qt.MouseButton.LeftButton, pos=QPoint(300, 9))
    assert window.desk.speed < 3500
    QTest.keyClick(window.slider, Qt.Key.Key_Home)
    assert window.desk.speed == 6400.0
    for key, bench in (("c54-71", "turbo"), ("cooler", "pipes"), ("h-run", "pipes")):
        span = next(s for s in window.run.profile.spans if s.stretch.id == key)
        spot = QPoint(int((span.left + span.right) / 2), 120)
        QTest.mouseMove(window.run, spot)
        QTest.mouseClick(window.run, Qt.MouseButton.LeftButton, pos=spot)
        assert window.stack.currentWidget() is window.benches[bench]
    assert window.desk.piece == "h-run"
    window.run.setFocus()
    QTest.keyClick(window.run, Qt.Key.Key_Right)
    assert window.desk.piece == "h-in"


def test_the_last_change_stays_as_a_ghost(window: MainWindow) -> None:
    """After an edit the profile before it is kept, dashed; moving the revs takes it away."""
    assert window.run.before is None
    bench = pipes(window, "h-run")
    type_into(field(bench, "hot_pipe.h-run.bore"), "40 mm")
    assert settle(window)
    assert window.run.before is not None
    window.desk.set_speed(5000.0)
    assert window.run.before is None


def test_theme_turns_and_is_remembered(window: MainWindow, state_folder: Path) -> None:
    """Light to dark, kept for the next start."""
    from zarvik.workspace import settings

    assert settings.load().theme == "light"
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    assert window.theme == "dark"
    assert settings.load().theme == "dark"
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    assert window.theme == "light"


def test_benches_by_keyboard(window: MainWindow) -> None:
    """Ctrl with the number of a phase, Ctrl+PgDown through its tabs, and the rail; a phase is found as it was left."""
    for key, shown in (
        (Qt.Key.Key_2, "turbo"),
        (Qt.Key.Key_PageDown, "candidates"),
        (Qt.Key.Key_3, "pipes"),
        (Qt.Key.Key_2, "candidates"),
        (Qt.Key.Key_PageUp, "turbo"),
        (Qt.Key.Key_PageUp, "compare"),
        (Qt.Key.Key_1, "goal"),
        (Qt.Key.Key_PageDown, "goal"),
    ):
        QTest.keyClick(window, key, Qt.KeyboardModifier.ControlModifier)
        assert window.stack.currentWidget() is window.benches[shown]
        # Tabs are there for a phase of several benches, and the one that is shown is down.
        tabs = [bench for bench, button in window.tabs.buttons.items() if button.isVisible()]
        assert (shown in tabs and window.tabs.buttons[shown].isChecked()) if shown != "goal" else not tabs
    step = window.rail.steps["goal"]
    step.setFocus()
    QTest.keyClick(step, Qt.Key.Key_Return)
    assert window.stack.currentWidget() is window.benches["goal"]
    assert step.state == "marginal"


def test_a_blower_build_has_no_turbo_in_its_path(open_window: object) -> None:
    """Rail, tabs, tips' names and commands speak of a blower; a phase of which no check speaks has no state."""
    window = open_window(shipped.demo("moth"))  # type: ignore[operator]
    names = [step.title for step in window.rail.steps.values()] + [button.text() for button in window.tabs.buttons.values()]
    names += [command.text() for command in window.commands]
    assert "Blower" in names and "2  Blower" in names and "Blower: Candidates" in names
    assert not [name for name in names if "turbo" in name.lower() or "wastegate" in name.lower()]
    spoken = {v.about.partition(":")[0] for v in window.desk.answer.check_results}
    for step in window.rail.steps.values():
        assert bool(step.state) == bool(spoken & step.subjects), step.title
    window.open_demo("tarn")
    assert settle(window)
    assert window.rail.steps["turbo"].title == "Turbo" and "2  Turbo" in [command.text() for command in window.commands]


def test_the_next_steps_lead_on(window: MainWindow) -> None:
    """The card says how far the goal is and what to do; each link leads there; it is hidden, and comes back by its command."""
    card = window.rail.next
    rest(window)
    assert "short of the goal" in card.text.plain() and "Choose a turbo" in card.text.plain()
    card.text.linkActivated.emit("=bench:candidates")
    assert window.stack.currentWidget() is window.benches["candidates"]
    card.text.linkActivated.emit("=subject:joints")
    assert window.stack.currentWidget() is window.benches["joints"]
    click(card.findChild(QToolButton))
    assert not card.isVisible() and not settings.load().next_steps
    next(c for c in window.commands if c.text() == "Next steps").trigger()
    assert card.isVisible() and settings.load().next_steps
    entry = field(window.benches["goal"], "goal.target_power")
    window.show_bench("goal")
    type_into(entry, "250 hp")
    assert settle(window)
    rest(window)
    assert "goal met" in card.text.plain()
