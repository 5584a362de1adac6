"""Every part that is seen wears the theme in force, however the window came there; a page is made when it is first wanted."""

from __future__ import annotations

import itertools

import pytest
from driving import pause
from PySide6.QtCore import QPoint
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QMessageBox, QPushButton, QWidget

from zarvik.project.document.document import Project
from zarvik.window.benches import BENCHES
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.message_box import ask
from zarvik.window.parts.quantity_field import Bubble
from zarvik.window.theme.palette import THEMES, charge_colour, gas_colour
from zarvik.window.theme.style import Pages, undressed


def turned(window: MainWindow, name: str) -> None:
    window.use_theme(name)
    while not window.updatesEnabled():  # one part after the other
        pause(5)


def ground(widget: QWidget) -> str:
    """The colour inside the left edge of an entry."""
    return widget.grab().toImage().pixelColor(QPoint(4, widget.height() // 2)).name()


def seen(window: MainWindow, kind: type[QWidget]) -> list[QWidget]:
    return [w for w in window.findChildren(kind) if w.isVisible() and w.isEnabled() and w.width() > 20 and not w.visibleRegion().isEmpty()]


def check(window: MainWindow, name: str) -> int:
    raised = QColor(THEMES[name].raised).name()
    entries = [w for w in (*seen(window, QLineEdit), *seen(window, QComboBox)) if not isinstance(w.parentWidget(), QComboBox)]
    for entry in entries:
        assert ground(entry) == raised, (entry.accessibleName(), ground(entry), raised)
    return len(entries)


def test_every_bench_and_page_wears_the_theme(window: MainWindow) -> None:
    """Turned on one bench, the theme is on every other when that is shown, on each of its pages, and on what lies over them."""
    count = 0
    for entry, name in zip(BENCHES, itertools.cycle(("dark", "light"))):
        turned(window, name)
        window.show_bench(entry.key)
        bench = window.benches[entry.key]
        pages = list(getattr(bench, "pages", {})) or [""]
        for page in pages:
            if page:
                bench.show_page(page)
            pause(1)
            count += check(window, name)
            assert not list(undressed(window.whole))
        ink = QColor(THEMES[name].panel).name()
        assert bench.grab().toImage().pixelColor(QPoint(3, 3)).name() == ink, entry.key
    assert count > 150
    turned(window, "dark")
    window.show_start()
    assert check(window, "dark") > 10 and seen(window, QPushButton)
    window.show_design()
    window.finder.open()
    assert ground(window.finder.field) == QColor(THEMES["dark"].raised).name()
    window.finder.leave()


def test_a_sentence_under_an_entry_wears_the_theme(window: MainWindow) -> None:
    """It is made when it is wanted, and stands outside every bench."""
    turned(window, "dark")
    entry = window.benches["goal"].field_of("goal.target_boost")
    assert isinstance(entry, QLineEdit)
    entry.setFocus()
    entry.selectAll()
    QTest.keyClicks(entry, "much")
    bubble = next(w for w in window.findChildren(Bubble) if w.isVisible())
    assert ground(bubble) == QColor(THEMES["dark"].fails).name()


def test_pages_are_made_when_they_are_wanted(window: MainWindow, tarn: Project) -> None:
    """A bench stands with the page that is seen; the others come one by one, and a way to an entry makes its own."""
    window.show_bench("joints")
    bench = window.benches["joints"]
    assert bench.unmade() == ["lists", "leak", "made", "supply", "cooling"]
    bench.show_page("cooling")
    assert "cooling" not in bench.unmade() and "supply" in bench.unmade()
    window.desk.go_to_place("leak_test.end_pressure")
    assert "leak" not in bench.unmade() and getattr(bench, "page", "") == "leak"
    left = 0
    while window.benches.make_next():
        left += 1
    assert 20 < left < 120 and all(window.benches.made(key) and not window.benches[key].unmade() for key in window.benches)
    for made in window.benches.values():
        for pages in made.findChildren(Pages):
            assert pages.count() == len(getattr(made, "pages", {})) and not any(
                list(undressed(pages.widget(n))) for n in range(pages.count())
            )


def test_a_question_wears_the_theme(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    """Asked in the theme in force, in plain text; the button that is pressed is the answer."""
    turned(window, "dark")
    seen: list[tuple[str, str]] = []

    def press(box: QMessageBox) -> QMessageBox.StandardButton:
        button = box.button(QMessageBox.StandardButton.No)
        box.show()
        seen.append((ground(button), box.text()))
        box.hide()
        return QMessageBox.StandardButton.No

    monkeypatch.setattr(QMessageBox, "exec", press)
    both = QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No
    assert ask(window, "Sure?", "<b>one</b> & two", both) == QMessageBox.StandardButton.No
    assert seen[0][0] == QColor(THEMES["dark"].raised).name() and "<b>" not in seen[0][1]


def test_colours_of_gas_go_one_way(qapp: object) -> None:
    """From 0 °C to 200 °C in the charge and 400 °C to 1,000 °C in the exhaust, the end colours beyond: a winter's day is the coldest."""
    for colour, low, high in ((charge_colour, 273.15, 473.15), (gas_colour, 673.15, 1273.15)):
        shades = [colour(low + (high - low) * n / 8.0).getRgbF()[:3] for n in range(9)]
        for one in zip(*shades, strict=True):
            steps = [b - a for a, b in itertools.pairwise(one)]
            assert all(s >= 0.0 for s in steps) or all(s <= 0.0 for s in steps)
        assert colour(low - 23.0) == colour(low) and colour(high + 40.0) == colour(high) and colour(low) != colour(high)
