"""Sentences with figures that open their calculation: by mouse, or by Tab and Enter."""

from __future__ import annotations

import html
import re
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.wrapping import spots, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

_LINK = re.compile(r"\[([A-Za-z_0-9:\-/.=]+)\|([^\]]*)\]")
LINE, TOP, BASELINE = 17.0, 1.0, 13.0  # px


def _marked(plain: str, places: Sequence[tuple[int, int, str]]) -> str:
    """A paragraph with its figures as `[address|figure]`."""
    for one, two, to in reversed(places):
        plain = f"{plain[:one]}[{to}|{plain[one:two]}]{plain[two:]}"
    return plain


class FigureText(QWidget):
    """Shows text in which `[address|figure]` is a figure that leads to its calculation. Drawn by itself: a rich label
    would be set anew, and the whole window laid out, on every key."""

    linkActivated = Signal(str)

    def __init__(self, desk: Desk, name: str = "soft") -> None:
        super().__init__()
        self.setObjectName(name)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.linkActivated.connect(lambda address: desk.follow(address))
        self._said = ""
        self._paragraphs: list[tuple[str, list[tuple[int, int, str]]]] = []
        self._lines: list[str] = []
        self._links: list[tuple[QRectF, int, str]] = []  # where, which one, address
        self._count = 0
        self._at = -1  # the figure that the keys have chosen
        self._tall = 0

    def say(self, text: str) -> None:
        """Show a text; the same one again costs nothing."""
        if text == self._said:
            return
        paragraphs = []
        for line in text.split("\n") if text else []:
            plain, places, last = "", [], 0
            for match in _LINK.finditer(line):
                plain += line[last : match.start()]
                places.append((len(plain), len(plain) + len(match[2]), match[1]))
                plain += match[2]
                last = match.end()
            paragraphs.append((plain + line[last:], places))
        self._say(text, paragraphs)

    def say_linked(self, paragraphs: Sequence[tuple[str, Sequence[tuple[int, int, str]]]]) -> None:
        """Show paragraphs, each with where in it figures stand (first and last character) and where they lead."""
        said = "\n".join(_marked(plain, places) for plain, places in paragraphs)
        if said != self._said:
            self._say(said, [(plain, list(places)) for plain, places in paragraphs])

    def _say(self, said: str, paragraphs: list[tuple[str, list[tuple[int, int, str]]]]) -> None:
        self._said, self._paragraphs = said, paragraphs
        self.setAccessibleName(self.plain())
        self._break()

    def _break(self) -> None:
        """Into lines of the present width; who lays out hears only of another height."""
        self._lines, self._links, self._count = [], [], 0
        room = max(float(self.width()) - 2.0, 40.0)
        for plain, places in self._paragraphs:
            lines = wrapped(plain, room)
            numbered = [(one, two, f"{self._count + n} {to}") for n, (one, two, to) in enumerate(places)]
            for number, left, right, what in spots(lines, numbered):
                which, _, address = what.partition(" ")
                y = TOP + LINE * (len(self._lines) + number)
                self._links.append((QRectF(left, y, right - left, LINE), int(which), address))
            self._count += len(places)
            self._lines += lines
        self._at = min(self._at, self._count - 1)
        tall = self.heightForWidth(self.width())
        if tall != self._tall:
            self._tall = tall
            self.updateGeometry()
        self.update()

    def heightForWidth(self, wide: int) -> int:
        """Pixels that its lines take at a width."""
        room = max(float(wide) - 2.0, 40.0)
        if wide == self.width() and self._lines:
            return round(LINE * len(self._lines) + 2 * TOP + 2)
        lines = sum(len(wrapped(plain, room)) for plain, _ in self._paragraphs)
        return round(LINE * lines + 2 * TOP + 2) if lines else 0

    def sizeHint(self) -> QSize:
        """A few hundred px wide, as tall as that makes it."""
        wide = self.width() if self.width() > 100 else 400
        return QSize(wide, self.heightForWidth(wide))

    def minimumSizeHint(self) -> QSize:
        """Words break anywhere."""
        return QSize(80, self.heightForWidth(self.width()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, other lines."""
        if event.oldSize().width() != self.width():
            self._break()

    def stale(self) -> None:
        """The theme has turned."""
        self.update()

    def plain(self) -> str:
        """What is shown, without the links."""
        return "\n".join(plain for plain, _ in self._paragraphs)

    def text(self) -> str:
        """What is shown as markup, its figures as links."""
        safe = html.escape(self._said, quote=False).replace("\n", "<br>")
        return _LINK.sub(lambda m: f"<a href='{m[1]}'>{m[2]}</a>", safe)

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Lines, figures underlined; the chosen one in a ring."""
        p = current()
        painter = QPainter(self)
        painter.setFont(font())
        painter.setPen(QColor(p.soft if self.objectName() == "soft" else p.ink))
        for number, line in enumerate(self._lines):
            painter.drawText(QPointF(0.0, TOP + BASELINE + LINE * number), line)
        painter.setPen(QPen(QColor(p.ink), 1))
        for area, _, _ in self._links:
            painter.drawLine(QPointF(area.left(), area.bottom() - 1), QPointF(area.right(), area.bottom() - 1))
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 1.5))
            chosen = [area for area, which, _ in self._links if which == self._at]
            for area in chosen or [QRectF(self.rect()).adjusted(1, 1, -1, -1)]:
                painter.drawRect(area)
        painter.end()

    def _under(self, spot: QPointF) -> str:
        return next((address for area, _, address in self._links if area.contains(spot)), "")

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A figure says that it leads somewhere."""
        over = bool(self._under(event.position()))
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Follow the figure under the mouse."""
        address = self._under(event.position())
        if address:
            self.linkActivated.emit(address)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab goes from figure to figure before it leaves."""
        step = 1 if forward else -1
        if 0 <= self._at + step < self._count:
            self._choose(self._at + step)
            return True
        return super().focusNextPrevChild(forward)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right choose a figure, Enter follows it."""
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self._count:
            step = 1 if event.key() == Qt.Key.Key_Right else -1
            self._choose(max(0, min(self._at + step, self._count - 1)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self._at >= 0:
            self.linkActivated.emit(next(a for _, which, a in self._links if which == self._at))
        else:
            super().keyPressEvent(event)

    def _choose(self, number: int) -> None:
        self._at = number
        self.update()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """From either end the keys come to the nearest figure."""
        super().focusInEvent(event)
        back = event.reason() == Qt.FocusReason.BacktabFocusReason
        self._choose((self._count - 1 if back else 0) if self._count else -1)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """No figure is chosen any more."""
        super().focusOutEvent(event)
        self._choose(-1)
