"""A list to tick off with dirty hands, and bars of where a leak is likeliest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from zarvik.core.connections.row import STATES, Row
from zarvik.project.connections.lists import Listing
from zarvik.project.language.language import tr
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.row_list import RowKind, RowList
from zarvik.window.parts.wrapping import width, wrapped
from zarvik.window.theme.palette import current, temper
from zarvik.window.theme.style import font


def columns_of(found: Listing, room: float, size: int = 13) -> list[float]:
    """Widths in px of the columns of a list in so much room, in letters of `size` px: by their longest text. Where that is too much, those
    with spaces are narrowed, as no word is cut; alike where even that is not enough."""
    asked = [
        max([width(tr(head), size - 1), *(width(row[n], size) for row in found.rows[:400])]) + 16.0 for n, head in enumerate(found.columns)
    ]
    asked = [min(a, 20.0 * size) for a in asked]
    total = sum(asked)
    if total <= room:
        return asked
    words = [
        max(width(word, size) for text in (tr(head), *(row[n] for row in found.rows[:400])) for word in text.split(" ")) + 10.0
        for n, head in enumerate(found.columns)
    ]
    least = [min(a, word) for a, word in zip(asked, words, strict=True)]
    spare = total - sum(least)
    if total - room > spare:
        return [word * room / sum(least) for word in least]
    return [a - (total - room) / spare * (a - word) for a, word in zip(asked, least, strict=True)]


def row_lines(cells: Sequence[str], wides: Sequence[float], size: int) -> list[list[str]]:
    """The cells of a row, each in lines that have room in its column."""
    return [wrapped(cell, wide - 8.0, size) for cell, wide in zip(cells, wides, strict=True)]


def row_high(lines: Sequence[Sequence[str]], size: int) -> float:
    """How high a row of such lines is, px."""
    return max(max(map(len, lines), default=1), 1) * (size + 4.0) + 10.0


def draw_row(
    painter: QPainter, lines: Sequence[Sequence[str]], wides: Sequence[float], left: float, top: float, size: int, colour: str
) -> None:
    """One row of cells in lines."""
    painter.setFont(font(size))
    painter.setPen(QColor(colour))
    for cell, wide in zip(lines, wides, strict=True):
        for n, line in enumerate(cell):
            painter.drawText(QPointF(left, top + 5.0 + (n + 1) * (size + 4.0) - 4.0), line)
        left += wide


@dataclass(frozen=True)
class TickRow:
    """A row of a list: its `number`, its cells, the `key` of what it ticks (empty: nothing), whether it is."""

    number: int
    cells: tuple[str, ...]
    key: str
    ticked: bool


class _Heads(QWidget):
    """The heads of the columns, over the rows."""

    def __init__(self, owner: TickList) -> None:
        super().__init__(owner)
        self.owner = owner

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Over the columns that they name."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(current().raised))
        draw_row(painter, self.owner.heads, self.owner.wides, self.owner.BOX, 0.0, 12, current().soft)
        painter.end()


class TickList(RowList):
    """Rows with a large box each; `ticked` carries the key of a line."""

    ticked = Signal(str)
    BOX, SIZE, LEAST = 40.0, 13, 36.0

    def __init__(self) -> None:
        sort = RowKind(lambda row: str(row.number), lambda row: ", ".join(row.cells), lambda row: tr("ticked") if row.ticked else "")
        super().__init__(tr("Tick list"), sort)
        self.found: Listing | None = None
        self.wides: list[float] = []
        self.heads: list[list[str]] = []
        self._top = _Heads(self)

    def show_listing(self, found: Listing) -> None:
        """Show this list."""
        self.found, self.empty = found, found.empty
        self._measure()
        rows = zip(found.rows, found.keys, found.ticked, strict=True)
        self.take([TickRow(n, tuple(cells), key, done) for n, (cells, key, done) in enumerate(rows)], first=True)

    def _measure(self) -> None:
        """Columns for this width."""
        found = self.found
        if found is None:
            return
        self.wides = columns_of(found, float(self.viewport().width()) - self.BOX - 8.0)
        self.heads = row_lines([tr(head) for head in found.columns], self.wides, 12)
        high = round(row_high(self.heads, 12))
        self.setViewportMargins(0, high, 0, 0)
        area = self.viewport().geometry()
        self._top.setGeometry(area.left(), area.top() - high, area.width(), high)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, other lines."""
        self._measure()
        super().resizeEvent(event)

    def row_high(self, row: TickRow, wide: float) -> float:
        """As high as its longest cell in its column."""
        return max(row_high(row_lines(row.cells, self.wides, self.SIZE), self.SIZE), self.LEAST)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A row; its box is large."""
        super().mousePressEvent(event)
        index = self.indexAt(event.position().toPoint())
        row = self.rows.items[index.row()] if index.isValid() else None
        if row is not None and event.position().x() < self.BOX and row.key:
            self.ticked.emit(row.key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space ticks."""
        if event.key() == Qt.Key.Key_Space and self.chosen is not None and self.chosen.key:
            self.ticked.emit(self.chosen.key)
        else:
            super().keyPressEvent(event)

    def draw_row(self, painter: QPainter, area: QRectF, row: TickRow, chosen: bool, focused: bool) -> None:
        """A box and the cells."""
        p = current()
        if chosen:
            painter.fillRect(area.adjusted(0, 0, 0, -1), QColor(p.accent_soft))
            if focused:
                painter.setPen(QPen(QColor(p.accent), 2.0))
                painter.drawRect(area.adjusted(1, 1, -1, -2))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, area.bottom() - 1), QPointF(area.width(), area.bottom() - 1))
        if row.key:
            self._box(painter, QRectF(11, area.top() + 8, 19, 19), row.ticked)
        draw_row(painter, row_lines(row.cells, self.wides, self.SIZE), self.wides, self.BOX, area.top(), self.SIZE, p.ink)

    def _box(self, painter: QPainter, r: QRectF, done: bool) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.setBrush(QColor(p.raised))
        painter.drawRect(r)
        if done:
            painter.setPen(QPen(QColor(p.ok), 3.4))
            painter.drawPolyline(
                [QPointF(r.left() + 4, r.center().y()), QPointF(r.left() + 8, r.bottom() - 4), QPointF(r.right() - 2, r.top() + 2)]
            )


