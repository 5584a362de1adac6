"""Templates, flanges and bodies: against bodies that are really cut (manifold3d), closed forms, and files read back by
other libraries."""

from __future__ import annotations

import dataclasses
import io
import math
import re
import xml.etree.ElementTree as ET

import manifold3d
import numpy as np
import pdfplumber
import pytest
import trimesh
from shapely.geometry import MultiPoint, Point, Polygon

from zarvik.core.common.sentences import Fault, message
from zarvik.core.fabrication.dimensions import FIT
from zarvik.core.fabrication.drawing import CUT, MARK, WORDS, Circle, Drawing, Path, polyline, rectangle, translated
from zarvik.core.fabrication.flange import (
    Bolts,
    FlangeSizes,
    contour,
    faults,
    fixture,
    flange,
    gasket,
    holes,
    inlet_flange,
    inlet_holes,
    port_line,
)
from zarvik.core.fabrication.strips import merge_leg, outline, pie_strip, roll_strip, strip, transition
from zarvik.core.fabrication.templates import mitre
from zarvik.core.layout.frame import frame_looking
from zarvik.core.layout.mesh import tube
from zarvik.core.layout.run import bend, mass, place_pieces, straight, volume
from zarvik.formats import drawings as drawn
from zarvik.formats.paper_stamp import PaperStamp
from zarvik.formats.stl import stl
from zarvik.project.units.rendering import render

UNITS: dict[str, str] = {}


@pytest.mark.parametrize(("count", "degrees"), [(2, 20.0), (3, 12.0), (4, 15.0), (5, 18.0)])
def test_a_leg_against_a_body_that_is_cut(count: int, degrees: float) -> None:
    """Independent library: a leaning cylinder cut by the wedge of its own as a solid; the length that is left of its skin
    at twelve places round is the template's, within 0.1 mm."""
    radius, angle = 0.02415, math.radians(degrees)
    template = merge_leg(2.0 * radius, angle, count)
    way = np.array([math.sin(angle), 0.0, -math.cos(angle)])  # up the leg, away from the outlet, which is +z
    across, side = np.array([math.cos(angle), 0.0, math.sin(angle)]), np.array([0.0, 1.0, 0.0])
    long = 0.4
    leg = manifold3d.Manifold.cylinder(2.0 * long, radius, radius, 720, True)
    matrix = np.column_stack([across, side, way, np.zeros(3)])
    leg = leg.transform(matrix if np.linalg.det(matrix[:, :3]) > 0 else np.column_stack([across, -side, way, np.zeros(3)]))
    for sign in (1.0, -1.0):
        half = math.pi / count
        # Inside: sin(half) x >= sign cos(half) y
        leg = leg.trim_by_plane([math.sin(half), -sign * math.cos(half), 0.0], 0.0)
    mesh = leg.to_mesh()
    body = trimesh.Trimesh(mesh.vert_properties[:, :3], mesh.tri_verts)
    for n in range(12):
        phi = 2.0 * math.pi * n / 12.0 + 0.03
        # Just under the skin, down the leg from far up
        start = 0.99995 * radius * (math.cos(phi) * across + math.sin(phi) * side) + 0.9 * long * way
        lowest = 0.9 * long - farthest(body, start, -way)
        ours = float(np.interp(radius * phi, template.around, template.along))
        # Where two planes meet the curve has a corner between two of its points.
        assert ours == pytest.approx(lowest, abs=1e-4 if abs(math.remainder(phi, math.pi)) > 0.2 else 6e-4)


def farthest(body: trimesh.Trimesh, start: np.ndarray, way: np.ndarray) -> float:
    """How far along a ray it leaves a body for the last time, m (T. Möller, B. Trumbore, J. Graphics Tools 2 (1997) 21)."""
    a, b, c = (body.triangles[:, i] for i in range(3))
    one, two = b - a, c - a
    p = np.cross(way, two)
    with np.errstate(divide="ignore", invalid="ignore"):
        inverse = 1.0 / (one * p).sum(axis=1)
        t = start - a
        u = (t * p).sum(axis=1) * inverse
        q = np.cross(t, one)
        v = (way * q).sum(axis=1) * inverse
        far = (two * q).sum(axis=1) * inverse
    good = np.isfinite(far) & (u >= -1e-9) & (v >= -1e-9) & (u + v <= 1.0 + 1e-9) & (far > 0.0)
    return float(far[good].max())


