"""Drawings as DXF, SVG and PDF, all at their true size; PDF over as many pages as it takes."""

from __future__ import annotations

import io
import math
import xml.etree.ElementTree as ET
from collections.abc import Callable, Sequence
from importlib import resources
from typing import Any

from zarvik.core.common.sentences import Fault
from zarvik.core.fabrication.drawing import CUT, LAYERS, MARK, WELD, WORDS, Drawing
from zarvik.formats.paper_stamp import PaperStamp
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.units.rendering import render

MM = 1000.0
MOST_PAGES = 50  # of one drawing
# A4 and what no printer of a garage prints on, m
PAPER, MARGIN = (0.210, 0.297), 0.010
FOOT = 0.0088  # m under the drawing: what the page is of, and a bar to lay a rule on
LOW = MARGIN + FOOT
BAR = 0.050  # m
HEAD = 0.016  # m above the drawing for its words
OVERLAP = 0.010  # m that pages lie on each other
LINE, CROSS = 0.0045, 0.012  # m from one line of words to the next; that a cross takes of a corner
SQUARE = 0.100  # m, the control square
_DXF_COLOURS = {CUT: 7, MARK: 5, WELD: 1, WORDS: 3}
_SVG_COLOURS = {CUT: "#000000", MARK: "#2b6f95", WELD: "#a3211b", WORDS: "#5a5c60"}
_LINES = {CUT: 0.35, MARK: 0.18, WELD: 0.18, WORDS: 0.18}  # mm


def dxf(drawing: Drawing, units: dict[str, str]) -> str:
    """A `drawing` as DXF (R2010, mm; layers cut, mark, weld, words); `units` that its words are shown in."""
    import ezdxf
    from ezdxf import units as dxf_units

    document = ezdxf.new("R2010", setup=False)
    document.units = dxf_units.MM
    for layer in LAYERS:
        document.layers.add(layer, color=_DXF_COLOURS[layer])
    space = document.modelspace()
    for path in drawing.paths:
        space.add_lwpolyline([(float(x) * MM, float(y) * MM) for x, y in path.points], close=path.closed, dxfattribs={"layer": path.layer})
    for c in drawing.circles:
        space.add_circle((c.x * MM, c.y * MM), c.radius * MM, dxfattribs={"layer": c.layer})
    for note in drawing.notes:
        words = visible(render(note.words, units))
        space.add_text(words, height=note.height * MM, dxfattribs={"layer": WORDS}).set_placement((note.x * MM, note.y * MM))
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def svg(drawing: Drawing, units: dict[str, str]) -> str:
    """A `drawing` as SVG, a user unit a millimetre; `units` that its words are shown in."""
    left, low, right, high = (v * MM for v in drawing.box)
    wide, tall = max(right - left, 1.0), max(high - low, 1.0)
    root = ET.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "version": "1.1",
            "width": f"{wide:.3f}mm",
            "height": f"{tall:.3f}mm",
            "viewBox": f"0 0 {wide:.3f} {tall:.3f}",
        },
    )
    ET.SubElement(root, "title").text = visible(render(drawing.title, units))
    groups = {
        layer: ET.SubElement(root, "g", {"id": layer, "fill": "none", "stroke": _SVG_COLOURS[layer], "stroke-width": f"{_LINES[layer]}"})
        for layer in LAYERS
    }
    for path in drawing.paths:
        points = " L".join(f"{x * MM - left:.4f},{high - y * MM:.4f}" for x, y in path.points)
        ET.SubElement(groups[path.layer], "path", {"d": f"M{points}" + ("Z" if path.closed else "")})
    for c in drawing.circles:
        ET.SubElement(
            groups[c.layer], "circle", {"cx": f"{c.x * MM - left:.4f}", "cy": f"{high - c.y * MM:.4f}", "r": f"{c.radius * MM:.4f}"}
        )
    for note in drawing.notes:
        word = ET.SubElement(
            groups[WORDS],
            "text",
            {
                "x": f"{note.x * MM - left:.3f}",
                "y": f"{high - note.y * MM:.3f}",
                "font-size": f"{note.height * MM:.2f}",
                "font-family": "sans-serif",
                "stroke": "none",
                "fill": _SVG_COLOURS[WORDS],
            },
        )
        word.text = visible(render(note.words, units))
    return ET.tostring(root, encoding="unicode") + "\n"


