"""The picture of the Candidates bench: turbos as numbered lines, housings and pulleys as sizes to take."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF

from zarvik.project.language.language import tr
from zarvik.window.benches.candidates.presenter import Choice, Curve, Picture
from zarvik.window.parts.chart import Axis, Chart
from zarvik.window.parts.figure_rows import draw_mark
from zarvik.window.parts.wrapping import width
from zarvik.window.theme.palette import colour, current
from zarvik.window.theme.style import font

# Dashes by number, so that lines can be told apart without colour too.
DASHES = ((), (7.0, 3.0), (2.0, 2.5), (9.0, 2.5, 2.0, 2.5), (4.0, 4.0), (12.0, 3.0), (1.0, 3.0), (6.0, 2.0, 1.0, 2.0))


class CandidateChart(Chart):
    """Numbered curves, or sizes to take. `taken` carries the place of the size that was taken."""

    taken = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.picture: Picture | None = None
        self.choices: tuple[Choice, ...] = ()
        self.empty = ""
        self.focused = 0
        self.joined = True
        self._hover = -1
        self._spots: list[QPointF] = []
        self.setMouseTracking(True)
        self.setMinimumHeight(200)
        self.setAccessibleName(tr("Candidates side by side"))

    def plot(self) -> QRectF:
        """The plot, with room over it for the words of its upward axis."""
        return super().plot().adjusted(0.0, 10.0, 0.0, 0.0)

    def bare(self) -> bool:
        """Without a picture there are no axes either."""
        return self.picture is None

    def show_picture(self, picture: Picture | None, empty: str) -> None:
        """Draw curves, or say why there are none."""
        self.picture, self.choices, self.empty = picture, (), empty
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        if picture is not None:
            self.x_axis = Axis(*picture.x_range, picture.x_title)
            self.y_axis = Axis(*picture.y_range, picture.y_title)
        self._hover = -1
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self.stale()

    def show_choices(
        self, choices: tuple[Choice, ...], x_title: str, y_title: str, level: float | None, empty: str, *, joined: bool = True
    ) -> None:
        """Draw sizes that can be taken, over what they bring, `joined` by a line where they are of one series;
        `level`: a height that is asked for."""
        self.choices, self.empty, self.joined = choices, empty, joined
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if choices else Qt.FocusPolicy.NoFocus)
        self.picture = None
        if choices:
            xs, ys = [c.x for c in choices], [c.y for c in choices]
            across, up = max(xs) - min(xs) or 1.0, max(*ys, level or ys[0]) - min(*ys, level or ys[0]) or 1.0
            self.x_axis = Axis(min(xs) - 0.1 * across, max(xs) + 0.12 * across, x_title)
            low = min(*ys, level) if level is not None else min(ys)
            self.y_axis = Axis(low - 0.12 * up, max(*ys, level or ys[0]) + 0.16 * up, y_title)
            self.picture = Picture(
                curves=(), x_title=x_title, y_title=y_title, x_range=(0.0, 1.0), y_range=(0.0, 1.0), level=level, level_title=tr("target")
            )
        self.focused = next((i for i, c in enumerate(choices) if c.own), 0)
        self._hover = -1
        self.stale()

    def paint_back(self, painter: QPainter) -> None:
        """Outlines and curves; the chosen turbo on top."""
        picture, p = self.picture, current()
        if picture is None:
            return
        if picture.level is not None:
            painter.setPen(QPen(QColor(p.marginal), 1.4, Qt.PenStyle.DashLine))
            left, right = self.at(self.x_axis.low, picture.level), self.at(self.x_axis.high, picture.level)
            painter.drawLine(left, right)
        for outline in picture.outlines:
            painter.setPen(QPen(colour(p.accent if outline.chosen else p.ink, 0.75 if outline.chosen else 0.38), 1.2))
            painter.setBrush(colour(p.accent, 0.06) if outline.chosen else Qt.BrushStyle.NoBrush)
            painter.drawPolyline(self._poly(outline))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for curve in sorted(picture.curves, key=lambda c: c.chosen):
            pen = QPen(QColor(p.accent if curve.chosen else p.ink), 3.0 if curve.chosen else 1.7)
            dashes = DASHES[(int(curve.mark) - 1) % len(DASHES)]
            if dashes and not curve.chosen:
                pen.setDashPattern(list(dashes))
            painter.setPen(pen)
            painter.drawPolyline(self._poly(curve))
        if self.choices and self.joined:
            painter.setPen(QPen(QColor(p.soft), 1.2))
            painter.drawPolyline(QPolygonF([self.at(c.x, c.y) for c in self.choices]))

    def _poly(self, curve: Curve) -> QPolygonF:
        return self.line(curve.x, curve.y)

    def paint_labels(self, painter: QPainter) -> None:
        """The name of the height that is asked for; numbers at the lines."""
        picture, p = self.picture, current()
        if picture is None:
            painter.setPen(QColor(p.soft))
            painter.drawText(self.plot(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.empty)
            return
        painter.setPen(QColor(p.soft))
        painter.drawText(QPointF(self.plot().left() - 40, self.plot().top() - 8), picture.y_title)
        if picture.level is not None and picture.level_title:
            spot = self.at(self.x_axis.low, picture.level)
            painter.setPen(QColor(p.marginal))
            below = spot.y() - self.plot().top() < 20.0
            # At the left end, unless a plate stands there.
            plates = [self.at(c.x, c.y) for c in self.choices]
            wide = width(picture.level_title, 13)
            near = any(q.x() < spot.x() + wide + 22 and abs(q.y() - spot.y()) < 24 for q in plates)
            x = self.plot().right() - wide - 6 if near else spot.x() + 6
            painter.drawText(QPointF(x, spot.y() + (15 if below else -5)), picture.level_title)
        painter.setFont(font(13, strong=True))
        taken: list[QPointF] = []
        for curve in sorted(picture.outlines or picture.curves, key=lambda c: not c.chosen):
            spot = self._place(curve, taken, bool(picture.outlines))
            taken.append(spot)
            draw_mark(painter, spot, curve.mark, strong=curve.chosen)

    def _place(self, curve: Curve, taken: list[QPointF], outline: bool) -> QPointF:
        """Where the number of a line stands: on it, inside of the plot, clear of the others."""
        count = len(curve.x)
        inner = self.plot().adjusted(10, 10, -10, -10)
        # The corner of a map; else from the upper end of the line down.
        first = int(curve.y.argmax()) if outline else count - 1
        level = self.picture.level if self.picture is not None else None
        if not outline and level is not None and count > 4 and curve.y[-count // 4] > 0.97 * level:
            # Lines that end on one another are told apart where they rise.
            first = int((curve.y >= 0.6 * level).argmax())
        spot = self.at(float(curve.x[first]), float(curve.y[first]))
        for step in range(0, count, max(count // 40, 1)):
            i = (first + step) % count if outline else (first - step) % count
            spot = self.at(float(curve.x[i]), float(curve.y[i]))
            if inner.contains(spot) and all((spot - other).manhattanLength() > 24 for other in taken):
                return spot
        return QPointF(min(max(spot.x(), inner.left()), inner.right()), min(max(spot.y(), inner.top()), inner.bottom()))

    def paint_front(self, painter: QPainter) -> None:
        """Sizes as plates: the present one filled, the answer ringed, the one in focus underlined."""
        p = current()
        self._spots = self._apart([self.at(c.x, c.y) for c in self.choices])
        painter.setFont(font(13, strong=True))
        order = sorted(range(len(self.choices)), key=lambda n: (self.choices[n].own, n == self._hover))
        for i in order:
            choice, spot = self.choices[i], self._spots[i]
            wide = max(width(choice.label, 13, strong=True) + 12, 26.0)
            box = QRectF(spot.x() - wide / 2, spot.y() - 10, wide, 20)
            painter.setPen(QPen(QColor(p.accent if choice.own or choice.answer else p.ink), 2.4 if choice.answer else 1.2))
            painter.setBrush(QColor(p.accent if choice.own else p.raised))
            painter.drawRoundedRect(box, 5, 5)
            painter.setPen(QColor(p.accent_ink if choice.own else p.ink))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, choice.label)
            lit = i == self._hover or (self.hasFocus() and i == self.focused)
            if lit:
                painter.setPen(QPen(QColor(p.accent), 2, Qt.PenStyle.DotLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(box.adjusted(-4, -4, 4, 4), 7, 7)
            if lit or choice.own or choice.answer:
                self._words(painter, box, choice)

    def _apart(self, spots: list[QPointF]) -> list[QPointF]:
        """Plates that would lie on one another stand beside each other."""
        placed: list[QPointF] = []
        for spot in spots:
            there = QPointF(spot)
            while not self.joined and any(abs(q.x() - there.x()) < 28 and abs(q.y() - there.y()) < 20 for q in placed):
                there.setX(there.x() + 30)
            if there.x() > self.plot().right() - 14:
                there = QPointF(spot.x(), spot.y() - 22)
            placed.append(there)
        return placed

    def _words(self, painter: QPainter, box: QRectF, choice: Choice) -> None:
        """What a size brings, beside its plate."""
        p = current()
        painter.setFont(font(12))
        wide = width(choice.words, 12)
        # The line falls from left to right: over and beside the plate there is room; else to the left or below.
        right = min(box.right() + 6, self.plot().right() - wide - 4)
        places = [
            QRectF(right - 2, box.top() - 13, wide + 4, 15),
            QRectF(box.left() - wide - 10, box.top() + 2, wide + 4, 15),
            QRectF(right - 2, box.bottom() - 2, wide + 4, 15),
        ]
        others = [QRectF(s.x() - 14, s.y() - 11, 28, 22) for s in self._spots if not box.contains(s)]
        inside = [q for q in places if q.left() > self.plot().left()]
        place = next((q for q in inside if not any(q.intersects(o) for o in others)), places[0])
        painter.fillRect(place, colour(p.raised, 0.85))
        painter.setPen(QColor(p.soft))
        painter.drawText(place, Qt.AlignmentFlag.AlignCenter, choice.words)
        painter.setFont(font(13, strong=True))

    def _under(self, spot: QPointF) -> int:
        near = [(s - spot).manhattanLength() for s in self._spots]
        best = min(range(len(near)), key=near.__getitem__, default=-1)
        return best if best >= 0 and near[best] < 26.0 else -1

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A size says that it can be taken."""
        at = self._under(event.position()) if self.choices else -1
        if at != self._hover:
            self._hover = at
            self.setCursor(Qt.CursorShape.PointingHandCursor if at >= 0 else Qt.CursorShape.ArrowCursor)
            self.setToolTip(tr("Choose it; undo brings the other back") if at >= 0 else "")
            self.update()

    def leaveEvent(self, event: QEvent) -> None:
        """Nothing is under the mouse any more."""
        self._hover = -1
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take the size under the mouse."""
        at = self._under(event.position()) if self.choices else -1
        if at >= 0:
            self.taken.emit(at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go from size to size, Enter takes one."""
        if self.choices and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if event.key() == Qt.Key.Key_Right else -1
            order = sorted(range(len(self.choices)), key=lambda i: self.choices[i].x)
            place = order.index(self.focused) if self.focused in order else 0
            self.focused = order[min(max(place + step, 0), len(order) - 1)]
            choice = self.choices[self.focused]
            self.setAccessibleDescription(f"{choice.label}: {choice.words}")
            self.update()
        elif self.choices and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.taken.emit(self.focused)
        else:
            super().keyPressEvent(event)
