"""What is drawn in space: a body for each piece, for flanges, turbo, collector, cooler; its colour and its words."""

from __future__ import annotations

import contextlib
import dataclasses
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial

import numpy as np

from zarvik.core.bay.build_bodies import filter_bodies
from zarvik.core.bay.clearance import Obstacle, cooler_frame
from zarvik.core.bay.scan import Alignment, aligned
from zarvik.core.bay.triangles import triangles_of
from zarvik.core.common.identity_cache import IdentityCache, IdentityCacheEach
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import BLOCK, COMPRESSOR_SCROLL, HEAD_DEEP, HEAD_HIGH, HEAD_LOW, TURBINE_SCROLL, TurboBody
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.mesh import RingMesh, skins, tube
from zarvik.core.layout.placement import CAST, PRIMARY, Layout, Space
from zarvik.core.layout.run import Placed, Segment, place_pieces
from zarvik.core.solids.bodies import moved
from zarvik.project.document.parts.bay_object import BayObject, skin_of
from zarvik.window.theme.palette import between, current

BETWEEN, BELOW = 0.1, 0.05  # m between the lines of the ground, how far below everything it lies
PAIRS = 200  # corners of a scan by which it is known where it stands
SIDES = 24  # round a tube
COARSE_SIDES, COARSE_ARC = 14, math.radians(14.0)  # round a tube, and of a bend between two rings, while everything turns
NEAR_ENGINE = 1.3  # m from the ports, in which the ground is drawn
# Kinds of colour: by what flows, by the firing order, metal
AIR, CHARGE, COLD, GAS, METAL, HOSE = "air", "charge", "cold", "gas", "metal", "hose"
FIRED = "fired:"
GHOST, GROUND = "ghost", "ground"  # what is only hinted at
THING, WALL = "bay", "bay_wall"  # what stands in the bay, and what one looks through there
UNKNOWN, SWEPT = "bay_unknown", "bay_swept"  # what nobody measured there, and where something comes when it moves
SEEN_THROUGH = (GHOST, WALL, UNKNOWN, SWEPT)
WALLS = ("panel", "hood")
CORNERS = 8  # of a `box`
EDGES = np.array([(0, 1), (2, 3), (4, 5), (6, 7), (0, 2), (1, 3), (4, 6), (5, 7), (0, 4), (1, 5), (2, 6), (3, 7)])  # of a `box`


@dataclass(frozen=True, eq=False)
class WholeScan:
    """All `corners` (any number, 3) m and `triangles` of a scan by itself, and how it stands in the bay."""

    corners: np.ndarray
    triangles: np.ndarray
    stands: Alignment

    @property
    def placed(self) -> tuple[np.ndarray, np.ndarray]:
        """Corners where they stand, m, and triangles."""
        return self.stands(self.corners), self.triangles


@dataclass(frozen=True, eq=False)
class Body:
    """A body: `key` (the piece's, or of a part), its corners (m) and triangles (of the ground lines, two corners each), what it is
    coloured by, its run; `piece`: can be chosen; `tubing`: the piece of tube that it is; `whole`: all of a scan."""

    key: str
    corners: np.ndarray
    triangles: np.ndarray
    tint: str
    run: str = ""
    piece: bool = False
    tubing: Placed | None = None
    whole: WholeScan | None = None

    def fine(self) -> tuple[np.ndarray, np.ndarray]:
        """Corners (m) and triangles, or lines, of a picture that stands: all that was scanned where its file is there."""
        return (self.corners, self.triangles) if self.whole is None else self.whole.placed

    def coarse(self) -> tuple[np.ndarray, np.ndarray]:
        """Corners (m) and triangles, or lines, while everything turns: an eighth of the triangles of a bend."""
        if self.tint in SEEN_THROUGH and len(self.corners) == CORNERS:
            return self.corners, EDGES  # what one looks through takes a third of the time of a picture
        if self.tubing is None:
            return self.corners, self.triangles
        return tube([self.tubing], sides=COARSE_SIDES, arc=COARSE_ARC, lined=False)


