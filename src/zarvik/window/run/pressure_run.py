"""The band across the top of every screen that draws the pressure along the path."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QFontMetricsF, QKeyEvent, QLinearGradient, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QToolTip, QWidget

from zarvik.core.airpath.point import Point
from zarvik.core.uncertainty.bands import POWER
from zarvik.project.edits import edits
from zarvik.project.edits.edits import RUNS
from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import fitting, width
from zarvik.window.run.bore_drag import MOVES, NEAR, BoreGrip, grip_at
from zarvik.window.run.profile import LabelRequest, Profile, Span, beside, lay_out
from zarvik.window.theme.palette import charge_colour, colour, current, gas_colour, temper, tint
from zarvik.window.theme.style import font

HEIGHT = 206
MOST_HEIGHT = 350
RIBBON = 60
FULL, LOW, HIDDEN = "full", "ribbon", "hidden"  # how much of it is shown
HEIGHTS = (FULL, LOW, HIDDEN)
HEAD_WIDTH = 340.0  # px of the figures at the left of the ribbon
FOOT = 7.0  # px of a hot piece that show the tint of its skin
EVEN = 3.0  # K along a piece that are drawn as one colour
STATIONS = {
    "compressor_inlet": "compressor in",
    "compressor_outlet": "compressor out",
    "cooler_inlet": "intercooler in",
    "cooler_outlet": "intercooler out",
    "plenum": "plenum",
    "turbine_inlet": "turbine in",
    "turbine_outlet": "turbine out",
    "tailpipe": "tail",
}
BELT_STATIONS = STATIONS | {"compressor_inlet": "blower in", "compressor_outlet": "blower out", "turbine_inlet": "manifold end"}
# What is drawn broken: the sheet of its step.
RISES = {"compressor": "rise", "turbine": "turbine_drop", "engine": "port_rise"}
# Which station keeps its place where room is short.
STATION_WEIGHT = {"plenum": 5.0, "turbine_inlet": 4.0, "compressor_outlet": 3.0, "ambient": 2.0}
Words = tuple[tuple[str, str], ...]  # words in a break, each with the key of its sheet


def _of_station(kind: str, name: str) -> str:
    """Address of a station's pressure or temperature; those of the surroundings are entries."""
    if name == "ambient" or (name == "tailpipe" and kind == "pressure"):
        return "=goal.altitude" if kind == "pressure" else "=goal.design_day"
    return f"{kind}:{name}"


