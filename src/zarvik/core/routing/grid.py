"""A bay as cells, from the end of one tube to the other: the shortest way through it, and the narrowest place of the widest one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.routing.bay import Bay
from zarvik.core.routing.geodesic import cells, shortest, widest
from zarvik.core.solids.bodies import rows_of
from zarvik.core.solids.distance import CENTRE, REACH, SKIP, away_from, to_body

BESIDE = 0.1  # m round ends and bodies
AROUND = 0.6  # m beside the ends that a way may go
MOST_CELLS = 1_500_000
WIDEST = 0.25  # m from everything: wide enough for any tube
CELL = 0.25  # diameters of the tube, of a narrowest place


@dataclass(frozen=True, kw_only=True)
class Grid:
    """Cells of `step` m, the first at `low` m, with their `room` m: the distance from the nearest body. `ends` (any number, 3) m: where the
    leads of tubes end, each `lead` m long; a tube asks for `need` m."""

    low: np.ndarray
    step: float
    room: np.ndarray
    ends: np.ndarray
    lead: float
    need: float

    @classmethod
    def of(cls, bay: Bay, bodies: np.ndarray, ports: Sequence[int], inlets: Sequence[int], radius: float, step: float, most: float) -> Grid:
        """Of a bay and its packed `bodies`, round some `ports` and `inlets` (numbers), for bends of a `radius` m; `step` m, or more where
        there would be too many cells; `most` m that is asked for in a cell."""
        need = 0.5 * bay.diameter + bay.clearance
        lead = bay.straight + 0.5 * radius
        begins = [bay.ports[k].place + lead * bay.ports[k].way for k in ports]
        ends = np.array(begins + [bay.inlets[k].place - lead * bay.inlets[k].way for k in inlets])
        apart = ends.max(axis=0) - ends.min(axis=0) + 2.0 * AROUND
        step = max(step, float((np.prod(apart) / MOST_CELLS) ** (1.0 / 3.0)))
        heads = bodies[rows_of(bodies)]
        reach = heads[:, REACH, None] + need + BESIDE
        low = np.vstack([ends - BESIDE, heads[:, CENTRE : CENTRE + 3] - reach]).min(axis=0)
        high = np.vstack([ends + BESIDE, heads[:, CENTRE : CENTRE + 3] + reach]).max(axis=0)
        low, high = np.maximum(low, ends.min(axis=0) - AROUND), np.minimum(high, ends.max(axis=0) + AROUND)
        shape = np.ceil((high - low) / step).astype(np.int64) + 1
        room = np.empty(tuple(shape))
        cells(bodies, low, step, shape, most, room)
        return cls(low=low, step=step, room=room, ends=ends, lead=lead, need=need)

    def _cells(self) -> np.ndarray:
        return np.rint((self.ends - self.low) / self.step).astype(np.int64)

    def shortest(self) -> np.ndarray:
        """Points (any number, 3) m of the shortest way for the tube; none where there is no way."""
        begin, end = self._cells()
        path = np.empty((4 * sum(self.room.shape), 3), np.int64)
        count = shortest(self.room, self.step, self.need, begin, end, path)
        if not count:
            return np.empty((0, 3))
        return np.vstack([self.ends[0], self.low + path[:count][::-1][1:-1] * self.step, self.ends[1]])

    def narrowest(self, begin: int, goals: Sequence[int]) -> tuple[float, np.ndarray, int]:
        """Room m at the narrowest place of the widest way from an end (`begin`, its number) to one of the `goals` (numbers of ends), that
        place (3) m, and which of them it is."""
        at, found = np.empty(3, np.int64), self._cells()
        room, which = widest(self.room, found[begin], found[list(goals)], at)
        return room, self.low + at * self.step, goals[which]


@dataclass(frozen=True, kw_only=True)
class Passage:
    """The narrowest place of the widest way from a `port` to an `inlet` (numbers): `width` m of the widest tube that gets through with
    its clearance, where (`place` m), and between which bodies. `at_end`: it is where the tube begins or ends."""

    port: int
    inlet: int
    width: float
    place: np.ndarray
    between: tuple[str, ...]
    at_end: bool


def _between(packed: np.ndarray, rows: np.ndarray, place: np.ndarray, room: float, cell: float) -> tuple[float, np.ndarray, list[int]]:
    """Where between the two nearest of the `packed` bodies (in `rows`) it is as far to one as to the other, from a `place` m in a cell of
    `cell` m with so much `room` m: the room there, the place and the numbers of the two."""
    way, place = np.empty(3), place.copy()
    two: list[int] = []
    for _ in range(12):
        far = np.array([to_body(packed, row, *place) for row in rows])
        two = [int(k) for k in np.argsort(far)[:2]]
        if len(two) < 2 or far[two[1]] > room + cell:
            break
        begin = rows[two[0]]
        alone = packed[begin : begin + 1 + int(packed[begin, SKIP])]
        away_from(alone, place[0], place[1], place[2], False, way)
        place += 0.5 * (far[two[1]] - far[two[0]]) * way
    found = min((to_body(packed, row, *place) for row in rows), default=room)
    return max(found, room), place, two


def tightest(bay: Bay, *, sure: bool = False) -> Passage | None:
    """The passage of the port whose widest way is the narrowest; None where every one is wide enough. `sure`: or where the cells could be
    wrong about it."""
    packed = bay.packed()
    ports, inlets = range(len(bay.ports)), range(len(bay.inlets))
    grid = Grid.of(bay, packed, ports, inlets, min(bay.radii), CELL * bay.diameter, WIDEST)
    found: Passage | None = None
    for port in ports:
        goals = [len(ports) + k for k in (inlets if bay.inlet_of is None else (bay.inlet_of[port],))]
        room, place, inlet = grid.narrowest(port, goals)
        room, place, two = _between(packed, rows_of(packed), place, room, grid.step)
        width = 2.0 * (room - bay.clearance)
        if found is None or width < found.width:
            at_end = min(math.dist(place, end) for end in grid.ends) < 2.0 * grid.step
            between = tuple(bay.bodies[k].name for k in two)
            found = Passage(port=port, inlet=inlet - len(ports), width=width, place=place, between=between, at_end=at_end)
    # A way between cells is at the most half of a cell's diagonal beside one, on either side of it
    doubt = math.sqrt(3.0) * grid.step if sure else 0.0
    return found if found is not None and found.width < bay.diameter - doubt else None
