"""The Compare bench: keep the design under a name, see two or more side by side, go back to one."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from zarvik.core.answer.answer import Answer
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError
from zarvik.project.variants import variants
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.compare import presenter
from zarvik.window.desk import Desk
from zarvik.window.parts.copying import offer_copy
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.wrapping import metrics, width, wrapped
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

HEAD, LINE, TITLE = 42, 27, 196
NARROW = 92  # px of a column at the least; below that the table scrolls sideways
STEP = 17.0  # px from line to line of a row that takes more than one
MOST = 3  # variants beside the present design


MARKS = {"best": "▲ ", "worst": "▽ "}
STRONG = ("best", "other")


@dataclass(frozen=True)
class Placed:
    """A row where it is drawn: its top and height in px, its title and figures in lines."""

    top: float
    tall: float
    row: presenter.Row
    title: list[str]
    cells: list[list[str]]


class Table(QWidget):
    """Rows of figures over designs: best and worst of a row carry a mark. The arrows choose a
    figure, Enter or a click opens its calculation or the entry."""

    opened = Signal(str, int)  # address, number of the design

    def __init__(self) -> None:
        super().__init__()
        self.at = 0
        self.column = 0
        self._placed: list[Placed] = []
        self.heads: list[str] = []
        self.groups: list[tuple[str, list[presenter.Row]]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Designs side by side"))
        offer_copy(self, self.cells)

    def cells(self) -> list[list[str]]:
        """The table as it is copied: a line of heads, a row for each figure."""
        head = ["", *self.heads]
        return [head, *([row.title, *(cell.text for cell in row.cells)] for _, rows in self.groups for row in rows)]

    def fill(self, heads: list[str], groups: list[tuple[str, list[presenter.Row]]]) -> None:
        """Take new rows under `heads`."""
        self.heads = heads
        self.setMinimumWidth(TITLE + NARROW * len(heads))
        self.groups = [(title, rows) for title, rows in groups if rows]
        self._set()
        words = "; ".join(f"{row.title}: {', '.join(c.text for c in row.cells)}" for _, rows in self.groups for row in rows if row.differs)
        self.setAccessibleDescription(words)
        self.at = min(self.at, max(len(self._rows()) - 1, 0))
        self.column = min(self.column, max(len(heads) - 1, 0))
        self.update()

    def _set(self) -> None:
        """Break titles and figures into lines, and give every row the height that it takes."""
        room = self._wide() - 10.0
        self._placed = []
        y = float(HEAD)
        for _, rows in self.groups:
            y += 34
            for row in rows:
                title = wrapped(row.title, TITLE - 10.0, 14, strong=row.differs)
                cells = [wrapped(MARKS.get(c.tone, "") + c.text, room, 14, strong=c.tone in STRONG) for c in row.cells]
                lines = max(len(title), *(len(c) for c in cells))
                self._placed.append(Placed(y, LINE + STEP * (lines - 1), row, title, cells))
                y += self._placed[-1].tall
        self.setMinimumHeight(round(y) + 8)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Set anew."""
        self._set()

    def _rows(self) -> list[tuple[float, presenter.Row]]:
        """Every row with its top pixel."""
        return [(placed.top, placed.row) for placed in self._placed]

    def _open(self) -> None:
        rows = self._rows()
        cells = rows[self.at][1].cells if rows else ()
        if self.column < len(cells) and cells[self.column].leads:
            self.opened.emit(cells[self.column].leads, self.column)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The arrows, Enter."""
        last = len(self._rows()) - 1
        if event.key() == Qt.Key.Key_Down and self.at < last:
            self.at += 1
        elif event.key() == Qt.Key.Key_Up and self.at > 0:
            self.at -= 1
        elif event.key() == Qt.Key.Key_Right and self.column < len(self.heads) - 1:
            self.column += 1
        elif event.key() == Qt.Key.Key_Left and self.column > 0:
            self.column -= 1
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_W):
            self._open()
        else:
            super().keyPressEvent(event)
            return
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Open the figure under the mouse; the title of a row stands for the present design."""
        across = (event.position().x() - TITLE) // self._wide()
        for number, placed in enumerate(self._placed):
            if placed.top <= event.position().y() < placed.top + placed.tall:
                self.at = number
                self.column = min(max(int(across), 0), max(len(self.heads) - 1, 0))
                self._open()
        self.update()

    def _wide(self) -> float:
        return (self.width() - TITLE) / max(len(self.heads), 1)

    def sizeHint(self) -> QSize:
        """As tall as its rows."""
        return QSize(500, self.minimumHeight())

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """Heads, groups, rows."""
        p = current()
        painter = QPainter(self)
        column = self._wide()
        painter.setFont(font(15, strong=True))
        painter.setPen(QColor(p.ink))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        for i, head in enumerate(self.heads):
            lines = wrapped(head, column - 12, 15, strong=True)[:2]
            for n, line in enumerate(reversed(lines)):
                text = metrics(15, strong=True).elidedText(line, Qt.TextElideMode.ElideRight, column - 12)
                area = QRectF(TITLE + i * column, HEAD - 20 * (n + 1), column - 6, 20)
                painter.drawText(area, right, text)
        at = 0
        for title, rows in self.groups:
            painter.setFont(font(13))
            painter.setPen(QColor(p.soft))
            painter.drawText(QPointF(0, self._placed[at].top - 12), title)
            at += len(rows)
        seen = event.rect()
        for placed in self._placed:
            # A long table is looked at through a window: the rest of it need not be drawn.
            if placed.top <= seen.bottom() and placed.top + placed.tall >= seen.top():
                self._row(painter, placed, column)
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
            if self._placed:
                chosen = self._placed[self.at]
                x = TITLE + self.column * column
                painter.drawRect(QRectF(x + 2, chosen.top + 1, column - 4, chosen.tall - 2))
        painter.end()

    def _row(self, painter: QPainter, placed: Placed, column: float) -> None:
        p, row, y = current(), placed.row, placed.top
        painter.setPen(QPen(QColor(p.grid), 1))
        low = y + placed.tall
        painter.drawLine(QPointF(0, low), QPointF(self.width(), low))
        painter.setFont(font(14, strong=row.differs))
        painter.setPen(QColor(p.ink if row.differs else p.soft))
        for n, line in enumerate(placed.title):
            painter.drawText(QPointF(0, y + 18 + STEP * n), line)
        tones = {"best": p.ok, "worst": p.fails, "other": p.accent}
        for i, (cell, lines) in enumerate(zip(row.cells, placed.cells, strict=True)):
            strong = cell.tone in STRONG
            painter.setFont(font(14, strong=strong))
            painter.setPen(QColor(tones.get(cell.tone, p.ink if row.differs else p.soft)))
            end = TITLE + (i + 1) * column - 6
            for n, line in enumerate(lines):
                wide = width(line, 14, strong=strong)
                painter.drawText(QPointF(end - wide, y + 18 + STEP * n), line)
            wide = width(lines[0], 14, strong=strong)
            if cell.note and column - wide > width(cell.note, 13) + 24:
                painter.setFont(font(13))
                painter.setPen(QColor(p.soft))
                painter.drawText(QPointF(end - wide - width(cell.note, 13) - 12, y + 18), cell.note)