class _Pages:
    """A PDF that is being drawn, origin and lengths in m."""

    def __init__(self, title: str, mark: PaperStamp) -> None:
        from reportlab.lib.units import mm
        from reportlab.pdfbase import pdfmetrics
        from reportlab.pdfbase.ttfonts import TTFont
        from reportlab.pdfgen.canvas import Canvas

        if "ZarvikSans" not in pdfmetrics.getRegisteredFontNames():
            folder = resources.files("zarvik.window") / "theme" / "fonts"
            for name in ("Regular", "SemiBold"):
                data = io.BytesIO((folder / f"ZarvikSans-{name}.ttf").read_bytes())
                pdfmetrics.registerFont(TTFont("ZarvikSans" if name == "Regular" else "ZarvikSansBold", data))
        self.unit = 1000.0 * mm
        self.out = io.BytesIO()
        self.canvas: Any = Canvas(self.out, pagesize=(PAPER[0] * self.unit, PAPER[1] * self.unit), invariant=1)
        self.canvas.setTitle(title)
        self.canvas.setCreator("Zarvik")
        self.mark = mark
        self._kept: list[dict[str, Any]] = []  # the pages as they were left: how many there are is known at the end

    def line(self, points: Sequence[tuple[float, float]], layer: str, closed: bool = False) -> None:
        """A line through points in m."""
        c = self.canvas
        self._pen(layer)
        path = c.beginPath()
        path.moveTo(points[0][0] * self.unit, points[0][1] * self.unit)
        for x, y in points[1:]:
            path.lineTo(x * self.unit, y * self.unit)
        if closed:
            path.close()
        c.drawPath(path, stroke=1, fill=0)

    def circle(self, x: float, y: float, radius: float, layer: str) -> None:
        """A circle, m."""
        self._pen(layer)
        self.canvas.circle(x * self.unit, y * self.unit, radius * self.unit, stroke=1, fill=0)

    def _pen(self, layer: str) -> None:
        c = self.canvas
        c.setStrokeColor(_SVG_COLOURS[layer])
        c.setLineWidth(_LINES[layer] * self.unit / 1000.0)

    def words(self, x: float, y: float, text: str, height: float, *, bold: bool = False) -> None:
        """Words at a place, m high."""
        self.canvas.setFillColor("#23262b")
        self.canvas.setFont("ZarvikSansBold" if bold else "ZarvikSans", height * self.unit)
        self.canvas.drawString(x * self.unit, y * self.unit, text)

    def wide(self, text: str, height: float) -> float:
        """How wide words are in m."""
        return float(self.canvas.stringWidth(text, "ZarvikSans", height * self.unit)) / self.unit

    def turn(self) -> None:
        """The next page."""
        self._kept.append(dict(self.canvas.__dict__))
        self.canvas._startPage()

    def done(self) -> bytes:
        """The file, with a foot on every page."""
        for number, page in enumerate(self._kept, 1):
            self.canvas.__dict__.update(page)
            self._foot(number)
            self.canvas.showPage()
        self.canvas.save()
        return self.out.getvalue()

    def _foot(self, number: int) -> None:
        """Of which build and day a page is, and a bar that says whether it is true to scale."""
        self.words(MARGIN, MARGIN + 0.0045, self.mark.build, 0.0033, bold=True)
        self.words(MARGIN, MARGIN, self.mark.words(number, len(self._kept)), 0.003)
        right, y = PAPER[0] - MARGIN, MARGIN + 0.002
        self.line([(right - BAR, y), (right, y)], CUT)
        for x in (right - BAR, right):
            self.line([(x, y - 0.002), (x, y + 0.002)], CUT)
        self.words(right - BAR + 0.003, y + 0.0012, tr("50 mm: measure it"), 0.0028)


def _tiles(size: float, room: float) -> int:
    """How many pages a length takes that lie over each other a little."""
    return 1 if size <= room else math.ceil((size - OVERLAP) / (room - OVERLAP) - 1e-9)


def lies(drawing: Drawing) -> bool:
    """Does a `drawing` go on one page when it is turned by a quarter, and only then?"""
    wide, tall = drawing.size
    room = PAPER[0] - 2 * MARGIN, PAPER[1] - MARGIN - LOW - HEAD - 0.012
    return (wide > room[0] or tall > room[1]) and wide <= room[1] and tall <= room[0]


def pages_of(drawing: Drawing) -> tuple[int, int]:
    """How many pages across and down a `drawing` takes."""
    wide, tall = drawing.size
    if lies(drawing):
        return 1, 1
    return _tiles(wide, PAPER[0] - 2 * MARGIN), _tiles(tall, PAPER[1] - MARGIN - LOW - HEAD)


