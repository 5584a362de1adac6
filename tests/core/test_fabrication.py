"""Templates against planes and meshes, nesting against known best cuts."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.common.sentences import Fault
from zarvik.core.fabrication.nesting import Stock, nest
from zarvik.core.fabrication.templates import mitre, pie_cuts, saddle


def test_a_mitre_lies_in_a_plane() -> None:
    """Wrapped round again, the points lie in the plane at half of the turn; depth is d tan(turn/2)."""
    cut = mitre(0.0635, math.radians(30.0))
    phi = cut.around / 0.03175
    points = np.column_stack([0.03175 * np.cos(phi), 0.03175 * np.sin(phi), cut.along])
    normal = np.array([math.sin(math.radians(15.0)), 0.0, math.cos(math.radians(15.0))])
    assert np.abs(points @ normal).max() < 1e-12
    assert cut.depth == pytest.approx(0.0635 * math.tan(math.radians(15.0)), rel=1e-4)
    assert cut.width == pytest.approx(math.pi * 0.0635)
    with pytest.raises(Fault):
        mitre(0.06, math.pi)


def test_pie_cuts_by_hand() -> None:
    """A quarter of 100 mm radius on 60 mm tube in four cuts: 22.5° each, 2 R tan(11.25°) at the middle; the middles touch
    the arc, so they are a little longer than it."""
    cuts = pie_cuts(0.060, 0.100, math.pi / 2, 4)
    tan = math.tan(math.radians(11.25))
    assert (cuts.middle, cuts.long_side, cuts.short_side, cuts.end) == pytest.approx((0.2 * tan, 0.26 * tan, 0.14 * tan, 0.1 * tan))
    whole = 3 * cuts.middle + 2 * cuts.end
    assert 1.0 < whole / (0.1 * math.pi / 2) < 1.02
    for bad in ((0.06, 0.03, 1.0, 3), (0.06, 0.1, 1.0, 0)):
        with pytest.raises(Fault):
            pie_cuts(*bad)


@pytest.mark.parametrize(
    ("branch", "main", "angle", "offset"),
    [(0.0508, 0.0762, 90.0, 0.0), (0.0423, 0.0603, 35.0, 0.004), (0.0508, 0.0508, 60.0, 0.0), (0.030, 0.089, 120.0, -0.02)],
)
def test_a_saddle_against_a_mesh(branch: float, main: float, angle: float, offset: float) -> None:
    """Independent library: two cylinders as meshes, the main one taken from the branch by manifold3d through trimesh; the
    corners of the cut lie within 0.1 mm of the template (half a degree of the mesh's circle)."""
    cut = saddle(branch, main, math.radians(angle), offset=offset)
    theta, small, large = math.radians(angle), 0.5 * branch, 0.5 * main
    u = np.array([math.sin(theta), 0.0, math.cos(theta)])
    v = np.array([math.cos(theta), 0.0, -math.sin(theta)])
    w = np.array([0.0, 1.0, 0.0])
    tube = trimesh.creation.cylinder(radius=large, height=2.0, sections=1440)
    pipe = trimesh.creation.cylinder(radius=small, height=0.4, sections=720)
    pipe.apply_translation([0.0, 0.0, 0.2])
    pipe.apply_transform(np.vstack([np.column_stack([v, w, u, offset * w]), [0.0, 0.0, 0.0, 1.0]]))
    rest = trimesh.boolean.difference([pipe, tube], engine="manifold")
    spots = rest.vertices - offset * w
    along, x, y = spots @ u, spots @ v, spots @ w
    on_skin = np.abs(np.hypot(x, y) - small) < 2e-5
    on_main = np.abs(np.hypot(rest.vertices[:, 0], rest.vertices[:, 1]) - large) < 2e-5
    # What only grazes the tube has no clear place where it meets it.
    met = on_skin & on_main & (along > 0.0) & (np.abs(rest.vertices[:, 1]) < 0.97 * large)
    assert met.sum() > 200
    phi = np.mod(np.arctan2(y[met], x[met]), 2.0 * math.pi)
    wanted = np.interp(phi * small, cut.around, cut.along)
    assert np.abs(along[met] - wanted).max() < 1e-4


def test_a_saddle_with_a_wall() -> None:
    """No point of the wall runs into the main tube, and each line of it touches at one skin; wider than the main tube, it
    is told."""
    thick = saddle(0.05, 0.07, math.radians(50.0), wall=0.003)
    for radius in (0.025, 0.022):
        thin = saddle(2 * radius, 0.07, math.radians(50.0))
        assert (thick.along >= thin.along - 1e-12).all()
    touching = np.minimum(
        thick.along - saddle(0.05, 0.07, math.radians(50.0)).along, thick.along - saddle(0.044, 0.07, math.radians(50.0)).along
    )
    assert np.abs(touching).max() < 1e-12 and thick.along[0] == pytest.approx(thick.along[-1])
    for bad in (
        {"branch": 0.08, "main": 0.07, "angle": 1.0},
        {"branch": 0.04, "main": 0.07, "angle": 1.0, "offset": 0.02},
        {"branch": 0.04, "main": 0.07, "angle": 0.01},
        {"branch": 0.04, "main": 0.07, "angle": 1.0, "wall": 0.03},
    ):
        with pytest.raises(Fault):
            saddle(**bad)


def least_bars(pieces: list[float], bar: float, kerf: float) -> int:
    """Every way to put a few pieces into bars: the fewest, by trying all."""
    for count in range(1, len(pieces) + 1):
        for ways in itertools.product(range(count), repeat=len(pieces)):
            if all(sum(p + kerf for p, w in zip(pieces, ways, strict=True) if w == b) <= bar + kerf + 1e-12 for b in range(count)):
                return count
    return len(pieces)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(0.05, 0.95), min_size=1, max_size=6))
