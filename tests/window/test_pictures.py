"""What is drawn and written on the screen against the solved points: places in pixels worked out by hand
from the edges of the plot, figures converted with factors printed here (NIST SP 811, app. B.8: 1 hp =
745.699 872 W, 1 lb = 0.453 592 37 kg)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import numpy as np
import pytest
from driving import pause
from painted import Painted, watched
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF
from PySide6.QtWidgets import QWidget

from zarvik.core.limits.limits import FAILS, MARGINAL, OK
from zarvik.formats import shipped
from zarvik.project.edits.edits import with_value
from zarvik.project.edits.turbo_edits import add_turbo
from zarvik.project.units.units import parse
from zarvik.window.app import settle
from zarvik.window.benches.goal.view import LoadChart
from zarvik.window.benches.turbo.map_chart import MapChart
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.run.profile import lay_out
from zarvik.window.theme.palette import current

HP, LB_MIN = 745.699872, 0.45359237 / 60.0


@contextmanager
def lines() -> Iterator[list[tuple[str, Qt.PenStyle, np.ndarray]]]:
    """Every polyline that is drawn: colour and style of its pen, its points in px."""
    found: list[tuple[str, Qt.PenStyle, np.ndarray]] = []
    whole = QPainter.drawPolyline

    def drawn(self: QPainter, *given: Any) -> Any:
        polygon = given[0]
        if isinstance(polygon, QPolygonF):
            points = np.array([[p.x(), p.y()] for p in polygon])
            found.append((self.pen().color().name(), self.pen().style(), points))
        return whole(self, *given)

    QPainter.drawPolyline = drawn  # type: ignore[method-assign]
    try:
        yield found
    finally:
        QPainter.drawPolyline = whole  # type: ignore[method-assign]


def drawn_by(widget: Any) -> list[tuple[str, Qt.PenStyle, np.ndarray]]:
    """The polylines of a chart that is drawn anew."""
    with lines() as found:
        widget.stale()
        widget.repaint()
        # Where a chart is drawn beside the window, until no more comes
        for _ in range(100):
            seen = len(found)
            pause(20)
            if 0 < seen == len(found):
                break
    return found


def places(widget: Any, x: np.ndarray, y: np.ndarray, high: float | None = None) -> np.ndarray:
    """Pixels of points in shown units: 50 px left, 12 above, 40 below the plot, at the right what the
    second axis takes (`high`: its end), worked out from the axes' ends alone."""
    right = widget.width() - (52.0 if widget.second else 14.0)
    left, top, bottom = 50.0, 12.0, widget.height() - 40.0
    a = widget.x_axis
    low, most = (0.0, high) if high is not None else (widget.y_axis.low, widget.y_axis.high)
    px = left + (x - a.low) / (a.high - a.low) * (right - left)
    py = bottom - (y - low) / (most - low) * (bottom - top)
    return np.column_stack([px, py])


def has(found: list[tuple[str, Qt.PenStyle, np.ndarray]], wanted: np.ndarray) -> tuple[str, Qt.PenStyle]:
    """The pen of the line that runs through these points, within half a pixel."""
    for name, style, points in found:
        if points.shape == wanted.shape and np.abs(points - wanted).max() < 0.5:
            return name, style
    raise AssertionError("no such line is drawn")


def test_the_full_load_curves_stand_where_the_points_are(window: MainWindow) -> None:
    """Power in hp on the left axis, torque in N·m on the right one, over rev/min."""
    chart = window.benches["goal"].findChild(LoadChart)
    assert chart is not None
    points = [p for p in window.desk.answer.sweep if p.closure.solved]
    found = drawn_by(chart)
    speed = np.array([p.speed for p in points])
    power = places(chart, speed, np.array([p.power / HP for p in points]))
    assert has(found, power) == (current().ink, Qt.PenStyle.SolidLine)
    torque = places(chart, speed, np.array([p.torque for p in points]), chart.second.high)
    assert has(found, torque) == (current().cold_low, Qt.PenStyle.DashLine)


