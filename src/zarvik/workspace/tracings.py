"""Tracings of printed maps, kept beside the journal while they are worked on: by what is in their picture."""

from __future__ import annotations

import contextlib
import hashlib
import threading
from pathlib import Path

from zarvik.formats import atomic_writer
from zarvik.workspace.folders import state_folder

MOST = 24  # of the newest that are kept
LARGEST = 64 * 1024 * 1024


def folder() -> Path:
    """Where they are."""
    return state_folder() / "tracings"


def key_of(picture: bytes) -> str:
    """What tells one picture from another."""
    return hashlib.sha256(picture).hexdigest()[:24]


def keep(key: str, text: str, picture: bytes) -> None:
    """Keep a tracing with its picture. Raises FileError."""
    goal = folder() / f"{key}.picture"
    files = [(folder() / f"{key}.json", text.encode("utf-8"))]
    if not goal.exists():
        files.append((goal, picture))
    atomic_writer.write_files(files)
    _thin()


def kept(key: str) -> str | None:
    """The tracing of a picture, None where there is none."""
    return _text(folder() / f"{key}.json")


def picture(key: str) -> Path | None:
    """The picture that was kept under a key."""
    found = folder() / f"{key}.picture"
    return found if found.is_file() else None


def last() -> str | None:
    """Key of the tracing that was worked on last."""
    found = _newest()
    return found[0].stem if found else None


def forget(key: str) -> None:
    """A tracing is not wanted any more."""
    for end in ("json", "picture"):
        with contextlib.suppress(OSError):
            (folder() / f"{key}.{end}").unlink(missing_ok=True)


class PendingTracing:
    """The newest state of a tracing until it is on the disc. Whoever writes, the window or a thread beside it, writes the newest one:
    an older one never comes after it."""

    def __init__(self) -> None:
        self._writing, self._changing = threading.Lock(), threading.Lock()
        self._newest: tuple[str, str, bytes] | None = None

    def set(self, key: str, text: str, picture: bytes) -> None:
        """This is how it is now; it waits for nothing."""
        with self._changing:
            self._newest = (key, text, picture)

    def write(self) -> None:
        """Put it on the disc, if it is not there yet. Raises FileError, and it stays to be written."""
        with self._writing:
            state = self._newest
            if state is None:
                return
            keep(*state)
            with self._changing:
                if self._newest is state:
                    self._newest = None


def _newest() -> list[Path]:
    try:
        found = [p for p in folder().glob("*.json") if (folder() / f"{p.stem}.picture").is_file()]
        return sorted(found, key=lambda p: -p.stat().st_mtime_ns)
    except OSError:
        return []


def _thin() -> None:
    for old in _newest()[MOST:]:
        forget(old.stem)


def _text(path: Path) -> str | None:
    try:
        return path.read_text("utf-8") if path.stat().st_size <= LARGEST else None
    except (OSError, ValueError):
        return None
