"""The checks: one line each, what can break something first; the chosen one in full below, with its cure."""

from __future__ import annotations

import math
from collections.abc import Collection

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QToolTip, QVBoxLayout, QWidget

from zarvik.core import calculations
from zarvik.core.checks import CheckResult
from zarvik.core.limits.limits import MARGINAL, OK, STATE_WORDS
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import margin_text
from zarvik.window.desk import Desk
from zarvik.window.frame.check_rows import ELSEWHERE, CheckRow, bar_place, check_rows, headline
from zarvik.window.parts.figure_text import FigureText
from zarvik.window.parts.marks import draw_state, state_colour
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.row_list import RowKind, RowList
from zarvik.window.parts.wrapping import fitting, width, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import BASE, font, panel

WIDTH = 296
HIGH = 26.0  # px of a line
LEFT = 12.0
BAR, FIX = 62.0, 36.0  # px


def state_words(check_result: CheckResult) -> str:
    """State and margin in words. Where the uncertainty alone keeps a check from failing, no figure is given: it may go either way."""
    word = tr(STATE_WORDS[check_result.state])
    if check_result.state == MARGINAL and check_result.margin is not None and check_result.margin < 0.0:
        return tr_format("{0}, could go either way", word)
    room = margin_text(check_result.margin, holds=check_result.state == OK)
    return f"{word} {room}" if room else word


def _row_words(row: CheckRow) -> str:
    if row.check_result is None:
        return ""
    words = state_words(row.check_result)
    return tr_format("{0}, with a fix", words) if row.check_result.changes else words


