"""The finder, the keys, and the focus that is seen and named."""

from __future__ import annotations

from driving import open_finder, pause, press
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QWidget

from zarvik.window.benches import BENCHES
from zarvik.window.frame.finder import Thing, rank
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.focus import tab_order


def test_finding_words() -> None:
    """Every word has to be there, the start of a word counts more, accents and case do not."""

    def thing(words: str) -> Thing:
        return Thing(words, "entry", lambda: None)

    assert rank("targ pow", thing("Target power: 330 hp")) == 0
    assert rank("POWER", thing("Target power")) is not None
    assert rank("ower", thing("Target power")) == 4
    assert rank("boost", thing("Target power")) is None
    assert rank("resume", thing("Résumé")) == 0


def test_the_finder_reaches_everything(window: MainWindow) -> None:
    """Every command, entry, piece, check and number is in it; each can be done."""
    open_finder(window)
    window.finder.leave()
    kinds: dict[str, int] = {}
    for thing in window.findable.things():
        kinds[thing.kind] = kinds.get(thing.kind, 0) + 1
    assert kinds["command"] > 30 and kinds["entry"] > 80 and kinds["piece"] > 15
    assert kinds["calculation"] > 20
    for thing in list(window.findable.things()):
        if thing.kind in ("entry", "piece", "calculation"):
            thing.act()
    open_finder(window)
    QTest.keyClicks(window.finder.field, "zzzz")
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert window.finder.isVisible()
    QTest.keyClick(window.finder.field, Qt.Key.Key_Escape)
    assert not window.finder.isVisible()


def test_all_keys_are_listed_once(window: MainWindow) -> None:
    """No two commands share a key; the sheet shows every one and any key closes it."""
    keys = [c.shortcut().toString() for c in window.commands if c.shortcut().toString()]
    assert len(keys) == len(set(keys)) > 20
    press(window, Qt.Key.Key_F1)
    assert window.keys.isVisible()
    words = " ".join(label.text() for label in window.keys.findChildren(QLabel))
    assert all(key in words for key in keys)
    # Whole at 1280 by 800: no row is cut
    pause(20)
    assert all(label.height() >= label.sizeHint().height() - 1 for label in window.keys.findChildren(QLabel))
    QTest.keyClick(window.keys, Qt.Key.Key_Escape)
    assert not window.keys.isVisible()


def named(widget: QWidget) -> bool:
    """Has a reader of the screen something to say about it?"""
    if widget.accessibleName():
        return True
    if isinstance(widget, QAbstractButton | QLabel) and widget.text():
        return True
    buddies = widget.window().findChildren(QLabel)
    return any(label.buddy() is widget for label in buddies)


def test_focus_is_seen_and_named(window: MainWindow) -> None:
    """Everything that Tab reaches on any bench has a name, and looks different while it has the focus."""
    window.side.turn("checks")
    for entry in BENCHES:
        window.show_bench(entry.key)
        look_at_focus(window)


def look_at_focus(window: MainWindow) -> None:
    """One bench of it."""
    reached = 0
    for widget in list(tab_order(window.centralWidget())):
        assert named(widget), f"{type(widget).__name__} {widget.objectName()}"
        if isinstance(widget, QLineEdit | QComboBox) and reached > 12:
            continue  # one look of all fields
        window.setFocus()
        calm = widget.grab().toImage()
        widget.setFocus(Qt.FocusReason.TabFocusReason)
        pause(0)
        if isinstance(widget, QLabel):
            QTest.keyClick(widget, Qt.Key.Key_Tab)  # the first link in it
            widget.setFocus(Qt.FocusReason.TabFocusReason)
            continue
        assert widget.grab().toImage() != calm, f"{type(widget).__name__} {widget.accessibleName()}"
        reached += 1
    assert reached > 5


def test_the_finder_is_seen_in_a_small_window_that_is_scrolled(window: MainWindow) -> None:
    """As small as the window may be, scrolled to its end, never sideways: finder and sheet of keys lie where one looks."""
    window.resize(640, 400)
    pause(30)
    assert window.frame.horizontalScrollBar().maximum() == 0
    window.frame.verticalScrollBar().setValue(window.frame.verticalScrollBar().maximum())
    assert window.frame.verticalScrollBar().value() > 0
    for open_it, sheet in ((window._find, window.finder), (window.show_keys, window.keys)):
        open_it()
        corner = sheet.mapTo(window, QPoint(0, 0))
        seen = QRect(corner, sheet.size()) & window.rect()
        assert seen.width() > 400 and seen.height() > 200, (sheet, corner, sheet.size())
        if sheet is window.finder:
            assert window.rect().contains(QRect(corner, sheet.size()))
        sheet.hide()
