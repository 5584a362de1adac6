"""Pieces in space: ends against SciPy's rotations and closed forms, bend tables there and back, volumes against meshes,
the last pieces that must fit."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from zarvik.core.layout.closing import close
from zarvik.core.layout.frame import Frame, frame_facing, miss, rotation_about, start
from zarvik.core.layout.run import Row, Segment, bend, length, mass, of_table, place_pieces, straight, table_of, volume

segments = st.lists(
    st.one_of(
        st.builds(lambda n: straight("s", n, 0.05), st.floats(0.01, 0.6)),
        st.builds(lambda r, a, q: bend("b", r, a, 0.05, roll=q), st.floats(0.05, 0.3), st.floats(0.1, 2.8), st.floats(-3.1, 3.1)),
    ),
    min_size=1,
    max_size=8,
)


@settings(max_examples=60, deadline=None)
@given(segments)
def test_ends_against_scipy(run: list[Segment]) -> None:
    """Independent library: the same run walked with scipy.spatial.transform, a bend as many short chords."""
    place, turn = np.zeros(3), Rotation.identity()
    for s in run:
        turn = turn * Rotation.from_euler("z", s.roll)
        if not s.bends:
            place = place + turn.apply([0.0, 0.0, s.length])
            continue
        small = s.angle / 25
        for _ in range(25):
            # The chord of a small part of an arc, half of its turn before and half behind it
            turn = turn * Rotation.from_euler("y", 0.5 * small)
            place = place + turn.apply([0.0, 0.0, 2.0 * s.radius * math.sin(0.5 * small)])
            turn = turn * Rotation.from_euler("y", 0.5 * small)
    last = place_pieces(run, start())[-1].last
    assert np.allclose(last.origin, place, atol=1e-10) and np.allclose(last.axes, turn.as_matrix(), atol=1e-10)
    assert np.allclose(last.axes.T @ last.axes, np.eye(3), atol=1e-12)


def test_bends_by_hand() -> None:
    """A quarter of 100 mm goes 100 mm on and 100 mm across; chord of a bend 2 R sin(a/2); two quarters with the tube
    turned half round are an offset; clockwise for who looks along: from x (left) to y (up)."""
    quarter = place_pieces([bend("b", 0.1, math.pi / 2, 0.05)], start())[0].last
    assert np.allclose(quarter.origin, [0.1, 0.0, 0.1]) and np.allclose(quarter.along, [1.0, 0.0, 0.0])
    one = place_pieces([bend("b", 0.08, 1.1, 0.05)], start())[0].last
    assert np.linalg.norm(one.origin) == pytest.approx(2.0 * 0.08 * math.sin(0.55))
    offset = place_pieces([bend("a", 0.1, math.pi / 2, 0.05), bend("b", 0.1, math.pi / 2, 0.05, roll=math.pi)], start())[-1].last
    assert np.allclose(offset.origin, [0.2, 0.0, 0.2]) and np.allclose(offset.along, [0.0, 0.0, 1.0])
    up = place_pieces([bend("b", 0.1, math.pi / 2, 0.05, roll=math.pi / 2)], start())[0].last
    assert np.allclose(up.along, [0.0, 1.0, 0.0])
    assert np.allclose(rotation_about(np.array([1.0, 0.0, 0.0]), 0.3), Rotation.from_rotvec([0.3, 0.0, 0.0]).as_matrix())


def test_a_helix() -> None:
    """Closed form: equal small bends, each rolled a little more, lie on a helix. Its curvature is 1/R and its torsion the
    roll over the length of a bend; its pitch and its diameter follow (E. Kreyszig, Differential Geometry, 1959, §15)."""
    radius, angle, roll = 0.2, 0.002, 0.0008
    run = [bend(f"b{n}", radius, angle, 0.05, roll=roll) for n in range(20_000)]
    points = np.array([p.last.origin for p in place_pieces(run, start())])
    curvature, torsion = 1.0 / radius, roll / (radius * angle)
    around = curvature / (curvature**2 + torsion**2)  # radius of the helix
    turn = 2.0 * math.pi / math.sqrt(curvature**2 + torsion**2)  # length of one turn along it
    steps = round(turn / (radius * angle))
    chords = points[steps:] - points[:-steps]
    pitch = 2.0 * math.pi * torsion / (curvature**2 + torsion**2)
    assert np.linalg.norm(chords, axis=1).mean() == pytest.approx(pitch, rel=2e-3)
    axis = chords.mean(axis=0) / np.linalg.norm(chords.mean(axis=0))
    flat = points - np.outer(points @ axis, axis)
    assert np.linalg.norm(flat - flat[: steps * 3].mean(axis=0), axis=1).mean() == pytest.approx(around, rel=5e-3)


@settings(max_examples=60, deadline=None)
@given(segments)
def test_bend_tables_there_and_back(run: list[Segment]) -> None:
    """Length, rotation, angle: a run made from its own table ends where the run does, in the same length."""
    again = of_table(table_of(run), 0.05)
    one, two = place_pieces(run, start())[-1].last, place_pieces(again, start())[-1].last if again else start()
    assert np.allclose(one.origin, two.origin, atol=1e-9) and np.allclose(one.along, two.along, atol=1e-9)
    assert length(again) == pytest.approx(length(run))
    assert all(-math.pi <= r.rotation <= math.pi for r in table_of(run))


def test_a_bend_table_by_hand() -> None:
    """Two straights before a bend are one feed; the rotation is that against the bend before."""
    run = [straight("a", 0.1, 0.05), straight("b", 0.05, 0.05), bend("c", 0.09, 0.7, 0.05, roll=0.4), straight("d", 0.2, 0.05)]
    assert table_of(run) == (Row(pytest.approx(0.15), 0.4, 0.7, 0.09), Row(0.2, 0.0))


def test_volumes_and_mass_against_a_mesh() -> None:
    """Independent library: rings of points swept along the middle, closed to a body by trimesh; cone by the frustum; the
    wall as outside minus inside."""
    run = [straight("a", 0.2, 0.06), bend("b", 0.11, 1.9, 0.06, roll=0.7), bend("c", 0.09, 0.8, 0.06, roll=-1.2)]

    def body(radius: float) -> float:
        rings = []
        circle = [(radius * math.cos(t), radius * math.sin(t)) for t in np.linspace(0, 2 * math.pi, 240, endpoint=False)]
        for piece in place_pieces(run, start()):
            count = 160 if piece.segment.bends else 1
            for n in range(count + 1):
                f = piece.at(n / count)
                rings.append([f.origin + x * f.axes[:, 0] + y * f.axes[:, 1] for x, y in circle])
        # The rings of a bend are rolled against those before it: each piece is a body of its own.
        total, at = 0.0, 0
        for piece in place_pieces(run, start()):
            count = 160 if piece.segment.bends else 1
            part = np.array(rings[at : at + count + 1])
            at += count + 1
            faces, m = [], len(circle)
            for n in range(count):
                for i in range(m):
                    j = (i + 1) % m
                    a, b, c, d = n * m + i, n * m + j, (n + 1) * m + i, (n + 1) * m + j
                    faces += [[a, b, d], [a, d, c]]
            for n, flip in ((0, True), (count, False)):
                for i in range(1, m - 1):
                    face = [n * m, n * m + i, n * m + i + 1]
                    faces.append(face[::-1] if flip else face)
            total += abs(trimesh.Trimesh(part.reshape(-1, 3), faces, process=False).volume)
        return total

    assert volume(run) == pytest.approx(body(0.03), rel=5e-4)
    assert mass(run, 7900.0) == pytest.approx((body(0.03 + 0.00165) - body(0.03)) * 7900.0, rel=5e-3)
    cone = [straight("k", 0.1, 0.05, bore_out=0.08)]
    assert volume(cone) == pytest.approx(math.pi * 0.1 / 12.0 * (0.05**2 + 0.05 * 0.08 + 0.08**2))


def test_how_an_end_misses() -> None:
    """Gap along, offset beside, angle: by hand."""
    goal = frame_facing(np.array([0.0, 0.0, 1.0]), np.array([0.0, 0.0, 1.0]))
    end = frame_facing(np.array([0.003, 0.004, 0.98]), np.array([math.sin(0.02), 0.0, math.cos(0.02)]))
    found = miss(end, goal)
    assert (found.gap, found.offset, found.angle) == pytest.approx((0.02, 0.005, 0.02), rel=1e-9)
    assert frame_facing(np.zeros(3), np.array([0.0, 2.0, 0.0])).along == pytest.approx([0.0, 1.0, 0.0])
    with pytest.raises(ValueError, match="length"):
        frame_facing(np.zeros(3), np.zeros(3))


@settings(max_examples=15, deadline=None)
@given(st.tuples(*[st.floats(-0.8, 0.8)] * 3), st.tuples(*[st.floats(-1.0, 1.0)] * 3), st.tuples(*[st.floats(-1.0, 1.0)] * 3))
def test_what_closes_closes(apart: tuple[float, ...], one: tuple[float, ...], two: tuple[float, ...]) -> None:
    """Whatever is given back ends at the goal within a micrometre, walked piece by piece; no straight is negative or
    shorter than it may be, all bends are of the stock's radius, and the fewest bends stand first."""
    if min(np.linalg.norm(one), np.linalg.norm(two), np.linalg.norm(apart)) < 0.1:
        return
    end, goal = frame_facing(np.zeros(3), np.array(one)), frame_facing(np.array(apart), np.array(two))
    found = close(end, goal, bore=0.05, radii=(0.075,), leg=0.02)
    for way in found:
        last = place_pieces(way.segments, end)[-1].last
        missed = miss(last, goal)
        assert max(abs(missed.gap), missed.offset, missed.angle) < 1e-6
        assert all(s.radius == 0.075 if s.bends else s.length >= 0.02 - 1e-9 for s in way.segments)
        assert way.bends <= 3 and way.welds == len(way.segments) + 1
    assert [w.bends for w in found] == sorted(w.bends for w in found)


