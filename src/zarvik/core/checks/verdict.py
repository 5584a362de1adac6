"""What a check says: a state, a margin, a sentence with figures in it, and a cure as changes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

HOLDS = "holds"
TIGHT = "tight"
FAILS = "fails"
OPEN = "open"
ORDER = {FAILS: 0, TIGHT: 1, OPEN: 2, HOLDS: 3}


@dataclass(frozen=True)
class Figure:
    """A number in SI and the kind of quantity it is; shown in the owner's unit.

    `sheet`: key of its working sheet, or `=PLACE` for an entry of the document; `at`: engine speed
    in rev/min that it holds at. Neither for a limit of good practice.
    """

    value: float
    kind: str
    sheet: str = ""
    at: float | None = None

    @property
    def address(self) -> str:
        """Where the number leads: its sheet or entry, and behind a stroke the engine speed."""
        return self.sheet if self.at is None else f"{self.sheet}/{self.at:.10g}"


def revs(speed: float) -> Figure:
    """An engine speed in rev/min that leads to what is shown at it."""
    return Figure(speed, "rotation", "", speed)


@dataclass(frozen=True)
class Sentence:
    """A sentence with named places (`{power}`) for figures and words."""

    template: str
    figures: tuple[tuple[str, Figure | str], ...] = ()


def say(template: str, **figures: Figure | str) -> Sentence:
    """A sentence from its template and what fills its places."""
    return Sentence(template, tuple(figures.items()))


@dataclass(frozen=True)
class Change:
    """One edit of a cure. `place`: what is changed, as "boost.full", "turbo" or
    "piece:ID:parameter"; `value` in SI, or a key."""

    place: str
    value: float | str


@dataclass(frozen=True)
class Verdict:
    """One judgement.

    `margin`: relative, positive when there is room, None when it has no number. `about`: the
    bench it belongs to and, behind a colon, the piece. `changes`: the cure as edits, empty when
    it needs a decision. `price`: what the cure costs elsewhere, once the whole design was solved with
    it.
    """

    id: str
    title: str
    state: str
    margin: float | None
    text: Sentence
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    about: str = "brief"
    basis: str = ""
    price: Sentence | None = None


def worst(verdicts: Iterable[Verdict]) -> list[Verdict]:
    """The verdicts, worst first; equal states by margin."""
    return sorted(
        verdicts, key=lambda v: (ORDER[v.state], v.margin if v.margin is not None else 9.0)
    )


def graded(margin: float, tight: float) -> str:
    """`fails` below 0, `tight` below `tight`, else `holds`."""
    return FAILS if margin < 0.0 else TIGHT if margin < tight else HOLDS
