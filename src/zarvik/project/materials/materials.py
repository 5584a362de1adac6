"""A charge pipe or an exhaust of every material that it could be made of: mass, heat, money, and what a table does not say."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.airpath.solution import prepare
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.limits.limits import MATERIALS
from zarvik.core.materials.corrosion import years
from zarvik.core.materials.table import NAMES, value, values
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import completed

# Density kg/m3, wall m, price over that of the catalogue's tube
STUFF = {key: (value(key, "density"), wall, value(key, "price")) for key, wall in values("usual_wall").items()}
RUNS = ("intake", "hot_pipe", "cold_pipe", "exhaust")


@dataclass(frozen=True)
class RunMaterial:
    """A run of one material: `mass` kg, K by which it warms or cools the gas, W at the crank over the present design (`power`), `money`
    of its tube, highest metal or gas temperature over what it stands (`margin`, below 0 past it), and `words`; `now`: it is so; `years`
    until half of its wall is rusted away where the car lives (inf: never)."""

    material: str
    title: str
    mass: float
    heat: float
    power: float
    money: float
    margin: float
    words: Sentence
    now: bool
    years: float = math.inf


LONG = 40.0  # years beyond which nobody asks


def _words(key: str, wall: float, lasts: float) -> Sentence:
    """What a table does not say of a material, and how long its wall lasts where the car lives."""
    if lasts > LONG:
        return message(NAMES[key].words)
    return message(
        "{words}. Bare, half of {wall} is gone in {years}, by ISO 9223",
        words=message(NAMES[key].words),
        wall=Figure(wall, "length"),
        years=Figure(lasts, "years"),
    )


def materials(project: Project, run: str, progress: Progress = unwatched) -> tuple[RunMaterial, ...]:
    """A run (key of `RUNS`) of each material at the target. Raises Fault for a run that has no pipe, or a target that is not solved."""
    pieces = getattr(project, run)
    own = [p for p in pieces if hasattr(p, "material")]
    if run not in RUNS or not own:
        raise Fault("This run has no pipe")
    build = assemble(project)
    base = prepare(build).at(build.target.speed)
    if not base.closure.solved:
        raise Fault("The target is not solved: nothing to compare")
    long = [e for e in build.runs[run] if e.length > 0.0]
    most = max(set(p.material for p in own), key=[p.material for p in own].count)
    rates = build.resources.rates if build.resources is not None else {}
    found = []
    for number, (key, (density, wall, dear)) in enumerate(STUFF.items()):
        progress(number / len(STUFF))
        if run == "exhaust" and key in ("silicone", "printed", "aluminium"):
            continue
        changed = tuple(p.model_copy(update={"material": key}) if hasattr(p, "material") else p for p in pieces)
        made = assemble(completed(project.model_copy(update={run: changed})))
        point = prepare(made).at(made.target.speed)
        stretches = [s for s in point.stretches if s.section == run]
        metres = sum(e.length * e.parallel for e in long)
        mass = sum(e.parallel * math.pi * (e.diameter + wall) * wall * density * e.length for e in long)
        limit = MATERIALS[key]
        lasts = years(key, wall, project.workshop.used_in, wet=run == "exhaust")
        hottest = max(
            (point.stations[s.start].temperature if key in ("silicone", "printed") else max(s.metal, 250.0) for s in stretches),
            default=300.0,
        )
        tube = rates["tube"].price if "tube" in rates else 0.0
        found.append(
            RunMaterial(
                key,
                ROUGHNESS[key][0],
                mass,
                sum(s.warming for s in stretches),
                point.power - base.power,
                dear * tube * metres,
                limit.margin(hottest),
                _words(key, wall, lasts),
                key == most,
                lasts,
            )
        )
    return tuple(found)
