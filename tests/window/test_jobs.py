"""Long work, faults, journals, recent projects, and what is on the screen."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from driving import click, field, pause, type_into, wait_for
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel

from zarvik.formats import shipped
from zarvik.project.document.document import Project
from zarvik.project.edits import edits
from zarvik.project.units.units import parse
from zarvik.window import app
from zarvik.window.app import settle
from zarvik.window.benches import BENCHES
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.form import Form
from zarvik.window.parts.quantity_field import QuantityField
from zarvik.workspace import settings
from zarvik.workspace.job_store import DONE, Job, JobProgress


def test_searching_the_catalogue(window: MainWindow) -> None:
    """The search runs beside the window; Enter takes a find over, one undo brings the old back."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    turbo = window.session.project.turbo
    click(bench.search)
    window.session.jobs.idle()
    pause(30)
    assert bench.finds.isVisible() and not window.strip.isVisible()
    best = bench.finds.finds[0]
    QTest.keyClick(bench.finds.rows[0], Qt.Key.Key_W)
    panel = window.side.calculation
    assert panel.beside is not None and panel.beside.name == best.turbo.name
    assert panel.sheet is not None
    assert panel.sheet.result.value == pytest.approx(best.figures.power, rel=1e-3)
    QTest.keyClick(bench.finds.rows[0], Qt.Key.Key_Return)
    assert not bench.finds.isVisible()
    assert settle(window)
    chosen = window.session.project.chosen
    assert chosen is not None and chosen.name == best.turbo.name
    assert window.desk.answer.target.power == pytest.approx(best.figures.power, rel=1e-4)
    window.undo()
    assert window.session.project.turbo == turbo


def test_a_search_of_the_design_before_is_not_shown(window: MainWindow) -> None:
    """The boost is changed while the catalogue is searched: nothing is shown as if it were of the new
    boost; a list that is shown goes with the next change."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    click(bench.search)
    window.desk.edit("goal.target_boost", parse("0.5 bar", "pressure_gauge"))
    assert window.session.jobs.idle()
    pause(30)
    assert not bench.finds.isVisible() and "search again" in window.notice.text()
    click(bench.search)
    assert window.session.jobs.idle()
    pause(30)
    assert bench.finds.isVisible()
    assert settle(window)
    chosen = window.desk.answer.build.turbo
    same = [f for f in bench.finds.finds if f.turbo.chart.name == chosen.chart.name and abs(f.housing - chosen.turbine.housing) < 1e-6]
    for find in same:
        assert find.figures.power == pytest.approx(window.desk.answer.target.power, rel=1e-4)
    window.desk.edit("goal.target_boost", parse("0.6 bar", "pressure_gauge"))
    assert not bench.finds.isVisible()


def test_long_work_that_fails_says_why(window: MainWindow) -> None:
    """The sentence names the work and the reason; the document is as it was."""
    before = window.session.project

    def fail(watch: JobProgress) -> None:
        raise OSError("the disk is full")

    window.desk.ask(Job("book", 1, fail, "work", title="Writing the book"))
    window.session.jobs.idle()
    pause(30)
    assert "the disk is full" in window.notice.text()
    assert window.session.project is before and not window.strip.isVisible()


def test_all_that_runs_is_shown(window: MainWindow) -> None:
    """Two jobs of two lanes have a row each, a third that waits behind one of them is counted; one is cancelled and the other goes on
    until it is done; then the strip is gone."""
    done = threading.Event()

    def until(watch: JobProgress) -> str:
        while not done.wait(0.005):
            watch(0.5)
        return "done"

    jobs = [
        Job(key, 1, until, lane, title=title)
        for key, lane, title in (("a", "work", "Sawing"), ("b", "side", "Filing"), ("c", "work", "Painting"))
    ]
    for job in jobs:
        window.desk.ask(job)
        assert wait_for(lambda: {"a"} <= set(window.strip.rows))
    assert wait_for(lambda: set(window.strip.rows) == {"a", "b"} and "1 waiting" in window.strip.rows["a"].words.text())
    assert window.strip.rows["b"].words.text() == "Filing" and all(row.isVisible() for row in window.strip.rows.values())
    window.strip.rows["b"].cancel.click()
    assert wait_for(lambda: set(window.strip.rows) == {"a"}) and window.strip.isVisible()
    done.set()
    assert wait_for(lambda: not window.strip.isVisible()) and not window.strip.rows
    assert [window.desk.known(job) for job in jobs] == ["done", None, "done"]


def test_cancelling_long_work(window: MainWindow) -> None:
    """The strip shows what runs, with its progress; Cancel ends it and nothing is handed over."""

    def slow(watch: JobProgress) -> str:
        share = 0.0
        while True:
            watch(min(share, 0.9))
            share += 1e-5

    asked = Job("rivets", 1, slow, "work", title="Counting rivets")
    window.desk.ask(asked)
    for _ in range(2000):
        pause(10)
        if "rivets" in window.strip.rows and window.strip.rows["rivets"].bar.value() > 0:
            break
    row = window.strip.rows["rivets"]
    assert window.strip.isVisible() and row.words.text() == "Counting rivets"
    row.cancel.click()
    assert window.session.jobs.idle()
    pause(30)
    assert window.desk.known(asked) is None and "cancelled" in window.notice.text()


def test_recent_projects_and_a_copy(window: MainWindow, tmp_path: Path) -> None:
    """A saved project is among the recent ones at the next start; a copy has no file yet and
    leaves the file of the original alone."""
    path = tmp_path / "hill.zarvik.json"
    window.save_as(str(path))
    text = path.read_text("utf-8")
    assert settings.load().recent == (str(path),)
    window.duplicate()
    assert window.session.path is None
    assert window.session.project.name == "Tarn (copy)"
    assert path.read_text("utf-8") == text
    window._fill_recent()
    assert path.name in window.recent.actions()[0].text()


def test_running_up_the_revs(window: MainWindow) -> None:
    """Space runs through the speeds and stops; the target's key goes back."""
    window.slider.setFocus()
    window.desk.set_speed(1000.0)
    QTest.keyClick(window.slider, Qt.Key.Key_Space)
    assert window.slider.playing
    for _ in range(200):
        pause(20)
        if window.desk.speed > 1000.0:
            break
    QTest.keyClick(window.slider, Qt.Key.Key_Space)
    assert not window.slider.playing
    assert window.desk.speed > 1000.0
    click_at = QPointF(26, 12).toPoint()
    QTest.mouseClick(window.slider, Qt.MouseButton.LeftButton, pos=click_at)
    assert window.slider.playing
    QTest.mouseClick(window.slider, Qt.MouseButton.LeftButton, pos=click_at)


