"""The page of oil, fuel and runners: what is said, and what comes of it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from zarvik.core.checks import Verdict
from zarvik.project.language import tr
from zarvik.project.ringing import ringing
from zarvik.project.sentences import render
from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.side import halves
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

OIL = (
    "lines.grade", "lines.bearings", "lines.oil", "lines.heat", "lines.restrictor", "lines.restrictor_long", "lines.drain", "lines.fall", "lines.ends",
)  # fmt: skip
FUEL = (
    "lines.injectors", "lines.rated", "lines.rated_at", "lines.base", "lines.follows", "lines.pump", "lines.pump_at", "lines.line",
)  # fmt: skip
RUNNERS = ("runners.long", "runners.short", "runners.bore")
JUDGED = ("oil_feed", "oil_drain", "injectors", "fuel_pump", "fuel_line")


class Judged(QWidget):
    """Verdicts in full, each with its mark and its way out."""

    LINE = 19.0

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: Sequence[Verdict] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("What comes of oil and fuel"))

    def take(self, found: Sequence[Verdict]) -> None:
        """Show these."""
        self.found = found
        units = self.desk.project.shown_units
        self.setAccessibleDescription("; ".join(f"{tr(v.title)}: {render(v.text, units)}" for v in found))
        self._size()
        self.update()

    def _lines(self) -> list[tuple[Verdict, list[str], list[str]]]:
        units, room = self.desk.project.shown_units, max(float(self.width()), 200.0) - 30.0
        return [
            (v, wrapped(f"{tr(v.title)}. {render(v.text, units)}", room, 13), wrapped(render(v.cure, units), room, 13) if v.cure is not None else [])
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
        for verdict, text, cure in self._lines():
            draw_state(painter, QRectF(2, y + 3, 13, 13), verdict.state)
            for lines, colour in ((text, p.ink), (cure, p.accent)):
                painter.setPen(QColor(colour))
                for line in lines:
                    painter.drawText(QRectF(26, y, self.width() - 26, self.LINE), line)
                    y += self.LINE
            y += 8.0
        painter.end()


class SupplyPage(QWidget):
    """Entries on the left, what comes of them on the right."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        column, right = halves(self)
        self.forms = []
        for title, places in ((tr("Oil to the turbo"), OIL), (tr("Fuel"), FUEL), (tr("Runners of the intake"), RUNNERS)):
            column.addWidget(heading(title))
            form = Form(desk, places, label_width=126, room=126)
            self.forms.append(form)
            column.addWidget(form)
        self.judged = Judged(desk)
        right.addWidget(self.judged)
        self.nothing = Paragraph()
        right.addWidget(self.nothing)
        self.rings = Paragraph()
        right.addWidget(self.rings)
        self.caution = Paragraph(soft=True)
        self.caution.setText(tr(
            "Fuel near a turbine burns cars down: lines that stand it, away from heat, behind a shield, without a joint over hot metal. "
            "Alcohol burns with a flame that nobody sees. What carries fuel is a matter of licence in many places."
        ))  # fmt: skip
        right.addWidget(self.caution)
        right.addStretch(1)

    def refresh(self) -> None:
        """Entries and words follow."""
        for form in self.forms:
            form.refresh()
        answer = self.desk.answer
        found = [v for v in answer.verdicts if v.id in JUDGED] if answer is not None else []
        self.judged.take(found)
        self.nothing.setVisible(not found)
        self.nothing.setText("" if found else tr("Say restrictor, drain, injectors or pump, and what comes of them stands here"))
        solved = answer.target if answer is not None and answer.target.closure.solved else None
        units = self.desk.project.shown_units
        self.rings.setText("\n".join(f"· {render(s, units)}" for s in ringing(self.desk.project, solved)))
