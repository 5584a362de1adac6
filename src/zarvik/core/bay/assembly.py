"""In which order do the parts of a build go into their bay, and past what?

Parts are taken out one by one, as a whole build is taken apart: straight pulls first, then pulls round a corner, then turns and slides by
chance (a tree that grows at random: S. M. LaValle, "Rapidly-exploring random trees", Iowa State University TR 98-11, 1998). What comes out
last goes in first. A part is balls along its middle; all else stands still while it moves.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from zarvik.core.bay.build_bodies import cooler_bodies, engine_bodies, filter_bodies, line_bodies, piece_bodies, turbo_bodies
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.bay.kinds import KINDS
from zarvik.core.common.identity_cache import FirstEqual, IdentityCache
from zarvik.core.common.progress import Progress, look, unwatched
from zarvik.core.connections.row import BANDED, FLANGED, HOSED, JOINT, SLIPPED, Row
from zarvik.core.layout.clash import trace
from zarvik.core.layout.frame import rotation_about
from zarvik.core.layout.placement import BEHIND, PRIMARY, Layout, Line, Space
from zarvik.core.layout.run import Placed
from zarvik.core.solids.bodies import Body, Shape, extent, packed, rows_of
from zarvik.core.solids.distance import SKIP, gaps

OPENING = (HOSED, FLANGED, BANDED, SLIPPED)
SOFT = ("hose", "gap")
UNBOLTED = ("battery", "radiator", "fan", "hose", "belt", "engine")  # kinds that can be taken out of a bay too
LARGEST = 0.4  # m of a part of the engine that is taken off
OPENED = ("hood",)
SPACING = 0.02  # m between two balls of a part
BALL = 0.02  # m, radius of the balls of a box, or half of what it is thick
FREE = 0.6  # m from where it was: it is out
SLIDE = 0.001  # m that is kept while something moves
LONGEST = 1.2  # m of one pull
LEAST = 0.008  # m of a step
STUD = 0.04  # m that a part is pulled along its studs before it can go elsewhere; common practice, no source
DEPTH = 3  # pulls one after another
NODES = 60  # places from which a part is pulled on
TREE = 2400  # places of a tree by chance
TWIST = 0.35  # rad of a step of it
REACH = 0.09  # m of a step of it
WANDER = 0.4  # of the steps go anywhere from any place of it: through narrow ways


@dataclass(frozen=True, eq=False)
class Part:
    """What comes out as one piece: `key`, `name`; `points` (any number, 3) m and `radius` m of its balls; its `bodies`; `meets`: where
    it meets others, places (3) m and radii m; `studs`: the way (3) along which it is pulled first, None for any; `soft`: it is bent out of
    the way; `own`: of the build, else of the bay; `pieces`: those of a pipe."""

    key: str
    name: str
    points: np.ndarray
    radius: np.ndarray
    bodies: tuple[Body, ...]
    meets: tuple[tuple[np.ndarray, float], ...] = ()
    studs: np.ndarray | None = None
    soft: bool = False
    own: bool = True
    pieces: tuple[Placed, ...] = ()


@dataclass(frozen=True, eq=False)
class Pose:
    """Where a part has been moved: turned by `turn` (3, 3) about its `middle` (3) m, then shifted by `shift` (3) m."""

    turn: np.ndarray
    shift: np.ndarray
    middle: np.ndarray

    def points(self, points: np.ndarray) -> np.ndarray:
        """`points` (any number, 3) m as they are then."""
        return (points - self.middle) @ self.turn.T + self.middle + self.shift


@dataclass(frozen=True, eq=False)
class Step:
    """A `part` that comes out, by `poses` from where it stands to where it is free; `turned`: does it have to be turned?"""

    part: Part
    poses: tuple[Pose, ...]
    turned: bool = False

    @property
    def pulls(self) -> int:
        """How many pulls one after another."""
        return max(len(self.poses) - 1, 1)


@dataclass(frozen=True, eq=False)
class Stuck:
    """A `part` that does not come out; what is in its way where it gets farthest (`behind`, names); `cut`: the key of the piece behind
    which a joint that comes apart would let it out, empty for none."""

    part: Part
    behind: tuple[str, ...]
    cut: str


@dataclass(frozen=True, eq=False)
class Order:
    """How a build is taken apart: `steps` in their order, and what is `stuck`. It goes together the other way round."""

    steps: tuple[Step, ...]
    stuck: tuple[Stuck, ...]


def _pipe_parts(line: Line, names: Mapping[str, str], made: Mapping[str, str]) -> Iterator[Part]:
    """The stiff lengths of a pipe between joints that come apart, and the hoses between them."""
    groups: list[list[Placed]] = []
    for before, part in zip((None, *line.placed), line.placed, strict=False):
        soft = part.segment.kind in SOFT
        opens = before is None or soft or before.segment.kind in SOFT
        if before is not None and made.get(f"{before.segment.id}__{part.segment.id}") in OPENING:
            opens = True
        if opens:
            groups.append([])
        groups[-1].append(part)
    for group in groups:
        name = names.get(line.key, line.key)
        if len(groups) > 1:
            titles = [names.get(part.segment.id, part.segment.id) for part in (group[0], group[-1])]
            name = f"{name}: {titles[0]}" if len(group) == 1 else f"{name}: {titles[0]} – {titles[1]}"
        yield pipe_part(line.key, name, tuple(group))


def pipe_part(line: str, name: str, pieces: tuple[Placed, ...]) -> Part:
    """Pieces of a pipe (its key `line`) as one part of a `name`."""
    found = trace(pieces, SPACING)
    ends = ((pieces[0].first.origin, 0.5 * pieces[0].segment.outside), (pieces[-1].last.origin, 0.5 * pieces[-1].segment.outside))
    return Part(
        key=f"{line}|{pieces[0].segment.id}",
        name=name,
        points=found.points,
        radius=found.radius,
        bodies=tuple(piece_bodies(line, pieces, 0.0)),
        meets=ends,
        soft=all(part.segment.kind in SOFT for part in pieces),
        pieces=pieces,
    )


def _balls(bodies: Sequence[Body]) -> tuple[np.ndarray, np.ndarray]:
    """Balls that fill simple `bodies` about: along rods, within the skin of boxes and cylinders."""
    points, radii = [], []
    for body in bodies:
        if body.shape is Shape.ROD:
            count = max(math.ceil(2.0 * body.half[1] / SPACING), 1)
            steps = np.linspace(-body.half[1], body.half[1], count + 1)
            points.append(body.centre + steps[:, None] * body.axes[0])
            radii.append(np.full(count + 1, body.half[0]))
            continue
        half = body.half if body.shape is Shape.BOX else np.array([body.half[1], 0.7 * body.half[0], 0.7 * body.half[0]])
        size = min(max(0.5 * float(half.min()), BALL), float(half.min()))
        axes = [np.linspace(-h + size, h - size, max(math.ceil((h - size) / (0.9 * size)), 0) + 1) for h in half]
        x, y, z = (n.ravel() for n in np.meshgrid(*axes, indexing="ij"))
        skin = np.any([np.abs(n) > h - size - 1e-9 for n, h in zip((x, y, z), half, strict=True)], axis=0)
        points.append(body.centre + np.column_stack([x, y, z])[skin] @ body.axes)
        radii.append(np.full(int(skin.sum()), size))
    return np.vstack(points), np.concatenate(radii)


def parts_of(
    space: Space, layout: Layout, obstacles: Sequence[Obstacle], rows: Sequence[Row], names: Mapping[str, str]
) -> tuple[list[Part], list[Body]]:
    """The parts of a build and those of the bay that can be taken out, and the bodies that stay. `names`: of lines, pieces and parts
    by their keys."""
    made = {row.key.partition("__")[2]: row.made for row in rows if row.kind == JOINT}
    found: list[Part] = []
    for line in layout.lines:
        if line.placed and not line.key.startswith((PRIMARY, BEHIND)):
            found += _pipe_parts(line, names, made)
    for bank, outlet in enumerate(layout.outlets):
        lines = [one for one in layout.lines if one.key.startswith((PRIMARY, BEHIND)) and one.bank == bank and one.placed]
        if lines:
            traces = [trace(line.placed, SPACING) for line in lines]
            ports = tuple((line.start.origin, 0.5 * line.placed[0].segment.outside) for line in lines if line.key.startswith(PRIMARY))
            found.append(
                Part(
                    key=f"manifold:{bank}",
                    name=names.get(f"manifold:{bank}", "Manifold"),
                    points=np.vstack([t.points for t in traces]),
                    radius=np.concatenate([t.radius for t in traces]),
                    bodies=tuple(body for line in lines for body in line_bodies(line, 0.0)),
                    meets=(*ports, (outlet.origin, 0.04), *((one.gas_in.origin, 0.05) for one in layout.turbos[bank : bank + 1])),
                    studs=np.array([0.0, 0.0, 1.0 if bank == 0 else -1.0]),
                )
            )
    for number, turbo in enumerate(() if space.blown else layout.turbos):
        bodies = tuple(turbo_bodies(turbo))
        ends = (turbo.gas_in, turbo.gas_out, turbo.air_in, turbo.air_out)
        points, radius = _balls(bodies)
        meets = tuple((end.origin, 0.7 * turbo.sizes.compressor) for end in ends)
        found.append(
            Part(
                key=f"turbo:{number}", name=names.get(f"turbo:{number}", "Turbo"), points=points, radius=radius, bodies=bodies, meets=meets,
                studs=turbo.gas_in.along,
            )
        )  # fmt: skip
    cooler = tuple(cooler_bodies(space, layout))
    if cooler and layout.cooler is not None:
        meets = tuple((face.origin, 0.05) for face in layout.cooler)
        found.append(Part("cooler", names.get("cooler", "Intercooler"), *_balls(cooler), cooler, meets))
    cleaner = tuple(filter_bodies(space))
    if cleaner:
        meets = ((space.filter.frame.origin, 0.5 * space.filter_size[0]),)
        found.append(Part("filter", names.get("filter", "Air filter"), *_balls(cleaner), cleaner, meets))
    stays: list[Body] = list(engine_bodies(space, layout))
    for one in obstacles:
        simple = bool(one.bodies) and all(body.mesh is None for body in one.bodies)
        if simple and one.kind == "engine":
            low, high = extent(one.bodies)
            simple = float((high - low).max()) < LARGEST
        if one.kind in UNBOLTED and simple:
            found.append(Part(f"bay:{one.id}", one.name, *_balls(one.bodies), one.bodies, own=False))
        elif one.kind not in OPENED and not KINDS[one.kind].holds:  # a bracket comes after what it holds
            stays += (replace(body, name=one.name) for body in one.bodies)
    return found, stays


_KNOWN: IdentityCache[Order] = IdentityCache(4)
_MADE: FirstEqual[tuple[tuple[str, str], ...]] = FirstEqual()


def order_of(space: Space, layout: Layout, obstacles: tuple[Obstacle, ...], rows: tuple[Row, ...]) -> Order:
    """How a build comes apart, its parts called by their keys; arguments as for `parts_of`. Kept for as long as nothing has moved and every
    joint is made as it was, whatever else is said of it."""
    made = _MADE.of(tuple((row.key, row.made) for row in rows))

    def found() -> Order:
        parts, fixed = parts_of(space, layout, obstacles, rows, {})
        return Disassembly(parts, fixed).whole(lambda _: look())

    return _KNOWN.of((layout, obstacles, made), found)


class _Fixed:
    """Bodies that stay: their `names` and packed `rows`."""

    def __init__(self, bodies: Sequence[Body]) -> None:
        self.names = [body.name for body in bodies]
        self.rows = packed(bodies)
        self._begins = rows_of(self.rows)

    def only(self, which: np.ndarray) -> np.ndarray:
        """The packed rows of some of them (`which`, truths)."""
        chosen = [self.rows[b : b + 1 + int(self.rows[b, SKIP])] for b, yes in zip(self._begins, which, strict=True) if yes]
        return np.vstack(chosen) if chosen else self.rows[:0]


class _Moving:
    """A part among others that stand still."""

    def __init__(self, part: Part, others: Sequence[Part], rows: Mapping[str, np.ndarray], fixed: _Fixed) -> None:
        self.part = part
        self.middle = part.points.mean(axis=0)
        away = np.ones(len(part.points), bool)
        for place, radius in part.meets:
            away &= np.linalg.norm(part.points - place, axis=1) > 1.3 * radius + 0.012
        # Beside a joint neighbours overlap as they are drawn, with round ends: those balls do not count against them
        self.trimmed, self.trimmed_radius = part.points[away], np.maximum(part.radius[away] - SLIDE, 1e-3)
        self.whole, self.whole_radius = part.points, np.maximum(part.radius - SLIDE, 1e-3)
        # What overlaps where the part stands, as a head with a manifold, is where it is bolted to
        bolted = self._overlapping(fixed)
        touching, apart = [fixed.only(bolted)], [fixed.only(~bolted)]
        self.names: tuple[list[str], list[str]] = (
            [name for name, b in zip(fixed.names, bolted, strict=True) if b],
            [name for name, b in zip(fixed.names, bolted, strict=True) if not b],
        )
        for other in others:
            near = any(np.linalg.norm(a - b) < r + q + 0.02 for a, r in part.meets for b, q in other.meets)
            (touching if near else apart).append(rows[other.key])
            self.names[0 if near else 1].extend([other.name] * len(other.bodies))
        self.touching, self.apart = (np.vstack(one) for one in (touching, apart))
        self._buffers = tuple(np.empty(len(rows_of(one))) for one in (self.touching, self.apart))
        self._which = tuple(np.zeros(len(one), np.int64) for one in self._buffers)
        start = Pose(np.eye(3), np.zeros(3), self.middle)
        self._kept = [np.minimum(one, SLIDE) - 1e-5 for one in self._gaps(start)]
        self.start = start

    def _overlapping(self, fixed: _Fixed) -> np.ndarray:
        """Which of the bodies that stay the part overlaps with where it stands."""
        least, which = np.ones(len(fixed.names)), np.zeros(len(fixed.names), np.int64)
        if len(fixed.names):
            gaps(fixed.rows, np.ascontiguousarray(self.whole), self.whole_radius, least, which)
        return least < -SLIDE

    def _gaps(self, pose: Pose) -> list[np.ndarray]:
        found = []
        for rows, points, radius, least, which in zip(
            (self.touching, self.apart), (self.trimmed, self.whole), (self.trimmed_radius, self.whole_radius), self._buffers, self._which,
            strict=True,
        ):  # fmt: skip
            if len(least) and len(points):
                gaps(rows, np.ascontiguousarray(pose.points(points)), radius, least, which)
            else:
                least[:] = 1.0
            found.append(least.copy())
        return found

    def room(self, pose: Pose) -> float:
        """How far in m anything is from where it would be hit; negative where it is. What was hit where the part stands is not looked
        at more strictly than it was."""
        return min((float((now - kept).min()) for now, kept in zip(self._gaps(pose), self._kept, strict=True) if len(now)), default=1.0)

    def nearest(self, pose: Pose) -> tuple[str, ...]:
        """The names of the two that are nearest in a `pose`."""
        every = [
            (float(gap), name)
            for now, kept, names in zip(self._gaps(pose), self._kept, self.names, strict=True)
            for gap, name in zip(now - kept, names, strict=True)
        ]
        return tuple(dict.fromkeys(name for _, name in sorted(every)))[:2]

    def pulled(self, pose: Pose, way: np.ndarray, far: float = LONGEST) -> tuple[Pose, float]:
        """As far as the part goes from a `pose` along a `way` (3), at most `far` m or until it is free: the pose there, and how far, m."""
        gone, room = 0.0, self.room(pose)
        while gone < far - 1e-9 and not free(pose, gone * way):
            step = min(max(room, LEAST), far - gone)
            there = replace(pose, shift=pose.shift + (gone + step) * way)
            room = self.room(there)
            if room < 0.0:
                break
            gone += step
        return replace(pose, shift=pose.shift + gone * way), gone


def free(pose: Pose, more: np.ndarray | float = 0.0) -> bool:
    """Is a part out, where it is or shifted by `more` m?"""
    return float(np.linalg.norm(pose.shift + more)) >= FREE - 1e-6


_WAYS = np.array([d for d in itertools.product((-1.0, 0.0, 1.0), repeat=3) if any(d)])
UP = np.array([0.0, 1.0, 0.0])
_WAYS = _WAYS / np.linalg.norm(_WAYS, axis=1)[:, None]


def _ways(part: Part) -> np.ndarray:
    """Directions of pulls: up first, then straight ones, then those between; and along the part's own ends."""
    order = sorted(_WAYS, key=lambda d: (-d[1], float(np.count_nonzero(d))))
    if not part.pieces:
        return np.array(order)
    own = [sign * frame.along for frame in (part.pieces[0].first, part.pieces[-1].last) for sign in (1.0, -1.0)]
    return np.array([*order, *own])


