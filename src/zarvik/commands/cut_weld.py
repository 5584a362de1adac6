"""What goes to the workshop and comes from it: cuts, bends, drawings, primaries."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from zarvik.commands.output import far, out_file, run_place
from zarvik.commands.terminal import FAILING, GOOD, not_over
from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.fabrication.drawing import Drawing
from zarvik.formats import atomic_writer, bench_files, bench_lists, project_file, stl
from zarvik.formats.paper_stamp import stamp
from zarvik.formats.text_file import read_text
from zarvik.project.document.document import Project
from zarvik.project.document.places import get, run_title
from zarvik.project.edits.edits import with_value
from zarvik.project.fabrication.bay_sheets import bay_sheets
from zarvik.project.fabrication.cut_list import ordered_cut_list
from zarvik.project.fabrication.drawings import flanges, templates
from zarvik.project.fabrication.mockup import mockups
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.layout.layout import all_runs, layout, place_of
from zarvik.project.manifold.making import block_lines
from zarvik.project.manifold.primaries import equal, not_as_wanted, with_bends
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.units.rendering import figure, render
from zarvik.project.units.units import parse


def export(given: argparse.Namespace) -> int:
    """What goes to the bench: text, tables, drawings, bodies."""
    project = project_file.read(given.file)
    runs = (run_place(project, given.run),) if given.run else all_runs(project)
    if given.what in ("cutlist", "bends"):
        found = ordered_cut_list(project, runs)
        text = bench_lists.bends(found) if given.what == "bends" else bench_lists.cuts(found, project)
        if not given.out:
            sys.stdout.write(text)
            return GOOD
        return out_file(given, Path(given.out), text.encode("utf-8"))
    if not given.out:
        raise project_file.FileError(tr("enter a file: --out FILE.pdf, .svg or .dxf for drawings, .stl for bodies"))
    goal = Path(given.out)
    stl_wanted = goal.suffix.lower() == ".stl"
    if given.what == "bodies" or (given.what == "bay" and stl_wanted):
        if not stl_wanted:
            raise project_file.FileError(tr("bodies are written as .stl"))
        return out_file(given, goal, stl.stl(bench_files.bay_bodies(project) if given.what == "bay" else bench_files.bodies(project, runs)))
    drawings, faults = _drawn(project, given.what, runs if given.run else (), goal)
    for fault in faults:
        print(visible(fault))
    for drawing in drawings:
        for words in drawing.faults:
            print(f"{visible(render(drawing.title, project.shown_units))}: {visible(render(words, project.shown_units))}")
    if not drawings:
        raise project_file.FileError(tr("there is nothing to draw"))
    made = list(bench_files.files(drawings, goal, stamp(project), project.shown_units))
    for path, _ in made:
        not_over(path, force=given.force)
    atomic_writer.write_files(made)
    for path, _ in made:
        print(tr_format("wrote {0}", path))
    return GOOD


def _drawn(project: Project, what: str, runs: tuple[str, ...], goal: Path) -> tuple[tuple[Drawing, ...], tuple[str, ...]]:
    """The drawings that are asked for, and what cannot be drawn. The bay is drawn to fit a page of paper, at its true size elsewhere."""
    if what == "bay":
        return bay_sheets(project, scaled=goal.suffix.lower() == ".pdf"), ()
    if what == "mockup":
        return mockups(project)
    return flanges(project) if what == "flange" else templates(project, runs)


def bends(given: argparse.Namespace) -> int:
    """A bend table into a run."""
    project = project_file.read(given.file)
    text = read_text(given.table, 4_000_000)
    run = run_place(project, given.run)
    changed = with_bends(project, run, bench_lists.read_bends(text))
    project_file.write(changed, given.file)
    print(tr_format("{0}: {1} now has {2} pieces", given.file, run_title(changed, run), len(get(changed, run))))
    return GOOD


def lay(given: argparse.Namespace) -> int:
    """Primaries laid anew or made equal."""
    project = project_file.read(given.file)
    if given.long:
        project = with_value(project, "layout.fabrication.primary_length", parse(given.long, "length", default_unit="mm"))
    with far(tr("Generating primaries")) as progress:
        if given.equalise:
            changed, made = equal(project, progress)
            lengths, closes = tuple(run.length for run in made.fitted), made.closes
            short = not_as_wanted(changed, lengths)
        else:
            laid = laid_primaries(project, heat_gaps(project, MANIFOLD), progress=progress)
            changed, lengths, closes, short = laid.project, laid.lengths, True, laid.short
    project_file.write(changed, given.file)
    units = changed.shown_units
    for one in layout(changed).primaries:
        missed = one.missed
        if missed is not None:
            words = tr_format(
                "{0}: {1} long, misses its collector by {2} along, {3} sideways, {4}",
                visible(run_title(changed, place_of(one.key))),
                figure(one.length, "length", units),
                figure(missed.gap, "length", units),
                figure(missed.offset, "length", units),
                figure(missed.angle, "angle", units),
            )
            print(words)
    if short:
        print(short)
    for line in block_lines(changed):
        print(line)
    print(tr_format("difference {0:.2f} %", 100.0 * (max(lengths) / min(lengths) - 1.0)))
    return GOOD if closes else FAILING