def pdf(drawings: Sequence[Drawing], mark: PaperStamp, units: dict[str, str]) -> bytes:
    """`drawings` at 1:1 on A4 in one file called as the build of a `mark`, which stands on every page: first a page with a control
    square of 100 mm and rulers, then each over as many pages as it takes, several small ones on one; words in `units`. Raises
    Fault for one that takes more than 50 pages."""
    for drawing in drawings:
        across, down = pages_of(drawing)
        if across * down > MOST_PAGES:
            raise Fault(
                "“{0}” is {1:.2f} m by {2:.2f} m: {3} pages, more than {4}; cut it from its DXF",
                visible(render(drawing.title, units)),
                *drawing.size,
                across * down,
                MOST_PAGES,
            )
    sheet = _Pages(mark.build, mark)
    _control(sheet, mark.build, len(drawings))
    left, low = MARGIN, LOW
    room = PAPER[0] - 2 * MARGIN, PAPER[1] - MARGIN - LOW
    used = room[1]  # from below, on the page that is open
    opened = False
    for drawing in drawings:
        across, down = pages_of(drawing)
        tall = drawing.size[0] if lies(drawing) else drawing.size[1]
        words = _about(sheet, drawing, units, room[0])
        need = tall + LINE * len(words) + 0.012
        if across == down == 1:
            if used + need > room[1]:
                if opened:
                    sheet.turn()
                opened, used = True, 0.0
            top = low + room[1] - used
            _head(sheet, drawing, units, left, top, words)
            _one(sheet, drawing, units, left, top - need + 0.004)
            used += need + 0.004
            continue
        if opened:
            sheet.turn()
        opened, used = False, room[1]
        under = _under(drawing, down)
        fits = under - LOW >= CROSS + LINE * (len(words) + 1)
        for row in range(down):
            for column in range(across):
                _tile(sheet, drawing, units, row, column, down, across)
                if fits and row == down - 1 and column == 0:
                    _lines_of(sheet, left, under - LINE, words)
                sheet.turn()
        if words and not fits:
            _head(sheet, drawing, units, left, low + room[1], words)
            sheet.turn()
    if opened:
        sheet.turn()
    return sheet.done()


def _about(sheet: _Pages, drawing: Drawing, units: dict[str, str], room: float) -> list[str]:
    """The words of a drawing in lines that fit."""
    found: list[str] = []
    for sentence in (*drawing.faults, *drawing.about):
        line = ""
        for word in visible(render(sentence, units)).split(" "):
            if line and sheet.wide(f"{line} {word}", 0.003) > room:
                found.append(line)
                line = word
            else:
                line = f"{line} {word}".strip()
        found.append(line)
    return found


def _under(drawing: Drawing, rows: int) -> float:
    """Where on the pages of the last of its `rows` a drawing ends, m from the lower edge."""
    room = PAPER[1] - MARGIN - LOW - HEAD
    return LOW + room - (drawing.size[1] - (rows - 1) * (room - OVERLAP))


def _lines_of(sheet: _Pages, left: float, top: float, words: Sequence[str]) -> None:
    for number, line in enumerate(words):
        sheet.words(left, top - LINE * number, line, 0.003)


def _head(sheet: _Pages, drawing: Drawing, units: dict[str, str], left: float, top: float, words: Sequence[str]) -> None:
    sheet.words(left, top - 0.004, visible(render(drawing.title, units)), 0.0038, bold=True)
    _lines_of(sheet, left, top - 0.0085, words)


def _one(sheet: _Pages, drawing: Drawing, units: dict[str, str], left: float, low: float) -> None:
    box = drawing.box
    if lies(drawing):
        c = sheet.canvas
        c.saveState()
        c.translate((left + box[3] - box[1]) * sheet.unit, low * sheet.unit)
        c.rotate(90)
        _whole(sheet, drawing, units, lambda x, y: (x - box[0], y - box[1]))
        c.restoreState()
        return
    _whole(sheet, drawing, units, lambda x, y: (left + x - box[0], low + y - box[1]))


def _whole(sheet: _Pages, drawing: Drawing, units: dict[str, str], at: Callable[[float, float], tuple[float, float]]) -> None:
    _lines(sheet, drawing, at)
    for note in drawing.notes:
        sheet.words(*at(note.x, note.y), visible(render(note.words, units)), note.height)


