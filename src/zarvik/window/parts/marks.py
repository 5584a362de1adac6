"""Marks of the four states: a word and a shape each, never colour alone."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from zarvik.window.theme.palette import current


def state_colour(state: str) -> QColor:
    """Colour of a state in the theme in force."""
    return QColor(getattr(current(), state))


def draw_state(painter: QPainter, rect: QRectF, state: str, *, checking: bool = False) -> None:
    """Draw the mark of a state: OK = disc, marginal = half-filled lozenge, fails = a square with
    a bar out of it, to do = ring. Grey while it is being checked and may still be another."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    colour = QColor(current().soft) if checking else state_colour(state)
    painter.setPen(QPen(colour, 1.8))
    r = rect.adjusted(1.5, 1.5, -1.5, -1.5)
    if state == "ok":
        painter.setBrush(colour)
        painter.drawEllipse(r)
    elif state == "marginal":
        c = r.center()
        lozenge = QPolygonF(
            [QPointF(c.x(), r.top() - 1), QPointF(r.right() + 1, c.y()), QPointF(c.x(), r.bottom() + 1), QPointF(r.left() - 1, c.y())]
        )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(lozenge)
        path = QPainterPath()
        path.addPolygon(lozenge)
        painter.setClipRect(QRectF(r.left() - 2, c.y(), r.width() + 4, r.height()))
        painter.fillPath(path, colour)
    elif state == "fails":
        painter.setBrush(colour)
        painter.drawRect(r)
        painter.setPen(QPen(QColor(current().panel), 2.2))
        painter.drawLine(QPointF(r.left() + 2.5, r.center().y()), QPointF(r.right() - 2.5, r.center().y()))
    else:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(r)
    painter.restore()


def key_line(painter: QPainter, room: QRectF, colour: str, words: str, *, dashed: bool = False) -> None:
    """A piece of a line as it is drawn, and what it is."""
    pen = QPen(QColor(colour), 2.0)
    if dashed:
        pen.setStyle(Qt.PenStyle.DashLine)
    painter.setPen(pen)
    middle = room.center().y()
    painter.drawLine(QPointF(room.left(), middle), QPointF(room.left() + 24.0, middle))
    painter.setPen(QColor(current().ink))
    painter.drawText(room.adjusted(30.0, 0.0, 0.0, 0.0), int(Qt.AlignmentFlag.AlignVCenter), words)