FAR = 1.3  # m from the ports up to which a piece of the exhaust is in the first picture


def colours(count: int) -> list[str]:
    """Colours of the cylinders in the order in which they fire: from the cold end of one scale to the hot end, so that
    neighbours in time are neighbours in colour; each stands with its number beside it."""
    palette = current()
    ends = [palette.cold_low, palette.ok, palette.marginal, palette.hot_high]
    if count <= len(ends):
        return ends[:count]
    found = []
    for n in range(count):
        at = n / max(count - 1, 1) * (len(ends) - 1)
        i = min(int(at), len(ends) - 2)
        found.append(between(ends[i], ends[i + 1], at - i).name())
    return found


def bodies_of(space: Space, layout: Layout, obstacles: Sequence[Obstacle] = ()) -> list[Body]:
    """Everything that is drawn, of a `layout` of a `space`, with the `obstacles` of the bay."""
    found: list[Body] = []
    fired = {c: n for n, c in enumerate(space.order)}
    cylinder = {PRIMARY + p.id: p.cylinder for p in space.primaries}
    tints = {"intake": AIR, "hot_pipe": CHARGE, "cold_pipe": COLD, "exhaust": GAS, "manifold": GAS}
    for line in layout.lines:
        tint = f"{FIRED}{fired.get(cylinder[line.key], 0)}" if line.key in cylinder else tints[line.key.partition(":")[0]]
        for part in line.placed:
            s = part.segment
            if s.length <= 1e-6:
                continue
            shape = part
            if s.kind in ("gap", "hose"):
                wider = dataclasses.replace(s, wall=0.005, length=max(s.length, 0.002))
                shape = dataclasses.replace(part, segment=wider)
            corners, triangles = _piece_of_tube(shape.segment, shape.first.origin.tobytes(), shape.first.axes.tobytes())
            kind = HOSE if s.kind in ("gap", "hose") else tint
            found.append(
                Body(
                    key=s.id, corners=corners, triangles=triangles, tint=kind, run=line.key, piece=not line.key.endswith(":2"), tubing=shape
                )
            )
    found += _head(space, layout)
    for number, turbo in enumerate(layout.turbos):
        found += _blower(turbo) if space.blown else _turbo(number, turbo)
    found += _collectors(space, layout)
    if layout.cooler is not None and space.cooler is not None:
        found.append(_cooler(layout.cooler, space.cooler))
    for one in filter_bodies(space):
        found.append(Body("filter", *triangles_of(one), AIR))
    found += _engine(space, layout)
    return [*found, _ground(found), *_things(obstacles)]


@lru_cache(600)
def _piece_of_tube(segment: Segment, origin: bytes, axes: bytes) -> tuple[np.ndarray, np.ndarray]:
    """Corners (m) and triangles of a piece that begins in a frame, as it was written: an edit leaves most pieces where they are."""
    first = Frame(np.frombuffer(origin), np.frombuffer(axes).reshape(3, 3))
    return tube(place_pieces([dataclasses.replace(segment, roll=0.0)], first), sides=SIDES)


def is_far(layout: Layout, run: str, corners: np.ndarray) -> bool:
    """Is a piece of the exhaust (its `run`, its `corners` m) so far behind the engine of a `layout` that the rest would be small for it?"""
    if not run.startswith("exhaust") or not layout.ports:
        return False
    middle = np.mean([port.origin for port in layout.ports], axis=0)
    return float(np.linalg.norm(corners - middle, axis=1).max()) > FAR


def box(frame: Frame, wide: float, high: float, deep: float) -> tuple[np.ndarray, np.ndarray]:
    """A box of m across (x), up (y) and along the frame, from its origin on."""
    x, y, z = frame.axes.T
    corners = np.array(
        [frame.origin + 0.5 * i * wide * x + 0.5 * j * high * y + k * deep * z for k in (0, 1) for j in (-1, 1) for i in (-1, 1)]
    )
    faces = [
        (0, 2, 3),
        (0, 3, 1),
        (4, 5, 7),
        (4, 7, 6),
        (0, 1, 5),
        (0, 5, 4),
        (2, 6, 7),
        (2, 7, 3),
        (0, 4, 6),
        (0, 6, 2),
        (1, 3, 7),
        (1, 7, 5),
    ]
    return corners, np.array(faces)


