"""What is painted when: once for each look, never older than what it shows, in a turn of the event loop of its own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from itertools import pairwise

import pytest
from driving import pause, wait_for
from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication, QWidget

from zarvik.formats import shipped
from zarvik.window.app import settle
from zarvik.window.benches.bench import Bench
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.run.pressure_run import FULL, HIDDEN, LOW


class Counted(QObject):
    """Counts how often each widget is told to paint itself."""

    def __init__(self) -> None:
        super().__init__()
        self.times: Counter[str] = Counter()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Look on."""
        if event.type() == QEvent.Type.Paint:
            self.times[type(watched).__name__] += 1
        return False


@pytest.fixture
def window(open_window: Callable[..., MainWindow]) -> MainWindow:
    """The demo with the large turbo."""
    return open_window(shipped.demo("tarn"))


def test_a_bench_is_painted_once(window: MainWindow, qapp: QApplication) -> None:
    """The toolkit would paint what it takes to be opaque a second time with what lies under it: half of the time of a turn."""
    for key in ("designs", "compare"):
        window.show_bench(key)
        assert settle(window)
        pause(50)
    counted = Counted()
    qapp.installEventFilter(counted)
    try:
        for key in ("designs", "compare", "designs"):
            counted.times.clear()
            window.show_bench(key)
            assert not counted.times, "painted before the window could hear anything"
            pause(30)
            shown = {name: times for name, times in counted.times.items() if issubclass(type(window.benches[key]), Bench)}
            assert shown[type(window.benches[key]).__name__] == 1
            assert "RevSlider" not in shown, "what has not changed is not painted"
    finally:
        qapp.removeEventFilter(counted)


def test_the_pressure_run_is_never_older_than_the_window(window: MainWindow) -> None:
    """It is drawn once and kept; after whatever is done to it, it is what it would be if it were drawn now."""
    run, desk, seen = window.run, window.desk, []

    def is_new(what: str) -> None:
        assert settle(window)
        pause(20)
        assert wait_for(window.updatesEnabled), "the theme is put on"
        kept = run.grab().toImage()
        run.stale()
        assert kept == run.grab().toImage(), what
        seen.append(kept)

    is_new("at the start")
    boost = desk.project.goal.target_boost
    for what, act in (
        ("an edit", lambda: desk.edit("goal.target_boost", boost.with_si(1.1 * boost.si))),
        ("its undo", window.undo),
        ("another speed", lambda: desk.set_speed(desk.speeds[2])),
        ("a piece", lambda: desk.choose_piece(desk.project.hot_pipe[0].id)),
        ("other units", lambda: window._show_in("inch")),
        ("the other theme", window.turn_theme),
        ("in full", lambda: window.run.show_as(FULL if window.run.mode == LOW else LOW)),
        ("hidden and back", lambda: (window.run.show_as(HIDDEN), window.run.show_as(LOW))),
        ("a narrow window", lambda: window.resize(900, 700)),
        ("no answer", lambda: desk.edit("hot_pipe", ())),
        ("an answer again", window.undo),
    ):
        act()
        is_new(what)
    changed = [one != two for one, two in pairwise(seen)]
    assert changed.count(True) >= 8, "the actions are seen at all"


def test_a_theme_in_the_middle_of_news(window: MainWindow) -> None:
    """The theme turns while something waits to be painted: afterwards everything is painted again."""
    for _ in range(2):
        window.show_bench("compare")
        window.turn_theme()
        assert wait_for(window.updatesEnabled)
        pause(50)
        assert all(widget.updatesEnabled() for widget in window.findChildren(QWidget))
        window.show_bench("turbo")
        pause(50)
        assert window.updatesEnabled()


def test_a_look_that_was_asked_for_in_vain(window: MainWindow, qapp: QApplication) -> None:
    """The toolkit asks for a look while the window holds its breath: what changes later is painted all the same. What comes into the window
    meanwhile is painted too."""
    window.show_bench("turbo")
    pause(50)
    window._paint_later()
    window.rail.update()
    child = QWidget(window)
    qapp.sendEvent(window, QEvent(QEvent.Type.UpdateRequest))
    pause(50)
    counted = Counted()
    qapp.installEventFilter(counted)
    try:
        window.slider.update()
        pause(50)
        assert counted.times["RevSlider"] == 1
    finally:
        qapp.removeEventFilter(counted)
    assert child.updatesEnabled()
