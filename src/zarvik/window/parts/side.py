"""A column beside a picture that scrolls where the window is low."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QScrollArea, QVBoxLayout, QWidget


def side_column(width: int, right: int, spacing: int) -> tuple[QScrollArea, QVBoxLayout]:
    """The area, `width` px wide (0: as wide as there is room), and the column in it, with `right` px to the scroll
    bar and `spacing` px from row to row."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    if width:
        area.setFixedWidth(width)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    inside = QWidget()
    column = QVBoxLayout(inside)
    column.setContentsMargins(0, 0, right, 0)
    column.setSpacing(spacing)
    area.setWidget(inside)
    return area, column
