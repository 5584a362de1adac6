"""The lists of joints on paper, one after the other, with columns that a pen fills in."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator, Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.project.connections.lists import Listing
from zarvik.project.language.language import tr, tr_format
from zarvik.window.benches.joints_services.connections.tick_list import columns_of, draw_row, row_high, row_lines
from zarvik.window.desk import Desk
from zarvik.window.paper import flow
from zarvik.window.paper import sheet as page
from zarvik.window.paper.flow import Part, gap_part, title_part
from zarvik.window.theme import palette

SIZE = 18  # units of the sheet: letters of 11 points
BOX = 34.0  # units of the tick box and what is beside it
# Columns that a pen fills in, by the list; the others have one for initials
INITIALS = ("initials",)
BLANK = {"joints": ("torque set", "initials"), "order": ("torque set", "initials"), "shopping": ("price", "initials")}


def write(desk: Desk, path: str, lists: Sequence[Listing]) -> str:
    """Write every list that has rows as PDF; returns a sentence when it cannot be written, else nothing."""
    parts = [part for found in lists for part in _parts(_with_blanks(found)) if found.rows]
    return flow.write(desk, path, tr("Joint lists"), parts) if parts else tr("Nothing to write yet")


def _with_blanks(found: Listing) -> Listing:
    """A list with the columns that a pen fills in."""
    blank = BLANK.get(found.key, INITIALS)
    rows = tuple((*row, *("" for _ in blank)) for row in found.rows)
    return dataclasses.replace(found, columns=(*found.columns, *blank), rows=rows)


def _parts(found: Listing) -> Iterator[Part]:
    """Title, heads and rows of a list."""
    wides = columns_of(found, page.WIDE - BOX, SIZE)
    heads = row_lines([tr(head) for head in found.columns], wides, SIZE)

    def draw_heads(painter: QPainter, top: float) -> None:
        draw_row(painter, heads, wides, BOX, top, SIZE, palette.current().soft)

    over = Part(row_high(heads, SIZE), draw_heads, with_next=True)
    yield title_part(tr(found.title))
    yield over
    again = (title_part(tr_format("{0}, continued", tr(found.title))), over)
    for row, key, done in zip(found.rows, found.keys, found.ticked, strict=True):
        lines = row_lines(row, wides, SIZE)
        yield Part(row_high(lines, SIZE), partial(_draw_row, found, wides, lines, key, done), again=again)
    yield gap_part(16.0)


def _draw_row(found: Listing, wides: Sequence[float], lines: list[list[str]], key: str, done: bool, painter: QPainter, top: float) -> None:
    p, high = palette.current(), row_high(lines, SIZE)
    painter.setPen(QPen(QColor(p.line), 1))
    painter.drawLine(QPointF(0, top + high - 1), QPointF(page.WIDE, top + high - 1))
    x = BOX
    for column, wide in enumerate(wides):
        if column >= len(wides) - len(BLANK.get(found.key, INITIALS)):
            painter.drawLine(QPointF(x - 4.0, top + 2.0), QPointF(x - 4.0, top + high - 3.0))
        x += wide
    if key:
        page.tick_box(painter, QRectF(4, top + 6, 20, 20), done=done)
    draw_row(painter, lines, wides, BOX, top, SIZE, p.ink)
