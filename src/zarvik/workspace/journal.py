"""The journal: the unsaved state of an open project, kept on disk while it is being edited.

One file for each open document. It holds the whole document and the path it belongs to, is written
atomically after every edit, and is removed when the document is saved or closed. What is found at
the next start was left by a program that was killed.
"""

from __future__ import annotations

import contextlib
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


def _alive(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


def left_behind() -> list[Unsaved]:
    """Unsaved states of programs that are gone, newest first; unreadable journals are set aside."""
    found = []
    if not folder().is_dir():
        return []
    for file in folder().glob("*.json"):
        try:
            tree = json.loads(file.read_text("utf-8"))
            if int(tree["pid"]) != os.getpid() and _alive(int(tree["pid"])):
                continue
            if int(tree["pid"]) == os.getpid():
                continue
            project = project_file.from_tree(tree["document"], "the journal")
            path = Path(tree["path"]) if tree["path"] else None
            found.append(Unsaved(file, path, datetime.fromisoformat(tree["time"]), project))
        except (OSError, ValueError, KeyError, TypeError, project_file.FileError):
            file.rename(file.with_suffix(".unreadable"))
    return sorted(found, key=lambda u: u.time, reverse=True)


def discard(unsaved: Unsaved) -> None:
    """Remove an unsaved state that is taken over or not wanted."""
    unsaved.journal.unlink(missing_ok=True)
