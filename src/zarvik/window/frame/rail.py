"""The build rail: the steps in the order of the trade, each with its state."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.core.checks.verdict import ORDER
from zarvik.project.language import tr
from zarvik.window.benches.bench import Entry
from zarvik.window.desk import Desk
from zarvik.window.parts.guard import guarded
from zarvik.window.parts.marks import STATE_WORDS, draw_state
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


class Step(QWidget):
    """One step of the rail: its number in the order of work, its name, its state."""

    wanted = Signal(str)

    def __init__(self, entry: Entry) -> None:
        super().__init__()
        self.key = entry.key
        self.title = title = tr(entry.title)
        self.judged = entry.judged
        self.note = ""
        hint = tr(entry.hint)
        self.state = "open"
        self.chosen = False
        self.setToolTip(hint)
        self.setAccessibleName(title)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(54)

    def sizeHint(self) -> QSize:
        """A row."""
        return QSize(160, 54)

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
        if self.chosen:
            painter.fillRect(self.rect(), QColor(p.accent_soft))
            painter.fillRect(QRectF(0, 0, 4, self.height()), QColor(p.accent))
        if self.judged:
            draw_state(painter, QRectF(15, 11, 15, 15), self.state)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(15, strong=self.chosen))
        painter.drawText(
            QRectF(40, 6, self.width() - 44, 24), Qt.AlignmentFlag.AlignVCenter, self.title
        )
        painter.setPen(QColor(p.soft))
        painter.setFont(font(13))
        painter.drawText(
            QRectF(40, 28, self.width() - 44, 18),
            Qt.AlignmentFlag.AlignVCenter,
            tr(STATE_WORDS[self.state]) if self.judged else self.note,
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
    """All steps."""

    def __init__(self, desk: Desk, steps: Sequence[Entry]) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(168)
        self.desk = desk
        self.steps = {e.key: Step(e) for e in steps}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 8)
        layout.setSpacing(2)
        for step in self.steps.values():
            layout.addWidget(step)
            step.wanted.connect(desk.bench_wanted)
        layout.addStretch(1)
        desk.result_changed.connect(self.refresh)
        desk.rest_changed.connect(self.refresh)
        desk.document_changed.connect(self._count)
        self._count()

    def _count(self) -> None:
        kept = len(self.desk.project.variants)
        step = self.steps.get("compare")
        if step is not None:
            step.note = tr("{0} kept").format(kept) if kept else ""
            step.update()

    def choose(self, key: str) -> None:
        """Mark a step as the one that is shown."""
        for step in self.steps.values():
            step.chosen = step.key == key
            step.update()

    def refresh(self) -> None:
        """The state of a step is its worst verdict; what is open elsewhere does not hide it."""
        answer = self.desk.answer
        for key, step in self.steps.items():
            if not step.judged:
                continue
            if answer is None:
                step.set_state("open")
                continue
            states = [
                v.state
                for v in answer.verdicts
                if v.about.partition(":")[0] == key and v.state != "open"
            ]
            step.set_state(min(states, key=lambda s: ORDER[s]) if states else "open")