def test_the_unexpected_is_told_calmly_and_logged(window: MainWindow, state_folder: Path) -> None:
    """An error of the program leaves the document, writes a log, and says where it is."""
    before = window.session.project
    try:
        raise RuntimeError("odd")
    except RuntimeError as error:
        app._hook(window)(RuntimeError, error, error.__traceback__)
    assert "unexpected" in window.notice.text()
    assert "RuntimeError: odd" in (state_folder / "faults.log").read_text()
    assert window.session.project is before


def test_what_lay_over_the_window_closes_when_its_origin_is_gone(window: MainWindow) -> None:
    """The keys and the finder were opened from a field that has gone since: they close all the
    same, by click and by key."""
    for number, opened in enumerate((window.show_keys, window.finder.open)):
        window.desk.go("piece:c-run")
        entry = window.benches["pipes"].field_of("cold_pipe.c-run.bore")
        assert entry is not None
        entry.setFocus()
        opened()
        window.desk.choose_piece("c-up" if number else "c-back")
        pause(5)
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        if number:
            window.finder.leave()
            assert not window.finder.isVisible()
        else:
            label = window.keys.findChildren(QLabel)[1]
            QTest.mouseClick(label, Qt.MouseButton.LeftButton)
            assert not window.keys.isVisible()


def test_hovering_says_the_stations_numbers(window: MainWindow) -> None:
    """Pressure and temperature before and behind a piece, its flow, what it loses; the tint of a
    hot one in words."""
    profile, point = window.run.profile, window.desk.point
    assert profile is not None
    for key, words in (("cooler", "after"), ("primaries", "steel glows")):
        span = next(s for s in profile.spans if s.stretch.id == key)
        text = window.run._numbers(span)
        for name in (span.stretch.start, span.stretch.end):
            station = point.stations[name]
            assert window.desk.text(station.pressure, "pressure_absolute") in text
            assert window.desk.text(station.temperature, "temperature") in text
        assert window.desk.text(point.stations[span.stretch.end].flow, "mass_flow") in text
        assert words in text


