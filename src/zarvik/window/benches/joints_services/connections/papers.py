"""The lists of the register on paper, a sheet each, more where one is not enough."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.project.connections.lists import Listing
from zarvik.project.language.language import tr, tr_format
from zarvik.window.benches.joints_services.connections.tick_list import columns_of, draw_row, row_high, row_lines
from zarvik.window.desk import Desk
from zarvik.window.paper import sheet as page
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

TOP, BOTTOM = 84.0, 70.0
SIZE = 13


def write(desk: Desk, path: str, lists: Sequence[Listing]) -> str:
    """Write every list that has rows as PDF; returns a sentence when it cannot be written, else nothing."""
    sheets = [sheet for found in lists for sheet in _sheets(found)]
    if not sheets:
        return tr("Nothing to write yet")

    def draw(desk: Desk, painter: QPainter, paper: page.Paper) -> None:
        for number, (found, part, parts, rows) in enumerate(sheets):
            if number:
                paper.more()
            page.head(desk, painter)
            title = tr(found.title) if parts == 1 else tr_format("{0}, sheet {1} of {2}", tr(found.title), part, parts)
            painter.setFont(font(17, strong=True))
            painter.setPen(QColor(palette.current().ink))
            painter.drawText(QPointF(0, 58), title)
            _rows(painter, found, rows)
            page.foot(painter)

    return page.write(desk, path, draw)


Cells = list[list[str]]


def _sheets(found: Listing) -> list[tuple[Listing, int, int, list[tuple[int, Cells]]]]:
    """A list in as many sheets as it needs: for each its rows with their numbers."""
    wides = columns_of(found, page.WIDE - 34.0)
    parts: list[list[tuple[int, Cells]]] = []
    left = 0.0
    for number, row in enumerate(found.rows):
        lines = row_lines(row, wides, SIZE)
        high = row_high(lines, SIZE)
        if not parts or high > left:
            parts.append([])
            left = page.TALL - TOP - BOTTOM
        parts[-1].append((number, lines))
        left -= high
    return [(found, n, len(parts), part) for n, part in enumerate(parts, 1)]


def _rows(painter: QPainter, found: Listing, rows: Sequence[tuple[int, Cells]]) -> None:
    p = palette.current()
    wides = columns_of(found, page.WIDE - 34.0)
    draw_row(painter, row_lines([tr(head) for head in found.columns], wides, 12), wides, 30.0, TOP - 24.0, 12, p.soft)
    top = TOP
    for number, lines in rows:
        high = row_high(lines, SIZE)
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, top + high - 1), QPointF(page.WIDE, top + high - 1))
        if found.keys[number]:
            painter.setPen(QPen(QColor(p.ink), 1.4))
            painter.drawRect(QRectF(4, top + 5, 15, 15))
            if found.ticked[number]:
                painter.setPen(QPen(QColor(p.ink), 2.4))
                painter.drawPolyline([QPointF(7, top + 13), QPointF(10, top + 17), QPointF(17, top + 6)])
        draw_row(painter, lines, wides, 30.0, top, SIZE, p.ink)
        top += high
