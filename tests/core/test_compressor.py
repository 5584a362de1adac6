"""Compressor maps: exact points, both directions, similarity, honest edges, the generator."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.compressor import lookup
from zarvik.core.compressor.chart import CompressorMap, SpeedLine, faults
from zarvik.core.compressor.meanline import Wheel, generate
from zarvik.core.compressor.measured import identify, map_of_wheel, scaled, trim
from zarvik.formats import shipped

CHART = shipped.turbo_map("c54-71")
LINES, POINTS = lookup.pack(CHART)
SURGE_END = CHART.lines[3]


def all_points() -> list[tuple[float, float, float, float]]:
    """Speed over maximum, flow, ratio, efficiency of every point of the map."""
    return [
        (line.speed / CHART.maximum_speed, *point)
        for line in CHART.lines
        for point in zip(line.flow, line.ratio, line.efficiency, strict=True)
    ]


def test_forward_meets_every_map_point() -> None:
    """Closed form: interpolation is exact at the data."""
    for speed, flow, ratio, efficiency in all_points():
        found = lookup.forward(LINES, POINTS, speed, flow)
        assert found[0] == pytest.approx(ratio, rel=1e-9)
        assert found[1] == pytest.approx(efficiency, rel=1e-9)


@pytest.mark.parametrize("guess", [0.0, 0.3, 1.4])
def test_inverse_meets_every_map_point_from_any_guess(guess: float) -> None:
    """Both ways: flow and ratio give speed and efficiency back, whatever it starts from."""
    for speed, flow, ratio, efficiency in all_points():
        found = lookup.inverse(LINES, POINTS, flow, ratio, guess)
        assert found[0] == pytest.approx(speed, rel=1e-6)
        assert found[1] == pytest.approx(efficiency, rel=1e-5)


@given(speed=st.floats(0.15, 1.15), place=st.floats(-0.4, 1.15))
@settings(max_examples=200, deadline=None)
def test_round_trip_inside_and_outside(speed: float, place: float) -> None:
    """Inverse of forward, on the map, left of surge, right of choke, below and above."""
    surge, choke = lookup.ends(LINES, speed)
    flow = surge + place * (choke - surge)
    if flow <= 0:
        return
    ratio, _, found_place = lookup.forward(LINES, POINTS, speed, flow)
    assert found_place == pytest.approx(place, abs=1e-9)
    back, _, _ = lookup.inverse(LINES, POINTS, flow, ratio, 0.0)
    assert lookup.forward(LINES, POINTS, back, flow)[0] == pytest.approx(ratio, rel=1e-9)
    if ratio > 1.0 and place < 1.0:
        assert back == pytest.approx(speed, rel=2e-3)


@given(speed=st.floats(0.1, 1.2), place=st.floats(-0.5, 1.3))
@settings(max_examples=200, deadline=None)
def test_the_map_is_continuous(speed: float, place: float) -> None:
    """A small step in speed or flow makes a small step in ratio and efficiency."""
    surge, choke = lookup.ends(LINES, speed)
    flow = surge + place * (choke - surge)
    here = lookup.forward(LINES, POINTS, speed, flow)
    for near in (lookup.forward(LINES, POINTS, speed * (1 + 1e-7), flow), lookup.forward(LINES, POINTS, speed, flow * (1 + 1e-7) + 1e-12)):
        assert near[0] == pytest.approx(here[0], rel=2e-5)
        assert near[1] == pytest.approx(here[1], rel=2e-5)
    assert 0.0 < here[1] < 0.9


def test_similarity_below_the_slowest_line() -> None:
    """Stated rule: flow with speed, head (ratio^(2/7) - 1) with its square."""
    line = CHART.lines[0]
    slow = line.speed / CHART.maximum_speed
    for part in (0.9, 0.5, 0.2):
        for flow, ratio, efficiency in zip(line.flow, line.ratio, line.efficiency, strict=True):
            found = lookup.forward(LINES, POINTS, slow * part, flow * part)
            head = (ratio ** (2 / 7) - 1.0) * part**2
            assert found[0] == pytest.approx((1 + head) ** 3.5, rel=1e-9)
            assert found[1] == pytest.approx(efficiency, rel=1e-9)


def test_ratio_rises_with_speed_at_constant_flow() -> None:
    """Otherwise the answer to (flow, ratio) would not be one."""
    for flow in np.linspace(0.02, 0.36, 30):
        speeds = np.linspace(0.1, 1.3, 120)
        ratios = [lookup.log_ratio(LINES, POINTS, s, flow) for s in speeds]
        assert (np.diff(ratios) > 0).all()


def test_surge_and_flow_limit_at_a_ratio() -> None:
    """On the ends of a line the limits are the ends; above the map the limit is the tip."""
    line = CHART.lines[4]
    assert CHART.surge_flow(line.ratio[0]) == pytest.approx(line.flow[0], rel=1e-12)
    assert CHART.flow_limit(line.ratio[-1]) == pytest.approx(line.flow[-1], rel=1e-12)
    top = CHART.lines[-1]
    middle = len(top.flow) // 2
    assert CHART.flow_limit(top.ratio[middle]) == pytest.approx(top.flow[middle], rel=1e-9)
    assert CHART.surge_flow(1.0) == 0.0


def test_monotone_slopes_against_scipy() -> None:
    """Independent library: interior slopes are those of scipy's PCHIP."""
    from scipy.interpolate import PchipInterpolator

    x = np.array([0.0, 0.7, 1.1, 2.0, 3.5])
    y = np.array([1.0, 1.4, 1.45, 0.9, 0.2])
    expected = PchipInterpolator(x, y).derivative()(x)
    assert lookup.monotone_slopes(x, y)[1:-1] == pytest.approx(expected[1:-1])


