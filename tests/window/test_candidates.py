"""The Candidates bench, the tracing of a printed map, a turbo in the hand and a scaled one, in the real window."""

from __future__ import annotations

import io
import os
import threading
from collections.abc import Callable
from pathlib import Path

import matplotlib as mpl
import numpy as np
import pytest
from driving import click, field, pause, type_into
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from zarvik.formats import shipped
from zarvik.formats.atomic_writer import FileError
from zarvik.formats.trace_file import loads
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse
from zarvik.window.app import settle
from zarvik.window.benches import BENCHES
from zarvik.window.benches.candidates import presenter
from zarvik.window.benches.candidates.view import CandidatesBench
from zarvik.window.benches.goal.view import GoalBench
from zarvik.window.benches.turbo.picture_file import UnreadablePicture, read_picture
from zarvik.window.benches.turbo.tracing import TraceSheet
from zarvik.window.benches.turbo.view import TurboBench
from zarvik.window.frame.main_window import MainWindow
from zarvik.workspace import tracings

mpl.use("Agg")
from matplotlib import pyplot as plt

CHART = shipped.turbo_map("c51-67")


def rest(window: MainWindow) -> None:
    """Let everything be found out that is asked."""
    assert settle(window)
    for _ in range(4):
        window.session.jobs.idle()
        pause(20)


def bench_of(window: MainWindow) -> CandidatesBench:
    """The Candidates bench in front, all found out."""
    window.show_bench("candidates")
    rest(window)
    bench = window.benches["candidates"]
    assert isinstance(bench, CandidatesBench)
    return bench


def test_candidates_side_by_side(window: MainWindow) -> None:
    """A row each, numbered; the figures are the solver's; another stage has other ones; a figure opens its sheet at
    that stage; choosing a row is one step."""
    bench = bench_of(window)
    shown = [row for row in bench.rows if not row.isHidden()]
    assert [row.row.mark for row in shown] == ["1", "2", "3", "4"]
    chosen = next(row for row in shown if row.row.chosen)
    assert chosen.row.cells[0] == window.desk.text(window.desk.answer.target.power, "power")
    full = chosen.row.cells
    assert full[2].endswith("s") and full[3].endswith("s") and full[7] == "870\u00a0€" and full[8] == "10 Apr"
    mild = next(b for b in bench.findChildren(type(bench.modes["maps"])) if b.property("stage") == "mild")
    click(mild)
    assert chosen.row.cells[0] != full[0]
    QTest.keyClick(chosen, Qt.Key.Key_W)
    for mode in ("boost", "power", "seconds", "pull", "maps"):
        click(bench.modes[mode])
        rest(window)
        assert bench.chart.picture is not None and len(bench.chart.picture.curves) == 4
        assert not bench.chart.grab().isNull()
    for mode in (presenter.BOOST, presenter.POWER):
        alone = presenter.picture(mode, window.desk.project, bench.found.found[:1], 0, {})
        assert alone is not None and len(alone.curves) == 1, "one candidate has a chart too"
    other = next(row for row in shown if not row.row.chosen)
    QTest.mouseClick(other, Qt.MouseButton.LeftButton, pos=QPoint(60, 12))
    assert window.desk.project.turbo == other.row.id
    window.session.history.undo()


def test_a_housing_is_taken(window: MainWindow) -> None:
    """The sweep over housings: one more to the left wakes earlier; Enter takes it, undo brings the old one back."""
    bench = bench_of(window)
    click(bench.modes["housings"])
    rest(window)
    choices = bench.chart.choices
    assert len(choices) >= 7 and sum(c.own for c in choices) == 1
    bench.chart.setFocus()
    before = window.desk.project.chosen.turbine.housing
    QTest.keyClick(bench.chart, Qt.Key.Key_Left)
    QTest.keyClick(bench.chart, Qt.Key.Key_Return)
    rest(window)
    now = window.desk.project.chosen.turbine.housing
    assert now.si < before.si and now.unit == "in"
    again = bench.chart.choices
    assert next(c for c in again if c.own).x < next(c for c in choices if c.own).x
    window.session.history.undo()
    assert window.desk.project.chosen.turbine.housing == before


