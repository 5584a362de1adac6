"""Heat of a steady hill: over engine speed, as other gears would have it, and over minutes; and what a brake holds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.project.language.language import tr
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
        self.places: list[QRectF] = []  # of the names
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
            self.y_axis = Axis(min(ys) - 0.08 * span, max(ys) + 0.22 * span, up)
        self.setAccessibleDescription("; ".join(f"{c.name}: {c.ys[-1]:.0f} {up}" for c in curves if c.ys and math.isfinite(c.ys[-1])))
        self.stale()

    def paint_back(self, painter: QPainter) -> None:
        """The curves."""
        p = current()
        for c in self.curves:
            colour, width, style = {
                "strong": (p.ink, 2.6, Qt.PenStyle.SolidLine),
                "soft": (p.cold_low, 2.6, Qt.PenStyle.SolidLine),
                "limit": (p.fails, 1.6, Qt.PenStyle.DashLine),
            }[c.way]
            painter.setPen(QPen(QColor(colour), width, style))
            painter.drawPolyline(self.line(c.xs, c.ys))
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
        taken = self.places = []
        spots = np.concatenate([self._spots(c) for c in self.curves]) if self.curves else np.empty((0, 2))
        for c in self.curves:
            last = next(((x, y) for x, y in zip(reversed(c.xs), reversed(c.ys), strict=True) if math.isfinite(y)), None)
            if last is None:
                continue
            wide = painter.fontMetrics().horizontalAdvance(c.name) + 4.0
            left = r.left() + 6 if c.way == "limit" else r.right() - 8 - wide
            place = self._room(QRectF(left, self.at(*last).y() - 19.0, wide, 18.0), taken, spots)
            taken.append(place)
            painter.setPen(QColor({"strong": p.ink, "soft": p.cold_low, "limit": p.fails}[c.way]))
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, c.name)
        wide = painter.fontMetrics().horizontalAdvance(self.y_axis.title) + 4.0
        painter.setPen(QColor(p.soft))
        painter.drawText(
            self._room(QRectF(r.left() + 6, r.bottom() - 22, wide, 18.0), taken, spots), Qt.AlignmentFlag.AlignCenter, self.y_axis.title
        )

    def _room(self, wanted: QRectF, taken: Sequence[QRectF], spots: np.ndarray) -> QRectF:
        """The place nearest to the `wanted` one, up or down, that no other name and none of the `spots` of curves has, as far as there
        is one."""
        r, high = self.plot(), wanted.height()
        tops = r.top() + 1.0 + np.arange(0, max(int(r.height() - high - 2), 1), 2)
        beside = [t for t in taken if t.left() < wanted.right() and t.right() > wanted.left()]
        covered = sum(((tops < t.bottom()) & (tops + high > t.top()) for t in beside), start=np.zeros(len(tops)))
        y = np.sort(spots[(spots[:, 0] >= wanted.left()) & (spots[:, 0] <= wanted.right()), 1])
        crossed = np.searchsorted(y, tops + high - 1.0, side="right") - np.searchsorted(y, tops + 1.0)
        cost = 1e4 * covered + 1e3 * np.minimum(crossed, 9) + np.abs(tops - wanted.top())
        return QRectF(wanted.left(), float(tops[np.argmin(cost)]), wanted.width(), high)

    def _spots(self, curve: Curve) -> np.ndarray:
        """Places that a curve goes through, (n, 2) in px, as close as the letters of a name are tall."""
        found = np.array([e.toTuple() for e in self.line(curve.xs, curve.ys).toList()]).reshape(-1, 2)
        if len(found) < 2:
            return found
        parts = np.linspace(0.0, 1.0, 17)[:, None, None]
        return (found[:-1] + parts * (found[1:] - found[:-1])).reshape(-1, 2)
