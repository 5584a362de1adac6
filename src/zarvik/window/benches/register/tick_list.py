"""A list to tick off with dirty hands, and bars of where a leak is likeliest."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QSizePolicy, QWidget

from zarvik.core.register.rows import STATES, Row
from zarvik.project.language import tr
from zarvik.project.register_lists import Listing
from zarvik.window.parts.guard import guarded
from zarvik.window.parts.wrapping import width
from zarvik.window.theme.palette import current, temper
from zarvik.window.theme.style import font


def columns_of(found: Listing, room: float) -> list[float]:
    """Widths in px of the columns of a list in so much room: by their longest words, narrowed alike where it is not enough."""
    asked = [max([width(tr(head), 12), *(width(row[n], 13) for row in found.rows[:400])]) + 16.0 for n, head in enumerate(found.columns)]
    asked = [min(a, 260.0) for a in asked]
    total = sum(asked)
    return [a * room / total for a in asked] if total > room else asked


def draw_row(painter: QPainter, cells: Sequence[str], wides: Sequence[float], left: float, top: float, high: float, size: int, colour: str) -> None:
    """One row of texts, each cut to its column."""
    painter.setFont(font(size))
    painter.setPen(QColor(colour))
    for cell, wide in zip(cells, wides, strict=True):
        text = painter.fontMetrics().elidedText(cell, Qt.TextElideMode.ElideRight, int(wide - 8))
        painter.drawText(QRectF(left, top, wide - 6, high), int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft), text)
        left += wide


class TickList(QAbstractScrollArea):
    """Rows with a large box each; `ticked` carries the key of a line."""

    ticked = Signal(str)
    ROW, HEAD, BOX = 38, 30, 40.0

    def __init__(self) -> None:
        super().__init__()
        self.found: Listing | None = None
        self.now = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("List to tick off"))

    def sizeHint(self) -> QSize:
        """As high as it is given."""
        return QSize(500, 300)

    def take(self, found: Listing) -> None:
        """Show this list."""
        self.found = found
        self.now = min(self.now, max(len(found.rows) - 1, 0))
        self._bars()
        self._tell()
        self.viewport().update()

    def _tell(self) -> None:
        found = self.found
        self.setAccessibleDescription(", ".join(found.rows[self.now]) if found is not None and found.rows else "")

    def _bars(self) -> None:
        bar = self.verticalScrollBar()
        total = self.HEAD + self.ROW * (len(self.found.rows) if self.found is not None else 0)
        bar.setPageStep(max(self.viewport().height(), 1))
        bar.setSingleStep(self.ROW)
        bar.setRange(0, max(total - self.viewport().height(), 0))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another height, another range."""
        self._bars()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A row; its box is large."""
        found = self.found
        number = int((event.position().y() + self.verticalScrollBar().value() - self.HEAD) // self.ROW)
        if found is None or not 0 <= number < len(found.rows):
            return
        self.now = number
        self._tell()
        if event.position().x() < self.BOX and found.keys[number]:
            self.ticked.emit(found.keys[number])
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up, down; Space ticks."""
        found = self.found
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if found is None or not found.rows:
            return
        if step:
            self.now = min(max(self.now + step, 0), len(found.rows) - 1)
            top, bar, high = self.HEAD + self.now * self.ROW, self.verticalScrollBar(), self.viewport().height()
            bar.setValue(min(max(bar.value(), top + self.ROW - high), top - self.HEAD))
            self._tell()
            self.viewport().update()
        elif event.key() == Qt.Key.Key_Space and found.keys[self.now]:
            self.ticked.emit(found.keys[self.now])
        else:
            super().keyPressEvent(event)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """What is in sight."""
        painter = QPainter(self.viewport())
        p = current()
        painter.fillRect(self.viewport().rect(), QColor(p.panel))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        found = self.found
        if found is not None:
            wide, offset = float(self.viewport().width()), self.verticalScrollBar().value()
            wides = columns_of(found, wide - self.BOX - 8.0)
            if not found.rows:
                painter.setPen(QColor(p.soft))
                painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, tr("nothing to list"))
            for number, row in enumerate(found.rows):
                top = float(self.HEAD + number * self.ROW - offset)
                if top + self.ROW < self.HEAD or top > self.viewport().height():
                    continue
                if number == self.now:
                    painter.fillRect(QRectF(0, top, wide, self.ROW - 1), QColor(p.accent_soft))
                painter.setPen(QPen(QColor(p.line), 1))
                painter.drawLine(QPointF(0, top + self.ROW - 1), QPointF(wide, top + self.ROW - 1))
                if found.keys[number]:
                    self._box(painter, QRectF(11, top + 9, 19, 19), found.ticked[number])
                draw_row(painter, row, wides, self.BOX, top, self.ROW - 1, 13, p.ink)
            painter.fillRect(QRectF(0, 0, wide, self.HEAD), QColor(p.raised))
            draw_row(painter, [tr(head) for head in found.columns], wides, self.BOX, 2, self.HEAD - 4, 12, p.soft)
        painter.end()

    def _box(self, painter: QPainter, r: QRectF, done: bool) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.setBrush(QColor(p.raised))
        painter.drawRect(r)
        if done:
            painter.setPen(QPen(QColor(p.holds), 3.4))
            painter.drawPolyline([QPointF(r.left() + 4, r.center().y()), QPointF(r.left() + 8, r.bottom() - 4), QPointF(r.right() - 2, r.top() + 2)])


class RiskBars(QWidget):
    """Where to look first: a bar for each line, hotter where it is likelier; `chosen` carries the key of one."""

    chosen = Signal(str)
    ROW = 30

    def __init__(self) -> None:
        super().__init__()
        self.found: Sequence[tuple[Row, float]] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Where a leak is likeliest"))
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
            draw_row(painter, (row.name,), (name,), 4, top, self.ROW - 4, 13, p.ink)
            room = wide - name - 96.0
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.grid))
            painter.drawRect(QRectF(name, top + 8, room, 11))
            painter.setBrush(temper(520.0 + 500.0 * share)[1])
            painter.drawRect(QRectF(name, top + 8, max(share, 0.02) * room, 11))
            draw_row(painter, (tr(STATES[row.state]),), (92.0,), name + room + 8, top, self.ROW - 4, 12, p.soft)
        painter.end()
