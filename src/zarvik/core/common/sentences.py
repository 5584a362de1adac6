"""What the core says in words: sentences with figures in them, filled in and translated by who shows them."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Figure:
    """A number in SI and the kind of quantity it is; shown in the owner's unit.

    `sheet`: key of its calculation sheet, or `=PLACE` for an entry of the document; `at`: engine speed
    in rev/min that it holds at. Neither for a limit of good practice.
    """

    value: float
    kind: str
    sheet: str = ""
    at: float | None = None

    @property
    def address(self) -> str:
        """Where the number leads: its sheet or entry, and behind a stroke the engine speed."""
        return self.sheet if self.at is None else f"{self.sheet}/{self.at:.10g}"


def revs(speed: float) -> Figure:
    """An engine speed in rev/min that leads to what is shown at it."""
    return Figure(speed, "rotation", "", speed)


@dataclass(frozen=True)
class Sentence:
    """A sentence with named places (`{power}`) for figures and words. `more`: further parts, each a
    template of its own, so that each can be translated; the figures serve them all."""

    template: str
    figures: tuple[tuple[str, Filling], ...] = ()
    more: tuple[str, ...] = ()

    @property
    def templates(self) -> tuple[str, ...]:
        """All parts in their order."""
        return (self.template, *self.more)

    @property
    def whole(self) -> str:
        """The templates behind each other, in the language of the source."""
        return "".join(self.templates)


# What fills a place: a figure, words of the owner, or a sentence of its own.
Filling = Figure | str | Sentence


def message(template: str, *more: str, **figures: Filling) -> Sentence:
    """A sentence from its parts (an empty one is none) and what fills their places."""
    return Sentence(template, tuple(figures.items()), tuple(part for part in more if part))


class Fault(ValueError):
    """What cannot be, as a template with places (`{0}`) for `values`: whoever shows it translates it."""

    def __init__(self, template: str, *values: object) -> None:
        super().__init__(template.format(*values))
        self.template, self.values = template, values
