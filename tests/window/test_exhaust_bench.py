"""The Hot side bench in the real window: curves, plan and words follow the entries; a manifold is taken and undone."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

import pytest
from driving import click, pause, printed, type_into
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from zarvik.formats import shipped
from zarvik.project.edits.edits import get
from zarvik.project.vehicle.towing import towing_report
from zarvik.window.app import settle
from zarvik.window.benches.wastegate_exhaust.heat import presenter as heat
from zarvik.window.benches.wastegate_exhaust.towing import presenter
from zarvik.window.benches.wastegate_exhaust.towing.charts import Curve, HeatChart
from zarvik.window.benches.wastegate_exhaust.view import GATE, HEAT, MANIFOLDS, TOW, ExhaustBench
from zarvik.window.frame.main_window import MainWindow


def rest(window: MainWindow) -> None:
    """Let everything be found out that is asked."""
    for _ in range(4):
        assert window.session.jobs.idle()
        pause(20)


def bench_of(window: MainWindow, page: str) -> ExhaustBench:
    window.show_bench("exhaust")
    bench = window.benches["exhaust"]
    assert isinstance(bench, ExhaustBench)
    bench.show_page(page)
    rest(window)
    return bench


def test_a_spring_and_a_solenoid_are_typed(window: MainWindow, tmp_path: Path) -> None:
    """A spring as a builder types it, a solenoid taken out and put in, and curve, plan and words follow; the cure of a strong spring is
    carried out from its check."""
    bench = bench_of(window, GATE)
    # type: ignore[union-attr]
    assert bench.control is not None and "Nobody has said" not in bench.headline.text() and len(bench.lines.found.lines) == 3
    box = bench.form.fields["wastegate.control"]
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findData("none"))
    box.activated.emit(box.currentIndex())
    assert settle(window)
    rest(window)
    assert not bench.form.fields["wastegate.duty"].isVisible() and [line.letter for line in bench.control.lines] == ["A"]
    type_into(bench.form.fields["wastegate.spring"], "7 psi + 3 psi")
    box.setCurrentIndex(box.findData("three"))
    box.activated.emit(box.currentIndex())
    assert settle(window)
    rest(window)
    assert bench.control.actuator.spring > 0.6e5 and [line.letter for line in bench.control.lines] == ["A", "B", "C"]
    assert "solenoid" in bench.steps.text() and bench.form.fields["wastegate.duty"].isVisible()
    assert "ok" in next(v for v in window.desk.answer.check_results if v.id == "spring").state
    bench.chart.grab()
    bench.plan.grab()
    bench.lines.grab()
    goal = tmp_path / "wastegate.pdf"
    bench.save(str(goal))
    rest(window)
    first, second, third = printed(goal)  # pages that nobody looked at too; no train is said, and no page of it written
    assert "solenoid, port 1" in first and "spring only" in first and "Tubes, equal length" in second and "Turbine housing" in third
    (tmp_path / "none").write_text("no folder")
    bench.save(str(tmp_path / "none" / "wastegate.pdf"))
    rest(window)
    assert "cannot be written" in window.notice.text()
    assert "port 3" in bench.plan.accessibleDescription()
    type_into(bench.form.fields["wastegate.spring"], "2.4 bar")
    assert settle(window)
    check_result = next(v for v in window.desk.answer.check_results if v.id == "spring")
    assert check_result.state == "fails"
    window.desk.cure(check_result.title, check_result.changes)
    assert settle(window)
    rest(window)
    assert get(window.desk.project, "wastegate.spring").si < 1.2e5
    assert next(v for v in window.desk.answer.check_results if v.id == "spring").state == "ok"


def test_a_manifold_is_chosen_taken_and_undone(window: MainWindow) -> None:
    """Rows by hand and by keys; taken over, the design has it and the row of the design is that one; one undo."""
    bench = bench_of(window, MANIFOLDS)
    before = window.desk.project
    assert len(bench.schools) == 6 and not bench.take.isEnabled() and "full boost" in bench.gains.text()
    bench.rows.setFocus()
    QTest.keyClick(bench.rows, Qt.Key.Key_Down)
    assert bench.rows.key == "cast" and bench.take.isEnabled() and "Cast" in bench.rows.accessibleDescription()
    spot = QPointF(200.0, bench.rows.HEAD + 2.5 * bench.rows.ROW).toPoint()
    QTest.mouseClick(bench.rows, Qt.MouseButton.LeftButton, pos=spot)
    assert bench.rows.key == "log"
    bench.rows.grab()
    wanted = bench.schools[2]
    click(bench.take)
    assert settle(window)
    rest(window)
    assert window.desk.project.primaries == () and abs(bench.schools[0].threshold - wanted.threshold) < 1.0
    window.undo()
    assert window.desk.project == before


def test_without_a_gate_it_is_told(open_window: Callable[..., MainWindow]) -> None:
    """A blower has no wastegate and no page for one: the manifolds are shown instead. With a turbo in its place the page is there."""
    window = open_window(shipped.demo("moth"))
    bench = bench_of(window, GATE)
    rest(window)
    assert bench.page == MANIFOLDS and bench.pages[GATE].isHidden() and bench.pages[MANIFOLDS].isChecked()
    window.open_demo("tarn")
    assert not bench.pages[GATE].isHidden()
    window.open_demo("moth")
    assert settle(window)
    rest(window)
    assert len(bench.schools) == 5
    bench.rows.grab()


def test_heat_follows_cover_and_what_stands_near(window: MainWindow, tmp_path: Path) -> None:
    """Another thing near, another gap; a wrapped pipe may be touched where the bare one may not, and its metal is hotter; the
    probe's size, the duties and the paper follow."""
    bench = bench_of(window, HEAT)
    assert bench.around is not None and "costs" in bench.cost.text()
    rubber = heat.rows(bench.around, 4, {})
    bench.near.setCurrentIndex(0)
    bench.near.activated.emit(0)
    assert bench.heat_rows.thing == 0
    plastic = heat.rows(bench.around, 0, {})
    assert all(a.gap >= b.gap for a, b in zip(plastic, rubber, strict=True)) and plastic[0].gap > 1.5 * rubber[0].gap
    assert "No catalyst" in bench.known.text() and "hangers" in bench.known.text() and "Lambda probe" in bench.known.text()
    mid = {p.id: p for p in bench.around.parts.pieces}
    window.desk.edit("exhaust.e-mid.cover", "wrap")
    assert settle(window)
    rest(window)
    now = {p.id: p for p in bench.around.parts.pieces}
    assert now["e-mid"].metal > mid["e-mid"].metal + 30.0 and now["e-mid"].gaps[0][0] < mid["e-mid"].gaps[0][0]
    shown = [p.shown for p in bench.around.parts.probes]
    type_into(bench.heat_form.fields["fittings.probe_diameter"], "1/4 in")
    assert settle(window)
    rest(window)
    assert all(b < a for a, b in zip(shown, [p.shown for p in bench.around.parts.probes], strict=True))
    assert "Merge collector" in bench.heat_rows.accessibleDescription()
    bench.heat_rows.resize(300, 300)
    bench.heat_rows.grab()
    assert bench.field_of("fittings.turbo_mass") is not None and bench.field_of("wastegate.spring") is not None and bench.page == GATE
    bench.show_page(HEAT)
    goal = tmp_path / "heat.pdf"
    bench.save(str(goal))
    rest(window)
    words = "\n".join(printed(goal))
    assert "Turbine housing" in words and "carbon monoxide" in words


