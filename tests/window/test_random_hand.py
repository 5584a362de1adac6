"""A hand that does whatever comes next, waiting for each answer: nothing may raise (what raises in
the window fails the test by itself), and undo takes everything back."""

from __future__ import annotations

import random
from collections.abc import Callable

import pytest
from driving import pause
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QWidget

from zarvik.core import calculations
from zarvik.core.ducts.pieces import KINDS
from zarvik.formats import shipped
from zarvik.project.edits import edits
from zarvik.project.edits.piece_edits import insert_piece, move_piece, remove_piece
from zarvik.project.units.units import EntryError
from zarvik.project.variants import variants
from zarvik.window.app import settle
from zarvik.window.frame.checks_panel import CheckList
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.quantity_field import QuantityField

TYPED = (
    "12",
    "63.5 mm",
    "2.5 in + 3 mm",
    "abc",
    "1e9",
    "-5",
    "0",
    "14 psi",
    "2.1 bar abs",
    "400 hp",
    "",
    "300 K",
    "90 %",
    "3000 200",
    "99999999",
)
KEYS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_W, Qt.Key.Key_C, Qt.Key.Key_PageUp)


class Hand:
    """Picks and does things in one window; the same seed picks the same ones."""

    def __init__(self, window: MainWindow, seed: int) -> None:
        self.window = window
        self.pick = random.Random(seed)
        self.doings: tuple[Callable[[], None], ...] = (
            self.type,
            self.type,
            self.type,
            self.choose,
            self.click,
            self.click,
            self.press,
            self.follow,
            self.follow,
            self.piece,
            self.travel,
            self.travel,
            self.look,
            self.variant,
            self.other,
            self.evaluate,
        )

    def _some(self, kind: type[QWidget]) -> QWidget | None:
        found = [w for w in self.window.findChildren(kind) if w.isVisible() and w.isEnabled()]
        return self.pick.choice(found) if found else None

    def type(self) -> None:
        """Something, sensible or not, into some field."""
        entry = self._some(QuantityField)
        if isinstance(entry, QuantityField):
            entry.setFocus()
            entry.selectAll()
            QTest.keyClicks(entry, self.pick.choice(TYPED))
            QTest.keyClick(entry, Qt.Key.Key_Return)

    def choose(self) -> None:
        """Another item of some choice."""
        box = self._some(QComboBox)
        if isinstance(box, QComboBox) and box.count():
            box.setCurrentIndex(self.pick.randrange(box.count()))
            box.activated.emit(box.currentIndex())

    def click(self) -> None:
        """Somewhere on the run, a card, a list, a table, a chart."""
        bench = self.window.stack.currentWidget()
        painted: list[QWidget] = [self.window.run, self.window.slider, *bench.findChildren(QWidget)]
        painted += [c.viewport() for c in self.window.findChildren(CheckList)]
        known = ("PressureRun", "RevSlider", "QWidget", "CandidateRow", "MapChart", "Table", "Bars", "WeighChart")
        painted = [w for w in painted if type(w).__name__ in known and w.isVisible() and w.width() > 0 and w.height() > 0]
        widget = self.pick.choice(painted)
        spot = QPoint(self.pick.randrange(widget.width()), self.pick.randrange(widget.height()))
        QTest.mouseMove(widget, spot)
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=spot)

    def press(self) -> None:
        """A key on what has the focus."""
        target = self.window.focusWidget() or self.window
        if not isinstance(target, QComboBox):
            QTest.keyClick(target, self.pick.choice(KEYS))

    def follow(self) -> None:
        """The working of some number, of this design or of one beside it."""
        desk = self.window.desk
        if desk.answer is None:
            return
        keys = list(calculations.keys(desk.answer.build))
        keys += [f"{f}:{e.id}" for e in desk.answer.build.elements for f in calculations.FAMILIES]
        beside = [None, *(desk.turbo_beside(t.id) for t in desk.project.turbos)]
        beside += [desk.variant_beside(v) for v in variants.names(desk.project)]
        stroke = self.pick.choice(("", "/1200", "/3000", "/6000"))
        desk.follow(self.pick.choice(keys) + stroke, self.pick.choice(beside))

    def piece(self) -> None:
        """A piece in, out or moved."""
        desk = self.window.desk
        run = self.pick.choice(edits.RUNS)
        pieces = getattr(desk.project, run)
        what = self.pick.randrange(3)
        if what == 0:
            kind = self.pick.choice(list(KINDS))
            try:
                changed, _ = insert_piece(desk.project, run, self.pick.randint(0, len(pieces)), kind)
            except (EntryError, ValueError):
                return
            desk.change("in", changed)
        elif pieces and what == 1:
            desk.change("out", remove_piece(desk.project, self.pick.choice(pieces).id))
        elif pieces:
            key = self.pick.choice(pieces).id
            desk.change("move", move_piece(desk.project, key, self.pick.randint(0, len(pieces) - 1)))

    def travel(self) -> None:
        """Back and forth through the steps."""
        self.pick.choice((self.window.undo, self.window.undo, self.window.redo))()

    def look(self) -> None:
        """Another bench, leaf, engine speed, size."""
        self.window.show_bench(self.pick.choice(list(self.window.benches)))
        self.window.side.turn(self.pick.choice(("checks", "calculation", "history")))
        self.window.desk.set_speed(self.pick.uniform(500.0, 9000.0))
        self.window.resize(self.pick.choice((960, 1280, 1700)), self.pick.choice((540, 800, 950)))

    def evaluate(self) -> None:
        """Something on the Candidates bench."""
        bench = self.window.benches["candidates"]
        self.window.show_bench("candidates")
        what = self.pick.randrange(4)
        if what == 0:
            shown = [m for m, b in bench.modes.items() if not b.isHidden()]
            bench.show_mode(self.pick.choice(shown))
        elif what == 1:
            bench.show_stage(self.pick.choice(("mild", "full", "big_run")))
        elif what == 2:
            bench.decide()
        else:
            QTest.keyClick(bench.chart, self.pick.choice((Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return)))

    def variant(self) -> None:
        """One kept, entered, drawn behind or dropped."""
        desk = self.window.desk
        names = variants.names(desk.project)
        what = self.pick.randrange(4)
        if what == 0 or not names:
            free = variants.free_name(desk.project)
            desk.change("keep", variants.keep(desk.project, free))
        elif what == 1:
            desk.change("enter", variants.enter(desk.project, self.pick.choice(names)))
        elif what == 2:
            desk.set_overlay(self.pick.choice(("", *names)))
        else:
            desk.change("drop", variants.remove(desk.project, self.pick.choice(names)))

    def other(self) -> None:
        """Another demo, the other theme, a cure."""
        desk = self.window.desk
        what = self.pick.randrange(3)
        cures = [v for v in desk.answer.check_results if v.changes] if desk.answer else []
        if what == 0:
            self.window.open_demo(self.pick.choice(shipped.demo_names()))
        elif what == 1 or not cures:
            self.window.use_theme(self.pick.choice(("light", "dark")))
        else:
            check_result = self.pick.choice(cures)
            desk.cure(check_result.title, check_result.changes)


@pytest.mark.parametrize("seed", [58])
def test_a_random_hand(window: MainWindow, seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """Thirty doings: no exception anywhere, the answer is always of the document that is shown,
    and the way back leads to the beginning."""
    monkeypatch.setattr(window, "_may_leave", lambda: True)
    hand = Hand(window, seed)
    for _ in range(30):
        hand.pick.choice(hand.doings)()
        assert settle(window, first=True)
        result = window.desk.result
        assert result is not None and result.project is window.session.project
        if hand.pick.random() < 0.1:
            assert settle(window)
            pause(10)
    assert settle(window)
    first = window.session.history
    while window.session.undo():
        pass
    assert first is window.session.history and not window.session.undo()
    assert settle(window)
