"""What every key, click, drag, button, menu and command of the window did earlier. It validates nothing.

Each is done once on every page, and what is another thing afterwards is kept: entries of the document, what is chosen, what the widget
says of itself, jobs that begin, files that are asked for. After a change that is meant, run `.venv/bin/python tests/window/own_acts.py`,
read what it prints, try it in the window, and commit the file.
"""

from __future__ import annotations

import dataclasses
import json
import lzma
import os
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from driving import rest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QAbstractScrollArea, QApplication, QFileDialog, QMenu, QMessageBox, QToolButton, QWidget
from shiboken6 import isValid

from zarvik.formats import shipped
from zarvik.project.document.document import Project
from zarvik.window.app import make_window, settle
from zarvik.window.benches import BENCHES
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.opening import application
from zarvik.window.parts.quantity_field import QuantityField, ScrubLabel
from zarvik.window.parts.row_list import RowList
from zarvik.window.parts.words_field import WordsField
from zarvik.workspace.job_store import DONE, Job, JobResult

STORE = Path(__file__).parents[1] / "reference" / "own_acts.json.xz"
DEMOS = ("tarn",)
PLAIN, CTRL, SHIFT, ALT = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)
K = Qt.Key
KEYS = (
    *((key, PLAIN) for key in (K.Key_Down, K.Key_Right, K.Key_End, K.Key_Up, K.Key_Left, K.Key_PageDown, K.Key_PageUp)),
    *((key, PLAIN) for key in (K.Key_Space, K.Key_Return, K.Key_Plus, K.Key_Minus, K.Key_1, K.Key_F, K.Key_Delete)),
    (K.Key_Down, CTRL),
    (K.Key_C, CTRL),
    (K.Key_Right, SHIFT),
    (K.Key_Up, ALT),
)
SPOTS = ((0.1, 0.15), (0.5, 0.5), (0.85, 0.6))
NOT_PRESSED = {"Quit", "Find", "Find anything"}  # leave the window, or open what has tests of its own
ENTRIES = (QuantityField, ScrubLabel, WordsField)
WITH_ENTRIES = ("goal load",)  # pages on which entries are touched: those of others are made alike
SPEED = 5000.0  # rev/min at which every act begins
MOST = 2  # of a kind of widget on a page: entries are many, and one like the other
Acts = dict[str, list[str]]


def _flat(node: Any, place: str = "") -> Iterator[tuple[str, str]]:
    """A document's entries by their places."""
    if isinstance(node, dict):
        for key, item in node.items():
            yield from _flat(item, f"{place}.{key}" if place else key)
    elif isinstance(node, list):
        for number, item in enumerate(node):
            yield from _flat(item, f"{place}.{item['id'] if isinstance(item, dict) and 'id' in item else number}")
    else:
        yield place, str(node)


def _simple(value: Any) -> Any:
    """A value that can be kept, in short; None for what cannot."""
    if isinstance(value, (bool, str)):
        return value
    if isinstance(value, (int, float)):
        return float(f"{value:.2g}")
    if isinstance(value, np.ndarray):
        return [round(x, 1) for x in value.ravel().tolist()] if value.size < 20 else None
    if isinstance(value, tuple) and len(value) < 9:
        return [_simple(x) for x in value]
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {f.name: _simple(getattr(value, f.name)) for f in dataclasses.fields(value)} if len(dataclasses.fields(value)) < 9 else None
    return None


def _says(widget: QWidget) -> dict[str, Any]:
    """What a widget of the program's own says of itself."""
    return {
        name: found
        for name, value in vars(widget).items()
        if not name.startswith("_") and name != "row" and (found := _simple(value)) is not None
    }


def _own(widget: QWidget, name: str) -> bool:
    """Has the program a hand in this event of the widget?"""
    return any(name in vars(kind) for kind in type(widget).__mro__ if kind.__module__.startswith("zarvik."))


