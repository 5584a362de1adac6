"""JobStore beside the answer: what moves a number, designs solved beside the present one, the catalogue
in this build."""

from __future__ import annotations

import contextlib
import dataclasses
import importlib
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

from zarvik.core import calculations
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import EXHAUST, MANIFOLD
from zarvik.core.answer.answer import Answer
from zarvik.core.bay.clearance import Near, near_of
from zarvik.core.calculations.sensitivity import Influence, influences
from zarvik.core.candidates.catalogue_search import CatalogueMatch, search
from zarvik.core.candidates.evaluation import MOST, Evaluated, Housing, Pulley, evaluate, housings, pulleys, with_spool_times
from zarvik.core.checks import Change
from zarvik.core.checks.fluid_lines import highest_fuel_point
from zarvik.core.common.compiled import share_compiled, to_be_compiled
from zarvik.core.fabrication.drawing import Drawing
from zarvik.core.leak_test.boost_loss import Hole, hole_costs
from zarvik.core.radiator.water_heat import sustained_share
from zarvik.core.recommendations import Recommendation, needs
from zarvik.core.whole_build.build import Build, Solved
from zarvik.formats import atomic_writer, shipped
from zarvik.formats.scan_file import scan_words, whole_scan, with_scan
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.stages import ComparisonBasis, asked_of
from zarvik.project.assembly.turbos import candidates, core_turbo
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.bay.work import BayWork, bay_work
from zarvik.project.boost_control.control import control
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.designs import Designs, Search
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import skin_of
from zarvik.project.document.parts.decision import Decision
from zarvik.project.document.places import run_title
from zarvik.project.engine.diesel_pump import settings
from zarvik.project.fabrication.cut_list import CutList, ordered_cut_list
from zarvik.project.fabrication.drawings import sheets
from zarvik.project.first_design.first_design import FirstDesign, design
from zarvik.project.heat.hot_parts import hot_side_report
from zarvik.project.language.language import reason, tr_format
from zarvik.project.layout.layout import all_runs, layout, space_of
from zarvik.project.manifold.manifold_types import manifold_candidates
from zarvik.project.manifold.primaries import equal, fitted_run, not_as_wanted
from zarvik.project.materials.materials import materials
from zarvik.project.routing.alternatives import COOLER, FILTER, POSITIONS, TURBO, Alternative, alternatives, primary_alternatives
from zarvik.project.routing.clocking import clocked
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.packaging import packagings
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.routing.routes import no_way, routes, with_route
from zarvik.project.uncertainty.known import BuilderInput, NoDesignFound
from zarvik.project.uncertainty.uncertainty import bands_of, with_bands
from zarvik.project.units.rendering import figure, words
from zarvik.project.units.units import EntryError
from zarvik.project.vehicle.towing import towing_report
from zarvik.workspace.job_store import Job, JobError, JobProgress
from zarvik.workspace.solving import Result, solve

INFLUENCES, CATALOGUE, COMPILING, BESIDE = "influences", "catalogue", "compiling", "beside:"
EVALUATED, SECONDS, HOUSINGS, PULLEYS = "evaluated", "seconds", "housings", "pulleys"
DESIGNS = "designs"
PRIMARIES = "primaries"
SCHOOLS, CONTROL, AROUND, TOWED, PUMP = "schools", "control", "around", "towed", "pump"
HOLES, MATERIALS = "holes", "materials"
BAY, ROUTE, SCAN, WORK, WAYS, CLOCK = "bay", "route", "scan", "bay_work", "ways", "clock"
WHOLE_SCANS = "whole_scans"
CURE, CUTS, SHEETS, FILES = "cure", "cuts", "sheets", "files:"
NAMED, FIT, NEEDED, SHARES = "named", "fit", "needed", "shares"


FIRST = "first design"


def first_design_of(known: BuilderInput) -> Job:
    """A first design for what is known."""

    def work(watch: JobProgress) -> FirstDesign:
        turbos = {name: shipped.turbo(name) for name in shipped.turbo_names()}
        watch(0.1)
        try:
            return design(known, turbos, watch)
        except (NoDesignFound, ProjectProblems) as error:
            raise JobError(str(error)) from None

    return Job(FIRST, known, work, lane="work", title="First design")


def influences_of(of: Solved, speed: float, key: str) -> Job:
    """What moves the number of sheet `key` at `speed` rev/min?"""

    def work(watch: JobProgress) -> tuple[Influence, ...]:
        try:
            return influences(of.build, of.solver, speed, key)
        except KeyError:
            raise JobError(tr_format("this build does not have that number")) from None

    return Job(INFLUENCES, (of.solver, speed, key), work, pause=0.12)