def test_a_train_is_typed(window: MainWindow, tmp_path: Path) -> None:
    """From nothing: a train as a driver knows it, a butterfly; charts, words, checks and paper follow, and what is not asked for is
    not shown."""
    bench = bench_of(window, TOW)
    assert bench.towed is None and "total mass" in bench.tow_words.text() and not bench.tow_form.fields["towing.gradient"].isVisible()
    type_into(bench.tow_form.fields["towing.mass"], "3500 lb + 400 kg")
    assert settle(window, first=True)
    assert bench.tow_form.fields["towing.gradient"].isVisible()
    type_into(bench.tow_form.fields["towing.gradient"], "1:12")
    type_into(bench.tow_form.fields["towing.gradient"], "8 %")
    type_into(bench.tow_form.fields["towing.speed"], "60 mph")
    assert settle(window)
    rest(window)
    assert bench.towed is not None and bench.tow_charts["speed"].isVisible() and not bench.tow_charts["brake"].isVisible()
    assert get(window.desk.project, "towing.speed").si > 26.0 and "Trailer" in bench.tow_words.text()
    assert any(v.id == "tow" for v in window.desk.answer.check_results)
    for chart in bench.tow_charts.values():
        chart.grab()
    goal = tmp_path / "towing.pdf"
    bench.save(str(goal))
    rest(window)
    assert "papers and law" in "\n".join(printed(goal))
    type_into(bench.tow_form.fields["towing.mass"], "0")
    assert settle(window, first=True)
    for _ in range(400):
        if bench.towed is None:
            break
        pause(25)
    assert bench.towed is None and not bench.tow_charts["speed"].isVisible()


