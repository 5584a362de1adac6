"""What a check says: a state, a margin, a sentence with figures in it, and a cure as changes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from zarvik.core.common.sentences import Sentence, message
from zarvik.core.limits.limits import OK, ORDER, TO_DO, Limit

JOINT_MADE = "joint-made:"  # place of a change: how a line of the connection list (its key) is made
PRACTICE = "Common practice, no source"

# What a check can be about, beside a piece.
SUBJECTS = (
    "target",
    "engine",
    "compressor",
    "turbine",
    "gate",
    "blower",
    "charge",
    "pipes",
    "piece",
    "intake",
    "means",
    "layout",
    "joints",
)


@dataclass(frozen=True)
class Change:
    """One edit of a cure. `place`: what is changed, as "boost.full", "turbo" or
    "piece:ID:parameter"; `value` in SI, or a key."""

    place: str
    value: float | str


@dataclass(frozen=True)
class CheckResult:
    """One judgement.

    `margin`: relative, positive when there is room, None when it has no number. `about`: its
    subject (one of SUBJECTS) or `piece:ID`. `changes`: the cure as edits, empty when
    it needs a decision. `price`: what the cure costs elsewhere, once the whole design was solved with
    it. `band`: between what the margin lies, 19 times out of 20, once that is known; `uncertainty`: what is
    said where it decides. `breaks`: can what fails here break something, or hurt somebody?
    """

    id: str
    title: str
    state: str
    margin: float | None
    text: Sentence
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    about: str = "target"
    basis: str = ""
    price: Sentence | None = None
    band: tuple[float, float] | None = None
    uncertainty: Sentence | None = None
    breaks: bool = False


@dataclass(frozen=True)
class Check:
    """A check by itself: its key and title, what it is `about` (as of a `CheckResult`; empty where each check says it), and the limit that
    it judges by, None where it has no number; `breaks`: can what fails break something or hurt somebody? Every check of it is made
    here."""

    id: str
    title: str
    about: str = ""
    limit: Limit | None = None
    breaks: bool = False

    def check_result(
        self,
        text: Sentence,
        *,
        value: float | None = None,
        state: str = "",
        margin: float | None = None,
        cure: Sentence | None = None,
        changes: Iterable[Change] = (),
        advice: Sentence | None = None,
        about: str = "",
        limit: Limit | None = None,
        basis: str = "",
    ) -> CheckResult:
        """State and margin of a `value` (SI, or a ratio) come from the limit, the basis too; each where nothing else is said. What holds
        needs no cure; `advice` is given all the same."""
        limit = limit or self.limit
        if value is not None:
            assert limit is not None
            state = state or limit.state(value)
            margin = limit.margin(value) if margin is None else margin
        cured = state != OK
        return CheckResult(
            id=self.id,
            title=self.title,
            state=state,
            margin=margin,
            text=text,
            cure=cure if cured else advice,
            changes=tuple(changes) if cured else (),
            about=about or self.about,
            basis=basis or (limit.basis if limit is not None else PRACTICE),
            breaks=self.breaks,
        )


def worst(check_results: Iterable[CheckResult]) -> list[CheckResult]:
    """The checks, worst first; equal states by margin."""
    return sorted(check_results, key=lambda v: (ORDER[v.state], v.margin if v.margin is not None else 9.0))


def nothing_to_judge(check: Check) -> CheckResult:
    """The open check of a compressor that never comes under boost."""
    return check.check_result(message("No solved point under boost to check"), state=TO_DO)
