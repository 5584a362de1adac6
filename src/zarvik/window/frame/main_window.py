"""The window: header, pressure run, rail, bench, verdict; files, undo, themes, recovery."""

from __future__ import annotations

import json
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QPushButton,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from zarvik.formats import project_file, shelf
from zarvik.project import edits
from zarvik.window.benches import BENCHES
from zarvik.window.benches.bench import Bench
from zarvik.window.desk import Desk
from zarvik.window.frame.rail import Rail
from zarvik.window.frame.verdict_panel import VerdictPanel
from zarvik.window.run.pressure_run import PressureRun
from zarvik.window.run.rev_slider import RevSlider
from zarvik.window.theme import palette, style
from zarvik.workspace import journal
from zarvik.workspace.places import settings_file
from zarvik.workspace.session import Session

FILES = f"Zarvik projects (*{project_file.SUFFIX})"


class MainWindow(QMainWindow):
    """One window, one open project."""

    def __init__(self, session: Session, theme: str) -> None:
        super().__init__()
        self.session = session
        self.theme = theme
        self.desk = Desk(session)
        self.setAcceptDrops(True)
        self.setMinimumSize(1120, 700)
        self._actions()
        body = QWidget()
        body.setObjectName("body")
        self.setCentralWidget(body)
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self._header())
        self.run = PressureRun(self.desk)
        column.addWidget(self.run)
        self.slider = RevSlider(self.desk)
        column.addWidget(self.slider)
        self.notice = QLabel()
        self.notice.setObjectName("notice")
        self.notice.setWordWrap(True)
        self.notice.hide()
        self._notice_timer = QTimer(self)
        self._notice_timer.setSingleShot(True)
        self._notice_timer.timeout.connect(self.notice.hide)
        column.addWidget(self.notice)
        self.recovery = QWidget()
        self.recovery.setObjectName("panel")
        self.recovery.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._recovery_row = QHBoxLayout(self.recovery)
        self._recovery_row.setContentsMargins(12, 6, 12, 6)
        self.recovery.hide()
        column.addWidget(self.recovery)
        row = QHBoxLayout()
        row.setSpacing(1)
        self.rail = Rail(self.desk, [(b.key, b.title, b.hint) for b in BENCHES])
        row.addWidget(self.rail)
        self.stack = QStackedWidget()
        self.benches: dict[str, Bench] = {}
        for entry in BENCHES:
            bench = entry.make(self.desk)
            self.benches[entry.key] = bench
            self.stack.addWidget(bench)
        row.addWidget(self.stack, 1)
        self.verdict = VerdictPanel(self.desk)
        row.addWidget(self.verdict)
        column.addLayout(row, 1)
        self.desk.bench_wanted.connect(self.show_bench)
        self.desk.document_changed.connect(self._document)
        self.desk.notice.connect(self.say)
        self.show_bench(BENCHES[0].key)
        self._document()
        session.solve_again()

    def _actions(self) -> None:
        def action(
            text: str, keys: QKeySequence | QKeySequence.StandardKey | str, slot: object
        ) -> QAction:
            found = QAction(text, self)
            found.setShortcut(QKeySequence(keys))
            found.triggered.connect(slot)
            self.addAction(found)
            return found

        key = QKeySequence.StandardKey
        self.new_action = action("New project", key.New, self.new)
        self.open_action = action("Open…", key.Open, lambda: self.open())
        self.save_action = action("Save", key.Save, lambda: self.save())
        self.save_as_action = action("Save as…", "Ctrl+Shift+S", lambda: self.save_as())
        self.undo_action = action("Undo", key.Undo, self.undo)
        self.redo_action = action("Redo", "Ctrl+Shift+Z", self.redo)
        self.theme_action = action("Light or dark", "Ctrl+T", self.turn_theme)
        self.quit_action = action("Leave", key.Quit, self.close)
        for number, entry in enumerate(BENCHES, 1):
            action(entry.title, f"Ctrl+{number}", lambda _=False, k=entry.key: self.show_bench(k))

    def _header(self) -> QWidget:
        header = QWidget()
        header.setObjectName("panel")
        header.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(header)
        row.setContentsMargins(14, 5, 12, 5)
        row.setSpacing(7)
        self.name = QLabel()
        self.name.setObjectName("title")
        row.addWidget(self.name)
        self.state = QLabel()
        self.state.setObjectName("soft")
        row.addWidget(self.state, 1)
        self.undo_button = QPushButton("Undo")
        self.undo_button.clicked.connect(self.undo)
        self.redo_button = QPushButton("Redo")
        self.redo_button.clicked.connect(self.redo)
        self.units = QComboBox()
        self.units.setAccessibleName("Units shown")
        self.units.setToolTip("Units in which results are shown; entries keep their own")
        for preset, title in (
            ("mixed", "Mixed units"),
            ("metric", "Metric units"),
            ("inch", "Inch units"),
        ):
            self.units.addItem(title, preset)
        self.units.activated.connect(self._units)
        file = QToolButton()
        file.setText("Project")
        file.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(file)
        for item in (self.new_action, self.open_action, self.save_action, self.save_as_action):
            menu.addAction(item)
        demos = menu.addMenu("Demo projects")
        for name in shelf.demo_names():
            demos.addAction(name.capitalize(), partial(self.open_demo, name))
        menu.addSeparator()
        menu.addAction(self.theme_action)
        menu.addAction(self.quit_action)
        file.setMenu(menu)
        self.save_button = QPushButton("Save")
        self.save_button.clicked.connect(lambda: self.save())
        for widget in (self.undo_button, self.redo_button, self.units, file, self.save_button):
            row.addWidget(widget)
        return header

    def show_bench(self, key: str) -> None:
        """Bring a bench to the front."""
        bench = self.benches.get(key)
        if bench is None:
            return
        if self.stack.currentWidget() is not bench:
            self.stack.setCurrentWidget(bench)
        bench.refresh()
        self.rail.choose(key)

    def say(self, text: str) -> None:
        """Show a sentence for a while."""
        self.notice.setText(text[0].upper() + text[1:] if text else "")
        self.notice.show()
        self._notice_timer.start(12_000)

    def _document(self) -> None:
        project, history = self.session.project, self.session.history
        invented = "  (invented demo)" if project.invented else ""
        self.name.setText(project.name)
        place = self.session.path.name if self.session.path else "not in a file yet"
        touched = self.session.path is not None or history.position > 0
        changed = " · changed" if self.session.dirty and touched else ""
        fault = f" · not kept: {self.session.journal_fault}" if self.session.journal_fault else ""
        self.state.setText(f"{place}{changed}{invented}{fault}")
        self.setWindowTitle(f"{'*' if self.session.dirty else ''}{project.name} – Zarvik")
        for button, label, word in (
            (self.undo_button, history.undo_label, "Undo"),
            (self.redo_button, history.redo_label, "Redo"),
        ):
            button.setEnabled(label is not None)
            button.setToolTip(f"{word}: {label}" if label else f"Nothing to {word.lower()}")
        self.units.setCurrentIndex(max(self.units.findData(project.units), 0))

    def _units(self) -> None:
        preset = self.units.currentData()
        self.desk.change("Units shown", edits.put(self.session.project, "units", preset))

    def undo(self) -> None:
        """Take the last edit back, the one that is being typed included."""
        self.session.undo()

    def redo(self) -> None:
        """Bring it again."""
        self.session.redo()

    def turn_theme(self) -> None:
        """Change between light and dark, and remember it."""
        self.use_theme("dark" if self.theme == "light" else "light")
        save_theme(self.theme)

    def use_theme(self, name: str) -> None:
        """Put a theme in force."""
        self.theme = name
        app = QApplication.instance()
        if isinstance(app, QApplication):
            style.apply(app, name)
        for widget in self.findChildren(QWidget):
            stale = getattr(widget, "stale", None)
            if stale is not None:
                stale()
            widget.update()

    def _may_leave(self) -> bool:
        """Ask about unsaved work; False to stay."""
        if not self.session.dirty or (
            self.session.path is None and self.session.history.position == 0
        ):
            return True
        answer = QMessageBox.question(
            self,
            "Unsaved work",
            f"“{self.session.project.name}” has changes that are in no file. Save them?",
            QMessageBox.StandardButton.Save
            | QMessageBox.StandardButton.Discard
            | QMessageBox.StandardButton.Cancel,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def new(self) -> None:
        """A new project with a turbo from the shelf, so that there is something to change."""
        if self._may_leave():
            project = shelf.fresh()
            self.session.replace(project, None, saved=False, label="New project")

    def open_demo(self, name: str) -> None:
        """Open a demo project as a new one without a file."""
        if self._may_leave():
            self.session.replace(shelf.demo(name), None, saved=False, label="Opened")

    def open(self, path: str | None = None) -> bool:
        """Open a project file; a fault is said and leaves everything as it is."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(self, "Open a project", "", FILES)
        if not path:
            return False
        try:
            project = project_file.read(path)
        except project_file.FileError as error:
            self.say(str(error))
            return False
        if not self._may_leave():
            return False
        self.session.replace(project, Path(path), saved=True, label="Opened")
        return True

    def save(self) -> bool:
        """Save to the project's file, or ask for one."""
        if self.session.path is None:
            return self.save_as()
        return self._save(None)

    def save_as(self, path: str | None = None) -> bool:
        """Save to another file, which becomes the project's own."""
        if path is None:
            name = f"{self.session.project.name.lower().replace(' ', '-')}{project_file.SUFFIX}"
            path, _ = QFileDialog.getSaveFileName(self, "Save the project", name, FILES)
        if not path:
            return False
        if not path.endswith(".json"):
            path += project_file.SUFFIX
        return self._save(Path(path))

    def _save(self, path: Path | None) -> bool:
        try:
            self.session.save(path)
        except project_file.FileError as error:
            self.say(str(error))
            return False
        self.say(f"Saved {self.session.path}")
        return True

    def offer_recovery(self) -> None:
        """Offer the unsaved states that a killed program left behind."""
        found = journal.left_behind()
        if not found:
            return
        unsaved = found[0]
        place = f"of {unsaved.path.name}" if unsaved.path else "that was in no file"
        more = f" ({len(found) - 1} more)" if len(found) > 1 else ""
        label = QLabel(
            f"The program ended without saving: there is a state of “{unsaved.project.name}” "
            f"{place} from {unsaved.time:%d %B, %H:%M}{more}."
        )
        label.setWordWrap(True)
        take, drop = QPushButton("Take it over"), QPushButton("Throw it away")
        take.setObjectName("take")
        drop.setObjectName("drop")
        take.clicked.connect(lambda: self._recover(unsaved, True))
        drop.clicked.connect(lambda: self._recover(unsaved, False))
        while self._recovery_row.count():
            item = self._recovery_row.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        self._recovery_row.addWidget(label, 1)
        self._recovery_row.addWidget(take)
        self._recovery_row.addWidget(drop)
        self.recovery.show()

    def _recover(self, unsaved: journal.Unsaved, take: bool) -> None:
        if take and not self._may_leave():
            return
        self.recovery.hide()
        if take:
            # Not saved: the file still holds the older state until the owner saves.
            self.session.replace(unsaved.project, unsaved.path, saved=False, label="Recovered")
            self.session.keep()
        journal.discard(unsaved)
        self.offer_recovery()

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
        if self._may_leave():
            self.session.close()
            event.accept()
        else:
            event.ignore()


def load_theme() -> str:
    """The theme that was chosen last; light when there is none."""
    try:
        name = json.loads(settings_file().read_text("utf-8")).get("theme")
    except (OSError, ValueError, AttributeError):
        return "light"
    return name if name in palette.THEMES else "light"


def save_theme(name: str) -> None:
    """Remember the theme; a folder that cannot be written is no reason to stop."""
    try:
        project_file.write_text(json.dumps({"theme": name}), settings_file())
    except project_file.FileError:
        return
