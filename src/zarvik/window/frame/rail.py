"""The build rail: the phases in the order of the trade, each with its number and state."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from zarvik.core.limits.limits import OK, ORDER, STATE_WORDS, TO_DO
from zarvik.project.language.language import tr
from zarvik.window.benches import Phase
from zarvik.window.desk import Desk
from zarvik.window.frame.next_card import NextCard
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import fitting, width, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

TALL, TWO_LINES, LOW = 54, 44, 34  # px: a row, the least with two lines, the least
EDGE, GAP = 8, 2
STEP = 16.0  # px of a line of the name
WIDE, LEFT = 170, 42  # px of the rail; before the name: mark and number
NUMBERS = 46  # px of the rail that shows numbers alone


class RailStep(QWidget):
    """One phase in the rail: its number in the order of work, its name, its state."""

    wanted = Signal(str)

    def __init__(self, phase: Phase, number: int) -> None:
        super().__init__()
        self.phase, self.number = phase, number
        self.title = tr(phase.title)
        self.subjects = phase.subjects
        self.note = ""
        self.state = ""
        self.checking = False
        self.chosen = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(TALL)

    def set_name(self, name: str, tips: Sequence[str]) -> None:
        """Show what the document calls it; `tips`: what is done on each of its benches."""
        self.title = name
        self.setAccessibleName(f"{self.number} {name}")
        self.setToolTip(plain_tip("\n".join([name, *tips])))
        self.update()

    def set_state(self, state: str, *, checking: bool = False) -> None:
        """Show a state; none where no check speaks of it. Grey while it may still be another (`checking`)."""
        self.state, self.checking = state, checking
        self._tell()

    def set_note(self, note: str) -> None:
        """Show a few words about the document."""
        self.note = note
        self._tell()

    @property
    def words(self) -> str:
        """State and note."""
        return " · ".join(x for x in (tr(STATE_WORDS[self.state]) if self.state else "", self.note) if x)

    def _short(self, room: float) -> str:
        """State and note where there is room for both, else the first of them."""
        return self.words if width(self.words, 13) <= room else self.words.partition(" · ")[0]

    def _tell(self) -> None:
        self.setAccessibleDescription(self.words)
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Mark, name, word of the state."""
        p = current()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(p.accent_soft if self.chosen else p.panel))
        if self.chosen:
            painter.fillRect(QRectF(0, 0, 4, self.height()), QColor(p.accent))
        if self.width() < LEFT + 40:
            if self.state:
                draw_state(painter, QRectF(6, self.height() / 2 - 7, 14, 14), self.state, checking=self.checking)
            painter.setPen(QColor(p.ink))
            painter.setFont(font(14, strong=self.chosen))
            painter.drawText(QRectF(22, 0, self.width() - 22.0, self.height()), Qt.AlignmentFlag.AlignCenter, str(self.number))
            self._ring(painter)
            painter.end()
            return
        tall = self.height() >= TWO_LINES
        room = self.width() - LEFT - 4.0
        lines = wrapped(self.title, room, 14)
        if STEP * len(lines) > self.height():
            lines = [fitting(self.title, room, 14)]
        elif len(lines) > 1 and self.height() < TALL:
            tall = False
        high = STEP * len(lines) + 4.0
        middle = QRectF(LEFT, 4.0 if len(lines) == 1 else 1.0, room, high) if tall else QRectF(LEFT, 0, room, self.height())
        if self.state:
            draw_state(painter, QRectF(9, middle.center().y() - 7, 15, 15), self.state, checking=self.checking)
        painter.setPen(QColor(p.soft))
        painter.setFont(font(13))
        painter.drawText(QRectF(26, middle.top(), 14, middle.height()), Qt.AlignmentFlag.AlignCenter, str(self.number))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(14, strong=self.chosen and all(width(line, 14, strong=True) <= room for line in lines)))
        for number, line in enumerate(lines):
            share = middle.height() / len(lines)
            painter.drawText(QRectF(LEFT, middle.top() + share * number, room, share), Qt.AlignmentFlag.AlignVCenter, line)
        painter.setPen(QColor(p.soft))
        painter.setFont(font(13))
        if tall:
            painter.drawText(QRectF(LEFT, middle.bottom(), room, 16), Qt.AlignmentFlag.AlignVCenter, fitting(self._short(room), room, 13))
        self._ring(painter)
        painter.end()

    def _ring(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.setPen(QPen(QColor(current().accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Open the phase."""
        self.wanted.emit(self.phase.key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space opens, up and down go along the rail."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.wanted.emit(self.phase.key)
        elif event.key() == Qt.Key.Key_Down:
            self.focusNextChild()
        elif event.key() == Qt.Key.Key_Up:
            self.focusPreviousChild()
        else:
            super().keyPressEvent(event)


class _Area(QScrollArea):
    """Says when it has another height."""

    def __init__(self, resized: Callable[[], None]) -> None:
        super().__init__()
        self._resized = resized

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another height, other rows."""
        super().resizeEvent(event)
        self._resized()


class Rail(QWidget):
    """All steps; the more there are, the lower they get, down to one line, then they scroll."""

    phase_wanted = Signal(str)

    def __init__(self, desk: Desk, phases: Sequence[Phase]) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(WIDE)
        self.desk = desk
        self.steps = {phase.key: RailStep(phase, number) for number, phase in enumerate(phases, 1)}
        body = QWidget()
        body.setObjectName("panel")
        self.area = _Area(self.share)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setWidget(body)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.area, 1)
        self.next = NextCard(desk)
        self.wants_next = True
        whole.addWidget(self.next)
        layout = QVBoxLayout(body)
        layout.setContentsMargins(0, EDGE, 0, EDGE)
        layout.setSpacing(GAP)
        for step in self.steps.values():
            layout.addWidget(step)
            step.wanted.connect(self.phase_wanted)
        layout.addStretch(1)
        desk.checks_changed.connect(self.refresh)
        desk.document_changed.connect(self._count)
        self._count()

    def _count(self) -> None:
        for step in self.steps.values():
            project = self.desk.project
            step.set_name(step.phase.name(project), [entry.tip(project) for entry in step.phase.entries])
            step.set_note(step.phase.note(self.desk.project))

    def set_narrow(self, narrow: bool) -> None:
        """Numbers and marks alone, without names and the next steps."""
        self.setFixedWidth(NUMBERS if narrow else WIDE)
        self.next.setVisible(self.wants_next and not narrow)

    def share(self) -> None:
        """Rows share the height that the card below leaves them."""
        room = (self.area.height() - 2 * EDGE) // max(len(self.steps), 1) - GAP
        for step in self.steps.values():
            step.setFixedHeight(min(max(room, LOW), TALL))

    def choose(self, key: str) -> None:
        """Mark a phase as the one that is shown."""
        for step in self.steps.values():
            if step.chosen != (step.phase.key == key):
                step.chosen = not step.chosen
                step.update()
        if key in self.steps:
            self.area.ensureWidgetVisible(self.steps[key], 0, EDGE)

    def refresh(self) -> None:
        """The state of a step is its worst check. What is open does not hide what is tight, but nothing holds while something is
        open."""
        answer = self.desk.answer
        for step in self.steps.values():
            if not step.subjects:
                continue
            if answer is None:
                step.set_state(TO_DO)
                continue
            states = {v.state for v in answer.check_results if v.about.partition(":")[0] in step.subjects}
            weak = states - {OK, TO_DO}
            state = min(weak, key=lambda s: ORDER[s]) if weak else TO_DO if TO_DO in states else OK if states else ""
            step.set_state(state, checking=self.desk.checking)
