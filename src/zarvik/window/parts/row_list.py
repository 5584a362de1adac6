"""A list of rows that are drawn: one model, one delegate and one view for every such list.

Keys, choosing, scrolling, only painting what is in sight, and what a reader of the screen hears are the toolkit's; a list says what a row
is called, how high it is and how it is drawn.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from zarvik.project.language.language import tr
from zarvik.window.parts.copying import offer_copy
from zarvik.window.parts.error_guard import guarded
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

AnyIndex = QModelIndex | QPersistentModelIndex

LEAST = 60  # px of height in which rows can be seen at all


@dataclass(frozen=True)
class RowKind:
    """What a list knows of its rows: the `key` of one, the `words` that it is called by, what is `said` of it beside them, and whether it
    `may` be chosen, which a heading may not."""

    key: Callable[[Any], str]
    words: Callable[[Any], str]
    said: Callable[[Any], str] = lambda row: ""
    may: Callable[[Any], bool] = lambda row: True


class RowModel(QAbstractListModel):
    """The rows, `items`."""

    def __init__(self, kind: RowKind) -> None:
        super().__init__()
        self.kind = kind
        self.items: Sequence[Any] = ()

    def rowCount(self, parent: AnyIndex = QModelIndex()) -> int:
        """Number of rows."""
        return 0 if parent.isValid() else len(self.items)

    def data(self, index: AnyIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """The words of a row, and what is said of it, for readers of the screen."""
        if index.isValid() and role == Qt.ItemDataRole.DisplayRole:
            return self.kind.words(self.items[index.row()])
        if index.isValid() and role == Qt.ItemDataRole.AccessibleDescriptionRole:
            return self.kind.said(self.items[index.row()])
        return None

    def flags(self, index: AnyIndex) -> Qt.ItemFlag:
        """A heading is passed over."""
        if index.isValid() and not self.kind.may(self.items[index.row()]):
            return Qt.ItemFlag.NoItemFlags
        return super().flags(index)

    def fill(self, items: Sequence[Any]) -> list[tuple[Any, Any]] | None:
        """Take new rows. Where they are the same by their keys, choice and scroll stay, and those that say something else are given back,
        as they were and as they are; None where they are others."""
        before = self.items
        if [self.kind.key(row) for row in items] != [self.kind.key(row) for row in before]:
            self.beginResetModel()
            self.items = items
            self.endResetModel()
            return None
        self.items = items
        changed = [number for number, (one, two) in enumerate(zip(before, items, strict=True)) if one != two]
        for number in changed:
            self.dataChanged.emit(self.index(number), self.index(number))
        return [(before[number], items[number]) for number in changed]


class RowDelegate(QStyledItemDelegate):
    """Has the view draw a row."""

    def __init__(self, view: RowList) -> None:
        super().__init__(view)
        self.view = view

    def sizeHint(self, option: QStyleOptionViewItem, index: AnyIndex) -> QSize:
        """As high as the view says."""
        return QSize(50, round(self.view.row_high(self.view.rows.items[index.row()], float(self.view.viewport().width()))))

    @guarded
    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: AnyIndex) -> None:
        """One row."""
        state = option.state
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.view.draw_row(
            painter,
            QRectF(option.rect),
            self.view.rows.items[index.row()],
            bool(state & QStyle.StateFlag.State_Selected),
            bool(state & QStyle.StateFlag.State_HasFocus),
        )
        painter.restore()


class RowList(QListView):
    """The view; `row_chosen` carries the key of a row that a hand has chosen. `high`: px of every row where all are alike."""

    row_chosen = Signal(str)

    def __init__(self, name: str, kind: RowKind, high: float = 0.0) -> None:
        super().__init__()
        self._high = high
        self._silent = False
        self._later = False  # is a row to be brought into sight when there is height?
        self.empty = ""  # what is said where there is no row
        self.rows = RowModel(kind)
        self.setModel(self.rows)
        self.setItemDelegate(RowDelegate(self))
        self.setUniformItemSizes(high > 0.0)
        if not high:
            self.setResizeMode(QListView.ResizeMode.Adjust)
            self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(name)
        self.selectionModel().currentChanged.connect(self._changed)
        offer_copy(self, lambda: [self._cells(row) for row in self.rows.items], lambda: self._cells(self.chosen) if self.key else ())

    def _cells(self, row: Any) -> tuple[str, ...]:
        """A row as it is copied: what it is called, and what is said of it."""
        return tuple(x for x in (self.rows.kind.words(row), self.rows.kind.said(row)) if x)

    def row_high(self, row: Any, wide: float) -> float:
        """How high a row is in a list `wide` px, px."""
        return self._high

    def draw_row(self, painter: QPainter, area: QRectF, row: Any, chosen: bool, focused: bool) -> None:
        """Draw a row."""
        raise NotImplementedError

    def dataChanged(self, first: AnyIndex, last: AnyIndex, roles: Sequence[int] = ()) -> None:
        """The toolkit would measure every row anew: `take` has that done where one is higher."""
        self.viewport().update()

    @staticmethod
    def draw_chosen(painter: QPainter, area: QRectF, left: float = 3.0) -> None:
        """The ground of a chosen row, with a bar of `left` px."""
        p = current()
        painter.fillRect(area, QColor(p.accent_soft))
        painter.fillRect(QRectF(area.left(), area.top(), left, area.height()), QColor(p.accent))

    def _changed(self, now: QModelIndex, before: QModelIndex) -> None:
        row = self.chosen
        words = ", ".join(x for x in (self.rows.kind.words(row), self.rows.kind.said(row)) if x) if row is not None else ""
        self.setAccessibleDescription(words)
        if row is not None and not self._silent:
            self.row_chosen.emit(self.rows.kind.key(row))

    @property
    def chosen(self) -> Any:
        """The chosen row, None where there is none."""
        index = self.currentIndex()
        return self.rows.items[index.row()] if index.isValid() and index.row() < len(self.rows.items) else None

    @property
    def key(self) -> str:
        """Key of the chosen row, empty where there is none."""
        return "" if self.chosen is None else self.rows.kind.key(self.chosen)

    def take(self, items: Sequence[Any], *, first: bool = False) -> None:
        """Show these; the chosen row stays chosen while it is there, else the `first` that may be is, where that is wanted."""
        key = self.key
        changed = self.rows.fill(items)
        wide = float(self.viewport().width())
        if changed and not self._high and any(self.row_high(one, wide) != self.row_high(two, wide) for one, two in changed):
            self.scheduleDelayedItemsLayout()
        if (changed is None or not key) and not self.choose(key) and first:
            row = next((row for row in items if self.rows.kind.may(row)), None)
            if row is not None:
                self.choose(self.rows.kind.key(row))
        self.viewport().update()

    def choose(self, key: str, *, tell: bool = False) -> bool:
        """Choose the row of a key and bring it into sight; False where there is none. Only where wanted is it told (`tell`)."""
        for number, row in enumerate(self.rows.items):
            if self.rows.kind.key(row) == key and self.rows.kind.may(row):
                self._silent = not tell
                self.setCurrentIndex(self.rows.index(number))
                self._bring(number)
                self._silent = False
                return True
        return False

    def _bring(self, number: int) -> None:
        """Have a row in sight, the first one with the heading above it; later where there is no height yet."""
        self._later = self.viewport().height() < LEAST
        self.scrollTo(self.rows.index(number))
        if number <= 1:
            self.scrollToTop()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """What was chosen before there was any height comes into sight when there is some."""
        super().resizeEvent(event)
        if self._later and self.viewport().height() >= LEAST and self.currentIndex().isValid():
            self._bring(self.currentIndex().row())

    def paintEvent(self, event: QPaintEvent) -> None:
        """The rows, or why there are none."""
        super().paintEvent(event)
        if self.empty and not self.rows.items:
            painter = QPainter(self.viewport())
            painter.setPen(QColor(current().soft))
            painter.setFont(font(13))
            area = self.viewport().rect().adjusted(30, 0, -30, 0)
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, tr(self.empty))
            painter.end()