def test_the_map_and_its_full_load_line(window: MainWindow) -> None:
    """Surge and choke line through the ends of the speed lines, the full-load line through the corrected
    flow and ratio of each point."""
    window.show_bench("turbo")
    assert settle(window)
    chart = window.benches["turbo"].findChild(MapChart)
    assert chart is not None
    found = drawn_by(chart)
    answer = window.desk.answer
    run = [p for p in answer.sweep if p.closure.solved]
    line = places(chart, np.array([p.turbo.flow / LB_MIN for p in run]), np.array([p.turbo.ratio for p in run]))
    drawn = [points for _, style, points in found if style == Qt.PenStyle.SolidLine]
    near = [np.abs(points[:, None, :] - line[None, :, :]).sum(axis=2).min(axis=0).max() for points in drawn if len(points) >= len(line) - 1]
    assert min(near) < 1.0
    chart_lines = answer.build.turbo.chart.lines
    for end, colour, style in ((0, current().fails, Qt.PenStyle.SolidLine), (-1, current().marginal, Qt.PenStyle.DashLine)):
        edge = next(points for name, kind, points in found if (name, kind) == (colour, style))
        ends = places(chart, np.array([ln.flow[end] / LB_MIN for ln in chart_lines]), np.array([ln.ratio[end] for ln in chart_lines]))
        for spot in ends:
            below, above = edge[:-1], edge[1:]
            t = np.clip(((spot - below) * (above - below)).sum(axis=1) / np.maximum(((above - below) ** 2).sum(axis=1), 1e-9), 0, 1)
            near_to = np.hypot(*(below + t[:, None] * (above - below) - spot).T).min()
            assert near_to < 2.0, (colour, spot)


def texts(widget: QWidget) -> list[Painted]:
    """What a widget paints."""
    with watched() as found:
        getattr(widget, "stale", widget.update)()
        pause(30)
    return [f for f in found if f.widget is widget]


def test_candidates_stand_under_their_heads(window: MainWindow) -> None:
    """Each cell of a candidate is the figure that its head names, in the owner's unit."""
    window.show_bench("turbo")
    assert settle(window)
    pause(30)
    bench = window.benches["turbo"]
    by_name = {c.name: c for c in window.desk.answer.candidates}
    seen = 0
    for row in bench.rows:
        if not row.isVisible() or row.row is None:
            continue
        c = by_name[row.row.name]
        cells = dict(zip(row.row.heads, [re.sub(r"[\s,]", "", t) for t in row.row.cells], strict=True))
        assert cells["power"] == f"{c.power / HP:.0f}hp"
        assert cells["surge"] == f"{100 * c.surge:.0f}%".replace("-", "−")
        assert cells["choke"] == f"{100 * c.choke:.0f}%".replace("-", "−")
        assert cells["wheel"] == f"{100 * c.overspeed:.0f}%".replace("-", "−")
        assert cells["effic."] == f"{100 * c.efficiency:.0f}%"
        assert cells["back-pr."] == f"{c.back_pressure:.2f}"
        shown = float(cells["fullboost"].removesuffix("rpm")) if "fullboost" in cells else float(cells["full boost"].removesuffix("rpm"))
        assert shown == pytest.approx(c.spool, abs=30.0)
        assert [p.text for p in texts(row)][-len(row.row.cells) :] == list(row.row.cells)
        worst = min(c.surge / 0.10, c.choke / 0.10, c.overspeed / 0.05)
        expected = FAILS if worst < 0 else MARGINAL if worst < 1.0 else OK
        if c.power > 1.03 * window.desk.answer.build.target.power:
            assert row.row.state == expected
        seen += 1
    assert seen > 1