def test_transitions_in_closed_form() -> None:
    """Equal rounds unroll to a rectangle; a cone to its sector (radius of the side, angle); an oval keeps both edges and
    its area as a body of triangles has it; a corner that is too large is refused."""
    low, top = transition(0.04, 0.04, 0.02, 0.04, 0.05, steps=180)
    assert np.linalg.norm(low[-1] - low[0]) == pytest.approx(math.pi * 0.04, rel=1e-3)
    assert np.allclose(np.linalg.norm(top - low, axis=1), 0.05)
    low, top = transition(0.06, 0.06, 0.03, 0.04, 0.05, steps=720)
    slant = math.hypot(0.05, 0.01)
    sector = 2.0 * math.pi * 0.01 / slant  # angle of the unrolled cone: difference of radii over the side
    one, two = top[0] - low[0], top[-1] - low[-1]
    assert math.acos(float(one @ two) / slant**2) == pytest.approx(sector, rel=2e-3)
    low, top = transition(0.046, 0.034, 0.017, 0.042, 0.05, steps=144)
    rim = outline(0.046, 0.034, 0.017, 144)
    assert np.linalg.norm(np.diff(low, axis=0), axis=1) == pytest.approx(np.linalg.norm(np.diff(rim, axis=0), axis=1), abs=1e-9)
    assert Polygon(np.vstack([low, top[::-1]])).area == pytest.approx(_side(rim, 0.042, 0.05), rel=1e-3)
    # Few triangles: each rib and each diagonal is as long on paper as in space.
    low, top = transition(0.046, 0.034, 0.017, 0.042, 0.05, steps=24)
    rim = outline(0.046, 0.034, 0.017, 24)
    phi = np.arctan2(rim[:, 1], rim[:, 0])
    ring = 0.021 * np.column_stack([np.cos(phi), np.sin(phi)])
    across = np.sqrt(((ring[1:] - rim[:-1]) ** 2).sum(axis=1) + 0.05**2)
    assert np.linalg.norm(top[1:] - low[:-1], axis=1) == pytest.approx(across, abs=1e-9)
    assert np.linalg.norm(top - low, axis=1) == pytest.approx(np.sqrt(((ring - rim) ** 2).sum(axis=1) + 0.05**2), abs=1e-9)
    with pytest.raises(Fault, match="corner"):
        transition(0.04, 0.03, 0.02, 0.04, 0.05)


def _side(rim: np.ndarray, bore: float, high: float) -> float:
    phi = np.arctan2(rim[:, 1], rim[:, 0])
    ring = 0.5 * bore * np.column_stack([np.cos(phi), np.sin(phi)])
    a, b = np.column_stack([rim, np.zeros(len(rim))]), np.column_stack([ring, np.full(len(ring), high)])
    corners = np.vstack([a, b])
    n = len(a)
    faces = [f for i in range(n - 1) for f in ((i, i + 1, n + i + 1), (i, n + i + 1, n + i))]
    return float(trimesh.Trimesh(corners, faces, process=False).area)


def test_outline_of_ports() -> None:
    """Closed form: an oval of 46 x 34 is two half rounds and a rectangle; a rectangle with corners loses (4 - pi) r2."""
    oval = Polygon(outline(0.046, 0.034, 0.017, 2000)[:-1])
    assert oval.area == pytest.approx(math.pi * 0.017**2 + 0.012 * 0.034, rel=1e-4)
    square = Polygon(outline(0.05, 0.03, 0.004, 4000)[:-1])
    assert square.area == pytest.approx(0.05 * 0.03 - (4 - math.pi) * 0.004**2, rel=1e-4)


SIZES = FlangeSizes(
    ports=(0.0, 0.097, 0.194, 0.291),
    shape="round",
    wide=0.041,
    high=0.041,
    bolts=Bolts("diagonal", 0.0105, 0.038, 0.022),
    edge=0.010,
    tube=0.0483,
)


