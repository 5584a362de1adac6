"""Parts of the window: every control both ways, layout of the run, nothing clipped, pictures."""

from __future__ import annotations

import gc
import itertools
import os
import random
import subprocess
import sys
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from driving import field, pause, rest, type_into
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QWidget

from conftest import MakeWindow
from zarvik.core.answer.answer import Answer
from zarvik.formats import project_file, shipped
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, Day, QuantitySpec, TextSpec
from zarvik.project.document.parts.layout import Order
from zarvik.project.edits import edits
from zarvik.project.edits.connection_edits import take_out
from zarvik.project.language import language
from zarvik.project.units.units import KINDS, UNKNOWN, parse
from zarvik.window import app
from zarvik.window.benches import BENCHES, PHASES, Phase
from zarvik.window.benches.bench import shortcut
from zarvik.window.benches.goal import presenter as brief
from zarvik.window.benches.pipes import presenter as pipes
from zarvik.window.benches.turbo import presenter as turbo
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.frame.rail import Rail
from zarvik.window.parts.chart import Axis
from zarvik.window.parts.form import Form
from zarvik.window.parts.quantity_field import step_size
from zarvik.window.parts.words_field import WordsField
from zarvik.window.parts.wrapping import width, wrapped
from zarvik.window.run.profile import BREAKS, LEAST_WIDTH, LabelRequest, beside, lay_out, widths
from zarvik.window.theme.palette import temper


def test_every_field_works_both_ways(window: MainWindow) -> None:
    """Set in the document: the widget shows it. Typed or chosen: the document has it."""
    desk = window.desk
    desk.go("piece:cooler")
    forms = window.findChildren(Form)
    assert len(forms) >= 4
    count = 0
    for form in forms:
        bench = form
        while bench is not None and bench not in window.benches.values():
            bench = bench.parentWidget()
        window.stack.setCurrentWidget(bench)
        for place, widget in form.fields.items():
            count += 1
            meta = edits.meta(desk.project, place)
            if isinstance(meta, TextSpec):
                assert isinstance(widget, WordsField)
                day = isinstance(meta, Day)
                said, other = ("12 June 2027", "2028-01-31") if day else ("Tern", "Other")
                if isinstance(meta, Order):
                    said, other = "1-2-4-3", "1-3-4-2"
                widget.setText(said)
                widget.edited.emit(said)
                assert edits.get(desk.project, place) == ("2027-06-12" if day else said)
                desk.edit(place, other)
                form.refresh()
                assert widget.text() == other
                continue
            if isinstance(meta, Choice):
                assert isinstance(widget, QComboBox)
                key = meta.options()[-1][0]
                widget.setCurrentIndex(widget.findData(key))
                widget.activated.emit(widget.currentIndex())
                assert edits.get(desk.project, place) == key
                first = meta.options()[0][0]
                desk.edit(place, first)
                form.refresh()
                assert widget.currentData() == first
                continue
            assert isinstance(meta, QuantitySpec)
            low, high = meta.limits
            old = edits.get(desk.project, place)
            middle = old.with_si(0.97 * old.si + 0.03 * (high if old.si < high else low))
            if meta.kind == "count":
                middle = old.with_si(old.si + 1)
            if widget.isHidden():
                # What does not count in this build is not asked for; it follows the document all the same.
                desk.edit(place, middle)
                form.refresh()
                assert widget.text() == str(middle)
                desk.edit(place, old)
                form.refresh()
                continue
            type_into(widget, str(middle))
            assert edits.get(desk.project, place) == middle, place
            desk.edit(place, old)
            form.refresh()
            assert widget.text() == ("" if old.known == UNKNOWN or (meta.blank and old.value == 0.0) else str(old))
            assert widget.text() or widget.placeholderText()
            assert widget.accessibleName() == meta.title
    assert count > 25


@pytest.mark.parametrize(("value", "places", "step"), [(1.1, 2, 0.02), (63.5, 1, 1.0), (330.0, 0, 5.0), (0.0, 2, 0.01), (6400.0, 0, 100.0)])
def test_steps_are_sensible(value: float, places: int, step: float) -> None:
    """About a hundredth, as 1, 2 or 5 times a power of ten."""
    assert step_size(value, places) == pytest.approx(step)


