"""A printed map traced: pictures drawn by a plotting library (Matplotlib) with axes that are known come back
within 1 % of full scale; efficiencies from islands; what cannot be a map is told."""

from __future__ import annotations

import io
import math
from itertools import pairwise

import matplotlib as mpl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.compressor.chart import faults
from zarvik.core.compressor.lookup import efficiency_at, pack
from zarvik.core.compressor.printed import PrintedMap, chart_of_printed
from zarvik.core.tracing.axes import Axes, Ticks
from zarvik.core.tracing.follow import cheapest, ink, snap_to_curve, trace_between
from zarvik.core.tracing.tracing import SPEED, Trace, Tracing
from zarvik.formats import map_csv, shipped
from zarvik.formats.project_file import FileError

mpl.use("Agg")
from matplotlib import pyplot as plt

CHART = shipped.turbo_map("c51-67")


def drawn(*, dpi: int = 110, colour: str = "black", grid: bool = True, turn: float = 0.0, grey: str = "") -> tuple[np.ndarray, Axes]:
    """The speed lines of a known map as Matplotlib draws them: bytes, and its own axes."""
    figure, ax = plt.subplots(figsize=(7.0, 5.5), dpi=dpi)
    for line in CHART.lines:
        ax.plot(line.flow, line.ratio, color=colour, lw=1.4)
    ax.set_xlim(0.0, 0.45)
    ax.set_ylim(1.0, 4.4)
    if grid:
        ax.grid(color="#bbbbbb", lw=0.6)
    figure.canvas.draw()
    tall = figure.canvas.get_width_height()[1]

    def spot(x: float, y: float) -> tuple[float, float]:
        px = ax.transData.transform((x, y))
        return float(px[0]) - 0.5, float(tall - px[1]) - 0.5

    ends = (spot(0.0, 1.0), spot(0.4, 1.0), spot(0.0, 1.0), spot(0.0, 3.5))
    buffer = io.BytesIO()
    figure.savefig(buffer, format="rgba", dpi=dpi)
    plt.close(figure)
    wide = round(7.0 * dpi)
    picture = np.frombuffer(buffer.getvalue(), np.uint8).reshape(-1, wide, 4)[..., :3].copy()
    if turn:
        from scipy.ndimage import rotate

        middle = np.array([picture.shape[1] - 1.0, picture.shape[0] - 1.0]) / 2.0
        picture = rotate(picture, turn, reshape=False, order=1, cval=255)
        a = math.radians(turn)
        matrix = np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]])
        ends = tuple(tuple(matrix @ (np.array(e) - middle) + middle) for e in ends)
    if grey == "1-bit":
        picture = np.where(picture.mean(axis=2, keepdims=True) < 150.0, 0, 255).astype(np.uint8).repeat(3, axis=2)
    elif grey == "grey":
        picture = picture.mean(axis=2, keepdims=True).astype(np.uint8).repeat(3, axis=2)
    axes = Axes(Ticks(ends[0], ends[1], 0.0, 0.4), Ticks(ends[2], ends[3], 1.0, 3.5))
    return picture, axes


@pytest.mark.parametrize(
    ("how", "turned"),
    [
        ({}, 0.0),
        ({"colour": "#c02020"}, 0.0),
        ({"grey": "grey"}, 0.0),
        ({"grey": "1-bit"}, 0.0),
        ({"dpi": 300}, 0.0),
        ({}, 4.0),
        ({"colour": "#2060c0"}, -7.0),
        ({"dpi": 70}, 0.0),
    ],
)
def test_curves_come_back(how: dict[str, object], turned: float) -> None:
    """Each speed line followed between its ends: within 1 % of full scale (0.45 kg/s, ratio 4)."""
    picture, axes = drawn(turn=turned, **how)  # type: ignore[arg-type]
    for line in CHART.lines[1:]:
        ends = axes.spots(np.array([(line.flow[0], line.ratio[0]), (line.flow[-1], line.ratio[-1])]))
        # Two clicks a hand away from the line, in the middle one more, as a builder does
        mid = len(line.flow) // 2
        middle = axes.spots(np.array([(line.flow[mid], line.ratio[mid])]))[0]
        clicks = [snap_to_curve(picture, tuple(s + 2.0), 9.0) for s in (ends[0], middle, ends[1])]
        found = np.vstack([trace_between(picture, clicks[0], clicks[1]), trace_between(picture, clicks[1], clicks[2])])
        values = axes.values(found)
        ratio = np.interp(values[:, 0], line.flow, line.ratio)
        inside = (values[:, 0] > line.flow[0]) & (values[:, 0] < line.flow[-1])
        # Square to the line: where it falls steeply a ratio says nothing.
        slope = np.gradient(line.ratio, line.flow)
        steep = np.interp(values[:, 0], line.flow, slope) * 0.45 / 4.0
        off = np.abs(values[:, 1] - ratio) / 4.0 / np.sqrt(1.0 + steep**2)
        assert off[inside].max() < 0.01, line.speed


