"""Joints that are got at or not, and parts that come out or do not: places made up so that a hand calculation says which."""

from __future__ import annotations

import dataclasses
import itertools
import math

import numpy as np
import pytest

from zarvik.core.bay.access import (
    ARM,
    DRIVER,
    ENOUGH,
    FIST,
    FOREARM,
    LENGTHS,
    SOCKET,
    SPANNER,
    TORCH,
    Place,
    _Around,
    _nut,
    _screw,
    _seam,
    _worst_of,
    joints_of,
    reaches,
    weld_reaches,
)
from zarvik.core.bay.assembly import FREE, STUD, Disassembly, Part, Step, _balls, parts_of, pipe_part
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.connections.row import BANDED, FLANGED, HOSED, WELDED
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.run import bend, place_pieces, straight
from zarvik.core.solids.bodies import Body, Shape, rod
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.layout.layout import layout, space_of


def box(centre: tuple[float, float, float], size: tuple[float, float, float], name: str = "box") -> Body:
    return Body(name=name, shape=Shape.BOX, centre=np.array(centre, float), axes=np.eye(3), half=0.5 * np.array(size, float))


def joint(made: str, radius: float = 0.03) -> Place:
    """A joint of a pipe that runs along z."""
    return Place("a__b", "A – B", made, Frame(np.zeros(3), np.eye(3)), radius, "pipe")


def walls(room: float) -> list[Body]:
    """Four walls round a pipe along z, so far from its middle in m, with nothing at its ends."""
    return [
        *(box((sign * (room + 0.01), 0, 0), (0.02, 2.0, 2.0), f"x{sign}") for sign in (1, -1)),
        *(box((0, sign * (room + 0.01), 0), (2.0, 0.02, 2.0), f"y{sign}") for sign in (1, -1)),
    ]


def test_tools_are_as_large_as_they_are() -> None:
    """A fist 75 to 100 mm, a spanner 150 to 250 mm, a driver 150 to 300 mm with its handle: common practice, no source."""
    assert 0.075 <= 2.0 * FIST <= 0.1
    assert 0.07 <= 2.0 * FOREARM <= 0.1
    assert 0.15 <= LENGTHS[SPANNER][0] + FIST <= 0.25
    assert 0.15 <= LENGTHS[DRIVER][0] + 2.0 * FIST <= 0.3
    assert LENGTHS[TORCH][0] < LENGTHS[DRIVER][0]
    assert ARM >= 0.3


def test_a_free_joint_is_got_at() -> None:
    around = _Around([], {})
    for made, tool in ((HOSED, DRIVER), (BANDED, SOCKET)):
        found = _screw(around, joint(made), tool)
        assert found.spare > 0.5
        assert found.clock == 0.0
    assert _nut(around, joint(FLANGED), 0.0).spare > 0.5
    assert _seam(around, joint(WELDED)).share == 1.0


def test_a_screw_is_turned_to_where_there_is_room() -> None:
    """Walls on three sides: the screw has to lie towards the fourth, and a driver lie flat along the open side."""
    three = [one for one in walls(0.1) if one.name != "y1"]
    found = _screw(_Around(three, {}), joint(HOSED), DRIVER)
    assert found.spare >= 0.0
    frame = joint(HOSED).frame
    out = math.cos(found.clock) * frame.axes[:, 0] - math.sin(found.clock) * frame.axes[:, 1]
    # At the side of the pipe a driver along its tangent goes out of the slot; at the bottom of the slot it would run into a wall
    assert abs(out[0]) > 0.5
    shut = _screw(_Around(walls(0.06), {}), joint(HOSED), DRIVER)
    assert shut.spare < 0.0
    assert shut.behind in ("x1", "x-1", "y1", "y-1")


@pytest.mark.parametrize(("room", "reached"), [(0.40, True), (0.10, False)])
def test_a_driver_needs_its_length(room: float, reached: bool) -> None:
    """Across the pipe: 42 mm to the screw, and beside the middle of the pipe 150 mm of driver with a fist of 90 mm behind it."""
    found = _screw(_Around(walls(room), {}), joint(HOSED), DRIVER)
    assert (found.spare >= 0.0) == reached


