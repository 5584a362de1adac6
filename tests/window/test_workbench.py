"""The workbench: keyboard alone, working sheets, variants, finder, jobs, page, settings."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from driving import click, field, open_finder, pause, press, type_into
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QMenu,
    QWidget,
)

from zarvik.formats import shelf
from zarvik.project import edits, variants
from zarvik.project.document import Project
from zarvik.project.units import parse
from zarvik.window import app
from zarvik.window.app import settle
from zarvik.window.benches import BENCHES
from zarvik.window.benches.compare import presenter
from zarvik.window.frame.finder import Thing, rank
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.focus import tab_order
from zarvik.window.parts.form import Form
from zarvik.window.parts.quantity_field import QuantityField
from zarvik.window.parts.relation import symbol, typeset
from zarvik.workspace import settings
from zarvik.workspace.questions import Question, Watch

CTRL = Qt.KeyboardModifier.ControlModifier


def find(window: MainWindow, words: str) -> None:
    """Ctrl+J, type, Enter."""
    open_finder(window)
    QTest.keyClicks(window.finder.field, words)
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert not window.finder.isVisible()


def test_with_the_keyboard_alone(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Change the target, keep the design, find the piece that costs most, cure it, compare with
    before, see the working of the power, print the page: no mouse anywhere."""
    find(window, "target power 330")
    entry = QApplication.focusWidget()
    assert entry is field(window.benches["brief"], "brief.target_power")
    QTest.keyClicks(entry, "335 hp")
    press(window, Qt.Key.Key_Return)
    assert settle(window)
    assert window.session.project.brief.target_power.si == pytest.approx(335 * 745.7, rel=1e-3)

    press(window, Qt.Key.Key_K, CTRL)
    assert variants.names(window.session.project)[-1] == "A"

    assert settle(window)
    press(window, Qt.Key.Key_F10)
    assert window.stack.currentWidget() is window.benches["charge_pipes"]
    costs = window.desk.answer.costs
    dearest = max(costs, key=lambda key: costs[key])
    assert window.desk.piece == dearest
    before = window.desk.point.power

    press(window, Qt.Key.Key_F2)  # the verdict; down to one that has a cure
    for _ in range(20):
        card = QApplication.focusWidget()
        if getattr(card, "verdict", None) and card.verdict.id == "target":
            break
        press(window, Qt.Key.Key_Down)
    press(window, Qt.Key.Key_C)
    assert settle(window)
    assert window.desk.point.power > before
    assert window.session.history.undo_label == "Cure: Target power"

    press(window, Qt.Key.Key_0, CTRL)
    window.session.questions.idle()
    pause(20)
    bench = window.benches["compare"]
    rows = {r.title: r for _, group in bench.table.groups for r in group}
    assert bench.table.heads[0] == "now" and "A" in bench.table.heads
    assert any("oost" in title for title in rows)
    assert any(r.differs for r in rows.values())

    press(window, Qt.Key.Key_Home, target=window.slider)
    find(window, "power at the crank")
    assert window.side.stack.currentWidget() is window.side.working
    assert window.side.working.result.text().startswith(
        window.desk.text(window.desk.point.power, "power")
    )

    target = tmp_path / "page.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(target), ""))
    press(window, Qt.Key.Key_P, CTRL)
    assert target.read_bytes().startswith(b"%PDF")
    assert target.stat().st_size > 20_000


def test_a_page_that_cannot_be_written_is_said(window: MainWindow, tmp_path: Path) -> None:
    """The theme stays, a sentence tells."""
    window.use_theme("dark")
    (tmp_path / "no").write_text("no folder")
    window.write_page(str(tmp_path / "no" / "such" / "page.pdf"))
    assert "cannot be written" in window.notice.text()
    assert window.theme == "dark"


# ---- working sheets -----------------------------------------------------------------------------


def test_the_working_of_any_number(window: MainWindow) -> None:
    """A click on a figure opens its sheet; a value in it opens its own; the bars are what the core
    says; a click on a bar goes to the entry."""
    area, key = next(hit for hit in window.run._hits if hit[1] == "power")
    QTest.mouseClick(window.run, Qt.MouseButton.LeftButton, pos=area.center().toPoint())
    panel = window.side.working
    assert (key, panel.key) == ("power", "power")
    assert panel.isVisible()
    window.session.questions.idle()
    pause(30)
    assert panel.bars.rows[0].lever.key == "breathing"
    sizes = [row.size for row in panel.bars.rows]
    assert sizes == sorted(sizes, reverse=True)
    panel.values.linkActivated.emit("indicated")
    assert panel.key == "indicated"
    assert panel.sheet is not None
    assert panel.sheet.result.value == pytest.approx(window.desk.point.indicated, rel=1e-6)
    at = next(i for i, row in enumerate(panel.bars.rows) if row.lever.about == "cooler.trust")
    panel.bars.setFocus()
    panel.bars.at = at
    QTest.keyClick(panel.bars, Qt.Key.Key_Return)
    assert window.stack.currentWidget() is window.benches["charge_pipes"]
    assert QApplication.focusWidget() is field(window.benches["charge_pipes"], "cooler.trust")