def _pulls(moving: _Moving, begin: tuple[Pose, ...]) -> Step | None:
    """Straight pulls, one after another."""
    ways = _ways(moving.part)
    waiting: list[tuple[Pose, ...]] = [begin]
    seen: set[tuple[int, ...]] = set()
    count = 0
    while waiting and count < NODES:
        poses = waiting.pop(0)
        count += 1
        here = poses[-1]
        for way in ways:
            there, gone = moving.pulled(here, way)
            if free(there):
                return Step(moving.part, (*poses, there))
            if len(poses) - len(begin) + 1 < DEPTH and gone > 0.02:
                for share in (1.0, 0.5):
                    stop = replace(here, shift=here.shift + share * gone * way)
                    key = tuple(int(n) for n in np.rint(stop.shift / 0.04))
                    if key not in seen:
                        seen.add(key)
                        waiting.append((*poses, stop))
    return None


def _tree(moving: _Moving, begin: tuple[Pose, ...], dice: np.random.Generator) -> Step | None:
    """A tree of poses that grows towards places by chance until one of them is free."""
    nodes, came = [begin[-1]], [-1]
    turns = [np.zeros(3)]
    for _ in range(TREE):
        look()
        if dice.random() < WANDER:
            k = int(dice.integers(len(nodes)))
            goal, spin = nodes[k].shift + REACH * dice.normal(size=3), turns[k] + TWIST * dice.normal(size=3)
        else:
            goal, spin = dice.normal(size=3) * 0.5 + [0.0, 0.35, 0.0], dice.normal(size=3) * 0.8
            apart = np.linalg.norm(np.array([node.shift for node in nodes]) - goal, axis=1) / REACH
            k = int(np.argmin(apart + np.linalg.norm(np.array(turns) - spin, axis=1) / TWIST))
        shift, twist = goal - nodes[k].shift, spin - turns[k]
        share = min(1.0, REACH / max(float(np.linalg.norm(shift)), 1e-9), TWIST / max(float(np.linalg.norm(twist)), 1e-9))
        vector = turns[k] + share * twist
        there = Pose(_turn(vector), nodes[k].shift + share * shift, moving.middle)
        if not _goes(moving, nodes[k], turns[k], there, vector):
            continue
        nodes.append(there)
        turns.append(vector)
        came.append(k)
        end = moving.pulled(there, UP)[0]
        if free(end):
            path, at = [], len(nodes) - 1
            while at >= 0:
                path.append(nodes[at])
                at = came[at]
            path.reverse()
            return Step(moving.part, (*begin[:-1], *path, end), turned=True)
    return None


