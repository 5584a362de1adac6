"""Flanges, gaskets and the plate of a fixture: ports, bolts, the metal round them."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.fabrication.dimensions import dimensioned
from zarvik.core.fabrication.drawing import CUT, MARK, WELD, Circle, Drawing, Note, Path
from zarvik.core.fabrication.strips import outline
from zarvik.core.joints.flanges import HEAD, AdapterPlate, Pattern

WASHER = 2.2  # outside diameter of a washer over its hole; ISO 7089: M8 16 mm on 8.4, M10 20 mm on 10.5
ROUND = 0.003  # m, the least radius of an outer corner of a flange; common practice, no source
GASKET_MORE = 0.001  # m that a gasket's opening is wider than the port, so that it does not hang into it


@dataclass(frozen=True)
class Bolts:
    """Bolt holes: `where` as "pair", "diagonal" or "between"; `hole` m; `up` and `aside` m from the middle of a port."""

    where: str
    hole: float
    up: float
    aside: float


@dataclass(frozen=True)
class FlangeSizes:
    """A flange: the middles of its `ports` along it, m; port `shape`, `wide` and `high` m; its `bolts`; `edge` m of metal
    round holes; outside diameter `tube` m that is welded to it, and `bead` m that the weld needs round that."""

    ports: tuple[float, ...]
    shape: str
    wide: float
    high: float
    bolts: Bolts
    edge: float
    tube: float
    bead: float = 0.003

    @property
    def corner(self) -> float:
        """Corner radius of the port in m."""
        if self.shape == "rectangle":
            return 0.15 * min(self.wide, self.high)
        return 0.5 * min(self.wide, self.high)


def port_line(sizes: FlangeSizes, more: float = 0.0) -> np.ndarray:
    """The opening round the origin of a flange of `sizes`, `more` m wider all round; one row a point, not closed."""
    wide, high = sizes.wide + 2.0 * more, sizes.high + 2.0 * more
    if sizes.shape == "round":
        return outline(wide, wide, 0.5 * wide, 96)[:-1]
    if sizes.shape == "d":
        # Flat below: a half round above a rectangle with small corners.
        radius = 0.5 * wide
        low = -0.5 * high
        top = high - radius
        arc = [(radius * math.cos(t), low + top + radius * math.sin(t)) for t in np.linspace(0.0, math.pi, 49)]
        return np.array([*arc, (-radius, low), (radius, low)])
    return outline(wide, high, sizes.corner + more, 96)[:-1]


def holes(sizes: FlangeSizes) -> tuple[tuple[float, float], ...]:
    """The bolt holes of a flange of `sizes`, m, from left to right."""
    b = sizes.bolts
    found: list[tuple[float, float]] = []
    if b.where == "between":
        spacing = sizes.ports[1] - sizes.ports[0] if len(sizes.ports) > 1 else 2.0 * max(b.aside, sizes.wide)
        for x in [sizes.ports[0] - 0.5 * spacing, *(p + 0.5 * spacing for p in sizes.ports)]:
            found += [(x, b.up), (x, -b.up)] if b.up > 0.0 else [(x, 0.0)]
    else:
        for number, x in enumerate(sizes.ports):
            side = b.aside if b.where == "pair" or number % 2 == 0 else -b.aside
            if b.where == "diagonal":
                found += [(x - side, b.up), (x + side, -b.up)]
            else:
                found += [(x + b.aside, b.up), (x - b.aside, -b.up)]
    return tuple(sorted(found))


def contour(sizes: FlangeSizes, fillet: float = 0.012) -> np.ndarray:
    """The outer line of a flange of `sizes`: metal round every port and bolt, the ports joined by a bar, inner corners
    with a `fillet` (m); one row a point, m, closed by its first."""
    from shapely.geometry import LineString, Point, Polygon
    from shapely.ops import unary_union

    parts: list[Any] = []
    line = port_line(sizes)
    for x in sizes.ports:
        parts.append(Polygon(line + np.array([x, 0.0])).buffer(sizes.edge, quad_segs=24))
        parts.append(Point(x, 0.0).buffer(0.5 * sizes.tube + sizes.bead, quad_segs=24))
    for x, y in holes(sizes):
        boss = Point(x, y).buffer(0.5 * sizes.bolts.hole + sizes.edge, quad_segs=24)
        near = min(sizes.ports, key=lambda p: abs(p - x))
        arm = LineString([(x, y), (near, 0.0)]).buffer(0.5 * sizes.bolts.hole + 0.6 * sizes.edge)
        parts += [boss, arm]
    bar = LineString([(sizes.ports[0], 0.0), (sizes.ports[-1], 0.0)]) if len(sizes.ports) > 1 else None
    if bar is not None:
        parts.append(bar.buffer(0.5 * sizes.bolts.hole + sizes.edge))
    whole = unary_union(parts).buffer(fillet, quad_segs=16).buffer(-fillet, quad_segs=16)
    # Where a fillet touches two bosses at once it leaves a point on either, which no cutter and no hand wants.
    whole = whole.buffer(-ROUND, quad_segs=16).buffer(ROUND, quad_segs=16)
    if whole.geom_type != "Polygon":
        whole = max(whole.geoms, key=lambda g: g.area)
    return np.asarray(whole.exterior.coords)[:-1]


def faults(sizes: FlangeSizes) -> tuple[Sentence, ...]:
    """What cannot be on a flange of `sizes`: a hole in a port, a washer on a weld, ports in each other."""
    from shapely.geometry import Point, Polygon

    found: list[Sentence] = []
    line = port_line(sizes)
    ports = [Polygon(line + np.array([x, 0.0])) for x in sizes.ports]
    on_weld = []
    for n, (x, y) in enumerate(holes(sizes), 1):
        hole = Point(x, y).buffer(0.5 * sizes.bolts.hole)
        gap = min(hole.distance(p) for p in ports)
        if any(hole.intersects(p) for p in ports):
            found.append(message("Bolt hole {number} breaks into a port", number=str(n)))
        elif gap < 0.003:
            found.append(message("Bolt hole {number} leaves {gap} to a port", number=str(n), gap=Figure(gap, "length")))
        seat = min(math.hypot(x - p, y) for p in sizes.ports) - 0.5 * WASHER * sizes.bolts.hole
        if 0.0 < seat < 0.5 * sizes.tube + sizes.bead and not any(hole.intersects(p) for p in ports):
            on_weld.append(str(n))
    if on_weld:
        words = "Washers sit on the weld: bolts {numbers}" if len(on_weld) > 1 else "The washer of bolt {numbers} sits on the weld"
        found.append(message(words, numbers=", ".join(on_weld)))
    for one, two in itertools.pairwise(ports):
        if one.intersects(two):
            found.append(message("The ports overlap: they are wider than their spacing"))
            break
    if sizes.tube < min(sizes.wide, sizes.high) - 0.002:
        found.append(message("The tube is narrower than the port: hot gas burns on the step"))
    return tuple(found[:6])


def _over_all(sizes: FlangeSizes) -> tuple[float, float]:
    """Length and height of the outline, m."""
    wide, tall = np.ptp(contour(sizes), axis=0)
    return float(wide), float(tall)


def _ports(sizes: FlangeSizes) -> Sentence:
    wide, high = Figure(sizes.wide, "length"), Figure(sizes.high, "length")
    if len(sizes.ports) < 2:
        return message("Port {wide} wide, {high} high", wide=wide, high=high)
    spacing = Figure(sizes.ports[1] - sizes.ports[0], "length")
    return message("Ports {wide} wide, {high} high, {spacing} apart", wide=wide, high=high, spacing=spacing)


def flange(key: str, sizes: FlangeSizes, title: Sentence) -> Drawing:
    """A flange (`key`, `title`) of `sizes` for the cutter: outline, ports and holes to be cut, the tube and its weld
    marked."""
    line = port_line(sizes)
    paths = [Path(contour(sizes), CUT, True)]
    circles = [Circle(x, y, 0.5 * sizes.bolts.hole) for x, y in holes(sizes)]
    for x in sizes.ports:
        paths.append(Path(line + np.array([x, 0.0]), CUT, True))
        circles.append(Circle(x, 0.0, 0.5 * sizes.tube, MARK))
        circles.append(Circle(x, 0.0, 0.5 * sizes.tube + sizes.bead, WELD))
    about = (
        _ports(sizes),
        message(
            "Bolts {up} above and below the ports; {long} × {tall} over all",
            up=Figure(max((abs(y) for _, y in holes(sizes)), default=0.0), "length"),
            long=Figure(_over_all(sizes)[0], "length"),
            tall=Figure(_over_all(sizes)[1], "length"),
        ),
        message(
            "Holes {hole}; marked: the {tube} tube and its weld", hole=Figure(sizes.bolts.hole, "length"), tube=Figure(sizes.tube, "length")
        ),
        message("Check it on the head, or on the old gasket, before cutting"),
    )
    found = Drawing(key=key, title=title, paths=tuple(paths), circles=tuple(circles), notes=(), about=about, faults=faults(sizes))
    return dimensioned(found, holes(sizes))


def gasket(key: str, sizes: FlangeSizes, title: Sentence) -> Drawing:
    """The gasket (`key`, `title`) of a flange of `sizes`: the same outline, openings a little wider than the ports."""
    line = port_line(sizes, GASKET_MORE)
    paths = [Path(contour(sizes), CUT, True), *(Path(line + np.array([x, 0.0]), CUT, True) for x in sizes.ports)]
    circles = tuple(Circle(x, y, 0.5 * sizes.bolts.hole + 0.00025) for x, y in holes(sizes))
    return Drawing(
        key=key,
        title=title,
        paths=tuple(paths),
        circles=circles,
        notes=(),
        about=(message("Openings are {more} larger all round", more=Figure(GASKET_MORE, "length")),),
    )


# Clearance holes of ISO 273, medium, and tap drills of ISO 2306, m, by thread in m
CLEARANCE = {0.005: 0.0055, 0.006: 0.0066, 0.008: 0.009, 0.010: 0.011, 0.012: 0.0135}
TAPPED = {0.005: 0.0042, 0.006: 0.005, 0.008: 0.0068, 0.010: 0.0085, 0.012: 0.0102}


def adapter(key: str, one: Pattern, other: Pattern, found: AdapterPlate, title: Sentence) -> Drawing:
    """A plate (`key`, `title`) between patterns `one` and `other` as it was `found`: clearance holes with the sink of their heads, tapped
    holes, the narrower bore to be cut and the wider one marked."""
    from shapely.geometry import MultiPoint, Point

    circles, points = [], []
    for x, y in one.holes():
        circles += [Circle(x, y, 0.5 * CLEARANCE.get(one.thread, 1.1 * one.thread)), Circle(x, y, 0.5 * (HEAD * one.thread + 0.001), MARK)]
        points.append((x, y))
    for x, y in other.holes(found.turn):
        circles.append(Circle(x, y, 0.5 * TAPPED.get(other.thread, 0.85 * other.thread)))
        points.append((x, y))
    bores = sorted({b for b in (one.bore, other.bore) if b > 0.0})
    edge = max(HEAD * one.thread, 2.0 * other.thread) * 0.5 + 0.006
    hull = MultiPoint(points).convex_hull.buffer(edge, quad_segs=24)
    if bores:
        hull = hull.union(Point(0, 0).buffer(0.5 * bores[-1] + 0.010, quad_segs=48)).convex_hull
        circles.append(Circle(0.0, 0.0, 0.5 * bores[0]))
        circles += [Circle(0.0, 0.0, 0.5 * b, MARK) for b in bores[1:]]
    about = (
        message(
            ("{thick} thick; {screw} screws countersunk from the second part's side, {thread} threads for the second part"),
            thick=Figure(found.thick, "length"),
            screw=f"M{1e3 * one.thread:.0f}",
            thread=f"M{1e3 * other.thread:.0f}",
        ),
        message("{gap} of metal between the two closest holes", gap=Figure(found.gap, "length")),
        message("Marked: countersinks and the larger bore; bore it as a cone between the faces"),
    )
    outer = Path(np.asarray(hull.exterior.coords)[:-1], CUT, True)
    return dimensioned(Drawing(key=key, title=title, paths=(outer,), circles=tuple(circles), notes=(), about=about), points)


def inlet_flange(key: str, kind: str, spacing: float, bore: float, tube: float, title: Sentence) -> Drawing:
    """The flange that a turbine is bolted to (`key`, `title`): `kind` as "four_bolt", "four_divided", "three_bolt" or
    "round_clamp", its bolts `spacing` m apart on the long side, opening `bore` m, `tube` m outside. The short side of
    four bolts is taken as 0.83 of the long one, and has to be measured: common practice, no source."""
    points = inlet_holes(kind, spacing)
    hole = bolt_hole(spacing)
    circles = [Circle(x, y, 0.5 * hole) for x, y in points]
    from shapely.geometry import MultiPoint, Point

    edge = 0.5 * hole + 0.010
    if points:
        hull = MultiPoint(points).convex_hull.buffer(edge, quad_segs=24).union(Point(0, 0).buffer(0.5 * bore + 0.012, quad_segs=32))
    else:
        hull = Point(0, 0).buffer(0.5 * bore + 0.012, quad_segs=48)
    paths = [Path(np.asarray(hull.convex_hull.exterior.coords)[:-1], CUT, True)]
    if kind == "four_divided":
        for sign in (-1.0, 1.0):
            half = outline(0.5 * bore - 0.002, bore, 0.2 * bore, 64)[:-1] + np.array([sign * 0.25 * bore + sign * 0.001, 0.0])
            paths.append(Path(half, CUT, True))
    else:
        circles.append(Circle(0.0, 0.0, 0.5 * bore))
    circles.append(Circle(0.0, 0.0, 0.5 * tube, MARK))
    about = (message("Only the long side of the bolts is known: measure the rest on your turbo"),)
    return dimensioned(Drawing(key=key, title=title, paths=tuple(paths), circles=tuple(circles), notes=(), about=about), points)


def bolt_hole(spacing: float) -> float:
    """Diameter m of the bolt holes of a turbine's flange with its bolts `spacing` m apart: of M10, or M8 where they are near."""
    return 0.0105 if spacing > 0.06 else 0.0085


