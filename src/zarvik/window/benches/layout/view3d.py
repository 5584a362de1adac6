"""Engine, turbo and runs in space: looked at from all sides, pieces picked and pulled."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from zarvik.core.bay.clearance import Near, Obstacle
from zarvik.core.common.constants import INCH
from zarvik.core.layout.clash import trace
from zarvik.core.layout.placement import PRIMARY, Layout, Space
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout as laid
from zarvik.project.layout.layout import space_of
from zarvik.project.manifold.making import fabrication_steps
from zarvik.project.units.units import EntryError, Quantity
from zarvik.window.benches.layout import presenter as show
from zarvik.window.benches.layout.bodies import GROUND, SEEN_THROUGH, THING, Body, bodies_of, colours, is_far, with_whole
from zarvik.window.benches.layout.camera import STEP, VIEWS, Camera
from zarvik.window.benches.layout.measuring import place_at
from zarvik.window.benches.layout.parts import ALONG, OUT, PARTS, UP, WAYS, part_at, part_handles, parts_of
from zarvik.window.benches.layout.renderer import SMALL, Renderer, Small, View
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.theme.palette import colour, current
from zarvik.window.theme.style import font

REST = 160  # ms after which the picture is drawn finely
AWAY = 0.15  # share of a motion that has to be seen for the hand to follow it
NEAR = 13.0  # px from a handle
TITLES = {show.LENGTH: "Length", show.ANGLE: "Bend angle", show.ROLL: "Rotation", ALONG: "Along the crank", UP: "Height", OUT: "Outwards"}
PART_KEYS = {Qt.Key.Key_A: ALONG, Qt.Key.Key_U: UP, Qt.Key.Key_O: OUT}
VIEW_KEYS = {Qt.Key.Key_1: "side", Qt.Key.Key_2: "above", Qt.Key.Key_3: "end", Qt.Key.Key_4: "corner"}
VIEW_TITLES = {"side": "Side", "above": "Top", "end": "Front", "corner": "Corner"}


class LayoutView(QWidget):
    """The picture with its handles. Left button on a piece: choose; on a handle: pull; elsewhere: walk round. Right
    button: shift. Wheel: nearer, farther."""

    piece_chosen = Signal(str)
    part_chosen = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(QSize(260, 200))
        self.setAccessibleName(tr("Engine, turbo and pipes in space"))
        self.eye = Camera()
        self.space: Space | None = None
        self.layout_: Layout | None = None
        self.bodies: list[Body] = []
        self.cut: float | None = None  # m towards who looks from where everything is cut away
        self.part = ""  # the part that is chosen, with an arrow each way
        self.obstacles: tuple[Obstacle, ...] = ()
        self.scans: Mapping[str, tuple[np.ndarray, np.ndarray]] = {}  # all of what was scanned, where the files are there
        self.near: list[Near] = []  # what is too near to what stands in the bay
        self.moves: dict[str, np.ndarray | None] = {}  # what is moved, and where to
        self.spot: tuple[np.ndarray, str] | None = None  # a place that is pointed at, and words
        self.tape: list[np.ndarray] | None = None  # places that a tape is held between, None while none is held
        self.renderer = Renderer()
        self.renderer.drawn.connect(self._drawn)
        self._plain = False
        self._asked: View | None = None  # what was asked for last, None when it is old
        self._image: QImage | None = None
        self._fine = False
        self._fitted = False
        self._held: show.Handle | None = None
        self._cutting = False  # is the section plane being pulled?
        self._pressed = QPointF()
        self._last = QPointF()
        self._moved = False
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST)
        self._rest.timeout.connect(self._draw_finely)
        desk.session.closing.append(self.renderer.close)

    # What is shown

    def take(self) -> None:
        """Draw the document as it is now."""
        project = self.desk.project
        space = space_of(project)
        things = obstacles_of(project)
        if (space is not self.space and space != self.space) or things is not self.obstacles:
            self.moves, self.spot, self.tape = {}, None, None if self.tape is None else []
            self.space, self.layout_, self.obstacles = space, laid(project), things
            self.bodies = with_whole(bodies_of(space, self.layout_, things), project.bay_objects, self.scans)
            self.near = [one for one in self.near if one.obstacle in things]
        if not self._fitted and self.isVisible():
            self.see_all()
        self._changed()

    def take_scans(self, scans: Mapping[str, tuple[np.ndarray, np.ndarray]]) -> None:
        """Draw all triangles of these scans (corners m and triangles by the keys of their objects) from now on."""
        self.scans = scans
        self.bodies = with_whole(self.bodies, self.desk.project.bay_objects, scans)
        self._changed()

    def take_ahead(self) -> bool:
        """Have the bodies of a document before anybody looks; False when there are some."""
        if self.layout_ is not None:
            return False
        self.take()
        return True

    def _far(self, run: str, corners: np.ndarray) -> bool:
        """Is a piece of the exhaust so far behind the engine that the rest would be small for it?"""
        return self.layout_ is not None and len(self.bodies) >= 4 and is_far(self.layout_, run, corners)

    def see_all(self) -> None:
        """Everything that is near the engine in the picture."""
        corners = [b.corners for b in self.bodies if b.tint not in (GROUND, THING, *SEEN_THROUGH) and not self._far(b.run, b.corners)]
        if corners and self.width() > 20:
            self.eye.fit(np.vstack(corners), self.width(), self.height())
            self._fitted = True
            self._changed()

    def see_near(self) -> None:
        """The chosen run in the picture, with all primaries where it is one of them."""
        line, _ = self._chosen()
        if line is None:
            return
        primary = line.key.startswith(PRIMARY)
        corners = [b.corners for b in self.bodies if b.run == line.key or (primary and b.run.startswith(PRIMARY))]
        if corners:
            self.eye.fit(np.vstack(corners), self.width(), self.height())
            self._changed()

    def look(self, name: str) -> None:
        """A standard view."""
        self.eye.look(name)
        self.see_all()

    def set_cut(self, on: bool) -> None:
        """Cut away what is nearer than the middle of the chosen piece, or nothing."""
        self.cut = None
        if on:
            line, part = self._chosen()
            self.cut = 0.0
            if line is not None and part is not None:
                self.cut = float((part.at(0.5).origin - self.eye.centre) @ self.eye.axes[2])
        self._changed()

    def set_tape(self, on: bool) -> None:
        """Hold a tape: clicks are its two ends; or put it away."""
        self.tape = [] if on else None
        self.update()

    def hold_tape(self, at: QPointF) -> None:
        """One end of the tape at what is seen there; after two a new one begins."""
        place = place_at(self.bodies, self.eye, (self.width(), self.height()), at.toTuple(), self.cut)
        if place is None or self.tape is None:
            return
        self.tape = [*self.tape, place] if len(self.tape) < 2 else [place]
        self.update()

    def tape_words(self) -> str:
        """What the tape shows: the distance, and how much of it is along, up and out; empty before there are two ends."""
        if self.tape is None or len(self.tape) < 2:
            return ""
        apart = self.tape[1] - self.tape[0]
        far, *ways = (self.desk.text(float(value), "length", places=0) for value in (np.linalg.norm(apart), *np.abs(apart)))
        return tr_format("{0}: {1} along, {2} up, {3} out", far, *ways)

    def _taped(self, painter: QPainter) -> None:
        ends = [self._at(place) for place in self.tape or ()]
        painter.setPen(QPen(QColor(current().accent), 2.6))
        painter.setBrush(QColor(current().accent))
        for end in ends:
            painter.drawEllipse(end, 3.5, 3.5)
        if len(ends) == 2:
            painter.drawLine(*ends)
            middle = QPointF(0.5 * (ends[0].x() + ends[1].x()) + 12.0, 0.5 * (ends[0].y() + ends[1].y()) - 14.0)
            self._plate(painter, middle, self.tape_words(), strong=True)

    def stale(self) -> None:
        """Draw anew in the colours of the theme."""
        self._changed()

    def _chosen(self):  # type: ignore[no-untyped-def]
        if self.layout_ is None or not self.desk.piece:
            return None, None
        line = show.line_of(self.layout_, self.desk.piece)
        if line is None:
            return None, None
        return line, next(p for p in line.placed if p.segment.id == self.desk.piece)

    def _changed(self) -> None:
        self._rest.stop()
        self._fine = False
        self._asked = None
        self.update()

    def _draw_finely(self) -> None:
        self._fine = True
        self._asked = None
        self.update()

    # Painting

    def _view(self) -> View:
        """What is to be drawn now, in px of the screen."""
        ratio = self.devicePixelRatioF()
        line, _ = self._chosen()
        return View(
            bodies=self.bodies,
            eye=Camera(self.eye.turn, self.eye.tip, self.eye.centre, self.eye.scale / ratio),
            wide=max(int(self.width() * ratio), 8),
            tall=max(int(self.height() * ratio), 8),
            palette=current(),
            chosen=self.desk.piece or "",
            run=line.key if line else "",
            cut=self.cut,
            fine=self._fine,
            fired=self.space.head.cylinders if self.space is not None else 1,
            ratio=ratio,
            flat=self._plain,
            moves=self.moves,
        )

    def _ask(self) -> None:
        self._asked = self._view()
        self.renderer.ask(self._asked)

    def ask_small(self, projects: list[Project]) -> None:
        """Have small pictures of documents drawn."""
        ratio = self.devicePixelRatioF()
        wide, tall = SMALL
        self.renderer.ask_small(
            [Small(project=one, wide=wide, tall=tall, palette=current(), ratio=ratio, flat=self._plain) for one in projects]
        )

    def render_image(self) -> QImage:
        """The bodies without words as they are now, in px of the screen; waits for them."""
        self._ask()
        found = self.renderer.wait()
        return found if found is not None else QImage()

    def settle(self) -> None:
        """Have the picture of this moment, finely drawn: for paper, and where a picture is taken of the window."""
        self._rest.stop()
        self._fine = True
        self._image = self.render_image()
        self.update()

    def _drawn(self, view: View, image: QImage) -> None:
        """A picture came; one that is late is shown while the next is drawn."""
        self._image = image
        if view is self._asked and not view.fine:
            self._rest.start()
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The bodies, and words and handles over them."""
        painter = QPainter(self)
        if self._asked is None:
            self._ask()
        p = current()
        painter.fillRect(self.rect(), QColor(p.raised if p.name == "light" else p.ground))
        if self._image is None:
            painter.setPen(QColor(p.soft))
            painter.setFont(font(14))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Drawing in progress"))
        else:
            self._paint_over(painter, self._image)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _paint_over(self, painter: QPainter, image: QImage) -> None:
        """The picture of the bodies, and what stands over it."""
        if not image.isNull():
            painter.drawImage(0, 0, image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.layout_ is not None and self.space is not None:
            self._numbers(painter, self.space, self.layout_)
            self._order(painter, self.space)
            self._nearness(painter)
            self._ends(painter, self.layout_)
            self._handles(painter)
            self._spot(painter)
            self._taped(painter)
        self._scale(painter)
        self._section(painter)
        self._triad(painter)

    def _at(self, point: np.ndarray) -> QPointF:
        x, y, _ = self.eye.seen(point, self.width(), self.height())[0]
        return QPointF(float(x), float(y))

    def _plate(self, painter: QPainter, at: QPointF, text: str, *, state: str = "", strong: bool = False) -> None:
        """Words on a plate, kept within the picture."""
        p = current()
        painter.setFont(font(13, strong=strong))
        wide = painter.fontMetrics().horizontalAdvance(text) + 12 + (16 if state else 0)
        rect = QRectF(at.x(), at.y() - 11, wide, 21)
        rect.moveLeft(min(max(rect.left(), 4.0), max(self.width() - wide - 4.0, 4.0)))
        rect.moveTop(min(max(rect.top(), 4.0), self.height() - 25.0))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.setBrush(colour(p.panel, 0.93))
        painter.drawRoundedRect(rect, 3, 3)
        left = rect.left() + 6
        if state:
            draw_state(painter, QRectF(left, rect.top() + 5, 11, 11), state)
            left += 16
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(left, rect.top(), wide, rect.height()), Qt.AlignmentFlag.AlignVCenter, text)

    def _numbers(self, painter: QPainter, space: Space, layout: Layout) -> None:
        """The cylinders at their ports, in the colour of their place in the firing order."""
        p = current()
        shades = colours(max(len(space.order), 1))
        fired = {c: n for n, c in enumerate(space.order)}
        painter.setFont(font(12, strong=True))
        for cylinder, port in enumerate(layout.ports, 1):
            at = self._at(port.origin + np.array([0.0, 1.35 * space.head.port_height, 0.0]))
            circle = QRectF(at.x() - 8, at.y() - 8, 16, 16)
            painter.setBrush(QColor(p.panel))
            painter.setPen(QPen(QColor(shades[fired.get(cylinder, 0) % len(shades)]), 2.4))
            painter.drawEllipse(circle)
            painter.setPen(QColor(p.ink))
            painter.drawText(circle, Qt.AlignmentFlag.AlignCenter, str(cylinder))

    def _order(self, painter: QPainter, space: Space) -> None:
        """The firing order in its colours, at the foot of the picture."""
        p = current()
        shades = colours(max(len(space.order), 1))
        step = 21.0
        left = self.width() - step * len(space.order) - 8.0
        if left < 0.45 * self.width() or len(space.order) < 2:
            return
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        words = tr("firing order")
        wide = painter.fontMetrics().horizontalAdvance(words) + 8.0
        painter.setPen(QPen(QColor(p.line), 1))
        painter.setBrush(colour(p.panel, 0.93))
        painter.drawRoundedRect(QRectF(left - wide - 6.0, self.height() - 29.0, self.width() - left + wide + 2.0, 25.0), 3, 3)
        painter.setPen(QColor(p.soft))
        painter.drawText(QRectF(left - wide, self.height() - 26.0, wide, 18.0), Qt.AlignmentFlag.AlignVCenter, words)
        painter.setFont(font(12, strong=True))
        for number, cylinder in enumerate(space.order):
            circle = QRectF(left + step * number, self.height() - 25.0, 16.0, 16.0)
            painter.setBrush(QColor(p.panel))
            painter.setPen(QPen(QColor(shades[number % len(shades)]), 2.4))
            painter.drawEllipse(circle)
            painter.setPen(QColor(p.ink))
            painter.drawText(circle.adjusted(-2, 0, 2, 0), Qt.AlignmentFlag.AlignCenter, str(cylinder))

    def _ends(self, painter: QPainter, layout: Layout) -> None:
        """How the chosen run's end misses what it must meet, and every end that does not meet."""
        chosen, _ = self._chosen()
        for line in layout.lines:
            text, state = show.at_end(line, self.desk.text)
            if not text or (line is not chosen and state in ("ok", "to_do")):
                continue
            at = self._at(line.end.origin)
            apart = float(np.linalg.norm(line.goal.origin - line.end.origin)) if line.goal is not None else 0.0
            if line.goal is not None and state in ("marginal", "fails") and apart > 1e-3:
                goal = self._at(line.goal.origin)
                painter.setPen(QPen(QColor(current().fails), 2.6))
                painter.drawLine(at, goal)
                beside = QPointF(0.5 * (at.x() + goal.x()) + 14.0, 0.5 * (at.y() + goal.y()) - 18.0)
                self._plate(painter, beside, self.desk.text(apart, "length", places=0), strong=True)
            draw_state(painter, QRectF(at.x() - 7, at.y() - 7, 14, 14), state)
            if line is chosen:
                self._plate(painter, QPointF(8.0, 16.0), text, state=state)

    def show_near(self, found: list[Near]) -> None:
        """Draw a line with its length at what is too near to what stands in the bay."""
        self.near = found
        self.update()

    def _nearness(self, painter: QPainter) -> None:
        """Where a part comes too near to something in the bay: from one skin to the other, and how far that is."""
        for one in self.near:
            at, other = self._at(one.point), self._at(one.other)
            painter.setPen(QPen(QColor(current().fails), 2.6))
            painter.drawLine(at, other)
            painter.setBrush(QColor(current().fails))
            painter.drawEllipse(at, 3.0, 3.0)
            painter.drawEllipse(other, 3.0, 3.0)
            words = tr_format("{0}: {1}", one.obstacle.name, self.desk.text(one.gap, "length", places=0))
            self._plate(painter, QPointF(0.5 * (at.x() + other.x()) + 12.0, 0.5 * (at.y() + other.y()) - 14.0), words)

    def show_moves(self, moves: dict[str, np.ndarray | None]) -> None:
        """Draw some bodies (`scene.name_of`) elsewhere, or not at all (None)."""
        if moves or self.moves:
            self.moves = moves
            self._changed()

    def point_at(self, spot: tuple[np.ndarray, str] | None) -> None:
        """A place (3) m that is pointed at with words, or none."""
        self.spot = spot
        self.update()

    def _spot(self, painter: QPainter) -> None:
        if self.spot is None:
            return
        at = self._at(self.spot[0])
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(current().accent), 3.0))
        painter.drawEllipse(at, 11.0, 11.0)
        self._plate(painter, at + QPointF(18.0, -14.0), self.spot[1], strong=True)

    def _handles(self, painter: QPainter) -> None:
        p = current()
        if self.part:
            self._plate(painter, QPointF(8.0, 16.0), tr(PARTS[self.part]), strong=True)
        for handle in self.handles():
            at = self._at(handle.point)
            way = self._at(handle.next) - at
            size = math.hypot(way.x(), way.y())
            unit = QPointF(way.x() / size, way.y() / size) if size > 1e-6 else QPointF(0.0, -1.0)
            across = QPointF(-unit.y(), unit.x())
            held = self._held is not None and self._held.name == handle.name
            painter.setPen(QPen(QColor(p.panel), 1.5))
            painter.setBrush(QColor(p.accent if held else p.ink))
            # An arrow both ways along what a pull does; a roll's is bent.
            for sign in (1.0, -1.0):
                tip = at + unit * (15.0 * sign)
                painter.drawPolygon(QPolygonF([tip, at + unit * (7.0 * sign) + across * 5.0, at + unit * (7.0 * sign) - across * 5.0]))
            if handle.name == show.ROLL:
                painter.drawEllipse(at, 4.5, 4.5)
            else:
                painter.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8))
            if handle.name in WAYS:
                words = f"{tr(TITLES[handle.name])} {self.desk.text(handle.value, 'length', places=0)}"
                # One to the left, one above, one below: seen from a corner the arrows stand close together.
                aside = -31.0 - painter.fontMetrics().horizontalAdvance(words) if handle.name == OUT else 18.0
                self._plate(painter, at + QPointF(aside, {UP: -14.0, OUT: 4.0, ALONG: 18.0}[handle.name]), words, strong=held)
            elif held:
                value = self.desk.text(handle.value, "angle" if handle.name != show.LENGTH else "length")
                self._plate(painter, at + QPointF(16, -20), f"{tr(TITLES[handle.name])} {value}", strong=True)

    def _scale(self, painter: QPainter) -> None:
        """How long a tenth of a metre, or four inches, are in a parallel view."""
        p, inch = current(), self.desk.unit("length") == "in"
        size = (4.0 * INCH if inch else 0.1) / self.eye.scale
        if not 24.0 < size < 0.4 * self.width():
            return
        left, y = 112.0, self.height() - 14.0
        painter.setPen(QPen(QColor(p.ink), 1.4))
        painter.drawLine(QPointF(left, y), QPointF(left + size, y))
        for x in (left, left + size):
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
        painter.setFont(font(12))
        painter.drawText(QPointF(left + 4, y - 4), "4 in" if inch else "100 mm")

    def _knob(self) -> QRectF:
        """Where the section plane is pulled: nearer to who looks is up."""
        middle = 0.5 * self.height() - (self.cut or 0.0) / self.eye.scale
        return QRectF(self.width() - 30.0, min(max(middle, 24.0), self.height() - 60.0) - 9.0, 22.0, 18.0)

    def _section(self, painter: QPainter) -> None:
        """Where the section plane lies between front and back, with its knob."""
        if self.cut is None:
            return
        p, knob = current(), self._knob()
        painter.setPen(QPen(QColor(p.soft), 1.4))
        painter.drawLine(QPointF(knob.center().x(), 20.0), QPointF(knob.center().x(), self.height() - 56.0))
        painter.setPen(QPen(QColor(p.panel), 1.5))
        painter.setBrush(QColor(p.accent))
        painter.drawRoundedRect(knob, 4, 4)
        self._plate(painter, QPointF(knob.left() - 70.0, knob.center().y()), tr("Section"))

    def _triad(self, painter: QPainter) -> None:
        """Which way is up, along the crank, out from the head."""
        p = current()
        origin = QPointF(40.0, self.height() - 40.0)
        painter.setFont(font(12))
        for way, words in ((np.array([1.0, 0, 0]), tr("along")), (np.array([0, 1.0, 0]), tr("up")), (np.array([0, 0, 1.0]), tr("out"))):
            x, y, _ = self.eye.axes @ way
            tip = origin + QPointF(24.0 * x, -24.0 * y)
            painter.setPen(QPen(QColor(p.soft), 1.6))
            painter.drawLine(origin, tip)
            if math.hypot(x, y) > 0.3:
                room = QRectF(tip.x() + 12.0 * x - 24, tip.y() - 12.0 * y - 8, 48, 16)
                wide = painter.fontMetrics().horizontalAdvance(words) + 8.0
                ground = QColor(p.raised)
                ground.setAlphaF(0.8)  # whatever dark thing stands behind them
                painter.setBrush(ground)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.drawRoundedRect(QRectF(room.center().x() - 0.5 * wide, room.top(), wide, room.height()), 4.0, 4.0)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QColor(p.soft))
                painter.drawText(room, Qt.AlignmentFlag.AlignCenter, words)

    # Hands

    def handles(self) -> list[show.Handle]:
        """Handles of the chosen piece."""
        if self.part and self.layout_ is not None:
            return list(part_handles(self.desk.project, self.part, self.layout_))
        line, part = self._chosen()
        if line is None or part is None or not show.shown(line):
            return []
        return list(show.handles(self.desk.project, line, part.segment.id))

    def pick(self, at: QPointF) -> str:
        """Key of the piece that is seen at a point, empty for none."""
        if self.layout_ is None:
            return ""
        best, found = -math.inf, ""
        for line in self.layout_.lines:
            if not show.shown(line) or not line.placed:
                continue
            run = trace(line.placed)
            seen = self.eye.seen(run.points, self.width(), self.height())
            hit = np.hypot(seen[:, 0] - at.x(), seen[:, 1] - at.y()) <= run.radius / self.eye.scale + 2.0
            if hit.any():
                n = int(np.where(hit, seen[:, 2] + run.radius, -math.inf).argmax())
                if seen[n, 2] > best:
                    best, found = float(seen[n, 2]), line.placed[int(run.piece[n])].segment.id
        return found

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A handle is taken, else it may become a walk."""
        self._pressed = self._last = event.position()
        self._moved = False
        self._held = None
        self._cutting = self._knob().contains(self._pressed) and self.cut is not None
        if event.button() == Qt.MouseButton.LeftButton and not self._cutting:
            for handle in self.handles():
                at = self._at(handle.point)
                if math.hypot(at.x() - self._pressed.x(), at.y() - self._pressed.y()) <= NEAR:
                    self._held = handle
                    self.desk.session.history.seal()
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Pull, walk round, or shift."""
        here = event.position()
        if event.buttons() == Qt.MouseButton.NoButton:
            near = any(math.hypot(*(self._at(h.point) - here).toTuple()) <= NEAR for h in self.handles())
            self.setCursor(Qt.CursorShape.PointingHandCursor if near or self.pick(here) else Qt.CursorShape.ArrowCursor)
            return
        by = here - self._last
        if self._cutting:
            self._set_section(self.cut - by.y() * self.eye.scale if self.cut is not None else 0.0)
            self._last = here
            return
        if math.hypot(*(here - self._pressed).toTuple()) > 3.0:
            self._moved = True
        if not self._moved:
            return
        if self._held is not None:
            self._pull(here, fine=bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        elif event.buttons() & (Qt.MouseButton.RightButton | Qt.MouseButton.MiddleButton):
            self.eye.shift(by.x(), -by.y())
            self._changed()
        else:
            self.eye.orbit(-math.radians(0.45) * by.x(), math.radians(0.45) * by.y())
            self._changed()
        self._last = here

    def _pull(self, here: QPointF, *, fine: bool) -> None:
        handle = self._held
        assert handle is not None
        way = self._at(handle.next) - self._at(handle.point)
        size = way.x() ** 2 + way.y() ** 2
        by = here - self._pressed
        real = float(np.linalg.norm(handle.next - handle.point))
        if math.sqrt(size) * self.eye.scale > AWAY * real:
            more = handle.by * (by.x() * way.x() + by.y() * way.y()) / size
        else:
            # It moves towards or away from who looks: up is more.
            more = -by.y() * (self.eye.scale if handle.name == show.LENGTH else math.radians(0.5))
        self.put(handle, handle.value + more, fine=fine)

    def put(self, handle: show.Handle, value: float, *, fine: bool = False) -> None:
        """Another value of what a handle changes, in its steps; a tenth of them where it is `fine`."""
        steps = fabrication_steps(self.desk.project)
        step = {show.LENGTH: steps.length, show.ANGLE: steps.angle, show.ROLL: steps.roll}.get(handle.name, 0.001)
        if steps.blocks and handle.name == show.LENGTH:
            step = steps.blocks
        value = show.stepped(handle.name, value, 0.1 * step if fine else step)
        length = handle.name not in (show.ANGLE, show.ROLL)
        quantity = Quantity(round(1e3 * value, 3), "mm", "length") if length else Quantity(round(math.degrees(value), 3), "°", "angle")
        try:
            self.desk.edit(handle.place, quantity, merge_key=f"pull:{handle.place}")
        except EntryError as error:
            self.desk.notice.emit(str(error))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A click chooses; a pull is done."""
        if self._cutting:
            self._cutting = False
        elif self._held is not None:
            self._held = None
            self.desk.session.history.seal()
        elif not self._moved and event.button() == Qt.MouseButton.LeftButton and self.tape is not None:
            self.hold_tape(event.position())
        elif not self._moved and event.button() == Qt.MouseButton.LeftButton:
            key = self.pick(event.position())
            self.choose_part("" if key or self.space is None else self._part_at(event.position()))
            if key:
                self.piece_chosen.emit(key)
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Nearer or farther, about where the pointer is."""
        factor = 1.0015 ** event.angleDelta().y()
        at = event.position()
        across, up = at.x() - 0.5 * self.width(), 0.5 * self.height() - at.y()
        self.eye.shift(-across, -up)
        self.eye.zoom(factor)
        self.eye.shift(across, up)
        self._changed()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Walk with the arrows, 1 to 4 the views, Page keys from piece to piece, L, B, R more length, bend, roll (with
        Shift less), X cuts, plus and minus nearer and farther."""
        key, shift = event.key(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        turns = {Qt.Key.Key_Left: (-STEP, 0.0), Qt.Key.Key_Right: (STEP, 0.0), Qt.Key.Key_Up: (0.0, STEP), Qt.Key.Key_Down: (0.0, -STEP)}
        changes = {Qt.Key.Key_L: show.LENGTH, Qt.Key.Key_B: show.ANGLE, Qt.Key.Key_R: show.ROLL}
        if key in turns:
            self.eye.orbit(*turns[Qt.Key(key)])
            self._changed()
        elif key in VIEW_KEYS:
            self.look(VIEW_KEYS[Qt.Key(key)])
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._next(1 if key == Qt.Key.Key_PageDown else -1)
        elif key in changes:
            self._step(changes[Qt.Key(key)], -1.0 if shift else 1.0)
        elif key == Qt.Key.Key_N:
            self.see_near()
        elif key == Qt.Key.Key_X:
            self.set_cut(self.cut is None)
        elif key in (Qt.Key.Key_Comma, Qt.Key.Key_Period) and self.cut is not None:
            self._set_section(self.cut + (0.01 if key == Qt.Key.Key_Period else -0.01))
        elif key == Qt.Key.Key_T:
            self._next_part()
        elif self.part and key in PART_KEYS:
            self._move_part(PART_KEYS[Qt.Key(key)], -0.01 if shift else 0.01)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.eye.zoom(1.2)
            self._changed()
        elif key == Qt.Key.Key_Minus:
            self.eye.zoom(1.0 / 1.2)
            self._changed()
        else:
            super().keyPressEvent(event)

    def _part_at(self, at: QPointF) -> str:
        assert self.space is not None
        return part_at(self.bodies, self.eye, self.width(), self.height(), at, parts_of(self.space))

    def choose_part(self, part: str) -> None:
        """Give a part (of `PARTS`) its arrows; empty for none."""
        if part != self.part:
            self.part = part
            self.part_chosen.emit(part)
            self.update()

    def _next_part(self) -> None:
        """The next part that stands by its measures, and then none."""
        if self.space is not None:
            known = ["", *parts_of(self.space)]
            self.choose_part(known[(known.index(self.part) + 1) % len(known)] if self.part in known else known[-1])

    def _move_part(self, name: str, by: float) -> None:
        for handle in self.handles():
            if handle.name == name:
                self.put(handle, handle.value + by)

    def _set_section(self, cut: float) -> None:
        self.cut = min(max(cut, -3.0), 3.0)
        self._changed()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """On an arrow: its entry, to be typed."""
        for handle in self.handles():
            at = self._at(handle.point)
            if math.hypot(at.x() - event.position().x(), at.y() - event.position().y()) <= NEAR:
                self.desk.go_to_place(handle.place)

    def _next(self, by: int) -> None:
        if self.layout_ is None:
            return
        keys = [r.id for r in show.rows(self.desk.project, self.layout_, self.desk.text) if r.kind != "head"]
        if keys:
            now = keys.index(self.desk.piece) if self.desk.piece in keys else -by
            self.piece_chosen.emit(keys[(now + by) % len(keys)])

    def _step(self, name: str, sign: float) -> None:
        steps = fabrication_steps(self.desk.project)
        step = {
            show.LENGTH: steps.blocks or steps.length or 0.001,
            show.ANGLE: steps.angle or math.radians(1.0),
            show.ROLL: steps.roll or math.radians(1.0),
        }[name]
        for handle in self.handles():
            if handle.name == name:
                self.put(handle, handle.value + sign * step)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another size: another picture."""
        super().resizeEvent(event)
        self._changed()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """First shown, everything is in the picture."""
        super().showEvent(event)
        self.take()


__all__ = ["TITLES", "VIEWS", "VIEW_TITLES", "LayoutView"]
