"""Oil, fuel and coolant as one picture: what flows where, at what pressure, and what is not entered yet."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from zarvik.core.answer.answer import Answer
from zarvik.core.checks.fluid_lines import density, highest_fuel_point
from zarvik.core.fluid_lines import oil, turbo_coolant
from zarvik.core.fluid_lines.lines import drain_capacity, fed, feed_speed, injected, pump_delivery
from zarvik.core.radiator.water_heat import turbo_heat
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.wrapping import fitting
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

OIL, FUEL, WATER = "oil", "fuel", "water"
TITLES = {OIL: "Oil", FUEL: "Fuel", WATER: "Coolant"}
HOT_WATER = 965.3  # kg/m3, of water at 90 °C; common tables
LANE, BOX, HIGH, LEFT = 66.0, 62.0, 24.0, 4.0  # px of a lane, of a box in it


@dataclass(frozen=True)
class Pipe:
    """What flows between two boxes: `flow` over the line, `state` under it."""

    flow: str
    state: str = ""


@dataclass(frozen=True)
class Lane:
    """A fluid on its way: the `boxes` it comes through and a pipe between each two."""

    fluid: str
    boxes: tuple[str, ...]
    pipes: tuple[Pipe, ...]


def lanes_of(answer: Answer, units: Mapping[str, str]) -> tuple[Lane, ...]:
    """The fluids of a build, at the point that burns the most fuel. A blower brings its own oil, and needs no water."""
    found = [_fuel(answer, units)]
    if answer.build.blower is None:
        found = [_oil(answer, units), *found, _water(answer, units)]
    return tuple(lane for lane in found if lane is not None)


def _oil(answer: Answer, units: Mapping[str, str]) -> Lane:
    lines = answer.build.lines
    least, most = oil.WANTS[lines.bearings]
    flow = fed(lines)
    needs = tr_format("needs {0} to {1}", figure(least, "liquid_flow", units).partition("\u00a0")[0], figure(most, "liquid_flow", units))
    hole = figure(lines.restrictor_bore, "length", units) if lines.restrictor_bore > 0.0 else tr("no restrictor")
    carries = drain_capacity(lines)
    return Lane(
        OIL,
        (tr("Engine"), tr("Turbo"), tr("Sump")),
        (
            Pipe(
                figure(flow, "liquid_flow", units) if flow > 0.0 else needs,
                f"{figure(lines.oil_pressure, 'pressure_gauge', units)}, {hole}",
            ),
            Pipe(
                tr_format("carries {0}", figure(carries, "liquid_flow", units)) if carries > 0.0 else tr("drain not entered"),
                tr_format("{0}, falls {1}", figure(lines.drain_bore, "length", units), figure(lines.drain_slope, "angle", units))
                if carries > 0.0
                else "",
            ),
        ),
    )


def _fuel(answer: Answer, units: Mapping[str, str]) -> Lane | None:
    lines, engine, point = answer.build.lines, answer.build.engine, highest_fuel_point(answer.case)
    if not point.closure.solved:
        return None
    thick, boost = density(engine.fuel.key), max(point.boost, 0.0)
    flow = point.fuel / thick
    if not engine.fuel.spark:
        return Lane(FUEL, (tr("Tank"), tr("Pump"), tr("Engine")), (Pipe(figure(flow, "fuel_flow", units)), Pipe(tr("injected"))))
    rail = lines.fuel_pressure + (boost if lines.follows_boost else 0.0)
    pump = tr("pump not entered")
    if lines.pump_flow > 0.0:
        pump = tr_format("pump gives {0}", figure(pump_delivery(lines, rail), "fuel_flow", units))
    speed = figure(feed_speed(lines, flow), "velocity", units)
    spray = tr("no injectors")
    if lines.injector_flow > 0.0:
        try:
            found = injected(lines, fuel=point.fuel, boost=boost, cylinders=engine.cylinders, density=thick)
            spray = tr_format("{0} duty", figure(found.duty, "ratio", units))
        except ValueError:
            spray = tr("nothing is injected")
    return Lane(
        FUEL,
        (tr("Tank"), tr("Rail"), tr("Engine")),
        (
            Pipe(pump, f"{figure(lines.fuel_line_bore, 'length', units)}, {speed}"),
            Pipe(tr_format("uses {0}", figure(flow, "fuel_flow", units)), f"{figure(rail, 'pressure_gauge', units)}, {spray}"),
        ),
    )


def _water(answer: Answer, units: Mapping[str, str]) -> Lane | None:
    circuit, point = answer.build.coolant, highest_fuel_point(answer.case)
    if not point.closure.solved or circuit.water == "none":
        return None
    boxes = (tr("Engine"), tr("Turbo"), tr("Engine"))
    if circuit.bore <= 0.0:
        return Lane(WATER, boxes, (Pipe(tr("hose not entered")), Pipe("")))
    flow, heat = turbo_coolant.pump_flow(circuit), turbo_heat(answer.build, point)
    return Lane(
        WATER,
        boxes,
        (
            Pipe(figure(flow / HOT_WATER, "liquid_flow", units), figure(circuit.bore, "length", units)),
            Pipe(
                tr_format("{0} warmer", figure(turbo_coolant.temperature_rise(heat, flow), "warming", units)),
                tr_format("rises {0}", figure(circuit.rise, "length", units)),
            ),
        ),
    )


class PlumbingPicture(QWidget):
    """A lane for each fluid, from where it comes to where it goes, with flow and pressure on its lines."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.lanes: tuple[Lane, ...] = ()
        self.setAccessibleName(tr("Oil, fuel and coolant lines"))
        self.hide()

    def sizeHint(self) -> QSize:
        """A lane below the other."""
        return QSize(320, round(LANE * max(len(self.lanes), 1)))

    def refresh(self) -> None:
        """Follow the newest answer."""
        answer = self.desk.answer
        self.lanes = lanes_of(answer, self.desk.project.shown_units) if answer is not None else ()
        pipes = {lane.fluid: [", ".join(filter(None, (p.flow, p.state))) for p in lane.pipes] for lane in self.lanes}
        words = ("; ".join(filter(None, (tr(TITLES[fluid]), *said))) for fluid, said in pipes.items())
        self.setAccessibleDescription(". ".join(words))
        self.setFixedHeight(self.sizeHint().height())
        self.setVisible(bool(self.lanes))
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Boxes, lines with arrows, words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        tones = {OIL: p.marginal, FUEL: p.hot_high, WATER: p.cold_low}
        for n, lane in enumerate(self.lanes):
            middle = LANE * n + 0.5 * LANE + 4.0
            room = (self.width() - 2.0 * LEFT - BOX * len(lane.boxes)) / max(len(lane.pipes), 1)
            for i, words in enumerate(lane.boxes):
                box = QRectF(LEFT + i * (BOX + room), middle - 0.5 * HIGH, BOX, HIGH)
                painter.setPen(QPen(QColor(p.ink), 1.2))
                painter.setBrush(QColor(p.raised))
                painter.drawRect(box)
                painter.setFont(font(12))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, fitting(words, BOX - 4.0, 12))
                if i < len(lane.pipes):
                    self._pipe(painter, box.right(), middle, room, lane.pipes[i], tones[lane.fluid])
            painter.setPen(QColor(p.soft))
            painter.setFont(font(12, strong=True))
            painter.drawText(QPointF(LEFT, middle - 0.5 * HIGH - 5.0), tr(TITLES[lane.fluid]))
        painter.end()

    def _pipe(self, painter: QPainter, left: float, y: float, room: float, pipe: Pipe, tone: str) -> None:
        p, right = current(), left + room
        painter.setPen(QPen(QColor(tone), 3.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawLine(QPointF(left, y), QPointF(right - 6.0, y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(tone))
        painter.drawPolygon(QPolygonF([QPointF(right, y), QPointF(right - 9.0, y - 5.0), QPointF(right - 9.0, y + 5.0)]))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(12))
        across = Qt.AlignmentFlag.AlignHCenter
        painter.drawText(QRectF(left, y - 21.0, room, 17.0), across, fitting(pipe.flow, room - 4.0, 12))
        painter.setPen(QColor(p.soft))
        painter.drawText(QRectF(left, y + 5.0, room, 17.0), across, fitting(pipe.state, room - 4.0, 12))
