"""Ports, turbos and collectors in their places: distances by hand, mirrors as reflections, clearances in closed form."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import CollectorSizes, Head, TurboSizes, collector_inlets, drain_tilt, turbo_body
from zarvik.core.layout.clash import hidden, nearest, self_clearance, trace
from zarvik.core.layout.frame import Frame, frame_looking, mirrored_frame, start
from zarvik.core.layout.placement import firing, firing_interval, mirrored_run
from zarvik.core.layout.run import Segment, bend, place_pieces, straight

SIZES = TurboSizes(
    to_shaft=0.062,
    beside=0.043,
    apart=0.110,
    outlet=0.058,
    outlet_beside=0.049,
    inlet_beyond=0.051,
    outlet_beyond=0.040,
    compressor=0.060,
    turbine=0.054,
)
angles = st.floats(-3.1, 3.1)


def test_looking_by_hand() -> None:
    """Closed form: the six ways and a slope of 3-4-5; x is what is up across the way."""
    ways = {(0, 0): (0, 0, 1), (90, 0): (1, 0, 0), (-90, 0): (-1, 0, 0), (180, 0): (0, 0, -1), (0, 90): (0, 1, 0), (33, -90): (0, -1, 0)}
    for (heading, pitch), way in ways.items():
        frame = frame_looking(np.zeros(3), math.radians(heading), math.radians(pitch))
        assert frame.along == pytest.approx(np.array(way), abs=1e-12)
        assert np.allclose(frame.axes.T @ frame.axes, np.eye(3)) and np.linalg.det(frame.axes) == pytest.approx(1.0)
    slope = frame_looking(np.array([1.0, 2.0, 3.0]), math.radians(90.0), math.asin(0.6))
    assert slope.along == pytest.approx([0.8, 0.6, 0.0]) and slope.axes[:, 0] == pytest.approx([-0.6, 0.8, 0.0])
    # Straight up: a bend of no roll goes back against the heading.
    assert frame_looking(np.zeros(3), 0.0, 0.5 * math.pi).axes[:, 0] == pytest.approx([0.0, 0.0, -1.0], abs=1e-12)


def test_ports_of_a_line_and_of_a_v() -> None:
    """By hand: the third port of four at 97 mm, 12° down; a V10 numbered by halves and by odd and even."""
    line = Head(
        cylinders=4, shape="round", port_width=0.041, port_height=0.041, spacing=0.097, port_down_angle=math.radians(12.0), flange=0.012
    )
    port = line.port(3)
    assert port.origin == pytest.approx([0.194, 0.0, 0.012]) and port.along == pytest.approx(
        [0.0, -math.sin(math.radians(12)), math.cos(math.radians(12))]
    )
    vee = Head(
        cylinders=10,
        shape="oval",
        port_width=0.046,
        port_height=0.034,
        spacing=0.093,
        port_down_angle=0.0,
        flange=0.010,
        banks=2,
        bank_distance=0.64,
        stagger=0.018,
    )
    assert [vee.bank_of(c) for c in range(1, 11)] == [0] * 5 + [1] * 5
    assert vee.port(7).origin == pytest.approx([0.093 + 0.018, 0.0, -0.65]) and vee.port(7).along == pytest.approx([0.0, 0.0, -1.0])
    odd = Head(
        cylinders=6, shape="round", port_width=0.04, port_height=0.04, spacing=0.1, port_down_angle=0.0, flange=0.01, banks=2, odd=True
    )
    assert [odd.bank_of(c) for c in range(1, 7)] == [0, 1, 0, 1, 0, 1] and odd.place_of(5) == 2
    with pytest.raises(Fault, match="no cylinder 11"):
        vee.port(11)


def test_a_turbo_by_hand() -> None:
    """By hand: gas straight down into the flange, shaft along the crank. The shaft lies 62 mm below the flange, 43 mm to
    its side; the compressor 110 mm along; a cover turned by a quarter blows level, the drain turned by half a turn down."""
    gas = frame_looking(np.array([0.1, 0.2, 0.3]), 0.0, -0.5 * math.pi)
    body = turbo_body(gas, SIZES, shaft=-0.5 * math.pi, compressor=0.0, drain=math.pi)
    assert abs(body.shaft[0]) == pytest.approx(1.0)
    assert body.turbine[1] == pytest.approx(0.2 - 0.062) and abs(body.turbine[2] - 0.3) == pytest.approx(0.043)
    assert np.linalg.norm(body.compressor - body.turbine) == pytest.approx(0.110)
    assert body.air_out.along == pytest.approx([0.0, 1.0, 0.0], abs=1e-12)  # back against the gas
    assert body.air_out.origin[1] == pytest.approx(body.compressor[1] + 0.058)
    assert body.drain == pytest.approx([0.0, -1.0, 0.0], abs=1e-12) and drain_tilt(body) == pytest.approx((0.0, 0.0), abs=1e-9)
    turned = turbo_body(gas, SIZES, shaft=-0.5 * math.pi, compressor=0.5 * math.pi, drain=math.pi - 0.7)
    # Clockwise for who looks into the compressor: from up to the right of who looks along -shaft.
    right = np.cross(-body.shaft, [0.0, 1.0, 0.0])
    assert turned.air_out.along == pytest.approx(right, abs=1e-12)
    assert drain_tilt(turned)[0] == pytest.approx(0.7)
    aside = turbo_body(gas, SIZES, shaft=-0.5 * math.pi, compressor=0.0, drain=0.5 * math.pi)
    assert aside.drain == pytest.approx(right, abs=1e-12)
    # Shaft along +X, gas along -Y: the middle lies at X x (-Y) = -Z of the flange, of one that winds left at +Z.
    left = turbo_body(gas, dataclasses.replace(SIZES, left=True), shaft=-0.5 * math.pi, compressor=0.0, drain=math.pi)
    assert body.shaft[0] == pytest.approx(1.0)
    assert (body.turbine[2], left.turbine[2]) == (pytest.approx(0.3 - 0.043), pytest.approx(0.3 + 0.043))
    assert body.air_in.along == pytest.approx(-body.shaft) and body.gas_out.along == pytest.approx(-body.shaft)
    tipped = turbo_body(frame_looking(np.zeros(3), 0.0, -0.5 * math.pi).rolled(0.0), SIZES, shaft=0.0, compressor=0.0, drain=0.0)
    assert drain_tilt(tipped)[1] == pytest.approx(0.0, abs=1e-9)


@settings(max_examples=30, deadline=None)
@given(st.integers(2, 6), st.floats(5.0, 40.0), angles, angles, st.floats(-1.5, 1.5))
def test_inlets_touch_and_meet(count: int, degrees: float, turn: float, heading: float, pitch: float) -> None:
    """Closed form: neighbours stand one diameter apart, and all their ways meet in one point, r / tan a before the inlets'
    plane."""
    outlet = frame_looking(np.array([0.1, -0.2, 0.3]), heading, pitch)
    sizes = CollectorSizes(form="merge", count=count, tube=0.0483, angle=math.radians(degrees), length=0.2, turn=turn)
    inlets = collector_inlets(outlet, sizes)
    for one, two in zip(inlets, (*inlets[1:], inlets[0]), strict=True):
        assert np.linalg.norm(one.origin - two.origin) == pytest.approx(0.0483 if count > 1 else 0.0, rel=1e-9)
    meets = [i.origin + sizes.circle / math.sin(sizes.angle) * i.along for i in inlets]
    for point in meets:
        assert point == pytest.approx(meets[0], abs=1e-9)
    plane = np.mean([i.origin for i in inlets], axis=0)
    assert np.linalg.norm(meets[0] - plane) == pytest.approx(sizes.merge, rel=1e-9)
    assert all(i.along @ outlet.along == pytest.approx(math.cos(sizes.angle)) for i in inlets)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(0.3, 2.5), st.floats(0.01, 0.3), angles), min_size=1, max_size=5), angles, st.floats(-1.4, 1.4))
def test_the_other_bank_is_a_reflection(pieces: list[tuple[float, float, float]], heading: float, pitch: float) -> None:
    """Independent: the run of the other bank against the first one's points with their Z turned over."""
    run = [s for a, n, q in pieces for s in (straight("s", n, 0.04), bend("b", 0.06, a, 0.04, roll=q))]
    begin = frame_looking(np.array([0.2, 0.1, 0.05]), heading, pitch)
    one = place_pieces(run, begin)
    two = place_pieces(mirrored_run(tuple(run)), mirrored_frame(begin, -0.3))
    for a, b in zip(one, two, strict=True):
        assert b.last.origin == pytest.approx(a.last.origin * [1, 1, -1] + [0, 0, -0.6], abs=1e-9)
        assert b.last.along == pytest.approx(a.last.along * [1, 1, -1], abs=1e-9)