@pytest.mark.parametrize("shape", ["round", "oval", "rectangle", "d"])
@pytest.mark.parametrize("where", ["pair", "diagonal", "between"])
def test_every_hole_and_port_is_in_the_flange(shape: str, where: str) -> None:
    """With the metal round it that was asked for; one closed line; ports where they were measured."""
    sizes = FlangeSizes(
        ports=(0.0, 0.093, 0.186), shape=shape, wide=0.044, high=0.036, bolts=Bolts(where, 0.0085, 0.036, 0.018), edge=0.009, tube=0.0453
    )
    line = contour(sizes)
    body = Polygon(line)
    assert body.is_valid and body.area > 0.0
    for x, y in holes(sizes):
        assert Point(x, y).buffer(0.00425 + 0.009 - 1e-4).within(body.buffer(1e-5))
    for x in sizes.ports:
        opening = Polygon(port_line(sizes) + np.array([x, 0.0]))
        assert opening.buffer(0.009 - 2e-4).within(body.buffer(1e-5)) and opening.centroid.x == pytest.approx(x, abs=1e-6)
    count = 2 * len(sizes.ports) if where != "between" else 2 * (len(sizes.ports) + 1)
    assert len(holes(sizes)) == count


def test_a_flange_says_how_far_its_ports_are_apart() -> None:
    """From the first to the second; of one port nothing is apart."""
    alone = dataclasses.replace(SIZES, ports=(0.0,))
    many, one = (render(flange("head", sizes, message("x")).about[0], {"length": "mm"}) for sizes in (SIZES, alone))
    assert many.replace("\u00a0", " ") == "Ports 41 mm wide, 41 mm high, 97 mm apart"
    assert one.replace("\u00a0", " ") == "Port 41 mm wide, 41 mm high"


def test_what_cannot_be_on_a_flange_is_said() -> None:
    """Holes in ports, washers on welds, ports in each other, a tube that is narrower than its port."""
    assert faults(SIZES) == ()
    into = FlangeSizes(
        ports=(0.0, 0.097), shape="round", wide=0.041, high=0.041, bolts=Bolts("pair", 0.0105, 0.018, 0.0), edge=0.010, tube=0.0483
    )
    assert any("breaks into a port" in f.template for f in faults(into))
    washer = FlangeSizes(
        ports=(0.0, 0.097), shape="round", wide=0.041, high=0.041, bolts=Bolts("pair", 0.0105, 0.0305, 0.0), edge=0.010, tube=0.0483
    )
    found = faults(washer)
    assert [(f.template, dict(f.figures)) for f in found] == [("Washers sit on the weld: bolts {numbers}", {"numbers": "1, 2, 3, 4"})]
    wide = FlangeSizes(
        ports=(0.0, 0.04), shape="round", wide=0.041, high=0.041, bolts=Bolts("pair", 0.0085, 0.05, 0.0), edge=0.010, tube=0.0483
    )
    assert any("overlap" in f.template for f in faults(wide))
    narrow = FlangeSizes(
        ports=(0.0, 0.097), shape="round", wide=0.041, high=0.041, bolts=Bolts("pair", 0.0085, 0.05, 0.0), edge=0.010, tube=0.035
    )
    assert any("narrower than the port" in f.template for f in faults(narrow))


def test_a_flange_read_back_from_dxf() -> None:
    """Independent library: trimesh's own reader of DXF finds outline, four ports and eight holes where they are, in mm."""
    drawing = flange("head", SIZES, message("Head flange"))
    read = trimesh.load_path(io.BytesIO(drawn.dxf(drawing, UNITS).encode()), file_type="dxf")
    bounds = read.bounds
    left, low, right, high = dataclasses.replace(drawing, notes=()).box  # words are no lines
    assert bounds[0] == pytest.approx([1e3 * left, 1e3 * low], abs=0.02) and bounds[1] == pytest.approx([1e3 * right, 1e3 * high], abs=0.02)
    found = sorted((round(float(p.centroid.x), 2), round(float(p.centroid.y), 2), round(float(p.area), 1)) for p in read.polygons_closed)
    for x, y in holes(SIZES):
        assert any(abs(a - 1e3 * x) < 0.05 and abs(b - 1e3 * y) < 0.05 and abs(c - math.pi * 5.25**2) < 0.4 for a, b, c in found)
    for x in SIZES.ports:
        assert any(abs(a - 1e3 * x) < 0.05 and abs(b) < 0.05 and abs(c - math.pi * 20.5**2) < 6.0 for a, b, c in found)


