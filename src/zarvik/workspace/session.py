"""One open project: the document and its history, its file, its journal, its newest answer."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Literal

from zarvik.formats import atomic_writer, project_file
from zarvik.formats.atomic_writer import Mark
from zarvik.project.document.document import Project
from zarvik.project.edits.history import History
from zarvik.workspace.job_store import JobResult, JobStore
from zarvik.workspace.journal import Journal
from zarvik.workspace.solving import Solving

Now = Literal["now"]
Outcome = tuple[Path | None, Mark | None]  # what stood in the file, under its new name; the mark of what stands there now
Written = Callable[[], Outcome]


def _at_once(work: Written) -> Outcome:
    return work()


def _marked(path: Path | None, mark: Mark | Now | None) -> Mark | None:
    """The mark of the file, unless it was taken when the file was read."""
    if path is None:
        return None
    return atomic_writer.mark(path) if mark == "now" else mark


class Session:
    """Edits go in by `apply`; `changed` hears of every new document, `job_changed` of every reply of the
    store of jobs, the answer to the document among them.

    `job_changed` is called on a thread of the store; who shows it brings it to its own.
    """

    def __init__(self, project: Project, path: Path | None = None, mark: Mark | Now | None = "now") -> None:
        self.path = path
        self._mark = _marked(path, mark)
        self.precious = False  # work that is in no file, though nothing was edited yet
        self.history = History(project)
        self.changed: Callable[[], None] = lambda: None
        self.job_changed: Callable[[JobResult], None] = lambda reply: None
        self.closing: list[Callable[[], None]] = []  # what has threads of its own ends them
        self._saved = project if path else None
        self._journal = Journal()
        self._solving = Solving()
        self.jobs = JobStore(lambda reply: self.job_changed(reply))

    @property
    def project(self) -> Project:
        """The document as it is now."""
        return self.history.project

    @property
    def dirty(self) -> bool:
        """Does the document differ from what stands in its file?"""
        return self.project is not self._saved and self.project != self._saved

    @property
    def journal_fault(self) -> str | None:
        """Why the journal cannot be written, None while it can."""
        return self._journal.fault

    def replace(
        self, project: Project, path: Path | None, *, saved: bool, label: str, precious: bool = False, mark: Mark | Now | None = "now"
    ) -> None:
        """Begin anew with another document; `precious` when it is work that stands in no file, `mark` that of
        the state of the file from which it came."""
        self.path = path
        self._mark = _marked(path, mark)
        self.precious = precious
        self.history = History(project, label)
        self._saved = project if saved else None
        if precious or not (saved or path is None):
            self._journal.keep(project, path, self._mark)
        else:
            self._journal.forget()
        self._tell()

    @property
    def unsaved(self) -> bool:
        """Would leaving now lose work?"""
        if self.path is None and self.history.position == 0 and len(self.history.steps) == 1:
            return self.precious
        return self.dirty

    @property
    def changed_outside(self) -> bool:
        """Was the file written by somebody else since it was opened or saved here?"""
        return self.path is not None and atomic_writer.mark(self.path) != self._mark

    def journalled(self) -> bool:
        """Wait until the present state is on the disk."""
        return self._journal.idle()

    def apply(self, label: str, project: Project, merge_key: str | None = None) -> bool:
        """Make an edit; False when it changes nothing."""
        if not self.history.apply(label, project, merge_key):
            return False
        self._tell(journal=True)
        return True

    def undo(self) -> bool:
        """Take the last edit back."""
        return self._travel(self.history.undo())

    def redo(self) -> bool:
        """Bring the edit again that was taken back."""
        return self._travel(self.history.redo())

    def go_to(self, position: int) -> bool:
        """Go back or forward to a step of the history; False when it is the present one."""
        return self._travel(self.history.go_to(position))

    def _travel(self, moved: bool) -> bool:
        if moved:
            self._tell(journal=True)
        return moved

    def _tell(self, *, journal: bool = False) -> None:
        if journal:
            if self.dirty or self.precious:
                self._journal.keep(self.project, self.path, self._mark)
            else:
                self._journal.forget()
        self.jobs.ask(self._solving.job(self.project))
        self.changed()

    def solve_again(self) -> None:
        """Ask for the answer of the present document."""
        self.jobs.ask(self._solving.job(self.project), again=True)

    def owns(self, path: Path) -> bool:
        """Is this the project's own file, however it is spelled?"""
        if self.path is None:
            return False
        try:
            return path.resolve() == self.path.resolve() or path.samefile(self.path)
        except (OSError, RuntimeError, ValueError):
            return False

    def save(self, path: Path | None = None, *, keep_other: bool = False, by: Callable[[Written], Outcome] = _at_once) -> Path | None:
        """Write the document to its file, or to another one that becomes its own; what somebody else wrote
        there is kept under a name of its own, which is returned, when `keep_other`. The writing itself is done `by`
        somebody who may do it in another thread: the document as it is now is written, whatever becomes of it meanwhile.

        Raises project_file.FileError; the document and the journal stay as they were then.
        """
        goal = path or self.path
        if goal is None:
            raise project_file.FileError("this project has no file yet: choose where to save it")
        place = self.path if self.path is not None and self.owns(goal) else goal
        project = self.project

        def written() -> Outcome:
            kept = atomic_writer.keep_aside(place) if keep_other and place.exists() else None
            project_file.write(project, goal)
            return kept, atomic_writer.mark(goal)

        kept, mark = by(written)
        self.path, self._mark = goal, mark
        self.precious = False
        self._saved = project
        self.history.seal()
        if self.project is project:
            self._journal.forget()
        else:  # something went on while it was written
            self._journal.keep(self.project, goal, mark)
        self.changed()
        return kept

    def idle(self) -> bool:
        """Wait until nothing is asked and all is journalled."""
        return self.jobs.idle() and self._journal.idle()

    def close(self) -> None:
        """End the threads; the journal goes: whoever closes has asked about unsaved work."""
        for end in self.closing:
            end()
        self.jobs.close()
        self._journal.close()
