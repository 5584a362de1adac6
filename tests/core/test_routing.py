"""Tubes through made-up bays, looked at by a walk of their own along straights and bends (SciPy's rotations), and distances against bodies
of another library (trimesh)."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
import trimesh
from scipy.optimize import linear_sum_assignment
from scipy.spatial.transform import Rotation

from made_bays import BASE, bay_of, random_body
from zarvik.core.routing import combine, polish, residuals, search, tubes
from zarvik.core.routing.bay import Bay, End
from zarvik.core.routing.grid import tightest
from zarvik.core.routing.inspection import inspect
from zarvik.core.routing.search import Routed, Router
from zarvik.core.solids.bodies import Body, Shape
from zarvik.core.solids.distance import away_from, nearest
from zarvik.formats.bay_file import routes_tree

STEP = 2.0  # mm of the walk


def _mesh(body: Body) -> trimesh.Trimesh:
    if body.shape is Shape.BOX:
        found = trimesh.creation.box(extents=2.0 * body.half)
        turn = body.axes.T
    else:
        found = trimesh.creation.cylinder(radius=body.half[0], height=2.0 * body.half[1], sections=720)
        turn = np.column_stack([body.axes[1], body.axes[2], body.axes[0]])  # theirs stands along z
    place = np.eye(4)
    place[:3, :3], place[:3, 3] = turn, body.centre
    found.apply_transform(place)
    return found


def test_distances_against_another_library() -> None:
    dice = np.random.default_rng(5)
    for number in range(12):
        body = random_body(dice, str(number))
        bay = dataclasses.replace(bay_of(3), bodies=(body,))
        points = dice.uniform(-0.6, 0.6, (60, 3))
        mesh = _mesh(body)
        _, wanted, _ = trimesh.proximity.closest_point_naive(mesh, points)
        inside = _within(body, points)
        for point, distance, within in zip(points, wanted, inside, strict=True):
            found = nearest(bay.packed(), *point, False, 9.0)
            assert found == pytest.approx(-distance if within else distance, abs=2e-5)


def _within(body: Body, points: np.ndarray) -> np.ndarray:
    local = (points - body.centre) @ body.axes.T
    if body.shape is Shape.BOX:
        return np.all(np.abs(local) < body.half, axis=1)
    return (np.hypot(local[:, 1], local[:, 2]) < body.half[0]) & (np.abs(local[:, 0]) < body.half[1])


def walked(bay: Bay, route: dict[str, object]) -> tuple[np.ndarray, np.ndarray, float]:
    """Places (mm) along a written route and how far along each is, turned step by step by rotations; the miss of its end, mm and rad."""
    port, inlet = bay.ports[route["port"]], bay.inlets[route["inlet"]]
    here, way = port.place * 1e3, port.way.copy()
    places, along, done = [here], [0.0], 0.0
    for part in route["segments"]:
        if part["type"] == "straight":
            assert part["length"] > bay.straight * 1e3 - 0.01
            for step in np.linspace(0.0, part["length"], max(int(part["length"] / STEP), 2))[1:]:
                places.append(here + step * way)
                along.append(done + step)
            here, done = here + part["length"] * way, done + part["length"]
        else:
            inward = np.array(part["normal"])
            assert inward @ way == pytest.approx(0.0, abs=1e-6)
            assert min(abs(part["radius"] - 1e3 * r) for r in bay.radii) < 1e-6
            assert math.degrees(bay.angles[0]) <= part["angle_deg"] <= math.degrees(bay.angles[1])
            axis, centre, turned = np.cross(way, inward), here + part["radius"] * inward, math.radians(part["angle_deg"])
            for angle in np.linspace(0.0, turned, max(int(part["radius"] * turned / STEP), 3))[1:]:
                places.append(centre + Rotation.from_rotvec(angle * axis).apply(here - centre))
                along.append(done + part["radius"] * angle)
            here, way = places[-1], Rotation.from_rotvec(turned * axis).apply(way)
            done += part["radius"] * turned
    assert np.linalg.norm(here - inlet.place * 1e3) < 0.01
    assert way @ inlet.way > 1.0 - 1e-9
    return np.array(places), np.array(along), done


def assert_goes(bay: Bay, found: Routed) -> list[float]:
    """The tubes go, by their own walk and trimesh's or plain geometry; their lengths, mm."""
    routes = routes_tree(bay, found.tubes)["routes"]
    assert sorted(route["port"] for route in routes) == list(range(len(bay.ports)))
    assert len({route["inlet"] for route in routes}) == len(routes)
    seen = [walked(bay, route) for route in routes]
    for places, along, length in seen:
        for body in bay.bodies:
            local = (places * 1e-3 - body.centre) @ body.axes.T
            if body.shape is Shape.CYLINDER:
                local = np.column_stack([np.hypot(local[:, 1], local[:, 2]), local[:, 0], 0.0 * local[:, 0]])
            out = np.abs(local) - body.half
            distance = np.linalg.norm(np.maximum(out, 0.0), axis=1) + np.minimum(out.max(axis=1), 0.0)
            counted = (along > 1e3 * bay.bare) & (length - along > 1e3 * bay.bare) if body.mounted else np.ones(len(along), bool)
            assert 1e3 * (distance[counted].min() - 0.5 * bay.diameter) > 1e3 * bay.clearance - 0.1
        apart = np.linalg.norm(places[:, None] - places[None], axis=2)
        far = np.abs(along[:, None] - along[None]) > 2.5e3 * bay.diameter
        assert not far.any() or apart[far].min() > 1e3 * (bay.diameter + bay.gap) - 0.1
    for i, (one, _, _) in enumerate(seen):
        for other, _, _ in seen[i + 1 :]:
            assert np.linalg.norm(one[:, None] - other[None], axis=2).min() > 1e3 * (bay.diameter + bay.gap) - 0.1
    return [length for _, _, length in seen]


