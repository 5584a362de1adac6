"""Every word of the command line with its options."""

from __future__ import annotations

import argparse
import sys
from typing import NoReturn

from zarvik import __version__
from zarvik.commands.output import BAD_INPUT
from zarvik.core.candidates.catalogue_search import RANKED
from zarvik.core.gas.combustion import FUELS
from zarvik.formats import shipped
from zarvik.project.connections.lists import ALL_LISTS
from zarvik.project.connections.register import TEMPLATES
from zarvik.project.designs import WISHES
from zarvik.project.document.places import RUNS
from zarvik.project.language.language import tr, tr_format
from zarvik.project.uncertainty.known import CHARGERS, COOLING, KINDS, LAYOUTS, MATTERS

Words = argparse._SubParsersAction  # what `add_subparsers` gives has no public name


class Parser(argparse.ArgumentParser):
    """Says what is wrong in one line and leaves with the code of bad input."""

    def error(self, message: str) -> NoReturn:
        """One line instead of the whole usage."""
        print(tr_format("zarvik: {0} (see {1} --help)", message, self.prog), file=sys.stderr)
        raise SystemExit(BAD_INPUT)


def parser() -> argparse.ArgumentParser:
    """All words of the command line."""
    top = Parser(prog="zarvik", description=tr("From a target to a turbo system that can be built."))
    top.add_argument("--version", action="version", version=f"zarvik {__version__}")
    words = top.add_subparsers(dest="word", metavar="WORD")
    start = words.add_parser("start", help=tr("open the window on its first page (as zarvik alone)"))
    _window_options(start)
    _designing(words)
    _solving(words)
    _searching(words)
    _making(words)
    words.add_parser("schema", help=tr("print the JSON Schema of the project file"))
    words.add_parser("warm", help=tr("compile the solver now instead of at the first start"))
    return top


def _designing(words: Words) -> None:
    """A project begun or opened."""
    new = words.add_parser("new", help=tr("make a first whole design from what is known"))
    new.add_argument("file", help=tr("project file to write"))
    new.add_argument("--engine", choices=[key for key, _ in KINDS], default="four")
    new.add_argument("--cylinders", type=int, default=4)
    new.add_argument("--litres", required=True, help=tr("displacement, as 2.0 or 2000cc"))
    new.add_argument("--redline", default="7000")
    new.add_argument("--power", help=tr("wanted at the crank, as 300hp or 220kW; without it --boost says what is made"))
    new.add_argument("--boost", help=tr("full boost that you have in mind, as 0.5bar"))
    new.add_argument("--big-power", help=tr("power of a one-off run"))
    new.add_argument("--layout", choices=[key for key, _ in LAYOUTS], default="inline")
    new.add_argument("--charger", choices=[key for key, _ in CHARGERS], default="turbo")
    new.add_argument("--turbos", type=int, choices=[0, 1, 2], default=0, help=tr("how many; 0: as it suits"))
    new.add_argument("--turbo", metavar="NAME", help=tr("key of a turbo of the shelf that you have"))
    new.add_argument("--cooling", choices=[key for key, _ in COOLING], default="auto")
    new.add_argument("--stock-boost", help=tr("boost that the stock power was made with, as 0.7bar"))
    new.add_argument("--fuel", default="petrol98", choices=list(FUELS))
    new.add_argument("--stock-power", help=tr("before the swap, as 150hp"))
    new.add_argument("--stock-speed", help=tr("engine speed of the stock power"))
    new.add_argument("--compression")
    new.add_argument("--altitude", default="0 m")
    new.add_argument("--day", default="30 °C", help=tr("hottest day"))
    new.add_argument("--matters", choices=[key for key, _ in MATTERS], default="even")
    new.add_argument("--name", default="New build")
    _force(new)
    demo = words.add_parser("demo", help=tr("open a demo project (all invented)"))
    demo.add_argument("name", nargs="?", default=shipped.DEFAULT_DEMO)
    demo.add_argument("--list", action="store_true", help=tr("list the demo projects and leave"))
    demo.add_argument("--copy", metavar="FILE", help=tr("write the demo project to a file and leave"))
    _force(demo)
    _window_options(demo)
    opened = words.add_parser("open", help=tr("open a project file in the window"))
    opened.add_argument("file")
    _window_options(opened)


def _solving(words: Words) -> None:
    """What comes of it."""
    solve = words.add_parser("solve", help=tr("solve a project and print or write the result"))
    solve.add_argument("file")
    which = solve.add_mutually_exclusive_group()
    which.add_argument("--rpm", metavar="N", help=tr("one engine speed"))
    which.add_argument("--sweep", metavar="A:B:STEP", help=tr("from A to B in steps"))
    _json(solve)
    solve.add_argument("--sheets", action="store_true", help=tr("show the working of the figures at the point"))
    solve.add_argument(
        "--sheet", metavar="NUMBER", action="append", help=tr("show the working of one figure and what moves it, as power or piece:ID")
    )
    check = words.add_parser("check", help=tr("print the verdicts; leaves with 1 when one fails, 2 on bad input"))
    check.add_argument("file")
    weighing = words.add_parser("weigh", help=tr("print every candidate at every stage, with its seconds; pulleys of a blower"))
    weighing.add_argument("file")
    _json(weighing)
    hot = words.add_parser("hotside", help=tr("print manifolds of every school side by side, what the gate's spring holds, and its hoses"))
    hot.add_argument("file")
    _json(hot)