@pytest.mark.parametrize(
    ("low", "high", "most", "ticks"),
    [
        (0, 400, 8, [0, 50, 100, 150, 200, 250, 300, 350, 400]),
        (1.0, 4.2, 4, [1, 2, 3, 4]),
        (0.13, 0.41, 6, [0.15, 0.2, 0.25, 0.3, 0.35, 0.4]),
        (5, 5, 4, []),
        (0, float("nan"), 4, []),
    ],
)
def test_axis_ticks(low: float, high: float, most: int, ticks: list[float]) -> None:
    """Round numbers within the range."""
    assert Axis(low, high, "").ticks(most) == pytest.approx(ticks)


def test_axis_labels() -> None:
    """As many decimals as the step needs."""
    axis = Axis(0, 1, "")
    assert axis.label(0.25, 0.25) == "0.25"
    assert axis.label(-2.0, 1.0) == "−2"
    assert axis.label(0.2, 0.1) == "0.2"


# ---- the pressure run -------------------------------------------------------------------------


@pytest.mark.parametrize("width", [1120.0, 1280.0, 2560.0])
def test_run_is_laid_out_without_gaps(tarn_answer: Answer, width: float) -> None:
    """Pieces touch, fill the width, none is narrower than its figure."""
    profile = lay_out(tarn_answer.target, left=66.0, right=width - 118.0, top=44.0, bottom=166.0)
    spans = profile.spans
    assert spans[0].left == 66.0
    assert spans[-1].right == pytest.approx(width - 118.0)
    for one, two in pairwise(spans):
        assert one.right == pytest.approx(two.left)
    for span in spans:
        least = BREAKS.get(span.stretch.kind, LEAST_WIDTH)
        # Thirty pieces share the narrowest window: each keeps four fifths of its room.
        assert span.width >= (0.8 if width < 1200.0 else 1.0) * least - 1e-9
        assert min(span.top_in, span.top_out) >= 43.9
        assert max(span.top_in, span.top_out) <= 166.0
        assert profile.at((span.left + span.right) / 2) is span
    assert profile.at(0.0) is None


def test_losses_are_to_one_scale(tarn_answer: Answer) -> None:
    """A loss of 2 kPa is a step of at least 8 px beside a rise of 125 kPa, wherever it stands."""
    profile = lay_out(tarn_answer.target, left=66.0, right=1160.0, top=44.0, bottom=166.0)
    for span in profile.spans:
        if not span.broken:
            fall = span.top_out - span.top_in
            scale = profile.hot_scale if span.hot else profile.scale
            assert fall == pytest.approx(span.stretch.drop * scale, abs=1e-9)
    assert 2000.0 * profile.scale >= 8.0
    assert 2000.0 * profile.hot_scale >= 4.0


def test_wider_share_for_larger_loss(tarn_answer: Answer) -> None:
    """Width above the least one goes with the loss."""
    stretches = tarn_answer.target.stretches
    across = dict(zip((s.id for s in stretches), widths(stretches, 1100.0), strict=True))
    cooler, bend = across["cooler"] - LEAST_WIDTH, across["h-down"] - LEAST_WIDTH
    drops = {s.id: s.drop for s in stretches}
    assert cooler / bend == pytest.approx(drops["cooler"] / drops["h-down"], rel=1e-9)


# ---- presenters -------------------------------------------------------------------------------


def test_curves_are_in_shown_units(tarn_answer: Answer) -> None:
    """hp and N m for the mixed shop, kW for the metric one."""
    mixed = brief.curves(tarn_answer, {"power": "hp", "torque": "N·m"})
    metric = brief.curves(tarn_answer, {"power": "kW", "torque": "N·m"})
    assert mixed.target_power == pytest.approx(330.0)
    assert metric.power[-1] == pytest.approx(mixed.power[-1] * 0.7457, rel=1e-4)
    assert len(mixed.speed) == len(tarn_answer.sweep)


