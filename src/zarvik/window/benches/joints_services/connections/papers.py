"""The lists of the register on paper, a sheet each, more where one is not enough."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.project.connections.lists import Listing
from zarvik.project.language.language import tr, tr_format
from zarvik.window.benches.joints_services.connections.tick_list import columns_of, draw_row, row_high, row_lines
from zarvik.window.desk import Desk
from zarvik.window.paper import sheet as page
from zarvik.window.theme import palette

TOP, BOTTOM = 74.0, 40.0
SIZE = 18  # units of the sheet: letters of 11 points
BOX = 34.0  # units of the tick box and what is beside it
# Columns that a pen fills in, by the list; the others have one for initials
INITIALS = ("initials",)
BLANK = {"joints": ("torque set", "initials"), "order": ("torque set", "initials"), "shopping": ("price", "initials")}


def write(desk: Desk, path: str, lists: Sequence[Listing]) -> str:
    """Write every list that has rows as PDF; returns a sentence when it cannot be written, else nothing."""
    sheets = [sheet for found in lists for sheet in _sheets(_with_blanks(found))]
    if not sheets:
        return tr("Nothing to write yet")

    def draw(desk: Desk, painter: QPainter, paper: page.Paper) -> None:
        for number, (found, part, parts, rows) in enumerate(sheets):
            if number:
                paper.more()
            page.head(desk, painter, tr(found.title) if parts == 1 else tr_format("{0}, sheet {1} of {2}", tr(found.title), part, parts))
            _rows(painter, found, rows)
            page.foot(painter, paper)

    return page.write(desk, path, draw, len(sheets))


Cells = list[list[str]]


def _with_blanks(found: Listing) -> Listing:
    """A list with the columns that a pen fills in."""
    blank = BLANK.get(found.key, INITIALS)
    rows = tuple((*row, *("" for _ in blank)) for row in found.rows)
    return dataclasses.replace(found, columns=(*found.columns, *blank), rows=rows)


def _sheets(found: Listing) -> list[tuple[Listing, int, int, list[tuple[int, Cells]]]]:
    """A list in as many sheets as it needs: for each its rows with their numbers."""
    wides = columns_of(found, page.WIDE - BOX, SIZE)
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
    wides = columns_of(found, page.WIDE - BOX, SIZE)
    draw_row(painter, row_lines([tr(head) for head in found.columns], wides, 14), wides, BOX, TOP - 32.0, 14, p.soft)
    top = TOP
    pen = BOX + sum(wides[: -len(BLANK.get(found.key, INITIALS))])
    for number, lines in rows:
        high = row_high(lines, SIZE)
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, top + high - 1), QPointF(page.WIDE, top + high - 1))
        x = pen
        for wide in wides[len(found.columns) - len(BLANK.get(found.key, INITIALS)) :]:
            painter.drawLine(QPointF(x - 4.0, top + 2.0), QPointF(x - 4.0, top + high - 3.0))
            x += wide
        if found.keys[number]:
            page.tick_box(painter, QRectF(4, top + 6, 20, 20), done=found.ticked[number])
        draw_row(painter, lines, wides, BOX, top, SIZE, p.ink)
        top += high
