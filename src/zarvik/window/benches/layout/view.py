"""The Layout bench: runs and primaries in space, what they must meet, and the last piece that must fit."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout, QWidget

from zarvik.core.checks.layout import end_miss
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.layout.closing import GapClosing
from zarvik.core.layout.placement import PRIMARY
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import PRIMARY_KINDS
from zarvik.project.document.places import get, split_place
from zarvik.project.edits import edits
from zarvik.project.edits.piece_edits import insert_piece, move_piece, remove_piece, run_of
from zarvik.project.language.language import reason, tr
from zarvik.project.layout.layout import has_cast_manifold, has_pieced_primaries, place_of
from zarvik.project.manifold.primaries import closed_with, gap_closings, without_primaries
from zarvik.project.units.units import EntryError
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.layout import presenter as show
from zarvik.window.benches.layout.bay_page import OBJECTS, BayPage
from zarvik.window.benches.layout.run_list import RunList
from zarvik.window.benches.layout.view3d import VIEW_TITLES, LayoutView
from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form, heading, titled
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.side import side_column
from zarvik.window.parts.tabs import page_tabs
from zarvik.window.theme.style import Pages
from zarvik.workspace.job_store import CANCELLED, DONE, FAILED, JobResult
from zarvik.workspace.jobs import FIT, PRIMARIES, WHOLE_SCANS, fit_of, primaries_of, whole_scans_of

PIECES, PLACES, HEAD, MAKING, BAY = "pieces", "places", "head", "making", "bay"
PAGES = {PIECES: "Pieces", PLACES: "Positions", HEAD: "Head", MAKING: "Build", BAY: "Bay"}
WIDE = 268  # px of the left column


class LayoutBench(Bench):
    """Entries on the left, the picture on the right."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 10, 10, 8)
        row.setSpacing(10)
        left = QVBoxLayout()
        left.setSpacing(6)
        head, self.pages = page_tabs(self, PAGES, self.show_page)
        for button in self.pages.values():
            button.setObjectName("slim")  # five of them in the width of the column
        left.addLayout(head)
        self.stack = Pages(self)
        self.stack.setFixedWidth(WIDE)
        left.addWidget(self.stack, 1)
        row.addLayout(left)
        self.forms: list[Form] = []
        self.bay: BayPage | None = None
        self.stack.offer(
            {
                PIECES: self._pieces,
                PLACES: partial(self._forms, show.PLACES),
                HEAD: partial(self._forms, (("Exhaust side of the head", show.HEAD),)),
                MAKING: partial(self._forms, (("How primaries are made", show.MAKING),)),
                BAY: self._bay,
            }
        )
        row.addLayout(self._picture(), 1)
        self.view.piece_chosen.connect(desk.choose_piece)
        desk.piece_chosen.connect(self._show_piece)
        desk.piece_chosen.connect(lambda _: self.view.choose_part(""))
        desk.job_changed.connect(self._hear)
        self._asked: Project | None = None
        self._shown = ""
        self.show_page(PIECES)

    # Pages

    def _pieces(self) -> QWidget:
        page = QWidget(self.stack)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.list = RunList()
        self.list.row_chosen.connect(self._row_chosen)
        self.list.removal_wanted.connect(self._remove)
        self.list.move_wanted.connect(self._move)
        column.addWidget(self.list, 3)
        bar = QHBoxLayout()
        bar.setSpacing(5)
        self.add = QToolButton()
        self.add.setText(tr("Add"))
        self.add.setToolTip(tr("Add a piece behind the chosen one (Insert)"))
        self.add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.add)
        for kind in PRIMARY_KINDS:
            menu.addAction(tr(KINDS[kind].title), partial(self._add, kind))
        self.add.setMenu(menu)
        self.list.new_wanted.connect(self.add.showMenu)
        self.remove = QPushButton(tr("Remove"))
        self.remove.clicked.connect(lambda: self._remove(self.desk.piece or ""))
        self.fit = QToolButton()
        self.fit.setObjectName("slim")
        self.fit.setText(tr("Close gap"))
        self.fit.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.fit.setToolTip(tr("Brings the end of the selected pipe to its end point"))
        self._fit_menu = QMenu(self.fit)
        self._fit_menu.aboutToShow.connect(self._fill_fit)
        self.fit.setMenu(self._fit_menu)
        bar.addWidget(self.add)
        bar.addWidget(self.remove)
        bar.addStretch(1)
        column.addLayout(bar)
        ends = QHBoxLayout()
        ends.setSpacing(5)
        ends.addWidget(self.fit)
        self.equal = QPushButton(tr("Equalise lengths"))
        self.equal.setObjectName("slim")
        self.equal.setToolTip(tr("Changes free values only, until all are the same length and meet the collector"))
        self.equal.clicked.connect(lambda: self.ask(lay=False))
        ends.addWidget(self.equal)
        ends.addStretch(1)
        column.addLayout(ends)
        area, self._column = side_column(0, 6, 5)
        self.title = heading("")
        self._column.addWidget(self.title)
        self.piece_form: Form | None = None
        self._column.addStretch(1)
        column.addWidget(area, 2)
        return page

    def _forms(self, groups: tuple[tuple[str, tuple[str, ...]], ...]) -> QWidget:
        area, column = side_column(0, 8, 6)
        for title, places in groups:
            self.forms.append(titled(column, tr(title), self.desk, places, label_width=124, room=102))
            column.addSpacing(6)
        column.addStretch(1)
        return area

    def _bay(self) -> QWidget:
        self.bay = BayPage(self.desk, self.stack)
        self.bay.work.drawn = (self.view.bodies, self.view.layout_)
        self.bay.near_found.connect(self.view.show_near)
        self.bay.work.moved.connect(self.view.show_moves)
        self.bay.ways.pictures_wanted.connect(self.view.ask_small)
        self.view.renderer.small_drawn.connect(self.bay.ways.take_picture)
        self.bay.work.pointed.connect(self.view.point_at)
        return self.bay

    def _picture(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(6)
        bar = QHBoxLayout()
        bar.setSpacing(5)
        self.view = LayoutView(self.desk)
        self.views: dict[str, QPushButton] = {}
        for number, (key, title) in enumerate(VIEW_TITLES.items(), 1):
            button = QPushButton(tr(title))
            button.setToolTip(plain_tip(tr("Key {0}, in the picture").format(number)))
            button.clicked.connect(partial(self.view.look, key))
            bar.addWidget(button)
            self.views[key] = button
        bar.addStretch(1)
        column.addLayout(bar)
        column.addWidget(self.view, 1)
        self.headline = Paragraph(soft=True)
        said = QHBoxLayout()
        said.setSpacing(5)
        said.addWidget(self.headline, 1)
        column.addLayout(said)
        low = QHBoxLayout()
        low.setSpacing(5)
        near = QPushButton(tr("Zoom"))
        near.setToolTip(tr("The selected pipe alone, large (N)"))
        near.clicked.connect(self.view.see_near)
        low.addWidget(near)
        self.section = QToolButton()
        self.section.setText(tr("Section"))
        self.section.setCheckable(True)
        self.section.setToolTip(tr("Cut away everything nearer than the selected piece (X)"))
        self.section.toggled.connect(self.view.set_cut)
        low.addWidget(self.section)
        self.tape = QToolButton()
        self.tape.setText(tr("Measure"))
        self.tape.setCheckable(True)
        self.tape.setToolTip(tr("The distance between two places that you click on"))
        self.tape.toggled.connect(self.view.set_tape)
        said.addWidget(self.tape)
        low.addStretch(1)
        self.lay = QPushButton(tr("Generate primaries"))
        self.lay.setToolTip(
            tr("Primaries from every port to the collector: equal length, clear of each other and of what stands in the bay")
        )
        self.lay.clicked.connect(lambda: self.ask(lay=True))
        low.addWidget(self.lay)
        column.addLayout(low)
        return column

    def show_page(self, key: str) -> None:
        """One of the pages on the left."""
        self.pages[key].setChecked(True)
        if key != BAY and self.bay is not None:
            self.bay.show_mode(OBJECTS)
        self.stack.turn(key)
        self._rows_that_count()

    # What is shown

    def refresh_document(self) -> None:
        """List, entries and picture follow the document."""
        self.view.take()
        if self.bay is not None:
            self.bay.work.drawn = (self.view.bodies, self.view.layout_)
        layout = self.view.layout_
        space = self.view.space
        if layout is None or space is None:
            return
        self.list.take(show.rows(self.desk.project, layout, self.desk.text))
        for form in self.forms:
            form.refresh()
        if self.bay is not None:
            self.bay.refresh()
        self._ask_whole()
        self.headline.setText(show.headline(space, layout, self.desk.text))
        self.equal.setEnabled(bool(layout.primaries))
        self._rows_that_count()
        piece = self.desk.piece or ""
        known = {r.id for r in self.list.rows.items if r.kind != "head"}
        if piece not in known:
            # What is no piece in space (a filter, the intercooler) is chosen elsewhere.
            self._clear()
            self.title.setText(tr("Choose a piece"))
        elif self._shown == piece and self.piece_form is not None:
            try:
                self.piece_form.refresh()
            except KeyError:
                self._clear()
            self.list.choose(piece)
        else:
            self._show_piece(piece)

    def _rows_that_count(self) -> None:
        """What does not count is not asked for."""
        project = self.desk.project
        head, making = project.layout.head, project.layout.fabrication
        for form in self.forms:
            if form.heading is not None and "layout.turbo.along" in form.fields:
                # Without a turbine the collector ends there.
                form.heading.setText(tr("Collector outlet") if project.blower.fitted else tr("Turbine flange"))
        log, cast = any(getattr(p, "form", "") == "log" for p in project.manifold), has_cast_manifold(project)
        for form in self.forms:
            for place, wanted in (
                ("layout.head.port_height", head.port != "round"),
                ("layout.head.bank_distance", head.banks == "vee"),
                ("layout.head.stagger", head.banks == "vee"),
                ("layout.head.numbered", head.banks == "vee"),
                ("layout.fabrication.log", log),
                ("layout.fabrication.turn", not log and not cast),
                ("layout.fabrication.joint", not log and not cast),
                *(
                    (f"layout.fabrication.{name}", not log and not cast)
                    for name in ("most_bends", "within_out", "within_down", "within_up")
                ),
                ("layout.fabrication.weld_roots", not cast),
                ("layout.fabrication.stress_relief", not cast),
                ("layout.fabrication.length_step", making.blocks == "free"),
            ):
                if place in form.fields:
                    form.show_row(place, wanted)
        self._busy(self._asked is not None)

    def refresh_result(self) -> None:
        """Nothing here waits for the flow."""

    def places(self) -> Iterator[str]:
        """Entries of this bench."""
        for form in self.forms:
            yield from form.fields
        for primary in self.desk.project.primaries:
            for piece in primary.pieces:
                for parameter in KINDS[piece.kind].parameters:
                    yield f"primaries.{primary.id}.pieces.{piece.id}.{parameter.name}"
            yield f"primaries.{primary.id}.cylinder"
            yield f"primaries.{primary.id}.inlet"
        if self.bay is not None:
            yield from self.bay.places()

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """What can be done here."""
        yield tr("Generate primaries from pieces"), partial(self.ask, lay=True)
        if self.desk.project.primaries:
            yield tr("Equalise primary lengths"), partial(self.ask, lay=False)
            yield tr("Primaries as one length again"), self._unlay
        for key, title in VIEW_TITLES.items():
            yield tr("Look at the engine: {0}").format(tr(title).lower()), partial(self.view.look, key)
        yield tr("Close the gap of the selected pipe"), self._fit_run
        yield tr("Engine bay objects"), partial(self.show_page, BAY)

    def make_next(self) -> bool:
        """The bodies of the picture too."""
        return super().make_next() or self.view.take_ahead()

    def settle(self) -> None:
        """The picture, finely drawn."""
        self.view.settle()

    def opens(self, place: str) -> bool:
        """Places and primaries."""
        return place.partition(".")[0] in ("layout", "primaries", "bay_objects")

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry; its page is shown first."""
        split = split_place(place)
        if split is not None:
            self.show_page(PIECES)
            self.desk.choose_piece(split[1])
            return self.piece_form.fields.get(place) if self.piece_form is not None else None
        if place.startswith("bay_objects."):
            self.show_page(BAY)
            if self.bay is None:
                return None
            self.bay.choose(place.split(".")[1])
            return self.bay.field_of(place)
        page = {"head": HEAD, "making": MAKING}.get(place.split(".")[1] if "." in place else "", PLACES)
        self.show_page(page)
        return next((form.fields[place] for form in self.forms if place in form.fields), None)

    # The chosen piece

    def _row_chosen(self, key: str) -> None:
        if key.startswith("head:"):
            line = key.removeprefix("head:")
            first = next((r.id for r in self.list.rows.items if r.line == line and r.kind != "head"), "")
            key = first or key
        if not key.startswith("head:"):
            self.desk.choose_piece(key)

    def _show_piece(self, key: str) -> None:
        if not self.isVisible():
            return
        if key.startswith(PRIMARY) or key == "turbo" or (self.view.layout_ is not None and self.view.layout_.line(key) is not None):
            # A check speaks of a run: its last piece is shown.
            line = self.view.layout_.line(key) if self.view.layout_ is not None else None
            if key == "turbo":
                self.show_page(PLACES)
            if line is None or not line.placed:
                return
            key = line.placed[-1].segment.id
            self.desk.piece = key
        rows = {r.id: r for r in self.list.rows.items if r.kind != "head"}
        if key not in rows:
            self.refresh_document() if key and self._known(key) and key not in rows else None
            rows = {r.id: r for r in self.list.rows.items if r.kind != "head"}
            if key not in rows:
                return
        self.list.choose(key)
        self.view.take()
        if key == self._shown and self.piece_form is not None:
            return
        self._clear()
        self._shown = key
        try:
            run = run_of(self.desk.project, key)
        except KeyError:
            return
        piece = edits.get(self.desk.project, f"{run}.{key}")
        kind = KINDS[piece.kind]
        self.title.setText(rows[key].title)
        places = [f"{run}.{key}.{p.name}" for p in kind.parameters]
        if run.startswith("primaries."):
            owner = run.rpartition(".")[0]
            places += [f"{owner}.cylinder", f"{owner}.inlet"]
        self.piece_form = Form(self.desk, places, label_width=124, room=102)
        self._column.insertWidget(1, self.piece_form)
        self.piece_form.show()

    def _known(self, key: str) -> bool:
        layout = self.view.layout_
        return layout is not None and show.line_of(layout, key) is not None

    def _clear(self) -> None:
        self._shown = ""
        if self.piece_form is not None:
            self._column.removeWidget(self.piece_form)
            self.piece_form.hide()
            self.piece_form.deleteLater()
            self.piece_form = None

    def _add(self, kind: str) -> None:
        project = self.desk.project
        row = self.list.chosen
        run, index = "hot_pipe", len(project.hot_pipe)
        if row is not None:
            run = place_of(row.line)
            pieces = get(project, run)
            index = next((i + 1 for i, p in enumerate(pieces) if p.id == row.id), 0)
        try:
            changed, key = insert_piece(project, run, index, kind)
        except (EntryError, ValueError) as error:
            self.desk.notice.emit(str(error))
            return
        self._clear()
        self.desk.piece = key
        self.desk.change(tr("Add {0}").format(tr(KINDS[kind].title).lower()), changed)
        self.desk.choose_piece(key)

    def _remove(self, key: str) -> None:
        try:
            run = run_of(self.desk.project, key)
        except KeyError:
            return
        left = [p.id for p in get(self.desk.project, run) if p.id != key]
        index = next(i for i, p in enumerate(get(self.desk.project, run)) if p.id == key)
        try:
            changed = remove_piece(self.desk.project, key)
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        self._clear()
        self.desk.piece = left[min(index, len(left) - 1)] if left else None
        self.desk.change(tr("Remove a piece"), changed)

    def _move(self, key: str, by: int) -> None:
        try:
            run = run_of(self.desk.project, key)
        except KeyError:
            return
        index = next(i for i, p in enumerate(get(self.desk.project, run)) if p.id == key)
        try:
            changed = move_piece(self.desk.project, key, max(index + by, 0))
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        self.desk.change(tr("Move a piece"), changed)

    # Making ends meet

    def _line_key(self) -> str:
        row = self.list.chosen
        return row.line if row is not None else ""

    def _fill_fit(self) -> None:
        menu = self._fit_menu
        menu.clear()
        key = self._line_key()
        layout = self.view.layout_
        line = layout.line(key) if layout is not None and key else None
        if line is None or line.goal is None:
            menu.addAction(tr("This pipe has no end point: enter one under Positions")).setEnabled(False)
            return
        menu.addAction(tr("With what is there: lengths, rotations and bends that may change"), self._fit_run)
        menu.addSeparator()
        try:
            found = gap_closings(self.desk.project, key)
        except ValueError as error:
            menu.addAction(reason(error)).setEnabled(False)
            return
        if not found:
            menu.addAction(tr("With new pieces behind it: no route with three bends of these radii")).setEnabled(False)
        for closing in found:
            words = tr("With new pieces: {0} bends, {1} welds, {2} more").format(
                closing.bends, closing.welds, self.desk.text(closing.length, "length")
            )
            menu.addAction(words, partial(self._close, key, closing))

    def _fit_run(self) -> None:
        self.desk.ask(fit_of(self.desk.project, self._line_key()))

    def _fitted(self, reply: JobResult) -> None:
        """A run came back that meets its end, or as near as it goes."""
        before, key = reply.job.of
        if before is not self.desk.project:
            self.desk.notice.emit(tr("The design has changed: try again"))
            return
        self.desk.change(tr("Close the gap of a pipe"), reply.value)
        line = self.view.layout_.line(key) if self.view.layout_ is not None else None
        if line is None or end_miss(line) > 1.0:
            self.desk.notice.emit(tr("These pieces cannot close it: one more free bend or straight is needed"))

    def _close(self, key: str, closing: GapClosing) -> None:
        try:
            changed = closed_with(self.desk.project, key, closing)
        except (EntryError, ValueError) as error:
            self.desk.notice.emit(reason(error) if isinstance(error, ValueError) else str(error))
            return
        self._clear()
        self.desk.change(tr("Close the gap with new pieces"), changed)

    # Primaries

    def ask(self, *, lay: bool) -> None:
        """Have the primaries laid anew, or those that are there made equal."""
        self._asked = self.desk.project
        self.desk.ask(primaries_of(self.desk.project, lay=lay), again=True)
        self._busy(True)

    def _ask_whole(self) -> None:
        """Have all triangles of the scans read whose files lie beside the project, or where they were imported from."""
        own = self.desk.session.path
        folders = [*(self.bay.folders if self.bay is not None else ()), *([own.parent] if own is not None else [])]
        rows = []
        for one in self.desk.project.bay_objects:
            path = next((folder / one.file for folder in folders if one.file and (folder / one.file).is_file()), None)
            if one.skin and path is not None:
                rows.append((one.id, str(path), path.stat().st_mtime, one.skin))
        if rows:
            self.desk.ask(whole_scans_of(tuple(rows)))

    def _busy(self, busy: bool) -> None:
        cast = has_cast_manifold(self.desk.project)
        self.lay.setEnabled(not busy and not cast)
        self.equal.setEnabled(not busy and has_pieced_primaries(self.desk.project))

    def _hear(self, reply: JobResult) -> None:
        if reply.key == FIT and reply.state == DONE:
            self._fitted(reply)
        if reply.key == WHOLE_SCANS and reply.state == DONE:
            self.view.take_scans(reply.value)
        if reply.key != PRIMARIES or self._asked is None or reply.state not in (DONE, FAILED, CANCELLED):
            return
        asked, self._asked = self._asked, None
        self._busy(False)
        if reply.state != DONE:
            return
        if asked is not self.desk.project:
            self.desk.notice.emit(tr("The design changed meanwhile: the primaries are unchanged"))
            return
        changed, closes, lay, short = reply.value
        self._clear()
        self.desk.change(tr("Generate primaries") if lay else tr("Equalise primary lengths"), changed)
        if not closes:
            self.desk.notice.emit(tr("Not every primary meets the collector: see the marked ends"))
        elif short:
            self.desk.notice.emit(short)

    def _unlay(self) -> None:
        self._clear()
        self.desk.change(tr("Primaries as one length"), without_primaries(self.desk.project))

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """The picture is up to date when it comes to the front."""
        super().showEvent(event)
        if self.desk.piece:
            # Its form is made in a turn of its own, before anything of this bench is painted.
            QTimer.singleShot(0, self, lambda: self._show_piece(self.desk.piece or ""))

    def keyPressEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """F5 lays the primaries."""
        if event.key() == Qt.Key.Key_F5:
            self.ask(lay=True)
        else:
            super().keyPressEvent(event)
