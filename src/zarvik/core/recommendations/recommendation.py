"""What a need is."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.common.sentences import Sentence


@dataclass(frozen=True)
class Recommendation:
    """A part that the design needs: the `page` on which it is worked on, its `title`, the `size` in SI (nan where none that is sold
    will do, or where it has no size), and what is said; `count`: how many of them."""

    page: str
    title: str
    size: float
    text: Sentence
    count: int = 1
