"""Stand-ins, stands and brackets put together again in space, without what drew them."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from zarvik.core.common.sentences import Fault
from zarvik.core.fabrication import mockup
from zarvik.core.fabrication.flange import inlet_holes
from zarvik.core.fabrication.mockup import Opening, box_panels, bracket, hole_faults, stand_drawings, stand_for
from zarvik.core.layout.bodies import turbo_body, turbo_sizes
from zarvik.core.layout.frame import Frame

HOLES = inlet_holes("four_bolt", 0.07)
PLATE = 0.01  # m thick


def frame_at(height: float, along: np.ndarray, turned: float = 0.0) -> Frame:
    """A flange so far from the plate, m, into which the gas goes in a direction, turned about it."""
    turn, _ = Rotation.align_vectors([along], [[0.0, 0.0, 1.0]])
    return Frame(np.array([0.1, -0.05, height]), (turn * Rotation.from_euler("z", turned)).as_matrix())


@pytest.mark.parametrize("seed", range(40))
def test_a_stand_holds_the_flange_where_it_is(seed: int) -> None:
    """Any direction: the front edge of both side plates, stood up on their lines, lies in the back of the backing plate, whose holes are
    those of the flange in the car; the foot is flat on the plate, and nothing goes below it."""
    dice = np.random.default_rng(seed)
    along = dice.normal(size=3)
    along /= np.linalg.norm(along)
    frame = frame_at(0.2 + 0.1 * dice.random(), along, dice.uniform(-3.0, 3.0))
    stand = stand_for(frame, HOLES, 0.05, PLATE)
    if math.degrees(math.acos(abs(along[2]))) < 10.0 or along[2] > 0.5:  # on posts
        assert stand is None
        return
    assert stand is not None
    for line in stand.lines:
        near, far = (np.array([*end, 0.0]) for end in line)
        way = (far - near) / np.linalg.norm(far - near)
        # The side plate stands on its line: its first corner there, its second behind
        begin = near - stand.corners[0][0] * way
        corners = [begin + u * way + v * np.array([0.0, 0.0, 1.0]) for u, v in stand.corners]
        assert corners[1] == pytest.approx(far, abs=1e-9)
        assert [c[2] for c in corners[:2]] == pytest.approx([0.0, 0.0], abs=1e-12)
        for corner in corners[2:]:
            assert float((corner - frame.origin) @ along) == pytest.approx(PLATE, abs=1e-9)
            assert corner[2] > 0.0
    plate, side = stand_drawings(stand, frame, HOLES, 0.05, 0.0105)
    drilled = sorted((round(c.x, 9), round(c.y, 9)) for c in plate.circles[1:])
    bolts = [frame.origin + x * frame.axes[:, 0] + y * frame.axes[:, 1] for x, y in HOLES]
    in_space = [frame.origin + x * stand.across + y * stand.up for x, y in drilled]
    for bolt in bolts:
        assert min(float(np.linalg.norm(bolt - there)) for there in in_space) < 1e-8
    assert side.size[0] == pytest.approx(np.ptp(stand.corners[:, 0]), abs=0.05)


def test_a_flange_that_faces_down_stands_square() -> None:
    """Closed form: the gas goes down, level with the fixture: the front of the side plate is upright, one plate's thickness behind the
    flange, from below its lowest bolt to above its highest."""
    stand = stand_for(frame_at(0.25, np.array([0.0, -1.0, 0.0])), HOLES, 0.05, PLATE)
    assert stand is not None
    half = max(abs(y) for _, y in HOLES)
    (a, b, c, d) = stand.corners
    assert a == pytest.approx([PLATE, 0.0])
    assert b == pytest.approx([PLATE + 0.6 * 0.25, 0.0])
    assert c == pytest.approx([PLATE, 0.25 + max(half, 0.025) + mockup.MARGIN])
    assert d[0] == pytest.approx(PLATE)
    with pytest.raises(Fault, match="too near"):
        stand_for(frame_at(0.03, np.array([0.0, -1.0, 0.0])), HOLES, 0.05, PLATE)


@pytest.mark.parametrize("seed", range(20))
def test_a_wooden_turbo_is_the_turbo(seed: int) -> None:
    """Both plates on a rod, put where the housings are with the drain marks in line: their necks end where the flanges of the turbo are,
    however it is turned, and of either hand."""
    dice = np.random.default_rng(seed)
    gas_in = Frame(dice.normal(size=3), Rotation.random(rng=dice).as_matrix())
    sizes = dataclasses.replace(turbo_sizes(0.06, 0.055), left=bool(seed % 2))
    body = turbo_body(gas_in, sizes, shaft=dice.uniform(-3, 3), compressor=dice.uniform(-3, 3), drain=dice.uniform(-3, 3))
    for middle, neck, look, inwards in ((body.turbine, body.gas_in, body.shaft, True), (body.compressor, body.air_out, -body.shaft, False)):
        face, aside, drain = mockup.seen_along(body.shaft, middle, neck, body.drain, inwards=inwards)
        # On the bench: up is where the neck goes, right is right of up for who looks along `look`; the drain mark gives the turn about it
        level = body.drain - (body.drain @ look) * look
        up = Rotation.from_rotvec(-drain * look).apply(level / np.linalg.norm(level))
        right = np.cross(look, up)
        assert middle + face * up + aside * right == pytest.approx(neck.origin - (neck.origin - middle) @ look * look, abs=1e-9)
        assert face == pytest.approx(sizes.to_shaft if inwards else sizes.outlet)


def test_a_cardboard_core() -> None:
    """Six panels of three sizes; an opening in the one that its pipe meets and no other; nothing overlaps."""
    made = box_panels("k", (0.6, 0.2, 0.07), [Opening("end", False, 0.0, 0.03, 0.06), Opening("front", True, -0.25, 0.0, 0.06)], None)  # type: ignore[arg-type]
    sizes = sorted(tuple(np.round(np.ptp(p.points, axis=0), 9)) for p in made.paths)
    assert sizes == sorted([(0.6, 0.2)] * 2 + [(0.6, 0.07)] * 2 + [(0.07, 0.2)] * 2)
    boxes = [(*p.points.min(axis=0), *p.points.max(axis=0)) for p in made.paths]
    for n, a in enumerate(boxes):
        for b in boxes[:n]:
            assert a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]
    for circle in made.circles:
        assert sum(b[0] < circle.x < b[2] and b[1] < circle.y < b[3] for b in boxes) == 1
    with pytest.raises(Fault):
        box_panels("k", (0.6, 0.0, 0.07), [], None)  # type: ignore[arg-type]


def test_holes_keep_off_the_edge() -> None:
    """EN 1993-1-8:2005, table 3.3: e1, e2 at least 1.2 d0, p1 at least 2.2 d0. A 40 mm strap with holes of 10.5 mm: 12.6 mm from an edge,
    23.1 mm apart."""
    good = [(-0.05, 0.0, 0.0105), (0.05, 0.0, 0.0105)]
    assert hole_faults(0.14, 0.04, good) == []
    assert hole_faults(0.1252, 0.0252, good) == []
    assert len(hole_faults(0.1250, 0.04, good)) == 2
    assert len(hole_faults(0.14, 0.0250, good)) == 2
    assert hole_faults(0.14, 0.04, [(0.0, 0.0, 0.0105), (0.0232, 0.0, 0.0085)]) == []
    (close,) = hole_faults(0.14, 0.04, [(0.0, 0.0, 0.0105), (0.0230, 0.0, 0.0085)])
    assert "Holes" in close.template
    drawn = bracket("b", (0.14, 0.04, 0.005), good, None)  # type: ignore[arg-type]
    assert drawn.size == pytest.approx((0.14, 0.04))
    assert [c.radius for c in drawn.circles] == [0.00525] * 2


def test_plates_as_they_are_cut() -> None:
    """By hand: a scroll of 50 mm and a neck of 40 mm beside it reach 50 mm to the left and down, 60 to the right and 80 up; the rod is M10.
    A backing plate has its margin beyond the outermost bolts and the opening in its middle; words stand on what they are about."""
    housing = mockup.Housing(radius=0.05, half=0.02, face=0.08, aside=0.04, drain=math.pi)
    plate = mockup.housing_plate("p", housing, None, ())  # type: ignore[arg-type]
    contour = plate.paths[0].points
    assert contour.min(axis=0) == pytest.approx([-0.05, -0.05], abs=1e-4)
    assert contour.max(axis=0) == pytest.approx([0.06, 0.08], abs=1e-9)
    assert [(c.x, c.y, c.radius) for c in plate.circles] == [(0.0, 0.0, pytest.approx(0.00525))]
    assert plate.paths[2].points[1] == pytest.approx([0.0, -0.046])
    frame = frame_at(0.25, np.array([0.0, -1.0, 0.0]))
    stand = stand_for(frame, HOLES, 0.05, PLATE)
    assert stand is not None
    backing, _ = stand_drawings(stand, frame, HOLES, 0.05, 0.0105)
    drilled = np.array([(c.x, c.y) for c in backing.circles[1:]])
    assert backing.paths[0].points.max(axis=0) == pytest.approx(drilled.max(axis=0) + mockup.MARGIN)
    assert backing.paths[0].points.min(axis=0) == pytest.approx(drilled.min(axis=0) - mockup.MARGIN)
    assert (backing.circles[0].x, backing.circles[0].y, backing.circles[0].radius) == (0.0, 0.0, 0.025)
    # With the plate at the height of the lowest bolt there is no room, two centimetres higher there is
    lowest = float(-drilled[:, 1].min())
    for height, goes in ((lowest + 0.004, False), (lowest + 0.02, True)):
        if goes:
            assert stand_for(frame_at(height, np.array([0.0, -1.0, 0.0])), HOLES, 0.05, PLATE) is not None
        else:
            with pytest.raises(Fault, match="too near"):
                stand_for(frame_at(height, np.array([0.0, -1.0, 0.0])), HOLES, 0.05, PLATE)
    panels = box_panels("k", (0.6, 0.2, 0.07), [Opening("top", True, 0.1, 0.01, 0.06)], None)  # type: ignore[arg-type]
    boxes = [(*p.points.min(axis=0), *p.points.max(axis=0)) for p in panels.paths]
    assert [sum(b[0] < note.x < b[2] and b[1] < note.y < b[3] for note in panels.notes) for b in boxes] == [1] * 6
    (circle,) = panels.circles
    middle = np.array([0.5 * (boxes[3][0] + boxes[3][2]), 0.5 * (boxes[3][1] + boxes[3][3])])
    assert np.array([circle.x, circle.y]) - middle == pytest.approx([0.1, 0.01])
    assert circle.radius == pytest.approx(0.03)