@settings(max_examples=60, deadline=None)
@given(
    angle=st.floats(-3.1, 3.1),
    skew=st.floats(-0.6, 0.6),
    scale=st.floats(50.0, 900.0),
    low=st.floats(-5.0, 5.0),
    span=st.floats(0.01, 500.0),
)
def test_axes_of_any_kind(angle: float, skew: float, scale: float, low: float, span: float) -> None:
    """Turned, skewed and stretched: values there and back, and the four points themselves."""
    across = np.array([math.cos(angle), math.sin(angle)]) * scale
    up = np.array([math.cos(angle + math.pi / 2 + skew), math.sin(angle + math.pi / 2 + skew)]) * scale
    origin = np.array([300.0, 400.0])

    def at(x: float, y: float) -> tuple[float, float]:
        spot = origin + x * across + y * up
        return float(spot[0]), float(spot[1])

    axes = Axes(Ticks(at(0.1, 0.05), at(0.9, 0.05), low, low + span), Ticks(at(0.02, 0.2), at(0.02, 0.8), 1.0, 3.0))
    values = axes.values(np.array([at(0.1, 0.2), at(0.9, 0.8), at(0.5, 0.5)]))
    expected = [(low, 1.0), (low + span, 3.0), (low + 0.5 * span, 2.0)]
    assert values == pytest.approx(np.array(expected), rel=1e-6, abs=1e-6 * span)
    assert axes.values(axes.spots(values)) == pytest.approx(values, rel=1e-6, abs=1e-6 * span)


def test_axes_that_are_none() -> None:
    """Equal values, points on top of each other, both axes along one line: said."""
    good = Ticks((0.0, 0.0), (0.0, -100.0), 1.0, 2.0)
    for bad in (
        Ticks((0.0, 0.0), (100.0, 0.0), 1.0, 1.0),
        Ticks((0.0, 0.0), (3.0, 0.0), 0.0, 1.0),
        Ticks((0.0, 0.0), (3.0, -100.0), 0.0, 1.0),
    ):
        with pytest.raises(ValueError, match=r"axis|axes"):
            Axes(bad, good)


def test_the_way_over_cost_is_the_cheapest() -> None:
    """Against SciPy's Dijkstra on the same grid."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import dijkstra

    rng = np.random.default_rng(3)
    cost = rng.uniform(0.1, 5.0, (17, 23))
    path = cheapest(cost, (2, 1), (14, 20))
    mine = 0.0
    for (r0, c0), (r1, c1) in pairwise(path):
        mine += 0.5 * (cost[r0, c0] + cost[r1, c1]) * math.hypot(r1 - r0, c1 - c0)
    rows, columns, values = [], [], []
    for r in range(17):
        for c in range(23):
            for dr, dc in ((0, 1), (1, 0), (1, 1), (1, -1)):
                if 0 <= r + dr < 17 and 0 <= c + dc < 23:
                    step = 0.5 * (cost[r, c] + cost[r + dr, c + dc]) * math.hypot(dr, dc)
                    rows.append(r * 23 + c)
                    columns.append((r + dr) * 23 + c + dc)
                    values.append(step)
    graph = coo_matrix((values, (rows, columns)), shape=(17 * 23, 17 * 23))
    best = dijkstra(graph, directed=False, indices=2 * 23 + 1)[14 * 23 + 20]
    assert mine == pytest.approx(best, rel=1e-12)
    assert tuple(path[0]) == (2, 1) and tuple(path[-1]) == (14, 20)


def test_ink_is_what_is_not_paper() -> None:
    """Dark on light, light on dark, one colour among others; a click on blank paper stays where it is."""
    page = np.full((60, 80, 3), 245, np.uint8)
    page[30, :] = (200, 30, 30)
    page[:, 40] = (20, 20, 20)
    assert ink(page)[30, 10] > 0.9 and ink(page)[5, 5] < 0.05 and ink(page)[5, 40] > 0.9
    red = ink(page, np.array([200, 30, 30]))
    assert red[30, 10] > 0.9 and red[5, 40] < 0.1
    assert ink(255 - page)[30, 10] > 0.9 and ink(255 - page)[5, 5] < 0.05
    assert snap_to_curve(page, (10.0, 10.0), 6.0) == (10.0, 10.0)
    assert abs(snap_to_curve(page, (10.0, 26.0), 6.0)[1] - 30.0) <= 1.0
    # Odd places do not fall out of the picture.
    for spot in ((-50.0, -50.0), (500.0, 3.0), (79.9, 59.9)):
        assert all(math.isfinite(v) for v in snap_to_curve(page, spot, 9.0))
        assert np.isfinite(trace_between(page, spot, (20.0, 30.0))).all()


def islands_of(levels: tuple[float, ...]) -> tuple[tuple[float, tuple[tuple[float, float], ...]], ...]:
    """Islands of the known map, by Matplotlib's own contours over a triangulation of its points."""
    flow = np.concatenate([q.flow for q in CHART.lines])
    ratio = np.concatenate([q.ratio for q in CHART.lines])
    eta = np.concatenate([q.efficiency for q in CHART.lines])
    figure, ax = plt.subplots()
    found = ax.tricontour(flow, ratio, eta, levels=levels)
    islands = []
    for level, segments in zip(found.levels, found.allsegs, strict=True):
        points = [tuple(p) for s in segments for p in s.tolist()]
        if len(points) > 1:
            islands.append((float(level), tuple(points)))
    plt.close(figure)
    return tuple(islands)


