"""The one writer of files: whatever the program writes appears whole or not at all.

A part file beside the goal is filled, brought to the disk and renamed, so that neither a full disk nor a cut
leaves half a file where a whole one was.
"""

from __future__ import annotations

import contextlib
import os
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

from zarvik.project.language.language import tr_format

SUFFIX = ".zarvik.json"


class FileError(Exception):
    """A file cannot be read or written; the message is one sentence for the reader."""


def write_text(text: str, path: Path, *, keep_previous: bool = False) -> None:
    """Write `text` atomically; raises FileError."""
    write_bytes(text.encode("utf-8"), path, keep_previous=keep_previous)


def write_bytes(data: bytes, path: Path, *, keep_previous: bool = False) -> None:
    """Write `data` atomically, what was there kept as `NAME.previous` where that is wanted; raises FileError."""
    write_files([(path, data)], keep_previous=keep_previous)


def write_files(files: Sequence[tuple[Path, bytes]], *, keep_previous: bool = False) -> None:
    """Write several files that belong together: all of them stand on the disk beside their goals before the first
    takes its name, so that a full disk leaves every old one as it was. Raises FileError."""
    made: list[tuple[str, Path]] = []
    path = files[0][0] if files else Path()
    try:
        for path, data in files:
            made.append((_part_of(path, data), path.resolve()))
        for part, goal in made:
            path = goal
            if keep_previous and goal.exists():
                link = goal.with_name(f".{goal.name}.previous.part")
                link.unlink(missing_ok=True)
                _same_contents(goal, link)
                os.replace(link, goal.with_name(goal.name + ".previous"))
            os.replace(part, goal)
            _clear_own_parts(goal)
        for folder in {goal.parent for _, goal in made}:
            _sync_folder(folder)
    except OSError as error:
        raise FileError(tr_format("“{0}” cannot be written: {1}", path.name, error.strerror)) from error
    except ValueError as error:
        raise FileError(tr_format("not a file name: {0}", error)) from None
    finally:
        for part, _ in made:
            with contextlib.suppress(OSError):
                Path(part).unlink(missing_ok=True)


def _part_of(path: Path, data: bytes) -> str:
    """A part file with `data` beside `path`, on the disk; its name."""
    path = path.resolve()
    if path.exists() and not path.is_file():
        raise FileError(tr_format("“{0}” cannot be written: not a file", path.name))
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, part = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(part, path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
    except BaseException:
        Path(part).unlink(missing_ok=True)
        raise
    return part


def _clear_own_parts(path: Path) -> None:
    """Remove what earlier writes of this file that were cut off left beside it."""
    with contextlib.suppress(OSError):
        for part in path.parent.iterdir():
            if part.name.startswith(f".{path.name}.") and part.name.endswith(".part"):
                with contextlib.suppress(OSError):
                    if time.time() - part.stat().st_mtime > 3600.0:
                        part.unlink()


def aside(path: Path) -> Path:
    """A free name beside `path` for a state of it that somebody else wrote."""
    stem = path.name.removesuffix(".json").removesuffix(".zarvik")
    for number in range(1, 1000):
        found = path.with_name(f"{stem} (other {number}){SUFFIX}")
        if not found.exists():
            return found
    return path.with_name(f"{stem} (other {time.time_ns()}){SUFFIX}")


def keep_aside(path: Path) -> Path:
    """Keep what stands in `path` now under a free name beside it; raises FileError."""
    goal = aside(path)
    try:
        _same_contents(path, goal)
    except OSError as error:
        raise FileError(tr_format("“{0}” cannot be written: {1}", goal.name, error.strerror)) from error
    return goal


def clear_parts(folder: Path, older: float = 3600.0) -> None:
    """Remove what writes that were cut off left in `folder`, when it is `older` seconds old."""
    with contextlib.suppress(OSError):
        for part in folder.glob(".*.part"):
            with contextlib.suppress(OSError):
                if time.time() - part.stat().st_mtime > older:
                    part.unlink()


Mark = tuple[int, int, int]
"""When a file was written (ns), how large it is, and its number on the disk."""


def mark(path: Path) -> Mark | None:
    """What tells one state of a file from another: when and how large; None where there is none."""
    try:
        found = path.stat()
    except (OSError, ValueError):
        return None
    return found.st_mtime_ns, found.st_size, found.st_ino


def _same_contents(path: Path, link: Path) -> None:
    try:
        os.link(path, link)
    except OSError:  # a file system without hard links
        link.write_bytes(path.read_bytes())


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
