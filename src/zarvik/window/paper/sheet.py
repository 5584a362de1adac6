"""Sheets of paper: an A4 page across as PDF, its head and its foot."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PySide6.QtCore import QBuffer, QCoreApplication, QEventLoop, QMarginsF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from zarvik.formats.atomic_writer import FileError, write_bytes
from zarvik.formats.paper_stamp import PaperStamp, stamp
from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.disk_work import beside
from zarvik.window.parts.wrapping import fitting, width
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

WIDE = 1280.0  # the page is drawn on a sheet of so many units across, and scaled
TALL = WIDE * 190.0 / 277.0
CAUTION = (
    "A design aid. Local codes and licensed trades decide on structure, brakes, fuel and roadworthiness. "
    "Overboost can break an engine, overspeed can burst a wheel."
)


@dataclass
class Paper:
    """What sheets are drawn on: `begin` begins another one; `rest`, between two parts of a drawing, lets the window paint and hear. `pages`
    of them there are, `page` is the one that is open, `stamp` says of which design they are."""

    begin: Callable[[], object]
    rest: Callable[[], object]
    stamp: PaperStamp
    pages: int
    page: int = 1

    def more(self) -> None:
        """Another sheet."""
        self.page += 1
        self.begin()


# What draws sheets: the desk, a painter in units of the sheet, and the paper
Sheet = Callable[[Desk, QPainter, Paper], None]


def write(desk: Desk, path: str, draw: Sheet, pages: int) -> str:
    """Write what `draw` puts on so many sheets (`pages`) as PDF (A4 across); returns a sentence when it cannot be written, else
    nothing."""
    mark = beside(partial(stamp, desk.project))
    before = palette.current().name
    data = QBuffer()
    data.open(QBuffer.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(data)
    writer.setTitle(desk.project.name)
    writer.setCreator("Zarvik")
    writer.setPageLayout(
        QPageLayout(
            QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Landscape, QMarginsF(10, 10, 10, 10), QPageLayout.Unit.Millimeter
        )
    )
    writer.setResolution(300)
    painter = QPainter(writer)
    scale = writer.width() / WIDE
    painter.scale(scale, scale)

    def rest() -> None:
        palette.use(before)
        QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        palette.use("paper")

    def more() -> None:
        rest()
        writer.newPage()

    # Paper is white: the page is drawn in the light theme whatever the screen shows.
    palette.use("paper")
    try:
        draw(desk, painter, Paper(more, rest, mark, pages))
    except BaseException:
        painter.end()
        raise
    finally:
        palette.use(before)

    def finish() -> None:
        # To pack the page takes as long as to draw it.
        painter.end()
        write_bytes(bytes(data.data().data()), Path(path))

    try:
        beside(finish)
    except FileError as error:
        return str(error)
    return ""


def head(desk: Desk, painter: QPainter, title: str = "") -> None:
    """Name of the project over a sheet, and what the sheet is (`title`)."""
    p = palette.current()
    painter.setPen(QColor(p.ink))
    painter.setFont(font(26, strong=True))
    name = fitting(desk.project.name, WIDE - 560.0, 26, strong=True)
    painter.drawText(QPointF(0, 26), name)
    if title:
        painter.setFont(font(18))
        painter.drawText(QPointF(width(name, 26, strong=True) + 16.0, 26), title)
    painter.setFont(font(14))
    painter.setPen(QColor(p.soft))
    if desk.project.invented:
        painter.drawText(QRectF(0, 4, WIDE, 24), Qt.AlignmentFlag.AlignRight, tr("invented demo: no real part"))


def foot(painter: QPainter, paper: Paper) -> None:
    """The caution under a sheet; day, revision and number of the page."""
    painter.setFont(font(12))
    painter.setPen(QColor(palette.current().soft))
    painter.drawText(QPointF(0, TALL - 8), tr(CAUTION))
    painter.setFont(font(14))
    painter.setPen(QColor(palette.current().ink))
    words = paper.stamp.words(paper.page, paper.pages)
    painter.drawText(QPointF(WIDE - width(words, 14), TALL - 8), words)


def tick_box(painter: QPainter, area: QRectF, *, done: bool = False) -> None:
    """A box for a pen, ticked where it is `done`."""
    ink, a = QColor(palette.current().ink), area
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(ink, 1.4))
    painter.drawRect(a)
    if done:
        painter.setPen(QPen(ink, 2.6))
        painter.drawPolyline(
            [QPointF(a.left() + 4, a.center().y()), QPointF(a.left() + 8, a.bottom() - 4), QPointF(a.right() - 2, a.top() + 2)]
        )
