"""A printed map traced: the picture with the traces over it, and the map that they make beside it."""

from __future__ import annotations

from functools import partial
from itertools import pairwise
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QImageReader,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.tracing.axes import Spot, Ticks
from zarvik.core.tracing.tracing import CHOKE, ISLAND, SPEED, SURGE, Trace, Tracing
from zarvik.project.language import reason, told, tr
from zarvik.project.parts.turbo import Turbo
from zarvik.project.units import EntryError, parse, unit_of
from zarvik.window.benches.turbo.presenter import MapPicture, picture
from zarvik.window.desk import Desk
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.parts.guard import guarded
from zarvik.window.parts.over import Over
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.theme.palette import between, colour, current

MOST_PIXELS = 120_000_000
ACROSS, UP = "across", "up"
TOOLS = (
    (ACROSS, "Axis across"), (UP, "Axis up"), (SPEED, "Speed line"), (ISLAND, "Island"),
    (SURGE, "Surge"), (CHOKE, "Choke"),
)  # fmt: skip
HINTS = {
    ACROSS: "Type two values of the flow axis, then click where each stands.",
    UP: "Type two values of the pressure ratio axis, then click where each stands.",
    SPEED: "Type the corrected speed, then click along the line from surge to choke. Enter ends it; Backspace takes "
    "the last piece back; Shift goes straight.",
    ISLAND: "Type the efficiency, then click round the island. Enter ends it.",
    SURGE: "Click along the surge line: speed lines are cut off there. Enter ends it.",
    CHOKE: "Click along the choke line: speed lines are cut off there. Enter ends it.",
}
FLOWS = ("lb/min", "kg/s", "g/s", "kg/h", "m³/s", "m³/h", "cfm", "L/s")
PREVIEW = 25  # ms of rest of the mouse after which the way to it is drawn
REACH = 10.0  # px of the screen within which a click finds a line


class Unreadable(ValueError):
    """The picture cannot be read: the sentence that says why."""


