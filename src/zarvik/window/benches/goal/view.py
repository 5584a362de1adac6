"""The Goal & engine bench: entries on the left, the full-load curves on the right."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator, Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.project.units.units import unit_of
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.goal import presenter
from zarvik.window.benches.goal.pump_settings import PumpSettings
from zarvik.window.desk import Desk
from zarvik.window.parts.chart import Axis, Chart, Grip
from zarvik.window.parts.figure_text import FigureText
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.side import Turn, side_column
from zarvik.window.parts.table_field import TITLES, TableField
from zarvik.window.parts.tabs import page_tabs
from zarvik.window.parts.wrapping import width
from zarvik.window.theme.palette import colour, current
from zarvik.window.theme.style import Pages, font

LOAD, PUMP = "load", "pump"
PAGES = {LOAD: "Full load", PUMP: "Pump settings"}


class LoadChart(Chart):
    """Power and torque over engine speed, with the target as a gate to get over."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.curves: presenter.Curves | None = None
        self._empty = True
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Power and torque over engine speed"))

    def refresh(self) -> None:
        """Take the curves of the newest answer."""
        answer = self.desk.answer
        self.curves = presenter.curves(answer, self.desk.project.shown_units) if answer else None
        c = self.curves
        before = self.x_axis, self.y_axis, self.second, self._empty
        self._empty = not (c and c.speed)
        if c and c.speed and self.held is None:  # under a hand the axes stay where they are
            self.x_axis = Axis(c.speed[0], c.speed[-1], tr("engine speed, rpm"))
            # Ranges go up in coarse steps, so that a drag does not make the axes dance.
            self.y_axis = Axis(0.0, _ceiling(max([*c.power, c.target_power]) * 1.06), c.power_unit)
            self.second = Axis(0.0, _ceiling(max(c.torque) * 1.06), c.torque_unit)
        if (self.x_axis, self.y_axis, self.second, self._empty) == before:
            self.update()  # the axes stay as they are drawn
        else:
            self.stale()

    def grips(self) -> Sequence[Grip]:
        """The cross of the target."""
        c = self.curves
        if c is None or not c.speed:
            return ()
        spot = self.at(c.target_speed, c.target_power)
        tip = tr("Drag the target: power and engine speed")
        return (Grip(QRectF(spot.x() - 18, spot.y() - 11, 36, 22), Qt.CursorShape.SizeAllCursor, tip, self._drag),)

    def _drag(self, speed: float, power: float) -> None:
        if self.curves is None:
            return
        # To fifty turns and one of power: nobody aims finer by hand.
        watts = unit_of("power", self.curves.power_unit).to_si(round(power))
        self.desk.drag(tr("Drag the target"), ("goal.target_power", watts), ("goal.target_speed", 50.0 * round(speed / 50.0)))
        self.curves = dataclasses.replace(self.curves, target_speed=50.0 * round(speed / 50.0), target_power=round(power))
        self.update()

    def let_go(self) -> None:
        """The drag is one step of undo."""
        self.desk.session.history.seal()
        self.refresh()

    def _paint_curves(self, painter: QPainter) -> None:
        """The two curves and the target."""
        c, p = self.curves, current()
        if c is None or not c.speed:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.cold_low), 2.4, Qt.PenStyle.DashLine))
        painter.drawPolyline(self.line(c.speed, c.torque, self.second))
        overlay = self.desk.overlay_answer
        if overlay is not None:
            g = presenter.curves(overlay, self.desk.project.shown_units)
            painter.setPen(QPen(QColor(p.accent), 1.6, Qt.PenStyle.DotLine))
            painter.drawPolyline(self.line(g.speed, g.power))
            painter.drawPolyline(self.line(g.speed, g.torque, self.second))
        painter.setPen(QPen(QColor(p.ink), 3))
        painter.drawPolyline(self.line(c.speed, c.power))
        spot = self.at(c.target_speed, c.target_power)
        painter.setPen(QPen(QColor(p.accent), 2.5))
        painter.drawLine(QPointF(spot.x() - 16, spot.y()), QPointF(spot.x() + 16, spot.y()))
        painter.drawLine(QPointF(spot.x(), spot.y() - 5), QPointF(spot.x(), spot.y() + 5))

    def paint_labels(self, painter: QPainter) -> None:
        """Say that there is nothing to draw."""
        if self._empty:
            painter.setPen(QColor(current().soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter, tr("no result to draw"))

    def _paint_names(self, painter: QPainter) -> None:
        """Names at the curves."""
        c, p = self.curves, current()
        if c is None or not c.speed:
            return
        painter.setFont(font(13))
        i = int(max(range(len(c.torque)), key=c.torque.__getitem__))
        spot = self.at(c.speed[i], c.torque[i], self.second)
        self._name(painter, QPointF(spot.x() - 60, spot.y() - 9), tr("torque, {0}").format(c.torque_unit), QColor(p.cold_low))
        i = len(c.speed) * 3 // 5
        spot = self.at(c.speed[i], c.power[i])
        painter.setFont(font(13, strong=True))
        self._name(painter, QPointF(spot.x() + 8, spot.y() + 18), tr("power, {0}").format(c.power_unit), QColor(p.ink))
        spot = self.at(c.target_speed, c.target_power)
        text = tr("target {0:.0f} {1}").format(c.target_power, c.power_unit)
        wide = width(text, 13, strong=True)
        self._name(painter, QPointF(spot.x() - 25 - wide, spot.y() + 4), text, QColor(p.accent))

    @staticmethod
    def _name(painter: QPainter, spot: QPointF, text: str, ink: QColor) -> None:
        """A name at a curve, on a plate where another one passes behind it."""
        wide = painter.fontMetrics().horizontalAdvance(text)
        plate = QRectF(spot.x() - 3, spot.y() - 13, wide + 6, 17)
        painter.fillRect(plate, colour(current().raised, 0.8))
        painter.setPen(ink)
        painter.drawText(spot, text)

    def paint_front(self, painter: QPainter) -> None:
        """Curves, their names and the shown speed: they move, the axes seldom do."""
        painter.save()
        painter.setClipRect(self.plot().adjusted(-1, -1, 1, 1))
        self._paint_curves(painter)
        painter.restore()
        self._paint_names(painter)
        point, c, p = self.desk.point, self.curves, current()
        if point is None or c is None or not c.speed or not point.closure.solved:
            return
        spot = self.at(point.speed, self.y_axis.low)
        painter.setPen(QPen(QColor(p.accent), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(spot.x(), self.plot().top()), QPointF(spot.x(), spot.y()))


def _ceiling(value: float) -> float:
    step = 50.0 if value > 150 else 10.0
    return -(-value // step) * step


class GoalBench(Bench):
    """Entries and curves."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 12, 12, 12)
        layout.setSpacing(16)
        scroll, column = side_column(356, 12, 6)
        self.forms: list[Form] = []
        for title, places in (
            ("Target", presenter.WANTED),
            ("Other boost levels", presenter.STAGES),
            ("Place and date", presenter.WHERE),
            ("Engine", presenter.ENGINE),
            ("", presenter.MIXTURE),
            ("Engine bay", presenter.BAY),
            ("Names", presenter.NAMES),
        ):
            if title:
                column.addWidget(heading(tr(title)))
            form = Form(desk, places, label_width=168, room=156)
            self.forms.append(form)
            column.addWidget(form)
            if places is presenter.ENGINE:
                self.tables = {name: TableField(desk, name) for name in TITLES}
                for table in self.tables.values():
                    column.addWidget(table)
            else:
                column.addSpacing(8)
        column.addStretch(1)
        layout.addWidget(scroll)
        right = QVBoxLayout()
        right.setSpacing(6)
        self.head = QWidget()
        tabs, self.pages = page_tabs(self, PAGES, self.show_page)
        tabs.setContentsMargins(0, 0, 0, 0)
        self.head.setLayout(tabs)
        right.addWidget(self.head)
        self.stack = Pages(self)
        right.addWidget(self.stack, 1)
        self.stack.offer({LOAD: self._load, PUMP: partial(PumpSettings, desk)})
        self.show_page(LOAD)
        layout.addLayout(right, 1)
        Turn(self, layout, {scroll: 260, self.stack: 240})

    def _load(self) -> QWidget:
        page = QWidget(self.stack)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.title = heading("")
        self.title.setWordWrap(True)
        column.addWidget(self.title)
        self.chart = LoadChart(self.desk)
        self.desk.overlay_changed.connect(self.chart.stale)
        column.addWidget(self.chart, 1)
        self.figures = FigureText(self.desk)
        column.addWidget(self.figures)
        return page

    @property
    def pump(self) -> PumpSettings:
        """Settings of the pump."""
        found = self.stack.page(PUMP)
        assert isinstance(found, PumpSettings)
        return found

    def show_page(self, key: str) -> None:
        """Turn to the curves, or to the pump."""
        self.page = key
        self.pages[key].setChecked(True)
        self.stack.turn(key)
        if key == PUMP and self.isVisible():
            self.pump.refresh()

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """The pump's page, where there is one."""
        if presenter.has_pump(self.desk.project.engine):
            yield tr(PAGES[PUMP]), partial(self.show_page, PUMP)

    def _pump_page(self) -> None:
        """The pump has a page where it says what it gives."""
        wanted = presenter.has_pump(self.desk.project.engine)
        self.head.setVisible(wanted)
        if not wanted and self.page == PUMP:
            self.show_page(LOAD)
        elif self.page == PUMP:
            self.pump.refresh()

    def refresh_document(self) -> None:
        """Fields follow the document."""
        for form in self.forms:
            form.refresh()
        engine = self.desk.project.engine
        shown = {"table": "breathing_table", "stock_torque": "stock_torque"}.get(engine.breathing)
        also = "lambda_table" if engine.mixture == "table" and engine.fuelling == "lambda" else None
        if engine.fuelling == "table":
            also = "delivery_table"
        for name, table in self.tables.items():
            table.setVisible(name in (shown, also))
            table.refresh()
        for name, counts in presenter.counting(engine).items():
            for form in self.forms:
                if name in form.fields:
                    form.show_row(name, counts)
        for name in presenter.OF_SHAPE:
            for form in self.forms:
                if name in form.fields:
                    form.fields[name].setEnabled(shown is None)
        self._pump_page()
        self.title.setText(tr("Full load: {0}").format(self.desk.project.engine.name))

    def opens(self, place: str) -> bool:
        """Its forms' places and the tables of the engine."""
        return super().opens(place) or place.removeprefix("engine.") in self.tables

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry, or the text of a table."""
        table = self.tables.get(place.removeprefix("engine."))
        return super().field_of(place) if table is None else table.lines

    def refresh_result(self) -> None:
        """Curves follow the answer."""
        self.chart.refresh()
        self.refresh_speed()

    def refresh_speed(self) -> None:
        """Figures of the shown speed."""
        self.chart.update()
        point, say = self.desk.point, self.desk.text
        if point is None or not point.closure.solved:
            self.figures.say("")
            return
        engine = self.desk.answer.build.engine if self.desk.answer else None
        swept = say(engine.displacement, "volume", places=1 if self.desk.unit("volume") == "in³" else 3) if engine else ""
        consumption = point.fuel / point.power if point.power > 0 else float("nan")
        self.figures.say(
            tr(
                "[displacement|{0}] displacement. At {1}: [power|{2}], [corrected_power|{3}] corrected as on a dyno "
                "sheet; volumetric efficiency [breathing|{4:.0f} %], fuel [consumption|{5}], mean pressures: "
                "indicated [indicated|{6}], friction [friction|{7}], pumping [pumping|{8}]; charge after fuel "
                "[charge|{9}]; lambda [lambda|{10:.2f}]."
            ).format(
                swept,
                say(point.speed, "rotation"),
                say(point.power, "power"),
                say(point.corrected_power, "power"),
                100 * point.efficiency,
                say(consumption, "consumption"),
                say(point.indicated, "pressure_gauge", places=1),
                say(point.friction, "pressure_gauge", places=1),
                say(point.pumping, "pressure_gauge", places=2),
                say(point.charge, "temperature"),
                point.mixture,
            )
        )