def test_the_sheet_follows_the_design_and_the_revs(window: MainWindow) -> None:
    """An edit and the rev slider move the open sheet; a number that the build loses is said."""
    window.show_bench("turbo")
    window.desk.show_working("gate_flow")
    panel = window.side.working
    assert panel.sheet is not None
    before = panel.sheet.result.value
    window.desk.set_speed(5000.0)
    assert panel.sheet.result.value != before
    type_into(field(window.benches["turbo"], "turbos.c54-71.turbine.housing"), "20 mm")
    assert settle(window)
    assert panel.sheet.result.value == pytest.approx(window.desk.point.turbo.gate_flow)
    window.desk.change("Blower", edits.put(window.session.project, "blower.fitted", True))
    assert settle(window)
    assert panel.sheet is None
    assert "does not have" in panel.relation.text()


@pytest.mark.parametrize("name", ["surge", "target", "exhaust_mach"])
def test_every_verdict_shows_its_number(window: MainWindow, name: str) -> None:
    """W on a card opens the sheet that the verdict stands on."""
    card = next(c for c in window.verdict.cards if c.verdict and c.verdict.id == name)
    card.setFocus()
    QTest.keyClick(card, Qt.Key.Key_W)
    assert window.side.working.sheet is not None


def test_relations_are_set_like_in_a_book() -> None:
    """Indices below, roots under a line, numbers in the place of symbols."""
    assert symbol("T_ref") == "<i>T</i><sub>ref</sub>"
    assert symbol("T2s") == "<i>T</i><sub>2s</sub>"
    assert symbol("imep") == "<i>imep</i>"
    assert "p<sup>-1.7</sup>" in re.sub("</?i>", "", typeset("p^-1.7 · exp(3800 K / T)"))
    relation = "n_w = n_c · √(T1 / T_ref)"
    text = typeset(relation)
    assert "overline" in text and "<sub>ref</sub>" in text
    assert re.sub(r"<[^>]+>", "", text) == "nw = nc · √T1 / Tref"
    numbers = typeset("√(T1 / T_ref)", {"T1": "34 °C (307 K)", "T_ref": "25 °C (298 K)"})
    assert re.sub(r"<[^>]+>", "", numbers) == "√34 °C (307 K) / 25 °C (298 K)"


# ---- variants -----------------------------------------------------------------------------------


def test_variants_side_by_side(window: MainWindow) -> None:
    """Keep under a name, change, compare, ghost in the plots, go back; a bad name is said."""
    window.show_bench("compare")
    bench = window.benches["compare"]
    bench.name.setFocus()
    bench.name.selectAll()
    QTest.keyClicks(bench.name, "as bought")
    QTest.keyClick(bench.name, Qt.Key.Key_Return)
    assert variants.names(window.session.project)[-1] == "as bought"
    for name in bench.chosen[:-1]:
        bench.choose(name, False)
    row = next(r for r in bench.rows if r.name == "as bought")
    bench.name.setText("as bought")
    click(bench.keep_button)
    assert "already" in window.notice.text()
    before = window.desk.point.power
    window.desk.edit("brief.target_boost", parse("1.0 bar", "pressure_gauge"))
    assert settle(window)
    window.session.questions.idle()
    pause(30)
    groups = dict(bench.table.groups)
    power = next(r for r in groups["What comes out differently"] if r.title.startswith("Power"))
    assert power.cells[1].tone == "best" and power.cells[1].note.startswith("+")
    entries = groups["What was entered differently"]
    assert [c.text for c in entries[0].cells] == ["1 bar", "1.1 bar"]
    blank = window.run.grab().toImage()
    click(row.ghost)
    pause(30)
    assert window.desk.ghost_answer is not None
    assert window.run.grab().toImage() != blank
    click(row.enter)
    assert settle(window)
    assert window.desk.point.power == pytest.approx(before)
    assert not row.enter.isEnabled()
    click(row.remove)
    assert window.desk.ghost == ""
    assert "as bought" not in variants.names(window.session.project)


