"""The lines of the register, painted: a mark, what it is, what was decided, and a ladder of five notches that a hand ticks up."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea

from zarvik.core.connections import row as r
from zarvik.project.language.language import tr
from zarvik.window.benches.joints_services import presenter as show
from zarvik.window.benches.joints_services.presenter import Item
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


class Ledger(QAbstractScrollArea):
    """As many lines as there are; only those that are seen are painted. `chosen` carries a key, `ticked` a key and the state that a
    hand asks for (empty: one further)."""

    chosen = Signal(str)
    ticked = Signal(str, str)
    LINE, HEAD, NOTCH = 18, 30, 26.0
    NARROW = 270.0  # px beside the ladder under which both columns stand under each other

    def __init__(self) -> None:
        super().__init__()
        self.items: Sequence[Item] = ()
        self.key = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("Lines of the register"))
        self._tops: list[int] = []
        self._blocks: list[tuple[list[tuple[str, int, bool]], list[tuple[str, int, bool]]]] = []

    def sizeHint(self) -> QSize:
        """As high as it is given."""
        return QSize(420, 300)

    def take(self, items: Sequence[Item]) -> None:
        """Show these; the chosen line stays chosen while it is there."""
        self.items = items
        self._measure()
        keys = [item.row.key for item in items if item.row is not None]
        if self.key not in keys:
            self.key = keys[0] if keys else ""
        self._bars()
        self._tell()
        self.viewport().update()

    def _measure(self) -> None:
        """Where each line begins: as high as its words are in this width."""
        self._blocks = []
        top, self._tops = 0, []
        room = self.ladder_left() - 40.0
        wide = room if room < self.NARROW else 0.5 * room - 6.0
        for item in self.items:
            self._tops.append(top)
            if item.row is None:
                self._blocks.append(([], []))
                top += self.HEAD
                continue
            left = [(text, 13, True) for text in wrapped(item.title, wide, 13, strong=True)]
            left += [(text, 12, False) for text in wrapped(item.row.where, wide, 12)]
            right = [(text, 13, False) for text in wrapped(item.what, wide, 13)] if item.what else []
            right += [(text, 12, False) for text in wrapped(item.decided, wide, 12)] if item.decided else []
            self._blocks.append((left, right))
            lines = len(left) + len(right) if room < self.NARROW else max(len(left), len(right))
            top += max(lines, 2) * self.LINE + 7
        self._tops.append(top)

    def _bars(self) -> None:
        bar = self.verticalScrollBar()
        total = self._tops[-1] if self._tops else 0
        bar.setPageStep(max(self.viewport().height(), 1))
        bar.setSingleStep(2 * self.LINE)
        bar.setRange(0, max(total - self.viewport().height(), 0))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, other lines."""
        self._measure()
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
                elif self._tops[number + 1] > bar.value() + high:
                    bar.setValue(self._tops[number + 1] - high)
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
        page = max(self.viewport().height() // (3 * self.LINE), 1)
        steps = {
            Qt.Key.Key_Up: -1,
            Qt.Key.Key_Down: 1,
            Qt.Key.Key_PageUp: -page,
            Qt.Key.Key_PageDown: page,
            Qt.Key.Key_Home: -(10**6),
            Qt.Key.Key_End: 10**6,
        }
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
                self._line(painter, number, float(top))
        painter.end()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Its line is framed."""
        super().focusInEvent(event)
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """No frame any more."""
        super().focusOutEvent(event)
        self.viewport().update()

    def _heading(self, painter: QPainter, item: Item, top: float) -> None:
        painter.setFont(font(12, strong=True))
        painter.setPen(QColor(current().soft))
        painter.drawText(QRectF(8, top + 6, self.viewport().width() - 16, self.HEAD - 8), int(Qt.AlignmentFlag.AlignBottom), item.title)

    def _line(self, painter: QPainter, number: int, top: float) -> None:
        p, item = current(), self.items[number]
        row = item.row
        assert row is not None
        wide, high = float(self.viewport().width()), float(self._tops[number + 1] - self._tops[number])
        if row.key == self.key:
            painter.fillRect(QRectF(0, top, wide, high - 2), QColor(p.accent_soft))
            painter.fillRect(QRectF(0, top, 5.0 if self.hasFocus() else 3.0, high - 2), QColor(p.accent))
            if self.hasFocus():
                painter.setPen(QPen(QColor(p.accent), 2.0))
                painter.drawRect(QRectF(1, top + 1, wide - 2, high - 4))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, top + high - 1), QPointF(wide, top + high - 1))
        if item.state:
            draw_state(painter, QRectF(9, top + 8, 14, 14), item.state)
        left, right = self._blocks[number]
        room = self.ladder_left() - 40.0
        self._words(painter, 32.0, top + 3.0, left)
        if room < self.NARROW:
            self._words(painter, 32.0, top + 3.0 + len(left) * self.LINE, right)
        else:
            self._words(painter, 38.0 + 0.5 * room, top + 3.0, right)
        self._ladder(painter, row.state, self.ladder_left(), top)

    def _words(self, painter: QPainter, x: float, y: float, lines: Sequence[tuple[str, int, bool]]) -> None:
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
            painter.setBrush(QColor(p.holds) if number <= reached and reached > 0 else Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(font(12))
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(left, top + 23, 5 * self.NOTCH, 16), int(Qt.AlignmentFlag.AlignVCenter), tr(r.STATES[state]))
