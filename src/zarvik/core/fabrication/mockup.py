"""What stands in for a part until it is there, and what holds one: plates of a wooden turbo, panels of a cardboard core, a stand for a
flange that does not lie level with the fixture's plate, brackets with their holes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.fabrication.drawing import CUT, MARK, Circle, Drawing, Note, Path, polyline, rectangle
from zarvik.core.layout.frame import Frame

ROD = 0.0105  # m, hole for the M10 rod that holds both plates of a wooden turbo
LETTERS = 0.004  # m
APART = 0.015  # m between two panels on a sheet
MARGIN = 0.012  # m of a stand beyond the outermost bolts and the opening
LEVEL = math.radians(10.0)  # less, and posts alone hold the flange
AWAY = math.sin(math.radians(30.0))  # of its way from the plate, from which on nothing below can hold a flange
FOOT, FOOT_SHARE = 0.06, 0.6  # m and share of the height that a stand reaches behind its flange; common practice, no source
EDGE, PITCH = 1.2, 2.2  # of the hole's diameter: EN 1993-1-8:2005, table 3.3, least end and edge distance e1, e2 and spacing p1


@dataclass(frozen=True, kw_only=True)
class Housing:
    """A housing of a turbo as seen along its shaft from outside, m: its scroll's `radius`; the neck with its `half` width, whose face
    is `face` from the shaft, straight up, with its middle `aside` to the right; `drain` rad clockwise from straight up."""

    radius: float
    half: float
    face: float
    aside: float
    drain: float


def seen_along(shaft: np.ndarray, middle: np.ndarray, neck: Frame, drain: np.ndarray, *, inwards: bool) -> tuple[float, float, float]:
    """Where the face of a `neck` is seen by who looks along the `shaft` (a unit vector; against it unless `inwards`) at the `middle` of
    a housing, m, with the neck straight up: how high and how far to the right, m, and the `drain`, a unit vector, rad clockwise from up."""
    look = shaft if inwards else -shaft
    face = neck.origin - middle
    # The neck is straight up: away from the shaft along its own way, whichever way the gas goes
    up = neck.along if face @ neck.along > 0.0 else -neck.along
    right = np.cross(look, up)
    return float(face @ up), float(face @ right), math.atan2(float(drain @ right), float(drain @ up))


def housing_plate(key: str, housing: Housing, title: Sentence, about: Sequence[Sentence]) -> Drawing:
    """The plate of a `housing` of a wooden turbo: scroll and neck as one contour with the hole of the rod and the drain's mark."""
    from shapely.geometry import Point, box

    h = housing
    neck = box(h.aside - h.half, 0.0, h.aside + h.half, h.face)
    whole = Point(0.0, 0.0).buffer(h.radius, quad_segs=32).union(neck)
    far = h.radius - 0.004
    drain = np.array([math.sin(h.drain), math.cos(h.drain)])
    middle = polyline([(h.aside, 0.0), (h.aside, h.face)], MARK)
    return Drawing(
        key=key,
        title=title,
        paths=(Path(np.asarray(whole.exterior.coords)[:-1], CUT, True), middle, Path(np.array([0.012 * drain, far * drain]), MARK)),
        circles=(Circle(0.0, 0.0, 0.5 * ROD),),
        notes=(
            Note(h.aside - 0.6 * h.half, h.face - 2.0 * LETTERS, message("flange face"), LETTERS),
            Note(float(0.55 * far * drain[0]), float(0.55 * far * drain[1]), message("drain"), LETTERS),
        ),
        about=tuple(about),
    )


@dataclass(frozen=True)
class Opening:
    """A pipe of `diameter` m in a `panel` of a box ("end", "front" or "top"; `far`: the opposite one), its middle `x` to the right and `y`
    up from the panel's, m."""

    panel: str
    far: bool
    x: float
    y: float
    diameter: float