class Hand:
    """Does everything once in a window and keeps what came of it."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.found: Acts = {}
        self.asked: list[str] = []  # jobs and files since the act began
        self.home: tuple[str, str] = ("", "")
        self._read: list[tuple[Project, dict[str, str]]] = []  # the document that acts begin from, and the last other one

    def _entries(self, project: Project) -> dict[str, str]:
        """What a document says, by its places; the one that acts begin from is read once."""
        found = next((entries for kept, entries in self._read if kept is project), None)
        if found is None:
            tree = project.model_dump(mode="json", by_alias=True, exclude={"variants"})
            found = {f"document {place}": text for place, text in _flat(tree)}
            self._read = [*self._read[-1:], (project, found)] if len(self._read) < 2 else [self._read[0], (project, found)]
        return found

    def _state(self, widget: QWidget | None) -> dict[str, str]:
        window = self.window
        bench = window.benches[window.stack.currentWidget().key] if hasattr(window.stack.currentWidget(), "key") else None
        found = dict(self._entries(window.session.project))
        found |= {f"variant {v.name}": "kept" for v in window.session.project.variants}
        found |= {
            "bench": window._phase,
            "page": str(getattr(bench, "page", "")),
            "piece": str(window.desk.piece),
            "speed": f"{window.desk.speed or 0.0:.3g}",
            "beside": window.side.leaf if hasattr(window.side, "leaf") else "",
            "focus": type(QApplication.focusWidget()).__name__,
            "said": window.notice.text() if window.notice.isVisible() else "",
        }
        if widget is not None:
            found |= {f"own {name}": str(value) for name, value in _says(widget).items()}
        return found

    def act(self, name: str, do: Callable[[], object], widget: QWidget | None = None) -> None:
        """Do it, keep what is another thing now, and take it back."""
        window = self.window
        if widget is not None and not isValid(widget):
            return
        window.desk.set_speed(SPEED)
        project, before = window.session.project, self._state(widget)
        self.asked.clear()
        do()
        QApplication.processEvents()
        now = self._state(widget)
        lines = [f"{key}: {now.get(key, '–')}" for key in {**before, **now} if before.get(key) != now.get(key) and key != "focus"]
        if len(lines) > 1:  # which speeds are solved of a design that is just changed is a question of time
            lines = [line for line in lines if not line.startswith(("speed: ", "said: "))]
        if lines or self.asked:
            self.found[name] = [line[:120] for line in (*lines[:12], *self.asked[:6])]
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()
        for _ in range(3):
            if window.session.project is not project:
                window.session.undo()
        if window.session.project != project:
            window.session.replace(project, None, saved=True)
        if window.session.project is not project or not window.desk.current:
            assert settle(window)
        self.back()

    def back(self) -> None:
        """To the page that is gone over."""
        bench, page = self.home
        if self.window.stack.currentWidget() is not self.window.benches[bench]:
            self.window.show_bench(bench)
        if page and not self.window.benches[bench].pages[page].isChecked():
            self.window.benches[bench].show_page(page)

    def go_over(self, root: QWidget, place: str) -> None:
        """Everything on a page."""
        times: Counter[str] = Counter()
        for widget in [w for w in root.findChildren(QWidget) if w.isVisible()]:
            if not isValid(widget):
                continue  # an act before it has made the page anew
            name = type(widget).__name__
            if isinstance(widget, QAbstractButton):  # counted by its words: one that comes a little later renames no other
                name = f"{name} {widget.objectName() if any(map(str.isdigit, widget.text())) else widget.text() or widget.accessibleName()}"
            times[name] += 1
            at = f"{place}: {name} {times[name]}"
            if isinstance(widget, QAbstractButton):
                self._press(widget, at)
            elif (
                times[name] <= MOST
                and not (isinstance(widget, ENTRIES) and place not in WITH_ENTRIES)
                and (_own(widget, "keyPressEvent") or _own(widget, "mousePressEvent") or isinstance(widget, RowList))
            ):
                self._touch(widget, at)

    def _press(self, button: QAbstractButton, at: str) -> None:
        words = button.text() or button.accessibleName()
        if not button.isEnabled() or words in NOT_PRESSED:
            return
        if isinstance(button, QToolButton) and button.menu() is not None:
            self._menu(button.menu(), at)
            return
        self.act(at, button.click)

    def _menu(self, menu: QMenu, at: str) -> None:
        menu.aboutToShow.emit()
        for action in menu.actions():
            if action.menu() is None and action.text() and action.isEnabled() and action.text() not in NOT_PRESSED:
                self.act(f"{at} {action.text()}", action.trigger)

    def _touch(self, widget: QWidget, at: str) -> None:
        """Keys, clicks, a double click, a drag, the wheel."""
        spots = widget.viewport() if isinstance(widget, QAbstractScrollArea) else widget
        left = Qt.MouseButton.LeftButton

        def dragged(spot: QPoint) -> None:
            QTest.mousePress(spots, left, PLAIN, spot)
            QTest.mouseMove(spots, spot + QPoint(14, -9))
            QTest.mouseMove(spots, spot + QPoint(40, -24))
            QTest.mouseRelease(spots, left, PLAIN, spot + QPoint(40, -24))

        if _own(widget, "mousePressEvent") or isinstance(widget, RowList):
            for x, y in SPOTS:
                spot = QPoint(round(x * spots.width()), round(y * spots.height()))
                self.act(f"{at}, click {x} {y}", lambda s=spot: QTest.mouseClick(spots, left, PLAIN, s), widget)
                self.act(f"{at}, drag {x} {y}", lambda s=spot: dragged(s), widget)
            middle = spots.rect().center()
            self.act(f"{at}, double", lambda: QTest.mouseDClick(spots, left, PLAIN, middle), widget)
        if _own(widget, "wheelEvent"):
            self.act(f"{at}, wheel", lambda: _wheel(spots), widget)
        if _own(widget, "keyPressEvent") or isinstance(widget, RowList):
            for key, modifiers in KEYS:
                words = f"{at}, {modifiers.name.removesuffix('Modifier')} {key.name.removeprefix('Key_')}"
                self.act(words, lambda k=key, m=modifiers: (widget.setFocus(), QTest.keyClick(widget, k, m)), widget)


def _wheel(widget: QWidget) -> None:
    middle = QPointF(widget.rect().center())
    event = QWheelEvent(
        middle, widget.mapToGlobal(middle), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton, PLAIN, Qt.ScrollPhase.NoScrollPhase, False
    )
    QApplication.sendEvent(widget, event)


@contextmanager
def nothing_leaves(hand: Hand) -> Iterator[None]:
    """No file is chosen, no question answered, no job begun: that they are asked for is kept."""

    def dialog(*given: Any, **_: Any) -> tuple[str, str]:
        hand.asked.append(f"file: {next((g for g in given if isinstance(g, str)), '')}")
        return "", ""

    def job(wanted: Job, *, again: bool = False) -> JobResult:
        known = hand.window.session.jobs.reply(wanted.key, wanted.of)
        if known is not None and known.state == DONE and not again:
            return known
        if wanted.title:  # others are asked by what is shown
            hand.asked.append(f"job: {wanted.key} {wanted.title}")
        return JobResult(wanted)

    def question(*given: Any, **_: Any) -> Any:
        hand.asked.append("question: " + " ".join(g for g in given if isinstance(g, str))[:80])
        return QMessageBox.StandardButton.Cancel

    with (
        mock.patch.object(QFileDialog, "getSaveFileName", dialog),
        mock.patch.object(QFileDialog, "getOpenFileName", dialog),
        mock.patch.object(QMessageBox, "exec", question),
        mock.patch.object(QMenu, "exec", lambda *_: None),
        mock.patch.object(hand.window.desk, "ask", job),
        mock.patch.object(hand.window, "_ask", question),
    ):
        yield


def acts(window: MainWindow) -> Acts:
    """What everything does, on every page of every bench, at the side, in the header and by the commands of the benches."""
    hand = Hand(window)
    for entry in BENCHES:
        window.show_bench(entry.key)
        bench = window.benches[entry.key]
        for name in getattr(bench, "pages", {"": None}):
            hand.home = (entry.key, name)
            hand.back()
            assert settle(window)
            rest(window)
            with nothing_leaves(hand):
                hand.go_over(bench, f"{entry.key} {name}".strip())
        with nothing_leaves(hand):
            for words, act in list(bench.commands()):
                hand.act(f"{entry.key}, command {words}", act)
    hand.home = ("goal", "")
    hand.back()
    rest(window)
    for leaf in window.side.leaves:
        window.side.turn(leaf)
        rest(window)
        with nothing_leaves(hand):
            hand.go_over(window.side.leaves[leaf], f"beside {leaf}")
    return hand.found


def stored() -> dict[str, Acts]:
    """What was kept of each demo."""
    with lzma.open(STORE, "rt", encoding="utf-8") as file:
        found: dict[str, Acts] = json.load(file)
    return found


def differences(before: Acts, now: Acts) -> list[str]:
    """What does something else than it did."""
    return [f"{key}: {before.get(key)} → {now.get(key)}" for key in {**before, **now} if before.get(key) != now.get(key)]


def write() -> None:
    """Keep what everything does now, and say what is not as it was."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    application()
    before = stored() if STORE.exists() else {}
    found: dict[str, Acts] = {}
    for demo in DEMOS:
        window = make_window(shipped.demo(demo), None, "light")
        window.resize(1280, 800)
        window.show()
        found[demo] = acts(window)
        for line in differences(before.get(demo, {}), found[demo])[:60]:
            print(line[:260])
        window.session.close()
        window.hide()  # one with unsaved work would ask
    with lzma.open(STORE, "wt", encoding="utf-8", preset=9) as file:
        json.dump(found, file, ensure_ascii=False, separators=(",", ":"))


if __name__ == "__main__":
    write()