def test_the_decision_is_kept_with_its_reason(window: MainWindow, tmp_path: Path) -> None:
    """What was chosen, why, and what it gives up stand in the file."""
    from zarvik.formats import project_file

    bench = bench_of(window)
    assert "Trade-offs" in bench.given.text() and "compared with" in bench.given.text()
    words = bench.reason.fields["decision.reason"]
    words.setFocus()
    QTest.keyClicks(words, "fits under the bonnet")
    QTest.keyClick(words, Qt.Key.Key_Return)
    click(bench.keep)
    decision = window.desk.project.decision
    assert decision.turbo == "c54-71" and decision.reason == "fits under the bonnet"
    assert any("51" in line and "later" in line for line in decision.given_up)
    path = tmp_path / "a.zarvik.json"
    project_file.write(window.desk.project, path)
    assert project_file.read(path).decision == decision
    assert "fits under the bonnet" in bench.kept.text()
    notes = [entry.note(window.desk.project) for entry in BENCHES if entry.note is not None]
    assert any("decided: 54" in note for note in notes)


def test_money_and_dates_count(tarn: Project) -> None:
    """Dearer than the money, later than the day: tight or failing, whatever the figures say."""
    from zarvik.core.candidates.evaluation import evaluate
    from zarvik.project.assembly.assemble import assemble
    from zarvik.project.assembly.stages import asked_of
    from zarvik.project.assembly.turbos import candidates

    build = assemble(tarn)
    asked = asked_of(tarn)
    found = evaluate(build, (build.turbo, *candidates(tarn)), asked.stages)
    by_id = {w.turbo.id: w for w in found}
    assert presenter.state_of(tarn, by_id["c58-76"], 1) == "fails"  # 990 of 900 and June for May
    rich = with_value(tarn, "goal.budget", tarn.goal.budget.with_si(2000.0))
    late = with_value(rich, "goal.ready_by", "30 June 2027")
    assert late.goal.ready_by == "2027-06-30"
    assert presenter.state_of(late, by_id["c58-76"], 1) != "fails"
    # Two of 870 are over 900, and the rest of the build with one of them over what there is at all
    assert presenter.state_of(with_value(late, "turbos_fitted", parse("2", "count")), by_id["c54-71"], 1, 0.03) == "marginal"
    assert presenter.state_of(late, by_id["c54-71"], 1, 0.03, rest=1700.0) == "fails"
    # 328 of 330: a miss within the uncertainty is tight, one beyond it is not.
    assert presenter.state_of(late, by_id["c54-71"], 1, 0.03) == "marginal"
    assert presenter.state_of(late, by_id["c54-71"], 1, 0.0) == "fails"


def test_which_pulley_gives_the_boost(open_window: Callable[..., MainWindow]) -> None:
    """A blower shows its pulleys instead; the answer is told; taking one moves ratio and boost."""
    window = open_window(shipped.demo("moth"))
    bench = bench_of(window)
    assert bench.mode == "pulleys" and bench.modes["maps"].isHidden()
    answer = next(i for i, c in enumerate(bench.chart.choices) if c.answer)
    assert "69\u00a0mm" in bench.answer.text()
    before = window.desk.project.blower.drive_ratio.si
    spot = bench.chart._spots[answer] if bench.chart._spots else None
    bench.chart.grab()
    spot = bench.chart._spots[answer]
    QTest.mouseClick(bench.chart, Qt.MouseButton.LeftButton, pos=spot.toPoint())
    rest(window)
    assert window.desk.project.blower.pulley.si == pytest.approx(0.069)
    assert window.desk.project.blower.drive_ratio.si < before
    assert window.desk.answer.target.boost == pytest.approx(0.6e5, rel=1e-3)


