"""What was made of parts of a document is kept for as long as the parts are the same ones."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

Made = TypeVar("Made")
Part = TypeVar("Part")


class IdentityCache(Generic[Made]):
    """The last few things that were made, each with the parts that it was made of. A document is immutable, and an edit
    leaves all parts but its own the same objects: they are told apart by identity, which costs nothing."""

    def __init__(self, most: int = 6) -> None:
        self._rows: tuple[tuple[tuple[object, ...], Made], ...] = ()
        self._most = most

    def of(self, parts: tuple[object, ...], make: Callable[[], Made]) -> Made:
        """What was made of exactly these parts, or what `make` makes of them now."""
        for known, made in self._rows:
            if len(known) == len(parts) and all(a is b for a, b in zip(known, parts, strict=True)):
                return made
        made = make()
        # One assignment: a thread beside this one sees the old rows or the new ones.
        self._rows = ((parts, made), *self._rows[: self._most - 1])
        return made


class IdentityCacheEach(Generic[Part, Made]):
    """What was made of each of many parts, told apart by identity. When there are more than `most`, all of them go: who
    asks again makes them again."""

    def __init__(self, most: int = 20_000) -> None:
        self._rows: dict[int, tuple[Part, Made]] = {}
        self._most = most

    def of(self, part: Part, make: Callable[[Part], Made]) -> Made:
        """What was made of this very part, or what `make` makes of it now."""
        found = self._rows.get(id(part))
        # The part itself is held beside what was made of it, so that its identity cannot come again.
        if found is not None and found[0] is part:
            return found[1]
        made = make(part)
        if len(self._rows) >= self._most:
            self._rows = {}
        self._rows[id(part)] = (part, made)
        return made


class FirstEqual(Generic[Made]):
    """Of values that are equal the one that was there first, so that what is told apart by identity takes them for the same."""

    def __init__(self, most: int = 6) -> None:
        self._rows: tuple[Made, ...] = ()
        self._most = most

    def of(self, value: Made) -> Made:
        """The value that is equal to `value` and was there first."""
        for known in self._rows:
            if known == value:
                return known
        self._rows = (value, *self._rows[: self._most - 1])
        return value
