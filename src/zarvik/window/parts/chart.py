"""The one chart of the program: axes in the owner's units, a kept background, a light front."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QWidget

from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import width
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

LEAST_TICKS = 4  # that an axis has room for unless it is very short


@dataclass(frozen=True)
class Axis:
    """Range and words of an axis, in shown units."""

    low: float
    high: float
    title: str
    places: int | None = None

    def share(self, value: float) -> float:
        """Where a value stands between the ends, 0–1; in the middle of an axis of no width."""
        span = self.high - self.low
        if not (span > 0.0 and math.isfinite(span)) or not math.isfinite(value):
            return 0.5
        return (value - self.low) / span

    def shares(self, values: np.ndarray) -> np.ndarray:
        """Where finite values stand, as `share` says it of one."""
        span = self.high - self.low
        if not (span > 0.0 and math.isfinite(span)):
            return np.full(values.shape, 0.5)
        return (values - self.low) / span

    def ticks(self, most: int) -> list[float]:
        """Round numbers within the range, at most `most`."""
        span = self.high - self.low
        if not (span > 0 and math.isfinite(span)):
            return []
        rough = span / max(most, 1)
        power = 10.0 ** math.floor(math.log10(rough))
        step = next(power * m for m in (1, 2, 2.5, 5, 10) if power * m >= rough * 0.999)
        first = math.ceil(self.low / step - 1e-9)
        last = math.floor(self.high / step + 1e-9)
        return [i * step for i in range(first, last + 1)]

    def label(self, value: float, step: float) -> str:
        """A tick's number with the decimals that its step needs."""
        places = max(0, -math.floor(math.log10(step) + 1e-9)) if step < 1 else 0
        if 0 < step < 10 and abs(step * 10**places - round(step * 10**places)) > 1e-6:
            places += 1
        return f"{value:.{places}f}".replace("-", "−")


@dataclass(frozen=True)
class Grip:
    """What of a chart a hand may drag: where it takes hold (`area`, px), the `cursor` there, what a `tip` says, and what is done where the
    mouse is (`move`), in values of the axes."""

    area: QRectF
    cursor: Qt.CursorShape
    tip: str
    move: Callable[[float, float], None]


