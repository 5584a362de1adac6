"""The compressor map with the full-load line on it."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from zarvik.core.airpath.point import Point, Station
from zarvik.core.answer.answer import Answer
from zarvik.core.common.sentences import Figure
from zarvik.core.engine.blower import Blower
from zarvik.core.gas.ambient import Site
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.project.language.language import tr
from zarvik.window.benches.turbo import presenter
from zarvik.window.desk import Desk
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.parts.marks import state_colour
from zarvik.window.parts.wrapping import width
from zarvik.window.theme.palette import between, colour, current
from zarvik.window.theme.style import font
from zarvik.workspace.job_store import DONE, JobResult


class MapChart(Chart):
    """Corrected flow across, pressure ratio up, efficiency as islands; the full-load line. `at_once`: the islands of a
    new map are worked out where they are asked for, for paper; else in the background."""

    def __init__(self, desk: Desk, *, at_once: bool = False) -> None:
        super().__init__()
        self.setMinimumHeight(230)  # under that speed lines and islands are one
        self.desk = desk
        self._at_once = at_once
        if not at_once:
            desk.job_changed.connect(self._hear)
        self.picture: presenter.MapPicture | None = None
        self._drawn: tuple[presenter.MapPicture, list[QPainterPath]] | None = None
        self._of = ""  # id of the turbo whose map is drawn
        self._hits: list[tuple[QRectF, str]] = []
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Compressor map with the full-load line"))

    def _hear(self, reply: JobResult) -> None:
        if reply.key == presenter.MAPPED and reply.state == DONE and self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Take the map of the newest answer; the background stays while the map does."""
        answer = self.desk.answer
        if answer is None:
            self.picture = None
            self.stale()
            return
        if answer.build.blower is not None:
            self._take_blower(answer, answer.build.blower)
            return
        chart = answer.build.turbo.chart
        if self._at_once:
            picture = presenter.picture(chart)
        else:
            picture = self.desk.ask(presenter.mapped(chart)).value
            if picture is None:
                # While a hand drags a wheel the islands follow it; another turbo's never stand for this one.
                if self._of != answer.build.turbo.id:
                    self.picture = None
                    self.stale()
                return
        self._of = answer.build.turbo.id
        factor, symbol = presenter.flow_unit(self.desk.project.shown_units)
        x = Axis(
            0.0,
            picture.flow_most / factor * 1.06,
            tr("corrected flow, {0} at {1:.0f} K and {2:.0f} kPa").format(
                symbol, chart.reference_temperature, chart.reference_pressure / 1000
            ),
        )
        y = Axis(1.0, max(picture.ratio_most * 1.05, 1.5), "pressure ratio, total to total")
        if picture is not self.picture or x != self.x_axis or y != self.y_axis:
            self.picture, self.x_axis, self.y_axis = picture, x, y
            self._factor = factor
            self.stale()
        self.update()

    def _take_blower(self, answer: Answer, blower: Blower) -> None:
        """The lines of a blower, at the air that it has before it at the target, or outside."""
        air: Site | Station = answer.build.site
        if answer.target.closure.solved:
            air = answer.target.stations["compressor_inlet"]
        density = air.pressure / (answer.solver.gas[GAS_CONSTANT] * air.temperature)
        points = [q for q in answer.sweep if q.closure.solved]
        top = max((q.turbo.ratio for q in points), default=1.5)
        # Coarse steps, so that a drag does not make the axes dance.
        most = max(math.ceil(top * 1.15 * 5.0) / 5.0, 1.4)
        picture = presenter.blower_picture(blower, round(float(density), 2), most)
        factor, symbol = presenter.flow_unit(self.desk.project.shown_units)
        x = Axis(0.0, picture.flow_most / factor * 1.22, tr("air that the rotors move, {0}").format(symbol))
        y = Axis(1.0, most + 0.09 * (most - 1.0), "pressure ratio, total to total")
        if picture is not self.picture or x != self.x_axis or y != self.y_axis:
            self.picture, self.x_axis, self.y_axis = picture, x, y
            self._factor = factor
            self.stale()
        self.update()

    def _spot(self, point: Point) -> QPointF:
        """Where a point stands: compressor flow, or what the rotors of a blower move."""
        belt = point.turbo.id == "blower"
        flow = presenter.moved(point) if belt else point.turbo.flow
        return self.at(flow / self._factor, point.turbo.ratio)

    def _poly(self, points: object) -> QPolygonF:
        xs, ys = np.asarray(points, float).reshape(-1, 2).T
        return self.line(xs / self._factor, ys)

    def _transform(self) -> QTransform:
        """From flow in kg/s and pressure ratio to the widget."""
        origin, corner = self.at(0.0, 0.0), self.at(1.0 / self._factor, 1.0)
        return QTransform(corner.x() - origin.x(), 0.0, 0.0, corner.y() - origin.y(), origin.x(), origin.y())

    def _islands(self, picture: presenter.MapPicture) -> list[QPainterPath]:
        """The outlines of the islands, in kg/s and pressure ratio; kept, as they have thousands of points."""
        if self._drawn is None or self._drawn[0] is not picture:
            found = []
            for _, polygons in picture.islands:
                path = QPainterPath()
                path.setFillRule(Qt.FillRule.OddEvenFill)
                for points, offsets in polygons:
                    for a, b in pairwise(offsets):
                        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in points[a:b].tolist()]))
                found.append(path)
            self._drawn = picture, found
        return self._drawn[1]

    def paint_back(self, painter: QPainter) -> None:
        """Islands, speed lines, surge and choke."""
        if self.picture is None:
            return
        p = current()
        count = len(self.picture.islands)
        onto = self._transform()
        for number, path in enumerate(self._islands(self.picture)):
            shade = between(p.raised, p.cold_low, 0.10 + 0.62 * number / max(count - 1, 1))
            painter.setPen(QPen(colour(p.ink, 0.22), 0.8))
            painter.setBrush(shade)
            painter.drawPath(onto.map(path))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour(p.ink, 0.55), 1.1))
        for _, points in self.picture.lines:
            painter.drawPolyline(self._poly(points))
        if len(self.picture.surge):
            painter.setPen(QPen(QColor(p.fails), 2.4))
            painter.drawPolyline(self._poly(self.picture.surge))
        painter.setPen(QPen(QColor(p.marginal), 1.6, Qt.PenStyle.DashLine))
        painter.drawPolyline(self._poly(self.picture.edge))

    def paint_labels(self, painter: QPainter) -> None:
        """Speeds at the ends of their lines, names of the edges, efficiencies of the islands."""
        p = current()
        if self.picture is None:
            painter.setPen(QColor(p.soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter, tr("no map to draw"))
            return
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        fastest = self.picture.lines[-1][0]
        *slower, (fastest, top) = self.picture.lines
        for speed, points in slower:
            spot = self.at(points[-1][0] / self._factor, points[-1][1])
            painter.drawText(QPointF(spot.x() + 4, spot.y() + 10), f"{speed / 1000:.0f}")
        # A blower's line is steep: its name stands at the upper end, where the others have theirs.
        end = top[2] if len(self.picture.surge) else top[-1]
        spot = self.at(end[0] / self._factor, end[1])
        painter.drawText(QPointF(spot.x() + 8, spot.y() - 2), tr("{0:.0f} × 1000 rpm").format(fastest / 1000))
        painter.drawText(QPointF(self.plot().left() + 6, self.plot().top() + 15), tr("pressure ratio"))
        if not len(self.picture.surge):
            return  # a blower: nothing surges, and its efficiency goes by the ratio alone
        painter.setPen(QColor(p.fails))
        m, r = self.picture.surge[len(self.picture.surge) * 3 // 4]
        spot = self.at(m / self._factor, r)
        painter.drawText(QRectF(spot.x() - 66, spot.y() - 22, 60, 16), Qt.AlignmentFlag.AlignRight, tr("surge"))
        flow, ratio, best = self.picture.peak
        spot = self.at(flow / self._factor, ratio)
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(spot.x() - 24, spot.y() - 8, 48, 16), Qt.AlignmentFlag.AlignCenter, f"{100 * best:.0f} %")
        for level, polygons in self.picture.islands[2:-1:2]:
            points = max((pts for pts, _ in polygons), key=len)
            right = points[int(points[:, 0].argmax())]
            spot = self.at(right[0] / self._factor, right[1])
            painter.drawText(QRectF(spot.x() - 40, spot.y() + 2, 34, 16), Qt.AlignmentFlag.AlignRight, f"{100 * level:.0f}")

    def paint_front(self, painter: QPainter) -> None:
        """The full-load line, its points off the map, the shown point with its margins."""
        answer, p = self.desk.answer, current()
        self._hits = []
        if self.picture is None or answer is None:
            return
        painter.save()
        painter.setClipRect(self.plot().adjusted(-2, -2, 2, 2))
        points = [q for q in answer.sweep if q.closure.solved]
        line = QPolygonF([self._spot(q) for q in points])
        painter.setPen(QPen(QColor(p.raised), 5))
        painter.drawPolyline(line)
        painter.setPen(QPen(QColor(p.accent), 2.6))
        painter.drawPolyline(line)
        painter.setPen(Qt.PenStyle.NoPen)
        for q, spot in zip(points, [line.at(i) for i in range(line.size())], strict=True):
            off = q.turbo.region in ("surge", "choke", "overspeed")
            painter.setBrush(state_colour("fails") if off else QColor(p.accent))
            if off:
                painter.drawRect(QRectF(spot.x() - 3.5, spot.y() - 3.5, 7, 7))
            elif q.speed % 500 == 0:
                painter.drawEllipse(spot, 3, 3)
        overlay = self.desk.overlay_answer
        same = overlay is not None and (overlay.build.blower is None) == (answer.build.blower is None)
        if overlay is not None and same:
            behind = [q for q in overlay.sweep if q.closure.solved]
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.accent), 1.6, Qt.PenStyle.DotLine))
            painter.drawPolyline(QPolygonF([self._spot(q) for q in behind]))
        painter.restore()
        point = self.desk.point
        if point is None or not point.closure.solved:
            return
        turbo = point.turbo
        spot = self._spot(point)
        if answer.build.blower is not None:
            self._blower_point(painter, point, spot)
            return
        surge = self.at(turbo.surge_flow / self._factor, turbo.ratio)
        limit = self.at(turbo.flow_limit / self._factor, turbo.ratio)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.drawLine(surge, limit)
        for end in (surge, limit):
            painter.drawLine(QPointF(end.x(), end.y() - 5), QPointF(end.x(), end.y() + 5))
        painter.setBrush(QColor(p.raised))
        painter.setPen(QPen(QColor(p.accent), 2.6))
        painter.drawEllipse(spot, 6.5, 6.5)
        painter.setFont(font(14, strong=True))
        if point.wanted_boost > 2e3:
            self._margin(painter, surge, spot, turbo.surge, tr("{0} % over surge"))
            self._margin(painter, spot, limit, turbo.choke, tr("{0} % to choke"), right=True)
        self._least(painter, answer, point)

    def _least(self, painter: QPainter, answer: Answer, shown: Point) -> None:
        """Where the line comes nearest to surge: the margin that the check and the list of candidates speak of."""
        check = next((v for v in answer.check_results if v.id == "surge" and v.margin is not None), None)
        at = dict(check.text.figures).get("speed") if check is not None else None
        if check is None or not isinstance(at, Figure) or abs(at.value - shown.speed) < 1.0:
            return
        p, margin = current(), check.margin or 0.0
        spot = self._spot(min((q for q in answer.sweep if q.closure.solved), key=lambda q: abs(q.speed - at.value)))
        painter.setPen(QPen(QColor(p.accent), 2.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(spot.x() - 5, spot.y() - 5, 10, 10))
        painter.setFont(font(13))
        text = tr("least: {0} % at {1}").format(f"{100 * margin:.0f}".replace("-", "−"), self.desk.text(at.value, "rotation"))
        area = QRectF(spot.x() + 10, spot.y() + 6, width(text, 13) + 6, 17)
        if area.right() > self.plot().right() or any(area.intersects(other) for other, _ in self._hits):
            return
        self._hits.append((area, f"surge/{at.value:g}"))
        painter.fillRect(area, colour(p.raised, 0.85))
        painter.setPen(QColor(p.fails if margin < 0 else p.ink))
        painter.drawText(area.adjusted(3, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _blower_point(self, painter: QPainter, point: Point, spot: QPointF) -> None:
        """The shown point, what of it goes back through the bypass, and the speed in hand."""
        p, turbo = current(), point.turbo
        drawn = self.at(point.air / self._factor, turbo.ratio)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        if turbo.opening > 0.005:
            painter.drawLine(drawn, spot)
            painter.drawLine(QPointF(drawn.x(), drawn.y() - 5), QPointF(drawn.x(), drawn.y() + 5))
        painter.setBrush(QColor(p.raised))
        painter.setPen(QPen(QColor(p.accent), 2.6))
        painter.drawEllipse(spot, 6.5, 6.5)
        painter.setFont(font(14, strong=True))
        if turbo.opening > 0.005:
            text = tr("{0} % through the bypass").format(f"{100 * turbo.opening:.0f}")
            self._plate(painter, QPointF(drawn.x(), drawn.y() - 10), text, "opening", p.ink)
        text = tr("{0} % of speed in hand").format(f"{100 * turbo.overspeed:.0f}".replace("-", "−"))
        ink = p.fails if turbo.overspeed < 0 else p.ink
        self._plate(painter, QPointF(spot.x() - 40, spot.y() + 26), text, "overspeed", ink)

    def _plate(self, painter: QPainter, spot: QPointF, text: str, key: str, ink: str) -> None:
        """A figure that leads to its sheet, kept inside of the plot."""
        wide = painter.fontMetrics().horizontalAdvance(text)
        x = min(max(spot.x(), self.plot().left() + 4), self.plot().right() - wide - 4)
        area = QRectF(x - 3, spot.y() - 13, wide + 6, 17)
        self._hits.append((area, key))
        painter.fillRect(area, colour(current().raised, 0.85))
        painter.setPen(QColor(ink))
        painter.drawText(QPointF(x, spot.y()), text)

    def _margin(self, painter: QPainter, one: QPointF, two: QPointF, margin: float, word: str, *, right: bool = False) -> None:
        if not math.isfinite(margin):
            return
        p = current()
        text = word.format(f"{100 * margin:.0f}".replace("-", "−"))
        width = painter.fontMetrics().horizontalAdvance(text)
        x = (one.x() + two.x() - width) / 2.0
        if right:
            x = max(x, one.x() + 12)
        else:
            x = min(x, two.x() - width - 12)
        x = min(max(x, self.plot().left() + 4), self.plot().right() - width - 4)
        y = one.y() - 8
        area = QRectF(x - 3, y - 13, width + 6, 17)
        if any(area.intersects(other) for other, _ in self._hits):
            y += 25.0  # under the line, where the other one stands above it
            area.translate(0.0, 25.0)
        self._hits.append((area, "choke" if right else "surge"))
        painter.fillRect(area, colour(p.raised, 0.85))
        painter.setPen(QColor(p.fails if margin < 0 else p.ink))
        painter.drawText(QPointF(x, y), text)

    def _hit(self, spot: QPointF) -> str:
        return next((key for area, key in self._hits if area.contains(spot)), "")

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A hand over what can be opened."""
        shape = Qt.CursorShape.PointingHandCursor if self._hit(event.position()) else None
        self.setCursor(shape or Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A margin opens its calculation."""
        key = self._hit(event.position())
        if key:
            self.desk.show_calculation(key)
