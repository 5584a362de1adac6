"""Runs and their pieces as a list: what each is, its length or bend, whether its end meets."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter

from zarvik.project.language.language import tr
from zarvik.window.benches.layout.presenter import Row
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.row_list import RowKind, RowList
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font


def _said(row: Row) -> str:
    return ", ".join(w for w in (row.figures, tr(row.state) if row.state else "") if w)


class RunList(RowList):
    """The list; Delete takes a piece out, Alt+Up and Alt+Down move it, Insert adds one behind it."""

    removal_wanted = Signal(str)
    move_wanted = Signal(str, int)
    new_wanted = Signal()

    def __init__(self) -> None:
        super().__init__(tr("Pipes and their pieces"), RowKind(lambda row: row.id, lambda row: row.title, _said), high=22)

    def draw_row(self, painter: QPainter, area: QRectF, row: Row, chosen: bool, focused: bool) -> None:
        """A head or a piece."""
        p, r = current(), area
        head = row.kind == "head"
        if chosen:
            self.draw_chosen(painter, r)
        elif head:
            painter.fillRect(r, QColor(p.ground))
        right = r.right() - 6
        if row.state:
            draw_state(painter, QRectF(right - 11, r.top() + 5, 11, 11), row.state)
            right -= 16
        painter.setFont(font(12 if not head else 13))
        painter.setPen(QColor(p.soft if head else p.ink))
        wide = painter.fontMetrics().horizontalAdvance(row.figures) + 2
        painter.drawText(
            QRectF(right - wide, r.top(), wide, r.height()), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, row.figures
        )
        painter.setFont(font(13, strong=head))
        painter.setPen(QColor(p.ink))
        left = r.left() + (7 if head else 14)
        room = right - wide - 6 - left
        text = painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(QRectF(left, r.top(), room, r.height()), Qt.AlignmentFlag.AlignVCenter, text)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The list's keys."""
        row = self.chosen
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if row is not None and row.kind != "head" and event.key() == Qt.Key.Key_Delete:
            self.removal_wanted.emit(row.id)
        elif row is not None and alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.move_wanted.emit(row.id, -1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Insert:
            self.new_wanted.emit()
        else:
            super().keyPressEvent(event)
