"""JobStore that stand in the way until they are answered, in plain text."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from PySide6.QtWidgets import QMessageBox, QWidget

from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.theme.style import dress

NAMED = 4  # files that are named in a question


def ask(parent: QWidget, title: str, text: str, buttons: QMessageBox.StandardButton) -> QMessageBox.StandardButton:
    """A question: a name in it is a name, never markup. Returns the button that was pressed."""
    box = QMessageBox(QMessageBox.Icon.Question, title, plain_tip(text), buttons, parent)
    dress(box)
    pressed = QMessageBox.StandardButton(box.exec())
    box.deleteLater()
    return pressed


def may_write(parent: QWidget, files: Iterable[Path], chosen: Path) -> bool:
    """May `files` be written? The dialog has asked about the one that was `chosen`; the others that are there are
    asked about here."""
    there = [path for path in files if path != chosen and path.exists()]
    if not there:
        return True
    names = ", ".join(visible(path.name) for path in there[:NAMED]) + (" …" if len(there) > NAMED else "")
    text = tr_format("{0} files of this set exist: {1}. Overwrite them?", len(there), names)
    yes, no = QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No
    return ask(parent, tr("Files exist"), text, yes | no) == yes