@pytest.mark.parametrize(("seed", "ports", "bodies"), [(1, 3, 9), (2, 4, 12), (3, 4, 18), (4, 6, 8), (5, 1, 20), (6, 1, 30)])
def test_tubes_go(seed: int, ports: int, bodies: int) -> None:
    bay = bay_of(seed, ports, bodies)
    answers = list(Router(bay, seed).answers(1))
    assert answers
    longest = []
    for found in (answers[0], answers[-1]):
        lengths = assert_goes(bay, found)
        assert found.inspection.lengths == pytest.approx([1e-3 * length for length in lengths], rel=1e-6)
        assert max(lengths) - min(lengths) <= bay.tolerance * sum(lengths) / len(lengths)
        longest.append(max(lengths))
    assert longest[1] <= longest[0]


def test_a_seed_gives_the_same_again() -> None:
    bay = bay_of(2, 4, 12)
    one, again, other = (next(Router(bay, seed).answers(1)).inspection.lengths for seed in (7, 7, 8))
    assert one == again
    assert one != other


def test_inlets_and_length_as_decided() -> None:
    bay = dataclasses.replace(bay_of(1, 3, 6), inlet_of=(2, 0, 1), length=0.62)
    found = next(Router(bay).answers(1))
    lengths = assert_goes(bay, found)
    assert [tube.inlet for tube in found.tubes] == [2, 0, 1]
    assert sum(lengths) / 3 == pytest.approx(620.0, rel=bay.tolerance)


def test_through_holes_in_walls() -> None:
    """Two walls across the way, each with a hole that is 5 mm wider on each side than the tube with its clearance; the holes are not in a
    line, so that no chance finds them."""
    walls = []
    hole = 0.5 * BASE.diameter + BASE.clearance + 0.005
    for x, (y, z) in ((0.3, (0.06, 0.05)), (0.55, (-0.07, -0.04))):
        for side, (low, high) in enumerate(((-0.4, y - hole), (y + hole, 0.4))):
            walls.append(_box(f"wall {x} {side}", (x, 0.5 * (low + high), 0.0), (0.01, high - low, 0.8)))
        for side, (low, high) in enumerate(((-0.4, z - hole), (z + hole, 0.4))):
            walls.append(_box(f"wall {x} {side + 2}", (x, y, 0.5 * (low + high)), (0.01, 2.0 * hole, high - low)))
    for side in (-0.4, 0.4):
        walls.append(_box(f"side {side}", (0.4, side, 0.0), (1.4, 0.01, 0.8)))
        walls.append(_box(f"lid {side}", (0.4, 0.0, side), (1.4, 0.8, 0.01)))
    ahead = np.array([1.0, 0.0, 0.0])
    bay = dataclasses.replace(BASE, ports=(End(np.zeros(3), ahead),), inlets=(End(np.array([0.85, 0.0, 0.0]), ahead),), bodies=tuple(walls))
    assert_goes(bay, next(Router(bay).answers(1)))


