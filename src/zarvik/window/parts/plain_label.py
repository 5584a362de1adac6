"""A label whose text is text: a name in it that looks like markup is shown as it was typed."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget


class PlainLabel(QLabel):
    """`QLabel` without the guess whether its text might be rich."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class Paragraph(PlainLabel):
    """Text of more than a line: it wraps; `soft`: said beside what counts."""

    def __init__(self, text: str = "", *, soft: bool = False) -> None:
        super().__init__(text)
        self.setWordWrap(True)
        if soft:
            self.setObjectName("soft")