def test_map_picture_holds_the_map(tarn_answer: Answer) -> None:
    """Islands are nested by level, lines run through the points, the peak is the best."""
    chart = tarn_answer.build.turbo.chart
    picture = turbo.picture(chart)
    assert picture is turbo.picture(chart)
    levels = [level for level, _ in picture.islands]
    assert levels == sorted(levels)
    assert picture.peak[2] == pytest.approx(max(max(x.efficiency) for x in chart.lines), abs=0.01)
    for line, (speed, points) in zip(chart.lines, picture.lines, strict=True):
        assert speed == line.speed
        assert points[0] == pytest.approx([line.flow[0], line.ratio[0]])
        assert points[-1] == pytest.approx([line.flow[-1], line.ratio[-1]])


def test_candidate_rows(tarn_answer: Answer) -> None:
    """One row each, the chosen one marked, as many figures as heads."""
    rows = turbo.rows(tarn_answer, {"power": "hp", "temperature": "°C"})
    assert [r.chosen for r in rows].count(True) == 1
    assert all(len(r.cells) == len(turbo.HEADS) for r in rows)


def test_pipe_rows_add_up(tarn: Project, tarn_answer: Answer) -> None:
    """A run's head carries the sum of its pieces; the intercooler stands between hot and cold."""
    rows = pipes.rows(tarn, tarn_answer.target, tarn_answer.build)
    ids = [r.id for r in rows]
    assert ids.index("h-end") < ids.index("cooler") < ids.index("head:cold_pipe")
    for head in (r for r in rows if r.kind == "head"):
        body = [r for r in rows if r.run == head.run and r.kind != "head"]
        assert head.loss == pytest.approx(sum(r.loss for r in body))
        assert head.volume == pytest.approx(sum(r.volume for r in body))
    cold = next(r for r in rows if r.id == "head:cold_pipe")
    assert cold.turn == pytest.approx(np.pi)
    unsolved = pipes.rows(tarn, None, None)
    assert all(r.loss != r.loss for r in unsolved if r.kind != "head")


# ---- the whole window at its size -------------------------------------------------------------


@pytest.mark.parametrize(
    ("theme", "units", "words"), [("light", "mixed", "longer"), ("dark", "inch", "longer"), ("light", "metric", "own")]
)
def test_nothing_is_clipped(open_window: object, tarn: Project, theme: str, units: str, words: str, own_language: None) -> None:
    """At 1280 by 800 every button and label has the room that its text asks for, and would have it
    in a language a third longer."""
    language.use(language.lengthened if words == "longer" else None)
    window = open_window(edits.with_value(tarn, "units", units), None, theme)  # type: ignore[operator]
    for entry in BENCHES:
        window.show_bench(entry.key)
        app.settle(window)
        for widget in window.findChildren(QAbstractButton):
            if widget.isVisible() and widget.text():
                assert widget.width() >= widget.minimumSizeHint().width() - 1, widget.text()
        for label in window.findChildren(QLabel):
            if not label.isVisible() or not label.text():
                continue
            if label.wordWrap():
                assert label.height() >= label.heightForWidth(label.width()) - 2, label.text()
            else:
                assert label.width() >= label.minimumSizeHint().width() - 1, label.text()
        for line in window.findChildren(QLineEdit):
            if isinstance(line, WordsField):
                continue  # names that the owner gave may be longer than their field
            if line.isVisible():
                room = line.fontMetrics().horizontalAdvance(line.text()) + 16
                if line.accessibleName() != "Name of the piece":
                    assert line.width() >= room, line.text()


