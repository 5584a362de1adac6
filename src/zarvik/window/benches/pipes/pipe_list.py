"""The list of pieces, drawn: silhouette, bore, loss as a bar, velocity, Mach."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter

from zarvik.project.language.language import tr
from zarvik.window.benches.pipes.presenter import Row
from zarvik.window.benches.pipes.silhouettes import draw_silhouette
from zarvik.window.desk import Desk
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.row_list import RowKind, RowList
from zarvik.window.parts.wrapping import width
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

HEIGHT = 25
BORE, BAR = 98.0, 34.0  # px of the bore's column and of the bar of a loss


def _columns(right: float) -> tuple[float, float, float, float]:
    """Left edges of Mach number, velocity, loss and bore in a row that ends at `right`, px."""
    right -= 10.0
    return right - 46.0, right - 106.0, right - 208.0, right - 312.0


def figure_at(row: Row, right: float, x: float) -> str:
    """Address of what the figure at `x` px leads to, empty where there is none."""
    mach, velocity, loss, _ = _columns(right)
    if row.kind == "head" or x < loss:
        return ""
    if row.kind == "cooler":
        return "cooler_loss" if x < velocity else ""
    family = "piece" if x < velocity else "velocity" if x < mach else "mach"
    return f"{family}:{row.id}"


def head_words(desk: Desk, row: Row, wide: float) -> list[tuple[str, str]]:
    """What stands at the head of a run that is `wide` px: words, each with what it leads to; what
    has no room beside the run's name is left out from behind."""
    places = None if desk.unit("length") == "in" else 0
    figures = {
        "run_loss": desk.text(row.loss, "pressure_difference", places=2),
        "run_length": desk.text(row.length, "length", places=places),
        "run_volume": desk.text(row.volume, "volume"),
        "run_turn": desk.text(row.turn, "angle"),
    }
    room = wide - 40.0 - width(row.title, 14, strong=True)
    words: list[tuple[str, str]] = []
    for template in (tr("{0} loss, {1} long, {2}, bend {3}"), tr("{0} loss, {1} long, {2}"), tr("{0} loss, {1} long"), tr("{0} loss")):
        marked = template.format(*(f"\x02{k}\x03" for k in figures))
        parts = re.split("[\x02\x03]", marked)
        words = [(figures[p], f"{p}:{row.run}") if p in figures else (p, "") for p in parts]
        if sum(width(w, 13) for w, _ in words) <= room:
            break
    return words


def _spans(words: list[tuple[str, str]], left: float) -> Iterator[tuple[float, float, str]]:
    for word, address in words:
        right = left + width(word, 13)
        yield left, right, address
        left = right


class PipeList(RowList):
    """The list with its keys: Delete removes, Alt+Up and Alt+Down move, Insert adds."""

    removal_wanted = Signal(str)
    move_wanted = Signal(str, int)
    new_wanted = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(tr("Pieces in flow order"), RowKind(lambda row: row.id, lambda row: row.title, self._figures), high=HEIGHT)
        self.desk = desk

    def _figures(self, row: Row) -> str:
        """The figures of a row in words."""
        say = self.desk.text
        if row.kind == "head":
            return "".join(word for word, _ in head_words(self.desk, row, math.inf))
        said = [tr("loss {0}").format(say(row.loss, "pressure_difference", places=2))]
        if row.bore_in:
            said.insert(0, tr("bore {0}").format(say(row.bore_in, "length")))
        if math.isfinite(row.mach):
            said += [say(row.velocity, "velocity"), tr("Mach {0:.2f}").format(row.mach)]
        return ", ".join([*said, tr(row.state)])

    def draw_row(self, painter: QPainter, area: QRectF, row: Row, chosen: bool, focused: bool) -> None:
        """One row: head, piece or intercooler."""
        if row.kind == "head":
            self._head(painter, area, row)
            return
        if chosen:
            self.draw_chosen(painter, area)
        self._piece(painter, area, row)

    def _head(self, painter: QPainter, r: QRectF, row: Row) -> None:
        p = current()
        painter.fillRect(r, QColor(p.ground))
        painter.setPen(QColor(p.ink))
        painter.setFont(font(14, strong=True))
        painter.drawText(r.adjusted(8, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, row.title)
        painter.setFont(font(13))
        painter.setPen(QColor(p.soft))
        words = head_words(self.desk, row, r.width())
        painter.drawText(
            r.adjusted(0, 0, -10, 0), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, "".join(word for word, _ in words)
        )

    def _piece(self, painter: QPainter, r: QRectF, row: Row) -> None:
        p, say = current(), self.desk.text
        draw_silhouette(painter, QRectF(r.left() + 8, r.top() + 2, 42, r.height() - 4), row)
        painter.setFont(font(14))
        painter.setPen(QColor(p.ink))
        columns = _columns(r.right())
        # A single bore leaves the room of a pair to the name.
        spare = 0.0 if abs(row.bore_out - row.bore_in) > 1e-6 else BORE - 62.0
        name = QRectF(r.left() + 57, r.top(), columns[3] + spare - r.left() - 61, r.height())
        text = painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, int(name.width()))
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(name, middle, text)
        end = middle | Qt.AlignmentFlag.AlignRight
        if row.bore_in:
            bore = say(row.bore_in, "length")
            if abs(row.bore_out - row.bore_in) > 1e-6:
                bore = f"{bore.partition(chr(0xA0))[0]}–{say(row.bore_out, 'length')}"
            painter.drawText(QRectF(columns[3], r.top(), BORE, r.height()), end, bore)
        bar = QRectF(columns[2] + 6, r.top() + 8, BAR, r.height() - 16)
        painter.fillRect(bar, QColor(p.grid))
        painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * min(row.share, 1.0), bar.height()), QColor(p.ink))
        loss = say(row.loss, "pressure_difference", places=2)
        painter.drawText(QRectF(columns[2] + BAR + 4, r.top(), 64, r.height()), end, loss)
        if math.isfinite(row.mach):
            painter.drawText(QRectF(columns[1], r.top(), 52, r.height()), end, say(row.velocity, "velocity"))
            painter.drawText(QRectF(columns[0], r.top(), 46, r.height()), end, f"M {row.mach:.2f}")
            if row.state != "ok":
                draw_state(painter, QRectF(columns[0] - 6, r.top() + 7, 11, 11), row.state)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A figure opens its calculation, once its piece is chosen."""
        super().mouseReleaseEvent(event)
        index = self.indexAt(event.position().toPoint())
        if not index.isValid() or event.button() != Qt.MouseButton.LeftButton:
            return
        row, area = self.rows.items[index.row()], QRectF(self.visualRect(index))
        x = event.position().x()
        address = figure_at(row, area.right(), x)
        if row.kind == "head":
            words = head_words(self.desk, row, area.width())
            left = area.right() - 10.0 - sum(width(w, 13) for w, _ in words)
            address = next((a for one, two, a in _spans(words, left) if one <= x < two), "")
        if address:
            self.desk.follow(address)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The list's keys."""
        row = self.chosen
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if row is not None and event.key() == Qt.Key.Key_Delete:
            self.removal_wanted.emit(row.id)
        elif row is not None and alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.move_wanted.emit(row.id, -1 if event.key() == Qt.Key.Key_Up else 1)
        elif row is not None and event.key() == Qt.Key.Key_W:
            cooler = "cooler_loss" if row.kind == "cooler" else f"piece:{row.id}"
            self.desk.show_calculation(f"run_loss:{row.run}" if row.kind == "head" else cooler)
        elif event.key() == Qt.Key.Key_Insert:
            self.new_wanted.emit()
        else:
            super().keyPressEvent(event)