def _straight(frame: Frame, length: float, inner: float, outer: float) -> tuple[np.ndarray, np.ndarray]:
    s = Segment(id="x", length=length, bore_in=2.0 * inner, bore_out=2.0 * inner, wall=outer - inner)
    return tube(place_pieces([s], frame), sides=28)


def _banks(space: Space, layout: Layout) -> Iterator[tuple[int, np.ndarray, np.ndarray, float]]:
    """Of each bank with ports: its number, the middle of its ports, axes with the way out of the head last, and how wide its head is, m."""
    head = space.head
    for bank in range(head.banks):
        ports = [p for c, p in enumerate(layout.ports, 1) if head.bank_of(c) == bank]
        if ports:
            sign = 1.0 if bank == 0 else -1.0
            axes = np.column_stack([np.array([sign, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, sign])])
            yield bank, np.mean([p.origin for p in ports], axis=0), axes, head.spacing * (len(ports) + 0.5)


def _head(space: Space, layout: Layout) -> list[Body]:
    head = space.head
    found = []
    for bank, middle, axes, wide in _banks(space, layout):
        out = axes[:, 2]
        # The flange, and a slice of the head behind it
        corners, triangles = box(Frame(middle - head.flange * out, axes), wide - 0.3 * head.spacing, 2.2 * head.port_height, head.flange)
        found.append(Body(f"flange:{bank}", corners, triangles, METAL))
        corners, triangles = box(Frame(middle - (head.flange + 0.06) * out, axes), wide, 3.2 * head.port_height, 0.06)
        found.append(Body(f"head:{bank}", corners, triangles, "engine"))
    return found


def _engine(space: Space, layout: Layout) -> list[Body]:
    """A hint of head and block behind the ports."""
    head, found = space.head, []
    for bank, middle, axes, wide in _banks(space, layout):
        out = axes[:, 2]
        deep = min(HEAD_DEEP, 0.5 * head.bank_distance) if head.banks > 1 else HEAD_DEEP
        back = middle - (head.flange + deep) * out
        for key, low, high in (("head", -HEAD_LOW, HEAD_HIGH), ("block", -HEAD_LOW - BLOCK, -HEAD_LOW)):
            frame = Frame(back + np.array([0.0, 0.5 * (low + high), 0.0]), axes)
            found.append(Body(f"{GHOST}:{key}:{bank}", *box(frame, wide, high - low, deep), GHOST))
    return found


def _ground(bodies: list[Body]) -> Body:
    """A level below all that is near the engine, as lines of which each tenth of a metre has one."""
    near = [b.corners for b in bodies if not b.run.startswith("exhaust") or float(np.abs(b.corners).max()) < NEAR_ENGINE]
    corners = np.vstack(near) if near else np.zeros((1, 3))
    low, high = corners.min(axis=0), corners.max(axis=0)
    left, back = (math.floor(x / BETWEEN) - 1 for x in (low[0], low[2]))
    right, front = (math.ceil(x / BETWEEN) + 1 for x in (high[0], high[2]))
    level = low[1] - BELOW
    made: list[np.ndarray] = []
    lines = [((n * BETWEEN, back * BETWEEN), (n * BETWEEN, front * BETWEEN)) for n in range(left, right + 1)]
    lines += [((left * BETWEEN, n * BETWEEN), (right * BETWEEN, n * BETWEEN)) for n in range(back, front + 1)]
    for (x, z), (to_x, to_z) in lines:
        made += [np.array([x, level, z]), np.array([to_x, level, to_z])]
    # As lines: bodies that are long and thin take as long to draw as all pipes together
    return Body(GROUND, np.vstack(made), np.arange(len(made)).reshape(-1, 2), GROUND)


