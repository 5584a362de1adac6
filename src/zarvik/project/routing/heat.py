"""How far a hot run must keep from what minds its heat."""

from __future__ import annotations

from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import EXHAUST, MANIFOLD
from zarvik.core.heat.clearance import THINGS
from zarvik.core.heat.hot_parts import hot_parts
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project


def heat_gaps(project: Project, run: str) -> dict[str, float]:
    """For each thing that minds heat (its key) the gap in m that a run (its place) keeps from it: behind a shield, which is
    usual in an engine bay. Empty for cold runs, and where the target is not solved. Raises ProjectProblems."""
    if run not in (EXHAUST, MANIFOLD) and not run.startswith("primaries."):
        return {}
    build = assemble(project)
    solver = prepare(build)
    point = solver.at(build.target.speed)
    if not point.closure.solved:
        return {}
    mine = EXHAUST if run == EXHAUST else MANIFOLD
    pieces = [p for p in hot_parts(solver, build.fittings, point).pieces if p.run == mine and p.gaps]
    if not pieces:
        return {}
    return {thing.key: max(p.gaps[i][1] for p in pieces) for i, thing in enumerate(THINGS)}
