"""A column beside a picture that scrolls where the window is low."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget


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


def halves(page: QWidget) -> tuple[QVBoxLayout, QVBoxLayout]:
    """A `page` with entries on the left and what comes of them on the right, each in a column that scrolls: the two columns. Room
    is left under the entries."""
    row = QHBoxLayout(page)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(14)
    area, around = side_column(296, 8, 6)
    left = QVBoxLayout()
    left.setSpacing(6)
    around.addLayout(left)
    around.addStretch(1)
    row.addWidget(area)
    beside, right = side_column(0, 6, 6)
    row.addWidget(beside, 1)
    return left, right
