"""Tubes through a bay from the command line."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
import time
from collections.abc import Iterator
from pathlib import Path

from zarvik.commands.output import FAILING, GOOD, not_over, run_place
from zarvik.core.airpath.stations import EXHAUST, MANIFOLD
from zarvik.core.common.progress import Stopped, watched
from zarvik.core.common.sentences import Fault
from zarvik.core.routing.bay import Bay, Tube
from zarvik.core.routing.grid import tightest
from zarvik.core.routing.search import Routed, Router, followed
from zarvik.formats import atomic_writer, bay_file, project_file
from zarvik.formats.atomic_writer import FileError
from zarvik.project.document.document import Project
from zarvik.project.document.places import PRIMARIES
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.manifold.making import block_lines
from zarvik.project.routing.alternatives import LOSS, POSITIONS, TURBO, alternatives, chosen, primary_alternatives, words_of
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.packaging import packagings
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.routing.routes import no_way, routes, with_route
from zarvik.project.units.rendering import figure

MOST_ROUNDS = 200
MOST_SECONDS = 3600
LARGEST_SEED = 2**31 - 1


def route(given: argparse.Namespace) -> int:
    """Lay tubes through the bay of a file, or a run of a project through its own. What is found is written at once, and again each time
    that it is shorter."""
    if not 1 <= given.rounds <= MOST_ROUNDS or not 0 <= given.seed <= LARGEST_SEED or not 0.0 <= given.seconds <= MOST_SECONDS:
        raise FileError(
            tr_format(
                "--rounds must be between 1 and {0}, --seed between 0 and {1}, --seconds between 0 and {2}",
                MOST_ROUNDS,
                LARGEST_SEED,
                MOST_SECONDS,
            )
        )
    if given.run:
        return _run(given)
    if not given.out:
        raise FileError(tr("say where the tubes go: zarvik route BAY.json OUT.json"))
    return _through(given)


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


def _through(given: argparse.Namespace) -> int:
    """Tubes through the bay of a file."""
    bay = bay_file.read(given.file)
    was = bay_file.read_tubes(given.start, bay) if given.start else None
    goal = Path(given.out)
    not_over(goal, force=given.force)
    begun, best = time.monotonic(), None

    def watch(_: float) -> None:
        if given.seconds and time.monotonic() - begun > given.seconds:
            raise Stopped

    with contextlib.suppress(Stopped), watched(watch):
        for best in _answers(given, bay, was):
            atomic_writer.write_text(json.dumps(bay_file.routes_tree(bay, best.tubes), indent=1, allow_nan=False) + "\n", goal)
            lengths = best.inspection.lengths
            bends = sum(len(tube.radii) for tube in best.tubes)
            print(
                tr_format(
                    "{0:.2f} s: {1:.0f} to {2:.0f} mm, {3} bends",
                    time.monotonic() - begun, 1e3 * min(lengths), 1e3 * max(lengths), bends,
                )
            )  # fmt: skip
            sys.stdout.flush()
    if best is None:
        print(_why(bay))
        return FAILING
    print(tr_format("wrote {0}", goal))
    return GOOD


def _answers(given: argparse.Namespace, bay: Bay, was: tuple[Tube, ...] | None) -> Iterator[Routed]:
    """What goes through the bay: tubes that went through it as it was before, where those can be moved until they go, else new ones."""
    known = followed(bay, was) if was is not None else None
    if known is not None:
        yield known
    elif was is not None:
        print(tr("the tubes that were there cannot be moved clear: new ones are laid"))
    if known is None or given.seconds:
        for one in Router(bay, given.seed).answers(MOST_ROUNDS if given.seconds else given.rounds):
            if known is None or max(one.inspection.lengths) < max(known.inspection.lengths):
                yield one


def _why(bay: Bay) -> str:
    """What is in the way in a bay without an answer."""
    found = tightest(bay)
    if found is None:
        return tr(
            "no way found, though every port has a way that is wide enough: smaller radii, shorter straights, less gap between tubes, a"
            " wider tolerance of lengths, or more time"
        )
    if found.width <= 0.0:
        return tr_format("no way found: port {0} is shut in, by {1}", found.port, _and(found.between))
    where = tr("at its end") if found.at_end else tr("on the widest way")
    return tr_format(
        "no way found: the tube from port {0} is about {1:.0f} mm too wide {2}, between {3} at {4:.0f}, {5:.0f}, {6:.0f}: a tube of"
        " {7:.0f} mm would get through",
        found.port, 1e3 * (bay.diameter - found.width), where, _and(found.between), *(1e3 * found.place), 1e3 * found.width,
    )  # fmt: skip


def _and(names: tuple[str, ...]) -> str:
    return tr(" and ").join(f"“{name}”" for name in names)
