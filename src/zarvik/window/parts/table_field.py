"""A table of the engine as text that is taken over while it is typed."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QPlainTextEdit, QVBoxLayout, QWidget

from zarvik.project.edits import tables
from zarvik.project.edits.edits import get
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError
from zarvik.window.desk import Desk
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import Paragraph, PlainLabel

TITLES = {
    "breathing_table": "Volumetric efficiency",
    "stock_torque": "Stock torque",
    "lambda_table": "Lambda by engine speed",
    "delivery_table": "Fuel per injection by engine speed",
}
HELP = "One row per line: engine speed, then the value. Any unit; you can paste from a spreadsheet."
LINES = 8


class Lines(QPlainTextEdit):
    """The text; Tab goes on to the next field."""

    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setTabChangesFocus(True)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setFixedHeight(round(self.fontMetrics().lineSpacing() * LINES + 14))

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Done with it."""
        super().focusOutEvent(event)
        self.left.emit()


class TableField(QWidget):
    """Rows of the table `name`. What can be read counts at once; what cannot is said under it and
    leaves the document as it was."""

    def __init__(self, desk: Desk, name: str) -> None:
        super().__init__()
        self.desk = desk
        self.name = name
        self._filling = False
        self._rows: tables.Rows | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(heading(tr(TITLES[name])))
        help_text = Paragraph(tr(HELP), soft=True)
        column.addWidget(help_text)
        self.lines = Lines()
        self.lines.setAccessibleName(tr(TITLES[name]))
        self.lines.textChanged.connect(self._typed)
        self.lines.left.connect(self._left)
        column.addWidget(self.lines)
        self.fault = PlainLabel()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        column.addWidget(self.fault)

    def _typed(self) -> None:
        if self._filling:
            return
        project = self.desk.project
        try:
            rows = tables.read(self.lines.toPlainText(), self.name, project.shown_units)
            if len(rows) < 2:
                raise EntryError(tr("at least two rows are needed"))
            changed = tables.put_table(project, self.name, rows)
        except EntryError as error:
            self.fault.setText(str(error))
            self.fault.show()
            return
        self.fault.hide()
        self.desk.session.apply(tr(TITLES[self.name]), changed, f"table:{self.name}")

    def _left(self) -> None:
        self.desk.session.history.seal()
        self.refresh()

    def refresh(self) -> None:
        """Show what stands in the document, but not into what is being typed."""
        project = self.desk.project
        rows = get(project, f"engine.{self.name}")
        if rows == self._rows and not self.fault.isHidden():
            return  # what was refused stays, to be put right
        self._rows = rows
        if not self.lines.hasFocus():
            self.fault.hide()
        if self.lines.hasFocus():
            try:
                if tables.read(self.lines.toPlainText(), self.name, project.shown_units) == rows:
                    return
            except EntryError:
                return
        text = tables.write(rows, self.name, project.shown_units)
        if text != self.lines.toPlainText():
            self._filling = True
            self.lines.setPlainText(text)
            self._filling = False
