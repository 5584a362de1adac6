"""Every number of a demo over its whole range: what answers raise, jump, stay dead, or lie; and every first cure carried out.

Run by hand: `.venv/bin/python tests/scan.py [demo ...] [--points N] [--only PART] [--no-cures]`; `test_scan.py` runs a sample. Nothing here
knows what an entry means: it looks for what no answer may do, whatever is asked.
"""

from __future__ import annotations

import argparse
import dataclasses
import math
import re
import sys
import traceback
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import Answer, answer
from zarvik.core.checks import CheckResult
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, TO_DO
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.turbos import candidates
from zarvik.project.cures.cure_edits import is_long, with_changes
from zarvik.project.cures.cures import proved
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.edits import edits
from zarvik.project.units.rendering import render
from zarvik.project.units.units import UNKNOWN, EntryError, Quantity

ROOMS = (
    "goal",
    "engine",
    "intercooler",
    "wastegate",
    "blower",
    "car",
    "fittings",
    "fluid_lines",
    "breather",
    "radiator",
    "turbo_coolant",
    "air_meter",
    "ports",
    "towing",
    "bay",
)
JUMP = 0.12  # of power, or of margin where it is not said why, between two points that lie a step apart
NEAR = 1e-3  # of the way between two points within which a jump is looked for
BAD = re.compile(r"\b(nan|inf)\b|\{\w+\}|–\s*(bar|hp|rpm|mm|°C)")
RANK = {FAILS: 0, MARGINAL: 1, TO_DO: 2, OK: 2}


@dataclass(frozen=True)
class Sighting:
    """Something that no answer may do: `kind`, the demo, the entry, its value in SI, and what was seen."""

    kind: str
    demo: str
    place: str
    value: float
    words: str

    def __str__(self) -> str:
        return f"{self.kind:8} {self.demo:7} {self.place:42} {self.value:12.6g}  {self.words}"


def numbers(project: Project) -> list[str]:
    """Places of all numbers that somebody can type."""
    found = [f"{room}.{n}" for room in ROOMS if hasattr(project, room) for n in type(getattr(project, room)).model_fields]
    for run in edits.RUNS:
        for piece in getattr(project, run):
            found += [f"{run}.{piece.id}.{n}" for n in type(piece).model_fields]
    if project.chosen is not None and not project.blower.fitted:
        found += [f"turbos.{project.turbo}.turbine.{n}" for n in type(project.chosen.turbine).model_fields]
    return [p for p in found if isinstance(edits.meta(project, p), QuantitySpec) and isinstance(edits.get(project, p), Quantity)]


def values(project: Project, place: str, count: int) -> list[float]:
    """Values over the whole range of an entry, SI: its ends, what stands there, and steps between, closer where it stands."""
    field = edits.meta(project, place)
    assert isinstance(field, QuantitySpec)
    low, high = field.limits
    now = edits.get(project, place).si
    if low > 0.0 and high / low > 30.0:
        found = np.geomspace(low, high, count)
    elif low >= 0.0 and now > 0.0 and high > 30.0 * now:
        found = np.concatenate([[low], np.geomspace(now / 20.0, high, count - 1)])
    else:
        found = np.linspace(low, high, count)
    near = [now * f for f in (0.5, 0.8, 0.9, 1.1, 1.25, 2.0)]
    every = {float(f"{v:.6g}") for v in (*found, *near) if low <= v <= high}
    if field.kind == "count":
        every = {float(round(v)) for v in every}
    return sorted(every)


def solved(project: Project) -> Answer | None:
    """The answer, None where the document says what is in the way."""
    try:
        return answer(assemble(project, id=project.name), candidates(project))
    except (ProjectProblems, EntryError):
        return None
    except ValueError as error:
        if type(error).__name__ == "Fault":
            return None
        raise


def scan(demo: str, project: Project, place: str, *, count: int = 12, cures: bool = True) -> Iterator[Sighting]:
    """What is seen on one entry."""
    before: tuple[float, Answer] | None = None
    for value in values(project, place, count):
        try:
            old = edits.get(project, place)
            changed = edits.with_value(project, place, Quantity(old.with_si(value).value, old.unit, old.kind))
        except EntryError:
            continue
        try:
            found = solved(changed)
        except Exception as error:
            yield Sighting(
                "raises", demo, place, value, f"{type(error).__name__}: {error} {traceback.extract_tb(error.__traceback__)[-1].name}"
            )
            continue
        if found is None:
            before = None
            continue
        yield from _judged(demo, place, value, found)
        if before is not None:
            yield from _stepped(demo, place, before, (value, found))
        before = (value, found)
        if cures:
            yield from _cured(demo, place, value, changed, found)