class PressureRun(QWidget):
    """Draws the solved point at the shown speed; a click goes to the piece."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.mode = FULL
        self.setFixedHeight(HEIGHT)
        self.setMouseTracking(True)
        # It fills all of itself: nothing behind it has to be painted.
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Pressure run"))
        self.profile: Profile | None = None
        self.before: Profile | None = None
        self._point: Point | None = None
        self._hover: Span | None = None
        self._before_point: Point | None = None
        self._hits: list[tuple[QRectF, str]] = []
        self.labels: list[QRectF] = []  # where the figures of losses and stations stand
        self._behind: Profile | None = None
        desk.overlay_changed.connect(self._place)
        desk.result_changed.connect(self._news)
        desk.speed_changed.connect(self._moved)
        # A method, not a lambda: Qt lets go of it when this widget goes.
        desk.piece_chosen.connect(self._chosen)
        # Only an answer that keeps us waiting is said to be on its way.
        self._late = QTimer(self)
        self._late.setSingleShot(True)
        self._late.setInterval(250)
        self._late.timeout.connect(self.stale)
        desk.document_changed.connect(self._late.start)
        desk.rest_changed.connect(self.stale)
        self._pressed: QPointF | None = None  # where the left button went down
        self._grip: BoreGrip | None = None
        self._pulled = False
        self._kept: QPixmap | None = None  # what was drawn last, as long as it holds

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(1000, HEIGHT)

    def _chosen(self, piece: str) -> None:
        self.stale()

    def stale(self) -> None:
        """It has to be drawn anew."""
        self._kept = None
        self.update()

    def _news(self) -> None:
        label = self.desk.session.history.undo_label or ""
        step = (self.desk.session.history.position, label)
        if self._point is not None and step != getattr(self, "_step", None):
            self._before_point = self._point
        self._step = step
        self._late.stop()
        self._point = self.desk.point
        self._place()

    def show_now(self) -> None:
        """Take the point that is shown, without a overlay of the last change."""
        self._moved()

    def _moved(self) -> None:
        self._point = self.desk.point
        self._before_point = None
        self._place()

    def resizeEvent(self, event: QEvent) -> None:
        """Lay out anew."""
        self._place()

    def _place(self) -> None:
        self.profile = self._lay(self._point)
        before = self._before_point
        same = (
            before is not None and self._point is not None and ([s.id for s in before.stretches] == [s.id for s in self._point.stretches])
        )
        self.before = self._lay(before) if same else None
        self._behind = None
        overlay = self.desk.overlay_answer
        if overlay is not None and self._point is not None:
            speed = self._point.speed
            self._behind = self._lay(min(overlay.sweep, key=lambda p: abs(p.speed - speed)))
        self.stale()

    def _lay(self, point: Point | None) -> Profile | None:
        if point is None or not point.closure.solved:
            return None
        if self.mode == LOW:
            return lay_out(point, left=HEAD_WIDTH, right=self.width() - 14.0, top=6.0, bottom=self.height() - 6.0, breaks=0.45)
        return lay_out(point, left=66.0, right=self.width() - 52.0, top=54.0, bottom=self.height() - 40.0)

    def show_as(self, mode: str, height: int = HEIGHT) -> None:
        """Show it in full (`height` px), as a ribbon with the figures beside it, or not at all."""
        high = RIBBON if mode == LOW else height
        if (mode, high) == (self.mode, self.height()):
            return
        self.mode = mode
        self.setVisible(mode != HIDDEN)
        self.setFixedHeight(high)
        self._place()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The whole band, drawn once for as long as it says the same."""
        ratio = self.devicePixelRatioF()
        if self._kept is None or self._kept.size() != self.size() * ratio:
            kept = QPixmap(self.size() * ratio)
            kept.setDevicePixelRatio(ratio)
            kept.fill(QColor(current().panel))
            painter = QPainter(kept)
            self.draw(painter)
            painter.end()
            self._kept = kept
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._kept)
        if self.hasFocus():
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(QColor(current().accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def draw(self, painter: QPainter) -> None:
        """Everything, straight to a painter of the screen or of paper."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._hits = []
        point, profile = self._point, self.profile
        if profile is None or point is None:
            self._nothing(painter, point)
            return
        self._bodies(painter, profile)
        self._overlay(painter)
        if self.mode == LOW:
            self.labels = []
            self._rises(painter, profile)
            self._ribbon_head(painter, point)
            return
        self._breaks(painter, profile, point)
        self._losses(painter, profile)
        self._names(painter, profile)
        self._stations(painter, profile, point)
        self._ruler(painter, profile)
        self._head(painter, point)

    def _nothing(self, painter: QPainter, point: Point | None) -> None:
        result = self.desk.result
        if result is None:
            text = tr("Solving…")
        elif result.problems:
            text = tr("Not solved: {0}").format("; ".join(p.text for p in result.problems))
        elif point is not None:
            text = tr("No result at {0}: {1}").format(self.desk.text(point.speed, "rotation"), self.desk.say(point.closure.reason))
        else:
            text = tr("Nothing to show")
        painter.setPen(QColor(current().fails if result is not None else current().soft))
        painter.setFont(font(16))
        painter.drawText(QRectF(self.rect()).adjusted(40, 20, -40, -20), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)

    @staticmethod
    def _shade(span: Span, temperature: float) -> QColor:
        return gas_colour(temperature) if span.hot else charge_colour(temperature)

    def _bodies(self, painter: QPainter, profile: Profile) -> None:
        p = current()
        spans = [s for s in profile.spans if not s.broken]
        # Smooth edges cost more than all the rest, and the outline is drawn over them.
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setPen(Qt.PenStyle.NoPen)
        for span in spans:
            body = QPolygonF(
                [
                    QPointF(span.left, profile.base),
                    QPointF(span.left, span.top_in),
                    QPointF(span.right, span.top_out),
                    QPointF(span.right, profile.base),
                ]
            )
            if abs(span.temperature - span.before) < EVEN:
                painter.setBrush(self._shade(span, span.before))
            else:
                grade = QLinearGradient(span.left, 0, span.right, 0)
                grade.setColorAt(0.0, self._shade(span, span.before))
                grade.setColorAt(1.0, self._shade(span, span.temperature))
                painter.setBrush(grade)
            painter.drawPolygon(body)
            chosen = span.stretch.id == self.desk.piece
            if span is self._hover or chosen:
                painter.setBrush(colour(p.accent, 0.35 if chosen else 0.2))
                painter.drawPolygon(body)
        painter.setPen(Qt.PenStyle.NoPen)
        for span in spans:
            # The foot of a hot piece has the tint that its steel takes.
            if span.hot and span.stretch.skin > 0.0:
                painter.setBrush(temper(span.stretch.skin)[1])
                painter.drawRect(QRectF(span.left, profile.base - FOOT, span.width, FOOT))
        painter.setPen(QPen(QColor(p.panel), 1))
        for span in spans:
            painter.drawLine(QPointF(span.right, span.top_out), QPointF(span.right, profile.base))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(p.ink), 2))
        for line in self._outline(profile):
            painter.drawPolyline(line)

    @staticmethod
    def _outline(profile: Profile) -> list[QPolygonF]:
        """The height profile, interrupted at what is drawn broken."""
        found: list[QPolygonF] = []
        line: list[QPointF] = []
        for span in profile.spans:
            if span.broken:
                found.append(QPolygonF(line))
                line = []
            else:
                line += [QPointF(span.left, span.top_in), QPointF(span.right, span.top_out)]
        return [*found, QPolygonF(line)]

    def _overlay(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for profile, style in ((self.before, Qt.PenStyle.DashLine), (self._behind, Qt.PenStyle.DotLine)):
            if profile is not None:
                painter.setPen(QPen(QColor(current().accent), 1.5, style))
                for line in self._outline(profile):
                    painter.drawPolyline(line)

    def _rises(self, painter: QPainter, profile: Profile) -> None:
        """What is drawn broken, without its figures."""
        painter.setPen(QPen(QColor(current().soft), 1.5, Qt.PenStyle.DashLine))
        for span in profile.spans:
            if span.broken and span.stretch.kind != "open":
                painter.drawLine(QPointF(span.left, span.top_in), QPointF(span.right, span.top_out))

    def _ribbon_head(self, painter: QPainter, point: Point) -> None:
        """Power and how well it is known, torque, boost, speed and air in two lines."""
        x = self._figure(painter, point, QPointF(14.0, 26.0), (point.power, "power", "power"), 20)
        self._note(painter, QPointF(x, 26.0), HEAD_WIDTH - 10.0)
        x = 14.0
        for figure in (
            (point.torque, "torque", "torque"),
            (point.boost, "pressure_gauge", "boost"),
            (point.air, "mass_flow", "air"),
            (point.speed, "rotation", ""),
        ):
            x = self._figure(painter, point, QPointF(x, 47.0), figure, 14)

    def _breaks(self, painter: QPainter, profile: Profile, point: Point) -> None:
        """What is too high to be drawn to scale: two slanted strokes in each half say so."""
        t = point.turbo
        for span in profile.spans:
            if not span.broken:
                continue
            if span.stretch.kind == "compressor":
                words: Words = ((tr("ratio {0:.2f}").format(t.ratio), "pressure_ratio"), (f"η {100 * t.efficiency:.0f} %", "efficiency"))
            elif span.stretch.kind == "turbine":
                words = ((tr("ratio {0:.2f}").format(t.expansion), "expansion"), (tr("open {0:.0f} %").format(100 * t.opening), "opening"))
            else:
                words = ()
            self._break(painter, profile, span, words)

    def _break(self, painter: QPainter, profile: Profile, span: Span, words: Words) -> None:
        p = current()
        middle = (span.left + span.right) / 2.0
        low, high = span.top_in, span.top_out
        cut = (low + high) / 2.0
        reach = 14.0 if span.width > 60 else 6.0
        painter.setPen(QPen(QColor(p.ink), 2))
        lean = 16.0 if high < low else -16.0
        if abs(high - low) < 40.0:
            lean = 0.0
        painter.drawLine(QPointF(span.left, low), QPointF(middle - 5, cut + lean))
        painter.drawLine(QPointF(middle + 5, cut - lean), QPointF(span.right, high))
        painter.setPen(QPen(QColor(p.accent), 2))
        for shift in (-3.0, 3.0):
            for x, y in ((middle - 5, cut + lean), (middle + 5, cut - lean)):
                painter.drawLine(QPointF(x - reach / 2, y + 3 + shift), QPointF(x + reach / 2, y - 3 + shift))
        if span.stretch.kind == "open":
            return
        drop = span.stretch.drop
        painter.setPen(QColor(p.ink))
        painter.setFont(font(15, strong=True))
        sign = "+" if drop < 0 else "−"
        text = sign + self.desk.text(abs(drop), "pressure_difference")
        if span.width < 90:
            text = text.rpartition("\u00a0")[0]
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        y = cut - 11 if lean else min(low, high) + 16
        painter.fillRect(QRectF(middle - width / 2 - 3, y, width + 6, 22), QColor(p.panel))
        painter.drawText(QRectF(middle - width / 2 - 4, y, width + 8, 22), Qt.AlignmentFlag.AlignCenter, text)
        if span.stretch.kind in RISES:
            area = QRectF(middle - width / 2, y, width, 22)
            self._hits.append((area, RISES[span.stretch.kind]))
        painter.setFont(font(13))
        painter.setPen(QColor(p.soft))
        for i, (word, key) in enumerate(reversed(words)):
            area = QRectF(span.left, profile.base - 19 - 16 * i, span.width, 18)
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, word)
            self._hits.append((area, key))

    def _losses(self, painter: QPainter, profile: Profile) -> None:
        unit = self.desk.unit("pressure_difference") or ""
        places = {"psi": 2, "bar": 3}.get(unit, 1)
        spans, texts = [], []
        for span in profile.spans:
            if span.broken or span.stretch.drop < 20.0:
                continue
            figure = self.desk.text(span.stretch.drop, "pressure_difference", places=places)
            text = "−" + figure.rpartition("\u00a0")[0]
            if text.strip("−0.,") != "":
                spans.append(span)
                texts.append(text)
        edges = beside(
            [
                LabelRequest((s.left + s.right) / 2.0, width(t, 13, strong=True), s.stretch.drop, 10.0)
                for s, t in zip(spans, texts, strict=True)
            ],
            left=4.0,
            right=self.width() - 4.0,
            gap=2.0,
        )
        painter.setFont(font(13, strong=True))
        painter.setPen(QColor(current().ink))
        self.labels = []
        for span, text, x in zip(spans, texts, edges, strict=True):
            if x is not None:
                y = max((span.top_in + span.top_out) / 2.0 - 7.0, 44.0)
                painter.drawText(QPointF(x, y), text)
                area = QRectF(x, y - 11, width(text, 13, strong=True), 12)
                self.labels.append(area)
                cooler = span.stretch.kind == "cooler"
                self._hits.append((area, "cooler_loss" if cooler else f"piece:{span.stretch.id}"))

    def _names(self, painter: QPainter, profile: Profile) -> None:
        p = current()
        painter.setFont(font(13))
        metrics = QFontMetricsF(painter.font())
        painter.setPen(QColor("#ffffff" if p.name == "dark" else "#14161a"))
        for span in profile.spans:
            if span.broken or span.width < 58.0:
                continue
            # A name that would be cut says nothing: the tip has it.
            if metrics.horizontalAdvance(span.name) <= span.width - 4.0:
                painter.drawText(QRectF(span.left, profile.base - 26, span.width, 18), Qt.AlignmentFlag.AlignCenter, span.name)

    def _stations(self, painter: QPainter, profile: Profile, point: Point) -> None:
        p = current()
        painter.setFont(font(13))
        spots = [("ambient", profile.spans[0].left)]
        spots += [(s.stretch.end, s.right) for s in profile.spans if s.stretch.end in STATIONS and s.stretch.kind != "open"]
        lines = []
        names = BELT_STATIONS if point.belt else STATIONS
        for name, _ in spots:
            station = point.stations[name]
            first = self.desk.text(station.pressure, "pressure_absolute") + " abs"
            title = tr(names.get(name, name))
            lines.append((first, f"{title} {self.desk.text(station.temperature, 'temperature')}"))
        edges = beside(
            [
                LabelRequest(x, max(width(t, 13) for t in pair), STATION_WEIGHT.get(name, 1.0), 46.0)
                for (name, x), pair in zip(spots, lines, strict=True)
            ],
            left=4.0,
            right=self.width() - 4.0,
            gap=10.0,
        )
        for (name, x), (first, second), left in zip(spots, lines, edges, strict=True):
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(x, profile.base), QPointF(x, profile.base + 6))
            if left is None:
                continue  # no room beside its neighbours: the tooltip has it
            area = QRectF(left, profile.base + 5, max(width(first, 13), width(second, 13)), 34)
            self.labels.append(area)
            for part, kind in ((0.0, "pressure"), (17.0, "temperature")):
                half = QRectF(left, area.top() + part, area.width(), 17.0)
                self._hits.append((half, _of_station(kind, name)))
            painter.setPen(QColor(p.ink))
            painter.drawText(QPointF(left, profile.base + 18), first)
            painter.setPen(QColor(p.soft))
            painter.drawText(QPointF(left, profile.base + 34), second)

    def _ruler(self, painter: QPainter, profile: Profile) -> None:
        """A step of each loss scale, so that heights can be read."""
        self._step_mark(painter, 18.0, profile.base, profile.scale, left=True)
        self._step_mark(painter, self.width() - 16.0, profile.base, profile.hot_scale, left=False)

    def _step_mark(self, painter: QPainter, x: float, y: float, scale: float, *, left: bool) -> None:
        p = current()
        unit = self.desk.unit("pressure_difference") or "kPa"
        step = {"psi": 6894.76, "bar": 5000.0}.get(unit, 5000.0)
        while step * scale > 60.0:
            step /= 2.0
        while step * scale < 12.0:
            step *= 2.0
        painter.setPen(QPen(QColor(p.soft), 1.5))
        painter.drawLine(QPointF(x, y), QPointF(x, y - step * scale))
        for end in (y, y - step * scale):
            painter.drawLine(QPointF(x - 4, end), QPointF(x + 4, end))
        painter.setFont(font(12))
        text = self.desk.text(step, "pressure_difference")
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        start = x - 10 if left else self.width() - width - 4
        painter.drawText(QPointF(start, y - step * scale - 6), text)

    def _head(self, painter: QPainter, point: Point) -> None:
        x = 14.0
        for figure in (
            (point.speed, "rotation", ""),
            (point.power, "power", "power"),
            (point.torque, "torque", "torque"),
            (point.boost, "pressure_gauge", "boost"),
            (point.air, "mass_flow", "air"),
        ):
            x = self._figure(painter, point, QPointF(x, 25.0), figure, 20)
        self._note(painter, QPointF(x, 25.0), self.width() - 10.0)

    def _figure(self, painter: QPainter, point: Point, at: QPointF, figure: tuple[float, str, str], size: int) -> float:
        """A figure (value in SI, kind, key of its sheet) with its foot `at`, in letters of `size` px; returns where the next may stand."""
        p = current()
        value, kind, key = figure
        x, foot = at.x(), at.y()
        text = self.desk.text(value, kind)
        painter.setFont(font(size, strong=size > 14))
        painter.setPen(QColor(p.ink))
        painter.drawText(QPointF(x, foot), text)
        wide = width(text, size, strong=size > 14)
        band = self._band(point) if key == "power" else ""
        if band:
            painter.setFont(font(14))
            painter.setPen(QColor(p.soft))
            painter.drawText(QPointF(x + wide + 6, foot), band)
            wide += 6 + width(band, 14)
        if key:
            self._hits.append((QRectF(x, foot - size - 1, wide, size + 6), key))
            painter.setPen(QPen(QColor(p.line), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, foot + 5), QPointF(x + wide, foot + 5))
        x += wide + (6 if size > 14 else 4)
        if kind == "pressure_gauge":
            words = tr("boost, gauge") if size > 14 else tr("boost")
            painter.setFont(font(13))
            painter.setPen(QColor(p.soft))
            painter.drawText(QPointF(x, foot), words)
            x += width(words, 13)
        return x + (22 if size > 14 else 10)

    def _note(self, painter: QPainter, at: QPointF, right: float) -> None:
        """What the last change did, which variant is dotted behind, or that it is being solved, up to `right` px."""
        p = current()
        words, tone = "", p.accent
        if self.before is not None and self._before_point is not None and self._point is not None:
            change = self._point.power - self._before_point.power
            label, figure = self.desk.session.history.undo_label or tr("undo"), self.desk.text(abs(change), "power", places=1)
            if figure.strip("0.,").startswith("\u00a0"):
                words = tr("power unchanged by “{0}”").format(label)
            else:
                words = tr("{0}{1} by “{2}” (dashed: before)").format("+" if change >= 0 else "−", figure, label)
        elif self._behind is not None:
            words = tr("dotted: {0}").format(self.desk.overlay)
        elif not self.desk.current:
            words, tone = tr("solving…"), p.soft
        painter.setFont(font(14))
        painter.setPen(QColor(tone))
        painter.drawText(at, fitting(words, max(right - at.x(), 0.0), 14))

    def _band(self, point: Point) -> str:
        """How well the power at the target speed is known."""
        answer = self.desk.answer
        band = answer.bands.of(POWER) if answer is not None and answer.bands is not None else None
        if answer is None or band is None or point.speed != answer.target.speed:
            return ""
        return "± " + self.desk.text(band.half, "power").rpartition("\u00a0")[0]

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Say the numbers of the piece under the mouse."""
        if self._pressed is not None:
            self._pull(event.position())
            return
        if self._hit(event.position()):
            self.setCursor(Qt.CursorShape.PointingHandCursor)
            QToolTip.showText(event.globalPosition().toPoint(), tr("Show its calculation"), self)
            return
        span = self.profile.at(event.position().x()) if self.profile else None
        if span is not self._hover:
            self._hover = span
            self.stale()
            self.setCursor(Qt.CursorShape.PointingHandCursor if span else Qt.CursorShape.ArrowCursor)
        if self.profile is not None and any(abs(event.position().x() - s.right) <= NEAR for s in self.profile.spans):
            grip = grip_at(self.desk.project, self.profile, event.position().x(), event.position().y())
            self.setCursor(Qt.CursorShape.SizeVerCursor if grip is not None and grip.joint else Qt.CursorShape.PointingHandCursor)
        if span is not None:
            QToolTip.showText(event.globalPosition().toPoint(), plain_tip(self._numbers(span)), self)

    def _hit(self, spot: QPointF) -> str:
        return next((key for area, key in self._hits if area.contains(spot)), "")

    def leaveEvent(self, event: QEvent) -> None:
        """Nothing is under the mouse any more."""
        self._hover = None
        self.stale()

    def _numbers(self, span: Span) -> str:
        s, say = span.stretch, self.desk.text
        lines = [span.name]
        if span.broken:
            sign = "+" if s.drop < 0 else "−"
            lines.append(sign + say(abs(s.drop), "pressure_difference"))
        else:
            lines.append(tr("loss {0}").format(say(s.drop, "pressure_difference", places=2)))
        for words, pressure, temperature in (
            (tr("before {0} abs, {1}"), s.pressure_in, span.before),
            (tr("after {0} abs, {1}"), s.pressure_in - s.drop, span.temperature),
        ):
            lines.append(words.format(say(pressure, "pressure_absolute"), say(temperature, "temperature")))
        if self._point is not None:
            lines.append(say(self._point.stations[s.end].flow, "mass_flow"))
        if s.mach > 0:
            lines.append(f"Mach {s.mach:.3f}, {say(s.velocity, 'velocity')}")
        if span.hot and s.skin > 0:
            lines.append(tr("skin {0}: steel {1}").format(say(s.skin, "temperature"), tr(tint(s.skin))))
        return "\n".join(lines)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold: pulled up or down a piece or a joint becomes wider or narrower; let go without that it is a click."""
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._pressed = event.position()
        self._grip = None
        if not self._hit(self._pressed) and self.profile is not None:
            self._grip = grip_at(self.desk.project, self.profile, self._pressed.x(), self._pressed.y())
        self._pulled = False

    def _pull(self, at: QPointF) -> None:
        """What is held follows the hand, as one step of undo; what it is now is told beside it."""
        if self._grip is None or self._pressed is None or (not self._pulled and abs(at.y() - self._pressed.y()) < MOVES):
            return
        if not self._pulled:
            self._pulled = True
            self.desk.session.history.seal()
        self.desk.drag(tr("Drag the joint bore") if self._grip.joint else tr("Drag the bore"), *self._grip.pulled(at.y()))
        now = edits.get(self.desk.project, self._grip.places[0][0])
        QToolTip.showText(self.mapToGlobal(at.toPoint()), plain_tip(tr("bore {0}").format(now)), self)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A pull is done, or a click: go to the piece, or to the calculation of a figure."""
        pressed, self._pressed = self._pressed, None
        if pressed is None:
            return
        if self._pulled:
            self._grip = None
            self.desk.session.history.seal()
            return
        key = self._hit(event.position())
        if key:
            self.desk.follow(key)
            return
        span = self.profile.at(event.position().x()) if self.profile else None
        if span is not None:
            self._open(span)

    def _open(self, span: Span) -> None:
        s = span.stretch
        if s.kind in ("compressor", "turbine", "open"):
            self.desk.go("turbine" if s.kind == "turbine" else "compressor")
        elif s.kind == "engine":
            self.desk.go("engine")
        elif s.kind == "cooler":
            self.desk.go("charge")
        elif s.section in RUNS:
            self.desk.go(f"piece:{s.id}")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go from piece to piece, W shows the calculation of the chosen one."""
        if event.key() == Qt.Key.Key_W and self.profile is not None:
            pieces = {s.stretch.id for s in self.profile.spans if not s.broken}
            known = self.desk.piece in pieces and self.desk.piece != "cooler"
            self.desk.show_calculation(f"piece:{self.desk.piece}" if known else "power")
            return
        if self.profile is None or event.key() not in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            super().keyPressEvent(event)
            return
        ids = [s.stretch.id for s in self.profile.spans]
        at = ids.index(self.desk.piece) if self.desk.piece in ids else -1
        at += 1 if event.key() == Qt.Key.Key_Right else -1
        self._open(self.profile.spans[max(0, min(at, len(ids) - 1))])
        self.setFocus()
