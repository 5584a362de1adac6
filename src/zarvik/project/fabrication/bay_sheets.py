"""The engine bay on paper: from above, from the side, from the front, with the sizes that a tape needs."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence

import numpy as np
from shapely import LineString, MultiPoint, MultiPolygon, Point, Polygon, area, polygons, unary_union, union_all
from shapely import box as shapely_box

from zarvik.core.bay.build_bodies import cooler_bodies, filter_bodies, turbo_bodies
from zarvik.core.bay.triangles import triangles_of
from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.fabrication.drawing import CUT, MARK, Circle, Drawing, Note, Path
from zarvik.core.layout.placement import Layout, Line
from zarvik.core.solids.bodies import Body, Shape
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.bay.work import part_names
from zarvik.project.document.document import Project
from zarvik.project.layout.layout import layout, place_of, space_of

# Name, the two directions that are drawn: to the right and up, of along the crank, up, out
VIEWS = {
    "top": ("From above", (0, 2), (1.0, -1.0)),
    "side": ("From the side", (0, 1), (1.0, 1.0)),
    "front": ("From the front", (2, 1), (1.0, 1.0)),
}
PAGE = (0.180, 0.235)  # m of an A4 sheet that a view may take
SCALES = (1, 2, 5, 10, 20, 50)
CROSS = 0.06  # m of the arms of the cross at port 1
LETTER = 0.0026  # m
SPOT = 0.0012  # m, radius of a corner's mark
MOST_CORNERS = 12  # of a pipe, that are written
GRID = 2e-4  # m to which the outline of a scan is drawn
SPECK = 1e-10  # m2: triangles that are seen from their edge
HOLE = 1e-4  # m2: smaller ones of an outline are left out
AROUND = 0.15  # m beside what stands in the bay that pipes are drawn
IN_A_LINE, OBJECTS_IN_A_LINE = 3, 5


def bay_sheets(project: Project, *, scaled: bool) -> tuple[Drawing, ...]:
    """Three views of the build in its bay; `scaled` to fit a page, else at their true size. Objects are numbered, corners of pipes have the
    letter of their pipe; what they are stands with the first view. Raises Fault where nothing is laid out."""
    found = layout(project)
    if not any(line.placed for line in found.lines):
        raise Fault("nothing is laid out yet")
    return tuple(_view(project, found, key, scaled) for key in VIEWS)


def _view(project: Project, found: Layout, key: str, scaled: bool) -> Drawing:
    title, axes, signs = VIEWS[key]

    def flat(points: np.ndarray) -> np.ndarray:
        return np.column_stack([signs[0] * points[:, axes[0]], signs[1] * points[:, axes[1]]])

    shapes, middles, labels = _shapes(project, found, flat)
    every = np.vstack([np.array(shape.exterior.coords) for shape, _ in shapes])
    size = np.ptp(every, axis=0)
    scale = next((n for n in SCALES if size[0] <= n * PAGE[0] and size[1] <= n * PAGE[1]), SCALES[-1]) if scaled else 1
    paths, circles = [], []
    for shape, layer in shapes:
        paths.append(Path(np.array(shape.exterior.coords)[:-1] / scale, layer, True))
        paths += [Path(np.array(hole.coords)[:-1] / scale, layer, True) for hole in shape.interiors if Polygon(hole).area > HOLE]
    paths += [Path(points / scale, MARK) for points in middles]
    arm = CROSS / scale
    paths += [Path(np.array(ends), MARK) for ends in (((-arm, 0.0), (arm, 0.0)), ((0.0, -arm), (0.0, arm)))]
    letters = _letters(found)
    for line in found.lines:
        if line.key in letters:
            for number, (x, y) in enumerate(flat(corners_of(line)), 1):
                if line.key != "exhaust" or number <= MOST_CORNERS:
                    circles.append(Circle(x / scale, y / scale, SPOT * (1.0 if scaled else 4.0), MARK))
                    labels.append((x, y, f"{letters[line.key]}{number}"))
    high = LETTER * (1.0 if scaled else 4.0)
    box = shapely_box(*every.min(axis=0), *every.max(axis=0))
    inside = [(x, y, words) for x, y, words in labels if box.buffer(0.02).contains(Point(x, y))]
    notes = _apart([(x / scale, y / scale, words) for x, y, words in inside], high)
    head = message("{view}, 1:{scale}", view=message(title), scale=str(scale))
    circles = [one for one in circles if box.buffer(0.02).contains(Point(one.x * scale, one.y * scale))]
    about = tuple(_about(project, found, letters)) if key == "top" else ()
    return Drawing(key=f"bay-{key}", title=head, paths=tuple(paths), circles=tuple(circles), notes=tuple(notes), about=about)


def _shapes(
    project: Project, found: Layout, flat: Callable[[np.ndarray], np.ndarray]
) -> tuple[list[tuple[Polygon, str]], list[np.ndarray], list[tuple[float, float, str]]]:
    """Outlines with their layers, middles of pipes, and the numbers of the objects where they stand; m, as a view (`flat`) shows them."""
    shapes: list[tuple[Polygon, str]] = []
    labels: list[tuple[float, float, str]] = []
    for number, one in enumerate(obstacles_of(project), 1):
        outlines = _polygons(unary_union([_seen(body, flat) for body in one.bodies]))
        if outlines:
            shapes += [(outline, MARK) for outline in sorted(outlines, key=lambda outline: outline.area)]
            at = shapes[-1][0].representative_point()
            labels.append((at.x, at.y, str(number)))
    space = space_of(project)
    own = [("T", list(turbo_bodies(turbo))) for turbo in (() if space.blown else found.turbos)] + [
        ("IC", list(cooler_bodies(space, found))),
        ("F", list(filter_bodies(space))),
    ]
    for letter, bodies in own:
        outlines = [_outline(flat(triangles_of(body)[0])) for body in bodies]
        if outlines:
            shapes += [(outline, MARK) for outline in _polygons(unary_union(outlines))]
            at = shapes[-1][0].representative_point()
            labels.append((at.x, at.y, letter))
    frame = unary_union([shape for shape, _ in shapes]).envelope.buffer(AROUND, join_style="mitre") if shapes else None
    middles: list[np.ndarray] = []
    for line in found.lines:
        if not line.placed:
            continue
        tubes = unary_union([LineString(flat(part.line())).buffer(0.5 * part.segment.outside, cap_style="flat") for part in line.placed])
        shapes += [(outline, CUT) for outline in _polygons(tubes if frame is None else tubes.intersection(frame))]
        for part in line.placed:
            middle = LineString(flat(part.line()))
            middle = middle if frame is None else middle.intersection(frame)
            lines = [one for one in getattr(middle, "geoms", [middle]) if isinstance(one, LineString) and not one.is_empty]
            middles += [np.array(one.coords) for one in lines]
    return shapes, middles, labels


def _letters(found: Layout) -> dict[str, str]:
    """A letter for each pipe that is no primary; the second bank's has a stroke."""
    first = {"intake": "I", "hot_pipe": "H", "cold_pipe": "C", "exhaust": "E"}
    letters = {line.key: first.get(place_of(line.key), "") for line in found.lines if line.placed}
    return {key: letter + ("'" if key.endswith(":2") else "") for key, letter in letters.items() if letter}