def scroll(middle: np.ndarray, axis: np.ndarray, radius: float, bore: float) -> tuple[np.ndarray, np.ndarray]:
    """A scroll round an axis: a ring of tube, whose middle goes round at a `radius`, and is `bore` from it to its skin, m."""
    x = np.cross(axis, [0.0, 1.0, 0.0])
    if np.linalg.norm(x) < 0.1:
        x = np.cross(axis, [1.0, 0.0, 0.0])
    x = x / np.linalg.norm(x)
    y = np.cross(axis, x)
    t = np.linspace(0.0, 2.0 * math.pi, 40, endpoint=False)[:, None, None]
    phi = np.linspace(0.0, 2.0 * math.pi, 16, endpoint=False)[None, :, None]
    way = np.cos(t) * x + np.sin(t) * y
    corners = middle + (radius + bore * np.cos(phi)) * way + bore * np.sin(phi) * axis
    return corners.reshape(-1, 3), _ring_of_rings(40, 16)


@lru_cache(4)
def _ring_of_rings(steps: int, sides: int) -> np.ndarray:
    """Triangles of a ring that is made of `steps` rings of `sides` corners."""
    i, j = (n.ravel() for n in np.meshgrid(np.arange(steps), np.arange(sides), indexing="ij"))
    a, b = i * sides + j, i * sides + (j + 1) % sides
    c, d = (i + 1) % steps * sides + (j + 1) % sides, (i + 1) % steps * sides + j
    # The outer side is the front: seen from outside the corners go anticlockwise
    return np.stack([np.column_stack([a, c, b]), np.column_stack([a, d, c])], 1).reshape(-1, 3)


_THINGS: IdentityCacheEach[Obstacle, list[Body]] = IdentityCacheEach(400)


def _things(obstacles: Sequence[Obstacle]) -> Iterator[Body]:
    """What stands in the bay, as it stands, and at both ends of its way where it moves."""
    for one in obstacles:
        yield from _THINGS.of(one, lambda one: list(_thing(one)))


_WHOLE: IdentityCache[Body] = IdentityCache(12)


def with_whole(bodies: list[Body], objects: Sequence[BayObject], scans: Mapping[str, tuple[np.ndarray, np.ndarray]]) -> list[Body]:
    """The `bodies` with all triangles of those scans among the `objects` of which they were read: corners m and triangles by their keys."""
    found = {body.key: number for number, body in enumerate(bodies)}
    made = list(bodies)
    for one in objects:
        number = found.get(f"{THING}:{one.id}:0")
        if one.id not in scans or number is None or not one.skin:
            continue
        made[number] = _WHOLE.of((made[number], scans[one.id], one.skin), partial(_whole, made[number], one.skin, scans[one.id]))
    return made


