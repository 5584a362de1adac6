"""Rows of turbos with their figures, and the titles over them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.wrapping import fitting, width, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


@dataclass(frozen=True)
class Row:
    """A candidate as a bench shows it; `state` the worst of its margins and its power; `mark`: a number or a
    letter by which it is known in a picture, empty for none."""

    id: str
    name: str
    chosen: bool
    state: str
    cells: tuple[str, ...]
    leads: tuple[str, ...]  # address of the calculation of each cell, empty for none
    heads: tuple[str, ...]  # title of each cell
    mark: str = ""


class CandidateRow(QWidget):
    """A turbo that could be had, as a row that chooses it."""

    chosen = Signal(str)
    calculation = Signal(str, str)  # id of the turbo, address of the sheet

    def __init__(self) -> None:
        super().__init__()
        self.row: Row | None = None
        self._hover = -1
        self.setFixedHeight(25)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        """A row."""
        return QSize(400, 25)

    def show_row(self, row: Row) -> None:
        """Fill the row."""
        self.row = row
        self.setAccessibleName(f"{row.name}, {tr(row.state)}" + (tr(", chosen") if row.chosen else ""))
        figures = zip(row.heads, row.cells, strict=True)
        self.setAccessibleDescription(", ".join(f"{tr(head)} {cell}" for head, cell in figures))
        self.update()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Mark, name, figures."""
        p, row = current(), self.row
        if row is None:
            return
        painter = QPainter(self)
        if row.chosen:
            painter.fillRect(self.rect(), QColor(p.accent_soft))
        draw_state(painter, QRectF(8, 5, 14, 14), row.state)
        painter.setPen(QColor(p.ink))
        left = 30.0
        if row.mark:
            painter.setFont(font(13, strong=True))
            draw_mark(painter, QPointF(left + 8, 12.5), row.mark, strong=row.chosen)
            left += 24.0
        painter.setPen(QColor(p.ink))
        painter.setFont(font(14, strong=row.chosen))
        name = fitting(row.name, FIRST - left - 4.0, strong=row.chosen)
        painter.drawText(QRectF(left, 0, FIRST - left, 25), Qt.AlignmentFlag.AlignVCenter, name)
        draw_cells(painter, self.width(), row.cells)
        if self._hover >= 0:
            painter.setPen(QPen(QColor(p.accent), 1, Qt.PenStyle.DotLine))
            right = FIRST + (self._hover + 1) * _column(self.width(), len(row.cells))
            wide = width(row.cells[self._hover], strong=row.chosen)
            painter.drawLine(QPointF(right - wide, 21), QPointF(right, 21))
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A figure says that it leads somewhere."""
        row = self.row
        at = cell_at(self.width(), len(row.cells), event.position().x()) if row else -1
        self._over(at if row and at >= 0 and row.leads[at] else -1)

    def leaveEvent(self, event: QEvent) -> None:
        """No figure is under the mouse any more."""
        self._over(-1)

    def _over(self, cell: int) -> None:
        if cell != self._hover:
            self._hover = cell
            self.setToolTip(tr("Show its calculation") if cell >= 0 else "")
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A figure opens its calculation, the rest chooses the turbo."""
        if self.row is None:
            return
        at = cell_at(self.width(), len(self.row.cells), event.position().x())
        if at >= 0 and self.row.leads[at]:
            self.calculation.emit(self.row.id, self.row.leads[at])
        else:
            self.chosen.emit(self.row.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space chooses."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.row:
            self.chosen.emit(self.row.id)
        elif event.key() == Qt.Key.Key_W and self.row is not None:
            self.calculation.emit(self.row.id, self.row.leads[0])
        else:
            super().keyPressEvent(event)


def draw_mark(painter: QPainter, spot: QPointF, mark: str, *, strong: bool = False) -> None:
    """A number in a ring, by which a line of a picture is known: filled where it is the chosen one."""
    p = current()
    painter.setPen(QPen(QColor(p.accent if strong else p.ink), 1.4))
    painter.setBrush(QColor(p.accent if strong else p.raised))
    painter.drawEllipse(spot, 8.5, 8.5)
    painter.setPen(QColor(p.raised if strong else p.ink))
    box = QRectF(spot.x() - 8.5, spot.y() - 8.5, 17, 17)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, mark)


def draw_cells(painter: QPainter, room: int, cells: tuple[str, ...]) -> None:
    """The figures of a row or of the head, in columns from the right."""
    column = _column(room, len(cells))
    for i, cell in enumerate(cells[: shown(room, len(cells))]):
        painter.drawText(QRectF(FIRST + i * column, 0, column, 25), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, cell)


FIRST = 184.0  # px before the first column of figures
REACH = 58.0  # px of a column, from its right, that count as its figure


LEAST = 58.0  # px of a column


def shown(room: int, count: int) -> int:
    """How many of `count` columns of figures have room in a row `room` px wide; the last ones go first."""
    return max(min(count, int((room - FIRST - 6.0) // LEAST)), 1)


def _column(room: int, count: int) -> float:
    return (room - FIRST - 6.0) / shown(room, count)


def cell_at(room: int, count: int, x: float) -> int:
    """Number of the figure under `x`, -1 for none."""
    column = _column(room, count)
    at = int((x - FIRST) // column)
    return at if 0 <= at < shown(room, count) and FIRST + (at + 1) * column - x <= REACH else -1


class Heads(QWidget):
    """Titles over the figures of the rows."""

    def __init__(self, title: str, heads: tuple[str, ...]) -> None:
        super().__init__()
        self.title, self.heads = title, heads
        self._lines: list[list[str]] = []
        self.setFixedHeight(22)

    def take(self, heads: tuple[str, ...]) -> None:
        """Show other titles over the same number of columns."""
        if heads != self.heads:
            self.heads = heads
            self._wrap()
            self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Break titles that are wider than their column."""
        self._wrap()

    def _wrap(self) -> None:
        room = _column(self.width(), len(self.heads)) - 6.0
        self._lines = [wrapped(tr(head), room, 13) for head in self.heads[: shown(self.width(), len(self.heads))]]
        self.setFixedHeight(7 + 15 * max(len(lines) for lines in self._lines))

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Soft words."""
        painter = QPainter(self)
        painter.setPen(QColor(current().soft))
        painter.setFont(font(13))
        base = self.height() - 6.0
        painter.drawText(QPointF(30, base), self.title)
        column = _column(self.width(), len(self.heads))
        for i, lines in enumerate(self._lines):
            for n, line in enumerate(reversed(lines)):
                right = FIRST + (i + 1) * column
                painter.drawText(QPointF(right - width(line, 13), base - 15.0 * n), line)
        painter.end()


def show_rows(
    column: QVBoxLayout,
    rows: list[CandidateRow],
    items: Sequence[Row],
    choose: Callable[[str], None],
    calculation: Callable[[str, str], None] | None = None,
) -> None:
    """Fill the `rows` of a `column` with `items`: new ones are made as they are wanted, those left over hidden."""
    while len(rows) < len(items):
        row = CandidateRow()
        row.chosen.connect(choose)
        if calculation is not None:
            row.calculation.connect(calculation)
        rows.append(row)
        column.addWidget(row)
    for widget, item in zip(rows, items, strict=False):
        widget.show_row(item)
        widget.show()
    for widget in rows[len(items) :]:
        widget.hide()
