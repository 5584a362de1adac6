"""The Space and Workshop benches in the real window: laid, picked, pulled, by hand and by keyboard, on screen and off."""

from __future__ import annotations

import dataclasses
import math
import time
from pathlib import Path

import numpy as np
import pytest
from driving import pause, rest
from painted import watched
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from zarvik.core.checks.layout import end_miss
from zarvik.formats import shipped
from zarvik.project.edits import edits
from zarvik.project.edits.piece_edits import run_of
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.manifold.manifold_types import school
from zarvik.project.manifold.primaries import without_primaries
from zarvik.window.app import settle
from zarvik.window.benches.cut_weld.view import DRAWINGS, STOCK
from zarvik.window.benches.layout import presenter as show
from zarvik.window.benches.layout.bodies import bodies_of, colours
from zarvik.window.benches.layout.camera import VIEWS, Camera
from zarvik.window.benches.layout.scene import can_render
from zarvik.window.benches.layout.view import HEAD, PIECES
from zarvik.window.frame.main_window import MainWindow


def space(window: MainWindow):  # type: ignore[no-untyped-def]
    window.show_bench("layout")
    bench = window.benches["layout"]
    pause(30)
    return bench


def test_views_are_true() -> None:
    """By hand: from the side what is along the crank is to the right and up is up, from above out is down, from the end
    (behind the last cylinder) out is to the left; a scale of 2 mm a px is that."""
    eye = Camera(scale=0.002)
    points = np.array([[0.1, 0.0, 0.0], [0.0, 0.1, 0.0], [0.0, 0.0, 0.1]])
    want = {"side": [(50, 0), (0, -50), (0, 0)], "above": [(50, 0), (0, 0), (0, 50)], "end": [(0, 0), (0, -50), (-50, 0)]}
    for name, places in want.items():
        eye.look(name)
        seen = eye.seen(points, 200.0, 100.0)[:, :2] - [100.0, 50.0]
        assert seen == pytest.approx(np.array(places, float), abs=1e-9)
    assert set(VIEWS) == {"side", "above", "end", "corner"}
    eye.fit(points, 300.0, 200.0)
    assert np.all(np.abs(eye.seen(points, 300.0, 200.0)[:, :2] - [150.0, 100.0]) <= [105.1, 55.1])


def test_what_is_drawn_is_what_is_laid_out(window: MainWindow) -> None:
    """A body for every piece with a length; the picture has the colours of the theme's ground and more; each piece is
    picked where it is seen; without the renderer the plain picture shows the same places."""
    bench = space(window)
    view = bench.view
    project = window.desk.project
    bodies = bodies_of(space_of(project), layout(project))
    pieces = {b.key for b in bodies if b.piece}
    assert {p.id for q in project.primaries for p in q.pieces} <= pieces and {"h-down", "c-run", "e-down"} <= pieces
    assert len(set(colours(4))) == 4 and len(set(colours(10))) == 10
    view.look("corner")
    image = view.render_image()
    shades = {image.pixelColor(x, y).name() for x in range(0, image.width(), 7) for y in range(0, image.height(), 7)}
    assert len(shades) > 30 if can_render() else len(shades) > 5
    hits = 0
    for line in view.layout_.lines:
        for part in line.placed:
            at = view._at(part.at(0.5).origin)
            if 0 < at.x() < view.width() and 0 < at.y() < view.height():
                hits += view.pick(at) == part.segment.id
    assert hits >= 8  # others lie behind them
    view._plain = True
    flat = view.render_image()
    assert flat.size() == image.size()
    view._plain = False


def test_a_piece_is_pulled(window: MainWindow) -> None:
    """Choose a straight by a click, pull its end: its length follows the hand in whole millimetres, the pressure run with
    it, as one step; a bend is turned and rolled by its handles."""
    bench = space(window)
    view = bench.view
    view.look("side")
    window.desk.choose_piece("e-down")
    view.see_near()
    pause(20)
    before = window.desk.point.stretches
    drop = next(s.drop for s in before if s.id == "e-down")
    handle = view.handles()[0]
    assert handle.name == show.LENGTH
    at, tip = view._at(handle.point), view._at(handle.next)
    way = QPointF(tip.x() - at.x(), tip.y() - at.y()) * (0.05 / 0.01)  # 50 mm of pull
    QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at.toPoint())
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(view, (at + way * share).toPoint())
        pause(5)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, (at + way).toPoint())
    length = window.session.project.exhaust[1].length.si
    assert length == pytest.approx(0.55, abs=0.01) and length * 1000 == pytest.approx(round(length * 1000), abs=1e-6)
    assert settle(window)
    assert next(s.drop for s in window.desk.point.stretches if s.id == "e-down") > drop
    window.undo()
    assert window.session.project.exhaust[1].length.si == pytest.approx(0.5)
    window.desk.choose_piece("e-level")
    names = [h.name for h in view.handles()]
    assert names == [show.ANGLE, show.ROLL]
    view.put(view.handles()[1], math.radians(163.4))
    assert window.session.project.exhaust[2].roll.si == pytest.approx(math.radians(163.0))
    view.put(view.handles()[0], math.radians(30.04), fine=True)
    assert window.session.project.exhaust[2].angle.si == pytest.approx(math.radians(30.0))


