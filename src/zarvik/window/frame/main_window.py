"""The window: header, pressure run, rail, bench, check; files, undo, themes, recovery."""

from __future__ import annotations

import dataclasses
import importlib
from collections.abc import Callable
from functools import cached_property, partial
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QEvent, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from zarvik.core.checks import CheckResult
from zarvik.formats import shipped
from zarvik.project.document.parts.part import complete_parts
from zarvik.project.edits import edits
from zarvik.project.edits.unit_edits import in_units
from zarvik.project.first_design.first_design import FirstDesign
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import file_name, opening, visible
from zarvik.project.variants import variants
from zarvik.window.benches import BENCHES, PHASES, Benches, Phase, bench_of, phase_of, read_all
from zarvik.window.benches.bench import Entry, shortcut
from zarvik.window.desk import Desk
from zarvik.window.frame.arranged import ArrangedWindow, Sheet
from zarvik.window.frame.findable import Findable
from zarvik.window.frame.finder import Finder
from zarvik.window.frame.job_strip import JobStrip
from zarvik.window.frame.keys_sheet import KeysSheet
from zarvik.window.frame.phase_tabs import PhaseTabs
from zarvik.window.frame.rail import Rail
from zarvik.window.frame.side import TITLES, SidePanel
from zarvik.window.frame.start_page import StartPage
from zarvik.window.parts.disk_work import waiting
from zarvik.window.parts.focus import show_in_scroll, tab_order
from zarvik.window.parts.form import Form
from zarvik.window.parts.plain_label import CutLabel, PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.run.pressure_run import PressureRun
from zarvik.window.run.rev_slider import RevSlider
from zarvik.window.theme import style
from zarvik.workspace import settings
from zarvik.workspace.job_store import DONE, Job, JobProgress, JobResult
from zarvik.workspace.jobs import NAMED
from zarvik.workspace.session import Session

AHEAD = 50  # ms between benches and pages that are made before somebody asks for them
UNITS = (("mixed", "Mixed units"), ("metric", "Metric units"), ("inch", "Inch units"))


def _read_all(watch: JobProgress) -> None:
    read_all()
    watch(0.5)
    complete_parts()


def _bring_into_sight(field: QWidget) -> None:
    """Scroll to a field, once all that stands around it has the room that it asks for."""
    for _ in range(2):  # a page asks for room, and then what it stands in
        QCoreApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest.value)
    show_in_scroll(field)


