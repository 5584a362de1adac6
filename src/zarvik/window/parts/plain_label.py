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
