"""Lists for the bench: the cut list as text, bend tables as CSV."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Mapping

from zarvik.core.common.sentences import Fault
from zarvik.core.fabrication.nesting import Nested
from zarvik.core.layout.run import Row
from zarvik.project.document.document import Project
from zarvik.project.fabrication.cut_list import HOSE, Cut, CutList, RunCuts, Tube, tube_words
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.manifold.making import block_lines
from zarvik.project.units.rendering import render, ruled
from zarvik.project.units.units import show


def _degrees(value: float) -> str:
    return f"{math.degrees(value):.1f}".removesuffix(".0")


COLUMNS = ("run", "row", "feed_mm", "rotation_deg", "angle_deg", "radius_mm")


def bends(found: CutList) -> str:
    """Every run as a tube bender takes it, as CSV: run, row, feed mm, rotation degrees, angle degrees, centreline radius
    mm; the last row of a run is the straight behind its last bend."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for run in found.runs:
        for number, row in enumerate(run.table, 1):
            figures = 1e3 * row.feed, math.degrees(row.rotation), math.degrees(row.angle), 1e3 * row.radius
            table.writerow((run.run, number, *(f"{v:.2f}" for v in figures)))
    return out.getvalue()


def read_bends(text: str) -> tuple[Row, ...]:
    """A bend table from CSV as it is written, or of four plain columns (feed mm, rotation, angle in degrees, radius mm);
    of several runs the first. Raises Fault with the line that cannot be read."""
    rows: list[Row] = []
    first = ""
    for number, line in enumerate(csv.reader(io.StringIO(text)), 1):
        cells = [c.strip() for c in line]
        if not any(cells) or (rows == [] and not _number(cells[-1])):
            continue
        if len(cells) == 6:
            if first and cells[0] != first:
                break
            first = cells[0]
            cells = cells[2:]
        if len(cells) != 4 or not all(_number(c) for c in cells):
            raise Fault("line {0}: four numbers are needed: feed mm, rotation °, angle °, radius mm", number)
        feed, rotation, angle, radius = (float(c) for c in cells)
        if not (0.0 <= feed <= 1e4 and abs(rotation) <= 720.0 and 0.0 <= angle <= 180.0 and 0.0 <= radius <= 4000.0):
            raise Fault("line {0}: limits are a feed of 0 to 10 m, a bend of 0 to 180° and a radius up to 4 m", number)
        if angle > 0.0 and radius <= 0.0:
            raise Fault("line {0}: a bend needs a centreline radius", number)
        rows.append(Row(feed / 1e3, math.radians(rotation), math.radians(angle), radius / 1e3))
        if len(rows) > 100:
            raise Fault("line {0}: a bend table can have at most 100 rows", number)
    if not rows:
        raise Fault("it has no row of a bend table")
    return tuple(rows)


def _number(text: str) -> bool:
    try:
        return math.isfinite(float(text))
    except ValueError:
        return False


def cuts(found: CutList, project: Project) -> str:
    """The cut list as text: pieces of each run with their marks, welds, what it weighs, how straights and bends are cut
    from stock, what has to be bought, and the order of tacking."""
    units = project.shown_units
    kerf, more = (ruled(size.si, units) for size in (project.workshop.kerf, project.workshop.allowance))
    lines = [tr_format("Cut list: {0}", visible(project.name)), ""]
    for run in found.runs:
        if not run.cuts:
            continue
        lines.append(run.title)
        for number, cut in enumerate(run.cuts, 1):
            lines.append(f"  {number}  {visible(cut.name)}: {piece(cut, units)}")
        lines.append("  " + sums(run, units))
        lines.append("")
    lines.append(tr_format("Straights from stock (saw {0}, {1} trim allowance each)", kerf, more))
    for tube, nested in found.nested.items():
        lines += [f"  {tube_words(tube, units)}", *bars(nested, found.names[tube], units)]
    lines.append(tr("Bends from stock, along the centreline"))
    for (tube, radius), nested in found.bends.items():
        lines += [f"  {bend_words(tube, radius, units)}", *bars(nested, found.names[tube, radius], units)]
    bought = bought_of(found, units)
    if bought:
        lines += [tr("To buy"), *(f"  {count} × {visible(name)}: {tube}" for name, tube, count in bought)]
    lines += [f"{tr('Not to be cut')}: {visible(fault)}" for fault in found.faults]
    lines.append(tr_format("About {0:.0f} hours of cutting and welding, catalogue figures", found.hours))
    kit = block_lines(project)
    if kit:
        lines += ["", tr("Modelling blocks"), *(f"  {line}" for line in kit)]
    if found.order:
        lines += ["", tr("Tacking order")]
        lines += [f"  {n}  {render(row, project.shown_units)}" for n, row in enumerate(found.order, 1)]
    lines += ["", tr("Measure in the car before you cut: a drawing does not know your car.")]
    return "\n".join(lines) + "\n"


