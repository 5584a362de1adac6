"""Bars of stock with their cuts, and a drawing as it will be printed."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from zarvik.core.common.constants import INCH
from zarvik.core.fabrication.drawing import CUT, MARK, WELD, Drawing
from zarvik.project.language.language import tr
from zarvik.project.units.rendering import render
from zarvik.window.benches.cut_weld.presenter import Strip
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.wrapping import fitting, width
from zarvik.window.theme.palette import between, current
from zarvik.window.theme.style import font

ROW, TITLE = 40, 22  # px


class Bars(QWidget):
    """Every bar to one scale: pieces with their lengths, what is left hatched. `piece_chosen` carries the name of a piece that was
    clicked."""

    piece_chosen = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.strips: list[Strip] = []
        self._lit = ""
        self._places: list[tuple[QRectF, str]] = []  # of the pieces, as they were drawn
        self.setAccessibleName(tr("Cutting plan"))

    def take(self, strips: list[Strip]) -> None:
        """Draw these."""
        self.strips = strips
        self.setMinimumHeight(sum(ROW + (TITLE if s.title else 0) for s in strips) + 10)
        self.setAccessibleDescription("; ".join(f"{s.name}: {', '.join(n for n, _ in s.pieces)}" for s in strips))
        self.update()

    def light(self, name: str) -> None:
        """Show where the piece of a name is cut."""
        self._lit = name
        self.update()

    def sizeHint(self) -> QSize:
        """As high as its bars."""
        return QSize(300, self.minimumHeight())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the piece under the mouse."""
        name = next((name for area, name in self._places if area.contains(event.position())), "")
        if name:
            self.piece_chosen.emit(name)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The bars."""
        painter = QPainter(self)
        self._draw(painter)
        painter.end()

    def _draw(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        self._places = []
        if not self.strips:
            return
        longest = max(s.length for s in self.strips)
        scale = (self.width() - 12.0) / longest
        y = 2.0
        for strip in self.strips:
            if strip.title:
                size = 13 if width(strip.title, 13, strong=True) < self.width() else 12
                painter.setFont(font(size, strong=True))
                painter.setPen(QColor(p.ink))
                title = fitting(strip.title, float(self.width()), size, strong=True)
                painter.drawText(QRectF(0, y, self.width(), TITLE), Qt.AlignmentFlag.AlignVCenter, title)
                y += TITLE
            painter.setFont(font(12))
            painter.setPen(QColor(p.soft))
            words = f"{strip.name}, {self.desk.text(strip.length, 'length')}; {tr('left')} {self.desk.text(strip.left, 'length')}"
            painter.drawText(QRectF(0, y, self.width(), 16), Qt.AlignmentFlag.AlignVCenter, words)
            self._bar(painter, QRectF(0, y + 17, strip.length * scale, 17), strip, scale)
            y += ROW

    def _bar(self, painter: QPainter, r: QRectF, strip: Strip, scale: float) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.line), 1))
        painter.setBrush(QColor(p.raised))
        painter.drawRect(r)
        painter.setBrush(Qt.BrushStyle.BDiagPattern)
        painter.drawRect(r)
        x = r.left()
        total, inch = sum(size for _, size in strip.pieces), self.desk.unit("length") == "in"
        kerf = (strip.length - strip.left - total) / max(len(strip.pieces) - 1, 1) if len(strip.pieces) > 1 else 0.0
        for number, (name, size) in enumerate(strip.pieces):
            piece = QRectF(x, r.top(), size * scale, r.height())
            self._places.append((piece, name))
            lit = bool(self._lit) and name == self._lit
            painter.setPen(QPen(QColor(p.accent if lit else p.ink), 3.0 if lit else 1.2))
            painter.setBrush(between(p.accent_soft, p.cold_low, 0.25 + 0.2 * (number % 2)))
            painter.drawRect(piece)
            text = f"{size / INCH:.1f}" if inch else f"{1e3 * size:.0f}"
            if piece.width() > painter.fontMetrics().horizontalAdvance(text) + 4:
                painter.setPen(QColor(p.ink))
                painter.drawText(piece, Qt.AlignmentFlag.AlignCenter, text)
            x += (size + max(kerf, 0.0)) * scale


class Paper(QWidget):
    """A drawing, as large as there is room."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.drawing: Drawing | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(QSize(200, 160))
        self.setAccessibleName(tr("Drawing"))

    def take(self, drawing: Drawing | None) -> None:
        """Show this one."""
        self.drawing = drawing
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The drawing on its paper."""
        painter = QPainter(self)
        self._draw(painter)
        painter.end()

    def _draw(self, painter: QPainter) -> None:
        p = current()
        painter.fillRect(self.rect(), QColor(p.raised))
        drawing = self.drawing
        if drawing is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, low, right, high = drawing.box
        scale = min((self.width() - 40.0) / max(right - left, 1e-3), (self.height() - 46.0) / max(high - low, 1e-3))
        dx = 0.5 * (self.width() - scale * (right - left))
        dy = 0.5 * (self.height() - 16.0 - scale * (high - low))

        def at(x: float, y: float) -> QPointF:
            return QPointF(dx + scale * (x - left), dy + scale * (high - y))

        pens = {CUT: QPen(QColor(p.ink), 1.6), MARK: QPen(QColor(p.cold_low), 1.0), WELD: QPen(QColor(p.fails), 1.0, Qt.PenStyle.DashLine)}
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for path in drawing.paths:
            painter.setPen(pens.get(path.layer, pens[MARK]))
            polygon = QPolygonF([at(float(x), float(y)) for x, y in path.points])
            if path.closed:
                painter.drawPolygon(polygon)
            else:
                painter.drawPolyline(polygon)
        for circle in drawing.circles:
            painter.setPen(pens.get(circle.layer, pens[MARK]))
            painter.drawEllipse(at(circle.x, circle.y), circle.radius * scale, circle.radius * scale)
        units = self.desk.project.shown_units
        for note in drawing.notes:
            painter.setFont(font(max(min(int(note.height * scale * 1.2), 15), 10)))
            painter.setPen(QColor(p.soft))
            painter.drawText(at(note.x, note.y), render(note.words, units))
        # What 100 mm or four inches are here
        painter.setPen(QPen(QColor(p.soft), 1.5))
        inch = units.get("length") == "in"
        size = (4.0 * INCH if inch else 0.1) * scale
        if size < self.width() - 30:
            y = self.height() - 12.0
            painter.drawLine(QPointF(12, y), QPointF(12 + size, y))
            painter.drawLine(QPointF(12, y - 3), QPointF(12, y + 3))
            painter.drawLine(QPointF(12 + size, y - 3), QPointF(12 + size, y + 3))
            painter.setFont(font(12))
            painter.drawText(QPointF(16, y - 4), "4 in" if inch else "100 mm")