def _judged(demo: str, place: str, value: float, found: Answer) -> Iterator[Sighting]:
    """What a single answer may not do."""
    for check_result in found.check_results:
        if check_result.margin is not None and not math.isfinite(check_result.margin):
            yield Sighting("margin", demo, place, value, f"{check_result.id}: {check_result.margin}")
        if check_result.state == FAILS and check_result.margin is not None and check_result.margin > 0.0:
            yield Sighting("margin", demo, place, value, f"{check_result.id} fails with {check_result.margin:+.3f} of room")
        for words in (check_result.text, check_result.cure, check_result.price):
            if words is not None and BAD.search(render(words, {})):
                yield Sighting("figure", demo, place, value, f"{check_result.id}: {render(words, {})}")
    point = found.target
    if point.closure.solved and not (math.isfinite(point.power) and abs(point.power) < 3e6):
        yield Sighting("power", demo, place, value, f"{point.power} W")


def _stepped(demo: str, place: str, one: tuple[float, Answer], two: tuple[float, Answer]) -> Iterator[Sighting]:
    """What may not happen between two values that lie beside each other."""
    a, b = one[1].target, two[1].target
    if not (a.closure.solved and b.closure.solved):
        return
    # A wide step may move much: only what moves without the entry having moved is a jump.
    moved = abs(two[0] - one[0]) / max(abs(two[0]), abs(one[0]), 1e-12)
    if moved < 0.3 and abs(a.power - b.power) > max(JUMP, 4.0 * moved) * max(a.power, b.power):
        yield Sighting("jump", demo, place, two[0], f"power {a.power / 745.7:.0f} to {b.power / 745.7:.0f} hp from {one[0]:.5g}")


def _cured(demo: str, place: str, value: float, project: Project, found: Answer) -> Iterator[Sighting]:
    """Carry out the first cure that is offered: it must help, and be possible."""
    offered = None
    for check_result in found.check_results:
        if check_result.changes and not is_long(check_result.changes):
            # The rest without their cures: tried they would take minutes; left out they would look new once this one is carried out
            rest = (v if not v.changes else dataclasses.replace(v, changes=()) for v in found.check_results if v is not check_result)
            kept = proved(project, dataclasses.replace(found, check_results=(check_result, *rest)))
            offered = next((v for v in kept.check_results if v.changes), None)
            if offered is not None:
                break
    if offered is None:
        return
    try:
        after = solved(with_changes(project, offered.changes))
    except Exception as error:
        yield Sighting("cure", demo, place, value, f"{offered.id}: {type(error).__name__}: {error}")
        return
    if after is None:
        yield Sighting("cure", demo, place, value, f"{offered.id}: there is no answer any more")
        return
    now: CheckResult | None = next((v for v in after.check_results if v.id == offered.id), None)
    if now is None or now.state == OK or RANK[now.state] > RANK[offered.state]:
        return
    if now.state != offered.state or now.margin is None or offered.margin is None or now.margin <= offered.margin:
        yield Sighting("cure", demo, place, value, f"{offered.id} was {offered.state} {offered.margin}, then {now.state} {now.margin}")


def dead(demo: str, project: Project, place: str) -> bool:
    """Does an entry move nothing, over its whole range, of what is solved and judged?"""
    seen = set()
    for value in values(project, place, 5):
        old = edits.get(project, place)
        try:
            found = solved(edits.with_value(project, place, old.with_si(value)))
        except (EntryError, ValueError):
            continue
        if found is None:
            return False
        seen.add(
            (
                round(found.target.power, 3),
                tuple((v.id, v.state, v.margin and round(v.margin, 6), str(v.text)) for v in found.check_results),
            )
        )
    return len(seen) <= 1


def main() -> int:
    """By hand."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("demos", nargs="*", default=shipped.demo_names())
    words.add_argument("--points", type=int, default=12)
    words.add_argument("--only", default="")
    words.add_argument("--no-cures", action="store_true")
    given = words.parse_args()
    count = 0
    for demo in given.demos:
        project = shipped.demo(demo)
        prepare(assemble(project))
        for place in numbers(project):
            if given.only in place and edits.get(project, place).known != UNKNOWN:
                for sighting in scan(demo, project, place, count=given.points, cures=not given.no_cures):
                    print(sighting, flush=True)
                    count += 1
    print(f"{count} sightings")
    return 1 if count else 0


if __name__ == "__main__":
    sys.exit(main())
