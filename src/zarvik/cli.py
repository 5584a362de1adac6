"""The command line: the same services as the window, without one."""

from __future__ import annotations

import argparse
import importlib
import json
import math
import os
import re
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any, NoReturn

import numpy as np

from zarvik import __version__, printing
from zarvik.core import working
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer import Answer, answer
from zarvik.core.gas.combustion import FUELS
from zarvik.core.search import RANKED, rank
from zarvik.core.spooling import pull
from zarvik.core.tracing.follow import cheapest
from zarvik.core.weighing import MOST, Weighed, pulleys, timed, weigh
from zarvik.core.words import Fault
from zarvik.core.working.sensitivity import influences
from zarvik.formats import bench_files, bench_lists, map_csv, project_file, results, shelf, stl
from zarvik.project.assemble import ProjectProblems, asked_of, assemble, candidates, core_turbo
from zarvik.project.bench_sheets import flanges, templates
from zarvik.project.control import control
from zarvik.project.cures import proved
from zarvik.project.cut_list import cut_list
from zarvik.project.designs import WISHES, Search, asking
from zarvik.project.document import Project
from zarvik.project.doubts import bands_of, with_bands
from zarvik.project.edits import put
from zarvik.project.first_design import make
from zarvik.project.hot_parts import around
from zarvik.project.known import KINDS, MATTERS, Known
from zarvik.project.language import reason, told, tr, use_system
from zarvik.project.manifold import built, equal, with_bends
from zarvik.project.parts.turbo import Turbo
from zarvik.project.places import RUNS, get, run_title
from zarvik.project.plain import visible
from zarvik.project.register import TEMPLATES
from zarvik.project.register_edits import add_line, from_template, take_out, typed
from zarvik.project.register_lists import MAKERS, as_csv, listing
from zarvik.project.schools import schools
from zarvik.project.sentences import figure, render
from zarvik.project.space import all_runs, layout, place_of
from zarvik.project.tow import towed
from zarvik.project.turbo_edits import add_turbo
from zarvik.project.units import parse

GOOD, FAILING, BAD_INPUT = 0, 1, 2


class Parser(argparse.ArgumentParser):
    """Says what is wrong in one line and leaves with the code of bad input."""

    def error(self, message: str) -> NoReturn:
        """One line instead of the whole usage."""
        print(told("zarvik: {0} (see {1} --help)", message, self.prog), file=sys.stderr)
        raise SystemExit(BAD_INPUT)


