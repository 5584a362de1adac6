"""What a search of the catalogue found: the best turbos and housings for this build."""

from __future__ import annotations

import dataclasses

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from zarvik.core.candidates.catalogue_search import CatalogueMatch
from zarvik.core.whole_build.build import solved
from zarvik.project.language.language import tr
from zarvik.window.benches.turbo import presenter
from zarvik.window.desk import Desk, OtherDesign
from zarvik.window.parts.figure_rows import CandidateRow, Heads
from zarvik.window.parts.overlay import Overlay

MOST = 9


class CatalogueMatchList(Overlay):
    """A list over the bench; a click or Enter takes a find over, Escape closes it."""

    taken = Signal(object)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, tr("Catalogue turbos in this build, best first"), 2)
        column = self.column
        column.addWidget(Heads(tr("Turbo, housing A/R"), presenter.FIND_HEADS))
        self.rows = [CandidateRow() for _ in range(MOST)]
        self.finds: list[CatalogueMatch] = []
        for row in self.rows:
            row.chosen.connect(self._take)
            row.calculation.connect(self._calculation)
            column.addWidget(row)
        column.addStretch(1)

    def show_finds(self, finds: tuple[CatalogueMatch, ...]) -> None:
        """Show the best ones."""
        self.finds = [f for f in finds if f.mark < float("inf")][:MOST]
        self.text.setText(
            tr(
                "{0} combinations tried, each solved over the whole rev range. Ranked by what "
                "they fall short of: power, threshold, surge, choke, wheel speed. Enter takes "
                "one over; undo brings the old one back."
            ).format(len(finds))
        )
        units, target = self.desk.project.shown_units, self.desk.answer
        wanted = target.build.target.power if target is not None else 0.0
        for row, (number, find) in zip(self.rows, enumerate(self.finds), strict=False):
            row.show_row(presenter.find_row(str(number), find, wanted, units))
            row.show()
        for row in self.rows[len(self.finds) :]:
            row.hide()
        self.lay(12, 46, 12, 60, self.rows[0])

    def _calculation(self, number: str, address: str) -> None:
        find = self.finds[int(number)]
        answer = self.desk.answer
        if answer is not None:
            found = solved(dataclasses.replace(answer.build, turbo=find.turbo))
            self.desk.follow(address, OtherDesign(find.turbo.name, lambda: found))

    def _take(self, number: str) -> None:
        self.hide()
        self.taken.emit(self.finds[int(number)])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape closes, up and down go from row to row."""
        if event.key() == Qt.Key.Key_Down:
            self.focusNextChild()
        elif event.key() == Qt.Key.Key_Up:
            self.focusPreviousChild()
        else:
            super().keyPressEvent(event)