def beside(name: str, design: Project) -> Job:
    """How does a variant do? The reply is a Result, not completed, but with its bands."""

    def work(watch: JobProgress) -> Result:
        found = solve(design)
        if found.answer is None or not found.answer.target.closure.solved:
            return found
        # Judged by its own uncertainties, as the present design is that it stands beside.
        bands = bands_of(design, found.answer, watch)
        return dataclasses.replace(found, answer=with_bands(found.answer, bands))

    return Job(BESIDE + name, design, work)


def catalogue_in(project: Project) -> Job:
    """Every turbo of the catalogue with several housings in this build."""
    return Job(CATALOGUE, _without_turbo(project), partial(_search, project), lane="work", title="Ranking the catalogue")


def compiling() -> Job:
    """Whether the solver is made for this machine yet: watches the first solve and tells how far it
    is."""

    def work(watch: JobProgress) -> None:
        while to_be_compiled():
            watch(min(share_compiled(), 0.99))
            watch.rest(0.2)

    return Job(COMPILING, "", work, title="Preparing the solver for this machine, once", stop=False)


def _without_turbo(project: Project) -> str:
    """Everything of a document that a search of the catalogue depends on: all but its turbos, its variants,
    and what it is called and shown in."""
    bare = project.model_copy(
        update={"turbo": "", "turbos": (), "variants": (), "name": "", "note": "", "units": "mixed", "assumed": (), "pieces_cut": ()}
    )
    return bare.model_dump_json()


def _search(project: Project, watch: JobProgress) -> tuple[CatalogueMatch, ...]:
    try:
        build = assemble(project, id=project.name)
    except (ProjectProblems, ValueError) as error:
        raise JobError(tr_format("the build is not solved ({0})", error)) from None
    if build.blower is not None:
        raise JobError(tr_format("a build with a blower needs no turbo search"))
    turbos = [core_turbo(shipped.turbo(name)) for name in shipped.turbo_names()]
    return search(build, turbos, watch)


@dataclasses.dataclass(frozen=True, eq=False)
class Candidates:
    """The turbos of a document evaluated: the `build` they stand in, what was `asked`, what was found."""

    build: Build
    asked: ComparisonBasis
    found: tuple[Evaluated, ...]


def _system(project: Project) -> Build:
    try:
        return assemble(project, id=project.name)
    except (ProjectProblems, ValueError) as error:
        raise JobError(tr_format("the build is not solved ({0})", error)) from None


_last: list[tuple[Project, str]] = []  # the document that was written out last, as text


def _evaluated_of(project: Project) -> str:
    """Everything of a document that weighing depends on: all but names, variants and the decision, which is noted
    while the figures stand."""
    for before, text in _last:
        if before is project:
            return text
    bare = project.model_copy(
        update={"variants": (), "name": "", "note": "", "units": "mixed", "assumed": (), "pieces_cut": ()}
        | {"decision": Decision(), "adopted": ()}
    )
    text = bare.model_dump_json()
    _last[:] = [(project, text), *_last[:1]]
    return text


def evaluated(project: Project) -> Job:
    """Every candidate on this engine at every stage of it; the chosen one is among them however many there
    are."""

    def work(watch: JobProgress) -> Candidates:
        build = _system(project)
        if build.blower is not None:
            return Candidates(build, asked_of(project), ())
        others = candidates(project)[: MOST - 1]
        order = {turbo.id: n for n, turbo in enumerate(project.turbos)}
        turbos = sorted((build.turbo, *others), key=lambda t: order[t.id])
        asked = asked_of(project)
        return Candidates(build, asked, evaluate(build, turbos, asked.stages, watch))

    return Job(EVALUATED, _evaluated_of(project), work, pause=0.1)


def seconds_of(first: Candidates) -> Job:
    """The same candidates with their seconds."""

    def work(watch: JobProgress) -> Candidates:
        found = with_spool_times(first.build, first.build.car, first.found, first.asked.held, first.asked.geared, watch)
        return dataclasses.replace(first, found=found)

    return Job(SECONDS, first, work)


def housings_of(project: Project) -> Job:
    """The chosen turbo in every housing that is sold near its own."""

    def work(watch: JobProgress) -> tuple[Housing, ...]:
        build = _system(project)
        return () if build.blower is not None else housings(build, asked_of(project).held, watch)

    return Job(HOUSINGS, _evaluated_of(project), work, pause=0.1)