def parser() -> argparse.ArgumentParser:
    """All words of the command line."""
    top = Parser(prog="zarvik", description=tr("From a target to a turbo system that can be built."))
    top.add_argument("--version", action="version", version=f"zarvik {__version__}")
    words = top.add_subparsers(dest="word", metavar="WORD")
    start = words.add_parser("start", help=tr("open the window on its first page (as zarvik alone)"))
    _window_options(start)

    new = words.add_parser("new", help=tr("make a first whole design from what is known"))
    new.add_argument("file", help=tr("project file to write"))
    new.add_argument("--engine", choices=[key for key, _ in KINDS], default="four")
    new.add_argument("--cylinders", type=int, default=4)
    new.add_argument("--litres", required=True, help=tr("displacement, as 2.0 or 2000cc"))
    new.add_argument("--redline", default="7000")
    new.add_argument("--power", required=True, help=tr("wanted at the crank, as 300hp or 220kW"))
    new.add_argument("--fuel", default="petrol98", choices=list(FUELS))
    new.add_argument("--stock-power", help=tr("before the swap, as 150hp"))
    new.add_argument("--stock-speed", help=tr("engine speed of the stock power"))
    new.add_argument("--compression")
    new.add_argument("--altitude", default="0 m")
    new.add_argument("--day", default="30 °C", help=tr("hottest day"))
    new.add_argument("--matters", choices=[key for key, _ in MATTERS], default="even")
    new.add_argument("--name", default="New build")
    new.add_argument("--force", action="store_true", help=tr("write over a file that is there"))

    demo = words.add_parser("demo", help=tr("open a demo project (all invented)"))
    demo.add_argument("name", nargs="?", default=shelf.DEFAULT_DEMO)
    demo.add_argument("--list", action="store_true", help=tr("list the demo projects and leave"))
    demo.add_argument("--copy", metavar="FILE", help=tr("write the demo project to a file and leave"))
    demo.add_argument("--force", action="store_true", help=tr("write over a file that is there"))
    _window_options(demo)

    maps = words.add_parser(
        "map", help=tr("check a compressor map; take it into a project or out of one")
    )
    maps.add_argument("csv", help=tr("map as CSV (see docs/map-csv.md)"))
    maps.add_argument("--into", metavar="FILE", help=tr("project that gets it as a candidate"))
    maps.add_argument("--out-of", metavar="FILE", help=tr("project whose chosen map is written as CSV"))
    maps.add_argument("--force", action="store_true", help=tr("write over a file that is there"))

    opened = words.add_parser("open", help=tr("open a project file in the window"))
    opened.add_argument("file")
    _window_options(opened)

    solve = words.add_parser("solve", help=tr("solve a project and print or write the result"))
    solve.add_argument("file")
    which = solve.add_mutually_exclusive_group()
    which.add_argument("--rpm", metavar="N", help=tr("one engine speed"))
    which.add_argument("--sweep", metavar="A:B:STEP", help=tr("from A to B in steps"))
    solve.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    solve.add_argument("--force", action="store_true", help=tr("write over a file that is no result"))

    solve.add_argument(
        "--sheets", action="store_true", help=tr("show the working of the figures at the point")
    )
    solve.add_argument(
        "--sheet", metavar="NUMBER", action="append",
        help=tr("show the working of one figure and what moves it, as power or piece:ID"),
    )  # fmt: skip

    check = words.add_parser(
        "check", help=tr("print the verdicts; leaves with 1 when one fails, 2 on bad input")
    )
    check.add_argument("file")

    weighing = words.add_parser(
        "weigh", help=tr("print every candidate at every stage, with its seconds; pulleys of a blower")
    )
    weighing.add_argument("file")
    weighing.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    weighing.add_argument("--force", action="store_true", help=tr("write over a file that is no result"))

    hot = words.add_parser(
        "hotside", help=tr("print manifolds of every school side by side, what the gate's spring holds, and its hoses")
    )
    hot.add_argument("file")
    hot.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    hot.add_argument("--force", action="store_true", help=tr("write over a file that is no result"))

    designing = words.add_parser(
        "design", help=tr("search whole designs for what a project asks for, the best different ones")
    )
    designing.add_argument("file")
    designing.add_argument("--free", help=tr("what may be another one, as turbo,housing,boost (what the project says)"))
    designing.add_argument("--wish", choices=WISHES, help=tr("ask for a unit more of one thing than the present design gives"))
    designing.add_argument("--tries", type=int, default=600, help=tr("designs that are solved, 600"))
    designing.add_argument("--seed", type=int, default=1)
    designing.add_argument("--most", type=int, default=6, help=tr("designs that are shown"))
    designing.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    designing.add_argument("--take", type=int, metavar="N", help=tr("write design N of the list as a project"))
    designing.add_argument("--into", metavar="FILE", help=tr("project file that --take writes"))
    designing.add_argument("--force", action="store_true", help=tr("write over a file that is there"))

    ranking = words.add_parser("rank", help=tr("rank every turbo of the shelf with three housings in a build"))
    ranking.add_argument("file")
    ranking.add_argument("--most", type=int, default=RANKED, help=tr("that are solved over the whole rev range"))
    ranking.add_argument("--json", metavar="OUT", help=tr("write JSON to a file, - for standard output"))
    ranking.add_argument("--force", action="store_true", help=tr("write over a file that is no result"))

    exporting = words.add_parser("export", help=tr("write what goes to the bench: cut list, bend tables"))
    exporting.add_argument("file")
    exporting.add_argument("--what", choices=("cutlist", "bends", "templates", "flange", "bodies"), default="cutlist")
    exporting.add_argument("--run", help=tr("one run alone: {0}, or a cylinder's number for its primary").format(", ".join(RUNS)))
    exporting.add_argument("--out", metavar="FILE", help=tr("write to a file instead of standard output"))
    exporting.add_argument("--force", action="store_true", help=tr("write over a file that is there"))

    bending = words.add_parser("bends", help=tr("take a bend table (CSV: feed mm, rotation °, angle °, radius mm) into a run"))
    bending.add_argument("file")
    bending.add_argument("table")
    bending.add_argument("--run", required=True)

    manifold = words.add_parser("manifold", help=tr("lay primaries of pieces from the ports to the collector, or make those that are there equal"))
    manifold.add_argument("file")
    manifold.add_argument("--equalise", action="store_true", help=tr("only change what is there"))
    manifold.add_argument("--long", help=tr("length that is wanted, as 400mm"))

    keeping = words.add_parser("register", help=tr("print every port, bung, joint, hose, line and sensor; decide and tick them off"))
    keeping.add_argument("file")
    keeping.add_argument("--list", choices=list(MAKERS), help=tr("one list alone"))
    keeping.add_argument("--out", metavar="FILE", help=tr("write the list as CSV"))
    keeping.add_argument("--force", action="store_true", help=tr("write over a file that is there"))
    keeping.add_argument("--template", choices=list(TEMPLATES), help=tr("add the ports of a common intake manifold"))
    keeping.add_argument("--say", nargs=3, action="append", metavar=("LINE", "ENTRY", "VALUE"), help=tr("say something of a line, as LINE state torqued"))
    keeping.add_argument("--add", nargs=2, metavar=("KIND", "NAME"), help=tr("add a line by hand"))
    keeping.add_argument("--remove", metavar="LINE", help=tr("take out what was said of a line"))

    words.add_parser("schema", help=tr("print the JSON Schema of the project file"))
    words.add_parser("warm", help=tr("compile the solver now instead of at the first start"))
    return top


