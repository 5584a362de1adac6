"""The map that traces make, drawn as the solver will read it."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from zarvik.core.compressor.chart import CompressorMap
from zarvik.project.language.language import tr
from zarvik.window.benches.turbo.presenter import MapPicture, picture
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.theme.palette import between, colour, current


class Preview(Chart):
    """The map that the traces make, drawn as the solver will read it."""

    def __init__(self) -> None:
        super().__init__()
        self.map: MapPicture | None = None
        self._factor = 1.0
        self.setMinimumSize(QSize(180, 150))

    def show_map(self, chart: CompressorMap | None, unit: float, symbol: str) -> None:
        """Draw a map, flows in a unit of so many kg/s; nothing for None."""
        self.map = picture(chart) if chart is not None else None
        if self.map is not None:
            self._factor = unit
            self.x_axis = Axis(0.0, 1.05 * self.map.flow_most / unit, symbol)
            self.y_axis = Axis(1.0, 1.05 * self.map.ratio_most, "")
        self.stale()

    def paint_back(self, painter: QPainter) -> None:
        """Islands, lines, edges."""
        if self.map is None:
            return
        p = current()
        count = len(self.map.islands)
        for number, (_, polygons) in enumerate(self.map.islands):
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.OddEvenFill)
            for points, offsets in polygons:
                for a, b in pairwise(offsets):
                    path.addPolygon(self._poly(points[a:b]))
            painter.setPen(QPen(colour(p.ink, 0.2), 0.8))
            painter.setBrush(between(p.raised, p.cold_low, 0.1 + 0.6 * number / max(count - 1, 1)))
            painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour(p.ink, 0.6), 1.1))
        for _, points in self.map.lines:
            painter.drawPolyline(self._poly(points))
        painter.setPen(QPen(QColor(p.fails), 2.0))
        painter.drawPolyline(self._poly(self.map.surge))

    def _poly(self, points: np.ndarray) -> QPolygonF:
        return self.line(points[:, 0] / self._factor, points[:, 1])

    def paint_labels(self, painter: QPainter) -> None:
        """Say that there is nothing yet."""
        if self.map is None:
            painter.setPen(QColor(current().soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter, tr("no map yet"))
