"""What every command has in common: exit codes, a terminal of few letters, errors in one line."""

from __future__ import annotations

import argparse
import codecs
import io
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import NoReturn

from zarvik.formats.atomic_writer import FileError
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.language.plain import visible

GOOD, FAILING, BAD_INPUT = 0, 1, 2


class Parser(argparse.ArgumentParser):
    """Says what is wrong in one line and leaves with the code of bad input."""

    def error(self, message: str) -> NoReturn:
        """One line instead of the whole usage."""
        print(tr_format("zarvik: {0} (see {1} --help)", message, self.prog), file=sys.stderr)
        raise SystemExit(BAD_INPUT)


def not_over(goal: Path, *, force: bool) -> None:
    """Raises FileError when something stands at `goal` already, unless it may be written over by `force`."""
    if goal.exists() and not force:
        raise FileError(tr_format("“{0}” exists: choose another name, or --force", goal))


_PLAIN = {
    "\u00a0": " ",
    "\u2212": "-",
    "–": "-",
    "—": "-",
    "“": '"',
    "”": '"',
    "’": "'",
    "°": " deg",
    "³": "3",
    "²": "2",
    "≈": "~",
    "±": "+/-",
    "·": ".",
    "×": "x",
    "→": "->",
    "≤": "<=",
    "≥": ">=",
    "…": "...",
    "η": "eta",
    "λ": "lambda",
    "€": "EUR",
    "£": "GBP",
    "µ": "u",
    "½": "1/2",
    "√": "sqrt ",
}


def plain_terminal() -> None:
    """A terminal that knows fewer letters gets the nearest ones: a result with a plain hyphen is better than none."""

    def nearest(error: UnicodeError) -> tuple[str, int]:
        if not isinstance(error, UnicodeEncodeError):
            raise error
        return "".join(_PLAIN.get(c, "?") for c in error.object[error.start : error.end]), error.end

    codecs.register_error("zarvik-nearest", nearest)
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper) and (stream.encoding or "").lower().replace("-", "") != "utf8":
            stream.reconfigure(errors="zarvik-nearest")


def bad(text: str) -> int:
    """Say what is wrong, in one line."""
    print(f"zarvik: {visible(text)}", file=sys.stderr)
    return BAD_INPUT


def carried_out(work: Callable[[], int]) -> int:
    """The exit code of `work`; what goes wrong in it is said in one line."""
    try:
        code = work()
        if sys.stdout is not None:  # none where it was closed: what was asked is done, and its code says how
            sys.stdout.flush()
        return code
    except SystemExit as leaving:
        return int(leaving.code or 0)
    except FileError as error:
        return bad(str(error))
    except BrokenPipeError:
        # Nobody reads on: nothing more can be said, and nothing may be tried at the end either.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return BAD_INPUT
    except OSError as error:
        return bad(tr_format("the output cannot be written: {0}", error.strerror))
    except (ValueError, RecursionError) as error:
        return bad(reason(error))
    except KeyboardInterrupt:
        return 130


def offer_force(word: argparse.ArgumentParser) -> None:
    """The option of every `word` that writes a file."""
    word.add_argument("--force", action="store_true", help=tr("overwrite an existing file"))