def _searching(words: Words) -> None:
    """What else there is."""
    designing = words.add_parser("design", help=tr("search whole designs for what a project asks for, the best different ones"))
    designing.add_argument("file")
    designing.add_argument("--free", help=tr("what may be another one, as turbo,housing,boost (what the project says)"))
    designing.add_argument("--wish", choices=WISHES, help=tr("ask for a unit more of one thing than the present design gives"))
    designing.add_argument("--tries", type=int, default=600, help=tr("designs that are solved, 600"))
    designing.add_argument("--seed", type=int, default=1)
    designing.add_argument("--most", type=int, default=6, help=tr("designs that are shown"))
    designing.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    designing.add_argument("--take", type=int, metavar="N", help=tr("write design N of the list as a project"))
    designing.add_argument("--into", metavar="FILE", help=tr("project file that --take writes"))
    _force(designing)
    ranking = words.add_parser("rank", help=tr("rank every turbo of the shelf with three housings in a build"))
    ranking.add_argument("file")
    ranking.add_argument("--most", type=int, default=RANKED, help=tr("that are solved over the whole rev range"))
    _json(ranking)
    maps = words.add_parser("map", help=tr("check a compressor map; take it into a project or out of one"))
    maps.add_argument("csv", help=tr("map as CSV (see docs/map-csv.md)"))
    maps.add_argument("--into", metavar="FILE", help=tr("project that gets it as a candidate"))
    maps.add_argument("--out-of", metavar="FILE", help=tr("project whose chosen map is written as CSV"))
    _force(maps)


def _making(words: Words) -> None:
    """What goes to the bench and is ticked off."""
    exporting = words.add_parser("export", help=tr("write what goes to the bench: cut list, bend tables"))
    exporting.add_argument("file")
    exporting.add_argument("--what", choices=("cutlist", "bends", "templates", "flange", "bodies"), default="cutlist")
    exporting.add_argument("--run", help=tr("one run alone: {0}, or a cylinder's number for its primary").format(", ".join(RUNS)))
    exporting.add_argument("--out", metavar="FILE", help=tr("write to a file instead of standard output"))
    _force(exporting)
    bending = words.add_parser("bends", help=tr("take a bend table (CSV: feed mm, rotation °, angle °, radius mm) into a run"))
    bending.add_argument("file")
    bending.add_argument("table")
    bending.add_argument("--run", required=True)
    manifold = words.add_parser(
        "manifold", help=tr("lay primaries of pieces from the ports to the collector, or make those that are there equal")
    )
    manifold.add_argument("file")
    manifold.add_argument("--equalise", action="store_true", help=tr("only change what is there"))
    manifold.add_argument("--long", help=tr("length that is wanted, as 400mm"))
    keeping = words.add_parser("register", help=tr("print every port, bung, joint, hose, line and sensor; decide and tick them off"))
    keeping.add_argument("file")
    keeping.add_argument("--list", choices=list(ALL_LISTS), help=tr("one list alone"))
    keeping.add_argument("--out", metavar="FILE", help=tr("write the list as CSV"))
    _force(keeping)
    keeping.add_argument("--template", choices=list(TEMPLATES), help=tr("add the ports of a common intake manifold"))
    keeping.add_argument(
        "--say", nargs=3, action="append", metavar=("LINE", "ENTRY", "VALUE"), help=tr("say something of a line, as LINE state torqued")
    )
    keeping.add_argument("--add", nargs=2, metavar=("KIND", "NAME"), help=tr("add a line by hand"))
    keeping.add_argument("--remove", metavar="LINE", help=tr("take out what was said of a line"))


def _force(word: argparse.ArgumentParser) -> None:
    word.add_argument("--force", action="store_true", help=tr("write over a file that is there"))


def _json(word: argparse.ArgumentParser) -> None:
    word.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    word.add_argument("--force", action="store_true", help=tr("write over a file that is no result"))


def _window_options(words: argparse.ArgumentParser) -> None:
    words.add_argument("--shot", metavar="PNG", help=tr("save the view as a picture and leave"))
    words.add_argument("--bench", metavar="NAME", help=tr("which bench to show"))
    words.add_argument("--theme", choices=("light", "dark"))
    words.add_argument("--size", default="1280x800", help=tr("of the window, as 1280x800"))
    words.add_argument("--working", metavar="NUMBER", help=tr("open the working of a number, as power"))
    words.add_argument("--ghost", metavar="NAME", help=tr("draw a variant behind the design"))
    words.add_argument("--rpm", dest="rev", type=float, help=tr("engine speed that is shown"))
