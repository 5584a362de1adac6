"""The cut list on paper: every pipe as its strip, a row with a box for each piece, how stock is cut, what to buy, the order of tacking."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import partial

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from zarvik.formats import bench_lists
from zarvik.project.fabrication.cut_list import CutList, tube_words
from zarvik.project.fabrication.pieces_cut import CUT_AS_NOW, CUT_BEFORE
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.units.rendering import render
from zarvik.window.benches.cut_weld.cut_strips import SAID, CutStrips, StripRow, strip_rows
from zarvik.window.desk import Desk
from zarvik.window.paper import flow, sheet
from zarvik.window.paper.flow import TOP, Part, gap_part, title_part
from zarvik.window.paper.sheet import WIDE
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

SIZE = 18  # units of the sheet: letters of 11 points
SCALE = 1.63  # of a strip: its numbers have 14 points
STEP = SIZE + 5.0
BOX, NUMBER, BLANK = 34.0, 34.0, 104.0  # units of the columns; two blank ones for a pen
BLANKS = ("measured", "initials")


def write(desk: Desk, path: str, found: CutList) -> str:
    """Write the cut list as PDF; returns a sentence when it cannot be written, else nothing."""
    strips = CutStrips(desk)
    try:
        return flow.write(desk, path, tr("Cut list"), list(_parts(desk, strips, found)), _heads)
    finally:
        strips.deleteLater()


def _parts(desk: Desk, strips: CutStrips, found: CutList) -> Iterator[Part]:
    units = desk.project.shown_units
    for row in strip_rows(desk.project, found.runs, tr("{0} · {1} · {2}")):
        high = SCALE * strips.row_high(row, WIDE / SCALE)
        yield Part(high, partial(_strip, strips, row, high), with_next=True)
        for number, (cut, tick) in enumerate(zip(row.cuts, row.done, strict=True), 1):
            words = f"{visible(cut.name)}: {bench_lists.piece(cut, units)}"
            yield _row(
                str(number), f"{words}. {tr(SAID[tick]).capitalize()}" if tick == CUT_BEFORE else words, row.title, done=tick == CUT_AS_NOW
            )
        yield gap_part(14.0)
    for title, lines in (
        (tr("Cannot be cut"), [visible(fault) for fault in found.faults]),
        (tr("To buy"), [f"{count} × {visible(name)}, {tube}" for name, tube, count in bench_lists.bought_of(found, units)]),
        (tr("Cut from stock"), list(_bars(found, units))),
        (tr("Tacking order"), [render(step, units) for step in found.order]),
    ):
        if lines:
            yield title_part(title)
        for number, line in enumerate(lines, 1):
            yield _row(str(number), line, title)
    yield Part(2.0 * STEP, partial(_words, tr("Measure in the car before you cut: a drawing does not know your car.")))


def _bars(found: CutList, units: Mapping[str, str]) -> Iterator[str]:
    for tube, nested in found.nested.items():
        yield from (f"{tube_words(tube, units)}, {line.strip()}" for line in bench_lists.bars(nested, found.names[tube], units))
    for (tube, radius), nested in found.bends.items():
        size = bench_lists.bend_words(tube, radius, units)
        yield from (f"{size}, {line.strip()}" for line in bench_lists.bars(nested, found.names[tube, radius], units))


def _row(number: str, words: str, of: str, *, done: bool = False) -> Part:
    """A box, the number, what is to be done, room for what was measured."""
    lines = wrapped(words, WIDE - BOX - NUMBER - len(BLANKS) * BLANK - 12.0, SIZE)
    high = STEP * len(lines) + 9.0

    def draw(painter: QPainter, top: float) -> None:
        p = palette.current()
        sheet.tick_box(painter, QRectF(4.0, top + 5.0, 20.0, 20.0), done=done)
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(QPointF(0, top + high), QPointF(WIDE, top + high))
        for n in range(len(BLANKS)):
            x = WIDE - (n + 1) * BLANK
            painter.drawLine(QPointF(x, top + 2.0), QPointF(x, top + high - 2.0))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(SIZE, strong=True))
        painter.drawText(QPointF(BOX, top + STEP - 2.0), number)
        painter.setFont(font(SIZE))
        for n, line in enumerate(lines, 1):
            painter.drawText(QPointF(BOX + NUMBER, top + n * STEP - 2.0), line)

    return Part(high, draw, again=(title_part(tr_format("{0}, continued", of)),))


def _words(text: str, painter: QPainter, top: float) -> None:
    painter.setFont(font(SIZE))
    painter.setPen(QColor(palette.current().ink))
    painter.drawText(QPointF(0, top + 1.6 * STEP), text)


def _strip(strips: CutStrips, row: StripRow, high: float, painter: QPainter, top: float) -> None:
    painter.save()
    painter.translate(0.0, top)
    painter.scale(SCALE, SCALE)
    strips.draw_row(painter, QRectF(0.0, 0.0, WIDE / SCALE, high / SCALE), row, False, False)
    painter.restore()


def _heads(painter: QPainter) -> None:
    """Over the columns that a pen fills in."""
    painter.setFont(font(14))
    painter.setPen(QColor(palette.current().soft))
    for n, head in enumerate(reversed(BLANKS)):
        painter.drawText(QPointF(WIDE - (n + 1) * BLANK + 6.0, TOP - 8.0), tr(head))