def _window_options(words: argparse.ArgumentParser) -> None:
    words.add_argument("--shot", metavar="PNG", help=tr("save the view as a picture and leave"))
    words.add_argument("--bench", metavar="NAME", help=tr("which bench to show"))
    words.add_argument("--theme", choices=("light", "dark"))
    words.add_argument("--size", default="1280x800", help=tr("of the window, as 1280x800"))
    words.add_argument("--working", metavar="NUMBER", help=tr("open the working of a number, as power"))
    words.add_argument("--ghost", metavar="NAME", help=tr("draw a variant behind the design"))
    words.add_argument("--rpm", dest="rev", type=float, help=tr("engine speed that is shown"))


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    use_system()
    try:
        given = parser().parse_args(_joined(sys.argv[1:] if arguments is None else arguments))
    except SystemExit as leaving:
        return int(leaving.code or 0)
    try:
        code = _run(given)
        sys.stdout.flush()
        return code
    except project_file.FileError as error:
        return _bad(str(error))
    except ProjectProblems as error:
        return _bad(told("the project cannot be solved: {0}", "; ".join(project_file.problem_lines(error))))
    except BrokenPipeError:
        # Nobody reads on: nothing more can be said, and nothing may be tried at the end either.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return BAD_INPUT
    except OSError as error:
        return _bad(told("the output cannot be written: {0}", error.strerror))
    except (ValueError, RecursionError) as error:
        return _bad(reason(error))
    except KeyboardInterrupt:
        return 130


