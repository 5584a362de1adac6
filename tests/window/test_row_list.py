"""The list of drawn rows by itself: what is chosen, told, passed over, heard, and when it is laid out anew."""

from __future__ import annotations

from dataclasses import dataclass, replace

import pytest
from driving import pause
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from zarvik.window.parts.row_list import RowKind, RowList


@dataclass(frozen=True)
class Line:
    """A row: heads have no figure."""

    key: str
    figure: str = ""
    high: int = 20


class Lines(RowList):
    """Rows as high as they say, that note what was drawn."""

    def __init__(self) -> None:
        super().__init__("Joints", RowKind(lambda x: x.key, lambda x: f"line {x.key}", lambda x: x.figure, lambda x: bool(x.figure)))
        self.drawn: list[tuple[str, bool]] = []
        self.told: list[str] = []
        self.row_chosen.connect(self.told.append)

    def row_high(self, row: Line, wide: float) -> float:
        """As it says."""
        return row.high

    def draw_row(self, painter: QPainter, area: QRectF, row: Line, chosen: bool, focused: bool) -> None:
        """Noted."""
        assert area.height() == row.high
        self.drawn.append((row.key, chosen))


ROWS = [Line("head"), *(Line(f"{n}", f"{n} mm", 20 + 3 * (n % 3)) for n in range(1, 9)), Line("foot"), Line("9", "9 mm")]


@pytest.fixture
def view(qapp: QApplication) -> Lines:
    view = Lines()
    view.resize(200, 120)
    view.show()
    view.take(ROWS, first=True)
    pause(5)
    return view


def test_a_hand_and_the_program_choose(view: Lines) -> None:
    """The first that may be is chosen in silence; keys tell, and pass over headings; what is chosen is heard with its figure."""
    assert view.key == "1" and view.told == [] and view.accessibleDescription() == "line 1, 1 mm"
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Up)
    assert view.key == "1"
    for _ in range(8):
        QTest.keyClick(view, Qt.Key.Key_Down)
    assert view.key == "9" and view.told == [str(n) for n in range(2, 10)]
    assert view.visualRect(view.currentIndex()).bottom() <= view.viewport().height()
    assert view.choose("3") and view.told[-1] == "9" and view.choose("4", tell=True) and view.told[-1] == "4"
    assert not view.choose("head") and not view.choose("none") and view.key == "4"
    QTest.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=view.visualRect(view.rows.index(3)).center())
    assert view.key == "3" and view.told[-1] == "3"


def test_choice_and_scroll_stay(view: Lines) -> None:
    """Other figures in the same rows leave both; other rows leave the choice where its row still is, else the first is chosen."""
    view.choose("8")
    view.verticalScrollBar().setValue(view.verticalScrollBar().maximum())
    before = view.verticalScrollBar().value()
    assert before > 0
    view.drawn.clear()
    view.take([replace(row, figure="other") if row.key == "9" else row for row in ROWS], first=True)
    pause(5)
    assert view.key == "8" and view.verticalScrollBar().value() == before and ("8", True) in view.drawn
    assert view.rows.data(view.rows.index(10), Qt.ItemDataRole.AccessibleDescriptionRole) == "other"
    tall = [replace(row, high=60) if row.key == "9" else row for row in ROWS]
    view.take(tall, first=True)
    pause(5)
    assert view.verticalScrollBar().maximum() == before + 40 and view.visualRect(view.rows.index(10)).height() == 60
    view.take(ROWS[:5] + ROWS[8:9], first=True)
    assert view.key == "8" and view.told == []
    view.take(ROWS[:3], first=True)
    assert view.key == "1"
    view.take([], first=True)
    view.empty = "nothing here"
    view.drawn.clear()
    assert view.key == "" and view.chosen is None and not view.grab().isNull() and view.drawn == []


def test_a_list_is_laid_out_anew_where_a_row_has_another_height(view: Lines, monkeypatch: pytest.MonkeyPatch) -> None:
    """Thousands of rows are not measured because a figure is another one."""
    many = [Line(f"{n}", f"{n} mm", 20 + n % 7) for n in range(400)]
    view.take(many, first=True)
    pause(5)
    asked: list[str] = []
    own = Lines.row_high
    monkeypatch.setattr(Lines, "row_high", lambda self, row, wide: asked.append(row.key) or own(self, row, wide))
    view.take([replace(row, figure="5.1 mm") if row.key == "5" else row for row in many])
    pause(5)
    assert 2 <= len(asked) < 20  # that row, and those in sight
    view.take([replace(row, high=50) if row.key == "5" else row for row in many])
    pause(5)
    assert len(asked) > 400
