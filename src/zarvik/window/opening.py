"""The application, and what is seen of it before the window is there: its ground and its name."""

from __future__ import annotations

import os
import re
from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QCloseEvent, QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QApplication, QWidget

from zarvik.project.language import language
from zarvik.project.language.language import tr
from zarvik.window.parts.disk_work import beside
from zarvik.window.theme import palette, style
from zarvik.workspace import settings

_shown: list[Opening] = []


def application() -> QApplication:
    """The one application, with the program's fonts."""
    found = QApplication.instance()
    if isinstance(found, QApplication):
        return found
    language.use_system()
    scale = settings.load().scale
    if scale != 1.0:
        # Qt reads it when the application begins, and multiplies it with the screen's own.
        os.environ.setdefault("QT_SCALE_FACTOR", f"{scale:g}")
    app = QApplication(["zarvik"])
    app.setApplicationName("zarvik")
    app.setApplicationDisplayName("Zarvik")
    app.setWindowIcon(style.icon("zarvik"))
    style.load_fonts()
    return app


class Opening(QWidget):
    """As large as the window that takes its place."""

    def __init__(self, size: str) -> None:
        super().__init__()
        self.unwanted = False
        match = re.fullmatch(r"(\d{3,4})x(\d{3,4})", size or "1280x800")
        self.resize(*(int(match[n]) for n in (1, 2)) if match else (1280, 800))
        self.colours = palette.THEMES[settings.load().theme]

    def paintEvent(self, event: QPaintEvent) -> None:
        """The ground of the theme and one line of words."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self.colours.ground))
        painter.setPen(QColor(self.colours.ink))
        painter.setFont(style.font(17))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Zarvik is opening …"))

    def closeEvent(self, event: QCloseEvent) -> None:
        """Closed by its owner before there was anything to see: nothing is opened then."""
        self.unwanted = True
        event.accept()


def show(size: str = "") -> None:
    """Show it at once."""
    app = application()
    opening = Opening(size)
    _shown.append(opening)
    opening.show()
    app.processEvents()


def meanwhile(work: Callable[[], object]) -> bool:
    """Do the `work` while it is seen; False when it was closed by then."""
    beside(work)
    return not any(opening.unwanted for opening in _shown)


def give_place(window: QWidget) -> None:
    """The window is shown where this stood."""
    for opening in _shown:
        window.move(opening.pos())
    window.show()
    for opening in _shown:
        opening.hide()
        opening.deleteLater()
    _shown.clear()
