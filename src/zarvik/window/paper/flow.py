"""Parts that flow over sheets of paper: a head stays with what it is the head of, and is said again where that goes on on another sheet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF
from PySide6.QtGui import QColor, QPainter

from zarvik.window.desk import Desk
from zarvik.window.paper import sheet
from zarvik.window.paper.sheet import Paper
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

TOP, BOTTOM = 58.0, 36.0  # units of a sheet


@dataclass(frozen=True)
class Part:
    """What is drawn in one piece: how `high` it is, and what draws it with its top at a height; `with_next`: it is a head, and stays on the
    sheet of what follows; `again`: the parts that are drawn before it where it is the first of a sheet."""

    high: float
    draw: Callable[[QPainter, float], None]
    with_next: bool = False
    again: tuple[Part, ...] = ()


def title_part(title: str) -> Part:
    """A title over what follows."""

    def draw(painter: QPainter, top: float) -> None:
        painter.setFont(font(23, strong=True))
        painter.setPen(QColor(palette.current().ink))
        painter.drawText(QPointF(0, top + 28.0), title)

    return Part(40.0, draw, with_next=True)


def gap_part(high: float) -> Part:
    """Nothing, so `high`."""
    return Part(high, lambda painter, top: None)


def paged(parts: Sequence[Part]) -> list[list[Part]]:
    """Parts in as many sheets as they take; a head is never the last of a sheet."""
    sheets: list[list[Part]] = [[]]
    left = room = sheet.TALL - TOP - BOTTOM
    for number, part in enumerate(parts):
        need, at = part.high, number
        while parts[at].with_next and at + 1 < len(parts):
            at += 1
            need += parts[at].high
        if need > left and sheets[-1]:
            sheets.append([*part.again])
            left = room - sum(other.high for other in part.again)
        sheets[-1].append(part)
        left -= part.high
    return sheets


def write(desk: Desk, path: str, title: str, parts: Sequence[Part], over: Callable[[QPainter], None] = lambda painter: None) -> str:
    """Write parts as PDF under a `title`, with what is drawn `over` them on each sheet; returns a sentence when it cannot be written, else
    nothing."""
    sheets = paged(parts)

    def draw(desk: Desk, painter: QPainter, paper: Paper) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, found in enumerate(sheets):
            if number:
                paper.more()
            sheet.head(desk, painter, title)
            over(painter)
            top = TOP
            for part in found:
                part.draw(painter, top)
                top += part.high
            sheet.foot(painter, paper)
            paper.rest()

    return sheet.write(desk, path, draw, len(sheets))
