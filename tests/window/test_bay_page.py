"""The engine bay in the window: objects added, corrected and removed, what is too near, a pipe routed round it."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import numpy as np
import pytest
import trimesh
from driving import pause
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from conftest import MakeWindow
from made_bays import tarn_in_its_bay, without_bay
from zarvik.formats import project_file, shipped
from zarvik.project.document.parts.layout import Stock
from zarvik.project.edits.edits import completed, with_value
from zarvik.project.units.units import parse
from zarvik.window.app import settle
from zarvik.window.benches.cut_weld.presenter import new_stock, stock_words
from zarvik.window.benches.layout.bay_page import BayPage
from zarvik.window.benches.layout.scene import name_of
from zarvik.window.benches.layout.view import BAY, LayoutBench
from zarvik.window.benches.layout.work_page import PER_STEP
from zarvik.window.frame.main_window import MainWindow


def page_of(window: MainWindow) -> tuple[LayoutBench, BayPage]:
    window.show_bench("layout")
    bench = window.findChildren(LayoutBench)[0]
    bench.show_page(BAY)
    assert bench.bay is not None
    assert settle(window)
    return bench, bench.bay


def of_shaft(page: BayPage) -> str:
    return next(text for i in range(page.list.count()) if "Steering shaft" in (text := page.list.item(i).text()))


def wait_for(window: MainWindow, holds) -> None:  # type: ignore[no-untyped-def]
    for _ in range(2000):
        if holds():
            return
        pause(20)
    raise AssertionError("it did not come")


def test_objects_come_and_go(open_window: MakeWindow) -> None:
    window = open_window(shipped.demo("moth"))
    _, page = page_of(window)
    assert not page.none.isHidden()
    page.add_object("battery")
    assert page.list.count() == 1
    assert "Battery" in page.list.item(0).text()
    field = page.field_of(f"bay_objects.{window.desk.project.bay_objects[0].id}.along")
    assert field is not None
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "-20 in")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert settle(window)
    assert window.desk.project.bay_objects[0].along.si == -0.508
    page.remove.click()
    assert page.list.count() == 0
    assert not page.forms
    window.session.undo()
    assert settle(window)
    assert page.list.count() == 1
    rows = page.table()
    assert rows[1][:2] == ["Battery", "Battery"]


def test_a_common_bay_shows_what_is_too_near(open_window: MakeWindow) -> None:
    window = open_window(without_bay(shipped.demo("tarn")))
    bench, page = page_of(window)
    page.add_ready("lengthways")
    wait_for(window, lambda: bool(page.found))
    assert settle(window)
    words = [page.list.item(i).text() for i in range(page.list.count())]
    steering = next(text for text in words if "Steering shaft" in text)
    assert steering.startswith("▲ ")  # the exhaust runs into it
    assert " of 55 mm: " in steering
    assert {one.obstacle.name for one in bench.view.near} >= {"Steering shaft", "Firewall"}
    assert any(check.id == "bay_room" and check.state == "fails" for check in window.desk.answer.check_results)


def test_a_pipe_is_routed_in_one_step(open_window: MakeWindow) -> None:
    window = open_window(tarn_in_its_bay())
    _, page = page_of(window)
    before = window.desk.project
    page.ask_route("exhaust")
    wait_for(window, lambda: window.desk.project is not before)
    assert settle(window)
    wait_for(window, lambda: not of_shaft(page).startswith("▲") and " of " in of_shaft(page))
    window.session.undo()
    assert window.desk.project.exhaust == before.exhaust


def test_primaries_are_routed_from_the_menu(open_window: MakeWindow) -> None:
    window = open_window(shipped.demo("tarn"))
    _, page = page_of(window)
    page.route.menu().aboutToShow.emit()
    actions = {action.text(): action for action in page.route.menu().actions()}
    assert {"Exhaust", "Cold charge pipe", "All primaries"} <= set(actions)
    before = window.desk.project
    actions["All primaries"].trigger()
    wait_for(window, lambda: window.desk.project is not before)
    assert settle(window)
    assert len(window.desk.project.primaries) == 4
    assert max(p.angle.si for one in window.desk.project.primaries for p in one.pieces if p.kind == "bend") < 2.1


def test_how_joints_are_got_at(open_window: MakeWindow) -> None:
    window = open_window(tarn_in_its_bay())
    bench, page = page_of(window)
    page.show_mode("reaches")
    wait_for(window, lambda: page.work.list.count() > 15)
    assert page.objects.isHidden()
    assert not page.work.isHidden()
    assert not bench.view.near  # the plates of the objects are out of the way
    rows = page.work.table()
    assert any("screw at" in words for _, words in rows)
    assert any(row.startswith("bench: ") for row, _ in rows)
    page.work.list.setCurrentRow(1)
    assert bench.view.spot is not None
    assert bench.view.spot[1] in page.work.list.item(1).text()
    assert page.work.words.text() == rows[2][1]
    page.show_mode("objects")
    assert bench.view.spot is None
    assert not page.objects.isHidden()
    wait_for(window, lambda: bool(bench.view.near))


def test_parts_go_in_one_by_one(open_window: MakeWindow) -> None:
    """At the left end of the slider nothing is there, at the right all stands where it belongs, between them one part is on its way; the
    picture follows, and goes back when the page is turned or the design changes."""
    window = open_window(tarn_in_its_bay())
    bench, page = page_of(window)
    page.show_mode("order")
    work = page.work
    wait_for(window, lambda: len(work.steps) > 10)
    assert work.slider.value() == work.slider.maximum()
    work.slider.setValue(0)
    names = {name_of(body) for body in bench.view.bodies if body.piece}
    assert names <= set(bench.view.moves)
    assert sum(there is None for there in bench.view.moves.values()) > 10
    first = next(k for k, step in enumerate(reversed(work.steps)) if step.part.key == "turbo:0")
    work.slider.setValue(PER_STEP * first + PER_STEP // 2)
    there = bench.view.moves["|turbine:0"]
    assert there is not None
    assert 0.05 < float(np.linalg.norm(there[:3, 3])) < 1.5
    assert work.list.currentRow() == first
    assert "studs" in work.words.text()
    work.slider.setValue(PER_STEP * (first + 1))
    assert "|turbine:0" not in bench.view.moves
    picture = bench.view.render_image()
    work.slider.setValue(work.slider.maximum())
    assert not bench.view.moves
    assert bench.view.render_image() != picture
    work.play.click()
    wait_for(window, lambda: work.slider.value() > 4)
    work.play.click()
    stopped = work.slider.value()
    pause(120)
    assert work.slider.value() == stopped
    bench.show_page("pieces")
    assert not bench.view.moves
    bench.show_page(BAY)
    page.show_mode("order")
    wait_for(window, lambda: len(work.steps) > 10)
    work.slider.setValue(PER_STEP)
    assert bench.view.moves
    window.desk.edit("layout.head.flange", parse("15 mm", "length"))
    assert settle(window)
    assert not bench.view.moves


def test_what_comes_off_for_a_job(open_window: MakeWindow) -> None:
    window = open_window(tarn_in_its_bay())
    bench, page = page_of(window)
    page.show_mode("services")
    wait_for(window, lambda: page.work.list.count() > 3)
    rows = dict(page.work.table())
    assert "Turbine flange" in rows["Turbo"]
    assert "Exhaust manifold on the head" in rows["Manifold"]
    page.work.list.setCurrentRow(1)
    assert bench.view.spot is not None


def test_a_scan_comes_into_the_bay(open_window: MakeWindow, tmp_path: Path) -> None:
    """From a file to an object with its place, in one step; a file that is none is said, and changes nothing."""
    trimesh.creation.box([0.02, 0.6, 1.1]).export(tmp_path / "wall.stl")
    window = open_window(shipped.demo("moth"))
    _, page = page_of(window)
    page.ask_scan(path=str(tmp_path / "wall.stl"))
    wait_for(window, lambda: page.list.count() == 1)
    assert settle(window)
    assert "wall" in page.list.item(0).text()
    assert "height -300 mm to 300 mm" in page.stands.text()
    one = window.desk.project.bay_objects[0]
    assert (one.shape, one.file) == ("scan", "wall.stl")
    window.session.undo()
    assert settle(window)
    assert page.list.count() == 0
    (tmp_path / "words.ply").write_text("not a scan")
    page.ask_scan(path=str(tmp_path / "words.ply"))
    assert settle(window)
    assert page.list.count() == 0


def test_a_scan_is_drawn_in_full(open_window: MakeWindow, tmp_path: Path) -> None:
    """Of 81,920 triangles of a ball 20,000 are kept, and all are drawn while the picture stands, where the object stands, turned and moved;
    after opening too, where the file lies beside the project; another file of that name is not taken for it."""
    ball = trimesh.creation.icosphere(subdivisions=6, radius=120.0)
    ball.export(tmp_path / "ball.stl")
    own = tmp_path / "p.zarvik.json"
    window = open_window(without_bay(shipped.demo("tarn")))
    bench, page = page_of(window)
    page.ask_scan("mm", str(tmp_path / "ball.stl"))
    wait_for(window, lambda: bench.view.scans)
    assert "change" not in window.notice.text()

    def drawn(bench: LayoutBench) -> tuple[np.ndarray, int]:
        body = next(body for body in bench.view.bodies if body.whole is not None)
        corners, triangles = body.fine()
        assert len(body.coarse()[1]) <= 20_000
        return corners, len(triangles)

    corners, count = drawn(bench)
    assert count == len(ball.faces)
    key = window.session.project.bay_objects[0].id
    for place, kind, text in (("along", "length", "-310 mm"), ("heading", "angle", "35 °")):
        window.desk.change("Place", with_value(window.desk.project, f"bay_objects.{key}.{place}", parse(text, kind)))
    assert settle(window)
    corners, _ = drawn(bench)
    low, high = corners.min(axis=0), corners.max(axis=0)
    assert 0.5 * (low + high) == pytest.approx([-0.31, 0.0, 0.0], abs=2e-3)
    assert high - low == pytest.approx([0.24] * 3, abs=2e-3)
    project_file.write(window.session.project, own)
    again = open_window(project_file.read(own), own)
    bench, _ = page_of(again)
    wait_for(again, lambda: bench.view.scans)
    assert drawn(bench)[1] == len(ball.faces)
    trimesh.creation.box([240.0, 100.0, 240.0]).export(tmp_path / "ball.stl")
    other = open_window(project_file.read(own), own)
    bench, _ = page_of(other)
    assert settle(other)
    pause(300)
    assert not bench.view.scans
    assert all(body.whole is None for body in bench.view.bodies)


def test_what_is_wrong_with_a_place_is_said_beside_it(open_window: MakeWindow) -> None:
    window = open_window(shipped.demo("moth"))
    _, page = page_of(window)
    page.add_object("battery")
    key = window.desk.project.bay_objects[0].id
    assert page.stands.text().startswith("Along ")
    window.desk.edit(f"bay_objects.{key}.along_from", "Fire wall")
    assert settle(window)
    assert page.stands.text() == "▲ there is no “Fire wall” in the engine bay"
    for name in ("along_from", "tapes", "turns", "slide"):
        assert page.field_of(f"bay_objects.{key}.{name}") is not None
    window.desk.edit(f"bay_objects.{key}.shape", "hull")
    assert settle(window)
    assert page.field_of(f"bay_objects.{key}.tapes") is None
    assert page.field_of(f"bay_objects.{key}.points") is not None


def test_ways_beside_each_other_are_tried_on(open_window: MakeWindow) -> None:
    """Each that is chosen is the design at once, one step back for each; ways of another design are forgotten."""
    project = tarn_in_its_bay()
    window = open_window(project)
    _, page = page_of(window)
    page.show_mode("routes")
    assert [page.ways.runs.itemData(i) for i in range(page.ways.runs.count())] == [
        "intake", "hot_pipe", "cold_pipe", "exhaust", "primaries", "turbo", "intercooler", "filter",
    ]  # fmt: skip
    page.ways.runs.setCurrentIndex(page.ways.runs.findData("cold_pipe"))
    page.ways.look.click()
    wait_for(window, lambda: page.ways.list.count() > 1)
    assert "least loss" in " ".join(row[0] for row in page.ways.table())
    wait_for(window, lambda: all(not page.ways.list.item(i).icon().isNull() for i in range(page.ways.list.count())))
    before = window.desk.project
    page.ways.list.setCurrentRow(1)
    assert settle(window)
    assert window.desk.project.cold_pipe == page.ways.found[1].project.cold_pipe != before.cold_pipe
    assert page.ways.list.count() > 1
    page.ways.list.setCurrentRow(0)
    assert settle(window)
    window.session.undo()
    window.session.undo()
    assert settle(window)
    assert window.desk.project.cold_pipe == before.cold_pipe
    window.desk.edit("layout.head.flange", parse("15 mm", "length"))
    assert settle(window)
    assert page.ways.list.count() == 0
    page.ways.runs.setCurrentIndex(page.ways.runs.findData("intake"))
    page.ways.look.click()
    assert settle(window)
    assert page.ways.list.count() == 0


def test_the_turbo_is_turned_from_the_menu(open_window: MakeWindow) -> None:
    project = with_value(tarn_in_its_bay(), "layout.turbo.drain", parse("90 °", "angle"))
    project = with_value(project, "layout.cooler_in.placed", "free")  # a charge pipe without an end is not laid
    window = open_window(project)
    _, page = page_of(window)
    page.ask_clock()
    wait_for(window, lambda: window.desk.project is not project)
    assert settle(window)
    assert abs(window.desk.project.layout.turbo.drain.si) != project.layout.turbo.drain.si
    assert not any(check.id == "drain" and check.state == "fails" for check in window.desk.answer.check_results)
    window.session.undo()
    assert settle(window)
    assert window.desk.project.layout.turbo.drain == project.layout.turbo.drain


def test_blocks_of_a_kit_are_listed_as_such() -> None:
    """Neither bought by the metre nor made of metal; a curved one with its radius and turn."""
    project, key = new_stock(shipped.demo("tarn"), "block", None)
    line = project.stock[-1]
    assert line.id == key
    assert line.material == ""
    assert "any number of straight block" in stock_words(line)
    words = stock_words(line.model_copy(update={"kind": "arc", "count": parse("12", "count"), "note": "printed"}))
    assert words.startswith("12 × curved block")
    assert "30 °" in words
    assert words.endswith("(printed)")


def test_the_worst_stands_first(open_window: MakeWindow) -> None:
    """Of Tarn's own bay: each row has no more to spare than the next one; what is chosen stays so when another row comes first, and is
    what is removed; nothing of it is too near."""
    window = open_window(shipped.demo("tarn"))
    _, page = page_of(window)
    wait_for(window, lambda: bool(page.found))
    assert settle(window)
    rows = [page.list.item(i).text().replace("\u00a0", " ") for i in range(page.list.count())]
    assert len(rows) == len(window.desk.project.bay_objects) >= 30
    spares = [int(match[1]) - int(match[2]) for row in rows if (match := re.match(r"(-?\d+) mm of (\d+) mm: ", row))]
    assert len(spares) >= 10
    assert spares[0] >= 0
    assert all(one <= two + 1 for one, two in itertools.pairwise(spares))
    key = next(one.id for one in window.desk.project.bay_objects if one.name == "Battery")
    page.choose(key)
    assert "Battery" in page.title.text()
    for name, text in {"along": "60 mm", "up": "150 mm"}.items():  # into the cold pipe
        window.desk.edit(f"bay_objects.{key}.{name}", parse(text, "length"))
    wait_for(window, lambda: "Battery" in page.list.item(0).text())
    assert page.title.text() == "Battery"
    page.remove.click()
    assert settle(window)
    assert key not in {one.id for one in window.desk.project.bay_objects}
    assert len(window.desk.project.bay_objects) == len(rows) - 1


def test_marks_of_a_pipe_of_the_stock(open_window: MakeWindow) -> None:
    """Beside the routes a pipe that is there, with the places to saw at below, numbered; it is the exhaust when it is chosen."""
    line = {"id": "y1", "kind": "pipe", "tube": "76.1 mm", "wall": "1.6 mm", "radius": "114 mm", "bends": "150 90; 350 70 200; 1900"}
    project = shipped.demo("tarn")
    changed = {"stock": (*project.stock, Stock.model_validate(line)), "bay_objects": ()}  # routes of an empty bay are there at once
    window = open_window(completed(project.model_copy(update=changed)))
    _, page = page_of(window)
    page.show_mode("routes")
    page.ways.runs.setCurrentIndex(page.ways.runs.findData("exhaust"))
    page.ways.look.click()

    def row() -> int:
        return next((i for i in range(page.ways.list.count()) if "Pipe in stock" in page.ways.list.item(i).text()), -1)

    wait_for(window, lambda: row() >= 0)
    assert page.ways.marks.isHidden()
    page.ways.list.setCurrentRow(row())
    assert settle(window)
    lines = page.ways.marks.text().splitlines()
    assert len(lines) >= 2
    assert [words[0] for words in lines] == [str(n) for n in range(1, len(lines) + 1)]
    assert any("saw at" in words for words in lines)
    assert sum(piece.kind == "bend" for piece in window.desk.project.exhaust) == 2


def test_small_pictures_beside_the_large_one(open_window: MakeWindow) -> None:
    """Of each document one, in the order in which they are wanted: a turbo elsewhere is another picture, the same is the same; the large
    picture is as it was."""
    window = open_window(shipped.demo("tarn"))
    bench, _ = page_of(window)
    bench.view.settle()
    before = bench.view.render_image()
    came: dict[int, QImage] = {}
    bench.view.renderer.small_drawn.connect(lambda project, image: came.update({id(project): image}))
    project = window.desk.project
    high, same = with_value(project, "layout.turbo.up", parse("200 mm", "length")), project.model_copy()
    bench.view.ask_small([project, high, same])
    wait_for(window, lambda: len(came) == 3)
    one, other, again = (came[id(document)] for document in (project, high, same))
    assert (one.width(), one.height()) == (104, 74)
    assert len({one.pixel(x, y) for x in range(104) for y in range(74)}) > 20
    assert one == again
    assert one != other
    after = bench.view.render_image()
    places = [(x, y) for x in range(0, before.width(), 5) for y in range(0, before.height(), 5)]
    # What one looks through may be painted in another order
    assert sum(before.pixel(x, y) != after.pixel(x, y) for x, y in places) < 0.02 * len(places)