class CheckList(RowList):
    """One line a check: its mark, its name, its margin with the uncertainty of it, a button where it can be cured."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(tr("Checks"), RowKind(lambda r: r.key, lambda r: r.words, _row_words, self._may), HIGH)
        self.desk = desk
        self.subjects: Collection[str] = ()
        self._unfolded = False
        self.setObjectName("bare")

    @staticmethod
    def _may(row: CheckRow) -> bool:
        return row.check_result is not None or row.key == ELSEWHERE

    def fill(self) -> None:
        """Take up the newest checks."""
        answer = self.desk.answer
        check_results = answer.check_results if answer is not None else ()
        rows = check_rows(check_results, self.subjects, unfolded=self._unfolded)
        lost = self.key and self.key not in {row.key for row in rows}
        self.take(rows)
        if lost or not self.key:
            first = next((row for row in rows if row.check_result is not None), None)
            if first is not None:
                self.choose(first.key, tell=True)

    @property
    def check_result(self) -> CheckResult | None:
        """The chosen check."""
        row = self.chosen
        return row.check_result if row is not None else None

    def _fold(self) -> None:
        self._unfolded = not self._unfolded
        self.fill()

    def show_check(self, key: str) -> None:
        """Choose a check by its key, wherever it stands."""
        if not self.choose(key, tell=True) and not self._unfolded:
            self._fold()
            self.choose(key, tell=True)

    def fix_area(self, area: QRectF) -> QRectF:
        """Where the button of a line stands."""
        return QRectF(area.right() - 8.0 - FIX, area.top() + 3.0, FIX, HIGH - 6.0)

    def draw_row(self, painter: QPainter, area: QRectF, row: CheckRow, chosen: bool, focused: bool) -> None:
        """A heading, or mark, name, bar and button."""
        p = current()
        if chosen:
            self.draw_chosen(painter, area)
        if row.check_result is None:
            painter.setPen(QColor(p.soft))
            painter.setFont(font(13, strong=True))
            sign = "" if row.key != ELSEWHERE else "▸ " if row.folded else "▾ "
            painter.drawText(area.adjusted(LEFT, 4, -4, 0), Qt.AlignmentFlag.AlignVCenter, sign + row.words)
        else:
            draw_state(painter, QRectF(LEFT, area.center().y() - 7, 14, 14), row.check_result.state, checking=self.desk.checking)
            right = area.right() - 8.0 - FIX - 6.0
            margin = row.check_result.margin
            open_end = right if row.check_result.changes else area.right() - 8.0
            room = open_end - (LEFT + 22.0)
            # A name that has no room beside its bar goes without it: the details have the figure.
            has_bar = margin is not None and math.isfinite(margin) and width(row.words, 13) <= right - BAR - 8.0 - (LEFT + 22.0)
            if has_bar:
                room = right - BAR - 8.0 - (LEFT + 22.0)
                self._bar(painter, QRectF(right - BAR, area.center().y() - 4, BAR, 8), row.check_result)
            size = BASE if width(row.words) <= room else 13
            painter.setPen(QColor(p.ink))
            painter.setFont(font(size))
            painter.drawText(QRectF(LEFT + 22, area.top(), room, HIGH), Qt.AlignmentFlag.AlignVCenter, fitting(row.words, room, size))
            if row.check_result.changes:
                self._button(painter, self.fix_area(area))
        if focused:
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(1, 1, -1, -1))

    def _bar(self, painter: QPainter, area: QRectF, check_result: CheckResult) -> None:
        """From the limit in the middle to the margin, in the colour of the state, with the uncertainty as a whisker."""
        margin = check_result.margin if check_result.margin is not None else 0.0
        p = current()
        middle, half = area.center().x(), area.width() / 2.0
        painter.fillRect(area, QColor(p.line))
        at = middle + half * bar_place(margin)
        tone = QColor(p.soft) if self.desk.checking else state_colour(check_result.state)
        painter.fillRect(QRectF(min(middle, at), area.top(), abs(at - middle), area.height()), tone)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.drawLine(QPointF(middle, area.top() - 3), QPointF(middle, area.bottom() + 3))
        if check_result.band is not None and all(map(math.isfinite, check_result.band)):
            low, high = (middle + half * bar_place(edge) for edge in check_result.band)
            y = area.center().y()
            painter.drawLine(QPointF(low, y), QPointF(high, y))
            for x in (low, high):
                painter.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))

    def _button(self, painter: QPainter, area: QRectF) -> None:
        p = current()
        painter.setBrush(QColor(p.panel))
        painter.setPen(QPen(QColor(p.accent), 1))
        painter.drawRoundedRect(area, 3, 3)
        painter.setPen(QColor(p.accent))
        painter.setFont(font(13))
        painter.drawText(area, Qt.AlignmentFlag.AlignCenter, fitting(tr("Fix"), area.width(), 13))

    def cure(self) -> None:
        """Carry out the cure of the chosen check."""
        check_result = self.check_result
        if check_result is not None and check_result.changes:
            self.desk.cure(check_result.title, check_result.changes)

    def open(self) -> None:
        """Open what the chosen check is about; a heading folds."""
        if self.key == ELSEWHERE:
            self._fold()
        elif self.check_result is not None:
            self.desk.go(self.check_result.about)

    def work(self) -> None:
        """Open the calculation that the chosen check stands on."""
        sheet = calculations.of_check(self.check_result) if self.check_result is not None else None
        if sheet:
            self.desk.follow(sheet)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose a line, fold a heading, or press its button."""
        super().mousePressEvent(event)
        index = self.indexAt(event.position().toPoint())
        if event.button() != Qt.MouseButton.LeftButton or not index.isValid():
            return
        if self.key == ELSEWHERE and self.rows.items[index.row()].key == ELSEWHERE:
            self._fold()
        elif self.fix_area(QRectF(self.visualRect(index))).contains(event.position()):
            self.cure()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Open what the line is about."""
        index = self.indexAt(event.position().toPoint())
        if (
            index.isValid()
            and self.check_result is not None
            and not self.fix_area(QRectF(self.visualRect(index))).contains(event.position())
        ):
            self.open()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter opens, W shows the calculation, C carries out the cure."""
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.open()
        elif key == Qt.Key.Key_W:
            self.work()
        elif key == Qt.Key.Key_C:
            self.cure()
        else:
            super().keyPressEvent(event)

    def viewportEvent(self, event: QEvent) -> bool:
        """The tip of a line: its full name and margin; that of the button says what it changes."""
        if isinstance(event, QHelpEvent):
            index = self.indexAt(event.pos())
            row = self.rows.items[index.row()] if index.isValid() else None
            if row is not None and row.check_result is not None:
                over = row.check_result.changes and self.fix_area(QRectF(self.visualRect(index))).contains(QPointF(event.pos()))
                words = self.desk.advice(row.check_result) if over else f"{row.words}: {state_words(row.check_result)}"
                QToolTip.showText(event.globalPos(), plain_tip(words), self)
                return True
        return super().viewportEvent(event)


