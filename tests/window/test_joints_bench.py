"""The Register bench in the real window: found, ticked, decided by hand and by keys; lists on screen and on paper; the leak page."""

from __future__ import annotations

import csv
from collections.abc import Callable
from pathlib import Path

import pytest
from driving import click, pause, printed, rest, type_into
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from zarvik.core.connections import row as r
from zarvik.formats import shipped
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document.parts.fluid_lines import FluidLines
from zarvik.project.document.parts.runners import Runners
from zarvik.project.document.parts.services import Breather
from zarvik.window.app import settle
from zarvik.window.benches.intake.page import IntakePage
from zarvik.window.benches.joints_services.radiator.page import CoolingPage
from zarvik.window.benches.joints_services.view import COOLING, LEAK, LINES, LISTS, MADE, SUPPLY, JointsBench
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.quantity_field import QuantityField
from zarvik.window.parts.words_field import WordsField


@pytest.fixture
def window(open_window: Callable[..., MainWindow]) -> MainWindow:
    """Tarn before its connection list was begun."""
    return open_window(
        shipped.demo("tarn").model_copy(update={"joints": (), "fluid_lines": FluidLines(), "runners": Runners(), "breather": Breather()})
    )


def bench_of(window: MainWindow, page: str) -> JointsBench:
    window.show_bench("joints")
    bench = window.benches["joints"]
    assert isinstance(bench, JointsBench)
    bench.show_page(page)
    for _ in range(3):
        assert window.session.jobs.idle()
        pause(20)
    return bench


def state(window: MainWindow, key: str) -> str:
    return next(x.state for x in connections_of(window.desk.project) if x.key == key)


def choose(box: QComboBox, key: str) -> None:
    box.setCurrentIndex(box.findData(key))
    box.activated.emit(box.currentIndex())


def test_lines_are_found_ticked_and_decided(window: MainWindow) -> None:
    """Ports of a template, twelve decisions by the box, states by Space and by a notch, a filter, groups; each is a step to undo, and
    the rail shows what fails."""
    bench = bench_of(window, LINES)
    before = window.desk.project
    bench._template("four")
    assert settle(window)
    ports = [x.key for x in connections_of(window.desk.project) if x.kind == r.PORT]
    assert len(ports) == 12 and "0 of 12 ports" in bench.state.text()
    bench.ledger.choose(ports[0], tell=True)
    box = bench.details.fields["decision"]
    assert isinstance(box, QComboBox) and box.isVisible() and not bench.details.fields["clamp"].isVisible()
    choose(box, "keep")
    assert settle(window)
    assert "check valve" in bench.details.rules.text()
    assert next(v for v in window.desk.answer.check_results if v.id == "joint_check_valve").state == "fails"
    for key in ports:
        bench.ledger.choose(key, tell=True)
        choose(box, "check")
    assert "12 of 12 ports" in bench.state.text()
    type_into(bench.details.fields["bore"], "3/8 in")
    assert window.desk.project.joints[-1].bore.si > 0.009
    type_into(bench.details.fields["bore"], "wide")
    assert window.desk.project.joints[-1].bore.si > 0.009
    type_into(bench.filter, "brake manifold")
    rows = [i.row.key for i in bench.ledger.rows.items if i.row is not None]
    assert rows == [ports[0]]
    bench.filter.clear()
    for number in range(bench.by.count()):
        bench.by.setCurrentIndex(number)
        bench.by.activated.emit(number)
        assert sum(i.row is not None for i in bench.ledger.rows.items) == len(connections_of(window.desk.project))
        bench.ledger.grab()
    bench.ledger.choose("charger__outlet", tell=True)
    bench.ledger.setFocus()
    for wanted in (r.DRY, r.HAND, r.TORQUED, r.TESTED, r.REOPENED):
        QTest.keyClick(bench.ledger, Qt.Key.Key_Space)
        assert state(window, "charger__outlet") == wanted
    spot = QPointF(bench.ledger.ladder_left() + 3.5 * bench.ledger.NOTCH - 4.0, 0.0)
    at = next(n for n, i in enumerate(bench.ledger.rows.items) if i.row is not None and i.row.key == "charger__outlet")
    spot.setY(bench.ledger.visualRect(bench.ledger.rows.index(at)).top() + 20.0)
    QTest.mouseClick(bench.ledger.viewport(), Qt.MouseButton.LeftButton, pos=spot.toPoint())
    assert state(window, "charger__outlet") == r.TORQUED
    for key in (Qt.Key.Key_End, Qt.Key.Key_Home, Qt.Key.Key_PageDown, Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_PageUp):
        QTest.keyClick(bench.ledger, key)
        assert bench.ledger.accessibleDescription()
    bench.ledger.choose("charger__outlet", tell=True)
    click(bench.details.forget)
    assert state(window, "charger__outlet") == r.OPEN
    while window.session.undo():
        pass
    assert window.desk.project.joints == before.joints


