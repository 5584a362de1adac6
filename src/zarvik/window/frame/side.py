"""The column on the right: verdict, working, what is known, steps, one at a time."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk, OtherDesign
from zarvik.window.frame.calculation_panel import WorkingPanel
from zarvik.window.frame.checks_panel import WIDTH, VerdictPanel
from zarvik.window.frame.history_panel import HistoryPanel
from zarvik.window.frame.uncertainty_panel import KnownPanel
from zarvik.window.theme.style import Pages, panel

TITLES = (("verdict", "Verdict"), ("working", "Working"), ("known", "Known"), ("steps", "Steps"))


class SidePanel(QWidget):
    """Four leaves; the one that is not seen costs nothing."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        panel(self)
        self.setFixedWidth(WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setContentsMargins(8, 6, 8, 0)
        row.setSpacing(4)
        self.stack = Pages(self)
        self.verdict = VerdictPanel(desk)
        self.working = WorkingPanel(desk)
        self.known = KnownPanel(desk)
        self.steps = HistoryPanel(desk)
        self.leaves: dict[str, QWidget] = {"verdict": self.verdict, "working": self.working, "known": self.known, "steps": self.steps}
        self.buttons: dict[str, QPushButton] = {}
        for key, title in TITLES:
            button = QPushButton(tr(title))
            button.setObjectName("leaf")
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, k=key: self.turn(k))
            self.buttons[key] = button
            row.addWidget(button, 1)
            self.stack.addWidget(self.leaves[key])
        column.addLayout(row)
        column.addWidget(self.stack, 1)
        desk.working_wanted.connect(self.show_working)
        desk.verdict_wanted.connect(lambda: self.turn("verdict"))
        desk.known_wanted.connect(lambda: self.turn("known"))
        self.turn("verdict")

    def turn(self, key: str) -> None:
        """Turn to a leaf."""
        for name, button in self.buttons.items():
            button.setChecked(name == key)
        self.stack.setCurrentWidget(self.leaves[key])
        if key == "working":
            self.working.refresh()
        elif key == "known":
            self.known.refresh()
        elif key == "steps":
            self.steps.refresh()

    def show_working(self, key: str, beside: OtherDesign | None = None) -> None:
        """Open the working of a number."""
        self.working.show_sheet(key, beside)
        self.turn("working")