def pulleys_of(project: Project) -> Job:
    """The blower with every pulley that can be had."""

    def work(watch: JobProgress) -> tuple[Pulley, ...]:
        return pulleys(_system(project), watch)

    return Job(PULLEYS, _evaluated_of(project), work, pause=0.1)


def primaries_of(project: Project, *, lay: bool) -> Job:
    """Primaries of pieces laid anew (`lay`), or those that are there made equal. The reply: the document with them,
    whether all of them meet the collector, `lay`, and what is said where they are not as long as wanted."""

    def work(watch: JobProgress) -> tuple[Project, bool, bool, str]:
        try:
            if lay:
                laid = laid_primaries(project, heat_gaps(project, MANIFOLD), progress=watch)
                return laid.project, True, lay, laid.short
            changed, made = equal(project, watch)
        except ProjectProblems as error:
            raise JobError(str(error)) from None
        except (EntryError, ValueError) as error:
            raise JobError(reason(error) if isinstance(error, ValueError) else str(error)) from None
        return changed, made.closes, lay, not_as_wanted(changed, [run.length for run in made.fitted])

    title = "Generating primaries" if lay else "Equalising primaries"
    return Job(PRIMARIES, (project, lay), work, lane="work", title=title)


def cure_of(project: Project, title: str, changes: tuple[Change, ...]) -> Job:
    """The document with the changes of a cure (`title`: of its check)."""

    def work(watch: JobProgress) -> Project:
        try:
            return with_changes(project, changes, watch)
        except (EntryError, KeyError) as error:
            raise JobError(str(error)) from None
        except ValueError as error:
            raise JobError(reason(error)) from None

    return Job(CURE, (project, title), work, lane="work", title="The fix")


def cuts_of(project: Project) -> Job:
    """The cut list of everything that has pieces."""

    def work(watch: JobProgress) -> CutList:
        watch(0.0)
        return ordered_cut_list(project, all_runs(project))

    return Job(CUTS, project, work, pause=0.1)


def sheets_of(project: Project) -> Job:
    """Every drawing that the build has, and why others are not there."""

    def work(watch: JobProgress) -> tuple[list[Drawing], list[str]]:
        watch(0.0)
        return sheets(project)

    return Job(SHEETS, project, work, pause=0.1)


def files_of(project: Project, what: str, goal: Path) -> Job:
    """Files for the bench written: `cutlist`, `bends`, `bodies` or `drawings` at `goal`. The reply: their paths."""

    def work(watch: JobProgress) -> list[Path]:
        watch(0.0)
        try:
            bench_files = importlib.import_module("zarvik.formats.bench_files")  # a window does not wait for it
            made = bench_files.made(project, what, goal)
            watch(0.8)
            atomic_writer.write_files(made)
        except ValueError as error:
            raise JobError(reason(error)) from None
        except atomic_writer.FileError as error:
            raise JobError(str(error)) from None
        return [path for path, _ in made]

    return Job(f"{FILES}{goal}", object(), work, lane="work", title="Writing")


def sheets_named(of: Solved, point: Point, units: dict[str, str]) -> Job:
    """What the calculation sheets of a point are called: words by key. To name one, some have to solve."""

    def work(watch: JobProgress) -> dict[str, str]:
        watch(0.0)
        return {key: words(sheet.title, units) for key, sheet in calculations.sheets(of.build, of.solver, point).items()}

    return Job(NAMED, (of.solver, point, tuple(units.items())), work)


def fit_of(project: Project, run: str) -> Job:
    """The document with a run (its key in the layout) that ends in what it must meet."""

    def work(watch: JobProgress) -> Project:
        watch(0.0)
        try:
            return fitted_run(project, run)[0]
        except (EntryError, ValueError) as error:
            raise JobError(reason(error) if isinstance(error, ValueError) else str(error)) from None

    return Job(FIT, (project, run), work, lane="work", title="Closing a gap")


def bay_of(project: Project) -> Job:
    """What comes near what in the engine bay, the nearest first."""

    def work(watch: JobProgress) -> list[Near]:
        watch(0.0)
        found = near_of(space_of(project), layout(project), obstacles_of(project))
        watch.show(found)  # also where a hand that moves a piece has asked for the next step by now
        return found

    return Job(BAY, project, work, lane="work")