def test_lists_on_screen_and_on_paper(window: MainWindow, tmp_path: Path) -> None:
    """A row is ticked with a large box and with Space; every list is one or more sheets, this one a table that no spreadsheet obeys."""
    bench = bench_of(window, LISTS)
    choose(bench.which, "joints")
    assert bench.listed is not None and bench.listed.keys[0] == "intake__filter__neck"
    spot = QPointF(18.0, bench.ticks.visualRect(bench.ticks.rows.index(0)).top() + 14.0).toPoint()
    QTest.mouseClick(bench.ticks.viewport(), Qt.MouseButton.LeftButton, pos=spot)
    assert state(window, "intake__filter__neck") == r.DRY
    bench.ticks.setFocus()
    QTest.keyClick(bench.ticks, Qt.Key.Key_Space)
    assert state(window, "intake__filter__neck") == r.HAND
    QTest.keyClick(bench.ticks, Qt.Key.Key_Down)
    assert bench.ticks.currentIndex().row() == 1
    for number in range(bench.which.count()):
        bench.which.setCurrentIndex(number)
        bench.which.activated.emit(number)
        bench.ticks.grab()
    pdf, table = tmp_path / "r.pdf", tmp_path / "r.csv"
    bench.save("pdf", str(pdf))
    words = "\n".join(printed(pdf))
    assert "Joints and clamps" in words and "Tightening order" in words and "Tools and drills" in words
    choose(bench.which, "shopping")
    bench.save("csv", str(table))
    assert any("T-bolt" in cell for row in csv.reader(table.open()) for cell in row)
    (tmp_path / "no").write_text("no folder")
    bench.save("csv", str(tmp_path / "no" / "r.csv"))
    assert "cannot be written" in window.notice.text()


def test_a_leak_is_typed_and_looked_for(window: MainWindow) -> None:
    """Gauge readings comes out as a hole with what it costs, and a bar leads to the line."""
    bench = bench_of(window, LEAK)
    assert "Not tested yet" in bench.check_result.text() and "A hole of 1\u00a0mm" in bench.holes.text()
    type_into(bench.form.fields["leak_test.start_pressure"], "10 psi")
    type_into(bench.form.fields["leak_test.end_pressure"], "5 psi")
    type_into(bench.form.fields["leak_test.duration"], "4 s")
    assert settle(window)
    assert "one hole of" in bench.check_result.text() and "look first at" in bench.check_result.text()
    assert next(v for v in window.desk.answer.check_results if v.id == "leak").state != "ok"
    assert bench.bars.found and bench.bars.accessibleDescription()
    bench.bars.grab()
    key = bench.bars.found[1][0].key
    QTest.mouseClick(bench.bars, Qt.MouseButton.LeftButton, pos=QPointF(40.0, 1.5 * bench.bars.ROW).toPoint())
    assert bench.page == LINES and bench.ledger.key == key
    assert bench.field_of("leak_test.end_pressure") is not None and bench.page == LEAK


def test_materials_are_laid_side_by_side(window: MainWindow) -> None:
    """Each run of what it could be of; the present one is named, what does not stand the heat too."""
    bench = bench_of(window, MADE)
    assert len(bench.made.picture.found) == 5 and "Aluminium" in bench.made.picture.accessibleDescription()
    bench.made.picture.grab()
    choose(bench.made.run, "exhaust")
    for _ in range(3):
        assert window.session.jobs.idle()
        pause(20)
    assert [m.material for m in bench.made.picture.found] == ["stainless", "mild_steel"]


def test_oil_and_fuel_are_typed(window: MainWindow) -> None:
    """From nothing: injectors as they are sold, a restrictor, a runner; what comes of them stands beside, with its way out."""
    bench = bench_of(window, SUPPLY)
    page = bench.entries(SUPPLY)
    assert "Enter what you have" in page.nothing.text() and not page.judged.found
    rest(window)
    # What it needs stands there before anything is entered, and what is entered is judged.
    assert "Injectors: 4 of 550\u00a0cc/min or more" in page.needed.words.text() and "Oil drain" in page.needed.words.text()
    fields = {place: field for form in page.forms for place, field in form.fields.items()}
    type_into(fields["fluid_lines.injector_flow"], "380 cc/min")
    type_into(fields["fluid_lines.restrictor_bore"], "1.6 mm")
    assert settle(window)
    page.refresh()
    assert {v.id: v.state for v in page.judged.found} == {"injectors": "fails", "oil_feed": "ok"} and page.nothing.text() == ""
    assert "Injectors" in page.judged.accessibleDescription()
    page.judged.grab()
    type_into(fields["fluid_lines.injector_flow"], "65 lb/h")  # a mass: refused, and what stood stays
    assert window.desk.project.fluid_lines.injector_flow.si < 7e-6
    assert bench.field_of("fluid_lines.pump_flow") is fields["fluid_lines.pump_flow"]


def fields_of(bench: JointsBench, page: str) -> dict[str, QuantityField | QComboBox | WordsField]:
    return {place: field for form in bench.entries(page).forms for place, field in form.fields.items()}


