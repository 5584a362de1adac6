"""Drawings and bodies as files, by what the name of a file ends in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np

from zarvik.core.bay.build_bodies import cooler_bodies, engine_bodies, turbo_bodies
from zarvik.core.bay.triangles import triangles_of
from zarvik.core.common.sentences import Fault
from zarvik.core.fabrication.drawing import Drawing
from zarvik.core.layout.mesh import tube
from zarvik.formats import bench_lists, stl
from zarvik.formats import drawings as drawn
from zarvik.formats.paper_stamp import PaperStamp, stamp
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.fabrication.cut_list import ordered_cut_list
from zarvik.project.fabrication.drawings import sheets
from zarvik.project.layout.layout import all_runs, layout, place_of, space_of


def names(drawings: Sequence[Drawing], goal: Path) -> list[Path]:
    """The files that `files` would write."""
    if goal.suffix.lower() == ".pdf" or len(drawings) == 1:
        return [goal]
    return [goal.with_name(f"{goal.stem}-{drawing.key}{goal.suffix}") for drawing in drawings]


def files(drawings: Sequence[Drawing], goal: Path, mark: PaperStamp, units: dict[str, str]) -> Iterator[tuple[Path, bytes]]:
    """Files and what is in them: one PDF of all `drawings` for a `goal` that ends in .pdf, with a `mark` on every page; one file
    each, its key behind the name, for .dxf and .svg; words in `units`. Raises Fault for another ending."""
    kind = goal.suffix.lower()
    if kind == ".pdf":
        yield goal, drawn.pdf(drawings, mark, units)
        return
    if kind not in (".dxf", ".svg"):
        raise Fault("drawings can be .pdf, .svg or .dxf, not “{0}”", kind or goal.name)
    write = drawn.dxf if kind == ".dxf" else drawn.svg
    for drawing, path in zip(drawings, names(drawings, goal), strict=True):
        yield path, write(drawing, units).encode("utf-8")


def made(project: Project, what: str, goal: Path) -> list[tuple[Path, bytes]]:
    """The files of what goes to the bench: `cutlist`, `bends`, `bodies` or `drawings`. Raises ValueError where there
    is nothing to write."""
    if what == "bodies":
        return [(goal, stl.stl(bodies(project, all_runs(project))))]
    if what in ("cutlist", "bends"):
        found = ordered_cut_list(project, all_runs(project))
        text = bench_lists.bends(found) if what == "bends" else bench_lists.cuts(found, project)
        return [(goal, text.encode("utf-8"))]
    drawings, _ = sheets(project)
    return list(files(drawings, goal, stamp(project), project.shown_units))


def bodies(project: Project, runs: Sequence[str]) -> list[tuple[np.ndarray, np.ndarray]]:
    """The tubes of the `runs` (their places), each where it stands in the car. Raises Fault where none has a length."""
    found = [tube(line.placed) for line in layout(project).lines if place_of(line.key) in runs and not _other(line.key)]
    found = [body for body in found if len(body[1])]
    if not found:
        raise Fault("no tube with a length")
    return found


def bay_bodies(project: Project) -> list[tuple[np.ndarray, np.ndarray]]:
    """Everything that stands in the bay, the pipes, turbo, core and engine among it, as corners m and triangles. Raises Fault where there
    is nothing."""
    space, found = space_of(project), layout(project)
    tubes = [tube(line.placed) for line in found.lines if line.placed]
    solid = [body for one in obstacles_of(project) for body in one.bodies]
    solid += [*engine_bodies(space, found), *cooler_bodies(space, found)]
    solid += [body for turbo in (() if space.blown else found.turbos) for body in turbo_bodies(turbo)]
    every = [body for body in (*tubes, *(triangles_of(body) for body in solid)) if len(body[1])]
    if not every:
        raise Fault("nothing is laid out yet")
    return every


def _other(key: str) -> bool:
    """The second bank's runs that follow from the first one's."""
    return key.endswith(":2")
