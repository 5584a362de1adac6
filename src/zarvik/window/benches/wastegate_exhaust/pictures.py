"""Boost that the gate holds over engine speed, the plan of its hoses, and the schools of manifold in rows."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from zarvik.core.wastegate.actuator import FOUR, NONE, PLENUM
from zarvik.core.wastegate.solenoid import place_of
from zarvik.project.boost_control.control import BLOW, Control, port_mark
from zarvik.project.language.language import tr
from zarvik.project.manifold.manifold_types import OWN, ManifoldType, boost_is_delayed
from zarvik.project.units.units import unit_of
from zarvik.window.benches.wastegate_exhaust import presenter as show
from zarvik.window.benches.wastegate_exhaust.hose_ends import OPEN, fitted, with_hose
from zarvik.window.desk import Desk
from zarvik.window.parts.chart import Axis, Chart, Grip
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.theme.palette import between, current
from zarvik.window.theme.style import font


class BoostChart(Chart):
    """What the gate holds, with what is asked and what is trusted."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.curves: show.Curves | None = None
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Boost that the wastegate holds, over engine speed"))

    def take(self, curves: show.Curves | None) -> None:
        """Draw these."""
        self.curves = curves
        if curves is not None and curves.alone and self.held is None:  # under a hand the axes stay where they are
            self.x_axis = Axis(curves.alone[0][0], curves.alone[-1][0], tr("engine speed, rpm"))
            self.y_axis = Axis(0.0, curves.top, curves.unit)
        self.stale()

    def grips(self) -> Sequence[Grip]:
        """The line of the target, and the spring by the end of its curve."""
        c = self.curves
        if c is None or not c.alone:
            return ()
        unit, r = unit_of("pressure_gauge", c.unit), self.plot()
        end, level = self.at(*c.alone[-1]), self.at(c.target, c.asked).y()
        spring, held = self.desk.project.wastegate.spring.si, unit.to_si(c.alone[-1][1])

        def aim(_: float, boost: float) -> None:
            self.desk.drag(tr("Drag the target boost"), ("goal.target_boost", unit.to_si(boost)))
            if self.curves is not None:
                self.curves = dataclasses.replace(self.curves, asked=boost)
                self.stale()

        def preload(_: float, boost: float) -> None:
            self.desk.drag(tr("Drag the spring"), ("wastegate.spring", max(spring + unit.to_si(boost) - held, 0.0)))

        up = Qt.CursorShape.SizeVerCursor
        found = [Grip(QRectF(end.x() - 26, end.y() - 7, 40, 14), up, tr("Drag the spring: its boost"), preload)] if spring > 0.0 else []
        return (*found, Grip(QRectF(r.left(), level - 5, r.width(), 10), up, tr("Drag the target boost"), aim))

    def let_go(self) -> None:
        """The drag is one step of undo."""
        self.desk.session.history.seal()

    def paint_back(self, painter: QPainter) -> None:
        """What is trusted, what the solenoid can do, the curves."""
        c, p = self.curves, current()
        if c is None or not c.alone:
            return
        low, high = self.x_axis.low, self.x_axis.high
        if c.most:
            around = [*c.most, *reversed(c.alone)]
            colour = between(p.panel, p.cold_low, 0.25)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            painter.drawPolygon(self.line([s for s, _ in around], [b for _, b in around]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.fails), 1.6, Qt.PenStyle.DashLine))
        painter.drawLine(self.at(low, c.trusted), self.at(high, c.trusted))
        painter.setPen(QPen(QColor(p.accent), 2.0))
        painter.drawLine(self.at(low, c.asked), self.at(high, c.asked))
        painter.setPen(QPen(QColor(p.ink), 2.6))
        painter.drawPolyline(self.line([s for s, _ in c.alone], [b for _, b in c.alone]))
        if c.now != c.alone:
            painter.setPen(QPen(QColor(p.cold_low), 2.6))
            painter.drawPolyline(self.line([s for s, _ in c.now], [b for _, b in c.now]))

    def paint_labels(self, painter: QPainter) -> None:
        """Names at the lines."""
        c, p = self.curves, current()
        if c is None or not c.alone:
            painter.setPen(QColor(p.soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter, tr("no result to draw"))
            return
        r = self.plot()
        taken: list[float] = []
        painter.setPen(QColor(p.soft))
        painter.drawText(QRectF(r.right() - 150, r.bottom() - 22, 144, 18), Qt.AlignmentFlag.AlignRight, tr("boost, {0}").format(c.unit))
        if c.most:
            # Between the lines: in the widest gap of the band that they leave
            heights = (self.at(self.x_axis.low, v).y() for v in (c.trusted, c.asked, c.alone[-1][1], c.most[-1][1]))
            lines = sorted(min(max(y, r.top()), r.bottom()) for y in heights)
            low, high = max(itertools.pairwise(lines), key=lambda pair: pair[1] - pair[0])
            painter.setPen(QColor(p.ink))
            painter.drawText(
                QRectF(r.right() - 190, max(0.5 * (low + high) - 9.0, r.top() + 4), 184, 18),
                Qt.AlignmentFlag.AlignRight,
                tr("solenoid range"),
            )
        for value, words, colour in (
            (c.trusted, tr("engine limit"), p.fails),
            (c.asked, tr("target"), p.accent),
            (c.alone[-1][1], tr("spring only"), p.ink),
            *([(c.now[-1][1], tr("as set"), p.cold_low)] if c.now != c.alone else []),
        ):
            y = self.at(self.x_axis.low, value).y() - 10.0
            while any(abs(y - other) < 17.0 for other in taken):
                y += 17.0
            if not r.top() <= y <= r.bottom() - 8.0:
                continue
            taken.append(y)
            painter.setPen(QColor(colour))
            painter.drawText(QRectF(r.left() + 8, y - 8, r.width() * 0.4, 17), Qt.AlignmentFlag.AlignVCenter, words)


class HosePlan(QWidget):
    """Source, solenoid and gate with their numbered ports, and the hoses between them by letter."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: Control | None = None
        self._spots: dict[str, QPointF] = {}  # ports by the keys that hoses have for their ends
        self._from = ""  # the port from which a hose is being drawn
        self._hand = QPointF()
        self.setMouseTracking(True)
        self.setMinimumSize(QSize(300, 186))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("Hose plan"))
        self.setToolTip(tr("Drag from port to port: hoses as they are on the car"))

    def sizeHint(self) -> QSize:
        """Wide and low."""
        return QSize(480, 186)

    def take(self, found: Control | None) -> None:
        """Draw this one."""
        self.found = found
        if found is not None:
            self.setAccessibleDescription("; ".join(show.hose_words(line, self.desk.project.shown_units) for line in found.lines))
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The plan."""
        painter = QPainter(self)
        self.draw(painter)
        painter.end()

    def draw(self, painter: QPainter) -> None:
        """The plan, to any painter."""
        if self.found is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(13))
        a = self.found.actuator
        wide, high = float(self.width()), float(self.height())
        source = QRectF(8, 40, min(150.0, 0.26 * wide), 52)
        gate = QRectF(wide - 8 - min(150.0, 0.28 * wide), 26, min(150.0, 0.28 * wide), 112)
        solenoid = QRectF(source.right() + 0.38 * (gate.left() - source.right() - 80), 30, 80, 92)
        self._box(painter, source, tr("plenum") if a.reference == PLENUM else tr("compressor outlet"))
        self._gate(painter, gate)
        lower, upper = QPointF(gate.left(), gate.top() + 86), QPointF(gate.left(), gate.top() + 26)
        self._spots = {a.reference: QPointF(source.right(), source.center().y()), "lower": lower, "upper": upper}
        letters = {line.key: line.letter for line in self.found.lines}
        begin = QPointF(source.right(), source.center().y())
        if a.control == NONE:
            self._hose(
                painter, [begin, QPointF(gate.left() - 30, begin.y()), QPointF(gate.left() - 30, lower.y()), lower], letters["signal"]
            )
            self._port(painter, upper, "", tr("open"))
            self._as_fitted(painter)
            return
        self._box(painter, solenoid, "")
        painter.setPen(QColor(current().soft))
        painter.drawText(
            QRectF(solenoid.left() - 40, solenoid.bottom() + 4, solenoid.width() + 80, 18), Qt.AlignmentFlag.AlignHCenter, tr("solenoid")
        )
        one, two = QPointF(solenoid.left(), begin.y()), QPointF(solenoid.right(), solenoid.top() + 70)
        self._hose(painter, [begin, one], letters["signal"])
        bend = gate.left() - 18
        self._hose(painter, [two, QPointF(bend, two.y()), QPointF(bend, lower.y()), lower], letters["lower"])
        three = QPointF(solenoid.center().x(), solenoid.top())
        self._hose(painter, [three, QPointF(three.x(), 12), QPointF(three.x() - 34, 12)], letters["vent"])
        self._filter(painter, QPointF(three.x() - 34, 12))
        if a.control == FOUR:
            four = QPointF(solenoid.right(), solenoid.top() + 22)
            self._hose(painter, [four, QPointF(bend, four.y()), QPointF(bend, upper.y()), upper], letters["upper"])
            self._port(painter, four, port_mark(a, "other"))
        else:
            self._port(painter, upper, "", tr("open"))
        self._spots[OPEN] = QPointF(three.x() - 42, 12)
        for spot, role in ((one, "in"), (two, "out"), (three, "vent")):
            self._port(painter, spot, port_mark(a, role))
            self._spots[place_of(role, a.ports)] = spot
        if a.control == FOUR:
            self._spots[place_of("other", a.ports)] = four
        self._as_fitted(painter)
        if a.unknown_ports:
            painter.setPen(QColor(current().fails))
            painter.setFont(font(13, strong=True))
            painter.drawText(QRectF(4, high - 21, wide - 8, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, tr(BLOW))
            painter.setFont(font(13))
        if self.found.gates > 1:
            painter.setPen(QColor(current().soft))
            painter.drawText(QRectF(0, high - 38, gate.left() - 20, 18), Qt.AlignmentFlag.AlignRight, tr("to each wastegate by a tee"))

    def _as_fitted(self, painter: QPainter) -> None:
        """Hoses as they were said to be on the car, dashed over the plan, and the one that is being drawn."""
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(current().accent), 2.2, Qt.PenStyle.DashLine))
        for begin, end in fitted(self.desk.project):
            if begin in self._spots and end in self._spots:
                painter.drawLine(self._spots[begin], self._spots[end])
        if self._from:
            painter.setPen(QPen(QColor(current().accent), 3.0))
            painter.drawLine(self._spots[self._from], self._hand)

    def port_at(self, at: QPointF) -> str:
        """Key of the port under a point, empty for none."""
        near = [(math.hypot(spot.x() - at.x(), spot.y() - at.y()), key) for key, spot in self._spots.items()]
        away, key = min(near, default=(math.inf, ""))
        return key if away <= 16.0 else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A hose is taken at a port."""
        self._from = self.port_at(event.position()) if event.button() == Qt.MouseButton.LeftButton else ""
        self._hand = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """It follows the hand; a port that can be taken says so."""
        self._hand = event.position()
        self.setCursor(Qt.CursorShape.CrossCursor if self._from or self.port_at(self._hand) else Qt.CursorShape.ArrowCursor)
        if self._from:
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go at another port it is what is on the car, as one step; elsewhere nothing is changed."""
        begin, end, self._from = self._from, self.port_at(event.position()), ""
        if begin and end and begin != end and self.found is not None:
            self.desk.change(tr("Hose as fitted"), with_hose(self.desk.project, self.found.actuator, begin, end))
        self.update()

    def _box(self, painter: QPainter, r: QRectF, words: str) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.ink), 1.4))
        painter.setBrush(QColor(p.raised))
        painter.drawRoundedRect(r, 3, 3)
        painter.setPen(QColor(p.ink))
        painter.drawText(r.adjusted(6, 2, -6, -2), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)

    def _gate(self, painter: QPainter, r: QRectF) -> None:
        """The can with its diaphragm and spring, the valve under it."""
        p = current()
        can = QRectF(r.left(), r.top(), r.width(), 98)
        self._box(painter, can, "")
        middle = can.top() + 56
        painter.setPen(QPen(QColor(p.accent), 2.2))
        painter.drawLine(QPointF(can.left() + 4, middle), QPointF(can.right() - 4, middle))
        painter.setPen(QPen(QColor(p.soft), 1.6))
        x, width = can.center().x() + 14, 9.0
        spots = [QPointF(x + (width if i % 2 else -width), can.top() + 5 + 49.0 * i / 8) for i in range(9)]
        painter.drawPolyline(spots)
        painter.setPen(QPen(QColor(p.ink), 2.4))
        painter.drawLine(QPointF(x, middle), QPointF(x, can.bottom() + 10))
        painter.drawLine(QPointF(x - 20, can.bottom() + 10), QPointF(x + 20, can.bottom() + 10))
        painter.setPen(QColor(p.soft))
        painter.setFont(font(12))
        left = QRectF(can.left() + 12, can.top() + 36, can.width() * 0.5 - 10, 18)
        painter.drawText(left, Qt.AlignmentFlag.AlignLeft, tr("closes"))
        painter.drawText(left.translated(0, 24), Qt.AlignmentFlag.AlignLeft, tr("opens"))
        painter.setFont(font(13))
        painter.drawText(QRectF(r.left() - 20, can.bottom() + 14, r.width() + 20, 18), Qt.AlignmentFlag.AlignRight, tr("exhaust"))

    def _hose(self, painter: QPainter, way: list[QPointF], letter: str) -> None:
        p = current()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.cold_low), 5.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
        painter.drawPolyline(way)
        longest = max(range(len(way) - 1), key=lambda i: abs(way[i + 1].x() - way[i].x()) + abs(way[i + 1].y() - way[i].y()))
        spot = (way[longest] + way[longest + 1]) * 0.5
        disc = QRectF(spot.x() - 9, spot.y() - 9, 18, 18)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(p.raised))
        painter.drawEllipse(disc)
        painter.setFont(font(12, strong=True))
        painter.setPen(QColor(p.ink))
        painter.drawText(disc, Qt.AlignmentFlag.AlignCenter, letter)
        painter.setFont(font(13))

    def _port(self, painter: QPainter, spot: QPointF, name: str, words: str = "") -> None:
        p = current()
        half = max(8.0, 0.5 * QFontMetricsF(font(12)).horizontalAdvance(name) + 4.0)
        r = QRectF(spot.x() - half, spot.y() - 8, 2.0 * half, 16)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(p.accent_soft))
        painter.drawRect(r)
        painter.setPen(QColor(p.ink))
        if name:
            painter.setFont(font(12))
            painter.drawText(r, Qt.AlignmentFlag.AlignCenter, name)
            painter.setFont(font(13))
        if words:
            painter.drawText(
                QRectF(spot.x() - 70, spot.y() - 9, 58, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )

    def _filter(self, painter: QPainter, spot: QPointF) -> None:
        p = current()
        painter.setPen(QPen(QColor(p.soft), 1.4))
        painter.setBrush(QColor(p.raised))
        painter.drawRect(QRectF(spot.x() - 16, spot.y() - 8, 16, 16))
        painter.setPen(QColor(p.soft))
        painter.drawText(
            QRectF(spot.x() - 120, spot.y() - 9, 98, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, tr("filter")
        )


class Lines(QWidget):
    """The hoses in words, each with the mark of what comes of it."""

    ROW = 20.0

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: Control | None = None
        self.setAccessibleName(tr("What each hose does"))

    def take(self, found: Control | None) -> None:
        """Show these."""
        self.found = found
        rows = self._rows(max(float(self.width()), 300.0))
        self.setMinimumHeight(int(sum(h for _, _, h in rows) + 4))
        self.update()

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """Another width, another height."""
        self.setMinimumHeight(int(sum(h for _, _, h in self._rows(float(self.width()))) + 4))

    def _rows(self, width: float) -> list[tuple[str, str, float]]:
        if self.found is None:
            return []
        metrics = QFontMetricsF(font(13))
        rows = []
        for line in self.found.lines:
            words = f"{line.letter}  {show.hose_words(line, self.desk.project.shown_units)}"
            box = metrics.boundingRect(QRectF(0, 0, width - 26, 400), int(Qt.TextFlag.TextWordWrap), words)
            rows.append((show.STATES[line.what], words, max(box.height() + 4.0, self.ROW)))
        return rows

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The rows."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(13))
        y = 1.0
        for state, words, height in self._rows(float(self.width())):
            draw_state(painter, QRectF(2, y + 3, 13, 13), state)
            painter.setPen(QColor(current().ink))
            painter.drawText(QRectF(24, y, self.width() - 26, height), int(Qt.TextFlag.TextWordWrap), words)
            y += height
        painter.end()


class ManifoldRows(QWidget):
    """A row for each school: a bar and a number in every column; one is chosen."""

    chosen = Signal(str)
    HEAD, ROW, NAME = 64.0, 46.0, 124.0
    LEAST = 58.0  # px of a column in which its figures stand: where there is less, they stand in two lines

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: Sequence[ManifoldType] = ()
        self.key = OWN
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Manifolds side by side"))
        self._lines = 1
        self.make_room()

    def take(self, found: Sequence[ManifoldType]) -> None:
        """Show these."""
        self.found = found
        if not any(s.key == self.key for s in found):
            self.key = OWN
        self.make_room()
        self._tell()
        self.update()

    def _columns(self) -> tuple[show.Column, ...]:
        project = self.desk.project
        return show.columns(project.shown_units, driven=project.blower.fitted, late=boost_is_delayed(project, self.found))

    def make_room(self) -> None:
        """As high as its rows are at this width."""
        self._lines = 1 if (self.width() - self.NAME) / len(self._columns()) >= self.LEAST else 2
        self.setMinimumHeight(int(self._lines * (self.HEAD + max(len(self.found), 1) * self.ROW) + 4))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width."""
        super().resizeEvent(event)
        self.make_room()

    def _tell(self) -> None:
        school = next((s for s in self.found if s.key == self.key), None)
        if school is not None:
            words = [f"{tr(c.title)} {c.text(school)}" for c in self._columns()]
            self.setAccessibleDescription(f"{tr(school.title)}: {', '.join(words)}")

    def choose(self, key: str) -> None:
        """Choose a school by its key."""
        self.key = key
        self._tell()
        self.update()
        self.chosen.emit(key)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The row under the hand."""
        row = int((event.position().y() / self._lines - self.HEAD) // self.ROW)
        if 0 <= row < len(self.found):
            self.choose(self.found[row].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if not step or not self.found:
            super().keyPressEvent(event)
            return
        now = next((i for i, s in enumerate(self.found) if s.key == self.key), 0)
        self.choose(self.found[min(max(now + step, 0), len(self.found) - 1)].key)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Heads and rows."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw(painter)
        painter.end()

    def draw(self, painter: QPainter) -> None:
        """Heads and rows, to any painter."""
        p, columns = current(), self._columns()
        head, high, beside = self._lines * self.HEAD, self._lines * self.ROW, -(-len(columns) // self._lines)
        each = (self.width() - self.NAME - 4.0) / beside
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        for n, column in enumerate(columns):
            box = QRectF(self.NAME + n % beside * each, n // beside * self.HEAD, each - 8, self.HEAD - 4)
            painter.drawText(
                box, int(Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap), tr(column.title)
            )
        for row, school in enumerate(self.found):
            top = head + row * high
            if school.key == self.key:
                painter.fillRect(QRectF(0, top, self.width(), high - 2), QColor(p.accent_soft))
                painter.fillRect(QRectF(0, top, 3, high - 2), QColor(p.accent))
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(0, top + high - 1), QPointF(self.width(), top + high - 1))
            painter.setPen(QColor(p.ink))
            painter.setFont(font(13, strong=school.key == self.key))
            painter.drawText(
                QRectF(8, top, self.NAME - 12, high), int(Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap), tr(school.title)
            )
            painter.setFont(font(13))
            for n, column in enumerate(columns):
                box = QRectF(self.NAME + n % beside * each, top + n // beside * self.ROW, each - 8, self.ROW)
                self._cell(painter, box, column, school)

    def _cell(self, painter: QPainter, r: QRectF, column: show.Column, school: ManifoldType) -> None:
        p = current()
        values = [v for s in self.found if math.isfinite(v := column.value(s))]
        value = column.value(school)
        painter.setPen(QColor(p.ink))
        painter.drawText(
            QRectF(r.left(), r.top() + 4, r.width() + 6, 20),
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
            column.text(school),
        )
        if not values or not math.isfinite(value):
            return
        low, high = min(0.0, min(values)), max(values)
        if column.title in ("full boost", "turbo alone", "power", "exhaust gas"):
            # What differs by little is shown from where it begins to differ.
            low = min(values) - 0.25 * (max(values) - min(values)) - 1e-9
        share = (value - low) / (high - low) if high > low else 1.0
        best = min(values) if column.less else max(values)
        bar = QRectF(r.left(), r.top() + 27, max(share, 0.02) * r.width(), 7)
        painter.fillRect(QRectF(r.left(), r.top() + 27, r.width(), 7), QColor(p.grid))
        painter.fillRect(bar, QColor(p.ok if abs(value - best) <= 1e-9 * max(abs(best), 1.0) else p.cold_low))
