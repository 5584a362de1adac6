"""The cut list as strips: where pieces stand, which way a clock face points, what is said of a piece, what lights up with it."""

from __future__ import annotations

import itertools
import math

import pytest
from driving import rest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from zarvik.formats import bench_lists, shipped
from zarvik.project.fabrication.cut_list import Cut, cut_list
from zarvik.project.layout.layout import all_runs
from zarvik.window.benches.cut_weld.cut_strips import LEAST, places, rotation, strip_rows, turned
from zarvik.window.frame.main_window import MainWindow


def cut(length: float, angle: float = 0.0, roll: float | None = None, first: float | None = None) -> Cut:
    """A piece of 50 mm tube."""
    return Cut(name="p", kind="bend" if angle else "straight", tube=0.05, length=length, radius=0.075, angle=angle, roll=roll, first=first)


def test_pieces_stand_by_their_length() -> None:
    """Without gaps from end to end; above the least width a piece twice as long has twice the rest; a hundred still have their order."""
    cuts = [cut(0.1), cut(0.2), cut(0.4)]
    spots = places(cuts, 10.0, 510.0)
    assert spots[0][0] == 10.0 and spots[-1][1] == pytest.approx(510.0)
    assert all(one[1] == pytest.approx(two[0]) for one, two in itertools.pairwise(spots))
    rest_of = [b - a - LEAST for a, b in spots]
    assert rest_of[1] == pytest.approx(2 * rest_of[0]) and rest_of[2] == pytest.approx(4 * rest_of[0])
    many = places([cut(0.01)] * 100, 0.0, 500.0)
    assert many[-1][1] == pytest.approx(500.0) and all(b > a for a, b in many)
    assert places([], 0.0, 100.0) == []
    assert places([cut(0.0)], 0.0, 100.0)[0][1] == pytest.approx(LEAST)


def test_a_clock_face_reads_as_a_welder_marks_it() -> None:
    """Clockwise is +, the way around is the arc on the outside of the tube: π · 50 mm · 90° / 360° is 39 mm, by hand."""
    quarter = cut(0.1, math.pi / 2, roll=math.pi / 2)
    assert turned(quarter) == "+90°, 39 mm"
    assert turned(cut(0.1, 1.0, roll=-math.pi)) == "−180°, 79 mm"
    assert turned(cut(0.1, 1.0, roll=0.0)) == "0°, 0 mm"
    assert turned(cut(0.1)) == "" and rotation(cut(0.1)) is None
    assert rotation(cut(0.1, 1.0, roll=None, first=0.3)) == 0.3


def test_a_strip_for_every_pipe() -> None:
    """As many pieces as the list has, the sums of its own text; pipes of which nothing is cut have none."""
    project = shipped.demo("tarn")
    found = cut_list(project, all_runs(project))
    rows = strip_rows(found.runs, "{0} mm · {1} welds · {2} kg")
    assert [row.key for row in rows] == [run.run for run in found.runs if run.cuts]
    for row in rows:
        run = next(run for run in found.runs if run.run == row.key)
        length = sum(cut.length for cut in run.cuts)
        assert row.sums == f"{1e3 * length:.0f} mm · {run.welds} welds · {run.mass:.1f} kg"
        assert row.rotated == any(c.roll is not None or c.first is not None for c in run.cuts)


def test_a_piece_lights_up_everywhere(window: MainWindow) -> None:
    """A click on it says what is done to it, lights it in its bar of stock and in the picture of the layout; keys go on from there."""
    window.show_bench("workshop")
    bench = window.benches["workshop"]
    rest(window)
    strips = bench.strips
    row = strips.rows.items[1]
    area = strips.visualRect(strips.rows.index(1))
    spots = places(row.cuts, area.left() + 10.0, area.right() + 1 - 10.0)
    middle = QPointF(sum(spots[1]) / 2, area.top() + 40.0).toPoint()
    QTest.mouseClick(strips.viewport(), Qt.MouseButton.LeftButton, pos=middle)
    assert strips.key == row.key and strips.number == 1
    assert bench.piece_title.text().startswith("Primary of cylinder 2, 2")
    assert bench_lists.piece(row.cuts[1]) in bench.piece.text() and "Clock face" in bench.piece.text()
    assert window.desk.piece == row.cuts[1].key
    assert any(bench.bars._lit == name for strip in bench.bars.strips for name, _ in strip.pieces)
    QTest.keyClick(strips, Qt.Key.Key_Right)
    assert strips.number == 2 and "Clock face" not in bench.piece.text()
    for _ in range(20):
        QTest.keyClick(strips, Qt.Key.Key_Right)
    assert strips.number == len(row.cuts) - 1
    QTest.keyClick(strips, Qt.Key.Key_Down)
    assert strips.key == strips.rows.items[2].key and strips.number == 0
    strips.grab()


def test_a_strip_is_heard(window: MainWindow) -> None:
    """A reader of the screen says every piece with its marks."""
    window.show_bench("workshop")
    rest(window)
    rows = window.benches["workshop"].strips.rows
    said = str(rows.data(rows.index(0), Qt.ItemDataRole.AccessibleDescriptionRole))
    assert "451 mm" in said and "1 Straight pipe 1: 48.3 mm tube, 21 mm long" in said and "rotate 7° anticlockwise" in said
