"""What stands in the engine bay: a list with the nearest pipe of each, its entries, and pipes routed through it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QListWidget, QMenu, QToolButton, QVBoxLayout, QWidget

from zarvik.core.bay.clearance import Near
from zarvik.core.bay.kinds import KINDS
from zarvik.core.solids.bodies import extent
from zarvik.project.bay.objects import new_object, obstacles_of, without_object
from zarvik.project.bay.placing import title
from zarvik.project.bay.ready import READY, usual_bay, with_ready
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import BELT, BOX, CYLINDER, HULL, MARK, PLATE, SCAN, TUBE, BayObject
from zarvik.project.document.places import PRIMARIES, RUNS, get, run_title
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import has_cast_manifold
from zarvik.project.units.units import EntryError
from zarvik.window.benches.layout.routes_page import RoutesPage
from zarvik.window.benches.layout.work_page import MODES, WorkPage
from zarvik.window.desk import Desk
from zarvik.window.parts.copying import offer_copy
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.side import side_column
from zarvik.workspace import jobs
from zarvik.workspace.job_store import DONE, PART, JobResult
from zarvik.workspace.jobs import BAY, ROUTE, bay_of, clock_of, route_of, scan_of

OBJECTS, ROUTES = "objects", "routes"
MOST_DRAWN = 8  # plates in the picture: more hide each other
_WHAT = ("name", "kind", "shape", "measured", "altered")
_TURN = ("heading", "pitch")
_AT = ("along", "up", "out")
_FROM = ("along_from", "up_from", "out_from")
_MOVES = ("turns", "pivot", "turn_from", "turn_to", "slide")
FIELDS = {
    BOX: (*_WHAT, *_AT, *_TURN, "length", "width", "height"),
    CYLINDER: (*_WHAT, *_AT, *_TURN, "length", "diameter"),
    TUBE: (*_WHAT, "diameter", "points"),
    PLATE: (*_WHAT, "thickness", "points"),
    HULL: (*_WHAT, "points"),
    SCAN: (*_WHAT, "file", "aligned", *_AT, *_TURN),
    BELT: (*_WHAT, "along", "width", "pulleys"),
    MARK: ("name", "shape", "measured", *_AT),
}
# Under the others, where they make sense
MEASURED_FROM = {BOX: (*_FROM, "tapes"), CYLINDER: (*_FROM, "tapes"), MARK: (*_FROM, "tapes"), TUBE: _FROM, PLATE: _FROM, HULL: _FROM}
MOVING = dict.fromkeys((BOX, CYLINDER, TUBE, PLATE, HULL), _MOVES)
GROUPS = ((FIELDS, ""), (MEASURED_FROM, "Measured from other objects"), (MOVING, "Movement"))
BRACKET = ({BOX: ("holes",)}, "To drill")
UNITS_OF_SCANS = (("", "Scan from a file"), ("mm", "Scan in millimetres"), ("in", "Scan in inches"), ("m", "Scan in metres"))


def _groups(one: BayObject) -> tuple[tuple[Mapping[str, tuple[str, ...]], str], ...]:
    """Groups of entries of an object, with their headings: a bracket has holes."""
    return (GROUPS[0], BRACKET, *GROUPS[1:]) if KINDS[one.kind].holds else GROUPS


def row_words(one: BayObject, found: list[Near], say: Callable[..., str]) -> str:
    """An object, and the gap to the part that is nearest to it where that is known."""
    near = next((n for n in found if n.obstacle.id == one.id), None)
    if near is None:
        return title(one)
    mark = "▲ " if near.gap < near.obstacle.room else ""
    return tr_format("{0}{1} of {2}: {3}", mark, say(near.gap, "length", places=0), say(near.obstacle.room, "length", places=0), title(one))


def stands_words(project: Project, key: str, say: Callable[..., str]) -> str:
    """Where an object stands, what that is good to, and what is wrong with it; nothing of one that is only measured from."""
    obstacle = next((one for one in obstacles_of(project) if one.id == key), None)
    if obstacle is None:
        return ""
    if obstacle.faults:
        return "▲ " + "; ".join(obstacle.faults)
    if not obstacle.bodies:
        return ""
    low, high = extent(obstacle.bodies)
    spans = [tr_format("{0} to {1}", say(a, "length", places=0), say(b, "length", places=0)) for a, b in zip(low, high, strict=True)]
    return tr_format("Along {0}, height {1}, out {2}; good to {3}", *spans, say(obstacle.slack, "length", places=0))


def worst_of(found: list[Near]) -> list[Near]:
    """What is drawn: of each object that is too near the part that is nearest, the worst objects first."""
    nearest = {one.obstacle.id: one for one in reversed(found)}  # the nearest stand first
    short = [one for one in nearest.values() if one.gap < one.obstacle.room]
    return sorted(short, key=lambda one: one.gap - one.obstacle.room)[:MOST_DRAWN]


def worst_first(objects: Sequence[BayObject], found: list[Near]) -> list[BayObject]:
    """Objects as they are listed: that with the least room to spare first; what is far from everything in its own order behind them."""
    spare: dict[str, float] = {}
    for one in found:
        spare[one.obstacle.id] = min(one.gap - one.obstacle.room, spare.get(one.obstacle.id, math.inf))
    return sorted(objects, key=lambda one: spare.get(one.id, math.inf))


class BayPage(QWidget):
    """List, entries, buttons. `near_found`: what is too near, to be drawn."""

    near_found = Signal(list)

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self.desk = desk
        self.found: list[Near] = []
        self.folders: list[Path] = []  # where scans were imported from
        self.order: list[str] = []  # keys of the objects as they are listed
        self.forms: list[Form] = []
        self._shown = ""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(5)
        self.objects = QWidget()
        column = QVBoxLayout(self.objects)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.mode = QComboBox()
        self.mode.setAccessibleName(tr("What is shown of the engine bay"))
        for key, words in {OBJECTS: "Objects in the bay", ROUTES: "Pipe routes", **MODES}.items():
            self.mode.addItem(tr(words), key)
        self.mode.activated.connect(lambda _: self.show_mode(self.mode.currentData()))
        outer.addWidget(self.mode)
        outer.addWidget(self.objects, 1)
        self.work = WorkPage(desk, self)
        self.ways = RoutesPage(desk, self)
        for page in (self.work, self.ways):
            page.hide()
            outer.addWidget(page, 1)
        self.none = Paragraph(
            tr("Add what stands in the engine bay, or start with a common bay and correct it with a tape. Pipes are checked against it.")
        )
        column.addWidget(self.none)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Engine bay objects"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setToolTip(plain_tip(tr("Gap to the nearest part, of the gap that is needed")))
        self.list.currentRowChanged.connect(self._chosen)
        offer_copy(self.list, self.table)
        column.addWidget(self.list, 3)
        bar = QHBoxLayout()
        bar.setSpacing(5)
        self.add = self._menu(tr("Add"), self._fill_add)
        self.remove = QToolButton()
        self.remove.setText(tr("Remove"))
        self.remove.clicked.connect(self._remove)
        self.route = self._menu(tr("Route pipe"), self._fill_route)
        self.route.setToolTip(plain_tip(tr("Lays the tube of a pipe anew, clear of everything, with bends that you can get")))
        for button in (self.add, self.remove, self.route):
            bar.addWidget(button)
        bar.addStretch(1)
        column.addLayout(bar)
        area, self._column = side_column(0, 6, 5)
        self.title = heading("")
        self._column.addWidget(self.title)
        self.stands = Paragraph("")
        self._column.addWidget(self.stands)
        self._column.addStretch(1)
        column.addWidget(area, 3)
        desk.job_changed.connect(self._hear)
        self.refresh()

    def _menu(self, words: str, fill: Callable[[QMenu], None]) -> QToolButton:
        button = QToolButton()
        button.setText(words)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        menu.aboutToShow.connect(partial(fill, menu))
        button.setMenu(menu)
        return button

    def _fill_add(self, menu: QMenu) -> None:
        menu.clear()
        for key, kind in KINDS.items():
            menu.addAction(tr(kind.title), partial(self.add_object, key))
        menu.addSeparator()
        for unit, words in UNITS_OF_SCANS:
            menu.addAction(tr(words), partial(self.ask_scan, unit))
        menu.addSeparator()
        usual = usual_bay(self.desk.project)
        for bay in sorted(READY, key=lambda bay: bay != usual):
            menu.addAction(tr_format("Common bay: {0}", tr(READY[bay]).lower()), partial(self.add_ready, bay))

    def _fill_route(self, menu: QMenu) -> None:
        menu.clear()
        for run in RUNS:
            if run != "manifold" and get(self.desk.project, run):
                menu.addAction(run_title(self.desk.project, run), partial(self.ask_route, run))
        if not has_cast_manifold(self.desk.project):
            menu.addAction(tr("All primaries"), partial(self.ask_route, PRIMARIES))
        if not self.desk.project.blower.fitted and self.desk.project.chosen is not None:
            menu.addSeparator()
            menu.addAction(tr("Turn the turbo in its housings"), self.ask_clock)

    # What is shown

    def show_mode(self, mode: str) -> None:
        """The objects, or one of the modes of the work."""
        self.mode.setCurrentIndex(self.mode.findData(mode))
        work = mode in MODES
        self.objects.setVisible(mode == OBJECTS)
        self.work.setVisible(work)
        self.ways.setVisible(mode == ROUTES)
        if work:
            self.near_found.emit([])
            self.work.show_mode(mode)
            return
        self.work.left()
        self.near_found.emit(worst_of(self.found))
        if mode == ROUTES:
            self.ways.refresh()

    def refresh(self) -> None:
        """List and entries follow the document; gaps are asked for."""
        project = self.desk.project
        self.found = [one for one in self.found if any(o.id == one.obstacle.id for o in project.bay_objects)]
        self.none.setVisible(not project.bay_objects)
        self.remove.setEnabled(bool(project.bay_objects))
        self._fill(project)
        if self.mode.currentData() in MODES:
            self.work.refresh()
        self.ways.refresh()
        if project.bay_objects:
            self.desk.ask(bay_of(project))
        else:
            self.near_found.emit([])

    def _fill(self, project: Project) -> None:
        objects = worst_first(project.bay_objects, self.found)
        words = [row_words(one, self.found, self.desk.text) for one in objects]
        if words != [self.list.item(i).text() for i in range(self.list.count())] or [one.id for one in objects] != self.order:
            row, chosen = self.list.currentRow(), self._chosen_key()
            self.order = [one.id for one in objects]
            self.list.blockSignals(True)
            self.list.clear()
            self.list.addItems(words)
            # What is chosen stays so, wherever its gap has put it
            self.list.setCurrentRow(self.order.index(chosen) if chosen in self.order else min(max(row, 0), len(words) - 1))
            self.list.blockSignals(False)
        self._chosen(self.list.currentRow())

    def _chosen_key(self) -> str:
        """The key of the object that is chosen; empty for none."""
        row = self.list.currentRow()
        return self.order[row] if 0 <= row < len(self.order) else ""

    def table(self) -> list[list[str]]:
        """The objects with gap, what is needed, and the part that is nearest."""
        rows = [[tr("Object"), tr("Kind"), tr("Gap"), tr("Needed")]]
        for one in worst_first(self.desk.project.bay_objects, self.found):
            near = next((n for n in self.found if n.obstacle.id == one.id), None)
            gaps = ["", ""] if near is None else [self.desk.text(near.gap, "length"), self.desk.text(near.obstacle.room, "length")]
            rows.append([title(one), tr(KINDS[one.kind].title), *gaps])
        return rows

    def _chosen(self, row: int) -> None:
        key = self.order[row] if 0 <= row < len(self.order) else ""
        one = next((one for one in self.desk.project.bay_objects if one.id == key), None)
        shape = f"{one.id}:{one.shape}:{KINDS[one.kind].holds}" if one is not None else ""
        self.title.setText(title(one) if one is not None else "")
        self.stands.setText(stands_words(self.desk.project, one.id, self.desk.text) if one is not None else "")
        self.stands.setVisible(bool(self.stands.text()))
        if shape == self._shown:
            for form in self.forms:
                form.refresh()
            return
        for form in self.forms:
            for widget in (form, form.heading):
                if widget is not None:
                    self._column.removeWidget(widget)
                    widget.hide()
                    widget.deleteLater()
        self.forms = []
        self._shown = shape
        if one is None:
            return
        for fields, words in _groups(one):
            if one.shape not in fields:
                continue
            head = heading(tr(words)) if words else None
            form = Form(self.desk, [f"bay_objects.{one.id}.{name}" for name in fields[one.shape]], label_width=112, room=114, heading=head)
            for widget in (head, form):
                if widget is not None:
                    self._column.insertWidget(self._column.count() - 1, widget)
                    widget.show()
            self.forms.append(form)

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry of the object that is chosen."""
        return next((form.fields[place] for form in self.forms if place in form.fields), None)

    def choose(self, key: str) -> None:
        """The object of this key in the list."""
        if key in self.order:
            self.list.setCurrentRow(self.order.index(key))

    def places(self) -> Iterator[str]:
        """Entries of every object."""
        for one in self.desk.project.bay_objects:
            for fields, _ in _groups(one):
                yield from (f"bay_objects.{one.id}.{name}" for name in fields.get(one.shape, ()))

    # What is done

    def add_object(self, kind: str) -> None:
        """A new object of a kind."""
        self._change(tr("Add to the engine bay"), lambda project: new_object(project, kind)[0])
        self._choose_last()

    def _choose_last(self) -> None:
        """The newest object is the one that is chosen."""
        if self.desk.project.bay_objects:
            self.choose(self.desk.project.bay_objects[-1].id)

    def ask_scan(self, unit: str = "", path: str | None = None) -> None:
        """Have a scan read; `unit`: of its numbers, empty for the likely one."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(self, tr("Import a scan"), "", tr("Scans (*.stl *.obj *.ply)"))
        if path:
            self.folders.append(Path(path).parent)
            self.desk.ask(scan_of(self.desk.project, path, unit), again=True)

    def add_ready(self, bay: str) -> None:
        """The objects of a common bay."""
        self._change(tr("Start with a common engine bay"), lambda project: with_ready(project, bay))

    def _change(self, words: str, make: Callable[[Project], Project]) -> None:
        try:
            changed = make(self.desk.project)
        except (EntryError, ValueError) as error:
            self.desk.notice.emit(str(error))
            return
        self.desk.change(words, changed)

    def _remove(self) -> None:
        key = self._chosen_key()
        if key:
            self._change(tr("Remove from the engine bay"), lambda project: without_object(project, key))

    def ask_route(self, run: str) -> None:
        """Have a pipe routed."""
        self.desk.ask(route_of(self.desk.project, run), again=True)

    def ask_clock(self) -> None:
        """Have drain and compressor cover turned to where they fall and where the charge pipe is short."""
        self.desk.ask(clock_of(self.desk.project), again=True)

    def _hear(self, reply: JobResult) -> None:
        if reply.key == BAY and reply.state in (PART, DONE) and reply.value is not self.found:
            there = {one.id for one in self.desk.project.bay_objects}
            self.found = reply.value if reply.job.of is self.desk.project else [n for n in reply.value if n.obstacle.id in there]
            self._fill(self.desk.project)
            if self.mode.currentData() not in MODES:
                self.near_found.emit(worst_of(self.found))
        if reply.key == ROUTE and reply.state == DONE:
            self._routed(reply)
        if reply.key in (jobs.SCAN, jobs.CLOCK) and reply.state == DONE:
            self._taken(reply, tr("Import a scan") if reply.key == jobs.SCAN else tr("Turn the turbo"))

    def _taken(self, reply: JobResult, title: str) -> None:
        """What a job made of the document is taken, as one step."""
        if reply.job.of[0] is not self.desk.project:
            self.desk.notice.emit(tr("The design has changed: try again"))
            return
        changed, words = reply.value
        self.desk.change(title, changed)
        if reply.key == jobs.SCAN:
            self._choose_last()
        self.desk.notice.emit(words)

    def _routed(self, reply: JobResult) -> None:
        before, run = reply.job.of
        if before is not self.desk.project:
            self.desk.notice.emit(tr("The design has changed: try again"))
            return
        changed, words = reply.value
        called = tr("All primaries") if run == PRIMARIES else run_title(before, run)
        self.desk.change(tr_format("Route: {0}", called.lower()), changed)
        self.desk.notice.emit(words)
