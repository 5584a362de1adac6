"""A sheet over a bench: its title, a button that closes it, Escape."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.theme.style import dress


def in_sight(widget: QWidget) -> QRect:
    """What of a widget is to be seen between the edges of all that it lies in: of one that is scrolled, the part that is scrolled to."""
    seen, outer = widget.rect(), widget
    while not outer.isWindow() and (parent := outer.parentWidget()) is not None:
        outer = parent
        seen &= QRect(widget.mapFrom(outer, QPoint(0, 0)), outer.size())
    return seen


class Overlay(QFrame):
    """Hidden until it is laid over its parent; what it shows goes into `column`, soft words into
    `text`."""

    def __init__(self, parent: QWidget, desk: Desk, title: str, spacing: int) -> None:
        super().__init__(parent)
        self.desk = desk
        self.setObjectName("over")
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(14, 10, 14, 12)
        self.column.setSpacing(spacing)
        head = QHBoxLayout()
        head.addWidget(heading(title), 1)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.hide)
        head.addWidget(close)
        self.column.addLayout(head)
        self.text = Paragraph(soft=True)
        self.column.addWidget(self.text)
        self.hide()

    def lay(self, left: int, top: int, right: int, bottom: int, first: QWidget) -> None:
        """Show it over its parent, so many px from its edges, with the focus on `first`."""
        parent = self.parentWidget()
        if parent is not None:
            self.setGeometry(parent.rect().adjusted(left, top, -right, -bottom))
        dress(self)
        self.show()
        self.raise_()
        first.setFocus(Qt.FocusReason.OtherFocusReason)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape closes."""
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
        else:
            super().keyPressEvent(event)
