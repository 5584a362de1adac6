"""Forms from the document's own field metadata."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QWidget

from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.edits import edits
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError, Quantity
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.quantity_field import QuantityField, ScrubLabel
from zarvik.window.parts.words_field import WordsField
from zarvik.window.parts.wrapping import width

ASSUMED = "≈ "
ARROW = 36  # px of a choice that are not its text


class Form(QWidget):
    """Rows of label and entry for `places` of the document; `label_width` and the room for an
    entry, `room`, in px. A choice whose longest words have no room beside its label stands under
    it."""

    def __init__(self, desk: Desk, places: Iterable[str], *, label_width: int = 150, room: int = 116) -> None:
        super().__init__()
        self.desk = desk
        self.fields: dict[str, QuantityField | QComboBox | WordsField] = {}
        self._labels: dict[str, QLabel] = {}
        self._assumed: set[str] = set()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(5)
        for row, place in enumerate(places):
            meta = edits.meta(desk.project, place)
            beside = True
            if isinstance(meta, QuantitySpec):
                field = QuantityField(meta, lambda: self.desk.ambient, origin=partial(self.desk.origin, place))
                field.edited.connect(lambda value, p=place: self._edited(p, value))
                field.sealed.connect(desk.session.history.seal)
                label: QLabel = ScrubLabel(self._title(meta), field)
                self.fields[place] = field
                grid.addWidget(field, 2 * row, 1)
            elif isinstance(meta, Choice):
                box = QComboBox()
                box.setAccessibleName(tr(meta.title))
                box.setToolTip(plain_tip(tr(meta.help) if meta.help else ""))
                for key, title in meta.options():
                    box.addItem(tr(title), key)
                box.setMinimumContentsLength(8)
                box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
                box.activated.connect(lambda _, p=place, b=box: self._chosen(p, b.currentData()))
                label = PlainLabel(tr(meta.title))
                label.setBuddy(box)
                self.fields[place] = box
                longest = max(width(tr(title)) for _, title in meta.options())
                beside = longest + ARROW <= room
                if beside:
                    grid.addWidget(box, 2 * row, 1)
                else:
                    grid.addWidget(box, 2 * row + 1, 0, 1, 2)
            elif isinstance(meta, TextSpec):
                line = WordsField(meta)
                line.edited.connect(lambda value, p=place: self._edited(p, value))
                line.sealed.connect(desk.session.history.seal)
                label = PlainLabel(tr(meta.title))
                label.setBuddy(line)
                self.fields[place] = line
                grid.addWidget(line, 2 * row, 1)
            else:
                raise TypeError(f"{place} is no field of a form")
            self._labels[place] = label
            label.setWordWrap(True)
            label.setFixedWidth(label_width if beside else label_width + room)
            label.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(label, 2 * row, 0, 1, 1 if beside else 2)
        self.refresh()

    @staticmethod
    def _title(meta: QuantitySpec) -> str:
        gauge = {"pressure_gauge": " (gauge)", "pressure_absolute": " (abs)"}
        return tr(meta.title) + (tr(gauge[meta.kind]) if meta.kind in gauge else "")

    def _edited(self, place: str, value: Quantity | str) -> None:
        try:
            self.desk.edit(place, value, merge_key=f"field:{place}")
        except EntryError as error:
            field = self.fields[place]
            if not isinstance(field, QComboBox):
                field.refuse(str(error))

    def _chosen(self, place: str, key: str) -> None:
        self.desk.session.history.seal()
        self.desk.edit(place, key)
        self.desk.session.history.seal()

    def show_row(self, place: str, shown: bool) -> None:
        """Show or hide the row of one entry: what does not count is not asked for."""
        for widget in (self._labels[place], self.fields[place]):
            if widget.isHidden() == shown:
                widget.setVisible(shown)

    def refresh(self) -> None:
        """Show what stands in the document."""
        assumed = set(self.desk.project.assumed) & self._labels.keys()
        for place in assumed ^ self._assumed:
            # A sign and words, not a colour: nobody has said this, the program made it up.
            label, field = self._labels[place], self.fields[place]
            plain = label.text().removeprefix(ASSUMED)
            label.setText(ASSUMED + plain if place in assumed else plain)
            if isinstance(field, QuantityField):
                field.assumed(place in assumed)
        self._assumed = assumed
        for place, field in self.fields.items():
            value = edits.get(self.desk.project, place)
            if isinstance(field, QuantityField):
                field.set_quantity(value)
            elif isinstance(field, WordsField):
                field.set_words(value)
            else:
                field.setCurrentIndex(max(field.findData(value), 0))


def heading(text: str) -> QLabel:
    """The title of a group."""
    label = PlainLabel(text)
    label.setObjectName("group")
    return label
