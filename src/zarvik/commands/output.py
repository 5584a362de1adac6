"""What the commands share: codes, answers, runs by name, files that are not written over."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from zarvik.commands.terminal import GOOD, not_over
from zarvik.core.answer.answer import Answer, answer
from zarvik.core.common.progress import Progress, unwatched
from zarvik.formats import atomic_writer, project_file
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates
from zarvik.project.cures.cures import proved
from zarvik.project.document.document import Project
from zarvik.project.document.places import RUNS
from zarvik.project.language.language import tr_format
from zarvik.project.uncertainty.uncertainty import bands_of, with_bands


def whole_answer(project: Project) -> Answer:
    """The answer of a `project` with its cures tried and its bands. Raises ProjectProblems."""
    found = answer(assemble(project, id=project.name), candidates(project))
    return with_bands(proved(project, found), bands_of(project, found))


def run_place(project: Project, run: str) -> str:
    """Place of a run that is said by its name, or of a primary by the number of its cylinder."""
    if run in RUNS:
        return run
    found = next((p for p in project.primaries if run.isdigit() and int(p.cylinder.si) == int(run)), None)
    if found is None:
        raise project_file.FileError(
            tr_format("there is no pipe “{0}”: {1}, or the number of a cylinder with a primary made of pieces", run, ", ".join(RUNS))
        )
    return f"primaries.{found.id}.pieces"


@contextlib.contextmanager
def far(title: str) -> Iterator[Progress]:
    """How far long work is, as a line of the terminal that goes when it is done; nothing where errors go into a file or a pipe. The
    line comes after a second: quick work says its result alone."""
    stream = sys.stderr
    if stream is None or not stream.isatty():
        yield unwatched
        return
    begun = time.monotonic()
    shown = -1

    def said(share: float) -> None:
        nonlocal shown
        percent = int(100.0 * min(max(share, 0.0), 1.0)) if share == share else shown
        if percent > shown and time.monotonic() - begun > 1.0:
            shown = percent
            stream.write(f"\r{title} {percent:3d} %")
            stream.flush()

    try:
        yield said
    finally:
        if shown >= 0:
            stream.write("\r" + " " * (len(title) + 6) + "\r")
            stream.flush()


def out_file(given: argparse.Namespace, goal: Path, data: bytes) -> int:
    """Write `data` to `goal`, not over what is there without --force; the exit code. Raises FileError."""
    not_over(goal, force=given.force)
    atomic_writer.write_bytes(data, goal)
    print(tr_format("wrote {0}", goal))
    return GOOD


def write_tree(given: argparse.Namespace, tree: dict[str, Any], done: str) -> None:
    """Write a result as JSON where `--json` says, and say that it is `done`; not over what is no result."""
    text = json.dumps(tree, indent=1, allow_nan=False, ensure_ascii=False) + "\n"
    if given.json == "-":
        sys.stdout.write(text)
        return
    if not given.force and not _own_result(Path(given.json)):
        raise project_file.FileError(
            tr_format("“{0}” exists and is not a result of this program: choose another name, or --force", given.json)
        )
    atomic_writer.write_text(text, Path(given.json))
    print(done)


def _own_result(path: Path) -> bool:
    """May a result be written here: nothing there, or an older result?"""
    if not path.exists():
        return True
    if not path.is_file():
        return False
    with path.open("rb") as file:
        return b'"zarvik-result' in file.read(400)