def test_svg_is_in_millimetres() -> None:
    """Closed form: width and view box are those of the drawing, a hole's circle has its radius."""
    drawing = gasket("g", SIZES, message("Gasket & <words>"))
    root = ET.fromstring(drawn.svg(drawing, UNITS))
    wide, tall = drawing.size
    assert float(root.get("width", "0").removesuffix("mm")) == pytest.approx(1e3 * wide, abs=0.01)
    assert [float(v) for v in root.get("viewBox", "").split()] == pytest.approx([0, 0, 1e3 * wide, 1e3 * tall], abs=0.01)
    circles = [float(c.get("r", "0")) for c in root.iter("{http://www.w3.org/2000/svg}circle")]
    assert len(circles) == 8 and circles == pytest.approx([5.5] * 8)
    assert "Gasket & <words>" in "".join(root.itertext())
    openings = [Polygon(p.points).area for p in drawing.paths[1:]]
    assert openings == pytest.approx([math.pi * 0.0215**2] * 4, rel=2e-3)  # a millimetre wider all round


def read(data: bytes):  # type: ignore[no-untyped-def]
    """Pages of a PDF by another library than the one that wrote it."""
    return pdfplumber.open(io.BytesIO(data)).pages


MM = 25.4 / 72.0
STAMP = PaperStamp("Tern", "2026-01-02", "0a1b2c")


def test_the_control_square_and_a_mitre_measured() -> None:
    """Independent library: on the first page a square of 100.00 mm; a mitre's curve as wide as its circumference and as
    deep as the tangent says, within 0.1 mm."""
    drawing = strip("m", mitre(0.0635, math.radians(22.5)), message("A mitre"))
    pages = read(drawn.pdf([drawing], STAMP, UNITS))
    assert len(pages) == 2 and pages[0].width * MM == pytest.approx(210.0, abs=0.01)
    squares = [c for c in (*pages[0].rects, *pages[0].curves) if abs((c["x1"] - c["x0"]) * MM - 100.0) < 0.05]
    assert squares and (squares[0]["bottom"] - squares[0]["top"]) * MM == pytest.approx(100.0, abs=0.02)
    assert "100 mm" in pages[0].extract_text() and "actual size" in pages[0].extract_text()
    curve = max((c for c in pages[1].curves if len(c["pts"]) > 100), key=lambda c: len(c["pts"]))
    # It lies on its side: 207 mm with its lap is more than the page is wide.
    xs, ys = zip(*curve["pts"], strict=True)
    assert (max(ys) - min(ys)) * MM == pytest.approx(math.pi * 63.5, abs=0.1)
    assert (max(xs) - min(xs)) * MM == pytest.approx(63.5 * math.tan(math.radians(11.25)), abs=0.1)


def test_what_is_larger_than_a_page_goes_over_several() -> None:
    """A bar of 700 x 30 mm: its pages together are 700 mm long, each laid 10 mm over the next; one that just fits when it
    is turned takes one page; one of 60 pages is refused in words."""
    bar = Drawing("bar", message("A bar"), (rectangle(0.0, 0.0, 0.7, 0.03),))
    assert drawn.pages_of(bar) == (4, 1)
    pages = read(drawn.pdf([bar], STAMP, UNITS))[1:]
    assert len(pages) == 4
    reach = []
    for number, page in enumerate(pages):
        line = max((c for c in (*page.rects, *page.curves, *page.lines) if (c["x1"] - c["x0"]) * MM > 300.0), key=lambda c: c["x1"])
        # Where the bar's left edge would be, from the left of what is printed
        reach.append(line["x0"] * MM - 10.0 + number * 180.0)
    assert reach == pytest.approx([0.0] * 4, abs=0.02)
    turned = Drawing("t", message("Turned"), (rectangle(0.0, 0.0, 0.24, 0.03),))
    assert drawn.pages_of(turned) == (1, 1) and drawn.lies(turned)
    page = read(drawn.pdf([turned], STAMP, UNITS))[1]
    box = max((*page.rects, *page.curves), key=lambda c: c["bottom"] - c["top"])
    assert (box["bottom"] - box["top"]) * MM == pytest.approx(240.0, abs=0.02)
    huge = Drawing("h", message("Huge"), (rectangle(0.0, 0.0, 2.2, 2.0),))
    with pytest.raises(Fault, match="more than 50"):
        drawn.pdf([huge], STAMP, UNITS)
    many = [Drawing(str(n), message("One"), (rectangle(0.0, 0.0, 0.1, 0.05),)) for n in range(9)]
    assert 3 <= len(read(drawn.pdf(many, STAMP, UNITS))) <= 5


