"""The Joints & services bench: every port, bung, joint, hose, line and sensor; lists to tick off; the leak test."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit, QMenu, QToolButton, QVBoxLayout, QWidget

from zarvik.core.connections import row as r
from zarvik.core.recommendations import JOINTS
from zarvik.formats import atomic_writer
from zarvik.project.connections.connection_list import TEMPLATES, connections_of
from zarvik.project.connections.lists import ALL_LISTS, Listing, as_csv, listing
from zarvik.project.edits.connection_edits import add_line, from_template, tick, with_connection_note
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import opening
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.joints_services import presenter as show
from zarvik.window.benches.joints_services.connections.air_path_picture import AirPathPicture
from zarvik.window.benches.joints_services.connections.details import Details
from zarvik.window.benches.joints_services.connections.ledger import JointList
from zarvik.window.benches.joints_services.connections.papers import write
from zarvik.window.benches.joints_services.connections.tick_list import RiskBars, TickList
from zarvik.window.benches.joints_services.fluid_lines.page import SupplyPage
from zarvik.window.benches.joints_services.materials.page import MaterialsPage
from zarvik.window.benches.joints_services.radiator.page import CoolingPage
from zarvik.window.desk import Desk
from zarvik.window.parts.entries_page import EntriesPage
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.recommendations import RecommendationList
from zarvik.window.parts.side import halves, side_column
from zarvik.window.parts.tabs import paged
from zarvik.workspace.job_store import DONE, FAILED, JobResult
from zarvik.workspace.jobs import HOLES, holes_of

LINES, LISTS, LEAK, SUPPLY, COOLING, MADE = "lines", "lists", "leak", "supply", "cooling", "made"
PAGES = {LINES: "Joints", LISTS: "Lists", LEAK: "Leak test", SUPPLY: "Oil & fuel", COOLING: "Cooling", MADE: "Materials"}
ENTRIES: dict[str, Callable[[QWidget, Desk], EntriesPage]] = {SUPPLY: SupplyPage, COOLING: CoolingPage}
LEAK_ENTRIES = (
    "leak_test.start_pressure",
    "leak_test.end_pressure",
    "leak_test.duration",
    "leak_test.volume",
    "leak_test.shop_temperature",
)


class JointsBench(Bench):
    """Six pages."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        _, self.pages, self.stack = paged(self, PAGES, self.show_page)
        self.stack.offer({LINES: self._lines, LISTS: self._lists, LEAK: self._leak, MADE: partial(MaterialsPage, self.stack, desk)})
        self.stack.offer({key: partial(page, self.stack, desk) for key, page in ENTRIES.items()})
        self.listed: Listing | None = None
        desk.job_changed.connect(self._hear)
        desk.checks_changed.connect(self._judged)
        self.show_page(LINES)

    # ---- pages ----------------------------------------------------------------------------------

    def _lines(self) -> QWidget:
        page = QWidget(self.stack)
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(14)
        left = QVBoxLayout()
        left.setSpacing(6)
        row.addLayout(left, 1)
        bar = QHBoxLayout()
        left.addLayout(bar)
        self.filter = QLineEdit()
        self.filter.setPlaceholderText(tr("Find: words in any order"))
        self.filter.setAccessibleName(tr("Find a joint"))
        self.filter.setClearButtonEnabled(True)
        self.filter.textChanged.connect(lambda _: self._show_lines())
        bar.addWidget(self.filter, 1)
        self.by = QComboBox()
        self.by.setAccessibleName(tr("Grouping"))
        for key, title in show.GROUPS.items():
            self.by.addItem(tr(title), key)
        self.by.activated.connect(lambda _: self._show_lines())
        bar.addWidget(self.by)
        self.add = QToolButton()
        self.add.setText(tr("Add"))
        self.add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.add)
        for kind, title in r.KINDS.items():
            menu.addAction(tr(title), partial(self._add, kind))
        menu.addSeparator()
        for key, (title, _) in TEMPLATES.items():
            menu.addAction(tr_format("Ports: {0}", tr(title)), partial(self._template, key))
        self.add.setMenu(menu)
        bar.addWidget(self.add)
        self.state = Paragraph(soft=True)
        left.addWidget(self.state)
        self.path = AirPathPicture()
        self.path.pin_chosen.connect(self._look)
        self.path.pin_ticked.connect(lambda key: self._tick(key, ""))
        left.addWidget(self.path)
        self.needed = RecommendationList(self.desk, JOINTS)
        left.addWidget(self.needed)
        self.ledger = JointList()
        self.ledger.setMinimumHeight(130)
        self.ledger.row_chosen.connect(lambda _: self._show_details())
        self.ledger.ticked.connect(self._tick)
        left.addWidget(self.ledger, 1)
        area, column = side_column(268, 8, 6)
        row.addWidget(area)
        self.details = Details(area, self.desk)
        column.addWidget(self.details)
        column.addStretch(1)
        find = QShortcut(QKeySequence("/"), page)
        find.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        find.activated.connect(lambda: self.filter.setFocus(Qt.FocusReason.ShortcutFocusReason))
        return page

    def _lists(self) -> QWidget:
        page = QWidget(self.stack)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        bar = QHBoxLayout()
        self.which = QComboBox()
        self.which.setAccessibleName(tr("List"))
        for key in ALL_LISTS:
            self.which.addItem(tr(listing(self.desk.project, key).title), key)
        self.which.activated.connect(lambda _: self._show_list())
        bar.addWidget(self.which)
        bar.addStretch(1)
        self.saving = QToolButton()
        self.saving.setText(tr("Save files"))
        self.saving.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.saving)
        for what, words in (("pdf", "All lists as one PDF"), ("csv", "This list as CSV")):
            menu.addAction(tr(words), partial(self.save, what))
        self.saving.setMenu(menu)
        bar.addWidget(self.saving)
        column.addLayout(bar)
        self.ticks = TickList()
        self.ticks.ticked.connect(lambda key: self._tick(key, ""))
        column.addWidget(self.ticks, 1)
        return page

    def _leak(self) -> QWidget:
        page = QWidget(self.stack)
        column, right = halves(page)
        column.addWidget(heading(tr("Gauge readings")))
        self.form = Form(self.desk, LEAK_ENTRIES, label_width=126, room=126)
        column.addWidget(self.form)
        self.caution = Paragraph(soft=True)
        self.caution.setText(
            tr(
                "Compressed air stores energy. Use a regulator, low pressure, secured ends, eye protection; stand "
                "aside. Never oxygen. Plug the crankcase side, or its seals will leak."
            )
        )
        column.addWidget(self.caution)
        self.check_result = Paragraph()
        right.addWidget(self.check_result)
        self.holes = Paragraph()
        right.addWidget(heading(tr("What a leak costs here")))
        right.addWidget(self.holes)
        right.addWidget(heading(tr("Where to look first")))
        self.bars = RiskBars()
        self.bars.chosen.connect(self._look)
        right.addWidget(self.bars)
        right.addWidget(heading(tr("Exhaust leaks: hottest joints first")))
        advice = Paragraph(soft=True)
        advice.setText(tr(show.EXHAUST_LEAKS))
        right.addWidget(advice)
        self.hot_bars = RiskBars()
        self.hot_bars.chosen.connect(self._look)
        right.addWidget(self.hot_bars)
        right.addStretch(1)
        return page

    # ---- what is shown --------------------------------------------------------------------------

    @property
    def made(self) -> MaterialsPage:
        """The page of materials."""
        page = self.stack.page(MADE)
        assert isinstance(page, MaterialsPage)
        return page

    def entries(self, key: str) -> EntriesPage:
        """A page of entries."""
        page = self.stack.page(key)
        assert isinstance(page, EntriesPage)
        return page

    def show_page(self, key: str) -> None:
        """Turn to a page."""
        self.page = key
        self.pages[key].setChecked(True)
        self.stack.turn(key)
        if self.isVisible():
            self.refresh_document()

    def refresh_document(self) -> None:
        """Lines and lists follow."""
        if self.page == LINES:
            self.state.setText(show.summary(connections_of(self.desk.project)))
            self.needed.refresh()
            self._show_lines()
        elif self.page == LISTS:
            self._show_list()
        elif self.page in ENTRIES:
            self.entries(self.page).refresh()
        elif self.page == MADE:
            self.made.refresh()
        else:
            self.form.refresh()
            self.bars.take(show.risks(connections_of(self.desk.project)))
            self.hot_bars.take(show.exhaust_risks(connections_of(self.desk.project)))
            self._show_check_result()
            self._answered(self.desk.ask(holes_of(self.desk.project)))

    def make_next(self) -> bool:
        """The lines too."""
        if self.page == LINES and not self.ledger.rows.items and connections_of(self.desk.project):
            self._show_lines()
            return True
        return super().make_next()

    def _hear(self, reply: JobResult) -> None:
        if reply.key == HOLES and self.isVisible() and self.page == LEAK and reply.job.of is self.desk.project:
            self._answered(reply)

    def _answered(self, reply: JobResult) -> None:
        if reply.state == DONE:
            self.holes.setText("\n".join(show.hole_words(reply.value, self.desk.project.shown_units)))
        elif reply.state == FAILED:
            self.holes.setText(opening(reply.fault))
        elif not self.holes.text():
            self.holes.setText(tr("Calculating…"))

    def _judged(self) -> None:
        if self.isVisible():
            self.refresh_result()

    def refresh_rest(self) -> None:
        """Judged once more."""
        self.refresh_result()

    def refresh_result(self) -> None:
        """The test is judged with the answer."""
        if self.page == LEAK:
            self._show_check_result()
        elif self.page in ENTRIES:
            self.entries(self.page).refresh()

    def _show_check_result(self) -> None:
        answer = self.desk.answer
        found = next((v for v in answer.check_results if v.id == "leak"), None) if answer is not None else None
        units = self.desk.project.shown_units
        self.check_result.setText(
            render(found.text, units)
            if found is not None
            else tr("Not tested yet: pump it up, enter the gauge reading, wait, enter it again")
        )

    def _show_lines(self) -> None:
        rows = connections_of(self.desk.project)
        self.ledger.take(show.items(rows, self.filter.text(), self.by.currentData(), self.desk.project.shown_units), first=True)
        self._show_details()

    def _show_details(self) -> None:
        project = self.desk.project
        rows = connections_of(project)
        self.path.take(rows, self.ledger.key or "", blown=project.blower.fitted, cooled=project.intercooler.fitted)
        self.details.show_line(next((x for x in rows if x.key == self.ledger.key), None))

    def _show_list(self) -> None:
        self.listed = listing(self.desk.project, self.which.currentData())
        self.ticks.show_listing(self.listed)

    # ---- what is done ---------------------------------------------------------------------------

    def _tick(self, key: str, state: str) -> None:
        try:
            changed = tick(self.desk.project, key) if not state else with_connection_note(self.desk.project, key, "state", state)
        except (EntryError, KeyError) as error:
            self.desk.notice.emit(str(error))
            return
        row = next((x for x in connections_of(changed) if x.key == key), None)
        if row is not None:
            self.desk.change(f"{row.name}: {tr(r.STATES[row.state])}", changed)

    def _add(self, kind: str) -> None:
        try:
            changed, key = add_line(self.desk.project, kind, name=tr(r.KINDS[kind]))
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        self.filter.clear()
        self.desk.change(tr_format("Joints: new {0}", tr(r.KINDS[kind]).lower()), changed)
        self.ledger.choose(key, tell=True)

    def _template(self, key: str) -> None:
        try:
            changed = from_template(self.desk.project, key)
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        self.desk.change(tr_format("Joints: ports of “{0}”", tr(TEMPLATES[key][0])), changed)

    def _look(self, key: str) -> None:
        self.show_page(LINES)
        self.filter.clear()
        self.ledger.choose(key, tell=True)

    def save(self, what: str, path: str | None = None) -> None:
        """Write the lists; asks where."""
        name = "".join(c if c.isalnum() else "-" for c in self.desk.project.name.lower()).strip("-") or "build"
        key = "" if what == "pdf" else str(self.which.currentData())
        if path is None:
            suggestion = f"{name}-joints.pdf" if what == "pdf" else f"{name}-{key}.csv"
            path, _ = QFileDialog.getSaveFileName(self, tr("Save"), suggestion, tr("PDF (*.pdf)") if what == "pdf" else tr("CSV (*.csv)"))
        if not path:
            return
        if what == "pdf":
            fault = write(self.desk, path, [listing(self.desk.project, k) for k in ALL_LISTS])
        else:
            fault = _written(path, as_csv(listing(self.desk.project, key)))
        self.desk.notice.emit(fault or tr_format("wrote {0}", Path(path).name))

    def look_at(self, subject: str) -> None:
        """The page of a check: `joints:PAGE`; what is of the lines themselves stays where it is."""
        page = subject.partition(":")[2]
        if page in PAGES:
            self.show_page(page)

    def opens(self, place: str) -> bool:
        """The leak test, and every line."""
        return place.partition(".")[0] == "joints" or super().opens(place)

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry; its page and line are turned to first."""
        for key in (LEAK, MADE, *ENTRIES):
            for form in self.stack.page(key).findChildren(Form):
                if place in form.fields:
                    self.show_page(key)
                    return form.fields[place]
        parts = place.split(".")
        if parts[0] == "joints" and len(parts) == 3:
            self.show_page(LINES)
            self.ledger.choose(parts[1], tell=True)
            return self.details.fields.get(parts[2])
        return None

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """Pages, new lines, templates, files."""
        for key, title in PAGES.items():
            yield tr_format("Joints: {0}", tr(title)), partial(self.show_page, key)
        for kind, title in r.KINDS.items():
            yield tr_format("Joints: add a {0}", tr(title).lower()), partial(self._add, kind)
        for key, (title, _) in TEMPLATES.items():
            yield tr_format("Ports of a common manifold: {0}", tr(title)), partial(self._template, key)
        yield tr("Save all joint lists as PDF"), partial(self.save, "pdf")


def _written(path: str, text: str) -> str:
    """Write a text; returns a sentence when it cannot be written, else nothing."""
    try:
        atomic_writer.write_text(text, Path(path))
    except atomic_writer.FileError as error:
        return str(error)
    return ""