def read_picture(path: str) -> QImage:
    """The picture in a file, three bytes a px. Raises Unreadable for none, a broken one, one far too large."""
    reader = QImageReader(path)
    reader.setAutoTransform(True)
    reader.setDecideFormatFromContent(True)
    size = reader.size()
    name = Path(path).name
    if size.isValid() and size.width() * size.height() > MOST_PIXELS:
        raise Unreadable(
            told("“{0}” has {1} million pixels; up to {2} can be traced", name,
                 size.width() * size.height() // 1_000_000, MOST_PIXELS // 1_000_000)
        )  # fmt: skip
    reader.setAllocationLimit(512)
    found = reader.read()
    if found.isNull():
        raise Unreadable(told("“{0}” is no picture that can be read: {1}", name, reader.errorString()))
    if found.width() < 20 or found.height() < 20:
        raise Unreadable(told("“{0}” is too small to trace anything in it", name))
    if found.hasAlphaChannel():
        # Drawn lines on nothing are lines on paper.
        paper = QImage(found.size(), QImage.Format.Format_RGB32)
        paper.fill(QColor("white"))
        painter = QPainter(paper)
        painter.drawImage(0, 0, found)
        painter.end()
        found = paper
    return found.convertToFormat(QImage.Format.Format_RGB888)


def bytes_of(image: QImage) -> np.ndarray:
    """A picture as bytes: rows, columns, 3."""
    flat = np.frombuffer(image.constBits(), np.uint8)
    rows = flat.reshape(image.height(), image.bytesPerLine())
    return rows[:, : 3 * image.width()].reshape(image.height(), image.width(), 3).copy()


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
                level.width() // 2, level.height() // 2, Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )  # fmt: skip
            self._levels.append(level)
        self.whole()

    def whole(self) -> None:
        """The whole picture in the window."""
        if self.image is None:
            return
        self.zoom = min(self.width() / self.image.width(), self.height() / self.image.height())
        self.corner = QPointF(
            0.5 * (self.image.width() - self.width() / self.zoom),
            0.5 * (self.image.height() - self.height() / self.zoom),
        )
        self.update()

    def spot(self, at: QPointF) -> Spot:
        """px of the picture under a place of the window."""
        return (at.x() / self.zoom + self.corner.x() - 0.5, at.y() / self.zoom + self.corner.y() - 0.5)

    def place(self, spot: Spot | np.ndarray) -> QPointF:
        """Where a px of the picture stands in the window."""
        return QPointF(
            (float(spot[0]) + 0.5 - self.corner.x()) * self.zoom,
            (float(spot[1]) + 0.5 - self.corner.y()) * self.zoom,
        )

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
        source = QRectF(self.corner.x() * scale, self.corner.y() * scale,
                        self.width() / self.zoom * scale, self.height() / self.zoom * scale)  # fmt: skip
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
        moves = {Qt.Key.Key_Left: (-step, 0.0), Qt.Key.Key_Right: (step, 0.0), Qt.Key.Key_Up: (0.0, -step),
                 Qt.Key.Key_Down: (0.0, step)}  # fmt: skip
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
        return QPolygonF([self.at(m / self._factor, r) for m, r in points])

    def paint_labels(self, painter: QPainter) -> None:
        """Say that there is nothing yet."""
        if self.map is None:
            painter.setPen(QColor(current().soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter, tr("no map yet"))


class TraceSheet(Over):
    """Over the bench: picture and tools; `made` carries a turbo with the traced map."""

    made = Signal(object)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, tr("A printed map, traced"), 5)
        self.tracing: Tracing | None = None
        self.tool = ACROSS
        self.axis: dict[str, list[Spot]] = {ACROSS: [], UP: []}
        self._last: Spot | None = None
        tools = QHBoxLayout()
        tools.setSpacing(0)
        load = QPushButton(tr("Open a picture…"))
        load.clicked.connect(lambda: self.load())
        tools.addWidget(load)
        tools.addSpacing(10)
        group = QButtonGroup(self)
        self.tools: dict[str, QToolButton] = {}
        for key, title in TOOLS:
            button = QToolButton()
            button.setText(tr(title))
            button.setCheckable(True)
            button.clicked.connect(partial(self.use, key))
            group.addButton(button)
            tools.addWidget(button)
            self.tools[key] = button
        tools.addSpacing(10)
        self.values = [QLineEdit(), QLineEdit()]
        for value in self.values:
            value.setFixedWidth(84)
            value.setMaxLength(24)
            value.textEdited.connect(lambda _: self._valued())
            tools.addWidget(value)
            tools.addSpacing(4)
        tools.addStretch(1)
        self.column.addLayout(tools)
        middle = QHBoxLayout()
        middle.setSpacing(10)
        self.canvas = Canvas()
        self.canvas.clicked.connect(self._clicked)
        self.canvas.ended.connect(self.end)
        self.canvas.undone.connect(self.take_back)
        self.canvas.pulled.connect(self._pulled)
        middle.addWidget(self.canvas, 1)
        middle.addWidget(self._side())
        self.column.addLayout(middle, 1)
        self._timer = QTimer(self)
        self._timer.setInterval(PREVIEW)
        self._timer.timeout.connect(self._follow)
        self._drawn: Spot | None = None
        self.use(ACROSS)

    def _side(self) -> QWidget:
        whole = QWidget()
        whole.setFixedWidth(250)
        outer = QVBoxLayout(whole)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(5)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 6, 0)
        column.setSpacing(5)
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.name = QLineEdit(tr("Traced map"))
        self.name.setMaxLength(80)
        self.unit = QComboBox()
        for symbol in FLOWS:
            self.unit.addItem(symbol)
        self.unit.activated.connect(lambda _: self._changed())
        self.reference = [QLineEdit("100 kPa"), QLineEdit("298 K")]
        self.peak = QLineEdit()
        self.peak.setPlaceholderText(tr("as 78 %, if printed"))
        rows: list[tuple[str, QWidget]] = [
            (tr("Name"), self.name), (tr("Flow axis in"), self.unit), (tr("At a pressure of"), self.reference[0]),
            (tr("and"), self.reference[1]), (tr("Best efficiency"), self.peak),
        ]  # fmt: skip
        for row, (title, widget) in enumerate(rows):
            label = PlainLabel(title)
            label.setBuddy(widget)
            widget.setAccessibleName(title)
            grid.addWidget(label, row, 0)
            grid.addWidget(widget, row, 1)
        for line in (*self.reference, self.peak):
            line.setMaxLength(24)
            line.editingFinished.connect(self._changed)
        column.addLayout(grid)
        self.list = QListWidget()
        self.list.setFixedHeight(76)
        self.list.setAccessibleName(tr("Traces"))
        self.list.currentRowChanged.connect(self._selected)
        column.addWidget(self.list)
        drop = QPushButton(tr("Take the trace out"))
        drop.clicked.connect(self.drop)
        column.addWidget(drop)
        column.addStretch(1)
        self.preview = Preview()
        self.preview.setFixedHeight(150)
        column.addStretch(1)
        area.setWidget(side)
        outer.addWidget(area, 1)
        outer.addWidget(self.preview)
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        outer.addWidget(self.told)
        self.make = QPushButton(tr("Take it as a candidate"))
        self.make.clicked.connect(self._make)
        outer.addWidget(self.make)
        return whole

    def open(self) -> None:
        """Show it over the bench."""
        self._changed()
        self.lay(6, 6, 6, 6, self.canvas)
        self._timer.start()

    def load(self, path: str | None = None) -> None:
        """Open a picture; one that cannot be read is told, and what was there stays."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(
                self, tr("Open a picture of a map"), "",
                tr("Pictures (*.png *.jpg *.jpeg *.bmp *.gif *.webp *.tif *.tiff *.pgm *.ppm *.pbm)"),
            )  # fmt: skip
        if not path:
            return
        try:
            image = read_picture(path)
        except Unreadable as error:
            self.told.setText(str(error))
            return
        self.tracing = Tracing(bytes_of(image))
        self.canvas.tracing = self.tracing
        self.canvas.active = None
        self.canvas.preview = None
        self.axis = {ACROSS: [], UP: []}
        self._last = None
        self.canvas.load(image)
        self.name.setText(Path(path).stem[:80])
        self.use(ACROSS)
        self._changed()

    def use(self, tool: str) -> None:
        """Take up another tool; a trace in hand is ended."""
        self.end()
        self.tool = tool
        self.tools[tool].setChecked(True)
        self.text.setText(tr(HINTS[tool]))
        one, two = self.values
        two.setVisible(tool in (ACROSS, UP))
        one.setVisible(tool not in (SURGE, CHOKE))
        names = {ACROSS: ("as 0", "as 60"), UP: ("as 1", "as 3.5"), SPEED: ("as 90000", ""), ISLAND: ("as 72 %", "")}
        ticks = self._ticks(tool)
        for line, hint, number in zip(self.values, names.get(tool, ("", "")), (0, 1), strict=True):
            line.setPlaceholderText(tr(hint) if hint else "")
            line.setText("" if ticks is None else f"{(ticks.low, ticks.high)[number]:g}")
        for line, title in zip(self.values, self._value_names(tool), strict=True):
            line.setAccessibleName(title)

    @staticmethod
    def _value_names(tool: str) -> tuple[str, str]:
        if tool in (ACROSS, UP):
            return tr("First value of the axis"), tr("Second value of the axis")
        return (tr("Corrected speed") if tool == SPEED else tr("Efficiency")), ""

    def _ticks(self, tool: str) -> Ticks | None:
        if self.tracing is None:
            return None
        return {ACROSS: self.tracing.across, UP: self.tracing.up}.get(tool)

    def _number(self, line: QLineEdit, kind: str = "number") -> float:
        """What stands in a line; raises EntryError."""
        text = line.text().strip()
        if kind == "rotation" and text.lower().endswith("k"):
            text = f"{text[:-1]} krpm"
        return parse(text, kind, default_unit="rpm" if kind == "rotation" else None).si

    def _clicked(self, x: float, y: float, straight: bool) -> None:
        """A point of an axis, or the next of the trace in hand."""
        if self.tracing is None:
            return
        reach = max(REACH / self.canvas.zoom, 3.0)
        try:
            if self.tool in (ACROSS, UP):
                self._axis_point((x, y))
            else:
                spot = (x, y) if straight else self.tracing.snap((x, y), reach)
                self._trace_point(spot, straight)
        except (EntryError, ValueError) as error:
            self.told.setText(reason(error))

    def _axis_point(self, spot: Spot) -> None:
        assert self.tracing is not None
        spots = self.axis[self.tool]
        if len(spots) == 2:
            spots.clear()
        spots.append(spot)
        self._valued()

    def _valued(self) -> None:
        """An axis that has its two points and its two values counts."""
        if self.tracing is None or self.tool not in (ACROSS, UP):
            return
        spots = self.axis[self.tool]
        found = None
        try:
            low, high = (self._number(line) for line in self.values)
            if len(spots) == 2:
                found = Ticks(spots[0], spots[1], low, high)
        except EntryError:
            found = None
        if found is not None or len(spots) < 2:
            setattr(self.tracing, self.tool, found)
        self._changed()

    def _trace_point(self, spot: Spot, straight: bool) -> None:
        assert self.tracing is not None
        trace = self.canvas.active
        if trace is None or self._last is None:
            value = 0.0
            if self.tool == SPEED:
                value = self._number(self.values[0], "rotation")
            elif self.tool == ISLAND:
                value = self._number(self.values[0], "ratio")
            trace = self.tracing.begin(self.tool, value)
            trace.segments.append(np.array([spot]))
            self.canvas.active = trace
        else:
            way = np.array([self._last, spot]) if straight else self.tracing.way(self._last, spot)
            trace.segments.append(way)
        self._last = spot
        self.canvas.preview = None
        self._changed()

    def end(self) -> None:
        """The trace in hand is done; one of a single point goes."""
        trace = self.canvas.active
        if trace is not None and self.tracing is not None and trace in self.tracing.traces:
            if len(trace.spots) < 2:
                self.tracing.traces.remove(trace)
            elif trace.kind == SPEED:
                self.values[0].clear()
        self.canvas.active = None
        self.canvas.preview = None
        self._last = None
        if self.tracing is not None:
            self._changed()

    def take_back(self) -> None:
        """Take the last piece of the trace in hand back."""
        trace = self.canvas.active
        if trace is None or self.tracing is None:
            return
        trace.segments.pop()
        if not trace.segments:
            self.tracing.traces.remove(trace)
            self.canvas.active = None
            self._last = None
        else:
            last = trace.segments[-1][-1]
            self._last = (float(last[0]), float(last[1]))
        self._changed()

    def drop(self) -> None:
        """Take the chosen trace out."""
        row = self.list.currentRow()
        if self.tracing is not None and 0 <= row < len(self.tracing.traces):
            gone = self.tracing.traces.pop(row)
            if gone is self.canvas.active:
                self.canvas.active, self._last = None, None
            self._changed()

    def _selected(self, row: int) -> None:
        if self.tracing is not None and 0 <= row < len(self.tracing.traces) and self._last is None:
            self.canvas.active = self.tracing.traces[row]
            self.canvas.update()

    def _pulled(self, x0: float, y0: float, x1: float, y1: float) -> None:
        trace = self.canvas.active
        if trace is not None and self.tracing is not None:
            self.tracing.drag(trace, (x0, y0), (x1, y1))
            self._changed()

    def _follow(self) -> None:
        """The way to where the mouse rests."""
        spot = self.canvas.hover
        if not self.isVisible():
            self._timer.stop()  # nothing is followed while nobody sees it
            return
        if self.tracing is None or self._last is None or spot is None or spot == self._drawn:
            return
        self._drawn = spot
        self.canvas.preview = self.tracing.way(self._last, spot, hasty=True)
        self.canvas.update()

    def _settings(self) -> None:
        """What the print stands on; raises EntryError."""
        assert self.tracing is not None
        symbol = self.unit.currentText()
        volume = symbol in ("m³/s", "m³/h", "cfm", "L/s")
        unit = unit_of("volume_flow" if volume else "mass_flow", symbol)
        self.tracing.flow_unit, self.tracing.by_volume = unit.factor, volume
        self.tracing.pressure = parse(self.reference[0].text(), "pressure_absolute", default_unit="kPa").si
        self.tracing.temperature = parse(self.reference[1].text(), "temperature", default_unit="K").si
        text = self.peak.text().strip()
        self.tracing.peak = parse(text, "ratio").si if text else 0.0

    def _changed(self) -> None:
        """Canvas, list, map and words follow."""
        self.make.setEnabled(False)
        if self.tracing is None:
            return
        marks = []
        for tool in (ACROSS, UP):
            values = self._ticks(tool)
            for number, spot in enumerate(self.axis[tool]):
                text = f"{(values.low, values.high)[number]:g}" if values is not None else "?"
                marks.append((spot, text))
        self.canvas.marks = marks
        self.canvas.update()
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for trace in self.tracing.traces:
            self.list.addItem(f"{tr(dict(TOOLS)[trace.kind])} {label_of(trace)}, {len(trace.spots)}")
        self.list.setCurrentRow(min(row, len(self.tracing.traces) - 1))
        self.list.blockSignals(False)
        chart, words = None, ""
        try:
            self._settings()
            chart, words = self._judge()
        except (EntryError, ValueError, ArithmeticError, np.linalg.LinAlgError) as error:
            words = reason(error) if isinstance(error, ValueError) else str(error)
        self.preview.show_map(chart, self._shown_unit(), self.unit.currentText())
        self.told.setText(words)
        self.make.setEnabled(chart is not None)

    def _shown_unit(self) -> float:
        """kg/s for one of the axis across."""
        tracing = self.tracing
        if tracing is None:
            return 1.0
        factor = tracing.flow_unit
        return factor * tracing.pressure / (287.05 * tracing.temperature) if tracing.by_volume else factor

    def _judge(self) -> tuple[CompressorMap | None, str]:
        """The map, None while it cannot be used, and what is told of its quality."""
        assert self.tracing is not None
        if self.tracing.axes is None:
            return None, tr("Set both axes: two points on each, with their values.")
        chart, quality = self.tracing.result(self.name.text().strip() or tr("Traced map"))
        said = [told("{0} lines, {1} points; the map lies within {2:.1f} % of them.", quality.lines,
                     quality.points, 100.0 * quality.miss)]  # fmt: skip
        if quality.covered == quality.covered:
            said.append(told("Islands cover {0:.0f} % of it.", 100.0 * quality.covered))
        else:
            said.append(tr("No islands: the efficiency is estimated, to 4 points."))
        if quality.crossings:
            said.append(told("{0} lines cross.", quality.crossings))
        if quality.wrong:
            said.append(tr("Not to be used yet: {0}").format(quality.wrong[0]))
            return None, "\n".join(said)
        return chart, "\n".join(said)

    def _make(self) -> None:
        if self.tracing is None:
            return
        self.end()
        try:
            self._settings()
            chart, words = self._judge()
            if chart is None:
                self.told.setText(words)
                return
            bare = not any(t.kind == ISLAND for t in self.tracing.traces)
            note = tr("Traced from a picture")
            turbo = Turbo.of(chart, "traced", note, estimated="efficiency" if bare else "")
        except (EntryError, ValueError) as error:
            self.told.setText(reason(error))
            return
        self.hide()
        self.made.emit(turbo)


