"""What keeps a document from being solved."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """What keeps a document from being solved: where it stands, and what to do."""

    place: str
    text: str


class ProjectProblems(ValueError):
    """All problems of a document at once."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("; ".join(p.text for p in problems))
        self.problems = tuple(problems)
