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
import uuid
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from zarvik.formats import project_file
from zarvik.project.document import Project
from zarvik.workspace.latest import Latest
from zarvik.workspace.places import state_folder


@dataclass(frozen=True)
class Unsaved:
    """A state that was never saved: of which file (None for a new one), when, and the document."""

    journal: Path
    path: Path | None
    time: datetime
    project: Project


def folder() -> Path:
    """Where the journals are."""
    return state_folder() / "journal"


class Journal:
    """Writes one document's unsaved states on a thread of its own."""

    def __init__(self) -> None:
        self.file = folder() / f"{os.getpid()}-{uuid.uuid4().hex[:8]}.json"
        self.fault: str | None = None
        self._lock = _hold(self.file)
        self._worker: Latest[tuple[Project, Path | None] | None] = Latest(
            "zarvik-journal", self._write, self._failed, pause=0.1
        )

    def keep(self, project: Project, path: Path | None) -> None:
        """Keep this state; returns at once."""
        self._worker.put((project, path))

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

    def _write(self, state: tuple[Project, Path | None] | None) -> None:
        if state is None:
            self.file.unlink(missing_ok=True)
            return
        project, path = state
        head = {
            "journal": 1,
            "pid": os.getpid(),
            "path": str(path) if path else None,
            "time": datetime.now().isoformat(timespec="seconds"),
        }
        # The document is written by its own fast writer: the window waits while Python encodes.
        text = f'{json.dumps(head)[:-1]}, "document": {project.model_dump_json(by_alias=True)}}}'
        project_file.write_text(text, self.file)
        self.fault = None


def _lock_of(file: Path) -> Path:
    return file.with_suffix(".lock")


def _hold(file: Path) -> int | None:
    """Hold the lock that says: the program of this journal lives. It ends with the process, however
    that ends; a process number would come again after a restart of the machine."""
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(_lock_of(file), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    except OSError:
        return None
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        return None
    return handle


def _held(file: Path) -> bool:
    """Does a living program hold this journal?"""
    try:
        handle = os.open(_lock_of(file), os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def left_behind() -> list[Unsaved]:
    """Unsaved states of programs that are gone, newest first; unreadable journals are set aside, and
    so are those that are older than the file they belong to."""
    found = []
    if not folder().is_dir():
        return []
    project_file.clear_parts(folder(), 60.0)
    for file in sorted(folder().glob("*.json")):
        if _held(file):
            continue
        try:
            unsaved = _read(file)
        except (OSError, ValueError, KeyError, TypeError, OverflowError, RecursionError,
                project_file.FileError):  # fmt: skip
            _set_aside(file, ".unreadable")
            continue
        if unsaved.path is not None and _newer(unsaved.path, unsaved.time):
            _set_aside(file, ".older")
            continue
        found.append(unsaved)
    for lock in folder().glob("*.lock"):
        if not lock.with_suffix(".json").exists() and not _held(lock.with_suffix(".json")):
            with contextlib.suppress(OSError):
                lock.unlink()
    return sorted(found, key=lambda u: u.time, reverse=True)


def _read(file: Path) -> Unsaved:
    if not file.is_file() or file.stat().st_size > 2 * project_file.LARGEST:
        raise ValueError("no journal")
    tree = json.loads(file.read_text("utf-8"))
    project = project_file.loads(json.dumps(tree["document"]), "the journal")
    path = Path(tree["path"]) if tree["path"] else None
    time = datetime.fromisoformat(tree["time"])
    if time.tzinfo is not None:
        time = time.astimezone().replace(tzinfo=None)
    return Unsaved(file, path, time, project)


def _newer(path: Path, time: datetime) -> bool:
    """Was the file saved after this time? Within two seconds it counts as not."""
    try:
        return path.stat().st_mtime > time.timestamp() + 2.0
    except (OSError, ValueError, OverflowError):
        return False


def _set_aside(file: Path, suffix: str) -> None:
    with contextlib.suppress(OSError):
        file.rename(file.with_suffix(suffix))


def discard(unsaved: Unsaved) -> None:
    """Remove an unsaved state that is taken over or not wanted."""
    with contextlib.suppress(OSError):
        unsaved.journal.unlink(missing_ok=True)
        _lock_of(unsaved.journal).unlink(missing_ok=True)
