"""Heat of a steady hill: over engine speed, as other gears would have it, and over minutes; and what a brake holds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.project.language import tr
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.theme.palette import current


@dataclass(frozen=True)
class Curve:
    """A curve in shown units, with a `name`, drawn "strong", "soft" or as a "limit" (level)."""

    name: str
    xs: tuple[float, ...]
    ys: tuple[float, ...]
    way: str = "strong"


class HeatChart(Chart):
    """Curves with their names at their right ends."""

    def __init__(self, said: str) -> None:
        super().__init__()
        self.curves: Sequence[Curve] = ()
        self.spot: tuple[float, float] | None = None
        self.setMinimumHeight(176)
        self.setAccessibleName(said)

    def take(self, curves: Sequence[Curve], across: str, up: str, spot: tuple[float, float] | None = None) -> None:
        """Draw these over axes of these titles; a `spot` is where it stands now."""
        self.curves, self.spot = curves, spot
        xs = [x for c in curves for x in c.xs if math.isfinite(x)]
        ys = [y for c in curves for y in c.ys if math.isfinite(y)]
        if xs and ys:
            span = max(max(ys) - min(ys), 1.0)
            self.x_axis = Axis(min(xs), max(xs), across)
            self.y_axis = Axis(min(ys) - 0.08 * span, max(ys) + 0.15 * span, up)
        self.setAccessibleDescription("; ".join(f"{c.name}: {c.ys[-1]:.0f} {up}" for c in curves if c.ys and math.isfinite(c.ys[-1])))
        self.stale()

    def paint_back(self, painter: QPainter) -> None:
        """The curves."""
        p = current()
        for c in self.curves:
            colour, width, style = {
                "strong": (p.ink, 2.6, Qt.PenStyle.SolidLine), "soft": (p.cold_low, 2.6, Qt.PenStyle.SolidLine),
                "limit": (p.fails, 1.6, Qt.PenStyle.DashLine),
            }[c.way]  # fmt: skip
            painter.setPen(QPen(QColor(colour), width, style))
            painter.drawPolyline(self.line(list(c.xs), list(c.ys)))
        if self.spot is not None:
            painter.setPen(QPen(QColor(p.ink), 1.4))
            painter.setBrush(QColor(p.accent))
            painter.drawEllipse(self.at(*self.spot), 6.0, 6.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)

    def paint_labels(self, painter: QPainter) -> None:
        """The names."""
        p, r = current(), self.plot()
        if not any(math.isfinite(y) for c in self.curves for y in c.ys):
            painter.setPen(QColor(p.soft))
            painter.drawText(r, Qt.AlignmentFlag.AlignCenter, tr("no result to draw"))
            return
        painter.setPen(QColor(p.soft))
        painter.drawText(QRectF(r.left() + 6, r.bottom() - 22, 144, 18), Qt.AlignmentFlag.AlignLeft, self.y_axis.title)
        taken: list[float] = []
        for c in self.curves:
            last = next(((x, y) for x, y in zip(reversed(c.xs), reversed(c.ys), strict=True) if math.isfinite(y)), None)
            if last is None:
                continue
            y = self.at(*last).y() - 10.0
            while any(abs(y - other) < 16.0 for other in taken):
                y -= 16.0
            y = max(y, r.top() + 9.0)
            while any(abs(y - other) < 15.0 for other in taken):
                y += 16.0
            taken.append(y)
            painter.setPen(QColor({"strong": p.ink, "soft": p.cold_low, "limit": p.fails}[c.way]))
            left = QRectF(r.left() + 6, y - 9, r.width() - 14, 18)
            painter.drawText(left, Qt.AlignmentFlag.AlignVCenter | (Qt.AlignmentFlag.AlignLeft if c.way == "limit" else Qt.AlignmentFlag.AlignRight), c.name)
