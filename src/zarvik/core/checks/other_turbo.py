"""The candidate that has the room which the chosen turbo lacks."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import Turbo
from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.compressor.surge import judged_margin
from zarvik.core.limits.limits import CHOKE, WHEEL_SPEED


def _rooms(points: list[Point]) -> tuple[float, float, float]:
    return (
        min(float(judged_margin(p.turbo.surge, p.turbo.ratio)) for p in points),
        min(p.turbo.choke for p in points),
        min(p.turbo.overspeed for p in points),
    )


def other(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The candidate with the most room to choke and speed that does not surge."""
    best: tuple[float, Turbo, tuple[float, float, float]] | None = None
    speeds = np.linspace(case.build.engine.idle, case.build.engine.rev_limit, 24)
    for turbo in case.candidates:
        solver = case.with_turbo(turbo)
        raw = solver.raw(speeds)
        points = [
            solver.point(raw, int(i))
            for i in np.nonzero(raw.solved)[0]
            if case.build.boost.counts(raw.states[i, k.P_PLENUM] - case.build.site.pressure)
        ]
        if not points:
            continue
        rooms = _rooms(points)
        if rooms[1] >= CHOKE.good and rooms[2] >= WHEEL_SPEED.good and (best is None or rooms[0] > best[0]):
            best = (rooms[0], turbo, rooms)
    if best is None:
        return message("No candidate has enough margin: find a larger compressor"), ()
    _, turbo, rooms = best
    price = "surge margin {surge}" if rooms[0] >= 0 else "it surges at low speed ({surge})"
    return (
        message(
            "Choose “{name}”: choke margin {choke}; ",
            price,
            name=turbo.name,
            choke=Figure(rooms[1], "ratio"),
            surge=Figure(rooms[0], "ratio"),
        ),
        (Change("turbo", turbo.id),),
    )
