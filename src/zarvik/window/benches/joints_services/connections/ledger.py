"""The lines of the connection list: a mark, what it is, what was decided, and a ladder of five notches that a hand ticks up."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from zarvik.core.connections import row as r
from zarvik.project.language.language import tr
from zarvik.window.benches.joints_services import presenter as show
from zarvik.window.benches.joints_services.presenter import Item
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.row_list import RowKind, RowList
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

Words = Sequence[tuple[str, int, bool]]  # lines, each with its size in px and whether it is strong


def _key(item: Item) -> str:
    return item.row.key if item.row is not None else f"head:{item.title}"


class JointList(RowList):
    """As many lines as there are. `ticked` carries a key and the state that a hand asks for (empty: one further)."""

    ticked = Signal(str, str)
    LINE, HEAD, NOTCH = 18, 30, 26.0
    NARROW = 270.0  # px beside the ladder under which both columns stand under each other

    def __init__(self) -> None:
        sort = RowKind(
            _key, lambda item: item.title, lambda item: show.spoken(item) if item.row is not None else "", lambda item: item.row is not None
        )
        super().__init__(tr("Joint lines"), sort)
        self.empty = "no line matches"

    def _room(self, wide: float) -> float:
        return wide - 5.0 * self.NOTCH - 52.0

    def _blocks(self, item: Item, wide: float) -> tuple[Words, Words]:
        """The words on the left and on the right of a line in a list `wide` px."""
        assert item.row is not None
        room = self._room(wide)
        each = room if room < self.NARROW else 0.5 * room - 6.0
        left = [(text, 13, True) for text in wrapped(item.title, each, 13, strong=True)]
        left += [(text, 12, False) for text in wrapped(item.row.where, each, 12)]
        right = [(text, 13, False) for text in wrapped(item.what, each, 13)] if item.what else []
        right += [(text, 12, False) for text in wrapped(item.decided, each, 12)] if item.decided else []
        return left, right

    def row_high(self, row: Item, wide: float) -> float:
        """As high as its words are in this width."""
        if row.row is None:
            return float(self.HEAD)
        left, right = self._blocks(row, wide)
        lines = len(left) + len(right) if self._room(wide) < self.NARROW else max(len(left), len(right))
        return float(max(lines, 2) * self.LINE + 7)

    def ladder_left(self) -> float:
        """Where the notches begin, px."""
        return self.viewport().width() - 5.0 * self.NOTCH - 12.0

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space ticks one state further."""
        if event.key() == Qt.Key.Key_Space and self.key:
            self.ticked.emit(self.key, "")
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A line is chosen; a notch takes its state."""
        super().mousePressEvent(event)
        index, x = self.indexAt(event.position().toPoint()), event.position().x()
        number = int((x - self.ladder_left()) // self.NOTCH)
        row = self.rows.items[index.row()].row if index.isValid() else None
        if row is not None and x >= self.ladder_left() and number < len(show.LADDER):
            self.ticked.emit(row.key, show.LADDER[number])

    def draw_row(self, painter: QPainter, area: QRectF, row: Item, chosen: bool, focused: bool) -> None:
        """A heading or a line."""
        p, top = current(), area.top()
        if row.row is None:
            painter.setFont(font(12, strong=True))
            painter.setPen(QColor(p.soft))
            painter.drawText(QRectF(8, top + 6, area.width() - 16, self.HEAD - 8), int(Qt.AlignmentFlag.AlignBottom), row.title)
            return
        if chosen:
            self.draw_chosen(painter, area.adjusted(0, 0, 0, -2), 5.0 if focused else 3.0)
            if focused:
                painter.setPen(QPen(QColor(p.accent), 2.0))
                painter.drawRect(area.adjusted(1, 1, -1, -3))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, area.bottom() - 1), QPointF(area.width(), area.bottom() - 1))
        if row.state:
            draw_state(painter, QRectF(9, top + 8, 14, 14), row.state)
        left, right = self._blocks(row, area.width())
        room = self._room(area.width())
        self._words(painter, 32.0, top + 3.0, left)
        if room < self.NARROW:
            self._words(painter, 32.0, top + 3.0 + len(left) * self.LINE, right)
        else:
            self._words(painter, 38.0 + 0.5 * room, top + 3.0, right)
        self._ladder(painter, row.row.state, self.ladder_left(), top)

    def _words(self, painter: QPainter, x: float, y: float, lines: Words) -> None:
        p = current()
        for text, size, strong in lines:
            painter.setFont(font(size, strong=strong))
            painter.setPen(QColor(p.ink if size > 12 else p.soft))
            painter.drawText(QPointF(x, y + 14.0), text)
            y += self.LINE

    def _ladder(self, painter: QPainter, state: str, left: float, top: float) -> None:
        """Five notches that rise, filled up to the state; opened again: the outline of all."""
        p = current()
        reached = show.LADDER.index(state) if state in show.LADDER else -1
        for number in range(len(show.LADDER)):
            high = 6.0 + 3.2 * number
            box = QRectF(left + number * self.NOTCH, top + 24 - high, self.NOTCH - 6, high)
            painter.setPen(QPen(QColor(p.fails if state == r.REOPENED else p.soft), 1.2))
            painter.setBrush(QColor(p.ok) if number <= reached and reached > 0 else Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(12))
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(left, top + 23, 5 * self.NOTCH, 16), int(Qt.AlignmentFlag.AlignVCenter), tr(r.STATES[state]))