def _box(name: str, centre: tuple[float, ...], size: tuple[float, ...]) -> Body:
    return Body(name=name, shape=Shape.BOX, centre=np.array(centre), axes=np.eye(3), half=0.5 * np.array(size))


def test_a_plain_tube_where_it_goes() -> None:
    """Ends in a line need no bend, two in a plane need one, of the largest radius there is; two inlets: the nearer one."""
    up, ahead = np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0])
    inlets = (End(np.array([0.7, 0.0, 0.0]), ahead), End(np.array([0.4, 0.0, 0.3]), up))
    bay = dataclasses.replace(BASE, ports=(End(np.zeros(3), ahead),), inlets=inlets)
    straight = next(Router(dataclasses.replace(bay, inlets=inlets[:1])).answers(1))
    assert assert_goes(dataclasses.replace(bay, inlets=inlets[:1]), straight) == pytest.approx([700.0])
    bent = next(Router(dataclasses.replace(bay, inlet_of=(1,))).answers(1))
    assert assert_goes(bay, bent) == pytest.approx([400.0 + 300.0 - 2.0 * 63.6 + 63.6 * math.pi / 2])
    assert [tube.inlet for tube in list(Router(bay).answers(1))[-1].tubes] == [1]
    post = _box("post", (0.35, 0.0, 0.0), (0.05, 0.05, 0.5))
    around = next(Router(dataclasses.replace(bay, inlets=inlets[:1], bodies=(post,))).answers(1))
    assert len(around.tubes[0].radii) >= 2
    assert assert_goes(dataclasses.replace(bay, inlets=inlets[:1], bodies=(post,)), around)[0] > 700.0