def test_every_page_says_what_it_is_and_has_a_bar_to_measure() -> None:
    """Build, day, revision and number of the page on the first, on pages of a large drawing and on one of small ones; the bar under them is
    50.00 mm long and clear of what is drawn."""
    bar = Drawing("bar", message("A bar"), (rectangle(0.0, 0.0, 0.7, 0.03),))
    high = Drawing("high", message("High"), (rectangle(0.0, 0.0, 0.1, 0.6),))
    many = [Drawing(str(n), message("One"), (rectangle(0.0, 0.0, 0.1, 0.05),)) for n in range(9)]
    pages = read(drawn.pdf([bar, high, *many], STAMP, UNITS))
    assert len(pages) >= 10
    for number, page in enumerate(pages, 1):
        words = page.extract_text()
        assert "Tern" in words and f"2026-01-02 · revision 0a1b2c · page {number} of {len(pages)}" in words
        bars = [x for x in (*page.lines, *page.curves) if abs((x["x1"] - x["x0"]) * MM - 50.0) < 0.01 and x["bottom"] - x["top"] < 0.5]
        assert len(bars) == 1 and (page.height - bars[0]["bottom"]) * MM > 10.0
        drawn_low = max((x["bottom"] for x in (*page.rects, *page.curves, *page.lines) if x["bottom"] < bars[0]["top"] - 10.0), default=0.0)
        assert drawn_low < bars[0]["top"]
        assert all(word["bottom"] <= page.height for word in page.extract_words())


def figures_of(drawing: Drawing) -> list[float]:
    """Every dimension on a drawing, m."""
    return [f.value for n in drawing.notes for _, f in n.words.figures if not isinstance(f, str)]


@pytest.mark.parametrize("where", ["pair", "diagonal", "between"])
@pytest.mark.parametrize("up", [0.024, 0.031, 0.038, 0.046])
def test_an_outline_has_no_points(where: str, up: float) -> None:
    """Wherever the bosses of the bolts come to lie, the outline turns by less than 15° from one step to the next, in steps of no more than
    some millimetres; every hole keeps its metal (by shapely, within a tenth of a millimetre)."""
    sizes = dataclasses.replace(SIZES, bolts=dataclasses.replace(SIZES.bolts, where=where, up=up))
    line = contour(sizes)
    steps = np.diff(np.vstack([line, line[:2]]), axis=0)
    steps = steps[np.hypot(*steps.T) > 2e-5]
    ways = np.unwrap(np.arctan2(steps[:, 1], steps[:, 0]))
    assert np.degrees(np.abs(np.diff(ways))).max() < 15.0
    body = Polygon(line)
    for x, y in holes(sizes):
        assert body.exterior.distance(Point(x, y)) > 0.5 * sizes.bolts.hole + sizes.edge - 1e-4


