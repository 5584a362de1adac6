"""Find anything by typing: a command, a bench, an entry, a piece, a number, a check."""

from __future__ import annotations

import time
import unicodedata
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from zarvik.formats.synonyms import others
from zarvik.project.language.language import tr
from zarvik.window.parts.focus import give_back
from zarvik.window.parts.overlay import in_sight
from zarvik.window.parts.plain_label import PlainLabel

MOST = 60
SLICE = 0.012  # s of gathering at a stretch


@dataclass(frozen=True)
class Thing:
    """Something that can be found: its words, what kind of thing it is, its keys, what it does."""

    words: str
    kind: str
    act: Callable[[], object]
    keys: str = ""


def plain(text: str) -> str:
    """Lower case without accents, for comparing."""
    folded = unicodedata.normalize("NFKD", text).lower()
    return "".join(c for c in folded if not unicodedata.combining(c))


@lru_cache(4096)
def _plain_words(words: str) -> tuple[str, ...]:
    return tuple(plain(words).replace(":", " ").split())


def rank(query: str, thing: Thing) -> int | None:
    """How well a thing answers what was typed: every word has to begin a word of it or, worse,
    stand within one; None when one does not. Lower is better."""
    words = _plain_words(thing.words)
    text = " ".join(words)
    total = 0
    for number, part in enumerate(plain(query).split()):
        if any(w.startswith(part) for w in words):
            total += 0 if number or text.startswith(part) else 1
        elif part in text or part in plain(thing.kind):
            total += 4
        else:
            return None
    return total


class Finder(QFrame):
    """A field and a list over the window; Escape goes, Enter does, up and down choose."""

    def __init__(self, parent: QWidget, things: Callable[[], Iterator[Thing]]) -> None:
        super().__init__(parent)
        self.setObjectName("over")
        self._things = things
        self._all: list[Thing] = []
        self._coming: Iterator[Thing] = iter(())
        self.found: list[Thing] = []
        self._back: QWidget | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 12, 14, 14)
        column.setSpacing(8)
        self.field = QLineEdit()
        self.field.setObjectName("find")
        self.field.setPlaceholderText(tr("Find a command, an entry, a piece, a number…"))
        self.field.setAccessibleName(tr("Find anything"))
        self.field.textEdited.connect(self._typed)
        self.field.installEventFilter(self)
        column.addWidget(self.field)
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemClicked.connect(lambda _: self._do())
        column.addWidget(self.list, 1)
        self.foot = PlainLabel(tr("Enter runs it, Escape closes"))
        self.foot.setObjectName("soft")
        column.addWidget(self.foot)
        self.hide()

    def open(self) -> None:
        """Show it over the window, empty."""
        window = self.parentWidget()
        self._back = window.window().focusWidget() if window is not None else None
        self._all, self._coming = [], self._things()
        if window is not None:
            seen = in_sight(window)
            wide, tall = min(620, seen.width() - 80), min(470, seen.height() - 90)
            self.setGeometry(seen.left() + (seen.width() - wide) // 2, seen.top() + min(70, (seen.height() - tall) // 2), wide, tall)
        self.field.clear()
        self.list.clear()
        self.show()
        self.raise_()
        self.field.setFocus(Qt.FocusReason.ShortcutFocusReason)
        # The field is there at once, and what can be found comes while a hand goes to the keys.
        QTimer.singleShot(0, self, self._gather)

    def gather(self) -> None:
        """There is more to be found than when it was opened."""
        if self.isVisible():
            self._all, self._coming = [], self._things()
            self._gather()

    def _gather(self) -> None:
        # A little at a time: whoever types does not wait for the names of all entries.
        end = time.perf_counter() + SLICE
        for thing in self._coming:
            self._all.append(thing)
            if time.perf_counter() > end:
                QTimer.singleShot(0, self, self._gather)
                return
        if self.isVisible():
            row = self.list.currentRow()
            self._search(self.field.text())
            self.list.setCurrentRow(min(max(row, 0), len(self.found) - 1))

    def _typed(self, query: str) -> None:
        self._all.extend(self._coming)
        self._search(query)

    def leave(self) -> None:
        """Hide it and give the focus back."""
        self.hide()
        give_back(self._back)

    def _search(self, query: str) -> None:
        also = others(plain(query.strip()))
        ranked = []
        for number, thing in enumerate(self._all):
            own = rank(query, thing)
            # What is called otherwise stands behind what has the very words.
            said = [r + 3 for q in also if (r := rank(q, thing)) is not None]
            best = min([*said, *([own] if own is not None else [])], default=None)
            if best is not None:
                ranked.append((best, number, thing))
        ranked.sort(key=lambda item: item[:2])
        self.found = [thing for _, _, thing in ranked[:MOST]]
        self.list.clear()
        for thing in self.found:
            keys = f"   ({thing.keys})" if thing.keys else ""
            self.list.addItem(QListWidgetItem(f"{thing.words}{keys}   –  {thing.kind}"))
        if self.found:
            self.list.setCurrentRow(0)
        else:
            self.list.addItem(tr("Nothing found"))

    def _do(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self.found):
            thing = self.found[row]
            self.leave()
            thing.act()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """The keys of the list, while the field has the focus."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            row, last = self.list.currentRow(), self.list.count() - 1
            steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_PageDown: 8, Qt.Key.Key_PageUp: -8}
            key = Qt.Key(event.key())
            if key in steps:
                self.list.setCurrentRow(min(max(row + steps[key], 0), last))
                return True
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._do()
                return True
            if key == Qt.Key.Key_Escape:
                self.leave()
                return True
        if event.type() == QEvent.Type.FocusOut and self.isVisible():
            self.hide()
        return super().eventFilter(watched, event)
