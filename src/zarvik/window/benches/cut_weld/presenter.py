"""What the Cut & weld bench shows, without a window."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.fabrication.drawing import Drawing
from zarvik.core.fabrication.nesting import Nested
from zarvik.formats import bench_lists
from zarvik.formats.drawings import pages_of
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import METALS, PIPE, Stock
from zarvik.project.edits.edits import completed
from zarvik.project.fabrication.cut_list import CutList, tube_words
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.manifold.making import block_lines
from zarvik.project.units.rendering import render, ruled

STOCK_FIELDS = {
    "tube": ("kind", "tube", "wall", "material", "length", "count", "price", "note"),
    "bend": ("kind", "tube", "wall", "material", "radius", "angle", "leg_length", "count", "price", "note"),
    "ring": ("kind", "tube", "wall", "material", "radius", "angle", "count", "price", "note"),
    PIPE: ("kind", "tube", "wall", "material", "radius", "bends", "count", "price", "note"),
    "block": ("kind", "tube", "length", "count", "note"),
    "arc": ("kind", "tube", "radius", "angle", "count", "note"),
}
BLOCKS = ("block", "arc")  # of a kit that primaries are tried with, not cut
SHOP = ("workshop.kerf", "workshop.allowance")


@dataclass(frozen=True)
class Block:
    """A block of text: its `title` and `lines`; `soft`: said beside the work."""

    title: str
    lines: tuple[str, ...]
    soft: bool = False


@dataclass(frozen=True, eq=False)
class Strip:
    """A bar of stock as it is drawn: its name, how long it is, the pieces that are cut from it (name, length) and what
    is left, m; `bought`: it is not in the shop. `title`: of the group that it begins, else empty."""

    name: str
    length: float
    pieces: tuple[tuple[str, float], ...]
    left: float
    bought: bool
    title: str = ""


def blocks(project: Project, found: CutList) -> list[Block]:
    """The cut list in blocks: each run, what has to be bought, what cannot be cut, the order of tacking."""
    made, units = [], project.shown_units
    for run in found.runs:
        if run.cuts:
            lines = tuple(f"{n}  {visible(cut.name)}: {bench_lists.piece(cut, units)}" for n, cut in enumerate(run.cuts, 1))
            made.append(Block(run.title, (*lines, bench_lists.sums(run, units))))
    if found.faults:
        made.insert(0, Block(tr("Cannot be cut"), tuple(visible(f) for f in found.faults)))
    kit = block_lines(project)
    if kit:
        made.append(Block(tr("Modelling blocks"), kit))
    if found.order:
        steps = (f"{n}  {render(row, project.shown_units)}" for n, row in enumerate(found.order, 1))
        made.append(Block(tr("Tacking order"), tuple(steps)))
    made.append(Block("", (tr("Measure in the car before you cut: a drawing does not know your car."),), soft=True))
    return made


def bought(found: CutList, units: Mapping[str, str]) -> str:
    """What has to be bought, a line each, in the owner's `units`."""
    items = [f"{count} × {visible(name)}, {tube}" for name, tube, count in bench_lists.bought_of(found, units)]
    return "\n".join([tr("To buy"), *items]) if items else tr("Nothing to buy")


def strips(found: CutList, units: Mapping[str, str]) -> list[Strip]:
    """Every bar that is cut, tube first, then bends along their middle."""
    made: list[Strip] = []
    for tube, nested in found.nested.items():
        made += _of(nested, found.names[tube], tr_format("Tube {0}", tube_words(tube, units)))
    for (tube, radius), nested in found.bends.items():
        made += _of(
            nested, found.names[tube, radius], tr_format("Bends {0}, R {1}", tube_words(tube, units), ruled(radius, units, places=0))
        )
    return made


def _of(nested: Nested, names: Sequence[str], title: str) -> list[Strip]:
    return [
        Strip(
            visible(bar.stock.name),
            bar.stock.length,
            tuple(zip((visible(names[i]) for i in bar.pieces), _lengths(nested, n), strict=True)),
            bar.left,
            bar.stock.count < 0,
            title if n == 0 else "",
        )
        for n, bar in enumerate(nested.bars)
    ]


def _lengths(nested: Nested, number: int) -> tuple[float, ...]:
    """Lengths of the pieces of a bar, m."""
    return nested.bars[number].lengths


def new_stock(project: Project, kind: str, found: CutList | None) -> tuple[Project, str]:
    """The document with a new line of stock, of the tube that the first run of that kind in the cut list needs, where
    that is known; its key too."""
    taken = {s.id for s in project.stock}
    key = next(f"stock{n}" for n in itertools.count(1) if f"stock{n}" not in taken)
    fields: dict[str, str] = {"id": key, "kind": kind}
    bends = found.bends if found is not None else {}
    tubes = found.nested if found is not None else {}
    sizes = list(tubes) if kind == "tube" else [tube for tube, _ in bends]
    if sizes:
        fields |= {"tube": f"{1e3 * sizes[0].outside:.4g} mm", "wall": f"{1e3 * sizes[0].wall:.3g} mm", "material": sizes[0].material}
    if kind != "tube" and bends:
        fields["radius"] = f"{1e3 * next(iter(bends))[1]:.4g} mm"
    if kind == "ring":
        fields |= {"angle": "45 °"}
    if kind == PIPE:
        fields |= {"bends": "300 90; 250 45; 300"}
    if kind in BLOCKS:
        fields |= {"material": "", "wall": "0 mm", "count": "0", "length": "25.4 mm", "angle": "30 °"}
    line = Stock.model_validate(fields)
    return completed(project.model_copy(update={"stock": (*project.stock, line)})), key


def without_stock(project: Project, key: str) -> Project:
    """The document without a line of stock."""
    return completed(project.model_copy(update={"stock": tuple(s for s in project.stock if s.id != key)}))


def stock_words(line: Stock) -> str:
    """A line of stock in words."""
    if line.kind in BLOCKS:
        count = tr_format("{0} ×", line.count) if line.count.si else tr("any number of")
        if line.kind == "block":
            text = tr_format("{0} straight block {1}, {2}", count, line.tube, line.length)
        else:
            text = tr_format("{0} curved block {1}, R {2}, {3}", count, line.tube, line.radius, line.angle)
        return f"{text} ({line.note})" if line.note else text
    count = tr_format("{0} ×", line.count) if line.count.si else tr("buy")
    if line.kind == "tube":
        text = tr_format("{0} tube {1}, {2}", count, line.tube, line.length)
    elif line.kind == PIPE:
        text = tr_format("{0} pipe with bends {1}, R {2}: {3}", count, line.tube, line.radius, line.bends)
    else:
        text = tr_format("{0} bend {1}, R {2}, {3}", count, line.tube, line.radius, line.angle)
    metal = tr(dict(METALS)[line.material]) if line.material else tr("material unknown")
    text = tr_format("{0}, {1}", text, metal)
    return f"{text} ({line.note})" if line.note else text


def size_words(project: Project, drawing: Drawing, say) -> str:  # type: ignore[no-untyped-def]
    """How large a drawing is, and how many pages it takes."""
    wide, tall = drawing.size
    across, down = pages_of(drawing)
    pages = tr("one page") if across * down == 1 else tr_format("{0} pages", across * down)
    return tr_format("{0} × {1}, {2}", say(wide, "length"), say(tall, "length"), pages)