def picture_of_a_map(path: Path, *, dpi: int = 140, colour: str = "black") -> Callable[[float, float], tuple[float, float]]:
    """Speed lines and two islands drawn by Matplotlib with axes that are known; gives where a value stands."""
    figure, ax = plt.subplots(figsize=(7.0, 5.5), dpi=dpi)
    for line in CHART.lines:
        ax.plot(line.flow, line.ratio, color=colour, lw=1.5)
    flow = np.concatenate([q.flow for q in CHART.lines])
    ratio = np.concatenate([q.ratio for q in CHART.lines])
    ax.tricontour(flow, ratio, np.concatenate([q.efficiency for q in CHART.lines]), levels=[0.70, 0.75], colors="#2060c0", linewidths=1.2)
    ax.set_xlim(0.0, 0.45)
    ax.set_ylim(1.0, 4.4)
    ax.grid(color="#cccccc", lw=0.6)
    figure.canvas.draw()
    tall = figure.canvas.get_width_height()[1]
    transform = ax.transData.frozen()
    buffer = io.BytesIO()
    figure.savefig(buffer, format="png", dpi=dpi)
    path.write_bytes(buffer.getvalue())
    plt.close(figure)

    def at(x: float, y: float) -> tuple[float, float]:
        px = transform.transform((x, y))
        return float(px[0]) - 0.5, float(tall - px[1]) - 0.5

    return at