def test_dimensions_are_those_of_the_part() -> None:
    """Independent: by `shapely` the box of what is cut; by hand the steps from hole to hole, which add up from the first to the last. They
    stand on the layer of words alone, clear of the part, and each over its own line."""
    for drawing, points in (
        (flange("f", SIZES, message("F")), holes(SIZES)),
        (inlet_flange("i", "four_bolt", 0.081, 0.0525, 0.06, message("T")), inlet_holes("four_bolt", 0.081)),
        (inlet_flange("i", "three_bolt", 0.071, 0.0525, 0.06, message("T")), inlet_holes("three_bolt", 0.071)),
    ):
        part = MultiPoint(np.vstack([p.points for p in drawing.paths if p.layer == CUT]))
        left, low, right, high = part.bounds
        found = figures_of(drawing)
        assert any(v == pytest.approx(right - left, abs=1e-9) for v in found)
        across = np.unique(np.round([x for x, _ in points], 6))
        steps = [v for v in np.diff(across) if v >= FIT]
        assert all(any(v == pytest.approx(step, abs=1e-6) for v in found) for step in steps)
        if right - left < 0.15:
            assert any(v == pytest.approx(high - low, abs=1e-9) for v in found)
        for path in drawing.paths:
            if path.layer == WORDS:
                outside = path.points[:, 1].min() > high or path.points[:, 1].max() < low or path.points[:, 0].min() > right
                assert outside
        for note in drawing.notes:
            assert note.y > high or note.y + note.height < low or note.x > right
    assert not [p for p in gasket("g", SIZES, message("G")).paths if p.layer == WORDS]


def test_a_dimension_stays_at_its_line_over_two_pages() -> None:
    """The length over all of a part on two sheets is read once, right above its line, inside of the paper."""
    long = flange("f", dataclasses.replace(SIZES, ports=(0.0, 0.097, 0.194, 0.291)), message("Long"))
    pages = read(drawn.pdf([long], STAMP, UNITS))[1:]
    assert len(pages) >= 2
    over_all = 1e3 * max(figures_of(long))
    seen = [w for page in pages for w in page.extract_words(keep_blank_chars=True) if w["text"].strip().startswith(f"{over_all:.1f}")]
    assert len(seen) == 1 and seen[0]["x1"] * MM < 200.0
    line = max((x for x in (*pages[0].lines, *pages[0].curves) if x["bottom"] - x["top"] < 0.1), key=lambda x: x["x1"] - x["x0"])
    assert 0.0 < (line["top"] - seen[0]["bottom"]) * MM + 1.0 < 2.5


def test_roll_marks_by_hand() -> None:
    """A roll of 90° on 48.3 mm stands a quarter of the circumference on; one of -90° three quarters."""
    for degrees, share in ((90.0, 0.25), (-90.0, 0.75), (180.0, 0.5)):
        drawing = roll_strip("r", 0.0483, math.radians(degrees), message("Marks"))
        cuts = sorted(float(p.points[0, 0]) for p in drawing.paths if p.layer == CUT)
        assert cuts == pytest.approx([0.0, share * math.pi * 0.0483], abs=1e-9)


def test_a_strip_says_which_way_it_is_wrapped() -> None:
    """Printed side out with the flow away from who looks along it, clockwise is from left to right: the arrow of the wrap points that
    way, as the line of a clockwise turn stands right of the zero. It stands clear of that line."""
    for degrees in (20.0, 90.0, 170.0, -20.0, -90.0, -170.0):
        drawing = roll_strip("r", 0.0635, math.radians(degrees), message("Marks"))
        note = next(n for n in drawing.notes if "printed side out" in render(n.words, {}))
        across = [p.points for p in drawing.paths if p.layer == MARK and len(p.points) == 2 and abs(p.points[0, 1] - p.points[1, 1]) < 1e-9]
        arrow = next(p for p in across if abs(p[0, 0] - note.x) < 1e-9)
        assert arrow[1, 0] > arrow[0, 0]
        head = next(p.points for p in drawing.paths if len(p.points) == 3 and abs(p.points[1, 0] - arrow[1, 0]) < 1e-9)
        assert head[0, 0] < head[1, 0] and head[2, 0] < head[1, 0]
        line = max(float(p.points[0, 0]) for p in drawing.paths if p.layer == CUT)
        assert not note.x - 0.001 < line < note.x + 0.040
        assert (0.0 < line < 0.5 * math.pi * 0.0635) == (degrees > 0.0)


