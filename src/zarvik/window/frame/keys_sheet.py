"""The sheet of all keys."""

from __future__ import annotations

import html
from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from zarvik.project.document.document import Project
from zarvik.project.language.language import tr
from zarvik.window.benches import BENCHES
from zarvik.window.parts.focus import give_back
from zarvik.window.parts.overlay import in_sight
from zarvik.window.parts.plain_label import PlainLabel

Group = tuple[str, Sequence[tuple[str, str]]]

# Keys that belong to a part of the window; those of commands are read from the commands.
PARTS: tuple[Group, ...] = (
    (
        "In a field",
        (
            ("Up, Down", "a step more or less; with Shift ten"),
            ("Ctrl+Up, Ctrl+Down", "the same quantity in the next unit"),
            ("Enter", "done"),
            ("Escape", "back to the saved value"),
            ("2.5 in + 3 mm", "sums, fractions and units work"),
        ),
    ),
    ("Pressure run", (("Left, Right", "from piece to piece"), ("W", "calculation of the selected piece"))),
    ("Speed slider", (("Left, Right", "engine speed"), ("Home", "target speed"), ("Space", "start or stop the speed sweep"))),
    (
        "Checks",
        (
            ("Up, Down", "from check to check"),
            ("Enter", "open its page"),
            ("Left, Right", "from figure to figure"),
            ("C", "carry out its fix"),
            ("W", "show its calculation"),
        ),
    ),
)
WITH_KEYS = tuple(entry for entry in BENCHES if entry.keys)


class KeysSheet(QFrame):
    """Columns of keys over the window, each as high as a small window; any key or click closes it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("over")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Keys"))
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(26, 18, 26, 18)
        self._row.setSpacing(28)
        self._back: QWidget | None = None
        self._heads: dict[str, PlainLabel] = {}  # over the keys of a bench
        self.hide()

    def open(self, commands: Sequence[tuple[str, str]], project: Project) -> None:
        """Show the keys of the commands (keys, words) and of the parts; benches are called as in a `project`."""
        if not self._row.count():
            self._fill(commands)
        for entry in WITH_KEYS:
            self._heads[entry.title].setText(entry.name(project))
        window = self.parentWidget()
        if window is not None:
            self._back = window.window().focusWidget()
            size = self.sizeHint()
            # In a window that is smaller than the sheet it is scrolled to, with what lies under it
            seen = in_sight(window)
            wide, tall = min(size.width(), window.width() - 20), min(size.height(), window.height())
            left = seen.left() + (seen.width() - wide) // 2
            top = seen.top() + (seen.height() - tall) // 2
            self.setGeometry(min(max(left, 0), window.width() - wide), min(max(top, 0), window.height() - tall), wide, tall)
        self.show()
        self.raise_()
        self.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _fill(self, commands: Sequence[tuple[str, str]]) -> None:
        for groups in ((("Everywhere", commands),), PARTS, tuple((entry.title, entry.keys) for entry in WITH_KEYS)):
            column = QVBoxLayout()
            column.setSpacing(3)
            holder = QWidget()
            holder.setLayout(column)
            for title, rows in groups:
                head = PlainLabel(tr(title))
                head.setObjectName("group")
                self._heads[title] = head
                column.addWidget(head)
                cells = "".join(
                    f"<tr><td style='padding-right:16px'><b>{html.escape(keys)}</b></td><td>{html.escape(tr(words))}</td></tr>"
                    for keys, words in rows
                )
                column.addWidget(QLabel(f"<table cellpadding='1'>{cells}</table>"))
            column.addStretch(1)
            self._row.addWidget(holder)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Any key closes."""
        self._close()

    def mousePressEvent(self, event: object) -> None:
        """So does a click."""
        self._close()

    def _close(self) -> None:
        self.hide()
        give_back(self._back)