def tracer(window: MainWindow, path: Path) -> TraceSheet:
    """The tracing sheet over the Turbo bench with a picture in it."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    assert isinstance(bench, TurboBench)
    bench.trace(str(path))
    pause(20)
    bench.tracer.canvas.whole()
    return bench.tracer


def put_point(sheet: TraceSheet, spot: tuple[float, float]) -> None:
    """Click where a px of the picture stands."""
    place = sheet.canvas.place(spot)
    QTest.mouseClick(sheet.canvas, Qt.MouseButton.LeftButton, pos=QPoint(round(place.x()), round(place.y())))


def set_axes(sheet: TraceSheet, at: Callable[[float, float], tuple[float, float]]) -> None:
    """Both axes by two points each, as a hand does it."""
    for tool, values, spots in (("across", ("0", "0.4"), ((0.0, 1.0), (0.4, 1.0))), ("up", ("1", "4"), ((0.0, 1.0), (0.0, 4.0)))):
        click(sheet.tools[tool])
        for line, text in zip(sheet.values, values, strict=True):
            line.clear()
            QTest.keyClicks(line, text)
        for spot in spots:
            put_point(sheet, at(*spot))
    sheet.unit.setCurrentText("kg/s")
    sheet.unit.activated.emit(sheet.unit.currentIndex())


def test_a_printed_map_comes_back_through_the_window(window: MainWindow, tmp_path: Path) -> None:
    """Drawn by a plotting library, traced with clicks at three places of each line: every point of the map within
    1 % of full scale; taken as a candidate in one step."""
    path = tmp_path / "printed.png"
    at = picture_of_a_map(path)
    sheet = tracer(window, path)
    set_axes(sheet, at)
    click(sheet.tools["speed"])
    for line in CHART.lines:
        sheet.values[0].clear()
        QTest.keyClicks(sheet.values[0], f"{line.speed:.0f}")
        for i in (0, len(line.flow) // 2, len(line.flow) - 1):
            put_point(sheet, at(line.flow[i], line.ratio[i]))
        QTest.keyClick(sheet.canvas, Qt.Key.Key_Return)
    assert len(sheet.tracing.traces) == len(CHART.lines)
    # An island, closed by hand
    click(sheet.tools["island"])
    sheet.values[0].clear()
    QTest.keyClicks(sheet.values[0], "70 %")
    for spot in ((0.10, 1.9), (0.16, 2.7), (0.24, 3.2)):
        put_point(sheet, at(*spot))
    QTest.keyClick(sheet.canvas, Qt.Key.Key_Backspace)
    QTest.keyClick(sheet.canvas, Qt.Key.Key_Return)
    assert len(sheet.tracing.traces) == len(CHART.lines) + 1
    sheet.list.setCurrentRow(len(CHART.lines))
    sheet.drop()
    assert sheet.make.isEnabled() and "8 lines" in sheet.message.text()
    click(sheet.make)
    rest(window)
    made = window.desk.project.turbos[-1]
    assert made.estimated == "efficiency" and made.name == "printed"
    for mine, own in zip(made.lines, CHART.lines, strict=True):
        assert mine.speed_rpm == own.speed
        slope = np.gradient(own.ratio, own.flow)
        for m, r, _ in mine.points:
            steep = float(np.interp(m, own.flow, slope)) * 0.45 / 4.4
            off = abs(r - float(np.interp(m, own.flow, own.ratio))) / 4.4 / np.sqrt(1.0 + steep**2)
            assert off < 0.01, (own.speed, m, off)
    window.session.history.undo()
    assert len(window.desk.project.turbos) == 4


def test_tracing_forgives(window: MainWindow, tmp_path: Path) -> None:
    """Clicks before the axes, a speed that is none, the same speed twice, a single point, a point pulled by hand: told,
    nothing lost, no fault."""
    path = tmp_path / "printed.png"
    at = picture_of_a_map(path, colour="#b02020")
    sheet = tracer(window, path)
    click(sheet.tools["speed"])
    put_point(sheet, at(0.1, 2.0))
    assert "is needed" in sheet.message.text() or "number" in sheet.message.text()
    QTest.keyClicks(sheet.values[0], "12")
    put_point(sheet, at(0.1, 2.0))
    assert "speed" in sheet.message.text() and not sheet.tracing.traces
    sheet.values[0].clear()
    line = CHART.lines[4]
    QTest.keyClicks(sheet.values[0], "120.1k")
    put_point(sheet, at(line.flow[0], line.ratio[0]))
    QTest.keyClick(sheet.canvas, Qt.Key.Key_Return)
    assert not sheet.tracing.traces  # one point is no line
    sheet.values[0].clear()
    QTest.keyClicks(sheet.values[0], "120.1k")
    put_point(sheet, at(line.flow[0], line.ratio[0]))
    put_point(sheet, at(line.flow[-1], line.ratio[-1]))
    assert "both axes" in sheet.message.text()
    trace = sheet.canvas.active
    assert trace is not None and trace.value == 120100.0
    before = trace.spots.copy()
    middle = before[len(before) // 2]
    place = sheet.canvas.place(middle).toPoint()
    QTest.mousePress(sheet.canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, place)
    QTest.mouseMove(sheet.canvas, place + QPoint(0, 12))
    QTest.mouseRelease(sheet.canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, place)
    moved = np.abs(trace.spots - before).max(axis=1)
    assert moved.max() > 3.0 and moved[0] < 0.5
    QTest.keyClick(sheet.canvas, Qt.Key.Key_Return)
    set_axes(sheet, at)
    click(sheet.tools["speed"])
    QTest.keyClicks(sheet.values[0], "120100")
    put_point(sheet, at(line.flow[0], line.ratio[0]))
    assert "already traced" in sheet.message.text()
    assert (not sheet.make.isEnabled() and "two speed lines" in sheet.message.text()) or "already" in sheet.message.text()
    sheet.reference[0].setText("nonsense")
    sheet.reference[0].editingFinished.emit()
    assert "nonsense" in sheet.message.text()
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert sheet.isHidden()


def test_pictures_that_are_none(tmp_path: Path, window: MainWindow) -> None:
    """A text, a torn picture, a bomb, one of a few px: a sentence each, and the picture that was there stays."""
    good = tmp_path / "good.png"
    picture_of_a_map(good)
    sheet = tracer(window, good)
    before = sheet.tracing
    text = tmp_path / "words.png"
    text.write_text("no picture at all")
    torn = tmp_path / "torn.png"
    torn.write_bytes(good.read_bytes()[:400])
    tiny = tmp_path / "tiny.png"
    QImage(4, 4, QImage.Format.Format_RGB32).save(str(tiny))
    bomb = tmp_path / "bomb.png"
    # A header that says 60,000 x 60,000 px, and nothing behind it that could fill them
    import struct
    import zlib

    head = struct.pack(">IIBBBBB", 60_000, 60_000, 8, 2, 0, 0, 0)
    chunk = b"IHDR" + head
    bomb.write_bytes(b"\x89PNG\r\n\x1a\n" + struct.pack(">I", len(head)) + chunk + struct.pack(">I", zlib.crc32(chunk)))
    for bad in (text, torn, tiny, bomb, tmp_path / "missing.png"):
        with pytest.raises(UnreadablePicture):
            read_picture(str(bad))
        sheet.load(str(bad))
        assert bad.name in sheet.message.text() and sheet.tracing is before
    # One bit, grey and transparent ones are read.
    for form in (QImage.Format.Format_Mono, QImage.Format.Format_Grayscale8, QImage.Format.Format_ARGB32):
        QImage(str(good)).convertToFormat(form).save(str(tmp_path / "other.png"))
        assert read_picture(str(tmp_path / "other.png")).format() == QImage.Format.Format_RGB888


def test_a_turbo_in_the_hand_by_trim_and_flange(window: MainWindow) -> None:
    """Exducer and trim make the inducer; flange and bolts name the nearest; both go with the candidate."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    bench.measure()
    sheet = bench.measured
    type_into(sheet.fields[1], "67 mm")
    QTest.keyClicks(sheet.trim, "58")
    assert sheet.fields[0].quantity.si == pytest.approx(0.0510, abs=1e-4)
    type_into(sheet.bolts, "78 mm")
    box = sheet.choices["flange"]
    box.setCurrentIndex(box.findData("four_bolt"))
    box.activated.emit(box.currentIndex())
    QTest.keyClicks(sheet.donor, "2.5 L petrol saloon")
    first = sheet.message.text().splitlines()[1]
    assert "51 × 67" in first and "flange fits" in first and "bolts fits" in first and "donor fits" in first
    click(sheet.make)
    rest(window)
    made = window.desk.project.turbos[-1]
    assert made.fit.flange == "four_bolt" and made.fit.bolts.si == pytest.approx(0.078)
    assert made.wheels is not None and made.fit.donor == "2.5 L petrol saloon"