def test_a_torque_curve_is_typed_in(window: MainWindow) -> None:
    """Choosing the stock torque fills a table from the shape that was there; rows are taken over
    while they are typed, what cannot be read is said and kept, one undo takes the typing back."""
    bench = window.benches["goal"]
    choice = next(f.fields["engine.breathing"] for f in bench.forms if "engine.breathing" in f.fields)
    choice.setCurrentIndex(choice.findData("stock_torque"))
    choice.activated.emit(choice.currentIndex())
    assert settle(window)
    assert window.desk.answer is not None and len(window.session.project.engine.stock_torque) > 6
    assert not field(bench, "engine.best_breathing").isEnabled()
    window.go_to_place("engine.stock_torque")
    pause(20)
    lines = QApplication.focusWidget()
    table = bench.tables["stock_torque"]
    assert lines is table.lines
    lines.selectAll()
    for number, text in enumerate(("1500 190", "3000 215", "5000 220", "6500 180")):
        if number:
            QTest.keyClick(lines, Qt.Key.Key_Return)
        QTest.keyClicks(lines, text)
    assert window.session.project.engine.stock_torque == ((1500.0, 190.0), (3000.0, 215.0), (5000.0, 220.0), (6500.0, 180.0))
    QTest.keyClick(lines, Qt.Key.Key_Return)
    QTest.keyClicks(lines, "6000 90")
    assert "line 5" in table.fault.text() and table.fault.isVisible()
    field(bench, "engine.bore").setFocus()
    assert "6000 90" in lines.toPlainText()
    assert len(window.session.project.engine.stock_torque) == 4
    window.undo()
    assert len(window.session.project.engine.stock_torque) > 6
    assert "6000 90" not in lines.toPlainText() and not table.fault.isVisible()
    assert window.benches["goal"].opens("engine.breathing_table")


def test_a_piece_of_the_same_key_in_another_run(window: MainWindow) -> None:
    """Another demo has a throttle too, but before its blower: its own entries are shown, and what
    is no piece at all leaves the bench as it was."""
    window.desk.go("piece:throttle")
    bench = window.benches["pipes"]
    assert "cold_pipe.throttle.bore" in bench.form.fields
    window.open_demo("moth")
    assert settle(window)
    assert bench.form is not None
    assert all(edits.get(window.session.project, place) for place in bench.form.fields)
    window.desk.go("piece:throttle")
    assert "intake.throttle.bore" in bench.form.fields
    window.desk.go("piece:engine")
    assert "intake.throttle.bore" in bench.form.fields
    window.show_bench("turbo")
    turbos = window.benches["turbo"]
    turbos._choose("gone")
    assert window.session.project.turbo != "gone"


def test_nothing_keeps_the_ink_of_the_other_theme(window: MainWindow) -> None:
    """After the theme has turned no text holds a colour that only the other palette has."""
    from PySide6.QtWidgets import QLabel

    from zarvik.window.theme.palette import DARK, LIGHT

    def inks(palette: object) -> set[str]:
        return {v.lower() for v in vars(palette).values() if isinstance(v, str) and v.startswith("#")}

    # The leaves of the side are the same beside every bench.
    # Those whose texts have links, which carry an ink of their own.
    for leaf, benches in (("checks", ["goal", "turbo", "pipes", "exhaust", "designs", "compare"]), ("calculation", ["turbo", "layout"])):
        window.turn_to(leaf)
        for bench in benches:
            window.show_bench(bench)
            assert settle(window)
            window.turn_theme()
            while not window.updatesEnabled():  # one part after the other
                pause(5)
            other = inks(LIGHT if window.theme == "dark" else DARK)
            mine = inks(DARK if window.theme == "dark" else LIGHT)
            for label in window.findChildren(QLabel):
                if label.isVisible():
                    wrong = {c for c in other - mine if c in label.text().lower()}
                    assert not wrong, (label.text()[:80], wrong)