def ways_of(project: Project, run: str) -> Job:
    """Several ways of a run (its place, all `PRIMARIES`, or all that leads to one of `POSITIONS`) through the engine bay, each solved;
    those that are known so far are shown."""

    def work(watch: JobProgress) -> tuple[Alternative, ...]:
        watch(0.0)
        try:
            if run == PRIMARIES:
                return primary_alternatives(project, heat_gaps(project, MANIFOLD), progress=watch, show=watch.show)
            if run in POSITIONS:
                heat = heat_gaps(project, EXHAUST) if run == TURBO else {}
                return packagings(project, run, heat, progress=watch, show=watch.show)
            heat = heat_gaps(project, run)
            found = alternatives(project, run, heat, progress=watch, show=watch.show)
            if not found:
                raise JobError(no_way(project, run, heat))
            return found
        except ProjectProblems as error:
            raise JobError(str(error)) from None
        except (EntryError, ValueError) as error:
            raise JobError(reason(error) if isinstance(error, ValueError) else str(error)) from None

    return Job(
        WAYS,
        (project, run),
        work,
        lane="work",
        title={
            PRIMARIES: "Generating primaries",
            TURBO: "Placing the turbo",
            COOLER: "Placing the intercooler",
            FILTER: "Placing the air filter",
        }.get(run, "Routing a pipe"),
    )


def clock_of(project: Project) -> Job:
    """The document with its turbo turned in its housings, and how, in words."""

    def work(watch: JobProgress) -> tuple[Project, str]:
        watch(0.0)
        try:
            found = clocked(project, watch)
        except ValueError as error:
            raise JobError(reason(error)) from None
        return found.project, found.words

    return Job(CLOCK, (project, ""), work, lane="work", title="Turning the turbo")


def work_of(project: Project) -> Job:
    """Which joints of the bay are got at, in which order parts go in, and what comes off for a job."""

    def work(watch: JobProgress) -> BayWork:
        try:
            return bay_work(project, watch)
        except ValueError as error:
            raise JobError(reason(error)) from None

    return Job(WORK, project, work, lane="work", title="Assembly order", pause=0.2)


def scan_of(project: Project, path: str, unit: str) -> Job:
    """The document with the scan in a file as one more object of its bay, and what was read in words. `unit`: of the file's numbers, empty
    for the likely one."""

    def work(watch: JobProgress) -> tuple[Project, str]:
        try:
            changed, found = with_scan(project, path, unit=unit, progress=watch)
        except atomic_writer.FileError as error:
            raise JobError(str(error)) from None
        return changed, scan_words(found)

    return Job(SCAN, (project, path, unit), work, lane="work", title="Reading a scan")


def whole_scans_of(rows: tuple[tuple[str, str, float, str], ...]) -> Job:
    """All triangles of scans whose files are there, to be drawn: the key of each object, its file and the s
    at which that was written, and what was kept of it (`skin_text`).
    Where a file cannot be read, or is another scan by now, what was kept is drawn."""

    def work(watch: JobProgress) -> dict[str, tuple[np.ndarray, np.ndarray]]:
        found = {}
        for number, (key, path, _, skin) in enumerate(rows):
            watch(number / len(rows))
            with contextlib.suppress(atomic_writer.FileError):
                found[key] = whole_scan(Path(path), skin_of(skin)[0].corners)
        return found

    return Job(WHOLE_SCANS, rows, work, lane="work")


def route_of(project: Project, run: str) -> Job:
    """The document with a run (its place, or all `PRIMARIES`) laid anew through the engine bay, and what it is in words."""

    def work(watch: JobProgress) -> tuple[Project, str]:
        watch(0.0)
        try:
            return _routed(project, run, watch)
        except ProjectProblems as error:
            raise JobError(str(error)) from None
        except (EntryError, ValueError) as error:
            raise JobError(reason(error) if isinstance(error, ValueError) else str(error)) from None

    return Job(ROUTE, (project, run), work, lane="work", title="Routing a pipe")


def _routed(project: Project, run: str, watch: JobProgress) -> tuple[Project, str]:
    if run == PRIMARIES:
        laid = laid_primaries(project, heat_gaps(project, MANIFOLD), progress=watch)
        return laid.project, laid.words
    heat = heat_gaps(project, run)
    found = list(routes(project, run, heat, progress=watch))
    if not found:
        raise JobError(no_way(project, run, heat))
    best = found[-1]
    length = figure(best.length, "length", project.shown_units)
    return with_route(project, run, best), tr_format("{0}: {1} bends, {2} of tube", run_title(project, run), best.bends, length)


