"""The Turbo bench: the compressor map with the full-load line on it, and the candidates."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from zarvik.formats import map_csv, shelf
from zarvik.formats.project_file import FileError
from zarvik.project import edits
from zarvik.project.document import Turbo
from zarvik.project.units import EntryError
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.turbo import presenter
from zarvik.window.desk import Desk
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.marks import draw_state, state_colour
from zarvik.window.theme.palette import between, colour, current
from zarvik.window.theme.style import font


class MapChart(Chart):
    """Corrected flow across, pressure ratio up, efficiency as islands; the full-load line."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.picture: presenter.MapPicture | None = None
        self.setAccessibleName("Compressor map with the full-load line")

    def refresh(self) -> None:
        """Take the map of the newest answer; the background stays while the map does."""
        answer = self.desk.answer
        if answer is None or answer.system.blower is not None:
            self.picture = None
            self.stale()
            return
        chart = answer.system.turbo.chart
        picture = presenter.picture(chart)
        factor, symbol = presenter.flow_unit(self.desk.project.shown_units)
        x = Axis(
            0.0,
            picture.flow_most / factor * 1.06,
            f"corrected flow, {symbol} at {chart.reference_temperature:.0f} K and "
            f"{chart.reference_pressure / 1000:.0f} kPa",
        )
        y = Axis(1.0, max(picture.ratio_most * 1.05, 1.5), "pressure ratio, total to total")
        if picture is not self.picture or x != self.x_axis or y != self.y_axis:
            self.picture, self.x_axis, self.y_axis = picture, x, y
            self._factor = factor
            self.stale()
        self.update()

    def _poly(self, points: object) -> QPolygonF:
        return QPolygonF([self.at(m / self._factor, r) for m, r in points])  # type: ignore[attr-defined]

    def paint_back(self, painter: QPainter) -> None:
        """Islands, speed lines, surge and choke."""
        if self.picture is None:
            return
        p = current()
        count = len(self.picture.islands)
        for number, (_, polygons) in enumerate(self.picture.islands):
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.OddEvenFill)
            for points, offsets in polygons:
                for a, b in pairwise(offsets):
                    path.addPolygon(self._poly(points[a:b]))
            shade = between(p.raised, p.cold_low, 0.10 + 0.62 * number / max(count - 1, 1))
            painter.setPen(QPen(colour(p.ink, 0.22), 0.8))
            painter.setBrush(shade)
            painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour(p.ink, 0.55), 1.1))
        for _, points in self.picture.lines:
            painter.drawPolyline(self._poly(points))
        painter.setPen(QPen(QColor(p.fails), 2.4))
        painter.drawPolyline(self._poly(self.picture.surge))
        painter.setPen(QPen(QColor(p.tight), 1.6, Qt.PenStyle.DashLine))
        painter.drawPolyline(self._poly(self.picture.edge))

    def paint_labels(self, painter: QPainter) -> None:
        """Speeds at the ends of their lines, names of the edges, efficiencies of the islands."""
        p = current()
        if self.picture is None:
            painter.setPen(QColor(p.soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter, "no map to draw")
            return
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        fastest = self.picture.lines[-1][0]
        *slower, (fastest, top) = self.picture.lines
        for speed, points in slower:
            spot = self.at(points[-1][0] / self._factor, points[-1][1])
            painter.drawText(QPointF(spot.x() + 4, spot.y() + 10), f"{speed / 1000:.0f}")
        spot = self.at(top[2][0] / self._factor, top[2][1])
        painter.drawText(QPointF(spot.x() + 8, spot.y() - 2), f"{fastest / 1000:.0f} × 1000 rpm")
        painter.setPen(QColor(p.fails))
        m, r = self.picture.surge[len(self.picture.surge) * 3 // 4]
        spot = self.at(m / self._factor, r)
        painter.drawText(
            QRectF(spot.x() - 66, spot.y() - 22, 60, 16), Qt.AlignmentFlag.AlignRight, "surge"
        )
        painter.setPen(QColor(p.soft))
        painter.drawText(QPointF(self.plot().left() + 6, self.plot().top() + 15), "pressure ratio")
        flow, ratio, best = self.picture.peak
        spot = self.at(flow / self._factor, ratio)
        painter.setPen(QColor(p.ink))
        painter.drawText(
            QRectF(spot.x() - 24, spot.y() - 8, 48, 16),
            Qt.AlignmentFlag.AlignCenter,
            f"{100 * best:.0f} %",
        )
        for level, polygons in self.picture.islands[2:-1:2]:
            points = max((pts for pts, _ in polygons), key=len)
            right = points[int(points[:, 0].argmax())]
            spot = self.at(right[0] / self._factor, right[1])
            painter.drawText(
                QRectF(spot.x() - 40, spot.y() + 2, 34, 16),
                Qt.AlignmentFlag.AlignRight,
                f"{100 * level:.0f}",
            )

    def paint_front(self, painter: QPainter) -> None:
        """The full-load line, its points off the map, the shown point with its margins."""
        answer, p = self.desk.answer, current()
        if self.picture is None or answer is None:
            return
        painter.save()
        painter.setClipRect(self.plot().adjusted(-2, -2, 2, 2))
        points = [q for q in answer.sweep if q.closure.solved]
        line = QPolygonF([self.at(q.turbo.flow / self._factor, q.turbo.ratio) for q in points])
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
        painter.restore()
        point = self.desk.point
        if point is None or not point.closure.solved:
            return
        turbo = point.turbo
        spot = self.at(turbo.flow / self._factor, turbo.ratio)
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
            self._margin(painter, surge, spot, turbo.surge, "over surge")
            self._margin(painter, spot, limit, turbo.choke, "to choke")

    def _margin(
        self, painter: QPainter, one: QPointF, two: QPointF, margin: float, word: str
    ) -> None:
        if not math.isfinite(margin):
            return
        p = current()
        text = f"{100 * margin:.0f} % {word}".replace("-", "−")
        width = painter.fontMetrics().horizontalAdvance(text)
        x = (one.x() + two.x() - width) / 2.0
        if word == "to choke":
            x = max(x, one.x() + 12)
        else:
            x = min(x, two.x() - width - 12)
        x = min(max(x, self.plot().left() + 4), self.plot().right() - width - 4)
        y = one.y() - 8
        painter.fillRect(QRectF(x - 3, y - 13, width + 6, 17), colour(p.raised, 0.85))
        painter.setPen(QColor(p.fails if margin < 0 else p.ink))
        painter.drawText(QPointF(x, y), text)


class CandidateRow(QWidget):
    """A turbo that could be had, as a row that chooses it."""

    chosen = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.row: presenter.Row | None = None
        self.setFixedHeight(25)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        """A row."""
        return QSize(400, 25)

    def show_row(self, row: presenter.Row) -> None:
        """Fill the row."""
        self.row = row
        self.setAccessibleName(f"{row.name}, {row.state}" + (", chosen" if row.chosen else ""))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Mark, name, figures."""
        p, row = current(), self.row
        if row is None:
            return
        painter = QPainter(self)
        if row.chosen:
            painter.fillRect(self.rect(), QColor(p.accent_soft))
        draw_state(painter, QRectF(8, 5, 14, 14), row.state)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(14, strong=row.chosen))
        painter.drawText(QRectF(30, 0, 150, 25), Qt.AlignmentFlag.AlignVCenter, row.name)
        draw_cells(painter, self.width(), row.cells)
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose it."""
        if self.row is not None:
            self.chosen.emit(self.row.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space chooses."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.row:
            self.chosen.emit(self.row.id)
        else:
            super().keyPressEvent(event)


def draw_cells(painter: QPainter, width: int, cells: tuple[str, ...]) -> None:
    """The figures of a row or of the head, in columns from the right."""
    column = (width - 190.0) / len(cells)
    for i, cell in enumerate(cells):
        painter.drawText(
            QRectF(184 + i * column, 0, column, 25),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, cell,
        )  # fmt: skip


class Heads(QWidget):
    """Titles over the figures of the candidates."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(22)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Soft words."""
        painter = QPainter(self)
        painter.setPen(QColor(current().soft))
        painter.setFont(font(13))
        painter.drawText(QRectF(30, 0, 150, 22), Qt.AlignmentFlag.AlignVCenter, "Candidates")
        draw_cells(painter, self.width(), presenter.HEADS)
        painter.end()


class TurboBench(Bench):
    """Map and candidates."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 12, 10)
        layout.setSpacing(4)
        head = QHBoxLayout()
        self.title = heading("")
        head.addWidget(self.title, 1)
        self.shelf = QToolButton()
        self.shelf.setText("Add from the shelf")
        self.shelf.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.shelf)
        for name in shelf.turbo_names():
            title = shelf.turbo_map(name).name
            menu.addAction(f"{title} (invented)", partial(self._from_shelf, name))
        self.shelf.setMenu(menu)
        head.addWidget(self.shelf)
        self.read = QPushButton("Read a map…")
        self.read.clicked.connect(lambda: self.read_map())
        head.addWidget(self.read)
        self.write = QPushButton("Write this map…")
        self.write.clicked.connect(lambda: self.write_map())
        head.addWidget(self.write)
        self.drop = QPushButton("Drop others")
        self.drop.setToolTip("Remove the candidates that are not chosen; undo brings them back")
        self.drop.clicked.connect(self._drop)
        head.addWidget(self.drop)
        layout.addLayout(head)
        middle = QHBoxLayout()
        middle.setSpacing(14)
        self.chart = MapChart(desk)
        middle.addWidget(self.chart, 1)
        side = QScrollArea()
        side.setWidgetResizable(True)
        side.setFixedWidth(246)
        side.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        side.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(0, 0, 10, 0)
        self._column.setSpacing(5)
        self._turbine_title = heading("Turbine")
        self._column.addWidget(self._turbine_title)
        self.turbine: Form | None = None
        self._turbine_of = ""
        self._column.addWidget(heading("Wastegate"))
        self.gate = Form(desk, presenter.GATE, label_width=122)
        self._column.addWidget(self.gate)
        self.belt = QCheckBox("Belt-driven blower instead")
        self.belt.clicked.connect(self._belt)
        self._column.addWidget(self.belt)
        self.blower = Form(desk, presenter.BLOWER, label_width=122)
        self._column.addWidget(self.blower)
        self._column.addStretch(1)
        side.setWidget(inside)
        middle.addWidget(side)
        layout.addLayout(middle, 1)
        self.text = QLabel()
        self.text.setObjectName("soft")
        self.text.setWordWrap(True)
        layout.addWidget(self.text)
        layout.addWidget(Heads())
        self.rows: list[CandidateRow] = []
        self._rows = QVBoxLayout()
        self._rows.setSpacing(0)
        layout.addLayout(self._rows)

    def refresh_document(self) -> None:
        """The chosen turbo's name, its turbine, the gate."""
        project = self.desk.project
        chosen = project.chosen
        fitted = project.blower.fitted
        self.title.setText(
            project.blower.name if fitted else chosen.name if chosen else "No turbo chosen"
        )
        key = chosen.id if chosen else ""
        if key != self._turbine_of:
            if self.turbine is not None:
                self._column.removeWidget(self.turbine)
                self.turbine.hide()
                self.turbine.deleteLater()
                self.turbine = None
            if key:
                places = [f"turbos.{key}.turbine.{name}" for name in presenter.TURBINE]
                self.turbine = Form(self.desk, places, label_width=122)
                self._column.insertWidget(1, self.turbine)
                self.turbine.show()
            self._turbine_of = key
        elif self.turbine is not None:
            self.turbine.refresh()
        self.gate.refresh()
        self.blower.refresh()
        self.belt.setChecked(fitted)
        self.blower.setVisible(fitted)

    def _belt(self, fitted: bool) -> None:
        self.desk.change(
            "Belt-driven blower" if fitted else "Turbocharger",
            edits.put(self.desk.project, "blower.fitted", bool(fitted)),
        )

    def refresh_result(self) -> None:
        """Map and line; the rows of the answer before stay until the new ones are solved."""
        self.chart.refresh()
        self.refresh_speed()
        if self.desk.answer is None:
            self.refresh_rest()

    def refresh_rest(self) -> None:
        """The candidates side by side."""
        answer, result = self.desk.answer, self.desk.result
        if answer is not None and result is not None and not result.complete:
            return
        found = presenter.rows(answer, self.desk.project.shown_units) if answer else []
        while len(self.rows) < len(found):
            row = CandidateRow()
            row.chosen.connect(self._choose)
            self.rows.append(row)
            self._rows.addWidget(row)
        for widget, item in zip(self.rows, found, strict=False):
            widget.show_row(item)
            widget.show()
        for widget in self.rows[len(found) :]:
            widget.hide()

    def refresh_speed(self) -> None:
        """The shown point in words."""
        self.chart.update()
        point, say = self.desk.point, self.desk.text
        if point is None or not point.closure.solved:
            self.text.setText("")
            return
        t = point.turbo
        where = {
            "inside": "on the map", "below": "below the slowest line (similarity law)",
            "surge": "left of the map, in surge", "choke": "right of the map, in choke",
            "overspeed": "faster than it may turn",
        }[t.region]  # fmt: skip
        at = f"At {say(point.speed, 'rotation')}"
        if self.desk.project.blower.fitted:
            self.text.setText(
                f"{at}: rotors {say(t.real_speed, 'rotation')}, ratio {t.ratio:.2f}, "
                f"{100 * t.efficiency:.0f} % efficient, {say(t.power, 'power')} into the air; "
                f"bypass {100 * t.opening:.0f} % open"
            )
            return
        self.text.setText(
            f"{at} {where}: wheel {say(t.real_speed, 'rotation')}, "
            f"{100 * t.efficiency:.0f} % efficient. Turbine: expansion {t.expansion:.2f}, u/c0 "
            f"{t.blade_ratio:.2f}, {100 * t.turbine_efficiency:.0f} %, {say(t.turbine_power, 'power')}. "
            f"Gate {t.regime}, {100 * t.opening:.0f} % open, {say(t.gate_flow, 'mass_flow')} past it"
        )

    def _choose(self, key: str) -> None:
        if key != self.desk.project.turbo:
            name = next(t.name for t in self.desk.project.turbos if t.id == key)
            self.desk.change(f"Turbo {name}", edits.put(self.desk.project, "turbo", key))

    def _from_shelf(self, name: str) -> None:
        turbo = shelf.turbo(name)
        self.desk.change(f"Candidate {turbo.name}", edits.add_turbo(self.desk.project, turbo))

    def _drop(self) -> None:
        project = self.desk.project
        for turbo in project.turbos:
            if turbo.id != project.turbo:
                project = edits.remove_turbo(project, turbo.id)
        self.desk.change("Drop other candidates", project)

    def read_map(self, path: str | None = None) -> None:
        """Read a candidate's map from CSV; a fault is said and changes nothing."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(self, "Read a compressor map", "", "Maps (*.csv)")
        if not path:
            return
        try:
            chart = map_csv.read(path)
            key = "".join(c if c.isalnum() else "-" for c in Path(path).stem.lower())[:50] or "map"
            self.desk.change(
                f"Candidate {chart.name}", edits.add_turbo(self.desk.project, Turbo.of(chart, key))
            )
        except (FileError, EntryError, ValueError) as error:
            self.desk.notice.emit(str(error))

    def write_map(self, path: str | None = None) -> None:
        """Write the chosen map as CSV."""
        chosen = self.desk.project.chosen
        if chosen is None:
            return
        if path is None:
            path, _ = QFileDialog.getSaveFileName(
                self, "Write the map", f"{chosen.id}.csv", "Maps (*.csv)"
            )
        if path:
            try:
                map_csv.write(chosen.chart, path, *([chosen.note] if chosen.note else []))
                self.desk.notice.emit(f"Wrote {path}")
            except FileError as error:
                self.desk.notice.emit(str(error))