def _joined(words: Sequence[str]) -> list[str]:
    """Words in which a cold day (`--day -10C`) is not taken for an option of its own."""
    found: list[str] = []
    for word in words:
        if re.match(r"-\d", word) and found and re.fullmatch(r"--[a-z-]+", found[-1]):
            found[-1] += f"={word}"
        else:
            found.append(word)
    return found


def _bad(text: str) -> int:
    print(f"zarvik: {visible(text)}", file=sys.stderr)
    return BAD_INPUT


def _run(given: argparse.Namespace) -> int:
    match given.word:
        case "demo":
            if given.list:
                for name in shelf.demo_names():
                    print(f"{name:10s} {tr(shelf.demo(name).note)}")
                return GOOD
            project = shelf.demo(given.name)
            if given.copy:
                if Path(given.copy).exists() and not given.force:
                    raise project_file.FileError(
                        told("“{0}” is there already: another name, or --force", given.copy)
                    )
                project_file.write_text(shelf.demo_text(given.name), Path(given.copy))
                print(told("wrote {0}", given.copy))
                return GOOD
            return _window(given, project, None)
        case None | "start":
            return _window(given, shelf.fresh(), None, first=True)
        case "new":
            return _new(given)
        case "map":
            return _map(given)
        case "open":
            path = Path(given.file)
            return _window(given, project_file.read(path), path)
        case "solve":
            return _solve(given)
        case "weigh":
            return _weigh(given)
        case "hotside":
            return _hotside(given)
        case "design":
            return _design(given)
        case "rank":
            return _rank(given)
        case "export":
            return _export(given)
        case "bends":
            return _bends(given)
        case "manifold":
            return _manifold(given)
        case "check":
            return _check(project_file.read(given.file))
        case "register":
            return _register(given)
        case "schema":
            print(json.dumps(project_file.schema(), indent=2, ensure_ascii=False))
            return GOOD
        case _:
            project = shelf.demo(shelf.DEFAULT_DEMO)
            _answer(project)
            pull(prepare(assemble(project)), 4000.0, in_gear=True)
            cheapest(np.ones((4, 4)), (0, 0), (3, 3))
            print(tr("the solver is compiled"))
            return GOOD


def _map(given: argparse.Namespace) -> int:
    """Check a map, take it into a project, or write the chosen one of a project."""
    path = Path(given.csv)
    if given.out_of:
        chosen = project_file.read(given.out_of).chosen
        if chosen is None:
            raise project_file.FileError(told("“{0}” has no turbo that is chosen", given.out_of))
        if path.exists() and not given.force:
            raise project_file.FileError(told("“{0}” is there already: another name, or --force", path))
        map_csv.write(chosen.chart, path, *([chosen.note] if chosen.note else []))
        print(told("wrote {0}: {1}", path, visible(chosen.name)))
        return GOOD
    read = map_csv.read_noted(path)
    chart = read.chart
    for note in read.notes:
        print(note)
    print(
        told("{0}: {1} speed lines up to {2:.0f} rpm, {3:.3f} kg/s at most, ratio {4:.2f}, best efficiency {5:.0f} %; at ratio 2.2 from {6:.3f} to {7:.3f} kg/s", visible(chart.name), len(chart.lines), chart.maximum_speed, chart.lines[-1].flow[-1], chart.lines[-1].ratio[0], 100 * max(max(q.efficiency) for q in chart.lines), chart.surge_flow(2.2), chart.flow_limit(2.2))
    )
    if given.into:
        project = project_file.read(given.into)
        changed = add_turbo(
            project,
            Turbo.of(chart, map_csv.key_of(path), estimated="efficiency" if read.estimated else ""),
        )
        project_file.write(changed, given.into)
        print(told("{0}: now a candidate beside {1} others", given.into, len(project.turbos)))
    return GOOD


