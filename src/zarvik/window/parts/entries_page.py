"""Pages of entries on the left and what comes of them on the right: oil and fuel, intake, cooling."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from zarvik.core.checks import CheckResult
from zarvik.project.language.language import tr
from zarvik.project.units.rendering import render
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.form import titled
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.recommendations import RecommendationList
from zarvik.window.parts.side import halves
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


class CheckSentences(QWidget):
    """Checks in full, each with its mark and its way out."""

    LINE = 19.0

    def __init__(self, desk: Desk, said: str) -> None:
        super().__init__()
        self.desk = desk
        self.found: Sequence[CheckResult] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(said)

    def take(self, found: Sequence[CheckResult]) -> None:
        """Show these."""
        self.found = found
        units = self.desk.project.shown_units
        self.setAccessibleDescription("; ".join(f"{tr(v.title)}: {render(v.text, units)}" for v in found))
        self._size()
        self.update()

    def _lines(self) -> list[tuple[CheckResult, list[str], list[str]]]:
        units, room = self.desk.project.shown_units, max(float(self.width()), 200.0) - 30.0
        return [
            (
                v,
                wrapped(f"{tr(v.title)}. {render(v.text, units)}", room, 13),
                wrapped(render(v.cure, units), room, 13) if v.cure is not None else [],
            )
            for v in self.found
        ]

    def _size(self) -> None:
        high = sum(len(a) + len(b) for _, a, b in self._lines()) * self.LINE + 8.0 * len(self.found) + 4.0
        self.setMinimumHeight(int(high))

    def sizeHint(self) -> QSize:
        """As high as its words."""
        return QSize(300, self.minimumHeight())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, another height."""
        self._size()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Marks and words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(13))
        p, y = current(), 2.0
        for check_result, text, cure in self._lines():
            draw_state(painter, QRectF(2, y + 3, 13, 13), check_result.state)
            for lines, colour in ((text, p.ink), (cure, p.accent)):
                painter.setPen(QColor(colour))
                for line in lines:
                    painter.drawText(QRectF(26, y, self.width() - 26, self.LINE), line)
                    y += self.LINE
            y += 8.0
        painter.end()


class EntriesPage(QWidget):
    """Forms of `groups` (title and places) on the left; on the right what the design needs of this `page`, a picture (`picture`),
    the checks of some keys (`judged`), or what to say while there is none (`nothing`), further words, and a `caution`. It stands
    in its `home`."""

    def __init__(
        self,
        home: QWidget,
        desk: Desk,
        page: str,
        said: str,
        groups: Sequence[tuple[str, Sequence[str]]],
        judged: Sequence[str],
        nothing: str,
        caution: str = "",
    ) -> None:
        super().__init__(home)
        self.desk, self._judged, self._nothing = desk, tuple(judged), nothing
        column, right = halves(self)
        self.forms = []
        for title, places in groups:
            self.forms.append(titled(column, title, desk, places, label_width=126, room=126))
        self.needed = RecommendationList(desk, page)
        right.addWidget(self.needed)
        self.above(right)
        self.judged = CheckSentences(desk, said)
        right.addWidget(self.judged)
        self.nothing = Paragraph()
        right.addWidget(self.nothing)
        self.below(right)
        if caution:
            words = Paragraph(soft=True)
            words.setText(caution)
            right.addWidget(words)
        right.addStretch(1)

    def missing(self) -> str:
        """What to say while nothing is judged."""
        return self._nothing

    def above(self, right: QVBoxLayout) -> None:
        """Pictures over the checks."""

    def below(self, right: QVBoxLayout) -> None:
        """Words under them."""

    def refresh(self) -> None:
        """Entries and checks follow."""
        for form in self.forms:
            form.refresh()
        self.needed.refresh()
        answer = self.desk.answer
        found = [v for v in answer.check_results if v.id in self._judged] if answer is not None else []
        self.judged.take(found)
        self.nothing.setVisible(not found)
        self.nothing.setText("" if found else self.missing())