def bars(nested: Nested, names: tuple[str, ...], units: Mapping[str, str]) -> list[str]:
    """How each bar is cut, one line each, lengths in the owner's `units`."""
    found = []
    for bar in nested.bars:
        pieces = " + ".join(visible(names[i]) for i in bar.pieces)
        found.append("    " + tr_format("{0}: {1}; {2} left", visible(bar.stock.name), pieces, ruled(bar.left, units)))
    return found


def bend_words(tube: Tube, radius: float, units: Mapping[str, str]) -> str:
    """A bend as it is asked for in a shop: its tube and centreline radius (m), in the owner's `units`."""
    return tr_format("{0}, {1} radius", tube_words(tube, units), ruled(radius, units))


def bought_of(found: CutList, units: Mapping[str, str]) -> list[tuple[str, str, int]]:
    """What has to be bought: name, size of tube in words, how many."""
    counts: dict[tuple[str, str], int] = {}
    for tube, nested in found.nested.items():
        for bar in nested.bars:
            if bar.stock.count < 0:
                key = bar.stock.name, tube_words(tube, units)
                counts[key] = counts.get(key, 0) + 1
    for (tube, radius), nested in found.bends.items():
        for bar in nested.bars:
            if bar.stock.count < 0:
                key = bar.stock.name, bend_words(tube, radius, units)
                counts[key] = counts.get(key, 0) + 1
    return [(name, tube, count) for (name, tube), count in counts.items()]


def piece(cut: Cut, units: Mapping[str, str]) -> str:
    """A piece with its marks, in words, lengths in the owner's `units`."""

    def long(value: float) -> str:
        return ruled(value, units)

    if cut.kind == HOSE:
        return tr_format("hose or plastic over {0}, {1} long", long(cut.tube), long(cut.length))
    if not cut.angle:
        text = tr_format("{0} tube, {1} long", long(cut.tube), long(cut.length))
        return text + ", " + tr("the leg of the next bend: no weld") if cut.in_leg else text
    text = tr_format(
        "{0} tube, {1}° at {2} radius, {3} along the centreline", long(cut.tube), _degrees(cut.angle), long(cut.radius), long(cut.length)
    )
    if cut.kind == "bend":
        # What a rule and a square find on a bend: chord, and from end to corner
        chord, tangent = 2.0 * cut.radius * math.sin(0.5 * cut.angle), cut.radius * math.tan(0.5 * min(cut.angle, 3.0))
        text += ", " + tr_format("chord {0}", long(chord))
        if cut.angle < math.radians(150.0):
            text += ", " + tr_format("{0} from its end to the corner", long(tangent))
        outer, inner = (cut.radius + 0.5 * cut.tube) * cut.angle, (cut.radius - 0.5 * cut.tube) * cut.angle
        text += ", " + tr_format("{0} outside, {1} inside", long(outer), long(max(inner, 0.0)))
    if cut.pie is not None:
        p = cut.pie
        text += ", " + tr_format(
            "{0} cuts of {1}°: pieces {2} long outside, {3} inside", p.count, _degrees(p.turn), long(p.long_side), long(p.short_side)
        )
    for leg, words in zip(cut.legs, (tr("leave {0} of leg before it"), tr("leave {0} of leg after it")), strict=True):
        if leg > 0.0:
            text += ", " + words.format(long(leg))
    if cut.first is not None:
        if abs(cut.first) < 1e-6:
            return text + ", " + tr("starts straight up, seen along the flow")
        side = tr("clockwise") if cut.first > 0.0 else tr("anticlockwise")
        return (
            text
            + ", "
            + tr_format("rotate {0}° {1} from straight up, seen along the flow from the start of the pipe", _degrees(abs(cut.first)), side)
        )
    if cut.roll is None:
        return text
    if abs(cut.roll) < 1e-6:
        return text + ", " + tr("scribe line in line with the bend before")
    side = tr("clockwise") if cut.roll > 0.0 else tr("anticlockwise")
    return (
        text
        + ", "
        + tr_format(
            "scribe line {0}° {1} of the bend before, seen along the flow ({2} around the tube)",
            _degrees(abs(cut.roll)),
            side,
            long(0.5 * cut.tube * abs(cut.roll)),
        )
    )


def sums(run: RunCuts, units: Mapping[str, str]) -> str:
    """What a run comes to, in words, lengths in the owner's `units`."""
    x, y, z = (ruled(float(v), units) for v in run.end.origin)
    return tr_format(
        ("{0}, {1} total; {2}, {3}, about {4:.1f} h; ends {5} along, {6} to the side of its first bend, {7} across"),
        welds(run.welds),
        ruled(run.weld_length, units),
        show(run.mass, "mass", units.get("mass"), places=1),
        show(run.volume, "volume", units.get("volume"), places=1),
        run.hours,
        z,
        x,
        y,
    )


def welds(count: int) -> str:
    """So many welds, in words."""
    return tr("1 weld") if count == 1 else tr_format("{0} welds", count)