def inlet_holes(kind: str, spacing: float) -> tuple[tuple[float, float], ...]:
    """Bolt holes of a turbine's flange of a `kind`, m round its middle, `spacing` m on the long side."""
    a = 0.5 * spacing
    if kind in ("four_bolt", "four_divided"):
        b = 0.83 * a
        return ((-a, -b), (-a, b), (a, -b), (a, b))
    if kind == "three_bolt":
        radius = spacing / math.sqrt(3.0)
        return tuple((radius * math.cos(t), radius * math.sin(t)) for t in (math.radians(d) for d in (90.0, 210.0, 330.0)))
    return ()


POST = 0.00425  # m, half of the hole for the rod of a post


def _on_posts(held: Sentence) -> tuple[Sentence, ...]:
    return (
        message("Head flange face down on the plate; posts hold the {held} where it is in the car", held=held),
        message("Heights from the plate to its centre"),
        message("A flange that is not level with the plate needs wedge washers under its nuts"),
    )


NO_LINES = np.zeros((0, 2, 2))
LETTERS, WORDS = 0.004, 0.036  # m, high and at the most long: the words beside a post


def _free(x: float, y: float, circles: Sequence[Circle], notes: Sequence[Note]) -> tuple[float, float]:
    """Where the words of a post at `x`, `y` m begin: right of it, left, above or below, where they lie over no hole and no other words."""
    spots = ((x + 0.011, y - 0.002), (x - 0.012 - WORDS, y - 0.002), (x - 0.5 * WORDS, y + 0.013), (x - 0.5 * WORDS, y - 0.017))

    def clear(left: float, low: float) -> bool:
        for c in circles:
            near_x, near_y = min(max(c.x, left), left + WORDS), min(max(c.y, low), low + LETTERS)
            if math.hypot(c.x - near_x, c.y - near_y) < c.radius + 0.0005:
                return False
        return all(abs(n.x - left) > WORDS or abs(n.y - low) > 1.5 * LETTERS for n in notes)

    return next((spot for spot in spots if clear(*spot)), spots[0])


