"""Scans of an engine bay from the command line."""

from __future__ import annotations

import argparse
from pathlib import Path

from zarvik.commands.terminal import GOOD, not_over
from zarvik.core.bay.kinds import KINDS
from zarvik.formats import project_file
from zarvik.formats.atomic_writer import FileError
from zarvik.formats.scan_file import scan_words, with_scan
from zarvik.project.language.language import tr_format


def add_scan(given: argparse.Namespace) -> int:
    """Read a scan, say what it is, and add it to a project where one is to be written."""
    if given.kind not in KINDS:
        raise FileError(tr_format("--kind must be one of {0}", ", ".join(KINDS)))
    project = project_file.read(given.file)
    goal = Path(given.out) if given.out else None
    if goal is not None and goal != Path(given.file):
        not_over(goal, force=given.force)
    changed, found = with_scan(project, given.scan, unit=given.unit, kind=given.kind)
    print(scan_words(found))
    if goal is not None:
        project_file.write(changed, goal)
        print(tr_format("wrote {0}", goal))
    return GOOD
