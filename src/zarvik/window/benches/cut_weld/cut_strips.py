"""The cut list as strips: each pipe unrolled, its pieces numbered in the order of the flow, a clock face where a bend is rotated."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QToolTip

from zarvik.core.common.constants import INCH
from zarvik.formats import bench_lists
from zarvik.project.document.document import Project
from zarvik.project.fabrication.cut_list import HOSE, Cut, RunCuts
from zarvik.project.fabrication.pieces_cut import CUT_AS_NOW, CUT_BEFORE, cut_state
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.units.rendering import ruled
from zarvik.project.units.units import show
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.row_list import RowKind, RowList
from zarvik.window.parts.wrapping import fitting, width
from zarvik.window.theme.palette import between, current
from zarvik.window.theme.style import font

LEFT, RIGHT = 10.0, 10.0  # px beside a strip
TITLE, BAR, CLOCK, GAP = 24.0, 40.0, 34.0, 8.0  # px
LEAST = 27.0  # px of a piece
SAID = {CUT_AS_NOW: "cut", CUT_BEFORE: "cut before the design changed: measure it"}


@dataclass(frozen=True)
class StripRow:
    """A pipe: its place (`key`), title, what it comes to, its pieces, and of each whether it is cut (`done`: states of `pieces_cut`)."""

    key: str
    title: str
    sums: str
    cuts: tuple[Cut, ...]
    done: tuple[str, ...] = ()

    @property
    def rotated(self) -> bool:
        """Is one of its pieces a bend that is rotated?"""
        return any(rotation(cut) is not None for cut in self.cuts)


def strip_rows(project: Project, runs: Sequence[RunCuts], size: str) -> list[StripRow]:
    """A row for each pipe of which something is cut; `size`: its weld count, length and mass in words, to be filled in."""
    found, units = [], project.shown_units
    for run in runs:
        if not run.cuts:
            continue
        done = tuple(cut_state(project, cut) for cut in run.cuts)
        sums = size.format(
            ruled(sum(cut.length for cut in run.cuts), units, places=0),
            bench_lists.welds(run.welds),
            show(run.mass, "mass", units.get("mass"), places=1),
        )
        if any(done):
            sums += " · " + tr_format("{0} of {1} cut", done.count(CUT_AS_NOW), len(done))
        found.append(StripRow(run.run, run.title, sums, run.cuts, done))
    return found


def rotation(cut: Cut) -> float | None:
    """How a bend is rotated, rad clockwise seen along the flow: against the bend before it, of the first one against straight up. None
    for what is straight."""
    return cut.first if cut.first is not None else cut.roll


def places(cuts: Sequence[Cut], left: float, right: float) -> list[tuple[float, float]]:
    """Left and right px of each piece between two px: as its length, above a least width that keeps its number legible."""
    room = right - left
    least = min(LEAST, room / max(len(cuts), 1))
    whole = sum(cut.length for cut in cuts)
    spare = room - least * len(cuts)
    found, x = [], left
    for cut in cuts:
        wide = least + (spare * cut.length / whole if whole > 0.0 else 0.0)
        found.append((x, x + wide))
        x += wide
    return found


def turned(cut: Cut, units: Mapping[str, str]) -> str:
    """The rotation of a bend in words: its angle with a sign, and the way around the tube in the owner's `units`; empty for what is
    straight."""
    angle = rotation(cut)
    if angle is None:
        return ""
    sign = "+" if angle > 0.0 else "−" if angle < 0.0 else ""
    return f"{sign}{abs(math.degrees(angle)):.0f}°, {ruled(0.5 * cut.tube * abs(angle), units, places=0)}"


class CutStrips(RowList):
    """A strip for each pipe; `cut_chosen` carries the pipe's key and the number of a piece from 0. Left and right go from piece to
    piece, space ticks one off."""

    cut_chosen = Signal(str, int)
    cut_ticked = Signal()  # the chosen piece is cut, or not any more

    def __init__(self, desk: Desk) -> None:
        super().__init__(tr("Cut list"), RowKind(lambda r: r.key, lambda r: r.title, self._spoken))
        self.desk = desk
        self.number = 0  # of the chosen piece in the chosen pipe
        self.empty = "Nothing to cut"
        self.row_chosen.connect(lambda key: self.choose_cut(key, 0))

    def _spoken(self, row: StripRow) -> str:
        units = self.desk.project.shown_units
        ticks = row.done or ("",) * len(row.cuts)
        pieces = (
            f"{n} {visible(cut.name)}: {bench_lists.piece(cut, units)}" + (f", {tr(SAID[tick])}" if tick else "")
            for n, (cut, tick) in enumerate(zip(row.cuts, ticks, strict=True), 1)
        )
        return "; ".join([row.sums, *pieces])

    @property
    def cut(self) -> Cut | None:
        """The chosen piece."""
        row = self.chosen
        return row.cuts[min(self.number, len(row.cuts) - 1)] if row is not None and row.cuts else None

    def choose_cut(self, key: str, number: int) -> None:
        """Choose a piece of a pipe and tell it."""
        self.choose(key)
        self.number = number
        self.viewport().update()
        self.cut_chosen.emit(key, number)

    def row_high(self, row: StripRow, wide: float) -> float:
        """Title and strip, and clock faces where a bend is rotated."""
        return TITLE + BAR + (CLOCK if row.rotated else 0.0) + GAP

    def draw_row(self, painter: QPainter, area: QRectF, row: StripRow, chosen: bool, focused: bool) -> None:
        """Title, strip, clock faces."""
        p = current()
        left, right = area.left() + LEFT, area.right() - RIGHT
        painter.setFont(font(13))
        painter.setPen(QColor(p.soft))
        sums = width(row.sums, 13)
        painter.drawText(QRectF(right - sums, area.top(), sums, TITLE), Qt.AlignmentFlag.AlignVCenter, row.sums)
        painter.setFont(font(strong=True))
        painter.setPen(QColor(p.ink))
        room = right - sums - left - 10.0
        painter.drawText(QRectF(left, area.top(), room, TITLE), Qt.AlignmentFlag.AlignVCenter, fitting(row.title, room, strong=True))
        top = area.top() + TITLE
        spots = places(row.cuts, left, right)
        for number, (cut, (one, two)) in enumerate(zip(row.cuts, spots, strict=True)):
            self._piece(painter, QRectF(one, top, two - one, BAR), cut, number, lit=chosen and number == self.number)
            if number < len(row.done) and row.done[number]:
                self._mark(painter, QRectF(one + 3.0, top + 3.0, 13.0, 13.0), row.done[number])
            if rotation(cut) is not None:
                self._clock(painter, QPointF(one + 15.0, top + BAR + 0.5 * CLOCK), cut, self._next_clock(row, spots, number, right))
        if focused:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(area.adjusted(1, 1, -1, -GAP + 2))

    def _piece(self, painter: QPainter, area: QRectF, cut: Cut, number: int, *, lit: bool) -> None:
        """A box: number, and length or angle. A bend is tinted, a hose hatched, the chosen piece has a thick edge."""
        p = current()
        tone = p.hot_low if cut.angle else p.cold_low
        painter.setBrush(between(p.raised, tone, 0.45 if lit else 0.22))
        painter.setPen(QPen(QColor(p.accent if lit else p.ink), 2.6 if lit else 1.1))
        painter.drawRect(area)
        if cut.kind == HOSE:
            # Hatched at its ends alone: the number between them is read.
            painter.setBrush(Qt.BrushStyle.BDiagPattern)
            for end in (area.left(), area.right() - 7.0):
                painter.drawRect(QRectF(end, area.top(), 7.0, area.height()))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(14, strong=True))
        painter.drawText(area.adjusted(0, 3, 0, -BAR / 2), Qt.AlignmentFlag.AlignCenter, str(number + 1))
        painter.setFont(font(12))
        painter.drawText(area.adjusted(0, BAR / 2 - 2, 0, -2), Qt.AlignmentFlag.AlignCenter, self._size(cut, area.width() - 4.0))

    @staticmethod
    def _mark(painter: QPainter, area: QRectF, state: str) -> None:
        """A box that is ticked, or with a stroke through it for what was cut to other sizes."""
        p, a = current(), area
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(p.raised))
        painter.drawRect(a)
        painter.setPen(QPen(QColor(p.ok if state == CUT_AS_NOW else p.fails), 2.6))
        if state == CUT_AS_NOW:
            painter.drawPolyline(
                [QPointF(a.left() + 2, a.center().y()), QPointF(a.left() + 5, a.bottom() - 3), QPointF(a.right() - 1, a.top() + 2)]
            )
        else:
            painter.drawLine(QPointF(a.left() + 2, a.bottom() - 2), QPointF(a.right() - 2, a.top() + 2))

    def _size(self, cut: Cut, room: float) -> str:
        """Length of a straight, angle and radius of a bend, as much as there is room for."""
        if cut.angle:
            inch = self.desk.unit("length") == "in"
            radius = f"{cut.radius / INCH:.1f}" if inch else f"{1e3 * cut.radius:.0f}"
            texts = [f"{math.degrees(cut.angle):.0f}° R{radius}", f"{math.degrees(cut.angle):.0f}°"]
        else:
            whole = self.desk.text(cut.length, "length").replace(".0\u00a0", "\u00a0")
            texts = [whole, whole.rpartition("\u00a0")[0]]
        return next((text for text in texts if width(text, 12) <= room), texts[-1])

    @staticmethod
    def _next_clock(row: StripRow, spots: Sequence[tuple[float, float]], number: int, right: float) -> float:
        """Px up to which the words of a clock face have room: the next face, or the end of the strip."""
        later = (x for cut, (x, _) in zip(row.cuts[number + 1 :], spots[number + 1 :], strict=True) if rotation(cut) is not None)
        return next(later, right)

    def _clock(self, painter: QPainter, middle: QPointF, cut: Cut, right: float) -> None:
        """A clock face: twelve is the scribe line of the bend before, of the first bend straight up; the hand is this one's."""
        p = current()
        angle = rotation(cut) or 0.0
        painter.setBrush(QColor(p.raised))
        painter.setPen(QPen(QColor(p.soft), 1.1))
        painter.drawEllipse(middle, 12.0, 12.0)
        painter.drawLine(QPointF(middle.x(), middle.y() - 12.0), QPointF(middle.x(), middle.y() - 8.5))
        painter.setPen(QPen(QColor(p.accent), 2.4))
        painter.drawLine(middle, QPointF(middle.x() + 10.5 * math.sin(angle), middle.y() - 10.5 * math.cos(angle)))
        painter.setFont(font(12))
        painter.setPen(QColor(p.ink))
        start, text = middle.x() + 17.0, turned(cut, self.desk.project.shown_units)
        if start + width(text, 12) > right:
            text = text.partition(",")[0]  # the way around the tube stands in the words below
        painter.drawText(QRectF(start, middle.y() - 9.0, width(text, 12) + 2.0, 18.0), Qt.AlignmentFlag.AlignVCenter, text)

    def _at(self, spot: QPointF) -> tuple[StripRow, int] | None:
        """The pipe and the piece under a spot."""
        index = self.indexAt(spot.toPoint())
        if not index.isValid():
            return None
        row, area = self.rows.items[index.row()], QRectF(self.visualRect(index))
        spots = places(row.cuts, area.left() + LEFT, area.right() - RIGHT)
        number = next((n for n, (one, two) in enumerate(spots) if one <= spot.x() < two), None)
        return (row, number) if number is not None else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the piece under the mouse."""
        found = self._at(event.position())
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if found is not None:
            self.choose_cut(found[0].key, found[1])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go from piece to piece, up and down from pipe to pipe; space ticks the piece off."""
        row = self.chosen
        if event.key() == Qt.Key.Key_Space and row is not None:
            self.cut_ticked.emit()
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None or row is None:
            super().keyPressEvent(event)
            return
        self.choose_cut(row.key, min(max(self.number + step, 0), len(row.cuts) - 1))

    def viewportEvent(self, event: QEvent) -> bool:
        """The tip of a piece: its name and all its marks."""
        if isinstance(event, QHelpEvent):
            found = self._at(QPointF(event.pos()))
            if found is not None:
                cut = found[0].cuts[found[1]]
                words = bench_lists.piece(cut, self.desk.project.shown_units)
                QToolTip.showText(event.globalPos(), plain_tip(tr_format("{0}: {1}", visible(cut.name), words)), self)
                return True
        return super().viewportEvent(event)
