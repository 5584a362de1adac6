"""The verdict: every check with its margin, worst first, each with what would cure it."""

from __future__ import annotations

from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QPushButton, QScrollArea, QWidget

from zarvik.core import calculations
from zarvik.core.checks import Verdict
from zarvik.core.limits.limits import HOLDS
from zarvik.project.language.language import tr
from zarvik.project.units.rendering import margin_text
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import STATE_WORDS, draw_state
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import spots, width, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import BASE, font

WIDTH = 296
LEFT, RIGHT, TOP = 12.0, 16.0, 7.0
ROOM = WIDTH - 10 - LEFT - RIGHT
LINE = 17.0


class Card(QWidget):
    """One verdict: a click or Enter opens what it speaks of, W its working, C carries out its
    cure. A figure in its sentence leads to its own working, an entry to its field."""

    seen = Signal(QWidget)

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.desk = desk
        self._now: tuple[object, ...] | None = None
        self.verdict: Verdict | None = None
        self.state = self.text = self.advice = ""
        self._title: list[str] = []
        self._lines: list[str] = []
        self._advice: list[str] = []
        self._links: list[tuple[QRectF, str]] = []
        self._at = -1  # the figure that the keys have chosen
        self._sheet: str | None = None
        self.cure = QPushButton(self)
        self.cure.setObjectName("cure")
        self.cure.clicked.connect(self._cure)
        self.cure.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_verdict(self, verdict: Verdict) -> int:
        """Fill the card; returns its height in px."""
        word = tr(STATE_WORDS[verdict.state])
        room = margin_text(verdict.margin, holds=verdict.state == HOLDS)
        word += f"  {room}" if room else ""
        (text, places), cure = self.desk.linked(verdict.text), self.desk.advice(verdict)
        if verdict.doubt is not None:
            more, found = self.desk.linked(verdict.doubt)
            text = text.rstrip(".") + ". "
            places += tuple((one + len(text), two + len(text), to) for one, two, to in found)
            text += more
        now = (tr(verdict.title), word, text, cure, bool(verdict.changes), places)
        if self.verdict is not None and now == self._now:
            self.verdict = verdict
            return self.height()
        self._now = now
        self.verdict, self.state, self.text, self.advice = verdict, word, text, cure
        self._sheet = calculations.of_verdict(verdict)
        self._title = wrapped(tr(verdict.title), ROOM - 24 - width(word) - 8, BASE, strong=True)
        self._lines = wrapped(text, ROOM)
        self._advice = wrapped(cure, ROOM) if cure and not verdict.changes else []
        top = TOP + 2 + LINE * len(self._title)
        self._links = [
            (QRectF(LEFT + one, top + LINE * number, two - one, LINE), address) for number, one, two, address in spots(self._lines, places)
        ]
        y = top + LINE * len(self._lines)
        y += LINE * len(self._advice) + (2 if self._advice else 0)
        self.cure.setVisible(bool(verdict.changes))
        if verdict.changes:
            lines = wrapped(cure, ROOM - 26)
            self.cure.setText("\n".join(lines))
            tip = tr("{0}. One step of undo takes it back (C)").format(cure)
            if self.cure.toolTip() != plain_tip(tip):
                self.cure.setToolTip(plain_tip(tip))
            tall = round(12 + LINE * len(lines))
            self.cure.setGeometry(round(LEFT), round(y + 4), round(ROOM), tall)
            y += tall + 4
        self.setAccessibleName(f"{tr(verdict.title)}: {word}")
        self.setAccessibleDescription(f"{text}. {cure}")
        if self.toolTip() != tr(verdict.basis):
            self.setToolTip(plain_tip(tr(verdict.basis)))
        self.update()
        return round(y + 8)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Mark, title, state, sentence, advice."""
        p, verdict = current(), self.verdict
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(p.panel))
        if verdict is None:
            return
        draw_state(painter, QRectF(LEFT + 1, TOP + 1, 14, 14), verdict.state)
        base = TOP + 13.0
        painter.setPen(QColor(p.ink))
        painter.setFont(font(strong=True))
        for i, line in enumerate(self._title):
            painter.drawText(QPointF(LEFT + 24, base + LINE * i), line)
        painter.setFont(font())
        y = base + LINE * len(self._title) + 2
        for line in self._lines:
            painter.drawText(QPointF(LEFT, y), line)
            y += LINE
        painter.setPen(QColor(p.soft))
        painter.drawText(QPointF(WIDTH - 10 - RIGHT - width(self.state), base), self.state)
        y += 2
        for line in self._advice:
            painter.drawText(QPointF(LEFT, y), line)
            y += LINE
        painter.setPen(QPen(QColor(p.accent), 1, Qt.PenStyle.DotLine))
        for area, _ in self._links:
            painter.drawLine(area.bottomLeft(), area.bottomRight())
        if self.hasFocus() and 0 <= self._at < len(self._links):
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(self._links[self._at][0].adjusted(-2, 1, 2, 1))
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(3, 2, -3, -2))
        painter.end()

    def _cure(self) -> None:
        if self.verdict is not None:
            self.desk.cure(self.verdict.title, self.verdict.changes)

    def _open(self) -> None:
        if self.verdict is not None:
            self.desk.go(self.verdict.about)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Open what it speaks of, or what the figure under the mouse leads to."""
        spot = event.position()
        address = next((a for area, a in self._links if area.contains(spot)), None)
        corner = WIDTH - 10 - RIGHT - width(self.state)
        if spot.y() < TOP + LINE and spot.x() >= corner and self._sheet:
            address = self._sheet  # the margin beside the title
        if address is not None:
            self.desk.follow(address)
        else:
            self._open()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter opens, W shows the working, C cures; left and right go from figure to figure, up and
        down from card to card."""
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            if 0 <= self._at < len(self._links):
                self.desk.follow(self._links[self._at][1])
            else:
                self._open()
        elif key == Qt.Key.Key_W and self._sheet:
            chosen = 0 <= self._at < len(self._links)
            self.desk.follow(self._links[self._at][1] if chosen else self._sheet)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self._links:
            step = 1 if key == Qt.Key.Key_Right else -1
            self._at = max(-1, min(self._at + step, len(self._links) - 1))
            self.update()
        elif key == Qt.Key.Key_C and self.verdict is not None and self.verdict.changes:
            self._cure()
        elif key == Qt.Key.Key_Down:
            self.focusNextChild()
        elif key == Qt.Key.Key_Up:
            self.focusPreviousChild()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Bring the card into sight."""
        super().focusInEvent(event)
        if event.reason() != Qt.FocusReason.MouseFocusReason:
            self.seen.emit(self)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """The ring goes, and no figure is chosen any more."""
        super().focusOutEvent(event)
        self._at = -1
        self.update()


