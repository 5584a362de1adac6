"""The engine bay from the command line: what comes near what, how joints are got at, in which order parts go in."""

from __future__ import annotations

import argparse
import csv
import io
from pathlib import Path

from zarvik.commands.output import out_file
from zarvik.commands.terminal import FAILING, GOOD
from zarvik.core.bay.clearance import near_of
from zarvik.core.checks.bay import part_name
from zarvik.formats import project_file
from zarvik.formats.atomic_writer import FileError
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.bay.work import bay_work, made_words, reach_words, step_words
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.units.rendering import figure, render


def bay(given: argparse.Namespace) -> int:
    """All of it, or the order alone as CSV."""
    project = project_file.read(given.file)
    try:
        rows = _rows(project)
    except ValueError as error:
        raise FileError(str(error)) from None
    if given.out:
        text = io.StringIO()
        csv.writer(text, lineterminator="\n").writerows(rows)
        return out_file(given, Path(given.out), text.getvalue().encode("utf-8"))
    for row in rows:
        print(visible("  ".join(cell for cell in row if cell)))
    return FAILING if any(row[0].startswith("▲") for row in rows) else GOOD


def _rows(project: Project) -> list[list[str]]:
    """What is printed, in four parts: clearances, access, order, jobs."""
    units = project.shown_units
    space, there = space_of(project), layout(project)
    found = [[tr("Clearances"), "", ""]]
    nearest = sorted(near_of(space, there, obstacles_of(project)), key=lambda one: one.gap - one.obstacle.room)
    short = [one for one in nearest if one.gap < one.obstacle.room]
    # Where nothing is too near, that which comes nearest to it
    for one in short or nearest[:1]:
        gap, room = figure(one.gap, "length", units), figure(one.obstacle.room, "length", units)
        when = tr(" when it has moved") if one.moving else tr(" when it is hot") if one.hot else ""
        words = tr_format("{0} of {1}", gap, room) + when
        found.append([("▲ " if short else "") + one.obstacle.name, render(part_name(space, there, one.line), units), words])
    work = bay_work(project)
    found.append([tr("Tool access"), "", ""])
    for reach in (*work.reaches, *work.welds):
        mark = "▲ " if reach.spare < 0.0 and reach in work.reaches else ""
        found.append([mark + reach.place.name, made_words(reach), reach_words(project, reach)])
    found.append([tr("Assembly order"), "", ""])
    for number, step in enumerate(reversed(work.order.steps), 1):
        found.append([str(number), step.part.name, step_words(step)])
    for stuck in work.order.stuck:
        found.append([f"▲ {stuck.part.name}", tr("does not go in"), ", ".join(stuck.behind)])
    found.append([tr("Removal jobs"), "", ""])
    for job in work.services:
        before = tr("does not come out") if job.before is None else ", ".join(part.name for part in job.before)
        found.append([job.part.name, before, ", ".join(job.opens)])
    return found
