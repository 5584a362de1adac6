"""Tubes through a bay from the command line."""

from __future__ import annotations

import argparse
from pathlib import Path

from zarvik.commands.bay_routing import checked, through
from zarvik.commands.output import run_place
from zarvik.commands.terminal import FAILING, GOOD, not_over
from zarvik.core.airpath.stations import EXHAUST, MANIFOLD
from zarvik.core.common.sentences import Fault
from zarvik.formats import project_file
from zarvik.project.document.document import Project
from zarvik.project.document.places import PRIMARIES
from zarvik.project.language.language import reason, tr_format
from zarvik.project.manifold.making import block_lines
from zarvik.project.routing.alternatives import LOSS, POSITIONS, TURBO, alternatives, chosen, primary_alternatives, words_of
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.packaging import packagings
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.routing.routes import no_way, routes, with_route
from zarvik.project.units.rendering import figure


def route(given: argparse.Namespace) -> int:
    """Lay tubes through the bay of a file, or a run of a project through its own. What is found is written at once, and again each time
    that it is shorter."""
    checked(given)
    if given.run:
        return _run(given)
    return through(given)


def _run(given: argparse.Namespace) -> int:
    """A run of a project laid through its engine bay; without a file to write the ways are only listed."""
    project = project_file.read(given.file)
    goal = Path(given.out) if given.out else None
    if goal is not None and goal != Path(given.file):
        not_over(goal, force=given.force)
    if given.run in POSITIONS:
        return _wished(given, project, given.run, heat_gaps(project, EXHAUST) if given.run == TURBO else {}, goal)
    if given.run == PRIMARIES and not given.wish:
        return _primaries(given, project, goal)
    run = PRIMARIES if given.run == PRIMARIES else run_place(project, given.run)
    heat = heat_gaps(project, MANIFOLD if run == PRIMARIES else run)
    units, best = project.shown_units, None
    if given.wish:
        return _wished(given, project, run, heat, goal)
    for best in routes(project, run, heat, seed=given.seed):
        print(tr_format("{0}, {1} bends, {2} in all", figure(best.length, "length", units), best.bends, figure(best.turn, "angle", units)))
    if best is None:
        print(no_way(project, run, heat))
        return FAILING
    if goal is not None:
        project_file.write(with_route(project, run, best), goal)
        print(tr_format("wrote {0}", goal))
    return GOOD


def _wished(given: argparse.Namespace, project: Project, run: str, heat: dict[str, float], goal: Path | None) -> int:
    """Several ways of a run, and the one that is best at what is wished for."""
    try:
        if run in POSITIONS:
            found = packagings(project, run, heat)
        else:
            found = primary_alternatives(project, heat) if run == PRIMARIES else alternatives(project, run, heat)
    except Fault as fault:
        print(reason(fault))
        return FAILING
    if not found:
        print(no_way(project, run, heat))
        return FAILING
    for one in found:
        print(words_of(project, one))
    if goal is not None:
        project_file.write(chosen(found, given.wish or LOSS).project, goal)
        print(tr_format("wrote {0}", goal))
    return GOOD


def _primaries(given: argparse.Namespace, project: Project, goal: Path | None) -> int:
    """All primaries of a project."""
    try:
        laid = laid_primaries(project, heat_gaps(project, MANIFOLD), seed=given.seed)
    except Fault as fault:
        print(reason(fault))
        return FAILING
    print(laid.words)
    for line in block_lines(laid.project):
        print(line)
    if goal is not None:
        project_file.write(laid.project, goal)
        print(tr_format("wrote {0}", goal))
    return GOOD
