"""A printed map traced: the picture with the traces over it, and the map that they make beside it."""

from __future__ import annotations

import contextlib
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent
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

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.tracing.axes import Spot, Ticks
from zarvik.core.tracing.tracing import CHOKE, ISLAND, SPEED, SURGE, Tracing
from zarvik.formats.atomic_writer import FileError
from zarvik.formats.trace_file import TraceWork, dumps, loads
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.units.units import EntryError, parse, unit_of
from zarvik.window.benches.turbo.map_preview import Preview
from zarvik.window.benches.turbo.picture_file import UnreadablePicture, bytes_of, read_picture
from zarvik.window.benches.turbo.trace_canvas import Canvas, label_of
from zarvik.window.desk import Desk
from zarvik.window.parts.overlay import Overlay
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.workspace import tracings
from zarvik.workspace.job_store import Job, JobProgress

ACROSS, UP = "across", "up"
TOOLS = ((ACROSS, "X axis"), (UP, "Y axis"), (SPEED, "Speed line"), (ISLAND, "Island"), (SURGE, "Surge"), (CHOKE, "Choke"))
HINTS = {
    ACROSS: "Type two values of the flow axis, then click each of them.",
    UP: "Type two values of the pressure ratio axis, then click each of them.",
    SPEED: (
        "Type the corrected speed, then click along the line from surge to choke. Enter ends it; Backspace "
        "removes the last point; Shift draws straight."
    ),
    ISLAND: "Type the efficiency, then click round the island. Enter ends it.",
    SURGE: "Click along the surge line: speed lines are cut off there. Enter ends it.",
    CHOKE: "Click along the choke line: speed lines are cut off there. Enter ends it.",
}
STEPS = 200  # that can be taken back
FLOWS = ("lb/min", "kg/s", "g/s", "kg/h", "m³/s", "m³/h", "cfm", "L/s")
PREVIEW = 25  # ms of rest of the mouse after which the way to it is drawn
REACH = 10.0  # px of the screen within which a click finds a line