def _new(given: argparse.Namespace) -> int:
    """A first design from the command line."""
    path = Path(given.file)
    if path.exists() and not given.force:
        raise project_file.FileError(told("“{0}” is there already: another name, or --force", path))

    def si(text: str | None, kind: str, unit: str) -> float | None:
        return parse(text, kind, default_unit=unit).si if text is not None else None

    def must(text: str, kind: str, unit: str) -> float:
        return parse(text, kind, default_unit=unit).si

    if (given.fuel == "diesel") != (given.engine == "diesel"):
        raise project_file.FileError(tr("a diesel engine burns diesel, and nothing else does"))
    redline = must(given.redline, "rotation", "rpm")
    stock_speed = si(given.stock_speed, "rotation", "rpm")
    project = make(
        Known(
            kind=given.engine, cylinders=given.cylinders, litres=must(given.litres, "volume", "L"),
            redline=redline, power=must(given.power, "power", "hp"), fuel=given.fuel,
            stock_power=si(given.stock_power, "power", "hp"), stock_speed=stock_speed,
            compression=si(given.compression, "number", ""),
            altitude=must(given.altitude, "length", "m"),
            day=must(given.day, "temperature", "°C"), matters=given.matters, name=given.name,
        ),
        {name: shelf.turbo(name) for name in shelf.turbo_names()},
    )  # fmt: skip
    project_file.write(project, path)
    print(told("wrote {0}: {1} × {2}, {3}, {4} values assumed", path, project.turbos_fitted, project.turbos[0].name, project.brief.target_boost, len(project.assumed)))  # fmt: skip
    return GOOD


def _window(
    given: argparse.Namespace, project: Project, path: Path | None, *, first: bool = False
) -> int:
    # The only import that waits: everything but the window runs where no Qt can be loaded.
    try:
        app: Any = importlib.import_module("zarvik.window.app")
    except ImportError as error:
        return _bad(told("the window needs a library that is missing: {0}. Run ./zarvik setup", error))
    options = vars(given)
    return int(
        app.run(
            project, path, shot=options.get("shot"), bench=options.get("bench"),
            theme=options.get("theme"), size=options.get("size") or "1280x800",
            speed=options.get("rev"), working=options.get("working"), ghost=options.get("ghost"),
            first=first,
        )
    )  # fmt: skip


def _answer(project: Project) -> Answer:
    found = answer(assemble(project, id=project.name), candidates(project))
    return with_bands(proved(project, found), bands_of(project, found))


def _speeds(given: argparse.Namespace, project: Project) -> np.ndarray | None:
    idle, limit = project.engine.idle.si, project.engine.rev_limit.si
    if given.rpm is not None:
        return np.array([_speed(given.rpm, idle, limit)])
    if given.sweep is None:
        return None
    parts = given.sweep.split(":")
    if len(parts) != 3:
        raise project_file.FileError(
            told("--sweep wants A:B:STEP, as 2000:7000:250, not “{0}”", given.sweep)
        )
    first, last = (_speed(p, idle, limit) for p in parts[:2])
    step = _float(parts[2])
    if not step > 0 or last < first:
        raise project_file.FileError(tr("--sweep wants A below B and a step above 0"))
    count = math.floor((last - first) / step + 1e-9) + 1
    if count > 5000:
        raise project_file.FileError(told("--sweep asks for {0} points; 5000 are the most", count))
    return first + step * np.arange(count)


