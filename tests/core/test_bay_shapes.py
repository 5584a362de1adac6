"""Hulls, plates, scans, tapes, belts and what moves in a bay: against another library (trimesh), SciPy, closed forms and dense sampling."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
import trimesh
from scipy.optimize import least_squares
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation

from zarvik.core.bay.belts import Pulley, belt_bodies, belt_run
from zarvik.core.bay.motion import Motion, larger
from zarvik.core.bay.scan import aligned, likely_unit, merged, scan
from zarvik.core.bay.tapes import by_tape
from zarvik.core.common.sentences import Fault
from zarvik.core.solids.bodies import Body, Shape, extent, moved, of_mesh, packed, rod, rows_of
from zarvik.core.solids.distance import away_from, nearest
from zarvik.core.solids.meshes import FAR, Mesh, hull, plate


def body_of(mesh: trimesh.Trimesh) -> Body:
    return of_mesh("scan", Mesh(np.array(mesh.vertices), np.array(mesh.faces, np.int64)))


def test_distances_from_hulls_against_another_library() -> None:
    dice, way = np.random.default_rng(1), np.empty(3)
    for number in range(6):
        points = dice.uniform(-0.2, 0.2, (int(dice.integers(4, 30)), 3))
        if number % 2:
            points = np.round(points, 1)  # many in one plane, some twice
        body = of_mesh("hull", hull(points))
        assert body.mesh is not None
        assert body.mesh.closed
        rows = packed([body])
        other = trimesh.Trimesh(body.mesh.corners, body.mesh.triangles, process=False)
        assert other.volume == pytest.approx(ConvexHull(points).volume, rel=1e-4)
        places = dice.uniform(-0.4, 0.4, (60, 3))
        _, wanted, _ = trimesh.proximity.closest_point_naive(other, places)
        planes = ConvexHull(points).equations
        for place, distance in zip(places, wanted, strict=True):
            found = nearest(rows, *place, False, 9.0)
            within = float((planes[:, :3] @ place + planes[:, 3]).max())
            assert found == pytest.approx(distance if within > 0.0 else within, abs=3e-6)
            if abs(found) > 1e-3:
                away_from(rows, *place, False, way)
                assert nearest(rows, *(place + 1e-4 * way), False, 9.0) - found == pytest.approx(1e-4, rel=0.03)
    with pytest.raises(Fault, match="one plane"):
        hull(np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0.0]]))


def test_a_plate_is_as_thick_as_it_is_said() -> None:
    dice = np.random.default_rng(4)
    turn = Rotation.random(rng=dice).as_matrix()
    corners = np.array([[0, 0, 0], [0.4, 0, 0], [0.4, 0.2, 0], [0.1, 0.3, 0], [0.2, 0.1, 0.0]]) @ turn.T
    found = plate(corners, 0.006)
    other = trimesh.Trimesh(found.corners, found.triangles, process=False)
    assert other.is_watertight
    assert other.volume == pytest.approx(0.006 * ConvexHull((corners @ turn)[:, :2]).volume, rel=1e-6)
    rows = packed([of_mesh("plate", found)])
    middle = corners[:3].mean(axis=0)
    assert nearest(rows, *(middle + 0.05 * turn[:, 2]), False, 1.0) == pytest.approx(0.047, abs=1e-6)
    assert nearest(rows, *middle, False, 1.0) == pytest.approx(-0.003, abs=1e-6)
    with pytest.raises(Fault, match="one line"):
        plate(np.array([[0, 0, 0], [1, 0, 0], [2, 0, 0.0]]), 0.003)
    with pytest.raises(Fault, match="30 mm beside"):
        plate(np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0.12], [0, 1, 0.0]]), 0.003)


@pytest.mark.parametrize("shape", ["ball", "ring"])
def test_scans_of_bodies_with_a_closed_form(shape: str) -> None:
    """A ball and a ring: from their triangles as far as from the body, in cells never farther within what a pipe keeps, and inside of
    them below nothing."""
    mesh = trimesh.creation.icosphere(subdivisions=4, radius=0.25) if shape == "ball" else trimesh.creation.torus(0.3, 0.08, 96, 64)
    body = body_of(mesh)
    assert body.mesh is not None
    assert body.mesh.closed
    triangles, cells = packed([body]), packed([body], in_cells=True)
    way = np.empty(3)
    seen = 0
    for place in np.random.default_rng(5).uniform(-0.42, 0.42, (1500, 3)):
        across = math.hypot(place[0], place[1])
        exact = float(np.linalg.norm(place)) - 0.25 if shape == "ball" else math.hypot(across - 0.3, place[2]) - 0.08
        fine, coarse = nearest(triangles, *place, False, 9.0), nearest(cells, *place, False, 9.0)
        assert fine == pytest.approx(abs(exact), abs=1.2e-3)
        if 0.03 < exact < FAR - 0.01:
            assert -2.5e-3 < coarse - exact < 1.0e-4
            away_from(cells, *place, False, way)
            assert nearest(triangles, *(place + 1e-3 * way), False, 9.0) - fine == pytest.approx(1e-3, rel=0.05)
            seen += 1
        if exact < -0.02:
            assert coarse < 0.0
        if exact > FAR + 0.01:
            assert FAR - 0.01 < coarse <= exact
    assert seen > 200
    # With a hole there is no inside: it is a skin
    assert not body_of(mesh.slice_plane([0, 0, 0.02], [0, 0, 1], cap=False)).mesh.closed  # type: ignore[union-attr]


def test_bodies_of_every_kind_stand_in_one_table() -> None:
    """Whatever stands before or behind a mesh in the table counts as it does alone."""
    dice = np.random.default_rng(6)
    bodies = [
        rod("rod", np.zeros(3), np.array([0.2, 0, 0]), 0.01),
        body_of(trimesh.creation.icosphere(subdivisions=2, radius=0.05).apply_translation([0.1, 0.2, 0])),
        of_mesh("hull", hull(dice.uniform(-0.1, 0.1, (9, 3)) + np.array([0, -0.3, 0]))),
        Body(name="box", shape=Shape.BOX, centre=np.array([0, 0, 0.3]), axes=np.eye(3), half=np.full(3, 0.04)),
    ]
    rows = packed(bodies)
    assert len(rows_of(rows)) == 4
    alone = [packed([body]) for body in bodies]
    for place in dice.uniform(-0.4, 0.4, (50, 3)):
        assert nearest(rows, *place, False, 9.0) == pytest.approx(min(nearest(one, *place, False, 9.0) for one in alone), abs=1e-12)
    wider = packed([larger(body, 0.01) for body in bodies])
    place = np.array([0.3, 0.3, 0.35])
    assert nearest(wider, *place, False, 9.0) <= nearest(rows, *place, False, 9.0) - 0.009


def test_what_a_body_reaches() -> None:
    """Against the corners of a mesh of it."""
    dice = np.random.default_rng(7)
    turn = Rotation.random(rng=dice).as_matrix()
    for shape, mesh in (
        (Shape.BOX, trimesh.creation.box([0.2, 0.1, 0.06])),
        (Shape.CYLINDER, trimesh.creation.cylinder(0.05, 0.3, sections=720)),
        (Shape.ROD, trimesh.creation.capsule(0.3, 0.05, count=[180, 180])),
    ):
        half = np.array([0.1, 0.05, 0.03]) if shape is Shape.BOX else np.array([0.05, 0.15, 0.0])
        own = np.eye(3) if shape is Shape.BOX else np.array([[0, 0, 1], [1, 0, 0], [0, 1, 0.0]])
        body = moved(Body(name="", shape=shape, centre=np.zeros(3), axes=own, half=half), turn, np.array([1, 2, 3.0]))
        corners = np.array(mesh.vertices) - mesh.bounds.mean(axis=0)
        wanted = corners @ turn.T + [1, 2, 3]
        low, high = extent([body])
        assert low == pytest.approx(wanted.min(axis=0), abs=2e-4)
        assert high == pytest.approx(wanted.max(axis=0), abs=2e-4)


def test_the_unit_of_a_scan_by_its_size() -> None:
    """A bay is some 0.9 to 1.7 m long: common practice, no source."""
    for length in (0.9, 1.2, 1.5, 1.7):
        for unit, scale in (("mm", 1e3), ("m", 1.0), ("in", 1.0 / 0.0254)):
            assert likely_unit(length * scale) == unit
    assert likely_unit(150.0) == "cm"


def test_a_scan_is_thinned_out_and_stays_true() -> None:
    fine = trimesh.creation.icosphere(subdivisions=6, radius=700.0)  # 81,920 triangles in mm
    found = scan(np.array(fine.vertices), np.array(fine.faces))
    assert (found.unit, found.triangles, found.without) == ("mm", 81_920, 0)
    assert len(found.mesh.triangles) <= 20_000
    radii = np.linalg.norm(found.mesh.corners, axis=1)
    assert radii == pytest.approx(0.7, abs=1.5e-3)
    assert 0.0 < found.beside < 1.5e-3
    # Corners that every triangle has for itself, as in an STL file, become one
    loose = np.array(fine.triangles).reshape(-1, 3)
    corners, triangles = merged(loose, np.arange(len(loose)).reshape(-1, 3), 1e-3)
    assert len(corners) == len(fine.vertices)
    assert len(triangles) == len(fine.faces)


def test_damaged_scans_are_refused_in_words() -> None:
    corners, triangles = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0.0]]), np.array([[0, 1, 2]])
    for wrong, words in (
        ((corners, np.empty((0, 3), np.int64)), "no triangles"),
        ((corners, np.array([[0, 1, 7]])), "without corners"),
        ((corners, np.array([[0, 1, -1]])), "without corners"),
        ((corners * np.nan, triangles), "without corners"),
        ((corners * 0.0, triangles), "no size"),
        ((corners, np.array([[0, 1, 1]])), "with an area"),
    ):
        with pytest.raises(Fault, match=words):
            scan(*wrong)
    with pytest.raises(Fault, match="another unit"):
        scan(corners, triangles, unit="mm")
    found = scan(corners, np.array([[0, 1, 2], [0, 0, 1]]))
    assert found.without == 1
    assert not found.closed


def test_three_points_say_where_a_scan_stands() -> None:
    """Against the turn and shift that were made up."""
    dice = np.random.default_rng(8)
    for _ in range(5):
        own, turn, shift = dice.uniform(-0.6, 0.6, (4, 3)), Rotation.random(rng=dice).as_matrix(), dice.uniform(-1, 1, 3)
        found = aligned(own, own @ turn.T + shift)
        assert found.turn == pytest.approx(turn, abs=1e-9)
        assert found(own) == pytest.approx(own @ turn.T + shift, abs=1e-9)
        assert found.off < 1e-9
        wrong = own @ turn.T + shift
        wrong[0] += [0.03, 0, 0]
        assert 0.003 < aligned(own, wrong).off < 0.03
    with pytest.raises(Fault, match="three points"):
        aligned(own[:2], own[:2])
    with pytest.raises(Fault, match="one line"):
        aligned(np.array([[0, 0, 0], [0.5, 0, 0], [1, 0, 0.0]]), own[:3])


def test_tapes_against_scipy() -> None:
    """Place and covariance as SciPy's least squares has them."""
    dice, seen = np.random.default_rng(9), 0
    for number in range(40):
        count = 3 + number % 3
        marks, place = dice.uniform(-0.8, 0.8, (count, 3)), dice.uniform(-0.3, 0.3, 3)
        lengths = np.linalg.norm(marks - place, axis=1) + dice.normal(size=count) * 0.002
        try:
            found = by_tape(marks, lengths, place)
        except Fault:
            continue
        other = least_squares(lambda q, m=marks, d=lengths: (np.linalg.norm(q - m, axis=1) - d) / 0.003, found.place, xtol=1e-15)
        assert found.place == pytest.approx(other.x, abs=1e-6)
        if found.spread < 0.03:
            assert np.linalg.norm(found.place - place) < 2.0 * found.spread
            spread = 2.0 * math.sqrt(np.linalg.eigvalsh(np.linalg.inv(other.jac.T @ other.jac))[-1])
            assert found.spread == pytest.approx(spread, rel=1e-3)
            seen += 1
    assert seen > 20
    # The distances themselves: a closed form of three spheres
    marks = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0.0]])
    found = by_tape(marks, [0.75**0.5] * 3, np.array([0.4, 0.4, 0.3]))
    assert found.place == pytest.approx([0.5, 0.5, 0.5], abs=1e-6)
    below = by_tape(marks, [0.75**0.5] * 3, np.array([0.4, 0.4, -0.3]))
    assert below.place == pytest.approx([0.5, 0.5, -0.5], abs=1e-6)
    two = by_tape(marks[:2], [0.75**0.5] * 2, np.array([0.4, 0.1, 0.3]), height=0.5)
    assert two.place == pytest.approx([0.5, 0.5, 0.5], abs=1e-6)


