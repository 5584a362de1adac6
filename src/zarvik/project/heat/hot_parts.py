"""The hot side of a document as it hangs in the car, told."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import EXHAUST
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.heat.hot_parts import AT_PORT, BEHIND, COLLECTOR, HotParts, hot_parts
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr

PLACES = {
    AT_PORT: "In a primary, two fingers behind the port",
    COLLECTOR: "In the collector, before the turbine",
    BEHIND: "Just after the turbine",
}
DRIVEN_PLACES = {**PLACES, COLLECTOR: "In the collector", BEHIND: "In the downpipe"}


@dataclass(frozen=True)
class HotSideReport:
    """The hot side at its target: what was worked out, titles of the pieces by key, and what is to be known, in sentences; `driven`: by a
    blower."""

    parts: HotParts
    titles: dict[str, str]
    notes: tuple[Sentence, ...]
    driven: bool = False


def place_words(found: HotSideReport, place: str) -> str:
    """Where a probe stands, in words: a blower's engine has no turbine."""
    return tr((DRIVEN_PLACES if found.driven else PLACES)[place])


def hot_side_report(project: Project, progress: Progress = unwatched) -> HotSideReport:
    """The hot side of a document at its target speed; raises Fault where that is not solved, and ProjectProblems for a
    document that cannot be assembled."""
    build = assemble(project)
    solver = prepare(build)
    point = solver.at(build.target.speed)
    if not point.closure.solved:
        raise Fault("The target is not solved: no heat figures")
    progress(0.5)
    titles = {e.id: e.name or e.id for e in build.elements}
    return HotSideReport(hot_parts(solver, build.fittings, point), titles, tuple(_notes(project)), build.blower is not None)


def _notes(project: Project) -> list[Sentence]:
    """Duties and cautions that follow from what is there and what is not."""
    kinds = {p.kind for p in project.exhaust}
    covers = {getattr(p, "cover", "") for run in (project.manifold, project.exhaust) for p in run}
    covers |= {getattr(p, "cover", "") for primary in project.primaries for p in primary.pieces}
    found = [message("Local rules on emissions, noise and roadworthiness apply; an inspector decides")]
    if "catalyst" not in kinds:
        found.append(message("No catalyst: most places require the original one on the road"))
    if not kinds & {"silencer", "resistance"}:
        found.append(message("No silencer: roads and most tracks have noise limits"))
    if project.wastegate.outlet == "air" and not project.blower.fitted:
        found.append(
            message("The wastegate vents to atmosphere: loud, flame and carbon monoxide. Point it away from lines, tyres and people")
        )
    if "wrap" in covers:
        found.append(message("Dust of fibre wrap harms the lungs: wet it, wear mask and gloves. It keeps water against mild steel"))
    found.append(message("End the pipe outside the body and behind the last opening: carbon monoxide. Never run it in a closed room"))
    if any(p.kind == "bend" for p in getattr(project, EXHAUST)):
        found.append(
            message("Weld bosses before the pipe is bent over or coated. Mount a lambda probe upright, between ten and two o'clock")
        )
    return found


def told_boss(found: HotSideReport) -> Sentence:
    """Where the lambda probe goes."""
    boss = found.parts.boss
    if not boss.id:
        return message("No place in the exhaust is straight, mixed and cool enough for a lambda probe: add a straight of six diameters")
    return message(
        "Lambda probe: in “{name}”, {at} from its start, gas temperature {gas}",
        name=found.titles.get(boss.id, boss.id),
        at=Figure(boss.at, "length"),
        gas=Figure(boss.gas, "temperature"),
    )


def told_hung(found: HotSideReport) -> tuple[Sentence, ...]:
    """How the exhaust is hung and where it has to give."""
    hang = found.parts.hung
    if hang is None:
        return ()
    words = [
        message(
            "About {mass} of exhaust: {count} rubber hangers, {apart} apart",
            mass=Figure(hang.mass, "mass"),
            count=str(hang.hangers),
            apart=Figure(hang.between, "length"),
        ),
        message(
            (
                "It expands {grows} when hot. Put a flex piece right behind the first bend, the first hanger behind "
                "that; clamp it nowhere along the pipe"
            ),
            grows=Figure(hang.grows, "length"),
        ),
    ]
    if hang.swings > 0.0:
        words.append(
            message(
                "Between two hangers it resonates with the firing at {speed}: space them unevenly", speed=Figure(hang.swings, "rotation")
            )
        )
    return tuple(words)