def test_by_keyboard_alone(window: MainWindow) -> None:
    """Page keys go through every piece, letters change it in its steps, digits are the views, X cuts open, arrows walk."""
    bench = space(window)
    view = bench.view
    view.setFocus()
    seen = []
    for _ in range(4):
        QTest.keyClick(view, Qt.Key.Key_PageDown)
        seen.append(window.desk.piece)
    assert len(set(seen)) == 4
    window.desk.choose_piece("e-level")
    QTest.keyClick(view, Qt.Key.Key_B)
    QTest.keyClick(view, Qt.Key.Key_R, Qt.KeyboardModifier.ShiftModifier)
    piece = window.session.project.exhaust[2]
    assert (piece.angle.si, piece.roll.si) == (pytest.approx(math.radians(46.0)), pytest.approx(math.radians(179.0)))
    window.desk.choose_piece("e-down")
    QTest.keyClick(view, Qt.Key.Key_L)
    assert window.session.project.exhaust[1].length.si == pytest.approx(0.501)
    for key, name in ((Qt.Key.Key_1, "side"), (Qt.Key.Key_2, "above"), (Qt.Key.Key_3, "end"), (Qt.Key.Key_4, "corner")):
        QTest.keyClick(view, key)
        assert (view.eye.turn, view.eye.tip) == VIEWS[name]
    QTest.keyClick(view, Qt.Key.Key_Left)
    assert view.eye.turn != VIEWS["corner"][0]
    QTest.keyClick(view, Qt.Key.Key_X)
    assert view.cut is not None
    view.render_image()
    QTest.keyClick(view, Qt.Key.Key_X)
    QTest.keyClick(view, Qt.Key.Key_N)
    scale = view.eye.scale
    QTest.keyClick(view, Qt.Key.Key_Plus)
    assert view.cut is None and view.eye.scale < scale
    # The mouse walks, shifts and zooms.
    turn = view.eye.turn
    QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(5, 5))
    QTest.mouseMove(view, QPoint(60, 30))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(60, 30))
    assert view.eye.turn != turn


def test_primaries_are_laid_in_the_window(window: MainWindow) -> None:
    """From one sum: “Generate primaries” makes four of pieces that meet the collector within 2 % of each other, as one step; one
    is knocked out, “Make equal” brings it back; a run's end is made to meet; back to a sum."""
    window.desk.change("sum", without_primaries(window.desk.project))
    bench = space(window)
    assert not bench.equal.isEnabled() and "one length" in bench.headline.text()
    bench.lay.click()
    assert not bench.lay.isEnabled()
    _wait(window, lambda: bool(window.session.project.primaries))
    found = layout(window.session.project).primaries
    assert len(found) == 4 and all(end_miss(one) <= 1.0 for one in found)
    assert max(o.length for o in found) / min(o.length for o in found) < 1.02
    assert "4 primaries" in bench.headline.text() and bench.equal.isEnabled()
    key = next(p.id for p in window.session.project.primaries[1].pieces if p.kind == "bend")
    window.desk.choose_piece(key)
    place = f"{run_of(window.session.project, key)}.{key}.roll"
    assert bench.piece_form is not None and place in bench.piece_form.fields
    roll = edits.get(window.session.project, place)
    window.desk.edit(place, roll.with_si(roll.si + 0.2))
    assert any(end_miss(one) > 1.0 for one in layout(window.session.project).primaries)
    bench.equal.click()
    _wait(window, lambda: all(end_miss(one) <= 1.0 for one in layout(window.session.project).primaries))
    window.desk.edit(place, roll.with_si(roll.si - 0.2))
    window.desk.choose_piece(key)
    bench._fit_run()
    rest(window)
    assert all(end_miss(one) <= 1.0 for one in layout(window.session.project).primaries)
    bench._fill_fit()
    assert len(bench._fit_menu.actions()) >= 2
    bench._unlay()
    assert window.session.project.primaries == () and window.desk.complete is not None


