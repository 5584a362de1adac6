"""Cures that were tried: the whole design solved and judged again with each of them."""

from __future__ import annotations

import dataclasses
import math

import numpy as np

from zarvik.core.airpath.reading import RawSolution
from zarvik.core.answer.answer import Answer
from zarvik.core.checks import CheckResult, judge
from zarvik.core.checks.case import Case, plain_case
from zarvik.core.common.progress import Progress, beside, unwatched
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, TO_DO
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.units.units import EntryError

RANK = {FAILS: 0, MARGINAL: 1, TO_DO: 2, OK: 2}
HELPS = 0.02  # of margin that a cure has to bring when the state stays the same
THEN = {
    FAILS: "Not enough on its own: “{what}” still fails",
    MARGINAL: "Not enough on its own: “{what}” becomes marginal",
    TO_DO: "Not enough on its own: “{what}” stays to do",
}
TIGHTER = "{price}{more}“{what}” then becomes marginal"
WIDENED = 3  # times that a cure of widths is carried on until it holds
# What is worth telling as a price
POWER, SPEED = 1500.0, 40.0  # W, rev/min


def judged_with_cure(project: Project, check_result: CheckResult, near: RawSolution | None = None) -> Case | None:
    """The case of the design with a check's cure, judged without cures of its own; None where the
    cure cannot be carried out or is not solved at the target. `near`: the full-load curve of the design itself."""
    try:
        case = plain_case(assemble(with_changes(project, check_result.changes)), near)
    except (EntryError, ProjectProblems, ValueError, KeyError, StopIteration):
        return None
    return case if case.target.closure.solved else None


def _stands(one: CheckResult, two: CheckResult | None) -> bool:
    """Is a check no worse than before: in no lower state, and a failing one not further gone?"""
    if two is None or RANK[two.state] != RANK[one.state]:
        return two is None or RANK[two.state] > RANK[one.state]
    if one.state != FAILS or one.margin is None or two.margin is None:
        return True
    return two.margin > one.margin - HELPS


def proved(project: Project, found: Answer, progress: Progress = unwatched) -> Answer:
    """The answer with only those cures offered as a step that help without making another check
    fall a state, each with what it costs elsewhere. A cure that does not stays as advice, with what
    stands against it."""
    if not any(v.changes for v in found.check_results):
        return found
    done = iter(range(len(found.check_results)))

    def one(check_result: CheckResult) -> CheckResult:
        progress(next(done) / len(found.check_results))
        return _proved(project, found, check_result) if check_result.changes else check_result

    check_results = beside(one, found.check_results, len(found.build.elements))
    memo = found.memo
    if memo is not None:
        memo = found.case.remember(check_results)
    return dataclasses.replace(found, check_results=tuple(check_results), memo=memo)


def _further(check_result: CheckResult, own: CheckResult | None) -> CheckResult | None:
    """A cure of widths with what is still to be widened once it is carried out; None where nothing is. What a neck holds back is only known
    once it is wide."""
    if own is None or own.state == OK or not own.changes or own.cure is None or check_result.cure is None:
        return None
    if not all(c.place.startswith("piece:") for c in (*check_result.changes, *own.changes)):
        return None
    changes = {c.place: c for c in check_result.changes} | {c.place: c for c in own.changes}
    cure, before = own.cure, dict(check_result.cure.figures)
    if own.about != check_result.about:
        cure = message("{one}; {two}", one=check_result.cure, two=own.cure)
    elif "now" in before:
        cure = dataclasses.replace(cure, figures=tuple((n, before["now"] if n == "now" else v) for n, v in cure.figures))
    return dataclasses.replace(check_result, cure=cure, changes=tuple(changes.values()))


def _proved(project: Project, found: Answer, check_result: CheckResult) -> CheckResult:
    near = found.case.raw
    case, after = judged_with_cure(project, check_result, near), {}
    for _ in range(WIDENED):
        if case is None:
            return dataclasses.replace(check_result, changes=())
        after = {v.id: v for v in judge(case)}
        more = _further(check_result, after.get(check_result.id))
        if more is None or more.changes == check_result.changes:
            break
        again = judged_with_cure(project, more, near)
        if again is None:
            break
        check_result, case = more, again
        after = {v.id: v for v in judge(case)}
    if case is None:
        return dataclasses.replace(check_result, changes=())
    own = after.get(check_result.id)
    better = (
        own is None
        or RANK[own.state] > RANK[check_result.state]
        or (
            own.state == check_result.state
            and own.margin is not None
            and check_result.margin is not None
            and own.margin > check_result.margin + HELPS
        )
    )
    fallen = [v for v in found.check_results if v.id != check_result.id and not _stands(v, after.get(v.id))]
    # What lifts a failing check may make another one tight: that is its price, not what bars it.
    lifted = check_result.state == FAILS and (own is None or own.state != FAILS)
    narrow = [v for v in fallen if lifted and v.state == OK and after[v.id].state == MARGINAL]
    worse = next((v for v in fallen if v not in narrow), None)
    # A new check that was not there before counts as well.
    known = {v.id for v in found.check_results}
    new = next((v for v in after.values() if v.id not in known and v.state == FAILS), None)
    if better and worse is None and new is None:
        price = _price(found, case, check_result.id != "target")
        if narrow:
            price = message(TIGHTER, what=message(narrow[0].title), price=price or "", more=". " if price else "")
        return dataclasses.replace(check_result, price=price)
    against = after[worse.id] if worse is not None else new
    price = None
    if against is not None:
        price = message(THEN[against.state], what=message(against.title))
    elif not better:
        price = message("Not enough on its own")
    return dataclasses.replace(check_result, changes=(), price=price)


def _price(found: Answer, case: Case, power_too: bool) -> Sentence | None:
    """Power at the target (where `power_too`) and threshold with the cure, where they move."""
    power = case.target.power
    before, after = found.case.threshold, case.threshold
    moved = power_too and abs(power - found.target.power) > POWER
    later = found.build.blower is None and math.isfinite(before) and math.isfinite(after) and abs(after - before) > SPEED
    figures = {"power": Figure(power, "power"), "speed": Figure(float(np.round(after, -1)), "rotation")}
    if moved and later:
        return message("Result: {power}, full boost from {speed}", **figures)
    if moved:
        return message("Result: {power}", power=figures["power"])
    if later:
        return message("Result: full boost from {speed}", speed=figures["speed"])
    return None
