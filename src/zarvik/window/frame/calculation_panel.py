"""The calculation sheet of a number: relation, numbers, source, and what moves it most."""

from __future__ import annotations

import html
import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QScrollArea, QStyle, QStyleOptionComboBox, QStylePainter, QVBoxLayout, QWidget

from zarvik.core import calculations
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations import Sheet
from zarvik.core.calculations.sensitivity import Influence
from zarvik.core.common.sentences import Figure, Sentence
from zarvik.core.whole_build.build import Solved
from zarvik.project.language.language import tr
from zarvik.project.units import rendering
from zarvik.window.desk import Desk, OtherDesign
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.form import heading
from zarvik.window.parts.formula_text import symbol, typeset
from zarvik.window.parts.wrapping import width, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font
from zarvik.workspace.job_store import DONE, FAILED, Job, JobResult, same
from zarvik.workspace.jobs import INFLUENCES, NAMED, influences_of, sheets_named

WIDTH = 296
_LINKS = Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
ROW = 39
LINE = 17.0


class Bars(QWidget):
    """What moves the number: one row an input, its change down and up on one scale. Enter or a
    click goes to the entry behind a row."""

    wanted = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.rows: list[Influence] = []
        self.kind = "power"
        self.at = 0
        self._titles: list[list[str]] = []
        self._tops: list[float] = [0.0]  # of each row, and behind the last
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Most influential inputs"))

    def show_rows(self, rows: tuple[Influence, ...], kind: str) -> None:
        """The largest influences; what moves it by nothing is left out."""
        most = rows[0].size if rows else 0.0
        self.rows = [r for r in rows if r.size > 0.002 * most and r.size > 0.0][:9]
        self.kind = kind
        self.at = min(self.at, max(len(self.rows) - 1, 0))
        self._set()
        words = "; ".join(
            f"{r.lever.title} {self.desk.say(r.lever.step)}: {self._change(r.down)} to {self._change(r.up)}" for r in self.rows
        )
        self.setAccessibleDescription(words)
        self.update()

    def _set(self) -> None:
        """Set the rows: a title that has no room beside its step goes on to a second line."""
        room = float(self.width() if self.isVisible() else WIDTH - 34)
        self._titles, self._tops = [], []
        y = 0.0
        for row in self.rows:
            step = width(self.desk.say(row.lever.step))
            self._tops.append(y)
            self._titles.append(wrapped(tr(row.lever.title), room - step - 10.0))
            y += ROW + LINE * (len(self._titles[-1]) - 1)
        self._tops.append(y)
        self.setFixedHeight(round(y) + 4)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Set anew."""
        self._set()

    def sizeHint(self) -> QSize:
        """As tall as its rows."""
        return QSize(WIDTH - 30, round(self._tops[-1]) + 4)

    def _change(self, value: float) -> str:
        most = max((r.size for r in self.rows), default=0.0)
        return rendering.change(value, self.kind, self.desk.project.shown_units, most=most)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Rows: the input with its uncertainty, then its bar with both changes."""
        p = current()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        most = max((r.size for r in self.rows), default=1.0) or 1.0
        middle = self.width() / 2.0
        reach = self.width() / 2.0 - 70.0
        for i, row in enumerate(self.rows):
            y = self._tops[i]
            painter.setPen(QColor(p.ink if row.lever.about else p.soft))
            painter.setFont(font())
            for n, line in enumerate(self._titles[i]):
                painter.drawText(QPointF(0, y + 14 + LINE * n), line)
            painter.setPen(QColor(p.soft))
            step = self.desk.say(row.lever.step)
            painter.drawText(QPointF(self.width() - width(step) - 2, y + 14), step)
            painter.setFont(font(13))
            y += LINE * (len(self._titles[i]) - 1)
            # The longer bar first, so that the shorter one is seen where both go to one side.
            bars = [(row.down, p.cold_low, True), (row.up, p.accent, False)]
            bars = [b for b in bars if math.isfinite(b[0])]
            bars.sort(key=lambda b: -abs(b[0]))
            for value, shade, left in bars:
                length = reach * value / most
                painter.fillRect(QRectF(middle, y + 20, length, 9).normalized(), QColor(shade))
                # The input moved down is marked by a gap, so that colour is not all that tells.
                if left:
                    painter.fillRect(QRectF(middle + length * 0.35, y + 23, length * 0.3, 3).normalized(), QColor(p.panel))
            listed: set[bool] = set()
            for value, _, _ in bars:
                right = value >= 0
                if right in listed:
                    continue  # the longer one is told at this end already
                listed.add(right)
                text = self._change(value)
                painter.setPen(QColor(p.ink))
                x = self.width() - width(text, 13) - 2 if right else 2.0
                painter.drawText(QPointF(x, y + 30), text)
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(middle, y + 18), QPointF(middle, y + 31))
            if self.hasFocus() and i == self.at:
                painter.setPen(QPen(QColor(p.accent), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                tall = self._tops[i + 1] - self._tops[i] - 4.0
                painter.drawRect(QRectF(0, self._tops[i] + 1, self.width() - 1, tall))
        painter.end()

    def _open(self) -> None:
        if self.rows and self.rows[self.at].lever.about:
            self.wanted.emit(self.rows[self.at].lever.about)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Go to the entry."""
        under = sum(top <= event.position().y() for top in self._tops) - 1
        self.at = max(min(under, len(self.rows) - 1), 0)
        self._open()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up, down, Enter."""
        if event.key() == Qt.Key.Key_Down and self.at < len(self.rows) - 1:
            self.at += 1
        elif event.key() == Qt.Key.Key_Up and self.at > 0:
            self.at -= 1
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._open()
        else:
            super().keyPressEvent(event)
            return
        self.update()


class Choice(QComboBox):
    """A list of numbers to choose from, shown as its arrow alone: the title stands beside it, where
    it may take two lines."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(34)
        self.setToolTip(tr("Another number"))

    def showPopup(self) -> None:
        """As wide as its longest title."""
        wide = max((width(self.itemText(i)) for i in range(self.count())), default=0.0)
        self.view().setMinimumWidth(round(wide) + 44)
        super().showPopup()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The frame and the arrow."""
        painter = QStylePainter(self)
        option = QStyleOptionComboBox()
        self.initStyleOption(option)
        option.currentText = ""
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        painter.end()


class CalculationPanel(QScrollArea):
    """Shows one sheet and follows the design and the rev slider while it is in sight."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.key = "power"
        self.sheet: Sheet | None = None
        self.beside: OtherDesign | None = None
        self._asked: Job | None = None
        self._keys: tuple[str, ...] = ()
        self._point: tuple[Solver, float, Point] | None = None
        self.setObjectName("panel")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        inside.setObjectName("panel")
        inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(inside)
        column.setContentsMargins(12, 8, 14, 8)
        column.setSpacing(6)
        self.choice = Choice()
        self.choice.setAccessibleName(tr("Calculation shown"))
        self.title = heading("")
        self.title.setWordWrap(True)
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.title, 1)
        head.addWidget(self.choice, 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(head)
        self.choice.activated.connect(lambda _: self._turn(self.choice.currentData()))
        self.whose = self._label("soft")
        self.whose.setTextInteractionFlags(_LINKS)
        self.whose.linkActivated.connect(lambda _: self.show_sheet(self.key))
        column.addWidget(self.whose)
        self.result = self._label("figure")
        column.addWidget(self.result)
        self.relation = self._label("relation")
        column.addWidget(self.relation)
        self.numbers = self._label("soft")
        column.addWidget(self.numbers)
        self.values = self._label("")
        self.values.setTextInteractionFlags(_LINKS)
        self.values.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.values.linkActivated.connect(lambda address: desk.follow(address, self.beside))
        column.addWidget(self.values)
        self.source = self._label("soft")
        column.addWidget(self.source)
        self.head = self._label("group")
        column.addWidget(self.head)
        self.bars = Bars(desk)
        self.bars.wanted.connect(desk.go_to_place)
        column.addWidget(self.bars)
        column.addStretch(1)
        self.setWidget(inside)
        desk.result_changed.connect(self._news)
        desk.speed_changed.connect(self._news)
        desk.job_changed.connect(self._told)

    @staticmethod
    def _label(name: str) -> QLabel:
        label = QLabel()
        label.setTextFormat(Qt.TextFormat.RichText)
        label.setObjectName(name)
        label.setWordWrap(True)
        return label

    def _news(self) -> None:
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        """What went by while it was hidden is taken up."""
        super().showEvent(event)
        self.refresh()

    def stale(self) -> None:
        """The theme has turned: figures that lead somewhere have another ink."""
        self._news()

    def _turn(self, key: str) -> None:
        self.show_sheet(key, self.beside)

    def show_sheet(self, key: str, beside: OtherDesign | None = None) -> None:
        """Show the sheet of another number, of the present design or of one `beside` it."""
        if key != self.key:
            self.bars.at = 0
        self.key, self.beside = key, beside
        self.refresh()
        self.verticalScrollBar().setValue(0)

    def _words(self, text: str | Sentence) -> str:
        return rendering.words(text, self.desk.project.shown_units)

    def _figure(self, figure: Figure) -> str:
        if figure.kind == "number":
            return f"{figure.value:.4g}".replace("-", "−")
        same = self.sheet is not None and figure.kind == self.sheet.result.kind
        result = self.sheet.result.value if same and self.sheet is not None else None
        units = self.desk.project.shown_units
        text = rendering.exact(figure.value, figure.kind, units, result=result)
        if figure.kind == "temperature" and self.desk.unit("temperature") != "K":
            text += f" ({figure.value:.0f} K)"
        if figure.kind == "pressure_absolute":
            text += " abs"
        return text

    def refresh(self) -> None:
        """The sheet of the shown point."""
        self._whose()
        self.sheet = None
        of, point = self._subject()
        if of is None or point is None or not point.closure.solved:
            self._nothing(tr("No solved point: no calculation to show."))
            return
        try:
            self.sheet = sheet = calculations.sheet(of.build, of.solver, point, self.key)
        except KeyError:
            self._nothing(tr("This build does not have that number."))
            return
        self._choices(of, point)
        self.title.setText(self._words(sheet.title))
        words = tr("{0}<span style='font-size:13px'> at {1}</span>")
        if sheet.of_range:
            words = tr("{0}<span style='font-size:13px'> at all engine speeds</span>")
        self.result.setText(words.format(self._figure(sheet.result), self.desk.text(point.speed, "rotation")))
        self.relation.setText(typeset(sheet.relation))
        known = {ln.symbol: self._figure(ln.figure) for ln in sheet.lines}
        right = sheet.relation.partition(" = ")[2]
        self.numbers.setText(f"= {typeset(right, known)}")
        rows = []
        for line in sheet.lines:
            value = html.escape(self._figure(line.figure))
            if line.sheet or line.figure.address:
                value = f"<a href='{line.sheet or line.figure.address}' style='color:{current().accent}'>{value}</a>"
            rows.append(
                f"<tr><td style='padding-right:7px'>{symbol(line.symbol)}</td>"
                f"<td style='padding-right:7px; white-space:nowrap' align='right'><b>{value}</b></td>"
                f"<td style='color:{current().soft}; font-size:13px'>{html.escape(self._words(line.meaning))}"
                "</td></tr>"
            )
        self.values.setText(f"<table cellspacing='0' cellpadding='2'>{''.join(rows)}</table>")
        self.source.setText(tr("Source: {0}").format(tr(sheet.source)))
        self._ask(of, point)

    def _subject(self) -> tuple[Solved | None, Point | None]:
        """The build whose numbers are shown, and its point at the shown speed."""
        answer, point = self.desk.answer, self.desk.point
        if self.beside is None:
            return (answer.solved if answer is not None else None), point
        of = self.beside.solved()
        if of is None or point is None:
            return None, None
        if self._point is None or self._point[0] is not of.solver or self._point[1] != point.speed:
            self._point = (of.solver, point.speed, of.solver.at(point.speed))
        return of, self._point[2]

    def _whose(self) -> None:
        """Says whose number it is when it is not the present design's."""
        self.whose.setVisible(self.beside is not None)
        if self.beside is not None:
            words = tr("For “{0}”. {1}Back to the present design{2}").format(
                html.escape(self.beside.name), f"<a href='#' style='color:{current().accent}'>", "</a>"
            )
            self.whose.setText(words)

    def _choices(self, of: Solved, point: Point) -> None:
        keys = calculations.keys(of.build)
        if keys != self._keys or self.choice.findData(self.key) < 0:
            self._keys = keys
            self.choice.clear()
            self.desk.ask(sheets_named(of, point, self.desk.project.shown_units))
            self._fill({})
        self.choice.setCurrentIndex(self.choice.findData(self.key))

    def _fill(self, named: dict[str, str]) -> None:
        """The numbers that can be chosen, and the one that is shown, whatever it is."""
        self.choice.clear()
        for key, words in named.items():
            self.choice.addItem(words, key)
        if self.choice.findData(self.key) < 0 and self.sheet is not None:
            self.choice.addItem(self._words(self.sheet.title), self.key)
        self.choice.setCurrentIndex(self.choice.findData(self.key))

    def _nothing(self, text: str) -> None:
        self.title.setText(tr("Calculation"))
        self.result.setText("–")
        self.relation.setText(text)
        for label in (self.numbers, self.values, self.source, self.head):
            label.setText("")
        self.bars.show_rows((), "power")

    def _ask(self, of: Solved, point: Point) -> None:
        asked = influences_of(of, point.speed, self.key)
        if self._asked is not None and same(asked.of, self._asked.of):
            return
        self._asked = asked
        self.head.setText(tr("Most influential inputs"))
        self.desk.ask(asked)

    def _told(self, reply: JobResult) -> None:
        if reply.key == NAMED and reply.state == DONE and self.isVisible():
            self._fill(reply.value)
        asked = self._asked
        if reply.key != INFLUENCES or asked is None or self.sheet is None:
            return
        if not same(reply.job.of, asked.of) or reply.state not in (DONE, FAILED):
            return  # late: something else is asked by now
        self.bars.show_rows(reply.value or (), self.sheet.result.kind)
        if not self.bars.rows:
            self.head.setText(tr("None of the uncertain inputs changes it"))
