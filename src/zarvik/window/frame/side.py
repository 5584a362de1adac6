"""The column on the right: checks, calculation, uncertainty, history, one at a time."""

from __future__ import annotations

from PySide6.QtCore import QSize, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk, OtherDesign
from zarvik.window.frame.calculation_panel import CalculationPanel
from zarvik.window.frame.checks_panel import WIDTH, ChecksPanel
from zarvik.window.frame.history_panel import HistoryPanel
from zarvik.window.frame.uncertainty_panel import UncertaintyPanel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.wrapping import fitting, width
from zarvik.window.theme.style import Pages, panel

TITLES = (("checks", "Checks"), ("calculation", "Calculation"), ("uncertainty", "Uncertainty"), ("history", "History"))


class Leaf(QPushButton):
    """The tab of a leaf; its title is cut where there is no room for it."""

    def __init__(self, title: str) -> None:
        super().__init__(title)
        self.title = title
        self.setObjectName("leaf")
        self.setCheckable(True)
        self.setAccessibleName(title)
        self.setMinimumWidth(40)

    def minimumSizeHint(self) -> QSize:
        """A few letters."""
        return QSize(40, super().minimumSizeHint().height())

    def sizeHint(self) -> QSize:
        """As wide as its title."""
        return QSize(round(width(self.title, strong=True)) + 5, super().sizeHint().height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, another cut."""
        super().resizeEvent(event)
        text = fitting(self.title, self.width() - 3.0, strong=True)
        if text != self.text():
            self.setText(text)
            self.setToolTip(plain_tip(self.title if text != self.title else ""))


class SidePanel(QWidget):
    """Four leaves; the one that is not seen costs nothing. `closed`: somebody wants it away."""

    closed = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        panel(self)
        self.setFixedWidth(WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setContentsMargins(6, 6, 4, 0)
        row.setSpacing(2)
        self.stack = Pages(self)
        self.checks = ChecksPanel(desk)
        self.calculation = CalculationPanel(desk)
        self.known = UncertaintyPanel(desk)
        self.steps = HistoryPanel(desk)
        self.leaves: dict[str, QWidget] = {
            "checks": self.checks,
            "calculation": self.calculation,
            "uncertainty": self.known,
            "history": self.steps,
        }
        self.buttons: dict[str, QPushButton] = {}
        for key, title in TITLES:
            button = Leaf(tr(title))
            button.clicked.connect(lambda _=False, k=key: self.turn(k))
            self.buttons[key] = button
            row.addWidget(button)
            self.stack.addWidget(self.leaves[key])
        close = QToolButton()
        close.setObjectName("quiet")
        close.setText("×")
        close.setToolTip(plain_tip(tr("Hide the side panel (Ctrl+B)")))
        close.setAccessibleName(tr("Hide the side panel"))
        close.clicked.connect(lambda _=False: self.closed.emit())
        row.addWidget(close)
        column.addLayout(row)
        column.addWidget(self.stack, 1)
        desk.calculation_wanted.connect(self.show_calculation)
        desk.check_wanted.connect(lambda: self.turn("checks"))
        desk.known_wanted.connect(lambda: self.turn("uncertainty"))
        self.turn("checks")

    def turn(self, key: str) -> None:
        """Turn to a leaf."""
        for name, button in self.buttons.items():
            button.setChecked(name == key)
        self.stack.setCurrentWidget(self.leaves[key])
        if key == "calculation":
            self.calculation.refresh()
        elif key == "uncertainty":
            self.known.refresh()
        elif key == "history":
            self.steps.refresh()

    def show_calculation(self, key: str, beside: OtherDesign | None = None) -> None:
        """Open the calculation of a number."""
        self.calculation.show_sheet(key, beside)
        self.turn("calculation")
