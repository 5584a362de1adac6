"""What was made of parts of a document is kept for as long as the parts are the same ones."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

Made = TypeVar("Made")


class Kept(Generic[Made]):
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
