"""The rev slider under the pressure run."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QToolButton, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

RUN_UP = 3000  # ms from the lowest speed to the highest
HIGH = 28  # px


class RevSlider(QWidget):
    """Chooses the engine speed that the window shows; the target's speed is marked."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setFixedHeight(HIGH)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Engine speed shown"))
        self.setToolTip(tr("Engine speed shown: drag, or left and right; Home is the target, Space starts the sweep"))
        self._runner = QTimer(self)
        self._runner.setInterval(RUN_UP // 50)
        self._runner.timeout.connect(self._on)
        self.turn = QToolButton(self)
        self.turn.setObjectName("quiet")
        self.turn.setText("▾")
        self.turn.setFixedSize(32, HIGH - 4)
        self.turn.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        desk.result_changed.connect(self.update)
        desk.speed_changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(600, HIGH)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The button of the pressure run stays at the right."""
        self.turn.move(self.width() - 36, 2)

    def _range(self) -> tuple[float, float]:
        speeds = self.desk.speeds
        return (speeds[0], speeds[-1]) if len(speeds) > 1 else (0.0, 1.0)

    def _x(self, speed: float) -> float:
        low, high = self._range()
        return 66.0 + (speed - low) / (high - low) * (self.width() - 132.0)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Track, solved part, target, handle."""
        p = current()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(p.panel))
        answer = self.desk.answer
        if answer is None:
            painter.end()
            return
        y = 9.0
        painter.setPen(QPen(QColor(p.line), 3))
        low, high = self._range()
        painter.drawLine(QPointF(self._x(low), y), QPointF(self._x(high), y))
        full = answer.build.boost.full_from
        painter.setPen(QPen(QColor(p.cold_low), 3))
        painter.drawLine(QPointF(self._x(max(min(full, high), low)), y), QPointF(self._x(high), y))
        painter.setFont(font(12))
        step = 1000.0
        tick = (low // step + 1) * step
        while tick <= high:
            x = self._x(tick)
            painter.setPen(QPen(QColor(p.soft), 1))
            painter.drawLine(QPointF(x, y + 3), QPointF(x, y + 6))
            painter.drawText(QRectF(x - 30, y + 6, 60, 14), Qt.AlignmentFlag.AlignCenter, f"{tick:.0f}")
            tick += step
        target = self._x(answer.target.speed)
        painter.setPen(QPen(QColor(p.accent), 2))
        painter.drawLine(QPointF(target, y - 6), QPointF(target, y + 6))
        x = self._x(self.desk.speed)
        painter.setBrush(QColor(p.accent))
        painter.setPen(QPen(QColor(p.panel), 1.5))
        painter.drawPolygon(
            QPolygonF([QPointF(x - 7, y - 7), QPointF(x + 7, y - 7), QPointF(x + 7, y + 3), QPointF(x, y + 10), QPointF(x - 7, y + 3)])
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.accent))
        if self.playing:
            for left in (20.0, 28.0):
                painter.drawRect(QRectF(left, 5, 5, 14))
        else:
            painter.drawPolygon(QPolygonF([QPointF(20, 4), QPointF(34, 12), QPointF(20, 20)]))
        painter.setPen(QColor(p.soft))
        painter.drawText(QRectF(self.width() - 80, 0, 40, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, tr("rpm"))
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    @property
    def playing(self) -> bool:
        """Does it run up by itself?"""
        return self._runner.isActive()

    def play(self) -> None:
        """Run up from the lowest speed, or stop."""
        if self.playing:
            self._runner.stop()
        elif self.desk.speeds:
            if self.desk.speed >= self.desk.speeds[-1]:
                self.desk.set_speed(self.desk.speeds[0])
            self._runner.start()
        self.update()

    def _on(self) -> None:
        later = [s for s in self.desk.speeds if s > self.desk.speed]
        if later:
            self.desk.set_speed(later[0])
        else:
            self._runner.stop()
            self.update()

    def _go(self, x: float) -> None:
        low, high = self._range()
        self.desk.set_speed(low + (x - 66.0) / max(self.width() - 132.0, 1.0) * (high - low))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Jump there; on the arrow at the left: run up."""
        if event.position().x() < 46:
            self.play()
            return
        self._runner.stop()
        self._go(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Follow the mouse."""
        if event.buttons() & Qt.MouseButton.LeftButton and not self.playing:
            self._go(event.position().x())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left, right, Home, Space."""
        if event.key() == Qt.Key.Key_Space:
            self.play()
            return
        speeds = self.desk.speeds
        if not speeds:
            return
        at = min(range(len(speeds)), key=lambda i: abs(speeds[i] - self.desk.speed))
        if event.key() == Qt.Key.Key_Left:
            self.desk.set_speed(speeds[max(at - 1, 0)])
        elif event.key() == Qt.Key.Key_Right:
            self.desk.set_speed(speeds[min(at + 1, len(speeds) - 1)])
        elif event.key() == Qt.Key.Key_Home and self.desk.answer is not None:
            self.desk.set_speed(self.desk.answer.target.speed)
        else:
            super().keyPressEvent(event)
