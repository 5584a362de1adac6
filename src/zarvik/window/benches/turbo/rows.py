"""Rows of turbos with their figures, and the titles over them."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from zarvik.project.language import tr
from zarvik.window.benches.turbo import presenter
from zarvik.window.parts.marks import draw_state
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


class CandidateRow(QWidget):
    """A turbo that could be had, as a row that chooses it."""

    chosen = Signal(str)
    working = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.row: presenter.Row | None = None
        self.setFixedHeight(25)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        """A row."""
        return QSize(400, 25)

    def show_row(self, row: presenter.Row) -> None:
        """Fill the row."""
        self.row = row
        self.setAccessibleName(f"{row.name}, {row.state}" + (tr(", chosen") if row.chosen else ""))
        self.update()

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
        painter.setFont(font(14, strong=row.chosen))
        painter.drawText(QRectF(30, 0, 150, 25), Qt.AlignmentFlag.AlignVCenter, row.name)
        draw_cells(painter, self.width(), row.cells)
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose it."""
        if self.row is not None:
            self.chosen.emit(self.row.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space chooses."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.row:
            self.chosen.emit(self.row.id)
        elif event.key() == Qt.Key.Key_W and self.row is not None and self.row.chosen:
            self.working.emit()
        else:
            super().keyPressEvent(event)


def draw_cells(painter: QPainter, width: int, cells: tuple[str, ...]) -> None:
    """The figures of a row or of the head, in columns from the right."""
    column = (width - 190.0) / len(cells)
    for i, cell in enumerate(cells):
        painter.drawText(
            QRectF(184 + i * column, 0, column, 25),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, cell,
        )  # fmt: skip


class Heads(QWidget):
    """Titles over the figures of the rows."""

    def __init__(self, title: str, heads: tuple[str, ...]) -> None:
        super().__init__()
        self.title, self.heads = title, heads
        self.setFixedHeight(22)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Soft words."""
        painter = QPainter(self)
        painter.setPen(QColor(current().soft))
        painter.setFont(font(13))
        painter.drawText(QRectF(30, 0, 150, 22), Qt.AlignmentFlag.AlignVCenter, self.title)
        draw_cells(painter, self.width(), tuple(tr(h) for h in self.heads))
        painter.end()