def box_panels(key: str, size: tuple[float, float, float], openings: Sequence[Opening], title: Sentence) -> Drawing:
    """Panels of a cardboard box in the place of an intercooler with its tanks. `size`: width, height and depth m; `openings`: where its
    pipes go in. Raises Fault for a side of nothing."""
    wide, high, deep = size
    if min(size) <= 0.0:
        raise Fault("a box of cardboard needs a width, a height and a depth")
    sheets = (("front", wide, high, message("Front")), ("top", wide, deep, message("Top")), ("end", deep, high, message("End")))
    paths: list[Path] = []
    circles: list[Circle] = []
    notes: list[Note] = []
    low = 0.0
    for panel, w, h, words in sheets:
        left = 0.0
        for far in (False, True):
            paths.append(rectangle(left, low, left + w, low + h))
            other = {"front": message("Back"), "top": message("Bottom"), "end": message("Other end")}[panel] if far else words
            notes.append(Note(left + 0.003, low + 0.003, other, LETTERS))
            x, y = left + 0.5 * w, low + 0.5 * h
            circles += [Circle(x + o.x, y + o.y, 0.5 * o.diameter) for o in openings if (o.panel, o.far) == (panel, far)]
            left += w + APART
        low += h + APART
    about = (
        message("Seen from outside. Six panels, taped edge to edge; {wide} wide with its tanks", wide=Figure(wide, "length")),
        message("Put a short end of tube through each opening"),
    )
    return Drawing(key=key, title=title, paths=tuple(paths), circles=tuple(circles), notes=tuple(notes), about=about)


@dataclass(frozen=True, eq=False, kw_only=True)
class Stand:
    """What holds a flange on the fixture's plate: its two side plates, the `corners` (any number, 2) m of one from the foot below the
    flange's middle backwards and up; their `lines` on the fixture's plate (2, 2, 2) m; `across` and `up` the unit vectors of the backing
    plate, which is `wide` and from `low` to `high` along `up` round the flange's middle, m."""

    corners: np.ndarray
    lines: np.ndarray
    across: np.ndarray
    up: np.ndarray
    wide: float
    low: float
    high: float


def stand_for(frame: Frame, holes: Sequence[tuple[float, float]], bore: float, thick: float) -> Stand | None:
    """The stand for a flange whose face lies in the plane of a `frame` (along, up, out in m from the fixture's plate, which lies at out 0;
    the gas goes into the plane), its bolt `holes` in that frame, opening `bore` m, of plate `thick` m; None where posts hold it: level with
    the plate, or looking away from it. It stands on the turbine's side: the manifold's flange is bolted to it. Raises Fault where it would
    be below the plate."""
    n = frame.along
    level = math.hypot(n[0], n[1])
    if level < math.sin(LEVEL) or n[2] > AWAY:
        return None
    behind = np.array([n[0], n[1], 0.0]) / level
    across = np.array([-behind[1], behind[0], 0.0])
    up = (np.array([0.0, 0.0, 1.0]) - n[2] * n) / level
    points = [x * frame.axes[:, 0] + y * frame.axes[:, 1] for x, y in holes]
    aside = max([0.5 * bore, *(abs(float(p @ across)) for p in points)]) + MARGIN
    high = max([0.5 * bore, *(float(p @ up) for p in points)]) + MARGIN
    low = min([-0.5 * bore, *(float(p @ up) for p in points)]) - MARGIN
    height = float(frame.origin[2])
    least = -(height - 0.002) / float(up[2])  # where the backing plate comes to the fixture's
    if least > min([-0.5 * bore, *(float(p @ up) for p in points)]) - 0.006:
        raise Fault("The turbine flange lies too near to the fixture plate for a stand: raise the head flange on spacers")
    low = max(low, least)
    # Backwards and up, behind the backing plate
    slope, face = np.array([up @ behind, up[2]]), thick * np.array([n @ behind, n[2]])
    lower, upper = np.array([0.0, height]) + low * slope + face, np.array([0.0, height]) + high * slope + face
    back = max(lower[0], upper[0], 0.0) + max(FOOT, FOOT_SHARE * height)
    corners = np.array([[lower[0], 0.0], [back, 0.0], upper, lower])
    foot = frame.origin[:2]
    beside = aside - MARGIN  # inside the edges of the backing plate, clear of the opening
    lines = np.array([[foot + side * beside * across[:2] + u * behind[:2] for u in (lower[0], back)] for side in (-1.0, 1.0)])
    return Stand(corners=corners, lines=lines, across=across, up=up, wide=2.0 * aside, low=low, high=high)