def _wait(window: MainWindow, done, seconds: float = 60.0) -> None:  # type: ignore[no-untyped-def]
    end = time.monotonic() + seconds
    while not done() and time.monotonic() < end:
        pause(30)
    assert done()


def test_entries_of_space(window: MainWindow) -> None:
    """An address opens its page; a check its run; a piece is put in, moved, taken out; what does not count is hidden."""
    bench = space(window)
    window.desk.go_to_place("layout.head.port_down_angle")
    assert bench.stack.currentWidget() is bench.stack.page(HEAD)
    high = next(form for form in bench.forms if "layout.head.port_height" in form.fields)
    assert high.fields["layout.head.port_height"].isHidden()
    window.desk.edit("layout.head.port", "oval")
    assert not high.fields["layout.head.port_height"].isHidden()
    window.desk.go("layout:primary:" + window.session.project.primaries[2].id)
    assert window.desk.piece == window.session.project.primaries[2].pieces[-1].id
    assert bench.stack.currentWidget() is not None
    bench.show_page(PIECES)
    count = len(window.session.project.primaries[2].pieces)
    bench._add("straight")
    assert len(window.session.project.primaries[2].pieces) == count + 1
    bench._move(window.desk.piece or "", -1)
    bench._remove(window.desk.piece or "")
    assert len(window.session.project.primaries[2].pieces) == count
    window.desk.go("layout:turbo")
    assert settle(window)


def test_the_workshop(window: MainWindow, tmp_path: Path) -> None:
    """The list with its marks, stock that is added and counts, drawings to look at, every file written; a folder that is not
    there is told."""
    window.show_bench("cut_weld")
    bench = window.benches["cut_weld"]
    rest(window)
    assert bench.strips.rows.items[0].title == "Primary of cylinder 1" and "48.3 mm tube" in bench.piece.text()
    bench.show_page("order")
    rest(window)
    assert "Tacking order" in bench.text.toPlainText() and "scribe line" in bench.text.toPlainText()
    bench.show_page("list")
    assert bench.bars.strips and "To buy" in bench.bought.text()
    bought = bench.bought.text()
    bench.show_page(STOCK)
    bench.add("tube")
    key = window.session.project.stock[-1].id
    assert bench.form is not None and f"stock.{key}.length" in bench.form.fields
    window.desk.edit(f"stock.{key}.tube", edits.meta(window.desk.project, f"stock.{key}.tube").read("76.2 mm"))
    window.desk.edit(f"stock.{key}.length", edits.meta(window.desk.project, f"stock.{key}.length").read("3 m"))
    # Tube counts for pieces of its wall and material alone.
    window.desk.edit(f"stock.{key}.wall", edits.meta(window.desk.project, f"stock.{key}.wall").read("1.6 mm"))
    window.desk.edit(f"stock.{key}.material", "stainless")
    bench.show_page("list")
    rest(window)
    assert bench.bought.text() != bought
    bench.show_page(STOCK)
    bench.stock.setCurrentRow(len(window.session.project.stock) - 1)
    bench._remove()
    assert all(s.id != key for s in window.session.project.stock)
    bench.show_page(DRAWINGS)
    rest(window)
    assert bench.drawings.count() >= 10
    for row in range(bench.drawings.count()):
        bench.drawings.setCurrentRow(row)
        bench.paper.grab()
    for what, name in (("cutlist", "c.txt"), ("bends", "b.csv"), ("bodies", "b.stl"), ("drawings", "d.pdf"), ("drawings", "d.dxf")):
        bench.save(what, str(tmp_path / name))
    rest(window)
    names = {p.name for p in tmp_path.iterdir()}
    assert {"c.txt", "b.csv", "b.stl", "d.pdf", "d-head-flange.dxf"} <= names
    told: list[str] = []
    window.desk.notice.connect(told.append)
    bench.save("drawings", str(tmp_path / "d.bmp"))
    rest(window)
    assert told and ".pdf" in told[-1]