class RiskBars(QWidget):
    """Where to look first: a bar for each line, hotter where it is likelier; `chosen` carries the key of one."""

    chosen = Signal(str)
    ROW = 36

    def __init__(self) -> None:
        super().__init__()
        self.found: Sequence[tuple[Row, float]] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Most likely leaks"))
        self.now = 0

    def sizeHint(self) -> QSize:
        """A row each."""
        return QSize(360, max(len(self.found), 1) * self.ROW + 4)

    def minimumSizeHint(self) -> QSize:
        """The same, narrower."""
        return QSize(240, self.sizeHint().height())

    def take(self, found: Sequence[tuple[Row, float]]) -> None:
        """Show these."""
        self.found = found
        self.setAccessibleDescription(", ".join(f"{row.name} {100.0 * share:.0f} %" for row, share in found))
        self.updateGeometry()
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """To the line."""
        number = int(event.position().y() // self.ROW)
        if 0 <= number < len(self.found):
            self.chosen.emit(self.found[number][0].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up, down, Enter."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and self.found:
            self.now = min(max(self.now + step, 0), len(self.found) - 1)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.found:
            self.chosen.emit(self.found[min(self.now, len(self.found) - 1)][0].key)
        else:
            super().keyPressEvent(event)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The bars."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        wide = float(self.width())
        name = min(240.0, 0.5 * wide)
        for number, (row, share) in enumerate(self.found):
            top = number * self.ROW
            if self.hasFocus() and number == self.now:
                painter.fillRect(QRectF(0, top, wide, self.ROW - 2), QColor(p.accent_soft))
            lines = wrapped(row.name, name - 12.0, 12)
            draw_row(painter, [lines], (name,), 4, top - 4.0 + (4.0 if len(lines) < 2 else 0.0), 12, p.ink)
            room = wide - name - 96.0
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.grid))
            painter.drawRect(QRectF(name, top + 10, room, 11))
            painter.setBrush(temper(520.0 + 500.0 * share)[1])
            painter.drawRect(QRectF(name, top + 10, max(share, 0.02) * room, 11))
            draw_row(painter, [wrapped(tr(STATES[row.state]), 92.0, 12)], (92.0,), name + room + 8, top, 12, p.soft)
        painter.end()
