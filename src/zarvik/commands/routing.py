"""Tubes through a bay from the command line."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from zarvik.commands.output import FAILING, GOOD, not_over
from zarvik.core.routing.search import Router
from zarvik.formats import atomic_writer, bay_file
from zarvik.formats.atomic_writer import FileError
from zarvik.project.language.language import tr, tr_format

MOST_ROUNDS = 200
LARGEST_SEED = 2**31 - 1


def route(given: argparse.Namespace) -> int:
    """Lay tubes through the bay of a file, and write the shortest that were found."""
    if not 1 <= given.rounds <= MOST_ROUNDS or not 0 <= given.seed <= LARGEST_SEED:
        raise FileError(tr_format("--rounds must be between 1 and {0}, --seed between 0 and {1}", MOST_ROUNDS, LARGEST_SEED))
    bay = bay_file.read(given.file)
    goal = Path(given.out)
    not_over(goal, force=given.force)
    best = None
    for best in Router(bay, given.seed).answers(given.rounds):
        lengths = best.inspection.lengths
        bends = sum(len(tube.radii) for tube in best.tubes)
        print(tr_format("{0:.0f} to {1:.0f} mm, {2} bends", 1e3 * min(lengths), 1e3 * max(lengths), bends))
        sys.stdout.flush()
    if best is None:
        print(tr("no way found: fewer bodies, smaller radii, less clearance, or more --rounds"))
        return FAILING
    atomic_writer.write_text(json.dumps(bay_file.routes_tree(bay, best.tubes), indent=1, allow_nan=False) + "\n", goal)
    print(tr_format("wrote {0}", goal))
    return GOOD