def _turn(vector: np.ndarray) -> np.ndarray:
    angle = float(np.linalg.norm(vector))
    return rotation_about(vector / angle, angle) if angle > 1e-9 else np.eye(3)


def _goes(moving: _Moving, one: Pose, turn: np.ndarray, two: Pose, other: np.ndarray) -> bool:
    """Is a part clear all the way between two poses?"""
    reach = float(np.linalg.norm(moving.part.points - moving.middle, axis=1).max())
    way = float(np.linalg.norm(two.shift - one.shift)) + reach * float(np.linalg.norm(other - turn))
    count = max(math.ceil(way / 0.02), 1)
    return all(
        moving.room(Pose(_turn(turn + t * (other - turn)), one.shift + t * (two.shift - one.shift), moving.middle)) >= 0.0
        for t in np.arange(1, count + 1) / count
    )


class Disassembly:
    """A build that is taken apart: `parts`, and bodies that stay (`fixed`)."""

    def __init__(self, parts: Sequence[Part], fixed: Sequence[Body], seed: int = 1) -> None:
        self.parts = tuple(parts)
        self.rows = {part.key: packed(part.bodies) for part in parts}
        self.fixed = _Fixed(fixed)
        self.dice = np.random.default_rng(seed)

    def moving(self, part: Part, present: Sequence[Part]) -> _Moving:
        """A part among those that are still there."""
        return _Moving(part, [one for one in present if one is not part], self.rows, self.fixed)

    def whole(self, progress: Progress = unwatched) -> Order:
        """Everything that belongs to the build taken out, one after another; of the bay only what is in the way."""
        present, steps = list(self.parts), list[Step]()
        total = sum(part.own for part in self.parts)
        while any(part.own for part in present):
            progress(len(steps) / max(total, 1))
            step = self._easiest([p for p in present if p.own], present) or self._easiest(
                [p for p in present if not p.own], present, turned=False
            )
            if step is None:
                break
            steps.append(step)
            present.remove(step.part)
        steps = self._without_needless(steps)
        present = [part for part in self.parts if all(step.part is not part for step in steps)]
        stuck = [Stuck(part, self._behind(part, present), self._cut(part, present)) for part in present if part.own]
        return Order(tuple(steps), tuple(stuck))

    def _without_needless(self, steps: list[Step]) -> list[Step]:
        """Without the parts of the bay that could have stayed."""
        for step in [one for one in reversed(steps) if not one.part.own]:
            rest = [one for one in steps if one is not step]
            present = list(self.parts)
            for one in rest:
                moving = self.moving(one.part, present)
                if not one.part.soft and any(moving.room(pose) < -LEAST for pose in _between(one.poses)):
                    break
                present.remove(one.part)
            else:
                steps = rest
        return steps

    def _behind(self, part: Part, present: Sequence[Part]) -> tuple[str, ...]:
        """What a part runs into where it gets farthest by one pull: the two that are nearest then."""
        moving = self.moving(part, present)
        ways = _ways(part) if part.studs is None else np.array([part.studs])
        pose = max((moving.pulled(moving.start, way) for way in ways), key=lambda pair: pair[1])[0]
        return moving.nearest(pose)

    def _easiest(self, candidates: Sequence[Part], present: Sequence[Part], *, turned: bool = True) -> Step | None:
        """The part among `candidates` that comes out with the fewest pulls; turns last (`turned`: or not at all)."""
        found: Step | None = None
        for part in sorted(candidates, key=lambda p: (not p.soft, len(p.points))):
            step = self.pulled(part, present)
            if step is not None and (found is None or step.pulls < found.pulls):
                found = step
                if step.pulls <= 2:
                    return step
        if found is not None or not turned:
            return found
        return next((step for part in candidates if (step := self._turned(part, present)) is not None), None)

    def _cut(self, part: Part, present: Sequence[Part]) -> str:
        """Where a part that does not come out would have to be in two: the key of the piece before the joint, empty for none."""
        lengths = np.cumsum([piece.segment.length for piece in part.pieces])
        # A joint near the middle first
        for k in sorted(range(1, len(part.pieces)), key=lambda k: abs(float(lengths[k - 1] - 0.5 * lengths[-1]))):
            halves = [pipe_part(part.key.partition("|")[0], part.name, part.pieces[a:b]) for a, b in ((0, k), (k, len(part.pieces)))]
            both = Disassembly([*(one for one in present if one is not part), *halves], (), 1)
            both.fixed = self.fixed
            for first, second in (halves, halves[::-1]):
                there = list(both.parts)
                if (one := both.moving(first, there)) and _pulls(one, (one.start,)) is not None:
                    there.remove(first)
                    two = both.moving(second, there)
                    if _pulls(two, (two.start,)) is not None:
                        return part.pieces[k - 1].segment.id
        return ""

    def before(self, target: Part, order: Sequence[Step]) -> tuple[Part, ...] | None:
        """What has to come out before a part can, in the `order` of a whole disassembly, and of the bay where that does not do; None where
        it never does."""
        mine = [step.part for step in order if step.part is not target]
        present, gone = list(self.parts), list[Part]()
        if self.pulled(target, present) is not None:
            return ()
        for part in mine:
            present.remove(part)
            gone.append(part)
        if self.pulled(target, present) is None:
            for part in [one for one in present if not one.own and one is not target]:
                if self.pulled(part, present) is not None:
                    present.remove(part)
                    gone.append(part)
            if self.pulled(target, present) is None:
                return None
        # What does not have to be out stays in
        for part in gone[::-1]:
            back = [*present, part]
            if self.pulled(target, back) is not None:
                present, gone = back, [one for one in gone if one is not part]
        return tuple(gone)

    def taken_out(self, part: Part, present: Sequence[Part]) -> Step | None:
        """How a part comes out, turned where straight pulls do not do; None where no way was found."""
        return self.pulled(part, present) or self._turned(part, present)

    def _turned(self, part: Part, present: Sequence[Part]) -> Step | None:
        moving = self.moving(part, present)
        first = _first(moving)
        return None if first is None else _tree(moving, first, self.dice)

    def pulled(self, part: Part, present: Sequence[Part]) -> Step | None:
        """How a part comes out by straight pulls, None where it does not; a hose is bent out of the way."""
        moving = self.moving(part, present)
        if part.soft:
            return Step(part, (moving.start, replace(moving.start, shift=np.array([0.0, FREE, 0.0]))))
        first = _first(moving)
        return None if first is None else _pulls(moving, first)


def _between(poses: Sequence[Pose]) -> Iterator[Pose]:
    """Poses on the straight way from each to the next, some centimetres apart; turns are not taken in parts."""
    for one, two in itertools.pairwise(poses):
        count = max(math.ceil(float(np.linalg.norm(two.shift - one.shift)) / 0.03), 1)
        for t in np.arange(1, count + 1) / count:
            yield replace(two, shift=one.shift + t * (two.shift - one.shift))


def _first(moving: _Moving) -> tuple[Pose, ...] | None:
    """A part where it stands, or pulled off its studs; None where it does not come off them."""
    if moving.part.studs is None:
        return (moving.start,)
    there, gone = moving.pulled(moving.start, moving.part.studs, STUD)
    return (moving.start, there) if gone >= STUD - 1e-6 else None
