"""A design as a card: its pressure run in small, the figures in which it differs, what it is bound by."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from zarvik.core.limits.limits import STATE_WORDS
from zarvik.project.language.language import tr
from zarvik.window.benches.designs.presenter import Card
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.figure_rows import draw_mark
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import fitting, width, wrapped
from zarvik.window.run.profile import lay_out
from zarvik.window.theme.palette import charge_colour, current, gas_colour
from zarvik.window.theme.style import font

WIDE, HIGH, LINE = 190, 162, 14.0
RUN_TOP, RUN_BOTTOM = 27.0, 58.0


class DesignCard(QWidget):
    """One card; a click or Enter looks at its design."""

    looked = Signal(int)

    def __init__(self, number: int) -> None:
        super().__init__()
        self.number = number
        self.card: Card | None = None
        self.setFixedSize(WIDE, HIGH)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_card(self, card: Card) -> None:
        """Fill the card."""
        self.card = card
        state = tr(STATE_WORDS[card.state]) if card.state else tr("not checked yet")
        self.setAccessibleName(f"{card.mark}: {card.name}, {state}" + (tr(", chosen") if card.chosen else ""))
        self.setAccessibleDescription(", ".join(f"{a} {b}" for a, b in card.rows) + f". {card.bound}")
        self.setToolTip(plain_tip(card.bound))
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Number, name, run, figures, what binds it."""
        p, card = current(), self.card
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(p.panel))
        if card is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(self.rect()).adjusted(1.0, 1.0, -1.0, -1.0)
        painter.setPen(QPen(QColor(p.accent if card.chosen or self.hasFocus() else p.line), 2.0 if card.chosen else 1.0))
        painter.setBrush(QColor(p.accent_soft if card.chosen else p.raised))
        painter.drawRoundedRect(frame, 4, 4)
        painter.setFont(font(13, strong=True))
        draw_mark(painter, QPointF(18, 16), card.mark, strong=card.chosen)
        if card.state:
            draw_state(painter, QRectF(WIDE - 24, 9, 13, 13), card.state)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(13, strong=True))
        painter.drawText(QPointF(34, 21), fitting(card.name, WIDE - 62.0, 13, strong=True))
        self._run(painter, card)
        y = RUN_BOTTOM + 14.0
        for title, text in card.rows:
            painter.setFont(font(12))
            painter.setPen(QColor(p.soft))
            painter.drawText(QPointF(10, y), title)
            painter.setFont(font(12, strong=True))
            painter.setPen(QColor(p.ink))
            painter.drawText(QPointF(WIDE - 10 - width(text, 12, strong=True), y), text)
            y += LINE
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        for line in wrapped(card.bound, WIDE - 20.0, 12)[:2] if card.bound else []:
            painter.drawText(QPointF(10, y), line)
            y += 13.0
        painter.end()

    @staticmethod
    def _run(painter: QPainter, card: Card) -> None:
        """The pressure run without its words; the strokes where it is broken are left out."""
        p = current()
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(10, RUN_BOTTOM), QPointF(WIDE - 10, RUN_BOTTOM))
        if card.point is None:
            return
        # Laid out as large as the one over the bench, drawn small.
        profile = lay_out(card.point, left=0.0, right=1100.0, top=0.0, bottom=112.0)
        across, up = (WIDE - 20.0) / 1100.0, (RUN_BOTTOM - RUN_TOP) / 112.0

        def at(x: float, y: float) -> QPointF:
            return QPointF(10.0 + x * across, RUN_TOP + y * up)

        painter.setPen(Qt.PenStyle.NoPen)
        for span in profile.spans:
            if not span.broken:
                painter.setBrush(gas_colour(span.before) if span.hot else charge_colour(span.before))
                painter.drawPolygon(
                    QPolygonF(
                        [
                            at(span.left, profile.base),
                            at(span.left, span.top_in),
                            at(span.right, span.top_out),
                            at(span.right, profile.base),
                        ]
                    )
                )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        for span in profile.spans:
            painter.drawLine(at(span.left, span.top_in), at(span.right, span.top_out))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Look at it."""
        self.looked.emit(self.number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space looks at it."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.looked.emit(self.number)
        else:
            super().keyPressEvent(event)


class CardRow(QScrollArea):
    """All cards beside each other; what has no room is scrolled to."""

    looked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setFixedHeight(HIGH + 11)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        self._row = QHBoxLayout(inside)
        self._row.setContentsMargins(0, 0, 0, 10)
        self._row.setSpacing(7)
        self._row.addStretch(1)
        self.setWidget(inside)
        self.cards: list[DesignCard] = []

    def sizeHint(self) -> QSize:
        """A row of cards."""
        return QSize(700, HIGH + 12)

    def show_cards(self, cards: list[Card]) -> None:
        """One widget for each card, kept and refilled."""
        while len(self.cards) < len(cards):
            widget = DesignCard(len(self.cards))
            widget.looked.connect(self.looked)
            self._row.insertWidget(len(self.cards), widget)
            self.cards.append(widget)
        for widget, card in zip(self.cards, cards, strict=False):
            widget.show_card(card)
            widget.show()
            if card.chosen:
                self.ensureWidgetVisible(widget, 8, 0)
        for widget in self.cards[len(cards) :]:
            widget.hide()
        self.setVisible(bool(cards))