class VerdictPanel(QScrollArea):
    """All verdicts, worst first; the cards are kept and refilled, and placed without a layout.

    While the hand moves, only the cards in sight are filled; the rest follow when it rests, or
    when one scrolls or goes to them.
    """

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("panel")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName(tr("Verdict"))
        self.inside = QWidget()
        self.inside.setObjectName("panel")
        self.inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.head = PlainLabel(tr("Verdict"), self.inside)
        self.head.setObjectName("group")
        self.head.setWordWrap(True)
        self.setWidget(self.inside)
        self.cards: list[Card] = []
        self._behind = False  # are there cards that still tell of the answer before?
        desk.verdicts_changed.connect(self._news)
        self.verticalScrollBar().valueChanged.connect(self._catch_up)

    def sizeHint(self) -> QSize:
        """A column."""
        return QSize(WIDTH, 500)

    def _news(self) -> None:
        self._show(all_of_them=self.desk.complete)

    def _catch_up(self) -> None:
        if self._behind:
            self.refresh()

    def refresh(self) -> None:
        """Show the newest verdicts, or what keeps the project from having any."""
        self._show(all_of_them=True)

    def _show(self, *, all_of_them: bool) -> None:
        self._behind = False
        result, answer = self.desk.result, self.desk.answer
        if answer is None:
            problems = result.problems if result else ()
            self._place(tr("No verdict: {0}").format("; ".join(p.text for p in problems)), [])
            return
        counts = {s: sum(v.state == s for v in answer.verdicts) for s in STATE_WORDS}
        order = ("fails", "tight", "open", "holds")
        words = [f"{counts[s]} {tr(STATE_WORDS[s])}" for s in order if counts[s]]
        # A verdict keeps its card when the order changes: most of them say the same as before.
        left = {card.verdict.id: card for card in self.cards if card.verdict is not None}
        spare = [card for card in self.cards if card.verdict is None]
        found = [left.pop(v.id, None) for v in answer.verdicts]
        spare += left.values()
        cards = [card or (spare.pop() if spare else self._new_card()) for card in found]
        top = self.verticalScrollBar().value()
        bottom = top + self.viewport().height()
        y, heights = self.head.geometry().bottom() + 4, []
        for card, verdict in zip(cards, answer.verdicts, strict=True):
            kept = card.verdict is not None and card.verdict.id == verdict.id
            if all_of_them or not kept or (y < bottom and y + card.height() > top):
                heights.append(card.show_verdict(verdict))
            else:
                self._behind = True
                heights.append(card.height())
            y += heights[-1]
        if cards + spare != self.cards:
            self.cards = cards + spare
            for before, behind in pairwise(cards):
                QWidget.setTabOrder(before, behind)
        self._place(tr("Verdict: {0}").format(", ".join(words)), heights)

    def _new_card(self) -> Card:
        card = Card(self.desk, self.inside)
        card.seen.connect(self._reached)
        return card

    def _reached(self, card: Card) -> None:
        self._catch_up()
        self.ensureWidgetVisible(card, 0, 4)

    def _place(self, head: str, heights: list[int]) -> None:
        if head != self.head.text():
            self.head.setText(head)
            lines = wrapped(head, ROOM, 15, strong=True)
            self.head.setGeometry(round(LEFT), 8, round(ROOM), 20 * len(lines) + 4)
        y = self.head.geometry().bottom() + 4
        for card, height in zip(self.cards, heights, strict=False):
            card.setGeometry(0, y, WIDTH - 10, height)
            if card.isHidden():
                card.show()
            y += height
        for card in self.cards[len(heights) :]:
            card.verdict = None
            card.hide()
        self.inside.resize(WIDTH - 10, y + 8)