def test_comparison_rows(tarn: Project, tarn_answer: object) -> None:
    """A design that is not solved yet has dashes; equal ones differ in nothing."""
    rows = presenter.figures([tarn_answer, None], tarn.shown_units)  # type: ignore[list-item]
    assert rows and all(r.cells[1].text.startswith("–") for r in rows)
    same = presenter.figures([tarn_answer, tarn_answer], tarn.shown_units)  # type: ignore[list-item]
    assert not any(r.differs for r in same)
    assert presenter.figures([None], tarn.shown_units) == []


def test_steps_can_be_gone_back_to(window: MainWindow) -> None:
    """The list of steps names each with its value; Enter goes there, and forward again."""
    window.desk.edit("brief.target_boost", parse("1.0 bar", "pressure_gauge"))
    window.session.history.seal()
    window.desk.edit("cold_pipe.c-run.bore", parse("70 mm", "length"))
    press(window, Qt.Key.Key_F5)
    steps = window.side.steps.list
    texts = [steps.item(i).text().strip("• ↷") for i in range(steps.count())]
    assert texts == ["Run over the radiator, bore: 70 mm", "Target boost: 1 bar", "Opened"]
    steps.setCurrentRow(2)
    QTest.keyClick(steps, Qt.Key.Key_Return)
    assert window.session.history.position == 0
    steps.setCurrentRow(0)
    QTest.keyClick(steps, Qt.Key.Key_Return)
    assert window.session.project.cold_pipe[3].bore.si == pytest.approx(0.07)


# ---- finder, keys, focus, names -----------------------------------------------------------------


def test_finding_words() -> None:
    """Every word has to be there, the start of a word counts more, accents and case do not."""

    def thing(words: str) -> Thing:
        return Thing(words, "entry", lambda: None)

    assert rank("targ pow", thing("Target power: 330 hp")) == 0
    assert rank("POWER", thing("Target power")) is not None
    assert rank("ower", thing("Target power")) == 4
    assert rank("boost", thing("Target power")) is None
    assert rank("resume", thing("Résumé")) == 0


def test_the_finder_reaches_everything(window: MainWindow) -> None:
    """Every command, entry, piece, verdict and number is in it; each can be done."""
    open_finder(window)
    window.finder.leave()
    kinds: dict[str, int] = {}
    for thing in window._things():
        kinds[thing.kind] = kinds.get(thing.kind, 0) + 1
    assert kinds["command"] > 30 and kinds["entry"] > 80 and kinds["piece"] > 15
    assert kinds["working"] > 20
    for thing in list(window._things()):
        if thing.kind in ("entry", "piece", "working"):
            thing.act()
    open_finder(window)
    QTest.keyClicks(window.finder.field, "zzzz")
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert window.finder.isVisible()
    QTest.keyClick(window.finder.field, Qt.Key.Key_Escape)
    assert not window.finder.isVisible()


def test_all_keys_are_listed_once(window: MainWindow) -> None:
    """No two commands share a key; the sheet shows every one and any key closes it."""
    keys = [c.shortcut().toString() for c in window.commands if c.shortcut().toString()]
    assert len(keys) == len(set(keys)) > 20
    press(window, Qt.Key.Key_F1)
    assert window.keys.isVisible()
    words = " ".join(label.text() for label in window.keys.findChildren(QLabel))
    assert all(key in words for key in keys)
    QTest.keyClick(window.keys, Qt.Key.Key_Escape)
    assert not window.keys.isVisible()


def named(widget: QWidget) -> bool:
    """Has a reader of the screen something to say about it?"""
    if widget.accessibleName():
        return True
    if isinstance(widget, QAbstractButton | QLabel) and widget.text():
        return True
    buddies = widget.window().findChildren(QLabel)
    return any(label.buddy() is widget for label in buddies)


def test_focus_is_seen_and_named(window: MainWindow) -> None:
    """Everything that Tab reaches on any bench has a name, and looks different while it has the focus."""
    window.side.turn("verdict")
    for entry in BENCHES:
        window.show_bench(entry.key)
        look_at_focus(window)


