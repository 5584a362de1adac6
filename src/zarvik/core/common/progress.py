"""How long work is watched: it says how far it is, and hears so that it is not wanted any more."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar, copy_context
from typing import TypeVar

Given = TypeVar("Given")
Made = TypeVar("Made")
BESIDE = 2  # threads: what a small machine has
MANY = 100  # pieces of a build above which one solution takes long enough


class Stopped(Exception):
    """Raised by a `Progress` inside of work that is not wanted any more; the work lets it through."""


# Told the share that is done (0–1) every few milliseconds; may raise Stopped.
Progress = Callable[[float], None]


def unwatched(share: float) -> None:
    """Nobody watches.

    Any `share` is heard and forgotten.
    """


def part(progress: Progress, first: float, last: float) -> Progress:
    """The progress of a part of the work, from the share `first` to the share `last`."""
    return lambda share: progress(first + (last - first) * share)


_watching: ContextVar[Progress | None] = ContextVar("watching", default=None)


@contextmanager
def watched(progress: Progress) -> Iterator[None]:
    """Work inside of it asks `progress` at every solution whether it is still wanted: long steps of it need not look
    themselves."""
    token = _watching.set(progress)
    try:
        yield
    finally:
        _watching.reset(token)


def look() -> None:
    """Ask who watches, if anybody does; raises Stopped when the work is not wanted any more."""
    progress = _watching.get()
    if progress is not None:
        progress(math.nan)


def beside(work: Callable[[Given], Made], given: Iterable[Given], pieces: int) -> list[Made]:
    """What `work` makes of each thing given, in their order, watched as this is; two at a time for a build of many `pieces` (a number): it
    pays where most of the work is in compiled loops of many milliseconds, between short ones the two wait for each other."""
    if pieces <= MANY:
        return [work(one) for one in given]
    with ThreadPoolExecutor(BESIDE, "zarvik-beside") as pool:
        coming = [pool.submit(copy_context().run, work, one) for one in given]
        try:
            return [one.result() for one in coming]
        except BaseException:
            for one in coming:
                one.cancel()
            raise
