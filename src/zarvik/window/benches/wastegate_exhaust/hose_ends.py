"""Hoses of the wastegate as they are on the car, put from port to port by hand."""

from __future__ import annotations

from zarvik.core.checks.wastegate_hoses import hoses_as_planned
from zarvik.core.wastegate.actuator import Actuator
from zarvik.core.wastegate.hoses import SOURCES
from zarvik.project.document.document import Project
from zarvik.project.edits import edits

LETTERS = "abcd"
OPEN = "open"
SHARED = (*SOURCES, OPEN)  # what takes more hoses than one
Pairs = list[tuple[str, str]]


def fitted(project: Project) -> Pairs:
    """Ends of hoses A to D as they were said; empty where none was."""
    return list(project.wastegate.plumbed)


def with_hose(project: Project, actuator: Actuator, begin: str, end: str) -> Project:
    """The document with a hose from `begin` to `end` (keys of ports): the one that was at `begin`, else that of `end`, else one that is
    free, else the last. Another hose at `end` goes. Where nothing was said of the hoses, all others are as in the plan of the
    `actuator`."""
    pairs = fitted(project)
    if not pairs:
        ends = [str(change.value) for change in hoses_as_planned(actuator)]
        pairs = list(zip(ends[::2], ends[1::2], strict=True))
    at = [n for n, pair in enumerate(pairs) if begin in pair and begin not in SHARED]
    at += [n for n, pair in enumerate(pairs) if end in pair and end not in SHARED]
    at += [n for n, pair in enumerate(pairs) if pair == ("", "")]
    at.append(len(pairs) - 1)
    pairs = [
        ("", "") if n != at[0] and any(port in pair for port in (begin, end) if port not in SHARED) else pair
        for n, pair in enumerate(pairs)
    ]
    pairs[at[0]] = (begin, end)
    for letter, pair in zip(LETTERS, pairs, strict=True):
        for suffix, port in zip(("", "_to"), pair, strict=True):
            project = edits.with_value(project, f"wastegate.hose_{letter}{suffix}", port)
    return project