def test_intake_is_typed_and_seen(window: MainWindow) -> None:
    """A meter that ends, openings of callipers in millimetres and inches, runners that ring: pictures and words follow; nonsense is
    refused and what stood stays; a check's entry leads to its field."""
    window.show_bench("intake")
    bench = window.benches["intake"]
    page = bench.page
    fields = {place: field for form in page.forms for place, field in form.fields.items()}
    assert isinstance(page, IntakePage) and len(page.chart.found) == 13 and page.openings.isVisible()
    kind = fields["air_meter.kind"]
    assert isinstance(kind, QComboBox)
    choose(kind, "film")
    for place, text in (
        ("air_meter.max_reading", "600 kg/h"),
        ("ports.runner_width", "2 in"),
        ("ports.offset_sideways", "6 mm"),
        ("runners.length", "13 in"),
        ("runners.short_length", "180 mm"),
    ):
        type_into(fields[place], text)
    assert settle(window)
    page.refresh()
    states = {v.id: v.state for v in page.judged.found}
    assert states["meter"] == "fails" and states["ports"] == "fails" and "throttle" in states
    assert "are tuned to" in page.rings.text() and "Switch at about" in page.rings.text()
    assert page.openings.pairs == (("runner", "gasket"), ("gasket", "port")) and not page.grab().isNull()
    assert "65" in page.chart.accessibleDescription()
    type_into(fields["ports.runner_width"], "wide")
    assert window.desk.project.ports.runner_width.si == pytest.approx(0.0508)
    assert bench.field_of("runners.bore") is fields["runners.bore"]
    for name in ("runner", "gasket", "port"):
        type_into(fields[f"ports.{name}_width"], "0")
    assert settle(window)
    page.refresh()
    assert not page.openings.isVisible()


def test_cooling_is_typed_and_seen(window: MainWindow) -> None:
    """A radiator as a tape gives it: the curve over road speed rises, the spot is where the build is; without one there is a sentence."""
    bench = bench_of(window, COOLING)
    page, fields = bench.entries(COOLING), fields_of(bench, COOLING)
    assert isinstance(page, CoolingPage)
    assert page.chart.isVisible() and page.chart.curves[0].ys == tuple(sorted(page.chart.curves[0].ys))
    before = page.chart.curves[0].ys
    type_into(fields["radiator.thickness"], "16 mm")
    assert settle(window)
    page.refresh()
    assert all(a < b for a, b in zip(page.chart.curves[0].ys, before, strict=True)) and page.chart.spot is not None
    page.grab()
    type_into(fields["radiator.width"], "0")
    type_into(fields["turbo_coolant.bore"], "0")
    assert settle(window)
    page.refresh()
    assert not page.chart.isVisible() and {v.id for v in page.judged.found} <= {"barrier"}


def test_flanges_are_measured_on_a_line(window: MainWindow) -> None:
    """The throttle's bolts and the plenum's, typed in the details: only what a flange asks for is shown, both patterns are drawn, the rule
    tells the plate, layers appear one after the other."""
    bench = bench_of(window, LINES)
    bench.ledger.choose("engine__throttle", tell=True)
    details = bench.details
    shown = {name for name, field in details.fields.items() if not field.isHidden()}
    assert {"bolts", "across", "other_bolts", "layer_1"} <= shown and not {"clamp", "layer_2", "thick_1"} & shown
    assert details.faces.isHidden()
    for name, text in (
        ("bolts", "4"),
        ("across", "66 mm"),
        ("up", "66 mm"),
        ("other_bolts", "4"),
        ("other_across", "88 mm"),
        ("other_up", "74 mm"),
    ):
        type_into(details.fields[name], text)
    assert settle(window)
    assert not details.faces.isHidden() and "do not match" in details.rules.text()
    details.faces.grab()
    type_into(details.fields["other_across"], "66 mm")
    type_into(details.fields["other_up"], "66 mm")
    assert settle(window) and "do not meet" not in details.rules.text()
    layer = details.fields["layer_1"]
    assert isinstance(layer, QComboBox)
    choose(layer, "paper")
    assert settle(window)
    assert not details.fields["layer_2"].isHidden() and not details.fields["thick_1"].isHidden() and details.fields["layer_3"].isHidden()
    type_into(details.fields["bolts"], "4.5")
    assert next(x.one for x in connections_of(window.desk.project) if x.key == "engine__throttle").count == 4
    hose = next(x.key for x in connections_of(window.desk.project) if x.kind == r.JOINT and x.made == r.HOSED)
    bench.ledger.choose(hose, tell=True)
    shown = {name for name, field in details.fields.items() if not field.isHidden()}
    assert "clamp" in shown and not {"bolts", "layer_1"} & shown and details.faces.isHidden()


def test_joints_say_what_they_need_at_once(window: MainWindow) -> None:
    """Opened by the rail, before anything is touched; with another boost it follows."""
    window.show_bench("joints")
    rest(window)
    bench = window.benches["joints"]
    assert bench.needed.isVisible() and "T-bolt" in bench.needed.words.text() and "458\u00a0N" in bench.needed.words.text()
    boost = window.session.project.goal.target_boost
    window.desk.edit("goal.target_boost", boost.with_si(0.4e5))
    window.desk.edit("goal.big_run_boost", boost.with_si(0.4e5))
    assert settle(window)
    rest(window)
    assert "458\u00a0N" not in bench.needed.words.text()