def test_a_map_is_scaled(window: MainWindow) -> None:
    """The chosen map for a larger wheel: flow by the square; a size that says nothing is told."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    bench.scale()
    sheet = bench.scaler
    assert sheet.fields[0].quantity.si == pytest.approx(0.054)
    type_into(sheet.fields[1], "150 mm")
    assert not sheet.make.isEnabled() and "0.5 to 2" in sheet.message.text()
    type_into(sheet.fields[1], "59.4 mm")
    flow = window.desk.project.chosen.lines[-1].points[-1][0]
    assert window.desk.text(1.21 * flow, "mass_flow") in sheet.message.text(), "the most that the fastest line passes"
    click(sheet.make)
    rest(window)
    own, made = window.desk.project.chosen, window.desk.project.turbos[-1]
    assert made.estimated == "scaled"
    assert made.lines[0].points[0][0] == pytest.approx(1.21 * own.lines[0].points[0][0], rel=1e-6)


def test_a_pump_is_set_as_a_pump_is_said(open_window: Callable[..., MainWindow]) -> None:
    """A diesel by mm³ a stroke: the entries that do not count go, those of the pump come; lambda is told."""
    window = open_window(shipped.demo("skerry"))
    brief = window.benches["goal"]
    box = brief.field_of("engine.fuelling")
    assert box is not None and box.isVisible() and not field(brief, "engine.delivery").isVisible()
    box.setCurrentIndex(box.findData("stroke"))
    box.activated.emit(box.currentIndex())
    assert settle(window)
    entry = field(brief, "engine.delivery")
    assert entry.isVisible() and not field(brief, "engine.full_load_lambda").isVisible()
    type_into(entry, "85 mm3/stroke")
    assert settle(window)
    assert window.desk.answer.target.mixture < 1.6 and "lambda" in brief.figures.text()
    box.setCurrentIndex(box.findData("table"))
    box.activated.emit(box.currentIndex())
    assert settle(window)
    assert brief.tables["delivery_table"].isVisible() and not entry.isVisible()
    assert window.desk.project.engine.delivery_table[0][1] == pytest.approx(85e-9)


def test_a_date_counts_when_it_is_all_there(window: MainWindow) -> None:
    """Half a date does not count and does not stay; a whole one is written as the file has it."""
    window.show_bench("goal")
    entry = window.benches["goal"].field_of("goal.ready_by")
    assert entry is not None and entry.text() == "2027-05-15"
    entry.setFocus()
    entry.selectAll()
    QTest.keyClicks(entry, "1.3.20")
    assert window.desk.project.goal.ready_by == "2027-05-15"  # that would be a day of 2020
    QTest.keyClicks(entry, "27")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert window.desk.project.goal.ready_by == "2027-03-01" and entry.text() == "2027-03-01"
    entry.selectAll()
    QTest.keyClicks(entry, "next spring")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert "is not a date" in entry.toolTip() and window.desk.project.goal.ready_by == "2027-03-01"
    window.benches["goal"].field_of("goal.target_power").setFocus()
    assert entry.text() == "2027-03-01"
    entry.setFocus()
    entry.clear()
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert window.desk.project.goal.ready_by == ""


def test_a_pump_is_set_by_its_row(open_window: Callable[..., MainWindow]) -> None:
    """The page is there where the pump says what it gives, and only there; a row sets the pump in one step, which is taken back in one."""
    window = open_window(with_value(shipped.demo("skerry"), "engine.fuelling", "stroke"))
    window.show_bench("goal")
    bench = window.benches["goal"]
    assert isinstance(bench, GoalBench) and bench.head.isVisible()
    dict(bench.commands())["Pump settings"]()
    rest(window)
    shown = [r for r in bench.pump.rows if r.isVisible()]
    assert 4 <= len(shown) == len(bench.pump.found) and shown[0].row is not None and shown[0].row.chosen
    assert "Up to" in bench.pump.words.text() and "mm³" in bench.pump.heads.heads[0]
    before = window.desk.project
    click(shown[2])
    assert window.desk.project.engine.screw.si == 1.0 and window.desk.project.engine.pump.si == 1.0
    rest(window)
    now = [r.row.chosen for r in bench.pump.rows if r.isVisible() and r.row is not None]
    assert now.index(True) == 2 and now.count(True) == 1
    click(shown[2])  # it is set so already
    window.undo()
    assert window.desk.project == before
    rest(window)
    # Set by lambda again, and with another engine, there is nothing to set
    window.desk.edit("engine.fuelling", "lambda")
    rest(window)
    assert not bench.head.isVisible() and bench.page == "load" and bench.chart.isVisible() and not dict(bench.commands())


def test_an_older_step_of_a_tracing_never_covers_a_newer_one(
    open_window: Callable[..., MainWindow], tarn: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Undone, then another picture, and back, while the writer beside the window is late: the newest state is what is there."""
    window = open_window(tarn)
    first, second = tmp_path / "one.png", tmp_path / "two.png"
    at = picture_of_a_map(first)
    picture_of_a_map(second, colour="#204080")
    begun, go = threading.Event(), threading.Event()
    keep = tracings.keep

    def late(key: str, text: str, picture: bytes) -> None:
        if threading.current_thread() is not threading.main_thread() and not begun.is_set():
            begun.set()
            assert go.wait(20.0)
        keep(key, text, picture)

    sheet = tracer(window, first)
    set_axes(sheet, at)
    click(sheet.tools["speed"])
    line = CHART.lines[0]
    QTest.keyClicks(sheet.values[0], f"{line.speed:.0f}")
    for i in (0, len(line.flow) - 1):
        put_point(sheet, at(line.flow[i], line.ratio[i]))
    QTest.keyClick(sheet.canvas, Qt.Key.Key_Return)
    rest(window)
    monkeypatch.setattr(tracings, "keep", late)
    sheet.list.setCurrentRow(0)
    sheet.drop()
    while not begun.is_set():
        pause(10)
    # The writer holds the step without the trace; the window goes on
    window.undo()
    assert len(sheet.tracing.traces) == 1
    threading.Timer(0.2, go.set).start()
    sheet.load(str(second))
    click(sheet.back)
    window.session.jobs.idle()
    sheet.load(str(second))
    sheet.load(str(first))
    assert len(sheet.tracing.traces) == 1
    window.session.jobs.idle()
    kept = tracings.kept(tracings.key_of(first.read_bytes()))
    assert kept is not None and len(loads(kept).traces) == 1
    # A disc that is full once: nothing of it is forgotten
    monkeypatch.setattr(tracings, "keep", lambda *_: (_ for _ in ()).throw(FileError("No room.")))
    unkept = tracings.PendingTracing()
    unkept.set("full", "{}", b"picture")
    with pytest.raises(FileError, match="No room"):
        unkept.write()
    monkeypatch.setattr(tracings, "keep", keep)
    unkept.write()
    assert tracings.kept("full") == "{}"