def test_efficiencies_from_islands() -> None:
    """Lines without efficiency and the islands of Matplotlib: each point's efficiency inside of the islands comes
    back within 3.2 points (the islands stand 2 to 5 apart), outside of them within 6."""
    levels = (0.60, 0.65, 0.70, 0.73, 0.75, 0.77)
    lines = {q.speed: tuple(zip(q.flow, q.ratio, strict=True)) for q in CHART.lines}
    chart, quality = chart_of_printed(PrintedMap("printed", 1e5, 298.0, lines, islands_of(levels)))
    assert not quality.wrong and quality.miss < 0.005 and 0.5 < quality.covered <= 1.0
    assert not faults(chart)
    for mine, own in zip(chart.lines, CHART.lines, strict=True):
        for m, e in zip(mine.flow, mine.efficiency, strict=True):
            truth = float(np.interp(m, own.flow, own.efficiency))
            assert abs(e - truth) < (0.032 if 0.62 < truth < 0.77 else 0.06)


def test_efficiencies_nobody_printed() -> None:
    """Without any they are those of a wheel of that flow: within 4 points on the whole of a map that the mean line
    did not make from the same sizes (a scaled one), and a printed peak lifts all of them."""
    lines = {q.speed: tuple((m * 1.09, r) for m, r in zip(q.flow, q.ratio, strict=True)) for q in CHART.lines}
    chart, quality = chart_of_printed(PrintedMap("bare", 1e5, 298.0, lines))
    assert math.isnan(quality.covered) and not quality.wrong
    off = [
        e - float(np.interp(m / 1.09, own.flow, own.efficiency))
        for mine, own in zip(chart.lines, CHART.lines, strict=True)
        for m, e in zip(mine.flow, mine.efficiency, strict=True)
    ]
    assert abs(np.mean(off)) < 0.02 and np.std(off) < 0.04
    lifted, _ = chart_of_printed(
        PrintedMap(name="bare", reference_pressure=1e5, reference_temperature=298.0, lines=lines, islands=(), peak=0.70)
    )
    assert max(max(q.efficiency) for q in lifted.lines) == pytest.approx(0.70, abs=1e-6)


def test_a_print_that_is_no_map() -> None:
    """One line, crossing lines, an island beyond what a compressor has."""
    good = {q.speed: tuple(zip(q.flow, q.ratio, strict=True)) for q in CHART.lines[:3]}
    with pytest.raises(ValueError, match="no speed line"):
        chart_of_printed(PrintedMap("x", 1e5, 298.0, {}))
    _, quality = chart_of_printed(PrintedMap("x", 1e5, 298.0, dict(list(good.items())[:1])))
    assert any("two speed lines" in text for text in quality.wrong)
    crossed = {**good, CHART.lines[1].speed: good[CHART.lines[2].speed], CHART.lines[2].speed: good[CHART.lines[1].speed]}
    assert chart_of_printed(PrintedMap("x", 1e5, 298.0, crossed))[1].wrong
    with pytest.raises(ValueError, match="impossible"):
        chart_of_printed(PrintedMap("x", 1e5, 298.0, good, ((0.97, ((0.1, 1.5), (0.2, 1.6))),)))


HEAD = "# reference_pressure: {p} kPa\n# reference_temperature: {t} K\n# flow_unit: {unit}\n"