def _float(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise project_file.FileError(told("“{0}” is not a number", text)) from None
    if not math.isfinite(value):
        raise project_file.FileError(told("“{0}” is not a finite number", text))
    return value


def _speed(text: str, idle: float, limit: float) -> float:
    value = _float(text)
    if not 300.0 <= value <= 15000.0:
        raise project_file.FileError(
            told("an engine speed must lie between 300 and 15000 rpm, not {0:g} (this engine: {1:.0f} to {2:.0f})", value, idle, limit)
        )
    return value


def _solve(given: argparse.Namespace) -> int:
    project = project_file.read(given.file)
    speeds = _speeds(given, project)
    found = _answer(project)
    points = found.solver.sweep(speeds) if speeds is not None else found.sweep
    tree = results.tree(project.name, points, found.verdicts, project.shown_units, found.bands)
    if given.json:
        _write_tree(given, tree, told("wrote {0}: {1} points, {2} verdicts", given.json, len(points), len(found.verdicts)))
        return GOOD
    wanted = project.brief
    print(told("{0}: {1} at {2} on {3}", visible(project.name), wanted.target_power,
               wanted.target_speed, wanted.target_boost) + "\n")  # fmt: skip
    if speeds is None or len(points) > 1:
        printing.line(points, project)
    shown = points[0] if len(points) == 1 else found.target
    printing.point(shown, project)
    for key in _sheets(given, found, shown):
        sheet = _sheet(found, shown, key)
        printing.one_sheet(sheet, project)
        if given.sheet:
            moved = influences(found.solver, shown.speed, key, start=found.start)
            printing.movers(moved, sheet.result.kind, project)
    print()
    printing.verdicts(found, project)
    printing.known(found, project)
    return GOOD


def _weigh(given: argparse.Namespace) -> int:
    """Every candidate at every stage, or every pulley of a blower."""
    project = project_file.read(given.file)
    system, asked = assemble(project, id=project.name), asked_of(project)
    if system.blower is not None:
        found: tuple[Weighed, ...] = ()
        tried = pulleys(system)
    else:
        turbos = (system.turbo, *candidates(project)[: MOST - 1])
        found = timed(system, weigh(system, turbos, asked.stages), asked.held, asked.geared)
        tried = ()
    if given.json:
        tree = results.weighed_tree(project, asked, found, tried)
        _write_tree(given, tree, told("wrote {0}: {1} candidates, {2} pulleys", given.json, len(found), len(tried)))
        return GOOD
    printing.weighed(project, asked, found)
    printing.pulleys(project, tried)
    return GOOD


def _hotside(given: argparse.Namespace) -> int:
    """Schools of manifold, the gate, its hoses."""
    project = project_file.read(given.file)
    faults = []
    manifolds, gate = None, None
    try:
        manifolds = schools(project)
    except Fault as error:
        faults.append(reason(error))
    try:
        gate = control(project)
    except Fault as error:
        faults.append(reason(error))
    hot = None
    try:
        hot = around(project)
    except Fault as error:
        faults.append(reason(error))
    train = None
    if project.tow.mass.si > 0.0 or project.tow.brake == "fitted":
        try:
            train = towed(project)
        except Fault as error:
            faults.append(reason(error))
    if given.json:
        _write_tree(given, results.hot_side_tree(project, manifolds, gate, hot, train), told("wrote {0}", given.json))
        return GOOD
    if manifolds is not None:
        printing.schools(project, manifolds)
    if gate is not None:
        printing.control(project, gate)
    if hot is not None:
        printing.around(project, hot)
    if train is not None:
        printing.towed(project, train)
    for fault in faults:
        print(visible(fault))
    return GOOD


def _design(given: argparse.Namespace) -> int:
    """Search whole designs; leaves with 1 when there is none that fulfils what is asked."""
    project = project_file.read(given.file)
    if not 20 <= given.tries <= 20_000 or not 1 <= given.most <= 40:
        raise project_file.FileError(tr("--tries lies between 20 and 20000, --most between 1 and 40"))
    if given.free:
        project = asking(project, [w.strip() for w in given.free.split(",") if w.strip()])
    searching = Search(project, {n: shelf.turbo(n) for n in shelf.turbo_names()}, given.wish or "")
    found = searching.run(budget=given.tries, seed=given.seed, most=given.most)
    if given.take is not None:
        if not given.into:
            raise project_file.FileError(tr("--take wants --into FILE"))
        if not 1 <= given.take <= len(found.designs):
            raise project_file.FileError(told("there is no design {0}: {1} were found", given.take, len(found.designs)))
        goal = Path(given.into)
        if goal.exists() and not given.force:
            raise project_file.FileError(told("“{0}” is there already: another name, or --force", goal))
        project_file.write(found.designs[given.take - 1].project, goal)
        print(told("wrote {0}", goal))
        return GOOD
    if given.json:
        tree = results.designs_tree(project, found)
        _write_tree(given, tree, told("wrote {0}: {1} designs", given.json, len(found.designs)))
    else:
        printing.designs(project, found)
    return GOOD if found.designs else FAILING


def _rank(given: argparse.Namespace) -> int:
    """Rank the turbos of the shelf and of the project in a build."""
    project = project_file.read(given.file)
    if not 1 <= given.most <= 500:
        raise project_file.FileError(tr("--most lies between 1 and 500"))
    system = assemble(project, id=project.name)
    if system.blower is not None:
        raise project_file.FileError(tr("a build with a blower has no turbo to rank"))
    own = (system.turbo, *candidates(project))
    known = {t.id for t in own}
    others = [core_turbo(shelf.turbo(n)) for n in shelf.turbo_names() if n not in known]
    found, looked_at = rank(system, (*own, *others), most=given.most)
    if given.json:
        tree = results.ranked_tree(project, found, looked_at)
        _write_tree(given, tree, told("wrote {0}: {1} turbos", given.json, len(found)))
        return GOOD
    printing.ranked(project, found, looked_at)
    return GOOD


def _place_of(project: Project, run: str) -> str:
    """Place of a run that is said by its name, or of a primary by the number of its cylinder."""
    if run in RUNS:
        return run
    found = next((p for p in project.primaries if run.isdigit() and int(p.cylinder.si) == int(run)), None)
    if found is None:
        raise project_file.FileError(told("there is no run “{0}”: {1}, or the number of a cylinder with a primary of pieces", run, ", ".join(RUNS)))
    return f"primaries.{found.id}.pieces"


def _export(given: argparse.Namespace) -> int:
    """What goes to the bench: text, tables, drawings, bodies."""
    project = project_file.read(given.file)
    runs = (_place_of(project, given.run),) if given.run else all_runs(project)
    if given.what in ("cutlist", "bends"):
        found = cut_list(project, runs)
        text = bench_lists.bends(found) if given.what == "bends" else bench_lists.cuts(found, project)
        if not given.out:
            sys.stdout.write(text)
            return GOOD
        return _out_file(given, Path(given.out), text.encode("utf-8"))
    if not given.out:
        raise project_file.FileError(tr("say where it goes: --out FILE.pdf, .svg or .dxf for drawings, .stl for bodies"))
    goal = Path(given.out)
    if given.what == "bodies":
        if goal.suffix.lower() != ".stl":
            raise project_file.FileError(tr("bodies are written as .stl"))
        return _out_file(given, goal, stl.stl(bench_files.bodies(project, runs)))
    drawings, faults = flanges(project) if given.what == "flange" else templates(project, runs if given.run else ())
    for fault in faults:
        print(visible(fault))
    for drawing in drawings:
        for words in drawing.faults:
            print(f"{visible(render(drawing.title, project.shown_units))}: {visible(render(words, project.shown_units))}")
    if not drawings:
        raise project_file.FileError(tr("there is nothing to draw"))
    for path, data in bench_files.files(drawings, goal, project.name, project.shown_units):
        code = _out_file(given, path, data)
        if code != GOOD:
            return code
    return GOOD


def _out_file(given: argparse.Namespace, goal: Path, data: bytes) -> int:
    if goal.exists() and not given.force:
        raise project_file.FileError(told("“{0}” is there already: another name, or --force", goal))
    project_file.write_bytes(data, goal)
    print(told("wrote {0}", goal))
    return GOOD


def _bends(given: argparse.Namespace) -> int:
    """A bend table into a run."""
    project = project_file.read(given.file)
    try:
        text = Path(given.table).read_text("utf-8")
    except (OSError, UnicodeDecodeError):
        raise project_file.FileError(told("“{0}” cannot be read as text", given.table)) from None
    run = _place_of(project, given.run)
    changed = with_bends(project, run, bench_lists.read_bends(text))
    project_file.write(changed, given.file)
    print(told("{0}: {1} has {2} pieces now", given.file, run_title(changed, run), len(get(changed, run))))
    return GOOD


def _register(given: argparse.Namespace) -> int:
    """The register: edits, then a list, or every line."""
    project = project_file.read(given.file)
    before = project
    try:
        if given.template:
            project = from_template(project, given.template)
        if given.add:
            project, key = add_line(project, given.add[0], name=given.add[1])
            print(told("added {0}", key))
        for line, entry, value in given.say or ():
            project = typed(project, line, entry, value)
        if given.remove:
            project = take_out(project, given.remove)
    except KeyError as error:
        raise project_file.FileError(told("the register has no line or entry “{0}”", error.args[0])) from None
    if project is not before:
        project_file.write(project, given.file)
    if given.list:
        found = listing(project, given.list)
        if given.out:
            return _out_file(given, Path(given.out), as_csv(found).encode("utf-8"))
        printing.listing(found)
        return GOOD
    printing.register(project)
    return GOOD


def _manifold(given: argparse.Namespace) -> int:
    """Primaries laid anew or made equal."""
    project = project_file.read(given.file)
    if given.long:
        project = put(project, "space.making.wanted", parse(given.long, "length", default_unit="mm"))
    changed, made = equal(project) if given.equalise else built(project)
    project_file.write(changed, given.file)
    units = changed.shown_units
    for one in layout(changed).primaries:
        missed = one.missed
        if missed is not None:
            words = told("{0}: {1} long, misses its collector by {2} along, {3} beside, {4}", visible(run_title(changed, place_of(one.key))),
                         figure(one.length, "length", units), figure(missed.gap, "length", units), figure(missed.offset, "length", units),
                         figure(missed.angle, "angle", units))  # fmt: skip
            print(words)
    print(told("spread {0:.2f} %", 100.0 * made.spread))
    return GOOD if made.closes else FAILING


def _write_tree(given: argparse.Namespace, tree: dict[str, Any], done: str) -> None:
    """Write a result as JSON where `--json` says, and say that it is `done`; not over what is no result."""
    text = json.dumps(tree, indent=1, allow_nan=False, ensure_ascii=False) + "\n"
    if given.json == "-":
        sys.stdout.write(text)
        return
    if not given.force and not _own_result(Path(given.json)):
        raise project_file.FileError(
            told("“{0}” is there and is no result of this program: another name, or --force", given.json)
        )
    project_file.write_text(text, Path(given.json))
    print(done)


def _own_result(path: Path) -> bool:
    """May a result be written here: nothing there, or an older result?"""
    if not path.exists():
        return True
    if not path.is_file():
        return False
    with path.open("rb") as file:
        return b'"zarvik-result' in file.read(400)


def _sheets(given: argparse.Namespace, found: Answer, point: Point) -> Sequence[str]:
    if not point.closure.solved:
        return ()
    if given.sheets:
        return tuple(working.sheets(found.solver, point))
    return tuple(given.sheet or ())


def _sheet(found: Answer, point: Point, key: str) -> working.Sheet:
    try:
        return working.sheet(found.solver, point, key)
    except KeyError:
        known = ", ".join(working.keys(found.solver))
        families = ", ".join(f"{name}:…" for name in working.FAMILIES)
        raise project_file.FileError(
            told("this build has no number “{0}”; it has {1} and, of pieces, runs and stations, {2}", key, known, families)
        ) from None


def _check(project: Project) -> int:
    found = _answer(project)
    printing.verdicts(found, project)
    printing.known(found, project)
    return FAILING if any(v.state == "fails" for v in found.verdicts) else GOOD


if __name__ == "__main__":
    raise SystemExit(main())
