"""Tubes as pieces that can be cut: straights and bends in whole steps, or of modelling blocks, still clear of all."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Sequence

import numpy as np

from zarvik.core.common.progress import look
from zarvik.core.layout.closing import path, turn_between
from zarvik.core.layout.equalise import FittedRun, FittingTask, Steps, fit, in_blocks
from zarvik.core.layout.frame import Frame, miss
from zarvik.core.layout.run import Segment, place_pieces
from zarvik.core.routing.bay import Bay, End, Tube
from zarvik.core.routing.inspection import inspect
from zarvik.core.routing.residuals import MARGIN, of_two, rules_of
from zarvik.core.routing.search import Routed
from zarvik.core.routing.tubes import sample

OPTIONS = 60  # ways of one tube that are gone on with
TRACED = 160  # points of a tube that two are compared by
LOOKS = 20_000  # pairs that are looked at


@dataclasses.dataclass(frozen=True)
class PiecedTube:
    """A tube to an `inlet` (its number) as pieces: a `run`."""

    inlet: int
    run: FittedRun


def segments_of(start: Frame, end: np.ndarray, tube: Tube, bore: float, wall: float) -> tuple[Segment, ...]:
    """The pieces of a `tube` that begins in the frame `start` and ends at the place `end` m, with a `bore` m and a `wall` m."""
    corners = np.vstack([start.origin, tube.corners.reshape(-1, 3), end])
    legs = np.diff(corners, axis=0)
    long = np.linalg.norm(legs, axis=1)
    ways = list(legs / long[:, None])
    angles = [turn_between(a, b) for a, b in itertools.pairwise(ways)]
    cut = np.array([0.0, *(r * math.tan(0.5 * a) for r, a in zip(tube.radii, angles, strict=True)), 0.0])
    straights = [float(value) for value in long - cut[:-1] - cut[1:]]
    return tuple(dataclasses.replace(s, wall=wall) for s in path(start, bore, list(tube.radii), ways, straights))


def tube_of(segments: Sequence[Segment], start: Frame, port: int, inlet: int) -> Tube:
    """The tube from a `port` to an `inlet` (their numbers) that pieces are which begin in the frame `start`: the opposite of
    `segments_of`."""
    corners, radii = [], []
    for part in place_pieces(segments, start):
        s = part.segment
        if s.bends:
            corners.append(part.first.moved(s.radius * math.tan(0.5 * s.angle)).origin)
            radii.append(s.radius)
    return Tube(port, inlet, np.array(corners).reshape(-1, 3), np.array(radii))


def longer(segments: Sequence[Segment], before: float, behind: float) -> tuple[Segment, ...]:
    """Pieces (`segments`) whose first straight is so many m longer `before` them, and their last one so many m `behind`."""
    found = list(segments)
    found[0] = dataclasses.replace(found[0], length=found[0].length + before)
    found[-1] = dataclasses.replace(found[-1], length=found[-1].length + behind)
    return tuple(found)


def in_steps(
    bay: Bay, starts: Sequence[Frame], goals: Sequence[Frame], routed: Routed, steps: Steps, size: tuple[float, float]
) -> list[PiecedTube]:
    """The tubes that were `routed` through a bay as pieces in whole `steps`, in the order of its ports: each from its frame of `starts` to
    its inlet's of `goals`, as long as they are together. Where that would take one out of its place, it stays as it was routed. `size`:
    bore and wall, m."""
    tubes = sorted(routed.tubes, key=lambda tube: tube.port)
    mean = sum(routed.inspection.lengths) / len(tubes) if len(tubes) > 1 else 0.0
    found = []
    for number, tube in enumerate(tubes):
        look()
        start, goal = starts[tube.port], goals[tube.inlet]
        task = FittingTask(segments_of(start, goal.origin, tube, *size), start, goal)
        run, made = fit(task, length=mean, steps=steps, tries=0), list(tubes)
        if run.closes and all(s.angle <= bay.angles[1] for s in run.segments):
            made[number] = tube_of(run.segments, start, tube.port, tube.inlet)
        if made[number] is tube or inspect(bay, tuple(made)).faults:
            run = _as_it_is(task)
        else:
            tubes = made
        found.append(PiecedTube(tube.inlet, run))
    return found


def _as_it_is(task: FittingTask) -> FittedRun:
    """A run as it stands, with what its end misses."""
    end = place_pieces(task.segments, task.start)[-1].last
    return FittedRun(task.segments, miss(end, task.goal), sum(s.length for s in task.segments))


@dataclasses.dataclass(frozen=True, eq=False)
class _Option:
    """One way of a tube in blocks, and its `points` (TRACED, 4) m."""

    pieced: PiecedTube
    points: np.ndarray

    @property
    def length(self) -> float:
        """Along its middle, m."""
        return self.pieced.run.length


def of_blocks(
    bay: Bay, starts: Sequence[Frame], goals: Sequence[Frame], answers: Sequence[Routed], steps: Steps, size: tuple[float, float]
) -> list[PiecedTube] | None:
    """Pieces of blocks (`steps`) for every tube of a bay, near to those of one of the `answers`: clear of all and as long as each other
    within its tolerance, the shortest that are found; in the order of its ports, None where there are none. `starts`, `goals`: frames of
    ports and inlets; `size`: bore and wall, m."""
    options: list[list[_Option]] = [[] for _ in bay.ports]
    for routed in answers:
        for tube in routed.tubes:
            look()
            options[tube.port] += _options(bay, starts[tube.port], goals[tube.inlet], tube, steps, size)
    if not all(options):
        return None
    rows = [sorted(row, key=lambda one: one.length)[:: max(len(row) // OPTIONS, 1)][:OPTIONS] for row in options]
    chosen = _together(bay, rows)
    return [one.pieced for one in chosen] if chosen else None


def _options(bay: Bay, start: Frame, goal: Frame, tube: Tube, steps: Steps, size: tuple[float, float]) -> list[_Option]:
    """Ways of one tube in blocks that are clear of what stands in the bay."""
    alone = dataclasses.replace(bay, length=0.0, inlet_of=None)
    found = []
    for run in in_blocks(FittingTask(segments_of(start, goal.origin, tube, *size), start, goal), steps, steepest=bay.angles[1]):
        made = tube_of(run.segments, start, tube.port, tube.inlet)
        if inspect(alone, (made,)).faults:
            continue
        ends: tuple[End, End] = bay.ports[tube.port], bay.inlets[tube.inlet]
        corners = np.vstack([ends[0].place, made.corners, ends[1].place])
        bends, points = len(made.radii), np.empty((TRACED, 4))
        sample(corners, bends, made.radii, np.empty((bends + 1, 4)), np.empty(bends + 1), np.empty(max(bends, 1)), points)
        found.append(_Option(PiecedTube(tube.inlet, run), points))
    return found


def _together(bay: Bay, rows: Sequence[Sequence[_Option]]) -> list[_Option] | None:
    """One of each row, on different inlets, clear of each other and as long as each other; the shortest that are found."""
    rules = rules_of(bay)
    rules[MARGIN] = 0.0
    clear: dict[tuple[int, int], bool] = {}
    out = np.empty(TRACED)

    def goes(one: _Option, other: _Option) -> bool:
        key = (id(one), id(other))
        if key not in clear:
            clear[key] = of_two(one.points, one.length, other.points, other.length, rules, out) == 0.0
        return clear[key]

    for shortest in sorted((one for row in rows for one in row), key=lambda one: one.length):
        most = shortest.length * (1.0 + bay.tolerance)
        near = [[one for one in row if shortest.length <= one.length <= most] for row in rows]
        if bay.length > 0.0:
            near = [[one for one in row if abs(one.length - bay.length) <= bay.tolerance * bay.length] for row in near]
        chosen: list[_Option] = []
        if all(near) and len(clear) < LOOKS and _completed(near, chosen, goes):
            return chosen
    return None


def _completed(near: Sequence[Sequence[_Option]], chosen: list[_Option], goes) -> bool:  # type: ignore[no-untyped-def]
    if len(chosen) == len(near):
        return True
    for one in near[len(chosen)]:
        if all(one.pieced.inlet != other.pieced.inlet and goes(other, one) for other in chosen):
            chosen.append(one)
            if _completed(near, chosen, goes):
                return True
            chosen.pop()
    return False
