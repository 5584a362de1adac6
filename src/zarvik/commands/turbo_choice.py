"""What to take: candidates evaluated, the catalogue ranked, whole designs searched."""

from __future__ import annotations

import argparse
from pathlib import Path

from zarvik import printing
from zarvik.commands.output import far, write_tree
from zarvik.commands.terminal import FAILING, GOOD, not_over
from zarvik.core.candidates.catalogue_search import rank
from zarvik.core.candidates.evaluation import MOST, Evaluated, evaluate, pulleys, with_spool_times
from zarvik.formats import project_file, results, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.stages import asked_of
from zarvik.project.assembly.turbos import candidates, core_turbo
from zarvik.project.designs import Search, with_free
from zarvik.project.engine.diesel_pump import settings
from zarvik.project.language.language import tr, tr_format


def evaluate_candidates(given: argparse.Namespace) -> int:
    """Every candidate at every stage, or every pulley of a blower; the pump of a diesel at its settings."""
    project = project_file.read(given.file)
    build, asked = assemble(project, id=project.name), asked_of(project)
    if build.blower is not None:
        found: tuple[Evaluated, ...] = ()
        tried = pulleys(build)
    else:
        turbos = (build.turbo, *candidates(project)[: MOST - 1])
        found = with_spool_times(build, build.car, evaluate(build, turbos, asked.stages), asked.held, asked.geared)
        tried = ()
    pump = settings(project) if project.engine.fuel == "diesel" and project.engine.fuelling != "lambda" else ()
    if given.json:
        tree = results.evaluated_tree(project, asked, found, tried, pump)
        write_tree(given, tree, tr_format("wrote {0}: {1} candidates, {2} pulleys", given.json, len(found), len(tried)))
        return GOOD
    printing.evaluated(project, asked, found)
    printing.pulleys(project, tried)
    printing.pump(project, pump)
    return GOOD


def search(given: argparse.Namespace) -> int:
    """Search whole designs; leaves with 1 when there is none that fulfils what is asked."""
    project = project_file.read(given.file)
    if not 20 <= given.tries <= 20_000 or not 1 <= given.most <= 40:
        raise project_file.FileError(tr("--tries must be between 20 and 20000, --most between 1 and 40"))
    if given.take is not None and not given.into:
        raise project_file.FileError(tr("--take needs --into FILE"))
    goal = Path(given.into or "")
    if given.into:
        not_over(goal, force=given.force)
    if given.free:
        project = with_free(project, [w.strip() for w in given.free.split(",") if w.strip()])
    searching = Search(project, {n: shipped.turbo(n) for n in shipped.turbo_names()}, given.wish or "")
    with far(tr("Searching")) as progress:
        found = searching.run(budget=given.tries, seed=given.seed, most=given.most, progress=progress)
    if given.take is not None and found.designs:
        if not 1 <= given.take <= len(found.designs):
            raise project_file.FileError(tr_format("there is no design {0}: {1} were found", given.take, len(found.designs)))
        project_file.write(found.designs[given.take - 1].project, goal)
        print(tr_format("wrote {0}", goal))
        return GOOD
    if given.json:
        tree = results.designs_tree(project, found)
        write_tree(given, tree, tr_format("wrote {0}: {1} designs", given.json, len(found.designs)))
    else:
        printing.designs(project, found)
    return GOOD if found.designs else FAILING


def rank_all(given: argparse.Namespace) -> int:
    """Rank the turbos of the catalogue and of the project in a build."""
    project = project_file.read(given.file)
    if not 1 <= given.most <= 500:
        raise project_file.FileError(tr("--most must be between 1 and 500"))
    build = assemble(project, id=project.name)
    if build.blower is not None:
        raise project_file.FileError(tr("a build with a blower has no turbo to rank"))
    own = (build.turbo, *candidates(project))
    known = {t.id for t in own}
    others = [core_turbo(shipped.turbo(n)) for n in shipped.turbo_names() if n not in known]
    found, looked_at = rank(build, (*own, *others), most=given.most)
    if given.json:
        tree = results.ranked_tree(project, found, looked_at)
        write_tree(given, tree, tr_format("wrote {0}: {1} turbos", given.json, len(found)))
        return GOOD
    printing.ranked(project, found, looked_at)
    return GOOD