@pytest.mark.parametrize("bench", ["turbo", "exhaust", "layout", "designs"])
def test_pictures_of_every_bench(qapp: object, tarn: Project, tmp_path: Path, bench: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """`--shot` writes a picture of the asked bench in the asked size that is no blank page."""
    path = tmp_path / "shot.png"
    grab, seen = MainWindow.grab, []
    monkeypatch.setattr(MainWindow, "grab", lambda self: (seen.append(self.benches[bench].isVisible()), grab(self))[1])
    assert app.run(tarn, None, shot=str(path), bench=bench, theme="dark", speed=5000.0) == 0
    image = QImage(str(path))
    assert (image.width(), image.height()) == (1280, 800) and seen[-1]
    colours = {image.pixel(x, y) for x in range(5, 1280, 25) for y in range(5, 800, 25)}
    assert len(colours) > 12


def test_shot_refuses_what_it_does_not_know(qapp: object, tarn: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """An unknown bench, a size that is none, a picture that cannot be written."""
    assert app.run(tarn, None, shot="x.png", bench="moon") == 2
    assert app.run(tarn, None, shot="x.png", size="big") == 2
    assert app.run(tarn, None, shot=str(tmp_path / "no" / "x.png")) == 2
    assert capsys.readouterr().err.count("zarvik:") == 3


def test_axes_fit_every_unit(open_window: object, tarn: Project) -> None:
    """The map's axis follows the shown unit of flow."""
    window = open_window(edits.with_value(tarn, "units", "metric"))  # type: ignore[operator]
    window.show_bench("turbo")
    rest(window)
    assert "kg/s" in window.benches["turbo"].chart.x_axis.title
    assert "kW" in window.benches["goal"].chart.y_axis.title
    assert {u.symbol for u in KINDS["mass_flow"]} >= {"kg/s", "lb/min"}


def test_a_field_takes_what_nobody_knows(window: MainWindow) -> None:
    """“?” or an emptied field is unknown and shows the estimate in grey; it follows other entries; “about”
    and ± are kept as typed; a size that one chooses cannot be unknown. Each is one step of undo."""
    best = field(window, "engine.best_breathing")
    stock = field(window, "engine.stock_power")
    before = window.session.project
    best.setFocus()
    QTest.keyClicks(best, "?")
    assert window.session.project.engine.best_breathing.known == UNKNOWN and best.text() == "?"
    QTest.keyClick(best, Qt.Key.Key_Return)
    assert best.text() == "" and best.placeholderText() == f"auto: {window.session.project.engine.best_breathing.value:g} %"
    type_into(stock, "about 140 hp")
    low = window.session.project.engine.best_breathing.value
    assert stock.text() == "about 140 hp" and best.placeholderText() == f"auto: {low:g} %"
    type_into(stock, "165 hp ± 5")
    assert stock.text() == "165 hp ± 5 hp" and window.session.project.engine.best_breathing.value > low + 5
    stock.selectAll()
    QTest.keyClick(stock, Qt.Key.Key_Delete)
    assert stock.text() == "" and window.session.project.engine.stock_power.known == UNKNOWN
    QTest.keyClick(stock, Qt.Key.Key_Return)
    assert stock.text() == "" and stock.placeholderText().startswith("auto: ")
    bore = field(window, "engine.bore")
    for text, words in (("", "a value is needed"), ("?", "is your decision")):
        bore.setFocus()
        bore.selectAll()
        QTest.keyClick(bore, Qt.Key.Key_Delete)
        QTest.keyClicks(bore, text)
        assert words in bore.fault and window.session.project.engine.bore == before.engine.bore
        QTest.keyClick(bore, Qt.Key.Key_Escape)
        assert bore.text() == str(before.engine.bore)
    type_into(best, "93 %")
    assert best.text() == "93 %" and not best.font().italic()
    assert app.settle(window)
    for _ in range(5):
        window.undo()
    assert window.session.project == before
    assert "Measured: " in window.desk.origin("engine.best_breathing")


def test_what_is_known_is_told(window: MainWindow) -> None:
    """The leaf tells the bands, what to find out first, and what the uncertainty of the power is made of; an
    entry in it leads to its field."""
    window.desk.edit("engine.best_breathing", edits.meta(window.desk.project, "engine.best_breathing").read("?"))
    assert app.settle(window)
    window.turn_to("uncertainty")
    panel = window.side.known
    assert "95 % range" in panel.bands.plain() and "hp to " in panel.bands.plain()
    rows = [row.plain() for row in panel.rows if row.isVisible()]
    assert rows[0].startswith("Best volumetric efficiency (auto: ") and "A dyno run" in rows[0]
    assert sum(line.count("±") == 2 for line in panel.shares.plain().splitlines()) == 7  # no more than can be taken in at a look
    assert "comes from the model itself" in panel.shares.plain()
    panel.rows[0].linkActivated.emit("=engine.best_breathing")
    assert field(window, "engine.best_breathing").hasFocus()
    window.desk.follow("=known")
    assert window.side.stack.currentWidget() is panel


def test_shift_takes_ten_steps(window: MainWindow) -> None:
    """Up is one step, with Shift ten, and down goes back: 1.10 bar is 110 steps of 0.01."""
    boost = field(window, "goal.target_boost")
    boost.setFocus()
    start = window.session.project.goal.target_boost.value
    step = step_size(start, 2)
    for modifier, key, steps in (
        (Qt.KeyboardModifier.NoModifier, Qt.Key.Key_Up, 1),
        (Qt.KeyboardModifier.ShiftModifier, Qt.Key.Key_Up, 11),
        (Qt.KeyboardModifier.ShiftModifier, Qt.Key.Key_Down, 1),
    ):
        QTest.keyClick(boost, key, modifier)
        assert window.session.project.goal.target_boost.value == pytest.approx(start + steps * step)


def test_a_late_answer_is_not_shown(window: MainWindow) -> None:
    """While the answer of the present document is shown, one of an older document that comes late is
    dropped; one that comes while the present one is still being solved is better than none."""
    desk = window.desk
    old = desk.result
    value = parse("1 bar", "pressure_gauge")
    desk.edit("goal.target_boost", value)
    assert app.settle(window)
    new = desk.result
    assert old is not None and new is not None and new is not old
    desk._take(old)
    assert desk.result is new and desk.answer is new.answer
    desk.result = None
    desk._take(old)
    assert desk.result is old


def test_entries_keep_text_while_typing(window: MainWindow) -> None:
    """A new answer does not rewrite the field that is being typed into."""
    boost = field(window.benches["goal"], "goal.target_boost")
    boost.setFocus()
    boost.selectAll()
    boost.insert("1,05")
    boost.textEdited.emit(boost.text())
    assert app.settle(window)
    assert boost.text() == "1,05"
    assert window.session.project.goal.target_boost.si == pytest.approx(1.05e5)
    assert project_file.dumps(window.session.project).count("1.05 bar") == 1


# ---- labels that never overlap ------------------------------------------------------------------

WANTED = st.builds(LabelRequest, st.floats(-50.0, 900.0), st.floats(5.0, 160.0), st.floats(0.0, 100.0), st.floats(0.0, 80.0))


@settings(max_examples=200, deadline=None)
@given(st.lists(WANTED, max_size=25), st.floats(100.0, 900.0), st.floats(0.0, 12.0))
def test_labels_on_a_line_never_overlap(labels: list[LabelRequest], right: float, gap: float) -> None:
    """Property: all lie inside, apart by the gap, within their reach; the heaviest that fits at all
    has its place."""
    edges = beside(labels, left=0.0, right=right, gap=gap)
    spans = sorted((edge, edge + label.width, label) for edge, label in zip(edges, labels, strict=True) if edge is not None)
    for edge, end, label in spans:
        assert edge >= 0.0 and end <= right + 1e-6
        home = min(max(label.x - label.width / 2, 0.0), right - label.width)
        assert abs(edge - home) <= label.reach + 1e-6
    for (_, end, _), (start, _, _) in pairwise(spans):
        assert start >= end + gap - 1e-6
    if labels:
        heaviest = max(range(len(labels)), key=lambda i: labels[i].weight)
        assert (edges[heaviest] is not None) == (labels[heaviest].width <= right)


@pytest.mark.parametrize("name", shipped.demo_names())
def test_figures_of_the_run_never_overlap(open_window: object, name: str) -> None:
    """On every demo and size, at low, middle and high revs: no two figures touch, most losses have
    theirs, and all stand inside of the band."""
    window = open_window(shipped.demo(name))  # type: ignore[operator]
    for size, speed in itertools.product(((1280, 800), (1600, 900), (2560, 1440)), (0.0, 3000.0, 1e6)):
        window.resize(*size)
        window.show_bench("pipes")
        app.settle(window)
        window.desk.set_speed(speed)
        window.run.grab()
        labels = window.run.labels
        pieces = [s for s in window.run.profile.spans if not s.broken and s.stretch.drop > 60.0]
        assert len(labels) >= 0.7 * len(pieces) + 3
        for i, one in enumerate(labels):
            assert QRectF(window.run.rect()).contains(one)
            for two in labels[i + 1 :]:
                assert not one.intersects(two), (one, two)


def test_hot_feet_show_the_tint_of_the_steel(window: MainWindow) -> None:
    """The foot of a hot piece has the temper colour of its skin."""
    image = window.run.grab().toImage()
    profile = window.run.profile
    assert profile is not None
    span = next(s for s in profile.spans if s.stretch.id == "primaries")
    pixel = image.pixelColor(int((span.left + span.right) / 2), int(profile.base - 3))
    assert pixel.name() == temper(span.stretch.skin)[1].name()


# ---- words in lines -----------------------------------------------------------------------------


@settings(max_examples=100, deadline=None)
@given(st.lists(st.text("abcdefghij", min_size=1, max_size=12), min_size=1, max_size=40), st.floats(60.0, 400.0))
def test_wrapping_keeps_every_word(qapp: object, words: list[str], room: float) -> None:
    """Property: the words come back in their order; no line is wider than the room unless it is one
    word; no line could have taken the first word of the next."""
    lines = wrapped(" ".join(words), room)
    assert " ".join(lines).split(" ") == words
    for line in lines:
        assert width(line) <= room + 1.0 or " " not in line
    for line, after in pairwise(lines):
        assert width(line) + width(" ") + width(after.split(" ")[0]) > room - 1.0


# ---- size and time ------------------------------------------------------------------------------


def resident() -> float:
    """Memory of this process in MB."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def test_memory_stays_flat_while_editing(window: MainWindow) -> None:
    """A soak of bounded length: after a warm-up, dozens of edits with undo, bench changes, rev
    changes and sheets add less than 25 MB; history keeps its steps, widgets do not pile up."""
    chance = random.Random(7)
    places = ["goal.target_boost", "cold_pipe.c-run.bore", "wastegate.diameter", "engine.compression"]
    keys = ["power", "boost", "surge", "turbine_flow"]

    def rounds(count: int) -> None:
        for _ in range(count):
            place = chance.choice(places)
            meta = edits.meta(window.session.project, place)
            old = edits.get(window.session.project, place)
            assert isinstance(meta, QuantitySpec)
            value = old.with_si(old.si * chance.uniform(0.97, 1.03))
            window.desk.edit(place, value, merge_key=None)
            app.settle(window, first=True)
            if chance.random() < 0.2:
                window.undo()
            if chance.random() < 0.2:
                window.show_bench(chance.choice([e.key for e in BENCHES]))
            if chance.random() < 0.2:
                window.desk.set_speed(chance.uniform(1000.0, 7000.0))
            if chance.random() < 0.1:
                window.desk.show_calculation(chance.choice(keys))
        app.settle(window)
        gc.collect()

    for entry in BENCHES:
        window.show_bench(entry.key)
        app.settle(window)
    rounds(10)
    widgets, memory = len(window.findChildren(QWidget)), resident()
    rounds(15)
    grown = resident() - memory
    assert grown < 25.0, f"{grown:.1f} MB"
    assert len(window.findChildren(QWidget)) <= widgets + 40  # forms that were first shown


@pytest.mark.parametrize("scale", ["2"])
def test_everything_larger(tmp_path: Path, scale: str) -> None:
    """At 150 and 200 % the window is drawn as many times larger, and no fault is printed."""
    picture = tmp_path / "big.png"
    done = subprocess.run(
        [sys.executable, "-m", "zarvik.cli", "demo", "--shot", str(picture), "--bench", "turbo"],
        env={**os.environ, "QT_SCALE_FACTOR": scale},
        capture_output=True,
        text=True,
        timeout=120,
    )
    assert (done.returncode, done.stderr) == (0, "")
    image = QImage(str(picture))
    assert image.width() == round(1280 * float(scale))
    colours = {image.pixel(x, y) for x in range(5, image.width(), 40) for y in range(5, 600, 40)}
    assert len(colours) > 12


def test_a_row_of_the_rail_shows_its_worst(open_window: object) -> None:
    """Each row has the state of the worst check about its own subjects: with 12 mm of valve the gate
    fails, which is the turbo's affair, with a 30 mm charge pipe the pipes'. Nothing holds while something is open: the connection list
    with ports that nobody has decided."""
    worst = {"fails": 0, "marginal": 1, "to_do": 2, "ok": 3}
    seen = set()
    for place, text, row in (("wastegate.diameter", "12 mm", "wastegate_exhaust"), ("cold_pipe.c-run.bore", "30 mm", "pipes")):
        project = edits.with_value(shipped.demo("tarn"), place, parse(text, "length"))
        # Of the connection list only what nobody has decided is left.
        quiet = {f"ports.{n}_width": "0 mm" for n in ("runner", "gasket", "port")} | {"radiator.width": "0 mm"}
        for entry_place, zero in quiet.items():
            project = edits.with_value(project, entry_place, parse(zero, "length"))
        project = take_out(project, "engine__throttle")
        window = open_window(project)  # type: ignore[operator]
        states = {v.about.partition(":")[0]: [] for v in window.desk.answer.check_results}
        for v in window.desk.answer.check_results:
            states[v.about.partition(":")[0]].append(v.state)
        for phase in PHASES:
            about = [s for subject in phase.subjects for s in states.get(subject, ())]
            if about:
                assert window.rail.steps[phase.key].state == min(about, key=worst.__getitem__)
        assert window.rail.steps[row].state == "fails"
        assert row == "wastegate_exhaust" or window.rail.steps["joints_services"].state == "to_do"
        seen.add(tuple(step.state for step in window.rail.steps.values()))
    assert len(seen) == 2


def test_a_phase_without_checks_hides_no_other(window: MainWindow) -> None:
    """Those behind it have their states."""
    rail = Rail(window.desk, [Phase("a", "A", ()), Phase("b", "B", ("exhaust",)), Phase("c", "C", ("pipes",))])
    rail.refresh()
    assert [step.state for step in rail.steps.values()][1:] == [window.rail.steps[k].state for k in ("wastegate_exhaust", "pipes")]


@pytest.mark.parametrize("count", [4, 10, 24])
def test_the_rail_holds_many_phases(window: MainWindow, count: int) -> None:
    """Ten phases stand under each other at 1280 x 800, each with its own keys; more of them scroll. None
    is painted over another."""
    phases = [Phase(f"b{i}", f"Phase {i}", ("exhaust",)) for i in range(count)]
    rail = Rail(window.desk, phases)
    rail.next.hide()
    rail.resize(168, 500)
    rail.show()
    pause(20)
    rows = [step.geometry() for step in rail.steps.values()]
    assert all(a.bottom() < b.top() for a, b in pairwise(rows))
    assert min(r.height() for r in rows) >= 30
    scrolls = rail.area.verticalScrollBar().maximum() > 0
    assert scrolls == (count == 24)
    rail.choose(f"b{count - 1}")
    pause(20)
    assert rail.steps[f"b{count - 1}"].visibleRegion().boundingRect().height() >= 28
    keys = [shortcut(i + 1) for i in range(count)]
    assert keys[0] == "Ctrl+1" and len(set(keys[:20])) == min(count, 20)
    assert keys[9:10] in (["Ctrl+0"], [])
    rail.hide()
    rail.deleteLater()


@pytest.mark.parametrize(("places", "span", "step"), [(1, 300.0, 1.0), (1, 500.0, 2.0), (2, 0.0, 0.01), (0, 30.0, 1.0), (1, 4.0, 0.1)])
def test_a_step_from_zero(places: int, span: float, step: float) -> None:
    """From an empty entry a step is a small part of what may be entered, and never less than the last digit that is shown."""
    assert step_size(0.0, places, span) == pytest.approx(step)


def test_a_list_begins_with_its_heading(open_window: MakeWindow) -> None:
    """A row that was chosen before there was any height: the list stands at its top, with the heading of the first run."""
    window = open_window(shipped.demo("tarn"))
    window.show_bench("pipes")
    assert app.settle(window)
    pieces = window.benches["pipes"].list
    assert pieces.verticalScrollBar().value() == 0
    assert pieces.viewport().height() > 200
    pieces.choose(pieces.rows.items[-1].id)
    assert pieces.verticalScrollBar().value() > 0
