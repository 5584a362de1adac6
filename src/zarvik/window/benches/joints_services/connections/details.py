"""What is known and said of one line of the connection list: its entries by kind, and what the rules say of it."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QComboBox, QGridLayout, QPushButton, QVBoxLayout, QWidget

from zarvik.core.connections.row import Row
from zarvik.core.connections.rules import findings, may_torque
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.connections import ConnectionNote
from zarvik.project.document.parts.part import field_meta
from zarvik.project.edits.connection_edits import connection_note, take_out, with_connection_note
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError, Quantity
from zarvik.window.benches.joints_services import presenter as show
from zarvik.window.benches.joints_services.connections.faces import FlangeFaces
from zarvik.window.desk import Desk
from zarvik.window.parts.form import ARROW, heading
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.quantity_field import QuantityField
from zarvik.window.parts.words_field import WordsField
from zarvik.window.parts.wrapping import width

Field = QuantityField | QComboBox | WordsField
ROOM = 138  # px beside a label


class Details(QWidget):
    """The entries of the chosen line. Every entry of a line is here once; those that its kind does not ask for are hidden."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(home)
        self.desk = desk
        self.key = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.title = heading("")
        self.title.setWordWrap(True)
        column.addWidget(self.title)
        self.rules = Paragraph()
        column.addWidget(self.rules)
        self.faces = FlangeFaces()
        self.faces.hide()
        column.addWidget(self.faces)
        grid = QGridLayout()
        column.addLayout(grid)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        self.fields: dict[str, Field] = {}
        self._labels: dict[str, PlainLabel] = {}
        for number, name in enumerate(dict.fromkeys((*(n for names in show.ENTRIES.values() for n in names), *show.COMMON))):
            meta = field_meta(ConnectionNote, name)
            assert isinstance(meta, QuantitySpec | Choice | TextSpec)
            field = self._field(name, meta)
            label = Paragraph(tr(meta.title))
            label.setBuddy(field)
            self.fields[name], self._labels[name] = field, label
            longest = max(width(tr(title)) for _, title in meta.options()) + ARROW if isinstance(meta, Choice) else 0.0
            if longest <= ROOM:
                label.setFixedWidth(104)
                grid.addWidget(label, 2 * number, 0)
                grid.addWidget(field, 2 * number, 1)
            else:
                grid.addWidget(label, 2 * number, 0, 1, 2)
                grid.addWidget(field, 2 * number + 1, 0, 1, 2)
        self.forget = QPushButton(tr("Remove"))
        self.forget.setToolTip(tr("Removes a line of your own; a line of the design returns to the design's values. One step to undo"))
        self.forget.clicked.connect(self._forget)
        column.addWidget(self.forget)

    def _field(self, name: str, meta: QuantitySpec | Choice | TextSpec) -> Field:
        if isinstance(meta, QuantitySpec):
            number = QuantityField(meta, lambda: self.desk.ambient)
            number.edited.connect(partial(self._edited, name))
            number.sealed.connect(self.desk.session.history.seal)
            return number
        if isinstance(meta, Choice):
            box = QComboBox()
            box.setAccessibleName(tr(meta.title))
            for key, title in meta.options():
                box.addItem(tr(title), key)
            box.setMinimumContentsLength(8)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.activated.connect(lambda _: self._edited(name, box.currentData()))
            return box
        line = WordsField(meta)
        line.edited.connect(partial(self._edited, name))
        line.sealed.connect(self.desk.session.history.seal)
        return line

    def _edited(self, name: str, value: Quantity | str) -> None:
        if not self.key:
            return
        meta = field_meta(ConnectionNote, name)
        title = tr(meta.title) if meta is not None else name
        try:
            changed = with_connection_note(self.desk.project, self.key, name, value)
        except (EntryError, KeyError) as error:
            field = self.fields[name]
            if not isinstance(field, QComboBox):
                field.refuse(str(error))
            return
        merge = None if isinstance(self.fields[name], QComboBox) else f"connection:{self.key}:{name}"
        self.desk.session.apply(f"{self.title.text()}: {title}", changed, merge)

    def _forget(self) -> None:
        if any(n.id == self.key for n in self.desk.project.joints):
            self.desk.change(tr_format("Joints: {0} removed", self.title.text()), take_out(self.desk.project, self.key))

    def show_line(self, row: Row | None) -> None:
        """Show a line, or nothing."""
        self.key = row.key if row is not None else ""
        wanted = show.entries_of(row) if row is not None else ()
        self.faces.take(row)
        for name, field in self.fields.items():
            field.setVisible(name in wanted)
            self._labels[name].setVisible(name in wanted)
        self.forget.setVisible(row is not None and any(n.id == self.key for n in self.desk.project.joints))
        if row is None:
            self.title.setText("")
            self.rules.setText("")
            return
        self.title.setText(row.name)
        line = connection_note(self.desk.project, row.key)
        for name in wanted:
            field, value = self.fields[name], getattr(line, name)
            if isinstance(field, QuantityField):
                # What the design says stands there until somebody says something else.
                design = getattr(row, name, 0.0)
                field.set_quantity(value.with_si(design) if not value.si and isinstance(design, float) and design else value)
            elif isinstance(field, QComboBox):
                field.setCurrentIndex(max(field.findData(value), 0))
            else:
                field.set_words(value)
        units = self.desk.project.shown_units
        rows = connections_of(self.desk.project)
        words = []
        for finding in findings([row]):
            cure = f" {render(finding.cure, units)}." if finding.cure is not None else ""
            words.append(f"{render(finding.text, units)}.{cure}")
        waiting = may_torque(rows, row.key)
        if waiting is not None:
            words.append(render(waiting, units))
        self.rules.setText("\n".join(words))
        self.rules.setVisible(bool(words))