def test_pieces_of_a_pie() -> None:
    """The long side of a piece of five cuts through 90° at 95 mm: 2 (R + D / 2) tan 9°; one without an inner side is
    refused."""
    turn = math.radians(18.0)
    drawing = pie_strip("p", 0.0635, turn, 2 * 0.095 * math.tan(0.5 * turn), message("Pie"))
    top, low = (p.points for p in drawing.paths[:2])
    assert float((top[:, 1] - low[:, 1]).max()) == pytest.approx(2 * (0.095 + 0.03175) * math.tan(0.5 * turn), rel=1e-6)
    assert float((top[:, 1] - low[:, 1]).min()) == pytest.approx(2 * (0.095 - 0.03175) * math.tan(0.5 * turn), rel=1e-6)
    with pytest.raises(Fault, match="no inner side"):
        pie_strip("p", 0.0635, turn, 2 * 0.020 * math.tan(0.5 * turn), message("Pie"))


def test_a_fixture_by_hand() -> None:
    """The plate holds every hole; a post stands under its place with its height in words."""
    drawing = fixture("f", SIZES, [(0.130, 0.062, 0.235)], message("turbine flange"), message("Plate"))
    assert any(abs(c.x - 0.130) < 1e-9 and abs(c.y - 0.062) < 1e-9 for c in drawing.circles)
    figures = [f for n in drawing.notes for _, f in n.words.figures if not isinstance(f, str)]
    assert [f.value for f in figures] == [0.235]
    assert len(inlet_flange("i", "four_bolt", 0.071, 0.0525, 0.06, message("T")).circles) == 6
    assert len(inlet_flange("i", "three_bolt", 0.071, 0.0525, 0.06, message("T")).circles) == 5
    assert translated(Drawing("m", message("M"), (), (Circle(0, 0, 1.0),)), 2.0, 3.0).box == (1.0, 2.0, 3.0, 4.0)
    assert Drawing("e", message("E")).size == (0.0, 0.0) and polyline([(0, 0), (1, 2)]).points.shape == (2, 2)
    assert Path(np.zeros((2, 2))).layer == CUT


@pytest.mark.parametrize("hollow", [True, False])
def test_bodies_by_pappus(hollow: bool) -> None:
    """Independent library: a run's body is closed, and holds what Pappus says; STL is read back the same, in mm."""
    run = place_pieces(
        [straight("a", 0.1, 0.05), bend("b", 0.08, 1.4, 0.05, roll=0.8), straight("c", 0.07, 0.05)], frame_looking(np.zeros(3), 0.3, 0.2)
    )
    corners, triangles = tube(run, sides=96, hollow=hollow)
    body = trimesh.Trimesh(corners, triangles)
    segments = [p.segment for p in run]
    want = mass(segments, 1.0) if hollow else math.pi / 4 * 0.0533**2 * sum(s.length for s in segments)
    assert body.is_watertight and body.volume == pytest.approx(want, rel=3e-3)
    back = trimesh.load(io.BytesIO(stl([(corners, triangles)])), file_type="stl")
    assert back.is_watertight and back.volume == pytest.approx(1e9 * body.volume, rel=1e-4)
    assert volume(segments) < want + volume(segments)
    with pytest.raises(ValueError, match="no body"):
        stl([])


def test_words_on_drawings_are_plain() -> None:
    """Names with markup, control characters and lines stay words."""
    odd = Drawing("o", message("<b>{name}</b>", name="a\x00\x1b[31m\nb\ufffe\uffff"), (rectangle(0, 0, 0.1, 0.05),))
    text = drawn.svg(odd, UNITS)
    assert "\x1b" not in text and "\x00" not in text and ET.fromstring(text) is not None
    assert drawn.pdf([odd], PaperStamp("x\x1b", "", ""), UNITS).startswith(b"%PDF")
    assert not re.search(r"[\x00\x1b]", drawn.dxf(odd, UNITS))