def test_tapes_that_contradict_each_other() -> None:
    marks = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0.3, 0.2, 0.8]])
    place = np.array([0.4, 0.3, 0.3])
    lengths = list(np.linalg.norm(marks - place, axis=1))
    assert not by_tape(marks, lengths, place).doubtful
    square = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0.0]])
    lengths = list(np.linalg.norm(square - place, axis=1))
    assert not by_tape(square, [lengths[0] + 0.004, *lengths[1:]], place).doubtful
    found = by_tape(square, [lengths[0] + 0.04, *lengths[1:]], place)
    assert found.doubtful
    assert 0.005 < found.off < 0.04
    lengths = list(np.linalg.norm(marks - place, axis=1))
    with pytest.raises(Fault, match="cannot both be right: by 200 mm"):
        by_tape(marks[:3], [0.3, 0.5, 0.9], place)
    with pytest.raises(Fault, match="three tapes"):
        by_tape(marks[:2], lengths[:2], place)
    with pytest.raises(Fault, match="one line"):
        by_tape(np.array([[0, 0, 0], [0.5, 0, 0], [1, 0, 0.0]]), [0.5, 0.2, 0.55], np.array([0.45, 0.01, 0.01]))
    # Marks that are not well known make a place that is not
    assert by_tape(marks, lengths, place, spreads=[0.02] * 4).spread > 4.0 * by_tape(marks, lengths, place).spread


