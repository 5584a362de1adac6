"""What the window does with files: new, open, save, duplicate, recent ones, recovery."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QMainWindow, QMessageBox, QPushButton, QWidget

from zarvik.formats import atomic_writer, project_file, shipped
from zarvik.project.language.language import tr
from zarvik.project.language.plain import file_name, visible
from zarvik.window.parts.disk_work import beside
from zarvik.window.parts.message_box import ask
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.workspace import journal, settings
from zarvik.workspace.session import Session

FILES = f"Zarvik projects (*{atomic_writer.SUFFIX})"


class FileWork(QMainWindow):
    """The part of the window that works with files."""

    session: Session
    settings: settings.Settings
    recovery: QWidget
    _recovery_row: QHBoxLayout

    def say(self, text: str) -> None:
        """Show a sentence for a while."""
        raise NotImplementedError

    def _may_leave(self) -> bool:
        """Ask about unsaved work; False to stay."""
        if not self.session.unsaved:
            return True
        answer = self._ask(
            tr("Unsaved work"),
            tr("“{0}” has unsaved changes. Save them?").format(visible(self.session.project.name)),
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def _ask(self, title: str, text: str, buttons: QMessageBox.StandardButton) -> QMessageBox.StandardButton:
        """A question in plain text: a name in it is a name, never markup."""
        return ask(self, title, text, buttons)

    def new(self) -> None:
        """The page that asks for what a builder knows and makes a first design of it."""
        self.show_start()

    def show_start(self, first: bool = False) -> None:
        """The first page."""
        raise NotImplementedError

    def show_design(self) -> None:
        """The benches."""
        raise NotImplementedError

    def open_demo(self, name: str) -> None:
        """Open a demo project as a new one without a file."""
        if self._may_leave():
            self.session.replace(beside(lambda: shipped.demo(name)), None, saved=False, label=tr("Opened"))

    def open(self, path: str | None = None) -> bool:
        """Open a project file; a fault is said and leaves everything as it is."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(self, tr("Open a project"), "", FILES)
        if not path:
            return False
        before = self.session.unsaved
        try:
            project, mark = beside(lambda: project_file.read_marked(path))
            if before:
                if not self._may_leave():
                    return False
                # The answer may have saved this very file, or somebody wrote it while the question stood.
                project, mark = beside(lambda: project_file.read_marked(path))
        except project_file.FileError as error:
            self.say(str(error))
            return False
        self.session.replace(project, Path(path), saved=True, label=tr("Opened"), mark=mark)
        self._remember(Path(path))
        return True

    def save(self) -> bool:
        """Save to the project's file, or ask for one."""
        if self.session.path is None:
            return self.save_as()
        return self._save(None)

    def save_as(self, path: str | None = None) -> bool:
        """Save to another file, which becomes the project's own."""
        if path is None:
            name = file_name(self.session.project.name, atomic_writer.SUFFIX)
            path, _ = QFileDialog.getSaveFileName(self, tr("Save the project"), name, FILES)
        if not path:
            return False
        if not path.endswith(".json"):
            path += atomic_writer.SUFFIX
            # The dialog has asked about the name that was typed, not about this one.
            if Path(path).exists() and not self._over(Path(path)):
                return False
        return self._save(Path(path))

    def _over(self, path: Path) -> bool:
        return (
            self._ask(
                tr("File exists"),
                tr("“{0}” exists. Overwrite it?").format(visible(path.name)),
                QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No,
            )
            == QMessageBox.StandardButton.Yes
        )

    def _save(self, path: Path | None) -> bool:
        own = self.session.path
        other = False
        while own is not None and (path is None or self.session.owns(path)) and self.session.changed_outside:
            seen = atomic_writer.mark(own)
            if seen is None:
                break  # it is gone: nothing to write over
            answer = self._ask(
                tr("Changed elsewhere"),
                tr("“{0}” was changed by another program or window. Overwrite it? The present file is kept beside it as “{1}”.").format(
                    visible(own.name), visible(atomic_writer.aside(own).name)
                ),
                QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No,
            )
            if answer != QMessageBox.StandardButton.Yes:
                return False
            other = True
            if atomic_writer.mark(own) == seen:
                break  # else it was written again while the question stood
        try:
            kept = self.session.save(path, keep_other=other, by=beside)
        except project_file.FileError as error:
            self.say(str(error))
            return False
        if kept is None:
            self.say(tr("Saved {0}").format(self.session.path))
        else:
            self.say(tr("Saved {0}; the file before is kept as {1}").format(self.session.path, kept.name))
        if self.session.path is not None:
            self._remember(self.session.path)
        return True

    def duplicate(self) -> None:
        """Go on with a copy that has no file yet; the file of the original stays as it was saved."""
        if self._may_leave():
            project = self.session.project
            copy = project.model_copy(update={"name": f"{project.name} (copy)"[:120]})
            self.session.replace(copy, None, saved=False, label=tr("Duplicated"), precious=True)

    def _remember(self, path: Path) -> None:
        self.settings = self.settings.opened(path)
        settings.save(self.settings)

    def offer_recovery(self) -> None:
        """Offer the unsaved states that a killed program left behind, one after the other."""
        found, damaged = beside(lambda: (journal.left_behind(), journal.damaged()))
        if found:
            self._offer(found[0], len(found) + len(damaged) - 1)
        elif damaged:
            self._tell_of(damaged[0], len(damaged) - 1)

    def _offer(self, unsaved: journal.UnsavedState, more: int) -> None:
        name = visible(unsaved.project.name)
        if unsaved.path is None:
            text = tr("The program ended without saving: there is an unsaved state of “{0}” from {1:%d %B, %H:%M}.").format(
                name, unsaved.time
            )
        else:
            text = tr("The program ended without saving: there is a state of “{0}” of {1} from {2:%d %B, %H:%M}.").format(
                name, visible(unsaved.path.name), unsaved.time
            )
        if unsaved.moved:
            text += " " + tr("The file was changed by another program: it stays as it is until you save, and is then kept beside yours.")
        take, drop = QPushButton(tr("Recover it")), QPushButton(tr("Discard changes"))
        take.setObjectName("take")
        take.clicked.connect(lambda: self._recover(unsaved, True))
        drop.clicked.connect(lambda: self._recover(unsaved, False))
        self._ask_above(text, more, take, drop)

    def _tell_of(self, damaged: journal.DamagedJournal, more: int) -> None:
        text = tr("An unsaved state cannot be read: {0}. It is kept as {1}.").format(visible(damaged.reason), damaged.journal)
        drop = QPushButton(tr("Discard changes"))
        drop.clicked.connect(lambda: self._recover(damaged, False))
        self._ask_above(text, more, drop)

    def _ask_above(self, text: str, more: int, *buttons: QPushButton) -> None:
        """Show the text and its buttons above whichever page stands."""
        label = PlainLabel(text + (" " + tr("({0} more)").format(more) if more else ""))
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setWordWrap(True)
        while self._recovery_row.count():
            item = self._recovery_row.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        self._recovery_row.addWidget(label, 1)
        for button in buttons:
            self._recovery_row.addWidget(button)
        buttons[-1].setObjectName("drop")
        self.recovery.show()

    def _recover(self, found: journal.UnsavedState | journal.DamagedJournal, take: bool) -> None:
        if take and not self._may_leave():
            return
        self.recovery.hide()
        if take and isinstance(found, journal.UnsavedState):
            # Not saved: the file still holds the older state until the owner saves.
            self.session.replace(found.project, found.path, saved=False, label=tr("Recovered"), precious=True, mark=found.mark)
            # The old journal goes only when the new one stands.
            if not self.session.journalled() or self.session.journal_fault:
                self.offer_recovery()
                return
            self.show_design()
        journal.discard(found)
        self.offer_recovery()
