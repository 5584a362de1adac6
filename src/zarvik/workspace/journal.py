"""The journal: the unsaved state of an open project, kept on disk while it is being edited.

One file for each open document. It holds the whole document and the path it belongs to, is written
atomically after every edit, and is removed when the document is saved or closed. What is found at
the next start was left by a program that was killed.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import time
import uuid
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from zarvik.formats import atomic_writer, kept_designs, project_file
from zarvik.formats.atomic_writer import Mark
from zarvik.formats.text_file import LARGEST
from zarvik.project.document.document import Project
from zarvik.workspace.folders import state_folder
from zarvik.workspace.latest_request import LatestRequest


@dataclass(frozen=True)
class UnsavedState:
    """A state that was never saved: of which file (None for a new one), when, and the document; the mark
    that its file had when it was opened or last saved, and was the file written since by somebody else?"""

    journal: Path
    path: Path | None
    time: datetime
    project: Project
    mark: Mark | None = None
    moved: bool = False


@dataclass(frozen=True)
class DamagedJournal:
    """A state that cannot be read: where it is kept, and why not."""

    journal: Path
    reason: str


@dataclass(frozen=True)
class JournalState:
    """What the journal keeps: the document, and the state of the file that it goes back to."""

    project: Project
    path: Path | None
    mark: Mark | None


def folder() -> Path:
    """Where the journals are."""
    return state_folder() / "journal"


class Journal:
    """Writes one document's unsaved states on a thread of its own."""

    def __init__(self) -> None:
        self.file = folder() / f"{os.getpid()}-{uuid.uuid4().hex[:8]}.json"
        self.fault: str | None = None
        self._lock = _hold(self.file)
        self._worker: LatestRequest[JournalState | None] = LatestRequest("zarvik-journal", self._write, self._failed, pause=0.1)

    def keep(self, project: Project, path: Path | None, mark: Mark | None = None) -> None:
        """Keep this state; returns at once."""
        self._worker.put(JournalState(project, path, mark))

    def forget(self) -> None:
        """The state is saved or not wanted: nothing to recover."""
        self._worker.put(None)

    def idle(self) -> bool:
        """Wait until the newest state is on the disk."""
        return self._worker.idle()

    def close(self, *, keep: bool = False) -> None:
        """End the thread; the journal goes unless it is to be kept."""
        self._worker.close()
        if not keep:
            with contextlib.suppress(OSError):
                self.file.unlink(missing_ok=True)
        if self._lock is not None:
            if not keep:
                with contextlib.suppress(OSError):
                    _lock_of(self.file).unlink(missing_ok=True)
            os.close(self._lock)
            self._lock = None

    def _failed(self, error: BaseException) -> None:
        self.fault = str(error)

    def _write(self, state: JournalState | None) -> None:
        if state is None:
            self.file.unlink(missing_ok=True)
            return
        project, path = state.project, state.path
        head = {
            "journal": 1,
            "pid": os.getpid(),
            "path": str(path) if path else None,
            # Whether the file was written since is told by its own mark: a clock can be set back.
            "mark": list(state.mark) if state.mark else None,
            "time": datetime.now(UTC).isoformat(timespec="seconds"),
        }
        atomic_writer.write_text(json.dumps(head | {"document": kept_designs.tree_of(project)}, ensure_ascii=False), self.file)
        self.fault = None


def _lock_of(file: Path) -> Path:
    return file.with_suffix(".lock")


_PATIENCE = 200  # looks at a lock, 5 ms apart, before it counts as somebody else's


