"""The lists of the register on paper, a sheet each, more where one is not enough."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.project.language import told, tr
from zarvik.project.register_lists import Listing
from zarvik.window.benches.register.tick_list import columns_of, draw_row
from zarvik.window.desk import Desk
from zarvik.window.paper import sheet as page
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

TOP, ROW = 84.0, 26.0
EACH = int((page.TALL - TOP - 70.0) / ROW)


def write(desk: Desk, path: str, lists: Sequence[Listing]) -> str:
    """Write every list that has rows as PDF; returns a sentence when it cannot be written, else nothing."""
    sheets = []
    for found in lists:
        parts = [found.rows[n : n + EACH] for n in range(0, len(found.rows), EACH)]
        sheets += [(found, n, len(parts), part) for n, part in enumerate(parts, 1)]
    if not sheets:
        return tr("There is nothing to write yet")

    def draw(desk: Desk, painter: QPainter, more: Callable[[], object]) -> None:
        for number, (found, part, parts, rows) in enumerate(sheets):
            if number:
                more()
            page.head(desk, painter)
            title = tr(found.title) if parts == 1 else told("{0}, sheet {1} of {2}", tr(found.title), part, parts)
            painter.setFont(font(17, strong=True))
            painter.setPen(QColor(palette.current().ink))
            painter.drawText(QPointF(0, 58), title)
            _rows(painter, found, rows, (part - 1) * EACH)
            page.foot(painter)

    return page.write(desk, path, draw)


def _rows(painter: QPainter, found: Listing, rows: Sequence[Sequence[str]], first: int) -> None:
    p = palette.current()
    wides = columns_of(found, page.WIDE - 34.0)
    draw_row(painter, [tr(head) for head in found.columns], wides, 30.0, TOP - 22.0, 20.0, 12, p.soft)
    for number, row in enumerate(rows):
        top = TOP + number * ROW
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, top + ROW - 1), QPointF(page.WIDE, top + ROW - 1))
        if found.keys[first + number]:
            box = QRectF(4, top + 5, 15, 15)
            painter.setPen(QPen(QColor(p.ink), 1.4))
            painter.drawRect(box)
            if found.ticked[first + number]:
                painter.setPen(QPen(QColor(p.ink), 2.4))
                painter.drawPolyline([QPointF(7, top + 13), QPointF(10, top + 17), QPointF(17, top + 6)])
        draw_row(painter, row, wides, 30.0, top, ROW - 1, 13, p.ink)