def _whole(body: Body, skin: str, scan: tuple[np.ndarray, np.ndarray]) -> Body:
    """A body with all triangles of its `scan`, where the part that was kept of it (`skin`) stands."""
    kept = skin_of(skin)[0].corners
    some = slice(None, None, max(len(kept) // PAIRS, 1))
    if kept.shape == body.corners.shape:
        with contextlib.suppress(Fault):  # on a line nobody sees how it is turned
            return dataclasses.replace(body, whole=WholeScan(*scan, aligned(kept[some], body.corners[some])))
    return body


def _thing(one: Obstacle) -> Iterator[Body]:
    tint = UNKNOWN if one.kind == "unknown" or not one.sure else WALL if one.kind in WALLS else THING
    for number, body in enumerate(one.bodies):
        yield Body(f"{THING}:{one.id}:{number}", *triangles_of(body), tint)
    if one.motion is not None:
        ends = {(one.motion.low, 0.0), (one.motion.high, 1.0)} - {(0.0, 0.0)}
        for end, pose in enumerate(sorted(ends)):
            for number, body in enumerate(one.bodies):
                yield Body(f"{SWEPT}:{one.id}:{end}:{number}", *triangles_of(moved(body, *one.motion.at(*pose))), SWEPT)


def _turbo(number: int, turbo: TurboBody) -> list[Body]:
    s = turbo.sizes
    found = []
    dt, dc = s.turbine, s.compressor
    corners, triangles = scroll(turbo.turbine, turbo.shaft, TURBINE_SCROLL[0] * dt, TURBINE_SCROLL[1] * dt)
    found.append(Body(f"turbine:{number}", corners, triangles, "hot_part"))
    corners, triangles = scroll(turbo.compressor, turbo.shaft, COMPRESSOR_SCROLL[0] * dc, COMPRESSOR_SCROLL[1] * dc)
    found.append(Body(f"compressor:{number}", corners, triangles, "cold_part"))
    apart = turbo.compressor - turbo.turbine
    frame = Frame(turbo.turbine, _axes(apart / np.linalg.norm(apart)))
    found.append(Body(f"centre:{number}", *_straight(frame, float(np.linalg.norm(apart)), 0.004, 0.36 * dt), METAL))
    # Necks: gas in and out, air in and out
    back = turbo.gas_in.origin + 0.0
    found.append(Body(f"gas-in:{number}", *_straight(turbo.gas_in, max(s.to_shaft - 0.3 * dt, 0.02), 0.32 * dt, 0.42 * dt), "hot_part"))
    out = Frame(turbo.turbine, turbo.gas_out.axes)
    found.append(Body(f"gas-out:{number}", *_straight(out, s.outlet_beyond, 0.42 * dt, 0.55 * dt), "hot_part"))
    inlet = Frame(turbo.air_in.origin, turbo.air_in.axes)
    found.append(Body(f"air-in:{number}", *_straight(inlet, s.inlet_beyond, 0.40 * dc, 0.50 * dc), "cold_part"))
    blow = Frame(turbo.air_out.origin - s.outlet * turbo.air_out.along, turbo.air_out.axes)
    found.append(Body(f"air-out:{number}", *_straight(blow, s.outlet, 0.28 * dc, 0.36 * dc), "cold_part"))
    middle = 0.5 * (turbo.turbine + turbo.compressor)
    drain = Frame(middle, _axes(turbo.drain))
    found.append(Body(f"drain:{number}", *_straight(drain, 0.6 * dt, 0.006, 0.012), METAL))
    # The flange that the gas comes through
    flange = Frame(back - 0.010 * turbo.gas_in.along, turbo.gas_in.axes)
    found.append(Body(f"turbine-flange:{number}", *box(flange, 1.6 * dt, 1.4 * dt, 0.010), METAL))
    return found


def _blower(body: TurboBody) -> list[Body]:
    """A belt-driven blower: its case between inlet and outlet, and the pulley at its nose."""
    s = body.sizes
    axis = body.shaft / np.linalg.norm(body.shaft)
    case = Frame(body.compressor - 0.5 * BLOWER_LENGTH * axis, _axes(axis))
    nose = Frame(body.compressor + 0.5 * BLOWER_LENGTH * axis, _axes(axis))
    inlet = Frame(body.air_in.origin, body.air_in.axes)
    blow = Frame(body.air_out.origin - s.outlet * body.air_out.along, body.air_out.axes)
    return [
        Body("blower-case", *box(case, 1.5 * s.compressor, s.compressor, BLOWER_LENGTH), "cold_part"),
        Body("blower-pulley", *_straight(nose, 0.03, 0.012, 0.0375), METAL),
        Body("air-in:0", *_straight(inlet, s.inlet_beyond, 0.40 * s.compressor, 0.50 * s.compressor), "cold_part"),
        Body("air-out:0", *_straight(blow, s.outlet, 0.28 * s.compressor, 0.36 * s.compressor), "cold_part"),
    ]


BLOWER_LENGTH = 0.18  # m of the case that is drawn; a picture


def _axes(z: np.ndarray) -> np.ndarray:
    x = np.cross([0.0, 1.0, 0.0], z)
    if np.linalg.norm(x) < 1e-6:
        x = np.array([1.0, 0.0, 0.0])
    x = x / np.linalg.norm(x)
    return np.column_stack([x, np.cross(z, x), z])


def _collectors(space: Space, layout: Layout) -> list[Body]:
    c = space.collector
    if c is None:
        return []
    found = []
    for bank, (outlet, inlets) in enumerate(zip(layout.outlets, layout.inlets, strict=True)):
        if c.form == CAST:
            found += _casting(space, layout, bank)
            continue
        if c.form == "log":
            ends = np.array([i.origin for i in inlets])
            far = ends[int(np.linalg.norm(ends - outlet.origin, axis=1).argmax())]
            begin = far - 0.5 * space.head.spacing * outlet.along
            frame = Frame(begin, outlet.axes)
            found.append(
                Body(
                    f"log:{bank}",
                    *_straight(frame, float(np.linalg.norm(outlet.origin - begin)), 0.6 * c.tube, 0.6 * c.tube + 0.004),
                    METAL,
                )
            )
            continue
        for n, inlet in enumerate(inlets):
            long = min(c.merge, c.length) if c.merge else c.length
            found.append(
                Body(f"leg:{bank}:{n}", *_straight(inlet, max(long * 0.85, 0.02), 0.5 * c.tube - 0.002, 0.5 * c.tube + 0.0005), METAL)
            )
        neck = Frame(outlet.origin - 0.45 * c.length * outlet.along, outlet.axes)
        found.append(Body(f"neck:{bank}", *_straight(neck, 0.45 * c.length, 0.55 * c.tube, 0.62 * c.tube), METAL))
    return found


def _casting(space: Space, layout: Layout, bank: int) -> list[Body]:
    """A cast manifold: from each port a runner in one sweep to the flange of the turbine, thick-walled."""
    c, outlet = space.collector, layout.outlets[bank]
    assert c is not None
    found = []
    for cylinder, port in enumerate(layout.ports, 1):
        if len(layout.outlets) > 1 and space.head.bank_of(cylinder) != bank:
            continue
        mouth = outlet.moved(-0.02)
        reach = 0.55 * float(np.linalg.norm(mouth.origin - port.origin))
        t = np.linspace(0.0, 1.0, 25)[:, None]
        points = (
            (1 + 2 * t) * (1 - t) ** 2 * port.origin
            + t * (1 - t) ** 2 * 2.0 * reach * port.along
            + t**2 * (3 - 2 * t) * mouth.origin
            + t**2 * (t - 1) * 2.0 * reach * mouth.along
        )
        found.append(Body(f"casting:{bank}:{cylinder}", *_swept(points, port.axes[:, 0], 0.5 * c.tube), "engine"))
    found.append(Body(f"casting:{bank}", *_straight(outlet.moved(-0.03), 0.03, 0.5 * c.tube, 0.9 * c.tube), "engine"))
    return found


def _swept(points: np.ndarray, x: np.ndarray, radius: float) -> tuple[np.ndarray, np.ndarray]:
    """A tube of one `radius` along `points` (m), closed at both ends; `x`: across its beginning."""
    along = np.gradient(points, axis=0)
    along /= np.linalg.norm(along, axis=1)[:, None]
    across = []
    for way in along:
        x = x - (x @ way) * way
        x = x / np.linalg.norm(x)
        across.append(x)
    count = len(points)
    rings = RingMesh(points, np.array(across), np.cross(along, np.array(across)), np.zeros(count), np.full(count, radius))
    return np.vstack([rings.corners(rings.outer, 24), points[[0, -1]]]), skins(count, 24, False)


def _cooler(faces: tuple[Frame, Frame], size: tuple[float, float, float]) -> Body:
    wide, high, deep = size
    frame = cooler_frame(faces, size)
    corners, triangles = box(frame, deep, high, wide)
    return Body("cooler", corners, triangles, "cooler")