def test_the_edge_of_room_is_where_a_hand_calculation_has_it() -> None:
    """Between two plates a driver can only lie along them, at the top or the bottom of a pipe of 40 mm: 20 mm to its skin, 12 to the screw,
    45 of fist beside that are 77."""
    seen = []
    for high in (0.060, 0.070, 0.080, 0.090):
        slab = [box((0, high + 0.5, 0), (4.0, 1.0, 4.0), "lid"), box((0, -high - 0.5, 0), (4.0, 1.0, 4.0), "floor")]
        found = _screw(_Around(slab, {}), joint(HOSED, 0.02), DRIVER)
        seen.append(found.spare)
    assert seen[:3] == pytest.approx([-0.017, -0.007, 0.003], abs=1e-6)
    assert seen[3] >= ENOUGH


def test_nuts_all_round_are_judged_by_the_worst() -> None:
    wall = [box((0.3, 0, 0), (0.4, 2.0, 2.0), "wall")]  # 100 mm from the middle, on one side
    around = _Around(wall, {})
    nuts = [_nut(around, joint(FLANGED), clock) for clock in (0.0, 0.5 * math.pi, math.pi, 1.5 * math.pi)]
    assert nuts[2].spare >= 0.0
    assert _worst_of(nuts).spare == min(one.spare for one in nuts)
    closed = _Around([*walls(0.055), box((0, 0, 0.1), (2, 2, 0.04)), box((0, 0, -0.1), (2, 2, 0.04))], {})
    assert _worst_of([_nut(closed, joint(FLANGED), 0.0)]).spare < 0.0


def test_a_seam_by_the_wall_belongs_on_the_bench() -> None:
    near = _seam(_Around([box((0.2, 0, 0), (0.3, 2.0, 2.0), "wall")], {}), joint(WELDED))  # 20 mm beside the pipe's skin
    assert near.spare < 0.0
    assert 0.3 < near.share < 1.0
    assert near.behind == "wall"
    assert _seam(_Around([box((0.6, 0, 0), (0.4, 2.0, 2.0), "wall")], {}), joint(WELDED)).share == 1.0


def test_joints_of_the_demos_have_their_places() -> None:
    """Each clamp and flange of Tarn's connection list that lies on a pipe or turbo, where those pieces meet."""
    project = shipped.demo("tarn")
    build, found = assemble(project), layout(project)
    places = {place.key: place for place in joints_of(found, build.connections)}
    assert len(places) >= 20
    exhaust = found.line("exhaust")
    assert exhaust is not None
    assert places["exhaust__e-elbow__e-down"].frame.origin == pytest.approx(exhaust.placed[0].last.origin)
    assert places["turbo__hot_in"].frame.origin == pytest.approx(found.turbos[0].gas_in.origin)
    assert places["charger__inlet"].line == "intake"
    space = space_of(project)
    free = reaches(space, found, (), build.connections)
    assert all(one.place.made != WELDED for one in free)
    assert [one.spare for one in free] == sorted(one.spare for one in free)
    # A block beside the turbine outlet takes the room away
    at = found.turbos[0].gas_out
    blocks = tuple(box(tuple(at.origin + 0.1 * side), (0.1, 0.1, 0.1)) for side in (*at.axes.T[:2], *-at.axes.T[:2], at.along))
    wall = Obstacle(id="w", name="Wall", kind="metal", bodies=blocks, slack=0.0)
    before = next(one for one in free if one.place.key == "turbo__hot_out")
    after = next(one for one in reaches(space, found, (wall,), build.connections) if one.place.key == "turbo__hot_out")
    assert after.spare < before.spare
    assert after.spare < 0.0
    assert all(one.place.made == WELDED for one in weld_reaches(space, found, (wall,), build.connections))
    # A hood is open when somebody works
    hood = dataclasses.replace(wall, kind="hood")
    assert next(one for one in reaches(space, found, (hood,), build.connections) if one.place.key == "turbo__hot_out").spare == before.spare


# Parts


def part(key: str, *bodies: Body, **more) -> Part:  # type: ignore[no-untyped-def]
    points, radius = _balls(bodies)
    return Part(key=key, name=key, points=points, radius=radius, bodies=bodies, **more)