def test_belts_in_closed_form() -> None:
    """Two equal pulleys; two unequal ones, L = 2 C cos(a) + pi (R + r) + 2 a (R - r) with sin(a) = (R - r) / C (from memory, any handbook
    of machine design); a crossed pair by an idler on the back; wraps add up to one turn more on the inside than on the back."""
    one = belt_run([Pulley(0, 0, 0.1), Pulley(0, 0.3, 0.1)])
    assert one.length == pytest.approx(0.6 + math.pi * 0.1)
    assert one.wraps == pytest.approx([math.pi, math.pi])
    big, small, apart = 0.1, 0.05, 0.5
    a = math.asin((big - small) / apart)
    two = belt_run([Pulley(0, 0, 2 * big), Pulley(0, apart, 2 * small)])
    assert two.length == pytest.approx(2 * apart * math.cos(a) + math.pi * (big + small) + 2 * a * (big - small))
    assert two.wraps == pytest.approx([math.pi + 2 * a, math.pi - 2 * a])
    run = [Pulley(0, 0, 0.16), Pulley(0.2, 0.15, 0.06), Pulley(0.12, 0.0, 0.07, True), Pulley(0.25, -0.15, 0.13)]
    for pulleys in (run, run[::-1], [*run[2:], *run[:2]]):
        found = belt_run(pulleys)
        assert found.length == pytest.approx(belt_run(run).length)
        signed = [-w if p.back else w for w, p in zip(found.wraps, pulleys, strict=True)]
        assert sum(signed) == pytest.approx(2.0 * math.pi)
        for (begin, end), here, there in zip(found.spans, pulleys, [*pulleys[1:], pulleys[0]], strict=True):
            way = np.subtract(end, begin)
            for point, pulley in ((begin, here), (end, there)):
                out = np.subtract(point, (pulley.up, pulley.out))
                assert np.linalg.norm(out) == pytest.approx(0.5 * pulley.diameter)
                assert out @ way == pytest.approx(0.0, abs=1e-12)
    assert len(belt_bodies("belt", run, -0.1, 0.02)) == 8
    with pytest.raises(Fault, match="1 and 2 overlap"):
        belt_run([Pulley(0, 0, 0.2), Pulley(0, 0.1, 0.1)])
    with pytest.raises(Fault, match="does not touch pulley 2"):
        belt_run([Pulley(0, 0, 0.1), Pulley(0.002, 0.25, 0.06), Pulley(0, 0.5, 0.1)])
    with pytest.raises(Fault, match="two pulleys"):
        belt_run([Pulley(0, 0, 0.2)])


