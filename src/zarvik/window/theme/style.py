"""Fonts and the style sheet of a palette."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources
from pathlib import Path

from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPalette
from PySide6.QtWidgets import QApplication

from zarvik.window.theme.palette import Palette, use

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


IN_FORCE, STYLED = "zarvik-theme", "zarvik-style"


@lru_cache(64)
def font(size: int = BASE, *, strong: bool = False) -> QFont:
    """The program's font at `size` px; shared, so nobody changes it."""
    found = QFont(STRONG if strong else FAMILY)
    found.setPixelSize(size)
    return found


def apply(app: QApplication, name: str) -> Palette:
    """Put the theme `name` in force for the whole program."""
    p = use(name)
    # A sheet that is put on again has every widget polished anew.
    if app.property(IN_FORCE) == name:
        return p
    app.setProperty(IN_FORCE, name)
    # Colour of ink and font come from the application: a rule for every widget would have each of them
    # set anew when the theme turns.
    if not app.property(STYLED):
        # With a style sheet in force its name is not told any more, and to set it takes as long as the sheet.
        app.setStyle("Fusion")
        app.setProperty(STYLED, True)
    app.setFont(font())
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
        (QPalette.ColorRole.ToolTipBase, p.panel),
        (QPalette.ColorRole.ToolTipText, p.ink),
        (QPalette.ColorRole.PlaceholderText, p.soft),
    ):
        roles.setColor(role, QColor(code))
    # A sheet that takes the place of another one has every widget find its rules twice: without the old
    # one it takes a sixth of the time.
    app.setStyleSheet("")
    app.setPalette(roles)
    app.setStyleSheet(sheet(p))
    return p


def sheet(p: Palette) -> str:
    """The style sheet of a palette."""
    icons = Path(str(resources.files("zarvik.window.theme"))) / "icons"
    return f"""
QMainWindow, QWidget#body {{ background: {p.ground}; }}
QWidget#panel, QScrollArea#panel, QWidget#bench {{ background: {p.panel}; }}
QScrollArea {{ border: 0; background: transparent; }}
QScrollArea > QWidget > QWidget {{ background: transparent; }}
QLabel#title {{ font-family: "{STRONG}"; font-size: 20px; }}
QLabel#group {{ font-family: "{STRONG}"; font-size: 15px; color: {p.ink}; }}
QLabel#soft {{ color: {p.soft}; }}
QLabel#figure {{ font-family: "{STRONG}"; font-size: 22px; }}
QLabel#bubble {{ background: {p.fails}; color: {p.raised if p.name == "light" else p.ground};
    padding: 5px 9px; border-radius: 3px; }}
QLabel#notice {{ background: {p.accent_soft}; color: {p.ink}; padding: 7px 12px; }}
QLineEdit, QPlainTextEdit, QTextEdit, QComboBox {{ background: {p.raised}; border: 1px solid {p.line}; border-radius: 3px;
    padding: 2px 7px; min-height: 20px; selection-background-color: {p.accent};
    selection-color: {p.accent_ink}; }}
QLineEdit:focus, QPlainTextEdit:focus, QTextEdit:focus, QComboBox:focus {{ border: 2px solid {p.accent}; padding: 1px 6px; }}
QLineEdit:disabled, QComboBox:disabled {{ color: {p.soft}; background: {p.panel}; border-style: dashed; }}
QLabel#fault {{ color: {p.fails}; }}
QLineEdit[refused="true"] {{ border: 2px solid {p.fails}; padding: 1px 6px; }}
QComboBox::drop-down {{ border: 0; width: 22px; }}
QComboBox::down-arrow {{ image: url("{icons / f"down-{p.name}.svg"}"); width: 10px; height: 6px; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {p.soft}; border-radius: 2px;
    background: {p.raised}; }}
QCheckBox::indicator:checked {{ background: {p.accent}; border-color: {p.accent};
    image: url("{icons / f"tick-{p.name}.svg"}"); }}
QCheckBox:focus {{ color: {p.accent}; }}
QComboBox QAbstractItemView {{ background: {p.raised}; border: 1px solid {p.line};
    selection-background-color: {p.accent}; selection-color: {p.accent_ink}; }}
QPushButton, QToolButton {{ background: {p.raised}; border: 1px solid {p.line}; border-radius: 3px;
    padding: 4px 11px; min-height: 19px; }}
QToolButton {{ max-height: 19px; }}
QPushButton:hover, QToolButton:hover {{ border-color: {p.accent}; }}
QPushButton:focus, QToolButton:focus {{ border: 2px solid {p.accent}; padding: 3px 10px; }}
QPushButton:disabled, QToolButton:disabled {{ color: {p.line}; background: transparent; }}
QPushButton:checked {{ background: {p.accent}; color: {p.accent_ink}; border-color: {p.accent}; }}
QToolButton:checked {{ background: {p.accent_soft}; border: 2px solid {p.accent}; padding: 3px 10px;
    font-family: "{STRONG}"; }}
QToolButton:checked:focus {{ background: {p.accent}; color: {p.accent_ink}; }}
QPushButton#cure {{ color: {p.accent}; background: transparent; text-align: left;
    border: 1px solid {p.accent}; }}
QPushButton#cure:hover {{ background: {p.accent_soft}; }}
QPushButton#leaf {{ border: 0; border-bottom: 3px solid transparent; border-radius: 0;
    background: transparent; padding: 4px 2px; color: {p.soft}; }}
QPushButton#leaf:checked {{ border-bottom-color: {p.accent}; color: {p.ink};
    background: transparent; font-family: "{STRONG}"; }}
QPushButton#leaf:focus {{ background: {p.accent_soft}; }}
QLabel#relation {{ font-size: 16px; }}
QFrame#over {{ background: {p.raised}; border: 2px solid {p.accent}; border-radius: 4px; }}
QLineEdit#find {{ font-size: 18px; min-height: 30px; }}
QProgressBar {{ background: {p.grid}; border: 0; border-radius: 3px; }}
QProgressBar::chunk {{ background: {p.accent}; border-radius: 3px; }}
QListView::item {{ padding: 3px 6px; }}
QListView::item:selected {{ background: {p.accent_soft}; color: {p.ink}; }}
QToolButton::menu-indicator {{ image: none; }}
QMenu {{ background: {p.raised}; border: 1px solid {p.line}; padding: 4px; }}
QMenu::item {{ padding: 5px 22px 5px 12px; }}
QMenu::item:selected {{ background: {p.accent}; color: {p.accent_ink}; }}
QMenu::item:disabled {{ color: {p.line}; }}
QListView {{ background: {p.panel}; border: 1px solid {p.line}; outline: 0; }}
QListView:focus {{ border: 2px solid {p.accent}; }}
QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {p.line}; border-radius: 4px; min-height: 30px; }}
QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {p.line}; border-radius: 4px; min-width: 30px; }}
QAbstractScrollArea::corner {{ background: transparent; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QToolTip {{ background: {p.raised}; color: {p.ink}; border: 1px solid {p.line}; padding: 4px; }}
"""
