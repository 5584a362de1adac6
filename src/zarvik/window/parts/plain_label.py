"""A label whose text is text: a name in it that looks like markup is shown as it was typed."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QLabel, QWidget


class PlainLabel(QLabel):
    """`QLabel` without the guess whether its text might be rich."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class CutLabel(PlainLabel):
    """One line that is cut where there is no room for it; the tip has it whole."""

    def __init__(self) -> None:
        super().__init__()
        self.whole = ""
        self.setMinimumWidth(10)

    def say(self, text: str) -> None:
        """Show a text."""
        self.whole = text
        self.setAccessibleName(text)
        self._cut()

    def sizeHint(self) -> QSize:
        """As wide as the whole text."""
        return QSize(self.fontMetrics().horizontalAdvance(self.whole) + 4, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        """As narrow as may be."""
        return QSize(10, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, another cut."""
        super().resizeEvent(event)
        self._cut()

    def _cut(self) -> None:
        text = self.fontMetrics().elidedText(self.whole, Qt.TextElideMode.ElideRight, max(self.width() - 2, 0))
        if text != self.text():
            self.setText(text)
            self.setToolTip(self.whole if text != self.whole else "")


class Paragraph(PlainLabel):
    """Text of more than a line: it wraps; `soft`: said beside what counts."""

    def __init__(self, text: str = "", *, soft: bool = False) -> None:
        super().__init__(text)
        self.setWordWrap(True)
        if soft:
            self.setObjectName("soft")

    def minimumSizeHint(self) -> QSize:
        """As tall as its lines are now: a layout presses together what has a smaller one."""
        least = super().minimumSizeHint()
        return QSize(least.width(), max(self.heightForWidth(self.width()), least.height()) if self.text() else least.height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, other lines."""
        super().resizeEvent(event)
        if event.oldSize().width() != self.width():
            self.updateGeometry()
