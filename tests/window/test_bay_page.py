"""The engine bay in the window: objects added, corrected and removed, what is too near, a pipe routed round it."""

from __future__ import annotations

from driving import pause
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from conftest import MakeWindow
from made_bays import tarn_in_its_bay
from zarvik.formats import shipped
from zarvik.window.app import settle
from zarvik.window.benches.layout.bay_page import BayPage
from zarvik.window.benches.layout.view import BAY, LayoutBench
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
    for _ in range(600):
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
    window = open_window(shipped.demo("tarn"))
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