def csv_of(unit: str, factor: float, *, percent: bool = False, efficiency: bool = True, shuffle: bool = False) -> str:
    """The known map as a builder may have typed it."""
    rows = [
        (q.speed, m * factor, r, 100.0 * e if percent else e)
        for q in CHART.lines
        for m, r, e in zip(q.flow, q.ratio, q.efficiency, strict=True)
    ]
    if shuffle:
        np.random.default_rng(1).shuffle(rows)
    head = HEAD.format(p=100, t=298, unit=unit) + "rpm,air flow,PR" + (",eta\n" if efficiency else "\n")
    return head + "\n".join(f"{s:.0f},{m:.9g},{r:.6g}" + (f",{e:.6g}" if efficiency else "") for s, m, r, e in rows)


@pytest.mark.parametrize(
    ("unit", "factor"),
    # One kg of air at 100 kPa and 298 K takes 287.05 * 298 / 1e5 = 0.85541 m3; a cubic foot has 0.0283168 m3.
    [
        ("kg/s", 1.0),
        ("lb/min", 60.0 / 0.45359237),
        ("m³/s", 0.85541),
        ("CFM", 0.85541 * 60.0 / 0.0283168),
        ("m3/h", 0.85541 * 3600.0),
        ("kg/h", 3600.0),
    ],
)
def test_flow_in_any_unit(unit: str, factor: float) -> None:
    """The same map, whatever it was printed in."""
    found = map_csv.loads(csv_of(unit, factor))
    for mine, own in zip(found.lines, CHART.lines, strict=True):
        assert mine.flow == pytest.approx(own.flow, rel=2e-4)


def test_rows_as_people_type_them() -> None:
    """Percent, any order, other column names, tabs, no efficiency, islands among the rows; each is told."""
    read = map_csv.loads_noted(csv_of("kg/s", 1.0, percent=True, shuffle=True))
    assert read.chart.lines[3].efficiency == pytest.approx(CHART.lines[3].efficiency, rel=1e-4)
    assert len(read.notes) == 2 and not read.estimated
    bare = map_csv.loads_noted(csv_of("kg/s", 1.0, efficiency=False))
    assert bare.estimated and "4 points" in bare.notes[-1]
    tabs = map_csv.loads(csv_of("kg/s", 1.0).replace(",", "\t"))
    assert tabs.lines[2].flow == pytest.approx(CHART.lines[2].flow, rel=1e-5)
    text = csv_of("kg/s", 1.0, efficiency=False).replace("PR\n", "PR,eta\n")
    rows = [f",{m:.6g},{r:.6g},{level}" for level, points in islands_of((0.65, 0.70, 0.75)) for m, r in points[::4]]
    with_islands = map_csv.loads_noted(text.replace("\n", ",\n").replace(",\n", "\n") + "\n" + "\n".join(rows))
    assert not with_islands.estimated and "islands" in with_islands.notes[-1]
    _, points = pack(with_islands.chart), with_islands.chart.lines
    assert max(max(q.efficiency) for q in points) < 0.80


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("speed,flow\n1,2", "pressure_ratio is missing"),
        ("speed,flow,pressure_ratio\n,0.1,1.2", "a row has a speed"),
        ("speed,flow,pressure_ratio,efficiency\n50000,0.1,1.2,0.7", "two speed lines"),
        ("speed,flow,pressure_ratio,efficiency\n", "no rows"),
    ],
)
def test_a_table_that_is_no_map(text: str, words: str) -> None:
    """It is said what is missing."""
    with pytest.raises(FileError, match=words):
        map_csv.loads(HEAD.format(p=100, t=298, unit="kg/s") + text)
    with pytest.raises(FileError, match="flow_unit"):
        map_csv.loads(csv_of("stone/fortnight", 1.0))


def test_a_read_map_is_smooth() -> None:
    """Efficiency over a map made from islands has no step between its lines."""
    lines = {q.speed: tuple(zip(q.flow, q.ratio, strict=True)) for q in CHART.lines}
    chart, _ = chart_of_printed(PrintedMap("printed", 1e5, 298.0, lines, islands_of((0.65, 0.70, 0.75))))
    packed, points = pack(chart)
    values = [efficiency_at(packed, points, 0.8, m)[0] for m in np.linspace(0.14, 0.28, 60)]
    assert max(abs(b - a) for a, b in pairwise(values)) < 0.02


def test_a_line_needs_two_spots() -> None:
    """One click is no line yet: it is left out of the map, as is a line without any; two are one."""
    picture, axes = drawn()
    work = Tracing(picture=picture, across=axes.across, up=axes.up)
    for speed, count in ((80_000.0, 0), (100_000.0, 1), (120_000.0, 2)):
        work.traces.append(Trace(SPEED, speed, [np.array([[200.0 + 30.0 * n, 200.0] for n in range(count)])] if count else []))
    assert list(work.printed("Some map").lines) == [120_000.0]