def _hold(file: Path) -> int | None:
    """Hold the lock that says: the program of this journal lives. It ends with the process, however
    that ends; a process number would come again after a restart of the machine."""
    lock = _lock_of(file)
    for _ in range(_PATIENCE):
        try:
            file.parent.mkdir(parents=True, exist_ok=True)
            handle = os.open(lock, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        except OSError:
            return None
        if _locked(handle):
            with contextlib.suppress(OSError):
                # Another program that cleared up between the two lines took its name away.
                if os.path.samestat(os.fstat(handle), os.stat(lock)):
                    return handle
        os.close(handle)  # another one is looking at it just now
        time.sleep(0.005)
    return None


def _locked(handle: int) -> bool:
    """The lock of the open file, at once; False where another holds it."""
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True


def _held(file: Path) -> bool:
    """Does a living program hold this journal?"""
    try:
        handle = os.open(_lock_of(file), os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        return not _locked(handle)
    finally:
        os.close(handle)


def _drop_lock(file: Path) -> None:
    """Remove the lock of a program that is gone; the name goes while the lock is held here."""
    with contextlib.suppress(OSError):
        handle = os.open(_lock_of(file), os.O_RDWR | os.O_CLOEXEC)
        try:
            if _locked(handle):
                _lock_of(file).unlink(missing_ok=True)
        finally:
            os.close(handle)


_ASIDE = (".json", ".older", ".unreadable")


def left_behind() -> list[UnsavedState]:
    """Unsaved states of programs that are gone, newest first; one that says the same as its file goes, one
    that cannot be read is set aside for `damaged`."""
    found = []
    if not folder().is_dir():
        return []
    atomic_writer.clear_parts(folder(), 60.0)
    for file in sorted(f for f in folder().iterdir() if f.suffix in _ASIDE and f.is_file()):
        if _held(file):
            continue
        try:
            unsaved = _read(file)
        except _UNREADABLE:
            if file.suffix != ".unreadable":
                _set_aside(file)
            continue
        if unsaved.moved and _stands(unsaved):
            discard(unsaved)
            continue
        found.append(unsaved)
    for lock in folder().glob("*.lock"):
        if not lock.with_suffix(".json").exists():
            _drop_lock(lock.with_suffix(".json"))
    return sorted(found, key=lambda u: u.time, reverse=True)


def damaged() -> list[DamagedJournal]:
    """The states that were set aside because they cannot be read, and why not."""
    found = []
    for file in sorted(folder().glob("*.unreadable")) if folder().is_dir() else ():
        try:
            _read(file)
        except _UNREADABLE as error:
            found.append(DamagedJournal(file, str(error) or type(error).__name__))
    return found


_UNREADABLE = (OSError, ValueError, KeyError, TypeError, OverflowError, RecursionError, project_file.FileError)


def _read(file: Path) -> UnsavedState:
    if not file.is_file() or file.stat().st_size > 2 * LARGEST:
        raise ValueError("no journal")
    tree = json.loads(file.read_text("utf-8"))
    project = project_file.loads(json.dumps(tree["document"]), "the journal")
    path = Path(tree["path"]) if tree["path"] else None
    mark = tuple(int(part) for part in tree["mark"]) if tree.get("mark") else None
    if mark is not None and len(mark) != 3:
        raise ValueError("the mark of the file has three numbers")
    now = atomic_writer.mark(path) if path is not None else None
    # A file that is gone was not written by somebody else: there is nothing to lose in it.
    moved = now is not None and mark != now
    return UnsavedState(
        journal=file, path=path, time=datetime.fromisoformat(tree["time"]).astimezone(), project=project, mark=mark, moved=moved
    )


def _stands(unsaved: UnsavedState) -> bool:
    """Does the file hold this very state? The program ended between saving and forgetting, then."""
    try:
        return unsaved.path is not None and project_file.read(unsaved.path) == unsaved.project
    except project_file.FileError:
        return False


def _set_aside(file: Path) -> None:
    with contextlib.suppress(OSError):
        file.rename(file.with_suffix(".unreadable"))


def discard(unsaved: UnsavedState | DamagedJournal) -> None:
    """Remove an unsaved state that is taken over or not wanted."""
    with contextlib.suppress(OSError):
        unsaved.journal.unlink(missing_ok=True)
        _lock_of(unsaved.journal).unlink(missing_ok=True)