def test_a_tracing_is_kept_and_undone(open_window: Callable[..., MainWindow], tarn: Project, tmp_path: Path) -> None:
    """Every step can be taken back, a trace that was taken out too, and the document stays as it is; another picture takes nothing away; a
    window that is opened anew goes on where the last one was left; a damaged file is told and changes nothing."""
    window = open_window(tarn)
    first, second = tmp_path / "one.png", tmp_path / "two.png"
    at = picture_of_a_map(first)
    picture_of_a_map(second, colour="#204080")
    sheet = tracer(window, first)
    QTest.mouseMove(sheet.canvas, QPoint(40, 40))
    assert sheet.canvas.hover is not None, "the spot under the hand is shown before it is clicked"
    before = window.desk.project
    set_axes(sheet, at)
    click(sheet.tools["speed"])
    for line in CHART.lines[:2]:
        sheet.values[0].clear()
        QTest.keyClicks(sheet.values[0], f"{line.speed:.0f}")
        for i in (0, len(line.flow) - 1):
            put_point(sheet, at(line.flow[i], line.ratio[i]))
        QTest.keyClick(sheet.canvas, Qt.Key.Key_Return)
    whole = [t.spots for t in sheet.tracing.traces]
    sheet.list.setCurrentRow(0)
    sheet.drop()
    assert len(sheet.tracing.traces) == 1
    window.undo()
    assert len(sheet.tracing.traces) == 2 and window.desk.project is before
    assert all(np.allclose(a, t.spots, atol=2e-3) for a, t in zip(whole, sheet.tracing.traces, strict=True))
    window.redo()
    assert len(sheet.tracing.traces) == 1
    window.undo()
    unit = sheet.unit.currentIndex()
    QTest.keyClick(sheet.unit, Qt.Key.Key_Down)
    window.undo()
    assert sheet.unit.currentIndex() == unit
    window.redo()
    assert sheet.unit.currentIndex() == unit + 1, "what was undone can be done again"
    window.undo()
    sheet.load(str(second))
    assert not sheet.tracing.traces
    click(sheet.back)
    assert len(sheet.tracing.traces) == 2 and sheet.tracing.across is not None and sheet.axis["up"]
    sheet.load(str(second))
    sheet.load(str(first))
    assert len(sheet.tracing.traces) == 2 and "traced before" in sheet.text.text()
    rest(window)
    assert tracings.kept(tracings.key_of(second.read_bytes())) is None, "nothing was traced on it"
    # Ended without a word, as by a cut: nothing but what was kept is there
    again = open_window(tarn)
    again.show_bench("turbo")
    again.benches["turbo"].trace()
    other = again.benches["turbo"].tracer
    assert len(other.tracing.traces) == 2 and other.name.text() == "one" and other.unit.currentText() == "kg/s"
    assert other.desk.own_steps is other
    other.hide()
    assert other.desk.own_steps is None and again.desk.project is not None
    text = tracings.kept(other._key)
    assert text is not None
    for damaged in (
        text[:200],
        text.replace("[", "[null,", 3),
        "{}",
        '{"document":"zarvik-trace","version":9}',
        text.replace('"speed"', '"tempo"'),
    ):
        other._restore(damaged)
        assert len(other.tracing.traces) == 2 and "not a map tracing" in other.message.text()


