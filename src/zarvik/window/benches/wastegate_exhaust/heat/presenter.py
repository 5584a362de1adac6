"""What the page of heat shows: rows of the hot side, readings of probes, in the owner's units."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from zarvik.core.heat.clearance import THINGS
from zarvik.project.heat.hot_parts import HotSideReport, place_words, told_boss, told_hung
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure, render, rough_figure

ENTRIES = ("fittings.exhaust_wall", "fittings.probe_diameter", "fittings.probe_depth", "fittings.turbo_mass", "fittings.turbo_support")
HEADS = ("loss", "power cost", "gas", "metal")
NBSP = "\u00a0"
WITHOUT = 20.0  # W: less than that is nothing to tell


@dataclass(frozen=True)
class Row:
    """A piece: its `title`, texts of the columns, `skin` K (nan where it has no wall), the `gap` in m to what stands near and that
    behind a shield, and the gap in `words`."""

    title: str
    cells: tuple[str, ...]
    skin: float
    gap: float
    shielded: float
    words: str


def rows(found: HotSideReport, thing: int, units: Mapping[str, str]) -> tuple[Row, ...]:
    """A row for each piece; `thing`: place in `THINGS` of what stands near."""
    made = []
    for piece in found.parts.pieces:
        title = tr("Turbine housing") if piece.run == "turbine" else found.titles.get(piece.id, piece.id)
        cost = "–" if piece.cost != piece.cost or abs(piece.cost) < WITHOUT else rough_figure(piece.cost, "power", units)
        hot = figure(piece.metal, "temperature", units) if piece.metal == piece.metal else "–"
        cells = (figure(piece.drop, "pressure_difference", units), cost, figure(piece.gas, "temperature", units), hot)
        gap, shielded = piece.gaps[thing] if piece.gaps else (0.0, 0.0)
        words = clearance_words(gap, shielded, units) if piece.gaps else ""
        made.append(Row(title, cells, piece.skin, gap, shielded, words))
    return tuple(made)


def clearance_words(bare: float, shielded: float, units: Mapping[str, str]) -> str:
    """The least gaps in m from a bare hot part and from one behind a shield, in words."""
    if math.isinf(shielded):
        return tr("bay too hot")
    if math.isinf(bare):
        return tr_format("shield: {0}", rough_figure(shielded, "length", units))
    if bare - shielded < 0.003:
        return rough_figure(bare, "length", units)
    return f"{rough_figure(bare, 'length', units).split(NBSP)[0]} / {rough_figure(shielded, 'length', units)}"


def row_words(row: Row) -> str:
    """A row in words."""
    return f"{row.title}: {', '.join(f'{tr(head)} {cell}' for head, cell in zip(HEADS, row.cells, strict=True))}, {row.words}"


def probe_lines(found: HotSideReport, units: Mapping[str, str]) -> tuple[str, ...]:
    """What a probe shows where, and what is to be added to come to the gas before the turbine."""
    lines = []
    for probe in found.parts.probes:
        more = figure(abs(probe.add), "temperature_difference", units)
        words = tr_format("add {0}", more) if probe.add > 0.0 else tr_format("subtract {0}", more)
        lines.append(
            tr_format(
                "{0}: gas of {1} reads {2}, {3:.0f} s lag; compared with the gas in the collector {4}"
                if found.driven
                else "{0}: gas of {1} reads {2}, {3:.0f} s lag; compared with the gas before the turbine {4}",
                place_words(found, probe.place),
                figure(probe.gas, "temperature", units),
                figure(probe.shown, "temperature", units),
                probe.late,
                words,
            )
        )
    return tuple(lines)


def sentences(found: HotSideReport, units: Mapping[str, str]) -> tuple[str, ...]:
    """Where the lambda probe goes, how it is hung, and what is to be known."""
    return tuple(render(s, units) for s in (told_boss(found), *told_hung(found), *found.notes))


def headline(found: HotSideReport, units: Mapping[str, str]) -> str:
    """What the exhaust costs in all."""
    whole = found.parts.whole
    if whole != whole:
        return ""
    return tr_format("The exhaust costs {0} at {1}", figure(whole, "power", units), figure(found.parts.speed, "rotation", units))


def things() -> tuple[str, ...]:
    """What may stand near, with what it stands."""
    return tuple(tr(thing.title) for thing in THINGS)