def test_nesting_against_all_ways(pieces: list[float]) -> None:
    """Of bars of a metre no fewer can be cut; every piece is cut once, no bar is longer than it is."""
    found = nest(pieces, [Stock("tube", 1.0, price=10.0)], kerf=0.002)
    assert sorted(i for bar in found.bars for i in bar.pieces) == list(range(len(pieces)))
    assert all(bar.left >= -1e-9 for bar in found.bars)
    assert len(found.bars) == least_bars(pieces, 1.0, 0.002) >= found.bound


def test_a_case_that_first_fit_gets_wrong() -> None:
    """Six pieces that fill two bars only the clever way: 0.44+0.30+0.26 twice; first fit takes three."""
    pieces = [0.44, 0.44, 0.30, 0.30, 0.26, 0.26]
    assert len(nest(pieces, [Stock("tube", 1.0, price=1.0)], kerf=0.0).bars) == 2
    # What lies in the shop is taken before what is bought; a kerf of 3 mm makes them too long for one.
    found = nest([0.5, 0.5], [Stock("new", 1.0, price=20.0), Stock("rest", 0.55, count=1)], kerf=0.003)
    assert found.bought == 20.0 and sorted(b.stock.name for b in found.bars) == ["new", "rest"]
    large = nest([0.31] * 60, [Stock("tube", 2.0, price=1.0)], kerf=0.002)
    assert len(large.bars) == 10 and large.bound <= 10  # six from each
    assert nest([], [], kerf=0.0).bars == ()


def test_stock_that_does_not_do() -> None:
    """No stock, too short, not enough, no length: told."""
    for pieces, stock in (
        ([0.5], []),
        ([1.5], [Stock("tube", 1.0)]),
        ([0.6, 0.6], [Stock("tube", 1.0, count=1)]),
        ([0.0], [Stock("tube", 1.0)]),
        ([math.nan], [Stock("tube", 1.0)]),
    ):
        with pytest.raises(Fault):
            nest(pieces, stock)