def bad(line: int, **changes: object) -> CompressorMap:
    """The map with something changed on a line (counted from 0)."""
    lines = list(CHART.lines)
    lines[line] = dataclasses.replace(lines[line], **changes)  # type: ignore[arg-type]
    return dataclasses.replace(CHART, lines=tuple(lines))


def swapped(values: tuple[float, ...], i: int, value: float) -> tuple[float, ...]:
    """A tuple with one value changed."""
    return (*values[:i], value, *values[i + 1 :])


@pytest.mark.parametrize(
    ("chart", "line", "point", "words"),
    [
        (bad(2, speed=1000.0), 3, 0, "must rise"),
        (bad(3, flow=tuple(reversed(SURGE_END.flow))), 4, 2, "flow must increase"),
        (bad(3, ratio=swapped(SURGE_END.ratio, 2, math.nan)), 4, 3, "not a number"),
        (bad(3, efficiency=swapped(SURGE_END.efficiency, 1, 78.0)), 4, 2, "efficiency 78"),
        (bad(3, ratio=swapped(SURGE_END.ratio, 4, 12.0)), 4, 5, "pressure ratio 12"),
        (bad(3, ratio=tuple(r * 1.9 for r in SURGE_END.ratio)), 5, 1, "higher ratio"),
        (dataclasses.replace(CHART, lines=CHART.lines[:1]), 0, 0, "at least two"),
        (dataclasses.replace(CHART, maximum_speed=1e4), 0, 0, "maximum speed"),
        (dataclasses.replace(CHART, reference_temperature=25.0), 0, 0, "reference temperature"),
        (bad(0, flow=(0.05,), ratio=(1.2,), efficiency=(0.7,)), 1, 1, "two points"),
    ],
)
def test_faults_name_their_place(chart: CompressorMap, line: int, point: int, words: str) -> None:
    """A map that cannot be used says where and why."""
    found = faults(chart)
    assert any(f.line == line and f.point == point and words in f.text for f in found), found


def test_crossing_lines_are_found() -> None:
    """Two lines that cross have no single answer."""
    slow = SpeedLine(50_000.0, (0.10, 0.20), (1.60, 1.50), (0.7, 0.7))
    fast = SpeedLine(60_000.0, (0.12, 0.24), (1.70, 1.10), (0.7, 0.7))
    chart = CompressorMap("crossing", 1e5, 298.0, 6e4, (slow, fast))
    assert any("cross" in f.text for f in faults(chart))


@pytest.mark.parametrize("name", shipped.turbo_names())
def test_catalogue_maps_are_sound(name: str) -> None:
    """Every map that ships can be used, and is believable (common practice, no source)."""
    chart = shipped.turbo_map(name)
    assert faults(chart) == []
    best = max(max(line.efficiency) for line in chart.lines)
    assert 0.74 <= best <= 0.80
    assert 2.8 <= chart.lines[-1].ratio[0] <= 4.5


def test_sizes_behave_as_sizes_do() -> None:
    """Similarity: flow grows with the inducer's area, speed falls with the diameter."""
    small = generate(Wheel(0.046, 0.0605), "small")
    large = generate(Wheel(0.058, 0.0763), "large")
    flow = large.lines[-1].flow[-1] / small.lines[-1].flow[-1]
    assert flow == pytest.approx((58 / 46) ** 2, rel=0.02)
    assert small.maximum_speed / large.maximum_speed == pytest.approx(763 / 605, rel=0.01)


def test_larger_trim_flows_more_in_the_same_exducer() -> None:
    """A larger inducer in the same exducer moves surge and choke to more flow."""
    low = generate(Wheel(0.050, 0.071), "low trim")
    high = generate(Wheel(0.056, 0.071), "high trim")
    assert high.lines[-1].flow[-1] > 1.10 * low.lines[-1].flow[-1]
    assert high.lines[4].flow[0] > low.lines[4].flow[0]


