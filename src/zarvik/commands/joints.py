"""The connection list from the command line."""

from __future__ import annotations

import argparse
from pathlib import Path

from zarvik import printing
from zarvik.commands.output import out_file
from zarvik.commands.terminal import GOOD
from zarvik.formats import project_file
from zarvik.project.connections.lists import as_csv, listing
from zarvik.project.document.parts.connections import FORMER_LINES
from zarvik.project.edits.connection_edits import add_line, from_template, take_out, typed
from zarvik.project.language.language import tr_format


def joints(given: argparse.Namespace) -> int:
    """The connection list: edits, then a list, or every line."""
    project = project_file.read(given.file)
    before = project
    try:
        if given.template:
            project = from_template(project, given.template)
        if given.add:
            project, key = add_line(project, given.add[0], name=given.add[1])
            print(tr_format("added {0}", key))
        for line, entry, value in given.say or ():
            project = typed(project, FORMER_LINES.get(line, line), entry, value)
        if given.remove:
            project = take_out(project, FORMER_LINES.get(given.remove, given.remove))
    except KeyError as error:
        raise project_file.FileError(tr_format("there is no joint line or entry “{0}”", error.args[0])) from None
    if project is not before:
        project_file.write(project, given.file)
    if given.list:
        found = listing(project, given.list)
        if given.out:
            return out_file(given, Path(given.out), as_csv(found).encode("utf-8"))
        printing.listing(found)
        return GOOD
    printing.connections(project)
    return GOOD