def test_the_pressure_run_is_to_scale(window: MainWindow) -> None:
    """A loss is as high as it is large, on each side by one scale; pieces follow each other without a
    gap; the figures under them are their losses in kPa."""
    window.show_bench("pipes")
    point = window.desk.point
    profile = lay_out(point, left=0.0, right=1200.0, top=10.0, bottom=190.0)
    cold, hot = [], []
    for before, span in zip(profile.spans, profile.spans[1:], strict=False):
        assert span.left == pytest.approx(before.right) and span.top_in == pytest.approx(before.top_out)
    for span in profile.spans:
        if not span.broken and span.stretch.drop > 100.0:
            side = hot if span.stretch.section in ("manifold", "exhaust") else cold
            side.append((span.top_out - span.top_in) / span.stretch.drop)
        assert span.temperature - span.before == pytest.approx(span.stretch.warming)
    for side in (cold, hot):
        assert max(side) == pytest.approx(min(side)) and min(side) > 0.0
    said = [(t.text, t.ink.center().x()) for t in texts(window.run)]
    for stretch in sorted(point.stretches, key=lambda s: -s.drop)[:4]:
        if stretch.kind in ("compressor", "turbine", "engine"):
            continue
        wanted = f"−{stretch.drop / 1000:.1f}"
        span = next(s for s in window.run.profile.spans if s.stretch.id == stretch.id)
        assert any(text == wanted and span.left - 30.0 < x < span.right + 30.0 for text, x in said), (stretch.name, wanted, said)


def test_the_list_of_pieces_says_what_was_solved(window: MainWindow) -> None:
    """Mach number, velocity, loss and bore of a row are the piece's own."""
    window.show_bench("pipes")
    assert settle(window)
    model = window.benches["pipes"].list.rows
    by_id = {s.id: s for s in window.desk.point.stretches}
    seen = 0
    for row in model.items:
        s = by_id.get(row.id)
        if s is None or row.kind in ("head", "cooler"):
            continue
        assert (row.loss, row.velocity, row.mach) == (s.drop, s.velocity, s.mach)
        seen += 1
    assert seen > 15
    for row in model.items:
        if row.kind == "head":
            body = [r for r in model.items if r.run == row.run and r.kind not in ("head", "cooler")]
            assert row.loss == pytest.approx(sum(r.loss for r in body))
            assert row.length == pytest.approx(sum(r.length for r in body))


def test_margins_on_the_map_keep_their_sign(open_window: Any) -> None:
    """Left of the surge line is said with a minus, right of it with a plus."""
    # A compressor that is far too large on a small housing surges where it begins to work.
    project = add_turbo(shipped.demo("tarn"), shipped.turbo("c64-84"))
    project = with_value(with_value(project, "turbo", "c64-84"), "turbos.c64-84.turbine.housing", parse("12 mm", "length"))
    window = open_window(project)
    window.show_bench("turbo")
    assert settle(window)
    chart = window.benches["turbo"].findChild(MapChart)
    signs = set()
    for point in window.desk.answer.sweep[10::6]:
        window.desk.set_speed(point.speed)
        chart.stale()
        said = " ".join(t.text for t in texts(chart))
        margin = 100.0 * point.turbo.surge
        if point.boost > 2e4:
            signs.add(margin < 0)
            sign = "−" if margin < 0 else ""
            assert re.search(rf"(^|[^\d−]){sign}{abs(margin):.0f}\s%", said), (margin, said)
    assert signs == {True, False}


def test_every_kind_of_piece_has_its_shape(window: MainWindow) -> None:
    """None is missing, none is left over; each draws within its row, and no two kinds alike but for a
    pipe and what is one."""
    from PySide6.QtGui import QImage

    from zarvik.core.ducts.pieces import KINDS
    from zarvik.window.benches.pipes.presenter import Row
    from zarvik.window.benches.pipes.silhouettes import SILHOUETTES, draw_silhouette

    assert set(SILHOUETTES) == {*KINDS, "cooler"}
    seen: dict[bytes, str] = {}
    for kind in SILHOUETTES:
        image = QImage(56, 30, QImage.Format.Format_ARGB32)
        image.fill(0)
        painter = QPainter(image)
        draw_silhouette(painter, QRectF(2, 2, 52, 26), Row("x", kind, "exhaust", "x", 0.06, 0.06))
        painter.end()
        data = bytes(image.constBits())
        assert any(data), kind
        assert seen.setdefault(data, kind) == kind or {kind, seen[data]} <= {"straight", "reducer"}