def test_empty_and_odd_documents_are_drawn(window: MainWindow) -> None:
    """No pieces at all, no collector, no intercooler, a log: drawn, listed, nothing raised."""
    bench = space(window)
    project = window.desk.project
    bare = without_primaries(project).model_copy(update={"intake": (), "hot_pipe": (), "cold_pipe": (), "exhaust": (), "manifold": ()})
    for odd in (
        bare,
        edits.with_value(project, "intercooler.fitted", False),
        edits.with_value(project, "manifold.collector.form", "log"),
        shipped.demo("fell"),
    ):
        window.desk.change("odd", odd)
        bench.view.render_image()
        bench.grab()
        window.show_bench("cut_weld")
        window.benches["cut_weld"].show_page(DRAWINGS)
        window.benches["cut_weld"].grab()
        window.show_bench("layout")
    assert dataclasses.replace(space_of(bare)).primaries == ()


def test_thirty_pictures_a_second(window: MainWindow) -> None:
    """Not timed here: that a walk draws a new picture each time, without the fine edges that wait for a rest."""
    view = space(window).view
    view.render_image()
    one = view.render_image()
    view.eye.orbit(0.3, 0.0)
    coarse = view.render_image()
    assert coarse != one and not view._fine
    view.settle()
    assert view._fine
    if can_render():
        # Smooth edges are of colours between those of what they divide
        both = [len(np.unique(np.frombuffer(i.constBits(), np.uint32))) for i in (coarse, view._image)]
        assert both[1] > 1.5 * both[0], both


def test_a_gap_is_a_line_with_its_length(window: MainWindow) -> None:
    """A cold pipe that is 60 mm short has its gap drawn, in red, with 60 mm on a plate; one that meets has none. The downpipe as far as
    under the floor is in the first picture, the tail pipe is not."""
    window.show_bench("layout")
    bench = window.benches["layout"]
    assert settle(window)
    rest(window)
    bench.settle()
    pause(100)
    view = bench.view

    def plates() -> list[str]:
        with watched() as found:
            view.update()
            pause(50)
        return [f.text.replace("\u00a0", " ") for f in found if f.widget is view]

    assert "60 mm" not in plates()
    run = [p for p in window.desk.project.cold_pipe if p.kind == "straight"][-1]
    window.desk.edit(f"cold_pipe.{run.id}.length", run.length.with_si(run.length.si - 0.060))
    assert settle(window)
    rest(window)
    bench.settle()
    pause(100)
    assert "60 mm" in plates()
    window.undo()
    assert settle(window)
    view.see_all()
    exhaust = [part for line in view.layout_.lines if line.key == "exhaust" for part in line.placed]
    spots = [view._at(part.last.origin) for part in exhaust]
    seen = [0.0 <= spot.x() <= view.width() and 0.0 <= spot.y() <= view.height() for spot in spots]
    assert seen[0] and not seen[-1]


ROWS = {
    "layout.head.port_height": "not round",
    "layout.head.bank_distance": "vee",
    "layout.head.stagger": "vee",
    "layout.head.numbered": "vee",
    "layout.fabrication.log": "log",
    "layout.fabrication.turn": "tubes",
    "layout.fabrication.joint": "tubes",
    "layout.fabrication.weld_roots": "welded",
    "layout.fabrication.stress_relief": "welded",
    "layout.fabrication.length_step": "free",
}


@pytest.mark.parametrize("form", ["equal", "log", "cast"])
@pytest.mark.parametrize("banks", ["one", "vee"])
def test_only_what_counts_is_asked(open_window: object, form: str, banks: str) -> None:
    """A cast manifold has no seams, a log no collector to turn, one bank no distance to another; round ports have no height, and lengths
    that are cut freely are rounded."""
    project = school(shipped.demo("tarn"), form)
    round_ports = banks == "one"
    for place, value in (
        ("layout.head.banks", banks),
        ("layout.head.port", "round" if round_ports else "oval"),
        ("layout.fabrication.blocks", "free" if round_ports else "inch"),
    ):
        project = edits.with_value(project, place, value)
    window = open_window(project)  # type: ignore[operator]
    bench = space(window)
    there = {
        "not round": not round_ports,
        "vee": banks == "vee",
        "log": form == "log",
        "tubes": form == "equal",
        "welded": form != "cast",
        "free": round_ports,
    }
    bench.forms_of_all_pages()
    bench.refresh_document()
    for place, when in ROWS.items():
        field = next(form.fields[place] for form in bench.forms if place in form.fields)
        assert field.isHidden() != there[when], (place, when)