class MainWindow(ArrangedWindow):
    """One window, one open project."""

    def __init__(self, session: Session, theme: str) -> None:
        super().__init__()
        self.session = session
        self.theme = theme
        self._last_of: dict[str, str] = {}  # the bench of each phase that was shown last
        self._writing = False  # is a page being drawn for paper?
        self.settings = settings.load()
        self.desk = Desk(session)
        self.desk.result_changed.connect(self._read_the_rest)
        self.setAcceptDrops(True)
        self._actions()
        body = QWidget()
        body.setObjectName("body")
        self._around(body)
        self.setMinimumSize(640, 400)
        self._fill(body)
        self.findable = Findable(
            desk=self.desk,
            benches=self.benches,
            commands=self.commands,
            open_demo=self.open_demo,
            show_bench=self.show_bench,
            show_check=self._show_check,
        )
        self.finder = Finder(body, self.findable.things)
        self.keys = KeysSheet(body)
        self.desk.place_wanted.connect(self.go_to_place)
        self.desk.bench_wanted.connect(self.show_bench)
        self.desk.subject_wanted.connect(self._show_subject)
        self.desk.document_changed.connect(self._document)
        for news in (self.desk.document_changed, self.desk.result_changed, self.desk.rest_changed):
            news.connect(self._paint_later)
        # By then it is known whether the edit stands in the journal.
        self.desk.rest_changed.connect(self._document)
        self.desk.notice.connect(self.say)
        self.desk.job_changed.connect(self._told)
        self.show_bench(BENCHES[0].key)
        # Enter on a button that does something else is no good beginning.
        self.rail.steps[self._phase].setFocus()
        self._document()
        session.solve_again()

    def _around(self, body: QWidget) -> None:
        """The pages of the window, and what is said above them."""
        # On a small screen, or with everything drawn twice as large, the whole is looked at in parts.
        self.frame = QScrollArea()
        self.frame.setObjectName("frame")
        self.frame.setFrameShape(QFrame.Shape.NoFrame)
        self.frame.setWidgetResizable(True)
        self.frame.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.sheet = Sheet(body)
        self.frame.setWidget(self.sheet)
        self.pages = style.Pages()
        self.pages.addWidget(self.frame)
        # Above the first page too: that is what one sees after a crash.
        self.recovery = QWidget()
        self.recovery.setObjectName("panel")
        self.recovery.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._recovery_row = QHBoxLayout(self.recovery)
        self._recovery_row.setContentsMargins(12, 6, 12, 6)
        self.recovery.hide()
        self.notice = PlainLabel()
        self.notice.setObjectName("notice")
        self.notice.setWordWrap(True)
        self.notice.hide()
        self._notice_timer = QTimer(self)
        self._notice_timer.setSingleShot(True)
        self._notice_timer.timeout.connect(self.notice.hide)
        self.whole = QWidget()
        above = QVBoxLayout(self.whole)
        above.setContentsMargins(0, 0, 0, 0)
        above.setSpacing(1)
        above.addWidget(self.recovery)
        above.addWidget(self.notice)
        above.addWidget(self.pages, 1)
        self.setCentralWidget(self.whole)

    def _fill(self, body: QWidget) -> None:
        """Header, pressure run, rail, benches, side, foot."""
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self._header())
        self.run = PressureRun(self.desk)
        column.addWidget(self.run)
        self.slider = RevSlider(self.desk)
        self.slider.turn.setToolTip(plain_tip(tr("Pressure run: full, ribbon, hidden (Ctrl+R)")))
        self.slider.turn.setAccessibleName(tr("Pressure run: full, ribbon, hidden"))
        self.slider.turn.clicked.connect(lambda _=False: self.turn_run())
        column.addWidget(self.slider)
        self.row = row = QHBoxLayout()
        row.setSpacing(1)
        self.rail = Rail(self.desk, PHASES)
        self.rail.phase_wanted.connect(self.show_phase)
        self.rail.next.dismissed.connect(self.turn_next)
        self.rail.wants_next = self.settings.next_steps
        row.addWidget(self.rail)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        row.addLayout(middle, 1)
        self.tabs = PhaseTabs(self.desk)
        middle.addWidget(self.tabs)
        self.stack = style.Pages()
        self.stack.needs.connect(self._make_room)
        self.benches = Benches(self.desk, self.stack)
        middle.addWidget(self.stack, 1)
        self.side = SidePanel(self.desk)
        self.checks = self.side.checks
        self.side.closed.connect(self.turn_side)
        row.addWidget(self.side)
        column.addLayout(row, 1)
        self.strip = JobStrip(self.desk)
        column.addWidget(self.strip)

    def _actions(self) -> None:
        key = QKeySequence.StandardKey
        self.commands: list[QAction] = []
        self._phase_actions: list[QAction] = []
        self._tab_actions: list[tuple[Phase, Entry, QAction]] = []

        def command(text: str, keys: QKeySequence | QKeySequence.StandardKey | str, slot: Callable[..., object]) -> QAction:
            found = QAction(text, self)
            if keys:
                found.setShortcut(QKeySequence(keys))
            found.triggered.connect(lambda _=False: slot())
            self.addAction(found)
            self.commands.append(found)
            return found

        self.find_action = command(tr("Find anything"), "Ctrl+J", self._find)
        self.keys_action = command(tr("Keys"), "F1", self.show_keys)
        for number, phase in enumerate(PHASES, 1):
            self._phase_actions.append(command("", shortcut(number), partial(self.show_phase, phase.key)))
            for entry in phase.entries if len(phase.benches) > 1 else ():
                self._tab_actions.append((phase, entry, command("", "", partial(self.show_bench, entry.key))))
        for text, keys, step in ((tr("Next tab"), "Ctrl+PgDown", 1), (tr("Previous tab"), "Ctrl+PgUp", -1)):
            command(text, keys, partial(self.turn_tab, step))
        for number, (leaf, title) in enumerate(TITLES, 2):
            command(tr(title), f"F{number}", partial(self.turn_to, leaf))
        command(tr("To the pressure run"), "F6", lambda: self._focus(self.run))
        command(tr("To the speed slider"), "F7", lambda: self._focus(self.slider))
        command(tr("Start or stop the speed sweep"), "F8", lambda: self.slider.play())
        command(tr("To the costliest piece"), "F10", self.dearest)
        command(tr("To the page"), "F9", self._to_bench)
        command(tr("Next steps"), "", self.turn_next)
        command(tr("Pressure run: full, ribbon, hidden"), "Ctrl+R", self.turn_run)
        command(tr("Side panel"), "Ctrl+B", self.turn_side)
        self.undo_action = command(tr("Undo"), key.Undo, self.undo)
        self.redo_action = command(tr("Redo"), "Ctrl+Shift+Z", self.redo)
        self.keep_action = command(tr("Save as variant"), "Ctrl+K", self.keep_variant)
        self.new_action = command(tr("New project"), key.New, self.new)
        self.open_action = command(tr("Open…"), key.Open, self.open)
        self.save_action = command(tr("Save"), key.Save, self.save)
        self.save_as_action = command(tr("Save as…"), "Ctrl+Shift+S", self.save_as)
        self.copy_action = command(tr("Duplicate"), "Ctrl+D", self.duplicate)
        self.page_action = command(tr("Page as PDF…"), "Ctrl+P", self.write_page)
        self.theme_action = command(tr("Light or dark"), "Ctrl+T", self.turn_theme)
        for preset, title in UNITS:
            command(tr(title), "", partial(self._show_in, preset))
        for preset, title in UNITS:
            command(tr("Convert entries too: {0}").format(tr(title).lower()), "", partial(self._enter_in, preset))
        for scale in settings.SCALES:
            command(tr("Display size {0:.0f} %").format(100 * scale), "", partial(self.use_scale, scale))
        self.quit_action = command(tr("Quit"), key.Quit, self.close)

    def _header(self) -> QWidget:
        header = QWidget()
        header.setObjectName("panel")
        header.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(header)
        row.setContentsMargins(14, 5, 12, 5)
        row.setSpacing(7)
        self.name = PlainLabel()
        self.name.setObjectName("title")
        row.addWidget(self.name)
        self.state = CutLabel()
        self.state.setObjectName("soft")
        row.addWidget(self.state, 1)
        find = QPushButton(tr("Find"))
        find.setToolTip(tr("Find a command, an entry, a piece, a number (Ctrl+J)"))
        find.clicked.connect(self._find)
        row.addWidget(find)
        self.undo_button = QPushButton(tr("Undo"))
        self.undo_button.clicked.connect(self.undo)
        self.redo_button = QPushButton(tr("Redo"))
        self.redo_button.clicked.connect(self.redo)
        self.units = QComboBox()
        self.units.setAccessibleName(tr("Units shown"))
        self.units.setToolTip(tr("Units of results; entries keep their own"))
        for preset, title in UNITS:
            self.units.addItem(tr(title), preset)
        self.units.activated.connect(self._units)
        file = QToolButton()
        file.setText(tr("Project"))
        file.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(file)
        for item in (self.new_action, self.open_action):
            menu.addAction(item)
        self.recent = menu.addMenu(tr("Recent projects"))
        self.recent.aboutToShow.connect(self._fill_recent)
        demos = menu.addMenu(tr("Demo projects"))
        for name in shipped.demo_names():
            demos.addAction(name.capitalize(), partial(self.open_demo, name))
        menu.addSeparator()
        for item in (self.save_action, self.save_as_action, self.copy_action, self.page_action):
            menu.addAction(item)
        menu.addSeparator()
        for item in (self.theme_action, self.keys_action, self.quit_action):
            menu.addAction(item)
        file.setMenu(menu)
        self.save_button = QPushButton(tr("Save"))
        self.save_button.clicked.connect(lambda: self.save())
        self.side_button = QPushButton(tr("Checks"))
        self.side_button.setToolTip(plain_tip(tr("Open the side panel (Ctrl+B)")))
        self.side_button.clicked.connect(lambda _=False: self.turn_side())
        self.side_button.hide()
        for widget in (self.undo_button, self.redo_button, self.units, file, self.save_button, self.side_button):
            row.addWidget(widget)
        return header

    def build_ahead(self) -> None:
        """Make the benches and pages that nobody has opened yet, one whenever the window has nothing to do for a moment."""
        QTimer.singleShot(AHEAD, self, self._build)

    def _build(self) -> None:
        # A hand that types is not kept waiting, but for what it is looking for; nor is a sheet that is being drawn.
        typing = QApplication.focusWidget()
        if self._writing or (isinstance(typing, QLineEdit) and typing is not self.finder.field):
            self.build_ahead()
        elif self.benches.make_next():
            self.finder.gather()
            self.build_ahead()
        elif "start" not in vars(self):
            self.start.hide()  # made, and not shown
            self.build_ahead()
        elif self.start.make_others():
            self.build_ahead()
        else:
            naked = next(style.undressed(self.start), None)
            if naked is not None:
                style.put_on(naked)
                self.build_ahead()

    def _find(self) -> None:
        """Everything that can be found; the numbers of the point are named in the background."""
        self.findable.names()
        self.finder.open()
        self.build_ahead()

    def _told(self, reply: JobResult) -> None:
        if reply.key == NAMED and reply.state == DONE:
            self.finder.gather()

    def show_bench(self, key: str) -> None:
        """Bring a bench to the front."""
        bench = self.benches.get(key)
        if bench is None:
            return
        if self.stack.currentWidget() is not bench:
            self._paint_later()
            self.stack.setCurrentWidget(bench)
        if bench.behind or not bench.isVisible():
            bench.refresh()
        self.rail.choose(phase_of(key).key)
        self.tabs.choose(key)
        self._last_of[phase_of(key).key] = key
        self.side.checks.look_from(phase_of(key).subjects)
        self._phase = phase_of(key).key
        self._make_room()
        self._show_run()

    def show_phase(self, key: str) -> None:
        """Bring the bench of a phase to the front that was shown last, else its first."""
        phase = next(phase for phase in PHASES if phase.key == key)
        self.show_bench(self._last_of.get(key, phase.benches[0]))

    def turn_tab(self, step: int) -> None:
        """Bring the bench to the front that stands so many tabs further in its phase, round and round."""
        shown = next((key for key in self.benches if self.benches.made(key) and self.benches[key] is self.stack.currentWidget()), None)
        if shown is not None:
            tabs = phase_of(shown).benches
            self.show_bench(tabs[(tabs.index(shown) + step) % len(tabs)])

    def _show_subject(self, subject: str) -> None:
        key = bench_of(subject)
        self.show_bench(key)
        bench = self.benches.get(key)
        if bench is not None:
            bench.look_at(subject)

    def say(self, text: str) -> None:
        """Show a sentence for a while."""
        self.notice.setText(opening(text))
        self.notice.show()
        self._notice_timer.start(12_000)

    def _name_phases(self) -> None:
        """A build with a blower calls some of them otherwise."""
        project = self.session.project
        for number, (phase, action) in enumerate(zip(PHASES, self._phase_actions, strict=True), 1):
            action.setText(f"{number}  {phase.name(project)}")
        for phase, entry, action in self._tab_actions:
            action.setText(tr_format("{0}: {1}", phase.name(project), entry.name(project)))

    def _document(self) -> None:
        self._name_phases()
        project, history = self.session.project, self.session.history
        invented = "  " + tr("(invented demo)") if project.invented else ""
        self.name.setText(visible(project.name))
        place = self.session.path.name if self.session.path else tr("Unsaved")
        touched = self.session.path is not None or history.position > 0
        changed = " · " + tr("changed") if self.session.dirty and touched else ""
        fault = self.session.journal_fault or ""
        if fault:
            fault = " · " + tr("no crash recovery: {0}").format(fault)
        self.state.say(f"{place}{changed}{invented}{fault}")
        self.setWindowTitle(tr("{0}{1} – Zarvik").format("*" if self.session.dirty else "", visible(project.name)))
        for button, label, word in ((self.undo_button, history.undo_label, tr("Undo")), (self.redo_button, history.redo_label, tr("Redo"))):
            button.setEnabled(label is not None)
            button.setToolTip(plain_tip(f"{word}: {label}" if label else tr("Nothing to {0}").format(word.lower())))
        self.units.setCurrentIndex(max(self.units.findData(project.units), 0))

    def _units(self) -> None:
        preset = self.units.currentData()
        self.desk.change(tr("Units shown"), edits.with_value(self.session.project, "units", preset))

    def _fill_recent(self) -> None:
        self.recent.clear()
        for name in self.settings.recent:
            path = Path(name)
            action = self.recent.addAction(f"{path.name}  –  {path.parent}")
            action.triggered.connect(lambda _=False, p=name: self.open(p))
        if not self.settings.recent:
            self.recent.addAction(tr("None yet")).setEnabled(False)

    def _show_in(self, preset: str) -> None:
        self.desk.change(tr("Units shown"), edits.with_value(self.session.project, "units", preset))

    def _enter_in(self, preset: str) -> None:
        self.desk.change(tr("Entries in other units"), in_units(self.session.project, preset))

    def use_scale(self, scale: float) -> None:
        """Remember a size of everything on the screen; Qt takes it up at the next start."""
        self.settings = dataclasses.replace(self.settings, scale=scale)
        settings.save(self.settings)
        self.say(tr("Size {0:.0f} % from the next start").format(100 * scale))

    def _focus(self, widget: QWidget) -> None:
        widget.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _to_bench(self) -> None:
        """Put the focus on the first thing of the bench that takes it."""
        found = next(iter(tab_order(self.stack)), None)
        if found is not None:
            self._focus(found)

    def dearest(self) -> None:
        """Open the piece whose loss costs the most power at the target speed."""
        answer = self.desk.answer
        costs = {k: v for k, v in answer.costs.items() if v == v} if answer is not None else {}
        if not costs:
            self.say(tr("The cost of the pieces is not known yet"))
            return
        piece = max(costs, key=lambda key: costs[key])
        self.desk.go(f"piece:{piece}")
        self.say(tr("It costs {0} at the target speed").format(self.desk.text(costs[piece], "power", places=1)))
        self._to_bench()

    def turn_to(self, leaf: str) -> None:
        """Turn the right column to a leaf and put the focus there."""
        self.side.turn(leaf)
        if self.side.isHidden():
            self.turn_side()
        found = next(iter(tab_order(self.side.leaves[leaf])), None)
        if found is not None:
            self._focus(found)

    def keep_variant(self) -> None:
        """Keep the present design under the next free name."""
        name = variants.free_name(self.session.project)
        self.desk.change(tr("Save variant {0}").format(name), variants.keep(self.session.project, name))
        self.say(tr("Saved as variant {0}: see Compare").format(name))

    def show_keys(self) -> None:
        """The sheet of all keys."""
        rows = [(c.shortcut().toString(), c.text()) for c in self.commands]
        self.keys.open([row for row in rows if row[0]], self.session.project)

    def write_page(self, path: str | None = None) -> None:
        """The design on one page, as PDF."""
        if not path:
            name = file_name(self.session.project.name, ".pdf")
            path, _ = QFileDialog.getSaveFileName(self, tr("Page as PDF"), name, tr("PDF (*.pdf)"))
        if not path:
            return
        page = importlib.import_module("zarvik.window.paper.page")  # a window does not wait for it
        self._writing = True
        try:
            fault = page.write(self.desk, path, [entry.page for entry in BENCHES if entry.page is not None])
        finally:
            self._writing = False
        self.say(fault or tr("Written: {0}").format(path))

    def _read_the_rest(self) -> None:
        """The first answer is there: the benches that nobody has turned to are read beside the window."""
        self.desk.result_changed.disconnect(self._read_the_rest)
        self.desk.ask(Job("benches", "all", _read_all, lane="work"))

    @cached_property
    def start(self) -> StartPage:
        """The first page, made when it is first wanted: who opens a file does not wait for it."""
        page = StartPage(self.desk, lambda: self.settings.recent)
        page.made.connect(self._begin)
        page.wanted.connect(self._open_recent)
        page.demo.connect(self._open_demo)
        page.browse.connect(self._browse)
        page.left.connect(self.show_design)
        self.pages.addWidget(page)
        return page

    def show_start(self, first: bool = False) -> None:
        """The first page: new build, recent, demos; a button goes back to the open design, which is
        none at the `first` time."""
        self.start.back.setVisible(not first)
        self.start.refresh()
        self._paint_later()
        self.pages.setCurrentWidget(self.start)
        self.start.name.setFocus(Qt.FocusReason.OtherFocusReason)
        self.start.name.selectAll()

    def show_design(self) -> None:
        """The open design."""
        self._paint_later()
        self.pages.setCurrentWidget(self.frame)

    def _begin(self, made: FirstDesign) -> None:
        project = made.noted
        if self._may_leave():
            self.session.replace(project, None, saved=False, label=tr("First design"), precious=True)
            self.show_design()
            self.show_bench("goal")
            if made.obstacles:
                self.desk.notice.emit(tr_format("Nearest design: {0}", project.note))

    def _open_recent(self, path: str) -> None:
        if self.open(path):
            self.show_design()
        else:
            self.start._say(self.notice.text())

    def _open_demo(self, name: str) -> None:
        self.open_demo(name)
        self.show_design()

    def _browse(self) -> None:
        if self.open():
            self.show_design()

    def go_to_place(self, place: str) -> None:
        """Open the bench that holds an entry and put the cursor in it."""
        key = self.benches.for_place(place)
        if key is None:
            return
        self.show_bench(key)
        field = self.benches[key].field_of(place)
        if field is not None:
            form = field.parentWidget()
            if isinstance(form, Form):
                form.reveal(place)
            field.setFocus(Qt.FocusReason.ShortcutFocusReason)
            _bring_into_sight(field)
            # What has only just been shown has its place a moment later.
            QTimer.singleShot(0, field, partial(_bring_into_sight, field))

    def _show_check(self, check_result: CheckResult) -> None:
        """A check where it is listed, with the page that it is worked on."""
        self.desk.go(check_result.about)
        self.turn_to("checks")
        self.checks.checks.show_check(check_result.id)

    def undo(self) -> None:
        """Take the last edit back, the one that is being typed included; of the sheet that is open where it has its own."""
        (self.desk.own_steps or self.session).undo()

    def redo(self) -> None:
        """Bring it again."""
        (self.desk.own_steps or self.session).redo()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Files may be dropped."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Open a dropped file."""
        urls = event.mimeData().urls()
        if urls:
            self.open(urls[0].toLocalFile())

    def closeEvent(self, event: QCloseEvent) -> None:
        """Leave only with the owner's word about unsaved work."""
        if waiting():  # a file is being written or read
            event.ignore()
        elif self._may_leave():
            self.session.close()
            event.accept()
        else:
            event.ignore()
