"""What the window wears, and when it is painted: the theme is put on part by part, what has changed is painted in a turn of its own."""

from __future__ import annotations

import dataclasses
from functools import partial

from PySide6.QtCore import QCoreApplication, QEvent, Qt, QTimer
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QApplication, QWidget

from zarvik.window.frame.files import FileWork
from zarvik.window.theme import style
from zarvik.workspace import settings


class DressedWindow(FileWork):
    """The part of the window that paints and dresses it."""

    theme: str
    whole: QWidget

    def __init__(self) -> None:
        super().__init__()
        self._held = False  # is what has changed to be painted in the next turn of the event loop?

    def build_ahead(self) -> None:
        """Make what nobody has opened yet, bit by bit."""
        raise NotImplementedError

    def _paint_later(self) -> None:
        """What is shown anew is painted in a turn of its own, so that the window hears what is done to it in between."""
        # On the window alone: told to every widget in it, each would be painted twice.
        if self.isVisible() and self.updatesEnabled():
            self._held = True
            self.setAttribute(Qt.WidgetAttribute.WA_UpdatesDisabled, True)
            QTimer.singleShot(0, self, self._paint_now)

    def _paint_now(self) -> None:
        if self._held:
            self._held = False
            self.setAttribute(Qt.WidgetAttribute.WA_UpdatesDisabled, False)
            # The toolkit may have asked for a look in vain, and asks for no other while it believes that one is owed.
            QCoreApplication.postEvent(self, QEvent(QEvent.Type.UpdateRequest), Qt.EventPriority.LowEventPriority.value)
            for child in self.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly):
                child.setUpdatesEnabled(True)  # who came in the meantime took after the window

    def turn_theme(self) -> None:
        """Change between light and dark, and remember it."""
        self.use_theme("dark" if self.theme == "light" else "light")
        self.settings = dataclasses.replace(self.settings, theme=self.theme)
        settings.save(self.settings)

    def use_theme(self, name: str) -> None:
        """Put a theme in force."""
        self.theme = name
        app = QApplication.instance()
        if isinstance(app, QApplication):
            style.apply(app, name)
        if self.isVisible():
            self._paint_now()  # or the toolkit would lose count of what it may paint
            self.setUpdatesEnabled(False)
            self._dress_next()

    def _dress_next(self) -> None:
        # One part at a time, so that the window hears what is done to it; it is painted when all of them are dressed.
        naked = next(style.undressed(self.whole), None)
        if naked is not None:
            style.put_on(naked)
            QTimer.singleShot(0, self, self._dress_next)
            return
        for widget in self.findChildren(QWidget):
            stale = getattr(widget, "stale", None)
            if stale is not None:
                stale()
        QTimer.singleShot(0, self, partial(self.setUpdatesEnabled, True))
        self.build_ahead()

    def showEvent(self, event: QShowEvent) -> None:
        """What is seen wears the theme."""
        style.dress(self.whole)
        super().showEvent(event)