def test_a_journal_that_cannot_be_written_is_said(open_window: object, tarn: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    """Where no edit can be kept against a power cut the header says so, and work goes on."""
    monkeypatch.setenv("ZARVIK_STATE", "/proc/nowhere")
    window = open_window(tarn)  # type: ignore[operator]
    assert settle(window)
    window.desk.edit("goal.target_boost", parse("0.9 bar", "pressure_gauge"))
    assert settle(window) and window.session.journalled()
    window.desk.edit("goal.target_boost", parse("0.8 bar", "pressure_gauge"))
    assert settle(window)
    assert "no crash recovery" in window.state.whole
    assert window.desk.answer.target.boost == pytest.approx(0.8e5, rel=1e-3)


def test_a_turbo_from_its_wheels(window: MainWindow) -> None:
    """Sizes are typed, the nearest of the catalogue is named with what does not fit; nonsense cannot be made;
    the turbo stands among the candidates with its map marked as estimated."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    bench.measure()
    sheet = bench.measured
    assert sheet.isVisible() and not sheet.make.isEnabled() and not sheet.take.isEnabled()
    type_into(sheet.fields[0], "51.1")
    assert sheet.take.isEnabled() and not sheet.make.isEnabled()
    type_into(sheet.fields[1], "45 mm")
    assert "smaller than the exducer" in sheet.message.text() and not sheet.make.isEnabled()
    type_into(sheet.fields[1], "67 mm")
    assert "Trim 58" in sheet.message.text() and "51 × 67 mm wheel (invented) is the same" in sheet.message.text()
    type_into(sheet.fields[2], "2.4 in")
    assert "is the same" not in sheet.message.text() and "turbine wheel +" in sheet.message.text()
    click(sheet.make)
    assert settle(window) and sheet.isHidden()
    made = window.session.project.turbos[-1]
    assert made.wheels is not None and made.turbine.wheel.unit == "in" and made.turbine.exducer.known == "?"
    bench._choose(made.id)
    assert settle(window)
    assert bench.title.text().startswith("Estimated: ")
    inducer = bench.turbine.fields[f"turbos.{made.id}.wheels.inducer"]
    before = made.lines
    type_into(inducer, "52 mm")
    assert settle(window)
    assert window.session.project.turbos[-1].lines != before
    bench.measure()
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert sheet.isHidden()


@pytest.mark.parametrize("through", ["first page", "rail"])
def test_what_is_on_the_screen_is_the_document(open_window: Callable[..., MainWindow], through: str) -> None:
    """Every bench in turn in front, another project opened from the first page or behind another bench: each entry that is then shown is
    that of the document, and typing into it is an edit of it."""
    window = open_window(shipped.demo("tarn"))
    for entry in BENCHES:
        window.open_demo("tarn")
        assert settle(window)
        window.show_bench(entry.key)
        if through == "rail":
            window.show_bench("goal" if entry.key != "goal" else "turbo")
            window.open_demo("skerry")
            window.show_bench(entry.key)
        else:
            window.show_start()
            window.start.demo.emit("skerry")
        assert window.pages.currentWidget() is window.frame and window.session.project.name == "Skerry"
        bench = window.benches[entry.key]
        for form in bench.findChildren(Form):
            for place, shown in form.fields.items():
                if not shown.isVisible():
                    continue
                now = edits.get(window.session.project, place)  # raises for a place that is none any more
                if isinstance(shown, QuantityField) and shown.quantity is not None:
                    assert shown.quantity == now, (entry.key, place)
                elif isinstance(now, str) and hasattr(shown, "text"):
                    assert shown.text() == now, (entry.key, place)


def test_the_end_of_a_job_is_news_once(window: MainWindow) -> None:
    """How far a job was is heard late, when it has ended already: what it found is taken once, and asked again it is news again."""
    heard = []
    window.desk.job_changed.connect(lambda reply: heard.append(reply.state) if reply.key == "of this test" else None)

    def work(watch: JobProgress) -> int:
        for n in range(40):
            watch._told = 0.0  # every step is told
            watch(n / 40)
        return 7

    job = Job("of this test", object(), work, lane="work", title="Work")
    for times in (1, 2):
        window.desk.ask(job, again=True)
        assert wait_for(lambda times=times: heard.count(DONE) >= times)
        pause(50)
        assert heard.count(DONE) == times
