"""A list to tick off with dirty hands, and bars of where a leak is likeliest."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QSizePolicy, QWidget

from zarvik.core.connections.row import STATES, Row
from zarvik.project.connections.lists import Listing
from zarvik.project.language.language import tr
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.wrapping import width, wrapped
from zarvik.window.theme.palette import current, temper
from zarvik.window.theme.style import font


def columns_of(found: Listing, room: float) -> list[float]:
    """Widths in px of the columns of a list in so much room: by their longest words, narrowed alike where it is not enough."""
    asked = [max([width(tr(head), 12), *(width(row[n], 13) for row in found.rows[:400])]) + 16.0 for n, head in enumerate(found.columns)]
    asked = [min(a, 260.0) for a in asked]
    total = sum(asked)
    return [a * room / total for a in asked] if total > room else asked


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


class TickList(QAbstractScrollArea):
    """Rows with a large box each; `ticked` carries the key of a line."""

    ticked = Signal(str)
    BOX, SIZE, LEAST = 40.0, 13, 36.0

    def __init__(self) -> None:
        super().__init__()
        self.found: Listing | None = None
        self.now = 0
        self._rows: list[list[list[str]]] = []
        self._tops: list[float] = [0.0]
        self._wides: list[float] = []
        self._heads: list[list[str]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("List to tick off"))

    def sizeHint(self) -> QSize:
        """As high as it is given."""
        return QSize(500, 300)

    @property
    def head(self) -> float:
        """How high the heads of the columns are, px."""
        return row_high(self._heads, 12) if self._heads else 24.0

    def take(self, found: Listing) -> None:
        """Show this list."""
        self.found = found
        self.now = min(self.now, max(len(found.rows) - 1, 0))
        self._measure()
        self._tell()
        self.viewport().update()

    def _measure(self) -> None:
        found = self.found
        self._rows, self._tops = [], [0.0]
        if found is not None:
            self._wides = columns_of(found, float(self.viewport().width()) - self.BOX - 8.0)
            self._heads = row_lines([tr(head) for head in found.columns], self._wides, 12)
            for row in found.rows:
                lines = row_lines(row, self._wides, self.SIZE)
                self._rows.append(lines)
                self._tops.append(self._tops[-1] + max(row_high(lines, self.SIZE), self.LEAST))
        bar, high = self.verticalScrollBar(), self.viewport().height()
        bar.setPageStep(max(high, 1))
        bar.setSingleStep(int(self.LEAST))
        bar.setRange(0, max(int(self._tops[-1] + self.head) - high, 0))

    def _tell(self) -> None:
        found = self.found
        self.setAccessibleDescription(", ".join(found.rows[self.now]) if found is not None and found.rows else "")

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, other lines."""
        self._measure()

    def top_of(self, number: int) -> float:
        """Where a row begins on the widget, px."""
        return self._tops[number] + self.head - self.verticalScrollBar().value()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A row; its box is large."""
        found = self.found
        if found is None:
            return
        y = event.position().y()
        number = next((n for n in range(len(found.rows)) if self.top_of(n) <= y < self.top_of(n + 1)), -1)
        if number < 0 or y < self.head:
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
        if step and found is not None and found.rows:
            self.now = min(max(self.now + step, 0), len(found.rows) - 1)
            bar, high = self.verticalScrollBar(), self.viewport().height()
            low = int(self._tops[self.now + 1] + self.head) - high
            bar.setValue(min(max(bar.value(), low), int(self._tops[self.now])))
            self._tell()
            self.viewport().update()
        elif event.key() == Qt.Key.Key_Space and found is not None and found.rows and found.keys[self.now]:
            self.ticked.emit(found.keys[self.now])
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Its row is framed."""
        super().focusInEvent(event)
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """No frame any more."""
        super().focusOutEvent(event)
        self.viewport().update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """What is in sight."""
        painter = QPainter(self.viewport())
        p = current()
        painter.fillRect(self.viewport().rect(), QColor(p.panel))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        found, wide = self.found, float(self.viewport().width())
        if found is not None and not found.rows:
            painter.setPen(QColor(p.soft))
            painter.drawText(
                self.viewport().rect().adjusted(30, 0, -30, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, tr(found.empty)
            )
        for number, lines in enumerate(self._rows):
            top, high = self.top_of(number), self._tops[number + 1] - self._tops[number]
            if found is None or top + high < self.head or top > self.viewport().height():
                continue
            if number == self.now:
                painter.fillRect(QRectF(0, top, wide, high - 1), QColor(p.accent_soft))
                if self.hasFocus():
                    painter.setPen(QPen(QColor(p.accent), 2.0))
                    painter.drawRect(QRectF(1, top + 1, wide - 2, high - 3))
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(0, top + high - 1), QPointF(wide, top + high - 1))
            if found.keys[number]:
                self._box(painter, QRectF(11, top + 8, 19, 19), found.ticked[number])
            draw_row(painter, lines, self._wides, self.BOX, top, self.SIZE, p.ink)
        if self._heads:
            painter.fillRect(QRectF(0, 0, wide, self.head), QColor(p.raised))
            draw_row(painter, self._heads, self._wides, self.BOX, 0.0, 12, p.soft)
        painter.end()

    def _box(self, painter: QPainter, r: QRectF, done: bool) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.setBrush(QColor(p.raised))
        painter.drawRect(r)
        if done:
            painter.setPen(QPen(QColor(p.holds), 3.4))
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
