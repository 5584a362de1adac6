"""What the Compare bench shows, without a window."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.answer.answer import Answer
from zarvik.core.answer.summary import Entry, spread, summary
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr
from zarvik.project.units.units import show
from zarvik.project.variants import variants

APART = 0.35  # of a figure's scale: what is less apart counts as the same


@dataclass(frozen=True)
class Cell:
    """A figure of a design; `tone`: "best", "worst" or "" among its row; `note`: the difference to
    the present design, with its sign; `leads`: address of its calculation, or of the entry."""

    text: str
    tone: str = ""
    note: str = ""
    leads: str = ""


@dataclass(frozen=True)
class Row:
    """A figure or an entry over the designs; `differs`: whether it is not the same in all."""

    title: str
    cells: tuple[Cell, ...]
    differs: bool


def _difference(value: float, base: float, entry: Entry, units: Mapping[str, str]) -> str:
    change = value - base
    if not math.isfinite(change) or abs(change) < 1e-3 * entry.scale:
        return ""
    kind = {"temperature": "temperature_difference", "pressure_gauge": "pressure_difference"}.get(entry.figure.kind, entry.figure.kind)
    text = show(abs(change), kind, units.get(kind))
    # A difference that reads as nothing is none.
    return ("+" if change > 0 else "−") + text if any(c in "123456789" for c in text) else ""


def figures(answers: Sequence[Answer | None], units: Mapping[str, str]) -> list[Row]:
    """The figures of designs, those that differ most first; the first design is the present one.
    One that is not solved yet has dashes."""
    lists = [summary(a) if a is not None else None for a in answers]
    known = [entries for entries in lists if entries is not None]
    if not known:
        return []
    rows: list[tuple[float, Row]] = []
    for i, entry in enumerate(known[0]):
        apart = spread([entries[i] for entries in known])
        values = [entries[i].figure.value if entries is not None else math.nan for entries in lists]
        finite = [v for v in values if math.isfinite(v)]
        best = worst = math.nan
        if entry.better and len(finite) > 1 and apart > APART:
            best, worst = max(finite), min(finite)
            if entry.better < 0:
                best, worst = worst, best
        texts = [show(v, entry.figure.kind, units.get(entry.figure.kind)) for v in values]
        tones = ["best" if v == best else "worst" if v == worst else "" for v in values]
        # What reads the same is not told apart.
        tones = [
            tone if {b for t, b in zip(texts, tones, strict=True) if t == text} == {tone} else ""
            for text, tone in zip(texts, tones, strict=True)
        ]
        cells = tuple(
            Cell(texts[n], tones[n], _difference(v, values[0], entry, units) if n else "", row[i].figure.address if row is not None else "")
            for n, (v, row) in enumerate(zip(values, lists, strict=True))
        )
        rows.append((apart, Row(tr(entry.title), cells, apart > APART)))
    rows.sort(key=lambda r: -r[0])
    return [row for _, row in rows]


def entries(present: Project, designs: Sequence[Project]) -> list[Row]:
    """Every entry in which one of the designs differs from the present one."""
    found: dict[str, tuple[str, str, dict[int, str]]] = {}
    for number, design in enumerate(designs):
        for d in variants.differences(present, design):
            found.setdefault(d.place, (d.title, d.one, {}))[2][number] = d.two
    return [
        Row(
            title,
            (
                Cell(here, leads=f"={place}"),
                *(Cell(others.get(n, here), "other" if n in others else "", leads=f"={place}") for n in range(len(designs))),
            ),
            True,
        )
        for place, (title, here, others) in found.items()
    ]