def needed_of(answer: Answer) -> Job:
    """What the design of an answer needs, in sizes that are sold."""

    def work(watch: JobProgress) -> list[Recommendation]:
        watch(0.0)
        return needs(answer.case)

    # An answer grows by checks, costs and bands: what it is of stays the same.
    return Job(NEEDED, answer.build, work, pause=0.1)


ROAD_SPEEDS = tuple(v / 3.6 for v in (10, 25, 40, 60, 80, 100, 120, 140, 170, 200, 240))


@dataclasses.dataclass(frozen=True)
class RadiatorShares:
    """Share of full load that a radiator sustains at each of `ROAD_SPEEDS`, as it is and (`alone`) without a core in front of it; `here`
    at the road speed of the build. `power`: full load, W."""

    power: float
    shares: tuple[float, ...]
    alone: tuple[float, ...]
    road_speed: float
    here: float


def radiator_shares_of(answer: Answer) -> Job:
    """What the radiator of an answer sustains over road speed; the answer has a radiator core and solved points."""

    def work(watch: JobProgress) -> RadiatorShares:
        radiator, solver, point = answer.build.radiator, answer.solver, highest_fuel_point(answer.case)
        bare, speed = dataclasses.replace(radiator, resists=0.0), answer.build.road_speed
        watch(0.0)
        shares = tuple(sustained_share(solver, radiator, point, v) for v in ROAD_SPEEDS)
        watch(0.5)
        alone = tuple(sustained_share(solver, bare, point, v) for v in ROAD_SPEEDS)
        return RadiatorShares(point.power, shares, alone, speed, sustained_share(solver, radiator, point, speed))

    return Job(SHARES, answer.solver, work, pause=0.05)


def _found_of(key: str, project: Project, find: Callable[[Project, JobProgress], object], *, pause: float, of: object = None) -> Job:
    """What is found of a document that can be assembled; a fault is said in its own words."""

    def work(watch: JobProgress) -> object:
        _system(project)
        try:
            return find(project, watch)
        except ValueError as error:
            raise JobError(reason(error)) from None

    return Job(key, project if of is None else of, work, pause=pause)


def schools_of(project: Project) -> Job:
    """The manifold of every school on this engine."""
    return _found_of(SCHOOLS, project, manifold_candidates, pause=0.25)


def around_of(project: Project) -> Job:
    """What the hot side costs, how hot it is, what a probe shows, and how it is hung."""
    return _found_of(AROUND, project, hot_side_report, pause=0.08)


HOLE_SIZES = (0.001, 0.002, 0.004)  # m: a pin, a missing screw, a port that was forgotten


def holes_of(project: Project) -> Job:
    """What holes of a few sizes cost in this build."""

    def work(watch: JobProgress) -> tuple[Hole, ...]:
        build = _system(project)
        if build.blower is not None:
            raise JobError(tr_format("leaks are not calculated for blowers yet"))
        solver = prepare(build)
        found = []
        for number, size in enumerate(HOLE_SIZES):
            watch(number / len(HOLE_SIZES))
            found.append(hole_costs(solver, size))
        return tuple(found)

    return Job(HOLES, project, work, pause=0.2)


def materials_of(project: Project, run: str) -> Job:
    """A run of every material that it could be of."""
    return _found_of(MATERIALS, project, lambda project, watch: materials(project, run, watch), pause=0.15, of=(project, run))


def settings_of(project: Project) -> Job:
    """A diesel's pump at its settings."""
    return _found_of(PUMP, project, settings, pause=0.12)


def towed_of(project: Project) -> Job:
    """A train on its hill, and what an exhaust brake holds."""
    return _found_of(TOWED, project, towing_report, pause=0.12)


def control_of(project: Project) -> Job:
    """What the gate's spring and solenoid hold, and what comes of its hoses."""
    return _found_of(CONTROL, project, control, pause=0.08)


def designs_of(project: Project, tries: int, wish: str = "") -> Job:
    """Whole designs for what the document asks; `tries`: how many are solved, `wish`: key of a limit of which the
    present design is to give a unit more. The best so far are shown while it goes on."""

    def work(watch: JobProgress) -> Designs:
        _system(project)
        try:
            searching = Search(project, {n: shipped.turbo(n) for n in shipped.turbo_names()}, wish)
        except EntryError as error:
            raise JobError(str(error)) from None
        return searching.run(budget=tries, progress=watch, on_progress=watch.show)

    return Job(DESIGNS, (_evaluated_of(project), wish, tries), work, lane="work", title="Searching designs")
