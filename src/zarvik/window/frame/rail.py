"""The build rail: the steps in the order of the trade, each with its state."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from zarvik.core.limits.limits import HOLDS, OPEN, ORDER
from zarvik.project.language.language import tr
from zarvik.window.benches.bench import Entry
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import STATE_WORDS, draw_state
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import fitting
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

TALL, TWO_LINES, LOW = 54, 46, 30  # px: a row, the least with two lines, the least
EDGE, GAP = 8, 2


class RailStep(QWidget):
    """One step of the rail: its number in the order of work, its name, its state."""

    wanted = Signal(str)

    def __init__(self, entry: Entry) -> None:
        super().__init__()
        self.key = entry.key
        self.title = title = tr(entry.title)
        self.subjects = entry.subjects
        self.about = entry.note
        self.other = entry.other
        self.usual = title
        self.note = ""
        hint = tr(entry.hint)
        self.state = "open"
        self.chosen = False
        self.setToolTip(plain_tip(hint))
        self.setAccessibleName(title)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(TALL)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def set_state(self, state: str) -> None:
        """Show a state."""
        self.state = state
        self.setAccessibleDescription(tr(STATE_WORDS[state]))
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Mark, name, word of the state."""
        p = current()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(p.accent_soft if self.chosen else p.panel))
        if self.chosen:
            painter.fillRect(QRectF(0, 0, 4, self.height()), QColor(p.accent))
        tall = self.height() >= TWO_LINES
        middle = QRectF(40, 6, self.width() - 44, 24)
        if not tall:
            middle = QRectF(40, 0, self.width() - 44, self.height())
        if self.subjects:
            draw_state(painter, QRectF(15, middle.center().y() - 7, 15, 15), self.state)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(15, strong=self.chosen))
        painter.drawText(middle, Qt.AlignmentFlag.AlignVCenter, fitting(self.title, middle.width(), 15))
        painter.setPen(QColor(p.soft))
        painter.setFont(font(13))
        if tall:
            painter.drawText(
                QRectF(40, 28, self.width() - 44, 18),
                Qt.AlignmentFlag.AlignVCenter,
                tr(STATE_WORDS[self.state]) if self.subjects else self.note,
            )
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Open the bench."""
        self.wanted.emit(self.key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space opens, up and down go along the rail."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.wanted.emit(self.key)
        elif event.key() == Qt.Key.Key_Down:
            self.focusNextChild()
        elif event.key() == Qt.Key.Key_Up:
            self.focusPreviousChild()
        else:
            super().keyPressEvent(event)


class Rail(QWidget):
    """All steps; the more there are, the lower they get, down to one line, then they scroll."""

    def __init__(self, desk: Desk, steps: Sequence[Entry]) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(168)
        self.desk = desk
        self.steps = {e.key: RailStep(e) for e in steps}
        body = QWidget()
        body.setObjectName("panel")
        self.area = QScrollArea(self)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setWidget(body)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.area)
        layout = QVBoxLayout(body)
        layout.setContentsMargins(0, EDGE, 0, EDGE)
        layout.setSpacing(GAP)
        for step in self.steps.values():
            layout.addWidget(step)
            step.wanted.connect(desk.bench_wanted)
        layout.addStretch(1)
        desk.verdicts_changed.connect(self.refresh)
        desk.document_changed.connect(self._count)
        self._count()

    def _count(self) -> None:
        for step in self.steps.values():
            if step.other is not None:
                step.title = step.other(self.desk.project) or step.usual
                step.setAccessibleName(step.title)
                step.update()
            if step.about is not None:
                step.note = step.about(self.desk.project)
                step.setAccessibleDescription(step.note)
                step.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Rows share the height."""
        super().resizeEvent(event)
        room = (self.height() - 2 * EDGE) // max(len(self.steps), 1) - GAP
        for step in self.steps.values():
            step.setFixedHeight(min(max(room, LOW), TALL))

    def choose(self, key: str) -> None:
        """Mark a step as the one that is shown."""
        for step in self.steps.values():
            step.chosen = step.key == key
            step.update()
        if key in self.steps:
            self.area.ensureWidgetVisible(self.steps[key], 0, EDGE)

    def refresh(self) -> None:
        """The state of a step is its worst verdict. What is open does not hide what is tight, but nothing holds while something is
        open."""
        answer = self.desk.answer
        for step in self.steps.values():
            if not step.subjects:
                continue
            if answer is None:
                step.set_state(OPEN)
                continue
            states = {v.state for v in answer.verdicts if v.about.partition(":")[0] in step.subjects}
            weak = states - {HOLDS, OPEN}
            step.set_state(min(weak, key=lambda s: ORDER[s]) if weak else HOLDS if states == {HOLDS} else OPEN)
