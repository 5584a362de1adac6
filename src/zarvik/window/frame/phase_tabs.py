"""The tabs of a phase: a button for each of its benches, above the one that is shown."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QToolButton, QWidget

from zarvik.window.benches import PHASES, Phase, phase_of
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.theme.style import panel


class PhaseTabs(QWidget):
    """Hidden where a phase has one bench."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        panel(self)
        self.desk = desk
        self.buttons: dict[str, QToolButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 12, 0)
        row.setSpacing(0)
        for phase in PHASES:
            self._fill(phase, row)
        row.addStretch(1)
        desk.document_changed.connect(self._name)
        self._name()
        self.hide()

    def _fill(self, phase: Phase, row: QHBoxLayout) -> None:
        group = QButtonGroup(self)
        for entry in phase.entries:
            button = QToolButton(self)
            button.setCheckable(True)
            button.clicked.connect(partial(self.desk.bench_wanted.emit, entry.key))
            group.addButton(button)
            row.addWidget(button)
            self.buttons[entry.key] = button

    def _name(self) -> None:
        """A document may call a bench otherwise."""
        for phase in PHASES:
            for entry in phase.entries:
                self.buttons[entry.key].setText(entry.name(self.desk.project).replace("&", "&&"))
                self.buttons[entry.key].setToolTip(plain_tip(entry.tip(self.desk.project)))

    def choose(self, bench: str) -> None:
        """Show the tabs of the phase that a bench belongs to, with its own down."""
        phase = phase_of(bench)
        for key, button in self.buttons.items():
            button.setVisible(key in phase.benches)
        self.buttons[bench].setChecked(True)
        self.setVisible(len(phase.benches) > 1)