def test_hoses_are_said_as_they_are(window: MainWindow) -> None:
    """Ends chosen one after the other: half a hose is told, exchanged ports fail, the cure puts the plan on; a fourth hose is only asked
    for with four ports."""
    bench = bench_of(window, GATE)

    def choose(place: str, end: str) -> None:
        box = bench.hose_form.fields[place]
        assert isinstance(box, QComboBox)
        box.setCurrentIndex(box.findData(end))
        box.activated.emit(box.currentIndex())
        assert settle(window)
        rest(window)

    assert not bench.plumbed.isVisible() and not bench.hose_form.fields["wastegate.hose_d"].isVisible()
    choose("wastegate.hose_a", "compressor")
    assert "Hose A ends nowhere" in bench.plumbed.text()
    for place, end in (("a_to", "vent"), ("b", "out"), ("b_to", "lower")):
        choose(f"wastegate.hose_{place}", end)
    assert "its reference is open" in bench.plumbed.text()
    check_result = next(v for v in window.desk.answer.check_results if v.id == "plumbing")
    assert check_result.state == "fails"
    window.desk.cure(check_result.title, check_result.changes)
    assert settle(window)
    rest(window)
    assert "no loop" in bench.plumbed.text() and get(window.desk.project, "wastegate.hose_a_to") == "in"
    assert next(v for v in window.desk.answer.check_results if v.id == "plumbing").state == "ok"


@pytest.mark.usefixtures("qapp")
def test_names_on_the_charts_have_room() -> None:
    """No name lies over another or over a curve, and all stay inside, for limits far apart, near each other and on one line."""
    for near in (200.0, 12.0, 0.0):
        chart = HeatChart("heat")
        chart.resize(460, 190)
        steps = tuple(float(n) for n in range(13))
        curves = [
            Curve("gas before the turbine", steps, tuple(565.0 - 40.0 * math.exp(-s) for s in steps)),
            Curve("turbine housing", steps, tuple(447.0 - 200.0 * math.exp(-s / 2) for s in steps), "soft"),
            Curve("gas limit", (0.0, 12.0), (730.0, 730.0), "limit"),
            Curve("housing limit", (0.0, 12.0), (730.0 - near, 730.0 - near), "limit"),
        ]
        chart.take(curves, "minutes", "°C")
        chart.grab()
        assert len(chart.places) == 4
        for n, place in enumerate(chart.places):
            assert chart.plot().contains(place) and not any(place.intersects(other) for other in chart.places[:n])
            assert not any(place.adjusted(0.0, 1.01, 0.0, -1.01).contains(QPointF(*spot)) for c in curves for spot in chart._spots(c))
        chart.deleteLater()


def test_the_pictures_of_a_hill_show_its_numbers() -> None:
    """Minutes to the end of the hill, degrees of the owner's unit, the limits level, the brake in its pressure unit: as they were worked
    out."""
    project = shipped.demo("skerry")
    found = towing_report(project)
    assert found.hill is not None and found.hill.warms is not None and found.hill.load is not None
    hill, warms, units = found.hill, found.hill.warms, {**project.shown_units, "temperature": "°C"}
    curves, symbol = presenter.over_minutes(found, units)
    assert symbol == "°C" and [c.way for c in curves] == ["strong", "soft", "limit", "limit"]
    assert curves[0].xs[-1] == pytest.approx(project.towing.duration.si / 60.0) and curves[0].xs[0] == 0.0
    assert curves[0].ys[-1] == pytest.approx(warms.gas[-1] - 273.15) and curves[1].ys[-1] == pytest.approx(warms.housing[-1] - 273.15)
    assert curves[2].ys == pytest.approx([hill.limit.good - 273.15] * 2) and len(set(curves[3].ys)) == 1
    over_speed, _, spot = presenter.over_speed(found, units)
    assert spot == (hill.gear, pytest.approx(hill.load.point.stations["turbine_inlet"].temperature - 273.15))
    assert over_speed[0].xs == tuple(hill.speeds) and over_speed[1].ys[0] == pytest.approx(hill.limit.good - 273.15)
    if found.brakes:
        brake, _ = presenter.over_brake(found, units)
        assert brake[0].xs == tuple(b.speed for b in found.brakes)


def test_a_page_that_waits_says_so(window: MainWindow) -> None:
    """The first look at each page says that it is worked on, and then what came of it."""
    window.show_bench("exhaust")
    bench = window.benches["exhaust"]
    for page, words in ((GATE, "headline"), (MANIFOLDS, "gains"), (HEAT, "cost"), (TOW, "tow_words")):
        bench.show_page(page)
        assert getattr(bench, words).text() == "Calculating…", page
        rest(window)
        assert getattr(bench, words).text() not in ("", "Calculating…"), page
