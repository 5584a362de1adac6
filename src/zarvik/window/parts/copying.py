"""Lists and tables to the clipboard, and to a file as CSV: by Ctrl+C, and by the menu of the right mouse button."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QGuiApplication, QKeySequence
from PySide6.QtWidgets import QFileDialog, QToolTip, QWidget

from zarvik.formats import atomic_writer
from zarvik.project.language.language import tr
from zarvik.window.parts.plain_tips import plain_tip

Rows = Sequence[Sequence[str]]


def as_text(rows: Rows) -> str:
    """Cells with a tab between them, a line a row, as spreadsheets take them; a line break in a cell becomes a space, and a thin or
    no-break space a plain one."""
    return "\n".join("\t".join(_plain(cell) for cell in row) for row in rows)


def as_csv(rows: Rows) -> str:
    """The same as CSV. What a spreadsheet would take for a formula is quoted as text."""
    target = io.StringIO()
    writer = csv.writer(target, lineterminator="\n")
    for row in rows:
        writer.writerow([f"'{cell}" if cell[:1] in ("=", "@") else cell for cell in map(_plain, row)])
    return target.getvalue()


def _plain(cell: str) -> str:
    return " ".join(cell.split())


def offer_copy(widget: QWidget, table: Callable[[], Rows], chosen: Callable[[], Sequence[str]] | None = None) -> None:
    """Give a widget the actions that copy: the `chosen` row where there is one, the whole `table`, and the table as a file. A file
    that cannot be written is said under the widget."""

    def report(fault: str) -> None:
        QToolTip.showText(widget.mapToGlobal(widget.rect().bottomLeft()), plain_tip(fault), widget)

    def copy(rows: Rows) -> None:
        QGuiApplication.clipboard().setText(as_text(rows))

    def save() -> None:
        path, _ = QFileDialog.getSaveFileName(widget, tr("Save as CSV"), "", tr("CSV (*.csv)"))
        if not path:
            return
        try:
            atomic_writer.write_text(as_csv(table()), Path(path if path.lower().endswith(".csv") else f"{path}.csv"))
        except atomic_writer.FileError as error:
            report(str(error))

    def of_chosen() -> None:
        row = chosen() if chosen is not None else ()
        copy([row] if row else table())

    for words, keys, act in (
        (tr("Copy row"), QKeySequence.StandardKey.Copy, of_chosen),
        (tr("Copy all rows"), None, lambda: copy(table())),
        (tr("Save as CSV…"), None, save),
    ):
        if words == tr("Copy row") and chosen is None:
            words = tr("Copy table")
        elif chosen is None and act is not save and keys is None:
            continue
        action = QAction(words, widget)
        if keys is not None:
            action.setShortcut(QKeySequence(keys))
            action.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        action.triggered.connect(partial(_run, act))
        widget.addAction(action)
    widget.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)


def _run(act: Callable[[], None], checked: bool = False) -> None:
    act()
