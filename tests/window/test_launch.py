"""The start: something is seen before the program is read, and the window takes its place."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QWidget

from zarvik import launch
from zarvik.window import opening
from zarvik.window.parts.disk_work import beside, waiting


@pytest.mark.parametrize(
    ("words", "seen"),
    [
        ((), True),
        (("start",), True),
        (("demo",), True),
        (("demo", "fell"), True),
        (("demo", "--list"), False),
        (("demo", "tarn", "--shot", "a.png"), False),
        (("demo", "--copy", "a"), False),
        (("open", "nowhere.zarvik.json"), False),
        (("open",), False),
        (("solve", "a"), False),
        (("--help",), False),
        (("open", __file__), True),
    ],
)
def test_only_what_stays_shows_a_window(words: tuple[str, ...], seen: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    """Answers in words show none, nor is one tried without a screen."""
    monkeypatch.setenv("QT_QPA_PLATFORM", "offscreen")
    assert launch.opens_window(words) is seen
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert not launch.opens_window(words)


@pytest.mark.usefixtures("qapp", "no_threads_left")
def test_what_is_seen_first_gives_its_place() -> None:
    """Painted in the ground of the theme with a line of words, it is gone once the window stands; closed before, nothing opens."""
    opening.show("1000x700")
    first = next(w for w in QApplication.topLevelWidgets() if isinstance(w, opening.Opening) and w.isVisible())
    picture = first.grab().toImage()
    assert picture.pixelColor(2, 2).name() == first.colours.ground.lower()
    middle = {picture.pixelColor(x, picture.height() // 2).name() for x in range(picture.width())}
    assert len(middle) > 2  # words
    assert opening.meanwhile(lambda: time.sleep(0.01))
    window = QWidget()
    opening.give_place(window)
    assert window.isVisible() and not first.isVisible()
    opening.show()
    second = next(w for w in QApplication.topLevelWidgets() if isinstance(w, opening.Opening) and w.isVisible())
    second.close()
    assert not opening.meanwhile(lambda: None)
    opening.give_place(window)
    window.close()


@pytest.mark.usefixtures("qapp", "no_threads_left")
def test_who_waits_keeps_the_window_alive() -> None:
    """Timers run while the disk works; what the work raises is raised; what it returns is returned."""
    beats: list[bool] = []
    timer = QTimer()
    timer.timeout.connect(lambda: beats.append(waiting()))
    timer.start(5)
    assert beside(lambda: (time.sleep(0.2), 7)[1]) == 7
    assert len(beats) > 3 and all(beats) and not waiting()
    with pytest.raises(ZeroDivisionError):
        beside(lambda: 1 // 0)
    assert not waiting()


def test_the_start_reads_little(tmp_path: Path) -> None:
    """Before something is seen neither the solver nor the tables are read: importing them takes ten times as long."""
    program = (
        "import sys; from zarvik.window import opening; opening.show();"
        "print(sorted(m for m in sys.modules if m.split('.')[0] in ('numpy', 'scipy', 'numba', 'pydantic', 'vtkmodules')))"
    )
    assert subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True).stdout.strip() == "[]"
