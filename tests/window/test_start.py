"""The first page, from nothing to a design."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from driving import open_finder, pause, wait_for
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from zarvik.formats import shipped
from zarvik.project.document.document import Project
from zarvik.window.app import settle
from zarvik.window.benches import BENCHES, FORMER, PHASES
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.form import ASSUMED, Form
from zarvik.window.parts.quantity_field import QuantityField


def type_over(field: QuantityField, text: str) -> None:
    """Replace what stands in a field, as a hand does."""
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)


def test_from_an_empty_start_to_a_first_figure(window: MainWindow) -> None:
    """New build: only what a garage knows; a whole design with a power, marks on what was not said."""
    window.show_start()
    page = window.start
    assert window.pages.currentWidget() is page
    page.name.setText("Heron")
    type_over(page.fields["litres"], "1.8 L")
    type_over(page.fields["stock_power"], "140 hp")
    type_over(page.fields["stock_speed"], "6300")
    type_over(page.fields["power"], "230 whp 15 %")
    QTest.mouseClick(page.go, Qt.MouseButton.LeftButton)
    assert wait_for(lambda: window.pages.currentWidget() is window.frame)
    assert settle(window)
    project: Project = window.session.project
    assert project.name == "Heron" and not project.invented
    assert window.pages.currentWidget() is window.frame
    assert window.desk.answer is not None
    assert window.desk.answer.target.power > 0.99 * 230 / 0.85 * 745.7
    assert window.session.unsaved
    form = next(f for f in window.benches["goal"].findChildren(Form) if "engine.compression" in f.fields)
    # A size that the program chose carries a sign at its label, a fact that nobody knows a question mark.
    assert form._labels["engine.idle"].text().startswith(ASSUMED)
    idle = form.fields["engine.idle"]
    assert isinstance(idle, QuantityField) and "estimated for you" in idle.toolTip()
    field = form.fields["engine.compression"]
    assert isinstance(field, QuantityField) and field.text() == "" and field.placeholderText().startswith("auto: ")
    window.show_bench("goal")
    type_over(field, "10.4:1")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert field.text() == "10.4"
    assert window.session.project.engine.compression.known == ""


def test_the_page_says_what_does_not_fit(window: MainWindow) -> None:
    """Nothing is made of contradictions, and nothing is lost."""
    before = window.session.project
    window.show_start()
    page = window.start
    page.fuel.setCurrentIndex(page.fuel.findData("diesel"))
    page._make()
    assert "diesel" in page.fault.text().lower()
    page.fuel.setCurrentIndex(page.fuel.findData("petrol98"))
    type_over(page.fields["power"], "300 whp")
    page._make()
    assert "drivetrain" in page.fault.text()
    page.fields["power"].forget()
    page.fields["power"].setText("")
    page._make()
    assert "target power" in page.fault.text()
    type_over(page.fields["power"], "300 hp")
    type_over(page.fields["stock_power"], "900 hp")
    page._make()
    assert wait_for(page.go.isEnabled)
    assert "mean pressure" in page.fault.text()
    assert window.session.project is before
    QTest.mouseClick(page.back, Qt.MouseButton.LeftButton)
    assert window.pages.currentWidget() is window.frame
    window.show_start(first=True)
    assert page.back.isHidden()


def test_half_typed_text_never_stays(window: MainWindow) -> None:
    """60 over 2.5 in, 15 over 1 bar: what was only the half of a word does not stay in the document,
    and no step is left of it."""
    window.show_bench("goal")
    field = next(f.fields["goal.target_boost"] for f in window.benches["goal"].findChildren(Form) if "goal.target_boost" in f.fields)
    assert isinstance(field, QuantityField)
    before = window.session.project
    steps = len(window.session.history.steps)
    type_over(field, "15")
    assert field.fault
    assert window.session.project == before
    QTest.keyClicks(field, " psi")
    assert abs(window.session.project.goal.target_boost.si - 15 * 6894.757) < 1.0
    QTest.keyClick(field, Qt.Key.Key_Return)
    type_over(field, "junk")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert abs(window.session.project.goal.target_boost.si - 15 * 6894.757) < 1.0
    window.undo()
    assert window.session.project == before
    assert window.session.history.position == 0 and steps == 1


def test_a_new_target_speed_is_shown(window: MainWindow) -> None:
    """The slider and the header go along."""
    field = next(f.fields["goal.target_speed"] for f in window.benches["goal"].findChildren(Form) if "goal.target_speed" in f.fields)
    assert isinstance(field, QuantityField)
    type_over(field, "5800 rpm")
    assert settle(window)
    assert window.desk.speed == 5800.0


def test_names_are_edited_and_never_markup(window: MainWindow) -> None:
    """Project, engine, turbo: what looks like markup is shown as it was typed."""
    form = next(f for f in window.benches["goal"].findChildren(Form) if "engine.name" in f.fields)
    form.fields["name"].setText("<img src='/dev/zero'>")
    form.fields["name"].edited.emit("<img src='/dev/zero'>")
    assert window.session.project.name == "<img src='/dev/zero'>"
    assert window.name.text() == "<img src='/dev/zero'>"
    assert window.name.textFormat() == Qt.TextFormat.PlainText
    window.grab()


WORDS_OF_BUILDERS = (
    ("muffler", "Silencer"),
    ("intercooler", "ooler"),
    ("pyrometer", "xhaust gas temperature"),
    ("spool", "oost"),
    ("coupler", "oint"),
    ("wrap", "over"),
    ("redline", "Rev limit"),
    ("pulley", "lower"),
    ("smoke", "ambda"),
    ("headers", "rimaries"),
)


def test_the_finder_knows_the_words_of_builders(window: MainWindow) -> None:
    """What is said in a shop leads to what it is called here (common practice, no source)."""
    window.show_bench("pipes")
    open_finder(window)
    for said, wanted in WORDS_OF_BUILDERS:
        window.finder._typed(said)
        assert any(wanted in thing.words for thing in window.finder.found), (said, [t.words for t in window.finder.found][:8])
    window.finder.leave()


def test_benches_are_made_when_asked_for(open_window: Callable[..., MainWindow]) -> None:
    """A window stands with the first bench alone; the others come in quiet moments, not while somebody types; an unknown one is none."""
    window = open_window(shipped.demo("tarn"))
    assert [key for key in window.benches if window.benches.made(key)] == ["goal"]
    assert "goal" in window.benches and "nothing" not in window.benches and len(window.benches) == len(BENCHES)
    window.show_bench("nothing")
    # What can be found is listed of the benches that are there: it makes none.
    assert len(list(window.findable.things())) > 100
    assert [key for key in window.benches if window.benches.made(key)] == ["goal"]
    window.build_ahead()
    entry = window.benches["goal"].field_of("goal.target_power")
    assert entry is not None
    entry.setFocus()
    pause(500)
    if isinstance(QApplication.focusWidget(), QLineEdit):
        assert not window.benches.made("compare")
    entry.clearFocus()
    window.rail.setFocus()
    for _ in range(100):
        pause(100)
        if all(map(window.benches.made, window.benches)):
            break
    assert all(map(window.benches.made, window.benches))


@pytest.mark.parametrize("name", ["tarn", "moth"])
def test_the_way_to_an_entry_makes_no_other_bench(name: str, open_window: Callable[..., MainWindow]) -> None:
    """From the finder or a figure to an entry: the benches that have its room are asked first, and it is the one that all together would
    say."""
    window = open_window(shipped.demo(name))
    window.desk.go_to_place("fluid_lines.pump_flow")
    assert [key for key in window.benches if window.benches.made(key)] == ["goal", "joints"]
    assert window.stack.currentWidget() is window.benches["joints"]
    for bench in window.benches.values():
        for page in getattr(bench, "pages", {}):
            bench.show_page(page)
    for key in window.benches:
        for place in window.benches[key].places():
            first = next((key for key, bench in window.benches.items() if bench.opens(place)), None)
            assert window.benches.for_place(place) == first, place
            rooms = {entry.key: entry.rooms for entry in BENCHES}
            assert first is None or place.partition(".")[0] in rooms[first], place
    assert window.benches.for_place("nowhere.at_all") is None


def test_former_names_of_benches_are_understood() -> None:
    """Each leads to a bench, none is the name of another one; benches are called as their folders and phases are."""
    keys = {entry.key for entry in BENCHES}
    assert set(FORMER.values()) <= keys and not set(FORMER) & keys
    assert {key for phase in PHASES for key in phase.benches} == keys
