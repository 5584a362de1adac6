"""The page of materials: a run of each that it could be of, side by side."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QComboBox, QSizePolicy, QVBoxLayout, QWidget

from zarvik.core.limits.limits import FAILS, MARGINAL, OK
from zarvik.project.document.places import RUN_TITLES
from zarvik.project.language.language import tr
from zarvik.project.language.plain import opening
from zarvik.project.materials.materials import RUNS, RunMaterial
from zarvik.project.units.rendering import figure, render, rough_figure
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.form import Form
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.side import side_column
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font
from zarvik.workspace.job_store import DONE, FAILED, JobResult
from zarvik.workspace.jobs import MATERIALS, materials_of


class MaterialBlocks(QWidget):
    """A block for each material: its figures in a row with bars, and what a table does not say under it."""

    HEAD, FIGURES, LINE = 22.0, 40.0, 18.0
    NARROW = 600.0  # px below which a figure stands under its name and not beside it

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: Sequence[RunMaterial] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("Materials side by side"))

    def take(self, found: Sequence[RunMaterial]) -> None:
        """Show these."""
        self.found = found
        self.setAccessibleDescription("; ".join(f"{tr(m.title)}: {', '.join(self._cells(m))}" for m in found))
        self.setMinimumHeight(int(self._high()))
        self.updateGeometry()
        self.update()

    def _cells(self, made: RunMaterial) -> tuple[str, ...]:
        units = self.desk.project.shown_units
        gain = "–" if made.power != made.power else rough_figure(made.power, "power", units)
        return (figure(made.mass, "mass", units), figure(made.heat, "warming", units), gain, figure(made.money, "money", units))

    def _words(self, made: RunMaterial) -> list[str]:
        return wrapped(render(made.words, self.desk.project.shown_units), max(float(self.width()), 240.0) - 30.0, 12)

    def _under(self) -> float:
        """Px by which a figure stands under its name."""
        return 16.0 if self.width() < self.NARROW else 0.0

    def _high(self) -> float:
        return sum(self.HEAD + self.FIGURES + self._under() + self.LINE * len(self._words(m)) + 12.0 for m in self.found) + 8.0

    def sizeHint(self) -> QSize:
        """As high as its blocks."""
        return QSize(440, int(self._high()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, other lines."""
        super().resizeEvent(event)
        self.setMinimumHeight(int(self._high()))
        self.updateGeometry()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The blocks."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, wide, y = current(), float(self.width()), 2.0
        heads = ("weight", "temp. change", "power", "tube price")
        each, under = (wide - 30.0) / len(heads), self._under()
        columns = [
            [m.mass for m in self.found],
            [abs(m.heat) for m in self.found],
            [0.0 for _ in self.found],
            [m.money for m in self.found],
        ]
        for made in self.found:
            state = FAILS if made.margin < 0.0 else MARGINAL if made.margin < 0.1 else OK
            draw_state(painter, QRectF(2, y + 4, 13, 13), state)
            painter.setFont(font(14, strong=True))
            painter.setPen(QColor(p.ink))
            title = tr(made.title) + (tr(" (present)") if made.now else "") + (tr(": cannot stand the heat") if state == FAILS else "")
            painter.drawText(QRectF(26, y, wide - 30, self.HEAD), int(Qt.AlignmentFlag.AlignVCenter), title)
            y += self.HEAD
            values = (made.mass, abs(made.heat), math.nan, made.money)
            for n, (head, cell) in enumerate(zip(heads, self._cells(made), strict=True)):
                left = 26.0 + n * each
                painter.setFont(font(12))
                painter.setPen(QColor(p.soft))
                painter.drawText(QRectF(left, y, each - 6, 16), int(Qt.AlignmentFlag.AlignVCenter), tr(head))
                painter.setFont(font(13))
                painter.setPen(QColor(p.ink))
                beside = 0.0 if under else 0.45 * each
                painter.drawText(QRectF(left + beside, y + under, each - beside - 6, 16), int(Qt.AlignmentFlag.AlignVCenter), cell)
                most = max(columns[n], default=0.0)
                if most > 0.0 and values[n] == values[n]:
                    painter.fillRect(QRectF(left, y + under + 20, each - 14, 6), QColor(p.grid))
                    painter.fillRect(QRectF(left, y + under + 20, (each - 14) * values[n] / most, 6), QColor(p.cold_low))
            y += self.FIGURES - 8.0 + under
            painter.setFont(font(12))
            painter.setPen(QColor(p.soft))
            for line in self._words(made):
                painter.drawText(QRectF(26, y, wide - 30, self.LINE), int(Qt.AlignmentFlag.AlignVCenter), line)
                y += self.LINE
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QPointF(0, y + 6), QPointF(wide, y + 6))
            y += 20.0
        painter.end()


class MaterialsPage(QWidget):
    """Which run, and what it could be of."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(home)
        self.desk = desk
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.run = QComboBox()
        self.run.setAccessibleName(tr("Run"))
        for key in RUNS:
            self.run.addItem(tr(RUN_TITLES[key]), key)
        # The first of them that has a pipe
        piped = (n for n, key in enumerate(RUNS) if any(hasattr(p, "material") for p in getattr(desk.project, key)))
        self.run.setCurrentIndex(next((n for n in sorted(piped, key=lambda n: n != 1)), 1))
        self.run.setFixedWidth(220)
        self.run.activated.connect(lambda _: self.refresh())
        column.addWidget(self.run)
        self.form = Form(desk, ("workshop.used_in",), label_width=126, room=180)
        self.form.setMaximumWidth(330)
        column.addWidget(self.form)
        self.fault = Paragraph()
        self.fault.hide()
        column.addWidget(self.fault)
        area, inside = side_column(0, 6, 4)
        self.picture = MaterialBlocks(desk)
        inside.addWidget(self.picture)
        inside.addStretch(1)
        column.addWidget(area, 1)
        desk.job_changed.connect(self._hear)

    def refresh(self) -> None:
        """Ask for the run that is chosen."""
        self.form.refresh()
        self._answered(self.desk.ask(materials_of(self.desk.project, str(self.run.currentData()))))

    def _hear(self, reply: JobResult) -> None:
        if reply.key == MATERIALS and self.isVisible() and reply.job.of == (self.desk.project, self.run.currentData()):
            self._answered(reply)

    def _answered(self, reply: JobResult) -> None:
        if reply.state == DONE:
            self.fault.hide()
            self.picture.take(reply.value)
        elif reply.state == FAILED:
            self.fault.setText(opening(reply.fault))
            self.fault.show()
            self.picture.take(())
