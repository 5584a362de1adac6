"""Rotations of a first design, so that its pipes go where they go in a car: the exhaust down and back, the charge pipes to a core in front
of the engine and over it to the throttle. Nobody has measured anything yet: it is a picture to begin with, and no dimension of a car."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence

import numpy as np

from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import Layout
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import get, with_value
from zarvik.project.layout.layout import layout

QUARTERS = (0.0, 0.5 * math.pi, -0.5 * math.pi, math.pi)
FLOOR = 0.45  # m that the floor of a car lies below the ports of its engine; common practice, no source
HIGH = 0.10  # m over the ports under which a hood leaves room for a pipe; common practice, no source
SIDE = np.array([0.0, 0.05, -0.25])  # m from the ports to the mouth of an intake manifold on the other side; common practice, no source

Cost = Callable[[Layout], float]


def _ends(found: Layout, run: str) -> list[Frame]:
    """The frames of a run from its start on."""
    line = found.line(run)
    return [line.start, *(part.last for part in line.placed)] if line is not None else []


def _too_high(frames: Sequence[Frame]) -> float:
    return sum(max(float(frame.origin[1]) - HIGH, 0.0) for frame in frames)


def _ports(found: Layout) -> np.ndarray:
    return np.array([port.origin for port in found.ports]) if found.ports else np.zeros((1, 3))


def _exhaust_cost(found: Layout) -> float:
    """Level under the floor towards the last cylinder, nowhere over the engine nor into it."""
    frames = _ends(found, "exhaust")
    if not frames:
        return 0.0
    end, ports = frames[-1], _ports(found)
    into = sum(max(float(ports[:, 2].max()) - float(frame.origin[2]), 0.0) for frame in frames[:3])
    deep = abs(float(end.origin[1]) - float(ports[:, 1].mean()) + FLOOR)
    aside = abs(float(end.origin[2]) - float(frames[0].origin[2]))
    return 4.0 * _too_high(frames) + 2.0 * into - 2.0 * float(end.along[0]) + 2.0 * abs(float(end.along[1])) + deep + aside


def _hot_cost(found: Layout) -> float:
    """In front of the first cylinder, level."""
    frames = _ends(found, "hot_pipe")
    return 2.0 * float(frames[-1].along[0]) + 2.0 * abs(float(frames[-1].along[1])) + 4.0 * _too_high(frames) if frames else 0.0


def _cold_cost(found: Layout) -> float:
    """Towards the other side of the head."""
    frames = _ends(found, "cold_pipe")
    goal = _ports(found).mean(axis=0) + SIDE
    return float(np.linalg.norm(frames[-1].origin - goal)) + 2.0 * _too_high(frames) if frames else 0.0


def _intake_cost(found: Layout) -> float:
    """A filter in front, outside of the engine and not under the floor."""
    frames = _ends(found, "intake")
    if not frames:
        return 0.0
    begin, ports = frames[0].origin, _ports(found)
    low = max(float(ports[:, 1].mean()) - FLOOR - float(begin[1]), 0.0)
    inside = max(float(ports[:, 2].max()) - float(begin[2]), 0.0)
    return float(begin[0]) + 4.0 * low + 4.0 * inside + 4.0 * _too_high(frames)


def _bends(project: Project, run: str) -> list[str]:
    return [f"{run}.{piece.id}.roll" for piece in getattr(project, run) if piece.kind == "bend"]


def _best(project: Project, places: Sequence[str], choices: Sequence[float], cost: Cost) -> Project:
    """The document with those of the `choices` at its `places` that cost least, the first of those that cost the same."""
    best, least = project, math.inf
    for values in itertools.product(choices, repeat=len(places)):
        changed = project
        for place, value in zip(places, values, strict=True):
            changed = with_value(changed, place, get(changed, place).with_si(value).rounded(6))
        found = cost(layout(changed))
        if found < least - 1e-9:
            best, least = changed, found
    return best


def with_first_layout(project: Project) -> Project:
    """The document with its turbo and the bends of its runs rotated. Pipes keep their lengths, nothing of the flow changes."""
    changed = project
    if not project.blower.fitted:
        # The compressor towards the front, its outlet down and away; the drain of the bearings down.
        changed = _best(changed, ("layout.turbo.shaft",), (0.5 * math.pi, -0.5 * math.pi), lambda found: float(found.turbos[0].shaft[0]))
        changed = _best(changed, ("layout.turbo.drain",), QUARTERS, lambda found: float(found.turbos[0].drain[1]))
        changed = _best(changed, ("layout.turbo.cover",), QUARTERS, lambda found: float(found.turbos[0].air_out.along[1]))
    for run, cost in (("exhaust", _exhaust_cost), ("intake", _intake_cost), ("hot_pipe", _hot_cost), ("cold_pipe", _cold_cost)):
        places = _bends(changed, run)
        if places:
            changed = _best(changed, places[:3], QUARTERS, cost)
    return changed
