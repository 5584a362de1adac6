"""What the Layout bench shows, without a window."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from zarvik.core.checks.layout import end_miss
from zarvik.core.layout.placement import CAST, PRIMARY, Layout, Line, Space
from zarvik.core.layout.run import Placed, Segment, place_pieces
from zarvik.core.limits.limits import FIT, OK, TO_DO
from zarvik.project.document.document import Project
from zarvik.project.document.naming import numbered
from zarvik.project.document.parts.piece import Piece
from zarvik.project.document.places import get, run_title
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import place_of

LENGTH, ANGLE, ROLL = "length", "angle", "roll"
STAND = ("placed", "along", "up", "out", "heading", "pitch")
PLACES: tuple[tuple[str, tuple[str, ...]], ...] = (
    (
        "Turbine flange",
        (
            *(f"layout.turbo.{n}" for n in STAND),
            "layout.turbo.shaft",
            "layout.turbo.cover",
            "layout.turbo.drain",
            "layout.turbo.hand",
            "layout.turbo.to_shaft",
            "layout.turbo.between",
            "layout.turbo.outlet",
        ),
    ),
    ("Intercooler inlet", tuple(f"layout.cooler_in.{n}" for n in STAND)),
    ("Intercooler outlet", tuple(f"layout.cooler_out.{n}" for n in STAND)),
    ("Throttle", tuple(f"layout.throttle.{n}" for n in STAND)),
    ("Air filter", (*(f"layout.filter.{n}" for n in STAND), "layout.filter.diameter", "layout.filter.length")),
    ("Exhaust outlet", tuple(f"layout.tail.{n}" for n in STAND)),
)
HEAD = tuple(
    f"layout.head.{n}"
    for n in (
        "port",
        "port_width",
        "port_height",
        "spacing",
        "port_down_angle",
        "flange",
        "bolts",
        "bolt_hole",
        "bolt_up",
        "bolt_aside",
        "edge",
        "order",
        "banks",
        "bank_distance",
        "stagger",
        "numbered",
        "roll",
        "crank_below",
        "crank_behind",
    )
)
MAKING = tuple(
    f"layout.fabrication.{n}"
    for n in (
        "primary_length",
        "spread",
        "most_bends",
        "within_out",
        "within_down",
        "within_up",
        "wall",
        "tightest_bend",
        "turn",
        "joint",
        "log",
        "weld_roots",
        "stress_relief",
        "blocks",
        "length_step",
        "angle_step",
        "roll_step",
        "lengths",
        "angles",
        "rolls",
    )
)


class Say(Protocol):
    """A number in the owner's unit."""

    def __call__(self, value: float, kind: str, *, places: int | None = None) -> str: ...


@dataclass(frozen=True)
class Row:
    """A row of the list: a run's head (`kind` "head") or a piece; `line`: key of its run in the layout. `figures`: what
    stands at its right, `state` of its end."""

    id: str
    kind: str
    line: str
    title: str
    figures: str = ""
    state: str = ""


def shown(line: Line) -> bool:
    """Is a run listed? The other bank's that follow from the first one's are not."""
    return not line.key.endswith(":2")


def rows(project: Project, layout: Layout, say: Say) -> list[Row]:
    """Every run with its pieces, primaries first."""
    found: list[Row] = []
    order = sorted((one for one in layout.lines if shown(one)), key=lambda one: not one.key.startswith(PRIMARY))
    for line in order:
        place = place_of(line.key)
        pieces: tuple[Piece, ...] = get(project, place)
        by_key = {p.id: p for p in pieces}
        state = ""
        if line.judged and line.goal is not None and line.placed:
            state = FIT.state(end_miss(line))
        found.append(Row(f"head:{line.key}", "head", line.key, run_title(project, place), say(line.length, "length", places=1), state))
        for part in line.placed:
            piece = by_key.get(part.segment.id)
            if piece is not None and part.segment.kind != "throttle":
                found.append(Row(piece.id, piece.kind, line.key, numbered(pieces, piece), of_piece(part, say)))
    return found


def of_piece(part: Placed, say: Say) -> str:
    """The figures of a piece: its length, or turn, radius and roll."""
    s = part.segment
    if not s.bends:
        return say(s.length, "length", places=1)
    text = f"{say(s.angle, 'angle')} R {say(s.radius, 'length', places=1)}"
    if abs(s.roll) > 1e-6:
        text += f" ↻ {say(s.roll, 'angle')}"
    return text


