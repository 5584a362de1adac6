"""What a build needs next: what fails, what is worth measuring, what is undecided, in the order in which a builder would do it."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.answer.answer import Answer
from zarvik.core.limits.limits import FAILS, TO_DO
from zarvik.project.document.document import Project
from zarvik.project.uncertainty.uncertainty import worth_measuring

# Kinds of steps
FIX, MEASURE, TURBO, PRIMARIES, DECIDE, STOCK, CUT = "fix", "measure", "turbo", "primaries", "decide", "stock", "cut"
MOST = 3  # entries that are named in one step
COUNTS = 0.01  # share of the target power by which measuring an entry has to narrow the power


@dataclass(frozen=True)
class NextStep:
    """A step of a `kind`. `leads`: titles with the address that each is found at (as `Desk.follow` reads it). `count`: how many there are
    in all, named or not. `decides`: titles of the checks that it decides; `power`: W by which it narrows the power, 0 for none."""

    kind: str
    leads: tuple[tuple[str, str], ...]
    count: int = 1
    decides: tuple[str, ...] = ()
    power: float = 0.0


def next_steps(project: Project, answer: Answer) -> tuple[NextStep, ...]:
    """The steps of a `project` with its `answer`, the first one first; never empty."""
    found = [step for step in (_failing(answer), _measured(project, answer), _turbo(project), _primaries(project)) if step is not None]
    found += _undecided(answer)
    if not project.stock:
        found.append(NextStep(STOCK, (("", "=bench:cut_weld"),)))
    return (*found, NextStep(CUT, (("", "=bench:cut_weld"),)))


def _failing(answer: Answer) -> NextStep | None:
    """What fails, the worst of it named."""
    fails = sorted((v for v in answer.check_results if v.state == FAILS), key=lambda v: 0.0 if v.margin is None else v.margin)
    return NextStep(FIX, ((fails[0].title, f"=subject:{fails[0].about}"),), count=len(fails)) if fails else None


def _measured(project: Project, answer: Answer) -> NextStep | None:
    """Entries that decide a check or narrow the power, once it is known how far figures may lie from what they are."""
    if answer.bands is None or not answer.target.closure.solved:
        return None
    least = COUNTS * project.goal.target_power.si
    found = [one for one in worth_measuring(project, answer, answer.bands) if one.decides or one.power >= least]
    if not found:
        return None
    titles = {v.id: v.title for v in answer.check_results}
    decides = dict.fromkeys(titles[key] for one in found[:MOST] for key in one.decides if key in titles)
    return NextStep(
        MEASURE,
        tuple((one.title, f"={one.place}") for one in found[:MOST]),
        count=len(found),
        decides=tuple(decides),
        power=max(one.power for one in found[:MOST]),
    )


def _turbo(project: Project) -> NextStep | None:
    """One of several turbos, while nobody has chosen."""
    if project.blower.fitted or project.decision.turbo or len(project.turbos) < 2:
        return None
    return NextStep(TURBO, (("", "=bench:candidates"),), count=len(project.turbos))


def _primaries(project: Project) -> NextStep | None:
    """Primaries as pieces, where there are some to be made."""
    if project.primaries or project.blower.fitted or not any(piece.kind == "primaries" for piece in project.manifold):
        return None
    return NextStep(PRIMARIES, (("", "=bench:layout"),))


def _undecided(answer: Answer) -> list[NextStep]:
    """What nobody has decided yet."""
    left = [v for v in answer.check_results if v.state == TO_DO]
    return [NextStep(DECIDE, ((left[0].title, f"=subject:{left[0].about}"),), count=len(left))] if left else []
