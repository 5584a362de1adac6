"""Two flanges on each other: the holes and bores of both, and how the plate between them comes out."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zarvik.core.connections.row import Row
from zarvik.core.joints.flanges import HEAD, Pattern
from zarvik.project.connections.connection_list import plate_of
from zarvik.project.language.language import tr
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import key_line
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


class FlangeFaces(QWidget):
    """The flange before in full lines, the one behind in dashes; holes that run into each other are filled."""

    HIGH = 216

    def __init__(self) -> None:
        super().__init__()
        self.row: Row | None = None
        self.turn = 0.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("Both flanges overlaid"))

    def take(self, row: Row | None) -> None:
        """Show the flanges of a line; hidden while nobody has measured one."""
        self.row = row if row is not None and (row.one is not None or row.other is not None) else None
        made = plate_of(row) if row is not None else None
        self.turn = made.turn if made is not None else 0.0
        self.setVisible(self.row is not None)
        self.update()

    def sizeHint(self) -> QSize:
        """A square with two lines of words under it."""
        return QSize(240, self.HIGH)

    def minimumSizeHint(self) -> QSize:
        """As high as it is."""
        return QSize(180, self.HIGH)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Bores, holes, words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        if self.row is not None:
            both = [
                (x, t, c, d)
                for x, t, c, d in ((self.row.one, 0.0, p.ink, False), (self.row.other, self.turn, p.cold_low, True))
                if x is not None
            ]
            most = max(max(max(abs(a), abs(b)) for a, b in x.holes(t)) + HEAD * x.thread for x, t, _, _ in both)
            most = max(most, *(0.55 * x.bore for x, _, _, _ in both))
            scale = 0.5 * min(self.width(), self.HIGH - 44.0) / most
            middle = QPointF(0.5 * self.width(), 0.5 * (self.HIGH - 40.0))
            for pattern, turn, colour, dashed in both:
                pen = QPen(QColor(colour), 1.8)
                if dashed:
                    pen.setStyle(Qt.PenStyle.DashLine)
                painter.setPen(pen)
                self._pattern(painter, pattern, turn, middle, scale)
            painter.setFont(font(12))
            for line, (name, colour, dashed) in enumerate(((tr("before"), p.ink, False), (tr("after"), p.cold_low, True))):
                room = QRectF(4.0 + 0.5 * self.width() * line, self.HIGH - 23.0, 0.5 * self.width() - 8.0, 18.0)
                key_line(painter, room, colour, name, dashed=dashed)
        painter.end()

    def _pattern(self, painter: QPainter, pattern: Pattern, turn: float, middle: QPointF, scale: float) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if pattern.bore > 0.0:
            painter.drawEllipse(middle, 0.5 * scale * pattern.bore, 0.5 * scale * pattern.bore)
        others = self._others(pattern)
        for x, y in pattern.holes(turn):
            hits = any(
                (x - a) ** 2 + (y - b) ** 2 < (0.5 * (HEAD * pattern.thread + size)) ** 2 and (x - a) ** 2 + (y - b) ** 2 > 2.5e-7
                for a, b, size in others
            )
            painter.setBrush(QColor(current().fails) if hits else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(middle + QPointF(scale * x, -scale * y), 0.5 * scale * pattern.thread, 0.5 * scale * pattern.thread)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _others(self, pattern: Pattern) -> list[tuple[float, float, float]]:
        """Holes of the other flange: middle and thread, m."""
        row = self.row
        if row is None or row.one is None or row.other is None:
            return []
        other, turn = (row.other, self.turn) if pattern is row.one else (row.one, 0.0)
        return [(x, y, other.thread) for x, y in other.holes(turn)]
