"""The cut list as strips: where pieces stand, which way a clock face points, what is said of a piece, what lights up with it."""

from __future__ import annotations

import itertools
import math
import re
from pathlib import Path

import pytest
from driving import click, rest, wait_for
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from zarvik.formats import bench_lists, shipped
from zarvik.project.fabrication.cut_list import Cut, cut_list
from zarvik.project.language.plain import visible
from zarvik.project.layout.layout import all_runs
from zarvik.window.benches.cut_weld.cut_strips import LEAST, places, rotation, strip_rows, turned
from zarvik.window.benches.cut_weld.view import DRAWINGS, LIST, ORDER, STOCK
from zarvik.window.frame.main_window import MainWindow
from zarvik.workspace.job_store import DONE, Job, JobResult
from zarvik.workspace.jobs import CUTS, FILES, SHEETS, cuts_of, sheets_of


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
    assert turned(quarter, {}) == "+90°, 39 mm"
    assert turned(cut(0.1, 1.0, roll=-math.pi), {}) == "−180°, 79 mm"
    assert turned(cut(0.1, 1.0, roll=0.0), {}) == "0°, 0 mm"
    assert turned(quarter, {"length": "in"}) == "+90°, 1.5 in"
    assert turned(cut(0.1), {}) == "" and rotation(cut(0.1)) is None
    assert rotation(cut(0.1, 1.0, roll=None, first=0.3)) == 0.3


def test_a_strip_for_every_pipe() -> None:
    """As many pieces as the list has, the sums of its own text; pipes of which nothing is cut have none."""
    project = shipped.demo("tarn")
    found = cut_list(project, all_runs(project))
    rows = strip_rows(project, found.runs, "{0} · {1} · {2}")
    assert [row.key for row in rows] == [run.run for run in found.runs if run.cuts]
    for row in rows:
        run = next(run for run in found.runs if run.run == row.key)
        length = sum(cut.length for cut in run.cuts)
        assert row.sums == f"{1e3 * length:.0f} mm · {run.welds} weld{'s' * (run.welds != 1)} · {run.mass:.1f}\u00a0kg"
        assert row.rotated == any(c.roll is not None or c.first is not None for c in run.cuts)


def test_a_piece_lights_up_everywhere(window: MainWindow) -> None:
    """A click on it says what is done to it, lights it in its bar of stock and in the picture of the layout; keys go on from there."""
    window.show_bench("cut_weld")
    bench = window.benches["cut_weld"]
    rest(window)
    strips = bench.strips
    row = strips.rows.items[1]
    area = strips.visualRect(strips.rows.index(1))
    spots = places(row.cuts, area.left() + 10.0, area.right() + 1 - 10.0)
    middle = QPointF(sum(spots[1]) / 2, area.top() + 40.0).toPoint()
    QTest.mouseClick(strips.viewport(), Qt.MouseButton.LeftButton, pos=middle)
    assert strips.key == row.key and strips.number == 1
    assert bench.piece_title.text().startswith("Primary of cylinder 2, 2")
    assert bench_lists.piece(row.cuts[1], window.desk.project.shown_units) in bench.piece.text() and "Clock face" in bench.piece.text()
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
    window.show_bench("cut_weld")
    rest(window)
    rows = window.benches["cut_weld"].strips.rows
    said = str(rows.data(rows.index(0), Qt.ItemDataRole.AccessibleDescriptionRole))
    assert "446 mm" in said and "1 Straight pipe 1: 48.3 mm tube, 21 mm long" in said and re.search(r"rotate \d+° (anti)?clockwise", said)