def test_the_catalogue_is_what_its_generator_makes() -> None:
    """Regression, no validation: a map of the catalogue comes out of the mean line again, to its printed
    digits."""
    kept = shipped.turbo_map("c54-71")
    made = generate(Wheel(0.054, 0.071), kept.name)
    for one, two in zip(made.lines, kept.lines, strict=True):
        assert one.speed == pytest.approx(two.speed, rel=1e-3)
        assert one.flow == pytest.approx(two.flow, abs=6e-5)
        assert one.ratio == pytest.approx(two.ratio, abs=6e-4)
        assert one.efficiency == pytest.approx(two.efficiency, abs=6e-4)


# ---- from what one can hold in the hand ----------------------------------------------------------


def test_a_wheel_gives_the_map_of_its_size() -> None:
    """The catalogue's own wheels, measured again, give the catalogue's maps; one that lies between two of them lies
    between their maps (choke flow and highest speed)."""
    from zarvik.formats import shipped

    for key in ("c46-60", "c54-71", "c68-89"):
        sizes, known = shipped.sizes(key), shipped.turbo_map(key)
        made = map_of_wheel(sizes["inducer"], sizes["exducer"], "measured")
        assert made.lines[-1].flow == pytest.approx(known.lines[-1].flow, rel=1e-4)
        assert made.maximum_speed == pytest.approx(known.maximum_speed, rel=1e-3)
    small, middle, large = (map_of_wheel(i, e, "") for i, e in ((0.051, 0.067), (0.0525, 0.069), (0.054, 0.071)))
    assert small.lines[-1].flow[-1] < middle.lines[-1].flow[-1] < large.lines[-1].flow[-1]
    assert small.maximum_speed > middle.maximum_speed > large.maximum_speed


@pytest.mark.parametrize("factor", [0.7, 1.25, 1.6])
def test_scaling_is_that_of_similar_machines(factor: float) -> None:
    """At equal Mach numbers a wheel of the same shape moves flow with the square of its size, turns with the
    inverse and keeps ratio and efficiency (Dixon & Hall 2010, sec. 2.9): the scaled map is the one that the
    mean line gives for the larger wheel; there and back it is the same map."""
    base = map_of_wheel(0.051, 0.067, "base")
    law = scaled(base, factor, "scaled")
    line = map_of_wheel(round(0.051 * factor, 9), round(0.067 * factor, 9), "made")
    for one, two in zip(law.lines, line.lines, strict=True):
        assert one.speed == pytest.approx(two.speed, rel=2e-3)
        assert one.flow[0] == pytest.approx(two.flow[0], rel=0.01)
        assert one.flow[-1] == pytest.approx(two.flow[-1], rel=0.01)
        assert max(one.efficiency) == pytest.approx(max(two.efficiency), abs=0.005)
        assert max(one.ratio) == pytest.approx(max(two.ratio), rel=0.005)
    back = scaled(law, 1.0 / factor, "base")
    assert back.lines[3].flow == pytest.approx(base.lines[3].flow)
    assert back.maximum_speed == pytest.approx(base.maximum_speed)
    assert law.lines[2].flow[4] == pytest.approx(base.lines[2].flow[4] * factor**2)


@pytest.mark.parametrize(
    ("inducer", "exducer", "words"), [(0.067, 0.051, "smaller than"), (0.060, 0.061, "is not made"), (0.020, 0.060, "is not made")]
)
def test_sizes_that_are_no_wheel(inducer: float, exducer: float, words: str) -> None:
    """Said with what is wrong; trims of 30 to 75 are made (common practice, no source)."""
    with pytest.raises(ValueError, match=words):
        map_of_wheel(inducer, exducer, "x")
    assert trim(0.051, 0.067) == pytest.approx(57.9, abs=0.1)  # 100 * (51 / 67)^2
    with pytest.raises(ValueError, match=r"0\.5 to 2"):
        scaled(map_of_wheel(0.051, 0.067, "x"), 2.5, "y")


def test_known_again_by_its_wheels() -> None:
    """Nearest first by the worst diameter; what was not measured does not count; a worn wheel still fits."""
    known = {
        "a": {"inducer": 0.050, "exducer": 0.066, "turbine_wheel": 0.058},
        "b": {"inducer": 0.054, "exducer": 0.071, "turbine_wheel": 0.058},
    }
    found = identify({"inducer": 0.0501, "exducer": 0.066}, known)
    assert [n.key for n in found] == ["a", "b"] and found[0].fits and not found[1].fits
    assert found[0].off["inducer"] == pytest.approx(1e-4) and found[0].worst == pytest.approx(0.002)
    # The worst of all that was measured counts: the inducer of a, the turbine of neither.
    mixed = identify({"inducer": 0.050, "turbine_wheel": 0.061}, known)[0]
    assert mixed.key == "a" and mixed.worst == pytest.approx(3.0 / 58.0) and not mixed.fits
    both = identify({"turbine_wheel": 0.058}, known)
    assert [n.worst for n in both] == [0.0, 0.0]
    assert identify({}, known) == ()
