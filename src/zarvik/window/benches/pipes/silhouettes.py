"""The shape of each kind of piece as it is drawn in the list; a new kind is a function and a line in
`SILHOUETTES`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from zarvik.window.benches.pipes.presenter import Row
from zarvik.window.theme.palette import between, colour, current, temper


@dataclass(frozen=True)
class ShapeBox:
    """Where a shape goes: its `area`, left and right edge and middle, half of its bores at both ends in
    px, and what it is filled with."""

    area: QRectF
    left: float
    right: float
    middle: QPointF
    a: float
    b: float
    fill: QColor


def _box(painter: QPainter, left: float, right: float, middle: float, half: float) -> None:
    painter.drawRect(QRectF(left, middle - half, right - left, 2.0 * half))


def _pipe(painter: QPainter, r: ShapeBox) -> None:
    y = r.middle.y()
    painter.drawPolygon(
        QPolygonF([QPointF(r.left, y - r.a), QPointF(r.right, y - r.b), QPointF(r.right, y + r.b), QPointF(r.left, y + r.a)])
    )


def _end(painter: QPainter, r: ShapeBox, x: float) -> None:
    _pipe(painter, r)
    painter.drawLine(QPointF(x, r.area.top() + 1), QPointF(x, r.area.bottom() - 1))


def _entry(painter: QPainter, r: ShapeBox) -> None:
    _end(painter, r, r.left)


def _mouth(painter: QPainter, r: ShapeBox) -> None:
    _end(painter, r, r.right)


def _bend(painter: QPainter, r: ShapeBox) -> None:
    a = min(r.a, 9.0)  # a quarter turn of more would not fit in a row
    path = QPainterPath(QPointF(r.left, r.area.bottom() - a - 1))
    turn = QPointF(r.right - a, r.area.bottom() - a - 1)
    path.quadTo(turn, QPointF(r.right - a, r.area.top()))
    pen = QPen(QColor(current().ink), 2 * a)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    painter.setClipRect(r.area)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen)
    painter.drawPath(path)
    painter.setPen(QPen(r.fill, 2 * a - 2.6))
    painter.drawPath(path)
    painter.setClipping(False)


def _joint(painter: QPainter, r: ShapeBox) -> None:
    wide, y = (r.right - r.left) * 0.36, r.middle.y()
    _box(painter, r.left, r.left + wide, y, r.a - 2)
    _box(painter, r.right - wide, r.right, y, r.a - 2)
    painter.setBrush(colour(current().accent, 0.35))
    painter.drawRoundedRect(QRectF(r.left + 6, y - r.a, r.right - r.left - 12, 2 * r.a), 3, 3)


def _resistance(painter: QPainter, r: ShapeBox) -> None:
    y = r.middle.y()
    _box(painter, r.left + 4, r.right - 4, y, 9)
    for i in range(1, 5):
        x = r.left + 4 + i * (r.right - r.left - 8) / 5
        painter.drawLine(QPointF(x, y - 9), QPointF(x, y + 9))


def _primaries(painter: QPainter, r: ShapeBox) -> None:
    for i in range(4):
        _box(painter, r.left, r.right, r.middle.y() - 8 + i * 5.4, 1.8)


def _collector(painter: QPainter, r: ShapeBox) -> None:
    x, y, out = r.middle.x() + 4, r.middle.y(), r.b * 0.7
    painter.drawPolygon(
        QPolygonF(
            [
                QPointF(r.left, y - 10),
                QPointF(x, y - out),
                QPointF(r.right, y - out),
                QPointF(r.right, y + out),
                QPointF(x, y + out),
                QPointF(r.left, y + 10),
            ]
        )
    )


def _tee(painter: QPainter, r: ShapeBox) -> None:
    y = r.middle.y()
    _box(painter, r.left, r.right, y, r.a * 0.6)
    painter.drawRect(QRectF(r.middle.x() - 5, r.area.top(), 10, y - r.a * 0.6 - r.area.top()))


def _cut_bend(painter: QPainter, r: ShapeBox) -> None:
    x, y = r.middle.x(), r.middle.y()
    painter.drawPolygon(
        QPolygonF(
            [
                QPointF(r.left, y + 8),
                QPointF(x - 4, y + 8),
                QPointF(r.right, y - 4),
                QPointF(r.right, y - 10),
                QPointF(x + 2, y - 2),
                QPointF(r.left, y - 2),
            ]
        )
    )
    painter.drawLine(QPointF(x - 4, y + 8), QPointF(x + 2, y - 2))


def _crush(painter: QPainter, r: ShapeBox) -> None:
    """A bend that is flat in its turn."""
    x, y = r.middle.x(), r.middle.y()
    painter.drawPolygon(
        QPolygonF(
            [
                QPointF(r.left, y + 9),
                QPointF(x, y + 4),
                QPointF(r.right, y - 1),
                QPointF(r.right, y - 10),
                QPointF(x, y),
                QPointF(r.left, y - 2),
            ]
        )
    )


def _step(painter: QPainter, r: ShapeBox) -> None:
    x, y = r.middle.x(), r.middle.y()
    one, two = (r.a, r.a * 0.6) if r.a >= r.b else (r.b * 0.6, r.b)
    _box(painter, r.left, x, y, one)
    _box(painter, x, r.right, y, two)


def _throttle(painter: QPainter, r: ShapeBox) -> None:
    x, y = r.middle.x(), r.middle.y()
    _box(painter, r.left, r.right, y, r.a)
    painter.drawLine(QPointF(x - 9, y + 1.5), QPointF(x + 9, y - 1.5))
    painter.setBrush(QColor(current().ink))
    painter.drawEllipse(r.middle, 2.6, 2.6)


def _cooler(painter: QPainter, r: ShapeBox) -> None:
    box = QRectF(r.left, r.middle.y() - 9, r.right - r.left, 18)
    painter.drawRect(box)
    for i in range(1, 4):
        y = box.top() + i * box.height() / 4
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))


def _crossover(painter: QPainter, r: ShapeBox) -> None:
    """Two streams that become one."""
    x, y = r.middle.x(), r.middle.y()
    for way in (-1.0, 1.0):
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(r.left, y + way * 10),
                    QPointF(x, y),
                    QPointF(r.right, y),
                    QPointF(r.right, y + way * 4.5),
                    QPointF(x, y + way * 4.5),
                    QPointF(r.left, y + way * 5),
                ]
            )
        )


def _body(painter: QPainter, r: ShapeBox) -> None:
    """A body between two necks."""
    y, neck = r.middle.y(), min(r.a * 0.6, 6.0)
    _box(painter, r.left, r.right, y, neck)
    painter.drawRoundedRect(QRectF(r.left + 6, y - 10, r.right - r.left - 12, 20), 5, 5)


def _catalyst(painter: QPainter, r: ShapeBox) -> None:
    """A body of channels along the gas."""
    _body(painter, r)
    for i in range(1, 5):
        y = r.middle.y() - 10 + 4.0 * i
        painter.drawLine(QPointF(r.left + 10, y), QPointF(r.right - 10, y))


SILHOUETTES: dict[str, Callable[[QPainter, ShapeBox], None]] = {
    "straight": _pipe,
    "reducer": _pipe,
    "entry": _entry,
    "mouth": _mouth,
    "bend": _bend,
    "crossover": _crossover,
    "silencer": _body,
    "catalyst": _catalyst,
    "joint": _joint,
    "resistance": _resistance,
    "primaries": _primaries,
    "collector": _collector,
    "tee": _tee,
    "mitre": _cut_bend,
    "crush": _crush,
    "step": _step,
    "throttle": _throttle,
    "cooler": _cooler,
}


def draw_silhouette(painter: QPainter, area: QRectF, row: Row) -> None:
    """The shape of a piece, its bores to scale (100 mm = the height of the row)."""
    p = current()

    def half(bore: float) -> float:
        return max(3.0, min(bore / 0.1, 1.0) * area.height() / 2.0)

    painter.setPen(QPen(QColor(p.ink), 1.3))
    # Hot pieces have the tint that their steel takes, cold ones the cool of charge air.
    fill = temper(row.skin)[1] if row.skin > 0.0 else between(p.panel, p.cold_low, 0.45)
    painter.setBrush(fill)
    SILHOUETTES[row.kind](
        painter,
        ShapeBox(
            area=area,
            left=area.left() + 3,
            right=area.right() - 3,
            middle=area.center(),
            a=half(row.bore_in),
            b=half(row.bore_out),
            fill=fill,
        ),
    )