def stand_drawings(stand: Stand, frame: Frame, holes: Sequence[tuple[float, float]], bore: float, bolt: float) -> tuple[Drawing, Drawing]:
    """The backing plate of a `stand` with the `holes` of the flange in its `frame` (`bolt` m across; opening `bore` m, marked), and its
    side plate."""
    half = 0.5 * stand.wide
    circles = [Circle(0.0, 0.0, 0.5 * bore, MARK)]
    for x, y in holes:
        place = x * frame.axes[:, 0] + y * frame.axes[:, 1]
        circles.append(Circle(float(place @ stand.across), float(place @ stand.up), 0.5 * bolt))
    plate = Drawing(
        key="stand-plate",
        title=message("Stand on the fixture: backing plate"),
        paths=(rectangle(-half, stand.low, half, stand.high),),
        circles=tuple(circles),
        notes=(Note(-half + 0.003, stand.low + 0.003, message("towards the fixture plate"), LETTERS),),
        about=(message("Bolt the flange of the manifold to it while you tack and weld"), message("Seen from the side of the turbine")),
    )
    side = Drawing(
        key="stand-side",
        title=message("Stand on the fixture: side plate, two of it"),
        paths=(Path(stand.corners, CUT, True),),
        notes=(Note(float(stand.corners[:, 0].mean()), 0.3 * float(stand.corners[:, 1].max()), message("behind"), LETTERS),),
        about=(
            message("Foot on the fixture plate, on the two lines marked there; the backing plate on its front edge"),
            message("Check the angle with a protractor before welding"),
        ),
    )
    return plate, side


def hole_faults(length: float, width: float, holes: Sequence[tuple[float, float, float]]) -> list[Sentence]:
    """What is wrong with the `holes` (x, y from the middle, diameter; m) of a bracket `length` by `width` m: too near to an edge or to each
    other (EN 1993-1-8, table 3.3)."""
    found: list[Sentence] = []
    for number, (x, y, d) in enumerate(holes, 1):
        room = min(0.5 * length - abs(x), 0.5 * width - abs(y))
        if room < EDGE * d - 1e-9:
            words = "Hole {number}: its middle is {room} from an edge, {wanted} are wanted"
            found.append(message(words, number=str(number), room=Figure(max(room, 0.0), "length"), wanted=Figure(EDGE * d, "length")))
        for other, (x2, y2, d2) in enumerate(holes[: number - 1], 1):
            apart, wanted = math.hypot(x - x2, y - y2), PITCH * max(d, d2)
            if apart < wanted - 1e-9:
                words = "Holes {one} and {two}: {apart} from middle to middle, {wanted} are wanted"
                room_for = {"apart": Figure(apart, "length"), "wanted": Figure(wanted, "length")}
                found.append(message(words, one=str(other), two=str(number), **room_for))
    return found


def bracket(key: str, size: tuple[float, float, float], holes: Sequence[tuple[float, float, float]], title: Sentence) -> Drawing:
    """A bracket as a flat plate: `size` length, width and thickness m, `holes` (x, y from its middle, diameter; m)."""
    length, width, thick = size
    return Drawing(
        key=key,
        title=title,
        paths=(rectangle(-0.5 * length, -0.5 * width, 0.5 * length, 0.5 * width),),
        circles=tuple(Circle(x, y, 0.5 * d) for x, y, d in holes),
        about=(
            message("Plate {thick} thick, {count} holes", thick=Figure(thick, "length"), count=str(len(holes))),
            *hole_faults(length, width, holes),
        ),
    )
