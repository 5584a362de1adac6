"""The page of meter, throttle, ports and runners."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from zarvik.core.airpath.point import Point
from zarvik.core.intake import butterfly
from zarvik.core.intake.intake_flow import breath, throttle_of
from zarvik.core.intake.ports import RECTANGLE_CORNER, TITLES, Opening, Ports
from zarvik.core.recommendations import INTAKE
from zarvik.project.intake.runner_tuning import runner_report
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure, render
from zarvik.project.units.units import unit_of
from zarvik.window.desk import Desk
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.parts.entries_page import EntriesPage
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.form import heading
from zarvik.window.parts.marks import key_line
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

METER = (
    "air_meter.kind",
    "air_meter.bore",
    "air_meter.max_reading",
    "air_meter.straight_before",
    "air_meter.straight_after",
    "air_meter.new_bore",
)
PORTS = (
    "ports.runner_shape",
    "ports.runner_width",
    "ports.runner_height",
    "ports.gasket_shape",
    "ports.gasket_width",
    "ports.gasket_height",
    "ports.port_shape",
    "ports.port_width",
    "ports.port_height",
    "ports.throat",
    "ports.offset_sideways",
    "ports.offset_up",
)
VALVES = ("ports.valves", "ports.valve_diameter", "ports.valve_lift")
RUNNERS = ("runners.length", "runners.short_length", "runners.bore")
JUDGED = ("meter", "meter_straight", "throttle", "pedal", "ports", "valves")


def outline(opening: Opening, x: float, y: float, scale: float) -> QPainterPath:
    """The outline of an opening whose middle is at a place (m), in px by a `scale` px/m: curves are made for the size that they are seen
    at."""
    path = QPainterPath()
    wide, tall = scale * opening.wide, scale * opening.tall
    box = QRectF(scale * x - 0.5 * wide, scale * y - 0.5 * tall, wide, tall)
    least = min(wide, tall)
    corner = RECTANGLE_CORNER * least if opening.shape == "rectangle" else 0.5 * least
    path.addRoundedRect(box, corner, corner)
    return path


class Openings(QWidget):
    """Pairs of openings as they lie on each other, seen along the charge: what stands in its way is filled."""

    HIGH = 176

    def __init__(self) -> None:
        super().__init__()
        self.ports = Ports()
        self.pairs: Sequence[tuple[str, str]] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("Openings overlaid"))

    def take(self, ports: Ports) -> None:
        """Show these."""
        said = [key for key in ("runner", "gasket", "port") if getattr(ports, key).said]
        self.ports, self.pairs = ports, tuple(itertools.pairwise(said))
        self.setVisible(bool(self.pairs))
        self.setAccessibleDescription("; ".join(f"{tr(TITLES[a])} – {tr(TITLES[b])}" for a, b in self.pairs))
        self.update()

    def sizeHint(self) -> QSize:
        """Two pictures beside each other."""
        return QSize(440, self.HIGH)

    def minimumSizeHint(self) -> QSize:
        """As high as it is."""
        return QSize(240, self.HIGH)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The pairs."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        current()
        if self.pairs:
            wide = self.width() / len(self.pairs)
            every = [getattr(self.ports, key) for pair in self.pairs for key in pair]
            across = max(x.wide for x in every) + 2.0 * abs(self.ports.offset_sideways)
            scale = min((wide - 40.0) / across, (self.HIGH - 54.0) / (max(x.tall for x in every) + 2.0 * abs(self.ports.offset_up)))
            for number, (one, two) in enumerate(self.pairs):
                self._pair(painter, QRectF(number * wide, 0.0, wide, self.HIGH), one, two, scale)
        painter.end()

    def _pair(self, painter: QPainter, room: QRectF, one: str, two: str, scale: float) -> None:
        p, given = current(), self.ports
        aside, up = (given.offset_sideways, given.offset_up) if one == "runner" else (0.0, 0.0)
        before, behind = outline(getattr(given, one), aside, -up, scale), outline(getattr(given, two), 0.0, 0.0, scale)
        painter.save()
        painter.translate(room.center().x(), room.top() + 0.5 * (self.HIGH - 40.0))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.fillPath(behind.intersected(before), QColor(p.accent_soft))
        painter.fillPath(before.subtracted(behind), QColor(p.fails))
        for path, colour, dash in ((behind, p.ink, False), (before, p.cold_low, True)):
            pen = QPen(QColor(colour), 2.0)
            if dash:
                pen.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
        painter.restore()
        painter.setFont(font(12))
        for line, (key, colour, dash) in enumerate(((one, p.cold_low, True), (two, p.ink, False))):
            key_line(
                painter,
                QRectF(room.left() + 6, room.bottom() - 36.0 + 17.0 * line, room.width() - 8, 17),
                colour,
                tr(TITLES[key]),
                dashed=dash,
            )


class ThrottleChart(Chart):
    """Throttles that can be bought: what each takes at full load, and how much of the pedal is left in town."""

    def __init__(self) -> None:
        super().__init__()
        self.found: Sequence[butterfly.Choice] = ()
        self.now = 0.0
        self.long, self.lost = unit_of("length", "mm"), unit_of("pressure_difference", "kPa")
        self.setMinimumHeight(190)
        self.setAccessibleName(tr("Throttles on sale"))

    def take(self, found: Sequence[butterfly.Choice], now: float, units: dict[str, str]) -> None:
        """Show these; `now` m is the bore of the build."""
        self.found, self.now = found, now
        self.long, self.lost = (
            unit_of("length", units.get("length", "mm")),
            unit_of("pressure_difference", units.get("pressure_difference", "kPa")),
        )
        if found:
            low, high = (self.long.from_si(bore) for bore in (found[0].bore - 0.003, found[-1].bore + 0.003))
            self.x_axis = Axis(low, high, tr("throttle bore, {0}").format(self.long.symbol))
            most = self.lost.from_si(max(c.loss for c in found) * 1.3)
            self.y_axis = Axis(0.0, most, tr("loss at full load, {0}").format(self.lost.symbol))
            self.second = Axis(0.0, 100.0 * max(c.travel for c in found) * 1.3, tr("pedal travel, %"))
        self.setAccessibleDescription(
            "; ".join(
                tr_format(
                    "{0}: {1} at full load, {2} of the travel",
                    figure(c.bore, "length", units),
                    figure(c.loss, "pressure_difference", units),
                    figure(c.travel, "ratio", units),
                )
                for c in found
            )
        )
        self.stale()

    def paint_back(self, painter: QPainter) -> None:
        """Both curves with a mark for each throttle."""
        p = current()
        xs = [self.long.from_si(c.bore) for c in self.found]
        for ys, axis, colour in (
            ([self.lost.from_si(c.loss) for c in self.found], self.y_axis, p.ink),
            ([100.0 * c.travel for c in self.found], self.second, p.cold_low),
        ):
            painter.setPen(QPen(QColor(colour), 2.2))
            painter.drawPolyline(self.line(xs, ys, axis))
            painter.setBrush(QColor(colour))
            for x, y in zip(xs, ys, strict=True):
                painter.drawEllipse(self.at(x, y, axis), 3.0, 3.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.accent), 1.6, Qt.PenStyle.DashLine))
        now = self.long.from_si(self.now)
        painter.drawLine(self.at(now, self.y_axis.low), self.at(now, self.y_axis.high))

    def paint_labels(self, painter: QPainter) -> None:
        """What the curves are."""
        p, r = current(), self.plot()
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(r.left() + 8, r.top() + 2, 0.5 * r.width(), 18), int(Qt.AlignmentFlag.AlignLeft), self.y_axis.title)
        painter.setPen(QColor(p.cold_low))
        painter.drawText(QRectF(r.left(), r.top() + 2, r.width() - 8, 18), int(Qt.AlignmentFlag.AlignRight), tr("unused pedal in town, %"))


class IntakePage(EntriesPage):
    """What the engine breathes through beside the pipes."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(
            home,
            desk,
            INTAKE,
            tr("Results for meter, throttle and ports"),
            ((tr("Air meter"), METER), (tr("Openings to the valve"), PORTS), (tr("Inlet valves"), VALVES), (tr("Intake runners"), RUNNERS)),
            JUDGED,
            tr("Enter a meter, two openings or the valves: results appear here"),
            tr(
                "Grinding a port can break into water: nobody sees the wall behind it. Close every opening: chips "
                "and dust must not get into the engine."
            ),
        )

    def above(self, right: QVBoxLayout) -> None:
        """Openings and throttles."""
        self.openings = Openings()
        right.addWidget(self.openings)
        self.chart = ThrottleChart()
        right.addWidget(self.chart)

    def below(self, right: QVBoxLayout) -> None:
        """What rings."""
        self.ringing = heading(tr("Runner tuning"))
        right.addWidget(self.ringing)
        self.rings = Paragraph()
        right.addWidget(self.rings)

    def refresh(self) -> None:
        """Pictures and words follow too."""
        super().refresh()
        answer = self.desk.answer
        units = self.desk.project.shown_units
        build = answer.build if answer is not None else None
        self.openings.take(build.ports if build is not None else Ports())
        throttle = throttle_of(build) if build is not None else None
        solved = answer.target if answer is not None and answer.target.closure.solved else None
        shown = throttle is not None and solved is not None and build is not None and build.engine.fuel.spark
        self.chart.setVisible(shown)
        if throttle is not None and solved is not None and build is not None and answer is not None and shown:
            point: Point = answer.case.hardest
            stretch = next(s for s in point.stretches if s.id == throttle.id)
            before = point.stations[stretch.start]
            self.chart.take(
                butterfly.choose(throttle.shaft, breath(build), flow=before.flow, pressure=before.pressure, temperature=before.temperature),
                throttle.bore,
                units,
            )
        words = [f"· {render(s, units)}" for s in runner_report(self.desk.project, solved)]
        self.ringing.setVisible(bool(words))
        self.rings.setText("\n".join(words))
