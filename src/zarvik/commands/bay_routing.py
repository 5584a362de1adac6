"""Tubes through the bay of a file from the command line: nothing of a project is read for that."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
import time
from collections.abc import Iterator, Sequence
from pathlib import Path

from zarvik.commands.terminal import FAILING, GOOD, Parser, carried_out, not_over, offer_force, plain_terminal
from zarvik.core.common.progress import Stopped, watched
from zarvik.core.routing.bay import Bay, Tube
from zarvik.core.routing.grid import tightest
from zarvik.core.routing.search import Routed, Router, followed
from zarvik.formats import atomic_writer, bay_file
from zarvik.formats.atomic_writer import FileError
from zarvik.project.language.language import tr, tr_format, use_system

MOST_ROUNDS = 200
MOST_SECONDS = 3600
LARGEST_SEED = 2**31 - 1


def route_options(routing: argparse.ArgumentParser) -> None:
    """The options of the word `route`, for a bay or a project."""
    routing.add_argument("file", help=tr("bay as JSON (see docs/bay-json.md), or a project with --run"))
    routing.add_argument("out", nargs="?", default="", help=tr("tubes as JSON, or the project to write; without it ways are only listed"))
    routing.add_argument(
        "--run",
        metavar="RUN",
        default="",
        help=tr("a run of a project through its engine bay, as exhaust; primaries; or turbo, intercooler or filter for its position"),
    )
    routing.add_argument("--wish", choices=("length", "bends", "loss", "fit"), help=tr("of several ways the best at this; each is solved"))
    routing.add_argument("--rounds", type=int, default=4, help=tr("how often shorter tubes are looked for"))
    routing.add_argument("--seconds", type=float, default=0.0, help=tr("look for so long instead"))
    routing.add_argument("--from", dest="start", metavar="TUBES", help=tr("tubes that went before the bay was changed"))
    routing.add_argument("--seed", type=int, default=1, help=tr("another number, other tubes"))
    offer_force(routing)


def main(words: Sequence[str]) -> int:
    """Run `route BAY OUT` (`words` behind `route`); returns the exit code."""
    use_system()
    plain_terminal()
    parser = Parser(prog="zarvik route")
    route_options(parser)
    return carried_out(lambda: through(checked(parser.parse_args(words))))


def checked(given: argparse.Namespace) -> argparse.Namespace:
    """What was given; raises FileError for numbers out of range."""
    if not 1 <= given.rounds <= MOST_ROUNDS or not 0 <= given.seed <= LARGEST_SEED or not 0.0 <= given.seconds <= MOST_SECONDS:
        raise FileError(
            tr_format(
                "--rounds must be between 1 and {0}, --seed between 0 and {1}, --seconds between 0 and {2}",
                MOST_ROUNDS,
                LARGEST_SEED,
                MOST_SECONDS,
            )
        )
    return given


def through(given: argparse.Namespace) -> int:
    """Lay tubes through the bay of a file. What is found is written at once, and again each time that it is shorter."""
    if not given.out:
        raise FileError(tr("say where the tubes go: zarvik route BAY.json OUT.json"))
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
