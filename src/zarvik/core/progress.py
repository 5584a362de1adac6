"""How long work is watched: it says how far it is, and hears so that it is not wanted any more."""

from __future__ import annotations

from collections.abc import Callable


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