def test_what_was_built_is_found_again() -> None:
    """A straight, one bend, an offset of two: the ends of runs that were built; none is longer than what was built, and
    mostly something is found at half a metre."""
    built = (
        [straight("a", 0.4, 0.05)],
        [straight("a", 0.1, 0.05), bend("b", 0.075, 1.2, 0.05, roll=0.8), straight("c", 0.2, 0.05)],
        [
            straight("a", 0.02, 0.05),
            bend("b", 0.075, 0.9, 0.05, roll=0.3),
            straight("c", 0.3, 0.05),
            bend("d", 0.075, 0.7, 0.05, roll=1.9),
            straight("e", 0.02, 0.05),
        ],
    )
    first = frame_facing(np.array([0.3, -0.2, 0.1]), np.array([0.2, 0.5, 1.0]))
    for bends, run in enumerate(built):
        goal = place_pieces(run, first)[-1].last
        found = close(first, goal, bore=0.05, radii=(0.075,), leg=0.02)
        assert found and found[0].bends == bends and found[0].length <= length(run) + 1e-6
    dice = np.random.default_rng(4)
    hits = 0
    for _ in range(6):
        way = dice.normal(size=3)
        goal = Frame(0.5 * way / np.linalg.norm(way), Rotation.random(random_state=dice).as_matrix())
        hits += bool(close(start(), goal, bore=0.05, radii=(0.06, 0.075), leg=0.02))
    assert hits >= 5
    assert close(start(), start().moved(0.01).rolled(0.0).bent(0.01, 3.0), bore=0.05, radii=(0.2,), most=1) == ()
