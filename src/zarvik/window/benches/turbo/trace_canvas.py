"""A picture with what was traced over it, zoomed and moved."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QWidget

from zarvik.core.tracing.axes import Spot
from zarvik.core.tracing.tracing import CHOKE, ISLAND, SPEED, SURGE, Trace, Tracing
from zarvik.project.language.language import tr
from zarvik.window.parts.error_guard import guarded
from zarvik.window.theme.palette import current


class Canvas(QWidget):
    """The picture, zoomed and moved, with what was traced over it. `clicked`: px of the picture, straight or
    not; `ended`, `undone`: of the trace in hand."""

    clicked = Signal(float, float, bool)
    ended = Signal()
    undone = Signal()
    pulled = Signal(float, float, float, float)

    def __init__(self) -> None:
        super().__init__()
        self.image: QImage | None = None
        self.tracing: Tracing | None = None
        self.active: Trace | None = None
        self.preview: np.ndarray | None = None
        self.marks: list[tuple[Spot, str]] = []
        self.hover: Spot | None = None
        self._levels: list[QPixmap] = []
        self.zoom = 1.0
        self.corner = QPointF(0.0, 0.0)
        self._hand: QPointF | None = None
        self._grip: Spot | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(QSize(260, 200))
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAccessibleName(tr("Picture of a printed map"))

    def load(self, image: QImage) -> None:
        """Show a picture, all of it."""
        self.image = image
        self._levels = []
        level = QPixmap.fromImage(image)
        self._levels.append(level)
        while level.width() * level.height() > 1_500_000:
            # Halved and halved again: what is drawn is never much larger than the screen.
            level = level.scaled(
                level.width() // 2, level.height() // 2, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation
            )
            self._levels.append(level)
        self.whole()

    def whole(self) -> None:
        """The whole picture in the window."""
        if self.image is None:
            return
        self.zoom = min(self.width() / self.image.width(), self.height() / self.image.height())
        self.corner = QPointF(
            0.5 * (self.image.width() - self.width() / self.zoom), 0.5 * (self.image.height() - self.height() / self.zoom)
        )
        self.update()

    def spot(self, at: QPointF) -> Spot:
        """px of the picture under a place of the window."""
        return (at.x() / self.zoom + self.corner.x() - 0.5, at.y() / self.zoom + self.corner.y() - 0.5)

    def place(self, spot: Spot | np.ndarray) -> QPointF:
        """Where a px of the picture stands in the window."""
        return QPointF((float(spot[0]) + 0.5 - self.corner.x()) * self.zoom, (float(spot[1]) + 0.5 - self.corner.y()) * self.zoom)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Picture, axes, traces, the way to the mouse."""
        painter = QPainter(self)
        p = current()
        painter.fillRect(self.rect(), QColor(p.line))
        if self.image is None or not self._levels:
            painter.setPen(QColor(p.ink))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Open a picture of a printed map"))
            painter.end()
            return
        # The coarsest level that still has a px for each of the screen.
        number = 0
        while number + 1 < len(self._levels) and self.zoom * 2 ** (number + 1) <= 1.0:
            number += 1
        level = self._levels[number]
        scale = level.width() / self.image.width()
        source = QRectF(
            self.corner.x() * scale, self.corner.y() * scale, self.width() / self.zoom * scale, self.height() / self.zoom * scale
        )
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.zoom < 3.0)
        painter.drawPixmap(QRectF(self.rect()), level, source)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for trace in self.tracing.traces if self.tracing is not None else ():
            self._trace(painter, trace)
        if self.preview is not None and len(self.preview) > 1:
            painter.setPen(QPen(QColor(p.accent), 2, Qt.PenStyle.DotLine))
            painter.drawPolyline(self._poly(self.preview))
        for spot, text in self.marks:
            at = self.place(spot)
            painter.setPen(QPen(QColor("#ffffff"), 4))
            painter.drawLine(QPointF(at.x() - 8, at.y()), QPointF(at.x() + 8, at.y()))
            painter.drawLine(QPointF(at.x(), at.y() - 8), QPointF(at.x(), at.y() + 8))
            painter.setPen(QPen(QColor("#a3211b"), 2))
            painter.drawLine(QPointF(at.x() - 8, at.y()), QPointF(at.x() + 8, at.y()))
            painter.drawLine(QPointF(at.x(), at.y() - 8), QPointF(at.x(), at.y() + 8))
            self._plate(painter, QPointF(at.x() + 8, at.y() - 6), text)
        painter.end()

    def _poly(self, spots: np.ndarray) -> QPolygonF:
        return QPolygonF([self.place(s) for s in spots])

    def _trace(self, painter: QPainter, trace: Trace) -> None:
        """A trace on a pale rim, so that it is seen on any picture; the one in hand thick."""
        spots = trace.spots
        if len(spots) == 0:
            return
        line = self._poly(spots)
        held = trace is self.active
        inks = {SPEED: "#7a2e5d", ISLAND: "#0b6a80", SURGE: "#a3211b", CHOKE: "#8a5200"}
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(255, 255, 255, 170), 6.0 if held else 4.5))
        painter.drawPolyline(line)
        dash = Qt.PenStyle.DashLine if trace.kind == ISLAND else Qt.PenStyle.SolidLine
        painter.setPen(QPen(QColor(inks[trace.kind]), 3.0 if held else 1.8, dash))
        painter.drawPolyline(line)
        for segment in trace.segments:
            painter.drawEllipse(self.place(segment[0]), 3, 3)
            painter.drawEllipse(self.place(segment[-1]), 3, 3)
        self._plate(painter, line.at(line.size() - 1) + QPointF(6, -4), label_of(trace))

    @staticmethod
    def _plate(painter: QPainter, at: QPointF, text: str) -> None:
        wide = painter.fontMetrics().horizontalAdvance(text)
        painter.fillRect(QRectF(at.x() - 2, at.y() - 13, wide + 4, 16), QColor(255, 255, 255, 215))
        painter.setPen(QColor("#23262b"))
        painter.drawText(at, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Left clicks a point, with Ctrl pulls one; right ends the trace; the middle moves the picture."""
        if self.image is None:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        spot = self.spot(event.position())
        if event.button() == Qt.MouseButton.MiddleButton:
            self._hand = event.position()
        elif event.button() == Qt.MouseButton.RightButton:
            self.ended.emit()
        elif event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._grip = spot
        elif event.button() == Qt.MouseButton.LeftButton:
            straight = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.clicked.emit(*spot, straight)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Move the picture, pull a point, or tell where the mouse is."""
        if self._hand is not None:
            self.corner -= (event.position() - self._hand) / self.zoom
            self._hand = event.position()
            self.update()
            return
        spot = self.spot(event.position())
        if self._grip is not None:
            self.pulled.emit(*self._grip, *spot)
            self._grip = spot
            return
        self.hover = spot

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go."""
        self._hand = self._grip = None

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Zoom about the mouse."""
        if self.image is None:
            return
        before = self.spot(event.position())
        factor = 1.2 ** (event.angleDelta().y() / 120.0)
        self.zoom = min(max(self.zoom * factor, 0.02), 20.0)
        after = self.spot(event.position())
        self.corner += QPointF(before[0] - after[0], before[1] - after[1])
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter ends, Backspace takes back, 0 shows the whole picture, + and - zoom, arrows move."""
        key = event.key()
        step = 60.0 / self.zoom
        moves = {Qt.Key.Key_Left: (-step, 0.0), Qt.Key.Key_Right: (step, 0.0), Qt.Key.Key_Up: (0.0, -step), Qt.Key.Key_Down: (0.0, step)}
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.ended.emit()
        elif key == Qt.Key.Key_Backspace:
            self.undone.emit()
        elif key == Qt.Key.Key_0:
            self.whole()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self.zoom = min(max(self.zoom * (1.25 if key == Qt.Key.Key_Plus else 0.8), 0.02), 20.0)
            self.update()
        elif key in moves:
            self.corner += QPointF(*moves[Qt.Key(key)])
            self.update()
        else:
            super().keyPressEvent(event)


def label_of(trace: Trace) -> str:
    """A trace in words."""
    if trace.kind == SPEED:
        return f"{trace.value / 1000:g}k"
    if trace.kind == ISLAND:
        return f"{100 * trace.value:g} %"
    return tr("surge") if trace.kind == SURGE else tr("choke")