class TraceSheet(Overlay):
    """Over the bench: picture and tools; `made` carries a turbo with the traced map."""

    made = Signal(object)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        self._unkept = tracings.PendingTracing()  # asked for by what hides it, before the rest of it is there
        super().__init__(parent, desk, tr("Trace a printed map"), 5)
        self.tracing: Tracing | None = None
        self.tool = ACROSS
        self.axis: dict[str, list[Spot]] = {ACROSS: [], UP: []}
        self._last: Spot | None = None
        self._key, self._bytes = "", b""  # of the picture
        self._steps: list[tuple[str, str]] = []  # key of the picture and the work on it, after every step
        self._at = -1  # which of them is shown
        self._restoring = False
        desk.session.closing.append(self._keep_now)
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
        self.back, self.forth = QPushButton(tr("Undo")), QPushButton(tr("Redo"))
        self.back.clicked.connect(self.undo)
        self.forth.clicked.connect(self.redo)
        tools.addWidget(self.back)
        tools.addWidget(self.forth)
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
        column.addLayout(self._entries())
        self.list = QListWidget()
        self.list.setFixedHeight(76)
        self.list.setAccessibleName(tr("Traces"))
        self.list.currentRowChanged.connect(self._selected)
        column.addWidget(self.list)
        drop = QPushButton(tr("Remove the trace"))
        drop.clicked.connect(self.drop)
        column.addWidget(drop)
        column.addStretch(1)
        self.preview = Preview()
        self.preview.setFixedHeight(150)
        column.addStretch(1)
        area.setWidget(side)
        outer.addWidget(area, 1)
        outer.addWidget(self.preview)
        self.message = Paragraph()
        outer.addWidget(self.message)
        self.make = QPushButton(tr("Add as candidate"))
        self.make.clicked.connect(self._make)
        outer.addWidget(self.make)
        return whole

    def _entries(self) -> QGridLayout:
        """What the map is called, and what its axes are in."""
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
            (tr("Name"), self.name),
            (tr("Flow axis in"), self.unit),
            (tr("At a pressure of"), self.reference[0]),
            (tr("and"), self.reference[1]),
            (tr("Best efficiency"), self.peak),
        ]
        for row, (title, widget) in enumerate(rows):
            label = PlainLabel(title)
            label.setBuddy(widget)
            widget.setAccessibleName(title)
            grid.addWidget(label, row, 0)
            grid.addWidget(widget, row, 1)
        for line in (*self.reference, self.peak):
            line.setMaxLength(24)
            line.editingFinished.connect(self._changed)
        return grid

    def open(self) -> None:
        """Show it over the bench, with what was traced last; while it is open, undo and redo are its own."""
        if self.tracing is None:
            self._restore_last()
        self._changed()
        self.desk.own_steps = self
        self.lay(6, 6, 6, 6, self.canvas)
        self._timer.start()

    def load(self, path: str | None = None) -> None:
        """Open a picture; one that cannot be read is told, and what was there stays."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(
                self,
                tr("Open a picture of a map"),
                "",
                tr("Pictures (*.png *.jpg *.jpeg *.bmp *.gif *.webp *.tif *.tiff *.pgm *.ppm *.pbm)"),
            )
        if not path:
            return
        self.end()
        if not self._show_picture(path):
            return
        before = tracings.kept(self._key)
        if before is not None:
            self._restore(before)
        self.use(ACROSS)
        self._changed()
        if before is not None:
            self.text.setText(tr("This picture was traced before: continue where you stopped. Undo gives the clean picture."))

    def _show_picture(self, path: str | Path) -> bool:
        """A clean picture from a file; False, and why, for one that cannot be read."""
        try:
            image = read_picture(str(path))
            data = Path(path).read_bytes()
        except (UnreadablePicture, OSError) as error:
            self.message.setText(str(error))
            return False
        self._keep_now()
        self._key, self._bytes = tracings.key_of(data), data
        self.tracing = Tracing(picture=bytes_of(image))
        self.canvas.tracing = self.tracing
        self.canvas.active = None
        self.canvas.preview = None
        self.axis = {ACROSS: [], UP: []}
        self._last = None
        self.canvas.load(image)
        self.name.setText(Path(path).stem[:80])
        self.tool = ACROSS
        self._note_step()
        return True

    # Steps: every one is kept, and can be taken back

    def _work(self) -> TraceWork:
        """What there is, as it is kept."""
        assert self.tracing is not None
        words = {
            "name": self.name.text(),
            "unit": self.unit.currentText(),
            "pressure": self.reference[0].text(),
            "temperature": self.reference[1].text(),
            "peak": self.peak.text(),
        }
        done = [t for t in self.tracing.traces if len(t.spots)]
        return TraceWork(words, {k: list(v) for k, v in self.axis.items()}, {ACROSS: self.tracing.across, UP: self.tracing.up}, done)

    def _note_step(self) -> None:
        """Remember how it is now, when it is another state than before."""
        if self.tracing is None or self._restoring:
            return
        step = (self._key, dumps(self._work()))
        if self._at < 0 or self._steps[self._at] != step:
            self._steps = [*self._steps[: self._at + 1][-STEPS:], step]
            self._at = len(self._steps) - 1
            self._keep_soon()
        self.back.setEnabled(self._at > 0)
        self.forth.setEnabled(self._at < len(self._steps) - 1)

    def _keep_soon(self) -> None:
        """What is shown is what is kept; a clean picture takes nothing away from what was traced on it before."""
        assert self.tracing is not None
        if self.tracing.traces or any(self.axis.values()):
            step = self._steps[self._at]
            self._unkept.set(*step, self._bytes)
            self.desk.ask(Job("tracing", step, self._keep, pause=0.4), again=True)

    def _keep(self, watch: JobProgress) -> None:
        watch(0.0)
        self._unkept.write()

    def _keep_now(self) -> None:
        """Keep what is not kept yet, before something else is begun."""
        with contextlib.suppress(FileError):
            self._unkept.write()

    def undo(self) -> None:
        """One step back, over a change of the picture too."""
        self._go(-1)

    def redo(self) -> None:
        """And forth."""
        self._go(1)

    def _go(self, by: int) -> None:
        if not 0 <= self._at + by < len(self._steps):
            return
        key, text = self._steps[self._at + by]
        if key != self._key:
            where = tracings.picture(key)
            if where is None:
                return
            self._restoring = True
            shown = self._show_picture(where)
            self._restoring = False
            if not shown:
                return
        self._at += by
        self._restore(text)
        self._keep_soon()
        self._changed()

    def _restore(self, text: str) -> None:
        """Show the work that a text holds; what cannot be read is told, and nothing changes."""
        assert self.tracing is not None
        try:
            work = loads(text)
        except FileError as error:
            self.message.setText(str(error))
            return
        self.canvas.active, self.canvas.preview, self._last = None, None, None
        self.tracing.traces = work.traces
        self.axis = {axis: list(work.spots[axis]) for axis in (ACROSS, UP)}
        self.tracing.across, self.tracing.up = work.ticks[ACROSS], work.ticks[UP]
        fields = {"name": self.name, "pressure": self.reference[0], "temperature": self.reference[1], "peak": self.peak}
        for key, line in fields.items():
            line.setText(work.words.get(key, line.text()))
        self.unit.setCurrentIndex(max(self.unit.findText(work.words.get("unit", "")), 0))
        self.use(self.tool)

    def _restore_last(self) -> None:
        """What was traced last, also by a program that was ended in the middle of it."""
        key = tracings.last()
        where, text = (tracings.picture(key), tracings.kept(key)) if key is not None else (None, None)
        if where is None or text is None:
            return
        self._restoring = True
        shown = self._show_picture(where)
        self._restoring = False
        if shown:
            self._restore(text)
            self._note_step()

    def hideEvent(self, event: QHideEvent) -> None:
        """Undo and redo are the document's again."""
        super().hideEvent(event)
        self._keep_now()
        if self.desk.own_steps is self:
            self.desk.own_steps = None

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
            self.message.setText(reason(error))

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
            self.back.setEnabled(False)
            self.forth.setEnabled(False)
            return
        self._note_step()
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
        self.message.setText(words)
        self.make.setEnabled(chart is not None)

    def _shown_unit(self) -> float:
        """kg/s for one of the axis across."""
        tracing = self.tracing
        if tracing is None:
            return 1.0
        factor = tracing.flow_unit
        return factor * tracing.pressure / (DRY_AIR_GAS_CONSTANT * tracing.temperature) if tracing.by_volume else factor

    def _judge(self) -> tuple[CompressorMap | None, str]:
        """The map, None while it cannot be used, and what is told of its quality."""
        assert self.tracing is not None
        if self.tracing.axes is None:
            return None, tr("Set both axes: two points on each, with their values.")
        chart, quality = self.tracing.result(self.name.text().strip() or tr("Traced map"))
        said = [
            tr_format("{0} lines, {1} points; the map lies within {2:.1f} % of them.", quality.lines, quality.points, 100.0 * quality.miss)
        ]
        if quality.covered == quality.covered:
            said.append(tr_format("Islands cover {0:.0f} % of it.", 100.0 * quality.covered))
        else:
            said.append(tr("No islands: the efficiency is estimated, to 4 points."))
        if quality.crossings:
            said.append(tr_format("{0} lines cross.", quality.crossings))
        if quality.wrong:
            said.append(tr("Not usable yet: {0}").format(quality.wrong[0]))
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
                self.message.setText(words)
                return
            bare = not any(t.kind == ISLAND for t in self.tracing.traces)
            note = tr("Traced from a picture")
            turbo = Turbo.of(chart, "traced", note, estimated="efficiency" if bare else "")
        except (EntryError, ValueError) as error:
            self.message.setText(reason(error))
            return
        self.hide()
        self.made.emit(turbo)
