"""Lists for the bench: the cut list as text, bend tables as CSV."""

from __future__ import annotations

import csv
import io
import math

from zarvik.project.cut_list import HOSE, Cut, CutList, RunCuts
from zarvik.project.document import Project
from zarvik.project.language import told, tr
from zarvik.project.places import RUN_TITLES
from zarvik.project.plain import visible


def _mm(value: float) -> str:
    return f"{1e3 * value:.1f}".removesuffix(".0")


def _degrees(value: float) -> str:
    return f"{math.degrees(value):.1f}".removesuffix(".0")


def bends(found: CutList) -> str:
    """Every run as a tube bender takes it, as CSV: run, row, feed mm, rotation degrees, angle degrees, centre-line radius
    mm; the last row of a run is the straight behind its last bend."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(("run", "row", "feed_mm", "rotation_deg", "angle_deg", "radius_mm"))
    for run in found.runs:
        for number, row in enumerate(run.table, 1):
            figures = 1e3 * row.feed, math.degrees(row.rotation), math.degrees(row.angle), 1e3 * row.radius
            table.writerow((run.run, number, *(f"{v:.2f}" for v in figures)))
    return out.getvalue()


def cuts(found: CutList, project: Project) -> str:
    """The cut list as text: pieces of each run with their marks, welds, what it weighs, how the straights are cut from
    stock, and the bends that have to be there."""
    lines = [told("Cut list: {0}", visible(project.name)), ""]
    for run in found.runs:
        if not run.cuts:
            continue
        lines.append(tr(RUN_TITLES[run.run]))
        for number, cut in enumerate(run.cuts, 1):
            lines.append(f"  {number}  {visible(cut.name)}: {_piece(cut)}")
        lines.append(_sums(run))
        lines.append("")
    lines.append(tr("Straights from stock (saw 2 mm)"))
    for tube, nested in found.nested.items():
        for bar in nested.bars:
            lines.append("  " + told("{0} mm tube, {1}: {2} pieces, {3} mm left", _mm(tube), bar.stock.name, len(bar.pieces), _mm(bar.left)))
    lines.append(tr("Bends"))
    for (tube, radius, turn), count in sorted(found.bends.items()):
        lines.append("  " + told("{0} of {1} mm tube, {2} mm radius, {3}°", count, _mm(tube), _mm(radius), _degrees(turn)))
    lines += ["", tr("Measure in the car before you cut: a drawing knows nothing of the one that stands there.")]
    return "\n".join(lines) + "\n"


def _piece(cut: Cut) -> str:
    if cut.kind == HOSE:
        return told("hose or plastic over {0} mm, {1} mm long", _mm(cut.tube), _mm(cut.length))
    if not cut.angle:
        return told("{0} mm tube, {1} mm long", _mm(cut.tube), _mm(cut.length))
    text = told("{0} mm tube, {1}° at {2} mm radius, {3} mm along its middle", _mm(cut.tube), _degrees(cut.angle),
                _mm(cut.radius), _mm(cut.length))  # fmt: skip
    if cut.roll is None:
        return text
    if abs(cut.roll) < 1e-6:
        return text + ", " + tr("scribe line as the bend before")
    side = tr("clockwise") if cut.roll > 0.0 else tr("anticlockwise")
    return text + ", " + told("scribe line {0}° {1} of the bend before, seen along the flow", _degrees(abs(cut.roll)), side)


def _sums(run: RunCuts) -> str:
    x, y, z = (_mm(float(v)) for v in run.end.origin)
    return "  " + told(
        "{0} welds, {1} mm in all; {2:.1f} kg of steel, {3:.1f} L; ends {4} mm along, {5} mm to the side of its first bend, {6} mm up",
        run.welds, _mm(run.weld_length), run.mass, 1e3 * run.volume, z, x, y,
    )  # fmt: skip


