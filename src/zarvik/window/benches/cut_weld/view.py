"""The Cut & weld bench: the cut list, stock, and drawings at their true size."""

from __future__ import annotations

import html
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QMenu,
    QPushButton,
    QScrollArea,
    QTextEdit,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from zarvik.core.fabrication.drawing import Drawing
from zarvik.formats import bench_files, bench_lists
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import PIPE
from zarvik.project.fabrication.cut_list import Cut, CutList
from zarvik.project.fabrication.pieces_cut import CUT_AS_NOW, CUT_BEFORE, cut_state, with_cut
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import opening, visible
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.cut_weld import papers
from zarvik.window.benches.cut_weld import presenter as show
from zarvik.window.benches.cut_weld.cut_strips import SAID, CutStrips, strip_rows
from zarvik.window.benches.cut_weld.pictures import Bars, Paper
from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.message_box import may_write
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.side import Turn, side_column
from zarvik.window.parts.tabs import paged
from zarvik.workspace.job_store import DONE, FAILED, JobResult
from zarvik.workspace.jobs import CUTS, FILES, SHEETS, cuts_of, files_of, sheets_of

LIST, STOCK, DRAWINGS, ORDER = "list", "stock", "drawings", "order"
PAGES = {LIST: "Cut list", STOCK: "Stock", DRAWINGS: "Drawings", ORDER: "Weld order"}
TEMPLATES = ("roll", "mitre", "pie", "tee")  # what the key of a drawing of a piece begins with


ADDED = {"tube": "Straight tube", "bend": "Bend", "ring": "Ring or bend segment", PIPE: "Pipe with bends", "block": "Modelling block"}