def well(depth: float = 0.4, room: float = 0.1) -> list[Body]:
    """A well with a floor, open above; its inside is 2 `room` wide and as deep as that."""
    sides = [box((sign * (room + 0.02), 0.5 * depth, 0), (0.04, depth, 4 * room), f"side {sign}") for sign in (1, -1)]
    ends = [box((0, 0.5 * depth, sign * (room + 0.02)), (4 * room, depth, 0.04), f"end {sign}") for sign in (1, -1)]
    return [*sides, *ends, box((0, -0.02, 0), (4 * room, 0.04, 4 * room), "floor")]


def test_what_lies_in_a_well_is_lifted_out() -> None:
    one = part("one", box((0, 0.1, 0), (0.12, 0.12, 0.12)))
    found = Disassembly([one], well()).whole()
    assert not found.stuck
    (step,) = found.steps
    assert step.pulls == 1
    assert step.poses[-1].shift[1] >= FREE - 1e-6
    assert step.poses[-1].shift[[0, 2]] == pytest.approx([0.0, 0.0])


def test_what_lies_below_comes_out_after_what_lies_above() -> None:
    """Whatever order they are given in."""
    low, high = part("low", box((0, 0.08, 0), (0.15, 0.08, 0.15))), part("high", box((0, 0.25, 0), (0.15, 0.08, 0.15)))
    for parts in ([low, high], [high, low]):
        taken = Disassembly(parts, well())
        found = taken.whole()
        assert [step.part.key for step in found.steps] == ["high", "low"]
        before = taken.before(low, found.steps)
        assert before is not None
        assert [one.key for one in before] == ["high"]
        assert taken.before(high, found.steps) == ()


def test_what_is_shut_in_is_said_to_be_stuck() -> None:
    one = part("one", box((0, 0.1, 0), (0.12, 0.12, 0.12)))
    lid = box((0, 0.42, 0), (0.4, 0.04, 0.4), "lid")
    found = Disassembly([one], [*well(), lid]).whole()
    assert not found.steps
    assert found.stuck[0].part is one
    assert set(found.stuck[0].behind) <= {"lid", "side 1", "side -1", "end 1", "end -1", "floor"}


def test_round_a_corner() -> None:
    """Under a shelf that is open on one side: out from under it first, then up."""
    one = part("one", box((0, 0.1, 0), (0.1, 0.1, 0.1)))
    shelf = [box((0, 0.2, 0), (0.4, 0.04, 0.4), "shelf"), box((0, 0.03, 0), (2, 0.02, 2), "floor")]
    fence = [box((sign * 0.25, 0.1, 0), (0.02, 0.4, 2), "fence") for sign in (1, -1)] + [box((0, 0.1, -0.3), (2, 0.4, 0.02), "back")]
    far = [box((0, 0.25, 0.5), (2, 0.7, 0.02), "front")]
    found = Disassembly([one], [*shelf, *fence, *far]).whole()
    (step,) = found.steps
    assert step.pulls == 2
    assert step.poses[1].shift[2] > 0.2
    assert step.poses[-1].shift[1] > 0.3
    assert np.linalg.norm(step.poses[-1].shift) >= FREE - 1e-6


def test_a_part_on_studs_is_pulled_off_them_first() -> None:
    """Up is free, but the studs point outwards: 40 mm of them; with less than that before a wall it does not come off at all."""
    studs = np.array([0.0, 0.0, 1.0])
    one = part("one", box((0, 0.1, 0), (0.1, 0.1, 0.1)), studs=studs)
    for room, comes in ((0.06, True), (0.03, False)):
        wall = box((0, 0.1, 0.05 + room + 0.05), (0.3, 0.4, 0.1), "wall")
        found = Disassembly([one], [wall]).whole()
        assert bool(found.steps) == comes
        if comes:
            assert found.steps[0].poses[1].shift == pytest.approx(STUD * studs, abs=1e-6)
        else:
            assert found.stuck[0].behind[0] == "wall"


