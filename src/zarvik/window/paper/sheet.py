"""Sheets of paper: an A4 page across as PDF, its head and its foot."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QBuffer, QCoreApplication, QEventLoop, QMarginsF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPageLayout, QPageSize, QPainter, QPdfWriter

from zarvik.formats.atomic_writer import FileError, write_bytes
from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.disk_work import beside
from zarvik.window.parts.wrapping import fitting
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

WIDE = 1280.0  # the page is drawn on a sheet of so many units across, and scaled
TALL = WIDE * 190.0 / 277.0
CAUTION = (
    "A design aid. Local codes and licensed trades decide on structure, brakes, fuel and roadworthiness. "
    "Overboost can break an engine, overspeed can burst a wheel."
)


@dataclass(frozen=True)
class Paper:
    """What sheets are drawn on: `more` begins another one; `rest`, between two parts of a drawing, lets the window paint and hear."""

    more: Callable[[], object]
    rest: Callable[[], object] = lambda: None


# What draws sheets: the desk, a painter in units of the sheet, and the paper
Sheet = Callable[[Desk, QPainter, Paper], None]


def write(desk: Desk, path: str, draw: Sheet) -> str:
    """Write what `draw` puts on sheets as PDF (A4 across); returns a sentence when it cannot be written, else
    nothing."""
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
        draw(desk, painter, Paper(more, rest))
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


def head(desk: Desk, painter: QPainter) -> None:
    """Name of the project over a sheet."""
    p = palette.current()
    painter.setPen(QColor(p.ink))
    painter.setFont(font(26, strong=True))
    painter.drawText(QPointF(0, 26), fitting(desk.project.name, WIDE - 260.0, 26, strong=True))
    painter.setFont(font(13))
    painter.setPen(QColor(p.soft))
    if desk.project.invented:
        painter.drawText(QRectF(0, 4, WIDE, 24), Qt.AlignmentFlag.AlignRight, tr("invented demo: no real part"))


def foot(painter: QPainter) -> None:
    """The caution under a sheet."""
    painter.setFont(font(12))
    painter.setPen(QColor(palette.current().soft))
    painter.drawText(QPointF(0, TALL - 8), tr(CAUTION))