class Chart(QWidget):
    """Draws axes and a background once; subclasses draw curves in `paint_back` and what moves
    in `paint_front`. `second` is a right-hand axis or None. What can be dragged they name in `grips`; `let_go` ends a drag."""

    def __init__(self) -> None:
        super().__init__()
        # The background covers all of it: nothing behind it has to be painted.
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.x_axis = Axis(0.0, 1.0, "")
        self.y_axis = Axis(0.0, 1.0, "")
        self.second: Axis | None = None
        self._back: QPixmap | None = None
        self.held: Grip | None = None  # what a hand drags
        self.setMinimumSize(QSize(220, 160))

    def plot(self) -> QRectF:
        """The rectangle of the plot itself."""
        right = 52.0 if self.second else 14.0
        return QRectF(self.rect()).adjusted(50.0, 12.0, -right, -40.0)

    def at(self, x: float, y: float, axis: Axis | None = None) -> QPointF:
        """A point of the plot in widget coordinates."""
        r, a = self.plot(), axis or self.y_axis
        # An axis of no width (one value, or none that is finite) shows everything in its middle.
        across, up = self.x_axis.share(x), a.share(y)
        return QPointF(r.left() + across * r.width(), r.bottom() - up * r.height())

    def line(self, xs: ArrayLike, ys: ArrayLike, axis: Axis | None = None) -> QPolygonF:
        """A polyline in widget coordinates; what is not finite is left out."""
        r, x, y = self.plot(), np.asarray(xs, float), np.asarray(ys, float)
        if x.shape != y.shape:
            raise ValueError("a line has as many heights as places")
        seen = np.isfinite(x) & np.isfinite(y)
        across = r.left() + self.x_axis.shares(x[seen]) * r.width()
        up = r.bottom() - (axis or self.y_axis).shares(y[seen]) * r.height()
        return QPolygonF(list(map(QPointF, across.tolist(), up.tolist())))

    def value_at(self, spot: QPointF) -> tuple[float, float]:
        """Values of the axes at a place of the widget, no farther than their ends."""
        r = self.plot()
        across = min(max((spot.x() - r.left()) / max(r.width(), 1.0), 0.0), 1.0)
        up = min(max((r.bottom() - spot.y()) / max(r.height(), 1.0), 0.0), 1.0)
        return (
            self.x_axis.low + across * (self.x_axis.high - self.x_axis.low),
            self.y_axis.low + up * (self.y_axis.high - self.y_axis.low),
        )

    def grips(self) -> Sequence[Grip]:
        """What a hand may drag."""
        return ()

    def let_go(self) -> None:
        """A drag is over."""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of what is under the mouse."""
        if event.button() == Qt.MouseButton.LeftButton:
            self.held = next((grip for grip in self.grips() if grip.area.contains(event.position())), None)
        if self.held is None:
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag it; without a button, show what can be dragged."""
        if self.held is not None:
            self.held.move(*self.value_at(event.position()))
            return
        under = next((grip for grip in self.grips() if grip.area.contains(event.position())), None)
        self.setCursor(under.cursor if under is not None else Qt.CursorShape.ArrowCursor)
        self.setToolTip(plain_tip(under.tip) if under is not None else "")

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go."""
        if self.held is not None:
            self.held = None
            self.let_go()
        super().mouseReleaseEvent(event)

    def stale(self) -> None:
        """The background has to be drawn anew."""
        self._back = None
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another size, another background."""
        self._back = None

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Background from the pixmap, front anew."""
        if self._back is None:
            ratio = self.devicePixelRatioF()
            self._back = QPixmap(self.size() * ratio)
            self._back.setDevicePixelRatio(ratio)
            self._back.fill(QColor(current().panel))
            painter = QPainter(self._back)
            self._paint_all_back(painter)
            painter.end()
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._back)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(13))
        self.paint_front(painter)
        painter.end()

    def _paint_all_back(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(13))
        self._paint_axes(painter)
        painter.save()
        painter.setClipRect(self.plot().adjusted(-1, -1, 1, 1))
        self.paint_back(painter)
        painter.restore()
        self.paint_labels(painter)

    def draw(self, painter: QPainter) -> None:
        """Everything, straight to a painter: for paper, where a kept picture would be coarse."""
        self._paint_all_back(painter)
        painter.setFont(font(13))
        self.paint_front(painter)

    @staticmethod
    def _rows(plot: QRectF) -> int:
        """How many ticks a height has room for: a low chart has a few too, or nothing could be read off it."""
        return max(int(plot.height() / 42), min(LEAST_TICKS, int(plot.height() / 22)), 2)

    def bare(self) -> bool:
        """Is there nothing to read off, so that axes would say something that is not so?"""
        return False

    def _paint_axes(self, painter: QPainter) -> None:
        p, r = current(), self.plot()
        painter.fillRect(r, QColor(p.raised))
        if self.bare():
            return
        for axis, most in ((self.x_axis, max(int(r.width() / 70), LEAST_TICKS)), (self.y_axis, self._rows(r))):
            ticks = axis.ticks(most)
            step = ticks[1] - ticks[0] if len(ticks) > 1 else 1.0
            for tick in ticks:
                text = axis.label(tick, step)
                painter.setPen(QPen(QColor(p.grid), 1))
                if axis is self.x_axis:
                    spot = self.at(tick, self.y_axis.low)
                    painter.drawLine(QPointF(spot.x(), r.top()), QPointF(spot.x(), r.bottom()))
                    painter.setPen(QColor(p.soft))
                    painter.drawText(QRectF(spot.x() - 40, r.bottom() + 3, 80, 16), Qt.AlignmentFlag.AlignCenter, text)
                else:
                    spot = self.at(self.x_axis.low, tick)
                    painter.drawLine(QPointF(r.left(), spot.y()), QPointF(r.right(), spot.y()))
                    painter.setPen(QColor(p.soft))
                    painter.drawText(
                        QRectF(0, spot.y() - 9, r.left() - 6, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text
                    )
        if self.second is not None:
            ticks = self.second.ticks(self._rows(r))
            step = ticks[1] - ticks[0] if len(ticks) > 1 else 1.0
            painter.setPen(QColor(p.soft))
            for tick in ticks:
                spot = self.at(self.x_axis.low, tick, self.second)
                painter.drawText(
                    QRectF(r.right() + 6, spot.y() - 9, 44, 18),
                    Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                    self.second.label(tick, step),
                )
        painter.setPen(QPen(QColor(p.line), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(r)
        painter.setPen(QColor(p.ink))
        # A long title may begin under the numbers of the other axis.
        under = QRectF(r.left(), r.bottom() + 18, r.width(), 20)
        if width(self.x_axis.title, 13) > r.width():
            under = QRectF(2.0, under.top(), self.width() - 4.0, 20.0)
        painter.drawText(under, Qt.AlignmentFlag.AlignCenter, self.x_axis.title)

    def paint_back(self, painter: QPainter) -> None:
        """Curves that change only with the answer."""

    def paint_labels(self, painter: QPainter) -> None:
        """Words that may stand over the edge of the plot."""

    def paint_front(self, painter: QPainter) -> None:
        """What moves with the rev slider or the mouse."""