def look_at_focus(window: MainWindow) -> None:
    """One bench of it."""
    reached = 0
    for widget in list(tab_order(window.centralWidget())):
        assert named(widget), f"{type(widget).__name__} {widget.objectName()}"
        if isinstance(widget, QLineEdit | QComboBox) and reached > 12:
            continue  # one look of all fields
        window.setFocus()
        calm = widget.grab().toImage()
        widget.setFocus(Qt.FocusReason.TabFocusReason)
        pause(0)
        if isinstance(widget, QLabel):
            QTest.keyClick(widget, Qt.Key.Key_Tab)  # the first link in it
            widget.setFocus(Qt.FocusReason.TabFocusReason)
            continue
        assert widget.grab().toImage() != calm, f"{type(widget).__name__} {widget.accessibleName()}"
        reached += 1
    assert reached > 5


# ---- fields -------------------------------------------------------------------------------------


def test_units_of_a_field(window: MainWindow) -> None:
    """Ctrl+Down goes through the units, the menu offers them all; the quantity stays and each is a
    step of undo."""
    boost = field(window.benches["brief"], "brief.target_boost")
    boost.setFocus()
    QTest.keyClick(boost, Qt.Key.Key_Down, CTRL)
    assert boost.text() == "15.9542 psi"
    assert window.session.project.brief.target_boost.si == pytest.approx(1.1e5, rel=1e-5)
    QTest.keyClick(boost, Qt.Key.Key_Up, CTRL)
    assert boost.text() == "1.1 bar"
    spot = boost.rect().center()
    event = QContextMenuEvent(QContextMenuEvent.Reason.Keyboard, spot, boost.mapToGlobal(spot))
    QApplication.sendEvent(boost, event)
    menu = boost.findChild(QMenu)
    assert menu is not None
    shown = {a.text(): a for a in menu.actions()}
    assert {"in bar", "in psi", "in kPa"} <= set(shown)
    shown["in kPa"].trigger()
    menu.close()
    assert window.session.project.brief.target_boost.unit == "kPa"


def test_entries_in_the_units_of_the_shop(window: MainWindow) -> None:
    """The presets for entries turn every field, as one step; the design stays the same."""
    before = window.session.project
    find(window, "entries too inch")
    project = window.session.project
    assert project.units == "inch"
    assert project.brief.target_boost.unit == "psi"
    assert project.cold_pipe[1].bore.unit == "in"
    assert project.brief.altitude.unit == "m"
    for d in variants.differences(before, project):
        one, two = edits.get(before, d.place), edits.get(project, d.place)
        assert one.si == pytest.approx(two.si, rel=1e-5), d
    window.undo()
    assert window.session.project == before


# ---- long work, faults, settings ----------------------------------------------------------------


def test_searching_the_shelf(window: MainWindow) -> None:
    """The search runs beside the window; Enter takes a find over, one undo brings the old back."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    turbo = window.session.project.turbo
    click(bench.search)
    window.session.questions.idle()
    pause(30)
    assert bench.finds.isVisible() and not window.strip.isVisible()
    best = bench.finds.finds[0]
    QTest.keyClick(bench.finds.rows[0], Qt.Key.Key_W)
    panel = window.side.working
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
    """The boost is changed while the shelf is searched: nothing is shown as if it were of the new
    boost; a list that is shown goes with the next change."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    click(bench.search)
    window.desk.edit("brief.target_boost", parse("0.5 bar", "pressure_gauge"))
    assert window.session.questions.idle()
    pause(30)
    assert not bench.finds.isVisible() and "search again" in window.notice.text()
    click(bench.search)
    assert window.session.questions.idle()
    pause(30)
    assert bench.finds.isVisible()
    assert settle(window)
    chosen = window.desk.answer.system.turbo
    same = [f for f in bench.finds.finds if f.turbo.chart.name == chosen.chart.name
            and abs(f.housing - chosen.turbine.housing) < 1e-6]  # fmt: skip
    for find in same:
        assert find.figures.power == pytest.approx(window.desk.answer.target.power, rel=1e-4)
    window.desk.edit("brief.target_boost", parse("0.6 bar", "pressure_gauge"))
    assert not bench.finds.isVisible()


def test_long_work_that_fails_says_why(window: MainWindow) -> None:
    """The sentence names the work and the reason; the document is as it was."""
    before = window.session.project

    def fail(watch: Watch) -> None:
        raise OSError("the disk is full")

    window.desk.ask(Question("book", 1, fail, "work", title="Writing the book"))
    window.session.questions.idle()
    pause(30)
    assert "the disk is full" in window.notice.text()
    assert window.session.project is before and not window.strip.isVisible()


