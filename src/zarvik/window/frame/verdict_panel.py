"""The verdict: every check with its margin, worst first, each with what would cure it."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from zarvik.core.checks import Verdict
from zarvik.window.desk import Desk
from zarvik.window.parts.marks import STATE_WORDS, draw_state
from zarvik.window.theme.style import STRONG

WIDTH = 296


class Mark(QWidget):
    """The shape of a state."""

    def __init__(self) -> None:
        super().__init__()
        self.state = "open"
        self.setFixedSize(16, 16)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw it."""
        painter = QPainter(self)
        draw_state(painter, QRectF(1, 1, 14, 14), self.state)
        painter.end()


class Card(QWidget):
    """One verdict: a click opens what it speaks of."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.verdict: Verdict | None = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 7, 16, 7)
        layout.setSpacing(3)
        head = QHBoxLayout()
        head.setSpacing(8)
        self.mark = Mark()
        self.title = QLabel()
        self.title.setStyleSheet(f'font-family: "{STRONG}"')
        self.title.setWordWrap(True)
        self.state = QLabel()
        self.state.setObjectName("soft")
        head.addWidget(self.mark)
        head.addWidget(self.title, 1)
        head.addWidget(self.state)
        layout.addLayout(head)
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.NoTextInteraction)
        layout.addWidget(self.text)
        self.advice = QLabel()
        self.advice.setWordWrap(True)
        self.advice.setObjectName("soft")
        layout.addWidget(self.advice)
        self._wrapped = ""
        self.cure = QPushButton()
        self.cure.setObjectName("cure")
        self.cure.clicked.connect(self._cure)
        layout.addWidget(self.cure)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedWidth(WIDTH - 2)

    def show_verdict(self, verdict: Verdict) -> None:
        """Fill the card."""
        self.verdict = verdict
        self.mark.state = verdict.state
        self.mark.update()
        self.title.setText(verdict.title)
        word = STATE_WORDS[verdict.state]
        if verdict.margin is not None and abs(verdict.margin) < 5:
            word += f"  {100 * verdict.margin:+.0f} %".replace("-", "−")
        self.state.setText(word)
        self.text.setText(self.desk.say(verdict.text))
        cure = self.desk.say(verdict.cure)
        self.advice.setText(cure)
        self.advice.setVisible(bool(cure) and not verdict.changes)
        self.cure.setVisible(bool(verdict.changes))
        self.cure.setToolTip(f"{cure}. One step of undo takes it back")
        self.cure.setAccessibleName(f"Cure: {cure}")
        self._wrap(cure)
        self.setToolTip(verdict.basis)

    def _wrap(self, text: str) -> None:
        """A button does not break its text; break it here."""
        if text == self._wrapped:
            return
        self._wrapped = text
        metrics = self.cure.fontMetrics()
        room = 236
        lines, line = [], ""
        for word in text.split(" "):
            longer = f"{line} {word}".strip()
            if metrics.horizontalAdvance(longer) > room and line:
                lines.append(line)
                line = word
            else:
                line = longer
        self.cure.setText("\n".join([*lines, line]))

    def _cure(self) -> None:
        if self.verdict is not None:
            self.desk.cure(self.verdict.title, self.verdict.changes)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Open what it speaks of."""
        if self.verdict is not None:
            self.desk.go(self.verdict.about)


class VerdictPanel(QScrollArea):
    """All verdicts, worst first; the cards are kept and refilled."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("panel")
        self.setFixedWidth(WIDTH)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        inside.setObjectName("panel")
        inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._layout = QVBoxLayout(inside)
        self._layout.setContentsMargins(0, 8, 0, 8)
        self._layout.setSpacing(0)
        self.head = QLabel("Verdict")
        self.head.setObjectName("group")
        self.head.setContentsMargins(12, 0, 0, 4)
        self._layout.addWidget(self.head)
        self._layout.addStretch(1)
        self.setWidget(inside)
        self.cards: list[Card] = []
        desk.result_changed.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """A column."""
        return QSize(WIDTH, 500)

    def refresh(self) -> None:
        """Show the newest verdicts, or what keeps the project from having any."""
        result, answer = self.desk.result, self.desk.answer
        if answer is None:
            problems = result.problems if result else ()
            self.head.setText("No verdict: " + "; ".join(p.text for p in problems))
            self.head.setWordWrap(True)
            for card in self.cards:
                card.hide()
            return
        counts = {s: sum(v.state == s for v in answer.verdicts) for s in STATE_WORDS}
        order = ("fails", "tight", "open", "holds")
        words = [f"{counts[s]} {STATE_WORDS[s]}" for s in order if counts[s]]
        self.head.setText("Verdict: " + ", ".join(words))
        while len(self.cards) < len(answer.verdicts):
            card = Card(self.desk)
            self.cards.append(card)
            self._layout.insertWidget(self._layout.count() - 1, card)
        for card, verdict in zip(self.cards, answer.verdicts, strict=False):
            card.show_verdict(verdict)
            card.show()
        for card in self.cards[len(answer.verdicts) :]:
            card.hide()