def test_where_there_is_no_way_none_is_found(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(search, "MOST_ROUNDS", 2)
    ahead = np.array([1.0, 0.0, 0.0])
    bay = dataclasses.replace(
        BASE,
        ports=(End(np.zeros(3), ahead),),
        inlets=(End(np.array([0.6, 0.0, 0.0]), ahead),),
        bodies=(_box("wall", (0.3, 0.0, 0.0), (0.02, 4.0, 4.0)),),
    )
    assert not list(Router(bay).answers(1))


def test_a_bay_of_many_metres_needs_no_more_memory(monkeypatch: pytest.MonkeyPatch) -> None:
    """Cells as small as a thin tube asks for would be ten thousand million."""
    monkeypatch.setattr(search, "MOST_ROUNDS", 1)
    begin, end = End(np.zeros(3), np.array([0.0, 1.0, 0.0])), End(np.array([15.0, 9.0, -0.3]), np.array([0.0, 0.0, -1.0]))
    wall = _box("wall", (7.0, 4.0, 0.0), (0.01, 19.0, 19.0))
    bay = dataclasses.replace(BASE, ports=(begin,), inlets=(end,), bodies=(wall,), diameter=0.003, radii=(0.005,))
    assert not list(Router(bay).answers(1))


def test_every_fault_is_seen() -> None:
    """Tubes that go, in a bay that asks for more than they were laid for."""
    bay = bay_of(2, 4, 12)
    found = list(Router(bay).answers(1))[-1]
    assert not inspect(bay, found.tubes).faults

    def kinds(**asked: object) -> set[str]:
        return {kind for kind, _ in inspect(dataclasses.replace(bay, **asked), found.tubes).faults}

    assert "body" in kinds(clearance=0.06)
    assert "each other" in kinds(gap=0.2)
    assert "straight" in kinds(straight=0.5)
    assert "angle" in kinds(angles=(math.radians(80.0), math.radians(81.0)))
    assert "equal" in kinds(tolerance=1e-6)
    assert "length" in kinds(length=2.0)
    turned = dataclasses.replace(found.tubes[0], corners=found.tubes[0].corners[::-1] * 3.0 - 1.0)
    assert "way" in {kind for kind, _ in inspect(bay, (turned,)).faults}


def test_a_tube_by_hand() -> None:
    """A right angle of 60 mm radius between legs of 200 and 300 mm is 200 + 300 - 2 · 60 + 60 · π/2 long; its middle lies on the circle
    about (140, 60): hand calculation."""
    corners = np.array([[0.0, 0.0, 0.0], [0.2, 0.0, 0.0], [0.2, 0.3, 0.0]])
    legs, straights, angles, points = np.empty((2, 4)), np.empty(2), np.empty(1), np.empty((501, 4))
    length = tubes.sample(corners, 1, np.array([0.06]), legs, straights, angles, points)
    assert length == pytest.approx(0.38 + 0.06 * math.pi / 2)
    assert straights == pytest.approx([0.14, 0.24])
    assert angles[0] == pytest.approx(math.pi / 2)
    turning = (points[:, 3] > 0.1401) & (points[:, 3] < 0.14 + 0.06 * math.pi / 2)
    assert np.hypot(points[turning, 0] - 0.14, points[turning, 1] - 0.06) == pytest.approx(0.06, abs=1e-9)
    assert points[-1, :3] == pytest.approx([0.2, 0.3, 0.0])
    steps = np.linalg.norm(np.diff(points[:, :3], axis=0), axis=1)
    assert steps == pytest.approx(length / 500, rel=1e-3)


def test_what_is_passed_over_would_not_offend() -> None:
    """Stretches that are far from everything are passed over: against a look at each point of them (NumPy)."""
    dice = np.random.default_rng(11)
    bay = bay_of(9, 2, 14)
    rules = residuals.rules_of(bay)
    rows = bay.packed()
    out = np.empty(tubes.SAMPLES)
    seen = []
    for _ in range(120):
        x = np.concatenate([dice.uniform(0.05, 0.4, 2), dice.uniform(-0.3, 0.3, 3 * 2)])
        ends = search.ends_of(bay, 0, 1)
        corners, points = np.empty((6, 3)), np.empty((tubes.SAMPLES, 4))
        tubes.place_corners(ends[0], ends[1], x, 4, corners)
        legs, straights, angles = np.empty((5, 4)), np.empty(5), np.empty(4)
        length = tubes.sample(corners, 4, np.full(4, 0.06), legs, straights, angles, points)
        if straights.min() < 0.0:
            continue  # no tube: its points jump
        seen.append((points, length))
        residuals.of_bodies(points, length, rows, rules, out)
        need = 0.5 * bay.diameter + bay.clearance
        for k in range(tubes.SAMPLES):
            at_end = points[k, 3] < bay.bare or length - points[k, 3] < bay.bare
            assert out[k] == pytest.approx(max(need - nearest(rows, *points[k, :3], at_end, 9.0), 0.0), abs=1e-9)
        for other, other_length in seen[:-1:7]:
            residuals.of_two(points, length, other, other_length, rules, out)
            apart = np.linalg.norm(points[:, None, :3] - other[None, :, :3], axis=2).min(axis=1)
            short = np.maximum(bay.diameter + bay.gap - apart, 0.0)
            assert out == pytest.approx(short, abs=1e-9)
        residuals.of_itself(points, rules, out)
        apart = np.linalg.norm(points[:, None, :3] - points[None, :, :3], axis=2)
        later = np.arange(tubes.SAMPLES)[None] - np.arange(tubes.SAMPLES)[:, None] > int(2.5 * bay.diameter / points[1, 3])
        assert out == pytest.approx(np.maximum(bay.diameter + bay.gap - np.where(later, apart, 9.0).min(axis=1), 0.0), abs=1e-9)


def test_moving_makes_better() -> None:
    bay = bay_of(3, 4, 18)
    router = Router(bay)
    router.fill((3,))
    ways = list(zip(router.library.ports, router.library.inlets, strict=True))
    chosen = [ways.index((port, port)) for port in range(4)]
    ends = np.array([search.ends_of(bay, port, port) for port in range(4)])
    x = np.array([router.library.x[k] for k in chosen])
    bends = np.array([router.library.bends[k] for k in chosen])
    radii = np.array([router.library.radii[k] for k in chosen])
    asked = np.array([0.0, 9.0, 0.03])
    costs = [polish.polish(ends, x, bends, radii, router.bodies, router.rules, asked, steps) for steps in (0, 3, 12)]
    assert costs[0] > costs[1] > costs[2]


def test_away_from_a_body() -> None:
    """The way out of it: half a millimetre along it is half a millimetre further from the body."""
    dice = np.random.default_rng(8)
    way = np.empty(3)
    for number in range(40):
        rows = dataclasses.replace(BASE, bodies=(random_body(dice, str(number)), random_body(dice, "other"))).packed()
        for point in dice.uniform(-0.5, 0.5, (20, 3)):
            away_from(rows, *point, False, way)
            assert np.linalg.norm(way) == pytest.approx(1.0)
            here, there = nearest(rows, *point, False, 9.0), nearest(rows, *(point + 1e-7 * way), False, 9.0)
            if abs(nearest(rows[::-1], *(point - 1e-4 * way), False, 9.0) - here + 1e-4) < 1e-8:  # not where two are as near
                assert there - here == pytest.approx(1e-7, rel=1e-3)


def test_tubes_follow_a_body_that_is_dragged() -> None:
    """10 mm into a tube that goes: it gets out of the way, in a small part of the time that a new one takes; where it cannot, none is
    given."""
    bay = bay_of(2, 4, 12)
    found = list(Router(bay).answers(1))[-1]
    tube = found.tubes[0]
    middle = tube.corners.mean(axis=0)
    far = [np.linalg.norm(np.cross(b.centre - middle, tube.corners[1] - tube.corners[0])) for b in bay.bodies[1:]]
    which = 1 + int(np.argmin(far))
    went = 0
    for way in np.vstack([np.eye(3), -np.eye(3)]):
        body = dataclasses.replace(bay.bodies[which], centre=bay.bodies[which].centre + 0.01 * way)
        moved = dataclasses.replace(bay, bodies=(*bay.bodies[:which], body, *bay.bodies[which + 1 :]))
        after = search.followed(moved, found.tubes)
        if after is not None:
            assert_goes(moved, after)
            assert [t.inlet for t in after.tubes] == [t.inlet for t in found.tubes]
            went += 1
    assert went >= 3
    shut = _box("in the way", tuple(bay.inlets[0].place - 0.06 * bay.inlets[0].way), (0.2, 0.2, 0.02))
    assert search.followed(dataclasses.replace(bay, bodies=(*bay.bodies, shut)), found.tubes) is None


def test_ports_and_inlets_are_put_together() -> None:
    """Never worse than taking what comes, seldom much worse than the best there is (SciPy's assignment, R. Jonker, A. Volgenant 1987)."""
    dice = np.random.default_rng(4)
    over = []
    for _ in range(60):
        costs = dice.random((5, 6))
        inlets = np.empty(5, np.int64)
        assert combine.assign(costs, dice.permutation(5), inlets)
        assert len(set(inlets)) == 5
        over.append(costs[np.arange(5), inlets].sum() / costs[linear_sum_assignment(costs)].sum())
    assert min(over) >= 1.0 - 1e-12
    assert float(np.median(over)) < 1.15
    costs[2] = combine.NO_WAY
    assert not combine.assign(costs, dice.permutation(5), inlets)


def test_the_narrowest_place_of_the_widest_way() -> None:
    """A wall with two holes, 40 and 48 mm wide, where a tube of 42.4 mm wants 54.4: the wider one is named."""
    ahead = np.array([1.0, 0.0, 0.0])
    walls = [
        _box("left", (0.3, -0.62, 0.0), (0.02, 1.0, 3.0)),
        _box("post", (0.3, 0.0, 0.0), (0.02, 0.16, 3.0)),
        _box("right", (0.3, 0.628, 0.0), (0.02, 1.0, 3.0)),
    ]
    bay = dataclasses.replace(
        BASE, ports=(End(np.zeros(3), ahead),), inlets=(End(np.array([0.6, 0.0, 0.0]), ahead),), bodies=tuple(walls), straight=0.04
    )
    found = tightest(bay)
    assert found is not None
    assert found.width == pytest.approx(0.048 - 0.012, abs=1e-4)
    assert set(found.between) == {"post", "right"}
    assert found.place[:2] == pytest.approx([0.3, 0.104], abs=0.02)
    assert not found.at_end
    assert tightest(dataclasses.replace(bay, bodies=tuple(walls[:2]))) is None