def test_what_only_turns_out_is_turned() -> None:
    """A rod of 0.5 m lies across a slot that is 0.44 m wide above it: no straight pull lifts it, tipped it comes out."""
    long = part("rod", rod("rod", np.array([-0.25, 0.1, 0]), np.array([0.25, 0.1, 0]), 0.02))
    room = [box((sign * 0.5, 0.33, 0), (0.56, 0.16, 0.3), f"edge {sign}") for sign in (1, -1)]
    shut = [box((0, 0.0, 0), (2, 0.1, 2), "floor")] + [box((0, 0.3, sign * 0.1), (2, 0.7, 0.06), f"plate {sign}") for sign in (1, -1)]
    ends = [box((sign * 0.42, 0.15, 0), (0.1, 0.3, 0.3), f"stop {sign}") for sign in (1, -1)]
    found = Disassembly([long], [*room, *shut, *ends], seed=3).whole()
    assert found.steps, [one.behind for one in found.stuck]
    step = found.steps[0]
    assert step.turned
    taken = Disassembly([long], [*room, *shut, *ends])
    moving = taken.moving(long, [long])
    assert all(moving.room(pose) >= -1e-6 for pose in step.poses)


def test_of_the_bay_only_what_is_in_the_way_comes_out() -> None:
    one = part("one", box((0, 0.1, 0), (0.12, 0.12, 0.12)))
    battery = part("bay:battery", box((0, 0.32, 0), (0.15, 0.1, 0.15)), own=False)
    other = part("bay:fan", box((2, 0.3, 0), (0.1, 0.1, 0.1)), own=False)
    taken = Disassembly([one, battery, other], well())
    found = taken.whole()
    assert [step.part.key for step in found.steps] == ["bay:battery", "one"]
    assert not found.stuck


def test_where_a_joint_would_let_a_pipe_out() -> None:
    """A pipe through a hole in a wall with a bend on either side: in one piece it stays; parted in the straight it comes out."""
    pieces = place_pieces(
        [
            straight("begin", 0.3, 0.05),
            bend("one", 0.06, 1.5, 0.05),
            straight("two", 0.3, 0.05),
            straight("three", 0.3, 0.05),
            bend("four", 0.06, 1.5, 0.05),
            straight("end", 0.3, 0.05),
        ],
        Frame(np.array([0.0, 0.0, -0.36]), np.eye(3)),
    )
    whole = pipe_part("pipe", "Pipe", pieces)
    middle = pieces[2].last
    frame = [
        Body(name=f"wall {k}", shape=Shape.BOX, centre=middle.origin + 0.54 * way, axes=np.array([way, other, middle.along]),
             half=np.array([0.5, 1.0, 0.03]))
        for k, (way, other) in enumerate(itertools.chain(((s * middle.axes[:, 0], middle.axes[:, 1]) for s in (1, -1)),
                                                          ((s * middle.axes[:, 1], middle.axes[:, 0]) for s in (1, -1))))
    ]  # fmt: skip
    found = Disassembly([whole], frame).whole()
    assert [one.cut for one in found.stuck] == ["two"]


def test_tarn_comes_apart_in_an_order_that_holds() -> None:
    """Every step is followed again, half as fast: nothing is hit that was not touched where it stands; soft parts are hoses."""
    project = shipped.demo("tarn")
    build, found = assemble(project), layout(project)
    parts, fixed = parts_of(space_of(project), found, (), build.connections, {})
    assert {"turbo:0", "manifold:0", "cooler"} <= {one.key for one in parts}
    taken = Disassembly(parts, fixed)
    order = taken.whole()
    assert not order.stuck
    assert {id(step.part) for step in order.steps} == {id(one) for one in parts}
    present = list(parts)
    for step in order.steps:
        if not step.part.soft:
            moving = taken.moving(step.part, present)
            for one, two in itertools.pairwise(step.poses):
                for t in np.linspace(0.0, 1.0, 40):
                    there = dataclasses.replace(two, shift=one.shift + t * (two.shift - one.shift))
                    assert moving.room(there) > -0.008, (step.part.key, t)
        present.remove(step.part)
    turbo = next(one for one in parts if one.key == "turbo:0")
    step = next(one for one in order.steps if one.part is turbo)
    assert isinstance(step, Step)
    assert step.poses[1].shift == pytest.approx(STUD * found.turbos[0].gas_in.along, abs=1e-6)
    assert all(part.soft == all(piece.segment.kind in ("hose", "gap") for piece in part.pieces) for part in parts if part.pieces)