def test_cancelling_long_work(window: MainWindow) -> None:
    """The strip shows what runs, with its progress; Cancel ends it and nothing is handed over."""

    def slow(watch: Watch) -> str:
        share = 0.0
        while True:
            watch(min(share, 0.9))
            share += 1e-5

    asked = Question("rivets", 1, slow, "work", title="Counting rivets")
    window.desk.ask(asked)
    for _ in range(2000):
        pause(10)
        if window.strip.isVisible() and window.strip.bar.value() > 0:
            break
    assert window.strip.words.text() == "Counting rivets"
    window.strip.cancel.click()
    assert window.session.questions.idle()
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
        entry = window.benches["charge_pipes"].field_of("cold_pipe.c-run.bore")
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
    for key, words in (("cooler", "behind it"), ("primaries", "steel glows")):
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
    bench = window.benches["brief"]
    choice = next(
        f.fields["engine.breathing"] for f in bench.forms if "engine.breathing" in f.fields
    )
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
    assert window.session.project.engine.stock_torque == (
        (1500.0, 190.0), (3000.0, 215.0), (5000.0, 220.0), (6500.0, 180.0),
    )  # fmt: skip
    QTest.keyClick(lines, Qt.Key.Key_Return)
    QTest.keyClicks(lines, "6000 90")
    assert "line 5" in table.fault.text() and table.fault.isVisible()
    field(bench, "engine.bore").setFocus()
    assert "6000 90" in lines.toPlainText()
    assert len(window.session.project.engine.stock_torque) == 4
    window.undo()
    assert len(window.session.project.engine.stock_torque) > 6
    assert "6000 90" not in lines.toPlainText() and not table.fault.isVisible()
    assert window.benches["brief"].opens("engine.breathing_table")


def test_a_piece_of_the_same_key_in_another_run(window: MainWindow) -> None:
    """Another demo has a throttle too, but before its blower: its own entries are shown, and what
    is no piece at all leaves the bench as it was."""
    window.desk.go("piece:throttle")
    bench = window.benches["charge_pipes"]
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
    for leaf, benches in (("verdict", ["brief", "turbo", "charge_pipes", "hot_side", "designs", "compare"]), ("working", ["turbo", "space"])):
        window.turn_to(leaf)
        for bench in benches:
            window.show_bench(bench)
            assert settle(window)
            window.turn_theme()
            pause(20)
            other = inks(LIGHT if window.theme == "dark" else DARK)
            mine = inks(DARK if window.theme == "dark" else LIGHT)
            for label in window.findChildren(QLabel):
                if label.isVisible():
                    wrong = {c for c in other - mine if c in label.text().lower()}
                    assert not wrong, (label.text()[:80], wrong)


def test_a_journal_that_cannot_be_written_is_said(
    open_window: object, tarn: Project, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Where no edit can be kept against a power cut the header says so, and work goes on."""
    monkeypatch.setenv("ZARVIK_STATE", "/proc/nowhere")
    window = open_window(tarn)  # type: ignore[operator]
    assert settle(window)
    window.desk.edit("brief.target_boost", parse("0.9 bar", "pressure_gauge"))
    assert settle(window) and window.session.journalled()
    window.desk.edit("brief.target_boost", parse("0.8 bar", "pressure_gauge"))
    assert settle(window)
    assert "not kept" in window.state.text()
    assert window.desk.answer.target.boost == pytest.approx(0.8e5, rel=1e-3)


def test_a_turbo_from_its_wheels(window: MainWindow) -> None:
    """Sizes are typed, the nearest of the shelf is named with what does not fit; nonsense cannot be made;
    the turbo stands among the candidates with its map marked as estimated."""
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    bench.measure()
    sheet = bench.measured
    assert sheet.isVisible() and not sheet.make.isEnabled() and not sheet.take.isEnabled()
    type_into(sheet.fields[0], "51.1")
    assert sheet.take.isEnabled() and not sheet.make.isEnabled()
    type_into(sheet.fields[1], "45 mm")
    assert "smaller than the exducer" in sheet.told.text() and not sheet.make.isEnabled()
    type_into(sheet.fields[1], "67 mm")
    assert "Trim 58" in sheet.told.text() and "51 × 67 mm wheel (invented) is the same" in sheet.told.text()
    type_into(sheet.fields[2], "2.4 in")
    assert "is the same" not in sheet.told.text() and "turbine wheel +" in sheet.told.text()
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
    window = open_window(shelf.demo("tarn"))
    for entry in BENCHES:
        window.open_demo("tarn")
        assert settle(window)
        window.show_bench(entry.key)
        if through == "rail":
            window.show_bench("brief" if entry.key != "brief" else "turbo")
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