def test_only_the_newest_tracings_stay(tmp_path: Path) -> None:
    """A folder that does not grow for ever; a picture that is gone is no tracing."""
    for number in range(tracings.MOST + 3):
        tracings.keep(f"k{number:03}", "{}", b"picture")
        os.utime(tracings.folder() / f"k{number:03}.json", ns=(number * 10**9, number * 10**9))
    tracings.keep("newest", "{}", b"picture")
    left = {p.stem for p in tracings.folder().glob("*.json")}
    assert len(left) == tracings.MOST and "newest" in left and "k000" not in left
    assert tracings.last() == "newest"
    (tracings.folder() / "newest.picture").unlink()
    assert tracings.last() != "newest" and tracings.kept("none") is None


@pytest.mark.parametrize("seed", [1, 2])
def test_a_random_hand_on_a_picture(window: MainWindow, tmp_path: Path, seed: int) -> None:
    """Tools, values, clicks anywhere, keys, zoom, pulls, drops: nothing raises, and what is told is a sentence."""
    import random

    pick = random.Random(seed)
    path = tmp_path / "printed.png"
    at = picture_of_a_map(path, dpi=70)
    sheet = tracer(window, path)
    if seed != 2:
        set_axes(sheet, at)
    keys = (Qt.Key.Key_Return, Qt.Key.Key_Backspace, Qt.Key.Key_0, Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_Left)
    texts = ("90000", "120k", "72 %", "0.7", "abc", "", "1e9", "-3", "75", "5")
    for _ in range(120):
        what = pick.randrange(9)
        if what == 0:
            sheet.use(pick.choice(list(sheet.tools)))
        elif what == 1:
            line = pick.choice(sheet.values)
            line.setText(pick.choice(texts))
            line.textEdited.emit(line.text())
        elif what == 2:
            QTest.keyClick(sheet.canvas, pick.choice(keys))
        elif what == 3:
            sheet.list.setCurrentRow(pick.randrange(-1, 4))
        elif what == 4:
            sheet.drop()
        elif what == 5:
            line = pick.choice((*sheet.reference, sheet.peak))
            line.setText(pick.choice(("100 kPa", "29 inHg", "0", "-4 K", "25 C", "x", "78 %", "")))
            line.editingFinished.emit()
        else:
            spot = QPoint(pick.randrange(sheet.canvas.width()), pick.randrange(sheet.canvas.height()))
            held = pick.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier))
            QTest.mouseMove(sheet.canvas, spot)
            QTest.mouseClick(sheet.canvas, Qt.MouseButton.LeftButton, held, spot)
            sheet._follow()
        assert not sheet.canvas.grab().isNull()
    if sheet.make.isEnabled():
        click(sheet.make)
        rest(window)