def line_of(layout: Layout, piece: str) -> Line | None:
    """The run that a piece is in."""
    return next((one for one in layout.lines if any(p.segment.id == piece for p in one.placed)), None)


def at_end(line: Line, say: Say) -> tuple[str, str]:
    """How the end of a run misses what it must meet, in words, and its state; empty where it meets nothing."""
    missed = line.missed
    if missed is None or not line.placed:
        return "", ""
    words = {
        "collector": tr("to the collector"),
        "turbine": tr("to the turbine"),
        "cooler": tr("to the intercooler"),
        "compressor": tr("to the compressor"),
        "blower": tr("to the blower"),
        "throttle": tr("to the throttle"),
        "tail": tr("to its end point"),
    }
    text = tr_format(
        "{0}: {1} along, {2} sideways, {3}",
        words[line.meets],
        say(missed.gap, "length", places=1),
        say(missed.offset, "length", places=1),
        say(missed.angle, "angle", places=1),
    )
    return text, FIT.state(end_miss(line)) if line.judged else TO_DO


@dataclass(frozen=True, eq=False)
class Handle:
    """A handle of a piece: what it changes (`name`), its `place` in the document, its `value` (SI), where it is (m) and
    where it would be with a little more (`next`, for `by` more)."""

    name: str
    place: str
    value: float
    point: np.ndarray
    next: np.ndarray
    by: float


def handles(project: Project, line: Line, piece: str) -> Iterator[Handle]:
    """The handles of a piece: the end of a straight; end and back of a bend."""
    part = next((p for p in line.placed if p.segment.id == piece), None)
    if part is None or part.segment.kind in ("gap", "throttle"):
        return
    place = f"{place_of(line.key)}.{piece}"
    s = part.segment
    before = part.first.rolled(-s.roll)

    def moved(**values: float) -> Placed:
        return place_pieces([dataclasses.replace(s, **values)], before)[0]  # type: ignore[arg-type]

    if not s.bends:
        yield Handle(
            name=LENGTH,
            place=f"{place}.length",
            value=s.length,
            point=part.last.origin,
            next=moved(length=s.length + 0.01).last.origin,
            by=0.01,
        )
        return
    more = s.angle + 0.05
    yield Handle(
        name=ANGLE,
        place=f"{place}.angle",
        value=s.angle,
        point=part.last.origin,
        next=moved(angle=more, length=s.radius * more).last.origin,
        by=0.05,
    )
    yield Handle(
        name=ROLL,
        place=f"{place}.roll",
        value=get(project, f"{place}.roll").si,
        point=back(part, s),
        next=back(moved(roll=s.roll + 0.1), s),
        by=0.1,
    )


def back(part: Placed, s: Segment) -> np.ndarray:
    """A point behind the middle of a bend, away from its centre."""
    middle = part.at(0.5)
    return np.asarray(middle.origin - (0.5 * s.outside + 0.02) * middle.axes[:, 0])


def stepped(name: str, value: float, step: float) -> float:
    """A value in steps, within what can be: lengths above nothing, bends up to half a turn, rolls once round."""
    if step > 0.0:
        value = round(value / step) * step
    if name == LENGTH:
        return min(max(value, step or 0.001, 0.001), 10.0)
    if name not in (ANGLE, ROLL):
        return value
    if name == ANGLE:
        return min(max(value, math.radians(1.0)), math.pi)
    return math.remainder(value, 2.0 * math.pi)


def headline(space: Space, layout: Layout, say: Say) -> str:
    """The primaries in a line: how long, how far apart."""
    lines = layout.primaries
    if space.collector is not None and space.collector.form == CAST:
        return tr("The manifold is one casting: its runners are drawn from every port to the turbine.")
    if not lines:
        return tr("The primaries are entered as one length: “Generate primaries” makes them from pieces.")
    lengths = [one.length for one in lines]
    spread = max(lengths) - min(lengths)
    share = max(lengths) / min(lengths) - 1.0 if min(lengths) > 0.0 else 0.0
    closed = sum(FIT.state(end_miss(one)) == OK for one in lines if one.judged)
    return tr_format(
        "{0} primaries, {1} to {2}: difference {3}, {4:.1f} %; {5} meet the collector",
        len(lines),
        say(min(lengths), "length"),
        say(max(lengths), "length"),
        say(spread, "length", places=1),
        100.0 * share,
        closed,
    )