class VariantRow(QWidget):
    """One variant: shown or not, drawn as a overlay or not, gone back to, removed."""

    def __init__(self, bench: CompareBench) -> None:
        super().__init__()
        self.bench = bench
        self.name = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 4)
        column.setSpacing(3)
        self.shown = QCheckBox()
        self.shown.clicked.connect(lambda on: bench.choose(self.name, bool(on)))
        head = QHBoxLayout()
        head.addWidget(self.shown, 1)
        column.addLayout(head)
        row = QHBoxLayout()
        row.setSpacing(5)
        self.overlay = QPushButton(tr("Overlay"))
        self.overlay.setCheckable(True)
        self.overlay.setToolTip(tr("Draw it behind the present design in every chart"))
        self.overlay.clicked.connect(lambda on: bench.desk.set_overlay(self.name if on else ""))
        self.enter = QPushButton(tr("Restore"))
        self.enter.clicked.connect(lambda: bench.enter(self.name))
        self.remove = QToolButton()
        self.remove.setText("×")
        self.remove.setToolTip(tr("Remove the variant; undo brings it back"))
        self.remove.setAccessibleName(tr("Remove the variant"))
        self.remove.clicked.connect(lambda: bench.remove(self.name))
        head.addWidget(self.remove)
        for button in (self.overlay, self.enter):
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)

    def show_variant(self, name: str, *, same: bool, overlay: bool, shown: bool) -> None:
        """Fill the row; `same`: the present design is this one."""
        self.name = name
        text = tr("{0}  (present design)").format(name) if same else name
        self.shown.setText(metrics().elidedText(text.replace("&", "&&"), Qt.TextElideMode.ElideRight, 186.0))
        self.shown.setAccessibleName(tr("Show {0} beside the present design").format(name))
        self.shown.setChecked(shown)
        self.overlay.setChecked(overlay)
        self.enter.setEnabled(not same)