class CheckDetails(QWidget):
    """The chosen check in full: its sentence with the figures that lead somewhere, what cures it, where it is changed."""

    def __init__(self, desk: Desk, checks: CheckList) -> None:
        super().__init__()
        panel(self)
        self.desk, self.checks = desk, checks
        self.column = column = QVBoxLayout(self)
        column.setContentsMargins(round(LEFT), 6, 10, 8)
        column.setSpacing(4)
        self.title = PlainLabel()
        self.title.setObjectName("group")
        self.title.setWordWrap(True)
        self.state = PlainLabel()
        self.state.setObjectName("soft")
        self.text = FigureText(desk, "plain")
        self.advice = FigureText(desk, "soft")
        self.cure = QPushButton()
        self.cure.setObjectName("cure")
        self.cure.clicked.connect(lambda _=False: checks.cure())
        for widget in (self.title, self.state, self.text, self.advice, self.cure):
            column.addWidget(widget)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.go = QPushButton(tr("Go to it"))
        self.go.setToolTip(plain_tip(tr("Open the page where this is changed (Enter)")))
        self.go.clicked.connect(lambda _=False: checks.open())
        self.work = QPushButton(tr("Calculation"))
        self.work.setToolTip(plain_tip(tr("Open the calculation behind this check (W)")))
        self.work.clicked.connect(lambda _=False: checks.work())
        for button in (self.go, self.work):
            row.addWidget(button, 1)
        column.addLayout(row)
        column.addStretch(1)

    def show_check_result(self, check_result: CheckResult | None) -> None:
        """Say it; nothing where none is chosen."""
        for widget in (self.title, self.state, self.text, self.go, self.work):
            widget.setVisible(check_result is not None)
        if check_result is None:
            self.advice.hide()
            self.cure.hide()
            return
        self.title.setText(tr(check_result.title))
        self.state.setText(state_words(check_result))
        self.text.say_linked(
            [self.desk.linked(sentence) for sentence in (check_result.text, check_result.uncertainty) if sentence is not None]
        )
        cure = self.desk.advice(check_result)
        self.advice.setVisible(bool(cure) and not check_result.changes)
        self.advice.say_linked([(cure, ())] if cure and not check_result.changes else [])
        self.cure.setVisible(bool(check_result.changes))
        if check_result.changes:
            lines = wrapped(cure, self.width() - LEFT - 10.0 - 26.0)
            self.cure.setText("\n".join(lines))
            self.cure.setMinimumHeight(round(12 + 17.0 * len(lines)))
            self.cure.setToolTip(plain_tip(tr_format("{0}. One step of undo takes it back (C)", cure)))
        self.work.setEnabled(bool(calculations.of_check(check_result)))
        self.title.setToolTip(plain_tip(tr(check_result.basis)))
        self.state.setToolTip(plain_tip(tr(check_result.basis)))


class ChecksPanel(QWidget):
    """The list of checks and, below it, the chosen one."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        panel(self)
        self.desk = desk
        self.setAccessibleName(tr("Checks"))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(2)
        self.head = PlainLabel(tr("Checks"))
        self.head.setObjectName("group")
        self.head.setWordWrap(True)
        self.head.setContentsMargins(round(LEFT), 0, 8, 2)
        column.addWidget(self.head)
        self.checks = CheckList(desk)
        column.addWidget(self.checks, 1)
        self.details = CheckDetails(desk, self.checks)
        self.area = QScrollArea()
        self.area.setObjectName("panel")
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(self.details)
        column.addWidget(self.area)
        self.checks.row_chosen.connect(lambda _: self._detail())
        self.details.show_check_result(None)
        desk.checks_changed.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """A column."""
        return QSize(WIDTH, 500)

    def look_from(self, subjects: Collection[str]) -> None:
        """Put first what is worked on at the page in front."""
        if set(subjects) != set(self.checks.subjects):
            self.checks.subjects = frozenset(subjects)
            self.checks.fill()

    def refresh(self) -> None:
        """Show the newest checks, or what keeps the project from having any."""
        result, answer = self.desk.result, self.desk.answer
        if answer is None:
            problems = result.problems if result else ()
            self.head.setText(tr_format("No checks: {0}", "; ".join(p.text for p in problems)))
        else:
            words = headline(answer.check_results)
            self.head.setText(tr_format("{0} (checking…)", words) if self.desk.checking else words)
        self.checks.fill()
        self._detail()

    def _detail(self) -> None:
        self.details.show_check_result(self.checks.check_result)
        self._share()

    def _share(self) -> None:
        """The chosen check has the height that it takes, up to half of the panel."""
        wide = self.area.viewport().width() if self.area.width() > 100 else WIDTH
        column = self.details.column
        wanted = column.totalHeightForWidth(wide) if column.hasHeightForWidth() else column.totalSizeHint().height()
        self.area.setFixedHeight(min(wanted, max(self.height() // 2, 120)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another height, another share."""
        super().resizeEvent(event)
        self._share()