def test_a_piece_is_ticked_off(window: MainWindow) -> None:
    """Space ticks the chosen piece, its box is drawn and the sum says how many are cut; a longer pipe turns it into one to be measured; one
    undo each takes it back."""
    window.show_bench("cut_weld")
    bench = window.benches["cut_weld"]
    rest(window)
    straight = next(
        (run.key, n) for run in bench.strips.rows.items for n, c in enumerate(run.cuts) if run.key == "cold_pipe" and c.kind == "straight"
    )
    bench.strips.choose_cut(*straight)
    before = bench.strips.grab().toImage()
    bench.strips.setFocus()
    QTest.keyClick(bench.strips, Qt.Key.Key_Space)
    rest(window)
    assert bench.is_cut.isChecked() and bench.strips.number == straight[1] and bench.strips.key == "cold_pipe"
    assert bench.strips.chosen.sums.endswith(f"1 of {len(bench.strips.chosen.cuts)} cut")
    assert bench.strips.grab().toImage() != before
    key = bench.strips.cut.key
    piece = next(p for p in window.desk.project.cold_pipe if p.id == key)
    window.desk.edit(f"cold_pipe.{key}.length", piece.length.with_si(piece.length.si + 0.02))
    rest(window)
    assert not bench.is_cut.isChecked() and bench.piece.text().startswith("Cut before the design changed")
    window.undo()
    rest(window)
    assert bench.is_cut.isChecked()
    click(bench.is_cut)
    rest(window)
    assert not window.desk.project.pieces_cut and not bench.is_cut.isChecked()
    window.undo()
    window.undo()
    assert not window.desk.project.pieces_cut


def test_bar_template_and_strip_lead_to_each_other(window: MainWindow) -> None:
    """A click on a piece in its bar chooses it in its strip; its template is the one that is shown first; another template chooses its
    piece."""
    window.show_bench("cut_weld")
    bench = window.benches["cut_weld"]
    rest(window)
    bench.bars.grab()
    area, name = next((area, name) for area, name in bench.bars._places if "cylinder 3" in name)
    QTest.mouseClick(bench.bars, Qt.MouseButton.LeftButton, pos=area.center().toPoint())
    cut = bench.strips.cut
    assert visible(cut.label) == name and window.desk.piece == cut.key
    bench.show_page("drawings")
    rest(window)
    rows = {bench._drawn_piece(n): n for n in range(len(bench.sheets)) if bench._drawn_piece(n)}
    piece, other = list(rows)[1], list(rows)[-1]
    window.desk.choose_piece(piece)
    bench._shown.clear()
    bench.refresh_document()
    rest(window)
    assert bench.drawings.currentRow() == rows[piece]
    bench.drawings.setCurrentRow(rows[other])
    assert window.desk.piece == other
    bench.show_page("list")
    rest(window)
    assert bench.strips.cut.key == other or other not in {c.key for run in bench.strips.rows.items for c in run.cuts}


def test_a_list_that_comes_late(open_window: object, caplog: pytest.LogCaptureFixture) -> None:
    """What was asked for one page is found out when another one is shown, which was turned to first: nothing breaks, and its page shows it
    when it is turned to."""
    window = open_window(shipped.demo("tarn"))  # type: ignore[operator]
    bench = window.benches["cut_weld"]
    window.show_bench("cut_weld")
    project = window.desk.project
    for page, ask in ((STOCK, cuts_of), (STOCK, sheets_of), (DRAWINGS, cuts_of), (LIST, sheets_of)):
        bench.show_page(page)
        reply = window.desk.ask(ask(project))
        assert wait_for(lambda ask=ask: window.desk.ask(ask(project)).state == DONE)
        bench._hear(window.desk.ask(ask(project)))
        rest(window)
        assert reply.key in (CUTS, SHEETS) and "Traceback" not in caplog.text
    bench.show_page(ORDER)
    rest(window)
    assert "tube" in bench.text.toPlainText()


def test_what_was_written_is_named(window: MainWindow) -> None:
    """Three files by their names, of more the first three and that there are others."""
    window.show_bench("cut_weld")
    bench = window.benches["cut_weld"]
    for count, words in ((3, "Wrote 0.dxf, 1.dxf, 2.dxf"), (4, "Wrote 0.dxf, 1.dxf, 2.dxf …")):
        job = Job(f"{FILES}all", object(), lambda _: None)
        bench._hear(JobResult(job, state=DONE, value=[Path(f"folder/{n}.dxf") for n in range(count)]))
        assert window.notice.text() == words