def test_what_is_swept_against_dense_sampling() -> None:
    """Whatever the body is in on its way is in the copies, and what is farther than they are apart is not."""
    box = Body(name="", shape=Shape.BOX, centre=np.array([0.2, 0, 0]), axes=np.eye(3), half=np.array([0.1, 0.02, 0.05]))
    motion = Motion(np.zeros(3), np.array([0, 0, 1.0]), -0.3, 0.4, np.array([0, 0.02, 0.06]))
    rows = packed(list(motion.swept([box])))
    _, beside = motion.poses([box])
    assert beside < 0.012
    alone = packed([box])
    for place in np.random.default_rng(10).uniform([-0.05, -0.2, -0.1], [0.4, 0.2, 0.2], (300, 3)):
        dense = min(
            nearest(alone, *((place - shift) @ turn), False, 9.0)
            for angle, share in itertools.product(np.linspace(-0.3, 0.4, 60), np.linspace(0, 1, 12))
            for turn, shift in [motion.at(angle, share)]
        )
        found = nearest(rows, *place, False, 9.0)
        assert found < dense + 1.5e-3
        assert found > dense - math.sqrt(3.0) * beside - 1e-3  # at a corner of a larger box


def test_a_nearest_pose_is_found() -> None:
    """A rod that turns like a hand of a clock past a point: nearest where it points at it."""
    hand = rod("", np.zeros(3), np.array([0.3, 0, 0]), 0.005)
    motion = Motion(np.zeros(3), np.array([0, 0, 1.0]), -1.0, 1.0, np.zeros(3))
    rows, place = packed([hand]), np.array([0.4 * math.cos(0.37), 0.4 * math.sin(0.37), 0.0])

    def gap(angle: float, share: float) -> float:
        turn, shift = motion.at(angle, share)
        return float(nearest(rows, *((place - shift) @ turn), False, 9.0))

    angle, share = motion.nearest(gap, (0.0, 0.0), [hand])
    assert angle == pytest.approx(0.37, abs=1e-3)
    assert share == pytest.approx(0.0, abs=1.0)
    assert gap(angle, share) == pytest.approx(0.095, abs=1e-5)
