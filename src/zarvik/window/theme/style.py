"""Fonts and the style sheet of a palette."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import lru_cache
from importlib import resources
from pathlib import Path
from string import Template

from PySide6.QtCore import QEvent, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPalette
from PySide6.QtWidgets import QApplication, QScrollArea, QStackedWidget, QToolTip, QWidget

from zarvik.window.theme.palette import THEMES, Palette, use

FAMILY = "Zarvik Sans"
STRONG = "Zarvik Sans SemiBold"
BASE = 14  # px


def load_fonts() -> None:
    """Make the shipped fonts known to Qt."""
    folder = resources.files("zarvik.window.theme") / "fonts"
    for style in ("Regular", "SemiBold"):
        QFontDatabase.addApplicationFontFromData((folder / f"ZarvikSans-{style}.ttf").read_bytes())


def icon(name: str) -> QIcon:
    """An icon that was drawn for this program."""
    return QIcon(str(resources.files("zarvik.window.theme") / "icons" / f"{name}.svg"))


WORN, STYLED = "zarvik-theme", "zarvik-style"


@lru_cache(64)
def font(size: int = BASE, *, strong: bool = False) -> QFont:
    """The program's font at `size` px; shared, so nobody changes it."""
    found = QFont(STRONG if strong else FAMILY)
    found.setPixelSize(size)
    return found


class Pages(QStackedWidget):
    """Pages of which only those that have been seen wear the sheet of the theme: each is dressed when it is turned to. A page that is
    `offer`ed is made when it is first asked for. `needs`: the page that is shown asks for other room."""

    needs = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._offered: dict[str, Callable[[], QWidget]] = {}
        self._made: dict[str, QWidget] = {}

    def event(self, event: QEvent) -> bool:
        """What is on the page has become larger or smaller."""
        done = super().event(event)
        if event.type() == QEvent.Type.LayoutRequest:
            self.needs.emit()
        return done

    def offer(self, pages: Mapping[str, Callable[[], QWidget]]) -> None:
        """Pages by their keys, and what makes each."""
        self._offered.update(pages)

    def page(self, key: str) -> QWidget:
        """A page that was offered."""
        if key not in self._made:
            self._made[key] = self._offered[key]()
            self.addWidget(self._made[key])
        return self._made[key]

    def make_next(self) -> bool:
        """Make or dress one of the pages that nobody has asked for yet; False when there is none."""
        found = self.unmade()
        if found:
            self.page(found[0])
            return True
        naked = next((bare for page in self._made.values() for bare in undressed(page)), None)
        if naked is not None:
            put_on(naked)
        return naked is not None

    def unmade(self) -> list[str]:
        """Keys of the pages that nobody has asked for yet."""
        return [key for key in self._offered if key not in self._made]

    def turn(self, key: str) -> None:
        """Turn to a page that was offered."""
        self.setCurrentWidget(self.page(key))

    def setCurrentWidget(self, page: QWidget) -> None:
        """Turn to a page."""
        if self.isVisible():
            dress(page)
        super().setCurrentWidget(page)
        self.updateGeometry()

    def minimumSizeHint(self) -> QSize:
        """As wide as the page that is shown: one that is hidden has not heard yet that the window has become narrower."""
        shown, whole = self.currentWidget(), super().minimumSizeHint()
        if shown is None:
            return whole
        return QSize(max(shown.minimumSizeHint().width(), shown.minimumWidth()), whole.height())


def apply(app: QApplication, name: str) -> Palette:
    """Put the theme `name` in force for the whole program: colours and font. Its sheet is put on by `dress`."""
    p = use(name)
    if not app.property(STYLED):
        app.setStyle("Fusion")
        app.setProperty(STYLED, True)
        app.setFont(font())
    if app.property(WORN) == name:
        return p
    app.setProperty(WORN, name)
    roles = QPalette()
    for role, code in (
        (QPalette.ColorRole.Window, p.ground),
        (QPalette.ColorRole.WindowText, p.ink),
        (QPalette.ColorRole.Base, p.raised),
        (QPalette.ColorRole.AlternateBase, p.panel),
        (QPalette.ColorRole.Text, p.ink),
        (QPalette.ColorRole.Button, p.panel),
        (QPalette.ColorRole.ButtonText, p.ink),
        (QPalette.ColorRole.Highlight, p.accent),
        (QPalette.ColorRole.HighlightedText, p.accent_ink),
        (QPalette.ColorRole.ToolTipBase, p.raised),
        (QPalette.ColorRole.ToolTipText, p.ink),
        (QPalette.ColorRole.PlaceholderText, p.soft),
    ):
        roles.setColor(role, QColor(code))
    app.setPalette(roles)
    QToolTip.setPalette(roles)
    return p


def _in_force() -> str:
    app = QApplication.instance()
    return str(app.property(WORN)) if app is not None else ""


def undressed(widget: QWidget) -> Iterator[QWidget]:
    """The widgets in `widget`, or itself, that have to put on the sheet of the theme in force: all but pages that are not shown."""
    above = widget.parentWidget()
    while above is not None and not above.property(WORN):
        above = above.parentWidget()
    # A widget by itself, before any theme is in force, stays as it is.
    if above is None and _in_force() in THEMES:
        yield from _undressed(widget, _in_force())


def _undressed(widget: QWidget, name: str) -> Iterator[QWidget]:
    if isinstance(widget, Pages):
        page = widget.currentWidget()
        if page is not None:
            yield from _undressed(page, name)
        return
    if widget.property(WORN) == name:
        return
    children = widget.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)
    # What holds nothing but columns is dressed a column at a time: the window hears what is done to it in between.
    if widget.findChild(Pages) is not None or (len(children) > 1 and all(isinstance(child, QScrollArea) for child in children)):
        for child in children:
            yield from _undressed(child, name)
    else:
        yield widget


def put_on(widget: QWidget) -> None:
    """The sheet of the theme in force on a widget and all that is in it."""
    name = _in_force()
    if widget.property(WORN):
        # A sheet that takes the place of another one has every widget find its rules twice: without the old one it takes half the time.
        widget.setStyleSheet("")
    widget.setProperty(WORN, name)
    widget.setStyleSheet(sheet(THEMES[name]))


def dress(widget: QWidget) -> None:
    """Put the sheet of the theme in force on `widget` and all that is in it, but for pages that are not shown.

    One sheet for the whole program would be worked through for every widget that is made, at each place it is put into, and again for all
    pages when the theme turns."""
    for found in undressed(widget):
        put_on(found)


def panel(widget: QWidget) -> None:
    """The ground of a panel, for a widget that wears no sheet itself because it holds pages."""
    widget.setBackgroundRole(QPalette.ColorRole.AlternateBase)
    widget.setAutoFillBackground(True)


@lru_cache(4)
def sheet(p: Palette) -> str:
    """The style sheet of a palette."""
    folder = resources.files("zarvik.window.theme")
    colours = {name: value for name, value in vars(p).items() if isinstance(value, str)}
    on_fault = p.raised if p.name == "light" else p.ground
    text = Template((folder / "style.qss").read_text("utf-8"))
    return text.substitute(colours, strong=STRONG, icons=Path(str(folder)) / "icons", on_fault=on_fault)
