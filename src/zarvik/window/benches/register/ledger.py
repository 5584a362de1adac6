"""The lines of the register, painted: a mark, what it is, what was decided, and a ladder of five notches that a hand ticks up."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea

from zarvik.core.register import rows as r
from zarvik.project.language import tr
from zarvik.window.benches.register import presenter as show
from zarvik.window.benches.register.presenter import Item
from zarvik.window.parts.guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


class Ledger(QAbstractScrollArea):
    """As many lines as there are; only those that are seen are painted. `chosen` carries a key, `ticked` a key and the state that a
    hand asks for (empty: one further)."""

    chosen = Signal(str)
    ticked = Signal(str, str)
    ROW, HEAD, NOTCH = 42, 30, 26.0

    def __init__(self) -> None:
        super().__init__()
        self.items: Sequence[Item] = ()
        self.key = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("Lines of the register"))
        self._tops: list[int] = []

    def sizeHint(self) -> QSize:
        """As high as it is given."""
        return QSize(420, 300)

    def take(self, items: Sequence[Item]) -> None:
        """Show these; the chosen line stays chosen while it is there."""
        self.items = items
        top = 0
        self._tops = []
        for item in items:
            self._tops.append(top)
            top += self.ROW if item.row is not None else self.HEAD
        self._tops.append(top)
        keys = [item.row.key for item in items if item.row is not None]
        if self.key not in keys:
            self.key = keys[0] if keys else ""
        self._bars()
        self._tell()
        self.viewport().update()

    def _bars(self) -> None:
        bar = self.verticalScrollBar()
        total = self._tops[-1] if self._tops else 0
        bar.setPageStep(max(self.viewport().height(), 1))
        bar.setSingleStep(self.ROW)
        bar.setRange(0, max(total - self.viewport().height(), 0))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another height, another range."""
        self._bars()

    def _tell(self) -> None:
        item = next((i for i in self.items if i.row is not None and i.row.key == self.key), None)
        self.setAccessibleDescription(show.spoken(item) if item is not None else "")

    def choose(self, key: str) -> None:
        """Choose a line by its key, and bring it into sight."""
        self.key = key
        for number, item in enumerate(self.items):
            if item.row is not None and item.row.key == key:
                top, bar, high = self._tops[number], self.verticalScrollBar(), self.viewport().height()
                if top < bar.value() + self.HEAD:
                    bar.setValue(top - self.HEAD)
                elif top + self.ROW > bar.value() + high:
                    bar.setValue(top + self.ROW - high)
        self._tell()
        self.viewport().update()
        self.chosen.emit(key)

    def _step(self, by: int) -> None:
        keys = [item.row.key for item in self.items if item.row is not None]
        if keys:
            now = keys.index(self.key) if self.key in keys else 0
            self.choose(keys[min(max(now + by, 0), len(keys) - 1)])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up, down, pages; Space ticks one state further."""
        page = max(self.viewport().height() // self.ROW - 1, 1)
        steps = {
            Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -page, Qt.Key.Key_PageDown: page, Qt.Key.Key_Home: -10**6,
            Qt.Key.Key_End: 10**6,
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key in steps:
            self._step(steps[key])
        elif key == Qt.Key.Key_Space and self.key:
            self.ticked.emit(self.key, "")
        else:
            super().keyPressEvent(event)

    def _at(self, y: float) -> Item | None:
        place = y + self.verticalScrollBar().value()
        for number, item in enumerate(self.items):
            if self._tops[number] <= place < self._tops[number + 1]:
                return item
        return None

    def ladder_left(self) -> float:
        """Where the notches begin, px."""
        return self.viewport().width() - 5.0 * self.NOTCH - 12.0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A line is chosen; a notch takes its state."""
        item = self._at(event.position().y())
        if item is None or item.row is None:
            return
        self.choose(item.row.key)
        number = int((event.position().x() - self.ladder_left()) // self.NOTCH)
        if 0 <= number < len(show.LADDER) and event.position().x() >= self.ladder_left():
            self.ticked.emit(item.row.key, show.LADDER[number])

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """What is in sight."""
        painter = QPainter(self.viewport())
        p = current()
        painter.fillRect(self.viewport().rect(), QColor(p.panel))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        offset, high = self.verticalScrollBar().value(), self.viewport().height()
        if not self.items:
            painter.setPen(QColor(p.soft))
            painter.setFont(font(13))
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, tr("no line matches"))
        for number, item in enumerate(self.items):
            top = self._tops[number] - offset
            if top > high:
                break
            if self._tops[number + 1] - offset < 0:
                continue
            if item.row is None:
                self._heading(painter, item, float(top))
            else:
                self._line(painter, item, float(top))
        painter.end()

    def _heading(self, painter: QPainter, item: Item, top: float) -> None:
        painter.setFont(font(12, strong=True))
        painter.setPen(QColor(current().soft))
        painter.drawText(QRectF(8, top + 6, self.viewport().width() - 16, self.HEAD - 8), int(Qt.AlignmentFlag.AlignBottom), item.title)

    def _line(self, painter: QPainter, item: Item, top: float) -> None:
        p, row = current(), item.row
        assert row is not None
        wide = float(self.viewport().width())
        if row.key == self.key:
            painter.fillRect(QRectF(0, top, wide, self.ROW - 2), QColor(p.accent_soft))
            painter.fillRect(QRectF(0, top, 3, self.ROW - 2), QColor(p.accent))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, top + self.ROW - 1), QPointF(wide, top + self.ROW - 1))
        if item.state:
            draw_state(painter, QRectF(9, top + 13, 14, 14), item.state)
        left = self.ladder_left()
        middle = 32.0 + 0.5 * (left - 40.0)
        self._words(painter, QRectF(32, top + 3, middle - 38, 19), item.title, 13, p.ink, strong=True)
        self._words(painter, QRectF(32, top + 21, middle - 38, 17), row.where, 12, p.soft)
        self._words(painter, QRectF(middle, top + 3, left - middle - 8, 19), item.what, 13, p.ink)
        self._words(painter, QRectF(middle, top + 21, left - middle - 8, 17), item.decided, 12, p.soft)
        self._ladder(painter, row.state, left, top)

    def _words(self, painter: QPainter, box: QRectF, text: str, size: int, colour: str, *, strong: bool = False) -> None:
        painter.setFont(font(size, strong=strong))
        painter.setPen(QColor(colour))
        fit = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft), fit)

    def _ladder(self, painter: QPainter, state: str, left: float, top: float) -> None:
        """Five notches that rise, filled up to the state; opened again: the outline of all."""
        p = current()
        reached = show.LADDER.index(state) if state in show.LADDER else -1
        for number in range(len(show.LADDER)):
            high = 6.0 + 3.2 * number
            box = QRectF(left + number * self.NOTCH, top + 24 - high, self.NOTCH - 6, high)
            painter.setPen(QPen(QColor(p.fails if state == r.REOPENED else p.soft), 1.2))
            painter.setBrush(QColor(p.holds) if number <= reached and reached > 0 else Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(12))
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(left, top + 23, 5 * self.NOTCH, 16), int(Qt.AlignmentFlag.AlignVCenter), tr(r.STATES[state]))