@pytest.mark.parametrize("shift", [0.0, 0.013, 0.031, 0.052, 0.075])
def test_words_of_a_fixture_stand_whole_on_one_page(shift: float, tmp_path: Path) -> None:
    """Each height is on one page alone, inside of where the knife goes, over no hole and no other words, wherever pages meet; a post
    in a bolt's hole is told."""
    bolt = holes(SIZES)[1]
    posts = [(0.13 + shift, 0.14, 0.235), (0.13 + shift, 0.156, 0.236), (0.20 + shift, 0.15, 0.237), (bolt[0] + 0.004, bolt[1], 0.238)]
    drawing = fixture("f", SIZES, posts, message("turbine flange"), message("Plate"))
    assert "4" in render(drawing.about[0], {}) and "overlaps a head bolt" in render(drawing.about[0], {})
    boxes = [(n.x, n.y, n.x + 0.036, n.y + n.height) for n in drawing.notes]
    for i, one in enumerate(boxes):
        for two in boxes[i + 1 :]:
            assert one[2] < two[0] or two[2] < one[0] or one[3] < two[1] or two[3] < one[1]
    goal = tmp_path / "f.pdf"
    goal.write_bytes(drawn.pdf([drawing], STAMP, {}))
    seen = []
    with pdfplumber.open(goal) as pdf:
        for page in pdf.pages:
            for word in page.extract_words(keep_blank_chars=True):
                if "mm high" in word["text"]:
                    seen.append(word["text"].strip())
                    # 72 points to the inch: within the paper less the margin on both sides
                    assert word["x0"] > 0.010 / 0.0254 * 72 and word["x1"] < page.width - 0.010 / 0.0254 * 72
    assert sorted(seen) == [f"{n}: {235 + n - 1} mm high" for n in range(1, 5)]


@pytest.mark.parametrize(
    ("wide", "tall", "count"),
    [(0.10, 0.10, 1), (0.19, 0.10, 1), (0.37, 0.10, 2), (0.371, 0.10, 3), (0.45, 0.2505, 3), (0.45, 0.30, 6), (0.15, 0.40, 2)],
)
def test_what_is_said_of_a_drawing_is_printed_once(wide: float, tall: float, count: int, tmp_path: Path) -> None:
    """Faults and hints stand on paper however many pages a drawing takes (by hand: 190 mm by 252 mm a page, 10 mm of it on the next):
    over it, under it, or on a page of their own."""
    plate = Drawing("p", message("Plate"), (rectangle(0, 0, wide, tall),), about=(message("Let it cool on the fixture"),))
    across, down = drawn.pages_of(plate)
    assert across * down == count
    goal = tmp_path / "p.pdf"
    goal.write_bytes(drawn.pdf([plate], STAMP, {}))
    with pdfplumber.open(goal) as pdf:
        pages = [page.extract_text() for page in pdf.pages]
        assert sum(text.count("Let it cool on the fixture") for text in pages) == 1
        # A4 of ISO 216: 210 mm by 297 mm, at 72 points to the inch
        assert {(round(page.width, 2), round(page.height, 2)) for page in pdf.pages} == {(595.28, 841.89)}
        assert len(pages) - 1 - across * down == (1 if (wide, tall) == (0.45, 0.2505) else 0)
        for page in pdf.pages:
            for word in page.extract_words():
                if word["text"] == "cool" and across * down > 1:
                    lines = [line for line in page.rects + page.curves if line["top"] < word["bottom"] and line["bottom"] > word["top"]]
                    assert not lines or len(pages) - 1 > across * down, "over no line of the drawing"


def test_every_page_has_a_bar_of_fifty_millimetres(tmp_path: Path) -> None:
    """As long as it says, with a tick of 4 mm at either end, inside of the margin of 10 mm."""
    plate = Drawing("p", message("Plate"), (rectangle(0, 0, 0.45, 0.30),))
    goal = tmp_path / "p.pdf"
    goal.write_bytes(drawn.pdf([plate], STAMP, {}))
    mm = 72.0 / 25.4
    with pdfplumber.open(goal) as pdf:
        assert len(pdf.pages) == 7
        for page in pdf.pages:
            lines = [line for line in page.lines if line["bottom"] > page.height - 18.0 * mm]
            bars = [line for line in lines if line["x1"] - line["x0"] == pytest.approx(50.0 * mm, abs=0.05)]
            assert len(bars) == 1 and bars[0]["x1"] == pytest.approx(page.width - 10.0 * mm, abs=0.1)
            ticks = [x for x in lines if x["x1"] - x["x0"] < 0.05 and x["bottom"] - x["top"] == pytest.approx(4.0 * mm, abs=0.05)]
            assert sorted(round(x["x0"] - bars[0]["x0"], 1) for x in ticks) == pytest.approx([0.0, 50.0 * mm], abs=0.1)
            assert "50 mm: measure it" in page.extract_text()