def _apart(labels: list[tuple[float, float, str]], high: float) -> list[Note]:
    """Words beside their places, none over another where a place near by is free."""
    found: list[Note] = []
    for x, y, words in labels:
        wide = 0.62 * high * len(words)
        spots = ((0.5, 0.3), (0.5, -1.3), (-0.5 - wide / high, 0.3), (-0.5 - wide / high, -1.3), (0.5, 1.7), (0.5, -2.7), (2.0, 0.3))
        for dx, dy in spots:
            at = (x + dx * high, y + dy * high)
            if all(abs(at[1] - n.y) > 1.1 * high or at[0] > n.x + 0.62 * high * _long(n) or n.x > at[0] + wide for n in found):
                break
        found.append(Note(at[0], at[1], message("{words}", words=words), high))
    return found


def _long(note: Note) -> int:
    return len(str(dict(note.words.figures)["words"]))


def _seen(body: Body, flat: Callable[[np.ndarray], np.ndarray]) -> Polygon | MultiPolygon:
    """A body as a view (`flat`) shows it; a scan with its dents and holes."""
    corners, triangles = triangles_of(body)
    points = flat(corners)
    if body.shape is not Shape.SCAN:
        return _outline(points)
    each = polygons(points[triangles])
    return union_all(each[area(each) > SPECK], grid_size=GRID).simplify(GRID)


def _outline(points: np.ndarray) -> Polygon:
    """The outline of a body whose corners (any number, 2; m) are seen from one side, without dents."""
    found = MultiPoint(points).convex_hull
    return found if isinstance(found, Polygon) else found.buffer(1e-4)


def _polygons(shape) -> list[Polygon]:  # type: ignore[no-untyped-def]
    return [one for one in getattr(shape, "geoms", [shape]) if isinstance(one, Polygon) and not one.is_empty]


def corners_of(line: Line) -> np.ndarray:
    """Where the straights of a pipe would meet, with its ends (any number, 3), m: what a tape is held to."""
    found = [line.placed[0].first.origin]
    for part in line.placed:
        s = part.segment
        if s.bends:
            found.append(part.first.moved(s.radius * math.tan(0.5 * s.angle)).origin)
    found.append(line.placed[-1].last.origin)
    return np.array(found)


def _about(project: Project, found: Layout, letters: dict[str, str]) -> Iterator[Sentence]:
    """The corners of each pipe as sizes from exhaust port 1: along the crank, height, outwards; then what the numbers are."""
    yield message("From exhaust port 1 in the head face: along the crank, height, outwards; where straights would meet")
    names = part_names(project)
    for line in found.lines:
        if line.key not in letters:
            continue
        corners = [
            message(
                "{letter}{number} {along} / {up} / {out}",
                letter=letters[line.key],
                number=str(number),
                along=Figure(round(float(along), 3), "length"),
                up=Figure(round(float(up), 3), "length"),
                out=Figure(round(float(out), 3), "length"),
            )
            for number, (along, up, out) in enumerate(corners_of(line)[:MOST_CORNERS], 1)
        ]
        for begin in range(0, len(corners), IN_A_LINE):
            yield _row(names.get(line.key, line.key) if begin == 0 else "", corners[begin : begin + IN_A_LINE])
    objects = [message("T turbo"), message("IC intercooler"), message("F air filter")]
    objects += [message("{number} {name}", number=str(n), name=one.name) for n, one in enumerate(obstacles_of(project), 1)]
    for begin in range(0, len(objects), OBJECTS_IN_A_LINE):
        yield _row("", objects[begin : begin + OBJECTS_IN_A_LINE])


def _row(name: str, parts: Sequence[Sentence]) -> Sentence:
    """Several sentences in one line."""
    places = {f"part{k}": part for k, part in enumerate(parts)}
    words = "   ".join(f"{{{key}}}" for key in places)
    return message("{name}: " + words, name=name, **places) if name else message(words, **places)
