"""The hot side piece by piece: what it costs, how hot it is, and how far what minds heat must stay away, to scale."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zarvik.project.heat.hot_parts import HotSideReport
from zarvik.project.language.language import tr
from zarvik.window.benches.wastegate_exhaust.heat import presenter as show
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme.palette import current, temper
from zarvik.window.theme.style import font


class HeatRows(QWidget):
    """A row for each piece."""

    HEAD, ROW = 40.0, 33.0

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: HotSideReport | None = None
        self.thing = 4
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("Heat and losses of the hot side"))

    def sizeHint(self) -> QSize:
        """As many rows as there are pieces."""
        rows = len(self.found.parts.pieces) if self.found is not None else 6
        return QSize(620, int(self.HEAD + rows * self.ROW + 4))

    def minimumSizeHint(self) -> QSize:
        """The same."""
        return QSize(260, self.sizeHint().height())

    def take(self, found: HotSideReport | None, thing: int) -> None:
        """Show these, with the gaps to what the `thing` is."""
        self.found, self.thing = found, thing
        if found is not None:
            self.setAccessibleDescription("; ".join(show.row_words(r) for r in show.rows(found, thing, self.desk.project.shown_units)))
        self.updateGeometry()
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The rows."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw(painter)
        painter.end()

    def draw(self, painter: QPainter) -> None:
        """The rows, to any painter."""
        if self.found is None:
            return
        p = current()
        rows = show.rows(self.found, self.thing, self.desk.project.shown_units)
        wide = float(self.width())
        # In a narrow window what costs and what is hot is left.
        shown = (0, 1, 2, 3) if wide >= 430.0 else (1, 3)
        columns = [show.HEADS[n] for n in shown]
        each = min(88.0, 0.122 * wide) if len(shown) > 2 else 66.0
        name = min(176.0, max(0.25 * wide, 92.0))
        gap = name + each * len(columns) + 6.0
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        flags = int(Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap)
        for n, head in enumerate(columns):
            painter.drawText(QRectF(name + n * each, 0, each - 4, self.HEAD - 4), flags, tr(head))
        painter.drawText(
            QRectF(gap, 0, wide - gap, self.HEAD - 4),
            flags,
            tr("min. clearance: bare / shielded") if wide - gap > 110.0 else tr("clearance"),
        )
        longest = max([r.gap for r in rows if math.isfinite(r.gap)] + [0.06])
        measure = QFontMetricsF(font(12))
        words = max((measure.horizontalAdvance(r.words) for r in rows), default=0.0) + 10.0
        scale = max(wide - gap - 12.0 - words, 24.0) / longest
        for number, row in enumerate(rows):
            top = self.HEAD + number * self.ROW
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(0, top), QPointF(wide, top))
            middle = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
            painter.setFont(font(13))
            painter.setPen(QColor(p.ink))
            lines = wrapped(row.title, name - 8.0, 13)
            if len(lines) > 1:
                lines = wrapped(row.title, name - 8.0, 12)
                painter.setFont(font(12))
            for n, line in enumerate(lines):
                spot = top + 0.5 * self.ROW + 4.0 + 15.0 * (n - 0.5 * (len(lines) - 1))
                painter.drawText(QPointF(4, spot), line)
            painter.setFont(font(13))
            for n, text in enumerate(row.cells[at] for at in shown):
                painter.drawText(QRectF(name + n * each, top, each - 4, self.ROW), middle, text)
            if row.skin == row.skin:
                self._gap(painter, row, QRectF(gap, top, wide - gap, self.ROW), scale, words)

    def _gap(self, painter: QPainter, row: show.Row, r: QRectF, scale: float, words: float) -> None:
        """The skin in the tint that steel takes, and from it the gap to scale; the shield's place with a stroke."""
        p = current()
        painter.setPen(QPen(QColor(p.ink), 1.0))
        painter.setBrush(temper(row.skin)[1])
        painter.drawRect(QRectF(r.left(), r.top() + 5, 10, r.height() - 10))
        begin = r.left() + 12
        reach = min(row.gap, 1e3) * scale
        room = max(r.right() - begin - words, 0.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.accent_soft))
        painter.drawRect(QRectF(begin, r.top() + 9, min(reach, room), r.height() - 18))
        if row.shielded < row.gap - 1e-4:
            x = begin + min(row.shielded * scale, room)
            painter.setPen(QPen(QColor(p.accent), 2.0))
            painter.drawLine(QPointF(x, r.top() + 5), QPointF(x, r.bottom() - 5))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(12))
        painter.drawText(QRectF(begin + min(reach, room) + 6, r.top(), words, r.height()), int(Qt.AlignmentFlag.AlignVCenter), row.words)
