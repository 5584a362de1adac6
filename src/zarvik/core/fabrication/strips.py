"""Strips of paper that are wrapped round a tube: where it is cut, where the next piece's line stands."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.fabrication.drawing import CUT, MARK, Drawing, Note, Path, polyline, rectangle
from zarvik.core.fabrication.templates import POINTS, Template

MARGIN = 0.012  # m of paper below and above a curve
LAP = 0.008  # m of paper that is glued over its other end
HIGH = 0.025  # m of a strip with a roll mark


def strip(key: str, template: Template, title: Sentence, *about: Sentence) -> Drawing:
    """A `template` as a strip of paper (`key` its file's name, `title` and `about` its words): the lower edge goes round
    square, the curve is where the tube is cut, quarters are marked, and a lap is glued over the other end."""
    wide = template.width
    low = float(template.along.min()) - MARGIN
    high = float(template.along.max()) + MARGIN
    base = low
    shift = -base
    paths = [
        Path(np.column_stack([template.around, template.along + shift]), CUT),
        rectangle(0.0, 0.0, wide, high - low, MARK),
        polyline([(wide, 0.0), (wide + LAP, 0.004), (wide + LAP, high - low - 0.004), (wide, high - low)], MARK),
    ]
    notes = []
    for quarter in range(5):
        x = 0.25 * quarter * wide
        paths.append(polyline([(x, 0.0), (x, 0.006)], MARK))
        notes.append(Note(x + 0.0008, 0.0065, message("{angle}", angle=Figure(0.5 * math.pi * quarter, "angle")), 0.0022))
    notes.append(Note(0.12 * wide, max(high - low - 0.006, 0.004), title, 0.003))
    return Drawing(key=key, title=title, paths=tuple(paths), circles=(), notes=tuple(notes), about=about)


WRAP = 0.030  # m, the arrow of the way in which a strip is wrapped


def roll_strip(key: str, diameter: float, roll: float, title: Sentence, *about: Sentence) -> Drawing:
    """A strip (`key`, `title`, `about`) round a tube of an outside `diameter` (m) at a seam: its zero on the scribe line of
    the piece before, and a line where that of the next one stands, turned by `roll` rad, clockwise for who looks along
    the run."""
    wide = math.pi * diameter
    at = 0.5 * diameter * math.fmod(math.fmod(roll, 2.0 * math.pi) + 2.0 * math.pi, 2.0 * math.pi)
    paths = [
        rectangle(0.0, 0.0, wide, HIGH, MARK),
        polyline([(wide, 0.0), (wide + LAP, 0.004), (wide + LAP, HIGH - 0.004), (wide, HIGH)], MARK),
        polyline([(0.0, 0.0), (0.0, HIGH)], CUT),
        polyline([(at, 0.0), (at, HIGH)], CUT),
        # An arrow: along the flow, so that clockwise is to the right for who reads it outside.
        polyline([(0.5 * wide, 0.004), (0.5 * wide, HIGH - 0.004)], MARK),
        polyline([(0.5 * wide - 0.002, HIGH - 0.008), (0.5 * wide, HIGH - 0.004), (0.5 * wide + 0.002, HIGH - 0.008)], MARK),
    ]
    for tens in range(36):
        x = wide * tens / 36.0
        paths.append(polyline([(x, 0.0), (x, 0.004 if tens % 9 else 0.007)], MARK))
    # Words and the arrow of the wrap stand in the half that has no line of the next piece.
    free, across = (0.53 if at < 0.5 * wide else 0.06) * wide, HIGH - 0.0085
    paths += [
        polyline([(free, across), (free + WRAP, across)], MARK),
        polyline([(free + WRAP - 0.004, across + 0.0015), (free + WRAP, across), (free + WRAP - 0.004, across - 0.0015)], MARK),
    ]
    notes = (
        Note(0.001, HIGH - 0.005, message("before"), 0.0025),
        Note(min(at + 0.001, wide - 0.012), 0.5 * HIGH, message("next {angle}", angle=Figure(roll, "angle")), 0.0025),
        Note(free, HIGH - 0.006, message("wrap this way, printed side out"), 0.0025),
        Note(free, 0.009, title, 0.0028),
    )
    return Drawing(key=key, title=title, paths=tuple(paths), circles=(), notes=notes, about=about)


def pie_strip(key: str, diameter: float, turn: float, middle: float, title: Sentence, *about: Sentence) -> Drawing:
    """A whole pie piece (`key`, `title`, `about`) unrolled: outside `diameter` m, `turn` rad of each cut, `middle` m along
    its middle; both cuts on one strip."""
    phi = np.linspace(0.0, 2.0 * math.pi, POINTS)
    around = 0.5 * diameter * phi
    deep = 0.5 * diameter * math.tan(0.5 * turn) * np.cos(phi)
    wide, half = float(around[-1]), 0.5 * middle
    top = half + float(deep.max()) + 0.006
    if half <= float(deep.max()):
        raise Fault("a piece of {0:.0f} mm has no inner side at {1:.1f}°", 1e3 * middle, math.degrees(turn))
    paths = (
        Path(np.column_stack([around, top + half + deep]), CUT),
        Path(np.column_stack([around, top - half - deep]), CUT),
        polyline([(0.0, top), (wide, top)], MARK),
        rectangle(0.0, 0.0, wide, 2.0 * top, MARK),
        polyline([(wide, 0.0), (wide + LAP, 0.004), (wide + LAP, 2.0 * top - 0.004), (wide, 2.0 * top)], MARK),
    )
    return Drawing(key=key, title=title, paths=paths, circles=(), notes=(Note(0.25 * wide, top + 0.0015, title, 0.0028),), about=about)


def merge_leg(tube: float, angle: float, count: int, *, wall: float = 0.0) -> Template:
    """The mouth of one of the `count` legs of a merge collector: outside diameter `tube` m, each leaning by `angle` rad to
    the axis, cut on both sides by the planes halfway to its neighbours; the `wall` (m) is cut square to its skin. `along`
    counts from the point where all middles meet, up the leg; 0 lies outermost, away from the axis.

    A point of the leg at the angle phi round it: r (cos phi e + sin phi s) + t w with w = -(cos a k - sin a e) up the leg; it lies in the
    wedge of its own while |s part| <= tan(pi / n) (e part): a plane for each side, of which the one farther up cuts.
    """
    if count < 2 or not math.radians(2.0) <= angle <= math.radians(60.0):
        raise Fault("a merge needs two or more legs, at 2° to 60°")
    phi = np.linspace(0.0, 2.0 * math.pi, POINTS)
    cuts = []
    for radius in {0.5 * tube, 0.5 * tube - wall}:
        # Frame of the leg: outward e' = cos a e + sin a k is across it, s to the side.
        outward = radius * np.cos(phi) * math.cos(angle)
        side = radius * np.sin(phi)
        for sign in (1.0, -1.0):
            if count == 2:
                # Two legs meet in the plane through the axis.
                cuts.append(-outward / math.sin(angle))
            else:
                cuts.append((sign * side / math.tan(math.pi / count) - outward) / math.sin(angle))
    return Template(0.5 * tube * phi, np.max(cuts, axis=0))


def transition(wide: float, high: float, corner: float, bore: float, length: float, *, steps: int = 72) -> tuple[np.ndarray, np.ndarray]:
    """A sheet that goes over from a port (`wide`, `high`, m, with a `corner` radius m; half of the height: an oval) to a
    round of `bore` m, `length` m on, unrolled flat by triangles: outer edge and round edge, m, `steps` points each and
    one more. Edges keep their length; every rib keeps its own (true lengths of the ribs and of one diagonal each)."""
    if min(wide, high, bore, length) <= 0.0 or not 0.0 <= corner <= 0.5 * min(wide, high) + 1e-12:
        raise Fault("a transition needs a width, a height and a length, and corner radii up to half its height")
    port = outline(wide, high, corner, steps)
    phi = np.arctan2(port[:, 1], port[:, 0])
    # Round edge at the same share of its way, beginning on the same side
    ring = 0.5 * bore * np.column_stack([np.cos(phi), np.sin(phi)])
    low = np.column_stack([port, np.zeros(len(port))])
    top = np.column_stack([ring, np.full(len(ring), length)])
    flat_low, flat_top = [np.zeros(2)], [np.array([0.0, float(np.linalg.norm(top[0] - low[0]))])]
    for i in range(len(low) - 1):
        a, b = flat_low[-1], flat_top[-1]
        # Next point of the round edge by the rib and the diagonal, then of the port by both others.
        c = _third(a, b, float(np.linalg.norm(top[i + 1] - low[i])), float(np.linalg.norm(top[i + 1] - top[i])))
        d = _third(a, c, float(np.linalg.norm(low[i + 1] - low[i])), float(np.linalg.norm(low[i + 1] - top[i + 1])))
        flat_top.append(c)
        flat_low.append(d)
    return np.array(flat_low), np.array(flat_top)


def _third(a: np.ndarray, b: np.ndarray, from_a: float, from_b: float) -> np.ndarray:
    """The corner to the right of the way from a to b, at these distances from both."""
    way = b - a
    size = float(np.linalg.norm(way))
    along = (from_a**2 - from_b**2 + size**2) / (2.0 * size)
    beside = math.sqrt(max(from_a**2 - along**2, 0.0))
    unit = way / size
    return np.asarray(a + along * unit + beside * np.array([unit[1], -unit[0]]))


def outline(wide: float, high: float, corner: float, steps: int = 72) -> np.ndarray:
    """Points round a port of `wide` by `high` m with `corner` radius m, `steps` and one more, from its right side on
    against the clock."""
    a, b, r = 0.5 * wide - corner, 0.5 * high - corner, corner
    found = []
    for i in range(steps + 1):
        t = 2.0 * math.pi * i / steps
        c, s = math.cos(t), math.sin(t)
        if a < 1e-12 and b < 1e-12:
            found.append((r * c, r * s))
            continue
        # Where the ray of this angle leaves a rectangle with round corners
        reach = min((a + r) / abs(c) if abs(c) > 1e-12 else math.inf, (b + r) / abs(s) if abs(s) > 1e-12 else math.inf)
        x, y = reach * c, reach * s
        if abs(x) > a + 1e-12 and abs(y) > b + 1e-12 and r > 0.0:
            mx, my = math.copysign(a, x), math.copysign(b, y)
            # |k (c, s) - m| = r, the outer one
            half = c * mx + s * my
            k = half + math.sqrt(max(half * half - (mx * mx + my * my - r * r), 0.0))
            x, y = k * c, k * s
        found.append((x, y))
    return np.array(found)