class CutWeldBench(Bench):
    """Four pages."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        head, self.pages, self.stack = paged(self, PAGES, self.show_page)
        self.saving = QToolButton()
        self.saving.setText(tr("Save files"))
        self.saving.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.saving)
        for what, words, tip in (
            ("paper", "Cut list as PDF", "Strips with clock faces, a box for each piece, what to buy, order of tacking"),
            ("cutlist", "Cut list as text", "For the phone"),
            ("drawings", "Drawings at 1:1", "All as one PDF, or each as DXF or SVG"),
            ("bends", "Bend tables as CSV", "Length, rotation, angle and radius of every pipe, for a tube bender"),
            ("bodies", "Tube bodies as STL", "Every tube in its place"),
        ):
            menu.addAction(tr(words), partial(self.save, what)).setToolTip(plain_tip(tr(tip)))
        self.saving.setMenu(menu)
        head.addWidget(self.saving)
        self.page = LIST
        self.stack.offer({LIST: self._list, STOCK: self._stock, DRAWINGS: self._drawings, ORDER: self._order})
        self.found: CutList | None = None
        self._shown: dict[str, object] = {}
        self.sheets: list[Drawing] = []
        self._faults: list[str] = []
        self._line = ""
        self._paper_goal = ""  # file that the cut list is printed to as soon as it is there
        desk.job_changed.connect(self._hear)
        self.show_page(LIST)

    def _list(self) -> QWidget:
        page = QWidget(self.stack)
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(14)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.strips = CutStrips(self.desk)
        self.strips.cut_chosen.connect(self._choose_cut)
        self.strips.cut_ticked.connect(self._tick_cut)
        left.addWidget(self.strips, 1)
        head = QHBoxLayout()
        self.piece_title = heading("")
        head.addWidget(self.piece_title, 1)
        self.is_cut = QCheckBox(tr("Piece is cut"))
        self.is_cut.setToolTip(plain_tip(tr("Tick it off (Space in the list). If the design changes later, the piece is marked")))
        self.is_cut.clicked.connect(lambda _=False: self._tick_cut())
        head.addWidget(self.is_cut)
        left.addLayout(head)
        self.piece = Paragraph()
        left.addWidget(self.piece)
        row.addLayout(left, 3)
        right = QVBoxLayout()
        right.setSpacing(6)
        self.bought = Paragraph()
        right.addWidget(self.bought)
        self.bars = Bars(self.desk)
        self.bars.piece_chosen.connect(self._choose_named)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setWidget(self.bars)
        right.addWidget(self._scroll, 1)
        row.addLayout(right, 2)
        return page

    def _order(self) -> QWidget:
        page = QWidget(self.stack)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.text = QTextEdit()
        self.text.setReadOnly(True)
        self.text.setTabChangesFocus(True)
        self.text.setAccessibleName(tr("Weld order"))
        column.addWidget(self.text)
        return page

    def _stock(self) -> QWidget:
        page = QWidget(self.stack)
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(heading(tr("Stock")))
        self.stock = QListWidget()
        self.stock.setAccessibleName(tr("Stock"))
        self.stock.currentRowChanged.connect(self._chosen)
        self.no_stock = Paragraph(tr("Add the tube, bends and rings that you have: pieces are cut from them first."))
        left.addWidget(self.no_stock)
        left.addWidget(self.stock, 1)
        bar = QHBoxLayout()
        bar.setSpacing(5)
        self.adds = QToolButton()
        self.adds.setText(tr("Add"))
        self.adds.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.adds)
        for kind, title in ADDED.items():
            menu.addAction(tr(title), partial(self.add, kind))
        self.adds.setMenu(menu)
        bar.addWidget(self.adds)
        self.remove = QPushButton(tr("Remove"))
        self.remove.clicked.connect(self._remove)
        bar.addWidget(self.remove)
        bar.addStretch(1)
        left.addLayout(bar)
        row.addLayout(left, 3)
        area, self._side = side_column(300, 8, 6)
        self._side.addWidget(heading(tr("Saw")))
        self.shop = Form(self.desk, show.SHOP, label_width=150, room=110)
        self._side.addWidget(self.shop)
        self.of_line = heading(tr("Selected line"))
        self._side.addWidget(self.of_line)
        self.form: Form | None = None
        self._side.addStretch(1)
        row.addWidget(area)
        Turn(page, row, {self.stock: 150, area: 200})
        return page

    def _drawings(self) -> QWidget:
        page = QWidget(self.stack)
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        left = QVBoxLayout()
        self.drawings = QListWidget()
        self.drawings.setFixedWidth(290)
        self.drawings.setAccessibleName(tr("Drawings"))
        self.drawings.currentRowChanged.connect(self._drawing_chosen)
        left.addWidget(self.drawings, 1)
        row.addLayout(left)
        right = QVBoxLayout()
        right.setSpacing(5)
        self.paper = Paper(self.desk)
        right.addWidget(self.paper, 1)
        self.about = Paragraph()
        right.addWidget(self.about)
        row.addLayout(right, 1)
        Turn(page, row, {self.drawings: 120, self.paper: 260})
        return page

    def show_page(self, key: str) -> None:
        """One of the pages."""
        self.pages[key].setChecked(True)
        self.page = key
        self.stack.turn(key)
        if self.isVisible():
            self.refresh_document()

    # What is shown

    def refresh_document(self) -> None:
        """The page that is shown follows the document."""
        if self.page in (LIST, ORDER):
            self._take(self.desk.ask(cuts_of(self.desk.project)))
        elif self.page == STOCK:
            self._fill_stock(self.desk.project)
        elif self.page == DRAWINGS:
            self._take(self.desk.ask(sheets_of(self.desk.project)))

    def _hear(self, reply: JobResult) -> None:
        if reply.key == CUTS and reply.job.of is self.desk.project:
            self._print(reply)
        # What comes after another page was turned to is asked for again when its own is
        wanted = {LIST: CUTS, ORDER: CUTS, DRAWINGS: SHEETS}.get(self.page)
        if reply.key == wanted and self.isVisible() and reply.job.of is self.desk.project:
            self._take(reply)
        elif reply.key.startswith(FILES) and reply.state == DONE:
            names = [path.name for path in reply.value]
            self.desk.notice.emit(tr_format("wrote {0}", ", ".join(names[:3]) + (" …" if len(names) > 3 else "")))

    def _take(self, reply: JobResult) -> None:
        """Show what was found out, unless it is shown already."""
        if reply.state == FAILED and self.page == ORDER:
            self.text.setPlainText(opening(reply.fault))
        elif reply.state == FAILED and self.page == LIST:
            self.piece.setText(opening(reply.fault))
        shown = self.page if reply.key == CUTS else reply.key
        if reply.state != DONE or reply.value is self._shown.get(shown):
            return
        self._shown[shown] = reply.value
        if reply.key == CUTS:
            self.found = reply.value
            (self._fill_list if self.page == LIST else self._fill_order)(self.desk.project, reply.value)
        else:
            self.sheets, faults = reply.value
            self._faults = [visible(f) for f in faults]
            self._fill_drawings(self.desk.project)

    def refresh_result(self) -> None:
        """Nothing here waits for the flow."""

    def _fill_list(self, project: Project, found: CutList) -> None:
        self.strips.take(strip_rows(project, found.runs, tr("{0} · {1} · {2}")), first=True)
        if not self._choose_where(lambda cut: bool(cut.key) and cut.key == self.desk.piece):
            self._choose_cut(self.strips.key, self.strips.number)
        self.bought.setText(show.bought(found, project.shown_units))
        self.bars.take(show.strips(found, project.shown_units))

    def _choose_cut(self, key: str, number: int) -> None:
        """What is done to a piece, in words; it is lit where it is cut from stock, and in the picture of the layout."""
        cut, row = self.strips.cut, self.strips.chosen
        self.is_cut.setVisible(cut is not None)
        if cut is None or row is None:
            self.piece_title.setText("")
            self.piece.setText(tr("Nothing to cut"))
            return
        self.piece_title.setText(f"{row.title}, {number + 1}: {visible(cut.name)}")
        tick = cut_state(self.desk.project, cut)
        self.is_cut.setChecked(tick == CUT_AS_NOW)
        note = tr("Clock face: 12 is the scribe line of the bend before, for the first bend straight up; seen along the flow.")
        notes = [tr(SAID[tick]).capitalize()] if tick == CUT_BEFORE else []
        self.piece.setText("\n".join([*notes, bench_lists.piece(cut, self.desk.project.shown_units), *([note] if cut.angle else [])]))
        self.bars.light(visible(cut.label or cut.name))
        if cut.key:
            self.desk.choose_piece(cut.key)

    def _choose_where(self, wanted: Callable[[Cut], bool]) -> bool:
        """Choose the first piece that is wanted; False where there is none."""
        for run in self.strips.rows.items:
            for number, cut in enumerate(run.cuts):
                if wanted(cut):
                    self.strips.choose_cut(run.key, number)
                    return True
        return False

    def _choose_named(self, name: str) -> None:
        """Choose the piece that is cut from a bar."""
        self._choose_where(lambda cut: visible(cut.label or cut.name) == name)

    def _tick_cut(self) -> None:
        """The chosen piece is cut, or not any more."""
        cut = self.strips.cut
        if cut is None or self.found is None:
            return
        every = [other for run in self.found.runs for other in run.cuts]
        changed = with_cut(self.desk.project, cut, every)
        words = "{0} is cut" if cut_state(changed, cut) == CUT_AS_NOW else "{0} is not cut"
        self.desk.change(tr_format(words, visible(cut.label or cut.name)), changed)

    def _fill_order(self, project: Project, found: CutList) -> None:
        words = []
        for block in show.blocks(project, found):
            if block.title:
                words.append(f"<p style='margin:6px 0 2px 0'><b>{html.escape(block.title)}</b></p>")
            words += [f"<p style='margin:0 0 3px 0'>{html.escape(line)}</p>" for line in block.lines]
        place = self.text.verticalScrollBar().value()
        self.text.setHtml("".join(words))
        self.text.verticalScrollBar().setValue(place)

    def _fill_stock(self, project: Project) -> None:
        words = [show.stock_words(line) for line in project.stock]
        if words != [self.stock.item(i).text() for i in range(self.stock.count())]:
            row = self.stock.currentRow()
            self.stock.blockSignals(True)
            self.stock.clear()
            self.stock.addItems(words)
            self.stock.setCurrentRow(min(max(row, 0), len(words) - 1))
            self.stock.blockSignals(False)
        self.remove.setEnabled(bool(words))
        self.no_stock.setVisible(not words)
        self.of_line.setVisible(bool(words))
        self.shop.refresh()
        self._chosen(self.stock.currentRow())

    def _chosen(self, row: int) -> None:
        project = self.desk.project
        line = project.stock[row] if 0 <= row < len(project.stock) else None
        shape = f"{line.id}:{line.kind}" if line is not None else ""
        if shape == self._line and (self.form is not None or line is None):
            if self.form is not None:
                self.form.refresh()
            return
        if self.form is not None:
            self._side.removeWidget(self.form)
            self.form.hide()
            self.form.deleteLater()
            self.form = None
        self._line = shape
        if line is not None:
            places = [f"stock.{line.id}.{name}" for name in show.STOCK_FIELDS[line.kind]]
            self.form = Form(self.desk, places, label_width=150, room=110)
            self._side.insertWidget(3, self.form)
            self.form.show()

    def add(self, kind: str) -> None:
        """A new line of stock."""
        try:
            changed, key = show.new_stock(self.desk.project, kind, self.found)
        except (EntryError, ValueError) as error:
            self.desk.notice.emit(str(error))
            return
        self.desk.change(tr("Add to stock"), changed)
        self.show_page(STOCK)
        self.stock.setCurrentRow(next(i for i, s in enumerate(changed.stock) if s.id == key))

    def _remove(self) -> None:
        row = self.stock.currentRow()
        if 0 <= row < len(self.desk.project.stock):
            self.desk.change(tr("Remove from stock"), show.without_stock(self.desk.project, self.desk.project.stock[row].id))

    def _fill_drawings(self, project: Project) -> None:
        row = max(self.drawings.currentRow(), 0)
        piece = self.desk.piece or ""
        # The template of the piece that is worked on, where it has one.
        if piece and self._drawn_piece(row) != piece:
            row = next((n for n in range(len(self.sheets)) if self._drawn_piece(n) == piece), row)
        self.drawings.blockSignals(True)
        self.drawings.clear()
        self.drawings.addItems([visible(render(d.title, project.shown_units)) for d in self.sheets])
        self.drawings.setCurrentRow(min(row, len(self.sheets) - 1))
        self.drawings.blockSignals(False)
        self._show_drawing(self.drawings.currentRow())

    def _drawn_piece(self, row: int) -> str:
        """Key of the piece that a drawing is a template of; empty where it is of none."""
        if not 0 <= row < len(self.sheets):
            return ""
        kind, _, key = self.sheets[row].key.partition("-")
        return key if kind in TEMPLATES else ""

    def _drawing_chosen(self, row: int) -> None:
        """A hand turns to a drawing: its piece lights up wherever it is."""
        self._show_drawing(row)
        if piece := self._drawn_piece(row):
            self.desk.choose_piece(piece)

    def _show_drawing(self, row: int) -> None:
        if not 0 <= row < len(self.sheets):
            self.paper.take(None)
            self.about.setText("\n".join(self._faults))
            return
        drawing = self.sheets[row]
        units = self.desk.project.shown_units
        self.paper.take(drawing)
        lines = [show.size_words(self.desk.project, drawing, self.desk.text)]
        lines += [visible(render(w, units)) for w in (*drawing.faults, *drawing.about)]
        self.about.setText("\n".join([*lines, *self._faults]))

    # Saving

    def save(self, what: str, path: str | None = None) -> None:
        """Write what goes to the bench; asks where."""
        name = "".join(c if c.isalnum() else "-" for c in self.desk.project.name.lower()).strip("-") or "build"
        kinds = {
            "paper": (f"{name}-cuts.pdf", tr("PDF (*.pdf)")),
            "cutlist": (f"{name}-cuts.txt", tr("Text (*.txt)")),
            "bends": (f"{name}-bends.csv", tr("CSV (*.csv)")),
            "bodies": (f"{name}.stl", tr("STL (*.stl)")),
            "drawings": (f"{name}-drawings.pdf", tr("PDF (*.pdf);;DXF (*.dxf);;SVG (*.svg)")),
        }
        if path is None:
            path, _ = QFileDialog.getSaveFileName(self, tr("Save"), kinds[what][0], kinds[what][1])
        if not path:
            return
        goal = Path(path)
        if what == "paper":
            self._paper_goal = path
            self._print(self.desk.ask(cuts_of(self.desk.project)))
            return
        # Asked before: what is written then has the names that were asked about.
        if what == "drawings" and not may_write(self, bench_files.names(self.sheets, goal), goal):
            return
        self.desk.ask(files_of(self.desk.project, what, goal))

    def _print(self, reply: JobResult) -> None:
        """The cut list on paper, as soon as it is there."""
        if not self._paper_goal or reply.state not in (DONE, FAILED):
            return
        goal, self._paper_goal = self._paper_goal, ""
        fault = opening(reply.fault) if reply.state == FAILED else papers.write(self.desk, goal, reply.value)
        self.desk.notice.emit(fault or tr_format("wrote {0}", Path(goal).name))

    def places(self) -> Iterator[str]:
        """Entries of the saw and of every line of stock."""
        yield from show.SHOP
        for line in self.desk.project.stock:
            for name in show.STOCK_FIELDS[line.kind]:
                yield f"stock.{line.id}.{name}"

    def opens(self, place: str) -> bool:
        """The stock and the saw."""
        return place.startswith("stock.") or place in show.SHOP

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry; its line is chosen first."""
        self.show_page(STOCK)
        self._fill_stock(self.desk.project)
        if place in self.shop.fields:
            return self.shop.fields[place]
        key = place.split(".")[1]
        row = next((i for i, s in enumerate(self.desk.project.stock) if s.id == key), -1)
        self.stock.setCurrentRow(row)
        return self.form.fields.get(place) if self.form is not None else None

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """Pages, stock, files."""
        for key, title in PAGES.items():
            yield tr(title), partial(self.show_page, key)
        for kind, words in (("tube", tr("Add tube to stock")), ("bend", tr("Add a bend to stock"))):
            yield words, partial(self.add, kind)
        for what, words in (
            ("paper", tr("Save cut list as PDF")),
            ("cutlist", tr("Save cut list as text")),
            ("bends", tr("Save bend tables")),
            ("drawings", tr("Save 1:1 drawings")),
            ("bodies", tr("Save tube bodies as STL")),
        ):
            yield words, partial(self.save, what)
