"""How the parts of the window share its room: height of the pressure run, side panel beside the page or over it, rail with or without
names."""

from __future__ import annotations

import dataclasses

from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QWidget

from zarvik.window.frame.dressed import DressedWindow
from zarvik.window.frame.rail import Rail
from zarvik.window.frame.side import SidePanel
from zarvik.window.run.pressure_run import FULL, HEIGHT, HEIGHTS, LOW, MOST_HEIGHT, PressureRun
from zarvik.window.theme import style
from zarvik.workspace import settings

LEAST = (620, 520)  # px in which everything has its room
NARROW, NARROW_RAIL = 1080, 960  # px of a window below which the side panel is a drawer, and the rail shows numbers alone
SUBJECT = "pipes"  # the phase whose subject is the pressure run


class Sheet(QWidget):
    """Holds the body and gives it all of its room, which is never less than `LEAST`: a layout would
    ask for the height that its longest texts could take."""

    def __init__(self, body: QWidget) -> None:
        super().__init__()
        self.body = body
        body.setParent(self)
        self.setMinimumSize(*LEAST)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The body follows."""
        self.body.setGeometry(self.rect())


class ArrangedWindow(DressedWindow):
    """The part of the window that gives its parts their room."""

    sheet: Sheet
    stack: style.Pages
    run: PressureRun
    row: QHBoxLayout
    rail: Rail
    side: SidePanel
    side_button: QPushButton
    units: QComboBox

    def __init__(self) -> None:
        super().__init__()
        self._phase = ""
        self._drawer = False  # does the side panel lie over the page of a narrow window?

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The pressure run takes its share of a tall window."""
        super().resizeEvent(event)
        self._show_run()
        self._arrange()
        self._make_room()

    def _make_room(self) -> None:
        """A low window scrolls as far as the bench that is shown needs."""
        bench = self.stack.currentWidget()
        if bench is not None and self.isVisible():
            around = self.sheet.body.height() - self.stack.height()
            self.sheet.setMinimumHeight(max(LEAST[1], around + bench.minimumSizeHint().height()))

    def _show_run(self) -> None:
        """In full where it is the subject, as a ribbon elsewhere, if nobody said otherwise."""
        mode = self.settings.runs.get(self._phase, FULL if self._phase == SUBJECT else LOW)
        self.run.show_as(mode if mode in HEIGHTS else LOW, min(max(HEIGHT, round(0.25 * self.height())), MOST_HEIGHT))

    def turn_run(self) -> None:
        """Show the next of the three heights of the pressure run in this phase, and remember it."""
        mode = HEIGHTS[(HEIGHTS.index(self.run.mode) + 1) % len(HEIGHTS)]
        self.settings = dataclasses.replace(self.settings, runs={**self.settings.runs, self._phase: mode})
        settings.save(self.settings)
        self._show_run()

    def _arrange(self) -> None:
        """In a narrow window the rail shows numbers alone, and the side panel lies over the page when it is wanted."""
        narrow = self.width() < NARROW
        self.rail.set_narrow(self.width() < NARROW_RAIL)
        beside = self.row.indexOf(self.side) >= 0
        if narrow and beside:
            self.row.removeWidget(self.side)
            self._drawer = False
        elif not narrow and not beside:
            self.row.addWidget(self.side)
        shown = self._drawer if narrow else self.settings.side
        self.side.setVisible(shown)
        self.side_button.setVisible(not shown)
        self.units.setVisible(self.width() >= NARROW_RAIL)
        if narrow:
            top = self.rail.geometry()
            self.side.setGeometry(self.width() - self.side.width(), top.top(), self.side.width(), top.height())
            self.side.raise_()

    def turn_side(self) -> None:
        """Show or hide the side panel, and remember it where it stands beside the page."""
        if self.width() < NARROW:
            self._drawer = not self._drawer
        else:
            self.settings = dataclasses.replace(self.settings, side=not self.settings.side)
            settings.save(self.settings)
        self._arrange()

    def turn_next(self) -> None:
        """Show or hide the card of the next steps, and remember it."""
        shown = not self.rail.wants_next
        self.rail.wants_next = shown
        self._arrange()
        self.settings = dataclasses.replace(self.settings, next_steps=shown)
        settings.save(self.settings)
