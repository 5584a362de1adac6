"""Every word of the command line with its options."""

from __future__ import annotations

import argparse

from zarvik import __version__
from zarvik.commands.bay_routing import route_options
from zarvik.commands.terminal import Parser, offer_force
from zarvik.core.candidates.catalogue_search import RANKED
from zarvik.core.gas.combustion import FUELS
from zarvik.formats import shipped
from zarvik.project.connections.connection_list import TEMPLATES
from zarvik.project.connections.lists import ALL_LISTS
from zarvik.project.designs import WISHES
from zarvik.project.document.places import RUNS
from zarvik.project.language.language import tr
from zarvik.project.uncertainty.known import CHARGERS, COOLING, KINDS, LAYOUTS, MATTERS

Words = argparse._SubParsersAction  # what `add_subparsers` gives has no public name


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
    new = words.add_parser("new", help=tr("make a first whole design from a few figures"))
    new.add_argument("file", help=tr("project file to write"))
    new.add_argument("--engine", choices=[key for key, _ in KINDS], default="four")
    new.add_argument("--cylinders", type=int, default=4)
    new.add_argument("--litres", required=True, help=tr("displacement, as 2.0 or 2000cc"))
    new.add_argument("--redline", default="7000")
    new.add_argument("--power", help=tr("target at the crank, as 300hp or 220kW; without it --boost tells what is made"))
    new.add_argument("--boost", help=tr("planned full boost, as 0.5bar"))
    new.add_argument("--big-power", help=tr("power of a one-off run"))
    new.add_argument("--layout", choices=[key for key, _ in LAYOUTS], default="inline")
    new.add_argument("--charger", choices=[key for key, _ in CHARGERS], default="turbo")
    new.add_argument("--turbos", type=int, choices=[0, 1, 2], default=0, help=tr("number; 0: best fit"))
    new.add_argument("--turbo", metavar="NAME", help=tr("key of a catalogue turbo you have"))
    new.add_argument("--cooling", choices=[key for key, _ in COOLING], default="auto")
    new.add_argument("--stock-boost", help=tr("stock boost, as 0.7bar"))
    new.add_argument("--fuel", default="petrol98", choices=list(FUELS))
    new.add_argument("--stock-power", help=tr("stock power, as 150hp"))
    new.add_argument("--stock-speed", help=tr("engine speed of the stock power"))
    new.add_argument("--compression")
    new.add_argument("--altitude", default="0 m")
    new.add_argument("--day", default="30 °C", help=tr("hottest day"))
    new.add_argument("--matters", choices=[key for key, _ in MATTERS], default="even")
    new.add_argument("--name", default="New build")
    offer_force(new)
    demo = words.add_parser("demo", help=tr("open a demo project (all invented)"))
    demo.add_argument("name", nargs="?", default=shipped.DEFAULT_DEMO)
    demo.add_argument("--list", action="store_true", help=tr("list the demo projects and leave"))
    demo.add_argument("--copy", metavar="FILE", help=tr("write the demo project to a file and leave"))
    offer_force(demo)
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
    solve.add_argument("--calculations", dest="sheets", action="store_true", help=tr("show the calculation of the figures at the point"))
    solve.add_argument(
        "--calculation",
        dest="sheet",
        metavar="NUMBER",
        action="append",
        help=tr("show the calculation of one figure and what moves it, as power or piece:ID"),
    )
    check = words.add_parser("check", help=tr("print the checks; exits with 1 if one fails, 2 on bad input"))
    check.add_argument("file")
    weighing = words.add_parser(
        "candidates", help=tr("print every candidate at every boost level, with its spool time; pulleys of a blower")
    )
    weighing.add_argument("file")
    _json(weighing)
    hot = words.add_parser("exhaust", help=tr("print manifold types side by side, the boost the wastegate holds, and its hoses"))
    hot.add_argument("file")
    _json(hot)


def _searching(words: Words) -> None:
    """What else there is."""
    designing = words.add_parser("design", help=tr("search whole designs for a project's requirements, best different ones"))
    designing.add_argument("file")
    designing.add_argument("--free", help=tr("what may change, as turbo,housing,boost (default: as in the project)"))
    designing.add_argument("--wish", choices=WISHES, help=tr("require one more step of one figure than the present design gives"))
    designing.add_argument("--tries", type=int, default=600, help=tr("designs to solve, 600"))
    designing.add_argument("--seed", type=int, default=1)
    designing.add_argument("--most", type=int, default=6, help=tr("designs to show"))
    designing.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    designing.add_argument("--take", type=int, metavar="N", help=tr("write design N of the list as a project"))
    designing.add_argument("--into", metavar="FILE", help=tr("project file that --take writes"))
    offer_force(designing)
    ranking = words.add_parser("rank", help=tr("rank every catalogue turbo with three housings in a build"))
    ranking.add_argument("file")
    ranking.add_argument("--most", type=int, default=RANKED, help=tr("solved over the whole rev range"))
    _json(ranking)
    maps = words.add_parser("map", help=tr("check a compressor map; import or export it"))
    maps.add_argument("csv", help=tr("map as CSV (see docs/map-csv.md)"))
    maps.add_argument("--into", metavar="FILE", help=tr("project that gets it as a candidate"))
    maps.add_argument("--out-of", metavar="FILE", help=tr("project whose chosen map is written as CSV"))
    offer_force(maps)