class CompareBench(Bench):
    """Variants on the left, figures and entries that differ on the right."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 12, 12, 12)
        layout.setSpacing(18)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(heading(tr("Variants")))
        row = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setMaxLength(60)
        self.name.setAccessibleName(tr("Name of the new variant"))
        self.name.returnPressed.connect(self.keep)
        self.keep_button = QPushButton(tr("Save"))
        self.keep_button.setToolTip(tr("Save the present design under this name"))
        self.keep_button.clicked.connect(self.keep)
        row.addWidget(self.name, 1)
        row.addWidget(self.keep_button)
        left.addLayout(row)
        self.help = PlainLabel(
            tr(
                "Save the design as a variant, change it, and see both side by side. Variants are saved with the "
                "project; every step can be undone."
            )
        )
        self.help.setObjectName("soft")
        self.help.setWordWrap(True)
        left.addWidget(self.help)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        self._rows = QVBoxLayout(inside)
        self._rows.setContentsMargins(0, 0, 8, 0)
        self._rows.addStretch(1)
        scroll.setWidget(inside)
        left.addWidget(scroll, 1)
        holder = QWidget()
        holder.setLayout(left)
        holder.setFixedWidth(260)
        layout.addWidget(holder)
        self.rows: list[VariantRow] = []
        right = QScrollArea()
        right.setWidgetResizable(True)
        right.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.table = Table()
        self.table.opened.connect(self._open)
        right.setWidget(self.table)
        layout.addWidget(right, 1)
        self.chosen: list[str] = []
        desk.compared.connect(partial(self._if_seen, self._fill))
        desk.overlay_changed.connect(partial(self._if_seen, self._fill))

    def refresh_document(self) -> None:
        """The variants follow the document."""
        names = variants.names(self.desk.project)
        self.chosen = [n for n in self.chosen if n in names]
        if self.desk.overlay and self.desk.overlay not in names:
            self.desk.set_overlay("")
        if not self.chosen and names:
            self.chosen = list(names[-2:])
        if not self.name.hasFocus():
            self.name.setText(variants.free_name(self.desk.project))
        while len(self.rows) < len(names):
            row = VariantRow(self)
            self.rows.append(row)
            self._rows.insertWidget(self._rows.count() - 1, row)
        for row, variant in zip(self.rows, self.desk.project.variants, strict=False):
            row.show_variant(
                variant.name,
                same=variants.same_design(variant.design, self.desk.project),
                overlay=variant.name == self.desk.overlay,
                shown=variant.name in self.chosen,
            )
            row.show()
        for row in self.rows[len(names) :]:
            row.hide()
        self.desk.ask_beside(self.chosen)
        self._fill()

    def refresh_result(self) -> None:
        """The figures of the present design follow its answer."""
        self._fill()

    def refresh_rest(self) -> None:
        """With the bands of the answer its checks may be others."""
        self._fill()

    def _fill(self) -> None:
        project = self.desk.project
        for row in self.rows:
            row.overlay.setChecked(bool(row.name) and row.name == self.desk.overlay)
        answers: list[Answer | None] = [self.desk.answer]
        answers += [self.desk.beside(name) for name in self.chosen]
        designs = [variants.find(project, name) for name in self.chosen]
        figures = presenter.figures(answers, project.shown_units) if len(answers) > 1 else []
        differ = [r for r in figures if r.differs]
        same = [r for r in figures if not r.differs]
        entries = presenter.entries(project, designs)
        self.table.fill(
            [tr("now"), *self.chosen] if self.chosen else [],
            [(tr("Different results"), differ), (tr("Different entries"), entries), (tr("Unchanged"), same)],
        )

    def _open(self, address: str, design: int) -> None:
        beside = None
        if design > 0 and not address.startswith("="):
            beside = self.desk.variant_beside(self.chosen[design - 1])
        self.desk.follow(address, beside)

    def keep(self) -> None:
        """Keep the present design under the name in the field."""
        try:
            changed = variants.keep(self.desk.project, self.name.text())
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        name = variants.names(changed)[-1]
        self.chosen = [*self.chosen, name][-MOST:]
        self.name.clearFocus()
        self.desk.change(tr("Save variant {0}").format(name), changed)

    def enter(self, name: str) -> None:
        """Make a variant the present design."""
        self.desk.change(tr("Restore {0}").format(name), variants.enter(self.desk.project, name))

    def remove(self, name: str) -> None:
        """Drop a variant; undo brings it back."""
        self.desk.change(tr("Remove variant {0}").format(name), variants.remove(self.desk.project, name))

    def choose(self, name: str, on: bool) -> None:
        """Show a variant in the table, or not any more."""
        rest = [n for n in self.chosen if n != name]
        self.chosen = [*rest, name][-MOST:] if on else rest
        for row in self.rows:
            row.shown.setChecked(row.name in self.chosen)
        self.desk.ask_beside(self.chosen)
        self._fill()