def fixture(
    key: str, sizes: FlangeSizes, posts: Sequence[tuple[float, float, float]], held: Sentence, title: Sentence, lines: np.ndarray = NO_LINES
) -> Drawing:
    """The plate of a fixture (`key`, `title`): the head's face lies on it, its bolts go through it, and for each of the
    `posts` (along, up, out in m) a hole under the place of what is `held`, with its height. `lines` (any number, 2, 2) m: where the side
    plates of a stand are welded on."""
    points = [*holes(sizes), *((x, y) for x, y, _ in posts), *((float(x), float(y)) for x, y in lines.reshape(-1, 2))]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    room = 0.035
    frame = np.array(
        [
            (min(xs) - room, min(ys) - room),
            (max(xs) + room, min(ys) - room),
            (max(xs) + room, max(ys) + room),
            (min(xs) - room, max(ys) + room),
        ]
    )
    paths = [Path(frame, CUT, True), *(Path(line, WELD) for line in lines)]
    line = port_line(sizes)
    for x in sizes.ports:
        paths.append(Path(line + np.array([x, 0.0]), MARK, True))
    circles = [Circle(x, y, 0.5 * sizes.bolts.hole) for x, y in holes(sizes)]
    for x, y, _ in posts:
        circles += [Circle(x, y, POST), Circle(x, y, 0.010, MARK)]
    notes: list[Note] = []
    for n, (x, y, out) in enumerate(posts, 1):
        notes.append(Note(*_free(x, y, circles, notes), message("{number}: {out} high", number=str(n), out=Figure(out, "length")), LETTERS))
    meets = [
        str(n)
        for n, (x, y, _) in enumerate(posts, 1)
        if any(math.hypot(x - a, y - b) < POST + 0.5 * sizes.bolts.hole + 0.003 for a, b in holes(sizes))
    ]
    overlap = (
        "The holes of posts {numbers} overlap head bolts: place them beside, with a strap to their position"
        if len(meets) > 1
        else "The hole of post {numbers} overlaps a head bolt: place it beside, with a strap to its position"
    )
    about = (
        *((message(overlap, numbers=", ".join(meets)),) if meets else ()),
        *(_on_posts(held) if not len(lines) else (message("The stand of the {held} is welded on along both lines", held=held),)),
        message("Tack and weld on the fixture and let it cool there: welds pull a manifold by millimetres"),
    )
    return Drawing(key=key, title=title, paths=tuple(paths), circles=tuple(circles), notes=tuple(notes), about=about)
