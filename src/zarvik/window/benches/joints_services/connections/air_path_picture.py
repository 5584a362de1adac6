"""The air path with its joints as pins: in along the top from the left, through charger, intercooler and engine, and back below."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QToolTip, QWidget

from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.connections.rules import findings
from zarvik.core.limits.limits import FAILS, MARGINAL
from zarvik.project.language.language import tr, tr_format
from zarvik.window.benches.joints_services import presenter as show
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import fitting, width
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

HIGH = 176  # px
TOP, BELOW, FOOT = 54.0, 104.0, 151.0  # px of the middle of the way in, of the way out, of what hangs beside both
BOX = 64.0  # px of a part that the air goes through
PIN = 5.5  # px, half
ASIDE = 24.0  # px that a name may be wider than its part on either side
LADDER_STEPS = len(show.LADDER) - 1
INTAKE, HOT, COLD, MANIFOLD, EXHAUST, SIGNALS, PORTS, FLUIDS = (
    "intake",
    "hot",
    "cold",
    "manifold",
    "exhaust",
    "signals",
    "ports",
    "fluids",
)
BESIDE = {SIGNALS: "Signals", PORTS: "Ports", FLUIDS: "Fluids"}
STRETCH_OF = {
    "intake__": INTAKE,
    "hot_pipe__": HOT,
    "cold_pipe__": COLD,
    "engine__exhaust": MANIFOLD,
    "manifold__": MANIFOLD,
    "exhaust__": EXHAUST,
    "gate__": SIGNALS,
    "hose__": SIGNALS,
    "blow__": SIGNALS,
}
# Joints on a part itself: which part, and on which of its sides
ON_PART = {
    "charger__inlet": ("charger", "left"),
    "charger__outlet": ("charger", "right"),
    "cooler__in": ("cooler", "left"),
    "cooler__out": ("cooler", "right"),
    "engine__throttle": ("engine", "left"),
    "engine__intake": ("engine", "inner"),
    "turbo__hot_in": ("turbine", "right"),
    "turbo__hot_out": ("turbine", "left"),
}
STRETCH_OF_SENSOR = {"sensor__lambda": EXHAUST, "sensor__egt": MANIFOLD, "sensor__iat": COLD}


def stretch_of(row: Row) -> str:
    """The stretch of the path that a line of the list belongs to; of what is on a part itself the name of the part."""
    if row.key in ON_PART:
        return ON_PART[row.key][0]
    if row.key in STRETCH_OF_SENSOR:
        return STRETCH_OF_SENSOR[row.key]
    found = next((stretch for prefix, stretch in STRETCH_OF.items() if row.key.startswith(prefix)), "")
    if found:
        return found
    if row.side in (r.OIL, r.FUEL, r.WATER):
        return FLUIDS
    return PORTS if row.kind in (r.PORT, r.BUNG, r.SENSOR) else SIGNALS


@dataclass(frozen=True)
class Pin:
    """A line of the list where it stands in the picture, px."""

    row: Row
    at: QPointF


def pins_of(rows: Sequence[Row], wide: float, *, cooled: bool, turbo: bool) -> tuple[list[Pin], dict[str, QRectF]]:
    """Where each line stands in a picture `wide` px, and the parts between; `cooled`: there is an intercooler; `turbo`: a turbine."""
    parts = ["charger", *(["cooler"] if cooled else []), "engine"]
    members: dict[str, list[Row]] = {}
    for row in rows:
        members.setdefault(stretch_of(row), []).append(row)
    # Each stretch has room by how many pins it has
    count = {s: len(members.get(s, ())) + 1.6 for s in (INTAKE, HOT, COLD)}
    stretches = [INTAKE, HOT, *([COLD] if cooled else [])]
    if not cooled:
        count[HOT] += len(members.get(COLD, ()))
        members[HOT] = [*members.get(HOT, ()), *members.pop(COLD, ())]
    spare = (wide - BOX * len(parts) - 12.0) / sum(count[s] for s in stretches)
    x, boxes, spans = 6.0, {}, {}
    for stretch, part in zip(stretches, parts, strict=True):
        spans[stretch] = (x, x + spare * count[stretch])
        x = spans[stretch][1]
        boxes[part] = QRectF(x, TOP - 15.0, BOX, 30.0)
        x += BOX
    boxes["engine"].setBottom(BELOW + 15.0)
    spans[MANIFOLD] = (boxes["engine"].left(), boxes["charger"].right() if turbo else 0.5 * wide)
    if turbo:
        boxes["turbine"] = QRectF(boxes["charger"].left(), BELOW - 15.0, BOX, 30.0)
        spans[EXHAUST] = (boxes["turbine"].left(), 6.0)
    else:
        spans[EXHAUST] = (spans[MANIFOLD][1], 6.0)
    found = []
    for stretch, (begin, end) in spans.items():
        own = members.get(stretch, [])
        for n, row in enumerate(own, 1):
            found.append(Pin(row, QPointF(begin + (end - begin) * n / (len(own) + 1), TOP if stretch in stretches else BELOW)))
    for part, box in boxes.items():
        for row in members.get(part, ()):
            side = ON_PART[row.key][1]
            edge = {"left": box.left(), "right": box.right(), "inner": box.center().x()}[side]
            found.append(Pin(row, QPointF(edge, TOP if part != "turbine" else BELOW)))
    x = 6.0
    beside = {s: members.get(s, []) for s in BESIDE}
    step = (wide - 12.0) / max(sum(max(len(own), 3) + 0.6 for own in beside.values() if own), 1.0)
    for own in beside.values():
        for n, row in enumerate(own):
            found.append(Pin(row, QPointF(x + step * (n + 0.5), FOOT + 8.0)))
        x += step * (max(len(own), 3) + 0.6) if own else 0.0
    missing = {row.key for row in rows} - {pin.row.key for pin in found}
    found += [Pin(row, QPointF(boxes["engine"].center().x(), BELOW)) for row in rows if row.key in missing]
    return found, boxes


LEGEND = ((r.JOINT, "joint"), (r.PORT, "port"), (r.SENSOR, "sensor"), (r.HOSE, "hose or line"))


def _shape(painter: QPainter, kind: str, area: QRectF) -> None:
    """The shape of a kind of line: a joint is round, a port square, a sensor a triangle, a hose or line a diamond."""
    top, middle = QPointF(area.center().x(), area.top()), area.center()
    if kind == r.JOINT:
        painter.drawEllipse(area)
    elif kind in (r.PORT, r.BUNG):
        painter.drawRect(area.adjusted(1, 1, -1, -1))
    elif kind == r.SENSOR:
        painter.drawPolygon(QPolygonF([top, area.bottomRight(), area.bottomLeft()]))
    else:
        right, bottom = QPointF(area.right(), middle.y()), QPointF(middle.x(), area.bottom())
        painter.drawPolygon(QPolygonF([top, right, bottom, QPointF(area.left(), middle.y())]))


class AirPathPicture(QWidget):
    """All lines of the list as pins along the way of the air. A click chooses one, a click on the chosen one takes it a state further,
    as Space does; arrows go from pin to pin."""

    pin_chosen = Signal(str)
    pin_ticked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.rows: Sequence[Row] = ()
        self.key = ""
        self.blown = self.cooled = False
        self._worst: dict[str, str] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(HIGH)
        self.setMinimumWidth(260)
        self.setAccessibleName(tr("Joints along the air path"))

    def sizeHint(self) -> QSize:
        """As wide as it is let."""
        return QSize(520, HIGH)

    def take(self, rows: Sequence[Row], key: str, *, blown: bool, cooled: bool) -> None:
        """Show these lines, with the one of the `key` chosen; `blown`: a blower in the place of the turbo."""
        if rows is not self.rows:
            said = show.worst_of(findings(rows))
            self._worst = {k: found[0].state for k, found in said.items()}
        self.rows, self.key, self.blown, self.cooled = rows, key, blown, cooled
        row = self._row(key)
        self.setAccessibleDescription(f"{row.name}, {tr(r.STATES[row.state])}" if row is not None else "")
        self.update()

    def _row(self, key: str) -> Row | None:
        return next((row for row in self.rows if row.key == key), None)

    def pins(self) -> tuple[list[Pin], dict[str, QRectF]]:
        """Where everything stands now."""
        return pins_of(self.rows, float(self.width()), cooled=self.cooled, turbo=not self.blown)

    def pin_at(self, at: QPointF) -> Pin | None:
        """The pin that is under a point, the nearest of them."""
        near = [(math.hypot(pin.at.x() - at.x(), pin.at.y() - at.y()), n, pin) for n, pin in enumerate(self.pins()[0])]
        away, _, pin = min(near, default=(math.inf, 0, None))
        return pin if away <= PIN + 4.0 else None

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Pipes, parts, pins."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = current()
        pins, boxes = self.pins()
        engine, charger = boxes["engine"], boxes["charger"]
        turbine = boxes.get("turbine")
        for colour, y, ends in (
            (p.cold_low, TOP, (6.0, charger.left())),
            (p.cold_high, TOP, (charger.right(), engine.left())),
            (p.hot_high, BELOW, (engine.left(), turbine.right() if turbine is not None else 6.0)),
            (p.hot_low, BELOW, (turbine.left() if turbine is not None else 6.0, 6.0)),
        ):
            painter.setPen(QPen(QColor(colour), 5.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
            painter.drawLine(QPointF(ends[0], y), QPointF(ends[1], y))
        titles = {
            "charger": tr("Blower") if self.blown else tr("Compressor"),
            "cooler": tr("Intercooler"),
            "engine": tr("Engine"),
            "turbine": tr("Turbine"),
        }
        for part, box in boxes.items():
            painter.setPen(QPen(QColor(p.ink), 1.2))
            painter.setBrush(QColor(p.raised))
            painter.drawRect(box)
            painter.setFont(font(12))
            below = part == "turbine"
            where = QRectF(box.left() - ASIDE, box.bottom() + 1.0 if below else box.top() - 17.0, box.width() + 2.0 * ASIDE, 16.0)
            where.moveRight(min(where.right(), self.width() - 2.0))
            painter.drawText(where, Qt.AlignmentFlag.AlignCenter, fitting(titles[part], where.width(), 12))
        self._legend(painter)
        self._beside(painter, pins)
        for pin in pins:
            self._pin(painter, pin)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _legend(self, painter: QPainter) -> None:
        """What each shape is."""
        painter.setFont(font(12))
        left = 6.0
        for kind, title in LEGEND:
            painter.setPen(QPen(QColor(current().soft), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            _shape(painter, kind, QRectF(left, 5.5, 10.0, 10.0))
            painter.drawText(QPointF(left + 15.0, 15.0), tr(title))
            left += 27.0 + width(tr(title), 12)

    def _beside(self, painter: QPainter, pins: Sequence[Pin]) -> None:
        """Names of what hangs beside the path."""
        painter.setFont(font(12))
        painter.setPen(QColor(current().soft))
        lefts = {s: [pin.at.x() for pin in pins if stretch_of(pin.row) == s and pin.at.y() > BELOW + 20.0] for s in BESIDE}
        order = [s for s in BESIDE if lefts[s]]
        for n, stretch in enumerate(order):
            left = min(lefts[stretch]) - PIN
            end = min(lefts[order[n + 1]]) - PIN - 6.0 if n + 1 < len(order) else float(self.width())
            painter.drawText(QPointF(left, FOOT - 6.0), fitting(tr(BESIDE[stretch]), end - left, 12))

    def _pin(self, painter: QPainter, pin: Pin) -> None:
        """A joint is round, a port square, a sensor a triangle, a hose or line a diamond; filled as far as it is done."""
        p, row, at = current(), pin.row, pin.at
        chosen = row.key == self.key
        size = PIN + 2.0 if chosen else PIN
        reached = show.LADDER.index(row.state) if row.state in show.LADDER else 0
        worst = self._worst.get(row.key, "")
        edge = p.accent if chosen else p.fails if worst == FAILS or row.state == r.REOPENED else p.marginal if worst == MARGINAL else p.ink
        painter.setPen(QPen(QColor(edge), 2.4 if chosen or worst in (FAILS, MARGINAL) else 1.2))
        painter.setBrush(QColor(p.panel))
        area = QRectF(at.x() - size, at.y() - size, 2.0 * size, 2.0 * size)
        if row.kind == r.JOINT:
            _shape(painter, row.kind, area)
            if reached:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(p.ok))
                inner = area.adjusted(2, 2, -2, -2)
                painter.drawPie(inner, 90 * 16, -round(360 * 16 * reached / LADDER_STEPS))
            return
        if reached:
            painter.setBrush(QColor(p.ok))
        if row.kind == r.PORT and row.decision:
            painter.setBrush(QColor(p.ok))
        _shape(painter, row.kind, area)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose a pin; the chosen one goes a state further."""
        pin = self.pin_at(event.position())
        if pin is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if pin.row.key == self.key:
            self.pin_ticked.emit(self.key)
        else:
            self.pin_chosen.emit(pin.row.key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go along the way of the air, Space is a state further."""
        keys = [pin.row.key for pin in self.pins()[0]]
        by = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if by and keys:
            now = keys.index(self.key) if self.key in keys else -by if by > 0 else 0
            self.pin_chosen.emit(keys[(now + by) % len(keys)])
        elif event.key() == Qt.Key.Key_Space and self.key:
            self.pin_ticked.emit(self.key)
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        """What a pin is, where the mouse rests."""
        if isinstance(event, QHelpEvent):
            pin = self.pin_at(QPointF(event.pos()))
            if pin is not None:
                words = tr_format("{0}: {1}", pin.row.name, tr(r.STATES[pin.row.state]))
                QToolTip.showText(event.globalPos(), plain_tip(words), self)
            else:
                QToolTip.hideText()
            return True
        return super().event(event)
