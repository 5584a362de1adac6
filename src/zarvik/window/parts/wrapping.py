"""Text broken into lines, with the widths of words kept: the check is set anew on every key."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetricsF

from zarvik.window.theme.style import BASE, font


@lru_cache(64)
def metrics(size: int = BASE, *, strong: bool = False) -> QFontMetricsF:
    """Metrics of the program's font at `size` px."""
    return QFontMetricsF(font(size, strong=strong))


@lru_cache(8192)
def width(text: str, size: int = BASE, *, strong: bool = False) -> float:
    """Pixels across of a piece of text on one line."""
    return metrics(size, strong=strong).horizontalAdvance(text)


def wrapped(text: str, room: float, size: int = BASE, *, strong: bool = False) -> list[str]:
    """`text` in lines of at most `room` px; a single longer word stays whole."""
    return list(_wrapped(text, room, size, strong))


@lru_cache(4096)
def _wrapped(text: str, room: float, size: int, strong: bool) -> tuple[str, ...]:
    space = width(" ", size, strong=strong)
    lines: list[str] = []
    line: list[str] = []
    used = 0.0
    for word in text.split(" "):
        wide = width(word, size, strong=strong)
        if line and used + space + wide > room:
            lines.append(" ".join(line))
            line, used = [], 0.0
        used += wide + (space if line else 0.0)
        line.append(word)
    return (*lines, " ".join(line))


def spots(lines: Sequence[str], places: Sequence[tuple[int, int, str]]) -> Iterator[tuple[int, float, float, str]]:
    """Where pieces of a text stand in its wrapped `lines`: `places` are (first character, behind the
    last, what it is); gives (line, left px, right px, what it is), one for each line it is on."""
    start = 0
    for number, line in enumerate(lines):
        end = start + len(line)
        for first, last, what in places:
            one, two = max(first, start), min(last, end)
            if one < two:
                left = width(line[: one - start])
                yield number, left, left + width(line[one - start : two - start]), what
        start = end + 1  # the space at which it was broken


def fitting(text: str, room: float, size: int = BASE, *, strong: bool = False) -> str:
    """`text` on one line of at most `room` px, cut short with … where it is longer."""
    return metrics(size, strong=strong).elidedText(text, Qt.TextElideMode.ElideRight, room)
