"""A deliberate change and the tests that have to notice it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Change:
    """In `file` of the package `old` (which stands there once) becomes `new`; `tests` have to notice."""

    file: str
    old: str
    new: str
    tests: tuple[str, ...]


def of(tests: str, *changes: tuple[str, str, str]) -> tuple[Change, ...]:
    """Changes that the same `tests` have to notice."""
    return tuple(Change(*change, tuple(tests.split())) for change in changes)
