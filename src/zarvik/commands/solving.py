"""A build solved and judged: points, sheets, checks."""

from __future__ import annotations

import argparse
import math
from collections.abc import Sequence

import numpy as np

from zarvik import printing
from zarvik.commands.output import whole_answer, write_tree
from zarvik.commands.terminal import FAILING, GOOD
from zarvik.core import calculations
from zarvik.core.airpath.point import Point
from zarvik.core.answer.answer import Answer
from zarvik.core.calculations.sensitivity import influences
from zarvik.formats import project_file, results
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible


def solve(given: argparse.Namespace) -> int:
    """Solve and print, or write as JSON."""
    project = project_file.read(given.file)
    speeds = _speeds(given, project)
    found = whole_answer(project)
    points = found.solver.sweep(speeds) if speeds is not None else found.sweep
    tree = results.tree(project.name, points, found.check_results, project.shown_units, found.bands)
    if given.json:
        write_tree(given, tree, tr_format("wrote {0}: {1} points, {2} checks", given.json, len(points), len(found.check_results)))
        return GOOD
    wanted = project.goal
    print(tr_format("{0}: {1} at {2} on {3}", visible(project.name), wanted.target_power, wanted.target_speed, wanted.target_boost) + "\n")
    if speeds is None or len(points) > 1:
        printing.line(points, project)
    shown = points[0] if len(points) == 1 else found.target
    printing.point(shown, project)
    for key in _sheets(given, found, shown):
        sheet = _sheet(found, shown, key)
        printing.one_sheet(sheet, project)
        if given.sheet:
            moved = influences(found.build, found.solver, shown.speed, key, start=found.start)
            printing.movers(moved, sheet.result.kind, project)
    print()
    printing.check_results(found, project)
    printing.parts_needed(found, project)
    printing.known(found, project)
    return GOOD


def check(given: argparse.Namespace) -> int:
    """The checks; 1 when one of them fails."""
    project = project_file.read(given.file)
    found = whole_answer(project)
    printing.check_results(found, project)
    printing.known(found, project)
    return FAILING if any(v.state == "fails" for v in found.check_results) else GOOD


def _speeds(given: argparse.Namespace, project: Project) -> np.ndarray | None:
    idle, limit = project.engine.idle.si, project.engine.rev_limit.si
    if given.rpm is not None:
        return np.array([_speed(given.rpm, idle, limit)])
    if given.sweep is None:
        return None
    parts = given.sweep.split(":")
    if len(parts) != 3:
        raise project_file.FileError(tr_format("--sweep needs A:B:STEP, as 2000:7000:250, not “{0}”", given.sweep))
    first, last = (_speed(p, idle, limit) for p in parts[:2])
    step = _float(parts[2])
    if not step > 0 or last < first:
        raise project_file.FileError(tr("--sweep needs A below B and a step above 0"))
    count = math.floor((last - first) / step + 1e-9) + 1
    if count > 5000:
        raise project_file.FileError(tr_format("--sweep would give {0} points; 5000 is the limit", count))
    return first + step * np.arange(count)


def _float(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise project_file.FileError(tr_format("“{0}” is not a number", text)) from None
    if not math.isfinite(value):
        raise project_file.FileError(tr_format("“{0}” is not a finite number", text))
    return value


def _speed(text: str, idle: float, limit: float) -> float:
    value = _float(text)
    if not 300.0 <= value <= 15000.0:
        raise project_file.FileError(
            tr_format("an engine speed must be between 300 and 15000 rpm, not {0:g} (this engine: {1:.0f} to {2:.0f})", value, idle, limit)
        )
    return value


def _sheets(given: argparse.Namespace, found: Answer, point: Point) -> Sequence[str]:
    if not point.closure.solved:
        return ()
    if given.sheets:
        return tuple(calculations.sheets(found.build, found.solver, point))
    return tuple(given.sheet or ())


def _sheet(found: Answer, point: Point, key: str) -> calculations.Sheet:
    try:
        return calculations.sheet(found.build, found.solver, point, key)
    except KeyError:
        known = ", ".join(calculations.keys(found.build))
        families = ", ".join(f"{name}:…" for name in calculations.FAMILIES)
        raise project_file.FileError(
            tr_format("this build has no number “{0}”; it has {1} and, for pieces, pipes and stations, {2}", key, known, families)
        ) from None