def _lines(sheet: _Pages, drawing: Drawing, at: Callable[[float, float], tuple[float, float]]) -> None:
    for path in drawing.paths:
        sheet.line([at(float(x), float(y)) for x, y in path.points], path.layer, path.closed)
    for c in drawing.circles:
        sheet.circle(*at(c.x, c.y), c.radius, c.layer)


ASIDE = 0.013  # m that words go up when they find no room beside a place: over the ring of a post


def _tile(sheet: _Pages, drawing: Drawing, units: dict[str, str], row: int, column: int, rows: int, columns: int) -> None:
    """One page of a drawing that is larger than one, with corners to lay it to the next."""
    room = PAPER[0] - 2 * MARGIN, PAPER[1] - MARGIN - LOW - HEAD
    box = drawing.box
    x0 = box[0] + column * (room[0] - OVERLAP)
    y1 = box[3] - row * (room[1] - OVERLAP)
    low = LOW
    c = sheet.canvas
    c.saveState()
    path = c.beginPath()
    path.rect(MARGIN * sheet.unit, low * sheet.unit, room[0] * sheet.unit, room[1] * sheet.unit)
    c.clipPath(path, stroke=0, fill=0)

    def at(x: float, y: float) -> tuple[float, float]:
        return MARGIN + x - x0, low + room[1] - (y1 - y)

    _lines(sheet, drawing, at)
    c.restoreState()
    # The knife goes through the crosses: words stand whole on the one page that keeps their place
    left = MARGIN + (0.5 * OVERLAP if column else 0.0)
    right = MARGIN + room[0] - (0.5 * OVERLAP if column < columns - 1 else 0.0)
    bottom = low + (0.5 * OVERLAP if row < rows - 1 else 0.0)
    top = low + room[1] - (0.5 * OVERLAP if row else 0.0)
    for note in drawing.notes:
        x, y = at(note.x, note.y)
        if left <= x < right and bottom <= y < top:
            text = visible(render(note.words, units))
            over = x + sheet.wide(text, note.height) + 0.001 - right
            if over > 0.0:
                # Over what they name instead of beside it
                x, y = x - over, y if note.along else min(y + ASIDE, top - note.height)
            sheet.words(x, y, text, note.height)
    name = tr_format("{0}: page {1} of {2}", visible(render(drawing.title, units)), row * columns + column + 1, rows * columns)
    sheet.words(MARGIN, PAPER[1] - MARGIN - 0.005, name, 0.0038, bold=True)
    sheet.words(MARGIN, PAPER[1] - MARGIN - 0.011, tr("Cut along the crosses, overlap the pages at the crosses"), 0.003)
    for i in (0, 1):
        for j in (0, 1):
            # Crosses half the overlap in from where pages meet: those of two pages lie on each other.
            x = MARGIN + (room[0] - 0.5 * OVERLAP if i else 0.5 * OVERLAP)
            y = low + (room[1] - 0.5 * OVERLAP if j else 0.5 * OVERLAP)
            sheet.line([(x - 0.004, y), (x + 0.004, y)], MARK)
            sheet.line([(x, y - 0.004), (x, y + 0.004)], MARK)


def _control(sheet: _Pages, title: str, count: int) -> None:
    """The page that says whether the printer keeps the size."""
    top = PAPER[1] - MARGIN
    sheet.words(MARGIN, top - 0.008, visible(title), 0.006, bold=True)
    lines = (
        tr("Print at 100 %, “actual size”, not “fit to page”."),
        tr("Measure the square below: 100 mm each way. If not, no page is true to scale."),
        tr("Measure both ways: printers stretch paper more in one direction."),
        tr_format("{0} drawings follow.", count),
        tr("A drawing does not know your part: hold it on before you cut."),
    )
    for number, line in enumerate(lines):
        sheet.words(MARGIN, top - 0.018 - 0.0055 * number, line, 0.0036)
    x, y = 0.5 * (PAPER[0] - SQUARE), 0.095
    sheet.line([(x, y), (x + SQUARE, y), (x + SQUARE, y + SQUARE), (x, y + SQUARE)], CUT, True)
    for ten in range(11):
        at = 0.01 * ten
        deep = 0.006 if ten % 5 == 0 else 0.003
        sheet.line([(x + at, y), (x + at, y + deep)], MARK)
        sheet.line([(x, y + at), (x + deep, y + at)], MARK)
    sheet.words(x + 0.04, y + 0.048, "100 mm", 0.005)
    sheet.turn()