def _making(words: Words) -> None:
    """What goes to the bench and is ticked off."""
    exporting = words.add_parser("export", help=tr("write fabrication lists: cut list, bend tables"))
    exporting.add_argument("file")
    exporting.add_argument("--what", choices=("cutlist", "bends", "templates", "flange", "mockup", "bodies", "bay"), default="cutlist")
    exporting.add_argument("--run", help=tr("one pipe only: {0}, or a cylinder number for its primary").format(", ".join(RUNS)))
    exporting.add_argument("--out", metavar="FILE", help=tr("write to a file instead of standard output"))
    offer_force(exporting)
    bending = words.add_parser("bends", help=tr("import a bend table (CSV: feed mm, rotation °, angle °, radius mm) into a pipe"))
    bending.add_argument("file")
    bending.add_argument("table")
    bending.add_argument("--run", required=True)
    manifold = words.add_parser("manifold", help=tr("generate primaries from the ports to the collector, or equalise present ones"))
    manifold.add_argument("file")
    manifold.add_argument("--equalise", action="store_true", help=tr("only change existing pieces"))
    manifold.add_argument("--long", help=tr("target length, as 400mm"))
    route_options(words.add_parser("route", help=tr("lay tubes through a bay: from ports to inlets, round what is in the way")))
    standing = words.add_parser("bay", help=tr("clearances in the engine bay, how joints are got at, and the order in which parts go in"))
    standing.add_argument("file")
    standing.add_argument("--out", metavar="FILE", help=tr("write it as CSV"))
    offer_force(standing)
    scanning = words.add_parser("scan", help=tr("add a scan of the engine bay to a project: STL, OBJ or PLY"))
    scanning.add_argument("file")
    scanning.add_argument("scan")
    scanning.add_argument("out", nargs="?", default="", help=tr("project to write; without it what was read is only told"))
    scanning.add_argument("--unit", choices=("mm", "cm", "m", "in"), default="", help=tr("of the scan's numbers; by its size if left out"))
    scanning.add_argument("--kind", default="unknown", help=tr("what it is of, as panel or engine"))
    offer_force(scanning)
    keeping = words.add_parser("joints", help=tr("print every port, bung, joint, hose, line and sensor; decide and tick them off"))
    keeping.add_argument("file")
    keeping.add_argument("--list", choices=list(ALL_LISTS), help=tr("one list alone"))
    keeping.add_argument("--out", metavar="FILE", help=tr("write the list as CSV"))
    offer_force(keeping)
    keeping.add_argument("--template", choices=list(TEMPLATES), help=tr("add the ports of a common intake manifold"))
    keeping.add_argument(
        "--say", nargs=3, action="append", metavar=("LINE", "ENTRY", "VALUE"), help=tr("set an entry of a line, as LINE state torqued")
    )
    keeping.add_argument("--add", nargs=2, metavar=("KIND", "NAME"), help=tr("add a line of your own"))
    keeping.add_argument("--remove", metavar="LINE", help=tr("remove what was entered for a line"))


def _json(word: argparse.ArgumentParser) -> None:
    word.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    word.add_argument("--force", action="store_true", help=tr("overwrite a file that is not a result"))


def _window_options(words: argparse.ArgumentParser) -> None:
    words.add_argument("--shot", metavar="PNG", help=tr("save the view as a picture and leave"))
    words.add_argument("--bench", metavar="NAME", help=tr("which bench to show"))
    words.add_argument("--theme", choices=("light", "dark"))
    words.add_argument("--size", default="1280x800", help=tr("of the window, as 1280x800"))
    words.add_argument("--calculation", dest="calculation", metavar="NUMBER", help=tr("open the calculation of a number, as power"))
    words.add_argument("--overlay", dest="overlay", metavar="NAME", help=tr("overlay a variant"))
    words.add_argument("--rpm", dest="rev", type=float, help=tr("engine speed shown"))