def test_gaps_in_closed_form() -> None:
    """Two tubes that cross at 50 mm, a U of 57 mm radius with long legs, an S that comes back onto itself; a seam beside a
    wall of tubes."""
    one = trace(place_pieces([straight("a", 0.4, 0.0403)], start()))  # 43.6 mm outside
    across = Frame(np.array([-0.2, 0.05, 0.2]), frame_looking(np.zeros(3), 0.5 * math.pi, 0.0).axes)
    two = trace(place_pieces([straight("b", 0.4, 0.0403)], across))
    near = nearest(one, two)
    assert near.gap == pytest.approx(0.05 - 0.0436, abs=3e-4)
    legs = place_pieces([straight("l", 0.2, 0.0403), bend("u", 0.057, math.pi, 0.0403), straight("m", 0.2, 0.0403)], start())
    assert self_clearance(trace(legs)).gap == pytest.approx(2 * 0.057 - 0.0436, abs=3e-4)
    tight = place_pieces([straight("l", 0.2, 0.0403), bend("u", 0.020, math.pi, 0.0403), straight("m", 0.2, 0.0403)], start())
    assert self_clearance(trace(tight)).gap == pytest.approx(2 * 0.020 - 0.0436, abs=5e-4)
    assert self_clearance(trace(place_pieces([straight("s", 1.0, 0.04)], start()))).gap == math.inf
    half = trace(place_pieces([bend("u", 0.057, math.pi, 0.0403)], start()))
    assert self_clearance(half).gap == pytest.approx(2 * 0.057 - 0.0436, abs=5e-4)
    # Spared ends do not count.
    touching = trace(place_pieces([straight("b", 0.3, 0.0403)], Frame(np.array([0.04, 0.0, 0.0]), start().axes)))
    assert nearest(one, touching).gap == pytest.approx(0.04 - 0.0436, abs=1e-6)
    assert nearest(one, touching, spare=0.35).gap > -0.0036 + 1e-9 or nearest(one, touching, spare=0.35).gap == pytest.approx(-0.0036)
    seam = start().moved(0.2)
    assert hidden(seam, 0.0218, []) == 0.0
    wall = [
        trace(place_pieces([straight("w", 0.4, 0.0403)], Frame(np.array([x, 0.05, 0.0]), start().axes)))
        for x in (-0.1, -0.05, 0.0, 0.05, 0.1)
    ]
    # A cup of 12 mm whose middle stands 46.8 mm from the axis gets no nearer than 33.8 mm to the middles of the wall at
    # 50 mm: it is shut out where its height is above 50 - 33.8, about (pi - 2 asin(16.2 / 46.8)) of the round.
    share = (math.pi - 2.0 * math.asin((0.05 - 0.0338) / 0.0468)) / (2.0 * math.pi)
    assert hidden(seam, 0.0218, wall) == pytest.approx(share, abs=0.09)
    both = wall + [
        trace(place_pieces([straight("w", 0.4, 0.0403)], Frame(np.array([x, -0.05, 0.0]), start().axes)))
        for x in (-0.1, -0.05, 0.0, 0.05, 0.1)
    ]
    assert hidden(seam, 0.0218, both) == pytest.approx(2 * share, abs=0.17)


def test_firing_by_hand() -> None:
    """Common practice, no source: 1-3-4-2 has 1 and 4 a whole turn apart, 1 and 3 half of one."""
    order = firing((), 4)
    assert firing_interval(order, 1, 4) == 360.0 and firing_interval(order, 1, 3) == 180.0 and firing_interval(order, 2, 3) == 360.0
    assert math.isnan(firing_interval(order, 1, 9)) and firing((2, 1), 2) == (2, 1)
    for count in range(1, 17):
        assert sorted(firing((), count)) == list(range(1, count + 1))


def test_apart_by_hand() -> None:
    """1-3-4-2: the last and the first are neighbours, half a turn apart; the third fires a whole turn after the first."""
    order = (1, 3, 4, 2)
    assert [firing_interval(order, 1, c) for c in (3, 4, 2)] == [180.0, 360.0, 180.0]


def test_a_held_piece_is_said() -> None:
    """What the outside of a cone is."""
    cone = Segment(id="c", length=0.1, bore_in=0.04, bore_out=0.05, wall=0.002)
    assert cone.outside == pytest.approx(0.054) and not cone.bends
