"""Which checks are listed under which heading, and in what order."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from zarvik.core.checks import CheckResult
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, ORDER, TO_DO
from zarvik.project.language.language import tr, tr_format

BREAKS, MISSES, FIND_OUT, HERE, ELSEWHERE = "#breaks", "#misses", "#find_out", "#here", "#elsewhere"
TITLES = {
    BREAKS: "Can break something",
    MISSES: "Misses the goal",
    FIND_OUT: "To find out",
    HERE: "OK on this page",
    ELSEWHERE: "OK elsewhere",
}
FOLDED = "{0} ({1})"


@dataclass(frozen=True)
class CheckRow:
    """A line of the list: a heading (`check_result` None, its key begins with #) or a check. `words`: what it is called."""

    key: str
    words: str
    check_result: CheckResult | None = None
    folded: bool = False


def group_of(check_result: CheckResult, subjects: Collection[str]) -> str:
    """Key of the heading that a check stands under; `subjects`: what is worked on at the page in front."""
    if check_result.state == TO_DO:
        return FIND_OUT
    if check_result.state != OK:
        return BREAKS if check_result.breaks else MISSES
    return HERE if _here(check_result, subjects) else ELSEWHERE


def _here(check_result: CheckResult, subjects: Collection[str]) -> bool:
    return check_result.about.partition(":")[0] in subjects


def check_rows(check_results: Sequence[CheckResult], subjects: Collection[str], *, unfolded: bool) -> list[CheckRow]:
    """The lines: what can break something, what misses the goal, what is to be found out, what is OK. In each those of the page in front
    stand first, then the worst. What is OK elsewhere is listed where it is `unfolded`."""
    found: dict[str, list[CheckResult]] = {key: [] for key in TITLES}
    for check_result in check_results:
        found[group_of(check_result, subjects)].append(check_result)
    rows: list[CheckRow] = []
    for key, members in found.items():
        if not members:
            continue
        folded = key == ELSEWHERE and not unfolded
        title = tr_format(FOLDED, tr(TITLES[key]), len(members)) if key == ELSEWHERE else tr(TITLES[key])
        rows.append(CheckRow(key, title, folded=folded))
        if folded:
            continue
        members.sort(key=lambda v: (not _here(v, subjects), ORDER[v.state], v.margin if v.margin is not None else 9.0))
        rows += [CheckRow(v.id, tr(v.title), v) for v in members]
    return rows


def headline(check_results: Sequence[CheckResult]) -> str:
    """How many there are of each state, the worst first."""
    words = {FAILS: "{0} fail", MARGINAL: "{0} marginal", TO_DO: "{0} to do", OK: "{0} OK"}
    counts = {state: sum(v.state == state for v in check_results) for state in words}
    return tr_format("Checks: {0}", ", ".join(tr_format(words[state], number) for state, number in counts.items() if number))


def bar_place(margin: float) -> float:
    """Where a margin stands on its bar, from -1 (all of it missing) over 0 (the limit) to 1 (all of it left). The root opens the first
    few percent, which decide."""
    return (1.0 if margin >= 0.0 else -1.0) * min(abs(margin), 1.0) ** 0.5
