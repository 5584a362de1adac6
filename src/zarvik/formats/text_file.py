"""Text of files that somebody names."""

from __future__ import annotations

from pathlib import Path

from zarvik.formats.atomic_writer import FileError
from zarvik.project.language.language import tr_format

LARGEST = 32 * 1024 * 1024


def read_text(path: Path | str, largest: int = LARGEST) -> str:
    """Text of a file that somebody names; raises FileError for what is no file (a folder, a device, a pipe that never ends), is larger
    than `largest` bytes, or is no text."""
    path = Path(path)
    try:
        if path.exists() and not path.is_file():
            raise FileError(tr_format("“{0}” is not a file", path.name))
        if path.stat().st_size > largest:
            raise FileError(tr_format("“{0}” is larger than {1:.0f} MB", path.name, largest / 1e6))
        return path.read_bytes().decode("utf-8-sig")
    except FileNotFoundError:
        raise FileError(tr_format("there is no file “{0}”", path)) from None
    except UnicodeDecodeError:
        raise FileError(tr_format("“{0}” cannot be read as text", path.name)) from None
    except OSError as error:
        raise FileError(tr_format("“{0}” cannot be read: {1}", path.name, error.strerror)) from error
    except ValueError as error:
        raise FileError(tr_format("not a file name: {0}", error)) from None
