"""A column beside a picture that scrolls where the window is low."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

FOLDED = 600  # px of a page, below which its columns stand under each other


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


class Fold(QObject):
    """Puts what stands `beside` an `area` of fixed width under what is in that where their `page` is narrow: nothing is cut then."""

    def __init__(self, page: QWidget, area: QScrollArea, column: QVBoxLayout, beside: QScrollArea) -> None:
        super().__init__(page)
        self._area, self._column, self._beside, self._wide = area, column, beside, area.maximumWidth()
        self._under: QWidget | None = None
        page.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Another width of the page."""
        if isinstance(event, QResizeEvent) and (event.size().width() < FOLDED) != (self._under is not None):
            self._turn()
        return False

    def _turn(self) -> None:
        if self._under is None:
            self._under = self._beside.takeWidget()
            self._beside.hide()
            self._area.setMinimumWidth(0)
            self._area.setMaximumWidth(self._beside.maximumWidth())
            self._column.addWidget(self._under)
            self._under.show()
            return
        self._column.removeWidget(self._under)
        self._beside.setWidget(self._under)
        self._under = None
        self._beside.show()
        self._area.setFixedWidth(self._wide)


class Turn(QObject):
    """Stands the columns of a `layout` under each other where their `page` is narrow. `areas`: the least px that each is high then; one of
    a fixed width takes all of it."""

    def __init__(self, page: QWidget, layout: QBoxLayout, areas: Mapping[QWidget, int]) -> None:
        super().__init__(page)
        self._page, self._layout, self._areas = page, layout, areas
        self._wide = {area: (area.minimumWidth(), area.maximumWidth()) for area in areas}
        self._narrow = False
        page.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Another width of the page."""
        if isinstance(event, QResizeEvent) and (event.size().width() < FOLDED) != self._narrow:
            self._narrow = not self._narrow
            way = QBoxLayout.Direction
            self._layout.setDirection(way.TopToBottom if self._narrow else way.LeftToRight)
            for area, high in self._areas.items():
                least, most = (0, self._page.maximumWidth()) if self._narrow else self._wide[area]
                area.setMinimumWidth(least)
                area.setMaximumWidth(most)
                area.setMinimumHeight(high if self._narrow else 0)
        return False


def halves(page: QWidget) -> tuple[QVBoxLayout, QVBoxLayout]:
    """A `page` with entries on the left and what comes of them on the right, each in a column that scrolls: the two columns. Room
    is left under the entries. On a narrow page the second one stands under the first."""
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
    Fold(page, area, around, beside)
    return left, right
